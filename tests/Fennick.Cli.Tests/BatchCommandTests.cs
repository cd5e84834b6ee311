using System.Diagnostics;
using System.Security.Cryptography;
using System.Text.Json;
using System.Text.RegularExpressions;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

public sealed class BatchCommandTests : IDisposable
{
    private const int Apiaries = 48;
    private const string Fence = "```";
    private static readonly string[] Apiary = ["batch", Repository.PathOf("examples", "survey", "apiary.ms.md"), "--roster", Repository.PathOf("examples", "survey", "data", "apiaries.csv"), "--name", "{valley}/{apiary}.docx", "--into", "reports"];
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private CommandResult Run(params string[] arguments) => FennickCommand.Run(folder.Path, arguments);

    private string[] Documents => [.. Directory.GetFiles(folder.File("reports"), "*.docx", SearchOption.AllDirectories).Order(StringComparer.Ordinal)];

    private void WriteUnits(string text) => folder.Write("unit.ms.md", $"{Fence}manuscript\nparameter apiary (text):\n{Fence}\n\n{text}");

    [Fact]
    public void The_example_makes_48_reports_and_then_nothing_until_something_changes()
    {
        var first = Run(Apiary);
        Assert.True(first.ExitCode == 0, first.Errors);
        Assert.Equal($"{folder.File("reports")}\n", first.Output);
        Assert.Matches(@"(?m)^48 made in .* s", first.Errors);
        Assert.Matches(@"(?m)^slowest: .+, .+, .+$", first.Errors);
        Assert.Equal(Apiaries, Documents.Length);
        Assert.Contains("Dunmarsh/North-South Field.docx", Documents.Select(d => Path.GetRelativePath(folder.File("reports"), d)));
        // The apiary without data says so; the smallest has what it has.
        var without = WordClean.Check(folder.File("reports/Coldbrook/Otter Bend.docx"), inForeignHouse: true);
        Assert.Contains("The survey has no weighed hive of Otter Bend for 2025.", without.AllText, StringComparison.Ordinal);
        var small = WordClean.Check(folder.File("reports/Eskerdale/Wind Gap.docx"), inForeignHouse: true);
        Assert.Contains("it weighed the honey of two hives", small.AllText, StringComparison.Ordinal);
        Assert.Equal(3, small.Body.Descendants().Count(e => e.Name.LocalName == "chart"));
        var again = Run(Apiary);
        Assert.Equal((0, $"{folder.File("reports")}\n"), (again.ExitCode, again.Output));
        Assert.Matches(@"^48 unchanged in [\d.]+ m?s\n$", again.Errors);
        Assert.Equal(Apiaries + 1, File.ReadAllLines(folder.File("reports/index.csv")).Length);
    }

    [Fact]
    public void What_failed_is_told_by_cause_and_the_exit_code_says_that_some_did()
    {
        folder.Write("roster.csv", "apiary\nAlder Bank\nMill Orchard\nMoss Bank\nRook Wood\n");
        WriteUnits($"{Fence}csharp prepare\nif (apiary[0] == 'M') throw new InvalidOperationException(\"no hives\");\n{Fence}\n\n{{apiary}}");
        var result = Run("batch", "unit.ms.md", "--roster", "roster.csv", "--into", "reports", "--jobs", "2");
        Assert.Equal(3, result.ExitCode);
        Assert.Matches("^unit.ms.md:6:23: error: no hives \\(InvalidOperationException\\)\n  in Mill Orchard, Moss Bank\n2 made, 2 failed in ", result.Errors);
        Assert.Equal(2, Documents.Length);
        var json = Run("batch", "unit.ms.md", "--roster", "roster.csv", "--into", "reports", "--json", "--quiet");
        Assert.Equal(3, json.ExitCode);
        var lines = json.Output.TrimEnd().Split('\n').Select(l => JsonDocument.Parse(l).RootElement).ToArray();
        Assert.Equal(["failed", "failed", "unchanged", "unchanged"], lines.SkipLast(1).Select(l => l.GetProperty("state").GetString()));
        Assert.Equal(2, lines[^1].GetProperty("failed").GetInt32());
        Assert.Equal("unit.ms.md:6:23: error: no hives (InvalidOperationException)\n  in Mill Orchard, Moss Bank\n", json.Errors);
    }

    [Theory]
    [InlineData("name the units: `--roster FILE`", "unit.ms.md", "--into", "reports")]
    [InlineData("say where the documents go: `--into DIR`, or `--bind FILE` for one document of all", "unit.ms.md", "--roster", "roster.csv")]
    [InlineData("`--group` goes with `--bind`", "unit.ms.md", "--roster", "roster.csv", "--into", "reports", "--group", "apiary")]
    [InlineData("`soon` is not a time; write `30s`, `5m` or `1h`", "unit.ms.md", "--roster", "roster.csv", "--into", "reports", "--time-limit", "soon")]
    [InlineData("`0` is not a number of jobs; write a whole number from 1 on", "unit.ms.md", "--roster", "roster.csv", "--into", "reports", "--jobs", "0")]
    public void A_wrong_call_is_told(string message, params string[] arguments)
    {
        var result = Run(["batch", .. arguments]);
        Assert.Equal(2, result.ExitCode);
        Assert.StartsWith($"error: {message}\n", result.Errors, StringComparison.Ordinal);
    }

    [Fact]
    public void Killed_at_any_moment_it_leaves_whole_documents_and_the_next_run_finishes_the_rest()
    {
        Assert.Equal(0, Run([.. Apiary, "--first", "1"]).ExitCode);
        var random = new Random(20251103);
        var killed = 0;
        var runs = LongRun.Times("FENNICK_KILLS", 20);
        for (var run = 0; run < runs; run++)
        {
            using var process = Start([.. Apiary, "--only", "all", "--jobs", "2"]);
            var moment = random.Next(300, 2500);
            if (!process.WaitForExit(moment))
            {
                process.Kill();
                process.WaitForExit();
                killed++;
            }
            foreach (var document in Documents) _ = Docx.Open(document);
        }
        Assert.InRange(killed, runs / 2, runs);
        var last = Run(Apiary);
        Assert.True(last.ExitCode == 0, last.Errors);
        Assert.Equal(Apiaries, Documents.Length);
        Assert.Empty(Directory.GetFiles(folder.File("reports"), "*.part", SearchOption.AllDirectories));
        // Every document is the one that the ledger says was made.
        var hashes = new Dictionary<string, string>();
        foreach (var line in File.ReadAllLines(folder.File("reports/ledger.jsonl")))
        {
            if (line.Length == 0 || !line.EndsWith('}') || JsonDocument.Parse(line).RootElement is var told && told.GetProperty("event").GetString() != "done") continue;
            var done = JsonDocument.Parse(line).RootElement;
            hashes[done.GetProperty("unit").GetString()!] = done.GetProperty("output").GetString()!;
        }
        Assert.Equal(Documents.Select(d => Path.GetRelativePath(folder.File("reports"), d)), hashes.Keys.Order(StringComparer.Ordinal));
        foreach (var (unit, hash) in hashes) Assert.Equal(hash, Convert.ToHexStringLower(SHA256.HashData(File.ReadAllBytes(folder.File($"reports/{unit}")))));
        WordClean.Check(Documents[random.Next(Apiaries)], inForeignHouse: true);
        Assert.Contains("48 unchanged", Run(Apiary).Errors, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_signal_stops_it_after_the_units_that_are_running()
    {
        folder.Write("roster.csv", $"apiary\n{string.Concat(Enumerable.Range(1, 500).Select(i => $"Apiary {i}\n"))}");
        WriteUnits($"{Fence}csharp prepare\nSystem.Threading.Thread.Sleep(50);\n{Fence}\n\n{{apiary}}");
        using var process = Start(["batch", "unit.ms.md", "--roster", "roster.csv", "--into", "reports", "--jobs", "2"]);
        var errors = process.StandardError.ReadToEndAsync(TestContext.Current.CancellationToken);
        for (var wait = 0; wait < 600 && (!Directory.Exists(folder.File("reports")) || Documents.Length < 3); wait++) await Task.Delay(100, TestContext.Current.CancellationToken);
        // As Ctrl-C does, which nobody can send where tests run in the background.
        Command.Run("kill", ["-TERM", $"{process.Id}"]);
        Assert.True(process.WaitForExit(30_000));
        Assert.Equal(1, process.ExitCode);
        Assert.Matches(@"(?m)^stopped, and \d+ are left; the same command goes on with them$", await errors);
        var rest = Run("batch", "unit.ms.md", "--roster", "roster.csv", "--into", "reports", "--first", "20");
        Assert.Matches(@"(?m)^(\d+ made, )?\d+ unchanged in", rest.Errors);
    }

    [Fact]
    public void A_disk_that_fills_leaves_whole_documents_and_is_said()
    {
        Directory.CreateDirectory(folder.File("reports"));
        var command = string.Join(' ', Apiary.Select(a => $"'{a}'"));
        var script = $"mount -t tmpfs -o size=1200k tmpfs reports && {{ '{FennickCommand.Folder}/Fennick.Cli' {command}; echo $? > code; mkdir copy; cp -r reports/. copy; mount -o remount,size=64m reports; '{FennickCommand.Folder}/Fennick.Cli' {command}; echo $? > again; mkdir whole; cp -r reports/. whole; }}";
        var result = Command.Run("unshare", ["-rm", "sh", "-c", script], folder.Path, new Dictionary<string, string> { ["FENNICK_CACHE"] = FennickCommand.Cache });
        Assert.SkipWhen(!File.Exists(folder.File("code")), $"SKIPPED: no small disk can be mounted here: {result.Errors}");
        Assert.Contains(File.ReadAllText(folder.File("code")).Trim(), new[] { "1", "3" });
        Assert.Matches("(the document cannot be written here: the disk is full|the ledger cannot be written: the disk is full)", result.Errors);
        var early = Directory.GetFiles(folder.File("copy"), "*.docx", SearchOption.AllDirectories);
        Assert.InRange(early.Length, 1, Apiaries - 1);
        foreach (var document in early) _ = Docx.Open(document);
        Assert.Equal("0", File.ReadAllText(folder.File("again")).Trim());
        Assert.Equal(Apiaries, Directory.GetFiles(folder.File("whole"), "*.docx", SearchOption.AllDirectories).Length);
    }

    [Fact]
    public void Parts_are_gathered_and_all_units_are_bound()
    {
        folder.Write("roster.csv", $"apiary,valley\n{string.Concat(Enumerable.Range(1, 12).Select(i => $"Apiary {i},Valley {(i - 1) / 6}\n"))}");
        WriteUnits("{apiary}");
        string[] call = ["batch", "unit.ms.md", "--roster", "roster.csv"];
        Assert.Equal(0, Run([.. call, "--into", "reports", "--part", "1/2"]).ExitCode);
        var missing = Run("batch", "gather", "reports");
        Assert.Equal(3, missing.ExitCode);
        var count = int.Parse(Regex.Match(missing.Errors, @"(\d+) missing, 0 made twice").Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture);
        Assert.Equal(count, Regex.Count(missing.Errors, "^missing: Apiary ", RegexOptions.Multiline));
        var part = FennickCommand.Start(folder.Path, new() { ["JOB_COMPLETION_INDEX"] = "1", ["JOB_COMPLETIONS"] = "2" }, [.. call, "--into", "reports", "--part", "auto"]);
        part.WaitForExit();
        Assert.Equal((0, 0), (part.ExitCode, Run("batch", "gather", "reports").ExitCode));
        Assert.Equal(12, Documents.Length);
        Assert.Equal(0, Run([.. call, "--bind", "all.docx", "--group", "valley", "--quiet"]).ExitCode);
        Assert.Equal(["Valley 0", "Valley 1"], WordClean.Check(folder.File("all.docx")).ParagraphsOf("Heading1"));
    }

    private Process Start(string[] arguments) => FennickCommand.Start(folder.Path, [], arguments);
}
