using System.Globalization;
using System.Text;
using Fennick.Citations;
using Fennick.Diagnostics;

namespace Fennick.Documents;

/// <summary>Numbers tables and figures in order, collects labels, and checks every reference.</summary>
internal static class Numberer
{
    /// <summary>Numbers a report.</summary>
    /// <param name="report">The report.</param>
    /// <param name="hasContents">Whether contents stand somewhere that the report does not say, as in a house.</param>
    public static Numbering Number(ReportContent report, bool hasContents = false)
    {
        var walk = new Walk(report, hasContents);
        if (report.Title is { } title) walk.Visit(title);
        if (report.Subtitle is { } subtitle) walk.Visit(subtitle);
        foreach (var block in report.Blocks) walk.Visit(block);
        return walk.Finish();
    }

    private sealed class Walk(ReportContent report, bool hasContents)
    {
        private readonly BlockCounter ids = new();
        private readonly Dictionary<BlockId, Numbered> byBlock = [];
        private readonly Dictionary<string, Numbered> byLabel = new(StringComparer.Ordinal);
        private readonly Dictionary<string, SourcePlace?> places = new(StringComparer.Ordinal);
        private readonly Dictionary<string, Numbered> byHeadingWords = new(StringComparer.Ordinal);
        private readonly HashSet<string> ambiguousHeadings = new(StringComparer.Ordinal);
        private readonly BookmarkNames bookmarks = new();
        private readonly List<SeeInline> references = [];
        private readonly Dictionary<FootnoteInline, NumberedNote> notes = new(ReferenceEqualityComparer.Instance);
        private readonly List<FootnoteInline> notesAgain = [];
        private readonly List<ContentsEntry> entries = [];
        private readonly List<Diagnostic> diagnostics = [];

        // How many there are of each kind: in the report as a whole, and in the chapter that is open.
        private readonly Dictionary<string, int> counts = new(StringComparer.Ordinal);
        private readonly Dictionary<string, int> countsInChapter = new(StringComparer.Ordinal);
        private BlockId? chapter;
        private bool isInAppendices;
        private readonly List<IndexInline> terms = [];
        private readonly Dictionary<string, RichText> explained = new(StringComparer.Ordinal);
        private readonly List<AbbreviationInline> abbreviations = [];
        private readonly HashSet<AbbreviationInline> firstUses = new(ReferenceEqualityComparer.Instance);
        private readonly HashSet<string> used = new(StringComparer.Ordinal);
        private Numbered? group;
        private int letters;
        private readonly Dictionary<string, NumberedSource> sources = new(StringComparer.Ordinal);
        private SourcePlace? firstCitation;
        private bool hasBibliography;

        public void Visit(Block block)
        {
            var id = ids.Next();
            switch (block)
            {
                case Heading heading: VisitHeading(id, heading); break;
                case Paragraph paragraph: Visit(paragraph.Content); break;
                case Box box:
                    if (Block.Within(box.Blocks).FirstOrDefault(b => b is PageBreak or NextColumn) is not null || HoldsPages(box.Blocks))
                        diagnostics.Add(Diagnostic.Error(box.Place, "a box cannot hold pages, columns or page breaks", "close the box before them with `{end}`"));
                    if (box.Title is { } boxTitle) Visit(boxTitle);
                    foreach (var inner in box.Blocks) Visit(inner);
                    break;
                case LastPage last:
                    if (!last.Blocks.All(b => b is Paragraph)) diagnostics.Add(Diagnostic.Error(last.Place, "the last page holds something else than paragraphs", "put tables, lists and figures before it"));
                    foreach (var inner in last.Blocks) Visit(inner);
                    break;
                case KeyFigures figures:
                    foreach (var words in figures.Words) Visit(words);
                    break;
                case NextColumn next:
                    diagnostics.Add(Diagnostic.Error(next.Place, "`{next column}` stands outside columns", "write `{columns 1/2, 1/2}` before it and `{end}` behind it"));
                    break;
                case SideBySide columns:
                    if (columns.Columns.Length > columns.Shares.Length)
                        diagnostics.Add(Diagnostic.Error(columns.Place, $"there are {columns.Columns.Length} columns, but only {columns.Shares.Length} have a share", "take a `{next column}` out, or name another share"));
                    foreach (var inner in columns.Columns.SelectMany(c => c)) Visit(inner);
                    break;
                case DefinitionList definitions:
                    foreach (var definition in definitions.Entries)
                    {
                        foreach (var term in definition.Terms) Visit(term);
                        foreach (var inner in definition.Blocks) Visit(inner);
                    }
                    break;
                case Equation equation when equation.Label is not null || group is not null:
                    VisitEquation(id, equation);
                    break;
                case Equation:
                    break;
                case EquationGroup equations:
                    VisitGroup(id, equations);
                    break;
                case Appendices:
                    isInAppendices = true;
                    chapter = null;
                    break;
                case SeriesItem item:
                    VisitCaptioned(id, NumberedKind.Item, item.Series, item.Label, item.Caption, [], item.Place, null);
                    foreach (var inner in item.Blocks) Visit(inner);
                    break;
                case ListOfSeries list:
                    hasContents = true;
                    _ = SeriesOf(list.Series, list.Place);
                    break;
                case Bibliography:
                    hasBibliography = true;
                    break;
                case Contents or ListOfTables or ListOfFigures:
                    hasContents = true;
                    break;
                case IndexOfTerms or ListOfAbbreviations:
                    break;
                case TableBlock table:
                    VisitCaptioned(id, NumberedKind.Table, table.Series, table.Label, table.Caption, [table.Note, table.Source], table.Place, table.Number);
                    foreach (var row in table.Table.HeaderRows.Concat(table.Table.Rows))
                        foreach (var cell in row.Cells) Visit(cell.Content);
                    foreach (var note in table.Table.Notes) Visit(note);
                    break;
                case FigureBlock figure:
                    VisitCaptioned(id, NumberedKind.Figure, figure.Series, figure.Label, figure.Caption, [figure.Note, figure.Source], figure.Place, null, figure.Panels is { HasLetters: true } panels ? panels.Panels.Length : 0);
                    break;
                case { Inside: { } inside }:
                    foreach (var inner in inside) Visit(inner);
                    break;
            }
        }

        private static bool HoldsPages(IEnumerable<Block> blocks) => blocks.Any(b => b is Pages or Landscape or SideBySide || (b is Box box && HoldsPages(box.Blocks)));

        /// <summary>Looks through words.</summary>
        /// <param name="content">The words.</param>
        /// <param name="isProse">Whether they are running text, where an abbreviation is explained; headings and captions are read by themselves.</param>
        public void Visit(RichText content, bool isProse = true)
        {
            foreach (var inline in content.Inlines)
            {
                switch (inline)
                {
                    case IndexInline term: terms.Add(term); break;
                    case AbbreviationInline abbreviation: Visit(abbreviation, isProse); break;
                    case SeeInline see: references.Add(see); break;
                    case SeeAllInline all:
                        // Several of one kind are shown by their numbers.
                        references.AddRange(all.References.Select(r => r with { Part = SeePart.Number }));
                        break;
                    case { Inside: { } inner }: Visit(inner, isProse); break;
                    case FootnoteInline note: Visit(note); break;
                    case CiteInline cite: Visit(cite); break;
                    case SameFootnoteInline again: notesAgain.Add(again.First); break;
                }
            }
        }

        private void Visit(AbbreviationInline abbreviation, bool isProse)
        {
            abbreviations.Add(abbreviation);
            if (isProse && used.Add(abbreviation.Short)) firstUses.Add(abbreviation);
            if (abbreviation.Long is not { } words) return;
            Visit(words, isProse);
            if (explained.TryAdd(abbreviation.Short, words) || explained[abbreviation.Short].ToPlainText(report.Language) == words.ToPlainText(report.Language)) return;
            diagnostics.Add(Diagnostic.Error(abbreviation.Place, $"`{abbreviation.Short}` stands for two things: “{explained[abbreviation.Short].ToPlainText(report.Language)}” and “{words.ToPlainText(report.Language)}”", "give one of them another abbreviation"));
        }

        public Numbering Finish()
        {
            foreach (var unknown in abbreviations.Where(a => !explained.ContainsKey(a.Short)).DistinctBy(a => a.Short))
                diagnostics.Add(Diagnostic.Error(unknown.Place, $"nothing says what `{unknown.Short}` stands for", Nearest.Suggest(unknown.Short, explained.Keys) ?? $"write `{{abbr {unknown.Short}: what it stands for}}` once"));
            foreach (var (words, section) in byHeadingWords)
                if (!ambiguousHeadings.Contains(words)) byLabel.TryAdd(words, section);
            foreach (var reference in references) Check(reference);
            foreach (var note in notesAgain)
            {
                if (notes.TryGetValue(note, out var first)) first.Bookmark ??= bookmarks.Make("note", $"{first.Number}");
                else diagnostics.Add(Diagnostic.Error(note.Place, "this footnote is marked again, but it is not placed", "place the footnote itself first"));
            }
            FinishSources();
            if (hasContents)
                for (var i = 0; i < entries.Count; i++) entries[i].Target.ContentsBookmark = string.Create(CultureInfo.InvariantCulture, $"_Toc{i + 1:000000000}");
            return new Numbering(byBlock, byLabel, notes, [.. entries], sources, [.. diagnostics]) { Terms = [.. terms], Abbreviations = explained, FirstUses = firstUses };
        }

        private void Visit(CiteInline cite)
        {
            firstCitation ??= cite.Place;
            foreach (var cited in cite.Sources)
            {
                if (report.Sources.FindMistake(cited.Key, cite.Place) is { } mistake) diagnostics.Add(mistake);
                else sources.TryAdd(cited.Key, new NumberedSource(report.Sources.Find(cited.Key)!, sources.Count + 1));
            }
        }

        private void FinishSources()
        {
            foreach (var alike in sources.Values.GroupBy(s => (WorkText.Names(s.Work, report.Language), s.Work.Year)).Where(g => g.Count() > 1))
            {
                var letter = 'a';
                foreach (var source in alike.OrderBy(s => WorkText.SortKey(s.Work), StringComparer.Ordinal)) source.Suffix = $"{letter++}";
            }
            if (hasBibliography)
                foreach (var source in sources.Values) source.Bookmark = bookmarks.Make("source", source.Work.Key);
            else if (sources.Count > 0)
                diagnostics.Add(Diagnostic.Warning(firstCitation, "sources are cited, but the report has no list of them", "write `{bibliography}` where it is to stand"));
            var unused = report.Sources.Works.Where(w => !sources.ContainsKey(w.Key)).Select(w => $"`{w.Key}`").ToArray();
            if (hasBibliography && unused.Length > 0) diagnostics.Add(new Diagnostic(Severity.Advice, null, $"{unused.Length} of the sources in {report.Sources.Name} are not cited: {string.Join(", ", unused.Take(10))}{(unused.Length > 10 ? "…" : "")}"));
        }

        private void Visit(FootnoteInline note)
        {
            if (!notes.TryAdd(note, new NumberedNote(notes.Count + 1, note.Blocks)))
                diagnostics.Add(Diagnostic.Error(note.Place, "the same footnote is placed twice", "mark it again with `Again(note)`"));
            foreach (var block in note.Blocks) VisitInNote(block, note.Place);
        }

        /// <summary>What stands in a note has no number, and cannot be everything.</summary>
        private void VisitInNote(Block block, SourcePlace? place)
        {
            switch (block)
            {
                case Paragraph paragraph:
                    if (Notes(paragraph.Content).Any()) diagnostics.Add(Diagnostic.Error(place, "a footnote cannot hold a footnote", "put its words into the outer one"));
                    else Visit(paragraph.Content);
                    break;
                case Items list:
                    foreach (var inner in list.Entries.SelectMany(i => i)) VisitInNote(inner, place);
                    break;
                case Quotation quotation:
                    foreach (var inner in quotation.Blocks) VisitInNote(inner, place);
                    break;
                case Listing:
                    break;
                default:
                    diagnostics.Add(Diagnostic.Error(place, $"a footnote cannot hold {WordsOf(block)}", "it can hold paragraphs, lists, quotations and listings"));
                    break;
            }
        }

        private static string WordsOf(Block block) => block switch
        {
            Heading => "a heading",
            TableBlock => "a table",
            FigureBlock => "a figure",
            Equation => "a displayed formula",
            DefinitionList => "a list of definitions",
            Contents or ListOfTables or ListOfFigures or ListOfSeries or IndexOfTerms or ListOfAbbreviations or Bibliography => "a list of what the report holds",
            SideBySide or NextColumn => "columns",
            Box or KeyFigures or Aside => "a box",
            SeriesItem => "what has a caption",
            EquationGroup => "a group of equations",
            _ => "a break, a page or a slot",
        };

        private static IEnumerable<Inline> Notes(RichText content) => content.Inlines.SelectMany(i => i switch
        {
            FootnoteInline or SameFootnoteInline => [i],
            _ => i.Inside is { } inner ? Notes(inner) : [],
        });

        private void VisitHeading(BlockId id, Heading heading)
        {
            var words = Label.FromWords(heading.Content.ToPlainText());
            var section = new Numbered(id, NumberedKind.Section, null, heading.Content, bookmarks.Make("section", heading.Label?.Name ?? words)) { IsAppendix = isInAppendices };
            byBlock[id] = section;
            if (words.Length == 0 && !heading.Content.Inlines.Any(i => i is FormulaInline or PictureInline)) diagnostics.Add(Diagnostic.Warning(null, $"a heading of level {heading.Level} has no words, so the contents leave it out", "give it words, or take it out"));
            var isCounted = heading.IsNumbered && (heading.Level <= report.Settings.NumberedLevels || (isInAppendices && heading.Level == 1));
            entries.Add(new ContentsEntry(section, heading.Level, isCounted));
            if (heading.Level == 1 && (isInAppendices || report.Settings.CaptionsByChapter))
            {
                chapter = isCounted ? id : null;
                countsInChapter.Clear();
            }
            if (heading.Label is { } label) Name(label, section);
            else if (!byHeadingWords.TryAdd(words, section)) ambiguousHeadings.Add(words);
            Visit(heading.Content, isProse: false);
        }

        /// <summary>The next number of a kind, where numbers count.</summary>
        private int Next(string kind) => Counts[kind] = Counts.GetValueOrDefault(kind) + 1;

        private Dictionary<string, int> Counts => chapter is null ? counts : countsInChapter;

        private void VisitEquation(BlockId id, Equation equation)
        {
            var name = equation.Label?.Name ?? $"{group!.Number}_{letters + 1}";
            var numbered = group is null
                ? new Numbered(id, NumberedKind.Equation, Next("equation"), RichText.Empty, bookmarks.Make("equation", name)) { Chapter = chapter }
                : new Numbered(id, NumberedKind.Equation, group.Number, RichText.Empty, bookmarks.Make("equation", name)) { Chapter = chapter, Group = group, Letter = ++letters };
            if (numbered is { Letter: 1, Group: { } whole }) whole.Begins = id;
            byBlock[id] = numbered;
            if (equation.Label is { } label) Name(label, numbered);
        }

        private void VisitGroup(BlockId id, EquationGroup equations)
        {
            var number = Next("equation");
            group = new Numbered(id, NumberedKind.Equation, number, RichText.Empty, bookmarks.Make("equations", equations.Label?.Name ?? $"{number}")) { Chapter = chapter, IsGroup = true };
            letters = 0;
            byBlock[id] = group;
            if (equations.Label is { } label) Name(label, group);
            foreach (var inner in equations.Blocks) Visit(inner);
            if (letters == 0) diagnostics.Add(Diagnostic.Error(equations.Label?.Place, "a group of equations holds no equation", "write one on lines of its own between `$$` and `$$`"));
            group = null;
        }

        private CaptionSeries? SeriesOf(string? name, SourcePlace? place)
        {
            if (name is null) return null;
            if (report.Settings.Series.FirstOrDefault(s => s.Name == name) is { } series) return series;
            diagnostics.Add(Diagnostic.Error(place, $"there is no series `{name}`", (report.Settings.Series.FirstOrDefault(s => s.Plural.Equals(name, StringComparison.OrdinalIgnoreCase)) is { } meant ? $"did you mean `{meant.Name}`?" : Nearest.Suggest(name, report.Settings.Series.Select(s => s.Name))) ?? $"write `series {name}: {char.ToUpperInvariant(name[0])}{name[1..]}` into the settings"));
            return null;
        }

        private void VisitCaptioned(BlockId id, NumberedKind kind, string? seriesName, Label? label, RichText? caption, ReadOnlySpan<RichText?> below, SourcePlace? place, int? startsAt, int panels = 0)
        {
            if (caption is not null || label is not null || startsAt is not null)
            {
                var series = SeriesOf(seriesName, place);
                if (series is not null) kind = NumberedKind.Item;
                var word = kind == NumberedKind.Item ? series?.Name ?? "item" : kind == NumberedKind.Table ? "table" : "figure";
                var key = kind == NumberedKind.Item ? $"{word} (own)" : word;
                if (startsAt is { } first) Counts[key] = first - 1;
                var number = Next(key);
                var numbered = new Numbered(id, kind, number, caption ?? RichText.Empty, bookmarks.Make(word, label?.Name ?? $"{number}")) { Series = series, Chapter = chapter, Panels = panels };
                byBlock[id] = numbered;
                entries.Add(new ContentsEntry(numbered, 1));
                if (label is not null) Name(label, numbered);
            }
            if (caption is not null) Visit(caption, isProse: false);
            foreach (var words in below)
                if (words is not null) Visit(words);
        }

        private void Name(Label label, Numbered numbered)
        {
            if (!Label.IsValid(label.Name))
            {
                diagnostics.Add(Diagnostic.Error(label.Place, $"`{label.Name}` is not a label",
                    $"labels are letters, digits, `-` and `_`: `{Label.FromWords(label.Name)}`"));
            }
            else if (byLabel.TryAdd(label.Name, numbered))
            {
                places[label.Name] = label.Place;
            }
            else
            {
                var first = places[label.Name] is { } place ? $" (first at {place})" : "";
                diagnostics.Add(Diagnostic.Error(label.Place, $"the label `{label.Name}` is used twice{first}", "give one of them another label"));
            }
        }

        private void Check(SeeInline reference)
        {
            if (byLabel.TryGetValue(reference.Label, out var target))
            {
                target.IsReferred = true;
                if (reference.Panel is { } panel)
                {
                    if (panel - 'a' >= target.Panels) diagnostics.Add(Diagnostic.Error(reference.Place, target.Panels == 0 ? $"`{reference.Label}` has no panels with letters" : $"`{reference.Label}` has no panel ({panel}), only (a) to ({(char)('a' + target.Panels - 1)})", target.Panels == 0 ? "write `letters: yes` into the head of its step" : null));
                    else if (!target.PanelBookmarks.ContainsKey(panel)) target.PanelBookmarks[panel] = bookmarks.Make("panel", $"{reference.Label}_{panel}");
                }
                // The number of an equation is all that there is of it.
                if (target.Number is null || target.Kind == NumberedKind.Equation || reference.Part is SeePart.Page or SeePart.Where) return;
                if (reference.Part == SeePart.Number || (reference.Part == SeePart.Whole && reference.HasWordApart(report.Language))) target.NumberBookmark ??= bookmarks.Make("number", reference.Label);
                else if (reference.Part == SeePart.Title) target.TitleBookmark ??= bookmarks.Make("title", reference.Label);
                return;
            }
            diagnostics.Add(ambiguousHeadings.Contains(reference.Label)
                ? Diagnostic.Error(reference.Place, $"more than one heading reads `{reference.Label}`", "give one of them a label of its own")
                : Diagnostic.Error(reference.Place, $"there is no label `{reference.Label}`",
                    Nearest.Suggest(reference.Label, byLabel.Keys) ?? Known()));
        }

        private string? Known() =>
            byLabel.Count == 0 ? "the report has no labels yet" : $"the labels are {string.Join(", ", byLabel.Keys.Order(StringComparer.Ordinal).Select(l => $"`{l}`"))}";
    }

    /// <summary>Bookmark names: at most 40 characters of letters, digits and <c>_</c>, unique without regard to case.</summary>
    private sealed class BookmarkNames
    {
        private const int Longest = 40;
        private readonly HashSet<string> taken = new(StringComparer.OrdinalIgnoreCase);

        // How often a name was asked for, so that many equal ones are not tried again and again.
        private readonly Dictionary<string, int> uses = new(StringComparer.OrdinalIgnoreCase);

        public string Make(string kind, string label)
        {
            var name = new StringBuilder(kind).Append('_');
            foreach (var c in label) name.Append(char.IsLetterOrDigit(c) ? c : '_');
            if (name.Length > Longest) name.Length = Longest;
            var candidate = name.ToString();
            if (taken.Add(candidate)) return candidate;
            var wanted = candidate;
            for (var i = uses.GetValueOrDefault(wanted, 2); ; i++)
            {
                var suffix = $"_{i}";
                candidate = name.ToString(0, Math.Min(name.Length, Longest - suffix.Length)) + suffix;
                if (!taken.Add(candidate)) continue;
                uses[wanted] = i + 1;
                return candidate;
            }
        }
    }
}
