using System.Text;
using Markdig.Helpers;

namespace Fennick.Manuscripts.Source;

/// <summary>A piece of the manuscript whose lines may stand indented in it: code of a step, or a value of a setting.</summary>
internal sealed class SourceFragment
{
    private readonly List<(int Start, int Offset)> lines;

    private SourceFragment(string text, List<(int, int)> lines)
    {
        Text = text;
        this.lines = lines;
    }

    /// <summary>Its lines, each ended by a line feed but for the last.</summary>
    public string Text { get; }

    /// <summary>Where it starts in the manuscript.</summary>
    public int Offset => lines[0].Offset;

    public int LineCount => lines.Count;

    /// <summary>The lines of a fenced block.</summary>
    public static SourceFragment Of(StringLineGroup group, ManuscriptSource source, int fallbackOffset)
    {
        var pieces = new List<(string, int)>();
        foreach (var line in group.Lines.AsSpan(0, group.Count))
        {
            // An empty slice may have lost its place; its line start then is what counts.
            var length = Math.Max(0, line.Slice.End - line.Slice.Start + 1);
            pieces.Add((source.Text.Substring(Math.Min(line.Slice.Start, source.Text.Length - length), length).TrimEnd('\r'), source.Start + line.Slice.Start));
        }
        return pieces.Count == 0 ? Join([("", fallbackOffset)]) : Join(pieces);
    }

    /// <summary>Pieces of the manuscript, a line each.</summary>
    public static SourceFragment Join(IReadOnlyList<(string Text, int Offset)> pieces)
    {
        var text = new StringBuilder();
        var lines = new List<(int, int)>(pieces.Count);
        foreach (var (piece, offset) in pieces)
        {
            if (lines.Count > 0) text.Append('\n');
            lines.Add((text.Length, offset));
            text.Append(piece);
        }
        return new SourceFragment(text.ToString(), lines);
    }

    /// <summary>The line of an index, its text and its offset in the manuscript.</summary>
    public (string Text, int Offset) Line(int index)
    {
        var start = lines[index].Start;
        var end = index + 1 < lines.Count ? lines[index + 1].Start - 1 : Text.Length;
        return (Text[start..end], lines[index].Offset);
    }

    /// <summary>The lines from one on.</summary>
    public SourceFragment From(int firstLine) =>
        firstLine >= LineCount ? Join([("", lines[^1].Offset)]) : Join([.. Enumerable.Range(firstLine, LineCount - firstLine).Select(Line)]);

    /// <summary>The offset in the manuscript of an offset in this text.</summary>
    public int ToSource(int offset)
    {
        var found = lines.BinarySearch((offset, int.MaxValue));
        var line = found >= 0 ? found : ~found - 1;
        return lines[Math.Max(0, line)].Offset + (offset - lines[Math.Max(0, line)].Start);
    }

    /// <summary>The offset in the manuscript of a line and column, both counted from 0.</summary>
    public int ToSource(int line, int column) => lines[Math.Clamp(line, 0, lines.Count - 1)].Offset + column;
}
