using System.Text.Json;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>Steps that end their process: they end nothing else, and what they did is told.</summary>
public sealed class ProcessFaultTests : IDisposable
{
    private const string Fence = "```";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private CommandResult Run(params string[] arguments) => FennickCommand.Run(folder.Path, arguments);

    public static TheoryData<string, string> Faults => new()
    {
        { "Environment.Exit(0);", "ended the process (exit code 0); throw an exception instead of `Environment.Exit`" },
        { "Environment.Exit(3);", "ended the process (exit code 3)" },
        { "Environment.FailFast(\"no more\");", "ended the process: no more" },
        { "int F(int x) => F(x + 1) + 1; Console.WriteLine(F(1));", "calls itself without end, until the stack was full" },
        { "new System.Threading.Thread(() => throw new InvalidOperationException(\"far away\")).Start(); System.Threading.Thread.Sleep(5000);", "has an exception on a thread of its own: far away (InvalidOperationException)" },
        { "System.Diagnostics.Process.GetCurrentProcess().Kill(); System.Threading.Thread.Sleep(5000);", "ended the process by signal 9" },
    };

    [Theory]
    [MemberData(nameof(Faults))]
    public void Write_tells_what_a_step_did_to_its_process(string code, string message)
    {
        folder.Write("m.ms.md", $"# Title\n\n{Fence}csharp prepare before\nvar one = 1;\n{Fence}\n\n{Fence}csharp prepare faulty\n{code}\n{Fence}\n\nText.\n");
        folder.Write("m.docx", "the old one");
        var result = Run("write", "m.ms.md");
        Assert.Equal(1, result.ExitCode);
        Assert.StartsWith($"m.ms.md:7:1: error: step `faulty`, or an expression behind it, {message}", result.Errors, StringComparison.Ordinal);
        Assert.Single(result.Errors.TrimEnd().Split('\n'));
        Assert.Equal("the old one", File.ReadAllText(folder.File("m.docx")));
        Assert.Contains(message, Run("try", "m.ms.md").Errors, StringComparison.Ordinal);
    }

    [Fact]
    public void A_batch_makes_everything_else()
    {
        var units = LongRun.Times("FENNICK_FAULT_UNITS", 60);
        string[] faults = [.. Faults.Select(f => f.Data.Item1), "while (true) { }", "var all = new List<byte[]>(); while (true) all.Add(new byte[10_000_000]);"];
        var cases = string.Join('\n', faults.Select((f, i) => $"if (kind == {i}) {{ {f.Replace("int F(", $"int F{i}(", StringComparison.Ordinal).Replace(" F(", $" F{i}(", StringComparison.Ordinal).Replace("(F(", $"(F{i}(", StringComparison.Ordinal)} }}"));
        folder.Write("unit.ms.md", $"{Fence}manuscript\nparameter apiary (text):\nparameter kind (whole number):\n{Fence}\n\n{Fence}csharp prepare faulty\n{cases}\n{Fence}\n\nOf {{apiary}}.\n");
        folder.Write("roster.csv", "apiary,kind\n" + string.Concat(Enumerable.Range(0, units).Select(i => $"unit {i},{(i % 6 == 3 && i / 6 < faults.Length ? i / 6 : -1)}\n")));
        var result = Run("batch", "unit.ms.md", "--roster", "roster.csv", "--into", "reports", "--time-limit", "8s", "--memory-limit", "300MB");
        Assert.Equal(3, result.ExitCode);
        Assert.Contains($"{units - faults.Length} made, {faults.Length} failed", result.Errors, StringComparison.Ordinal);
        var made = Directory.GetFiles(folder.File("reports"), "*.docx");
        Assert.Equal(units - faults.Length, made.Length);
        foreach (var path in made.Take(5)) Assert.Equal([$"Of {Path.GetFileNameWithoutExtension(path)}."], WordClean.Check(path).Paragraphs);
        Assert.Empty(Directory.GetFiles(folder.File("reports"), ".*"));
        var failed = File.ReadLines(folder.File("reports/ledger.jsonl")).Select(l => JsonDocument.Parse(l).RootElement).Where(l => l.GetProperty("event").GetString() == "failed").ToArray();
        var errors = string.Join('\n', failed.Select(l => l.GetProperty("error").GetString()));
        foreach (var message in Faults.Select(f => f.Data.Item2).Append("this unit took longer than 8 s").Append("the memory is used up")) Assert.Contains(message, errors, StringComparison.Ordinal);
        // What is made in other processes is what would be made in this one.
        Run("batch", "unit.ms.md", "--roster", "roster.csv", "--where", "kind=-1", "--into", "own", "--in-process");
        foreach (var path in made) Assert.Equal(File.ReadAllBytes(path), File.ReadAllBytes(Path.Combine(folder.File("own"), Path.GetFileName(path))));
    }

    [Theory]
    [InlineData("--memory-limit", "lots")]
    [InlineData("--memory-limit", "1MB")]
    [InlineData("--memory-limit", "300MB", "--in-process")]
    public void Limits_that_cannot_be_kept_are_refused(params string[] limits)
    {
        folder.Write("unit.ms.md", $"{Fence}manuscript\nparameter apiary (text):\n{Fence}\n\n{{apiary}}\n");
        folder.Write("roster.csv", "apiary\nAlder\n");
        var result = Run(["batch", "unit.ms.md", "--roster", "roster.csv", "--into", "reports", .. limits]);
        Assert.Equal(2, result.ExitCode);
        Assert.False(Directory.Exists(folder.File("reports")));
    }
}
