using System.CommandLine;
using System.Text;
using Fennick.Files;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Beginning;
using Spectre.Console;

namespace Fennick.Cli;

/// <summary><c>fennick new DIR [--title TITLE] [--author NAME] [--kind KIND | --from DATA]</c>: a small working folder to start from.</summary>
internal static class NewCommand
{
    private const string ManuscriptName = $"report{Manuscript.Extension}";

    private static readonly (string Name, string Meaning)[] Kinds =
    [
        ("short", "a few pages with a table and a figure"),
        ("annual", "contents, sections for each valley, sources"),
        ("unit", "one report for each unit: parameters and a roster"),
        ("annex", "statistical annex: descriptions, models, the code at the end"),
        ("paper", "scientific paper: abstract, formula, estimates, references"),
        ("letter", "a letter with a figure and a table"),
        ("survey", "results of a survey: shares of answers, by group"),
    ];

    public static Command Create()
    {
        var folder = new Argument<string>("folder") { Description = "The folder to make." };
        ManuscriptArguments.NeedsName(folder);
        var title = new Option<string?>("--title") { Description = "The report's title (default: asked for in a terminal, else the folder's name).", HelpName = "TITLE" };
        var author = new Option<string?>("--author") { Description = "The report's author (default: asked for in a terminal, else your user name).", HelpName = "NAME" };
        var kind = new Option<string?>("--kind") { Description = $"The kind of report (default: asked for in a terminal, else short): {string.Join("; ", Kinds.Select(k => $"{k.Name} ({k.Meaning})"))}.", HelpName = "KIND" };
        kind.CompletionSources.Add([.. Kinds.Select(k => k.Name)]);
        kind.Validators.Add(result =>
        {
            if (result.Tokens is [{ Value: var name }] && Kinds.All(k => k.Name != name)) result.AddError($"`{name}` is not a kind of report; the kinds are {string.Join(", ", Kinds.Select(k => $"`{k.Name}`"))}");
        });
        var from = new Option<string?>("--from") { Description = "A data file of your own: a first manuscript about it, with an overview, charts and sentences to be edited. CSV, a spreadsheet, JSON, Parquet, .sav or .dta; it is copied into the folder. FILE.xlsx#NAME means a table, a range or a sheet of a workbook.", HelpName = "DATA" };
        var command = new Command("new", "Makes a folder with a small working manuscript and its data.") { folder, title, author, kind, from };
        command.Validators.Add(result =>
        {
            if (result.GetResult(kind) is { Implicit: false } && result.GetResult(from) is { Implicit: false }) result.AddError("`--kind` and `--from` are two ways to begin; use one of them");
        });
        command.SetAction(call => Run(call.GetRequiredValue(folder), call.GetValue(title), call.GetValue(author), call.GetValue(kind), call.GetValue(from)));
        return command;
    }

    private static int Run(string folder, string? title, string? author, string? kind, string? from)
    {
        var path = Path.GetFullPath(folder);
        if (File.Exists(path) || (Directory.Exists(path) && Directory.EnumerateFileSystemEntries(path).Any()))
        {
            Terminal.Error($"{path} is there already and not empty; name a new folder");
            return ExitCodes.Failed;
        }
        // Asks only where somebody can answer.
        var asks = !Console.IsInputRedirected && !Console.IsOutputRedirected;
        title ??= asks ? AnsiConsole.Ask("Title:", Path.GetFileName(path)) : Path.GetFileName(path);
        author ??= asks ? AnsiConsole.Ask("Author:", Environment.UserName) : Environment.UserName;
        if (from is not null) return Terminal.Telling(() => Begin(path, title, author, from));
        kind ??= asks ? AnsiConsole.Prompt(new SelectionPrompt<string>().Title("What is it?").AddChoices(Kinds.Select(k => $"{k.Name}: {k.Meaning}"))).Split(':')[0] : Kinds[0].Name;
        try
        {
            Copy(Path.Combine(AppContext.BaseDirectory, "new", "all"), path, title, author);
            Copy(Path.Combine(AppContext.BaseDirectory, "new", kind), path, title, author);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            Terminal.Error($"{path} cannot be made: {FileProblem.Reason(problem)}");
            return ExitCodes.Failed;
        }
        Tell(path);
        return ExitCodes.Done;
    }

    // A first manuscript about somebody's own data.
    private static void Begin(string path, string title, string author, string from)
    {
        (from, var part) = FirstManuscript.Split(from);
        var (data, argument) = FirstManuscript.Read(from, part);
        var text = FirstManuscript.Of($"data/{Path.GetFileName(from)}", data, Escaped(title), author, argument);
        Directory.CreateDirectory(Path.Combine(path, "data"));
        File.Copy(from, Path.Combine(path, "data", Path.GetFileName(from)));
        File.WriteAllText(Path.Combine(path, ManuscriptName), text);
        Tell(path);
    }

    private static void Tell(string path)
    {
        var manuscript = Path.Combine(path, ManuscriptName);
        Terminal.Result(manuscript);
        Terminal.Say($"write its report with: fennick write {Path.GetRelativePath(Environment.CurrentDirectory, manuscript)}");
    }

    private static void Copy(string from, string to, string title, string author)
    {
        foreach (var file in Directory.EnumerateFiles(from, "*", SearchOption.AllDirectories))
        {
            var target = Path.Combine(to, Path.GetRelativePath(from, file));
            Directory.CreateDirectory(Path.GetDirectoryName(target)!);
            // Braces and backslashes in a title are no mark-up.
            File.WriteAllText(target, File.ReadAllText(file).Replace("TITLE", Escaped(title), StringComparison.Ordinal).Replace("AUTHOR", author, StringComparison.Ordinal));
        }
    }

    private static string Escaped(string text)
    {
        var escaped = new StringBuilder();
        foreach (var c in text.ReplaceLineEndings(" ")) escaped.Append(c is '{' or '}' or '\\' or '*' or '_' or '`' or '[' or '<' or '$' or '~' or '#' ? "\\" : "").Append(c);
        return escaped.ToString();
    }
}
