namespace Fennick.Tables;

/// <summary>A named set of table rules; in the document it is a table style, and changing the style changes the tables.</summary>
/// <param name="Name">The name as settings give it: one of the four below, or that of a table style of the house, such as <c>lined</c> of the house tansy.</param>
public sealed record Ruling(string Name)
{
    /// <summary>Horizontal rules only: above the header, under it, and at the bottom.</summary>
    public static Ruling Open { get; } = new("open");

    /// <summary>A tinted header and every second row tinted, without rules between.</summary>
    public static Ruling Banded { get; } = new("banded");

    /// <summary>A thin rule around every cell.</summary>
    public static Ruling Boxed { get; } = new("boxed");

    /// <summary>No rules at all.</summary>
    public static Ruling Bare { get; } = new("bare");
}
