using System.Collections.Immutable;
using System.Globalization;

namespace Fennick.Manuscripts.Settings;

/// <summary>The shares that columns have of the width.</summary>
internal static class Shares
{
    /// <summary>How they are written.</summary>
    public const string Suggestion = "write `1/3, 2/3`, `40 %, 60 %`, or `2` for two alike";

    /// <summary>Reads <c>1/3, 2/3</c>, <c>40 %, 60 %</c> or <c>2</c> for two alike.</summary>
    /// <returns>Null if they do not make up the whole.</returns>
    public static ImmutableArray<double>? Read(string text)
    {
        const int most = 6;
        if (int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var count)) return count is >= 2 and <= most ? [.. Enumerable.Repeat(1.0 / count, count)] : null;
        var shares = ImmutableArray.CreateBuilder<double>();
        foreach (var part in text.Split(',', StringSplitOptions.TrimEntries))
        {
            var isPercent = part.EndsWith('%');
            var numbers = part.TrimEnd('%', ' ').Split('/').Select(p => double.TryParse(p, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var n) && n > 0 ? n : double.NaN).ToArray();
            var share = numbers is [var only] && isPercent ? only / 100 : numbers is [var over, var under] && !isPercent ? over / under : double.NaN;
            if (double.IsNaN(share)) return null;
            shares.Add(share);
        }
        return shares.Count is >= 2 and <= most && Math.Abs(shares.Sum() - 1) < 0.011 ? shares.ToImmutable() : null;
    }
}
