namespace Fennick.Diagnostics;

/// <summary>Something the writer of a report should know: what is wrong, where, and what to do.</summary>
/// <param name="Severity">How much it matters.</param>
/// <param name="Place">Where it is, if it is anywhere.</param>
/// <param name="Message">What is wrong, in the user's words.</param>
/// <param name="Suggestion">What to do about it, if that is known.</param>
public sealed record Diagnostic(Severity Severity, SourcePlace? Place, string Message, string? Suggestion = null)
{
    /// <summary>An error at a place.</summary>
    public static Diagnostic Error(SourcePlace? place, string message, string? suggestion = null) =>
        new(Severity.Error, place, message, suggestion);

    /// <summary>A warning at a place.</summary>
    public static Diagnostic Warning(SourcePlace? place, string message, string? suggestion = null) =>
        new(Severity.Warning, place, message, suggestion);

    /// <summary><c>file:line:column: error: message; suggestion</c></summary>
    public override string ToString()
    {
        var severity = Severity switch { Severity.Error => "error", Severity.Warning => "warning", _ => "advice" };
        var place = Place is null ? "" : $"{Place}: ";
        return Suggestion is null ? $"{place}{severity}: {Message}" : $"{place}{severity}: {Message}; {Suggestion}";
    }
}
