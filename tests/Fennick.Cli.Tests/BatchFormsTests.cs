using System.Text.RegularExpressions;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>Batches that write other forms beside their documents.</summary>
public sealed class BatchFormsTests : IDisposable
{
    private const string Manuscript = "```manuscript\ntitle: Apiary {apiary}\nparameter apiary: Alder\n```\n\n# Hives\n\nThe hives of {apiary} stand in a valley.\n";
    private readonly TestFolder folder = new();

    public BatchFormsTests()
    {
        folder.Write("m.ms.md", Manuscript);
        folder.Write("r.csv", "apiary,valley\nAlder,north\nBirch,south\nAlder,south\n");
    }

    public void Dispose() => folder.Dispose();

    private string[] Files(string of = "out") => [.. Directory.GetFiles(folder.File(of), "*", SearchOption.AllDirectories).Select(f => Path.GetRelativePath(folder.File(of), f)).Order(StringComparer.Ordinal)];

    private CommandResult Batch(params string[] more) => FennickCommand.Run(folder.Path, ["batch", "m.ms.md", "--roster", "r.csv", "--into", "out", "--name", "{valley}/{apiary}.docx", .. more]);

    private CommandResult BatchWith(string program, params string[] more) =>
        FennickCommand.Run(folder.Path, new Dictionary<string, string> { ["PATH"] = program + ":/usr/bin:/bin", ["FENNICK_PDF_PATIENCE"] = "4" }, ["batch", "m.ms.md", "--roster", "r.csv", "--into", "out", "--name", "{valley}/{apiary}.docx", .. more]);

    /// <summary>A stand-in for the word processor, which gets the documents as its arguments from the eighth on.</summary>
    private string Program(string what)
    {
        var path = folder.Write("bin/soffice", $"#!/bin/bash\necho call >> '{folder.File("calls")}'\nout=$7\nshift 7\nfor d in \"$@\"; do\n  name=$(basename \"$d\" .docx)\n  {what}\ndone\n");
        File.SetUnixFileMode(path, (UnixFileMode)0x1ED);
        return folder.File("bin");
    }

    [Theory]
    [InlineData]
    [InlineData("--in-process")]
    public void Pages_and_texts_are_written_with_each_document_and_again_when_they_are_gone(params string[] more)
    {
        var first = Batch(["--also", "page,text", .. more]);
        Assert.True(first.ExitCode == 0, first.Errors);
        Assert.Equal(["index.csv", "ledger.jsonl", "north/Alder.docx", "north/Alder.html", "north/Alder.txt", "south/Alder.docx", "south/Alder.html", "south/Alder.txt", "south/Birch.docx", "south/Birch.html", "south/Birch.txt"], Files());
        WordClean.Check(folder.File("out/south/Birch.docx"));
        Assert.Contains("<p>The hives of Birch stand in a valley.</p>", File.ReadAllText(folder.File("out/south/Birch.html")), StringComparison.Ordinal);
        Assert.Contains("The hives of Birch stand in a valley.\n", File.ReadAllText(folder.File("out/south/Birch.txt")), StringComparison.Ordinal);

        File.Delete(folder.File("out/south/Birch.html"));
        Assert.Contains("1 made, 2 unchanged in ", Batch(["--also", "page,text", .. more]).Errors, StringComparison.Ordinal);
        Assert.True(File.Exists(folder.File("out/south/Birch.html")));
        Assert.Contains("3 unchanged in ", Batch(more).Errors, StringComparison.Ordinal);
    }

    [Fact]
    public void What_somebody_wrote_into_a_form_is_kept_and_what_is_of_an_older_document_is_told()
    {
        Assert.Equal(0, Batch("--also", "page,text").ExitCode);
        File.AppendAllText(folder.File("out/north/Alder.txt"), "A remark.\n");
        folder.Write("m.ms.md", Manuscript + "\nThe year was dry.\n");
        var again = Batch("--also", "text");
        Assert.Contains($"{folder.File("out/north/Alder.txt")}:1:1: warning: the old document was changed since it was made", again.Errors, StringComparison.Ordinal);
        Assert.Contains($"{folder.File("out/south/Birch.html")}:1:1: advice: this file is of an older document than the one beside it; ask for it again with `--also`, or remove it", again.Errors, StringComparison.Ordinal);
        Assert.EndsWith("A remark.\n", File.ReadAllText(Assert.Single(Directory.GetFiles(folder.File("out/north"), "Alder (kept *.txt"))), StringComparison.Ordinal);
        Assert.Contains("The year was dry.", File.ReadAllText(folder.File("out/north/Alder.txt")), StringComparison.Ordinal);
    }

    [Fact]
    public void A_form_is_never_written_over_what_the_reports_are_made_from()
    {
        folder.Write("m.ms.md", Manuscript + "\n{File.ReadAllText(Inputs.Declare(\"out/north/Alder.txt\"))}\n");
        folder.Write("out/north/Alder.txt", "These are data.");
        var result = Batch("--also", "text");
        Assert.Equal(3, result.ExitCode);
        Assert.Contains("the report would be written over a file that it is made from", result.Errors, StringComparison.Ordinal);
        Assert.Equal("These are data.", File.ReadAllText(folder.File("out/north/Alder.txt")));
        Assert.False(File.Exists(folder.File("out/north/Alder.docx")));
    }

    [Fact]
    public void Parts_are_gathered_with_their_forms_and_a_bound_document_has_them_too()
    {
        foreach (var part in new[] { "1/2", "2/2" })
            Assert.Equal(0, FennickCommand.Run(folder.Path, "batch", "m.ms.md", "--roster", "r.csv", "--into", $"part{part[0]}", "--name", "{valley}/{apiary}.docx", "--part", part, "--also", "page").ExitCode);
        Assert.Equal(0, FennickCommand.Run(folder.Path, "batch", "gather", "part1", "part2").ExitCode);
        Assert.Equal(["north/Alder.html", "south/Alder.html", "south/Birch.html"], Files("part1").Where(f => f.EndsWith(".html", StringComparison.Ordinal)));

        var bound = FennickCommand.Run(folder.Path, "batch", "m.ms.md", "--roster", "r.csv", "--name", "{valley}/{apiary}.docx", "--bind", "all.docx", "--also", "text");
        Assert.True(bound.ExitCode == 0, bound.Errors);
        Assert.Contains("The hives of Birch stand in a valley.", WordClean.Check(folder.File("all.docx")).Paragraphs);
        Assert.Contains("The hives of Birch stand in a valley.", File.ReadAllText(folder.File("all.txt")), StringComparison.Ordinal);
    }

    [Fact]
    public void All_pdfs_are_made_by_one_process_and_only_those_that_are_not_there()
    {
        WordProcessor.SkipIfMissing();
        var program = Program("");
        folder.Write("bin/soffice", $"#!/bin/bash\necho call >> '{folder.File("calls")}'\nexec /usr/bin/soffice \"$@\"\n");
        var first = FennickCommand.Run(folder.Path, new Dictionary<string, string> { ["PATH"] = program + ":/usr/bin:/bin" }, ["batch", "m.ms.md", "--roster", "r.csv", "--into", "out", "--name", "{valley}/{apiary}.docx", "--also", "pdf"]);
        Assert.True(first.ExitCode == 0, first.Errors);
        Assert.Contains("3 made, 3 PDFs in ", first.Errors, StringComparison.Ordinal);
        Assert.Single(File.ReadAllLines(folder.File("calls")));
        Assert.Contains("The hives of Birch stand in a valley.", Command.Run("pdftotext", [folder.File("out/south/Birch.pdf"), "-"]).Output, StringComparison.Ordinal);
        Assert.Contains("Title:           Apiary Alder", Command.Run("pdfinfo", [folder.File("out/north/Alder.pdf")]).Output, StringComparison.Ordinal);

        File.Delete(folder.File("out/south/Birch.pdf"));
        Assert.Contains("3 unchanged, 1 PDF in ", Batch("--also", "pdf").Errors, StringComparison.Ordinal);
        Assert.Contains("3 unchanged in ", Batch("--also", "pdf").Errors, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("[ $name = 1 ] && sleep 30; printf '%%PDF-1.7 %s %%%%EOF' $name > $out/$name.pdf", "the word processor made no PDF within 4 seconds, and was ended; try again")]
    [InlineData("[ $name = 1 ] && { echo 'it broke' >&2; kill -9 $$; }; printf '%%PDF-1.7 %s %%%%EOF' $name > $out/$name.pdf", "the word processor made no PDF: it broke; install")]
    [InlineData("[ $name = 1 ] && { printf '%%PDF-1.7 half' > $out/$name.pdf; kill -9 $$; }; printf '%%PDF-1.7 %s %%%%EOF' $name > $out/$name.pdf", "the word processor made no PDF; install")]
    public void A_document_that_the_word_processor_hangs_at_or_dies_of_costs_no_other_its_pdf(string what, string words)
    {
        var first = BatchWith(Program(what), "--also", "pdf");
        Assert.Equal(3, first.ExitCode);
        Assert.Contains($"{folder.File("out/south/Birch.pdf")}:1:1: error: {words}", first.Errors, StringComparison.Ordinal);
        Assert.Contains("2 made, 1 failed, 2 PDFs in ", first.Errors, StringComparison.Ordinal);
        Assert.Equal(["north/Alder.docx", "north/Alder.pdf", "south/Alder.docx", "south/Alder.pdf", "south/Birch.docx"], Files().Where(f => f.Contains('/', StringComparison.Ordinal)));
        Assert.Matches("south/Birch.docx,made,1,[0-9.]+,.*the word processor made no PDF", File.ReadAllText(folder.File("out/index.csv")));

        var again = BatchWith(Program("printf '%%PDF-1.7 %s %%%%EOF' $name > $out/$name.pdf"), "--also", "pdf");
        Assert.Equal(0, again.ExitCode);
        Assert.Contains("3 unchanged, 1 PDF in ", again.Errors, StringComparison.Ordinal);
    }

    [Fact]
    public void Without_a_word_processor_nothing_runs()
    {
        Directory.CreateDirectory(folder.File("bin"));
        var result = FennickCommand.Run(folder.Path, new Dictionary<string, string> { ["PATH"] = folder.File("bin") }, "batch", "m.ms.md", "--roster", "r.csv", "--into", "out", "--name", "{valley}/{apiary}.docx", "--also", "pdf");
        Assert.Equal(1, result.ExitCode);
        Assert.Contains("a PDF is made by the word processor, and there is none here; install it", result.Errors, StringComparison.Ordinal);
        Assert.DoesNotContain(Files(), f => f.EndsWith(".docx", StringComparison.Ordinal));
    }

    [Fact]
    public void The_lines_of_json_tell_how_many_pdfs_there_are()
    {
        var result = BatchWith(Program("printf '%%PDF-1.7 %s %%%%EOF' $name > $out/$name.pdf"), "--also", "pdf", "--json");
        Assert.Equal(4, result.Output.TrimEnd().Split('\n').Length);
        Assert.Matches(new Regex("\"made\":3,.*\"pdfs\":3"), result.Output);
    }
}
