using Fennick.Manuscripts.Source;

namespace Fennick.Manuscripts.Settings;

/// <summary>One setting as written: <c>key: value</c>.</summary>
/// <param name="Key">Everything before the first colon that a space or the line's end follows.</param>
/// <param name="Offset">Where the key stands in the manuscript.</param>
/// <param name="Value">Everything after it, with the lines that continue it.</param>
internal sealed record SettingsEntry(string Key, int Offset, SourceFragment Value)
{
    public string Text => Value.Text.Replace("\n", " ", StringComparison.Ordinal).Trim();
}
