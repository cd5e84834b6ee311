using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

public sealed class HouseCommandTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public void The_list_shows_Fennicks_own_houses()
    {
        var result = FennickCommand.Run(folder.Path, "house", "list");
        Assert.Equal(0, result.ExitCode);
        Assert.Equal(["house", "─────", "tansy", "flint", "heron"], result.Output.TrimEnd().Split('\n').Select(l => l.Split(' ')[0]));
        Assert.Contains("21 × 29.7 cm, text 12.4 cm wide", result.Output, StringComparison.Ordinal);
    }

    [Fact]
    public void A_new_house_can_be_checked_and_worn_and_is_never_overwritten()
    {
        var made = FennickCommand.Run(folder.Path, "house", "new", "flint", "ours.docx");
        Assert.Equal((0, folder.File("ours.docx") + "\n"), (made.ExitCode, made.Output));
        WordClean.Check(folder.File("ours.docx"));
        var again = FennickCommand.Run(folder.Path, "house", "new", "heron", "ours.docx");
        Assert.Equal(1, again.ExitCode);
        Assert.StartsWith("ours.docx:1:1: error: there is such a file already", again.Errors, StringComparison.Ordinal);
        Assert.Contains("`fint` is not one of Fennick's own houses", FennickCommand.Run(folder.Path, "house", "new", "fint", "other.docx").Errors, StringComparison.Ordinal);

        var check = FennickCommand.Run(folder.Path, "check", "ours.docx");
        Assert.True(check.ExitCode == 0, check.Errors);
        Assert.Matches("heading 1 +heading 1 +by its name +Arial, 15 pt, bold", check.Output);
        Assert.Contains("slots     title, subtitle, author, date, body, title (footer)", check.Output, StringComparison.Ordinal);
        Assert.EndsWith($"a specimen of every style: {folder.File("ours.specimen.docx")}\n", check.Output, StringComparison.Ordinal);
        Assert.Equal("A specimen of every style", WordClean.Check(folder.File("ours.specimen.docx")).Paragraphs[0]);
    }

    [Fact]
    public void A_check_of_somebodys_house_tells_what_is_found_and_what_is_made()
    {
        var check = FennickCommand.Run(folder.Path, "house", "check", Repository.PathOf("examples", "survey", "house", "larkmere.docx"), "--specimen", "specimen.docx");
        Assert.True(check.ExitCode == 0, check.Errors);
        Assert.Matches("title +Title +by its name +Calibri, 34 pt, bold, #FFFFFF", check.Output);
        Assert.Contains("made      heading 4, heading 5, heading 6, list number, list continue, quotation,", check.Output, StringComparison.Ordinal);
        Assert.Contains("contents  kept; the report stands in the slot `body`", check.Output, StringComparison.Ordinal);
        Assert.Contains("cover (picture), logo (picture)", check.Output, StringComparison.Ordinal);
        var specimen = WordClean.Check(folder.File("specimen.docx"), inForeignHouse: true);
        Assert.Equal(4, specimen.Tables.Count);

        folder.Write("letter.docx", "Dear all");
        var wrong = FennickCommand.Run(folder.Path, "house", "check", "letter.docx");
        Assert.Equal(1, wrong.ExitCode);
        Assert.Equal("letter.docx:1:1: error: the file is not a word-processor document; name a `.docx` or `.dotx` file\n", wrong.Errors);
    }
}
