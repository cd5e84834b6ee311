using System.Globalization;
using System.Xml.Linq;
using Fennick.Records;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Where in a document something is, in words: by its caption, or the heading above it.</summary>
internal sealed class Surroundings
{
    private readonly Dictionary<RecordedBlock, string> places = new(ReferenceEqualityComparer.Instance);

    /// <param name="document">A document with the styles of what was written.</param>
    /// <param name="records">What was written.</param>
    public Surroundings(WordDocument document, IEnumerable<DocumentRecord> records)
    {
        var headings = HeadingStyles(document);
        foreach (var record in records) Note(record, headings);
    }

    public string Of(RecordedBlock block) => places.GetValueOrDefault(block, "the document");

    private void Note(DocumentRecord record, HashSet<string> headings)
    {
        var captions = record.Blocks.OfType<RecordedParagraph>().Where(p => p.Label is not null && p.Content.Any(s => s is FieldSegment { Kind: "SEQ" }))
            .GroupBy(p => p.Label!).ToDictionary(g => g.Key, g => g.First().Text.Split(". ")[0].TrimEnd('.').Replace('\u00A0', ' '), StringComparer.Ordinal);
        foreach (var story in record.Stories)
        {
            var (isBody, heading) = (story.Part.EndsWith("document.xml", StringComparison.Ordinal), "the beginning");
            foreach (var block in story.Blocks)
            {
                if (block is RecordedParagraph paragraph && headings.Contains(paragraph.Style)) heading = $"“{Refresher.Short(paragraph.Text)}”";
                places[block] = block.Label is { } label && captions.TryGetValue(label, out var caption) ? caption : !isBody ? KindOf(story.Part) : heading;
            }
        }
    }

    /// <summary>What a part beside the body is, in words.</summary>
    internal static string KindOf(string part) => Path.GetFileName(part) switch
    {
        var name when name.StartsWith("header", StringComparison.Ordinal) => "a header",
        var name when name.StartsWith("footer", StringComparison.Ordinal) => "a footer",
        _ => "a footnote",
    };

    /// <summary>The ids of the styles of headings.</summary>
    public static HashSet<string> HeadingStyles(WordDocument document) => document.Find("styles") is not { } part ? []
        : [.. document.Open(part).Root!.Elements(W + "style").Where(s => LevelOf(s) is not null).Select(s => (string?)s.Attribute(W + "styleId") ?? "")];

    /// <summary>The levels of the headings of a document, by the ids of their styles.</summary>
    public static Dictionary<string, int> LevelsOf(WordDocument document) => document.Find("styles") is not { } part ? []
        : document.Open(part).Root!.Elements(W + "style").Where(s => LevelOf(s) is not null).GroupBy(s => (string?)s.Attribute(W + "styleId") ?? "").ToDictionary(g => g.Key, g => LevelOf(g.First())!.Value, StringComparer.Ordinal);

    /// <summary>The level of the headings of a style, from 1; null if they are none.</summary>
    public static int? LevelOf(XElement style)
    {
        var name = ((string?)style.Element(W + "name")?.Attribute(Val) ?? "").ToLowerInvariant();
        // Styles of one name in documents that were joined have numbers.
        if (name.EndsWith(')') && name.IndexOf(" (", StringComparison.Ordinal) is > 0 and var number) name = name[..number];
        return name.StartsWith("heading ", StringComparison.Ordinal) && int.TryParse(name.AsSpan("heading ".Length), NumberStyles.None, CultureInfo.InvariantCulture, out var level) && level is >= 1 and <= 9 ? level : null;
    }
}
