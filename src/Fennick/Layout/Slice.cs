using System.Collections.Immutable;
using Fennick.Documents;
using Fennick.Flow;

namespace Fennick.Layout;

/// <summary>A piece of a page that no break can part: a line, a row, a tile. All lengths are in twips.</summary>
/// <param name="Before">The space between it and what stands above it; dropped at the top of a page that began by itself.</param>
/// <param name="Height">How high it is.</param>
internal readonly record struct Slice(int Before, int Height)
{
    /// <summary>What of its height may hang over the foot of the page.</summary>
    public int Overhang { get; init; }

    /// <summary>Whether it stands on one page with what follows.</summary>
    public bool Keeps { get; init; }

    /// <summary>The footnotes whose marks stand in it.</summary>
    public ImmutableArray<int> Notes { get; init; } = [];

    /// <summary>What stands in it that has to be known by its page.</summary>
    public ImmutableArray<Inline> Marks { get; init; } = [];

    /// <summary>The block of the report that begins with it.</summary>
    public BlockId? Begins { get; init; }

    /// <summary>The lowered block that it is cut from.</summary>
    public GalleyBlock? Of { get; init; }

    /// <summary>Where in that it begins: after how many letters, or rows.</summary>
    public int At { get; init; }

    /// <summary>The blocks of the report that begin within it.</summary>
    public ImmutableArray<BlockId> Holds { get; init; } = [];

    /// <summary>How high the rows are that stand above it once more where it begins a page.</summary>
    public int Repeated { get; init; }

    /// <summary>Whether it begins a page.</summary>
    public bool BreaksPage { get; init; }

    /// <summary>Whether it begins a column.</summary>
    public bool BreaksColumn { get; init; }
}
