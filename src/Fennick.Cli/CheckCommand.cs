using System.CommandLine;
using System.Diagnostics;
using System.Globalization;
using Fennick.Manuscripts;

namespace Fennick.Cli;

/// <summary><c>fennick check FILE [--with KEY=VALUE]… [--layout [--set NAME=VALUE]…]</c>: all that can be known of a manuscript without running its steps; how its report fills its pages; what is found in a house.</summary>
internal static class CheckCommand
{
    public static Command Create()
    {
        var manuscript = new ManuscriptArguments("file");
        manuscript.File.Description = "A manuscript (.ms.md), a house or a report (.docx, .dotx).";
        var layout = new Option<bool>("--layout") { Description = "Runs the steps, writes nothing, and shows how the report fills its pages." };
        var command = new Command("check", "Finds mistakes in a manuscript without running its steps, or shows what is found in a house or a report.") { manuscript.File, manuscript.With, layout, manuscript.Set };
        command.SetAction(call => call.GetValue(layout) ? LayOut(call.GetRequiredValue(manuscript.File), manuscript.Parameters(call), manuscript.Settings(call)) : Run(call.GetRequiredValue(manuscript.File), manuscript.Settings(call)));
        return command;
    }

    private static int LayOut(string path, IReadOnlyDictionary<string, string> parameters, IReadOnlyDictionary<string, string> settings) => Terminal.Telling(() =>
    {
        var made = Manuscript.Open(path, settings).Run(parameters);
        foreach (var diagnostic in made.Diagnostics) Terminal.Say(diagnostic);
        var pages = made.Content.LayOut();
        foreach (var remedy in pages.Remedies) Terminal.Result(remedy);
        Terminal.Result(string.Create(CultureInfo.InvariantCulture, $"{Path.GetFullPath(path)}: {pages.Count} page{(pages.Count == 1 ? "" : "s")}, of which {100 * pages.EmptyShare:0} % stay empty on average where what comes next has no room"));
    });

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
