using Fennick.Diagnostics;
using Fennick.Prose;

namespace Fennick.Manuscripts.Source;

/// <summary>The text of one file that a manuscript is made of, and where its lines are.</summary>
internal sealed class ManuscriptSource
{
    private readonly List<int> lineStarts = [0];

    /// <param name="displayPath">The file as the user named it; diagnostics carry it.</param>
    /// <param name="folder">The folder that paths in it are relative to.</param>
    /// <param name="text">Its text, with line ends as they are.</param>
    /// <param name="start">The offset of its first character among all files of the manuscript.</param>
    public ManuscriptSource(string displayPath, string folder, string text, int start)
    {
        DisplayPath = displayPath;
        Folder = folder;
        Text = HoleMarks.Clean(text);
        Start = start;
        for (var i = 0; i < Text.Length; i++)
            if (Text[i] == '\n') lineStarts.Add(i + 1);
    }

    public string DisplayPath { get; }

    public string Folder { get; }

    public string Text { get; }

    /// <summary>Where it is on the disk.</summary>
    public string FullPath => Path.GetFullPath(Path.Combine(Folder, Path.GetFileName(DisplayPath)));

    public int Start { get; }

    /// <summary>False for what the command line gives: it has no lines.</summary>
    public bool HasLines { get; init; } = true;

    /// <summary>Its lines without their ends, each with the offset where it starts.</summary>
    public IEnumerable<(string Text, int Offset)> Lines => lineStarts.Select((start, i) => (Text[start..(i + 1 < lineStarts.Count ? lineStarts[i + 1] : Text.Length)].TrimEnd('\n', '\r'), Start + start));

    /// <summary>The place of an offset, counted among all files.</summary>
    public SourcePlace PlaceOf(int offset)
    {
        if (!HasLines) return new SourcePlace(DisplayPath, -1, -1);
        var clamped = Math.Clamp(offset - Start, 0, Text.Length);
        var found = lineStarts.BinarySearch(clamped);
        var line = found >= 0 ? found : ~found - 1;
        return new SourcePlace(DisplayPath, line + 1, clamped - lineStarts[line] + 1);
    }
}
