namespace Fennick.Statistics.Variables;

/// <summary>
/// Marks for the terms of a model. They are read from the expression and never run; import them with
/// <c>using static Fennick.Statistics.Variables.Terms;</c>.
/// </summary>
public static class Terms
{
    /// <summary>The interaction of two terms, beside their own: <c>Both = Cross(h.ForageHa, h.Strain)</c>.</summary>
    public static object Cross(object? first, object? second) => throw OnlyInAModel();

    /// <summary>A factor, also of numbers: <c>Season = Factor(h.Season, reference: "2021")</c>.</summary>
    /// <param name="value">The level of a row.</param>
    /// <param name="reference">The level that the others are compared with; the first in order if null.</param>
    public static object Factor(object? value, string? reference = null) => throw OnlyInAModel();

    private static InvalidOperationException OnlyInAModel() => new("This marks a term of a model; it has no value of its own.");
}
