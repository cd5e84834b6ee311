using Fennick.Diagnostics;
using Fennick.Manuscripts.Provenance;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.Emit;
using Microsoft.CodeAnalysis.Text;
using Diagnostic = Fennick.Diagnostics.Diagnostic;

namespace Fennick.Manuscripts.Compilation;

/// <summary>Compiles manuscripts: the only part of Fennick that loads the C# compiler.</summary>
internal static class ManuscriptCompiler
{
    // A function that nothing uses is often one of several that are shared.
    private static readonly Dictionary<string, ReportDiagnostic> Unsaid = new() { ["CS8321"] = ReportDiagnostic.Suppress };

    /// <summary>What every program may use.</summary>
    public static MetadataReference[] Platform { get; } = [.. References.All.Where(File.Exists).Select(path => MetadataReference.CreateFromFile(path))];

    /// <summary>The compiled form.</summary>
    /// <exception cref="ReportException">The code has errors: each at its own line and column of the manuscript.</exception>
    public static CompiledManuscript Compile(ManuscriptTree tree, string key, LibrarySet libraries)
    {
        var diagnostics = new List<Diagnostic>();
        var program = new ProgramText(tree, diagnostics);
        ReportException.ThrowIfAny(diagnostics);
        var compilation = CreateCompilation(program, $"Manuscript-{key[..12]}", libraries);
        using var assembly = new MemoryStream();
        using var symbols = new MemoryStream();
        var result = compilation.Emit(assembly, symbols, options: new EmitOptions(debugInformationFormat: DebugInformationFormat.PortablePdb));
        if (!result.Success) throw new ReportException(Errors(result.Diagnostics, compilation, program, tree));
        var warnings = result.Diagnostics.Where(d => d.Severity == DiagnosticSeverity.Warning).Select(Warning).OfType<CompiledWarning>();
        var (code, lines) = (assembly.ToArray(), symbols.ToArray());
        var undeclared = UndeclaredCalls.Find(new MemoryStream(code), new MemoryStream(lines), (type, _) => type == CompiledManuscript.ProgramType,
            libraries.Open);
        return new CompiledManuscript(code, lines, [.. warnings, .. program.SharedState],
            [.. undeclared.Select(CompiledCall.Of)]);
    }

    /// <summary>What the compiler says of a manuscript, without compiling it.</summary>
    public static IEnumerable<Diagnostic> Check(ManuscriptTree tree, LibrarySet libraries)
    {
        var diagnostics = new List<Diagnostic>();
        var program = new ProgramText(tree, diagnostics);
        if (diagnostics.Count > 0) return diagnostics;
        var compilation = CreateCompilation(program, "Check", libraries);
        var told = compilation.GetDiagnostics();
        return [.. Errors(told, compilation, program, tree), .. told.Where(d => d.Severity == DiagnosticSeverity.Warning).Select(Warning).OfType<CompiledWarning>().Concat(program.SharedState).Select(w => w.Tell(tree))];
    }

    /// <summary>The program, bound to what it may use.</summary>
    public static CSharpCompilation CreateCompilation(ProgramText program, string name, LibrarySet libraries)
    {
        var text = SourceText.From(program.Write(), System.Text.Encoding.UTF8);
        var syntax = CSharpSyntaxTree.ParseText(text, new CSharpParseOptions(LanguageVersion.Latest), path: "program.cs");
        return CSharpCompilation.Create(name, [syntax], [.. Platform, .. libraries.Assemblies.Select(path => MetadataReference.CreateFromFile(path))],
            new CSharpCompilationOptions(OutputKind.DynamicallyLinkedLibrary, optimizationLevel: OptimizationLevel.Release, nullableContextOptions: NullableContextOptions.Annotations, deterministic: true,
                specificDiagnosticOptions: Unsaid));
    }

    private static IEnumerable<Diagnostic> Errors(IEnumerable<Microsoft.CodeAnalysis.Diagnostic> told, CSharpCompilation compilation, ProgramText program, ManuscriptTree tree) =>
        told.Where(d => d.Severity == DiagnosticSeverity.Error).Select(d => CompilerMessages.Translate(d, PlaceOf(d, tree), compilation, program, tree)).Distinct();

    /// <summary>A warning with its place in its step or brace; null if it is about neither.</summary>
    public static CompiledWarning? Warning(Microsoft.CodeAnalysis.Diagnostic problem) =>
        Mapped(problem) is var (ordinal, line, column) ? new CompiledWarning(ordinal, line, column, CompilerMessages.Text(problem)) : null;

    private static SourcePlace PlaceOf(Microsoft.CodeAnalysis.Diagnostic problem, ManuscriptTree tree) =>
        Mapped(problem) is var (ordinal, line, column) ? tree.PlaceOf(ordinal, line, column) : tree.Settings.Place;

    private static (int Ordinal, int Line, int Column)? Mapped(Microsoft.CodeAnalysis.Diagnostic problem)
    {
        var span = problem.Location.GetMappedLineSpan();
        return MappedPlace.Resolve(span.Path) is { } ordinal ? (ordinal, span.StartLinePosition.Line, span.StartLinePosition.Character) : null;
    }
}
