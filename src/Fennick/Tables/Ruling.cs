using Fennick.Diagnostics;

namespace Fennick.Tables;

/// <summary>A named set of table rules; in the document it is a table style, and changing the style changes the tables.</summary>
/// <param name="Name">The name as settings give it: one of the four below, or the name of a table style of the house.</param>
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

    /// <summary>The rulings that every house has.</summary>
    public static IReadOnlyList<Ruling> All { get; } = [Open, Banded, Boxed, Bare];

    /// <summary>The ruling of a name.</summary>
    /// <exception cref="ReportException">No ruling has this name.</exception>
    public static Ruling Find(string name) => All.FirstOrDefault(r => string.Equals(r.Name, name, StringComparison.OrdinalIgnoreCase))
        ?? throw new ReportException(Diagnostic.Error(null, $"`{name}` is no ruling", Nearest.Suggest(name, All.Select(r => r.Name)) ?? $"the rulings are {string.Join(", ", All.Select(r => $"`{r.Name}`"))}"));
}
