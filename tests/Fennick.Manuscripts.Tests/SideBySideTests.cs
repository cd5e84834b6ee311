using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>Runs in one process know nothing of each other.</summary>
public sealed class SideBySideTests : IDisposable
{
    private const string Fence = "```";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    /// <summary>A manuscript in a folder of its own, with data, labels, a picture, sources and a house beside it.</summary>
    private Manuscript Place(string name, string language, string encoding)
    {
        var own = Path.Combine(folder.Path, name);
        Directory.CreateDirectory(Path.Combine(own, "data"));
        File.WriteAllBytes(Path.Combine(own, "data", "hives.csv"), System.Text.Encoding.GetEncoding(encoding).GetBytes($"Name,Honey\nMüller {name},1234.5\n"));
        File.WriteAllText(Path.Combine(own, "words.txt"), $"Honey: Honey of {name}\n");
        File.WriteAllText(Path.Combine(own, "notes.txt"), $"notes of {name}");
        File.WriteAllText(Path.Combine(own, "report.ms.md"), $$"""
            {{Fence}}manuscript
            language: {{language}}
            data.encoding: {{encoding}}
            parameter unit (text): one
            {{Fence}}

            {{Fence}}csharp prepare
            var hives = Csv.Read<Hive>("data/hives.csv");
            await Task.Delay(1);
            Console.WriteLine($"step of {{name}}");
            await Task.Yield();
            var words = Labels.Read("words.txt");
            var notes = File.ReadAllText(Inputs.Declare("notes.txt"));
            record Hive(string Name, double Honey);
            {{Fence}}

            {hives[0].Name} {unit}: {hives[0].Honey:N1}, {notes}, {Once("once", () => Csv.Read<Hive>("data/hives.csv")[0].Name)}.

            {{Fence}}csharp table
            DescriptiveTable.Of(hives, h => h.Honey).Labels(words)
            {{Fence}}
            """);
        return Manuscript.Open(Path.Combine(own, "report.ms.md"));
    }

    [Fact]
    public void Manuscripts_of_two_folders_run_at_once_each_with_its_own_data()
    {
        System.Text.Encoding.RegisterProvider(System.Text.CodePagesEncodingProvider.Instance);
        var before = Environment.CurrentDirectory;
        (string Name, string Number, Manuscript Manuscript)[] both = [("north", "1,234.5", Place("north", "en-GB", "utf-8")), ("south", "1.234,5", Place("south", "de-DE", "windows-1252"))];
        foreach (var (_, _, manuscript) in both) manuscript.Write(folder.File("first.docx"));
        Parallel.For(0, 200, new ParallelOptions { MaxDegreeOfParallelism = 8 }, i =>
        {
            var (name, number, manuscript) = both[i % 2];
            var path = folder.File($"{i}.docx");
            var result = manuscript.Write(path, new Dictionary<string, string> { ["unit"] = $"u{i}" });
            var docx = Docx.Open(path);
            Assert.Contains($"Müller {name} u{i}: {number}, notes of {name}, Müller {name}.", docx.AllText, StringComparison.Ordinal);
            Assert.Contains($"Honey of {name}", docx.AllText, StringComparison.Ordinal);
            Assert.Equal($"step of {name}", Assert.Single(result.Outputs).Text.Trim());
        });
        Assert.Equal(before, Environment.CurrentDirectory);
        WordClean.Check(folder.File("199.docx"));
    }

    [Fact]
    public void A_manuscript_runs_without_a_file_and_its_content_is_written_where_one_likes()
    {
        var manuscript = Place("north", "en-GB", "utf-8");
        var result = manuscript.Run(new Dictionary<string, string> { ["unit"] = "two" });
        Assert.Equal("step of north", Assert.Single(result.Outputs).Text.Trim());
        Assert.Equal("en-GB", result.Content.Language.Tag);
        using (var stream = File.Create(folder.File("stream.docx"))) result.Content.Write(stream);
        Assert.Contains("Müller north two: 1,234.5, notes of north", WordClean.Check(folder.File("stream.docx")).AllText, StringComparison.Ordinal);
        Assert.False(File.Exists(folder.File("north/report.docx")));
    }

    [Fact]
    public void Calls_that_read_by_the_process_are_told_with_their_line()
    {
        Place("north", "en-GB", "utf-8");
        var path = folder.Write("north/report.ms.md", $"{Fence}csharp prepare\nvar notes = File.Exists(\"notes.txt\");\n{Fence}\n\n{{notes}}\n");
        var told = Assert.Single(Manuscript.Open(path).Write().Diagnostics);
        Assert.StartsWith($"{path}:2:", told.ToString(), StringComparison.Ordinal);
        Assert.Contains("`File.Exists` starts relative paths from the folder of the process", told.Message, StringComparison.Ordinal);
        Assert.Equal(Severity.Advice, told.Severity);
        // It is: the file is beside the manuscript, and the process is elsewhere.
        Assert.Contains("False", Docx.Open(Path.ChangeExtension(path, null)[..^".ms".Length] + ".docx").AllText, StringComparison.Ordinal);
    }

    [Fact]
    public void A_run_that_is_wanted_no_longer_ends_before_its_next_step_and_leaves_the_old_report()
    {
        var path = folder.Write("long.ms.md", $"{Fence}csharp prepare\nvar a = 1;\nSystem.Threading.Thread.Sleep(300);\n{Fence}\n\n{Fence}csharp prepare\nFile.WriteAllText(Inputs.Declare(\"ran\"), \"\");\n{Fence}\n\n{{a}}\n");
        var manuscript = Manuscript.Open(path);
        manuscript.Check();
        File.WriteAllText(folder.File("long.docx"), "old");
        using var stop = new CancellationTokenSource(100);
        Assert.ThrowsAny<OperationCanceledException>(() => manuscript.Write(stop: stop.Token));
        Assert.Equal("old", File.ReadAllText(folder.File("long.docx")));
        Assert.False(File.Exists(folder.File("ran")));
    }
}
