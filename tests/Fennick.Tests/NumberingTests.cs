using Fennick.Diagnostics;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;

namespace Fennick.Tests;

public sealed class NumberingTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private static RecordTable<int> Small() => Table.Of([1]).Column("x", v => v);

    private Docx Save(Report report)
    {
        var path = folder.File("numbers.docx");
        report.Save(path);
        return WordClean.Check(path);
    }

    [Fact]
    public void Bookmarks_stay_short_and_differ_without_regard_to_case()
    {
        var stem = new string('a', 60);
        var labels = new[] { stem + "1", stem + "2", "Honey", "honey", "a-b", "a_b", "größe" };
        var report = new Report();
        foreach (var label in labels) report.Add(Small(), label: label, caption: label);
        foreach (var label in labels) report.Text($"{See(label)}");
        var docx = Save(report);
        Assert.Equal(labels.Length, docx.Body.Descendants(Docx.W + "bookmarkStart").Count());
        Assert.Equal(Enumerable.Range(1, labels.Length).Select(i => $"Table\u00A0{i}"), docx.Paragraphs.Where(p => p.StartsWith("Table", StringComparison.Ordinal) && !p.Contains('.', StringComparison.Ordinal)));
    }

    [Fact]
    public void Tables_without_caption_and_label_are_not_counted()
    {
        var docx = Save(new Report().Add(Small()).Add(Small(), caption: "First").Add(Small()).Add(Small(), label: "second").Text($"{See("second")}"));
        Assert.Contains("Table\u00A01. First", docx.Paragraphs);
        Assert.Contains("Table\u00A02", docx.Paragraphs);
    }

    [Fact]
    public void Sections_are_known_by_their_words_or_by_a_label()
    {
        var docx = Save(new Report().Heading("How we *count*").Heading("Results", level: 2, label: "out").Text($"{See("how-we-count")}; {See("out")}"));
        Assert.Equal("How we count; Results", docx.Paragraphs[2]);
    }

    [Fact]
    public void Headings_of_the_same_words_cannot_be_told_apart()
    {
        var report = new Report().Heading("Valley").Heading("Valley").Text($"{See("valley")}");
        Assert.Contains("more than one heading reads `valley`; give one of them a label", Assert.Throws<ReportException>(() => Save(report)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_label_of_other_characters_is_refused_with_its_right_form() =>
        Assert.Contains("`my table` is not a label; labels are letters, digits, `-` and `_`: `my-table`", Assert.Throws<ReportException>(() => Save(new Report().Add(Small(), label: "my table"))).Message, StringComparison.Ordinal);

    [Fact]
    public void All_wrong_references_are_told_at_once() =>
        Assert.Equal(3, Assert.Throws<ReportException>(() => Save(new Report { Title = $"{See("a")}" }.Text($"{See("b")} and *{See("c")}*"))).Diagnostics.Length);
}
