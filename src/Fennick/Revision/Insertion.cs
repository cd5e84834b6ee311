using System.Xml.Linq;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Puts what is new in the manuscript behind what stands before it there.</summary>
internal sealed class Insertion(RefreshPass pass, Surroundings surroundings)
{
    private readonly Dictionary<XElement, XElement> placed = [];
    private readonly HashSet<XElement> taken = [];

    public void AddNew()
    {
        foreach (var (part, blocks) in pass.FreshPlaces.Stories)
        {
            if (TargetOf(part) is not { } target) continue;
            for (var i = 0; i < blocks.Count; i++)
                if (IsNew(blocks[i]) && !taken.Contains(blocks[i].Element)) Add(blocks, i, part, target);
        }
    }

    private bool IsNew(ReadBlock block) => pass.FreshPlaces.Of(block) is { } now && pass.Succession.Earlier(now) is null;

    /// <summary>The part of their document that a part of the fresh one has become; new notes come with their marks, and headers stay theirs.</summary>
    private string? TargetOf(string part) => part == pass.Fresh.Package.Main ? pass.Theirs.Package.Main : null;

    private void Add(List<ReadBlock> blocks, int index, string part, string target)
    {
        var element = Whole(blocks[index].Element, blocks);
        foreach (var inner in blocks.Where(b => b.Element == element || b.Element.Ancestors().Contains(element))) taken.Add(inner.Element);
        XElement[] all = [element, .. EntriesBehind(element, pass.FreshPlaces)];
        XElement[] copies = [.. all.Select(e => pass.Transplant.Copy(e, part, target))];
        foreach (var copy in copies)
            foreach (var paragraph in copy.DescendantsAndSelf(P)) paragraph.AddAnnotation(FreshMark.Instance);
        if (pass.Tracker is { } author)
            foreach (var paragraph in copies.SelectMany(c => c.DescendantsAndSelf(P))) TrackedChanges.MarkInserted(paragraph, author);
        Place(blocks, index, element, copies);
        placed[element] = copies[^1];
        var words = string.Join(' ', blocks.Where(b => b.Element == element || b.Element.Ancestors().Contains(element)).Select(b => b.Text)).Trim();
        if (words.Length > 0 && pass.FreshPlaces.Of(blocks[index]) is { } now) pass.Add(ChangeKind.Added, element.Name == Table ? "a table" : "a paragraph", surroundings.Of(now), null, Refresher.Short(words), now.Place);
    }

    /// <summary>The largest thing around an element that is new as a whole.</summary>
    private XElement Whole(XElement element, List<ReadBlock> blocks)
    {
        foreach (var outer in element.Ancestors().Where(a => a.Name == Table || a.Is("sdt")).ToArray())
            if (blocks.Where(b => b.Element.Ancestors().Contains(outer)).All(IsNew)) element = outer;
        return element;
    }

    /// <summary>Lists of contents consist of paragraphs that are made from others; they stand behind their title.</summary>
    public static IEnumerable<XElement> EntriesBehind(XElement element, Matching places) =>
        element.Name != P ? [] : element.ElementsAfterSelf().TakeWhile(e => e.Name == P && places.IsEntry(e));

    private void Place(List<ReadBlock> blocks, int index, XElement element, XElement[] copies)
    {
        for (var i = index - 1; i >= 0; i--)
        {
            if (Counterpart(blocks[i], element) is not { } anchor) continue;
            // Lists of contents stay behind their titles.
            while (anchor.ElementsAfterSelf().FirstOrDefault() is { } entry && entry.Name == P && pass.Places.IsEntry(entry)) anchor = entry;
            anchor.AddAfterSelf(copies);
            return;
        }
        for (var i = index + 1; i < blocks.Count; i++)
        {
            if (Counterpart(blocks[i], element) is not { } anchor) continue;
            anchor.AddBeforeSelf(copies);
            return;
        }
        if (pass.Theirs.Body.Elements(W + "sectPr").LastOrDefault() is { } end) end.AddBeforeSelf(copies);
        else pass.Theirs.Body.Add(copies);
    }

    /// <summary>What stands in their document for the neighbour of an element that is new.</summary>
    private XElement? Counterpart(ReadBlock neighbour, XElement element)
    {
        if (neighbour.Element.AncestorsAndSelf().FirstOrDefault(a => a.Parent == element.Parent) is not { } sibling) return null;
        if (placed.TryGetValue(sibling, out var own)) return own.Parent is null ? null : own;
        if (pass.FreshPlaces.Of(neighbour) is not { } now || pass.Succession.Earlier(now) is not { } before || pass.Places.Of(before) is not { Element.Parent: not null } theirs) return null;
        var found = theirs.Element;
        for (var climbed = neighbour.Element; climbed != sibling; climbed = climbed.Parent!)
        {
            if (found.Parent is not { } parent || parent.Name != climbed.Parent!.Name) return null;
            found = parent;
        }
        return found.Parent is null || found.Is("body") ? null : found;
    }
}

/// <summary>Says of a paragraph that it came from the fresh document.</summary>
internal sealed class FreshMark
{
    public static FreshMark Instance { get; } = new();
}
