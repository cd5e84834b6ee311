using System.Collections.Immutable;
using System.Reflection;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Running;

namespace Fennick.Tables;

/// <summary>What tables call variables, levels (<c>Strain=Dusk</c>) and statistics.</summary>
public sealed class Labels
{
    private readonly ImmutableDictionary<string, string> words;

    private Labels(ImmutableDictionary<string, string> words) => this.words = words;

    /// <summary>No labels.</summary>
    public static Labels None { get; } = new(ImmutableDictionary<string, string>.Empty.WithComparers(StringComparer.Ordinal));

    /// <summary>The labels that a record's members, and the values of its enums, carry as <see cref="LabelAttribute"/>.</summary>
    public static Labels Of<T>() => Of(typeof(T));

    /// <summary>Reads labels from a file: a line each, <c>ForageHa: Forage within 2 km (ha)</c> or <c>Strain=Dusk: Dusk bees</c>.</summary>
    /// <param name="path">A UTF-8 file; relative to the manuscript, or else to the current folder.</param>
    /// <exception cref="ReportException">The file cannot be read, a line is not a label, or a name is given twice.</exception>
    public static Labels Read(string path)
    {
        string[] lines;
        try
        {
            lines = TextEncoding.ReadLines(FilesRead.Note(path), path);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(path, 0, 0), $"the labels cannot be read: {FileProblem.Reason(problem)}")], problem);
        }
        var labels = None;
        for (var i = 0; i < lines.Length; i++)
        {
            if (string.IsNullOrWhiteSpace(lines[i])) continue;
            var colon = lines[i].IndexOf(": ", StringComparison.Ordinal);
            if (colon <= 0) throw new ReportException(Diagnostic.Error(new SourcePlace(path, i + 1, 1), $"`{lines[i].Trim()}` is not a label", "write `Name: words`"));
            var name = lines[i][..colon].Trim();
            if (labels.words.ContainsKey(name)) throw new ReportException(Diagnostic.Error(new SourcePlace(path, i + 1, 1), $"`{name}` has two labels", "keep one of the two"));
            labels = labels.With(name, lines[i][(colon + 2)..].Trim());
        }
        return labels;
    }

    /// <summary>These labels and one more.</summary>
    public Labels With(string name, string label) => new(words.SetItem(name, label));

    /// <summary>These labels, and the others where these have none.</summary>
    public Labels Or(Labels others)
    {
        ArgumentNullException.ThrowIfNull(others);
        return new(others.words.SetItems(words));
    }

    internal static Labels Of(Type? type)
    {
        var labels = None;
        if (type is null) return labels;
        var parameters = type.GetConstructors().SelectMany(c => c.GetParameters()).Where(p => p.Name is not null).Select(p => (Name: p.Name!, Type: p.ParameterType, Label: p.GetCustomAttribute<LabelAttribute>()));
        var properties = type.GetProperties().Select(p => (p.Name, Type: p.PropertyType, Label: p.GetCustomAttribute<LabelAttribute>()));
        foreach (var (name, memberType, label) in parameters.Concat(properties))
        {
            if (label is not null) labels = labels.With(name, label.Words);
            var own = Nullable.GetUnderlyingType(memberType) ?? memberType;
            if (!own.IsEnum) continue;
            foreach (var field in own.GetFields(BindingFlags.Public | BindingFlags.Static))
                if (field.GetCustomAttribute<LabelAttribute>() is { } level) labels = labels.With($"{name}={field.Name}", level.Words);
        }
        return labels;
    }

    /// <summary>Whether a name has a label.</summary>
    internal bool Has(string name) => words.ContainsKey(name);

    /// <summary>The label of a name; without one the name as words: "Forage ha" for <c>ForageHa</c> and for <c>forage_ha</c>.</summary>
    internal string this[string name] => words.TryGetValue(name, out var label) ? label : ToWords(name);

    /// <summary>The label of a word of Fennick's own; without one the word itself, in the report's language.</summary>
    internal RichText Word(string word) => words.TryGetValue(word, out var label) ? label : new RichText([new PhraseInline(word, [])]);

    /// <summary>The label of what is called by its own name; without one the name itself.</summary>
    internal string Name(string name) => words.GetValueOrDefault(name, name);

    /// <summary>The label of a level of a factor; without one the level itself, in the report's language if the factor says yes or no.</summary>
    /// <param name="variable">The factor.</param>
    /// <param name="level">The level.</param>
    /// <param name="all">All levels that are known of it.</param>
    internal RichText Level(string variable, string level, IEnumerable<string> all) =>
        words.TryGetValue($"{variable}={level}", out var label) ? label : IsAnswer(level) && all.All(IsAnswer) ? Word(level) : level;

    /// <summary>The same of the levels of a factor that has no name.</summary>
    internal RichText Level(string level, IEnumerable<string> all) => words.TryGetValue(level, out var label) ? label : IsAnswer(level) && all.All(IsAnswer) ? Word(level) : level;

    private static bool IsAnswer(string level) => level is "yes" or "no";

    /// <summary>The label of a term: of itself, or put together from those of its parts.</summary>
    internal RichText Term(string name)
    {
        if (words.TryGetValue(name, out var label)) return label;
        if (name == Statistics.Variables.Term.InterceptName) return Word("Constant");
        return RichText.Join(" × ", name.Split(" × ").Select(part => part.Split('=', 2) is [var variable, var level] ? RichText.Join(": ", [this[variable], Level(variable, level, ["yes"])]) : this[part]));
    }

    private static string ToWords(string name)
    {
        // An expression stays as it is written.
        if (!name.All(c => char.IsLetterOrDigit(c) || c == '_')) return name;
        var text = new StringBuilder(name.Length + 4);
        for (var i = 0; i < name.Length; i++)
        {
            var c = name[i];
            var startsWord = i > 0 && char.IsUpper(c) && (char.IsLower(name[i - 1]) || char.IsDigit(name[i - 1]) || (i + 1 < name.Length && char.IsLower(name[i + 1]) && char.IsUpper(name[i - 1])));
            if (c == '_') text.Append(' ');
            else if (startsWord) text.Append(' ').Append(i + 1 < name.Length && char.IsUpper(name[i + 1]) ? c : char.ToLowerInvariant(c));
            else text.Append(text.Length == 0 ? char.ToUpperInvariant(c) : c);
        }
        return text.ToString();
    }
}
