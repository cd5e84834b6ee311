using System.Collections.Concurrent;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Editing;

namespace Fennick.Editors;

/// <summary>The texts that are open in the editor, and the manuscripts that they belong to.</summary>
internal sealed class OpenTexts
{
    // Who has more manuscripts in one folder opens the one that is meant.
    private const int MostLookedInto = 20;
    private readonly ConcurrentDictionary<string, string> texts = new(StringComparer.Ordinal);

    /// <summary>Takes the text of a file.</summary>
    public void Take(string file, string text) => texts[file] = text;

    /// <summary>The file is closed: what is on the disk counts.</summary>
    public void Close(string file) => texts.TryRemove(file, out _);

    /// <summary>The text of a file; null if it cannot be read.</summary>
    public string? TextOf(string file)
    {
        try
        {
            return Opened(file) ?? File.ReadAllText(file);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    /// <summary>The manuscript that a file belongs to: itself, or one that includes it, open ones first; null if there is none.</summary>
    public EditedManuscript? ManuscriptOf(string file)
    {
        if (file.EndsWith(Manuscript.Extension, StringComparison.Ordinal)) return Of(file);
        var folder = Path.GetDirectoryName(file)!;
        var near = new[] { folder, Path.GetDirectoryName(folder) }.OfType<string>().Where(Directory.Exists).SelectMany(f => Directory.EnumerateFiles(f, $"*{Manuscript.Extension}"));
        return texts.Keys.Where(t => t.EndsWith(Manuscript.Extension, StringComparison.Ordinal)).Concat(near).Distinct().Take(MostLookedInto).Select(Of).FirstOrDefault(m => m.Files.Contains(file));
    }

    /// <summary>Where an offset of a text is.</summary>
    public static Position PositionOf(string text, int offset)
    {
        var before = text.AsSpan(0, Math.Clamp(offset, 0, text.Length));
        return new Position(before.Count('\n'), before.Length - (before.LastIndexOf('\n') + 1));
    }

    /// <summary>The offset of a place in a text.</summary>
    public static int OffsetOf(string text, Position position)
    {
        var at = 0;
        for (var line = 0; line < position.Line; line++)
        {
            var end = text.IndexOf('\n', at);
            if (end < 0) return text.Length;
            at = end + 1;
        }
        var length = text.IndexOf('\n', at) is >= 0 and var next ? next - at : text.Length - at;
        return at + Math.Clamp(position.Character, 0, length);
    }

    /// <summary>What a diagnostic is about in a text: the word, the braces or the rest of the line at its place.</summary>
    public static TextRange RangeOf(string text, SourcePlace place)
    {
        var start = OffsetOf(text, new Position(Math.Max(0, place.Line - 1), Math.Max(0, place.Column - 1)));
        var line = text.IndexOf('\n', start) is >= 0 and var found ? found : text.Length;
        var end = start;
        if (start < line && text[start] == '{') end = text.IndexOf('}', start, line - start) is >= 0 and var close ? close + 1 : line;
        else while (end < line && (char.IsLetterOrDigit(text[end]) || text[end] is '_' or '-')) end++;
        if (end == start) end = start + text[start..line].TrimEnd().Length;
        return new TextRange(PositionOf(text, start), PositionOf(text, Math.Max(end, Math.Min(start + 1, line))));
    }

    private EditedManuscript Of(string manuscript) => new(manuscript, Opened);

    private string? Opened(string file) => texts.GetValueOrDefault(file);
}
