using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>A batch as an array job of a real queue: two nodes on this machine, by the script of the repository.</summary>
public sealed class SlurmTests : IDisposable
{
    private const int Units = 480;

    private readonly TestFolder folder = new();
    private readonly Dictionary<string, string> environment;

    public SlurmTests()
    {
        SlowSet.Enter();
        if (new[] { "slurmctld", "slurmd", "munged" }.Any(p => !File.Exists($"/usr/sbin/{p}")) || Environment.UserName != "root")
        {
            Console.Error.WriteLine("SKIPPED: the queue (slurmctld, slurmd, slurm-client, munge) is not installed, or this is no administrator, so no array job has run.");
            Assert.Skip("slurm is not installed");
        }
        // The user of munge has to reach its files.
        File.SetUnixFileMode(folder.Path, File.GetUnixFileMode(folder.Path) | UnixFileMode.OtherExecute | UnixFileMode.GroupExecute | UnixFileMode.OtherRead | UnixFileMode.GroupRead);
        environment = new(FennickCommand.ByName(folder)) { ["SLURM_CONF"] = folder.File("queue/slurm.conf") };
        var started = Queue("start");
        Assert.True(started.ExitCode == 0, started.Errors);
    }

    public void Dispose()
    {
        if (environment is not null) Queue("stop");
        folder.Dispose();
    }

    [Fact]
    public void An_array_of_twelve_survives_a_task_that_is_killed()
    {
        folder.Write("apiary.ms.md", "```manuscript\ntitle: Apiary {apiary}\nparameter apiary (text):\nparameter hives (whole number):\n```\n\n```csharp prepare\nSystem.Threading.Thread.Sleep(30);\n```\n\nThe apiary has {hives} hives.\n");
        folder.Write("apiaries.csv", "apiary,hives\n" + string.Concat(Enumerable.Range(1, Units).Select(i => $"Apiary {i},{i % 17}\n")));
        var job = Submit();
        Wait(() => Done(3) >= 3, "the third task did not begin");
        Run("scancel", "--signal=KILL", "--full", $"{job}_3");
        WaitForEnd();

        var before = FennickCommand.Run(folder.Path, "batch", "gather", "reports");
        Assert.Equal(3, before.ExitCode);
        Assert.Matches(@"(?m)^4\d\d units, [1-3]\d missing, 0 made twice", before.Errors);

        Submit();
        WaitForEnd();
        var counts = Enumerable.Range(1, 12).Select(p => File.ReadLines(folder.File($"reports/index-{p}-of-12.csv")).Count() - 1).ToArray();
        Assert.Equal((Units, true), (counts.Sum(), counts.Max() - counts.Min() <= 1));
        var after = FennickCommand.Run(folder.Path, "batch", "gather", "reports");
        Assert.Equal((0, $"{Units} units, 0 missing, 0 made twice"), (after.ExitCode, after.Errors.Trim()));
        var documents = Directory.GetFiles(folder.File("reports"), "*.docx");
        Assert.Equal(Units, documents.Length);
        foreach (var document in documents.Where((_, i) => i % 40 == 0)) WordClean.Check(document);
        // No lock and no half document is left.
        Assert.All(Directory.GetFileSystemEntries(folder.File("reports")).Select(Path.GetFileName), n => Assert.Matches(@"^(Apiary \d+\.docx|(ledger|index)(-\d+-of-12)?\.(jsonl|csv))$", n));
    }

    private string Submit()
    {
        var result = Run("sbatch", "--parsable", Repository.PathOf("docs", "scale", "array-job.sh"), "apiary.ms.md", "apiaries.csv", "reports");
        Assert.True(result.ExitCode == 0, result.Errors);
        return result.Output.Trim();
    }

    private int Done(int task) => folder.File($"reports/ledger-{task}-of-12.jsonl") is var ledger && File.Exists(ledger) ? File.ReadLines(ledger).Count(l => l.Contains("\"done\"", StringComparison.Ordinal)) : 0;

    private void WaitForEnd() => Wait(() => Run("squeue", "--noheader").Output.Trim().Length == 0, "the job did not end");

    private static void Wait(Func<bool> condition, string otherwise) => Assert.True(SpinWait.SpinUntil(() =>
    {
        if (condition()) return true;
        Thread.Sleep(100);
        return false;
    }, TimeSpan.FromMinutes(8)), otherwise);

    private CommandResult Queue(string what) => Command.Run(Repository.PathOf("tools", "slurm-nodes.sh"), [what, folder.File("queue")], folder.Path);

    private CommandResult Run(string program, params string[] arguments) => Command.Run(program, arguments, folder.Path, environment);
}
