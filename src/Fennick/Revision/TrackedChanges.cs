using System.Xml.Linq;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Changes that a word processor keeps for somebody to accept or reject (ECMA-376 Part 1, §17.13.5).</summary>
internal static class TrackedChanges
{
    private static readonly HashSet<XName> Inserted = [W + "ins", W + "moveTo"];
    private static readonly HashSet<XName> Deleted = [W + "del", W + "moveFrom"];
    private static readonly HashSet<XName> Formatting = [W + "rPrChange", W + "pPrChange", W + "sectPrChange", W + "tblPrChange", W + "tblGridChange", W + "trPrChange", W + "tcPrChange", W + "tblPrExChange", W + "numberingChange"];
    private static readonly HashSet<XName> Ranges = [W + "moveFromRangeStart", W + "moveFromRangeEnd", W + "moveToRangeStart", W + "moveToRangeEnd", W + "customXmlInsRangeStart", W + "customXmlInsRangeEnd", W + "customXmlDelRangeStart", W + "customXmlDelRangeEnd", W + "customXmlMoveFromRangeStart", W + "customXmlMoveFromRangeEnd", W + "customXmlMoveToRangeStart", W + "customXmlMoveToRangeEnd"];

    /// <summary>Whether there are any.</summary>
    public static bool Any(XElement root) => root.Descendants().Any(e => Inserted.Contains(e.Name) || Deleted.Contains(e.Name) || Formatting.Contains(e.Name) || e.Is("cellIns") || e.Is("cellDel"));

    /// <summary>Accepts all of them.</summary>
    /// <param name="root">The root of a part.</param>
    public static void Accept(XElement root)
    {
        foreach (var row in root.Descendants(Row).Where(r => r.Element(W + "trPr")?.Elements().Any(e => Deleted.Contains(e.Name)) == true).ToArray()) RemoveRow(row);
        foreach (var cell in root.Descendants(Cell).Where(c => c.Element(W + "tcPr")?.Element(W + "cellDel") is not null).ToArray()) cell.Remove();
        foreach (var paragraph in root.Descendants(P).Where(p => MarkOf(p)?.Elements().Any(e => Deleted.Contains(e.Name)) == true).Reverse().ToArray()) Join(paragraph);
        root.Descendants().Where(e => Deleted.Contains(e.Name) || Formatting.Contains(e.Name) || Ranges.Contains(e.Name) || e.Is("cellIns") || e.Is("cellMerge")).Remove();
        foreach (var inserted in root.Descendants().Where(e => Inserted.Contains(e.Name)).Reverse().ToArray()) inserted.ReplaceWith(inserted.Nodes());
    }

    /// <summary>A paragraph whose end is deleted goes on in the next one, which has the end of both.</summary>
    private static void Join(XElement paragraph)
    {
        var next = paragraph.ElementsAfterSelf().FirstOrDefault(e => !Ranges.Contains(e.Name) && !e.Is("bookmarkStart") && !e.Is("bookmarkEnd"));
        if (next?.Name != P)
        {
            MarkOf(paragraph)!.Elements().Where(e => Deleted.Contains(e.Name)).Remove();
            var isEmpty = !paragraph.Elements().Any(e => !e.Is("pPr") && !Deleted.Contains(e.Name)) && paragraph.Element(W + "pPr")?.Element(W + "sectPr") is null;
            // The last thing of a cell has to be a paragraph.
            if (isEmpty && (next is not null || paragraph.ElementsBeforeSelf().LastOrDefault()?.Name == P)) paragraph.Remove();
            return;
        }
        XElement[] content = [.. paragraph.Elements().Where(e => !e.Is("pPr"))];
        content.Remove();
        if (next!.Element(W + "pPr") is { } properties) properties.AddAfterSelf(content);
        else next.AddFirst(content);
        // A section that ended here ends where the paragraph goes on.
        if (paragraph.Element(W + "pPr")?.Element(W + "sectPr") is { } section && next.Element(W + "pPr")?.Element(W + "sectPr") is null) PropertiesOf(next).Add(new XElement(section));
        paragraph.Remove();
    }

    private static void RemoveRow(XElement row)
    {
        var table = row.Ancestors(Table).First();
        row.Remove();
        if (ReadTable.RowsOf(table).Any()) return;
        // The last thing of a cell has to be a paragraph, and a cell needs one.
        if (table.Parent is { } parent && parent.Name == Cell && !parent.Elements(P).Any()) parent.Add(new XElement(P));
        table.Remove();
    }

    private static XElement? MarkOf(XElement paragraph) => paragraph.Element(W + "pPr")?.Element(W + "rPr");

    /// <summary>Marks all of a paragraph as inserted, its end included.</summary>
    public static void MarkInserted(XElement paragraph, Author author)
    {
        MarkRuns(paragraph, author, isInserted: true);
        EndOf(paragraph).AddFirst(author.Sign(W + "ins"));
    }

    /// <summary>Marks all of a paragraph as deleted, its end included.</summary>
    public static void MarkDeleted(XElement paragraph, Author author)
    {
        MarkRuns(paragraph, author, isInserted: false);
        EndOf(paragraph).AddFirst(author.Sign(W + "del"));
    }

    /// <summary>Marks all rows of a table.</summary>
    public static void MarkRows(XElement table, Author author, bool isInserted)
    {
        foreach (var row in ReadTable.RowsOf(table).ToArray()) MarkRow(row, author, isInserted);
    }

    /// <summary>Marks a row with all that stands in it.</summary>
    public static void MarkRow(XElement row, Author author, bool isInserted)
    {
        if (row.Element(W + "trPr") is not { } properties)
        {
            properties = new XElement(W + "trPr");
            if (row.Element(W + "tblPrEx") is { } exceptions) exceptions.AddAfterSelf(properties);
            else row.AddFirst(properties);
        }
        properties.Add(author.Sign(W + (isInserted ? "ins" : "del")));
        MarkRuns(row, author, isInserted);
    }

    /// <summary>Marks all that stands in something.</summary>
    public static void MarkRuns(XElement container, Author author, bool isInserted)
    {
        // What stands in a box that floats comes and goes with the box.
        foreach (var element in container.Descendants().Where(e => e.Name == Run || e.Name == M + "oMath" || e.Name == M + "oMathPara").Where(e => e.Name != M + "oMath" || e.Parent!.Name != M + "oMathPara").Where(e => !e.Ancestors().TakeWhile(a => a != container).Any(a => a.Name == Run || Inserted.Contains(a.Name) || Deleted.Contains(a.Name))).ToArray()) Mark(element, author, isInserted);
    }

    /// <summary>Marks a run or a formula.</summary>
    public static void Mark(XElement element, Author author, bool isInserted)
    {
        if (element.Ancestors().TakeWhile(a => a.Name != P).Any(a => Deleted.Contains(a.Name) || (isInserted && Inserted.Contains(a.Name)))) return;
        if (element.Parent is { } field && field.Is("fldSimple")) Unfold(field);
        if (isInserted) element.ReplaceWith(author.Sign(W + "ins", new XElement(element)));
        else if (element.Name == Run) ParagraphEditor.MarkDeleted(element, author);
        else element.ReplaceWith(author.Sign(W + "del", new XElement(element)));
    }

    /// <summary>A field in one element cannot hold tracked changes, so it becomes one of several.</summary>
    public static void Unfold(XElement field)
    {
        var properties = field.Descendants(Run).FirstOrDefault()?.Element(W + "rPr");
        var instruction = new XElement(W + "instrText", new XAttribute(XNamespace.Xml + "space", "preserve"), (string?)field.Attribute(W + "instr"));
        field.AddBeforeSelf(Of(Character("begin")), Of(instruction), Of(Character("separate")));
        field.AddAfterSelf(Of(Character("end")));
        XElement[] content = [.. field.Elements()];
        // What somebody holds on to stays the same element.
        foreach (var element in content)
        {
            element.Remove();
            field.AddBeforeSelf(element);
        }
        field.Remove();

        XElement Of(XElement inner) => new(Run, properties is null ? null : new XElement(properties), inner);

        static XElement Character(string type) => new(W + "fldChar", new XAttribute(W + "fldCharType", type));
    }

    /// <summary>The formatting of a paragraph's end, made if it has none.</summary>
    private static XElement EndOf(XElement paragraph)
    {
        var properties = PropertiesOf(paragraph);
        if (properties.Element(W + "rPr") is { } end) return end;
        end = new XElement(W + "rPr");
        if (properties.Elements().FirstOrDefault(e => e.Is("sectPr") || e.Is("pPrChange")) is { } after) after.AddBeforeSelf(end);
        else properties.Add(end);
        return end;
    }
}
