using System.Text;
using System.Xml.Linq;
using static Fennick.Testing.Docx;

namespace Fennick.Testing;

/// <summary>The text of a part when all its tracked changes are accepted, or all rejected, paragraph by paragraph; what fields show is left out, for it renews itself.</summary>
public sealed class TrackedText
{
    private static readonly XNamespace Mc = "http://schemas.openxmlformats.org/markup-compatibility/2006";
    private static readonly XNamespace M = "http://schemas.openxmlformats.org/officeDocument/2006/math";
    private readonly XName[] left;
    private readonly XName end;
    private readonly List<string> paragraphs = [];
    private readonly StringBuilder open = new();
    private int depth;

    private TrackedText(bool accepts)
    {
        left = accepts ? [W + "del", W + "moveFrom"] : [W + "ins", W + "moveTo"];
        end = left[0];
    }

    /// <summary>The paragraphs that hold text.</summary>
    /// <param name="root">The root of a part.</param>
    /// <param name="accepts">Whether the changes are accepted.</param>
    public static IReadOnlyList<string> Of(XElement root, bool accepts)
    {
        var text = new TrackedText(accepts);
        text.Read(root);
        text.Close();
        return text.paragraphs;
    }

    private void Read(XElement container)
    {
        foreach (var element in container.Elements())
        {
            if (left.Contains(element.Name) || element.Name == Mc + "Fallback") continue;
            if (element.Name == W + "tr" && element.Element(W + "trPr")?.Element(end) is not null) continue;
            if (element.Name == W + "p") ReadParagraph(element);
            else Read(element);
        }
    }

    private void ReadParagraph(XElement paragraph)
    {
        foreach (var element in paragraph.Elements()) ReadInline(element);
        if (paragraph.Element(W + "pPr")?.Element(W + "rPr")?.Element(end) is null) Close();
        var (outer, before) = (open.ToString(), depth);
        foreach (var box in paragraph.Descendants(W + "txbxContent").Where(b => !b.Ancestors(Mc + "Fallback").Any() && b.Ancestors(W + "p").First() == paragraph && !b.Ancestors().Any(a => left.Contains(a.Name))))
        {
            (depth, _) = (0, open.Clear());
            Read(box);
            Close();
        }
        depth = before;
        open.Clear().Append(outer);
    }

    private void ReadInline(XElement element)
    {
        if (left.Contains(element.Name) || element.Name == W + "fldSimple" || element.Name == W + "pPr") return;
        if (element.Name == W + "fldChar") depth += (string?)element.Attribute(W + "fldCharType") switch { "begin" => 1, "end" => -1, _ => 0 };
        else if (element.Name == W + "t" || element.Name == W + "delText") Add(element.Value);
        else if (element.Name == W + "tab") Add("\t");
        else if (element.Name == W + "br") Add("\n");
        else if (element.Name == W + "noBreakHyphen") Add("-");
        else if (element.Name == W + "drawing" || element.Name == W + "pict" || element.Name == W + "object") Add("[drawing]");
        else if (element.Name == M + "oMath") Add(string.Concat(element.Descendants(M + "t").Select(t => t.Value)));
        else if (element.Name == Mc + "AlternateContent") ReadInline(element.Element(Mc + "Choice")!);
        else if (element.Name != W + "rPr") foreach (var inner in element.Elements()) ReadInline(inner);
    }

    private void Add(string text)
    {
        if (depth == 0) open.Append(text);
    }

    private void Close()
    {
        // What word processors change while somebody types is no difference.
        if (open.ToString().Replace('’', '\'').Replace('‘', '\'').Replace('“', '"').Replace('”', '"').Replace('\u00A0', ' ').Trim() is { Length: > 0 } text) paragraphs.Add(text);
        open.Clear();
    }
}
