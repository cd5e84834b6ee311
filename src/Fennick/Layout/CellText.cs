using System.Globalization;
using Fennick.Flow;
using Fennick.Mathematics;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Layout;

/// <summary>How wide the content of a cell is, in points.</summary>
internal static class CellText
{
    // What is raised is set smaller: between 0.58 and 0.67 of its size, as the word processor has it.
    private const double RaisedSize = 0.67;

    /// <summary>How far a cell's text is indented under the headings above it.</summary>
    public static Length Indent(GalleyCell cell) => Length.FromPoints(9) * cell.Level;

    /// <summary>The width on one line, and that of the longest part that cannot be broken.</summary>
    public static (double Width, double LongestWord) Measure(GalleyCell cell, IStyleBook house)
    {
        double width = 0, line = 0, longest = 0;
        foreach (var inline in cell.Inlines) Measure(inline);
        return (Math.Max(width, line), longest);

        void Measure(GalleyInline inline)
        {
            switch (inline)
            {
                case GalleyText text: MeasureText(text.Text, text.Format); break;
                case GalleyField field: MeasureText(field.Result, field.Format); break;
                case GalleyPageNumber number: MeasureText("00", number.Format); break;
                case GalleyNoteMark mark: MeasureText(mark.Number.ToString(CultureInfo.InvariantCulture), CharacterFormat.NoteMark); break;
                case GalleyContainer container:
                    foreach (var inner in container.Content) Measure(inner);
                    break;
                case GalleyFormula formula: MeasureDrawing(Length.FromPoints(formula.Formula.Letters * house.Style(cell.Style).Points * Formula.Letter)); break;
                case GalleyChart chart: MeasureDrawing(chart.Width); break;
                case GalleySmallChart small: MeasureDrawing(small.Width); break;
                case GalleyPicture picture: MeasureDrawing(picture.Width); break;
                case GalleyBreak:
                    width = Math.Max(width, line);
                    line = 0;
                    break;
            }
        }

        void MeasureDrawing(Length drawing)
        {
            line += drawing.Points;
            longest = Math.Max(longest, drawing.Points);
        }

        void MeasureText(ReadOnlySpan<char> text, CharacterFormat format)
        {
            line += Width(text, format, cell.Style, house);
            foreach (var range in text.SplitAny(' ', '-', '/'))
                longest = Math.Max(longest, Width(text[range.Start..Math.Min(text.Length, range.End.Value + 1)].TrimEnd(' '), format, cell.Style, house));
        }
    }

    /// <summary>The width of what hangs behind a cell's content.</summary>
    public static double SignWidth(GalleyCell cell, IStyleBook house)
    {
        var width = 0.0;
        foreach (var inline in cell.Sign)
            if (inline is GalleyText text) width += Width(text.Text, text.Format, cell.Style, house);
        return width;
    }

    /// <summary>The width of what stands behind the point where numbers meet: the decimal sign and what follows it, or nothing in a column aligned right.</summary>
    /// <returns>Null if the cell holds no number.</returns>
    public static double? WidthAfterPoint(GalleyCell cell, IStyleBook house)
    {
        if (cell.Alignment is not (Alignment.Decimal or Alignment.Right)) return null;
        var text = cell.Inlines is [GalleyText only] ? only.Text : string.Concat(cell.Inlines.Select(i => i is GalleyText t ? t.Text : ""));
        if (text.AsSpan().IndexOfAnyInRange('0', '9') < 0) return null;
        if (cell.Alignment == Alignment.Right) return 0;
        var point = DecimalPlace.Find(text, house.Language);
        double width = 0;
        foreach (var inline in cell.Inlines)
        {
            if (inline is not GalleyText part) continue;
            if (point < part.Text.Length) width += Width(part.Text.AsSpan(Math.Max(0, point)), part.Format, cell.Style, house);
            point -= part.Text.Length;
        }
        return width;
    }

    /// <summary>The width of what a cell has behind its last digit, such as a parenthesis.</summary>
    public static double WidthBehindDigits(GalleyCell cell, IStyleBook house)
    {
        var width = 0.0;
        for (var i = cell.Inlines.Length - 1; i >= 0; i--)
        {
            if (cell.Inlines[i] is not GalleyText text) continue;
            var last = text.Text.AsSpan().LastIndexOfAnyInRange('0', '9');
            width += Width(text.Text.AsSpan(last + 1), text.Format, cell.Style, house);
            if (last >= 0) break;
        }
        return width;
    }

    private static double Width(ReadOnlySpan<char> text, CharacterFormat format, StyleRole style, IStyleBook house)
    {
        var face = format.HasFlag(CharacterFormat.Code) ? house.CodeFace : house.Face(style, format.HasFlag(CharacterFormat.Bold), format.HasFlag(CharacterFormat.Italic));
        return face.Width(text, house.Style(style).Points * ((format & (CharacterFormat.Raised | CharacterFormat.NoteMark)) != 0 ? RaisedSize : 1));
    }
}
