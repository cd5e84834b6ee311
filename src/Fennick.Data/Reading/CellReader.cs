using System.Globalization;
using System.Text;

namespace Fennick.Data.Reading;

/// <summary>Reads cells as values of the types that members have.</summary>
internal sealed class CellReader
{
    // ISO 8601; what another order of day and month would read otherwise is refused.
    private static readonly string[] Times = [.. from clock in (string[])["HH:mm", "HH:mm:ss", "HH:mm:ss.FFFFFFF"] from between in (string[])["'T'", " "] select $"yyyy-MM-dd{between}{clock}"];
    private static readonly string[] OffsetTimes = [.. Times.SelectMany(t => (string[])[$"{t}zzz", $"{t}'Z'"])];
    private static readonly string[] DatesAndTimes = ["yyyy-MM-dd", .. Times, .. Times.Select(t => $"{t}'Z'")];

    private static readonly object Yes = true;
    private static readonly object No = false;

    private readonly Dictionary<Type, Dictionary<string, object>> names = [];

    /// <summary>The signs of numbers in texts.</summary>
    public NumberSigns Signs { get; init; } = new();

    /// <summary>How dates are written in texts; as in ISO 8601 if null.</summary>
    public string? DateFormat { get; init; }

    /// <summary>A cell as a number.</summary>
    public bool TryNumber(in Cell cell, RowSource row, int column, out double value)
    {
        switch (cell.Kind)
        {
            case CellKind.Number:
                value = cell.Number;
                return true;
            // What a double cannot hold is refused, not rounded.
            case CellKind.Whole:
                value = cell.Whole;
                return Math.Abs(value) < long.MaxValue && (long)value == cell.Whole;
            case CellKind.Exact:
                value = (double)cell.Exact;
                return true;
            case CellKind.Text:
                return cell.Bytes.IsEmpty ? Signs.TryRead(Encoding.UTF8.GetBytes(cell.ToText().Trim()), row, column, out value) : Signs.TryRead(Trim(cell.Bytes), row, column, out value);
            default:
                value = 0;
                return false;
        }
    }

    /// <summary>A cell as a whole number.</summary>
    public bool TryWhole(in Cell cell, RowSource row, int column, out long value)
    {
        switch (cell.Kind)
        {
            case CellKind.Whole:
                value = cell.Whole;
                return true;
            case CellKind.Number:
                value = Math.Abs(cell.Number) <= 1L << 53 ? (long)cell.Number : 0;
                return value == cell.Number;
            case CellKind.Exact:
                value = Math.Abs(cell.Exact) <= long.MaxValue ? (long)cell.Exact : 0;
                return value == cell.Exact;
            case CellKind.Text:
                return (!cell.Bytes.IsEmpty && long.TryParse(Trim(cell.Bytes), NumberStyles.Integer, CultureInfo.InvariantCulture, out value))
                    || long.TryParse(Signs.Plain(cell.ToText(), row, column), NumberStyles.Integer, CultureInfo.InvariantCulture, out value);
            default:
                value = 0;
                return false;
        }
    }

    /// <summary>A cell as a value of a type that is not null, text or a number of the ones above.</summary>
    /// <returns>The value; null if the cell holds none of that type.</returns>
    public object? Read(in Cell cell, Type type, RowSource row, int column)
    {
        if (type == typeof(decimal)) return Decimal(cell, row, column);
        if (type == typeof(float)) return TryNumber(cell, row, column, out var number) && (!float.IsInfinity((float)number) || double.IsInfinity(number)) ? (float)number : null;
        if (type == typeof(DateOnly)) return cell.Kind == CellKind.Time ? cell.Time.TimeOfDay == default ? DateOnly.FromDateTime(cell.Time) : null : Text(cell) is { } day && DateOnly.TryParseExact(day, DateFormat ?? "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date) ? date : null;
        if (type == typeof(DateTime)) return cell.Kind == CellKind.Time ? cell.Time : Text(cell) is { } time && DateTime.TryParseExact(time, DateFormat is null ? DatesAndTimes : [DateFormat, .. DatesAndTimes], CultureInfo.InvariantCulture, DateTimeStyles.None, out var value) ? value : null;
        if (type == typeof(DateTimeOffset)) return cell.Kind == CellKind.OffsetTime ? cell.OffsetTime : Text(cell) is { } text && DateTimeOffset.TryParseExact(text, OffsetTimes, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var value) ? value : null;
        if (type == typeof(bool)) return cell.Kind switch
        {
            CellKind.Truth => cell.Whole != 0,
            CellKind.Whole or CellKind.Number => TryWhole(cell, row, column, out var whole) && whole is 0 or 1 ? whole == 1 : null,
            _ when Is(cell.Bytes, "yes"u8) || Is(cell.Bytes, "true"u8) => Yes,
            _ when Is(cell.Bytes, "no"u8) || Is(cell.Bytes, "false"u8) => No,
            _ => Text(cell)?.ToLowerInvariant() switch { "yes" or "true" or "1" => Yes, "no" or "false" or "0" => No, _ => null },
        };
        if (!names.TryGetValue(type, out var own))
        {
            own = new Dictionary<string, object>(StringComparer.OrdinalIgnoreCase);
            foreach (var name in Enum.GetNames(type)) own.TryAdd(name, Enum.Parse(type, name));
            names.Add(type, own);
        }
        return own.GetValueOrDefault(cell.ToText().Trim());
    }

    /// <summary>Whether a text is a time with its distance from UTC.</summary>
    public static bool IsOffsetTime(string text) => DateTimeOffset.TryParseExact(text, OffsetTimes, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out _);

    private object? Decimal(in Cell cell, RowSource row, int column) => cell.Kind switch
    {
        CellKind.Exact => cell.Exact,
        CellKind.Whole => (decimal)cell.Whole,
        CellKind.Number => !cell.Bytes.IsEmpty && decimal.TryParse(cell.Bytes, NumberStyles.Float, CultureInfo.InvariantCulture, out var written) ? written : Math.Abs(cell.Number) < 1e28 ? (decimal)cell.Number : null,
        CellKind.Text => decimal.TryParse(cell.ToText().Trim(), NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && Signs.DecimalSign is not ',' ? value
            : decimal.TryParse(Signs.Plain(cell.ToText(), row, column), NumberStyles.Float, CultureInfo.InvariantCulture, out value) ? value : null,
        _ => null,
    };

    private static bool Is(ReadOnlySpan<byte> text, ReadOnlySpan<byte> word) => Ascii.EqualsIgnoreCase(text, word);

    private static string? Text(in Cell cell) => cell.Kind == CellKind.Text ? cell.ToText().Trim() : null;

    private static ReadOnlySpan<byte> Trim(ReadOnlySpan<byte> text) => text.Trim((byte)' ').Trim((byte)'\t');
}
