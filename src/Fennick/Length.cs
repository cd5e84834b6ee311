using System.Globalization;

namespace Fennick;

/// <summary>A length on paper. It carries its unit in the type, so no number is ever in the wrong one.</summary>
/// <remarks>Kept in English metric units, of which 360,000 make a centimetre and 12,700 a point (ECMA-376 Part 1, §20.1.10.16).</remarks>
public readonly record struct Length : IComparable<Length>
{
    private const long PerCentimetre = 360_000;
    private const long PerInch = 914_400;
    private const long PerPoint = 12_700;
    private const long PerTwip = 635;

    private Length(long englishMetricUnits) => EnglishMetricUnits = englishMetricUnits;

    /// <summary>The length in English metric units, as drawings count it.</summary>
    public long EnglishMetricUnits { get; }

    /// <summary>The length in whole twips (twentieths of a point), as pages and tables count it.</summary>
    public int Twips => (int)Math.Round(EnglishMetricUnits / (double)PerTwip);

    /// <summary>The length in points, 72 to the inch.</summary>
    public double Points => EnglishMetricUnits / (double)PerPoint;

    /// <summary>The length in centimetres.</summary>
    public double InCentimetres => EnglishMetricUnits / (double)PerCentimetre;

    /// <summary>No length at all.</summary>
    public static Length Zero => default;

    /// <summary>A length in centimetres.</summary>
    public static Length Centimetres(double value) => new((long)Math.Round(value * PerCentimetre));

    /// <summary>A length in millimetres.</summary>
    public static Length Millimetres(double value) => Centimetres(value / 10);

    /// <summary>A length in inches.</summary>
    public static Length Inches(double value) => new((long)Math.Round(value * PerInch));

    /// <summary>A length in points, 72 to the inch.</summary>
    public static Length FromPoints(double value) => new((long)Math.Round(value * PerPoint));

    /// <summary>A length in twips, 20 to the point.</summary>
    public static Length FromTwips(int value) => new(value * PerTwip);

    /// <summary>Reads "15 cm", "8mm", "6.5 in" or "12 pt".</summary>
    /// <returns>False if the text is not a length.</returns>
    public static bool TryParse(string? text, out Length length)
    {
        length = Zero;
        var trimmed = (text ?? "").AsSpan().Trim();
        if (trimmed.Length < 3
            || !double.TryParse(trimmed[..^2], NumberStyles.Float, CultureInfo.InvariantCulture, out var value)
            || !double.IsFinite(value) || Math.Abs(value) > 10_000)
            return false;
        Length? read = trimmed[^2..] switch
        {
            "cm" => Centimetres(value),
            "mm" => Millimetres(value),
            "in" => Inches(value),
            "pt" => FromPoints(value),
            _ => null,
        };
        length = read ?? Zero;
        return read is not null;
    }

    /// <inheritdoc/>
    public int CompareTo(Length other) => EnglishMetricUnits.CompareTo(other.EnglishMetricUnits);

    /// <summary>The sum of two lengths.</summary>
    public static Length operator +(Length left, Length right) => new(left.EnglishMetricUnits + right.EnglishMetricUnits);

    /// <summary>The difference of two lengths.</summary>
    public static Length operator -(Length left, Length right) => new(left.EnglishMetricUnits - right.EnglishMetricUnits);

    /// <summary>A length made longer or shorter.</summary>
    public static Length operator *(Length length, double factor) => new((long)Math.Round(length.EnglishMetricUnits * factor));

    /// <summary>Whether the left length is the shorter.</summary>
    public static bool operator <(Length left, Length right) => left.EnglishMetricUnits < right.EnglishMetricUnits;

    /// <summary>Whether the left length is the longer.</summary>
    public static bool operator >(Length left, Length right) => left.EnglishMetricUnits > right.EnglishMetricUnits;

    /// <summary>Whether the left length is not the longer.</summary>
    public static bool operator <=(Length left, Length right) => left.EnglishMetricUnits <= right.EnglishMetricUnits;

    /// <summary>Whether the left length is not the shorter.</summary>
    public static bool operator >=(Length left, Length right) => left.EnglishMetricUnits >= right.EnglishMetricUnits;

    /// <inheritdoc/>
    public override string ToString() =>
        string.Create(CultureInfo.InvariantCulture, $"{InCentimetres:0.###} cm");
}
