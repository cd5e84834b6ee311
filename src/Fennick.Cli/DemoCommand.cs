using System.CommandLine;
using System.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts;

namespace Fennick.Cli;

/// <summary><c>fennick demo [--into DIR]</c>: writes the example manuscripts, their data and their reports.</summary>
internal static class DemoCommand
{
    public static Command Create()
    {
        var into = new Option<string?>("--into") { Description = "The folder for the examples (default: fennick-demo).", HelpName = "DIR" };
        into.Validators.Add(result =>
        {
            if (result.Tokens is [{ Value: var name }] && string.IsNullOrWhiteSpace(name)) result.AddError("the name of the folder is empty");
        });
        var command = new Command("demo", "Writes the example reports, with the manuscripts and data they are made from.") { into };
        command.SetAction(call => Run(Path.GetFullPath(call.GetValue(into) ?? "fennick-demo")));
        return command;
    }

    private static int Run(string folder)
    {
        var watch = Stopwatch.StartNew();
        try
        {
            Copy(Path.Combine(AppContext.BaseDirectory, "demo"), folder);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            Terminal.Error($"the demo cannot be written to {folder}: {FileProblem.Reason(problem)}");
            return ExitCodes.Failed;
        }
        var nothing = new Dictionary<string, string>();
        var failed = false;
        foreach (var manuscript in Directory.EnumerateFiles(folder, $"*{Manuscript.Extension}").Order(StringComparer.Ordinal))
            failed |= WriteCommand.Write(manuscript, null, nothing, nothing) is null;
        Terminal.Say($"all in {Terminal.Describe(watch.Elapsed)}; the manuscripts are beside the reports");
        return failed ? ExitCodes.Failed : ExitCodes.Done;
    }

    private static void Copy(string from, string to)
    {
        foreach (var file in Directory.EnumerateFiles(from, "*", SearchOption.AllDirectories))
        {
            var target = Path.Combine(to, Path.GetRelativePath(from, file));
            Directory.CreateDirectory(Path.GetDirectoryName(target)!);
            if (!File.Exists(target)) File.Copy(file, target);
            else if (!File.ReadAllBytes(target).AsSpan().SequenceEqual(File.ReadAllBytes(file))) Terminal.Say($"{target} is there already and was changed; it is left as it is (another folder with `--into` shows the demo as it was)");
        }
    }
}
