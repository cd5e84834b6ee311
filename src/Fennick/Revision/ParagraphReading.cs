using System.Globalization;
using System.Text;
using System.Xml.Linq;
using Fennick.Records;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>What a paragraph holds: its text piece by piece, with the ranges of the values in it. What a tracked change has deleted is not there.</summary>
internal sealed class ParagraphReading
{
    private readonly StringBuilder text = new();
    private readonly List<Piece> pieces = [];
    private readonly Dictionary<string, (int Value, int Start)> openValues = new(StringComparer.Ordinal);
    private readonly List<(int Value, int Start, int End)> values = [];
    private readonly Stack<OpenField> fields = new();

    private ParagraphReading()
    {
    }

    public string Text { get; private set; } = "";

    /// <summary>Its pieces in their order.</summary>
    public IReadOnlyList<Piece> Pieces => pieces;

    /// <summary>The ranges between the ends of the marks of values.</summary>
    public IReadOnlyList<(int Value, int Start, int End)> Values => values;

    /// <summary>Whether a list of contents or an index begins in it, or goes on.</summary>
    public bool IsEntry { get; private set; }

    /// <summary>Whether comments or tracked changes stand in it.</summary>
    public bool HasRemarks { get; private set; }

    public static ParagraphReading Of(XElement paragraph)
    {
        var reading = new ParagraphReading();
        reading.ReadAll(paragraph);
        // A field that ends in a later paragraph.
        OpenField[] open = [.. reading.fields.Reverse()];
        reading.fields.Clear();
        foreach (var field in open) reading.Close(field);
        reading.Text = reading.text.ToString();
        return reading;
    }

    private void ReadAll(XElement container)
    {
        foreach (var element in container.Elements()) Read(element);
    }

    private void Read(XElement element)
    {
        if (element.Name == Run) ReadRun(element);
        else if (element.Is("bookmarkStart")) Begin(element);
        else if (element.Is("bookmarkEnd")) End(element);
        else if (element.Is("fldSimple")) ReadSimpleField(element);
        else if (element.Name == M + "oMath" || element.Name == M + "oMathPara") Add(PieceKind.Object, Segment.Object, element);
        else if (element.Is("del") || element.Is("moveFrom") || element.Is("commentRangeStart") || element.Is("commentRangeEnd")) HasRemarks = true;
        else if (IsContainer(element))
        {
            HasRemarks |= element.Is("ins") || element.Is("moveTo");
            ReadAll(element);
        }
    }

    private void ReadSimpleField(XElement field)
    {
        fields.Push(new OpenField(field) { IsShown = true });
        fields.Peek().Instruction.Append((string?)field.Attribute(W + "instr"));
        ReadAll(field);
        Close(fields.Pop());
    }

    private void ReadRun(XElement run)
    {
        foreach (var element in run.Elements())
        {
            var name = element.Name;
            if (name == WordNames.Text) Add(PieceKind.Text, element.Value, element);
            else if (name == W + "fldChar") ReadFieldCharacter(element);
            else if (name == W + "instrText" && fields.TryPeek(out var field)) field.Instruction.Append(element.Value);
            else if (name == W + "tab" || name == W + "ptab") Add(PieceKind.Sign, "\t", element);
            else if (name == W + "cr" || (name == W + "br" && (string?)element.Attribute(W + "type") is null or "textWrapping")) Add(PieceKind.Sign, "\n", element);
            else if (name == W + "noBreakHyphen") Add(PieceKind.Sign, "\u2011", element);
            else if (name == W + "softHyphen") Add(PieceKind.Sign, "\u00AD", element);
            else if (name == W + "sym") Add(PieceKind.Sign, SymbolOf(element), element);
            else if (name == W + "drawing" || name == W + "pict" || name == W + "object" || name == W + "footnoteReference" || name == W + "endnoteReference") Add(PieceKind.Object, Segment.Object, element);
            // What is for readers of instructions alone holds no drawing.
            else if (name == Mc + "AlternateContent" && element.Descendants(W + "drawing").Any()) Add(PieceKind.Object, Segment.Object, element);
            else if (name == W + "commentReference") HasRemarks = true;
        }
    }

    private static string SymbolOf(XElement symbol) => int.TryParse((string?)symbol.Attribute(W + "char"), NumberStyles.HexNumber, CultureInfo.InvariantCulture, out var code) && code is > 0 and < 0xD800 ? ((char)code).ToString() : "\uFFFD";

    private void ReadFieldCharacter(XElement character)
    {
        switch ((string?)character.Attribute(W + "fldCharType"))
        {
            case "begin":
                fields.Push(new OpenField(character));
                break;
            case "separate" when fields.TryPeek(out var field):
                field.IsShown = true;
                break;
            case "end" when fields.TryPop(out var ended):
                Close(ended);
                break;
        }
    }

    private void Close(OpenField field)
    {
        var instruction = field.Instruction.ToString().Trim();
        var word = instruction.Split(' ', 2)[0].ToUpperInvariant();
        // Lists of contents are made of whole paragraphs.
        if (word is "TOC" or "INDEX")
        {
            IsEntry = true;
            foreach (var result in field.Results) Add(PieceKind.Text, result.Value, result);
            return;
        }
        if (word is "XE" or "TC" or "TA") return;
        var shown = string.Concat(field.Results.Select(r => r.Name == WordNames.Text ? r.Value : r.Is("tab") ? "\t" : r.Is("noBreakHyphen") ? "\u2011" : ""));
        if (fields.TryPeek(out var outer))
        {
            outer.Results.AddRange(field.Results);
            return;
        }
        pieces.Add(new Piece(PieceKind.Field, shown, field.Begin) { Start = text.Length, Instruction = instruction, Results = field.Results, IsTracked = IsTracked(field.Begin) });
        text.Append(shown);
    }

    private void Add(PieceKind kind, string words, XElement element)
    {
        if (fields.TryPeek(out var field))
        {
            if (field.IsShown) field.Results.Add(element);
            return;
        }
        pieces.Add(new Piece(kind, words, element) { Start = text.Length, IsTracked = IsTracked(element) });
        text.Append(words);
    }

    private void Begin(XElement bookmark)
    {
        var name = (string?)bookmark.Attribute(Name) ?? "";
        if (name.StartsWith("_v", StringComparison.Ordinal) && int.TryParse(name.AsSpan(2), NumberStyles.None, CultureInfo.InvariantCulture, out var value)) openValues[(string?)bookmark.Attribute(Id) ?? ""] = (value, text.Length);
    }

    private void End(XElement bookmark)
    {
        if (openValues.Remove((string?)bookmark.Attribute(Id) ?? "", out var open)) values.Add((open.Value, open.Start, text.Length));
    }

    /// <summary>A field that has begun.</summary>
    private sealed class OpenField(XElement begin)
    {
        public XElement Begin => begin;

        public StringBuilder Instruction { get; init; } = new();

        public List<XElement> Results { get; } = [];

        public bool IsShown { get; set; }
    }
}
