using Fennick.Data;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Testing;
using Xunit;
using static Fennick.Manuscripts.Sharing;

namespace Fennick.Batches.Tests;

/// <summary>A report counts as unchanged only if everything that it is made from is known.</summary>
public sealed class StaleTests : IDisposable
{
    private const string Fence = "```";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private string Into => folder.File("out");

    private BatchResult Run(string code, string settings = "", string text = "The hives of {apiary}.") => Batch.Of(
        Manuscript.Open(folder.Write("unit.ms.md", $"{Fence}manuscript\nparameter apiary (text):\n{settings}{Fence}\n\n{Fence}csharp prepare\n{code}\n{Fence}\n\n{text}\n")),
        Roster.Read(folder.Write("roster.csv", "apiary\nAlder\nBirch\n"))).Run(Into);

    private static string Counts(BatchResult result) => $"{result.Count(UnitState.Made)} made, {result.Count(UnitState.Unchanged)} unchanged, {result.Count(UnitState.Failed)} failed";

    [Theory]
    [InlineData("var x = File.ReadAllLines(\"a.xml\").Length;", "File.ReadAllLines")]
    [InlineData("var x = new FileInfo(\"a.xml\").Length;", "new FileInfo")]
    [InlineData("var x = new FileInfo(\"a.xml\").OpenText().ReadToEnd();", "new FileInfo")]
    [InlineData("var x = System.Xml.Linq.XDocument.Load(\"a.xml\").Root!.Value;", "XDocument.Load")]
    [InlineData("var x = System.Xml.XmlReader.Create(\"a.xml\");", "XmlReader.Create")]
    [InlineData("var set = new System.Data.DataSet(); set.ReadXml(\"a.xml\");", "DataSet.ReadXml")]
    [InlineData("var x = new StreamReader(\"a.xml\");", "new StreamReader")]
    [InlineData("var x = new FileStream(\"a.xml\", FileMode.Open);", "new FileStream")]
    [InlineData("var x = Directory.GetFiles(\".\").Length;", "Directory.GetFiles")]
    [InlineData("var x = System.Diagnostics.Process.Start(\"true\");", "Process.Start")]
    [InlineData("var x = DateTime.Now;", "DateTime.Now")]
    [InlineData("var x = DateOnly.FromDateTime(DateTime.Today);", "DateTime.Today")]
    [InlineData("var x = DateTimeOffset.UtcNow;", "DateTimeOffset.UtcNow")]
    [InlineData("var x = TimeProvider.System.GetUtcNow();", "TimeProvider.System")]
    [InlineData("var x = System.Diagnostics.Stopwatch.GetTimestamp();", "Stopwatch.GetTimestamp")]
    [InlineData("var x = new Random().Next();", "new Random")]
    [InlineData("var x = Random.Shared.Next();", "Random.Shared")]
    [InlineData("var x = Guid.NewGuid();", "Guid.NewGuid")]
    [InlineData("var x = System.Security.Cryptography.RandomNumberGenerator.GetInt32(9);", "RandomNumberGenerator.GetInt32")]
    [InlineData("var x = \"alder\".GetHashCode();", "Object.GetHashCode")]
    [InlineData("var x = Environment.GetEnvironmentVariable(\"HOME\");", "Environment.GetEnvironmentVariable")]
    [InlineData("var x = Environment.MachineName;", "Environment.MachineName")]
    [InlineData("var x = new System.Net.Http.HttpClient();", "new HttpClient")]
    [InlineData("var x = Type.GetType(\"System.DateTime\")!.GetProperty(\"Now\")!.GetValue(null);", "Type.GetType")]
    [InlineData("dynamic d = 3; var x = d + 1;", "Binder.BinaryOperation")]
    [InlineData("Func<string, string> read = File.ReadAllText;", "File.ReadAllText")]
    [InlineData("var x = new[] { \"a.xml\" }.Select(f => File.ReadAllText(f)).First();", "File.ReadAllText")]
    [InlineData("string Read() => File.ReadAllText(\"a.xml\"); var x = Read();", "File.ReadAllText")]
    [InlineData("var x = new Reader().Text;\nclass Reader { public string Text { get; } = File.ReadAllText(\"a.xml\"); }", "File.ReadAllText")]
    [InlineData("var x = await File.ReadAllTextAsync(\"a.xml\");", "File.ReadAllTextAsync")]
    [InlineData("var x = new Lazy<Base>(() => new Derived()).Value.Read();\nabstract class Base { public abstract string Read(); }\nclass Derived : Base { public override string Read() => File.ReadAllText(\"a.xml\"); }", "File.ReadAllText")]
    [InlineData("foreach (var x in Lines()) { }\nstatic IEnumerable<string> Lines() { yield return File.ReadAllText(\"a.xml\"); }", "File.ReadAllText")]
    public void What_nobody_declares_counts_as_changed_and_the_advice_names_the_call_and_its_line(string code, string call)
    {
        code = code.Replace("\"a.xml\"", $"\"{folder.Write("a.xml", "<a>one</a>")}\"", StringComparison.Ordinal);
        Assert.Equal("2 made, 0 unchanged, 0 failed", Counts(Run(code)));
        folder.Write("a.xml", "<a>two</a>");
        var again = Run(code);
        Assert.Equal("2 made, 0 unchanged, 0 failed", Counts(again));
        var advice = again.Diagnostics.First(d => d.Message.Contains($"`{call}`", StringComparison.Ordinal));
        Assert.Equal(Severity.Advice, advice.Severity);
        Assert.EndsWith("so that every unit counts as changed", advice.Message, StringComparison.Ordinal);
        var line = 6 + (code.Contains('\n') ? 1 + (code.Contains("abstract", StringComparison.Ordinal) ? 1 : 0) : 0);
        Assert.Equal((folder.File("unit.ms.md"), line), (advice.Place!.File, advice.Place.Line));
    }

    [Theory]
    [InlineData("{DateTime.Now:yyyy}", "DateTime.Now")]
    [InlineData("{if DateTime.Now.Year > 2000}\n\nLate.\n\n{end}", "DateTime.Now")]
    [InlineData("{for each f in Directory.GetFiles(\".\")}\n\n{f}\n\n{end}", "Directory.GetFiles")]
    public void Braces_count_like_steps(string text, string call)
    {
        Run("var one = 1;", text: text);
        var again = Run("var one = 1;", text: text);
        Assert.Equal("2 made, 0 unchanged, 0 failed", Counts(again));
        Assert.Contains(again.Diagnostics, d => d.Message.Contains($"`{call}`", StringComparison.Ordinal) && d.Place!.Line == 9);
    }

    [Theory]
    [InlineData("var rows = Csv.Read<Row>(\"a.csv\"); var mean = rows.Average(r => r.X); record Row(double X);")]
    [InlineData("var x = new Random(7).NextDouble(); var y = string.Join(\", \", Enumerable.Range(1, 3).Select(i => $\"{i:N1}\")); var d = new DateTime(2025, 1, 2).AddDays(3); Console.WriteLine(d);")]
    [InlineData("var x = System.Xml.Linq.XDocument.Parse(\"<a>1</a>\").Root!.Value; var j = System.Text.Json.JsonSerializer.Serialize(new { A = 1 }); var m = System.Text.RegularExpressions.Regex.Match(\"a1\", \"[0-9]\").Value;")]
    [InlineData("var t = new System.Data.DataTable(); t.Columns.Add(\"x\"); t.Rows.Add(1); var s = new StringReader(\"a\\nb\").ReadLine(); var w = new StringWriter(); w.Write(s); var p = Path.Combine(\"a\", \"b\");")]
    [InlineData("var x = new Dictionary<Key, int> { [new Key(\"a\", 1)] = 2 }; var groups = new[] { 1, 2, 3 }.GroupBy(i => new { Odd = i % 2 }).ToList(); var n = Environment.NewLine; record struct Key(string A, int B);")]
    [InlineData("try { throw new InvalidOperationException(\"x\"); } catch (Exception e) { Console.WriteLine(e.Message); } var h = Convert.ToHexString(System.Security.Cryptography.SHA256.HashData([1, 2]));")]
    [InlineData("var l = await Task.FromResult(3); var q = new[] { 3, 1 }.AsParallel().Sum(); var s = new HashSet<string>(StringComparer.OrdinalIgnoreCase); Span<int> b = stackalloc int[4]; b.Fill(2); (int A, string B) tuple = (1, \"x\");")]
    [InlineData("var fit = Regression.LeastSquares(new[] { new P(1, 2), new P(2, 2.9), new P(3, 4.2), new P(4, 5) }, p => p.Y, p => new { Log = Math.Log(p.X) }); record P(double X, double Y);")]
    [InlineData("var text = Reading.Read(\"a.csv\");\nstatic class Reading { [DeclaresInputs] public static string Read(string path) { return new[] { Inputs.Declare(path) }.Select(p => File.ReadAllText(p)).First(); } }")]
    public void What_is_known_or_declared_keeps_a_unit_unchanged_until_it_changes(string code)
    {
        folder.Write("a.csv", "x\n1\n2\n");
        var first = Run(code);
        Assert.True(Counts(first) == "2 made, 0 unchanged, 0 failed", first.Outcomes[0].Error?.ToString());
        var again = Run(code);
        Assert.Equal("", string.Join('\n', again.Diagnostics));
        Assert.Equal("0 made, 2 unchanged, 0 failed", Counts(again));
        if (!code.Contains("a.csv", StringComparison.Ordinal)) return;
        folder.Write("a.csv", "x\n1\n3\n4\n");
        Assert.Equal("2 made, 0 unchanged, 0 failed", Counts(Run(code)));
    }

    [Fact]
    public void A_program_keeps_a_unit_unchanged_if_its_step_says_what_it_reads()
    {
        folder.Write("a.csv", "x\n1\n");
        folder.Write("count.sh", "cat a.csv > $1.csv\n");
        const string Declared = $"{Fence}script prepare\nrun: sh count.sh {{apiary}}\nreads: a.csv\nwrites: {{apiary}}.csv\n{Fence}\n\n{Fence}script table x\nrun: cat {{apiary}}.csv\nreads: a.csv\n{Fence}\n";
        Assert.Equal("2 made, 0 unchanged, 0 failed", Counts(Run("", "scripts: allowed\n", Declared)));
        var again = Run("", "scripts: allowed\n", Declared);
        Assert.Equal("", string.Join('\n', again.Diagnostics));
        Assert.Equal("0 made, 2 unchanged, 0 failed", Counts(again));
        folder.Write("a.csv", "x\n2\n3\n");
        Assert.Equal("2 made, 0 unchanged, 0 failed", Counts(Run("", "scripts: allowed\n", Declared)));
        Assert.Equal("0 made, 2 unchanged, 0 failed", Counts(Run("", "scripts: allowed\n", Declared)));
        // The program itself is named by the command.
        folder.Write("count.sh", "cat a.csv a.csv | head -3 > $1.csv\n");
        Assert.Equal("2 made, 0 unchanged, 0 failed", Counts(Run("", "scripts: allowed\n", Declared)));

        const string Silent = $"{Fence}script table x\nrun: cat a.csv\n{Fence}\n";
        Run("", "scripts: allowed\n", Silent);
        var unknown = Run("", "scripts: allowed\n", Silent);
        Assert.Equal("2 made, 0 unchanged, 0 failed", Counts(unknown));
        Assert.Equal($"{folder.File("unit.ms.md")}:11:1: advice: nobody knows what the program of this step reads, so that every unit counts as changed; name its files in the head of the step, such as `reads: data/hives.csv`", unknown.Diagnostics.Single().ToString());
    }

    [Fact]
    public void The_setting_data_speaks_for_files_but_not_for_the_clock()
    {
        var reads = $"var x = File.ReadAllText(\"{folder.Write("a.txt", "1")}\");";
        Run(reads, "data: a.txt\n");
        Assert.Equal("0 made, 2 unchanged, 0 failed", Counts(Run(reads, "data: a.txt\n")));
        Run(reads + " var y = DateTime.Now;", "data: a.txt\n");
        Assert.Equal("2 made, 0 unchanged, 0 failed", Counts(Run(reads + " var y = DateTime.Now;", "data: a.txt\n")));
        var missing = Assert.Throws<ReportException>(() => Run(reads, "data: nots.txt\n"));
        Assert.Equal($"{folder.File("unit.ms.md")}:3:7: error: there is no file `nots.txt`", missing.Diagnostics.Single().ToString().Split(';')[0]);
    }

    [Fact]
    public void A_function_is_trusted_only_as_far_as_its_code_is_known()
    {
        var path = folder.Write("a.csv", "x\n1\n2\n");
        var outside = path.Length;
        Assert.Contains("`outside` from around it", Undeclared(_ => new Report($"{outside}")), StringComparison.Ordinal);
        Assert.Contains("`DateTime.Now`", Undeclared(_ => new Report($"{DateTime.Now:yyyy}")), StringComparison.Ordinal);
        Assert.Contains("`File.Exists`", Undeclared(_ => new Report($"{Helper()}")), StringComparison.Ordinal);
        Assert.Equal("", Undeclared(unit => new Report($"{unit["apiary"]} {Once("rows", () => 7)} {Csv.Read<Row>(unit["file"]!).Count}")));
        Assert.Equal("", Undeclared([DeclaresInputs] (unit) => new Report($"{File.ReadAllText(unit["file"]!)}")));

        static string Helper() => File.Exists("a.csv") ? "here" : "not here";
    }

    /// <summary>What a batch says of a function when it runs again.</summary>
    private string Undeclared(Func<BatchUnit, Report> make)
    {
        var into = folder.File(Guid.NewGuid().ToString("N"));
        var batch = Batch.Of(Roster.Of([new { apiary = "Alder", file = folder.File("a.csv") }, new { apiary = "Birch", file = folder.File("a.csv") }]), make);
        var first = batch.Run(into);
        Assert.True(first.Count(UnitState.Failed) == 0, first.Outcomes[0].Error?.ToString());
        var again = batch.Run(into);
        Assert.Equal(again.Diagnostics.IsEmpty ? "0 made, 2 unchanged, 0 failed" : "2 made, 0 unchanged, 0 failed", Counts(again));
        return string.Join('\n', again.Diagnostics);
    }

    private sealed record Row(double X);
}
