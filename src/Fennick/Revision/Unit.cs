using Fennick.Records;

namespace Fennick.Revision;

/// <summary>The smallest thing that is compared in paragraphs: a word, a number, a sign, a field, an object.</summary>
/// <param name="Key">By what it is compared.</param>
/// <param name="Start">Where it starts in the text.</param>
/// <param name="End">Where it ends.</param>
/// <param name="Segment">The number of the segment that it is of; -1 in documents.</param>
internal readonly record struct Unit(string Key, int Start, int End, int Segment)
{
    internal const string FieldKey = "\u0001";

    /// <summary>The units of what was written.</summary>
    /// <param name="segments">It.</param>
    /// <param name="asText">Whether the results of fields count as text, because other programs have made text of them.</param>
    /// <param name="wholeValues">Whether a value is one unit, known by its expression.</param>
    public static List<Unit> Of(IReadOnlyList<Segment> segments, bool asText, bool wholeValues = false)
    {
        var (units, at) = (new List<Unit>(), 0);
        for (var s = 0; s < segments.Count; s++)
        {
            var segment = segments[s];
            if (segment is FieldSegment field && !asText) units.Add(new Unit(FieldKey + field.Kind, at, at + field.Text.Length, s));
            else if (segment is ObjectSegment known) units.Add(new Unit(ObjectKey + known.Kind, at, at + 1, s));
            else if (segment is ValueSegment value && wholeValues) units.Add(new Unit(Succession.KeyOf(value), at, at + value.Text.Length, s));
            else AddWords(units, segment.Text, at, s);
            at += segment.Text.Length;
        }
        return units;
    }

    /// <summary>The units of a paragraph.</summary>
    public static List<Unit> Of(ParagraphReading reading, bool asText)
    {
        var units = new List<Unit>();
        // Where a value ends, a word ends.
        var edges = reading.Values.SelectMany(v => new[] { v.Start, v.End }).ToHashSet();
        var start = -1;
        foreach (var piece in reading.Pieces)
        {
            if (piece.Kind == PieceKind.Object || (piece.Kind == PieceKind.Field && !asText))
            {
                Flush(piece.Start);
                units.Add(new Unit(piece.Kind == PieceKind.Object ? ObjectKey + KindOf(piece) : FieldKey + piece.Instruction.Split(' ', 2)[0], piece.Start, piece.End, -1));
                continue;
            }
            if (start < 0) start = piece.Start;
            else if (edges.Contains(piece.Start))
            {
                Flush(piece.Start);
                start = piece.Start;
            }
        }
        Flush(reading.Text.Length);
        return units;

        void Flush(int end)
        {
            if (start >= 0 && end > start) AddWords(units, reading.Text[start..end], start, -1);
            start = -1;
        }
    }

    /// <summary>What kind of object stands in a paragraph.</summary>
    public static ObjectKind KindOf(Piece piece) => piece.Element.Name.LocalName switch
    {
        "footnoteReference" or "endnoteReference" => ObjectKind.Note,
        "oMath" or "oMathPara" => ObjectKind.Formula,
        _ when piece.Element.Descendants(WordNames.C + "chart").Any() => ObjectKind.Chart,
        _ when piece.Element.Descendants(WordNames.A + "blip").Any() => ObjectKind.Picture,
        _ => ObjectKind.Drawing,
    };

    internal const string ObjectKey = Records.Segment.Object;

    private static void AddWords(List<Unit> units, string text, int at, int segment)
    {
        foreach (var (start, length) in Words.Of(text)) units.Add(new Unit(Words.Alike(text.Substring(start, length)), at + start, at + start + length, segment));
    }
}
