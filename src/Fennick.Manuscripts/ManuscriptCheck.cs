using System.Text.RegularExpressions;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Manuscripts.Steps;
using Fennick.Prose;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;

namespace Fennick.Manuscripts;

/// <summary>Finds mistakes in formats and references without running anything.</summary>
internal static partial class ManuscriptCheck
{
    public static IEnumerable<Diagnostic> Find(ManuscriptTree tree)
    {
        var references = References(tree).ToArray();
        // What is misspelt is told by itself.
        return [.. Formats(tree), .. references, .. Styles(tree), .. Citations(tree), .. HouseValues(tree), .. Accessible(tree), .. references.Length > 0 ? [] : Unused(tree)];
    }

    /// <summary>What the house is given, so that it can be looked at.</summary>
    private static IEnumerable<Diagnostic> HouseValues(ManuscriptTree tree) =>
        tree.SlotExpressions.Keys.Select(name => new Diagnostic(Severity.Advice, tree.Settings.Place, $"the house is given the value of `{name[1..^1]}`, as `house.values: yes` allows", null));

    /// <summary>What readers who cannot see the report would miss, as far as it is known before a step runs.</summary>
    private static IEnumerable<Diagnostic> Accessible(ManuscriptTree tree)
    {
        var level = 0;
        foreach (var node in tree.Units.SelectMany(u => u.Block.Descendants().Prepend(u.Block).SelectMany(b => b is LeafBlock { Inline: { } inlines } ? inlines.Descendants().Prepend<MarkdownObject>(b) : [b]).Distinct()))
        {
            if (node is HeadingBlock heading)
            {
                if (level > 0 && heading.Level > level + 1) yield return Accessibility.SkippedLevel(tree.Sources.PlaceOf(heading.Span.Start), Words(heading), level, heading.Level);
                level = heading.Level;
            }
            else if (node is LinkInline { IsImage: true, FirstChild: null } picture)
                yield return Accessibility.NoAlternative(tree.Sources.PlaceOf(picture.Span.Start), $"write `![what it shows](file)`, or `![{Accessibility.Decorative}](file)` for an ornament");
        }
    }

    private static IEnumerable<Diagnostic> Citations(ManuscriptTree tree) =>
        tree.Citations.Values.OfType<CiteInline>().SelectMany(c => c.Sources.Select(s => tree.Settings.Sources.FindMistake(s.Key, c.Place))).OfType<Diagnostic>();

    private static IEnumerable<Diagnostic> Styles(ManuscriptTree tree)
    {
        foreach (var dressed in tree.Dressed.Values)
            if (dressed.Style is { } style && tree.Settings.Design.FindMistake(style, dressed.Place) is { } mistake) yield return mistake;
    }

    private static IEnumerable<Diagnostic> Formats(ManuscriptTree tree)
    {
        // Steps bring formats that nothing else knows; what they do is known only when they run.
        var added = tree.Executables.OfType<Step>().SelectMany(s => AddedFormat().Matches(s.Code.Text)).Select(m => m.Groups[1].Value).Except(NamedFormats.Names).Select(n => OwnFormat.Of(n, (_, _, _) => "")).ToArray();
        var language = added.Length == 0 ? tree.Settings.Language : tree.Settings.Language.With(added);
        foreach (var hole in tree.Executables.OfType<ValueHole>())
            if (hole.Format is { } format && ValueFormatter.FindMistake(format, language) is { } mistake)
                yield return Diagnostic.Error(tree.PlaceOf(hole.Ordinal), mistake.Message, mistake.Suggestion);
    }

    [GeneratedRegex(@"\bFormats\s*\.\s*Add\s*\(\s*""([a-z]+(?:-[a-z]+)*(?<=..))""")]
    private static partial Regex AddedFormat();

    /// <summary>References without a label; one that holds values is left to the run.</summary>
    private static IEnumerable<Diagnostic> References(ManuscriptTree tree)
    {
        var labels = tree.GivenLabels.Select(l => l.Label).ToArray();
        var headings = tree.Headings.ToArray();
        var computed = labels.Where(l => !l.Values.IsEmpty).Select(Pattern).ToArray();
        var known = labels.Where(l => l.Values.IsEmpty).Select(l => l.Text).Concat(headings.Where(h => !HasHoles(h)).Select(h => Label.FromWords(Words(h)))).ToHashSet(StringComparer.Ordinal);
        // What a `text` step gives may bring headings of its own, and a heading may hold values.
        var mayHaveOthers = headings.Any(HasHoles) || tree.Executables.OfType<Step>().Any(s => s.Role == StepRole.Text);
        foreach (var reference in tree.References.Values.SelectMany(r => r.Labels))
        {
            if (!reference.Values.IsEmpty || known.Contains(reference.Text) || mayHaveOthers || computed.Any(c => c.IsMatch(reference.Text))) continue;
            yield return Diagnostic.Error(reference.Place, $"there is no label `{reference.Text}`", Nearest.Suggest(reference.Text, known) ?? (known.Count == 0 ? null : $"the labels are {string.Join(", ", known.Order(StringComparer.Ordinal).Select(l => $"`{l}`"))}"));
        }
    }

    /// <summary>Figures that no text refers to, and labels that nothing uses; what holds values is known only when it runs.</summary>
    private static IEnumerable<Diagnostic> Unused(ManuscriptTree tree)
    {
        var used = tree.References.Values.SelectMany(r => r.Labels).ToArray();
        var patterns = used.Where(l => !l.Values.IsEmpty).Select(Pattern).ToArray();
        var names = used.Where(l => l.Values.IsEmpty).Select(l => l.Text).ToHashSet(StringComparer.Ordinal);
        if (tree.Settings.House.File is not null) names.UnionWith(tree.Settings.House.Dress(tree.Settings.Language).BlockSlots.Keys);
        var steps = tree.Executables.OfType<Step>().ToArray();
        // Code may refer to something by the name of its label.
        bool IsUsed(LabelTemplate label) => !label.Values.IsEmpty || names.Contains(label.Text) || patterns.Any(p => p.IsMatch(label.Text)) || steps.Any(s => s.Code.Text.Contains($"\"{label.Text}\"", StringComparison.Ordinal));
        var figures = steps.Where(s => s.Role == StepRole.Figure && (s.Label is not null || s.Head.Caption is not null)).Select(s => (s.Label, Place: tree.PlaceOf(s.Ordinal)))
            .Concat(tree.Captions.Values.Where(c => c.Kind == NumberedKind.Figure).Select(c => (c.Label, c.Place)));
        foreach (var (label, place) in figures)
        {
            if (label is null) yield return new Diagnostic(Severity.Advice, place, "no text refers to this figure, since it has no label", "give it a label, and write `{see LABEL}` where it is spoken of");
            else if (!IsUsed(label)) yield return new Diagnostic(Severity.Advice, place, $"no text refers to the figure `{label.Text}`", $"write `{{see {label.Text}}}` where it is spoken of");
        }
        var others = steps.Where(s => s.Role == StepRole.Table).Select(s => s.Label).Concat(tree.Captions.Values.Where(c => c.Kind == NumberedKind.Table).Select(c => c.Label)).OfType<LabelTemplate>()
            .Concat(tree.HeadingLabels.Values).Concat(tree.FormulaLabels.Values).Concat(tree.Around.Values.Select(a => a.Label).OfType<LabelTemplate>());
        foreach (var label in others.Where(l => !IsUsed(l))) yield return new Diagnostic(Severity.Advice, label.Place, $"nothing uses the label `{label.Text}`", $"write `{{see {label.Text}}}` where it is spoken of, or leave the label out");
    }

    private static Regex Pattern(LabelTemplate label) => new($"^{string.Concat(label.Parts.Select(p => p.Value is null ? Regex.Escape(Label.FromWords(p.Text)) : ".*"))}$");

    /// <summary>Whether a heading holds values.</summary>
    internal static bool HasHoles(HeadingBlock heading) => heading.Inline!.Descendants<HoleInline>().Any();

    /// <summary>The words of a heading.</summary>
    internal static string Words(HeadingBlock heading) => string.Concat(heading.Inline!.Descendants().Select(i => i switch
    {
        LiteralInline literal => HoleMarks.Restore(literal.Content.ToString()),
        Markdig.Syntax.Inlines.CodeInline code => HoleMarks.Restore(code.Content),
        LineBreakInline => " ",
        _ => "",
    }));
}
