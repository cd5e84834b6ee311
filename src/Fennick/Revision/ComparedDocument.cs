using System.Xml.Linq;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Makes the newer of two documents one that shows by tracked changes how it differs from the older: with all of them accepted it says what the newer says, with all of them rejected what the older said.</summary>
internal sealed class ComparedDocument
{
    private static readonly HashSet<XName> Loose = [W + "commentRangeStart", W + "commentRangeEnd", W + "commentReference", W + "annotationRef", W + "proofErr", W + "permStart", W + "permEnd", W + "lastRenderedPageBreak"];
    private readonly Comparer comparer;
    private readonly Transplant transplant;
    private readonly Author author = new(null);
    private readonly Dictionary<XElement, XElement> placed = [];
    private readonly HashSet<XElement> done = [];

    private ComparedDocument(Comparer comparer)
    {
        this.comparer = comparer;
        transplant = new Transplant(comparer.Old.Document, comparer.New.Document);
    }

    /// <summary>Marks the changes in the newer document.</summary>
    public static void Mark(Comparer comparer)
    {
        var document = new ComparedDocument(comparer);
        foreach (var (oldPart, part, pairs) in comparer.Stories) document.Mark(oldPart, part, pairs);
    }

    private void Mark(string oldPart, string part, List<BlockPair> pairs)
    {
        var root = comparer.New.Document.Change(part);
        var container = root.Is("document") ? root.Element(W + "body")! : root;
        // Notes come and go with what refers to them.
        var areNotes = root.Is("footnotes") || root.Is("endnotes");
        BlockPair[] stays = [.. pairs.Where(p => p is { Old: not null, New: not null, IsMoved: false })];
        var (kept, fresh) = (stays.Select(p => p.Old!.Element).ToHashSet(), stays.Select(p => p.New!.Element).ToHashSet());
        foreach (var pair in stays) placed[pair.Old!.Element] = pair.New!.Element;
        foreach (var pair in stays) Merge(pair, oldPart, part);
        if (areNotes) return;
        foreach (var added in pairs.Where(p => p.New is not null && (p.Old is null || p.IsMoved)).Select(p => p.New!.Element)) Insert(Whole(added, fresh));
        var gone = comparer.Old.Stories.First(s => s.Part == oldPart).Blocks;
        for (var i = 0; i < gone.Count; i++)
            if (!kept.Contains(gone[i].Element)) Remove(gone, i, kept, oldPart, part, container);
    }

    private void Merge(BlockPair pair, string oldPart, string part)
    {
        if (pair is { Old: ReadParagraph before, New: ReadParagraph after }) Merge(before, oldPart, after, part);
        else if (pair is { Old: ReadTable old, New: ReadTable now }) Merge(old, oldPart, now, part);
    }

    private void Merge(ReadParagraph before, string oldPart, ReadParagraph after, string part)
    {
        var edits = ParagraphEdits.Of(comparer.Old, oldPart, before, comparer.New, part, after);
        if (edits.Count == 0) return;
        foreach (var field in after.Element.Descendants(W + "fldSimple").ToArray()) TrackedChanges.Unfold(field);
        after.Renew();
        foreach (var edit in Enumerable.Reverse(edits))
        {
            var editor = new ParagraphEditor(after, author);
            var gone = edit.End > edit.Start ? Deleted(before, edit.Start, edit.End, oldPart, part) : [];
            editor.MarkInserted(edit.From, edit.To, gone);
        }
    }

    /// <summary>Copies of what stood in a stretch of the older paragraph, marked as deleted.</summary>
    private XElement[] Deleted(ReadParagraph before, int start, int end, string oldPart, string part)
    {
        var own = new XElement(before.Element);
        foreach (var field in own.Descendants(W + "fldSimple").ToArray()) TrackedChanges.Unfold(field);
        var copy = new ReadParagraph(own, 0);
        new ParagraphEditor(copy, null).KeepOnly(start, end);
        ParagraphMerge.Prune(own);
        own.Elements(W + "pPr").Remove();
        var made = Copy(own, oldPart, part);
        foreach (var bookmark in made.Descendants().Where(e => e.Is("bookmarkStart") || e.Is("bookmarkEnd")).ToArray()) bookmark.Remove();
        TrackedChanges.MarkRuns(made, author, isInserted: false);
        return [.. made.Elements().Where(e => e.DescendantsAndSelf().Any(i => i.Name == Run || i.Name.Namespace == M))];
    }

    /// <summary>A copy of what stands in the older document, without what belongs to nothing in the newer.</summary>
    private XElement Copy(XElement element, string oldPart, string part)
    {
        var own = new XElement(element);
        foreach (var loose in own.Descendants().Where(e => Loose.Contains(e.Name) || e.Is("sectPr")).ToArray()) loose.Remove();
        Bookmarks.RemoveValues(own);
        foreach (var mark in own.DescendantsAndSelf().SelectMany(e => e.Attributes()).Where(a => a.Name.Namespace == W14 && a.Name.LocalName is "paraId" or "textId").ToArray()) mark.Remove();
        return transplant.Copy(own, oldPart, part);
    }

    /// <summary>The largest thing around an element in which nothing stands that the other document has as well.</summary>
    private static XElement Whole(XElement element, HashSet<XElement> shared)
    {
        foreach (var outer in element.Ancestors().Where(a => a.Name == Table).ToArray())
            if (!outer.Descendants().Any(shared.Contains)) element = outer;
        return element;
    }

    private void Insert(XElement element)
    {
        if (!done.Add(element)) return;
        if (element.Name == P) TrackedChanges.MarkInserted(element, author);
        else TrackedChanges.MarkRows(element, author, isInserted: true);
    }

    private void Remove(List<ReadBlock> blocks, int index, HashSet<XElement> kept, string oldPart, string part, XElement container)
    {
        var element = Whole(blocks[index].Element, kept);
        if (!done.Add(element)) return;
        var copy = Copy(element, oldPart, part);
        if (copy.Name == P) TrackedChanges.MarkDeleted(copy, author);
        else TrackedChanges.MarkRows(copy, author, isInserted: false);
        Place(blocks, index, element, copy, container);
        placed[element] = copy;
    }

    /// <summary>Puts a copy where its original stood: behind what was before it, or before what came after it.</summary>
    private void Place(List<ReadBlock> blocks, int index, XElement element, XElement copy, XElement container)
    {
        if (Neighbour(blocks, index, -1, element) is { } before) before.AddAfterSelf(copy);
        else if (Neighbour(blocks, index, 1, element) is { } after) after.AddBeforeSelf(copy);
        else container.AddFirst(copy);
        if (copy.Name != Table) return;
        // Tables without a paragraph between them become one, and a cell ends with a paragraph.
        if (copy.ElementsBeforeSelf().LastOrDefault()?.Name == Table) copy.AddBeforeSelf(Between());
        if (copy.ElementsAfterSelf().FirstOrDefault() is not { } next || next.Name == Table || next.Is("sectPr")) copy.AddAfterSelf(Between());
    }

    private XElement Between()
    {
        var paragraph = new XElement(P);
        TrackedChanges.MarkInserted(paragraph, author);
        return paragraph;
    }

    /// <summary>What stands in the newer document for the next thing beside an element that both have.</summary>
    private XElement? Neighbour(List<ReadBlock> blocks, int index, int step, XElement element)
    {
        for (var i = index + step; i >= 0 && i < blocks.Count; i += step)
        {
            var other = blocks[i].Element;
            if (other == element || other.Ancestors().Contains(element)) continue;
            var sibling = other.AncestorsAndSelf().FirstOrDefault(a => a.Parent == element.Parent);
            if (sibling is null)
            {
                // It has left the box or cell that the element stands in.
                if (element.Parent!.Is("body")) continue;
                return null;
            }
            if (placed.TryGetValue(sibling, out var own)) return own;
            if (!placed.TryGetValue(other, out var there)) continue;
            for (var climbed = other; climbed != sibling && there.Parent is { } parent; climbed = climbed.Parent!) there = parent;
            if (there.Parent is not null && there.Name == sibling.Name) return there;
        }
        return null;
    }

    private void Merge(ReadTable before, string oldPart, ReadTable after, string part)
    {
        var tables = TableComparison.Of(before, after);
        if (tables.Columns.Index().Any(c => c.Index != c.Item) || tables.New.SelectMany(r => r.Keys).Any(k => k >= tables.Columns.Length))
        {
            TrackedChanges.MarkRows(after.Element, author, isInserted: true);
            var whole = Copy(before.Element, oldPart, part);
            TrackedChanges.MarkRows(whole, author, isInserted: false);
            after.Element.AddBeforeSelf(whole, Between());
            return;
        }
        XElement? last = null;
        for (var r = 0; r < tables.Rows.Length; r++)
        {
            if (tables.Rows[r] >= 0 && IsOneShape(tables.Old[r], tables.New[tables.Rows[r]]))
            {
                last = after.Rows[tables.Rows[r]].Element;
                foreach (var (column, cell) in tables.Old[r]) Merge(cell, oldPart, tables.New[tables.Rows[r]][column], part);
                continue;
            }
            var copy = Copy(before.Rows[r].Element, oldPart, part);
            TrackedChanges.MarkRow(copy, author, isInserted: false);
            if (last is not null) last.AddAfterSelf(copy);
            else if (ReadTable.RowsOf(after.Element).FirstOrDefault() is { } first) first.AddBeforeSelf(copy);
            else after.Element.Add(copy);
            last = copy;
            if (tables.Rows[r] >= 0) TrackedChanges.MarkRow(after.Rows[tables.Rows[r]].Element, author, isInserted: true);
        }
        foreach (var r in Enumerable.Range(0, tables.New.Count).Except(tables.Rows)) TrackedChanges.MarkRow(after.Rows[r].Element, author, isInserted: true);
    }

    private static bool IsOneShape(IReadOnlyDictionary<int, ReadCell> row, IReadOnlyDictionary<int, ReadCell> other) => row.Count == other.Count && row.All(c => other.TryGetValue(c.Key, out var cell) && cell.Span == c.Value.Span);

    private void Merge(ReadCell before, string oldPart, ReadCell after, string part)
    {
        if (before.Paragraphs.Count == after.Paragraphs.Count)
        {
            foreach (var (old, now) in before.Paragraphs.Zip(after.Paragraphs)) Merge(old, oldPart, now, part);
            return;
        }
        if (before.Text == after.Text || after.Paragraphs.Count == 0) return;
        var first = after.Paragraphs[0].Element;
        foreach (var paragraph in before.Paragraphs)
        {
            var copy = Copy(paragraph.Element, oldPart, part);
            TrackedChanges.MarkDeleted(copy, author);
            first.AddBeforeSelf(copy);
        }
        foreach (var paragraph in after.Paragraphs) TrackedChanges.MarkInserted(paragraph.Element, author);
    }
}
