using System.CommandLine;
using System.Diagnostics;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Running;

namespace Fennick.Cli;

/// <summary><c>fennick try MANUSCRIPT [LABEL] [--set NAME=VALUE]… [--with KEY=VALUE]…</c></summary>
internal static class TryCommand
{
    public static Command Create()
    {
        var manuscript = new ManuscriptArguments();
        var label = new Argument<string?>("label") { Description = "The label of the last step to run (default: all steps).", Arity = ArgumentArity.ZeroOrOne };
        var command = new Command("try", "Runs the steps of a manuscript, all or up to one of them, and shows what each gives. Writes no report.") { manuscript.File, label, manuscript.Set, manuscript.With };
        command.SetAction(call => Run(call.GetRequiredValue(manuscript.File), call.GetValue(label), manuscript.Parameters(call), manuscript.Settings(call)));
        return command;
    }

    private static int Run(string path, string? label, IReadOnlyDictionary<string, string> parameters, IReadOnlyDictionary<string, string> settings)
    {
        var watch = Stopwatch.StartNew();
        try
        {
            var (compileTime, diagnostics) = Manuscript.Open(path, settings).Try(label, Show, parameters);
            foreach (var diagnostic in diagnostics) Terminal.Say(diagnostic);
            Terminal.Say($"tried in {Terminal.Describe(watch.Elapsed)}{Terminal.DescribeCompiling(compileTime)}; no report is written");
            return ExitCodes.Done;
        }
        catch (ReportException problem)
        {
            foreach (var step in (problem.InnerException as RunFault)?.Outputs ?? []) Terminal.Say(step);
            foreach (var diagnostic in problem.Diagnostics) Terminal.Say(diagnostic);
            return ExitCodes.Failed;
        }
    }

    private static void Show(TriedStep step)
    {
        Terminal.Result($"{step.Role} {step.Name}  ({step.Place.File}:{step.Place.Line}, {Terminal.Describe(step.Time)})");
        if (step.Written.Length > 0) Terminal.Say(new StepOutput(step.Name, step.Written));
        foreach (var line in step.Result.TrimEnd().Split('\n').Where(l => step.Result.Length > 0)) Terminal.Result($"  {line.TrimEnd('\r')}".TrimEnd());
        if (step.File is { } file) Terminal.Result($"  {file}");
    }
}
