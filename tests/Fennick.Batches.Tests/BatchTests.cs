using System.Security.Cryptography;
using System.Text.Json;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Testing;
using Xunit;
using static Fennick.Testing.Docx;

namespace Fennick.Batches.Tests;

/// <summary>What a batch makes, leaves, records and survives.</summary>
public sealed class BatchTests : IDisposable
{
    private const string Fence = "```";
    private const string Plain = "The hives of {apiary}: {hives}.";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private string Into => folder.File("out");

    private Batch Of(string text, string settings = "", string roster = "apiary,hives\nAlder Bank,16\nMill Orchard,17\nRook Wood,12\n") =>
        Batch.Of(Manuscript.Open(folder.Write("unit.ms.md", $"{Fence}manuscript\ntitle: {{apiary}}\nparameter apiary (text):\nparameter hives: 0\n{settings}\n{Fence}\n\n{text}")), Roster.Read(folder.Write("roster.csv", roster)));

    private static string Step(string code) => $"{Fence}csharp prepare\n{code}\n{Fence}\n\n{Plain}";

    private Docx Read(string unit) => WordClean.Check(Path.Combine(Into, unit + ".docx"));

    private JsonElement[] Ledger(string name = "ledger.jsonl") => [.. File.ReadAllLines(Path.Combine(Into, name)).Select(l => JsonDocument.Parse(l).RootElement)];

    private static string Of(BatchResult result) => $"{result.Count(UnitState.Made)} made, {result.Count(UnitState.Unchanged)} unchanged, {result.Count(UnitState.Failed)} failed";

    private static string HashOf(string path) => Convert.ToHexStringLower(SHA256.HashData(File.ReadAllBytes(path)));

    [Fact]
    public void Every_unit_has_its_document_and_the_ledger_says_what_made_it()
    {
        folder.Write("data.csv", "apiary,honey\nAlder Bank,20\n");
        var progress = new List<string>();
        var result = Of(Step("var rows = Csv.Read<Row>(\"data.csv\");\nConsole.WriteLine(\"read\");\nrecord Row(string Apiary, double Honey);")).Run(Into, p => progress.Add($"{p.Finished} of {p.Total}"));
        Assert.Equal(["1 of 3", "2 of 3", "3 of 3"], progress);
        Assert.Equal("3 made, 0 unchanged, 0 failed", Of(result));
        Assert.Equal(["Alder Bank", "Mill Orchard", "Rook Wood"], result.Outcomes.Select(o => o.Unit.Name));
        Assert.Equal(["Mill Orchard", "The hives of Mill Orchard: 17."], Read("Mill Orchard").Paragraphs.Take(2));
        var lines = Ledger();
        Assert.Equal("batch", lines[0].GetProperty("event").GetString());
        foreach (var unit in new[] { "Alder Bank.docx", "Mill Orchard.docx", "Rook Wood.docx" })
        {
            var told = lines.Where(l => l.TryGetProperty("unit", out var name) && name.GetString() == unit).ToArray();
            Assert.Equal(["begun", "placing", "done"], told.Select(l => l.GetProperty("event").GetString()));
            Assert.Equal(HashOf(Path.Combine(Into, unit)), told[2].GetProperty("output").GetString());
            Assert.Equal(unit[..^5], told[2].GetProperty("parameters").GetProperty("apiary").GetString());
            Assert.Equal(HashOf(folder.File("data.csv")), told[2].GetProperty("data").GetProperty("../data.csv").GetString());
            Assert.Equal(64, told[2].GetProperty("house").GetString()!.Length);
            Assert.EndsWith("read", told[2].GetProperty("wrote").GetString(), StringComparison.Ordinal);
        }
        Assert.Equal(["unit,file,state,warnings,seconds,message", "Alder Bank,Alder Bank.docx,made,0"], File.ReadAllLines(Path.Combine(Into, "index.csv")).Take(2).Select((l, i) => i == 0 ? l.Trim('\uFEFF') : string.Join(',', l.Split(',').Take(4))));
    }

    [Fact]
    public void Only_what_its_inputs_ask_for_is_made_again()
    {
        folder.Write("data.csv", "apiary,honey\nAlder Bank,20\n");
        var text = Step("var rows = Once(\"rows\", () => Csv.Read<Row>(\"data.csv\"));\nrecord Row(string Apiary, double Honey);");
        Of(text).Run(Into);
        Assert.Equal("0 made, 3 unchanged, 0 failed", Of(Of(text).Run(Into)));
        Assert.Equal("1 made, 2 unchanged, 0 failed", Of(Of(text, roster: "apiary,hives\nAlder Bank,16\nMill Orchard,18\nRook Wood,12\n").Run(Into)));
        Assert.Contains("The hives of Mill Orchard: 18.", Read("Mill Orchard").AllText, StringComparison.Ordinal);
        folder.Write("data.csv", "apiary,honey\nAlder Bank,21\n");
        Assert.Equal("3 made, 0 unchanged, 0 failed", Of(Of(text).Run(Into)));
        Assert.Equal("3 made, 0 unchanged, 0 failed", Of(Of(text + " More.").Run(Into)));
        File.Delete(Path.Combine(Into, "Rook Wood.docx"));
        Assert.Equal("1 made, 2 unchanged, 0 failed", Of(Of(text + " More.").Run(Into)));
        Assert.Equal("3 made, 0 unchanged, 0 failed", Of((Of(text + " More.") with { Only = BatchSelection.All }).Run(Into)));
        Assert.Equal("1 made, 0 unchanged, 0 failed", Of((Of(text, "house: flint") with { First = 1 }).Run(Into)));
        Assert.Equal("1 made, 0 unchanged, 0 failed", Of((Of(text) with { Where = new Dictionary<string, string> { ["hives"] = "17" } }).Run(Into)));
        Assert.Contains("no unit has `18` in `hives`; did you mean `16`?", Assert.Throws<ReportException>(() => (Of(text) with { Where = new Dictionary<string, string> { ["hives"] = "18" } }).Run(Into)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Data_that_change_while_a_unit_is_made_are_read_again_next_time()
    {
        var data = folder.Write("data.csv", "apiary,honey\nAlder Bank,20\n");
        var text = Step("var rows = Once(\"rows\", () => Csv.Read<Row>(\"data.csv\"));\nrecord Row(string Apiary, double Honey);");
        (Of(text) with { Jobs = 1 }).Run(Into, p =>
        {
            if (p.Finished == 1) File.WriteAllText(data, "apiary,honey\nAlder Bank,2000\n");
        });
        Assert.Equal("3 made, 0 unchanged, 0 failed", Of(Of(text).Run(Into)));
        Assert.Equal("0 made, 3 unchanged, 0 failed", Of(Of(text).Run(Into)));
        // A document of other inputs, put in place by a process that was killed before it could say so.
        var other = Of(text, roster: "apiary,hives\nAlder Bank,99\nMill Orchard,17\nRook Wood,12\n");
        other.Run(Into);
        var ledger = Path.Combine(Into, "ledger.jsonl");
        File.WriteAllLines(ledger, File.ReadAllLines(ledger).SkipLast(1));
        Assert.Equal("1 made, 2 unchanged, 0 failed", Of(Of(text).Run(Into)));
        Assert.Contains("The hives of Alder Bank: 16.", Read("Alder Bank").AllText, StringComparison.Ordinal);
        Assert.Empty(Directory.GetFiles(Into, "*kept*"));
    }

    [Fact]
    public void What_escapes_the_ledger_is_always_made_unless_the_settings_name_it()
    {
        var text = Step($"var notes = File.ReadAllText(\"{folder.Write("notes.txt", "some notes")}\");");
        Of(text).Run(Into);
        var again = Of(text).Run(Into);
        Assert.Equal("3 made, 0 unchanged, 0 failed", Of(again));
        Assert.Contains("nobody knows what `File.ReadAllText` reads", again.Diagnostics[0].Message, StringComparison.Ordinal);
        Of(text, "data: notes.txt").Run(Into);
        Assert.Equal("0 made, 3 unchanged, 0 failed", Of(Of(text, "data: notes.txt").Run(Into)));
        folder.Write("notes.txt", "other notes");
        Assert.Equal("3 made, 0 unchanged, 0 failed", Of(Of(text, "data: notes.txt").Run(Into)));
    }

    [Fact]
    public void A_unit_that_fails_is_recorded_and_left_out_and_its_old_document_stays()
    {
        Of(Plain).Run(Into);
        var before = HashOf(Path.Combine(Into, "Mill Orchard.docx"));
        var failing = Step("if (apiary.StartsWith('M')) throw new InvalidOperationException($\"no hives of {apiary}\");");
        var result = Of(failing).Run(Into);
        Assert.Equal("2 made, 0 unchanged, 1 failed", Of(result));
        Assert.Equal(before, HashOf(Path.Combine(Into, "Mill Orchard.docx")));
        Assert.Equal($"{folder.File("unit.ms.md")}:9:29: error: no hives of Mill Orchard (InvalidOperationException)", result.Outcomes[1].Error!.ToString());
        Assert.Equal(["Mill Orchard"], Assert.Single(result.Causes).Select(o => o.Unit.Name));
        var failed = Ledger().Last(l => l.GetProperty("event").GetString() == "failed");
        Assert.Equal("no hives of Mill Orchard (InvalidOperationException)", failed.GetProperty("error").GetString());
        Assert.EndsWith("unit.ms.md:9:29", failed.GetProperty("place").GetString(), StringComparison.Ordinal);
        Assert.Contains("Mill Orchard,Mill Orchard.docx,failed; the old document stays,0,", File.ReadAllText(Path.Combine(Into, "index.csv")), StringComparison.Ordinal);
        // The cause is mended, and only what failed is made.
        Assert.Equal("1 made, 0 unchanged, 0 failed", Of((Of(Plain) with { Only = BatchSelection.Failed }).Run(Into)));
        Assert.Equal("2 made, 1 unchanged, 0 failed", Of(Of(Plain).Run(Into)));
    }

    [Fact]
    public void A_document_that_somebody_has_changed_is_not_lost()
    {
        Of(Plain).Run(Into);
        var path = Path.Combine(Into, "Alder Bank.docx");
        File.Copy(Path.Combine(Into, "Rook Wood.docx"), path, overwrite: true);
        var edited = HashOf(path);
        var left = Of(Plain).Run(Into);
        Assert.Equal("0 made, 3 unchanged, 0 failed", Of(left));
        Assert.Contains("somebody has changed this document", left.Outcomes[0].Diagnostics.Single().Message, StringComparison.Ordinal);
        var made = Of(Plain + " More.").Run(Into);
        var kept = Assert.Single(Directory.GetFiles(Into, "Alder Bank (kept *).docx"));
        Assert.Equal(edited, HashOf(kept));
        Assert.Contains($"it is kept as {kept}", made.Outcomes[0].Diagnostics.Single().Suggestion, StringComparison.Ordinal);
        Assert.Contains("More.", Read("Alder Bank").AllText, StringComparison.Ordinal);
    }

    [Fact]
    public void A_torn_line_is_survived_and_another_version_is_refused()
    {
        Of(Plain).Run(Into);
        var path = Path.Combine(Into, "ledger.jsonl");
        var text = File.ReadAllText(path);
        // The last line, that of a unit that is done, is torn: nobody knows whether it is.
        File.WriteAllText(path, text[..^30]);
        var result = Of(Plain).Run(Into);
        Assert.Equal("1 made, 2 unchanged, 0 failed", Of(result));
        Assert.Contains("this ledger line cannot be read", Assert.Single(result.Diagnostics).Message, StringComparison.Ordinal);
        Assert.Empty(Directory.GetFiles(Into, "*kept*"));
        File.AppendAllText(path, "{\"ledger\":2,\"event\":\"batch\",\"at\":\"2026-11-23T20:00:00+00:00\"}\n");
        Assert.Contains("this ledger is of version 2; this Fennick reads version 1", Assert.Throws<ReportException>(() => Of(Plain).Run(Into)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_second_batch_into_the_folder_is_refused_and_one_that_cannot_be_written_too()
    {
        ReportException? second = null;
        Of(Plain).Run(Into, _ => second ??= Assert.Throws<ReportException>(() => Batch.Of(Roster.Of([new { A = "x" }]), _ => new Report("x")).Run(Into)));
        Assert.Contains("another batch is writing into this folder", second!.Message, StringComparison.Ordinal);
        Assert.Contains("the folder cannot be written", Assert.Throws<ReportException>(() => Of(Plain).Run(folder.Write("file", ""))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Whoever_watches_may_throw_and_the_index_lists_units_that_are_not_made_yet()
    {
        Assert.Equal("enough", Assert.Throws<InvalidOperationException>(() => Of(Plain).Run(Into, _ => throw new InvalidOperationException("enough"))).Message);
        (Of(Plain) with { First = 1 }).Run(Into);
        Assert.Contains("Rook Wood,,not made,0,,", File.ReadAllText(Path.Combine(Into, "index.csv")), StringComparison.Ordinal);
        File.Delete(Path.Combine(Into, "index.csv"));
        Directory.CreateDirectory(Path.Combine(Into, "index.csv"));
        Assert.Contains("the index cannot be written", Of(Plain).Run(Into).Diagnostics.Single().Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Stopping_leaves_the_rest_for_the_next_run()
    {
        using var stop = new CancellationTokenSource();
        var first = (Of(Plain) with { Jobs = 1 }).Run(Into, p => stop.Cancel(), stop.Token);
        Assert.Equal(("1 made, 0 unchanged, 0 failed", 2), (Of(first), first.Left));
        Assert.Equal("2 made, 1 unchanged, 0 failed", Of(Of(Plain).Run(Into)));
    }

    [Theory]
    [InlineData("while (apiary.StartsWith('M')) { }")]
    [InlineData("if (apiary.StartsWith('M')) System.Threading.Thread.Sleep(60_000);")]
    [InlineData("if (apiary.StartsWith('M')) try { System.Threading.Thread.Sleep(60_000); } catch { System.Threading.Thread.Sleep(60_000); }")]
    public void A_unit_that_takes_too_long_is_ended(string code)
    {
        var result = (Of(Step(code)) with { TimeLimit = TimeSpan.FromSeconds(2) }).Run(Into);
        Assert.Equal("2 made, 0 unchanged, 1 failed", Of(result));
        Assert.Equal("this unit took longer than 2 s", result.Outcomes[1].Error!.Message);
    }

    [Fact]
    public void What_is_shared_is_made_by_another_unit_when_the_one_that_makes_it_is_ended()
    {
        var code = "var x = Once(\"x\", () => { if (!File.Exists(Inputs.Declare(\"tried\"))) { File.WriteAllText(Inputs.Declare(\"tried\"), \"\"); while (true) { } } return 7; });";
        var result = (Of(Step(code).Replace("{hives}", "{x}", StringComparison.Ordinal)) with { TimeLimit = TimeSpan.FromSeconds(2), Jobs = 1 }).Run(Into);
        Assert.Equal("2 made, 0 unchanged, 1 failed", Of(result));
        Assert.Contains("The hives of Rook Wood: 7.", Read("Rook Wood").AllText, StringComparison.Ordinal);
    }

    [Fact]
    public void Batches_of_two_folders_run_at_once_in_one_process_each_with_its_own_data()
    {
        var before = Environment.CurrentDirectory;
        var roster = "unit\n" + string.Join('\n', Enumerable.Range(0, 40));
        var results = new[] { "north", "south" }.AsParallel().WithDegreeOfParallelism(2).Select(name =>
        {
            folder.Write($"{name}/data.csv", $"Name\n{name}\n");
            var manuscript = folder.Write($"{name}/unit.ms.md", $"{Fence}manuscript\nparameter unit: 0\n{Fence}\n\n{Fence}csharp prepare\nvar rows = Csv.Read<Row>(\"data.csv\");\nrecord Row(string Name);\n{Fence}\n\n{{rows[0].Name}} {{unit}}, {{Once(\"first\", () => Csv.Read<Row>(\"data.csv\")[0].Name)}}.\n");
            var batch = Batch.Of(Manuscript.Open(manuscript), Roster.Read(folder.Write($"{name}/roster.csv", roster))) with { InProcess = true, Jobs = 4 };
            return batch.Run(folder.File($"{name}/out"));
        }).ToArray();
        Assert.All(results, r => Assert.Equal(40, r.Count(UnitState.Made)));
        foreach (var name in (string[])["north", "south"])
            for (var i = 0; i < 40; i++) Assert.Equal($"{name} {i}, {name}.", Docx.Open(folder.File($"{name}/out/{i}.docx")).AllText);
        Assert.Equal(before, Environment.CurrentDirectory);
    }

    [Fact]
    public void A_step_that_changes_the_current_folder_is_found_out()
    {
        var before = Environment.CurrentDirectory;
        var result = (Of(Step("if (apiary.StartsWith('M')) Environment.CurrentDirectory = \"/\";")) with { Jobs = 1 }).Run(Into);
        Assert.Equal("2 made, 0 unchanged, 1 failed", Of(result));
        Assert.StartsWith("the current folder was changed while this unit was made", result.Outcomes[1].Error!.Message, StringComparison.Ordinal);
        Assert.Equal(before, Environment.CurrentDirectory);
    }

    [Fact]
    public void Culture_and_console_are_each_units_own_and_static_state_is_warned_of()
    {
        var text = Step("if (apiary.StartsWith('M')) CultureInfo.CurrentCulture = CultureInfo.GetCultureInfo(\"de-DE\");\nCounter.Count++;\nConsole.Write(apiary);\nclass Counter { public static int Count; public static readonly int Fixed = 1; public static string Name { get; } = \"\"; }");
        var result = (Of(text + " {$\"{1.5:0.0}\"}") with { Jobs = 4 }).Run(Into);
        Assert.Equal("3 made, 0 unchanged, 0 failed", Of(result));
        Assert.EndsWith("12. 1.5", Read("Rook Wood").AllText, StringComparison.Ordinal);
        Assert.Contains("`Count` is static and can change", Assert.Single(result.Diagnostics).Message, StringComparison.Ordinal);
        Assert.All(Ledger().Where(l => l.GetProperty("event").GetString() == "done"), l => Assert.EndsWith($": {l.GetProperty("parameters").GetProperty("apiary").GetString()}", l.GetProperty("wrote").GetString(), StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("var x = Once(\"x\", () => apiary.Length);", "is shared by all units, but its function uses variables from around it")]
    [InlineData("var n = 3; int F() => n; var x = Once(\"x\", F);", "is shared by all units, but its function uses variables from around it")]
    [InlineData("var x = Once(\"x\", () => 1); var y = Once(\"x\", () => \"a\");", "stands for values of two types, `Int32` and `String`")]
    [InlineData("var x = Once<int>(\"x\", () => throw new InvalidOperationException(\"no such data\"));", "no such data")]
    public void What_is_shared_must_belong_to_no_unit(string code, string message)
    {
        var result = Of(Step(code)).Run(Into);
        Assert.Equal("0 made, 0 unchanged, 3 failed", Of(result));
        Assert.Contains(message, Assert.Single(result.Causes).First().Error!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Shared_values_are_made_once_for_all_units()
    {
        folder.Write("data.csv", "apiary,honey\nAlder Bank,20\n");
        Of(Step("var data = Once(\"rows\", () => { File.AppendAllText(Inputs.Declare(\"log.txt\"), \"made\\n\"); return Csv.Read<Row>(\"data.csv\"); });\nrecord Row(string Apiary, double Honey);")).Run(Into);
        Assert.Equal("made\n", File.ReadAllText(folder.File("log.txt")));
        Assert.All(Ledger().Where(l => l.GetProperty("event").GetString() == "done"), l => Assert.True(l.GetProperty("data").TryGetProperty("../data.csv", out _)));
    }

    [Fact]
    public void Units_wear_the_house_and_the_livery_that_the_roster_gives_them()
    {
        var roster = "apiary,accent,look\nAlder Bank,#B4690E,tansy\nMill Orchard,#1F5C7A,flint\nRook Wood,,heron\n";
        var result = Of(Plain, "parameter accent: #4E6B1F\nparameter look: tansy\nhouse: {look}\nhouse.accent: {accent}", roster).Run(Into);
        Assert.Equal("3 made, 0 unchanged, 0 failed", Of(result));
        string Accent(string unit) => Read(unit).Xml("word/theme/theme1.xml").Descendants().First(e => e.Name.LocalName == "accent1").Descendants().First(e => e.Name.LocalName == "srgbClr").Attribute("val")!.Value;
        Assert.Equal(["B4690E", "1F5C7A", "4E6B1F"], new[] { "Alder Bank", "Mill Orchard", "Rook Wood" }.Select(Accent));
        Assert.Equal(3, Ledger().Where(l => l.TryGetProperty("house", out _)).Select(l => l.GetProperty("house").GetString()).Distinct().Count());
        var wrong = Assert.Throws<ReportException>(() => Of(Plain, "parameter look: tansy\nhouse: {look}", "apiary,look\nAlder Bank,tansy\nRook Wood,tanzy\n").Run(folder.File("wrong")));
        Assert.EndsWith("roster.csv:3:2: error: `tanzy` is not a house; did you mean `tansy`?", wrong.Message, StringComparison.Ordinal);
        Assert.Contains("`{lok}` is not a parameter of the manuscript; did you mean `look`?", Assert.Throws<ReportException>(() => Of(Plain, "parameter look: tansy\nhouse: {lok}")).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Parts_of_many_machines_make_each_unit_once_and_are_gathered()
    {
        var roster = "apiary,hives\n" + string.Concat(Enumerable.Range(1, 30).Select(i => $"Apiary {i},{i}\n"));
        var failing = Step("if (apiary == \"Apiary 7\") throw new InvalidOperationException(\"no data\");");
        for (var part = 1; part <= 3; part++) (Of(failing, roster: roster) with { Part = new RosterPart(part, 4) }).Run(part == 3 ? folder.File("elsewhere") : Into);
        var first = Gathering.Gather([Into, folder.File("elsewhere")]);
        Assert.Equal(30, first.Made + first.Missing.Length);
        Assert.Empty(first.Twice);
        var made = Directory.GetFiles(Into, "*.docx").Select(f => Path.GetFileNameWithoutExtension(f)!).ToHashSet();
        Assert.Equal(first.Made, made.Count);
        Assert.Equal("no data (InvalidOperationException)", first.Missing.SingleOrDefault(m => m.Unit == "Apiary 7.docx" && m.Error is not null).Error ?? "no data (InvalidOperationException)");
        // The last part comes later, and one unit once more.
        (Of(failing, roster: roster) with { Part = new RosterPart(4, 4) }).Run(Into);
        (Of(failing, roster: roster) with { Where = new Dictionary<string, string> { ["hives"] = "3" } }).Run(folder.File("again"));
        var all = Gathering.Gather([Into, folder.File("again")]);
        Assert.Equal(["Apiary 7.docx"], all.Missing.Select(m => m.Unit));
        Assert.Equal("no data (InvalidOperationException)", all.Missing[0].Error);
        Assert.Equal(["Apiary 3.docx"], all.Twice);
        Assert.Equal(["ledger.jsonl"], Directory.GetFiles(Into, "ledger*").Select(Path.GetFileName));
        Assert.Equal("0 made, 29 unchanged, 1 failed", Of(Of(failing, roster: roster).Run(Into)));
        Assert.Contains("there is no ledger of a batch", Assert.Throws<ReportException>(() => Gathering.Gather([folder.Path])).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void All_units_can_be_bound_into_one_document()
    {
        var text = """
            {contents}

            # Honey

            See {see table}, {see honey} and {see over}[^note], again[^note].

            {table table: Honey of {apiary}}
            | a | b |
            |---|---|
            | {see over} | {hives} |

            # Over {label over}

            > *{see table: number}*

            [^note]: A note on {apiary}.
            """;
        var batch = Of(text, roster: "valley,apiary,hives\nAlderwick,Alder Bank,16\nAlderwick,Mill Orchard,17\nBramble Down,Rook Wood,12\n") with { Name = "{valley}/{apiary}.docx" };
        var result = batch.Bind(Path.Combine(Into, "all.docx"), "valley");
        Assert.Equal("3 made, 0 unchanged, 0 failed", Of(result));
        Assert.Empty(result.Diagnostics);
        var docx = Read("all");
        Assert.Equal(["Alderwick", "Bramble Down"], docx.ParagraphsOf("Heading1"));
        Assert.Equal(["Alder Bank", "Mill Orchard", "Rook Wood"], docx.ParagraphsOf("Heading2"));
        Assert.Equal(6, docx.ParagraphsOf("Heading3").Count);
        Assert.Equal(["Table\u00A01. Honey of Alder Bank", "Table\u00A02. Honey of Mill Orchard", "Table\u00A03. Honey of Rook Wood"], docx.ParagraphsOf("Caption"));
        Assert.Contains("See Table\u00A02, Honey and Over", docx.AllText, StringComparison.Ordinal);
        Assert.Equal(["A note on Alder Bank.", "A note on Mill Orchard.", "A note on Rook Wood."], docx.Notes.Select(n => n.Trim()));
        Assert.Equal(3, docx.Body.Descendants(W + "pageBreakBefore").Count());
        Assert.Single(docx.Body.Descendants(W + "docPartGallery"));
        Assert.Single(Directory.GetFiles(Into, "*.docx", SearchOption.AllDirectories));
    }

    [Fact]
    public void A_function_makes_units_as_well()
    {
        var roster = Roster.Of([new { Apiary = "Alder Bank", Hives = 16 }, new { Apiary = "Rook Wood", Hives = 12 }]);
        var batch = Batch.Of(roster, unit => unit["hives"] == "12" ? throw new InvalidOperationException("too few hives") : new Report(unit["apiary"]!).Text($"{unit["hives"]} hives.")) with { Name = "{apiary}" };
        var result = batch.Run(Into);
        Assert.Equal("1 made, 0 unchanged, 1 failed", Of(result));
        Assert.Equal("too few hives (InvalidOperationException)", result.Outcomes[1].Error!.Message);
        Assert.Contains("16 hives.", Read("Alder Bank").AllText, StringComparison.Ordinal);
        Assert.Equal("0 made, 1 unchanged, 1 failed", Of(batch.Run(Into)));
    }

    [Fact]
    public void A_living_batch_refreshes_what_people_have_edited_and_makes_the_rest()
    {
        const string Text = "The hives of {apiary}: {hives}, and their honey is {honey}.";
        const string Roster = "apiary,hives,honey\nAlder Bank,16,20\nMill Orchard,17,21\nRook Wood,12,22\n";
        Of(Text, "parameter honey: 0", Roster).Run(Into);
        var edited = Path.Combine(Into, "Mill Orchard.docx");
        var document = new EditedDocument(File.ReadAllBytes(edited));
        document.Paragraphs.SelectMany(p => p.Elements(W + "r")).First(r => r.Value.Contains("The hives of", StringComparison.Ordinal)).Elements(W + "t").First().Value = "Our dear hives of ";
        document.Save(edited);
        var next = Roster.Replace("Mill Orchard,17,21", "Mill Orchard,17,31", StringComparison.Ordinal).Replace("Rook Wood,12,22", "Rook Wood,12,32", StringComparison.Ordinal);
        var result = Of(Text, "parameter honey: 0", next) with { Living = true } is var living ? living.Run(Into) : null!;
        Assert.Equal([UnitState.Unchanged, UnitState.Merged, UnitState.Made], result.Outcomes.Select(o => o.State));
        Assert.Contains("Our dear hives of Mill Orchard: 17, and their honey is 31.", Read("Mill Orchard").Paragraphs);
        Assert.Contains(result.Outcomes[1].Diagnostics, d => d.Message.Contains("people have edited the document, so it was refreshed", StringComparison.Ordinal));
        Assert.Equal("1 refreshed", Ledger().Last(l => l.TryGetProperty("merged", out _)).GetProperty("merged").GetString());
        Assert.Contains("Mill Orchard,Mill Orchard.docx,merged", File.ReadAllText(Path.Combine(Into, "index.csv")), StringComparison.Ordinal);
        Assert.Single(Directory.GetFiles(Into, "Mill Orchard (kept*"));
        // What was merged is theirs: it stays while nothing changes, and is merged again or kept when something does.
        Assert.Equal("0 made, 3 unchanged, 0 failed", Of((Of(Text, "parameter honey: 0", next) with { Living = true }).Run(Into)));
        result = (Of(Text, "parameter honey: 0", next.Replace(",31", ",41", StringComparison.Ordinal)) with { Living = true }).Run(Into);
        Assert.Contains("Our dear hives of Mill Orchard: 17, and their honey is 41.", Read("Mill Orchard").Paragraphs);
        result = Of(Text, "parameter honey: 0", next.Replace(",31", ",51", StringComparison.Ordinal)).Run(Into);
        Assert.Equal(UnitState.Made, result.Outcomes[1].State);
        Assert.Contains("The hives of Mill Orchard: 17, and their honey is 51.", Read("Mill Orchard").Paragraphs);
        Assert.Equal(3, Directory.GetFiles(Into, "Mill Orchard (kept*").Length);
    }
}
