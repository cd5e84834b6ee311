using System.Globalization;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Running;
using Fennick.Manuscripts.Source;
using Fennick.Manuscripts.Steps;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Control = Fennick.Manuscripts.Steps.Control;
using Diagnostic = Fennick.Diagnostics.Diagnostic;

namespace Fennick.Manuscripts.Compilation;

/// <summary>A part of the program's text.</summary>
/// <param name="Executable">What it carries out.</param>
/// <param name="Start">Where it starts.</param>
/// <param name="End">Where it ends.</param>
internal sealed record ProgramPiece(Executable Executable, int Start, int End);

/// <summary>
/// Writes the C# program of a manuscript: one class whose one method holds all steps and expressions in order. Line directives name the step
/// (<c>s3</c>) or brace (<c>b5</c>) and count from its start; the tree resolves them, so that the program does not depend on the prose.
/// </summary>
internal sealed class ProgramText
{
    // The last column that a line directive can name.
    private const int LastColumn = 65535;

    /// <summary>What the run is called in the program.</summary>
    internal const string Run = "__fennick";

    /// <summary>The namespaces that every step sees.</summary>
    internal static readonly string[] Usings =
    [
        "System", "System.Collections.Generic", "System.Globalization", "System.IO", "System.Linq", "System.Threading.Tasks",
        "Fennick", "Fennick.Charts", "Fennick.Citations", "Fennick.Data", "Fennick.Documents", "Fennick.Formatting", "Fennick.Mathematics", "Fennick.Pictures", "Fennick.Plots", "Fennick.Prose", "Fennick.Tables",
        "Fennick.Statistics", "Fennick.Statistics.Fits", "Fennick.Statistics.Summaries", "Fennick.Statistics.Comparisons", "Fennick.Statistics.Survival",
    ];

    // The C# code of a step that runs a program.
    private static readonly SourceFragment Nothing = SourceFragment.Join([("", 0)]);

    private readonly ManuscriptTree tree;
    private readonly List<Diagnostic> diagnostics;
    private readonly StringBuilder code = new();
    private readonly Dictionary<int, StepSyntax> steps = [];
    private readonly List<ProgramPiece> pieces = [];
    private int scopes;

    public ProgramText(ManuscriptTree tree, List<Diagnostic> diagnostics)
    {
        this.tree = tree;
        this.diagnostics = diagnostics;
        foreach (var step in tree.Executables.OfType<Step>()) steps[step.Ordinal] = StepSyntax.Parse(step.Script is null ? step : step with { Role = StepRole.Prepare, Code = Nothing }, tree, diagnostics);
        foreach (var hole in tree.Executables.OfType<ValueHole>()) Check(hole.Expression, hole.Offset);
        var variables = Names.Select(n => n.Name).Concat(tree.Settings.Parameters.Select(p => p.Name)).ToHashSet();
        foreach (var (word, place) in tree.LoneWords.Where(w => variables.Contains(w.Word)))
            diagnostics.Add(Diagnostic.Error(place, $"`{{{word}}}` is a word of the format, and a variable has the same name", $"write `{{({word})}}` for the variable's value, or give the variable another name"));
        // What a house asks for starts with a variable of the manuscript, not with a type.
        foreach (var hole in tree.SlotExpressions.Values.SelectMany(p => p.Executables).OfType<ValueHole>())
        {
            var root = string.Concat(hole.Expression.TakeWhile(c => char.IsLetterOrDigit(c) || c == '_'));
            if (!variables.Contains(root)) diagnostics.Add(Diagnostic.Error(tree.Sources.PlaceOf(hole.Offset), $"`{root}` is not a variable of the manuscript", Nearest.Suggest(root, variables)));
        }
        foreach (var head in tree.Executables.OfType<ControlHead>().Where(h => h.Kind is ControlKind.ForEach or ControlKind.If or ControlKind.ElseIf)) Check(head.Expression, head.Offset);
    }

    /// <summary>The names that steps declare, with their places.</summary>
    public IEnumerable<(string Name, SourcePlace Place)> Names =>
        steps.Values.Zip(steps.Keys).SelectMany(s => s.First.Names.Select(n => (n.Key, tree.Sources.PlaceOf(((Step)tree.Executables[s.Second]).Code.ToSource(n.Value)))));

    /// <summary>The namespaces that steps ask for.</summary>
    public IEnumerable<string> StepUsings => steps.Values.SelectMany(s => s.Usings).Distinct();

    /// <summary>What runs of the program share that can change.</summary>
    public IEnumerable<CompiledWarning> SharedState => steps.SelectMany(s => s.Value.SharedState, (s, shared) =>
        new CompiledWarning(s.Key, shared.Place.Line, shared.Place.Character, $"`{shared.Name}` is static and can change, so that all runs and units of a batch share it; keep it in a variable of the steps"));

    /// <summary>What of the program runs one after the other, outside of loops and conditions, once it is written.</summary>
    public IReadOnlyList<ProgramPiece> Pieces => pieces;

    /// <summary>The whole program.</summary>
    public string Write()
    {
        WriteUsings();
        WriteMethod();
        WriteTypes();
        return code.ToString();
    }

    /// <summary>The program without the types of its steps.</summary>
    /// <param name="shapes">Static classes that it uses besides.</param>
    public string WriteWithoutTypes(IEnumerable<string> shapes)
    {
        WriteUsings();
        foreach (var name in shapes) Line($"using static {name};");
        WriteMethod();
        return code.ToString();
    }

    /// <summary>The types of its steps alone; null if they have none.</summary>
    public string? WriteTypesAlone()
    {
        if (steps.Values.All(s => s.Types.Count == 0)) return null;
        WriteUsings();
        WriteTypes();
        return code.ToString();
    }

    private void WriteUsings()
    {
        code.Clear();
        pieces.Clear();
        Line("#line hidden");
        foreach (var name in Usings) Line($"using {name};");
        Line("using static Fennick.Inlines;");
        Line("using Fennick.Manuscripts;");
        Line("using static Fennick.Manuscripts.Sharing;");
        Line("using static Fennick.Statistics.Variables.Terms;");
        foreach (var name in tree.Settings.Usings) Line($"using {name};");
        foreach (var directive in StepUsings) Line(directive);
    }

    private void WriteTypes()
    {
        foreach (var (ordinal, syntax) in steps)
            foreach (var (type, start) in syntax.Types) WriteMapped("public ", type, MappedPlace.OfStep(ordinal), ((Step)tree.Executables[ordinal]).Code.Text, start, "");
    }

    private void WriteMethod()
    {
        Line($"public sealed class {CompiledManuscript.ProgramType} : {typeof(IManuscriptProgram).FullName}");
        Line("{");
        var awaits = steps.Values.Any(s => s.Awaits);
        Line($"public {(awaits ? "async " : "")}System.Threading.Tasks.Task RunAsync({typeof(ManuscriptRun).FullName} {Run})");
        Line("{");
        foreach (var parameter in tree.Settings.Parameters)
            Line($"{parameter.CSharpType} @{parameter.Name} = {Run}.Parameter<{parameter.CSharpType}>(\"{parameter.Name}\");");
        foreach (var unit in tree.Units.Where(u => !u.Executables.IsEmpty))
        {
            WriteAll(unit.Executables, depth: 1);
            Line($"{Run}.Place();");
        }
        WriteAll(tree.LateProse.SelectMany(p => p.Executables), depth: 1);
        if (!awaits) Line("return System.Threading.Tasks.Task.CompletedTask;");
        Line("}");
        Line("}");
    }

    private void Check(string code, int offset)
    {
        var expression = SyntaxFactory.ParseExpression(code, options: new CSharpParseOptions(LanguageVersion.Latest), consumeFullText: true);
        if (expression.GetDiagnostics().FirstOrDefault(d => d.Severity == DiagnosticSeverity.Error) is { } problem)
            diagnostics.Add(Diagnostic.Error(tree.Sources.PlaceOf(offset), $"`{code}` is not an expression: {CompilerMessages.Text(problem)}", "write `\\{` for a brace"));
    }

    private void WriteAll(IEnumerable<Executable> executables, int depth)
    {
        foreach (var executable in executables) Write(executable, depth);
    }

    private void Write(Control control, int depth)
    {
        var isScope = control.Branches.Any(b => IsScope(b.Head));
        var start = code.Length;
        if (isScope) scopes++;
        for (var branch = 0; branch < control.Branches.Length; branch++)
        {
            var (head, body) = control.Branches[branch];
            if (IsScope(head))
            {
                WriteHead(head);
                Line("{");
            }
            Line($"{Run}.Pass({Text(control.Ordinal)}, {Text(branch)}, {Text(depth)});");
            WriteAll(body, depth + 1);
            Line($"{Run}.Complete();");
            if (IsScope(head)) Line("}");
        }
        if (isScope) scopes--;
        Line($"{Run}.Return({Text(depth)});");
        if (isScope) AddPiece(control, start);
    }

    /// <summary>Layout opens no scope: variables of its steps are there behind it.</summary>
    private static bool IsScope(ControlHead head) => head.Kind is ControlKind.ForEach or ControlKind.If or ControlKind.ElseIf or ControlKind.Else;

    private void AddPiece(Executable executable, int start)
    {
        if (scopes == 0) pieces.Add(new ProgramPiece(executable, start, code.Length));
    }

    /// <summary>Loops and conditions become those of the program.</summary>
    private void WriteHead(ControlHead head)
    {
        var place = MappedPlace.OfBrace(head.Ordinal);
        var expression = head.Text.LastIndexOf(head.Expression, StringComparison.Ordinal);
        switch (head.Kind)
        {
            case ControlKind.ForEach:
                WriteMapped("foreach (var ", head.Variable, place, head.Text, head.Text.IndexOf(head.Variable, StringComparison.Ordinal), " in ");
                WriteMapped($"{typeof(ManuscriptRun).FullName}.NotNull(", head.Expression, place, head.Text, expression, "))");
                break;
            case ControlKind.Else:
                Line("else");
                break;
            default:
                WriteMapped(head.Kind == ControlKind.If ? "if (" : "else if (", head.Expression, place, head.Text, expression, ")");
                break;
        }
    }

    private void Write(Executable executable, int depth)
    {
        var start = code.Length;
        switch (executable)
        {
            // Each expression has a scope of its own, or its variables would leak.
            case ValueHole hole:
                WriteMapped($"{{ {Run}.Value({Text(hole.Ordinal)}, ", hole.Expression, MappedPlace.OfBrace(hole.Ordinal), hole.Expression, 0, "); }");
                AddPiece(hole, start);
                break;
            case Step step:
                var syntax = steps[step.Ordinal];
                Line($"{Run}.Begin({Text(step.Ordinal)});");
                if (step.Script is { } script)
                {
                    foreach (var word in script.Values) WriteMapped($"{{ {Run}.Argument({Text(word.Ordinal)}, ", word.Expression, MappedPlace.OfBrace(word.Ordinal), word.Expression, 0, "); }");
                    WriteMapped($"{Run}.{(script.Reads is null ? nameof(ManuscriptRun.RunAnything) : nameof(ManuscriptRun.RunScript))}(", Text(step.Ordinal), MappedPlace.OfStep(step.Ordinal), "", 0, ");");
                    AddPiece(step, start);
                    WriteAll(step.Label?.Values ?? [], depth);
                    WriteAll(step.Head.Prose.SelectMany(p => p.Executables), depth);
                    break;
                }
                Line($"#line 1 \"{MappedPlace.OfStep(step.Ordinal)}\"");
                Line(syntax.Body);
                Line("#line hidden");
                if (syntax.Result is { } result)
                {
                    var call = step.Role == StepRole.Prepare ? $"{Run}.Ignore(" : $"{Run}.Result({Text(step.Ordinal)}, ";
                    WriteMapped($"{{ {call}", result.Code, MappedPlace.OfStep(step.Ordinal), step.Code.Text, result.Start, "); }");
                }
                else if (step.Role == StepRole.Show)
                {
                    Line($"{Run}.Result({Text(step.Ordinal)}, null);");
                }
                AddPiece(step, start);
                WriteAll(step.Label?.Values ?? [], depth);
                WriteAll(step.Head.Prose.SelectMany(p => p.Executables), depth);
                break;
            case Control control:
                Write(control, depth);
                break;
        }
    }

    /// <summary>Writes glue, then code that stands at an offset of a text; the compiler maps the code to its place there, column for column.</summary>
    private void WriteMapped(string before, string mapped, string name, string text, int offset, string after)
    {
        var line = text.AsSpan(0, offset).Count('\n');
        var column = offset == 0 ? 0 : offset - (text.LastIndexOf('\n', offset - 1) + 1);
        var length = mapped.IndexOf('\n') is var end and >= 0 ? end : mapped.Length;
        var (from, to) = (Math.Min(column + 1, LastColumn - 1), Math.Min(column + Math.Max(2, length + 1), LastColumn));
        Line(string.Create(CultureInfo.InvariantCulture, $"#line ({line + 1},{from})-({line + 1},{to}) {Math.Min(before.Length, LastColumn)} \"{name}\""));
        Line(before + mapped);
        Line("#line hidden");
        Line(after);
    }

    private void Line(string text) => code.Append(text).Append('\n');

    private static string Text(int number) => number.ToString(CultureInfo.InvariantCulture);
}
