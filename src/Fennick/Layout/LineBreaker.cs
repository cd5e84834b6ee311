using System.Collections.Immutable;
using System.Globalization;
using Fennick.Documents;
using Fennick.Flow;
using Fennick.Styles;

namespace Fennick.Layout;

/// <summary>A line of text.</summary>
/// <param name="Metrics">How high it is.</param>
/// <param name="Notes">The footnotes whose marks stand in it.</param>
internal readonly record struct TextLine(LineMetrics Metrics, ImmutableArray<int> Notes)
{
    /// <summary>How many letters of the paragraph's text stand before it.</summary>
    public int Start { get; init; }

    /// <summary>How high its text alone is; 0 if it has none.</summary>
    public int TextHeight { get; init; }

    /// <summary>What stands in it that has to be known by its page.</summary>
    public ImmutableArray<Inline> Marks { get; init; } = [];

    /// <summary>Its height with its share of space, which is that of its text: what is drawn in it has none.</summary>
    public int Spaced(LayoutRules rules, double lines) => Metrics.Height - TextHeight + rules.Spaced(TextHeight, lines);
}

/// <summary>What stands beside text and takes room from it.</summary>
/// <param name="Height">How far down it reaches, in twips; 0 for nothing.</param>
/// <param name="Width">The room that it takes.</param>
internal readonly record struct TextAside(int Height, Length Width)
{
    /// <summary>Whether text stands beside it already.</summary>
    public bool IsBegun { get; init; }
}

/// <summary>Breaks the content of a paragraph into lines, at the places where text may be broken (Unicode Standard Annex #14, the rules that European and East Asian texts need).</summary>
internal sealed class LineBreaker
{
    // What is raised is set smaller.
    private const double RaisedSize = 0.58;

    private readonly LayoutRules rules;
    private readonly IStyleBook house;
    private readonly StyleRole role;
    private readonly double points;
    private readonly double wholeRoom;
    private readonly List<TextLine> lines = [];
    private readonly TextAside aside;
    private readonly double spacing;
    private double room;
    private int filled;

    // What stands on the line so far, and what cannot be parted from what follows it.
    private double width;
    private double chunk;
    private LineMetrics metrics;
    private LineMetrics chunkMetrics;
    private LineMetrics text;
    private LineMetrics chunkText;
    private List<int>? notes;
    private List<int>? chunkNotes;
    private List<Inline>? marks;
    private List<Inline>? chunkMarks;
    private bool hasContent;
    private bool chunkHasContent;

    // How many letters of the text were read, and stand before the line and before what cannot be parted.
    private int read;
    private int lineStart;
    private int chunkStart;

    private LineBreaker(LayoutRules rules, IStyleBook house, StyleRole role, double points, double room, TextAside aside, double spacing)
    {
        (this.rules, this.house, this.role, this.points) = (rules, house, role, points);
        (this.aside, this.spacing) = (aside, spacing);
        wholeRoom = Math.Max(1, room);
        this.room = NextRoom();
    }

    private double NextRoom() => filled < aside.Height ? Math.Max(1, wholeRoom - aside.Width.Points) : wholeRoom;

    /// <summary>The lines of a paragraph.</summary>
    /// <param name="inlines">Its content.</param>
    /// <param name="rules">Those of the word processor.</param>
    /// <param name="house">The house it is set in.</param>
    /// <param name="role">Its style.</param>
    /// <param name="points">The size of its text.</param>
    /// <param name="room">The width of a line, in points.</param>
    /// <param name="firstOut">How far its first line begins left of the others.</param>
    /// <param name="aside">What stands beside it.</param>
    /// <param name="spacing">How many lines high each of them is set.</param>
    public static List<TextLine> Break(ImmutableArray<GalleyInline> inlines, LayoutRules rules, IStyleBook house, StyleRole role, double points, double room, double firstOut = 0, TextAside aside = default, double spacing = 1)
    {
        var breaker = new LineBreaker(rules, house, role, points, room, aside, spacing) { width = -firstOut };
        foreach (var inline in inlines) breaker.Add(inline);
        breaker.EndChunk(0);
        breaker.EndLine(isLast: true);
        return breaker.lines;
    }

    private void Add(GalleyInline inline)
    {
        switch (inline)
        {
            case GalleyText text:
                Add(text.Text, text.Format, isCounted: true);
                read += text.Text.Length;
                break;
            case GalleyField field: Add(field.Result, field.Format); break;
            case GalleyPageNumber number: Add("00", number.Format); break;
            case GalleyPageCount count: Add("00", count.Format); break;
            case GalleyWhere where:
                (chunkMarks ??= []).Add(where.Source);
                Add(where.Words.BeforeNumber + "00" + where.Words.BehindNumber, where.Format);
                break;
            case GalleyIndexMark mark: (chunkMarks ??= []).Add(mark.Source); break;
            case GalleyIndexPages pages: Add(string.Join(", ", Enumerable.Repeat("00", pages.Sources.Length)), CharacterFormat.Plain); break;
            case GalleyOwnNoteMark: Add("1", CharacterFormat.NoteMark); break;
            case GalleyNoteMark mark:
                Add(mark.Number.ToString(CultureInfo.InvariantCulture), CharacterFormat.NoteMark);
                (chunkNotes ??= []).Add(mark.Number);
                break;
            case GalleyFormula formula: AddDrawing(FormulaWidth.Of(formula.Formula.Root), FormulaHeight.InLine(formula.Formula.Root, house.Face(role).Line(points))); break;
            case GalleyChart chart: AddDrawing(chart.Width.Points, new LineMetrics(chart.Height.Twips, 0)); break;
            case GalleySmallChart small: AddDrawing(small.Width.Points, new LineMetrics(small.Height.Twips, 0)); break;
            case GalleyPicture { IsBehind: false } picture: AddDrawing(picture.Width.Points, new LineMetrics(picture.Height.Twips, 0)); break;
            case GalleyTab:
                EndChunk(0);
                // Behind what hangs out stands a tab stop.
                width = Math.Max(width, 0);
                break;
            case GalleyBreak:
                EndChunk(0);
                EndLine(isLast: false);
                break;
            case GalleyContainer container:
                foreach (var inner in container.Content) Add(inner);
                break;
        }
    }

    private void Add(ReadOnlySpan<char> text, CharacterFormat format, bool isCounted = false)
    {
        if (text.IsEmpty) return;
        var isCode = format.HasFlag(CharacterFormat.Code);
        var face = isCode ? house.CodeFace : house.Face(role, format.HasFlag(CharacterFormat.Bold), format.HasFlag(CharacterFormat.Italic));
        var isRaised = (format & (CharacterFormat.Raised | CharacterFormat.NoteMark)) != 0;
        var size = isRaised ? points * RaisedSize : points;
        var height = (isRaised ? house.Face(role) : face).Line(points);
        var start = 0;
        for (var i = 0; i < text.Length; i++)
        {
            if (text[i] == '\n')
            {
                AddWord(text[start..i], 0);
                EndLine(isLast: false);
                start = i + 1;
            }
            else if (text[i] is ' ' or '\t')
            {
                var end = i;
                while (i + 1 < text.Length && text[i + 1] == ' ') i++;
                AddWord(text[start..end], Measure(text[end..(i + 1)]));
                start = i + 1;
            }
            else if (i + 1 < text.Length && MayBreak(i > 0 ? text[i - 1] : ' ', text[i], text[i + 1]))
            {
                AddWord(text[start..(i + 1)], 0);
                start = i + 1;
            }
        }
        if (start < text.Length) AddToChunk(text[start..]);

        double Measure(ReadOnlySpan<char> letters) => rules.UsesLigatures ? face.WithLigatures(letters, size) : face.Width(letters, size);

        void AddWord(ReadOnlySpan<char> word, double space)
        {
            if (!word.IsEmpty) AddToChunk(word);
            EndChunk(space);
        }

        void AddToChunk(ReadOnlySpan<char> word)
        {
            if (!chunkHasContent) chunkStart = read + (isCounted ? start : 0);
            chunk += Measure(word);
            chunkMetrics = chunkMetrics.With(height);
            chunkText = chunkText.With(height);
            chunkHasContent = true;
        }
    }

    /// <summary>Whether a line may end between two characters that no space parts.</summary>
    private static bool MayBreak(char before, char character, char next) => character switch
    {
        '-' or '\u2010' => char.IsLetter(next) && before != ' ',
        '/' => !char.IsDigit(next),
        '\u2013' or '\u00AD' or '\u200B' => next is not ('.' or ',' or ')' or ';' or ':'),
        '\u2014' => true,
        _ => next == '\u2014' || (IsIdeographic(character) && next is not ('\u3001' or '\u3002' or '\uFF0C' or '\u300D' or ')')) || (IsIdeographic(next) && character is not ('\u300C' or '(')),
    };

    private static bool IsIdeographic(char c) => c is >= '\u2E80' and <= '\u9FFF' or >= '\uAC00' and <= '\uD7A3' or >= '\uFF00' and <= '\uFFEF';

    private void AddDrawing(double drawing, LineMetrics height)
    {
        EndChunk(0);
        chunk = drawing;
        chunkStart = read;
        chunkMetrics = height;
        chunkHasContent = true;
        EndChunk(0);
    }

    /// <summary>Puts what cannot be parted onto the line, or onto the next one.</summary>
    private void EndChunk(double space)
    {
        if (chunkHasContent)
        {
            if (hasContent && width + chunk > room + 0.001) EndLine(isLast: false);
            // A word that is wider than the line is broken where the line ends.
            while (chunk > room + 0.001 && width + chunk > room)
            {
                (metrics, text) = (metrics.With(chunkMetrics), text.With(chunkText));
                chunk -= Math.Max(1, room - width);
                hasContent = true;
                EndLine(isLast: false);
            }
            if (!hasContent) lineStart = chunkStart;
            hasContent = true;
            width += chunk;
            (metrics, text) = (metrics.With(chunkMetrics), text.With(chunkText));
            if (chunkNotes is { Count: > 0 }) (notes ??= []).AddRange(chunkNotes);
        }
        if (chunkMarks is { Count: > 0 })
        {
            (marks ??= []).AddRange(chunkMarks);
            chunkMarks.Clear();
        }
        width += space;
        (chunk, chunkMetrics, chunkText, chunkHasContent) = (0, default, default, false);
        chunkNotes?.Clear();
    }

    private void EndLine(bool isLast)
    {
        if (!isLast || hasContent || lines.Count == 0 || metrics.Height > 0 || width > 0)
        {
            var empty = house.Face(role).Line(points);
            lines.Add(new TextLine(metrics.Height > 0 ? metrics : empty, notes is null ? [] : [.. notes])
            {
                Start = lineStart,
                TextHeight = metrics.Height > 0 ? text.Height : empty.Height,
                Marks = marks is null ? [] : [.. marks],
            });
            if (aside.Height > 0)
            {
                filled += lines[^1].Spaced(rules, spacing);
                room = NextRoom();
            }
        }
        (width, metrics, text, hasContent, notes, marks) = (0, default, default, false, null, null);
    }
}
