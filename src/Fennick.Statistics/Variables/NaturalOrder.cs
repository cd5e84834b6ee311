namespace Fennick.Statistics.Variables;

/// <summary>The order of levels and groups: runs of digits by their number, so that "2" stands before "10", everything else by its characters.</summary>
public sealed class NaturalOrder : IComparer<string>
{
    private NaturalOrder()
    {
    }

    /// <summary>The order.</summary>
    public static NaturalOrder Comparer { get; } = new();

    /// <summary>Distinct values in order: texts naturally, all others by their own order.</summary>
    public static IEnumerable<object> Of(IEnumerable<object> values)
    {
        ArgumentNullException.ThrowIfNull(values);
        var distinct = values.Distinct().ToArray();
        return distinct.All(v => v is IComparable and not string) && distinct.Select(v => v.GetType()).Distinct().Count() <= 1
            ? distinct.Order()
            : distinct.OrderBy(v => v.ToString() ?? "", Comparer);
    }

    /// <inheritdoc/>
    public int Compare(string? x, string? y)
    {
        if (x is null || y is null) return string.CompareOrdinal(x, y);
        int i = 0, j = 0;
        while (i < x.Length && j < y.Length)
        {
            if (!char.IsAsciiDigit(x[i]) || !char.IsAsciiDigit(y[j]))
            {
                if (x[i] != y[j]) return x[i].CompareTo(y[j]);
                i++;
                j++;
                continue;
            }
            var first = Run(x, ref i);
            var second = Run(y, ref j);
            if (first.Length != second.Length) return first.Length.CompareTo(second.Length);
            if (first.SequenceCompareTo(second) is not 0 and var order) return order;
        }
        return (x.Length - i).CompareTo(y.Length - j) is not 0 and var rest ? rest : string.CompareOrdinal(x, y);
    }

    /// <summary>The digits from a place on, without zeros before them; a longer run is a larger number.</summary>
    private static ReadOnlySpan<char> Run(string text, ref int place)
    {
        var start = place;
        while (place < text.Length && char.IsAsciiDigit(text[place])) place++;
        return text.AsSpan(start, place - start).TrimStart('0');
    }
}
