using Fennick.Diagnostics;
using Fennick.Prose;

namespace Fennick.Manuscripts.Source;

/// <summary>The text of a manuscript file, and where its lines are.</summary>
internal sealed class ManuscriptSource
{
    private readonly List<int> lineStarts = [0];

    /// <param name="displayPath">The file as the user named it; diagnostics carry it.</param>
    /// <param name="text">Its text, with line ends as they are.</param>
    public ManuscriptSource(string displayPath, string text)
    {
        DisplayPath = displayPath;
        Text = HoleMarks.Clean(text);
        for (var i = 0; i < Text.Length; i++)
            if (Text[i] == '\n') lineStarts.Add(i + 1);
    }

    public string DisplayPath { get; }

    public string Text { get; }

    /// <summary>The place of an offset in the text.</summary>
    public SourcePlace PlaceOf(int offset)
    {
        var clamped = Math.Clamp(offset, 0, Text.Length);
        var found = lineStarts.BinarySearch(clamped);
        var line = found >= 0 ? found : ~found - 1;
        return new SourcePlace(DisplayPath, line + 1, clamped - lineStarts[line] + 1);
    }
}
