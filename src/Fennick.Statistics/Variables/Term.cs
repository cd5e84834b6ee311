namespace Fennick.Statistics.Variables;

/// <summary>A column of a design: a number, a level of a factor, or a product of such.</summary>
/// <param name="Name">The name in results: <c>ForageHa</c>, <c>Strain=Dusk</c>, <c>ForageHa × Strain=Dusk</c>, <c>intercept</c>.</param>
/// <param name="Variable">The name of the term it belongs to; several columns share it if the term is a factor.</param>
/// <param name="Level">The level it stands for, if the term is a factor.</param>
/// <param name="Reference">The level that it is compared with, if the term is a factor.</param>
public sealed record Term(string Name, string Variable, string? Level = null, string? Reference = null)
{
    /// <summary>The name of the constant.</summary>
    public const string InterceptName = "intercept";

    /// <summary>The constant.</summary>
    public static Term Intercept { get; } = new(InterceptName, InterceptName);

    /// <summary>A term by its name in results: <c>Strain=Dusk</c> is the level Dusk of the factor Strain.</summary>
    public static Term Named(string name) => name.Split('=') is [{ Length: > 0 } variable, { Length: > 0 } level] && !name.Contains(" × ", StringComparison.Ordinal) ? new(name, variable, level) : new(name, name);
}
