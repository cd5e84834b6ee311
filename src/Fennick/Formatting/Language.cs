using System.Collections.Concurrent;
using System.Collections.Frozen;
using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Running;

namespace Fennick.Formatting;

/// <summary>The language of a report: the words of its labels, its numbers and its dates.</summary>
public sealed class Language
{
    private const string InvariantVariable = "DOTNET_SYSTEM_GLOBALIZATION_INVARIANT";
    private const string TrueMinus = "\u2212";
    private static readonly ConcurrentDictionary<string, Language> Known = new(StringComparer.OrdinalIgnoreCase);

    private Language(CultureInfo culture, LabelWords words, bool hasOwnWords, NumberRules? numbers = null, FrozenDictionary<string, OwnFormat>? formats = null)
    {
        OwnFormats = formats ?? FrozenDictionary<string, OwnFormat>.Empty;
        Numbers = numbers ?? new NumberRules();
        Culture = culture;
        Words = words;
        HasOwnWords = hasOwnWords;
    }

    /// <summary>The language tag, such as <c>en-GB</c>.</summary>
    public string Tag => Culture.Name;

    /// <summary>How numbers and dates are written, with a true minus sign.</summary>
    public CultureInfo Culture { get; }

    /// <summary>The words for "Table", "Figure" and so on.</summary>
    public LabelWords Words { get; }

    /// <summary>Whether it is written from right to left.</summary>
    internal bool IsRightToLeft => Culture.TextInfo.IsRightToLeft;

    /// <summary>How values are shown where nothing else is said.</summary>
    public NumberRules Numbers { get; }

    /// <summary>The same language with other rules for values.</summary>
    public Language With(NumberRules numbers) => new(Culture, Words, HasOwnWords, numbers, OwnFormats);

    /// <summary>The same language with named formats of one's own; one of the same name goes.</summary>
    public Language With(params OwnFormat[] formats)
    {
        var all = OwnFormats.ToDictionary(StringComparer.Ordinal);
        foreach (var format in formats) all[format.Name] = format;
        return new(Culture, Words, HasOwnWords, Numbers, all.ToFrozenDictionary(StringComparer.Ordinal));
    }

    /// <summary>The formats that a report brings itself, by name.</summary>
    internal FrozenDictionary<string, OwnFormat> OwnFormats { get; }

    /// <summary>How a date stands in text: "3 November 2025".</summary>
    public string DatePattern => Culture.Name switch
    {
        "en-US" => "MMMM d, yyyy",
        _ => Culture.TwoLetterISOLanguageName switch
        {
            "de" => "d. MMMM yyyy",
            "es" or "pt" => "d 'de' MMMM 'de' yyyy",
            _ => "d MMMM yyyy",
        },
    };

    /// <summary>False where the words are English for want of better ones.</summary>
    public bool HasOwnWords { get; }

    /// <summary>British English, the language of a report that names none.</summary>
    public static Language Default => Find("en-GB")!;

    /// <summary>The language of what the current flow of execution makes, as far as that is known.</summary>
    internal static Language Current => (RunContext.Current as LanguageContext)?.CurrentLanguage ?? Default;

    /// <summary>The language of a tag such as <c>en-GB</c> or <c>de</c>.</summary>
    /// <returns>Null if there is no such language.</returns>
    /// <exception cref="ReportException">This process knows no languages at all.</exception>
    public static Language? Find(string tag)
    {
        if (Known.TryGetValue(tag, out var known)) return known;
        if (tag.Length == 0) return null;
        CultureInfo culture;
        try
        {
            culture = CultureInfo.GetCultureInfo(tag, predefinedOnly: true);
        }
        catch (CultureNotFoundException) when (AppContext.TryGetSwitch("System.Globalization.Invariant", out var isInvariant) && isInvariant || Environment.GetEnvironmentVariable(InvariantVariable) is { } value && (value == "1" || bool.TrueString.Equals(value, StringComparison.OrdinalIgnoreCase)))
        {
            throw new ReportException(Diagnostic.Error(null, "this process knows no languages, and so cannot write numbers and dates as they are written", $"unset the environment variable `{InvariantVariable}`, or set `InvariantGlobalization` in the project to `false`, and install the system's package ICU (`libicu`)"));
        }
        catch (CultureNotFoundException)
        {
            return null;
        }
        // A language without a region is written as its home region writes it.
        if (culture.IsNeutralCulture) culture = CultureInfo.CreateSpecificCulture(culture.Name);
        var own = new CultureInfo(culture.Name, useUserOverride: false);
        own.NumberFormat.NegativeSign = TrueMinus;
        own.NumberFormat.NumberNegativePattern = 1;
        own.NumberFormat.PercentNegativePattern = 1;
        own.NumberFormat.PercentPositivePattern = own.NumberFormat.PercentPositivePattern == 0 ? 0 : 1;
        own.NumberFormat.NaNSymbol = "\u2014";
        own.NumberFormat.PositiveInfinitySymbol = "\u221E";
        own.NumberFormat.NegativeInfinitySymbol = TrueMinus + "\u221E";
        var words = LabelWords.Of(own.Name, own.TwoLetterISOLanguageName);
        var language = new Language(CultureInfo.ReadOnly(own), words ?? LabelWords.English, words is not null);
        return Known.GetOrAdd(tag, language);
    }
}
