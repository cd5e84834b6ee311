using System.Diagnostics;
using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>Steps that run programs of other languages.</summary>
public sealed class ScriptStepTests : IDisposable
{
    private const string Coefficients = "model,term,estimate,std_error\\nSimple,const,20.5,0.5\\nSimple,mites,-1.5,0.4\\n";

    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private string Write(string steps, string settings = "scripts: allowed\n") => folder.Write("report.ms.md", $"```manuscript\ntitle: Scripts\n{settings}```\n\n{steps}\n");

    private Docx Run(string steps, string settings = "scripts: allowed\n")
    {
        Manuscript.Open(Write(steps, settings)).Write();
        return WordClean.Check(folder.File("report.docx"));
    }

    private string Fail(string steps, string settings = "scripts: allowed\n") => Assert.Throws<ReportException>(() => Manuscript.Open(Write(steps, settings)).Write()).Message;

    [Fact]
    public void What_a_program_writes_becomes_what_the_role_asks_for()
    {
        var docx = Run($$"""
            ```csharp prepare
            var half = 2.5;
            var day = new DateOnly(2025, 11, 3);
            var name = "two words";
            ```

            See {see models} and {see drawn}.

            ```script table models
            run: printf "{{Coefficients}}"
            caption: Models of {half}
            ```

            ```script table words
            run: sh -s -- {half} {day} "{name} more" \{x\} "a \"b\""
            caption: Words
            =>
            echo "word"
            for w in "$@"; do echo "\"$(echo "$w" | sed 's/"/""/g')\""; done
            ```

            ```script table json
            run: echo '[\{"place": "Mill Lane", "kg": 1.25\}, \{"place": "Ash Hill", "kg": null\}]'
            caption: From JSON
            ```

            ```script figure drawn
            run: sh
            writes: out/{half}.svg, out/second.txt
            caption: Drawn
            alt: A bar
            =>
            echo '<svg xmlns="http://www.w3.org/2000/svg" width="400" height="200"><rect width="100" height="160"/></svg>' > out/2.5.svg
            echo second > out/second.txt
            ```

            ```script text
            run: sh
            =>
            echo 'A *new* sentence with {braces}.'
            echo hush >&2
            ```

            ```script show
            run: sh
            =>
            echo $((40 + 2))
            ```

            ```csharp text
            File.ReadAllText(Inputs.Declare("out/second.txt"))
            ```
            """);
        var text = docx.AllText.Replace('\u00A0', ' ');
        foreach (var expected in (string[])["See Table 1 and Figure 1.", "Models of 2.5", "Mites", "−1.500", "(0.400)", "Constant", "two words more", "2025-11-03", "{x}", "a \"b\"", "Mill Lane", "1.25", "A new sentence with {braces}.", "echo $((40 + 2))", "42", "second"])
            Assert.Contains(expected, text, StringComparison.Ordinal);
        Assert.DoesNotContain("hush", text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("table x\nrun: nonesuch a", "report.ms.md:7:1: error: there is no program `nonesuch`; install it, or write where it is")]
    [InlineData("table x\nrun: ./nonesuch a", "there is no program `./nonesuch`; programs are named from the folder of the manuscript")]
    [InlineData("table x\nrun: sh\n=>\necho oops >&2; exit 3", "`sh` failed with exit code 3: oops")]
    [InlineData("table x\nrun: sh -c \"kill -9 $$\"", "was ended by signal 9")]
    [InlineData("table x\nrun: true", "the output of `true` is empty; let it write a table as CSV or JSON")]
    [InlineData("figure x\nrun: echo hello", "the output of `echo hello` cannot be placed as a figure: the stream holds no PNG")]
    [InlineData("table x\nrun: sh\n=>\necho a,b; echo 1,2,3", "the output of `sh`:2:3: this row has 3 cells, but the file has 2 columns")]
    [InlineData("table x\nrun: sh\n=>\necho term,estimate,std_error; echo a,1,x", "the output of `sh`:2:3: `x` is not a number")]
    [InlineData("text\nrun: printf \"\\351\"", "its output is not text in UTF-8; let the program write UTF-8")]
    [InlineData("table x\nreads: a", "report.ms.md:6:1: error: this step does not say what it runs; write the program and its arguments at its top, such as `run: python3 models.py`")]
    [InlineData("table x\nrun: true\nwrites: q.csv", "report.ms.md:8:9: error: `true` did not write `q.csv`")]
    [InlineData("table x\nrun: true\nwrites: old.csv", "`true` left `old.csv` as it was before; let it write its result each time")]
    [InlineData("table x\nrun: true\nreads: none*.csv", "report.ms.md:8:8: error: there is no file `none*.csv`, which this step reads")]
    [InlineData("table x\nrun: true\nlimit: long", "report.ms.md:8:8: error: `long` is not a time; write a number and `s`, `min` or `h`, such as `30 min`")]
    [InlineData("figure x\nrun: true\npalette: #000000", "`palette` is not a setting of a `figure` step that runs a program; it takes `run`")]
    [InlineData("tabel x\nrun: true", "`tabel` is not a role of a step; did you mean `table`?")]
    [InlineData("\nrun: true", "`script` alone is neither a step nor a listing; write `script table NAME`")]
    [InlineData("table x\nrun: echo \"a", "report.ms.md:7:6: error: a \" of this command has no end; close it")]
    [InlineData("table x\nrun: echo {nothing}", "report.ms.md:12:12: error: `nothing` is nothing (null), which cannot be handed to a program")]
    [InlineData("table x\nrun: echo {many}", "report.ms.md:12:12: error: `many` is a sequence, not a single value")]
    [InlineData("table x\nrun: echo {unknown}", "report.ms.md:12:12: error: the name 'unknown' does not exist")]
    [InlineData("table x\nrun: yes", "`yes` was ended: it had written more than 256 MB")]
    public void What_is_wrong_with_a_program_is_told(string step, string expected)
    {
        folder.Write("old.csv", "a\n1\n");
        var names = step.Contains('{', StringComparison.Ordinal) ? "```csharp prepare\nstring? nothing = null;\nint[] many = [1, 2];\n```\n\n" : "";
        Assert.Contains(expected, Fail($"{names}```script {step}\n```\n").Replace(folder.Path + "/", "", StringComparison.Ordinal), StringComparison.Ordinal);
    }

    [Fact]
    public void A_program_that_hangs_is_ended_with_what_it_started()
    {
        var watch = Stopwatch.StartNew();
        var told = Fail("```script table x\nrun: sh\nlimit: 1.5 s\n=>\nsleep 300 &\necho $! > child\nwait\n```");
        Assert.Contains("`sh` was ended: it had not come to its end in 1.5 s; see what it waits for; if it needs longer, write `limit: 1h` into the head of its step", told, StringComparison.Ordinal);
        var child = int.Parse(File.ReadAllText(folder.File("child")), CultureInfo.InvariantCulture);
        Assert.True(SpinWait.SpinUntil(() => !File.Exists($"/proc/{child}/stat") || File.ReadAllText($"/proc/{child}/stat").Contains(") Z ", StringComparison.Ordinal), TimeSpan.FromSeconds(20)));
        Assert.True(watch.Elapsed < TimeSpan.FromSeconds(100));
    }

    [Fact]
    public void No_program_runs_where_the_manuscript_does_not_allow_it()
    {
        const string Step = "```script prepare\nrun: touch ran\n```";
        const string Told = "this step runs a program, which the settings do not allow; write `scripts: allowed` into the settings of the manuscript";
        Assert.Contains(Told, Fail(Step, ""), StringComparison.Ordinal);
        Assert.Contains(Told, Fail(Step, "scripts: refused\n"), StringComparison.Ordinal);
        Assert.Contains("`yes` does not say whether steps may run programs; write `allowed` or `refused`", Fail(Step, "scripts: yes\n"), StringComparison.Ordinal);
        folder.Write("fennick.settings", "scripts: allowed\n");
        Assert.Contains("`scripts` cannot stand in settings that manuscripts share", Fail(Step, ""), StringComparison.Ordinal);
        File.Delete(folder.File("fennick.settings"));
        Assert.False(File.Exists(folder.File("ran")));
        Manuscript.Open(Write(Step, ""), new Dictionary<string, string> { ["scripts"] = "allowed" }).Write();
        Assert.True(File.Exists(folder.File("ran")));
    }

    [Fact]
    public void Code_of_a_program_comes_from_a_file_and_is_listed_on_wish()
    {
        folder.Write("count.sh", "echo valley,hives\necho Otterdale,12\n");
        var docx = Run("```script table x\nrun: sh\nfrom: count.sh\nlisting: shown\ncaption: Hives\n```\n\n```script table y\nrun: echo a,b,1\nlisting: shown\ncaption: Other\n=>\n```\n");
        Assert.Contains("echo valley,hives", docx.AllText, StringComparison.Ordinal);
        Assert.Contains("echo a,b,1", docx.AllText, StringComparison.Ordinal);
        Assert.Contains("Otterdale", docx.AllText, StringComparison.Ordinal);
    }
}
