using System.Globalization;

namespace Fennick.Manuscripts.Settings;

/// <summary>Lengths of time as people write them: <c>90s</c>, <c>5m</c>, <c>1.5h</c>, <c>30 min</c>.</summary>
internal static class Duration
{
    private const double Longest = 1e6;

    /// <summary>Reads a time; null if it is none, or not more than nothing.</summary>
    public static TimeSpan? TryParse(string text)
    {
        var number = text.TrimEnd("smhin".ToCharArray());
        double? factor = text[number.Length..] switch { "s" => 1, "m" or "min" => 60, "h" => 3600, _ => null };
        return factor is { } seconds && double.TryParse(number, NumberStyles.AllowDecimalPoint | NumberStyles.AllowTrailingWhite, CultureInfo.InvariantCulture, out var count) && count > 0 && count * seconds < Longest ? TimeSpan.FromSeconds(count * seconds) : null;
    }
}
