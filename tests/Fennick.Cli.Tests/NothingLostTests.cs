using System.Globalization;
using System.IO.Compression;
using System.Text;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>Files that people have made or worked on are there afterwards, whatever is written.</summary>
public sealed class NothingLostTests : IDisposable
{
    private const string Fence = "```";
    private const string Unit = Fence + "manuscript\nparameter apiary (text):\n" + Fence + "\n\n";
    private readonly TestFolder folder = new();

    public void Dispose()
    {
        foreach (var path in Directory.GetDirectories(folder.Path)) File.SetUnixFileMode(path, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
        folder.Dispose();
    }

    private CommandResult Run(params string[] arguments) => FennickCommand.Run(folder.Path, arguments);

    private static string Kept(string name) => $"{name} (kept {DateTime.Now.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)}).docx";

    /// <summary>A document that somebody has typed a word into.</summary>
    private static void Edit(string path)
    {
        using var package = ZipFile.Open(path, ZipArchiveMode.Update);
        var part = package.GetEntry("word/document.xml")!;
        string text;
        using (var reader = new StreamReader(part.Open())) text = reader.ReadToEnd();
        part.Delete();
        using var writer = new StreamWriter(package.CreateEntry("word/document.xml").Open(), new UTF8Encoding(false));
        writer.Write(text.Replace("</w:t>", " by hand</w:t>", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("")]
    [InlineData("letter.docx")]
    [InlineData("other/../letter.docx")]
    [InlineData("link.docx")]
    [InlineData("hard.docx")]
    [InlineData("LETTER.docx")]
    [InlineData("folderlink/letter.docx")]
    public void A_report_is_not_written_over_its_house(string output)
    {
        new HouseBuilder("<w:p/>").Save(folder.File("letter.docx"));
        var before = File.ReadAllBytes(folder.File("letter.docx"));
        Directory.CreateDirectory(folder.File("other"));
        File.CreateSymbolicLink(folder.File("link.docx"), "letter.docx");
        File.CreateSymbolicLink(folder.File("folderlink"), ".");
        Command.Run("ln", ["letter.docx", "hard.docx"], folder.Path);
        folder.Write("letter.ms.md", $"{Fence}manuscript\nhouse: letter.docx\n{Fence}\n\n{Fence}csharp prepare\nFile.WriteAllText(\"ran\", \"\");\n{Fence}\n\nText.\n");
        var result = output.Length == 0 ? Run("write", "letter.ms.md") : Run("write", "letter.ms.md", "--out", output);
        Assert.Equal(1, result.ExitCode);
        Assert.Contains("the report would be written over", result.Errors, StringComparison.Ordinal);
        Assert.Equal(before, File.ReadAllBytes(folder.File("letter.docx")));
        Assert.False(File.Exists(folder.File("ran")));
    }

    [Theory]
    [InlineData("house: {name}.docx\nparameter name (text): letter", "", "letter.docx")]
    [InlineData("bibliography: sources.bib", "Text {cite a}.", "sources.docx")]
    [InlineData("data: numbers.docx", "Text.", "numbers.docx")]
    [InlineData("house.logo: logo.docx", "Text.", "logo.docx")]
    [InlineData("title: x", "![A picture](logo.docx)", "logo.docx")]
    [InlineData("title: x", "{include part.docx}", "part.docx")]
    public void Nor_over_anything_else_that_its_text_names(string setting, string text, string input)
    {
        new HouseBuilder("<w:p/>").Save(folder.File("letter.docx"));
        File.Copy(Repository.PathOf("examples", "survey", "pictures", "valleys.png"), folder.File("logo.docx"));
        File.CreateSymbolicLink(folder.File("sources.docx"), "sources.bib");
        folder.Write("sources.bib", "@book{a, title = {Bees}, author = {Ann Ash}, year = {2020}}");
        folder.Write("numbers.docx", "1");
        folder.Write("part.docx", "A part.");
        folder.Write("report.ms.md", $"{Fence}manuscript\n{setting}\n{Fence}\n\n{Fence}csharp prepare\nFile.WriteAllText(\"ran\", \"\");\n{Fence}\n\n{text}\n");
        var before = File.ReadAllBytes(folder.File(input));
        var result = Run("write", "report.ms.md", "--out", input);
        Assert.Equal(1, result.ExitCode);
        Assert.Contains("the report would be written over", result.Errors, StringComparison.Ordinal);
        Assert.Equal(before, File.ReadAllBytes(folder.File(input)));
        Assert.False(File.Exists(folder.File("ran")));
    }

    [Fact]
    public void Nor_over_what_a_step_has_read()
    {
        folder.Write("numbers.csv", "x\n1\n2\n");
        File.CreateSymbolicLink(folder.File("report.docx"), "numbers.csv");
        folder.Write("report.ms.md", $"{Fence}csharp prepare\nvar rows = Csv.Read<Row>(\"numbers.csv\");\nrecord Row(int X);\n{Fence}\n\n{{rows.Count}}\n");
        var result = Run("write", "report.ms.md");
        Assert.Equal(1, result.ExitCode);
        Assert.Contains("numbers.csv, a file that it is made from", result.Errors, StringComparison.Ordinal);
        Assert.Equal("x\n1\n2\n", File.ReadAllText(folder.File("numbers.csv")));
    }

    [Fact]
    public void A_batch_writes_over_neither_its_roster_nor_its_house()
    {
        Directory.CreateDirectory(folder.File("reports"));
        folder.Write("reports/index.csv", "apiary\nAlder\n");
        folder.Write("unit.ms.md", Unit + "{apiary}\n");
        var list = Run("batch", "unit.ms.md", "--roster", "reports/index.csv", "--into", "reports");
        Assert.Equal(1, list.ExitCode);
        Assert.Contains("the batch would write its list of documents over this file", list.Errors, StringComparison.Ordinal);
        Assert.Equal("apiary\nAlder\n", File.ReadAllText(folder.File("reports/index.csv")));
        var house = File.ReadAllBytes(new HouseBuilder("<w:p/>").Save(folder.File("Alder.docx")));
        folder.Write("unit.ms.md", Unit.Replace("text):\n", "text):\nhouse: {apiary}.docx\n", StringComparison.Ordinal) + "{apiary}\n");
        var result = Run("batch", "unit.ms.md", "--roster", "reports/index.csv", "--into", ".");
        Assert.Equal(1, result.ExitCode);
        Assert.Contains("the report would be written over", result.Errors, StringComparison.Ordinal);
        Assert.Equal(house, File.ReadAllBytes(folder.File("Alder.docx")));
        folder.Write("roster.csv", "apiary\nAlder\n");
        Assert.Contains("the report would be written over", Run("batch", "unit.ms.md", "--roster", "roster.csv", "--bind", "Alder.docx").Errors, StringComparison.Ordinal);
        Assert.Equal(house, File.ReadAllBytes(folder.File("Alder.docx")));
    }

    [Fact]
    public void A_document_that_people_edited_is_kept_and_said()
    {
        folder.Write("small.ms.md", "One.\n");
        Assert.Equal(0, Run("write", "small.ms.md").ExitCode);
        // As it was made: nobody loses anything.
        Assert.DoesNotContain("kept", Run("write", "small.ms.md").Errors, StringComparison.Ordinal);
        Edit(folder.File("small.docx"));
        var edited = File.ReadAllBytes(folder.File("small.docx"));
        var result = Run("write", "small.ms.md");
        Assert.Equal(0, result.ExitCode);
        Assert.Contains($"is kept as {folder.File(Kept("small"))}", result.Errors, StringComparison.Ordinal);
        Assert.Equal(edited, File.ReadAllBytes(folder.File(Kept("small"))));
        Assert.Equal(["One. by hand"], WordClean.Check(folder.File("small.docx"), inForeignHouse: true).Paragraphs);
        // Anew it is as the manuscript says.
        Assert.Equal(0, Run("write", "small.ms.md", "--anew").ExitCode);
        Assert.Equal(["One."], WordClean.Check(folder.File("small.docx")).Paragraphs);
        // What is not a report at all is somebody's too, and a second one gets a name of its own.
        File.WriteAllText(folder.File("small.docx"), "a shopping list");
        Run("write", "small.ms.md");
        Assert.Equal("a shopping list", File.ReadAllText(folder.File(Kept("small")[..^".docx".Length][..^1] + " 3).docx")));
    }

    [Fact]
    public void Who_may_do_what_with_a_document_stays_and_a_protected_one_is_replaced_only_by_force()
    {
        folder.Write("small.ms.md", "One.\n");
        Run("write", "small.ms.md");
        const UnixFileMode Private = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.GroupRead;
        File.SetUnixFileMode(folder.File("small.docx"), Private);
        Run("write", "small.ms.md");
        Assert.Equal(Private, File.GetUnixFileMode(folder.File("small.docx")));
        File.SetUnixFileMode(folder.File("small.docx"), UnixFileMode.UserRead);
        folder.Write("small.ms.md", $"{Fence}csharp prepare\nFile.WriteAllText(\"ran\", \"\");\n{Fence}\n\nTwo.\n");
        var before = File.ReadAllBytes(folder.File("small.docx"));
        var refused = Run("write", "small.ms.md");
        Assert.Equal(1, refused.ExitCode);
        Assert.Contains("the document there is protected against writing", refused.Errors, StringComparison.Ordinal);
        Assert.Equal(before, File.ReadAllBytes(folder.File("small.docx")));
        Assert.False(File.Exists(folder.File("ran")));
        Assert.Equal(0, Run("write", "small.ms.md", "--force").ExitCode);
        Assert.Equal(UnixFileMode.UserRead, File.GetUnixFileMode(folder.File("small.docx")));
        Assert.Equal(["Two."], WordClean.Check(folder.File("small.docx")).Paragraphs);
        folder.Write("roster.csv", "apiary\nsmall\nlarge\n");
        folder.Write("unit.ms.md", Unit + "{apiary}\n");
        Assert.Contains("protected against writing", Run("batch", "unit.ms.md", "--roster", "roster.csv", "--into", ".").Errors, StringComparison.Ordinal);
        Assert.False(File.Exists(folder.File("large.docx")));
        Assert.Equal(0, Run("batch", "unit.ms.md", "--roster", "roster.csv", "--into", ".", "--force").ExitCode);
    }

    [Theory]
    [InlineData("write", "house: pipe.docx", "Text.")]
    [InlineData("write", "house: /dev/zero", "Text.")]
    [InlineData("write", "", "![A picture](pipe)")]
    [InlineData("write", "", Fence + "csharp prepare\nvar rows = Csv.Read<R>(\"pipe\");\nrecord R(int A);\n" + Fence)]
    [InlineData("write letter.ms.md --out pipe.docx", "", "Text.")]
    [InlineData("batch letter.ms.md --roster pipe --name x --into made", "", "Text.")]
    [InlineData("house check pipe.docx", "", "Text.")]
    [InlineData("check pipe.ms.md", "", "Text.")]
    public void Pipes_and_devices_are_neither_waited_for_nor_read_without_end(string command, string setting, string text)
    {
        foreach (var name in new[] { "pipe", "pipe.docx", "pipe.ms.md" }) Command.Run("mkfifo", [name], folder.Path);
        folder.Write("letter.ms.md", $"{Fence}manuscript\ntitle: Letter\n{setting}\n{Fence}\n\n{text}\n");
        var result = Run(command == "write" ? ["write", "letter.ms.md"] : command.Split(' '));
        Assert.Equal(1, result.ExitCode);
        Assert.Contains("is a pipe or a device, not a file", result.Errors, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("--out circle.docx", "its link leads in a circle")]
    [InlineData("--out circle.docx/x.docx", "there is a file of this name already")]
    [InlineData("--out letter.ms.md/x.docx", "there is a file of this name already")]
    public void What_the_system_says_against_a_place_is_told_in_words(string options, string words)
    {
        File.CreateSymbolicLink(folder.File("circle.docx"), "circle.docx");
        folder.Write("letter.ms.md", "Text.\n");
        var result = Run(["write", "letter.ms.md", .. options.Split(' ')]);
        Assert.Equal(1, result.ExitCode);
        Assert.Contains(words, result.Errors, StringComparison.Ordinal);
        Assert.DoesNotContain("fault", result.Errors, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("> /dev/full", 1, "the result cannot be printed: the disk is full")]
    [InlineData(">&-", 1, "the result cannot be printed: permission denied")]
    [InlineData("2> /dev/full", 0, "letter.docx")]
    [InlineData("2>&-", 0, "letter.docx")]
    public void What_nobody_takes_that_is_said_ends_no_work(string redirection, int code, string words)
    {
        folder.Write("letter.ms.md", "Text.\n");
        var result = Command.Run("bash", ["-c", $"'{Path.Combine(FennickCommand.Folder, "Fennick.Cli")}' write letter.ms.md {redirection}"], folder.Path);
        Assert.Equal(code, result.ExitCode);
        Assert.Contains(words, result.Output + result.Errors, StringComparison.Ordinal);
        Assert.True(File.Exists(folder.File("letter.docx")));
    }

    [Fact]
    public void A_process_that_knows_no_languages_says_so()
    {
        folder.Write("letter.ms.md", "Text.\n");
        var result = Command.Run(Path.Combine(FennickCommand.Folder, "Fennick.Cli"), ["write", "letter.ms.md"], folder.Path, new Dictionary<string, string> { ["DOTNET_SYSTEM_GLOBALIZATION_INVARIANT"] = "1" });
        Assert.Equal(1, result.ExitCode);
        Assert.Contains("this process knows no languages", result.Errors, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("--jobs x", "`x` is not a number of jobs")]
    [InlineData("--jobs 99999999999", "`99999999999` is not a number of jobs")]
    [InlineData("--first 0", "`0` is not a number of units")]
    [InlineData("--jobs", "Required argument missing for option: '--jobs'")]
    [InlineData("--time-limit 0s", "`0s` is not a time")]
    [InlineData("--memory-limit 1", "`1` is not a size")]
    [InlineData("--only some", "'some'")]
    public void A_call_that_is_wrong_is_told_in_words(string options, string words)
    {
        folder.Write("letter.ms.md", "Text.\n");
        var result = Run(["batch", "letter.ms.md", "--roster", "units.csv", "--into", "made", .. options.Split(' ')]);
        Assert.Equal(2, result.ExitCode);
        Assert.Contains(words, result.Errors, StringComparison.Ordinal);
        Assert.Contains("See `fennick batch --help`.", result.Errors, StringComparison.Ordinal);
        Assert.DoesNotContain("   at ", result.Errors, StringComparison.Ordinal);
    }

    [Fact]
    public void The_demo_leaves_files_that_people_changed()
    {
        Assert.Equal(0, Run("demo", "--into", "demo").ExitCode);
        var manuscript = Directory.GetFiles(folder.File("demo"), "*.ms.md").Order(StringComparer.Ordinal).First();
        File.AppendAllText(manuscript, "\nAdded by hand.\n");
        var changed = File.ReadAllText(manuscript);
        var again = Run("demo", "--into", "demo");
        Assert.Contains($"{manuscript} is there already and was changed; it is left as it is", again.Errors, StringComparison.Ordinal);
        Assert.Equal(changed, File.ReadAllText(manuscript));
        Assert.Equal(1, Run("new", "demo").ExitCode);
    }

    [Fact]
    public void What_a_killed_process_left_is_cleared_and_nothing_that_is_being_written()
    {
        folder.Write("small.ms.md", "One.\n");
        var left = folder.Write($".small.docx.{Guid.NewGuid():N}.part", "half");
        var others = folder.Write($".large.docx.{Guid.NewGuid():N}.part", "half");
        var living = folder.Write($".small.docx.{Guid.NewGuid():N}.part", "half");
        using (new FileStream(living, FileMode.Open, FileAccess.Write, FileShare.None)) Assert.Equal(0, Run("write", "small.ms.md").ExitCode);
        Assert.Equal((false, true, true), (File.Exists(left), File.Exists(others), File.Exists(living)));
        folder.Write("roster.csv", "apiary\nAlder\n");
        folder.Write("unit.ms.md", Unit + "{apiary}\n");
        var index = folder.Write($"reports/.index.csv.{Guid.NewGuid():N}.part", "half");
        Assert.Equal(0, Run("batch", "unit.ms.md", "--roster", "roster.csv", "--into", "reports").ExitCode);
        Assert.False(File.Exists(index));
        Assert.Equal(["Alder.docx", "index.csv", "ledger.jsonl"], Directory.GetFileSystemEntries(folder.File("reports")).Select(Path.GetFileName).Order());
    }

    [Fact]
    public void Documents_whose_folder_vanishes_are_not_counted_as_made()
    {
        folder.Write("roster.csv", "apiary\nAlder\nBirch\nCedar\n");
        folder.Write("unit.ms.md", $"{Unit}{Fence}csharp prepare\nif (apiary == \"Birch\") Directory.Delete(\"reports\", recursive: true);\n{Fence}\n\n{{apiary}}\n");
        var result = Run("batch", "unit.ms.md", "--roster", "roster.csv", "--into", "reports", "--jobs", "1");
        Assert.Equal(3, result.ExitCode);
        Assert.Contains("3 failed", result.Errors, StringComparison.Ordinal);
        Assert.DoesNotContain(" made", result.Errors.Split('\n')[^3], StringComparison.Ordinal);
        Assert.Contains("the folder of the batch is no longer there", result.Errors, StringComparison.Ordinal);
        Assert.Contains("the document was made, but is no longer there", result.Errors, StringComparison.Ordinal);
    }

    [Fact]
    public void Cells_of_the_index_are_no_formulas()
    {
        folder.Write("roster.csv", "apiary\n\"=1+1\"\n+2\n-3\n@SUM(A1)\nAlder\n");
        folder.Write("unit.ms.md", $"{Unit}{Fence}csharp prepare\nif (apiary == \"Alder\") throw new Exception(\"=cmd\");\n{Fence}\n\n{{apiary}}\n");
        Run("batch", "unit.ms.md", "--roster", "roster.csv", "--into", "reports");
        var cells = File.ReadAllLines(folder.File("reports/index.csv")).Skip(1).SelectMany(l => l.Split(',')).Select(c => c.Trim('"')).ToArray();
        Assert.Contains("'=1+1", cells);
        Assert.Contains("'-3.docx", cells);
        Assert.DoesNotContain(cells, c => c.Length > 0 && "=+-@".Contains(c[0]));
    }

    [Theory]
    [InlineData("--out", "")]
    [InlineData("--out", " ")]
    public void A_name_that_is_no_name_is_told_in_words(string option, string value)
    {
        folder.Write("small.ms.md", "One.\n");
        var result = Run("write", "small.ms.md", option, value);
        Assert.Equal(1, result.ExitCode);
        Assert.Contains("error: the name of a file or folder is empty", result.Errors, StringComparison.Ordinal);
    }

    [Fact]
    public void Data_and_rosters_in_another_encoding_are_refused_or_read_as_the_setting_says()
    {
        File.WriteAllBytes(folder.File("roster.csv"), [.. "apiary\nCaf"u8, 0xE9, .. "\n"u8]);
        folder.Write("unit.ms.md", Unit + "{apiary} {Csv.Read<Row>(\"roster.csv\")[0].Apiary}\n\n" + $"{Fence}csharp prepare\nrecord Row(string Apiary);\n{Fence}\n");
        var refused = Run("batch", "unit.ms.md", "--roster", "roster.csv", "--into", "reports");
        Assert.Equal(1, refused.ExitCode);
        Assert.StartsWith("roster.csv:2:1: error: this line is not in UTF-8 (byte 11 of the file); it may be `windows-1252` (it reads `Caf\u00E9` then)", refused.Errors, StringComparison.Ordinal);
        var read = Run("batch", "unit.ms.md", "--roster", "roster.csv", "--into", "reports", "--with", "data.encoding=windows-1252");
        Assert.True(read.ExitCode == 0, read.Errors);
        Assert.Equal(["Caf\u00E9 Caf\u00E9"], WordClean.Check(folder.File("reports/Caf\u00E9.docx")).Paragraphs);
    }
}
