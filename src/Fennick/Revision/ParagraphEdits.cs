using Fennick.Documents;
using Fennick.Records;

namespace Fennick.Revision;

/// <summary>A stretch of a paragraph that is another in a newer document.</summary>
/// <param name="Start">Where it starts in the older text.</param>
/// <param name="End">Where it ends there.</param>
/// <param name="From">Where it starts in the newer text.</param>
/// <param name="To">Where it ends there.</param>
/// <param name="Value">The origin of the value that it is, in the newer document; null if it is none.</param>
/// <param name="Before">The origin of the value in the older.</param>
internal sealed record ParagraphEdit(int Start, int End, int From, int To, Origin? Value, Origin? Before);

/// <summary>Finds what differs between two paragraphs: word by word, and values by their expressions.</summary>
internal static class ParagraphEdits
{
    // What counts or dates itself is no change of anybody's.
    private static readonly HashSet<string> Own = new(["PAGE", "NUMPAGES", "SECTIONPAGES", "SECTION", "PAGEREF", "SEQ", "REF", "NOTEREF", "STYLEREF", "DATE", "TIME", "SAVEDATE", "PRINTDATE", "CREATEDATE", "EDITTIME", "FILENAME", "FILESIZE", "NUMWORDS", "NUMCHARS", "REVNUM"], StringComparer.OrdinalIgnoreCase);

    /// <summary>The stretches, in their order.</summary>
    public static List<ParagraphEdit> Of(ComparedText old, string oldPart, ReadParagraph before, ComparedText now, string part, ReadParagraph after)
    {
        var (units, others) = (UnitsOf(old, oldPart, before), UnitsOf(now, part, after));
        var edits = new List<ParagraphEdit>();
        if (units.Select(u => (u.Unit.Key, u.Text)).SequenceEqual(others.Select(u => (u.Unit.Key, u.Text)))) return edits;
        var places = Alignment.Equal([.. units.Select(u => u.Unit.Key)], [.. others.Select(u => u.Unit.Key)]);
        // A blank between two changes belongs to both.
        for (var i = 1; i < units.Count - 1; i++)
            if (places[i] >= 0 && string.IsNullOrWhiteSpace(units[i].Text) && places[i - 1] < 0 && places[i + 1] < 0 && IsOpen(places[i] - 1) && IsOpen(places[i] + 1)) places[i] = -1;
        var (last, at) = (0, 0);
        for (var i = 0; i <= units.Count; i++)
        {
            if (i < units.Count && places[i] < 0) continue;
            var (end, to) = i < units.Count ? (units[i].Unit.Start, others[places[i]].Unit.Start) : (before.Text.Length, after.Text.Length);
            if (end > last || to > at) edits.Add(new ParagraphEdit(last, end, at, to, null, null));
            if (i == units.Count) break;
            var (was, next) = (units[i], others[places[i]]);
            (last, at) = (was.Unit.End, next.Unit.End);
            if (was.Origin is not null && Words.Alike(was.Text) != Words.Alike(next.Text)) edits.Add(new ParagraphEdit(was.Unit.Start, was.Unit.End, next.Unit.Start, next.Unit.End, next.Origin, was.Origin));
        }
        return edits;

        bool IsOpen(int place) => place < 0 || place >= others.Count || Array.IndexOf(places, place) < 0;
    }

    /// <summary>The words of a paragraph; a value that the document knows is one of them, by its expression.</summary>
    private static List<(Unit Unit, string Text, Origin? Origin)> UnitsOf(ComparedText text, string part, ReadParagraph paragraph)
    {
        var reading = paragraph.Reading;
        var known = text.RecordedAs(paragraph) is RecordedParagraph recorded ? recorded.Content.OfType<ValueSegment>().Where(v => v.Mark > 0).GroupBy(v => v.Mark).ToDictionary(g => g.Key, g => g.First()) : [];
        (int Start, int End, ValueSegment Value)[] values = [.. reading.Values.Where(v => v.End > v.Start && known.ContainsKey(v.Value)).Select(v => (v.Start, v.End, known[v.Value])).OrderBy(v => v.Start)];
        var objects = reading.Pieces.Where(p => p.Kind == PieceKind.Object).ToDictionary(p => p.Start);
        var fields = reading.Pieces.Where(p => p.Kind == PieceKind.Field).GroupBy(p => p.Start).ToDictionary(g => g.Key, g => g.First());
        var units = new List<(Unit Unit, string Text, Origin? Origin)>();
        var end = 0;
        foreach (var unit in Unit.Of(reading, asText: false))
        {
            if (unit.Start < end) continue;
            if (values.FirstOrDefault(v => v.Start <= unit.Start && v.End >= unit.End) is { Value: { } value } range)
            {
                units.Add((unit with { Key = Succession.KeyOf(value), Start = range.Start, End = range.End }, reading.Text[range.Start..range.End], value.Origin));
                end = range.End;
            }
            else if (fields.TryGetValue(unit.Start, out var field) && unit.Key.StartsWith(Unit.FieldKey, StringComparison.Ordinal)) units.Add(Own.Contains(field.Instruction.Split(' ', 2)[0]) ? (unit, "", null) : (unit with { Key = $"{unit.Key}|{field.Text}" }, field.Text, null));
            else if (objects.TryGetValue(unit.Start, out var thing) && unit.Key.StartsWith(Unit.ObjectKey, StringComparison.Ordinal)) units.Add((unit with { Key = unit.Key + text.SignatureOf(part, thing) }, unit.Key, null));
            else if (units.Count > 0 && units[^1] is { Origin: null } sign && sign.Unit.End == unit.Start && unit.End - unit.Start > 0 && char.IsAsciiDigit(reading.Text[unit.Start]) && PrintedNumber.HasMinus(reading.Text, unit.Start)) units[^1] = (new Unit(sign.Text + unit.Key, sign.Unit.Start, unit.End, -1), sign.Text + unit.Key, null);
            else units.Add((unit, unit.Key, null));
        }
        return units;
    }
}
