using System.Collections.Immutable;
using Fennick.Documents;
using Fennick.Formatting;

namespace Fennick.Citations;

/// <summary>How sources read: in a citation, and in the list of sources.</summary>
internal static class WorkText
{
    private const string Unbreakable = "\u00A0";

    /// <summary>The names in a citation: one, two, or the first and a word for the others; the title of a work that names nobody.</summary>
    public static string Names(Work work, Language language)
    {
        var people = work.Authors.IsEmpty ? work.Editors : work.Authors;
        return people.Length switch
        {
            0 => work.Title.Length == 0 ? work.Key : Shortened(work.Title),
            1 => people[0].Family,
            2 => $"{people[0].Family} {language.Words.And} {people[1].Family}",
            _ => $"{people[0].Family} {language.Words.AndOthers}",
        };
    }

    public static string Year(Work work, string suffix, Language language) => (work.Year.Length == 0 ? language.Words.NoDate : work.Year) + suffix;

    /// <summary>What a list of sources is sorted by.</summary>
    public static string SortKey(Work work) =>
        string.Join('\u0001', (work.Authors.IsEmpty ? work.Editors : work.Authors).Select(p => $"{p.Family} {p.Given}").DefaultIfEmpty(work.Title)) + '\u0001' + work.Year + '\u0001' + work.Title;

    /// <summary>A work in the list of sources.</summary>
    public static RichText Describe(Work work, string suffix, Language language)
    {
        var text = new Builder();
        var words = language.Words;
        var year = $"({Year(work, suffix, language)})";
        if (!work.Authors.IsEmpty) text.Add($"{Join(work.Authors, words)} {year}.");
        else if (!work.Editors.IsEmpty && work.Kind != WorkKind.Chapter) text.Add($"{Join(work.Editors, words)} ({(work.Editors.Length > 1 ? words.Editors : words.Editor)}) {year}.");
        var isNamed = !text.IsEmpty;
        var isPart = work.Kind is WorkKind.Article or WorkKind.Chapter || (work.Container.Length > 0 && work.Kind == WorkKind.Other);
        if (work.Title.Length > 0)
        {
            if (isPart) text.Add(isNamed ? Sentence(words.OpenQuote + work.Title + words.CloseQuote) : $"{words.OpenQuote}{work.Title}{words.CloseQuote} {year}.");
            else text.AddEmphasised(work.Title, isNamed ? work.Edition.Length > 0 ? $", {Sentence(work.Edition)}" : "." : $" {year}.");
        }
        else if (!isNamed)
        {
            text.Add($"{work.Key} {year}.");
        }
        switch (work.Kind)
        {
            case WorkKind.Article or WorkKind.Other when work.Container.Length > 0:
                var volume = work.Volume + (work.Issue.Length > 0 ? $"({work.Issue})" : "");
                text.AddEmphasised(work.Container, Sentence(string.Concat(new[] { volume, work.Pages }.Where(p => p.Length > 0).Select(p => $", {p}"))));
                break;
            case WorkKind.Chapter when work.Container.Length > 0:
                text.Add($"{words.In}{(work.Editors.IsEmpty ? "" : $" {Join(work.Editors, words)} ({(work.Editors.Length > 1 ? words.Editors : words.Editor)}),")}");
                text.AddEmphasised(work.Container, Sentence(work.Pages.Length == 0 ? "" : $", {(work.Pages.Contains('–', StringComparison.Ordinal) ? words.Pages : words.Page)}{Unbreakable}{work.Pages}"));
                break;
            case WorkKind.Report when work.Issue.Length > 0:
                text.Add(Sentence(work.Issue));
                break;
        }
        if (work.Kind != WorkKind.Article && work.Publisher.Length > 0) text.Add(Sentence(work.Location.Length > 0 ? $"{work.Location}: {work.Publisher}" : work.Publisher));
        if (work.Doi.Length > 0) text.AddLink($"https://doi.org/{work.Doi}");
        else if (work.Url.Length > 0) text.AddLink(work.Url);
        return text.ToRichText();
    }

    private static string Join(ImmutableArray<Person> people, LabelWords words)
    {
        var names = people.Select(p => p.Given.Length == 0 ? p.Family : $"{p.Family}, {p.Initials.Replace(" ", Unbreakable, StringComparison.Ordinal)}").ToArray();
        return names.Length switch
        {
            1 => names[0],
            _ => $"{string.Join(", ", names[..^1])} {words.And} {names[^1]}",
        };
    }

    private static string Sentence(string text) => text.Length > 0 && text[^1] is '.' or '?' or '!' ? text : $"{text}.";

    /// <summary>The first words of a long title.</summary>
    private static string Shortened(string title)
    {
        const int most = 40;
        var end = title.IndexOfAny([':', '.', '?', '!']);
        if (end > 0) title = title[..end];
        return title.Length <= most ? title : title[..Math.Max(title.LastIndexOf(' ', most), 1)].TrimEnd() + "…";
    }

    private sealed class Builder
    {
        private readonly ImmutableArray<Inline>.Builder inlines = ImmutableArray.CreateBuilder<Inline>();

        public bool IsEmpty => inlines.Count == 0;

        public void Add(string text) => inlines.Add(new TextInline((IsEmpty ? "" : " ") + text));

        public void AddEmphasised(string text, string after)
        {
            if (!IsEmpty) inlines.Add(new TextInline(" "));
            inlines.Add(new Stress(Strong: false, text));
            // A title may bring its own question mark.
            inlines.Add(new TextInline(after == "." && text[^1] is '?' or '!' ? "" : after));
        }

        public void AddLink(string address)
        {
            if (!IsEmpty) inlines.Add(new TextInline(" "));
            inlines.Add(new Link(address, address));
        }

        public RichText ToRichText() => new(inlines.ToImmutable());
    }
}
