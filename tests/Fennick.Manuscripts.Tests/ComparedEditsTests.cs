using System.Globalization;
using Fennick.Testing;
using Xunit;
using static Fennick.Testing.Docx;

namespace Fennick.Manuscripts.Tests;

/// <summary>Whatever people and new data have done to a document: with the differences accepted it says what the newer one says, with them rejected what the older one said.</summary>
public sealed class ComparedEditsTests
{
    [Theory]
    [MemberData(nameof(LivingTests.Combinations), MemberType = typeof(LivingTests))]
    public void Differences_accepted_give_the_newer_and_rejected_the_older(string manuscript, int block)
    {
        var seed = int.Parse(Environment.GetEnvironmentVariable("FENNICK_EDITS_SEED") ?? "1", CultureInfo.InvariantCulture);
        for (var i = 0; i < 3; i++) Combination(manuscript, (seed * 2_000_003) + (block * 10) + i, validates: i == 0);
    }

    private static void Combination(string manuscript, int seed, bool validates)
    {
        var (before, fresh) = LivingTests.Documents(manuscript);
        using var folder = new TestFolder();
        var random = new Random(seed);
        var (old, now, edits) = (folder.File("old.docx"), folder.File("new.docx"), new List<string>());
        Edit(before, old);
        Edit(random.Next(3) == 0 ? before : fresh, now);
        var output = folder.File("both.docx");
        try
        {
            var result = Living.Compare(old, now, output: output);
            // What an edit has spoilt itself stays so.
            if (validates && Record.Exception(() => WordClean.Check(now, inForeignHouse: true)) is null && Record.Exception(() => WordClean.Check(old, inForeignHouse: true)) is null) WordClean.Check(output, inForeignHouse: true);
            var docx = Open(output);
            Assert.Equal(TrackedText.Of(Open(now).Body, accepts: true), TrackedText.Of(docx.Body, accepts: true));
            Assert.Equal(TrackedText.Of(Open(old).Body, accepts: true), TrackedText.Of(docx.Body, accepts: false));
            if (TrackedText.Of(Open(now).Body, accepts: true).SequenceEqual(TrackedText.Of(Open(old).Body, accepts: true))) return;
            Assert.NotEmpty(result.Differences);
        }
        catch (Exception problem)
        {
            foreach (var file in new[] { old, now, output }.Where(File.Exists)) File.Copy(file, Path.Combine(Path.GetTempPath(), $"fennick-last-{Path.GetFileName(file)}"), overwrite: true);
            throw new InvalidOperationException($"{manuscript}, seed {seed}: {string.Join(", ", edits)}", problem);
        }

        void Edit(byte[] package, string path)
        {
            var document = new EditedDocument(package);
            edits.Add(Path.GetFileName(path));
            for (var n = random.Next(0, 5); n > 0; n--)
                if (HumanEdits.All[random.Next(HumanEdits.All.Count)](document, random, (seed % 500) + (n * 500)) is { } edit) edits.Add(edit.Name);
            document.Save(path);
        }
    }
}
