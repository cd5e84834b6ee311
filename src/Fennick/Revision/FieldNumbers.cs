using System.Globalization;
using System.Xml.Linq;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Makes the fields of a document show what is true of it: captions count in its order, references say what they lead to.</summary>
internal sealed class FieldNumbers(WordDocument document)
{
    private readonly HashSet<string> chapterSeries = new(StringComparer.OrdinalIgnoreCase);

    /// <summary>What captions showed before they were counted, by their paragraphs, with what they show now.</summary>
    public Dictionary<XElement, (string Before, string Now)> Counted { get; } = [];

    /// <summary>The fields of a paragraph.</summary>
    public static Piece[] FieldsOf(ReadParagraph paragraph) => [.. paragraph.Reading.Pieces.Where(p => p.Kind == PieceKind.Field)];

    /// <summary>The first word of a field's instruction.</summary>
    public static string Word(Piece field) => field.Instruction.Split(' ', 2)[0].ToUpperInvariant();

    /// <summary>Puts a result in the place of another.</summary>
    public static void Show(Piece field, string text)
    {
        if (field.Results.FirstOrDefault(r => r.Name == Text) is not { } first) return;
        first.Value = text;
        if (text.StartsWith(' ') || text.EndsWith(' ')) first.SetAttributeValue(XNamespace.Xml + "space", "preserve");
        foreach (var rest in field.Results.Where(r => r != first && r.Name == Text)) rest.Value = "";
    }

    /// <summary>Counts captions, those that people have added as well.</summary>
    public void Count()
    {
        var counts = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        var headings = Surroundings.LevelsOf(document);
        foreach (var paragraph in document.Body.Descendants(P).Select(p => new ReadParagraph(p, 0)).Where(p => HasFields(p.Element) || headings.ContainsKey(p.Style)))
        {
            var isChapter = headings.GetValueOrDefault(paragraph.Style) == 1;
            if (isChapter) foreach (var ofChapter in chapterSeries) counts[ofChapter] = 0;
            foreach (var field in paragraph.Reading.Pieces.Where(p => p.Kind == PieceKind.Field && Word(p) == "SEQ"))
            {
                var words = field.Instruction.Split(' ', StringSplitOptions.RemoveEmptyEntries);
                if (words.Length < 2) continue;
                var name = words[1];
                if (Option(words, @"\s") is not null) chapterSeries.Add(name);
                var number = counts.GetValueOrDefault(name);
                if (!words.Contains(@"\c")) number = Option(words, @"\r") is { } start && int.TryParse(start, NumberStyles.None, CultureInfo.InvariantCulture, out var from) ? from : number + 1;
                counts[name] = number;
                var shown = Formatting.Counting.Write(number, words.Select(FormatOf).FirstOrDefault(f => f is not null) ?? PageNumberFormat.Decimal);
                if (field.Text == shown || words.Contains(@"\h")) continue;
                Counted[paragraph.Element] = (field.Text, shown);
                Show(field, shown);
            }
        }
    }

    private static PageNumberFormat? FormatOf(string word) => word switch
    {
        "alphabetic" => PageNumberFormat.LowerLetter,
        "ALPHABETIC" => PageNumberFormat.UpperLetter,
        "roman" => PageNumberFormat.LowerRoman,
        "ROMAN" or "Roman" => PageNumberFormat.UpperRoman,
        _ => null,
    };

    private static bool HasFields(XElement paragraph) => paragraph.Descendants().Any(e => e.Is("fldChar") || e.Is("fldSimple"));

    private static string? Option(string[] words, string option) => Array.IndexOf(words, option) is >= 0 and var place && place + 1 < words.Length ? words[place + 1] : null;

    /// <summary>References show what their bookmarks hold.</summary>
    public void Refer()
    {
        // Notes that begin anew in a section show what they showed.
        var notes = document.Body.Descendants(W + "numRestart").Any() ? [] : document.Body.Descendants(W + "footnoteReference").Index().ToDictionary(n => n.Item, n => n.Index + 1);
        // Few documents refer to numbers of headings.
        var numbers = new Lazy<ParagraphNumbers>(() => ParagraphNumbers.In(document));
        var chapters = new Lazy<Dictionary<XElement, XElement?[]>>(Chapters);
        var marks = new Dictionary<string, XElement>(StringComparer.OrdinalIgnoreCase);
        foreach (var start in document.Stories.SelectMany(s => document.Open(s).Descendants(W + "bookmarkStart"))) marks.TryAdd((string?)start.Attribute(Name) ?? "", start);
        foreach (var story in document.Stories.ToArray())
        {
            foreach (var paragraph in document.Open(story).Descendants(P).Where(HasFields).Select(p => new ReadParagraph(p, 0)).ToArray())
            {
                foreach (var field in FieldsOf(paragraph))
                {
                    var words = field.Instruction.Split(' ', StringSplitOptions.RemoveEmptyEntries);
                    if (words.Length < 2) continue;
                    var start = marks.GetValueOrDefault(words[1]);
                    var text = Word(field) switch
                    {
                        "REF" when start is null => null,
                        "REF" when words.Any(w => w is @"\w" or @"\n") => Alike(numbers.Value.Of(start.Ancestors(P).FirstOrDefault() ?? start), field.Text),
                        "REF" when !words.Any(w => w is @"\r" or @"\p") => TextOf(start),
                        "NOTEREF" when start is not null => NoteOf(start, notes),
                        "STYLEREF" when words.Any(w => w is @"\s" or @"\n" or @"\w") && chapters.Value.TryGetValue(paragraph.Element, out var above) && int.TryParse(words[1].Trim('"'), NumberStyles.None, CultureInfo.InvariantCulture, out var level) && level is >= 1 and <= 9 && above[level - 1] is { } heading => Alike(numbers.Value.Of(heading), field.Text),
                        _ => null,
                    };
                    if (text is { Length: > 0 } && text != field.Text) Show(field, text);
                }
            }
        }
    }

    /// <summary>A number with or without its words, as it stood there before.</summary>
    private static string? Alike(string? number, string shown) => number is null ? null : shown.Any(char.IsWhiteSpace) || number.LastIndexOf(' ') is not (>= 0 and var blank) ? number : number[(blank + 1)..];

    /// <summary>The headings above each paragraph of the body that holds fields, by their levels.</summary>
    private Dictionary<XElement, XElement?[]> Chapters()
    {
        var (levels, above, chapters) = (Surroundings.LevelsOf(document), new XElement?[9], new Dictionary<XElement, XElement?[]>());
        foreach (var paragraph in document.Body.Descendants(P))
        {
            if (levels.TryGetValue((string?)paragraph.Element(W + "pPr")?.Element(W + "pStyle")?.Attribute(Val) ?? "", out var level))
            {
                above = [.. above];
                above[level - 1] = paragraph;
                Array.Clear(above, level, above.Length - level);
            }
            if (HasFields(paragraph)) chapters[paragraph] = above;
        }
        return chapters;
    }

    /// <summary>The text between the ends of a bookmark in one paragraph; null if it reaches farther.</summary>
    private static string? TextOf(XElement start)
    {
        var id = (string?)start.Attribute(Id);
        var copy = new XElement(P);
        foreach (var element in start.ElementsAfterSelf())
        {
            if (element.Is("bookmarkEnd") && (string?)element.Attribute(Id) == id) return ParagraphReading.Of(copy).Text;
            copy.Add(new XElement(element));
        }
        return null;
    }

    private static string? NoteOf(XElement start, Dictionary<XElement, int> notes) => start.ElementsAfterSelf().SelectMany(e => e.DescendantsAndSelf(W + "footnoteReference")).FirstOrDefault() is { } note && notes.TryGetValue(note, out var number) ? number.ToString(CultureInfo.InvariantCulture) : null;
}
