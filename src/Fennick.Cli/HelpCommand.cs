using System.CommandLine;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Vocabulary;

namespace Fennick.Cli;

/// <summary><c>fennick help [WORD…] [--all]</c></summary>
internal static class HelpCommand
{
    private const int MostMentions = 12;

    /// <param name="root">The command whose parts it explains too.</param>
    public static Command Create(RootCommand root)
    {
        var words = new Argument<string[]>("word") { Description = "A setting, key, form in braces, format, slot, style role, variable or command.", Arity = ArgumentArity.ZeroOrMore };
        CompletionCommand.CompleteWords(words);
        var all = new Option<bool>("--all") { Description = "Prints all words, as a page in Markdown." };
        var command = new Command("help", "Explains a word of manuscripts, houses and calls.") { words, all };
        command.SetAction(call =>
        {
            if (call.GetValue(all)) Terminal.Result(Page(root).TrimEnd());
            else if (call.GetValue(words) is { Length: > 0 } asked) return Explain(string.Join(' ', asked), Chapters(root));
            else foreach (var chapter in Chapters(root)) Terminal.Result($"{chapter.Title}: {string.Join(", ", chapter.Entries.SelectMany(e => e.Forms))}\n");
            return ExitCodes.Done;
        });
        return command;
    }

    private static IEnumerable<ReferenceChapter> Chapters(RootCommand root) => [new("command", "Commands", "command", [.. CommandsOf(root).Select(Describe)]), .. ReferenceBook.Chapters];

    private static IEnumerable<Command> CommandsOf(Command command) => command.Subcommands.SelectMany(c => c.Subcommands.Count > 0 && c.Action is null ? CommandsOf(c) : [c, .. CommandsOf(c)]);

    private static ReferenceEntry Describe(Command command)
    {
        var arguments = string.Concat(command.Arguments.Select(a => a.Arity.MinimumNumberOfValues > 0 ? $" {a.Name.ToUpperInvariant()}" : $" [{a.Name.ToUpperInvariant()}{(a.Arity.MaximumNumberOfValues > 1 ? "…" : "")}]"));
        var options = string.Concat(command.Options.Where(o => !o.Hidden && o.Name is not ("--help" or "--version")).Select(o => $"<br>`{o.Name}{(o.ValueType == typeof(bool) ? "" : $" {o.HelpName ?? "VALUE"}")}`: {o.Description}"));
        return new ReferenceEntry($"`{HelpPages.NameOf(command)}{arguments}`", $"{command.Description}{options}");
    }

    private static int Explain(string word, IEnumerable<ReferenceChapter> chapters)
    {
        var all = chapters.SelectMany(c => c.Entries.Select(e => (Chapter: c, Entry: e))).ToArray();
        var found = all.Where(e => e.Entry.IsAbout(word)).ToArray();
        if (found.Length == 0)
        {
            var mentions = all.Where(e => e.Entry.PlainText.Contains(word, StringComparison.OrdinalIgnoreCase) || e.Entry.Form.Contains(word, StringComparison.OrdinalIgnoreCase)).Take(MostMentions).ToArray();
            var meant = Nearest.Find(word, all.SelectMany(e => e.Entry.Forms).Distinct());
            if (mentions.Length == 0)
            {
                Terminal.Error($"there is no word `{word}`{(meant is null ? "" : $"; did you mean `{meant}`?")}");
                Terminal.Say("See `fennick help` for all words.");
                return ExitCodes.WrongCall;
            }
            Terminal.Say($"No word is `{word}`; these have to do with it:\n");
            found = mentions;
        }
        foreach (var (chapter, entry) in found)
        {
            Terminal.Result($"{string.Join(", ", entry.Forms)}  ({chapter.Kind})");
            foreach (var line in entry.PlainText.Split("<br>")) Terminal.Result($"  {line}");
            Terminal.Result($"  More: docs/{chapter.Page}.md\n");
        }
        return ExitCodes.Done;
    }

    private static string Page(RootCommand root)
    {
        var page = new StringBuilder("# Reference\n\nAll words of Fennick in one place, as `fennick help WORD` explains them. This page is what `fennick help --all` prints.\n");
        foreach (var chapter in Chapters(root))
        {
            page.Append("\n## ").Append(chapter.Title).Append("\n\nMore: [").Append(chapter.Page).Append(".md](").Append(chapter.Page).Append(".md)\n\n| ").Append(chapter.Kind).Append(" | |\n|---|---|\n");
            foreach (var entry in chapter.Entries) page.Append("| ").Append(entry.Form).Append(" | ").Append(entry.Text.Replace("\n", " ", StringComparison.Ordinal).Replace("|", "\\|", StringComparison.Ordinal)).Append(" |\n");
        }
        return page.ToString();
    }
}
