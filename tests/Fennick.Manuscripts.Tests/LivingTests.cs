using System.Globalization;

using Fennick.Documents;
using Fennick.Revision;
using Fennick.Testing;
using Xunit;
using static Fennick.Testing.Docx;

namespace Fennick.Manuscripts.Tests;

public sealed class LivingTests
{
    private static readonly Lock Making = new();
    private static readonly Dictionary<string, (byte[] Before, byte[] Fresh, ReportContent Now, Change[] Changes, string Text)> Made = [];

    public static TheoryData<string, int> Combinations()
    {
        var data = new TheoryData<string, int>();
        var count = int.Parse(Environment.GetEnvironmentVariable("FENNICK_EDITS") ?? "40", CultureInfo.InvariantCulture);
        foreach (var name in new[] { "harvest", "annual", "tables", "valleys" })
            for (var i = 0; i < count / 10; i++) data.Add(name, i);
        return data;
    }

    [Theory]
    [MemberData(nameof(Combinations))]
    public void Random_edits_survive_new_data(string manuscript, int block)
    {
        var seed = int.Parse(Environment.GetEnvironmentVariable("FENNICK_EDITS_SEED") ?? "1", CultureInfo.InvariantCulture);
        for (var i = 0; i < 10; i++) Combination(manuscript, (seed * 1_000_003) + (block * 10) + i, validates: i == 0);
    }

    private static void Combination(string manuscript, int seed, bool validates)
    {
        var (before, _, now, expected, fresh) = Make(manuscript);
        using var folder = new TestFolder();
        var random = new Random(seed);
        var document = new EditedDocument(before);
        var edits = new List<HumanEdit>();
        for (var n = random.Next(1, 7); n > 0; n--)
            if (HumanEdits.All[random.Next(HumanEdits.All.Count)](document, random, (seed % 500) + (n * 500)) is { } edit) edits.Add(edit);
        var path = folder.File("report.docx");
        document.Save(path);
        var name = $"{manuscript}, seed {seed}: {string.Join(", ", edits.Select(e => e.Name))}";
        try
        {
            // What an edit did may have been undone by a later one.
            var there = Open(path);
            edits.RemoveAll(e => Record.Exception(() => e.Check(there)) is not null && e.Name != nameof(HumanEdits) && e.Name != "AddCaption");
            var (result, kept) = Living.Refresh(path, now);
            Assert.True(File.Exists(kept));
            // What an edit has spoilt itself, such as a heading that is a sentence now, the refresh does not mend.
            var docx = validates && Record.Exception(() => WordClean.Check(kept, inForeignHouse: true)) is null ? WordClean.Check(path, inForeignHouse: true) : Open(path);
            foreach (var edit in edits) edit.Check(docx);
            CheckStale(Text(docx), Text(Open(kept)), result, expected, fresh);
        }
        catch (Exception problem)
        {
            File.Copy(path, Path.Combine(Path.GetTempPath(), "fennick-last-edited.docx"), overwrite: true);
            throw new InvalidOperationException(name, problem);
        }
    }

    /// <summary>No number that is another now stands anywhere without being listed.</summary>
    private static void CheckStale(string text, string edited, RefreshResult result, Change[] expected, string fresh)
    {
        foreach (var change in expected.Where(c => c.Before!.Count(char.IsAsciiDigit) >= 3))
        {
            // A number that the new report prints too, elsewhere, is not stale.
            if (Occurrences(text, change.Before!) <= Occurrences(fresh, change.Before!)) continue;
            Assert.True(result.Changes.Any(c => c.NeedsYou && (c.Before?.Contains(change.Before!, StringComparison.Ordinal) == true || c.After == change.After)), $"{change.Before} stands there, and nothing says that it is {change.After} now ({change.What} in {change.Where})");
        }
        Assert.NotEqual(text, edited);
    }

    private static string Text(Docx docx) => string.Join('\n', docx.Body.Descendants(W + "p").Select(p => string.Concat(p.Descendants(W + "t").Where(t => !t.Ancestors(W + "del").Any()).Select(t => t.Value))));

    private static int Occurrences(string text, string part)
    {
        var count = 0;
        for (var at = text.IndexOf(part, StringComparison.Ordinal); at >= 0; at = text.IndexOf(part, at + 1, StringComparison.Ordinal))
            if ((at == 0 || !char.IsAsciiDigit(text[at - 1])) && (at + part.Length == text.Length || !char.IsAsciiDigit(text[at + part.Length]))) count++;
        return count;
    }

    /// <summary>A report of the examples as it was, and with new data.</summary>
    internal static (byte[] Before, byte[] Fresh) Documents(string manuscript) => (Make(manuscript).Before, Make(manuscript).Fresh);

    private static (byte[] Before, byte[] Fresh, ReportContent Now, Change[] Changes, string Text) Make(string manuscript)
    {
        lock (Making)
        {
            if (Made.TryGetValue(manuscript, out var made)) return made;
            using var folder = new TestFolder();
            CopyOf(Repository.PathOf("examples/survey"), folder.Path);
            var path = folder.File("before.docx");
            Manuscript.Open(folder.File($"{manuscript}.ms.md")).Write(path);
            var before = File.ReadAllBytes(path);
            // Every hive has given a little more than it was said to.
            var data = folder.File("data/hives.csv");
            File.WriteAllLines(data, File.ReadAllLines(data).Select((line, i) => i == 0 || line.Split(',') is not { Length: 12 } cells || !double.TryParse(cells[10], CultureInfo.InvariantCulture, out var honey) ? line
                : string.Join(',', [.. cells[..10], (honey + 0.3 + (0.1 * (i % 7))).ToString("0.0", CultureInfo.InvariantCulture), cells[11]])));
            var now = Manuscript.Open(folder.File($"{manuscript}.ms.md")).Run().Content;
            var changes = Living.Preview(path, now).Changes;
            Assert.DoesNotContain(changes, c => c.NeedsYou);
            var fresh = folder.File("fresh.docx");
            now.Save(fresh);
            return Made[manuscript] = (before, File.ReadAllBytes(fresh), now, [.. changes.Where(c => c is { Kind: ChangeKind.Refreshed, Before: not null, After: not null })], Text(Open(fresh)));
        }
    }

    private static void CopyOf(string from, string to)
    {
        foreach (var file in Directory.EnumerateFiles(from, "*", SearchOption.AllDirectories))
        {
            var target = Path.Combine(to, Path.GetRelativePath(from, file));
            Directory.CreateDirectory(Path.GetDirectoryName(target)!);
            File.Copy(file, target);
        }
    }

}
