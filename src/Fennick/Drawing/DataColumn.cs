using System.Collections.Immutable;
using System.Globalization;

namespace Fennick.Drawing;

/// <summary>A column of the workbook of a chart.</summary>
/// <param name="Head">Its head.</param>
/// <param name="Cells">Texts, numbers, or null for an empty cell.</param>
/// <param name="Code">The number code of its numbers.</param>
internal sealed record DataColumn(string Head, ImmutableArray<object?> Cells, string Code = "General")
{
    private const int LongestHead = 255;

    /// <summary>Heads of columns, none empty and none twice, as a table wants them.</summary>
    public static ImmutableArray<DataColumn> WithOwnHeads(IEnumerable<DataColumn> columns)
    {
        var taken = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        return [.. columns.Select(c => c with { Head = Own(new string([.. c.Head.Select(l => char.IsControl(l) ? ' ' : l)]) is var head && string.IsNullOrWhiteSpace(head) ? "Column" : head) })];

        string Own(string head)
        {
            // A cell holds no more than this in its head (ECMA-376 Part 1, §18.5.1.3).
            if (head.Length > LongestHead) head = head[..LongestHead];
            var own = head;
            for (var i = 2; !taken.Add(own); i++) own = string.Create(CultureInfo.InvariantCulture, $"{head} {i}");
            return own;
        }
    }
}

