using System.Globalization;
using Fennick.Citations;
using Fennick.Data;
using Fennick.Mathematics;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;

namespace Fennick.Fuzzing;

/// <summary>Twice as much of anything takes twice as much work, counted in bytes that are allocated for it.</summary>
public sealed class LinearTests : IDisposable
{
    // What grows with the square takes four times the work; buffers that double come in steps.
    private const double Most = 3;
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    public static TheoryData<string> Kinds =>
        ["a long paragraph", "many paragraphs", "equal headings", "sections with tables", "stars", "underscores", "brackets", "backticks", "a list", "a nested list", "quotations", "footnotes", "links", "a long cell", "rows of a table", "values in a text", "formulas", "a long formula", "nested formulas", "entries of a bibliography", "rows of data", "long cells of data"];

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Twice_as_much_is_twice_the_work(string kind)
    {
        var few = kind switch { "nested formulas" => 20, "rows of a table" => 1500, "rows of data" => 4000, "sections with tables" => 60, _ => 500 };
        // The least of some: what is done once, and pools that fill, do not count.
        long Least(int count) => Enumerable.Range(0, 4).Min(_ => Work(kind, count));
        var (one, two) = (Least(few), Least(2 * few));
        Assert.True(two < Most * one, string.Create(CultureInfo.InvariantCulture, $"{kind}: {two / (double)one:0.00} times the work of half as much"));
    }

    private long Work(string kind, int count)
    {
        string Lines(Func<int, string> line, string between = "\n") => string.Join(between, Enumerable.Range(0, count).Select(line));
        Action work = kind switch
        {
            "rows of data" => Reading(Lines(i => $"name {i},{i}")),
            "long cells of data" => Reading(string.Join('\n', Enumerable.Range(0, 40).Select(i => $"\"{new string('x', 20 * count)}\",{i}"))),
            "a long formula" => () => Formula.Of(Lines(i => $"a_{{{i}}}", " + ")),
            "nested formulas" => () => Formula.Of($"{string.Concat(Enumerable.Repeat("\\sqrt{", count))}x{new string('}', count)}"),
            "entries of a bibliography" => Works(Lines(i => $"@book{{key{i}, title = {{Title {i}}}, author = {{Ash, Ann and Birch, Ben}}, year = {{{1900 + (i % 100)}}}}}")),
            "rows of a table" => Saving(new Report("t").Add(Enumerable.Range(0, count).Aggregate(Table.WithHeads("a", "b"), (t, i) => t.Row($"row {i}", i)), caption: "c")),
            "a long cell" => Saving(new Report("t").Add(Table.WithHeads("a").Row(Lines(i => $"word{i}", " ")), caption: "c")),
            "values in a text" => Saving(Enumerable.Range(0, count).Aggregate(new Report("t"), (r, i) => r.Text($"The value is {i:0.0} and {i}."))),
            "sections with tables" => Saving(Enumerable.Range(0, count).Aggregate(new Report("t"), (r, i) => r.Heading($"Section {i}").Add(Table.WithHeads("a").Row(i), caption: $"Table of {i}", label: $"t{i}").Text($"{Inlines.See($"t{i}")}."))),
            _ => Saving(new Report("t").Text(Markdown(kind, count))),
        };
        long before = GC.GetAllocatedBytesForCurrentThread();
        work();
        return GC.GetAllocatedBytesForCurrentThread() - before;
    }

    private static string Markdown(string kind, int count)
    {
        string Lines(Func<int, string> line, string between = "\n") => string.Join(between, Enumerable.Range(0, count).Select(line));
        return kind switch
        {
            "a long paragraph" => Lines(i => $"words {i} of *a* line"),
            "many paragraphs" => Lines(i => $"Words {i} of *a* paragraph.", "\n\n"),
            "equal headings" => Lines(_ => "# The same\n\nWords.", "\n\n"),
            "stars" => Lines(_ => "*", "") + "x",
            "underscores" => Lines(_ => "_", "") + "x",
            "brackets" => Lines(_ => "[", "") + "x",
            "backticks" => Lines(i => new string('`', 1 + (i % 5)) + "x", ""),
            "a list" => Lines(i => $"- item {i}"),
            "a nested list" => Lines(i => $"{new string(' ', 2 * (i % 6))}- item {i}"),
            "quotations" => Lines(i => $"> said {i}", "\n\n"),
            "footnotes" => Lines(i => $"Words.[^n{i}]\n\n[^n{i}]: A note.", "\n\n"),
            "links" => Lines(i => $"[a link](https://survey.larkmere.example/{i})", " "),
            "formulas" => Lines(i => $"$a_{{{i}}}$", " "),
            _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "no such kind"),
        };
    }

    private Action Saving(Report report) => () =>
    {
        // To look at a document that is there already is work of its own.
        File.Delete(folder.File("report.docx"));
        report.Save(folder.File("report.docx"));
    };

    private sealed record Row(string Name, int Value);

    private Action Reading(string rows)
    {
        var path = folder.Write("rows.csv", $"Name,Value\n{rows}\n");
        return () => Csv.Read<Row>(path);
    }

    private Action Works(string entries)
    {
        var path = folder.Write("works.bib", entries);
        return () => WorkList.Read(path);
    }
}
