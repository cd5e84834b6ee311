namespace Fennick.Tables;

/// <summary>How wide a column is.</summary>
public abstract record ColumnWidth
{
    private ColumnWidth()
    {
    }

    /// <summary>As wide as what stands in it, and narrower only where the page demands it.</summary>
    public static ColumnWidth Content { get; } = new ContentWidth();

    /// <summary>A width that never changes.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The width is not above zero.</exception>
    public static ColumnWidth Fixed(Length width) => width > Length.Zero ? new FixedWidth(width) : throw new ArgumentOutOfRangeException(nameof(width), width, "A width is above zero.");

    /// <summary>A share of what the other columns leave of the text's width.</summary>
    /// <param name="weight">How large, beside the shares of other columns.</param>
    /// <exception cref="ArgumentOutOfRangeException">The weight is not above zero.</exception>
    public static ColumnWidth Share(double weight = 1) => weight > 0 && double.IsFinite(weight) ? new ShareWidth(weight) : throw new ArgumentOutOfRangeException(nameof(weight), weight, "A share is above zero.");

    internal sealed record ContentWidth : ColumnWidth;

    internal sealed record FixedWidth(Length Width) : ColumnWidth;

    internal sealed record ShareWidth(double Weight) : ColumnWidth;
}
