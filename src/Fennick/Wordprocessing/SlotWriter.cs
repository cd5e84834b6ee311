using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Layout;

namespace Fennick.Wordprocessing;

/// <summary>Writes parts of a house with what a report brings into their gaps and slots.</summary>
internal sealed class SlotWriter(DocumentContext context, FittedDocument document)
{
    private readonly HashSet<string> blocks = [.. document.Flow.SlotBlocks.Select(s => s.Slot)];
    private readonly SortedSet<string> unfilled = new(StringComparer.Ordinal);

    /// <summary>Writes a part.</summary>
    /// <param name="part">The part.</param>
    /// <param name="writeContent">Writes the report's own content of the part.</param>
    public void Write(TemplatePart part, Action writeContent) => Write(part.Segments, writeContent);

    /// <summary>The slots that nothing filled.</summary>
    public IEnumerable<Diagnostic> Diagnostics() => unfilled.Select(slot =>
        Diagnostic.Warning(context.House.Place, $"nothing fills the slot `{slot}`; it keeps its words", "fill it, or take it out of the house"));

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
                case SectionEndSegment:
                    DocumentPart.WriteSectionEnd(context);
                    break;
                case SlotSegment slot:
                    var isFilled = blocks.Contains(slot.Slot) || document.Flow.SlotWords.ContainsKey(slot.Slot);
                    if (!isFilled) unfilled.Add(slot.Slot);
                    Write(isFilled ? slot.Filled : slot.Unfilled, writeContent);
                    break;
                case FillingSegment filling:
                    Write(filling);
                    break;
            }
        }
    }

    private void Write(FillingSegment filling)
    {
        var words = document.Flow.SlotWords.GetValueOrDefault(filling.Slot, "");
        switch (filling.Form)
        {
            case FillingForm.Run: RunWriter.WriteContent(context.Xml, words); break;
            case FillingForm.Characters: context.Xml.Text(words); break;
            default: DocumentPart.WriteSlot(context, document, filling.Slot); break;
        }
    }
}
