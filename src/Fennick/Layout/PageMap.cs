using System.Globalization;
using Fennick.Documents;
using Fennick.Flow;

namespace Fennick.Layout;

/// <summary>The number of a page as it stands on it.</summary>
internal readonly record struct PageLabel(int Number, PageNumberFormat Format)
{
    private static readonly (int Value, string Sign)[] Roman = [(1000, "m"), (900, "cm"), (500, "d"), (400, "cd"), (100, "c"), (90, "xc"), (50, "l"), (40, "xl"), (10, "x"), (9, "ix"), (5, "v"), (4, "iv"), (1, "i")];

    public override string ToString() => Format switch
    {
        PageNumberFormat.LowerRoman => ToRoman(),
        PageNumberFormat.UpperRoman => ToRoman().ToUpperInvariant(),
        PageNumberFormat.LowerLetter => ToLetters('a'),
        PageNumberFormat.UpperLetter => ToLetters('A'),
        _ => Number.ToString(CultureInfo.InvariantCulture),
    };

    private string ToRoman()
    {
        var (rest, roman) = (Number, "");
        foreach (var (value, sign) in Roman)
            for (; rest >= value; rest -= value) roman += sign;
        return roman;
    }

    // After z word processors write aa, bb.
    private string ToLetters(char first) => Number < 1 ? "" : new string((char)(first + ((Number - 1) % 26)), 1 + ((Number - 1) / 26));
}

/// <summary>On which page each block begins.</summary>
/// <param name="Pages">The page of each block.</param>
/// <param name="Count">How many pages there are.</param>
internal sealed record PageMap(IReadOnlyDictionary<BlockId, PageLabel> Pages, int Count)
{
    /// <summary>The page that a reference names.</summary>
    public string PageOf(FlowPageNumber reference) => Pages.TryGetValue(reference.Block, out var page) ? page.ToString() : "1";
}
