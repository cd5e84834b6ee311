using System.Globalization;
using System.Text;

namespace Fennick.Formatting;

/// <summary>Number codes of spreadsheets and charts (ECMA-376 Part 1, §18.8.31) that show numbers as Fennick's formats do.</summary>
internal static class NumberCode
{
    /// <summary>The code that leaves the form to the program.</summary>
    public const string General = "General";

    /// <summary>The code of a format.</summary>
    /// <param name="format">A standard or custom format, a named one, or a chain.</param>
    /// <param name="language">The language of signs and currencies.</param>
    /// <param name="hasNegative">Whether numbers may be negative, so that the language's own minus is needed.</param>
    /// <returns>Null if no code shows numbers in this way.</returns>
    public static string? Of(string format, Language language, bool hasNegative)
    {
        string[] links = [.. NamedFormats.LinksOf(format, language)];
        var code = OfLink(links[0], language);
        foreach (var link in links[1..]) code = code is not null && UnitOf(link) is { } unit ? Behind(code, $"\u00A0{unit}") : null;
        var minus = language.Culture.NumberFormat.NegativeSign;
        return code is null ? null : InLanguage(hasNegative && minus != "-" && Sections(code).Count() == 1 ? $"{code};{Quoted(minus)}{code}" : code, language.Culture);
    }

    /// <summary>The code for numbers that nobody has formatted yet, such as those along an axis: that of the format, or at least its unit.</summary>
    public static string ForAxis(string format, Language language, bool hasNegative) =>
        Of(format, language, hasNegative) ?? (UnitOf(NamedFormats.LinksOf(format, language).Last()) is { } unit ? Behind(General, $"\u00A0{unit}") : General);

    /// <summary>A code whose separators are those of the language, whatever the reader's machine is set to.</summary>
    public static string InLanguage(string code, CultureInfo culture)
    {
        var numbers = culture.NumberFormat;
        return (numbers.NumberDecimalSeparator == "." && numbers.NumberGroupSeparator == ",") || code == General || LocaleOf(culture) is not { } locale ? code : string.Join(';', Sections(code).Select(s => locale + s));
    }

    /// <summary>How a code names a language; null if there is no number for it.</summary>
    public static string? LocaleOf(CultureInfo culture) => culture.LCID is var id && id is not (4096 or 127) ? $"[$-{id:X}]" : null;

    private static string? UnitOf(string link) => link.StartsWith("unit ", StringComparison.Ordinal) ? link["unit ".Length..].Trim() : null;

    private static string? OfLink(string link, Language language)
    {
        var numbers = language.Culture.NumberFormat;
        var space = link.IndexOf(' ');
        var (name, argument) = space < 0 ? (link, "") : (link[..space], link[(space + 1)..].Trim());
        if (NamedFormats.Has(link, language))
        {
            return name switch
            {
                "percent" => OfLink($"P{(argument.Length == 0 ? "0" : argument)}", language),
                "number" => OfLink($"N{argument}", language),
                "thousands" => OfLink("N0", language),
                "signed" => OfLink($"N{argument}", language) is { } plain ? $"+{plain};{(numbers.NegativeSign == "-" ? "-" : Quoted(numbers.NegativeSign))}{plain};{plain}" : null,
                "money" => Money(argument, language),
                _ => null,
            };
        }
        var standard = link.Length is 1 or 2 or 3 && char.IsAsciiLetter(link[0]) && link.AsSpan(1).IndexOfAnyExceptInRange('0', '9') < 0;
        if (!standard) return Custom(link);
        int? digits = link.Length == 1 ? null : int.Parse(link.AsSpan(1), CultureInfo.InvariantCulture);
        if (digits > 30) return null;
        return char.ToUpperInvariant(link[0]) switch
        {
            'N' => "#,##0" + Decimals(digits ?? numbers.NumberDecimalDigits),
            'F' => "0" + Decimals(digits ?? numbers.NumberDecimalDigits),
            'D' => new string('0', Math.Max(1, digits ?? 1)),
            'P' => Pattern(numbers.PercentPositivePattern switch { 0 => "n %", 1 => "n%", 2 => "%n", _ => "% n" }, "#,##0" + Decimals(digits ?? numbers.PercentDecimalDigits), "%"),
            'C' => Pattern(numbers.CurrencyPositivePattern switch { 0 => "$n", 1 => "n$", 2 => "$ n", _ => "n $" }, "#,##0" + Decimals(digits ?? numbers.CurrencyDecimalDigits), Quoted(numbers.CurrencySymbol)),
            'E' when link[0] == 'E' => $"0{Decimals(digits ?? 6)}E+000",
            _ => null,
        };
    }

    private static string? Money(string argument, Language language)
    {
        // The text of one amount says where sign and number stand.
        var shown = ValueFormatter.Format(1m, $"money {argument}", language);
        var (start, end) = (shown.IndexOfAny(['0', '1', '2', '3', '4', '5', '6', '7', '8', '9']), shown.LastIndexOfAny(['0', '1', '2', '3', '4', '5', '6', '7', '8', '9']) + 1);
        var decimals = Math.Max(0, end - start - 2);
        return $"{Quoted(shown[..start])}#,##0{Decimals(decimals)}{Quoted(shown[end..])}";
    }

    /// <summary>A custom format; what it shows as it stands is quoted.</summary>
    private static string? Custom(string format)
    {
        var sections = new List<string>();
        var code = new StringBuilder();
        var literal = new StringBuilder();
        for (var i = 0; i < format.Length; i++)
        {
            var c = format[i];
            switch (c)
            {
                case '0' or '#' or '.' or ',' or '%':
                    Flush();
                    code.Append(c);
                    break;
                case 'E' when i + 2 < format.Length && format[i + 1] is '+' or '-' && format[i + 2] == '0':
                    Flush();
                    code.Append(format.AsSpan(i, 2));
                    i++;
                    break;
                case 'E' or 'e' or '\u2030': return null;
                case ';':
                    Flush();
                    sections.Add(code.ToString());
                    code.Clear();
                    break;
                case '\\' when i + 1 < format.Length:
                    literal.Append(format[++i]);
                    break;
                case '\'' or '"':
                    var end = format.IndexOf(c, i + 1);
                    if (end < 0) return null;
                    literal.Append(format.AsSpan(i + 1, end - i - 1));
                    i = end;
                    break;
                default:
                    literal.Append(c);
                    break;
            }
        }
        Flush();
        sections.Add(code.ToString());
        if (sections.Count > 3) return null;
        return string.Join(';', sections.Select(Grouped));

        void Flush()
        {
            code.Append(Quoted(literal.ToString()));
            literal.Clear();
        }
    }

    /// <summary>A comma between digits groups all of them: it is put where spreadsheets want it.</summary>
    private static string Grouped(string section)
    {
        var start = section.IndexOfAny(['0', '#']);
        if (start < 0) return section;
        var end = start;
        while (end < section.Length && section[end] is '0' or '#' or ',') end++;
        var whole = section[start..end].TrimEnd(',');
        var scaling = section[start..end][whole.Length..];
        if (!whole.Contains(',')) return section;
        var zeros = whole.Count(c => c == '0');
        var digits = new string('0', zeros).PadLeft(4, '#');
        for (var at = digits.Length - 3; at > 0; at -= 3) digits = digits.Insert(at, ",");
        return section[..start] + digits + scaling + section[end..];
    }

    private static string Decimals(int digits) => digits == 0 ? "" : "." + new string('0', digits);

    private static string Pattern(string pattern, string number, string sign) => string.Concat(pattern.Select(c => c switch { 'n' => number, ' ' => Quoted("\u00A0"), _ => sign }));

    private static string Behind(string code, string words) => string.Join(';', Sections(code).Select(section => section + Quoted(words)));

    /// <summary>The parts of a code for positive numbers, negative ones and zero.</summary>
    private static IEnumerable<string> Sections(string code)
    {
        var start = 0;
        var isQuoted = false;
        for (var i = 0; i < code.Length; i++)
        {
            if (code[i] == '\\' && !isQuoted) i++;
            else if (code[i] == '"') isQuoted = !isQuoted;
            else if (code[i] == ';' && !isQuoted)
            {
                yield return code[start..i];
                start = i + 1;
            }
        }
        yield return code[start..];
    }

    private static string Quoted(string literal) => literal.Length == 0 ? "" : literal.Contains('"', StringComparison.Ordinal) ? string.Concat(literal.Select(c => $"\\{c}")) : $"\"{literal}\"";
}
