using System.Globalization;
using System.Text.RegularExpressions;

namespace Fennick.Data.Reading;

/// <summary>What the types of members are called, and what to do where a cell holds something else.</summary>
internal static partial class MemberTypes
{
    /// <summary>What a cell of the type holds.</summary>
    public static string Describe(Type type) => type switch
    {
        _ when type == typeof(bool) => "yes or no",
        _ when type == typeof(int) => $"a whole number from {int.MinValue.ToString("N0", CultureInfo.InvariantCulture)} to {int.MaxValue.ToString("N0", CultureInfo.InvariantCulture)}",
        _ when type == typeof(long) => "a whole number of at most 18 digits",
        _ when type == typeof(DateOnly) => "a date",
        _ when type == typeof(DateTime) => "a date and time",
        _ when type == typeof(DateTimeOffset) => "a date and time with its distance from UTC",
        _ when type.IsEnum => $"one of {type.Name}: {string.Join(", ", Enum.GetNames(type))}",
        _ => $"a number that a `{Name(type)}` can hold",
    };

    /// <summary>What code calls the type.</summary>
    public static string Name(Type type) => type switch
    {
        _ when type == typeof(bool) => "bool",
        _ when type == typeof(int) => "int",
        _ when type == typeof(long) => "long",
        _ when type == typeof(double) => "double",
        _ when type == typeof(decimal) => "decimal",
        _ when type == typeof(float) => "float",
        _ => type.Name,
    };

    /// <summary>What to do about a cell that is not of the type.</summary>
    public static string? Advise(string text, Type type, RowSource row) => type switch
    {
        _ when type == typeof(DateOnly) => $"write dates as 2025-03-30{Order(text, row)}",
        _ when type == typeof(DateTime) && CellReader.IsOffsetTime(text) => "make the member a `DateTimeOffset`: it keeps how far the time is from UTC",
        _ when type == typeof(DateTime) => $"write times as 2025-03-30T02:30:00{Order(text, row)}",
        _ when type == typeof(DateTimeOffset) => "write times as 2025-03-30T02:30:00+02:00",
        _ when type == typeof(int) && long.TryParse(text, NumberStyles.Integer, CultureInfo.InvariantCulture, out _) => "make the member a `long`",
        _ when (type == typeof(int) || type == typeof(long)) && double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out _) => "make the member a `double`",
        _ when IsNumber(type) && row is CsvRows && WithComma().IsMatch(text) => "say what the comma means by `new CsvDialect { DecimalSign = ',' }` or `{ ThousandsSign = ',' }`",
        _ when IsNumber(type) && row is CsvRows && text.Length is > 0 and < 12 && !text.Any(char.IsAsciiDigit) => $"if it stands for a missing value, say so by `new CsvDialect {{ Missing = [\"\", \"NA\", \"{text}\"] }}`",
        _ => null,
    };

    private static bool IsNumber(Type type) => type == typeof(double) || type == typeof(decimal) || type == typeof(float) || type == typeof(int) || type == typeof(long);

    // The orders of day and month that a date can have.
    private static string Order(string text, RowSource row)
    {
        if (row is not CsvRows || Numbers().Match(text) is not { Success: true } match) return "";
        var sign = match.Groups["sign"].Value;
        var (first, second) = (int.Parse(match.Groups[1].Value, CultureInfo.InvariantCulture), int.Parse(match.Groups[2].Value, CultureInfo.InvariantCulture));
        var year = match.Groups[3].Length == 4 ? "yyyy" : "yy";
        var (day, month) = match.Groups[1].Length == 1 || match.Groups[2].Length == 1 ? ("d", "M") : ("dd", "MM");
        string[] orders = [.. second <= 12 ? new[] { $"`{day}{sign}{month}{sign}{year}`" } : [], .. first <= 12 ? new[] { $"`{month}{sign}{day}{sign}{year}`" } : []];
        return orders.Length == 0 ? "" : $", or say by `DateFormat` of a `CsvDialect` how they are written: {string.Join(" or ", orders)}";
    }

    [GeneratedRegex(@"^[+-]?\d[\d,]*,\d+$")]
    private static partial Regex WithComma();

    [GeneratedRegex(@"^(\d{1,2})(?<sign>[./-])(\d{1,2})[./-](\d{4}|\d{2})$")]
    private static partial Regex Numbers();
}
