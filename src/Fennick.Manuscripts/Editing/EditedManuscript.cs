using System.Collections.Immutable;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Formatting;
using Fennick.Manuscripts.Compilation;
using Fennick.Manuscripts.Parsing;
using Fennick.Manuscripts.Settings;
using Fennick.Manuscripts.Steps;
using Fennick.Outputs;
using Fennick.Prose;

namespace Fennick.Manuscripts.Editing;

/// <summary>A manuscript in the hands of a writer: its texts are those of the editor, saved or not. It is looked into without running anything.</summary>
/// <param name="path">Its full path.</param>
/// <param name="textOf">The text of a file that is open in the editor, by its full path; null for one that is not.</param>
internal sealed class EditedManuscript(string path, Func<string, string?> textOf)
{
    // A name that stands for what is not written yet.
    private const string Unwritten = "unwrittenYet";

    private static readonly string[] Directives =
    [
        "see", "cite", "for each", "if", "else", "else if", "end", "contents", "bibliography", "page break", "list of tables", "list of figures", "list of abbreviations", "index of terms", "appendix", "next column", "include",
        "columns", "pages", "landscape", "box", "box note", "box key figures", "pull quote", "margin note", "last page", "table", "figure", "series", "equations", "index", "abbr", "style", "colour", "label", "no number", .. BraceWords.LayoutEndings,
    ];

    // What expressions follow.
    private static readonly string[] Leads = ["else if ", "if "];

    private static readonly Dictionary<string, string[]> Choices = new(StringComparer.Ordinal)
    {
        ["outputs"] = [.. ReportWriters.All.Select(w => w.Name)],
        ["language"] = [.. Phrases.Languages],
        ["citations"] = ["author-date", "numbered"],
        ["listing"] = ["shown", "hidden"],
        ["listings"] = ["appendix", "none"],
        ["captions.numbering"] = ["by chapter", "whole report"],
        ["tables.caption"] = ["above", "below"],
        ["figures.caption"] = ["above", "below"],
        ["tables.width"] = ["full", "content"],
        ["figures.align"] = ["left", "centre", "right"],
        ["figures.labels"] = ["auto", "legend", "ends", "none"],
        ["align"] = ["left", "centre", "right"],
        ["labels"] = ["auto", "legend", "ends", "none"],
    };

    private static readonly string[] YesOrNo = ["house.values", "headings.numbered", "cover", "strict", "living", "tables.turning", "tables.drift", "figures.drift", "figures.native", "native", "turning", "letters"];

    /// <summary>The files that it is made of, as far as it can be read, by their full paths.</summary>
    public IReadOnlyList<string> Files => Parse() is { } tree ? [.. tree.Sources.All.Where(s => s.HasLines).Select(s => s.FullPath).Append(path).Distinct()] : [path];

    /// <summary>What is wrong with it, or deserves attention; each place names a file as messages do.</summary>
    public ImmutableArray<Diagnostic> Check()
    {
        try
        {
            return Manuscript.Open(path, null, textOf).CheckText();
        }
        catch (ReportException problem)
        {
            return problem.Diagnostics;
        }
    }

    /// <summary>What may be written at a place.</summary>
    /// <param name="file">The full path of the file.</param>
    /// <param name="offset">The place in its text.</param>
    public IReadOnlyList<Completion> Complete(string file, int offset)
    {
        if (TextOf(file) is not { } text) return [];
        var place = EditPlace.Find(text, offset);
        // Settings and heads hold prose too.
        if (place.Kind is EditKind.Settings or EditKind.Head && place.Before.LastIndexOf('{') is >= 0 and var open && place.Before.IndexOf('}', open) < 0)
            place = new EditPlace(EditKind.Brace, place.Start + open, place.Before[(open + 1)..]);
        switch (place.Kind)
        {
            case EditKind.Fence:
                return place.Before.Contains(' ', StringComparison.Ordinal) ? Words(StepRoles.Names, CompletionKind.Word, "role of a step", place.Before[(place.Before.LastIndexOf(' ') + 1)..], offset)
                    : Words([FenceWords.Language, FenceWords.Script, ManuscriptParser.SettingsWord], CompletionKind.Word, null, place.Before, offset);
            case EditKind.Settings: return Setting(place.Before, offset, [.. ManuscriptSettings.Keys.Select(k => k is "parameter" or "format" or "series" ? k + " " : k + ": ")]);
            case EditKind.Head: return Setting(place.Before, offset, [.. StepRoles.KeysOf(place.Role, place.IsScript).Select(k => k + ": ")]);
            case EditKind.Code: return Code(file, text, offset, offset, null);
            case EditKind.Brace: return Brace(file, text, place, offset);
            default: return [];
        }
    }

    /// <summary>Where what a place names is declared, and the full path of its file; null if it names nothing that is declared here.</summary>
    public (string File, SourcePlace Place)? Define(string file, int offset) =>
        At(file, offset) is not var (tree, at) ? null
        : LabelAt(tree, file, offset) is { } label ? Located(tree, label.Place)
        : NameAt(tree, at, () => CodeModel.Of(tree, LibrariesOf(tree))) is { Declared: { } declared } ? Located(tree, declared) : null;

    /// <summary>What a place names, in Markdown; null if it names nothing.</summary>
    public string? Explain(string file, int offset)
    {
        if (At(file, offset) is not var (tree, at)) return null;
        if (LabelAt(tree, file, offset) is { } label) return $"`{label.Text}`: {label.Kind} in {label.Place.File}:{label.Place.Line}";
        var text = new StringBuilder();
        var code = new Lazy<CodeModel>(() => CodeModel.Of(tree, LibrariesOf(tree)));
        if (NameAt(tree, at, () => code.Value) is { Text: { } name }) text.Append("```csharp\n").Append(name).Append("\n```\n");
        if (tree.Executables.OfType<ValueHole>().FirstOrDefault(h => at >= h.Offset && at <= h.Offset + h.Expression.Length + (h.Format?.Length + 1 ?? 0)) is not { } hole) return text.Length == 0 ? null : text.ToString();
        if (code.Value.TypeOf(hole) is { } type) text.Append('`').Append(hole.Expression).Append("` is `").Append(type).Append("`\n\n");
        var last = LastValues.Of(path).Where(v => v.Expression == hole.Expression && v.Format == hole.Format).ToArray();
        const int Shown = 5;
        if (last.Length > 0)
            text.Append("last run: ").AppendJoin("; ", last.Take(Shown).Select(v => v.Shown == v.Value ? v.Shown : $"{v.Shown} ({v.Value})")).Append(last.Length > Shown ? $"; and {last.Length - Shown} more" : "").Append('\n');
        return text.Length == 0 ? null : text.ToString();
    }

    private Completion[] Setting(string before, int offset, string[] keys)
    {
        var colon = before.IndexOf(':', StringComparison.Ordinal);
        if (colon < 0) return Words(keys, CompletionKind.Setting, null, before, offset);
        var (key, value) = (before[..colon].Trim(), before[(colon + 1)..]);
        var start = Math.Max(value.LastIndexOf(' '), value.LastIndexOf(',')) + 1;
        string[] choices = Choices.GetValueOrDefault(key) ?? (YesOrNo.Contains(key) ? ["yes", "no"] : key == "house" ? [.. House.All.Select(h => h.Name), .. HousesBeside()] : []);
        return Words(choices, CompletionKind.Value, null, choices.Any(c => c.Contains(' ', StringComparison.Ordinal) || c.Contains('/', StringComparison.Ordinal)) ? value.TrimStart() : value[start..], offset);
    }

    private string[] HousesBeside()
    {
        var folder = Path.GetDirectoryName(path)!;
        try
        {
            return [.. new[] { folder, Path.Combine(folder, "house") }.Where(Directory.Exists).SelectMany(f => Directory.EnumerateFiles(f)).Where(f => f.EndsWith(".docx", StringComparison.OrdinalIgnoreCase) || f.EndsWith(".dotx", StringComparison.OrdinalIgnoreCase)).Select(f => Path.GetRelativePath(folder, f)).Order(StringComparer.Ordinal)];
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            return [];
        }
    }

    private Completion[] Brace(string file, string text, EditPlace place, int offset)
    {
        var before = place.Before.TrimStart();
        if (before.StartsWith("see ", StringComparison.Ordinal))
        {
            var named = before["see ".Length..];
            if (named.Contains(':', StringComparison.Ordinal)) return Words(BraceReader.Parts, CompletionKind.Word, "part of a reference", named[(named.IndexOf(':', StringComparison.Ordinal) + 1)..].TrimStart(), offset);
            var name = named[(named.LastIndexOfAny([',', ' ']) + 1)..];
            return Parse() is not { } tree ? [] : [.. tree.Labels.Where(l => l.Text.StartsWith(name, StringComparison.OrdinalIgnoreCase)).Select(l => new Completion(l.Text, CompletionKind.Label, l.Kind, offset - name.Length))];
        }
        if (before.StartsWith("cite ", StringComparison.Ordinal))
        {
            var key = before[(before.LastIndexOfAny([',', ' ', ';']) + 1)..];
            return Parse() is not { } tree ? [] : Words(tree.Settings.Sources.Keys, CompletionKind.Label, "source", key, offset);
        }
        if (HoleScanner.FindFormatColon(before) is >= 0 and var colon)
        {
            var format = before[(colon + 1)..];
            var link = format[(format.LastIndexOf('|') + 1)..].TrimStart();
            var own = Parse()?.Settings.Language.OwnFormats.Keys ?? [];
            return Words(own.Concat(NamedFormats.Names), CompletionKind.Format, "format", link, offset);
        }
        var expression = before.StartsWith("for each ", StringComparison.Ordinal) && before.IndexOf(" in ", StringComparison.Ordinal) is > 0 and var at ? before[(at + 4)..] : Leads.FirstOrDefault(l => before.StartsWith(l, StringComparison.Ordinal)) is { } lead ? before[lead.Length..] : before;
        var found = Code(file, text, place.Start, offset, expression);
        var words = before.All(c => char.IsLetter(c) || c == ' ') ? Words(Directives, CompletionKind.Word, "directive", before, offset) : [];
        return [.. words, .. found];
    }

    /// <summary>What may stand in code.</summary>
    /// <param name="file">The file.</param>
    /// <param name="text">Its text.</param>
    /// <param name="start">Where the brace starts; in a step the place itself.</param>
    /// <param name="offset">The place.</param>
    /// <param name="expression">The expression in the brace up to the place; null in a step.</param>
    private Completion[] Code(string file, string text, int start, int offset, string? expression)
    {
        var prefix = text[..offset].Length - text[..offset].AsSpan().TrimEnd(Letters).Length is var length ? text[(offset - length)..offset] : "";
        var end = offset;
        while (end < text.Length && (char.IsLetterOrDigit(text[end]) || text[end] == '_')) end++;
        string changed;
        if (expression is null) changed = $"{text[..(offset - prefix.Length)]}{Unwritten}{text[end..]}";
        else
        {
            // Whatever the brace begins, its expression stands alone here, and its end is one.
            var close = text.AsSpan(end).IndexOfAny('}', '\n', '{');
            var rest = close >= 0 && text[end + close] == '}' ? text[(end + close + 1)..] : text[end..];
            changed = $"{text[..start]}{{{expression[..^Math.Min(prefix.Length, expression.Length)]}{Unwritten}}}{rest}";
        }
        if (Parse(file, changed) is not { } tree) return [];
        var found = CodeModel.Of(tree, LibrariesOf(tree)).Complete(Unwritten, prefix);
        return [.. (found ?? []).Select(f => new Completion(f.Text, f.Kind, f.Detail, offset - prefix.Length))];
    }

    private static ReadOnlySpan<char> Letters => "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789_";

    private static Completion[] Words(IEnumerable<string> words, CompletionKind kind, string? detail, string before, int offset) =>
        [.. words.Where(w => w.StartsWith(before, StringComparison.OrdinalIgnoreCase)).Select(w => new Completion(w, kind, detail, offset - before.Length))];

    /// <summary>The tree, and a place of a file in it.</summary>
    private (ManuscriptTree Tree, int Offset)? At(string file, int offset) =>
        Parse() is { } tree && tree.Sources.All.FirstOrDefault(s => s.HasLines && s.FullPath == file) is { } source ? (tree, source.Start + offset) : null;

    /// <summary>The label that a reference names at a place.</summary>
    private (string Text, SourcePlace Place, string Kind)? LabelAt(ManuscriptTree tree, string file, int offset)
    {
        if (TextOf(file) is not { } text || EditPlace.Find(text, offset) is not { Kind: EditKind.Brace } brace || !text[(brace.Start + 1)..].TrimStart().StartsWith("see ", StringComparison.Ordinal)) return null;
        var (start, end) = (offset, offset);
        while (start > 0 && IsLabelLetter(text[start - 1])) start--;
        while (end < text.Length && IsLabelLetter(text[end])) end++;
        return tree.Labels.Where(l => l.Text == text[start..end]).Cast<(string, SourcePlace, string)?>().FirstOrDefault();

        static bool IsLabelLetter(char c) => char.IsLetterOrDigit(c) || c is '-' or '_';
    }

    /// <summary>What the name at a place of the code stands for.</summary>
    private static (string Text, SourcePlace? Declared)? NameAt(ManuscriptTree tree, int offset, Func<CodeModel> model)
    {
        foreach (var executable in tree.Executables)
        {
            var (code, start) = executable switch
            {
                ValueHole hole => (hole.Expression, hole.Offset),
                ControlHead head => (head.Text, head.Offset),
                _ => ("", 0),
            };
            if (executable is Step { Script: null } step)
            {
                for (var i = 0; i < step.Code.LineCount; i++)
                    if (step.Code.Line(i) is var (line, at) && offset >= at && offset <= at + line.Length) return Find(executable, i, line, offset - at);
            }
            else if (code.Length > 0 && offset >= start && offset <= start + code.Length)
            {
                return Find(executable, 0, code, offset - start);
            }
        }
        return null;

        (string, SourcePlace?)? Find(Executable executable, int line, string code, int column)
        {
            var (first, last) = (column, column);
            while (first > 0 && (char.IsLetterOrDigit(code[first - 1]) || code[first - 1] == '_')) first--;
            while (last < code.Length && (char.IsLetterOrDigit(code[last]) || code[last] == '_')) last++;
            return first == last ? null : model().Find(executable, line, first, code[first..last]);
        }
    }

    private static (string, SourcePlace)? Located(ManuscriptTree tree, SourcePlace place) =>
        place.Line > 0 && tree.Sources.All.FirstOrDefault(s => s.DisplayPath == place.File) is { } source ? (source.FullPath, place) : null;

    private string? TextOf(string file)
    {
        try
        {
            return textOf(file) ?? File.ReadAllText(file);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    private ManuscriptTree? Parse(string? changed = null, string? text = null)
    {
        try
        {
            return Manuscript.Parse(path, null, f => f == changed ? text : textOf(f), []);
        }
        catch (ReportException)
        {
            // It is told by the check; there is nothing to look into.
            return null;
        }
    }

    private LibrarySet LibrariesOf(ManuscriptTree tree)
    {
        try
        {
            return LibrarySet.Load(tree.Settings.Libraries, Path.GetDirectoryName(path)!, CompiledCache.LibraryFolder);
        }
        catch (ReportException)
        {
            return LibrarySet.Load([], Path.GetDirectoryName(path)!, CompiledCache.LibraryFolder);
        }
    }
}
