using System.Collections.Immutable;
using System.Globalization;
using Fennick.Diagnostics;

namespace Fennick.Manuscripts.Settings;

/// <summary>The type of a parameter.</summary>
internal enum ParameterType
{
    Text,
    WholeNumber,
    Number,
    Date,
    YesNo,
    Choice,
}

/// <summary>A named input of a manuscript.</summary>
/// <param name="Name">A C# name: the steps see it as a variable.</param>
/// <param name="Type">What its values are.</param>
/// <param name="Choices">The allowed values of a choice.</param>
/// <param name="Default">Its value unless another is set; null if one must be given.</param>
/// <param name="Place">Where it is declared.</param>
internal sealed record Parameter(string Name, ParameterType Type, ImmutableArray<string> Choices, object? Default, SourcePlace Place)
{
    /// <summary>The type as C# writes it.</summary>
    public string CSharpType => Type switch
    {
        ParameterType.WholeNumber => "int",
        ParameterType.Number => "double",
        ParameterType.Date => "System.DateOnly",
        ParameterType.YesNo => "bool",
        _ => "string",
    };

    private string Describe() => Type switch
    {
        ParameterType.WholeNumber => "a whole number",
        ParameterType.Number => "a number (like `2.5`)",
        ParameterType.Date => "a date (like `2025-11-03`)",
        ParameterType.YesNo => "`yes` or `no`",
        ParameterType.Choice => $"one of {string.Join(", ", Choices.Select(c => $"`{c}`"))}",
        _ => "a text",
    };

    /// <summary>Reads a value of this parameter.</summary>
    public object Read(string text, SourcePlace place) => TryRead(text, Type, Choices)
        ?? throw new ReportException(Diagnostic.Error(place, $"`{text}` is not a value for the parameter `{Name}`, which is {Describe()}",
            Type == ParameterType.Choice ? Nearest.Suggest(text, Choices) : null));

    /// <summary>Reads the declaration <c>parameter name (type): default</c>.</summary>
    public static Parameter? Declare(SettingsEntry entry, Func<int, SourcePlace> placeOf, List<Diagnostic> diagnostics)
    {
        var place = placeOf(entry.Offset);
        var declaration = entry.Key["parameter ".Length..].Trim();
        var open = declaration.IndexOf('(');
        var name = (open < 0 ? declaration : declaration[..open]).Trim();
        var typeName = open >= 0 && declaration.EndsWith(')') ? declaration[(open + 1)..^1].Trim() : null;
        if (!IsName(name))
        {
            diagnostics.Add(Diagnostic.Error(place, $"`{name}` cannot name a parameter", "use letters, digits and `_`, starting with a letter, and no C# keyword"));
            return null;
        }
        var choices = typeName?.StartsWith("one of ", StringComparison.Ordinal) == true
            ? typeName["one of ".Length..].Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).ToImmutableArray() : [];
        ParameterType? type = typeName switch
        {
            null when entry.Text.Length == 0 => null,
            null => Infer(entry.Text),
            "text" => ParameterType.Text,
            "whole number" => ParameterType.WholeNumber,
            "number" => ParameterType.Number,
            "date" => ParameterType.Date,
            "yes/no" => ParameterType.YesNo,
            _ when choices.Length > 0 => ParameterType.Choice,
            _ => null,
        };
        if (type is null)
        {
            const string Types = "the types are text, whole number, number, date, yes/no and `one of A, B`";
            diagnostics.Add(typeName is null
                ? Diagnostic.Error(place, $"the parameter `{name}` has neither a type nor a value", $"write `parameter {name} (date):` or `parameter {name}: value`; {Types}")
                : Diagnostic.Error(place, $"`{typeName}` is not a type of a parameter", Nearest.Suggest(typeName, ["text", "whole number", "number", "date", "yes/no"]) ?? Types));
            return null;
        }
        var parameter = new Parameter(name, type.Value, choices, null, place);
        return entry.Text.Length == 0 ? parameter : parameter with { Default = parameter.Read(entry.Text, placeOf(entry.Value.Offset)) };
    }

    private static ParameterType Infer(string text) =>
        ((ParameterType[])[ParameterType.WholeNumber, ParameterType.Number, ParameterType.Date, ParameterType.YesNo]).FirstOrDefault(t => TryRead(text, t, []) is not null, ParameterType.Text);

    private static object? TryRead(string text, ParameterType type, ImmutableArray<string> choices)
    {
        var culture = CultureInfo.InvariantCulture;
        return type switch
        {
            ParameterType.WholeNumber => int.TryParse(text, NumberStyles.AllowLeadingSign, culture, out var whole) ? whole : null,
            ParameterType.Number => double.TryParse(text, NumberStyles.Float, culture, out var number) && double.IsFinite(number) ? number : null,
            ParameterType.Date => DateOnly.TryParseExact(text, "yyyy-MM-dd", culture, DateTimeStyles.None, out var date) ? date : null,
            ParameterType.YesNo => text switch { "yes" => true, "no" => false, _ => null },
            ParameterType.Choice => choices.Contains(text) ? text : null,
            _ => text,
        };
    }

    private static bool IsName(string name) =>
        name.Length > 0 && (char.IsLetter(name[0]) || name[0] == '_') && name.All(c => char.IsLetterOrDigit(c) || c == '_') && !Keywords.Contains(name);

    // C# specification §6.4.4, the words that cannot name a variable.
    private static readonly ImmutableHashSet<string> Keywords = [.. """
        abstract as base bool break byte case catch char checked class const continue decimal default delegate do double else enum event explicit extern false finally
        fixed float for foreach goto if implicit in int interface internal is lock long namespace new null object operator out override params private protected public
        readonly ref return sbyte sealed short sizeof stackalloc static string struct switch this throw true try typeof uint ulong unchecked unsafe ushort using virtual
        void volatile while
        """.Split((char[])[' ', '\n'], StringSplitOptions.RemoveEmptyEntries)];
}
