using System.IO.Compression;
using System.Text;
using Fennick.Charts;
using Fennick.Tables;
using Fennick.Testing;
using Fennick.Wordprocessing;
using Xunit;

namespace Fennick.Fuzzing;

/// <summary>What no report of ours should ever have is found before it is put in place.</summary>
public sealed class PackageCheckTests
{
    private static readonly Dictionary<string, byte[]> Sound = Parts();

    [Fact]
    public void A_sound_document_has_no_faults() => Assert.Empty(Faults(Sound));

    [Theory]
    [InlineData("word/document.xml", "</w:p>", "", "do not come out even")]
    [InlineData("word/document.xml", "<w:body>", "<w:body><w:p>", "do not come out even")]
    [InlineData("word/document.xml", "Words", "Wo\u0001rds", "a character that no document can")]
    [InlineData("word/document.xml", "Words", "Wo\uFFFErds", "a character that no document can")]
    [InlineData("word/document.xml", "Words", "Wo&rds", "an `&` that stands for nothing")]
    [InlineData("word/document.xml", "<w:bookmarkEnd ", "<w:bookmarkLost ", "starts and does not end")]
    [InlineData("word/document.xml", "w:name=\"table_two\"", "w:name=\"TABLE_one\"", "two bookmarks are called TABLE_one")]
    [InlineData("word/document.xml", "r:id=\"rIdChart1\"", "r:id=\"rIdLost\"", "names the relationship rIdLost")]
    [InlineData("word/document.xml", "<w:footnoteReference w:id=\"1\"", "<w:footnoteReference w:id=\"7\"", "the footnote 7 is referred to and not there")]
    [InlineData("word/_rels/document.xml.rels", "Target=\"charts/chart1.xml\"", "Target=\"charts/chart9.xml\"", "leads to word/charts/chart9.xml, which is not there")]
    [InlineData("word/_rels/document.xml.rels", "Id=\"rIdStyles\"", "Id=\"rIdTheme\"", "two relationships are called rIdTheme")]
    [InlineData("[Content_Types].xml", "/word/styles.xml", "/word/lost.xml", "it has a type and is not there")]
    [InlineData("[Content_Types].xml", "Extension=\"xlsx\"", "Extension=\"rels\"", "an ending has two types")]
    public void What_is_wrong_is_found(string part, string from, string to, string message)
    {
        var text = Encoding.UTF8.GetString(Sound[part]);
        var at = text.IndexOf(from, StringComparison.Ordinal);
        Assert.True(at >= 0, $"{part} holds no {from}");
        var faults = Faults(new Dictionary<string, byte[]>(Sound) { [part] = Encoding.UTF8.GetBytes($"{text[..at]}{to}{text[(at + from.Length)..]}") });
        Assert.Contains(faults, f => f.Contains(message, StringComparison.Ordinal));
    }

    [Fact]
    public void Bytes_that_are_no_text_are_found() => Assert.Contains(Faults(new(Sound) { ["word/document.xml"] = [.. Sound["word/document.xml"], 0xC3] }), f => f.Contains("not UTF-8", StringComparison.Ordinal));

    [Fact]
    public void A_part_that_is_lost_or_comes_twice_is_found()
    {
        var lost = new Dictionary<string, byte[]>(Sound);
        lost.Remove("word/footnotes.xml");
        Assert.Contains(Faults(lost), f => f.Contains("leads to word/footnotes.xml", StringComparison.Ordinal));
        var check = new PackageCheck();
        check.Add("word/styles.xml");
        check.Add("word/Styles.xml");
        Assert.Contains(check.Faults, f => f.Contains("it is there twice", StringComparison.Ordinal));
    }

    /// <summary>In pieces, as long texts come, nothing else is found than in one.</summary>
    [Fact]
    public void Pieces_are_the_same_as_the_whole()
    {
        var (check, document) = (new PackageCheck(), Sound["word/document.xml"]);
        AddAll(check, Sound.Where(p => p.Key != "word/document.xml"));
        check.Begin("word/document.xml");
        var half = Encoding.UTF8.GetString(document).IndexOf("<w:tbl>", StringComparison.Ordinal);
        check.Read(document.AsSpan(0, half));
        check.Read(document.AsSpan(half));
        check.End();
        check.Finish();
        Assert.Empty(check.Faults);
    }

    private static List<string> Faults(Dictionary<string, byte[]> parts)
    {
        var check = new PackageCheck();
        AddAll(check, parts);
        check.Finish();
        return check.Faults;
    }

    private static void AddAll(PackageCheck check, IEnumerable<KeyValuePair<string, byte[]>> parts)
    {
        foreach (var (name, bytes) in parts)
        {
            if (name.EndsWith(".xlsx", StringComparison.Ordinal)) check.Add(name);
            else check.Add(name, bytes);
        }
    }

    private static Dictionary<string, byte[]> Parts()
    {
        using var folder = new TestFolder();
        new Report("A title").Text("Words, and a note.[^a]\n\n[^a]: The note.")
            .Add(Table.WithHeads("a", "b").Row("x", 1), label: "one", caption: "A table").Text("More.").Add(Table.WithHeads("a", "b").Row("x", 1), label: "two", caption: "A table")
            .Add(Chart.Columns([1, 2], v => $"c{v}", v => v), caption: "A figure").Text("[Here](https://survey.larkmere.example/), see {see one} and {see two}.").Save(folder.File("report.docx"));
        using var zip = ZipFile.OpenRead(folder.File("report.docx"));
        return zip.Entries.ToDictionary(e => e.FullName, e =>
        {
            using var stream = e.Open();
            using var copy = new MemoryStream();
            stream.CopyTo(copy);
            return copy.ToArray();
        });
    }
}
