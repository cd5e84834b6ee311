using System.Collections;

namespace Fennick.Flow;

/// <summary>
/// The rows of a lowered table. They are lowered when they are asked for and not kept: a stage reads them once from the first to the last, and all of them together would be many times as large as
/// the table itself, which costs more than to lower them twice.
/// </summary>
/// <param name="count">How many rows there are.</param>
/// <param name="lower">Lowers the row of a number from 0.</param>
internal sealed class GalleyRows(int count, Func<int, GalleyRow> lower) : IReadOnlyList<GalleyRow>
{
    public int Count { get; } = count;

    public GalleyRow this[int index] => lower(index);

    /// <summary>The first rows, and after them some of the others.</summary>
    public GalleyRows Part(int first, int start, int count) => new(first + count, i => this[i < first ? i : start + i - first]);

    public IEnumerator<GalleyRow> GetEnumerator()
    {
        for (var i = 0; i < Count; i++) yield return this[i];
    }

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
}
