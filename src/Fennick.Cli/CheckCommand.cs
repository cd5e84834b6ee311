using System.CommandLine;
using System.Diagnostics;
using System.Globalization;
using Fennick.Manuscripts;

namespace Fennick.Cli;

/// <summary><c>fennick check FILE [--with KEY=VALUE]… [--layout [--set NAME=VALUE]…]</c>: all that can be known of a manuscript without running its steps; how its report fills its pages; what is found in a house; without a file, what is there on this machine.</summary>
internal static class CheckCommand
{
    public static Command Create()
    {
        var manuscript = new ManuscriptArguments("file");
        manuscript.File.Description = "A manuscript (.ms.md), a house or a report (.docx, .dotx); without one, the installation is looked at.";
        manuscript.File.Arity = ArgumentArity.ZeroOrOne;
        var layout = new Option<bool>("--layout") { Description = "Runs the steps, writes nothing, and shows how the report fills its pages." };
        var command = new Command("check", "Finds mistakes in a manuscript without running its steps, or shows what is found in a house, in a report, or on this machine.") { manuscript.File, manuscript.With, layout, manuscript.Set };
        command.Validators.Add(result =>
        {
            if (result.GetResult(manuscript.File) is not { Tokens.Count: > 0 } && (result.GetResult(layout) is { Implicit: false } || result.GetResult(manuscript.With) is { Implicit: false } || result.GetResult(manuscript.Set) is { Implicit: false }))
                result.AddError("name the manuscript that these options are for");
        });
        command.SetAction(call => call.GetValue(manuscript.File) is not { } file ? InstallationCheck.Run()
            : call.GetValue(layout) ? LayOut(file, manuscript.Parameters(call), manuscript.Settings(call)) : Run(file, manuscript.Settings(call)));
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
