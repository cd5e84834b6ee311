using System.Globalization;
using Fennick.Diagnostics;

namespace Fennick.Formatting;

/// <summary>
/// Turns values into the text a reader sees. Every number is rounded half away from zero, from the shortest decimal that stands for it: 24.25 is 24.3 and 2.675 is 2.68 in every format, sentence
/// and table. A number that rounds to zero has no sign.
/// </summary>
public static class ValueFormatter
{
    private const int SignificantDigits = 4;

    /// <summary>The text of a value.</summary>
    /// <param name="value">Any value; null and not-a-number show as an em dash, or as the language's rules say.</param>
    /// <param name="format">A named format such as <c>percent 1</c>, a .NET standard or custom format, a chain of such with bars between, or null for sensible digits.</param>
    /// <param name="language">The language of its separators and names.</param>
    /// <exception cref="ValueFormatException">The format is unknown, or not one for this type of value.</exception>
    public static string Format(object? value, string? format, Language language)
    {
        ArgumentNullException.ThrowIfNull(language);
        if (format is not null) return FormatAs(value, format, language);
        return value switch
        {
            null or DBNull => language.Numbers.Missing,
            string text => text,
            double or float or decimal => SensibleDigits(value, language),
            DateOnly date => InCalendar(date, language.DatePattern, language.Culture),
            DateTime time when time.TimeOfDay == TimeSpan.Zero => InCalendar(time, language.DatePattern, language.Culture),
            _ when IsWholeNumber(value) => WholeNumber(value, language),
            IFormattable formattable => InCalendar(formattable, null, language.Culture),
            System.Collections.IEnumerable => throw new ValueFormatException(
                $"{DescribeType(value)} cannot stand in a sentence", "join its items to a text, or place it with a `table` step"),
            _ when value.ToString() is { } text => text != value.GetType().ToString() ? text
                : throw new ValueFormatException($"a `{value.GetType().Name}` has no text of its own", "place one of its members, such as `{x.Name}`"),
            _ => language.Numbers.Missing,
        };
    }

    /// <summary>Finds out early whether values can have a format; one that may be the report's own is left to the report, whose language knows it.</summary>
    /// <exception cref="ValueFormatException">One of them cannot.</exception>
    internal static void Check(IEnumerable<object?> values, string? format)
    {
        if (format is not null && OwnFormat.MayBe(format, Language.Current)) return;
        foreach (var value in values) _ = Format(value, format, Language.Current);
    }

    /// <summary>What is wrong with a format whatever its value is; null if it fits some value.</summary>
    /// <param name="format">The format.</param>
    /// <param name="language">Brings formats of its own, if it is known.</param>
    internal static ValueFormatException? FindMistake(string format, Language? language = null)
    {
        foreach (var link in format.Split('|', StringSplitOptions.TrimEntries))
        {
            if (link.Length == 0) return new ValueFormatException($"the chain `{format}` has an empty link", "write a format on both sides of each `|`");
            if (!NamedFormats.Has(link, language) && !IsStandard(link, "CDEFGNPRXB") && !IsNumberPattern(link) && !(link.Length == 1 && IsStandard(link, DateLetters)) && !IsDatePattern(link) && link != "c")
                return Unknown(link, null, language);
        }
        return null;
    }

    /// <summary>A value in a form of its own. A date that the language's calendar does not reach is written in that of Gregory.</summary>
    private static string InCalendar(IFormattable value, string? format, CultureInfo culture)
    {
        try
        {
            return value.ToString(format, culture);
        }
        catch (ArgumentOutOfRangeException) when (value is DateOnly or DateTime or DateTimeOffset)
        {
            var gregorian = (CultureInfo)culture.Clone();
            gregorian.DateTimeFormat.Calendar = culture.OptionalCalendars.OfType<GregorianCalendar>().FirstOrDefault() ?? new GregorianCalendar();
            return value.ToString(format, gregorian);
        }
    }

    /// <summary>A number as a real one, of whatever type it is.</summary>
    internal static double ToDouble(object? value) => Uncommon<double>(value) ?? Convert.ToDouble(value, CultureInfo.InvariantCulture);

    /// <summary>A number as a decimal one.</summary>
    internal static decimal ToDecimal(object value) => Uncommon<decimal>(value) ?? Convert.ToDecimal(value, CultureInfo.InvariantCulture);

    /// <summary>A number of a type that the usual conversions do not know; null for all others.</summary>
    private static T? Uncommon<T>(object? value)
        where T : struct, System.Numerics.INumberBase<T> => value switch
        {
            System.Numerics.BigInteger big => T.CreateChecked(big),
            Int128 large => T.CreateChecked(large),
            UInt128 large => T.CreateChecked(large),
            nint native => T.CreateChecked(native),
            nuint native => T.CreateChecked(native),
            _ => null,
        };

    /// <summary>Whether a value is shown as a number.</summary>
    internal static bool IsNumber(object? value) => value is double or float or decimal || IsWholeNumber(value);

    /// <summary>
    /// One format for a whole column of numbers: four significant digits of the largest value, and two of the smallest as far as four decimals show them; common trailing
    /// zeros go.
    /// </summary>
    internal static string ColumnFormat(IEnumerable<object?> values)
    {
        const int mostDecimalsForTheSmallest = 4;
        var numbers = values.Select(v => ToDouble(v)).Where(n => double.IsFinite(n)).ToArray();
        var sizes = numbers.Select(Math.Abs).Where(n => n > 0).DefaultIfEmpty(1).ToArray();
        var grouped = sizes.Max() >= 9_999.5 ? "#,0" : "0";
        if (numbers.All(n => n == Math.Truncate(n))) return grouped;
        int Decimals(double size, int digits) => Math.Max(0, digits - 1 - (int)Math.Floor(Math.Log10(size)));
        var decimals = Math.Min(8, Math.Max(Decimals(sizes.Max(), SignificantDigits), Math.Min(mostDecimalsForTheSmallest, Decimals(sizes.Min(), 2))));
        decimal Round(double number, int to) => Math.Round(ShortestDecimal.Of(number) ?? 0, to, MidpointRounding.AwayFromZero);
        while (decimals > 0 && numbers.All(n => Round(n, decimals) == Round(n, decimals - 1))) decimals--;
        return decimals == 0 ? grouped : $"{grouped}.{new string('0', decimals)}";
    }

    private static bool IsWholeNumber(object? value) =>
        value is int or long or short or byte or uint or ulong or ushort or sbyte or Int128 or UInt128 or System.Numerics.BigInteger or nint or nuint;

    /// <summary>Whole numbers stay whole; five digits and more are grouped, so that a year never is.</summary>
    private static string WholeNumber(object value, Language language)
    {
        var plain = ((IFormattable)value).ToString("D", language.Culture);
        return plain.TrimStart('\u2212').Length < 5 ? plain : ((IFormattable)value).ToString("N0", language.Culture);
    }

    /// <summary>Four significant digits, but never fewer than the whole part has, and no trailing zeros.</summary>
    private static string SensibleDigits(object value, Language language)
    {
        var number = ToDouble(value);
        if (double.IsNaN(number)) return language.Numbers.Missing;
        if (double.IsInfinity(number) || number == 0) return (number == 0 ? 0.0 : number).ToString("0", language.Culture);
        var decimals = language.Numbers.Digits - 1;
        var (mantissa, magnitude) = ShortestDecimal.Rounded(value, decimals);
        if (magnitude is < -5 or > 14) return PowerOfTen(mantissa.ToString($"0.{new string('#', decimals)}", language.Culture), magnitude);
        decimals = Math.Max(0, decimals - magnitude);
        var grouped = magnitude >= 4 ? "#,0" : "0";
        return FormatAs(value, decimals == 0 ? grouped : $"{grouped}.{new string('#', decimals)}", language);
    }

    /// <summary>"1.23 × 10⁻⁵".</summary>
    internal static string PowerOfTen(string mantissa, int exponent)
    {
        var raised = string.Concat(exponent.ToString(CultureInfo.InvariantCulture).Select(c => c == '-' ? '\u207B' : "\u2070\u00B9\u00B2\u00B3\u2074\u2075\u2076\u2077\u2078\u2079"[c - '0']));
        return $"{mantissa}\u00A0×\u00A010{raised}";
    }

    private static string FormatAs(object? value, string format, Language language)
    {
        if (NamedFormats.Has(format, language)) return NamedFormats.Format(value, format, language);
        if (value is null or DBNull or double.NaN or float.NaN)
        {
            if (!IsStandard(format, "CDEFGNPRXB") && !IsNumberPattern(format) && !IsStandard(format, DateLetters) && !IsDatePattern(format))
                throw Unknown(format, null, language);
            return language.Numbers.Missing;
        }
        var fits = value switch
        {
            _ when IsWholeNumber(value) => IsStandard(format, "CDEFGNPRXB") || IsNumberPattern(format),
            double or float or decimal => IsStandard(format, "CEFGNPR") || IsNumberPattern(format),
            DateOnly or DateTime or DateTimeOffset or TimeOnly => (format.Length == 1 && IsStandard(format, DateLetters)) || IsDatePattern(format),
            TimeSpan => format is "c" or "g" or "G" || IsDatePattern(format),
            _ => false,
        };
        if (!fits) throw Unknown(format, value, language);
        try
        {
            var text = InCalendar((IFormattable)Rounded(value, format), format, language.Culture);
            // A percent sign or a currency stays with its number.
            if (format[0] is 'P' or 'p' or 'C' or 'c') text = text.Replace(' ', '\u00A0');
            // A number that rounds to zero has no sign.
            return IsNegative(value) && text.AsSpan().IndexOfAnyInRange('1', '9') < 0 && text.Contains('0') ? FormatAs(0.0, format, language) : text;
        }
        catch (FormatException)
        {
            throw Unknown(format, value, language);
        }
    }

    /// <summary>What a number is rounded from: its shortest decimal, where a format has fixed decimals.</summary>
    private static object Rounded(object value, string format)
    {
        if (value is not (double or float) || format[0] is 'R' or 'r' or 'G' or 'g') return value;
        if (format.AsSpan().IndexOfAny('E', 'e') < 0) return ShortestDecimal.Of(value) is { } number ? number : value;
        var real = ToDouble(value);
        if (!double.IsFinite(real) || real == 0) return value;
        // With an exponent the digits of the mantissa count: the standard format says how many, a pattern has a place for each.
        var decimals = IsStandard(format, "E") ? (format.Length > 1 ? int.Parse(format.AsSpan(1), CultureInfo.InvariantCulture) : 6) : format.Split('E', 'e')[0].Count(c => c is '0' or '#') - 1;
        var (mantissa, exponent) = ShortestDecimal.Rounded(value, Math.Clamp(decimals, 0, 16));
        return double.Parse(string.Create(CultureInfo.InvariantCulture, $"{mantissa}E{exponent}"), CultureInfo.InvariantCulture);
    }

    private static bool IsNegative(object value) => value switch { double d => d < 0, float f => f < 0, decimal m => m < 0, _ => false };

    private const string DateLetters = "dDfFgGmMoOrRstTuUyY";

    private static bool IsStandard(string format, string letters) =>
        format.Length is >= 1 and <= 4
        && letters.Contains(letters == DateLetters ? format[0] : char.ToUpperInvariant(format[0]))
        && format.AsSpan(1).IndexOfAnyExceptInRange('0', '9') < 0;

    private static bool IsNumberPattern(string format) =>
        HasOnly(format, static c => !char.IsLetter(c) || c is 'E' or 'e', static c => c is '0' or '#');

    private static bool IsDatePattern(string format) =>
        HasOnly(format, static c => !char.IsLetter(c) || "dfFgHhKmMstyz".Contains(c), static c => "dfFHhmMsty".Contains(c));

    /// <summary>Whether all unquoted characters are allowed and at least one of them is a placeholder.</summary>
    private static bool HasOnly(string format, Func<char, bool> allowed, Func<char, bool> placeholder)
    {
        var found = false;
        for (var i = 0; i < format.Length; i++)
        {
            var c = format[i];
            if (c == '\\')
            {
                i++;
            }
            else if (c is '\'' or '"')
            {
                i = format.IndexOf(c, i + 1);
                if (i < 0) return false;
            }
            else if (!allowed(c))
            {
                return false;
            }
            else
            {
                found |= placeholder(c);
            }
        }
        return found;
    }

    private static ValueFormatException Unknown(string format, object? value, Language? language)
    {
        string[] numbers = ["N0", "N1", "N2", "F1", "F2", "P0", "P1", "0", "0.0", "0.00", "#,0", "#,0.0"], dates = ["d MMMM yyyy", "MMMM yyyy", "yyyy-MM-dd"];
        var (candidates, advice) = value switch
        {
            null => ([.. numbers, .. dates], "numbers take forms like `0.0`, `#,0` or `percent 1`, dates like `d MMMM yyyy`"),
            DateOnly or DateTime or DateTimeOffset => (dates, "dates take forms like `d MMMM yyyy` or `yyyy-MM-dd`"),
            TimeOnly or TimeSpan => (["HH:mm", "hh\\:mm"], "times take forms like `HH:mm`, durations like `hh\\:mm`"),
            _ when IsNumber(value) => (numbers, "numbers take forms like `0.0`, `#,0` or `percent 1`"),
            _ => (Array.Empty<string>(), "leave the format out, or write one for texts such as `upper`"),
        };
        return new($"`{format}` is not a format for {(value is null ? "any value" : DescribeType(value))}",
            Nearest.Suggest(format, candidates.Where(c => c != format))
            ?? (Nearest.Find(format.Split(' ')[0], NamedFormats.Names.Concat(language?.OwnFormats.Keys ?? [])) is { } name ? $"did you mean `{name}{format[format.Split(' ')[0].Length..]}`?" : null)
            ?? advice);
    }

    /// <summary>What a value is, in a user's words: "a whole number".</summary>
    internal static string DescribeType(object value) => NameOfType(value) is var name && name.TrimStart('`')[0] is 'A' or 'E' or 'I' or 'O' ? $"an {name}" : $"a {name}";

    /// <summary>The same without an article.</summary>
    internal static string NameOfType(object value) => value switch
    {
        string => "text",
        bool => "yes-or-no value",
        double or float or decimal => "number",
        DateOnly or DateTime or DateTimeOffset => "date",
        TimeOnly or TimeSpan => "time",
        _ when IsWholeNumber(value) => "whole number",
        System.Collections.IEnumerable => "sequence",
        _ => $"`{value.GetType().Name}`",
    };
}
