using System.Globalization;
using System.Text.RegularExpressions;
using Fennick.Manuscripts.Source;

namespace Fennick.Manuscripts.Settings;

/// <summary>One setting as written: <c>key: value</c>.</summary>
/// <param name="Key">Everything before the first colon that a space or the line's end follows.</param>
/// <param name="Offset">Where the key stands in the manuscript.</param>
/// <param name="Value">Everything after it, with the lines that continue it.</param>
internal sealed partial record SettingsEntry(string Key, int Offset, SourceFragment Value)
{
    /// <summary>The names in braces.</summary>
    public IEnumerable<string> Parameters => Hole().Matches(Text).Select(m => m.Groups[1].Value);

    /// <summary>The same with the values of parameters in their places.</summary>
    public SettingsEntry Filled(IReadOnlyDictionary<string, object> values) =>
        this with { Value = SourceFragment.Join([(Hole().Replace(Text, m => Convert.ToString(values[m.Groups[1].Value], CultureInfo.InvariantCulture) ?? ""), Value.Offset)]) };

    [GeneratedRegex(@"\{\s*(.*?)\s*\}")]
    private static partial Regex Hole();

    public string Text => Value.Text.Replace("\n", " ", StringComparison.Ordinal).Trim();
}
