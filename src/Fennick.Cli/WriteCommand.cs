using System.CommandLine;
using System.Diagnostics;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Running;

namespace Fennick.Cli;

/// <summary><c>fennick write MANUSCRIPT [--out FILE] [--set NAME=VALUE]… [--with KEY=VALUE]… [--also FORMS] [--force] [--anew] [--open]</c></summary>
internal static class WriteCommand
{
    public static Command Create()
    {
        var manuscript = new ManuscriptArguments();
        var output = new Option<string?>("--out") { Description = "The file or folder for the report (default: beside the manuscript).", HelpName = "FILE" };
        var force = ManuscriptArguments.Force();
        var anew = new Option<bool>("--anew") { Description = "Writes from scratch a document that people have edited; the edited one is kept beside it." };
        var open = new Option<bool>("--open") { Description = "Opens the report when it is written." };
        var command = new Command("write", "Writes a manuscript's report.") { manuscript.File, output, manuscript.Set, manuscript.With, manuscript.Also, force, anew, open };
        command.SetAction(call =>
        {
            var result = Write(call.GetRequiredValue(manuscript.File), call.GetValue(output), manuscript.Parameters(call), manuscript.Settings(call), call.GetValue(force), call.GetValue(anew));
            if (result is not null && call.GetValue(open)) Open(result.Path);
            return result is null ? ExitCodes.Failed : ExitCodes.Done;
        });
        return command;
    }

    /// <summary>Writes a report and says so; null if it failed, and then what is wrong was said.</summary>
    public static WriteResult? Write(string manuscript, string? output, IReadOnlyDictionary<string, string> parameters, IReadOnlyDictionary<string, string> settings, bool force = false, bool anew = false)
    {
        var watch = Stopwatch.StartNew();
        try
        {
            var opened = Manuscript.Open(manuscript, settings);
            var isFolder = output is not null && (output.EndsWith('/') || Directory.Exists(output));
            WriteResult result;
            using (new StepProgress(opened.StepCount)) result = opened.Write(isFolder ? Path.Combine(output!, Path.GetFileName(opened.DefaultOutput)) : output, parameters, force, anew);
            foreach (var step in result.Outputs) Terminal.Say(step);
            foreach (var diagnostic in result.Diagnostics) Terminal.Say(diagnostic);
            Terminal.Result(result.Path);
            foreach (var beside in result.Also) Terminal.Result(beside);
            Terminal.Say($"written in {Terminal.Describe(watch.Elapsed)}{Terminal.DescribeCompiling(result.CompileTime)}");
            return result;
        }
        catch (ReportException problem)
        {
            foreach (var step in (problem.InnerException as RunFault)?.Outputs ?? []) Terminal.Say(step);
            foreach (var diagnostic in problem.Diagnostics) Terminal.Say(diagnostic);
            return null;
        }
    }

    /// <summary>Opens a document or a page with the program that is there for it.</summary>
    public static void Open(string path)
    {
        try
        {
            using var viewer = Process.Start(new ProcessStartInfo("xdg-open", [path]));
        }
        catch (System.ComponentModel.Win32Exception)
        {
            Terminal.Say($"warning: no program is there to open it with; it is at {path}");
        }
    }
}
