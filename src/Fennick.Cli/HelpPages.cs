using System.CommandLine;
using System.CommandLine.Help;
using System.CommandLine.Invocation;

namespace Fennick.Cli;

/// <summary>What the help of a command says beyond its arguments and options: examples, exit codes, and where to read on.</summary>
internal static class HelpPages
{
    private const string DoneOrFailed = "0 done; 1 failed, and what is wrong was said; 2 wrong call";

    private static readonly Dictionary<string, Page> Pages = new()
    {
        [""] = new(["fennick demo", "fennick new bees --title \"Our bees\""], DoneOrFailed + "; 3 some units of a batch failed", "command"),
        ["write"] = new(["fennick write report.ms.md", "fennick write report.ms.md --out reports/ --set season=2024 --with listing=shown", "fennick write report.ms.md --also page,pdf"], DoneOrFailed, "manuscript"),
        ["watch"] = new(["fennick watch report.ms.md --open", "fennick watch report.ms.md --editor \"code --goto {file}:{line}\"", "fennick watch apiary.ms.md --roster apiaries.csv --unit \"Mill Lane\""], "0 ended by Ctrl-C; 1 failed, and what is wrong was said; 2 wrong call", "command"),
        ["try"] = new(["fennick try report.ms.md", "fennick try report.ms.md honey-model --set season=2024"], DoneOrFailed, "command"),
        ["batch"] = new(
            ["fennick batch apiary.ms.md --roster apiaries.csv --into reports", "fennick batch apiary.ms.md --roster apiaries.csv --bind all.docx --group valley"],
            DoneOrFailed + "; 3 some units failed, the others are there", "batches"),
        ["batch gather"] = new(["fennick batch gather part-1 part-2", "fennick batch gather parts/*"], DoneOrFailed + "; 3 some units are missing", "batches"),
        ["check"] = new(["fennick check", "fennick check report.ms.md", "fennick check report.ms.md --layout", "fennick check house/larkmere.docx"], "0 nothing wrong; 1 something is wrong, and was said; 2 wrong call", "command"),
        ["house"] = new(["fennick house list", "fennick house check house/larkmere.docx"], DoneOrFailed, "houses"),
        ["house list"] = new(["fennick house list"], DoneOrFailed, "houses"),
        ["house new"] = new(["fennick house new tansy house.docx", "fennick house new flint house/ours.docx"], DoneOrFailed, "houses"),
        ["house check"] = new(["fennick house check tansy", "fennick house check house/larkmere.docx --specimen specimen.docx"], DoneOrFailed, "houses"),
        ["serve"] = new(["fennick serve"], "0 the editor has ended it; 2 wrong call", "editors"),
        ["new"] = new(["fennick new bees", "fennick new bees --from bees.xlsx", "fennick new bees --title \"Our bees\" --author \"Ada Wren\" --kind annual"], DoneOrFailed, "command"),
        ["help"] = new(["fennick help tables.ruling", "fennick help for each", "fennick help --all"], DoneOrFailed, "reference"),
        ["completion"] = new(["fennick completion bash >> ~/.bashrc", "fennick completion fish > ~/.config/fish/completions/fennick.fish"], "0 done; 2 wrong call", "command"),
        ["demo"] = new(["fennick demo", "fennick demo --into /tmp/demo"], DoneOrFailed, "command"),
    };

    /// <summary>Makes the help of all commands say it.</summary>
    public static void AddTo(RootCommand root)
    {
        var help = root.Options.OfType<HelpOption>().Single();
        help.Description = "Shows this help.";
        help.Action = new Action((HelpAction)help.Action!);
        root.Options.OfType<VersionOption>().Single().Description = "Shows the version.";
    }

    /// <summary>The command without the name of the program: <c>batch gather</c>.</summary>
    public static string NameOf(Command command) => string.Join(' ', command.Parents.OfType<Command>().Where(p => p is not RootCommand).Select(p => p.Name).Append(command is RootCommand ? "" : command.Name).Where(n => n.Length > 0));

    private sealed record Page(string[] Examples, string ExitCodes, string Document);

    private sealed class Action(HelpAction usual) : SynchronousCommandLineAction
    {
        public override bool ClearsParseErrors => true;

        public override int Invoke(ParseResult parseResult)
        {
            var (command, output) = (parseResult.CommandResult.Command, parseResult.InvocationConfiguration.Output);
            var text = new StringWriter();
            parseResult.InvocationConfiguration.Output = text;
            usual.Invoke(parseResult);
            parseResult.InvocationConfiguration.Output = output;
            output.Write(Tidy(text.ToString(), command));
            var page = Pages[NameOf(command)];
            output.WriteLine("Examples:");
            foreach (var example in page.Examples) output.WriteLine($"  {example}");
            output.WriteLine();
            output.WriteLine("Exit codes:");
            foreach (var code in page.ExitCodes.Split("; ")) output.WriteLine($"  {code}");
            output.WriteLine();
            output.WriteLine($"More: docs/{page.Document}.md");
            return ExitCodes.Done;
        }

        /// <summary>The text without arguments that belong to the command above.</summary>
        private static string Tidy(string text, Command command)
        {
            var above = command.Parents.OfType<Command>().SelectMany(p => p.Arguments).Select(a => $"<{a.Name}>").ToArray();
            var lines = text.Split('\n').Where(l => !above.Any(a => l.StartsWith($"  {a} ", StringComparison.Ordinal)));
            return above.Aggregate(string.Join('\n', lines), (all, a) => all.Replace($"[{a}] ", "", StringComparison.Ordinal));
        }
    }
}
