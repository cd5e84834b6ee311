using System.Runtime.Loader;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Provenance;
using Fennick.Manuscripts.Running;

namespace Fennick.Manuscripts.Compilation;

/// <summary>A warning of the compiler; its place counts from the step or brace, so that it stays right when prose moves.</summary>
internal sealed record CompiledWarning(int Ordinal, int Line, int Column, string Message)
{
    /// <summary>The warning at its place of the manuscript.</summary>
    public Diagnostic Tell(ManuscriptTree tree) => Diagnostic.Warning(tree.PlaceOf(Ordinal, Line, Column), Message);
}

/// <summary>A call of the code that may bring something into the report that nobody declares.</summary>
/// <param name="Call">What is called, as one writes it.</param>
/// <param name="Kind">What it may bring.</param>
/// <param name="Ordinal">The step or brace; null for what is in none.</param>
/// <param name="Line">The line in it, from 0.</param>
/// <param name="Column">The column, from 0.</param>
internal sealed record CompiledCall(string Call, CallKind Kind, int? Ordinal, int Line, int Column)
{
    /// <summary>A call that was found in the program, counted from its step or brace.</summary>
    public static CompiledCall Of(UndeclaredCall found) => MappedPlace.Resolve(found.Document) is { } ordinal
        ? new CompiledCall(found.Call, found.Kind, ordinal, found.Line - 1, Math.Max(0, found.Column - 1)) : new CompiledCall(found.Call, found.Kind, null, 0, 0);
}

/// <summary>The compiled form of a manuscript.</summary>
/// <param name="Assembly">The program.</param>
/// <param name="Symbols">Its line numbers.</param>
/// <param name="Warnings">What the compiler warned of.</param>
/// <param name="Undeclared">What may escape whoever asks whether a report is out of date.</param>
internal sealed record CompiledManuscript(byte[] Assembly, byte[] Symbols, IReadOnlyList<CompiledWarning> Warnings, IReadOnlyList<CompiledCall> Undeclared)
{
    public const string ProgramType = "FennickProgram";

    /// <summary>Makes what it is loaded into; that of its libraries if null.</summary>
    public Func<AssemblyLoadContext>? Context { get; init; }

    private readonly Lock guard = new();
    private Type? program;

    /// <summary>A program that is ready to run; it is loaded once.</summary>
    public IManuscriptProgram CreateProgram(LibrarySet libraries)
    {
        lock (guard)
        {
            if (program is null)
            {
                using var assembly = new MemoryStream(Assembly);
                using var symbols = new MemoryStream(Symbols);
                program = (Context?.Invoke() ?? libraries.CreateContext()).LoadFromStream(assembly, symbols).GetType(ProgramType, throwOnError: true)!;
            }
        }
        return (IManuscriptProgram)Activator.CreateInstance(program)!;
    }
}
