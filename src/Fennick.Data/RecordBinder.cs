using System.Globalization;
using System.Reflection;
using CsvHelper;
using Fennick.Diagnostics;

namespace Fennick.Data;

/// <summary>Makes records of one type from the rows of one file.</summary>
internal sealed class RecordBinder<T>
{
    // ISO 8601; what another order of day and month would read otherwise is refused.
    private static readonly string[] Times = [.. from clock in (string[])["HH:mm", "HH:mm:ss", "HH:mm:ss.FFFFFFF"] from between in (string[])["'T'", " "] select $"yyyy-MM-dd{between}{clock}"];
    private static readonly string[] OffsetTimes = [.. Times.SelectMany(t => (string[])[$"{t}zzz", $"{t}'Z'"])];
    private static readonly string[] DatesAndTimes = ["yyyy-MM-dd", .. Times, .. Times.Select(t => $"{t}'Z'")];

    private readonly string path;
    private readonly Target[] targets;
    private readonly ConstructorInfo? constructor;
    private readonly int columnCount;

    private RecordBinder(string path, Target[] targets, ConstructorInfo? constructor, int columnCount)
    {
        this.columnCount = columnCount;
        this.path = path;
        this.targets = targets;
        this.constructor = constructor;
    }

    /// <summary>Finds a column for each parameter of a record's constructor, or for each settable property.</summary>
    public static RecordBinder<T> Create(string path, IReadOnlyList<string> columns)
    {
        var nullability = new NullabilityInfoContext();
        var constructor = typeof(T).GetConstructors().Where(c => c.GetParameters().Length > 0).MaxBy(c => c.GetParameters().Length);
        var targets = constructor is not null
            ? constructor.GetParameters().Select(p => new Target(p.Name!, p.ParameterType, nullability.Create(p).WriteState == NullabilityState.Nullable, null, p.HasDefaultValue))
            : typeof(T).GetProperties().Where(p => p.CanWrite).Select(p => new Target(p.Name, p.PropertyType, nullability.Create(p).WriteState == NullabilityState.Nullable, p, true));
        return new RecordBinder<T>(path, [.. targets.Select(FindColumn)], constructor, columns.Count);

        Target FindColumn(Target target)
        {
            var matches = Enumerable.Range(0, columns.Count).Where(c => Csv.AreAlike(target.Name, columns[c])).ToArray();
            if (matches.Length > 1)
                throw new ReportException(Diagnostic.Error(new SourcePlace(path, 1, 1), $"more than one column fits `{target.Name}`: {List(matches.Select(c => columns[c]))}", "rename one of them"));
            if (matches.Length == 0 && !target.IsOptional)
                throw new ReportException(Diagnostic.Error(new SourcePlace(path, 1, 1), $"there is no column for `{target.Name}`", Nearest.Suggest(target.Name, columns) ?? $"the columns are {List(columns)}"));
            return matches.Length == 0 ? target : target with { Column = matches[0], Head = columns[matches[0]] };
        }

        static string List(IEnumerable<string> names) => string.Join(", ", names.Select(n => $"`{n}`"));
    }

    public T Bind(CsvReader row)
    {
        if (row.FieldCount != columnCount)
        {
            throw new ReportException(Diagnostic.Error(new SourcePlace(path, (int)row.LineNumber, Math.Min(row.FieldCount, columnCount) + 1), $"this row has {row.FieldCount} cells, but the file has {columnCount} columns",
                "put the cell right that is missing or too many; a cell that holds a comma stands in quotation marks"));
        }
        if (constructor is not null)
        {
            var arguments = new object?[targets.Length];
            for (var i = 0; i < targets.Length; i++) arguments[i] = targets[i].Column < 0 ? Type.Missing : Read(row, targets[i]);
            return (T)constructor.Invoke(BindingFlags.OptionalParamBinding, null, arguments, CultureInfo.InvariantCulture);
        }
        var record = Activator.CreateInstance<T>();
        foreach (var target in targets)
            if (target.Column >= 0) target.Property!.SetValue(record, Read(row, target));
        return record;
    }

    private object? Read(CsvReader row, Target target)
    {
        var text = row.GetString(target.Column);
        var type = Nullable.GetUnderlyingType(target.Type) ?? target.Type;
        var isMissing = text is "" or "NA";
        if (isMissing && target.MayBeNull) return null;
        if (type == typeof(string)) return text;
        if (isMissing) throw Wrong(row, target, $"{(text == "" ? "an empty cell" : "`NA`")} in column `{target.Head}`", $"make `{target.Name}` nullable (`{Name(type)}?`) if values may be missing");
        return Parse(text.Trim(), type) ?? throw Wrong(row, target, $"`{text}` in column `{target.Head}` is not {Describe(type)}", Advise(text.Trim(), type));
    }

    private static object? Parse(string text, Type type)
    {
        var culture = CultureInfo.InvariantCulture;
        return type switch
        {
            _ when type == typeof(double) => double.TryParse(text, NumberStyles.Float, culture, out var value) && IsAsWritten(value, text) ? value : null,
            _ when type == typeof(int) => int.TryParse(text, NumberStyles.Integer, culture, out var value) ? value : null,
            _ when type == typeof(long) => long.TryParse(text, NumberStyles.Integer, culture, out var value) ? value : null,
            _ when type == typeof(decimal) => decimal.TryParse(text, NumberStyles.Float, culture, out var value) ? value : null,
            _ when type == typeof(float) => float.TryParse(text, NumberStyles.Float, culture, out var value) && IsAsWritten(value, text) ? value : null,
            _ when type == typeof(DateOnly) => DateOnly.TryParseExact(text, "yyyy-MM-dd", culture, DateTimeStyles.None, out var value) ? value : null,
            _ when type == typeof(DateTime) => DateTime.TryParseExact(text, DatesAndTimes, culture, DateTimeStyles.None, out var value) ? value : null,
            _ when type == typeof(DateTimeOffset) => DateTimeOffset.TryParseExact(text, OffsetTimes, culture, DateTimeStyles.AssumeUniversal, out var value) ? value : null,
            _ when type == typeof(bool) => text.ToLowerInvariant() switch { "yes" or "true" or "1" => true, "no" or "false" or "0" => false, _ => null },
            _ when type.IsEnum => Enum.GetNames(type).FirstOrDefault(n => n.Equals(text, StringComparison.OrdinalIgnoreCase)) is { } name ? Enum.Parse(type, name) : null,
            _ => throw new ReportException(Diagnostic.Error(null, $"a member of type `{type.Name}` cannot be read from a file", "use text, a number, a date, bool or an enum")),
        };
    }

    /// <summary>Whether a number is what the text says, and not too large for its type.</summary>
    private static bool IsAsWritten(double value, string text) => !double.IsInfinity(value) || !text.Any(char.IsAsciiDigit);

    private static string? Advise(string text, Type type) => type switch
    {
        _ when type == typeof(DateOnly) => "write dates as 2025-03-30",
        _ when type == typeof(DateTime) && DateTimeOffset.TryParseExact(text, OffsetTimes, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out _) => "make the member a `DateTimeOffset`: it keeps how far the time is from UTC",
        _ when type == typeof(DateTime) => "write times as 2025-03-30T02:30:00",
        _ when type == typeof(DateTimeOffset) => "write times as 2025-03-30T02:30:00+02:00",
        _ when type == typeof(int) && long.TryParse(text, NumberStyles.Integer, CultureInfo.InvariantCulture, out _) => "make the member a `long`",
        _ when (type == typeof(int) || type == typeof(long)) && double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out _) => "make the member a `double`",
        _ => null,
    };

    private ReportException Wrong(CsvReader row, Target target, string message, string? suggestion) =>
        new(Diagnostic.Error(new SourcePlace(path, (int)row.LineNumber, target.Column + 1), message, suggestion));

    private static string Describe(Type type) => type switch
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

    private static string Name(Type type) => type switch
    {
        _ when type == typeof(bool) => "bool",
        _ when type == typeof(int) => "int",
        _ when type == typeof(long) => "long",
        _ when type == typeof(double) => "double",
        _ when type == typeof(decimal) => "decimal",
        _ when type == typeof(float) => "float",
        _ => type.Name,
    };

    private sealed record Target(string Name, Type Type, bool MayBeNull, PropertyInfo? Property, bool IsOptional)
    {
        public int Column { get; init; } = -1;

        public string Head { get; init; } = "";
    }
}
