using System.CommandLine;
using System.Diagnostics;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Running;

namespace Fennick.Cli;

/// <summary><c>fennick try MANUSCRIPT [LABEL] [--figures FORM] [--json] [--set NAME=VALUE]… [--with KEY=VALUE]…</c></summary>
internal sealed class TryCommand
{
    private readonly ManuscriptArguments manuscript = new();
    private readonly Argument<string?> label = new("label") { Description = "The label of the last step to run (default: all steps).", Arity = ArgumentArity.ZeroOrOne };
    private readonly Option<string?> figures = new("--figures") { Description = "How figures are shown: as pixels, as coloured blocks, or as files alone (default: the best that the terminal knows).", HelpName = "sixel|blocks|files" };
    private readonly Option<bool> json = new("--json") { Description = "Prints one line of JSON for each step and one for the end." };

    public static Command Create() => new TryCommand().Build();

    private Command Build()
    {
        CompletionCommand.CompleteLabels(label, manuscript.File);
        figures.AcceptOnlyFromAmong("sixel", "blocks", "files");
        var command = new Command("try", "Runs the steps of a manuscript, all or up to one of them, and shows what each gives. Writes no report.") { manuscript.File, label, figures, json, manuscript.Set, manuscript.With };
        command.SetAction(Run);
        return command;
    }

    private int Run(ParseResult call)
    {
        var (watch, isJson) = (Stopwatch.StartNew(), call.GetValue(json));
        var form = call.GetValue(figures) switch { "sixel" => PictureForm.Sixel, "blocks" => PictureForm.Blocks, "files" => PictureForm.Files, _ => (PictureForm?)null };
        try
        {
            int? room = isJson || Console.IsOutputRedirected ? null : Math.Max(20, Terminal.Width - 2);
            var (compileTime, diagnostics) = Manuscript.Open(call.GetRequiredValue(manuscript.File), manuscript.Settings(call)).Try(call.GetValue(label), isJson ? WriteJson : Show, manuscript.Parameters(call), room);
            if (isJson)
            {
                WriteEnd(diagnostics, watch.Elapsed);
                return ExitCodes.Done;
            }
            foreach (var diagnostic in diagnostics) Terminal.Say(diagnostic);
            Terminal.Say($"tried in {Terminal.Describe(watch.Elapsed)}{Terminal.DescribeCompiling(compileTime)}; no report is written");
            return ExitCodes.Done;
        }
        catch (ReportException problem)
        {
            if (isJson) WriteEnd(problem.Diagnostics, watch.Elapsed);
            else
            {
                foreach (var step in (problem.InnerException as RunFault)?.Outputs ?? []) Terminal.Say(step);
                foreach (var diagnostic in problem.Diagnostics) Terminal.Say(diagnostic);
            }
            return ExitCodes.Failed;
        }

        void Show(TriedStep step)
        {
            Terminal.Result($"{step.Role} {step.Name}  ({step.Place.File}:{step.Place.Line}, {Terminal.Describe(step.Time)})");
            if (step.Written.Length > 0) Terminal.Say(new StepOutput(step.Name, step.Written));
            foreach (var line in step.Result.TrimEnd().Split('\n').Where(l => step.Result.Length > 0)) Terminal.Result($"  {line.TrimEnd('\r')}".TrimEnd());
            if (step.File is not { } file) return;
            form ??= TerminalPicture.Find();
            if (form != PictureForm.Files)
                foreach (var picture in step.Pictures) Console.Out.Write(TerminalPicture.Write(File.ReadAllBytes(picture), form.Value));
            Terminal.Result($"  {file}");
            foreach (var picture in step.Pictures) Terminal.Result($"  {picture}");
        }
    }

    private static void WriteJson(TriedStep step) => Terminal.Json(new
    {
        step = step.Name,
        role = step.Role,
        file = step.Place.File,
        line = step.Place.Line,
        seconds = Math.Round(step.Time.TotalSeconds, 4),
        written = step.Written,
        result = step.Result,
        document = step.File,
        pictures = step.Pictures,
    });

    private static void WriteEnd(IEnumerable<Diagnostic> problems, TimeSpan time) => Terminal.Json(new
    {
        seconds = Math.Round(time.TotalSeconds, 4),
        problems = problems.Select(p => new { severity = p.Severity.ToString().ToLowerInvariant(), message = p.Message, suggestion = p.Suggestion, file = p.Place?.File, line = p.Place?.Line, column = p.Place?.Column }),
    });
}
