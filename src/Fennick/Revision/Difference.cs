using System.Globalization;
using Fennick.Diagnostics;

namespace Fennick.Revision;

/// <summary>What kind of difference there is between two documents.</summary>
public enum DifferenceKind
{
    /// <summary>A number is another: in a sentence, a table or a chart.</summary>
    Number,

    /// <summary>Words are others.</summary>
    Text,

    /// <summary>A picture, a drawing or a formula is another, or a chart or table has another shape.</summary>
    Shape,

    /// <summary>The newer document has something that the older has not.</summary>
    Added,

    /// <summary>The newer document lacks something that the older has.</summary>
    Removed,

    /// <summary>Something stands elsewhere.</summary>
    Moved,
}

/// <summary>One difference between two documents.</summary>
/// <param name="Kind">What kind it is.</param>
/// <param name="What">What differs, such as <c>mean</c>, a row and column, or the words around it.</param>
/// <param name="Where">Where in the newer document: a caption, a heading; of what was removed, where in the older.</param>
/// <param name="Before">What the older document has; of what was moved, where it stood, if that is another place; null if nothing.</param>
/// <param name="After">What the newer document has; null if nothing.</param>
public sealed record Difference(DifferenceKind Kind, string What, string Where, string? Before, string? After)
{
    /// <summary>By how much a number has grown, in the unit in which it is printed; null for what is no number.</summary>
    public double? Change { get; init; }

    /// <summary>That as a share of the older number's size, from the values in full where both documents remember them; null for what is no number, and where the older is zero.</summary>
    public double? Relative { get; init; }

    /// <summary>How many digits are printed behind the decimal sign.</summary>
    internal int Decimals { get; init; }

    /// <summary>Where in the manuscript of the newer document it comes from; null if that is not known.</summary>
    public SourcePlace? Place { get; init; }

    /// <summary>It in a sentence.</summary>
    public override string ToString() => Kind switch
    {
        DifferenceKind.Number => $"{What} in {Where}: {Before} → {After}{Amount}",
        DifferenceKind.Text => $"{What} in {Where}: “{Before}” → “{After}”",
        DifferenceKind.Shape => $"{What} in {Where}{(Before is null ? " is another" : $": {Before} → {After}")}",
        DifferenceKind.Added => $"{What} in {Where}{(After is null ? "" : $": {After}")}",
        DifferenceKind.Removed => $"{What} in {Where}{(Before is null ? "" : $": {Before}")}",
        _ => Before is null ? $"{What} in {Where}: {After}" : $"{What} from {Before} to {Where}: {After}",
    };

    private string Amount => Change is not { } change ? "" : Relative is { } relative ? $" ({Signed(change, Decimals)}, {Signed(relative * 100, 1)} %)" : $" ({Signed(change, Decimals)})";

    private static string Signed(double value, int decimals)
    {
        var size = Math.Abs(value).ToString("F" + decimals.ToString(CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
        // What is lost in rounding is shown by its first digits.
        if (value != 0 && !size.Any(c => c is >= '1' and <= '9')) size = Math.Abs(value).ToString("G1", CultureInfo.InvariantCulture);
        return (value < 0 ? "\u2212" : "+") + size;
    }
}
