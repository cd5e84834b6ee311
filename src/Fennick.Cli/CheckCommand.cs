using System.CommandLine;
using System.Diagnostics;
using Fennick.Manuscripts;

namespace Fennick.Cli;

/// <summary><c>fennick check FILE [--with KEY=VALUE]…</c>: all that can be known of a manuscript without running its steps; what is found in a house.</summary>
internal static class CheckCommand
{
    public static Command Create()
    {
        var manuscript = new ManuscriptArguments("file");
        manuscript.File.Description = "A manuscript (.ms.md), a house or a report (.docx, .dotx).";
        var command = new Command("check", "Finds mistakes in a manuscript without running its steps, or shows what is found in a house or a report.") { manuscript.File, manuscript.With };
        command.SetAction(call => Run(call.GetRequiredValue(manuscript.File), manuscript.Settings(call)));
        return command;
    }

    private static int Run(string path, IReadOnlyDictionary<string, string> settings)
    {
        if (Path.GetExtension(path).ToUpperInvariant() is ".DOCX" or ".DOTX" or ".DOCM" or ".DOTM") return HouseCommand.Check(path, null);
        return Terminal.Telling(() =>
        {
            var watch = Stopwatch.StartNew();
            var (diagnostics, compileTime) = Manuscript.Open(path, settings).Check();
            foreach (var diagnostic in diagnostics) Terminal.Say(diagnostic);
            Terminal.Result($"{Path.GetFullPath(path)}: nothing wrong is found");
            Terminal.Say($"checked in {Terminal.Describe(watch.Elapsed)}{Terminal.DescribeCompiling(compileTime)}");
        });
    }
}
