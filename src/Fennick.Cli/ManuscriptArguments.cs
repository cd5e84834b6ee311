using System.CommandLine;

namespace Fennick.Cli;

/// <summary>What every command takes that runs or reads a manuscript: the file, values of parameters, settings.</summary>
internal sealed class ManuscriptArguments
{
    public ManuscriptArguments(string file = "manuscript")
    {
        File = new(file) { Description = "The manuscript, a file whose name ends in .ms.md." };
        CompletionCommand.CompleteParameters(Set, File);
        CompletionCommand.CompleteSettings(With);
    }

    public Argument<string> File { get; }

    public Option<string[]> Set { get; } = Pairs("--set", "NAME=VALUE", "The value of a parameter. May be repeated.");

    public Option<string[]> With { get; } = Pairs("--with", "KEY=VALUE", "A setting that overrides the manuscript's own, such as listing=shown. May be repeated.");

    public Option<string?> Also { get; } = new("--also") { Description = "What to write beside each document: page, pdf, text, or several with commas.", HelpName = "FORMS" };

    /// <summary>The values of parameters; of several for one name the last counts.</summary>
    public Dictionary<string, string> Parameters(ParseResult call) => Read(call.GetValue(Set));

    /// <summary>The settings, in the same way.</summary>
    public Dictionary<string, string> Settings(ParseResult call)
    {
        var settings = Read(call.GetValue(With));
        if (call.GetValue(Also) is { } forms) settings["outputs"] = forms;
        return settings;
    }

    /// <summary>The pairs by their names.</summary>
    public static Dictionary<string, string> Read(string[]? pairs) => (pairs ?? []).Select(s => s.Split('=', 2)).GroupBy(p => p[0]).ToDictionary(g => g.Key, g => g.Last()[1]);

    /// <summary>The option that allows to replace what is protected.</summary>
    public static Option<bool> Force() => new("--force") { Description = "Also replaces documents that are read-only." };

    /// <summary>Refuses an empty name.</summary>
    public static void NeedsName(Argument<string> argument) => argument.Validators.Add(result =>
    {
        if (result.Tokens.Any(t => string.IsNullOrWhiteSpace(t.Value))) result.AddError($"the name of the {argument.Name} is empty");
    });

    /// <summary>An option that takes <c>NAME=VALUE</c>.</summary>
    public static Option<string[]> Pairs(string name, string form, string description)
    {
        var option = new Option<string[]>(name) { Description = description, HelpName = form };
        option.Validators.Add(result =>
        {
            foreach (var token in result.Tokens.Where(t => t.Value.IndexOf('=') <= 0)) result.AddError($"`{name} {token.Value}` is not of the form {form}");
        });
        return option;
    }
}
