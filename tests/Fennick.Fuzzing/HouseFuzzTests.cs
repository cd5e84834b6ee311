using System.Diagnostics;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;

namespace Fennick.Fuzzing;

/// <summary>Whatever has happened to a house's file, it is refused in words, or gives a sound document.</summary>
public sealed class HouseFuzzTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public void Houses_give_sound_documents_or_are_refused()
    {
        var random = Fuzz.Random(8);
        byte[][] sound = [.. Sound().Select(File.ReadAllBytes)];
        var (path, made) = (folder.File("house.docx"), folder.File("report.docx"));
        var (faults, refused, slowest, tries) = (new List<string>(), 0, TimeSpan.Zero, Fuzz.Tries(100));
        for (var i = 0; i < tries; i++)
        {
            File.WriteAllBytes(path, HouseMutations.Mutate(sound[i % sound.Length], random));
            var watch = Stopwatch.StartNew();
            try
            {
                Report(House.Read(path) with { KeepsContents = (i % 4) switch { 0 => true, 1 => false, _ => null }, Accent = i % 5 == 0 ? "#336699" : null }).Save(made);
                if (watch.Elapsed > slowest) slowest = watch.Elapsed;
                WordClean.Check(made, inForeignHouse: true);
            }
            catch (ReportException problem) when (!problem.Message.Contains("something is wrong in Fennick", StringComparison.Ordinal) && !problem.Message.Contains("that Fennick has made", StringComparison.Ordinal))
            {
                refused++;
            }
            catch (Exception problem)
            {
                faults.Add($"{i}: {problem.Message.Split('\n').Take(3).Aggregate((a, b) => a + " | " + b)}\n{problem.StackTrace?.Split('\n').Take(3).Aggregate((a, b) => a + b)}");
                if (Environment.GetEnvironmentVariable("FENNICK_FUZZ_KEEP") is { } keep) File.Copy(path, Path.Combine(keep, $"house{i}.docx"), overwrite: true);
            }
        }
        Assert.True(faults.Count == 0, $"{faults.Count} of {tries}:\n{string.Join('\n', faults.Take(200))}");
        Assert.InRange(refused, 1, tries / 2);
        var peak = Process.GetCurrentProcess().PeakWorkingSet64 >> 20;
        TestContext.Current.SendDiagnosticMessage($"{tries} houses: {refused} refused, the slowest took {slowest.TotalMilliseconds:0} ms, {peak} MB of memory at most");
        Assert.True(peak < 600 || Environment.GetEnvironmentVariable("FENNICK_FUZZ") is null, $"{peak} MB of memory at most");
        Assert.True(slowest < TimeSpan.FromSeconds(Environment.GetEnvironmentVariable("FENNICK_FUZZ") is null ? 60 : 2), $"the slowest took {slowest}");
    }

    /// <summary>Houses of many kinds: somebody's own, one of other words with slots, and documents with all that a report has.</summary>
    private IEnumerable<string> Sound()
    {
        yield return Repository.PathOf("examples", "survey", "house", "larkmere.docx");
        Report(House.Flint).Save(folder.File("flint.docx"));
        yield return folder.File("flint.docx");
        yield return new HouseBuilder(HouseBuilder.Paragraph(HouseBuilder.Slot("title")) + HouseBuilder.Paragraph(HouseBuilder.Run("For ") + HouseBuilder.Slot("author")) + HouseBuilder.Paragraph(HouseBuilder.Slot("body")) + HouseBuilder.Paragraph(HouseBuilder.Run("kept")), HouseBuilder.Style("Normal", "Normal", isDefault: true))
            .AddHeader("1", HouseBuilder.Paragraph(HouseBuilder.Slot("title"))).Save(folder.File("slots.docx"));
    }

    private static Report Report(House house) => new Report("A title") { House = house, Authors = ["Ann Ash"] }
        .Heading("First").Text("Words with *marks*, and a note.[^a]\n\n[^a]: The note.").Add(Table.WithHeads("a", "b").Row("x", 1).Row("y", 2), caption: "A table")
        .Add(Chart.Columns([1, 2], v => $"c{v}", v => v), caption: "A figure").Heading("Second").Text("- one\n- two\n\n1. first\n2. second\n\n> said\n\n$$a^2$$");
}
