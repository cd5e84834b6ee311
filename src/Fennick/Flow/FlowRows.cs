using System.Collections;
using System.Collections.Immutable;

namespace Fennick.Flow;

/// <summary>
/// The rows of a lowered table. Those of a long one are lowered when they are asked for and not kept: every stage reads them once from the first to the last, and all of them together would be
/// many times as large as the table itself.
/// </summary>
internal sealed class FlowRows : IReadOnlyList<FlowRow>
{
    private const int MostKept = 1000;
    private readonly Func<int, FlowRow> lower;
    private readonly ImmutableArray<FlowRow> kept;

    /// <param name="count">How many rows there are.</param>
    /// <param name="lower">Lowers the row of a number from 0.</param>
    public FlowRows(int count, Func<int, FlowRow> lower)
    {
        Count = count;
        this.lower = lower;
        if (count > MostKept) return;
        var all = ImmutableArray.CreateBuilder<FlowRow>(count);
        for (var i = 0; i < count; i++) all.Add(lower(i));
        kept = all.MoveToImmutable();
    }

    public int Count { get; }

    public FlowRow this[int index] => kept.IsDefault ? lower(index) : kept[index];

    /// <summary>The first rows, and after them some of the others.</summary>
    public FlowRows Part(int first, int start, int count) => new(first + count, i => this[i < first ? i : start + i - first]);

    public IEnumerator<FlowRow> GetEnumerator()
    {
        for (var i = 0; i < Count; i++) yield return this[i];
    }

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
}
