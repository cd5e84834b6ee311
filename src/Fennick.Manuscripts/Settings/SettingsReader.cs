using Fennick.Diagnostics;
using Fennick.Manuscripts.Source;

namespace Fennick.Manuscripts.Settings;

/// <summary>Reads <c>key: value</c> lines: no quoting, no escapes, no comments; lines with more space continue the one before.</summary>
internal static class SettingsReader
{
    public static List<SettingsEntry> Read(SourceFragment lines, SourceFiles source, List<Diagnostic> diagnostics)
    {
        var entries = new List<SettingsEntry>();
        List<(string, int)>? value = null;
        string key = "";
        var keyOffset = 0;
        for (var i = 0; i < lines.LineCount; i++)
        {
            var (text, offset) = lines.Line(i);
            if (string.IsNullOrWhiteSpace(text)) continue;
            var indent = text.Length - text.TrimStart().Length;
            if (indent > 0 && value is not null)
            {
                value.Add((text[indent..].TrimEnd(), offset + indent));
                continue;
            }
            Finish();
            if (KeyLength(text) is not { } length)
            {
                diagnostics.Add(Diagnostic.Error(source.PlaceOf(offset), $"`{text.Trim()}` is not a setting", "write `key: value`; a line that continues a value starts with more space"));
                continue;
            }
            key = text[indent..length].Trim();
            keyOffset = offset + indent;
            var rest = text[(length + 1)..];
            var skipped = rest.Length - rest.TrimStart().Length;
            value = [(rest.Trim(), offset + length + 1 + skipped)];
        }
        Finish();
        return entries;

        void Finish()
        {
            if (value is null) return;
            if (entries.Find(e => e.Key == key) is { } first)
                diagnostics.Add(Diagnostic.Error(source.PlaceOf(keyOffset), $"`{key}` is set twice (first at {source.PlaceOf(first.Offset)})", "keep one of the two"));
            else
                entries.Add(new SettingsEntry(key, keyOffset, SourceFragment.Join(value)));
            value = null;
        }
    }

    /// <summary>The length of the key at the start of a line, or null if there is none.</summary>
    public static int? KeyLength(string line)
    {
        for (var colon = line.IndexOf(':'); colon >= 0; colon = line.IndexOf(':', colon + 1))
            if (colon + 1 == line.Length || line[colon + 1] == ' ') return colon == 0 ? null : colon;
        return null;
    }
}
