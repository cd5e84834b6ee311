using System.Collections.Immutable;

namespace Fennick.Wordprocessing;

/// <summary>A part that is the same in every document but for what stands in its gaps.</summary>
/// <param name="Name">Its name in the package, without a leading slash.</param>
/// <param name="Segments">Fixed bytes and gaps in order.</param>
internal sealed record TemplatePart(string Name, ImmutableArray<TemplateSegment> Segments)
{
    /// <summary>Writes a part once.</summary>
    /// <param name="name">Its name.</param>
    /// <param name="write">Writes it; calls the action it is given where there is a gap.</param>
    public static TemplatePart Of(string name, Action<Utf8XmlWriter, Action<TemplateSegment>> write)
    {
        using var buffer = new PooledBuffer();
        var segments = ImmutableArray.CreateBuilder<TemplateSegment>();
        var xml = new Utf8XmlWriter(buffer);
        xml.Declaration();
        write(xml, gap =>
        {
            xml.Raw(""u8);
            Fix();
            segments.Add(gap);
        });
        Fix();
        return new TemplatePart(name, segments.ToImmutable());

        void Fix()
        {
            segments.Add(new FixedSegment(buffer.WrittenSpan.ToArray()));
            buffer.Clear();
        }
    }

    /// <summary>What something writes.</summary>
    public static byte[] Bytes(Action<Utf8XmlWriter> write)
    {
        using var buffer = new PooledBuffer();
        write(new Utf8XmlWriter(buffer));
        return buffer.WrittenSpan.ToArray();
    }
}

/// <summary>A stretch of a part.</summary>
internal abstract record TemplateSegment;

/// <summary>Bytes that are the same in every document.</summary>
internal sealed record FixedSegment(ReadOnlyMemory<byte> Bytes) : TemplateSegment;

/// <summary>Where that goes which a report brings to this part.</summary>
internal sealed record ContentSegment : TemplateSegment;

/// <summary>Where the list of the headings of appendices goes, if there are any.</summary>
internal sealed record AppendixSegment : TemplateSegment;

/// <summary>The end of the house's section in which the body stands.</summary>
internal sealed record SectionEndSegment : TemplateSegment;

/// <summary>Where the word across the page hangs, if the report has one.</summary>
internal sealed record WatermarkSegment : TemplateSegment;

/// <summary>A slot: one of its forms is written, whichever suits the report.</summary>
/// <param name="Names">Its names; the first that the report has something for counts.</param>
/// <param name="Words">What is written if words fill it; nothing if they cannot.</param>
/// <param name="Blocks">What is written if blocks fill it; nothing if they cannot.</param>
/// <param name="Unfilled">What is written otherwise.</param>
/// <param name="IsSilent">Whether it does not matter if nothing fills it.</param>
internal sealed record SlotSegment(ImmutableArray<string> Names, ImmutableArray<TemplateSegment> Words, ImmutableArray<TemplateSegment> Blocks, ImmutableArray<TemplateSegment> Unfilled, bool IsSilent) : TemplateSegment;

/// <summary>What fills a slot, in one of its forms.</summary>
internal sealed record FillingSegment(ImmutableArray<string> Names, FillingForm Form) : TemplateSegment
{
    /// <summary>The room that it has, if that is known and small.</summary>
    public SlotFit? Fit { get; init; }
}

/// <summary>The size of the words that fill a slot, which is smaller for long ones.</summary>
/// <param name="Names">The slot's names.</param>
/// <param name="HalfPoints">The house's own size; null if it is that of the style.</param>
/// <param name="Fit">The room that the words have.</param>
internal sealed record SizeSegment(ImmutableArray<string> Names, int? HalfPoints, SlotFit Fit) : TemplateSegment;

/// <summary>How that which fills a slot is written.</summary>
internal enum FillingForm
{
    /// <summary>As what a run holds.</summary>
    Run,

    /// <summary>As characters alone.</summary>
    Characters,

    /// <summary>As the date of the report, for programs.</summary>
    Date,

    /// <summary>As paragraphs and tables.</summary>
    Blocks,
}
