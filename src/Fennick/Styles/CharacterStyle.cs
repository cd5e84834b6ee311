namespace Fennick.Styles;

/// <summary>What words in a text are; a house has one character style for each.</summary>
internal enum CharacterRole
{
    Strong,
    Emphasis,
    Code,
    Link,
    NoteMark,
}

/// <summary>A character style of a house.</summary>
internal sealed record CharacterStyle(string Id, string Name)
{
    /// <summary>Whether the name is one that every word processor knows.</summary>
    public bool IsBuiltIn { get; init; }

    public FontSlot? Font { get; init; }

    public bool Bold { get; init; }

    public bool Italic { get; init; }

    public bool SmallCapitals { get; init; }

    public bool Underlined { get; init; }

    public bool Raised { get; init; }

    public bool NoProofing { get; init; }

    public bool Shaded { get; init; }

    public ThemeColour? Colour { get; init; }

    public int Priority { get; init; } = 99;
}
