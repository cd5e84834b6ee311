using System.Collections.Immutable;
using Fennick.Formatting;
using Fennick.Houses;
using Fennick.Manuscripts.Steps;

namespace Fennick.Manuscripts.Vocabulary;

/// <summary>All words of manuscripts, houses and calls: for the page of them, and for whoever asks for one.</summary>
internal static class ReferenceBook
{
    // A value for each format, that one sees what it gives.
    private static readonly Dictionary<string, (string Shown, object Value)> Samples = new(StringComparer.Ordinal)
    {
        ["quoted"] = ("\"Dusk\"", "Dusk"),
        ["money"] = ("1234.5", 1234.5),
        ["unit"] = ("24.5", 24.5),
        ["percent"] = ("0.1234", 0.1234),
        ["number"] = ("24.456", 24.456),
        ["signed"] = ("0.84", 0.84),
        ["thousands"] = ("30210", 30210),
        ["ordinal"] = ("3", 3),
        ["words"] = ("21", 21),
        ["date"] = ("new DateOnly(2025, 11, 3)", new DateOnly(2025, 11, 3)),
        ["list"] = ("strains", (string[])["Amber", "Dusk", "Heath"]),
        ["title"] = ("\"old mill\"", "old mill"),
        ["sentence"] = ("\"old mill\"", "old mill"),
        ["upper"] = ("\"old mill\"", "old mill"),
        ["lower"] = ("\"Old Mill\"", "Old Mill"),
        ["p-value"] = ("0.0321", 0.0321),
        ["power-of-ten"] = ("0.0000123", 0.0000123),
        ["interval"] = ("(10.24, 30.7)", (10.24, 30.7)),
    };

    /// <summary>The words, by their kinds.</summary>
    public static ImmutableArray<ReferenceChapter> Chapters { get; } =
    [
        new("setting", "Settings", "manuscript", SettingWords.All),
        new("role of a step", "Roles of steps", "manuscript", StepWords.Roles),
        new("key of a step's head", "Heads of steps", "manuscript", [.. StepWords.HeadKeys.Select(WithRoles)]),
        new("form in braces", "Braces", "manuscript", BraceForms.All),
        new("format", "Formats", "manuscript", [.. FormatWords.All.Select(WithSample)]),
        new("slot", "Slots of a house", "houses", OutsideWords.Slots),
        new("role of a style", "Roles of styles", "houses", [.. RoleFinder.Roles.Select(r => new ReferenceEntry($"`{r}`", $"`house.style {r}: NAME` names the style of the house for it"))]),
        new("variable of the environment", "Variables of the environment", "command", OutsideWords.Variables),
        new("exit code", "Exit codes", "command", OutsideWords.ExitCodes),
    ];

    private static ReferenceEntry WithRoles(ReferenceEntry entry)
    {
        var key = entry.Forms[0];
        var roles = Enum.GetValues<StepRole>().Where(r => StepRoles.KeysOf(r).Contains(key) || StepRoles.KeysOf(r, isScript: true).Contains(key)).ToArray();
        var ofScripts = roles.All(r => !StepRoles.KeysOf(r).Contains(key));
        return entry with { Text = $"{entry.Text} ({(ofScripts ? "steps that run a program" : string.Join(", ", roles.Select(r => $"`{r.ToString().ToLowerInvariant()}`")))})" };
    }

    private static ReferenceEntry WithSample(ReferenceEntry entry) => entry with
    {
        Text = $"{entry.Text}; {string.Join(", ", entry.Forms.Select(f => (Form: f, Sample: Samples[f.Split(' ')[0]])).Select(f => $"`{{{f.Sample.Shown}:{f.Form}}}` is {ValueFormatter.Format(f.Sample.Value, f.Form, Language.Default)}"))}",
    };
}
