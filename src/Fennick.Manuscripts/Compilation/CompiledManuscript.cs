using Fennick.Manuscripts.Running;

namespace Fennick.Manuscripts.Compilation;

/// <summary>A warning of the compiler; its place counts from the step or brace, so that it stays right when prose moves.</summary>
internal sealed record CompiledWarning(int Ordinal, int Line, int Column, string Message);

/// <summary>The compiled form of a manuscript.</summary>
/// <param name="Assembly">The program.</param>
/// <param name="Symbols">Its line numbers.</param>
/// <param name="Warnings">What the compiler warned of.</param>
internal sealed record CompiledManuscript(byte[] Assembly, byte[] Symbols, IReadOnlyList<CompiledWarning> Warnings)
{
    public const string ProgramType = "FennickProgram";

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
                program = libraries.CreateContext().LoadFromStream(assembly, symbols).GetType(ProgramType, throwOnError: true)!;
            }
        }
        return (IManuscriptProgram)Activator.CreateInstance(program)!;
    }
}
