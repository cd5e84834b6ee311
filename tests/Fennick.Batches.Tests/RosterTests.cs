using System.Data;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Testing;
using FsCheck;
using FsCheck.Fluent;
using Xunit;

namespace Fennick.Batches.Tests;

/// <summary>Rosters, the names of documents and the parts of many machines.</summary>
public sealed class RosterTests : IDisposable
{
    private const string Fence = "```";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Manuscript Open(string settings = "parameter apiary (text):\nparameter hives: 1") =>
        Manuscript.Open(folder.Write("unit.ms.md", $"{Fence}manuscript\n{settings}\n{Fence}\n\n{{apiary}}"));

    private string Fail(Func<Roster> roster, string? name = null, string settings = "parameter apiary (text):\nparameter hives: 1") =>
        Assert.Throws<ReportException>(() => (Batch.Of(Open(settings), roster()) with { Name = name }).Run(folder.File("out"))).Message.Replace(folder.Path + "/", "", StringComparison.Ordinal);

    private Roster Csv(string text) => Roster.Read(folder.Write("roster.csv", text));

    [Fact]
    public void Files_records_and_queries_give_the_same_rows()
    {
        var table = new DataTable { Columns = { "Apiary", { "Hives", typeof(int) }, { "Since", typeof(DateTime) }, { "Treated", typeof(bool) } } };
        table.Rows.Add("Alder Bank", 16, new DateTime(2012, 3, 1), true);
        table.Rows.Add("Mill Orchard", DBNull.Value, new DateTime(2018, 3, 1), false);
        using var reader = table.CreateDataReader();
        foreach (var roster in new[]
        {
            Csv("apiary,hives,since,treated\nAlder Bank,16,2012-03-01,yes\nMill Orchard,,2018-03-01,no\n"),
            Roster.Read(folder.Write("roster.json", "[\n {\"apiary\": \"Alder Bank\", \"hives\": 16, \"since\": \"2012-03-01\", \"treated\": true},\n {\"apiary\": \"Mill Orchard\", \"hives\": null, \"since\": \"2018-03-01\", \"treated\": false}]")),
            Roster.Of([new { Apiary = "Alder Bank", Hives = (int?)16, Since = new DateOnly(2012, 3, 1), Treated = true }, new { Apiary = "Mill Orchard", Hives = (int?)null, Since = new DateOnly(2018, 3, 1), Treated = false }]),
            Roster.Read(reader),
        })
        {
            Assert.Equal(["apiary", "hives", "since", "treated"], roster.Columns.Select(c => c.ToLowerInvariant()));
            Assert.Equal(["Alder Bank|16|2012-03-01|yes", "Mill Orchard||2018-03-01|no"], roster.Select(r => string.Join('|', r.Cells)));
            Assert.Equal("16", roster[0]["HIVES"]);
        }
    }

    [Theory]
    [InlineData("apiary\n", null, "roster.csv:1:1: error: the roster has no rows")]
    [InlineData("valley\nAlderwick\n", null, "unit.ms.md:2:1: error: the roster has no column for the parameter `apiary`, which has no value of its own")]
    [InlineData("apiary,hives\nAlder Bank,many\n", null, "roster.csv:2:2: error: `many` is not a value for the parameter `hives`, which is a whole number")]
    [InlineData("apiary,hives\n,3\n", null, "roster.csv:2:1: error: the parameter `apiary` has no value in this row")]
    [InlineData("apiary\nAlder Bank\nAlder Bank\n", null, "roster.csv:3:1: error: this unit would be written to `Alder Bank.docx`, as that of row 1 is; name the documents with `--name`")]
    [InlineData("apiary\nAlder Bank\nALDER bank\n", null, "roster.csv:3:1: error: this unit would be written to `ALDER bank.docx`, as that of row 1 is, which differs from it in nothing but capitals")]
    [InlineData("apiary\nA:B\nA/B\n", null, "roster.csv:3:1: error: this unit would be written to `A-B.docx`")]
    [InlineData("apiary,apiary\nA,B\n", null, "roster.csv:1:2: error: the roster has two columns called `apiary`")]
    [InlineData("apiary,hives\nA,1,2\n", null, "roster.csv:2:1: error: this row has 3 cells, but the roster has 2 columns")]
    [InlineData("apiary\nA\n", "{apairy}", "--name: error: the roster has no column `apairy`; did you mean `apiary`?")]
    [InlineData("apiary\nA\n", "../{apiary}", "--name: error: `../{apiary}` is not a pattern for names inside the folder of the batch")]
    [InlineData("apiary\nA\n", "/tmp/{apiary}", "--name: error: `/tmp/{apiary}` is not a pattern for names inside the folder of the batch")]
    [InlineData("apiary\nA\n", "report.docx", "--name: error: `report` gives all units one name")]
    [InlineData("apiary,hives\nA,1\nA.docx,2\n", "{apiary}/{hives}", null)]
    public void Mistakes_are_told_before_anything_runs(string roster, string? name, string? message)
    {
        if (message is null)
        {
            (Batch.Of(Open(), Csv(roster)) with { Name = name }).Run(folder.File("out"));
            return;
        }
        Assert.StartsWith(message, Fail(() => Csv(roster), name), StringComparison.Ordinal);
        Assert.False(Directory.Exists(folder.File("out")));
    }

    [Theory]
    [InlineData("{}", "roster.json:1:1: error: a roster is an array of objects")]
    [InlineData("[\n\n 3]", "roster.json:3:1: error: each row of a roster is an object")]
    [InlineData("[{\"apiary\": [1]}]", "roster.json:1:1: error: `apiary` is neither text nor a number nor yes or no")]
    [InlineData("[{\"apiary\": \"A\",\n \"apiary\": \"B\"}]", "roster.json:1:1: error: `apiary` is there twice")]
    [InlineData("[{\"apiary\": \"A\"", "roster.json:1:")]
    [InlineData("[{\"apiary\": \"\\ud83d\"}]", "roster.json:1:1: error: the file is damaged: ")]
    public void A_damaged_file_is_refused(string json, string message) =>
        Assert.StartsWith(message, Fail(() => Roster.Read(folder.Write("roster.json", json))), StringComparison.Ordinal);

    [Fact]
    public void All_rows_are_checked_and_a_wrong_one_is_found_far_down()
    {
        var roster = new StringBuilder("apiary,hives\n");
        for (var row = 1; row <= 2000; row++) roster.Append(System.Globalization.CultureInfo.InvariantCulture, $"Apiary {row},{(row is 1743 or 1999 ? "x" : "3")}\n");
        var message = Fail(() => Csv(roster.ToString()));
        Assert.Contains("roster.csv:1744:2: error: `x` is not a value", message, StringComparison.Ordinal);
        Assert.Contains("roster.csv:2000:2: error: `x` is not a value", message, StringComparison.Ordinal);
        Assert.StartsWith("error: there is no data file", Fail(() => Roster.Read("nowhere.csv")), StringComparison.Ordinal);
    }

    [Fact]
    public void A_roster_that_grows_while_it_is_read_is_refused()
    {
        var path = folder.Write("growing.csv", "apiary\n" + string.Concat(Enumerable.Repeat("Alder Bank\n", 300_000)));
        var isRead = false;
        var writer = new Thread(() =>
        {
            while (!Volatile.Read(ref isRead))
            {
                File.AppendAllText(path, "Rook Wood\n");
                Thread.Sleep(1);
            }
        });
        writer.Start();
        var problem = Record.Exception(() => Roster.Read(path));
        Volatile.Write(ref isRead, true);
        writer.Join();
        Assert.Contains("the roster changed while it was read", Assert.IsType<ReportException>(problem).Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("North/South", "North-South")]
    [InlineData("..", "-")]
    [InlineData("...", "-")]
    [InlineData("", "-")]
    [InlineData(" a. ", "a")]
    [InlineData("a:b*c?d\"e<f>g|h\\i", "a-b-c-d-e-f-g-h-i")]
    [InlineData("a\0b\nc", "a-b-c")]
    [InlineData(".hidden", "-hidden")]
    [InlineData("con", "-con")]
    [InlineData("LPT1.x", "-LPT1.x")]
    [InlineData("Mu\u0308ller's Croft", "Müller's Croft")]
    [InlineData("\ud83d\udc1d hive", "\ud83d\udc1d hive")]
    public void Names_are_safe(string name, string expected) => Assert.Equal(expected, Named(name));

    private string Named(string value) => Batch.Of(Roster.Of([new { Value = value, Other = "x" }]), _ => new Report("x")) with { Name = "{value}" } is var batch ? batch.Run(folder.File("named")).Outcomes[0].Unit.Name : "";

    [Fact]
    public void Any_two_values_give_names_that_a_file_system_takes_and_long_ones_stay_apart()
    {
        Check.One(Config.QuickThrowOnFailure.WithMaxTest(100), Prop.ForAll(ArbMap.Default.ArbFor<NonNull<string>>(), text =>
        {
            var name = Named(text.Get);
            return name.Length > 0 && !name.Contains('/') && !name.StartsWith('.') && Encoding.UTF8.GetByteCount(name) <= 180 && File.Exists(folder.File($"named/{name}.docx"));
        }));
        // An attribute cannot hold half a character.
        Assert.Equal("- hive", Named("\ud83d hive"));
        var names = new[] { "a", "b" }.Select(end => Named(new string('ü', 300) + end)).ToArray();
        Assert.NotEqual(names[0], names[1]);
        Assert.All(names, n => Assert.InRange(Encoding.UTF8.GetByteCount(n), 100, 180));
    }

    [Theory]
    [InlineData("3/40", 3, 40)]
    [InlineData("1/1", 1, 1)]
    [InlineData("0/4", 0, 0)]
    [InlineData("5/4", 0, 0)]
    [InlineData("x", 0, 0)]
    public void A_part_is_read(string text, int index, int count)
    {
        if (count > 0) Assert.Equal(new RosterPart(index, count), RosterPart.Parse(text));
        else Assert.Contains("is not a part of a roster", Assert.Throws<ReportException>(() => RosterPart.Parse(text)).Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("SLURM_ARRAY_TASK_ID=7 SLURM_ARRAY_TASK_MIN=5 SLURM_ARRAY_TASK_COUNT=10", "3/10")]
    [InlineData("SLURM_ARRAY_TASK_ID=3 SLURM_ARRAY_TASK_MIN=3 SLURM_ARRAY_TASK_COUNT=1", "this is the one task 3 of an array job: nobody says of how many it is a part; write `--part 3/N`, or submit all tasks again: what is done stays")]
    [InlineData("SLURM_ARRAY_TASK_ID=1 SLURM_ARRAY_TASK_MIN=1 SLURM_ARRAY_TASK_COUNT=1", "1/1")]
    [InlineData("JOB_COMPLETION_INDEX=0 JOB_COMPLETIONS=8", "1/8")]
    [InlineData("JOB_COMPLETION_INDEX=0", "this is task 0 of an array job, but the variable `JOB_COMPLETIONS` does not say of how many")]
    [InlineData("SGE_TASK_ID=4 SGE_TASK_FIRST=2 SGE_TASK_LAST=6", "3/5")]
    [InlineData("SGE_TASK_ID=undefined LSB_JOBINDEX=2 LSB_JOBINDEX_END=3", "2/3")]
    [InlineData("PBS_ARRAY_INDEX=9 PBS_ARRAY_COUNT=4", "`PBS_ARRAY_INDEX` is 9, which is none of 4 tasks from 1 on")]
    [InlineData("", "`--part auto` finds no variable of an array job")]
    public void The_environment_of_an_array_job_gives_a_part(string variables, string expected)
    {
        var names = new[] { "SLURM_ARRAY_TASK_ID", "JOB_COMPLETION_INDEX", "SGE_TASK_ID", "LSB_JOBINDEX", "PBS_ARRAY_INDEX" };
        var given = variables.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(v => v.Split('=')).ToArray();
        foreach (var pair in given) Environment.SetEnvironmentVariable(pair[0], pair[1]);
        try
        {
            if (expected.Contains(' ')) Assert.Contains(expected, Assert.Throws<ReportException>(() => RosterPart.Parse("auto")).Message, StringComparison.Ordinal);
            else Assert.Equal(expected, RosterPart.Parse("auto").ToString());
        }
        finally
        {
            foreach (var name in names.Concat(given.Select(p => p[0]))) Environment.SetEnvironmentVariable(name, null);
        }
    }

    [Theory]
    [InlineData(48, 12)]
    [InlineData(48, 5)]
    [InlineData(480, 12)]
    [InlineData(3, 7)]
    [InlineData(0, 2)]
    public void Parts_share_the_units_evenly_and_miss_none(int count, int parts)
    {
        string[] units = [.. Enumerable.Range(0, count).Select(i => $"Apiary {i}")];
        var shares = Enumerable.Range(1, parts).Select(p => new RosterPart(p, parts).Of(units, u => u)).ToArray();
        Assert.Equal(units.Order(StringComparer.Ordinal), shares.SelectMany(s => s).Order(StringComparer.Ordinal));
        Assert.True(shares.Max(s => s.Count) - shares.Min(s => s.Count) <= 1);
        // The order of the roster does not count.
        Assert.Equal(shares[0].Order(StringComparer.Ordinal), new RosterPart(1, parts).Of([.. units.Reverse()], u => u).Order(StringComparer.Ordinal));
        Assert.Same(units, new RosterPart(1, 1).Of(units, u => u));
    }
}
