using System.Globalization;
using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Revision;
using Fennick.Testing;
using Xunit;
using static Fennick.Testing.Docx;

namespace Fennick.Manuscripts.Tests;

/// <summary>Several finished documents made into one.</summary>
public sealed class JoinTests : IDisposable
{
    private const string Table = "```csharp table LABEL\ncaption: Honey of LABEL\n=>\nTable.Of(new[] { (N: \"Amber\", K: 24.4) }).Column(\"Strain\", r => r.N).Column(\"kg\", r => r.K, \"0.0\")\n```\n\n";

    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private string Write(string name, string text, string settings = "")
    {
        folder.Write($"{name}.ms.md", $"```manuscript\ntitle: Report {name}\n{settings}```\n\n{text}\n");
        Manuscript.Open(folder.File($"{name}.ms.md")).Write(folder.File($"{name}.docx"));
        return folder.File($"{name}.docx");
    }

    /// <summary>Joins documents, and asserts that all that they say is there, in its order.</summary>
    private Docx Join(string[] paths, JoinOptions? options = null, Action<IReadOnlyList<string>>? remarks = null)
    {
        var output = folder.File("joined.docx");
        var said = Living.Join(paths, output, options);
        (remarks ?? Assert.Empty)(said);
        var docx = WordClean.Check(output, inForeignHouse: true);
        Assert.Equal(paths.SelectMany(p => TrackedText.Of(Open(p).Body, accepts: true)), TrackedText.Of(docx.Body, accepts: true));
        Assert.DoesNotContain(docx.Body.Descendants(W + "bookmarkStart").GroupBy(b => (string)b.Attribute(W + "id")!), g => g.Count() > 1);
        Assert.DoesNotContain(docx.Body.Descendants(W + "bookmarkStart").GroupBy(b => (string)b.Attribute(W + "name")!), g => g.Count() > 1);
        Assert.DoesNotContain(docx.Body.Descendants().Where(e => e.Name.LocalName == "docPr").GroupBy(e => (string)e.Attribute("id")!), g => g.Count() > 1);
        return docx;
    }

    private static string[] Shown(Docx docx, string word)
    {
        var (shown, open, isShown, instruction) = (new List<string>(), "", false, "");
        foreach (var element in docx.Body.Descendants())
        {
            if (element.Name == W + "instrText") instruction += element.Value;
            else if (element.Name == W + "t" && isShown) open += element.Value;
            else if (element.Name == W + "noBreakHyphen" && isShown) open += "-";
            else if (element.Name == W + "fldChar")
            {
                switch ((string)element.Attribute(W + "fldCharType")!)
                {
                    case "begin": (instruction, open, isShown) = ("", "", false); break;
                    case "separate": isShown = true; break;
                    default:
                        if (isShown && instruction.TrimStart().StartsWith(word + " ", StringComparison.Ordinal)) shown.Add(open.Replace('\u00A0', ' '));
                        isShown = false;
                        break;
                }
            }
        }
        return [.. shown];
    }

    private static List<XElement> SectionsOf(Docx docx) => [.. docx.Body.Descendants(W + "sectPr")];

    private static string HeadersOf(Docx docx, XElement section) => string.Join('|', section.Elements().Where(e => e.Name == W + "headerReference" || e.Name == W + "footerReference").Select(r =>
        $"{r.Name.LocalName[..6]} {(string?)r.Attribute(W + "type")}: {docx.Xml("word/" + docx.Xml("word/_rels/document.xml.rels").Root!.Elements().First(e => (string?)e.Attribute("Id") == (string?)r.Attribute(R + "id")).Attribute("Target")!.Value).Root!.Value.Trim()}"));

    [Fact]
    public void Captions_and_references_count_through_or_begin_anew()
    {
        string[] paths = [Write("one", Table.Replace("LABEL", "a") + "See {see a}."), Write("two", Table.Replace("LABEL", "a") + Table.Replace("LABEL", "b") + "See {see a} and {see b}."), Write("three", Table.Replace("LABEL", "c") + "See {see c}.")];
        var through = Join(paths);
        Assert.Equal(["1", "2", "3", "4"], Shown(through, "SEQ"));
        Assert.Equal(["Table 1", "Table 2", "Table 3", "Table 4"], Shown(through, "REF"));
        var anew = Join(paths, new JoinOptions { Restart = JoinRestart.Captions });
        Assert.Equal(["1", "1", "2", "1"], Shown(anew, "SEQ"));
        Assert.Equal(["Table 1", "Table 1", "Table 2", "Table 1"], Shown(anew, "REF"));
    }

    [Fact]
    public void Numbered_headings_and_what_refers_to_them_count_through_or_begin_anew()
    {
        const string Settings = "headings.numbered: yes\n";
        string[] paths = [Write("one", "# First {label a}\n\nWords of {see a: number}.\n\n## Below\n\nMore.", Settings), Write("two", "# Other {label a}\n\nWords of {see a: number}.\n\n## Below {label b}\n\nMore of {see b: number}.", Settings)];
        Assert.Equal(["1", "2", "2.1"], Shown(Join(paths), "REF"));
        Assert.Equal(["1", "1", "1.1"], Shown(Join(paths, new JoinOptions { Restart = JoinRestart.Captions }), "REF"));
    }

    [Fact]
    public void Each_keeps_its_headers_or_all_get_those_of_one()
    {
        string[] paths = [Write("one", "Words."), Write("two", "Words too.", "page.header: Report two at the head\n"), Write("three", "Words as well.")];
        var each = Join(paths);
        Assert.Equal(3, SectionsOf(each).Select(s => HeadersOf(each, s)).Distinct().Count());
        var all = Join(paths, new JoinOptions { HeadersOf = 2 });
        Assert.All(SectionsOf(all), s => Assert.Contains("Report two", HeadersOf(all, s), StringComparison.Ordinal));
    }

    [Fact]
    public void Pages_and_notes_begin_anew_if_wished()
    {
        string[] paths = [Write("one", "Words[^a].\n\n[^a]: A note of one."), Write("two", "Words too[^a].\n\n[^a]: A note of two.\n\n{contents}\n\n# Head\n\nText.")];
        var docx = Join(paths, remarks: r => Assert.Contains("--restart pages", Assert.Single(r), StringComparison.Ordinal));
        var contents = docx.Body.Descendants(W + "instrText").Single(i => i.Value.Contains("TOC", StringComparison.Ordinal));
        var beginning = contents.ElementsBeforeSelf().Concat(contents.Parent!.ElementsBeforeSelf().Reverse()).SelectMany(e => e.DescendantsAndSelf(W + "fldChar")).First(c => (string?)c.Attribute(W + "fldCharType") == "begin");
        Assert.Equal("true", (string?)beginning.Attribute(W + "dirty"));
        Assert.Equal(["A note of one.", "A note of two."], docx.Xml("word/footnotes.xml").Root!.Elements(W + "footnote").Where(n => n.Attribute(W + "type") is null).Select(n => n.Value.Trim()));
        docx = Join(paths, new JoinOptions { Restart = JoinRestart.Pages | JoinRestart.Notes });
        Assert.Equal("1", (string?)SectionsOf(docx)[^1].Element(W + "pgNumType")!.Attribute(W + "start"));
        Assert.Equal("eachSect", (string?)SectionsOf(docx)[^1].Element(W + "footnotePr")!.Element(W + "numRestart")!.Attribute(W + "val"));
        Assert.Contains(docx.Body.Descendants(W + "instrText"), i => i.Value.Contains("TOC", StringComparison.Ordinal) && i.Value.Contains(@"\b _Joined2", StringComparison.Ordinal));
    }

    [Fact]
    public void Styles_that_look_the_same_are_one_and_others_get_another_name()
    {
        string[] paths = [Write("one", "# Head\n\nWords."), Write("two", "# Head\n\nWords."), Write("three", "# Head\n\nWords.", "house: heron\n")];
        static string[] Names(Docx docx) => [.. docx.Xml("word/styles.xml").Root!.Elements(W + "style").Select(s => (string)s.Element(W + "name")!.Attribute(W + "val")!)];
        Assert.Equal(Names(Open(paths[0])), Names(Join(paths[..2])));
        var docx = Join(paths);
        Assert.Contains("heading 1 (2)", Names(docx));
        // What says nothing of its style looks like its own document's text.
        var normal = docx.Xml("word/styles.xml").Root!.Elements(W + "style").Single(s => (string?)s.Element(W + "name")!.Attribute(W + "val") == "Normal (2)");
        var own = Open(paths[2]).Xml("word/styles.xml").Root!;
        Assert.Equal((string?)own.Descendants(W + "rPrDefault").Single().Descendants(W + "sz").Single().Attribute(W + "val"), (string?)normal.Element(W + "rPr")!.Element(W + "sz")!.Attribute(W + "val"));
    }

    [Fact]
    public void Twelve_documents_in_which_everything_has_the_same_names_join()
    {
        var first = Write("one", "# Head {label a}\n\n1. One\n2. Two\n\n" + Table.Replace("LABEL", "t") + "```csharp figure f\ncaption: Drawn\nalt: Bars\n=>\nChart.Columns(new[] { (N: \"Amber\", K: 24.5) }, r => r.N, r => r.K)\n```\n\nSee {see t}, {see f} and {see a}, {1 + 1} in all[^n].\n\n[^n]: A note.");
        var edited = new EditedDocument(File.ReadAllBytes(first));
        Assert.NotNull(HumanEdits.All.Where(e => e.Method.Name.Contains("Comment", StringComparison.Ordinal)).Select(e => e(edited, new Random(3), 7)).First());
        edited.Save(folder.File("commented.docx"));
        string[] paths = [.. Enumerable.Range(0, 12).Select(n => n % 2 == 0 ? first : folder.File("commented.docx"))];
        var docx = Join(paths);
        Assert.Equal(Enumerable.Range(1, 12).SelectMany(n => new[] { n.ToString(CultureInfo.InvariantCulture), n.ToString(CultureInfo.InvariantCulture) }), Shown(docx, "SEQ"));
        Assert.Equal(12, docx.Xml("word/comments.xml").Root!.Elements(W + "comment").Select(c => (string)c.Attribute(W + "id")!).Distinct().Count());
        Assert.Equal(12, docx.Names.Count(n => n.StartsWith("word/charts/chart", StringComparison.Ordinal)));
        // Each list counts from 1.
        var numbered = docx.Body.Elements(W + "p").Select(p => p.Element(W + "pPr")?.Element(W + "numPr")?.Element(W + "numId")?.Attribute(W + "val")?.Value).OfType<string>().Distinct().Count();
        Assert.Equal(12, numbered);
    }

    [Fact]
    public void A_table_at_the_end_a_continuous_section_and_fields_of_properties_are_minded()
    {
        var one = Write("one", "Words.\n\n" + Table.Replace("LABEL", "t"));
        var edited = new EditedDocument(File.ReadAllBytes(one));
        edited.Body.Elements(W + "tbl").Last().ElementsAfterSelf(W + "p").Remove();
        edited.Save(one);
        var two = Write("two", "Words too.");
        edited = new EditedDocument(File.ReadAllBytes(two));
        edited.Body.Elements(W + "sectPr").Last().Elements(W + "pgSz").First().AddBeforeSelf(new XElement(W + "type", new XAttribute(W + "val", "continuous")));
        edited.Paragraphs[0].Add(new XElement(W + "fldSimple", new XAttribute(W + "instr", " TITLE "), new XElement(W + "r", new XElement(W + "t", "Report two"))));
        edited.Save(two);
        var output = folder.File("joined.docx");
        Assert.Empty(Living.Join([one, two], output));
        var docx = WordClean.Check(output, inForeignHouse: true);
        Assert.DoesNotContain(docx.Body.Descendants(W + "type"), t => (string?)t.Attribute(W + "val") == "continuous");
        Assert.DoesNotContain(docx.Body.Descendants(W + "fldSimple"), _ => true);
        Assert.Contains(docx.Body.Descendants(W + "t"), t => t.Value == "Report two");
        Assert.Equal(2, SectionsOf(docx).Count);
    }

    [Fact]
    public void Left_and_right_pages_of_one_do_not_take_headers_from_another()
    {
        var one = Write("one", "Words.");
        var two = Write("two", "Words too.");
        var edited = new EditedDocument(File.ReadAllBytes(two));
        edited.Part("word/settings.xml").Root!.Elements().First(e => e.Name == W + "characterSpacingControl" || e.Name == W + "compat" || e.Name == W + "footnotePr").AddBeforeSelf(new XElement(W + "evenAndOddHeaders"));
        edited.Save(two);
        var docx = Join([one, two]);
        Assert.NotNull(docx.Xml("word/settings.xml").Root!.Element(W + "evenAndOddHeaders"));
        Assert.Contains(SectionsOf(docx)[0].Elements(W + "footerReference"), r => (string?)r.Attribute(W + "type") == "even");
    }

    [Fact]
    public void What_cannot_be_joined_is_said_and_nothing_is_written()
    {
        var one = Write("one", "Words.");
        Assert.Contains("there is no such document", Assert.Throws<ReportException>(() => Living.Join([one, folder.File("none.docx")], folder.File("out.docx"))).Diagnostics[0].Message, StringComparison.Ordinal);
        Assert.Contains("made from", Assert.Throws<ReportException>(() => Living.Join([one, one], one)).Diagnostics[0].Message, StringComparison.Ordinal);
        Assert.Throws<ArgumentException>(() => Living.Join([one], folder.File("out.docx")));
        Assert.Throws<ArgumentOutOfRangeException>(() => Living.Join([one, one], folder.File("out.docx"), new JoinOptions { HeadersOf = 3 }));
        var types = new EditedDocument(File.ReadAllBytes(one));
        var main = types.Part("[Content_Types].xml").Root!.Elements().First(e => (string?)e.Attribute("PartName") == "/word/document.xml");
        main.SetAttributeValue("ContentType", "application/vnd.ms-word.document.macroEnabled.main+xml");
        types.Save(folder.File("macros.docx"));
        Assert.Contains("macros", Assert.Throws<ReportException>(() => Living.Join([folder.File("macros.docx"), one], folder.File("out.docx"))).Diagnostics[0].Message, StringComparison.Ordinal);
        Assert.False(File.Exists(folder.File("out.docx")));
        main.SetAttributeValue("ContentType", "application/vnd.openxmlformats-officedocument.wordprocessingml.template.main+xml");
        types.Save(folder.File("template.dotx"));
        Join([folder.File("template.dotx"), one]);
    }

    [Fact]
    public void The_examples_join()
    {
        string[] paths = [.. new[] { "harvest", "annual", "tables", "valleys" }.Select(n =>
        {
            var path = folder.File($"{n}.docx");
            File.WriteAllBytes(path, LivingTests.Documents(n).Before);
            return path;
        })];
        var docx = Join(paths, remarks: r => Assert.All(r, t => Assert.True(t.Contains("page numbers", StringComparison.Ordinal) || t.Contains("lists of tables", StringComparison.Ordinal), t)));
        Assert.Equal(paths.Sum(p => SectionsOf(Open(p)).Count), SectionsOf(docx).Count);
        Join([.. paths.Reverse()], new JoinOptions { Restart = JoinRestart.Pages | JoinRestart.Notes | JoinRestart.Captions, HeadersOf = 2 }, r => Assert.Single(r));
        WordProcessor.SkipIfMissing();
        Assert.True(File.Exists(WordProcessor.Convert(folder.File("joined.docx"), "pdf")));
    }
}
