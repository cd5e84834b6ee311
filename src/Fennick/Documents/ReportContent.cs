using System.Collections.Immutable;
using Fennick.Citations;
using Fennick.Formatting;
using Fennick.Pictures;

namespace Fennick.Documents;

/// <summary>A whole report, immutable: what the numbering and the lowering start from.</summary>
public sealed record ReportContent
{
    /// <summary>The title, as it stands on the first page and in the document's properties.</summary>
    public RichText? Title { get; init; }

    /// <summary>Whether the title stands on the first page, and not in the document's properties alone.</summary>
    public bool ShowsTitle { get; init; } = true;

    /// <summary>The line under the title.</summary>
    public RichText? Subtitle { get; init; }

    /// <summary>Who wrote it.</summary>
    public ImmutableArray<string> Authors { get; init; } = [];

    /// <summary>The report's date; also the time stamp of every part of the file.</summary>
    public DateOnly? Date { get; init; }

    /// <summary>The language of its words, numbers and dates.</summary>
    public required Language Language { get; init; }

    /// <summary>What makes pictures of its charts: that of the package Fennick.Plots where it is beside this one.</summary>
    internal IPictureTools? PictureTools => House.PictureTools ?? PictureToolsBeside.Find();

    /// <summary>What it wears.</summary>
    public House House { get; init; } = House.Tansy;

    /// <summary>What its pages look like where that differs from the house.</summary>
    public PageLayout Page { get; init; } = new();

    /// <summary>The word that stands across every page, such as "Draft"; none if null.</summary>
    public string? Watermark { get; init; }

    /// <summary>The words for slots of the house, by their names.</summary>
    public ImmutableDictionary<string, RichText> Slots { get; init; } = ImmutableDictionary<string, RichText>.Empty;

    /// <summary>What holds for all its tables and figures.</summary>
    public ReportSettings Settings { get; init; } = new();

    /// <summary>The sources that it can cite.</summary>
    public WorkList Sources { get; init; } = WorkList.Empty;

    /// <summary>How it cites them.</summary>
    public CitationStyle CitationStyle { get; init; }

    /// <summary>Name and version of the libraries that it was made with; the document's properties hold them.</summary>
    public ImmutableArray<string> Libraries { get; init; } = [];

    /// <summary>What it was made from, if that is known.</summary>
    internal Making? Making { get; init; }

    /// <summary>The body in order.</summary>
    public ImmutableArray<Block> Blocks { get; init; } = [];
}
