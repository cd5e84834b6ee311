using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Flow;
using Fennick.Houses;

namespace Fennick.Layout;

/// <summary>Gives every table the width that its content needs, and never more than its container has.</summary>
internal static class Fitting
{
    /// <summary>Left and right cell margins together, in points; <c>HouseParts</c> writes them into the table styles.</summary>
    public const double CellMargins = 2 * CellMargin;

    /// <summary>The left or right margin of a cell, in points.</summary>
    public const double CellMargin = 5.5;

    private const double Slack = 0.5;

    public static FittedDocument Fit(FlowDocument flow, DressedHouse house)
    {
        var tables = ImmutableArray.CreateBuilder<TableGeometry>();
        var diagnostics = ImmutableArray.CreateBuilder<Diagnostic>();
        foreach (var section in flow.Sections)
            foreach (var block in section.Blocks)
                if (block is FlowTable table)
                    tables.Add(Fit(table, section.Page.TextWidth - (ListIndent(house) * table.Indents), house, diagnostics));
        return new FittedDocument(flow, tables.ToImmutable(), diagnostics.ToImmutable());
    }

    /// <summary>How far each level of lists indents what stands in it.</summary>
    public static Length ListIndent(DressedHouse house) => house.Style(StyleRole.ListBullet).IndentLeft;

    private static TableGeometry Fit(FlowTable table, Length available, DressedHouse house, ImmutableArray<Diagnostic>.Builder diagnostics)
    {
        var count = table.Columns.Length;
        var natural = new double[count];
        var least = new double[count];
        foreach (var row in table.Rows)
        {
            for (var c = 0; c < row.Cells.Length; c++)
            {
                var (width, longestWord) = Measure(row.Cells[c].Content, house);
                natural[c] = Math.Max(natural[c], width + CellMargins + Slack);
                least[c] = Math.Max(least[c], longestWord + CellMargins + Slack);
            }
        }
        var room = available.Points;
        if (natural.Sum() <= room) return Geometry(natural, available);
        if (least.Sum() <= room) return Geometry(Wrap(natural, least, room), available);
        var scale = room / least.Sum();
        var name = table.Title.Length > 0 ? $"the table \"{table.Title}\"" : "a table";
        diagnostics.Add(Diagnostic.Warning(null, $"{name} is too wide for its page: {table.Description}", "shorten its longest words, or drop columns"));
        return Geometry([.. least.Select(w => w * scale)], available);
    }

    /// <summary>Columns that fit keep their width; the others share what is left in proportion to what they lack.</summary>
    private static double[] Wrap(double[] natural, double[] least, double room)
    {
        var spare = room - least.Sum();
        var lacking = natural.Zip(least, (n, l) => n - l).ToArray();
        var total = lacking.Sum();
        return [.. least.Select((l, c) => l + (spare * lacking[c] / total))];
    }

    private static TableGeometry Geometry(double[] points, Length available)
    {
        var twips = points.Select(p => (int)Math.Ceiling(p * 20)).ToArray();
        for (var c = twips.Length - 1; twips.Sum() > available.Twips && c >= 0; c--)
            twips[c] -= Math.Min(twips[c] - 1, twips.Sum() - available.Twips);
        return new TableGeometry([.. twips]);
    }

    private static (double Width, double LongestWord) Measure(FlowParagraph paragraph, DressedHouse house)
    {
        var style = house.Style(paragraph.Style);
        double width = 0, line = 0, longest = 0;
        foreach (var inline in paragraph.Inlines) Measure(inline);
        return (Math.Max(width, line), longest);

        void Measure(FlowInline inline)
        {
            switch (inline)
            {
                case FlowText text: MeasureText(text.Text, text.Format); break;
                case FlowField field: MeasureText(field.Result, field.Format); break;
                case FlowBookmark bookmark:
                    foreach (var inner in bookmark.Content) Measure(inner);
                    break;
                case FlowLink link:
                    foreach (var inner in link.Content) Measure(inner);
                    break;
                case FlowBreak:
                    width = Math.Max(width, line);
                    line = 0;
                    break;
            }
        }

        void MeasureText(ReadOnlySpan<char> text, CharacterFormat format)
        {
            var face = format.HasFlag(CharacterFormat.Code) ? house.CodeFace
                : house.Face(paragraph.Style, format.HasFlag(CharacterFormat.Bold), format.HasFlag(CharacterFormat.Italic));
            line += face.Width(text, style.Points);
            foreach (var range in text.SplitAny(' ', '-', '/'))
                longest = Math.Max(longest, face.Width(text[range.Start..Math.Min(text.Length, range.End.Value + 1)].TrimEnd(), style.Points));
        }
    }
}
