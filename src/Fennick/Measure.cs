using System.Globalization;

namespace Fennick;

/// <summary>A length on paper, or a share of what it is a part of: of the text's width for a figure, of the paper for a margin.</summary>
public readonly record struct Measure
{
    private readonly Length length;
    private readonly double? share;

    private Measure(Length length, double? share)
    {
        this.length = length;
        this.share = share;
    }

    /// <summary>A share in percent.</summary>
    public static Measure Percent(double value) => new(Length.Zero, value / 100);

    /// <summary>A length.</summary>
    public static implicit operator Measure(Length length) => new(length, null);

    /// <summary>Reads a length such as "15 cm", or a share such as "80 %".</summary>
    /// <returns>False if the text is neither.</returns>
    public static bool TryParse(string? text, out Measure measure)
    {
        var trimmed = (text ?? "").Trim();
        if (trimmed.EndsWith('%'))
        {
            var isNumber = double.TryParse(trimmed.AsSpan(0, trimmed.Length - 1), NumberStyles.Float, CultureInfo.InvariantCulture, out var percent) && double.IsFinite(percent) && Math.Abs(percent) <= 1000;
            measure = Percent(percent);
            return isNumber;
        }
        var isLength = Length.TryParse(trimmed, out var length);
        measure = length;
        return isLength;
    }

    /// <summary>Whether it is more than nothing.</summary>
    public bool IsPositive => share is { } part ? part > 0 : length > Length.Zero;

    /// <summary>The length that it is of a whole.</summary>
    public Length Of(Length whole) => share is { } part ? whole * part : length;

    /// <inheritdoc/>
    public override string ToString() => share is { } part ? string.Create(CultureInfo.InvariantCulture, $"{part * 100:0.###} %") : length.ToString();
}
