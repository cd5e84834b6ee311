using System.Globalization;
using System.Xml.Linq;
using Fennick.Records;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Makes fields show what is true of the document as it is now: captions count in its order, references say what they lead to, lists of contents have the entries of its headings.</summary>
internal sealed class FieldRenewal(RefreshPass pass)
{
    /// <summary>Whether page numbers may be others than those that stand there.</summary>
    public bool PagesAreUnsure { get; private set; }

    public void Renew()
    {
        TakeOver();
        Count();
        Refer();
        RenewContents();
    }

    /// <summary>What the fresh document shows holds for what stands in both.</summary>
    private void TakeOver()
    {
        foreach (var block in pass.Now.Blocks.OfType<RecordedParagraph>())
        {
            if (pass.Succession.Earlier(block) is not { } before || pass.Places.Of(before) is not ReadParagraph theirs || pass.FreshPlaces.Of(block) is not ReadParagraph fresh) continue;
            var (fields, next) = (FieldsOf(theirs), FieldsOf(fresh));
            if (fields.Length != next.Length) continue;
            foreach (var (field, now) in fields.Zip(next))
                if (field.Text != now.Text && Word(field) == Word(now)) Show(field, now.Text);
            theirs.Renew();
        }
    }

    private static Piece[] FieldsOf(ReadParagraph paragraph) => [.. paragraph.Reading.Pieces.Where(p => p.Kind == PieceKind.Field)];

    private static string Word(Piece field) => field.Instruction.Split(' ', 2)[0].ToUpperInvariant();

    /// <summary>Puts a result in the place of another.</summary>
    private static void Show(Piece field, string text)
    {
        if (field.Results.FirstOrDefault(r => r.Name == Text) is not { } first) return;
        first.Value = text;
        if (text.StartsWith(' ') || text.EndsWith(' ')) first.SetAttributeValue(XNamespace.Xml + "space", "preserve");
        foreach (var rest in field.Results.Where(r => r != first && r.Name == Text)) rest.Value = "";
    }

    /// <summary>Counts captions, those that people have added as well.</summary>
    private void Count()
    {
        var counts = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        var headings = LevelsOf(pass.Theirs);
        foreach (var paragraph in pass.Theirs.Body.Descendants(P).Select(p => new ReadParagraph(p, 0)).Where(p => HasFields(p.Element) || headings.ContainsKey(p.Style)))
        {
            var isChapter = headings.GetValueOrDefault(paragraph.Style) == 1;
            if (isChapter) foreach (var ofChapter in chapterSeries) counts[ofChapter] = 0;
            foreach (var field in paragraph.Reading.Pieces.Where(p => p.Kind == PieceKind.Field && Word(p) == "SEQ"))
            {
                var words = field.Instruction.Split(' ', StringSplitOptions.RemoveEmptyEntries);
                if (words.Length < 2) continue;
                var (name, letters) = (words[1], words.Contains("alphabetic"));
                if (Option(words, @"\s") is not null) chapterSeries.Add(name);
                var number = counts.GetValueOrDefault(name);
                if (!words.Contains(@"\c")) number = Option(words, @"\r") is { } start && int.TryParse(start, NumberStyles.None, CultureInfo.InvariantCulture, out var from) ? from : number + 1;
                counts[name] = number;
                var shown = letters ? Formatting.Counting.Write(number, PageNumberFormat.LowerLetter) : number.ToString(CultureInfo.InvariantCulture);
                if (field.Text != shown) Show(field, shown);
            }
        }
    }

    private static bool HasFields(XElement paragraph) => paragraph.Descendants().Any(e => e.Name == W + "fldChar" || e.Name == W + "fldSimple");

    private readonly HashSet<string> chapterSeries = new(StringComparer.OrdinalIgnoreCase);

    private static string? Option(string[] words, string option) => Array.IndexOf(words, option) is >= 0 and var place && place + 1 < words.Length ? words[place + 1] : null;

    /// <summary>References show what their bookmarks hold.</summary>
    private void Refer()
    {
        var notes = pass.Theirs.Body.Descendants(W + "footnoteReference").Index().ToDictionary(n => n.Item, n => n.Index + 1);
        var marks = new Dictionary<string, XElement>(StringComparer.OrdinalIgnoreCase);
        foreach (var start in pass.Theirs.Stories.SelectMany(s => pass.Theirs.Open(s).Descendants(W + "bookmarkStart"))) marks.TryAdd((string?)start.Attribute(Name) ?? "", start);
        foreach (var story in pass.Theirs.Stories.ToArray())
        {
            foreach (var paragraph in pass.Theirs.Open(story).Descendants(P).Where(HasFields).Select(p => new ReadParagraph(p, 0)).ToArray())
            {
                foreach (var field in FieldsOf(paragraph))
                {
                    var words = field.Instruction.Split(' ', StringSplitOptions.RemoveEmptyEntries);
                    if (words.Length < 2 || !marks.TryGetValue(words[1], out var start)) continue;
                    var text = Word(field) switch
                    {
                        "REF" when !words.Any(w => w is @"\w" or @"\r" or @"\n" or @"\p") => TextOf(start),
                        "NOTEREF" => NoteOf(start, notes),
                        _ => null,
                    };
                    if (text is { Length: > 0 } && text != field.Text) Show(field, text);
                }
            }
        }
    }

    /// <summary>The text between the ends of a bookmark in one paragraph; null if it reaches farther.</summary>
    private static string? TextOf(XElement start)
    {
        var id = (string?)start.Attribute(Id);
        var copy = new XElement(P);
        foreach (var element in start.ElementsAfterSelf())
        {
            if (element.Name == W + "bookmarkEnd" && (string?)element.Attribute(Id) == id) return ParagraphReading.Of(copy).Text;
            copy.Add(new XElement(element));
        }
        return null;
    }

    private static string? NoteOf(XElement start, Dictionary<XElement, int> notes) => start.ElementsAfterSelf().SelectMany(e => e.DescendantsAndSelf(W + "footnoteReference")).FirstOrDefault() is { } note && notes.TryGetValue(note, out var number) ? number.ToString(CultureInfo.InvariantCulture) : null;

    private static Dictionary<string, int> LevelsOf(WordDocument document) => document.Find("styles") is not { } part ? []
        : document.Open(part).Root!.Elements(W + "style").Where(s => Surroundings.LevelOf(s) is not null).GroupBy(s => (string?)s.Attribute(W + "styleId") ?? "").ToDictionary(g => g.Key, g => Surroundings.LevelOf(g.First())!.Value, StringComparer.Ordinal);

    /// <summary>Brings the entries of lists of contents up to date; those of headings and captions that people have added are made like those beside them.</summary>
    private void RenewContents()
    {
        var contents = new ContentsRenewal(pass, LevelsOf(pass.Theirs));
        contents.Renew();
        PagesAreUnsure = contents.PagesAreUnsure;
    }
}
