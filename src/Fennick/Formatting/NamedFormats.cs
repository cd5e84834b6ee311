using System.Collections;
using System.Globalization;
using System.Runtime.CompilerServices;
using Fennick.Diagnostics;
using Fennick.Statistics.Fits;
using Humanizer;

namespace Fennick.Formatting;

/// <summary>The named formats: each takes a value and what stands behind its name, and gives text, or items of text where it was given several.</summary>
internal static class NamedFormats
{
    private const char Unbreakable = '\u00A0';

    private static readonly Dictionary<string, Link> Links = new(StringComparer.Ordinal)
    {
        ["money"] = new("a three-letter code, such as `money EUR`", Money),
        ["unit"] = new("a unit, such as `unit kg`", Unit),
        ["percent"] = new("at most a number of decimals, such as `percent 1`", Percent),
        ["number"] = new("a number of decimals, such as `number 2`", Number),
        ["signed"] = new("a number of decimals, such as `signed 1`", Signed),
        ["thousands"] = new("nothing", Thousands),
        ["ordinal"] = new("nothing", Ordinal),
        ["words"] = new("nothing", Words),
        ["date"] = new("a pattern, such as `date d MMMM yyyy`", Date),
        ["list"] = new("nothing, `and` or `or`", List),
        ["title"] = new("nothing", (c, _) => c.TakesNothing(c.Text(t => c.Language.Culture.TextInfo.ToTitleCase(t)))),
        ["sentence"] = new("nothing", (c, _) => c.TakesNothing(c.Text(t => t.Length == 0 ? t : char.ToUpper(t[0], c.Language.Culture) + t[1..]))),
        ["upper"] = new("nothing", (c, _) => c.TakesNothing(c.Text(t => t.ToUpper(c.Language.Culture)))),
        ["lower"] = new("nothing", (c, _) => c.TakesNothing(c.Text(t => t.ToLower(c.Language.Culture)))),
        ["quoted"] = new("nothing", (c, _) => c.TakesNothing(c.Text(t => c.Language.Words.OpenQuote + t + c.Language.Words.CloseQuote))),
        ["p-value"] = new("`bare` and a number of decimals, as in `p-value`, `p-value 2`, `p-value bare` or `p-value bare 2`", PValue),
        ["power-of-ten"] = new("an exponent and a number of decimals, such as `power-of-ten -5 2`", PowerOfTen),
        ["interval"] = new("at most a number of decimals, such as `interval 2`", IntervalOf),
    };

    /// <summary>The names, for suggestions.</summary>
    public static IEnumerable<string> Names => Links.Keys;

    /// <summary>Whether a format is a chain of named ones, those that a report brings among them.</summary>
    public static bool Has(string format, Language? language)
    {
        if (format.Contains('|')) return true;
        var name = NameOf(format.AsSpan().Trim());
        return Links.GetAlternateLookup<ReadOnlySpan<char>>().ContainsKey(name) || language?.OwnFormats.GetAlternateLookup<ReadOnlySpan<char>>().ContainsKey(name) == true;
    }

    /// <summary>The links of a chain, where formats that stand for others are replaced by these.</summary>
    public static IEnumerable<string> LinksOf(string format, Language language) =>
        format.Split('|', StringSplitOptions.TrimEntries).SelectMany(l => language.OwnFormats.TryGetValue(l, out var own) && own.Links is { } links ? LinksOf(links, language) : [l]);

    /// <summary>Carries out a chain.</summary>
    /// <exception cref="ValueFormatException">A link is unknown, or does not fit what it was given.</exception>
    public static string Format(object? value, string format, Language language)
    {
        string[] links = [.. LinksOf(format, language)];
        string? before = null;
        var current = value;
        foreach (var text in links)
        {
            if (text.Length == 0) throw new ValueFormatException($"the chain `{format}` has an empty link", "write a format on both sides of each `|`");
            current = Carry(current, text, before, links.Length > 1, language);
            before = text;
        }
        return current switch
        {
            string done => done,
            IEnumerable items => throw new ValueFormatException($"`{format}` gives {items.Cast<object?>().Count()} texts, which cannot stand in a sentence", "join them with `| list and`"),
            _ => ValueFormatter.Format(current, null, language),
        };
    }

    private static object? Carry(object? value, string link, string? before, bool inChain, Language language)
    {
        var name = NameOf(link).ToString();
        if (language.OwnFormats.TryGetValue(name, out var own))
        {
            if (own.Carry is not { } carry) throw new ValueFormatException($"`{name}` cannot take `{link[name.Length..].Trim()}`", $"it stands for `{own.Links}`");
            return Each(value, item => item is null or DBNull or double.NaN or float.NaN ? language.Numbers.Missing : Carried(own, carry, item, link[name.Length..].Trim(), language));
        }
        if (!Links.TryGetValue(name, out var found))
        {
            // A .NET format may be a link too.
            if (inChain && Nearest.Find(name, Links.Keys.Concat(language.OwnFormats.Keys)) is { } near) throw new ValueFormatException($"`{link}` is not a format", $"did you mean `{near}`?");
            return Each(value, item => ValueFormatter.Format(item, link, language));
        }
        var argument = link[name.Length..].Trim();
        var call = new Call(name, argument, before, language, found.Takes);
        // A list joins items, and an interval has two ends; all others take each item by itself.
        return name is "list" or "interval" ? found.Carry(call with { Value = value }, argument) : Each(value, item => item is null or DBNull or double.NaN or float.NaN ? language.Numbers.Missing : found.Carry(call with { Value = item }, argument));
    }

    private static string Carried(OwnFormat own, Func<object, string, Language, string> carry, object value, string argument, Language language)
    {
        try
        {
            return carry(value, argument, language) ?? "";
        }
        catch (Exception problem) when (problem is not (ValueFormatException or ThreadAbortException or OperationCanceledException))
        {
            throw new ValueFormatException($"`{own.Name}` failed for the {ValueFormatter.NameOfType(value)} {ValueFormatter.Format(value, null, language)}: {problem.Message.ReplaceLineEndings(" ")} ({problem.GetType().Name})");
        }
    }

    private static object? Each(object? value, Func<object?, object?> carry) => value is IEnumerable items and not string ? items.Cast<object?>().Select(carry).ToArray() : carry(value);

    private static ReadOnlySpan<char> NameOf(ReadOnlySpan<char> link) => link.IndexOf(' ') is >= 0 and var end ? link[..end] : link;

    private static string Money(Call call, string argument)
    {
        var parts = argument.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (parts.Length is < 1 or > 2 || parts[0].Length != 3 || !parts[0].All(char.IsAsciiLetterUpper)) throw call.WrongArgument();
        var decimals = parts.Length == 2 ? call.Decimals(parts[1]) : parts[0] is "JPY" or "KRW" or "ISK" or "CLP" or "VND" ? 0 : 2;
        var symbol = parts[0] switch { "EUR" => "€", "GBP" => "£", "USD" => "$", "JPY" => "¥", "INR" => "₹", _ => null };
        var format = (NumberFormatInfo)call.Language.Culture.NumberFormat.Clone();
        format.CurrencySymbol = symbol ?? parts[0];
        format.CurrencyDecimalDigits = decimals;
        format.CurrencyDecimalSeparator = format.NumberDecimalSeparator;
        format.CurrencyGroupSeparator = format.NumberGroupSeparator;
        // Before the number a code stands apart from it, a sign does not.
        if (symbol is null && format.CurrencyPositivePattern == 0) format.CurrencyPositivePattern = 2;
        format.CurrencyNegativePattern = format.CurrencyPositivePattern switch { 0 => 1, 1 => 5, 2 => 9, _ => 8 };
        return Math.Round(call.Number(), decimals, MidpointRounding.AwayFromZero).ToString("C", format).Replace(' ', Unbreakable);
    }

    private static string Unit(Call call, string argument) => argument.Length == 0 ? throw call.WrongArgument()
        : (call.Value as string ?? ValueFormatter.Format((object)call.Number(), null, call.Language)) + Unbreakable + argument;

    private static string Percent(Call call, string argument)
    {
        var decimals = argument.Length == 0 ? 0 : call.Decimals(argument);
        return ValueFormatter.Format(call.Number(), $"P{decimals}", call.Language);
    }

    private static string Number(Call call, string argument) => ValueFormatter.Format(call.Number(), $"N{call.Decimals(argument)}", call.Language);

    private static string Signed(Call call, string argument)
    {
        var text = ValueFormatter.Format(call.Number(), $"N{call.Decimals(argument)}", call.Language);
        return call.Number() > 0 && text.AsSpan().IndexOfAnyInRange('1', '9') >= 0 ? "+" + text : text;
    }

    private static string Thousands(Call call, string argument) => call.TakesNothing(ValueFormatter.Format(call.Number(), "N0", call.Language));

    private static string Ordinal(Call call, string argument)
    {
        var number = call.WholeNumber();
        return call.TakesNothing(number.ToString(call.Language.Culture) + call.Language.Culture.TwoLetterISOLanguageName switch
        {
            "de" or "pl" => ".",
            "fr" => number == 1 ? "er" : "e",
            "es" or "pt" => ".º",
            "it" => "º",
            "nl" => "e",
            "sv" => number % 10 is 1 or 2 && number % 100 is not (11 or 12) ? ":a" : ":e",
            _ => (number % 100) is >= 11 and <= 13 ? "th" : (number % 10) switch { 1 => "st", 2 => "nd", 3 => "rd", _ => "th" },
        });
    }

    private static string Words(Call call, string argument)
    {
        var number = call.WholeNumber();
        var culture = call.Language.Culture;
        var words = (culture.Name, number) is ("en-US", _) ? number.ToWords(culture, addAnd: false) : number.ToWords(culture);
        return call.TakesNothing(culture.TwoLetterISOLanguageName == "de" && number is 1 or -1 ? words + "s" : words);
    }

    private static string Date(Call call, string argument) => call.Value is DateOnly or DateTime or DateTimeOffset or TimeOnly
        ? ValueFormatter.Format(call.Value, argument.Length == 0 ? call.Language.DatePattern : argument, call.Language) : throw call.WrongValue("a date");

    private static string List(Call call, string argument)
    {
        if (call.Value is not IEnumerable sequence || call.Value is string) throw call.WrongValue("a sequence");
        var words = call.Language.Words;
        string[] items = [.. sequence.Cast<object?>().Select(i => ValueFormatter.Format(i, null, call.Language))];
        var last = items.Length == 0 ? "" : items[^1];
        var join = argument switch { "" => ", ", "and" => $" {words.AndBefore(last)} ", "or" => $" {words.OrBefore(last)} ", _ => throw call.WrongArgument() };
        return items.Length < 2 ? string.Concat(items) : string.Join(", ", items[..^1]) + join + items[^1];
    }

    /// <summary>A p-value as it stands in a sentence behind the letter: "= 0.032", "&lt; 0.001", "&gt; 0.99"; bare, with a sign only where it needs one.</summary>
    private static string PValue(Call call, string argument)
    {
        var words = argument.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        var isBare = words.Contains("bare");
        string[] rest = [.. words.Where(w => w != "bare")];
        if (rest.Length > 1 || words.Length - rest.Length > 1) throw call.WrongArgument();
        var decimals = rest.Length == 0 ? 3 : call.Decimals(rest[0]);
        if (decimals == 0) throw call.WrongArgument();
        var number = call.Number();
        // Rounding may carry a p-value a little beyond its ends.
        if (number is < -1e-9m or > 1 + 1e-9m) throw call.WrongValue("a p-value, between 0 and 1");
        var least = new decimal(1, 0, 0, false, (byte)decimals);
        // Beyond 0.99 more decimals say nothing.
        var most = 1 - new decimal(1, 0, 0, false, (byte)Math.Min(decimals, 2));
        var pattern = $"0.{new string('0', decimals)}";
        return number < least ? $"<{Unbreakable}{ValueFormatter.Format(least, pattern, call.Language)}"
            : number > most ? $">{Unbreakable}{ValueFormatter.Format(most, $"0.{new string('0', Math.Min(decimals, 2))}", call.Language)}"
            : (isBare ? "" : $"={Unbreakable}") + ValueFormatter.Format(number, pattern, call.Language);
    }

    /// <summary>A number in units of a power of ten: "1.23 × 10⁻⁵".</summary>
    private static string PowerOfTen(Call call, string argument)
    {
        if (argument.Split(' ', StringSplitOptions.RemoveEmptyEntries) is not [var power, var places] || !int.TryParse(power, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var exponent) || Math.Abs(exponent) > 300) throw call.WrongArgument();
        if (!ValueFormatter.IsNumber(call.Value)) throw call.WrongValue("a number");
        var number = ValueFormatter.ToDouble(call.Value);
        if (!double.IsFinite(number)) return ValueFormatter.Format(number, "0", call.Language);
        var (mantissa, own) = number == 0 ? (0, exponent) : ShortestDecimal.Split(number);
        var shift = own - exponent;
        if (Math.Abs(shift) > 25) throw call.WrongValue($"a number near 10 to the power {exponent}");
        var scaled = shift >= 0 ? mantissa * (decimal)Math.Pow(10, shift) : mantissa / (decimal)Math.Pow(10, -shift);
        return ValueFormatter.PowerOfTen(ValueFormatter.Format(scaled, $"N{call.Decimals(places)}", call.Language), exponent);
    }

    private static string IntervalOf(Call call, string argument)
    {
        object?[] ends = call.Value switch
        {
            Interval interval => [interval.Low, interval.High],
            ITuple { Length: 2 } pair => [pair[0], pair[1]],
            IEnumerable items and not string => [.. items.Cast<object?>()],
            _ => throw call.WrongValue("an interval, a pair or two items"),
        };
        if (ends.Length != 2) throw call.WrongValue("two ends");
        var format = argument.Length == 0 ? null : $"N{call.Decimals(argument)}";
        var separator = call.Language.Culture.NumberFormat.NumberDecimalSeparator == "," ? "; " : ", ";
        return $"[{End(0)}{separator}{End(1)}]";

        string End(int i) => ends[i] is string done ? done : ValueFormatter.Format(ends[i], ends[i] is null ? null : format, call.Language);
    }

    /// <summary>A named format.</summary>
    /// <param name="Takes">What may stand behind its name.</param>
    /// <param name="Carry">Carries it out.</param>
    private sealed record Link(string Takes, Func<Call, string, string> Carry);

    /// <summary>One use of a named format.</summary>
    private sealed record Call(string Name, string Argument, string? Before, Language Language, string Takes)
    {
        public object? Value { get; init; }

        public decimal Number()
        {
            if (!ValueFormatter.IsNumber(Value)) throw WrongValue("a number");
            var number = ValueFormatter.ToDouble(Value);
            if (!double.IsFinite(number) || Math.Abs(number) >= 7e27) throw WrongValue("a number of ordinary size");
            return Value is double or float ? ShortestDecimal.Of(Value) ?? 0 : ValueFormatter.ToDecimal(Value!);
        }

        public long WholeNumber() => Number() is var number && number == decimal.Truncate(number) && Math.Abs(number) < long.MaxValue ? (long)number : throw WrongValue("a whole number");

        public string Text(Func<string, string> change) => Value is string text ? change(text) : throw WrongValue("a text");

        public string TakesNothing(string result) => Argument.Length == 0 ? result : throw WrongArgument();

        public int Decimals(string text) => int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var decimals) && decimals <= 8 ? decimals : throw WrongArgument();

        public ValueFormatException WrongArgument() => new($"`{Name}` cannot take `{Argument}`", $"it takes {Takes}");

        public ValueFormatException WrongValue(string wanted)
        {
            var shown = Value switch { null => "nothing", string text => $"the text \"{text}\"", IEnumerable items => $"a sequence of {items.Cast<object?>().Count()}", _ => $"the {ValueFormatter.NameOfType(Value)} {ValueFormatter.Format(Value, null, Language)}" };
            return new($"`{Name}` wants {wanted}, but got {shown}{(Before is null ? "" : $" from `{Before}`")}", null);
        }
    }
}
