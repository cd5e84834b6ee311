using System.Globalization;
using Fennick.Formatting;

namespace Fennick.Charts;

/// <summary>A bin of a histogram: from its lower edge, which belongs to it, to its upper one.</summary>
internal sealed record Bin(double From, double To) : IFormattable
{
    public string ToString(string? format, IFormatProvider? formatProvider)
    {
        var language = Language.Find((formatProvider as CultureInfo)?.Name ?? "") ?? Language.Current;
        var edges = ValueFormatter.ColumnFormat([From, To, To - From]);
        return $"{ValueFormatter.Format(From, edges, language)}–{ValueFormatter.Format(To, edges, language)}";
    }

    public override string ToString() => ToString(null, CultureInfo.InvariantCulture);
}
