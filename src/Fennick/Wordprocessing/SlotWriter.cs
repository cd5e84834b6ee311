using System.Collections.Immutable;
using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Flow;
using Fennick.Layout;

namespace Fennick.Wordprocessing;

/// <summary>Writes parts of a house with what a report brings into their gaps and slots.</summary>
internal sealed class SlotWriter(DocumentContext context, FittedDocument document, int pages)
{
    // What a report may say of itself.
    private static readonly HashSet<string> OfReport = new(["title", "subtitle", "author", "date", DocumentProperties.TitleName, DocumentProperties.SubjectName, DocumentProperties.AuthorsName], StringComparer.OrdinalIgnoreCase);

    private readonly ImmutableDictionary<string, string> words = document.Flow.SlotWords.ContainsKey("pages") ? document.Flow.SlotWords : document.Flow.SlotWords.SetItem("pages", pages.ToString(CultureInfo.InvariantCulture));
    private readonly HashSet<string> blocks = document.Flow.SlotBlocks.Select(s => s.Slot).ToHashSet(StringComparer.OrdinalIgnoreCase);
    private readonly SortedSet<string> tooLong = new(StringComparer.Ordinal);
    private readonly SortedSet<string> unfilled = new(StringComparer.Ordinal);

    /// <summary>Writes a part.</summary>
    /// <param name="part">The part.</param>
    /// <param name="writeContent">Writes the report's own content of the part.</param>
    public void Write(TemplatePart part, Action writeContent) => Write(part.Segments, writeContent);

    /// <summary>The slots that nothing filled, and those that do not hold what fills them.</summary>
    public IEnumerable<Diagnostic> Diagnostics() =>
    [
        .. unfilled.Select(slot => Diagnostic.Warning(context.House.Place, $"nothing fills the slot `{slot}`; it keeps its words", "fill it, or take it out of the house")),
        .. tooLong.Select(slot => Diagnostic.Warning(context.House.Place, $"the {slot} is too long for its place in the house, even in small type", "shorten it, or give it more room in the house")),
    ];

    private void Write(ImmutableArray<TemplateSegment> segments, Action writeContent)
    {
        foreach (var segment in segments)
        {
            switch (segment)
            {
                case FixedSegment bytes:
                    context.Xml.Raw(bytes.Bytes.Span);
                    break;
                case ContentSegment:
                    writeContent();
                    break;
                case AppendixSegment:
                    if (document.Flow.HasAppendices) NumberingPart.WriteAppendices(context.Xml, context.House);
                    break;
                case SectionEndSegment:
                    DocumentPart.WriteSectionEnd(context);
                    break;
                case WatermarkSegment:
                    if (document.Flow.Watermark is { } watermark) WatermarkWriter.Write(context, watermark);
                    break;
                case SizeSegment size:
                    Write(size);
                    break;
                case SlotSegment slot:
                    Write(FormOf(slot), writeContent);
                    break;
                case FillingSegment filling:
                    Write(filling);
                    break;
            }
        }
    }

    private ImmutableArray<TemplateSegment> FormOf(SlotSegment slot)
    {
        if (!slot.Blocks.IsEmpty && slot.Names.Any(blocks.Contains)) return slot.Blocks;
        if (!slot.Words.IsEmpty && slot.Names.Any(words.ContainsKey)) return slot.Words;
        // What the report does not say of itself is not there; words that wait to be filled in by a person are.
        if (slot.Names.Any(OfReport.Contains) && !slot.Words.IsEmpty && !slot.Words.Any(s => s is FillingSegment { Form: FillingForm.Date })) return slot.Words;
        if (!slot.IsSilent) unfilled.Add(slot.Names[0]);
        return slot.Unfilled;
    }

    private void Write(FillingSegment filling)
    {
        switch (filling.Form)
        {
            case FillingForm.Run: RunWriter.WriteContent(context.Xml, filling.Fit?.Shorten(WordsOf(filling.Names)) ?? WordsOf(filling.Names)); break;
            case FillingForm.Characters: context.Xml.Text(WordsOf(filling.Names)); break;
            case FillingForm.Date: context.Xml.Raw(System.Text.Encoding.ASCII.GetBytes(document.Flow.Properties.Date?.ToString("yyyy-MM-dd'T00:00:00Z'", CultureInfo.InvariantCulture) ?? "")); break;
            default: DocumentPart.WriteSlot(context, document, filling.Names.First(blocks.Contains)); break;
        }
    }

    private string WordsOf(ImmutableArray<string> names) => names.FirstOrDefault(words.ContainsKey) is { } name ? words[name] : "";

    /// <summary>Writes the size of the words that fill a slot; what is too long for the smallest is told.</summary>
    private void Write(SizeSegment size)
    {
        var halfPoints = size.Fit.SizeFor(WordsOf(size.Names), out var fits) is { } points ? (int)Math.Round(2 * points) : size.HalfPoints;
        if (!fits && size.Fit.Slack is not null) tooLong.Add(size.Names[0]);
        if (halfPoints is not { } own) return;
        context.Xml.Value("w:sz"u8, own);
        context.Xml.Value("w:szCs"u8, own);
    }
}
