using System.Globalization;
using System.Xml.Linq;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Comments on what people have changed, which say what the manuscript gives now.</summary>
internal sealed class Proposals(WordDocument document, DateOnly? date)
{
    private const string Type = "application/vnd.openxmlformats-officedocument.wordprocessingml.comments+xml";
    private int last = -1;

    /// <summary>Puts a comment on a stretch of a paragraph; on all of it if that is empty. One that is there already is not made again.</summary>
    public void Comment(string part, ReadParagraph paragraph, int start, int end, string text)
    {
        // In headers and notes nobody can comment.
        if (part != document.Package.Main || IsThere(text)) return;
        var id = Add(text);
        var editor = new ParagraphEditor(paragraph, null);
        if (start >= end || !Surround(paragraph, editor, start, end, id)) SurroundAll(paragraph, id);
        paragraph.Renew();
    }

    private static bool Surround(ReadParagraph paragraph, ParagraphEditor editor, int start, int end, string id)
    {
        editor.AnchorAt(start);
        editor.AnchorAt(end);
        if (editor.RunsIn(start, end) is not { Count: > 0 } runs) return false;
        var (first, last) = (Outermost(runs[0]), Outermost(runs[^1]));
        if (first.Parent != paragraph.Element || last.Parent != paragraph.Element) return false;
        first.AddBeforeSelf(new XElement(W + "commentRangeStart", new XAttribute(Id, id)));
        last.AddAfterSelf(new XElement(W + "commentRangeEnd", new XAttribute(Id, id)), Reference(id));
        return true;

        XElement Outermost(XElement run) => run.AncestorsAndSelf().TakeWhile(a => a != paragraph.Element).Last();
    }

    private static void SurroundAll(ReadParagraph paragraph, string id)
    {
        var begin = new XElement(W + "commentRangeStart", new XAttribute(Id, id));
        if (paragraph.Element.Element(W + "pPr") is { } properties) properties.AddAfterSelf(begin);
        else paragraph.Element.AddFirst(begin);
        paragraph.Element.Add(new XElement(W + "commentRangeEnd", new XAttribute(Id, id)), Reference(id));
    }

    private static XElement Reference(string id) => new(Run, new XElement(W + "commentReference", new XAttribute(Id, id)));

    private bool IsThere(string text) => document.Find("comments") is { } part && document.Open(part).Root!.Elements(W + "comment").Any(c => (string?)c.Attribute(W + "author") == Author.Signature && TextOf(c) == text);

    private static string TextOf(XElement comment) => string.Join('\n', comment.Elements(P).Select(p => ParagraphReading.Of(p).Text));

    private string Add(string text)
    {
        if (document.Find("comments") is not { } part)
        {
            part = "word/comments.xml";
            document.Add(part, XmlText.Write(new XDocument(new XElement(W + "comments", new XAttribute(XNamespace.Xmlns + "w", W.NamespaceName)))), Type, "comments");
        }
        var root = document.Change(part);
        if (last < 0) last = FreeNumber(root, W + "comment", Id, first: 0) - 1;
        var number = (++last).ToString(CultureInfo.InvariantCulture);
        root.Add(new XElement(W + "comment", new XAttribute(Id, number), new XAttribute(W + "author", Author.Signature),
            date is { } day ? new XAttribute(W + "date", day.ToString("yyyy-MM-dd'T00:00:00Z'", CultureInfo.InvariantCulture)) : null, new XAttribute(W + "initials", "F"),
            text.Split('\n').Select(line => new XElement(P, ParagraphEditor.NewRun(null, line)))));
        return number;
    }
}
