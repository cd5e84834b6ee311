using System.Text.RegularExpressions;
using Fennick.Diagnostics;

namespace Fennick.Formatting;

/// <summary>A named format that a report brings itself; <see cref="Language.With(OwnFormat[])"/> makes it known.</summary>
/// <example>
/// <code>
/// report.Language = report.Language.With(
///     OwnFormat.Chain("weight", "number 1 | unit kg"),
///     OwnFormat.Of("grade", (value, argument, language) => (double)value >= 30 ? "A" : "B"));
/// </code>
/// </example>
public sealed partial class OwnFormat
{
    private OwnFormat(string name) => Name = name;

    /// <summary>What it is called.</summary>
    public string Name { get; }

    /// <summary>The chain that it stands for; null if it is a function.</summary>
    internal string? Links { get; private init; }

    /// <summary>Gives the text of a value.</summary>
    internal Func<object, string, Language, string>? Carry { get; private init; }

    /// <summary>A format that stands for a chain of others, in sentences, tables and charts.</summary>
    /// <param name="name">Its name: lower-case letters and hyphens, at least two.</param>
    /// <param name="chain">The chain, such as <c>number 1 | unit kg</c>.</param>
    /// <exception cref="ReportException">The name cannot be one, or the chain is none.</exception>
    public static OwnFormat Chain(string name, string chain)
    {
        ArgumentNullException.ThrowIfNull(chain);
        var format = new OwnFormat(Checked(name)) { Links = chain.Trim() };
        return ValueFormatter.FindMistake(chain) is { } mistake ? throw new ReportException(Diagnostic.Error(null, mistake.Message, mistake.Suggestion)) : format;
    }

    /// <summary>A format that a function carries out. Missing values do not reach it; of a sequence it is given each item.</summary>
    /// <param name="name">Its name: lower-case letters and hyphens, at least two.</param>
    /// <param name="format">Gives the text of a value, what stands behind the name of the format, and the language.</param>
    /// <exception cref="ReportException">The name cannot be one.</exception>
    public static OwnFormat Of(string name, Func<object, string, Language, string> format)
    {
        ArgumentNullException.ThrowIfNull(format);
        return new OwnFormat(Checked(name)) { Carry = format };
    }

    /// <summary>Whether a format names what only a report brings: no format that is known, nor one that is misspelt.</summary>
    internal static bool MayBe(string format, Language language) =>
        format.Split('|', StringSplitOptions.TrimEntries).Select(l => l.Split(' ')[0]).Any(n => NamePattern().IsMatch(n) && ValueFormatter.FindMistake(n, language) is not null && Nearest.Find(n, NamedFormats.Names) is null);

    private static string Checked(string name)
    {
        ArgumentNullException.ThrowIfNull(name);
        if (!NamePattern().IsMatch(name)) throw new ReportException(Diagnostic.Error(null, $"`{name}` cannot be the name of a format", "write two or more lower-case letters, with hyphens between words, such as `hive-count`"));
        return NamedFormats.Names.Contains(name) ? throw new ReportException(Diagnostic.Error(null, $"there is a format `{name}` already", "give your own another name")) : name;
    }

    [GeneratedRegex("^[a-z]+(-[a-z]+)*$(?<=..)")]
    private static partial Regex NamePattern();
}
