using Fennick.Formatting;

namespace Fennick.Charts;

/// <summary>Charts of the parts of a whole.</summary>
internal static class Wholes
{
    public static Chart Parts<T>(IEnumerable<T> records, Func<T, object?> part, Func<T, double?> value)
    {
        var rows = Checked(ChartRows.Read(records, _ => "", value, part));
        return new Chart
        {
            Layers = [new ChartLayer(ChartMark.Columns, rows.Series)],
            Stacking = Stacking.Shares,
            LiesOnSide = true,
            ShowsValues = true,
            ValueAxis = new ChartAxis { Format = "percent 0" },
            Remarks = rows.Remarks,
        };
    }

    public static Chart Pie<T>(IEnumerable<T> records, Func<T, object?> part, Func<T, double?> value, double hole) =>
        Checked(ChartRows.Read(records, part, value)).With(ChartMark.Slices) with { Hole = hole, ShowsValues = true };

    private static ChartRows Checked(ChartRows rows)
    {
        var values = rows.Series.SelectMany(s => s.Points).Select(p => p.Value).ToArray();
        if (values.FirstOrDefault(v => v < 0) is { } negative)
            throw Chart.Refused($"a part of a whole cannot be {ValueFormatter.Format(negative, null, Language.Current)}", "leave negative amounts out, or take columns");
        return values.Sum(v => v ?? 0) > 0 ? rows : throw Chart.Refused("the parts of a whole sum to nothing", "check the records it is made from");
    }
}
