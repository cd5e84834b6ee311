using System.Text.Json;
using System.Text.Json.Nodes;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>What editors get from <c>fennick serve</c>.</summary>
public sealed class ServeCommandTests : IDisposable
{
    private const string Settings = "```manuscript\ntitle: Hives\nparameter season: 2025\n```\n\n";
    private const string Steps = "```csharp prepare\nvar hives = new[] { new Hive(\"Alder\", 12.5), new Hive(\"Birch\", 9.25) };\nvar heaviest = hives.MaxBy(h => h.Kilograms)!;\nsealed record Hive(string Name, double Kilograms);\n```\n\n```csharp table honey\ncaption: Honey\n=>\nTable.Of(hives).Column(\"hive\", h => h.Name)\n```\n\n";
    private const string Text = Settings + Steps + "# Honey of the year\n\nThe hives gave {hives.Sum(h => h.Kilograms):0.0} kg in {season}; see {see honey}.\n";
    private readonly TestFolder folder = new();
    private readonly ServedEditor editor;
    private readonly string file;

    public ServeCommandTests()
    {
        file = folder.Write("m.ms.md", Text);
        editor = new ServedEditor(folder.Path);
    }

    public void Dispose()
    {
        editor.Dispose();
        folder.Dispose();
    }

    [Fact]
    public void Problems_are_told_as_one_types_and_are_gone_when_they_are_mended()
    {
        editor.Open(file, Text.Replace("hives.Sum", "hifes.Sum", StringComparison.Ordinal));
        Assert.Equal(["20:17-22 1 the name 'hifes' does not exist in the current context (CS0103); did you mean `hives`?"], editor.Problems(file, p => p.Length > 0));
        // The file on the disk is as it was.
        var remedy = Assert.Single(editor.Ask("textDocument/codeAction", new JsonObject { ["textDocument"] = new JsonObject { ["uri"] = ServedEditor.UriOf(file) }, ["range"] = Range(19, 16), ["context"] = new JsonObject { ["diagnostics"] = new JsonArray() } }).EnumerateArray());
        Assert.Equal("Write `hives`", remedy.GetProperty("title").GetString());
        Assert.Equal("hives", remedy.GetProperty("edit").GetProperty("changes").GetProperty(ServedEditor.UriOf(file))[0].GetProperty("newText").GetString());
        editor.Change(file, Text);
        Assert.Empty(editor.Problems(file, p => p.Length == 0));
        editor.Change(file, Text.Replace("{see honey}", "{see hony}", StringComparison.Ordinal).Replace("title:", "titel:", StringComparison.Ordinal));
        Assert.Equal(["2:1-6 1 `titel` is not a setting; did you mean `title`?"], editor.Problems(file, p => p.Length > 0));
        editor.Change(file, Text.Replace("{see honey}", "{see hony}", StringComparison.Ordinal));
        Assert.Equal(["20:70-80 1 there is no label `hony`; did you mean `honey`?"], editor.Problems(file, p => p is [['2', '0', ..]]));
        Assert.Equal(0, editor.End());
    }

    [Fact]
    public void Names_members_labels_settings_and_formats_are_proposed()
    {
        editor.Open(file, Text);
        Assert.True(editor.Capabilities.GetProperty("hoverProvider").GetBoolean());
        // Members, of a type of the manuscript itself; also where the brace has no end yet.
        Assert.Equal(["Kilograms", "Name"], editor.Proposals(file, Text + "\nIt is {heaviest.|}.\n").Where(p => p is "Kilograms" or "Name" or "Missing").Order());
        Assert.Contains("Kilograms", editor.Proposals(file, Text + "\nIt is {heaviest.Ki|\n"));
        Assert.Equal(["MaxBy"], editor.Proposals(file, Text + "\nIt is {hives.MaxB|}.\n"));
        Assert.Contains("Kilograms", editor.Proposals(file, Text.Replace("hives.MaxBy(h => h.Kilograms)", "hives.MaxBy(h => h.|)", StringComparison.Ordinal)));
        // Variables and directives.
        var names = editor.Proposals(file, Text + "\nIt is {h|}.\n");
        Assert.Contains("hives", names);
        Assert.Contains("heaviest", names);
        Assert.Contains("season", editor.Proposals(file, Text + "\nIt is {se|}.\n"));
        Assert.Contains("see", editor.Proposals(file, Text + "\nIt is {se|}.\n"));
        Assert.Contains("hives", editor.Proposals(file, Text + "\n{for each hive in hi|\n"));
        Assert.Contains("heaviest", editor.Proposals(file, Text + "\n{if he|}\n"));
        Assert.DoesNotContain("heaviest", editor.Proposals(file, Text.Replace("var hives = new", "var hives = he|new", StringComparison.Ordinal)));
        // Labels, also those of headings.
        Assert.Equal(["honey", "honey-of-the-year"], editor.Proposals(file, Text + "\nIt is in {see ho|}.\n").Order());
        Assert.Equal(["page"], editor.Proposals(file, Text + "\nIt is on {see honey: pa|}.\n"));
        // Formats, settings, heads, fences.
        Assert.Equal(["percent"], editor.Proposals(file, Text + "\nIt is {season:per|}.\n"));
        Assert.Contains("unit", editor.Proposals(file, Text + "\nIt is {season:number 1 | un|}.\n"));
        Assert.Equal(["title", "tables.ruling"], editor.Proposals(file, Text.Replace("title: Hives", "ti|", StringComparison.Ordinal)).Concat(editor.Proposals(file, Text.Replace("title: Hives", "tables.ru|", StringComparison.Ordinal))));
        Assert.Equal(["page", "pdf"], editor.Proposals(file, Text.Replace("title: Hives", "outputs: text, p|", StringComparison.Ordinal)));
        Assert.Equal(["note"], editor.Proposals(file, Text.Replace("caption: Honey", "no|", StringComparison.Ordinal)));
        Assert.Equal(["figure"], editor.Proposals(file, Text + "\n```csharp fi|\n"));
        // Nothing in plain text.
        Assert.Empty(editor.Proposals(file, Text + "\nIt is hi|.\n"));
    }

    [Fact]
    public void Every_value_that_is_proposed_for_a_setting_is_one()
    {
        editor.Open(file, Text);
        var keys = editor.Proposals(file, Text.Replace("title: Hives", "|", StringComparison.Ordinal));
        Assert.Contains("figures.native", keys);
        var found = 0;
        foreach (var key in keys)
        {
            foreach (var value in editor.Proposals(file, Text.Replace("title: Hives", key + ": |", StringComparison.Ordinal)))
            {
                Manuscripts.Manuscript.Open(file, new Dictionary<string, string> { [key] = value });
                found++;
            }
        }
        Assert.InRange(found, 50, 1000);
        // And every part of a reference, and every key of a head.
        foreach (var part in editor.Proposals(file, Text + "\nIt is on {see honey: |}.\n")) Manuscripts.Manuscript.Open(folder.Write("p.ms.md", Text + $"\nIt is on {{see honey: {part}}}.\n"));
        Assert.Contains("season", editor.Proposals(file, Text.Replace("caption: Honey", "caption: Honey of {sea|}", StringComparison.Ordinal)));
        Assert.Contains("season", editor.Proposals(file, Text.Replace("title: Hives", "title: Hives of {sea|", StringComparison.Ordinal)));
    }

    [Fact]
    public void What_is_proposed_replaces_what_is_typed()
    {
        editor.Open(file, Text);
        var item = editor.At("completion", file, Text + "\nIt is {heaviest.Ki|}.\n").GetProperty("items").EnumerateArray().Single(i => i.GetProperty("label").GetString() == "Kilograms");
        var (edit, start) = (item.GetProperty("textEdit"), item.GetProperty("textEdit").GetProperty("range").GetProperty("start"));
        Assert.Equal(("Kilograms", 21, 16), (edit.GetProperty("newText").GetString(), start.GetProperty("line").GetInt32(), start.GetProperty("character").GetInt32()));
        Assert.Equal("double Hive.Kilograms", item.GetProperty("detail").GetString());
    }

    [Fact]
    public void A_name_leads_to_where_it_is_declared()
    {
        editor.Open(file, Text);
        Assert.Equal((6, 4), Declared(Text.Replace("{hives.Sum", "{hi|ves.Sum", StringComparison.Ordinal)));
        Assert.Equal((8, 39), Declared(Text.Replace("h.Kilograms):0.0", "h.Kilo|grams):0.0", StringComparison.Ordinal)));
        Assert.Equal((8, 14), Declared(Text.Replace("new Hive(\"Alder\"", "new Hi|ve(\"Alder\"", StringComparison.Ordinal)));
        Assert.Equal((11, 16), Declared(Text.Replace("{see honey}", "{see hon|ey}", StringComparison.Ordinal)));
        Assert.Equal((2, 0), Declared(Text.Replace("{season}", "{sea|son}", StringComparison.Ordinal)));
        Assert.Equal(JsonValueKind.Null, editor.At("definition", file, Text.Replace("gave", "ga|ve", StringComparison.Ordinal)).ValueKind);

        (int, int) Declared(string marked)
        {
            var range = editor.At("definition", file, marked).GetProperty("range").GetProperty("start");
            return (range.GetProperty("line").GetInt32(), range.GetProperty("character").GetInt32());
        }
    }

    [Fact]
    public void A_value_is_explained_with_what_it_was_in_the_last_run()
    {
        editor.Open(file, Text);
        var marked = Text.Replace("{hives.Sum", "{hi|ves.Sum", StringComparison.Ordinal);
        Assert.Equal("```csharp\nHive[] hives\n```\n`hives.Sum(h => h.Kilograms)` is `double`\n\n", Hover(marked));
        Assert.Equal(0, FennickCommand.Run(folder.Path, "write", "m.ms.md").ExitCode);
        Assert.EndsWith("is `double`\n\nlast run: 21.8 (21.75)\n", Hover(marked), StringComparison.Ordinal);
        Assert.Equal("`honey`: table in m.ms.md:12", Hover(Text.Replace("{see honey}", "{see hon|ey}", StringComparison.Ordinal)).Replace(folder.Path + "/", "", StringComparison.Ordinal));
        WordClean.Check(folder.File("m.docx"));

        string Hover(string text) => editor.At("hover", file, text).GetProperty("contents").GetProperty("value").GetString()!;
    }

    [Fact]
    public void Parts_that_are_included_are_served_with_their_manuscript()
    {
        var main = folder.Write("main.ms.md", Settings + Steps + "{include parts/end.md}\n");
        var part = folder.Write("parts/end.md", "It is {heaviest.Name}.\n");
        editor.Open(main, File.ReadAllText(main));
        editor.Open(part, "It is {heaviest.Nam}.\n");
        Assert.Equal(["1:17-20 1 `Hive` has no member `Nam` (CS1061); did you mean `Name`?"], editor.Problems(part, p => p.Length > 0));
        Assert.Contains("Name", editor.Proposals(part, "It is {heaviest.|}.\n"));
        var declared = editor.At("definition", part, "It is {heavi|est.Name}.\n");
        Assert.Equal((ServedEditor.UriOf(main), 7), (declared.GetProperty("uri").GetString(), declared.GetProperty("range").GetProperty("start").GetProperty("line").GetInt32()));
        Assert.Empty(editor.Problems(part, p => p.Length == 0));
    }

    [Theory]
    [InlineData("{|")]
    [InlineData("{hives.Where(h => h.|")]
    [InlineData("{see |")]
    [InlineData("{hives.Sum(h => h.Kilograms|:0.0}")]
    [InlineData("```csharp figure\n|")]
    [InlineData("```csharp prepare\nvar x = hives.|\nvar y = 1;\n```\n")]
    [InlineData("```|")]
    [InlineData("\\{hi|")]
    [InlineData("{for each h in hives}\n\n{h.|}\n\n{end}\n")]
    [InlineData("|")]
    public void What_is_half_written_is_no_fault(string half)
    {
        editor.Open(file, Text);
        foreach (var method in new[] { "completion", "hover", "definition" }) editor.At(method, file, Text + "\n" + half);
        Assert.NotEmpty(editor.Proposals(file, Text + "\nIt is {hi|}.\n"));
    }

    private static JsonObject Range(int line, int character) => new() { ["start"] = new JsonObject { ["line"] = line, ["character"] = character }, ["end"] = new JsonObject { ["line"] = line, ["character"] = character } };
}
