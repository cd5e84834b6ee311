using System.CommandLine;
using System.Diagnostics;
using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Houses;

namespace Fennick.Cli;

/// <summary><c>fennick house list</c>, <c>fennick house new NAME FILE</c> and <c>fennick house check FILE [--specimen FILE]</c>.</summary>
internal static class HouseCommand
{
    public static Command Create() => new("house", "Lists, makes and checks houses: what reports wear.") { CreateList(), CreateNew(), CreateCheck() };

    /// <summary>What Fennick finds in a house, as tables; and a specimen of all its styles.</summary>
    public static int Check(string name, string? specimen) => Terminal.Telling(() =>
    {
        var watch = Stopwatch.StartNew();
        var house = House.Find(name);
        var findings = house.Examine();
        foreach (var diagnostic in findings.Diagnostics) Terminal.Say(diagnostic);
        Show(findings);
        var path = Path.GetFullPath(specimen ?? (File.Exists(name) ? Path.ChangeExtension(name, ".specimen.docx") : $"{house.Name}.specimen.docx"));
        foreach (var diagnostic in house.Specimen().Save(path).Except(findings.Diagnostics)) Terminal.Say(diagnostic);
        Terminal.Result($"\na specimen of every style: {path}");
        Terminal.Say($"checked in {Terminal.Describe(watch.Elapsed)}");
    });

    private static Command CreateList()
    {
        var command = new Command("list", "Lists Fennick's own houses.");
        command.SetAction(_ =>
        {
            Terminal.Table(["house", "text", "headings", "page", "rulings"], House.All.Select(house =>
            {
                var findings = house.Examine();
                return new[] { house.Name, FamilyOf(findings, "body"), FamilyOf(findings, "heading 1"), Page(findings), string.Join(", ", findings.Rulings) };
            }));
            return ExitCodes.Done;
        });
        return command;
    }

    private static Command CreateNew()
    {
        var name = new Argument<string>("name") { Description = $"One of Fennick's own houses: {string.Join(", ", House.All.Select(h => h.Name))}." };
        var file = new Argument<string>("file") { Description = "The file to write. Its name ends in .docx." };
        var command = new Command("new", "Writes one of Fennick's own houses as a file to edit in a word processor.") { name, file };
        command.SetAction(call => New(call.GetRequiredValue(name), call.GetRequiredValue(file)));
        return command;
    }

    private static Command CreateCheck()
    {
        var file = new Argument<string>("file") { Description = "A .docx or .dotx file, or the name of one of Fennick's own houses." };
        var specimen = new Option<string?>("--specimen") { Description = "The file for the specimen of all styles (default: beside the house).", HelpName = "FILE" };
        var command = new Command("check", "Shows what is found in a house, and writes a specimen of all its styles.") { file, specimen };
        command.SetAction(call => Check(call.GetRequiredValue(file), call.GetValue(specimen)));
        return command;
    }

    private static int New(string name, string file) => Terminal.Telling(() =>
    {
        if (House.All.FirstOrDefault(h => string.Equals(h.Name, name, StringComparison.OrdinalIgnoreCase)) is not { } house)
            throw new ReportException(Diagnostic.Error(null, $"`{name}` is not one of Fennick's own houses", $"they are {string.Join(", ", House.All.Select(h => $"`{h.Name}`"))}"));
        if (!file.EndsWith(".docx", StringComparison.OrdinalIgnoreCase)) throw new ReportException(Diagnostic.Error(new SourcePlace(file, 0, 0), "a house's name ends in `.docx`", $"write `{file}.docx`"));
        // Somebody may have worked on it.
        if (File.Exists(file)) throw new ReportException(Diagnostic.Error(new SourcePlace(file, 0, 0), "there is such a file already", "name a new one, or move this one away"));
        house.SaveAsFile(file);
        Terminal.Result(Path.GetFullPath(file));
        Terminal.Say($"edit its styles, page and header in a word processor; a manuscript wears it by `house: {Path.GetFileName(file)}`");
    });

    private static void Show(HouseFindings findings)
    {
        var (made, found) = (findings.Roles.Where(r => r.Origin == "made").Select(r => r.Role).ToArray(), findings.Roles.Where(r => r.Origin != "made").ToArray());
        Terminal.Table(["role", "style", "found", "look"], found.Select(r => new[] { r.Role, r.Style, r.Origin, r.Look }));
        Terminal.Result("");
        Terminal.Table(["", ""],
        [
            .. made.Length == 0 ? [] : Lines(made).Select((line, i) => new[] { i == 0 ? "made" : "", line }),
            ["page", Page(findings)],
            ["fonts", string.Join(", ", findings.Families.Select(f => f.IsKnown ? f.Family : $"{f.Family} (its widths are not known; tables are laid out by those of a similar one)"))],
            ["rulings", string.Join(", ", findings.Rulings)],
            ["slots", findings.Slots.IsEmpty ? "none" : string.Join(", ", findings.Slots.Select(s => s.Place == "text" ? s.Name : $"{s.Name} ({s.Place})"))],
            .. findings.Contents.Length == 0 ? [] : new string[][] { ["contents", findings.Contents] },
            ["margins", findings.Margins.IsEmpty ? "no header or footer of its own" : string.Join(", ", findings.Margins)],
        ]);
    }

    /// <summary>Words with commas, on lines that a terminal has room for.</summary>
    private static IEnumerable<string> Lines(string[] words)
    {
        const int widest = 100;
        var line = "";
        foreach (var word in words.SkipLast(1).Select(w => w + ", ").Append(words[^1]))
        {
            if (line.Length + word.Length > widest)
            {
                yield return line.TrimEnd();
                line = "";
            }
            line += word;
        }
        yield return line;
    }

    private static string FamilyOf(HouseFindings findings, string role) => findings.Roles.FirstOrDefault(r => r.Role == role)?.Look.Split(',')[0] ?? "";

    private static string Page(HouseFindings findings) => string.Create(CultureInfo.InvariantCulture, $"{findings.PageWidth.InCentimetres:0.#} × {findings.PageHeight.InCentimetres:0.#} cm, text {findings.TextWidth.InCentimetres:0.#} cm wide");
}
