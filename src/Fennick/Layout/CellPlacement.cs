using Fennick.Flow;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Layout;

/// <summary>What places a cell's paragraph beside its style, in twips.</summary>
/// <param name="Alignment">Left, right or centre.</param>
/// <param name="IndentLeft">From the left edge.</param>
/// <param name="IndentRight">From the right edge.</param>
/// <param name="Tab">Where the number ends and its sign begins, if a sign hangs behind it: the number stands before a right tab stop there, the sign after it.</param>
internal readonly record struct CellPlacement(Alignment Alignment, int IndentLeft, int IndentRight, int? Tab)
{
    /// <summary>Places a cell: numbers so that they meet at the column's point, all else as it is aligned.</summary>
    /// <param name="cell">The cell.</param>
    /// <param name="geometry">That of its table.</param>
    /// <param name="column">Its first column.</param>
    /// <param name="width">Its width in twips, margins included.</param>
    /// <param name="house">The house.</param>
    public static CellPlacement Of(GalleyCell cell, TableGeometry geometry, int column, int width, IStyleBook house)
    {
        var left = cell.Level == 0 ? 0 : CellText.Indent(cell).Twips;
        if (cell.Alignment is Alignment.Left or Alignment.Centre) return new CellPlacement(cell.Alignment, left, 0, null);
        if (cell.ColumnSpan > 1 || geometry.Meetings[column] is not { } meeting || cell.Style is StyleRole.TableHead or StyleRole.TableHeadNumber
            || CellText.WidthAfterPoint(cell, house) is not { } after)
            return new CellPlacement(cell.Alignment == Alignment.Decimal ? Alignment.Centre : Alignment.Right, left, 0, null);
        var ratio = house.Style(cell.Style.At(geometry.TextStep)).Points / house.Style(cell.Style).Points;
        // Numbers of different kinds, such as counts beside shares, have one right edge.
        var end = cell.Alignment == Alignment.Right ? meeting.End : meeting.Point + (int)Math.Round(after * ratio * 20);
        var room = width - (int)(geometry.CellMargins * 20);
        return cell.Sign.IsEmpty ? new CellPlacement(Alignment.Right, 0, Math.Max(0, room - end), null) : new CellPlacement(Alignment.Left, 0, 0, end);
    }
}
