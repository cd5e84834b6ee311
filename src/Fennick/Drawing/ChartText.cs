using Fennick.Layout;

namespace Fennick.Drawing;

/// <summary>How wide and high the words of a chart are.</summary>
internal sealed class ChartText(IFaceMeasures face, double points)
{
    /// <summary>Their size in points.</summary>
    public double Points { get; } = points;

    /// <summary>The height of a line, in points.</summary>
    public double Line { get; } = face.LineHeight(points);

    /// <summary>The width of words on one line, in points. Readers set a little wider than the font says.</summary>
    public double Width(string words) => face.Width(words, Points) * 1.03;

    /// <summary>Words broken into lines of at most a width where they have spaces; a word that is wider stands alone.</summary>
    public List<string> Lines(string words, double width)
    {
        var lines = new List<string>();
        var line = "";
        foreach (var word in words.Split(' '))
        {
            var longer = line.Length == 0 ? word : $"{line} {word}";
            if (line.Length > 0 && Width(longer) > width)
            {
                lines.Add(line);
                line = word;
            }
            else
            {
                line = longer;
            }
        }
        lines.Add(line);
        return lines;
    }

    /// <summary>The width of the widest word.</summary>
    public double WidestWord(string words) => words.Split(' ').Max(Width);
}
