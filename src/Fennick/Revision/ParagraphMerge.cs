using System.Xml.Linq;
using Fennick.Records;

namespace Fennick.Revision;

/// <summary>Brings the values and words of a paragraph up to date and leaves what people did in it.</summary>
internal sealed class ParagraphMerge(RefreshPass pass, ObjectMerge objects)
{
    /// <summary>Merges a paragraph.</summary>
    /// <param name="before">As it was written.</param>
    /// <param name="theirs">As it stands in the document.</param>
    /// <param name="part">The part that it stands in.</param>
    /// <param name="now">As it is written now.</param>
    /// <param name="fresh">As it stands in the fresh document.</param>
    /// <param name="where">Where in the document it is, in words.</param>
    public void Merge(RecordedParagraph before, ReadParagraph theirs, string part, RecordedParagraph now, ReadParagraph fresh, string where)
    {
        Restyle(before, theirs, part, now, fresh);
        var isSame = Succession.NameOf(before) == Succession.NameOf(now);
        // What nobody has changed, neither people nor the manuscript.
        if (isSame && before.Text == now.Text && theirs.Text == before.Text && !before.Content.Any(s => s is ObjectSegment)) return;
        objects.Merge(before, theirs, part, now, fresh, where);
        var asText = theirs.Reading.Pieces.Count(p => p.Kind == PieceKind.Field) < before.Content.Count(s => s is FieldSegment);
        var units = Unit.Of(before.Content, asText);
        var there = Unit.Of(theirs.Reading, asText);
        var places = Alignment.Equal([.. units.Select(u => u.Key)], [.. there.Select(u => u.Key)]);
        var stretches = Enumerable.Range(0, before.Content.Length).Select(s => StretchOf(s, before, theirs, units, there, places)).ToArray();
        var edits = new List<Edit>();
        var pairs = Alignment.Equal([.. before.Content.Select(Succession.KeyOf)], [.. now.Content.Select(Succession.KeyOf)]);
        for (var s = 0; s < before.Content.Length; s++)
        {
            if (before.Content[s] is not ValueSegment value) continue;
            if (pairs[s] >= 0 && now.Content[pairs[s]] is ValueSegment next) Merge(value, stretches[s], next, (now, pairs[s]), theirs, part, where, edits);
        }
        NoteOwnWords(theirs, there, places, stretches);
        if (!isSame) MergeWords(before, theirs, part, now, fresh, where, units, there, places, stretches, edits);
        foreach (var edit in edits.OrderByDescending(e => e.Start).ThenByDescending(e => e.End)) edit.Make();
    }

    /// <summary>Notes what people have written between what the manuscript says.</summary>
    private void NoteOwnWords(ReadParagraph theirs, List<Unit> there, int[] places, Stretch[] stretches)
    {
        var known = places.Where(p => p >= 0).ToHashSet();
        var own = string.Concat(there.Select((u, i) => known.Contains(i) || stretches.Any(s => s.IsIntact && s.Start <= u.Start && s.End >= u.End) ? "\n" : theirs.Reading.Text[u.Start..u.End])).Trim('\n');
        if (own.Length > 0) pass.OwnWords[theirs] = own;
    }

    /// <summary>A paragraph that is another kind of paragraph now gets its style, unless people have given it one.</summary>
    private void Restyle(RecordedParagraph before, ReadParagraph theirs, string part, RecordedParagraph now, ReadParagraph fresh)
    {
        if (before.Style == now.Style || theirs.Style != before.Style) return;
        var copy = pass.Transplant.Copy(new XElement(WordNames.P, fresh.Element.Element(WordNames.W + "pPr")), pass.Fresh.Package.Main, part);
        if (copy.Element(WordNames.W + "pPr")?.Element(WordNames.W + "pStyle") is not { } style) return;
        var properties = WordNames.PropertiesOf(theirs.Element);
        properties.Element(WordNames.W + "pStyle")?.Remove();
        properties.AddFirst(new XElement(style));
    }

    /// <summary>What has become of a segment.</summary>
    private static Stretch StretchOf(int segment, RecordedParagraph before, ReadParagraph theirs, List<Unit> units, List<Unit> there, int[] places)
    {
        if (before.Content[segment] is ValueSegment { Mark: > 0 } marked && theirs.Reading.Values.Where(v => v.Value == marked.Mark).ToArray() is [var only])
        {
            var text = theirs.Reading.Text[only.Start..only.End];
            if (only.End > only.Start) return new Stretch(only.Start, only.End, Words.Alike(text) == Words.Alike(marked.Text));
        }
        int[] own = [.. Enumerable.Range(0, units.Count).Where(u => units[u].Segment == segment)];
        if (own.Length == 0) return new Stretch(0, 0, IsIntact: true);
        var isIntact = own.All(u => places[u] >= 0) && places[own[^1]] - places[own[0]] == own.Length - 1;
        if (isIntact) return new Stretch(there[places[own[0]]].Start, there[places[own[^1]]].End, IsIntact: true);
        var (left, right) = (own[0] - 1, own[^1] + 1);
        while (left >= 0 && places[left] < 0) left--;
        while (right < units.Count && places[right] < 0) right++;
        var start = left < 0 ? 0 : there[places[left]].End;
        var end = right >= units.Count ? theirs.Reading.Text.Length : there[places[right]].Start;
        return new Stretch(start, Math.Max(start, end), IsIntact: false);
    }

    private void Merge(ValueSegment before, Stretch stretch, ValueSegment now, (RecordedBlock Block, int Segment) target, ReadParagraph theirs, string part, string where, List<Edit> edits)
    {
        if (before.Text == now.Text) return;
        pass.Outdated.Add((before.Text, now.Text, now.Origin.Expression, now.Origin.Place));
        var (start, end) = (stretch.Start, stretch.End);
        var text = theirs.Reading.Text[start..end];
        if (text == now.Text) return;
        var what = now.Origin.Expression;
        var isTracked = theirs.Reading.Pieces.Any(p => p.IsTracked && p.End > start && p.Start < end);
        if (stretch.IsIntact && !isTracked)
        {
            edits.Add(new Edit(start, end, () => new ParagraphEditor(theirs, pass.Tracker).Replace(start, end, now.Text)));
            pass.Add(ChangeKind.Refreshed, what, where, before.Text, now.Text, now.Origin.Place);
            return;
        }
        pass.Unresolved[target] = before.Text;
        if (text.Trim().Length == 0)
        {
            pass.Add(ChangeKind.StaysDeleted, what, where, before.Text, now.Text, now.Origin.Place);
            return;
        }
        pass.Add(ChangeKind.Proposed, what, where, text.Trim(), now.Text, now.Origin.Place);
        if (before.Proposed == now.Text) return;
        if (pass.Options.Proposals == ProposalForm.Tracked && !isTracked) edits.Add(new Edit(start, end, () => new ParagraphEditor(theirs, pass.Author).Replace(start, end, now.Text)));
        else edits.Add(new Edit(start, end, () => pass.Proposals.Comment(part, theirs, start, end, $"The manuscript gives {now.Text} here now; it was {before.Text}.")));
    }

    /// <summary>Brings the words up to date if people have left them, and proposes them if not.</summary>
    private void MergeWords(RecordedParagraph before, ReadParagraph theirs, string part, RecordedParagraph now, ReadParagraph fresh, string where, List<Unit> units, List<Unit> there, int[] places, Stretch[] stretches, List<Edit> edits)
    {
        var found = places.Where(p => p >= 0).ToHashSet();
        var isTheirs = Enumerable.Range(0, units.Count).Any(u => places[u] < 0 && before.Content[units[u].Segment] is not ValueSegment)
            || Enumerable.Range(0, there.Count).Any(t => !found.Contains(t) && !stretches.Any(s => s.Start <= there[t].Start && s.End >= there[t].End && s.End > s.Start)) || theirs.Reading.HasRemarks;
        if (theirs.Reading.Text == fresh.Reading.Text) return;
        if (isTheirs)
        {
            pass.Add(ChangeKind.Proposed, "the words", where, theirs.Text, now.Text, now.Place ?? before.Place);
            edits.Insert(0, new Edit(int.MinValue, int.MinValue, () => pass.Proposals.Comment(part, theirs, 0, 0, $"The manuscript says here now:\n{now.Text}")));
            return;
        }
        pass.Add(ChangeKind.Refreshed, "the words", where, before.Text, now.Text, now.Place ?? before.Place);
        // Values that stay have been dealt with: words are exchanged around them.
        var old = Unit.Of(before.Content, asText: false, wholeValues: true);
        var next = Unit.Of(now.Content, asText: false, wholeValues: true);
        var kept = Alignment.Equal([.. old.Select(u => u.Key)], [.. next.Select(u => u.Key)]);
        var at = 0;
        var last = 0;
        for (var i = 0; i <= old.Count; i++)
        {
            if (i < old.Count && kept[i] < 0) continue;
            var (oldEnd, nextEnd) = i < old.Count ? (i, kept[i]) : (old.Count, next.Count);
            if (oldEnd > last || nextEnd > at) Exchange(theirs, part, fresh, Position(last, isEnd: false), Position(oldEnd, isEnd: true), nextEnd > at ? (next[at].Start, next[nextEnd - 1].End) : (0, 0), edits);
            (last, at) = (i + 1, i < old.Count ? kept[i] + 1 : at);
        }

        // Where in their text the gap before a unit of the old one begins or ends.
        int Position(int unit, bool isEnd)
        {
            if (isEnd) return unit >= old.Count ? theirs.Reading.Text.Length : Where(old[unit]).Start;
            return unit == 0 ? 0 : Where(old[unit - 1]).End;
        }

        (int Start, int End) Where(Unit unit)
        {
            if (before.Content[unit.Segment] is ValueSegment) return (stretches[unit.Segment].Start, stretches[unit.Segment].End);
            var same = units.FindIndex(u => u.Start == unit.Start && u.Segment == unit.Segment);
            return same >= 0 && places[same] >= 0 ? (there[places[same]].Start, there[places[same]].End) : (stretches[unit.Segment].Start, stretches[unit.Segment].End);
        }
    }

    private void Exchange(ReadParagraph theirs, string part, ReadParagraph fresh, int start, int end, (int Start, int End) with, List<Edit> edits)
    {
        if (end < start) end = start;
        edits.Add(new Edit(start, end, () =>
        {
            IReadOnlyList<XElement> runs = [];
            if (with.End > with.Start)
            {
                var copy = new ReadParagraph(new XElement(fresh.Element), 0);
                new ParagraphEditor(copy, null).KeepOnly(with.Start, with.End);
                Prune(copy.Element);
                runs = [.. pass.Transplant.Copy(copy.Element, pass.Fresh.Package.Main, part).Elements().Where(e => !e.Is("pPr"))];
            }
            new ParagraphEditor(theirs, pass.Tracker).Replace(start, end, runs);
        }));
    }

    /// <summary>Takes out what holds nothing any more.</summary>
    internal static void Prune(XElement paragraph)
    {
        foreach (var link in paragraph.Descendants().Where(e => e.Is("hyperlink") || e.Is("sdt")).ToArray())
            if (!link.Descendants(WordNames.Run).Any()) link.Remove();
        foreach (var start in paragraph.Descendants(WordNames.W + "bookmarkStart").ToArray())
        {
            if (start.ElementsAfterSelf().TakeWhile(e => !e.Is("bookmarkEnd") || (string?)e.Attribute(WordNames.Id) != (string?)start.Attribute(WordNames.Id)).Any(e => e.Name == WordNames.Run || e.Descendants(WordNames.Run).Any())) continue;
            paragraph.Descendants(WordNames.W + "bookmarkEnd").Where(e => (string?)e.Attribute(WordNames.Id) == (string?)start.Attribute(WordNames.Id)).Remove();
            start.Remove();
        }
    }

    /// <summary>What has become of a segment: a stretch of the text.</summary>
    private readonly record struct Stretch(int Start, int End, bool IsIntact);

    /// <summary>A change of a stretch of the text, made from the last to the first, so that the places before it hold.</summary>
    private sealed record Edit(int Start, int End, Action Make);
}
