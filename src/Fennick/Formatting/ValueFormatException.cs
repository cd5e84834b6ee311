namespace Fennick.Formatting;

/// <summary>A value and a format that do not go together.</summary>
public sealed class ValueFormatException : FennickException
{
    internal ValueFormatException(string message, string? suggestion = null)
        : base(message) => Suggestion = suggestion;

    /// <summary>What was probably meant, or how to write it.</summary>
    public string? Suggestion { get; }
}
