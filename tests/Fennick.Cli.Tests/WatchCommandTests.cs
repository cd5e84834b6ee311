using System.Globalization;
using System.Net;
using System.Text;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>A manuscript that is being watched, as its page is told of it.</summary>
public sealed class WatchCommandTests : IDisposable
{
    private const string Start = "```manuscript\ntitle: Hives\n```\n\n```csharp prepare data\nvar weights = File.ReadAllLines(Inputs.Declare(\"weights.txt\")).Select(double.Parse).ToArray();\nConsole.WriteLine(\"read\");\n```\n\n# Honey\n\nThe hives gave {weights.Sum():0.0} kg.\n";
    private readonly TestFolder folder = new();

    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    public WatchCommandTests() => folder.Write("weights.txt", "1.5\n2.5\n");

    public void Dispose() => folder.Dispose();

    [Fact]
    public void A_changed_sentence_and_changed_data_are_shown_and_the_document_is_written_beside()
    {
        folder.Write("m.ms.md", Start);
        using var watch = new WatchedReport(folder.Path, "m.ms.md");
        watch.WaitForText("gave <span class=\"value\" data-origin=\"0\">4.0</span> kg");
        var state = watch.Wait("state", e => e.TryGetProperty("steps", out _));
        var step = Assert.Single(state.GetProperty("steps").EnumerateArray());
        Assert.Equal(("data", "prepare", 5, "read\n"), (step.GetProperty("name").GetString(), step.GetProperty("role").GetString(), step.GetProperty("line").GetInt32(), step.GetProperty("written").GetString()));
        var report = watch.Wait("report", _ => true).GetProperty("report");
        var origin = Assert.Single(report.GetProperty("origins").EnumerateArray());
        Assert.Equal(("weights.Sum()", "0.0", "4", "m.ms.md", 12, 17), (origin.GetProperty("expression").GetString(), origin.GetProperty("format").GetString(), origin.GetProperty("value").GetString(), origin.GetProperty("file").GetString(), origin.GetProperty("line").GetInt32(), origin.GetProperty("column").GetInt32()));
        Assert.Contains("<p data-at=\"m.ms.md:12\">", report.GetProperty("html").GetString(), StringComparison.Ordinal);
        watch.Wait("document", _ => true);
        Assert.Contains("The hives gave 4.0 kg.", WordClean.Check(folder.File("m.docx")).Paragraphs);

        var before = watch.Count;
        folder.Write("weights.txt", "1.5\n3.5\n");
        watch.WaitForText(">5.0</span> kg", before);
        watch.Wait("document", _ => true, before);
        before = watch.Count;
        // As editors save: beside, then renamed.
        File.WriteAllText(folder.File(".m.tmp"), Start + "\nThe year was dry.\n");
        File.Move(folder.File(".m.tmp"), folder.File("m.ms.md"), overwrite: true);
        watch.WaitForText("The year was dry.", before);
        watch.Wait("document", _ => true, before);
        Assert.Contains("The year was dry.", WordClean.Check(folder.File("m.docx")).Paragraphs);
        // The document is the same as the one that is written without anybody looking.
        var seen = File.ReadAllBytes(folder.File("m.docx"));
        Assert.Equal(0, FennickCommand.Run(folder.Path, "write", "m.ms.md", "--out", "again.docx").ExitCode);
        Assert.Equal(seen, File.ReadAllBytes(folder.File("again.docx")));

        var ended = watch.End();
        Assert.Equal(0, ended.ExitCode);
        Assert.Equal(folder.File("m.docx") + "\n", ended.Output);
        Assert.Matches(@"watching; Ctrl-C ends it\n\d\d:\d\d:\d\d  1 page in [\d.]+ m?s\n", ended.Errors);
        Assert.DoesNotContain(folder.Path, Command.Run("ps", ["-eo", "args"]).Output, StringComparison.Ordinal);
    }

    [Fact]
    public void An_error_is_told_with_its_lines_and_the_report_before_stays()
    {
        folder.Write("m.ms.md", Start);
        using var watch = new WatchedReport(folder.Path, "m.ms.md", "--no-document");
        watch.WaitForText("4.0");
        var before = watch.Count;
        folder.Write("m.ms.md", Start.Replace("weights.Sum", "weigths.Sum", StringComparison.Ordinal));
        var problem = watch.WaitForProblem("the name 'weigths' does not exist", before);
        Assert.Equal(("error", "m.ms.md", 12, 17, "did you mean `weights`?"), (problem.GetProperty("severity").GetString(), problem.GetProperty("file").GetString(), problem.GetProperty("line").GetInt32(), problem.GetProperty("column").GetInt32(), problem.GetProperty("suggestion").GetString()));
        Assert.Equal(["10 # Honey", "11 ", "12 The hives gave {weigths.Sum():0.0} kg."], problem.GetProperty("code").EnumerateArray().Select(l => $"{l.GetProperty("number").GetInt32()} {l.GetProperty("text").GetString()}"));

        before = watch.Count;
        folder.Write("m.ms.md", Start.Replace("kg.", "kilograms.", StringComparison.Ordinal));
        watch.WaitForText("kilograms.", before);
        Assert.False(File.Exists(folder.File("m.docx")));
    }

    [Fact]
    public void A_file_that_was_missing_and_a_manuscript_that_was_away_are_waited_for()
    {
        folder.Write("m.ms.md", Start.Replace("weights.txt", "later.txt", StringComparison.Ordinal));
        using var watch = new WatchedReport(folder.Path, "m.ms.md", "--no-document");
        watch.WaitForProblem("later.txt");
        folder.Write("later.txt", "8\n");
        watch.WaitForText("8.0");
        var before = watch.Count;
        File.Move(folder.File("m.ms.md"), folder.File("away.txt"));
        watch.WaitForProblem("there is no such manuscript", before);
        before = watch.Count;
        folder.Write("m.ms.md", Start.Replace("Honey", "Harvest", StringComparison.Ordinal));
        watch.WaitForText("Harvest", before);
    }

    [Fact]
    public void What_a_step_does_to_its_process_does_nothing_to_the_watch()
    {
        folder.Write("m.ms.md", Start);
        using var watch = new WatchedReport(folder.Path, "m.ms.md", "--no-document");
        watch.WaitForText("4.0");
        var cases = new (string Code, string Message)[]
        {
            ("throw new InvalidOperationException(\"no bees\");", "no bees"),
            ("Environment.Exit(3);", "step `bad`, or an expression behind it, ended the process (exit code 3)"),
            ("int Down(int n) => n == -1 ? 0 : Down(n + 1) + 1;\nvar deep = Down(0);", "calls itself without end"),
            ("new System.Threading.Thread(() => throw new Exception(\"aside\")).Start();\nSystem.Threading.Thread.Sleep(5000);", "has an exception on a thread of its own: aside"),
        };
        foreach (var (code, message) in cases)
        {
            var before = watch.Count;
            folder.Write("m.ms.md", Start + $"\n```csharp prepare bad\n{code}\n```\n");
            var problem = watch.WaitForProblem(message, before);
            Assert.True(problem.GetProperty("line").GetInt32() >= 14, problem.ToString());
        }
        // A step without end is overtaken by the next change; megabytes on the console disturb nobody.
        var at = watch.Count;
        folder.Write("m.ms.md", Start + "\n```csharp prepare endless\nwhile (true) { }\n```\n");
        watch.Wait("state", e => e.TryGetProperty("step", out var step) && step.GetProperty("name").GetString() == "endless", at);
        folder.Write("m.ms.md", Start + "\n```csharp prepare loud\nfor (var i = 0; i < 100_000; i++) Console.WriteLine(\"a line of chatter that nobody reads to its end\");\n```\n\nAll is well.\n");
        watch.WaitForText("All is well.", at);
    }

    [Fact]
    public async Task Only_the_page_itself_is_answered()
    {
        folder.Write("m.ms.md", Start);
        using var watch = new WatchedReport(folder.Path, "m.ms.md", "--no-document");
        watch.WaitForText("4.0");
        using var client = new HttpClient();
        var page = await client.GetAsync(watch.Address, Stop);
        Assert.Equal(HttpStatusCode.OK, page.StatusCode);
        Assert.StartsWith("default-src 'none'; script-src 'self'", page.Headers.GetValues("Content-Security-Policy").Single(), StringComparison.Ordinal);
        foreach (var part in new[] { "", "live.js", "live.css" }) Assert.DoesNotMatch("https?://", await client.GetStringAsync(new Uri(watch.Address, part), Stop));

        HttpStatusCode Ask(string path, HttpMethod method, params (string Name, string Value)[] headers)
        {
            using var request = new HttpRequestMessage(method, new Uri(watch.Address, path));
            foreach (var (name, value) in headers) request.Headers.TryAddWithoutValidation(name, value);
            if (method == HttpMethod.Post) request.Content = new StringContent("{\"again\":true}", Encoding.UTF8, "application/json");
            return client.Send(request, HttpCompletionOption.ResponseHeadersRead).StatusCode;
        }

        var port = watch.Address.Port.ToString(CultureInfo.InvariantCulture);
        Assert.Equal(HttpStatusCode.NotFound, Ask("/", HttpMethod.Get));
        Assert.Equal(HttpStatusCode.NotFound, Ask("/0123456789abcdef0123456789abcdef/events", HttpMethod.Get));
        Assert.Equal(HttpStatusCode.NotFound, Ask("appsettings.json", HttpMethod.Get));
        Assert.Equal(HttpStatusCode.Forbidden, Ask("events", HttpMethod.Get, ("Host", $"evil.example:{port}")));
        Assert.Equal(HttpStatusCode.Forbidden, Ask("events", HttpMethod.Get, ("Origin", "https://evil.example")));
        Assert.Equal(HttpStatusCode.Forbidden, Ask("events", HttpMethod.Get, ("Sec-Fetch-Site", "cross-site"), ("Sec-Fetch-Mode", "cors")));
        Assert.Equal(HttpStatusCode.Forbidden, Ask("ask", HttpMethod.Post, ("Origin", "null")));
        Assert.Equal(HttpStatusCode.OK, Ask("events", HttpMethod.Get, ("Origin", $"http://127.0.0.1:{port}")));
        Assert.Equal(HttpStatusCode.NoContent, Ask("ask", HttpMethod.Post, ("Origin", $"http://127.0.0.1:{port}")));
        using var form = new StringContent("{\"again\":true}", Encoding.UTF8, "text/plain");
        Assert.Equal(HttpStatusCode.BadRequest, (await client.PostAsync(new Uri(watch.Address, "ask"), form, Stop)).StatusCode);
        watch.Wait("state", e => e.GetProperty("run").GetInt32() > 1);

        var second = FennickCommand.Run(folder.Path, "watch", "m.ms.md", "--port", port);
        Assert.Equal((1, $"error: the port {port} is in use; name another with `--port`, or leave it out for one that is free\n"), (second.ExitCode, second.Errors));
    }

    [Fact]
    public async Task The_editor_is_called_with_files_of_the_report_alone()
    {
        folder.Write("m.ms.md", Start);
        folder.Write("editor.sh", "#!/bin/sh\necho \"$@\" >> calls.txt\n");
        File.SetUnixFileMode(folder.File("editor.sh"), UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
        using var watch = new WatchedReport(folder.Path, "m.ms.md", "--no-document", "--editor", $"\"{folder.File("editor.sh")}\" --goto {{file}}:{{line}}:{{column}}");
        watch.WaitForText("4.0");
        Assert.True(watch.Wait("setup", _ => true).GetProperty("hasEditor").GetBoolean());
        using var client = new HttpClient();
        foreach (var file in new[] { "/etc/passwd", "m.ms.md" })
        {
            using var question = new StringContent($"{{\"open\":\"{file}\",\"line\":12,\"column\":17}}", Encoding.UTF8, "application/json");
            Assert.Equal(HttpStatusCode.NoContent, (await client.PostAsync(new Uri(watch.Address, "ask"), question, Stop)).StatusCode);
        }
        var limit = DateTime.UtcNow.AddSeconds(20);
        // The shell makes the file before it writes into it.
        while ((!File.Exists(folder.File("calls.txt")) || new FileInfo(folder.File("calls.txt")).Length == 0) && DateTime.UtcNow < limit) Thread.Sleep(50);
        Assert.Equal($"--goto {folder.File("m.ms.md")}:12:17\n", File.ReadAllText(folder.File("calls.txt")));
    }

    [Fact]
    public void One_unit_of_a_roster_is_watched()
    {
        folder.Write("m.ms.md", "```manuscript\nparameter apiary: Mill\nparameter hives: 1\n```\n\n{apiary} has {hives} hives.\n");
        folder.Write("r.csv", "apiary,hives,keeper\nMill,3,Ann\nFen,7,Bo\n");
        using (var watch = new WatchedReport(folder.Path, "m.ms.md", "--no-document", "--roster", "r.csv", "--unit", "Fen"))
        {
            watch.WaitForText(">Fen</span> has <span class=\"value\" data-origin=\"1\">7</span> hives");
            var before = watch.Count;
            folder.Write("r.csv", "apiary,hives,keeper\nMill,3,Ann\nFen,8,Bo\n");
            watch.WaitForText(">8</span> hives", before);
            before = watch.Count;
            folder.Write("r.csv", "apiary,hives,keeper\nMill,3,Ann\nFern,8,Bo\n");
            Assert.Equal("did you mean `Fern`?", watch.WaitForProblem("no unit has `Fen` in the first column, `apiary`", before).GetProperty("suggestion").GetString());
        }
        var wrong = FennickCommand.Run(folder.Path, "watch", "m.ms.md", "--unit", "Fen");
        Assert.Equal((2, "error: `--roster` and `--unit` go together: the table, and what stands in the first column of the unit\nSee `fennick watch --help`.\n"), (wrong.ExitCode, wrong.Errors));
        Assert.Equal((1, "notes.md:1:1: error: a manuscript's name ends in `.ms.md`; rename the file, or name another\n"), FennickCommand.Run(folder.Path, "watch", "notes.md") is var named ? (named.ExitCode, named.Errors) : default);
    }

    [Fact]
    public async Task Steps_that_nothing_has_changed_for_do_not_run_again_unless_asked()
    {
        const string Text = "```csharp prepare slow\nvar slow = Enumerable.Range(1, 3).Select(i => new { Id = i, Weight = i * 2 }).ToList();\nConsole.WriteLine(\"slow ran\");\n```\n\nThe sum is {slow.Sum(s => s.Weight)}.\n\n```csharp prepare last\nvar last = slow.Count * 5;\n```\n\nThe last is {last}.\n";
        folder.Write("m.ms.md", Text);
        using var watch = new WatchedReport(folder.Path, "m.ms.md", "--no-document");
        watch.WaitForText(">15</span>");
        Assert.Equal("slow False slow ran, last False ", Steps(0));
        var before = watch.Count;
        folder.Write("m.ms.md", Text.Replace("* 5", "* 7", StringComparison.Ordinal));
        watch.WaitForText(">21</span>", before);
        Assert.Equal("slow True slow ran, last False ", Steps(before));
        before = watch.Count;
        folder.Write("m.ms.md", "Something new.\n\n" + Text.Replace("* 5", "* 7", StringComparison.Ordinal));
        watch.WaitForText("Something new.", before);
        Assert.Equal("slow True slow ran, last True ", Steps(before));
        var origin = watch.Wait("report", _ => true, before).GetProperty("report").GetProperty("origins")[0];
        Assert.Equal(8, origin.GetProperty("line").GetInt32());
        before = watch.Count;
        folder.Write("m.ms.md", Text.Replace("i * 2", "i * 3", StringComparison.Ordinal));
        watch.WaitForText(">18</span>", before);
        Assert.Equal("slow False slow ran, last False ", Steps(before));
        before = watch.Count;
        using var client = new HttpClient();
        using var again = new StringContent("{\"again\":true}", Encoding.UTF8, "application/json");
        await client.PostAsync(new Uri(watch.Address, "ask"), again, Stop);
        Assert.Equal("slow False slow ran, last False ", Steps(before));

        string Steps(int from) => string.Join(", ", watch.Wait("state", e => e.TryGetProperty("steps", out _), from).GetProperty("steps").EnumerateArray()
            .Select(s => $"{s.GetProperty("name").GetString()} {s.GetProperty("isReused").GetBoolean()} {s.GetProperty("written").GetString()!.Trim()}"));
    }

    [Fact]
    public void A_program_runs_again_and_the_report_that_it_saves_is_shown()
    {
        var start = $"#:project {Repository.PathOf("src", "Fennick", "Fennick.csproj")}\n#:project {Repository.PathOf("src", "Fennick.Data", "Fennick.Data.csproj")}\n\nusing Fennick;\nusing Fennick.Data;\n\nvar sum = Csv.Read<Hive>(\"hives.csv\").Sum(h => h.Kg);\nConsole.WriteLine(\"read\");\nnew Report(\"Hives\").Text($\"The hives gave {{sum:0.0}} kg.\").Save(\"hives.docx\");\n\nrecord Hive(double Kg);\n";
        folder.Write("hives.csv", "Kg\n1.5\n2.5\n");
        folder.Write("report.cs", start);
        using var watch = new WatchedReport(folder.Path, "report.cs");
        watch.WaitForText("The hives gave 4.0 kg.");
        Assert.Equal("read\n", Assert.Single(watch.Wait("state", e => e.TryGetProperty("steps", out _)).GetProperty("steps").EnumerateArray()).GetProperty("written").GetString());
        Assert.Equal(folder.File("hives.docx"), watch.Wait("document", _ => true).GetProperty("path").GetString());
        Assert.Contains("The hives gave 4.0 kg.", WordClean.Check(folder.File("hives.docx")).Paragraphs);

        // Data that it reads, a mistake in its code, a mistake when it runs.
        var before = watch.Count;
        folder.Write("hives.csv", "Kg\n1.5\n3.5\n");
        watch.WaitForText("The hives gave 5.0 kg.", before);
        before = watch.Count;
        folder.Write("report.cs", start.Replace("sum:0.0", "sun:0.0", StringComparison.Ordinal));
        var problem = watch.WaitForProblem("the name 'sun' does not exist", before);
        Assert.Equal(("report.cs", 9, 44), (problem.GetProperty("file").GetString(), problem.GetProperty("line").GetInt32(), problem.GetProperty("column").GetInt32()));
        before = watch.Count;
        folder.Write("report.cs", start.Replace("Console.WriteLine(\"read\");", "throw new InvalidOperationException(\"no honey\");", StringComparison.Ordinal));
        var thrown = watch.WaitForProblem("no honey (InvalidOperationException)", before);
        Assert.Equal(("report.cs", 8), (thrown.GetProperty("file").GetString(), thrown.GetProperty("line").GetInt32()));
        before = watch.Count;
        folder.Write("report.cs", start.Replace("gave", "yielded", StringComparison.Ordinal));
        watch.WaitForText("The hives yielded 5.0 kg.", before);
        Assert.Equal(0, watch.End().ExitCode);

        var wrong = FennickCommand.Run(folder.Path, "watch", "report.cs", "--out", "x.docx");
        Assert.Equal((2, "error: `--out` is for manuscripts; a program sets its values and saves its report itself\nSee `fennick watch --help`.\n"), (wrong.ExitCode, wrong.Errors));
    }

    [Fact]
    public void Two_may_watch_the_same_manuscript()
    {
        folder.Write("m.ms.md", Start);
        using var first = new WatchedReport(folder.Path, "m.ms.md");
        using var second = new WatchedReport(folder.Path, "m.ms.md");
        first.WaitForText("4.0");
        second.WaitForText("4.0");
        folder.Write("m.ms.md", Start + "\nBoth see this.\n");
        first.WaitForText("Both see this.");
        second.WaitForText("Both see this.");
        first.Wait("document", _ => true, 3);
        WordClean.Check(folder.File("m.docx"));
        Assert.Equal(["m.docx"], Directory.GetFiles(folder.Path, "*.docx").Select(f => Path.GetFileName(f)));
    }
}
