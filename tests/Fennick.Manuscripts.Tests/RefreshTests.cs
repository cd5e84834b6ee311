using System.IO.Compression;
using System.Text;
using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Revision;
using Fennick.Testing;
using Xunit;
using static Fennick.Testing.Docx;

namespace Fennick.Manuscripts.Tests;

/// <summary>Documents that people have edited and that are brought up to date.</summary>
public sealed class RefreshTests : IDisposable
{
    private const string Steps = """
        # First {label one}

        The mean is {mean:0.0} kg and the best {best:0.0} kg, see {see gave}. The rest of {share:0%} is told in {see two}.

        ```csharp table gave
        caption: Honey of {hives} hives
        =>
        Table.Of(rows).Column("Strain", r => r.Name).Column("kg", r => r.Kg, "0.0").Column("Hives", r => r.Hives)
        ```

        ```csharp figure drawn
        caption: The same as a chart
        alt: Bars
        =>
        Chart.Columns(rows, r => r.Name, r => r.Kg)
        ```

        # Second {label two}

        A paragraph without numbers, which says how hives are weighed.

        The last words are about {best:0.0} kg.
        """;

    private const string Before = "var mean = 24.5; var best = 38.0; var share = 0.25; var hives = 47; var rows = new[] { new Row(\"Amber\", 24.4, 20), new Row(\"Dusk\", 26.2, 15), new Row(\"Heath\", 22.2, 12) };";
    private const string Now = "var mean = 25.6; var best = 39.1; var share = 0.25; var hives = 48; var rows = new[] { new Row(\"Amber\", 25.5, 21), new Row(\"Dusk\", 27.3, 15), new Row(\"Heath\", 23.3, 12) };";

    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private string Path => folder.File("report.docx");

    private void Manuscript(string data, string steps = Steps, string settings = "") =>
        folder.Write("report.ms.md", $"```manuscript\ntitle: Weights\nlanguage: en-GB\n{settings}```\n\n```csharp prepare\n{data}\nrecord Row(string Name, double Kg, int Hives);\n```\n\n{steps}\n");

    private Manuscripts.Manuscript Opened => Manuscripts.Manuscript.Open(folder.File("report.ms.md"));

    /// <summary>Writes the report, lets somebody edit it, and has another manuscript in its place.</summary>
    private void Edit(Action<EditedDocument> edit, string now = Now, string steps = Steps, string first = Steps)
    {
        Manuscript(Before, first);
        Opened.Write();
        WordClean.Check(Path);
        var document = new EditedDocument(File.ReadAllBytes(Path));
        edit(document);
        document.Save(Path);
        Manuscript(now, steps);
    }

    private (RefreshResult Result, Docx Docx) Refresh(RefreshOptions? options = null, bool isClean = true)
    {
        var refreshed = Opened.Refresh(Path, options: options);
        Assert.True(File.Exists(refreshed.Kept));
        return (refreshed.Result, isClean ? WordClean.Check(Path, inForeignHouse: true) : Open(Path));
    }

    private static XElement ValueOf(EditedDocument document, string text) => document.Values.First(v => EditedDocument.RunOf(v)!.Value == text);

    private static void Type(XElement value, string text) => EditedDocument.RunOf(value)!.Element(W + "t")!.Value = text;

    private static XElement Paragraph(string text) => new(W + "p", new XElement(W + "r", new XElement(W + "t", text)));

    [Fact]
    public void What_nobody_changed_is_new_and_what_people_did_stays()
    {
        Edit(document =>
        {
            var run = EditedDocument.RunOf(ValueOf(document, "24.5"))!;
            run.AddFirst(new XElement(W + "rPr", new XElement(W + "b")));
            document.Paragraphs.First(p => p.Value.StartsWith("A paragraph", StringComparison.Ordinal)).AddAfterSelf(Paragraph("A colleague adds that the spring was cold."));
            document.Part("word/charts/chart1.xml").Descendants(A + "schemeClr").First(c => c.Ancestors(C + "ser").Any()).ReplaceWith(new XElement(A + "srgbClr", new XAttribute("val", "123ABC")));
        });
        var (result, docx) = Refresh();
        Assert.False(result.NeedsYou);
        Assert.Contains("The mean is 25.6 kg and the best 39.1 kg, see Table\u00A01. The rest of 25% is told in Second.", docx.Paragraphs);
        Assert.Contains("A colleague adds that the spring was cold.", docx.Paragraphs);
        Assert.Equal("25.6", docx.Body.Descendants(W + "b").Select(b => Text(b.Parent!.Parent!)).First(t => t.StartsWith("25", StringComparison.Ordinal)));
        Assert.Equal([["Strain", "kg", "Hives"], ["Amber", "25.5", "21"], ["Dusk", "27.3", "15"], ["Heath", "23.3", "12"]], docx.Tables[0]);
        Assert.Contains("Table\u00A01. Honey of 48 hives", docx.Paragraphs);
        var chart = docx.Xml("word/charts/chart1.xml");
        Assert.Equal(["25.5", "27.3", "23.3"], chart.Descendants(C + "val").Descendants(C + "v").Select(v => v.Value));
        Assert.Single(chart.Descendants(A + "srgbClr"), c => (string?)c.Attribute("val") == "123ABC");
        // Once more there is nothing to do.
        Assert.Empty(Refresh().Result.Changes);
    }

    [Fact]
    public void What_both_have_changed_is_proposed_and_not_again()
    {
        Edit(document => Type(ValueOf(document, "24.5"), "about 24"));
        var (result, docx) = Refresh();
        var proposed = Assert.Single(result.Changes, c => c.Kind == ChangeKind.Proposed);
        Assert.Equal(("mean", "about 24", "25.6"), (proposed.What, proposed.Before, proposed.After));
        Assert.Equal("report.ms.md", proposed.Place!.File);
        Assert.Contains("The mean is about 24 kg and the best 39.1 kg", docx.AllText, StringComparison.Ordinal);
        Assert.Equal(["The manuscript gives 25.6 here now; it was 24.5."], docx.Xml("word/comments.xml").Root!.Elements().Select(Text));
        (result, docx) = Refresh();
        Assert.Single(result.Changes, c => c.Kind == ChangeKind.Proposed);
        Assert.Single(docx.Xml("word/comments.xml").Root!.Elements());
    }

    [Fact]
    public void A_proposal_can_be_a_tracked_change()
    {
        Edit(document => Type(ValueOf(document, "24.5"), "24"));
        var docx = Refresh(new RefreshOptions { Proposals = ProposalForm.Tracked }).Docx;
        Assert.False(docx.Has("word/comments.xml"));
        Assert.Equal("24", Assert.Single(docx.Body.Descendants(W + "delText")).Value);
        Assert.Equal("25.6", Text(Assert.Single(docx.Body.Descendants(W + "ins"))));
    }

    [Fact]
    public void All_that_is_refreshed_can_be_tracked()
    {
        Edit(document => document.Paragraphs[0].AddAfterSelf(Paragraph("Mine.")), steps: Steps.Replace("The last words", "A new paragraph has come.\n\nThe last words", StringComparison.Ordinal));
        var docx = Refresh(new RefreshOptions { IsTracked = true }).Docx;
        Assert.Equal(["24.5", "38.0"], docx.Paragraphs.Count == 0 ? [] : docx.Body.Elements(W + "p").First(p => p.Value.StartsWith("The mean", StringComparison.Ordinal)).Descendants(W + "delText").Select(t => t.Value));
        Assert.Contains(docx.Body.Descendants(W + "ins").Select(Text), t => t == "A new paragraph has come.");
        Assert.All(docx.Body.Descendants(W + "ins").Concat(docx.Body.Descendants(W + "del")), e => Assert.Equal("Fennick", (string?)e.Attribute(W + "author")));
    }

    [Fact]
    public void Deleted_things_stay_deleted_and_are_listed()
    {
        Edit(document =>
        {
            document.Paragraphs.First(p => p.Value.StartsWith("The last words", StringComparison.Ordinal)).Remove();
            document.Body.Elements(W + "tbl").First().Elements(W + "tr").Last().Remove();
        });
        var (result, docx) = Refresh();
        Assert.DoesNotContain("The last words", docx.AllText, StringComparison.Ordinal);
        Assert.Equal(3, docx.Tables[0].Length);
        Assert.Equal(2, result.Count(ChangeKind.StaysDeleted));
    }

    [Fact]
    public void Numbers_that_people_copied_are_told()
    {
        Edit(document => document.Paragraphs[0].AddAfterSelf(Paragraph("As we know, 24.5 kg is not much; nor are 26.2 kg. But 124.50 is.")));
        var result = Refresh().Result;
        Assert.Equal([("24.5", "25.6"), ("26.2", "27.3")], result.Changes.Where(c => c.Kind == ChangeKind.Suspect).Select(c => (c.Before!, c.After!)).Order());
    }

    [Fact]
    public void The_manuscript_may_change_with_the_data()
    {
        Edit(document => document.Paragraphs.First(p => p.Value.StartsWith("A paragraph", StringComparison.Ordinal)).AddBeforeSelf(Paragraph("Mine.")), steps: Steps
            .Replace("# Second {label two}", "# Between\n\nNew words with {best:0.0}[^n].\n\n[^n]: A new note.\n\n| a | b |\n|---|--:|\n| x | {mean:0.00} |\n\n# Second {label two}", StringComparison.Ordinal)
            .Replace("which says how", "which tells how", StringComparison.Ordinal).Replace("The last words are about {best:0.0} kg.", "", StringComparison.Ordinal).Replace("gave", "honey", StringComparison.Ordinal));
        var (result, docx) = Refresh();
        Assert.False(result.NeedsYou, string.Join('\n', result.Changes));
        var text = docx.Paragraphs.Where(p => p.Length > 0).ToArray();
        Assert.Equal(["Weights", "First", "The mean is 25.6 kg and the best 39.1 kg, see Table\u00A01. The rest of 25% is told in Second.", "Table\u00A01. Honey of 48 hives", "Figure\u00A01. The same as a chart", "Between", "New words with 39.1*.", "Second", "Mine.", "A paragraph without numbers, which tells how hives are weighed."], text);
        Assert.Equal(["A new note."], docx.Notes.Select(n => n.Trim()));
        Assert.Equal([["a", "b"], ["x", "25.60"]], docx.Tables[1]);
        Assert.Contains(result.Changes, c => c.Kind == ChangeKind.Removed && c.Before!.StartsWith("The last words", StringComparison.Ordinal));
        Assert.Empty(Refresh().Result.Changes);
    }

    [Fact]
    public void Rows_and_columns_of_people_stay_and_new_rows_find_their_place()
    {
        Edit(document =>
        {
            var table = document.Body.Elements(W + "tbl").First();
            foreach (var (i, row) in table.Elements(W + "tr").Index())
                row.Add(new XElement(W + "tc", new XElement(W + "tcPr", new XElement(W + "tcW", new XAttribute(W + "w", 900), new XAttribute(W + "type", "dxa"))), Paragraph($"mine {i}")));
            table.Element(W + "tblGrid")!.Add(new XElement(W + "gridCol", new XAttribute(W + "w", 900)));
            table.Element(W + "tblPr")!.Element(W + "tblW")!.SetAttributeValue(W + "w", table.Element(W + "tblGrid")!.Elements().Sum(c => (int)c.Attribute(W + "w")!));
        }, now: Now.Replace("new Row(\"Dusk\", 27.3, 15)", "new Row(\"Bramble\", 21.0, 9), new Row(\"Dusk\", 27.3, 15)", StringComparison.Ordinal));
        var docx = Refresh().Docx;
        Assert.Equal([["Strain", "kg", "Hives", "mine 0"], ["Amber", "25.5", "21", "mine 1"], ["Bramble", "21.0", "9", ""], ["Dusk", "27.3", "15", "mine 2"], ["Heath", "23.3", "12", "mine 3"]], docx.Tables[0]);
    }

    [Fact]
    public void A_table_with_other_columns_is_exchanged_unless_people_wrote_in_it()
    {
        var steps = Steps.Replace(".Column(\"Hives\", r => r.Hives)", "", StringComparison.Ordinal);
        Edit(_ => { }, steps: steps);
        Assert.Equal(["Amber", "25.5"], Refresh().Docx.Tables[0][1]);
        File.Delete(Path);
        Edit(document => document.Body.Elements(W + "tbl").First().Descendants(W + "t").First(t => t.Value == "26.2").Value = "26", steps: steps);
        var (result, docx) = Refresh();
        Assert.Equal(["Dusk", "26", "15"], docx.Tables[0][2]);
        Assert.Contains(result.Changes, c => c.Kind == ChangeKind.Open);
    }

    [Fact]
    public void Headings_of_people_stand_in_the_contents()
    {
        var steps = "{contents}\n\n" + Steps;
        Edit(document =>
        {
            var heading = document.Body.Elements(W + "p").Last(p => (string?)p.Element(W + "pPr")?.Element(W + "pStyle")?.Attribute(W + "val") == "Heading1");
            heading.AddBeforeSelf(new XElement(W + "p", new XElement(heading.Element(W + "pPr")!), new XElement(W + "r", new XElement(W + "t", "What we saw"))), Paragraph("It was cold."));
        }, steps: steps, first: steps);
        var (result, docx) = Refresh();
        var entries = docx.Body.Descendants(W + "hyperlink").Where(h => ((string?)h.Attribute(W + "anchor"))?.StartsWith("_Toc", StringComparison.Ordinal) == true).ToArray();
        Assert.Equal(["First", "What we saw", "Second"], entries.Select(e => Text(e).Split('\t')[0]));
        var marks = docx.Body.Descendants(W + "bookmarkStart").Select(b => (string?)b.Attribute(W + "name")).ToHashSet();
        Assert.All(entries, e => Assert.Contains((string?)e.Attribute(W + "anchor"), marks));
        Assert.Contains(result.Remarks, r => r.Contains("page numbers", StringComparison.Ordinal));
    }

    [Fact]
    public void Writing_onto_an_edited_document_refreshes_it_and_anew_does_not()
    {
        Edit(document => document.Paragraphs[0].AddAfterSelf(Paragraph("Mine.")));
        var told = Opened.Write().Diagnostics;
        var docx = WordClean.Check(Path, inForeignHouse: true);
        Assert.Contains("Mine.", docx.Paragraphs);
        Assert.Contains("25.6", docx.AllText, StringComparison.Ordinal);
        Assert.Contains(told, d => d.Message.StartsWith("people have edited the document, so it was refreshed", StringComparison.Ordinal) && d.Suggestion!.Contains("(kept ", StringComparison.Ordinal));
        Opened.Write(anew: true);
        Assert.DoesNotContain("Mine.", WordClean.Check(Path).Paragraphs);
        Assert.Equal(2, Directory.GetFiles(folder.Path, "report (kept *.docx").Length);
    }

    [Fact]
    public void A_library_report_refreshes_too()
    {
        Save(24.5);
        var document = new EditedDocument(File.ReadAllBytes(Path));
        document.Paragraphs[^1].AddAfterSelf(Paragraph("Mine."));
        document.Save(Path);
        Save(25.6);
        Assert.Equal(["T", "The mean is 25.6.", "Mine."], WordClean.Check(Path, inForeignHouse: true).Paragraphs.Where(p => p.Length > 0));
        Assert.Equal(("mean", "0.0"), Living.Trace(Path, "25.6").Items.Select(i => (i.Expression, i.Format!)).Single());

        void Save(double mean) => new Report("T").Text($"The mean is {mean:0.0}.").Save(Path);
    }

    [Fact]
    public void Without_marks_things_are_found_by_their_text()
    {
        Edit(document =>
        {
            foreach (var paragraph in document.Body.Descendants(W + "p")) paragraph.Attribute(EditedDocument.Mark)?.Remove();
            document.Body.Descendants(W + "bookmarkStart").Where(b => ((string)b.Attribute(W + "name")!).StartsWith("_v", StringComparison.Ordinal)).ToList().ForEach(b =>
            {
                document.Body.Descendants(W + "bookmarkEnd").First(e => (string?)e.Attribute(W + "id") == (string?)b.Attribute(W + "id")).Remove();
                b.Remove();
            });
        });
        var (result, docx) = Refresh();
        Assert.Contains("The mean is 25.6 kg and the best 39.1 kg", docx.AllText, StringComparison.Ordinal);
        Assert.Equal("27.3", docx.Tables[0][2][1]);
        Assert.Contains(result.Remarks, r => r.Contains("had lost their marks", StringComparison.Ordinal));
    }

    [Fact]
    public void What_another_word_processor_saved_is_refreshed()
    {
        WordProcessor.SkipIfMissing();
        Edit(document => document.Paragraphs[0].AddAfterSelf(Paragraph("Mine.")));
        File.Copy(WordProcessor.Convert(Path, "docx:MS Word 2007 XML"), Path, overwrite: true);
        var (result, docx) = Refresh(isClean: false);
        Assert.Contains("Mine.", docx.Paragraphs);
        Assert.Contains("The mean is 25.6 kg and the best 39.1 kg, see Table\u00A01", docx.AllText, StringComparison.Ordinal);
        Assert.Equal(["Dusk", "27.3", "15"], docx.Tables[0][2].Select(c => c.Trim()));
        Assert.False(result.NeedsYou, string.Join('\n', result.Changes));
    }

    [Fact]
    public void A_report_that_wears_a_report_remembers_itself()
    {
        Manuscript(Before);
        Opened.Write(folder.File("house.docx"));
        for (var i = 0; i < 2; i++)
        {
            Manuscript(Now, settings: "house: house.docx\n");
            Opened.Write();
            var docx = WordClean.Check(Path, inForeignHouse: true);
            Assert.Single(docx.Names, n => n.StartsWith("customXml/itemProps", StringComparison.Ordinal));
            Assert.Equal("25.6", Assert.Single(Living.Trace(Path, "mean").Items).Text);
            File.Copy(Path, folder.File("house.docx"), overwrite: true);
        }
    }

    [Fact]
    public void A_changed_record_is_told()
    {
        Edit(document =>
        {
            var record = document.Names.First(n => n.StartsWith("customXml/item", StringComparison.Ordinal));
            document.Replace(record, Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(document.BytesOf(record)).Replace(">24.5<", ">25.6<", StringComparison.Ordinal)));
        });
        Assert.Contains(Refresh().Result.Remarks, r => r.Contains("has been changed by somebody", StringComparison.Ordinal));
        Assert.True(Living.Trace(Path).IsIntact);
    }

    public static TheoryData<string, string> Unreadable => new()
    {
        { "none", "there is no such document" },
        { "empty", "the file is empty" },
        { "text", "the file is not a word-processor document" },
        { "cut", "the file is damaged" },
        { "encrypted", "the file is encrypted" },
        { "strict", "strict variant" },
        { "other", "remembers nothing of how it was made" },
        { "later", "written by another version" },
        { "bomb", "nested more than" },
        { "disguised", "nested more than" },
    };

    [Theory]
    [MemberData(nameof(Unreadable))]
    public void A_document_that_cannot_be_refreshed_is_refused_and_left(string kind, string message)
    {
        Edit(_ => { });
        var bytes = File.ReadAllBytes(Path);
        switch (kind)
        {
            case "none": File.Delete(Path); break;
            case "empty": File.WriteAllText(Path, ""); break;
            case "text": File.WriteAllText(Path, "hello"); break;
            case "cut": File.WriteAllBytes(Path, bytes[..(bytes.Length / 2)]); break;
            case "encrypted": File.WriteAllBytes(Path, [0xD0, 0xCF, 0x11, 0xE0, .. Encoding.Unicode.GetBytes("EncryptedPackage")]); break;
            case "strict": Change("word/document.xml", x => x.Replace("http://schemas.openxmlformats.org/wordprocessingml/2006/main", "http://purl.oclc.org/ooxml/wordprocessingml/main", StringComparison.Ordinal)); break;
            case "other": Opened.Write(anew: true, parameters: null); Manuscript(Now, settings: "living: no\n"); Opened.Write(anew: true); break;
            case "later": Change("customXml/item1.xml", x => x.Replace("urn:fennick:record:1", "urn:fennick:record:9", StringComparison.Ordinal)); break;
            // Closing signs in values, comments and text close nothing.
            case "disguised": Change("word/document.xml", x => x.Replace("<w:body>", "<w:body>" + string.Concat(Enumerable.Repeat("<w:sdt w:x='\">/>'><!-- </w:sdt> /> --><w:sdtContent w:y=\"'/>\"><![CDATA[</a></a>]]><?p </a>?>", 300)) + string.Concat(Enumerable.Repeat("</w:sdtContent></w:sdt>", 300)), StringComparison.Ordinal)); break;
            case "bomb": Change("word/document.xml", x => x.Replace("<w:body>", "<w:body>" + string.Concat(Enumerable.Repeat("<w:sdt><w:sdtContent>", 300)) + string.Concat(Enumerable.Repeat("</w:sdtContent></w:sdt>", 300)), StringComparison.Ordinal)); break;
        }
        var before = File.Exists(Path) ? File.ReadAllBytes(Path) : null;
        var problem = Assert.Throws<ReportException>(() => Opened.Refresh(Path));
        Assert.Contains(message, problem.Message, StringComparison.Ordinal);
        Assert.All(problem.Diagnostics, d => Assert.NotNull(d.Suggestion));
        Assert.Equal(before, File.Exists(Path) ? File.ReadAllBytes(Path) : null);

        void Change(string part, Func<string, string> change)
        {
            using var zip = ZipFile.Open(Path, ZipArchiveMode.Update);
            var entry = zip.GetEntry(part)!;
            string text;
            using (var reader = new StreamReader(entry.Open())) text = reader.ReadToEnd();
            entry.Delete();
            using var writer = new StreamWriter(zip.CreateEntry(part).Open());
            writer.Write(change(text));
        }
    }

    [Fact]
    public void A_number_leads_to_its_line_and_what_it_was_read_from()
    {
        folder.Write("data.csv", "x\n1\n");
        Manuscript(Before + " var read = File.ReadAllText(Inputs.Declare(\"data.csv\"));");
        Opened.Write();
        var trace = Living.Trace(Path, "24.5");
        var item = Assert.Single(trace.Items);
        Assert.Equal(("mean", "0.0", "24.5", "“First”", 13), (item.Expression, item.Format, item.Value, item.Where, item.Place!.Line));
        Assert.Equal(("report.ms.md", "data.csv", InputState.Same), (trace.Manuscript, trace.Inputs.Single().Name, trace.Inputs.Single().State));
        Assert.Equal(["Table 1, Dusk, kg"], Living.Trace(Path, "26.2").Items.Select(i => i.Where));
        Assert.Equal("table gave", Living.Trace(Path, "26.2").Items.Single().Expression);
        Assert.All(Living.Trace(Path).Items, i => Assert.NotNull(i.Place));
        folder.Write("data.csv", "x\n2\n");
        Assert.Equal(InputState.Changed, Living.Trace(Path).Inputs.Single().State);
        File.Delete(folder.File("data.csv"));
        Assert.Equal(InputState.Missing, Living.Trace(Path).Inputs.Single().State);
    }

    public static TheoryData<string, string, string> Changed => new()
    {
        { "mean = 24.5", "mean = 24.51", "code" },
        { "best = 38.0", "best = 38.1", "code" },
        { "\"Dusk\", 26.2", "\"Dusk\", 26.3", "code" },
        { "\"Heath\"", "\"Moor\"", "code" },
        { ":0.0} kg and", ":0.00} kg and", "code" },
        { "without numbers", "with no numbers", "code" },
        { "A paragraph without numbers, which says how hives are weighed.", "", "code" },
        { "The same as a chart", "Another caption", "code" },
        { "# Second", "One more paragraph.\n\n# Second", "code" },
        { "r => r.Kg)\n", "r => r.Kg + 1)\n", "code" },
    };

    [Theory]
    [MemberData(nameof(Changed))]
    public void Verifying_finds_what_no_longer_comes_out(string old, string now, string reason)
    {
        Manuscript(Before);
        Opened.Write();
        var same = Opened.Verify(Path);
        Assert.Empty(same.Deviations);
        Assert.Empty(same.Reasons);
        var file = folder.File("report.ms.md");
        var text = File.ReadAllText(file);
        Assert.Contains(old, text, StringComparison.Ordinal);
        File.WriteAllText(file, text.Replace(old, now, StringComparison.Ordinal));
        var result = Opened.Verify(Path);
        Assert.NotEmpty(result.Deviations);
        Assert.Contains(result.Reasons, r => r.StartsWith(reason, StringComparison.Ordinal));
    }

    [Fact]
    public void Verifying_finds_changed_data()
    {
        folder.Write("data.csv", "x\n24.5\n");
        Manuscript(Before.Replace("mean = 24.5", "mean = double.Parse(File.ReadAllLines(Inputs.Declare(\"data.csv\"))[1], System.Globalization.CultureInfo.InvariantCulture)", StringComparison.Ordinal));
        Opened.Write();
        folder.Write("data.csv", "x\n24.6\n");
        var result = Opened.Verify(Path);
        Assert.Equal("24.5", Assert.Single(result.Deviations).Written);
        Assert.Equal(["data: data.csv holds something else"], result.Reasons);
    }

    [Fact]
    public void A_report_can_hold_its_manuscript()
    {
        Manuscript(Before, settings: "source: embedded\n");
        var text = File.ReadAllText(folder.File("report.ms.md"));
        Opened.Write();
        WordClean.Check(Path);
        var files = Living.Unpack(Path, folder.File("out"));
        Assert.Equal([folder.File("out/report.ms.md")], files);
        Assert.Equal(text, File.ReadAllText(files[0]));
        File.WriteAllText(files[0], "mine");
        Assert.Contains("another file of this name is there", Assert.Throws<ReportException>(() => Living.Unpack(Path, folder.File("out"))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void No_document_tells_where_it_was_made_and_one_that_is_not_living_remembers_nothing()
    {
        Manuscript(Before, settings: "source: embedded\n");
        Opened.Write();
        var docx = WordClean.Check(Path);
        Assert.All(docx.Names.Where(n => n.EndsWith(".xml", StringComparison.Ordinal)), n => Assert.DoesNotContain(folder.Path, Encoding.UTF8.GetString(docx.Bytes(n)), StringComparison.Ordinal));
        Manuscript(Before, settings: "living: no\n");
        Opened.Write();
        docx = WordClean.Check(Path);
        Assert.DoesNotContain(docx.Names, n => n.StartsWith("customXml", StringComparison.Ordinal));
        Assert.DoesNotContain("_v1", Encoding.UTF8.GetString(docx.Bytes("word/document.xml")), StringComparison.Ordinal);
    }
}
