using Fennick.Formatting;

namespace Fennick.Charts;

/// <summary>Places along the base of a chart as numbers. Dates count in days, as spreadsheets do.</summary>
internal static class BaseValue
{
    private static readonly DateTime First = new(1899, 12, 30, 0, 0, 0, DateTimeKind.Unspecified);

    /// <summary>Whether a place is a number or a date.</summary>
    public static bool IsNumber(object? at) => ValueFormatter.IsNumber(at) || IsDate(at);

    /// <summary>Whether a place is a date.</summary>
    public static bool IsDate(object? at) => at is DateOnly or DateTime or DateTimeOffset;

    /// <summary>A place as a number.</summary>
    public static double Number(object? at) => at switch
    {
        DateOnly date => (date.ToDateTime(TimeOnly.MinValue) - First).TotalDays,
        DateTime time => (time - First).TotalDays,
        DateTimeOffset time => (time.DateTime - First).TotalDays,
        _ => ValueFormatter.ToDouble(at),
    };

    /// <summary>The date of a number of days.</summary>
    public static DateOnly Date(double days) => DateOnly.FromDateTime(First.AddDays(days));
}
