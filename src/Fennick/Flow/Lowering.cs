using System.Collections.Immutable;
using System.Globalization;
using Fennick.Charts;
using Fennick.Citations;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Drawing;
using Fennick.Formatting;
using Fennick.Mathematics;
using Fennick.Pictures;
using Fennick.Styles;

namespace Fennick.Flow;

/// <summary>Lowers a numbered report to the paragraphs and tables of a house.</summary>
internal static class Lowering
{
    public static Galley Lower(ReportContent report, Numbering numbering, IStyleBook house)
    {
        var pass = new Pass(report, numbering, house);
        pass.SetPages();
        pass.TitleBlock();
        foreach (var block in report.Blocks) pass.LowerAtTop(block);
        pass.FinishBody();
        foreach (var note in numbering.Notes.Values.OrderBy(n => n.Number)) pass.LowerNote(note);
        return pass.Finish();
    }

    private sealed class Pass(ReportContent report, Numbering numbering, IStyleBook house)
    {
        private const string Unbreakable = "\u00A0";
        private const int ShortTitle = 70;
        private const int MostTiles = 4;
        private const int MostTitleLines = 3;
        private const double NarrowestTile = 78;

        private readonly BlockCounter ids = new();
        private readonly IReadOnlyDictionary<BlockId, HeadingNumber> headings = HeadingNumbers.Count(numbering.Entries, house.Design.HeadingLevels, HeadingLevel.OfAppendices(house.Design.HeadingLevels, report.Language.Words.Appendix));
        private readonly ImmutableArray<ImmutableArray<GalleyParagraph>>.Builder notes = ImmutableArray.CreateBuilder<ImmutableArray<GalleyParagraph>>();
        private readonly ImmutableArray<GalleySection>.Builder sections = ImmutableArray.CreateBuilder<GalleySection>();
        /// <summary>What the next section looks like.</summary>
        private GalleySection section = new(house.Page, []);

        /// <summary>How wide the text is here.</summary>
        private const double PanelShape = 0.72;

        private Length textWidth = house.Page.TextWidth;
        private bool breaksColumn;
        private readonly List<(string Slot, GalleySection Section)> slots = [];
        private ImmutableArray<GalleyBlock>.Builder blocks = ImmutableArray.CreateBuilder<GalleyBlock>();
        private readonly HashSet<string> counted = [];

        // The last number of each kind of caption.
        private readonly Dictionary<string, int> lastNumbers = new(StringComparer.Ordinal);
        private BlockId here;
        private readonly ImmutableArray<GalleyList>.Builder lists = ImmutableArray.CreateBuilder<GalleyList>();
        private readonly Language language = report.Language;
        private readonly GalleyWatermark? watermark = report.Watermark is { } word ? new GalleyWatermark(word, house.Page.With(report.Page).TextWidth) : null;
        private int smallDrawings;
        private readonly HashSet<BlockId> titlesInHand = [];
        private bool isInCircle;
        private int titleBlocks;
        private int titleSections;
        private string? sectionChapter;
        private string? lastChapter;
        private bool breaksPage = house.AppendsBody;

        /// <summary>How many blocks have no place in the house.</summary>
        public int LeftOut { get; private set; }

        /// <summary>Lowers a block of the report itself, into the slot of its label if the house has one.</summary>
        public void LowerAtTop(Block block)
        {
            if (SlotOf(block) is not { } slot) Lower(block, indents: 0);
            else LowerInto(slot, () => Lower(block, indents: 0));
        }

        private string? SlotOf(Block block)
        {
            var name = block switch
            {
                TableBlock table => table.Label?.Name,
                FigureBlock figure => figure.Label?.Name,
                Equation equation => equation.Label?.Name,
                InSlot slot => slot.Name,
                _ => null,
            };
            return name is not null && house.BlockSlots.ContainsKey(name) ? name : null;
        }

        /// <summary>Lowers something into a slot; what is there already stays before it.</summary>
        private void LowerInto(string slot, Action lower)
        {
            var (body, outer, width) = (blocks, section, house.BlockSlots[slot]);
            blocks = ImmutableArray.CreateBuilder<GalleyBlock>();
            (textWidth, var outerWidth) = (width, textWidth);
            lower();
            var container = outer with { Page = house.Page with { Width = house.Page.Width - house.Page.TextWidth + width }, Columns = [], Blocks = blocks.ToImmutable() };
            var known = slots.FindIndex(s => string.Equals(s.Slot, slot, StringComparison.OrdinalIgnoreCase));
            if (known < 0) slots.Add((slot, container));
            else slots[known] = (slot, container with { Blocks = [.. slots[known].Section.Blocks, .. container.Blocks] });
            (blocks, textWidth) = (body, outerWidth);
        }

        public void FinishBody()
        {
            if (house.BlockSlots.ContainsKey("contents") && slots.All(s => s.Slot != "contents")) LowerInto("contents", () => Lower(new Contents(), indents: 0));
            // A document that people wrote themselves takes what it has slots for, and nothing else.
            if (house.AppendsBody && slots.Any(s => s.Slot != "contents"))
            {
                LeftOut = blocks.Count(b => b is not GalleyParagraph { Style: StyleRole.Spacer or StyleRole.Title or StyleRole.Subtitle or StyleRole.Author or StyleRole.Date }) + sections.Sum(s => s.Blocks.Length);
                blocks.Clear();
                sections.Clear();
                return;
            }
            if (blocks.Count == 0 && sections.Count == 0) blocks.Add(Spacer());
            // Behind the last one nothing stands but the end of the document, which is in no paragraph.
            CloseSection(endsInParagraph: house.BodyIsFollowed);
        }

        /// <summary>Ends a section; a section ends with a paragraph.</summary>
        private void CloseSection(bool endsInParagraph = true)
        {
            if (blocks.Count == 0) return;
            // The end of a section stands in its last paragraph, and readers empty references to what stands beside it.
            if (blocks[^1] is not GalleyParagraph { ClosesContents: false } last || (endsInParagraph && last.Inlines.Any(HasBookmark))) blocks.Add(Spacer());
            sections.Add(section with { Blocks = blocks.ToImmutable(), Stories = WithChapter(section.Stories) });
            sectionChapter = null;
            section = Continued(section);
            blocks.Clear();
        }

        private static bool HasBookmark(GalleyInline inline) => inline is GalleyBookmark || (inline is GalleyContainer container && container.Content.Any(HasBookmark));

        /// <summary>Headers name the chapter of their section, for readers that do not renew them.</summary>
        private ImmutableArray<GalleyStory> WithChapter(ImmutableArray<GalleyStory> stories)
        {
            if ((sectionChapter ?? lastChapter) is not { } chapter || !stories.Any(s => s.Paragraphs.Any(p => p.Inlines.Any(IsChapter)))) return stories;
            return [.. stories.Select(s => s with { Paragraphs = [.. s.Paragraphs.Select(p => p with { Inlines = [.. p.Inlines.Select(i => IsChapter(i) ? (GalleyChapterTitle)i with { Result = chapter } : i)] })] })];
        }

        private static bool IsChapter(GalleyInline inline) => inline is GalleyChapterTitle;

        /// <summary>A section after its first page: the pages count on, and what is for the first page alone is over.</summary>
        private static GalleySection Continued(GalleySection section) => section with
        {
            Numbers = section.Numbers is { Start: not null } numbers ? numbers with { Start = null } : section.Numbers,
            Stories = [.. section.Stories.Where(s => s.Kind.Pages != StoryPages.First)],
        };

        /// <summary>Lowers something into sections of its own; behind it the text goes on as before.</summary>
        private void InSection(GalleySection inside, GalleySection behind, Action lower)
        {
            CloseSection();
            section = inside;
            lower();
            CloseSection();
            section = behind with { Chapter = section.Chapter };
        }

        /// <summary>Sets up the pages of the report as a whole.</summary>
        public void SetPages()
        {
            if (!house.HasStories) section = section with { Stories = [new GalleyStory(new StoryKind(IsFooter: true), [Footer(report.ShowsTitle ? report.Title?.ToPlainText(language) ?? "" : "")])] };
            section = With(section with { Columns = house.Columns }, report.Page);
            if (watermark is not null) section = section with { Stories = WithHeaders(section.Stories) };
            textWidth = WidthOf(section);
        }

        private void Lower(Pages pages, int indents)
        {
            // After front matter with numbers of another kind the report begins with its own first page.
            var opens = pages.Layout.Numbers is not null && blocks.Count == titleBlocks && sections.Count == titleSections;
            CloseSection();
            var (outer, outerWidth) = (section, textWidth);
            var inside = With(section with { IsContinuous = false }, pages.Layout);
            if (watermark is not null && pages.Layout is not { Header: null, FirstHeader: null, EvenHeader: null }) inside = inside with { Stories = WithHeaders(inside.Stories) };
            textWidth = WidthOf(inside);
            InSection(inside, Continued(outer) with { IsContinuous = false }, () =>
            {
                foreach (var inner in pages.Blocks) Lower(inner, indents);
            });
            if (opens) section = section with { Numbers = (outer.Numbers ?? new PageNumbers()) with { Start = 1 } };
            textWidth = outerWidth;
        }

        private static Length WidthOf(GalleySection section) => section.Columns.IsEmpty ? section.Page.TextWidth : section.Columns[0];

        /// <summary>A section with another layout on top.</summary>
        private GalleySection With(GalleySection below, PageLayout layout)
        {
            var page = below.Page.With(layout);
            var columns = layout.Columns.IsEmpty ? below.Columns.Length > 0 && page.TextWidth != below.Page.TextWidth ? Widths(page.TextWidth, [.. below.Columns.Select(c => c.Points / below.Columns.Sum(o => o.Points))]) : below.Columns
                : layout.Columns.Length == 1 ? [] : Widths(page.TextWidth, layout.Columns);
            return below with { Page = page, Columns = columns, Numbers = layout.Numbers ?? below.Numbers, LineNumbers = layout.LineNumbers ?? below.LineNumbers, Stories = Stories(below.Stories, layout, page.TextWidth) };
        }

        private static ImmutableArray<Length> Widths(Length textWidth, ImmutableArray<double> shares)
        {
            var room = textWidth - (GalleySection.Gutter * (shares.Length - 1));
            return [.. shares.Select(share => room * share)];
        }

        private ImmutableArray<GalleyStory> Stories(ImmutableArray<GalleyStory> below, PageLayout layout, Length width)
        {
            var stories = below.ToDictionary(s => s.Kind, s => s);
            foreach (var (kind, words) in new (StoryKind, RichText?)[]
            {
                (new(false), layout.Header), (new(true), layout.Footer), (new(false, StoryPages.First), layout.FirstHeader), (new(true, StoryPages.First), layout.FirstFooter),
                (new(false, StoryPages.Even), layout.EvenHeader), (new(true, StoryPages.Even), layout.EvenFooter),
            })
                if (words is not null) stories[kind] = new GalleyStory(kind, [Margin(kind, words)]);
            // Where one kind of page has a header of its own, what it does not say stands there as on all pages.
            foreach (var pages in new[] { StoryPages.First, StoryPages.Even })
            {
                if (stories.Keys.All(k => k.Pages != pages)) continue;
                foreach (var isFooter in new[] { false, true })
                    if (stories.TryGetValue(new StoryKind(isFooter), out var all)) stories.TryAdd(new StoryKind(isFooter, pages), all with { Kind = new StoryKind(isFooter, pages) });
            }
            return [.. stories.Values.Select(s => s.Paragraphs.Any(p => p.RightTab is not null) || width != house.Page.TextWidth ? s.At(width) : s)];
        }

        /// <summary>A line in the margin: its parts left and right, or left, in the middle and right.</summary>
        private GalleyParagraph Margin(StoryKind kind, RichText words)
        {
            var inlines = ImmutableArray.CreateBuilder<GalleyInline>();
            var parts = 1;
            foreach (var inline in words.Inlines)
            {
                if (inline is not TextInline text)
                {
                    Append(inlines, new RichText([inline]), CharacterFormat.Plain);
                    continue;
                }
                foreach (var (index, piece) in text.Text.Split('|').Index())
                {
                    if (index > 0)
                    {
                        parts++;
                        inlines.Add(new GalleyTab());
                    }
                    var isParted = text.Text.Contains('|');
                    var shown = isParted ? index == 0 ? piece.TrimEnd() : index == text.Text.Count(c => c == '|') ? piece.TrimStart() : piece.Trim() : piece;
                    if (shown.Length > 0) inlines.Add(new GalleyText(shown));
                }
            }
            return new GalleyParagraph(kind.IsFooter ? StyleRole.Footer : StyleRole.Header, inlines.ToImmutable()) { RightTab = house.Page.TextWidth, HasCentreTab = parts > 2 };
        }

        /// <summary>A watermark hangs in a header; where there is none, in an empty one.</summary>
        private ImmutableArray<GalleyStory> WithHeaders(ImmutableArray<GalleyStory> stories)
        {
            var pages = new List<StoryPages> { StoryPages.All };
            if (house.HasFirstPage || stories.Any(s => s.Kind.Pages == StoryPages.First)) pages.Add(StoryPages.First);
            if (stories.Any(s => s.Kind.Pages == StoryPages.Even)) pages.Add(StoryPages.Even);
            foreach (var kind in pages.Select(p => new StoryKind(false, p)))
                if (stories.All(s => s.Kind != kind) && !house.HasStory(kind)) stories = stories.Add(new GalleyStory(kind, [new GalleyParagraph(StyleRole.Header, [])]));
            return [.. stories.Select(s => s.Kind.IsFooter ? s : s with { Paragraphs = s.Paragraphs.SetItem(0, s.Paragraphs[0] with { Inlines = [.. s.Paragraphs[0].Inlines.Where(i => i is not GalleyWatermark), watermark!] }) })];
        }

        /// <summary>What has columns of its own stands in cells: it keeps together, and what is left stays left. Text that flows through columns, and pages in them, need a section.</summary>
        private static bool StandsInCells(SideBySide columns) => columns.Columns.Length > 1 && Block.Within(columns.Columns.SelectMany(c => c)).All(b => b is not (PageBreak or Pages or Landscape));

        private void PlaceBeside(SideBySide columns, int indents)
        {
            var rooms = Widths(textWidth - (house.ListStep * indents), columns.Shares)[..columns.Columns.Length];
            Place(BoxLook.SideBySide, "", columns.Columns.Length, indents, [.. columns.Columns.Select(column => (Action)(() =>
            {
                foreach (var inner in column) Lower(inner, indents: 0);
                for (var i = 0; i < blocks.Count; i++)
                    if (blocks[i] is GalleyParagraph { Style: StyleRole.Body } text) blocks[i] = text with { IsInCell = true };
            }))], rooms);
        }

        private void Lower(SideBySide columns, int indents)
        {
            var outer = textWidth;
            var widths = Widths(outer, columns.Shares);
            // Where a page is to begin, or nothing stands before, there is nothing to go on from.
            var goesOn = blocks.Count > 0 || section.IsContinuous;
            // Some readers leave out the empty paragraph that ends a section, and with it the space under a table.
            if (blocks.Count > 1 && blocks[^1] is GalleyParagraph { Style: StyleRole.Spacer } && IsTable(blocks[^2])) blocks.Add(Spacer());
            CloseSection();
            InSection(section with { Columns = widths, IsContinuous = goesOn }, Continued(section) with { IsContinuous = true }, () =>
            {
                for (var c = 0; c < columns.Columns.Length; c++)
                {
                    textWidth = widths[Math.Min(c, widths.Length - 1)];
                    breaksColumn = c > 0;
                    foreach (var inner in columns.Columns[c]) Lower(inner, indents);
                    breaksColumn = false;
                }
            });
            textWidth = outer;
        }

        /// <summary>The paragraphs of a footnote; the first carries its mark.</summary>
        public void LowerNote(NumberedNote note)
        {
            blocks.Clear();
            foreach (var block in note.Blocks) Lower(block, indents: 0);
            if (blocks is not [GalleyParagraph { Style: StyleRole.Body }, ..]) blocks.Insert(0, new GalleyParagraph(StyleRole.Footnote, []));
            var paragraphs = blocks.Cast<GalleyParagraph>().Select(p => p.Style == StyleRole.Body ? p with { Style = StyleRole.Footnote } : p).ToArray();
            paragraphs[0] = paragraphs[0] with { Inlines = [new GalleyOwnNoteMark(), new GalleyText(" "), .. paragraphs[0].Inlines] };
            notes.Add([.. paragraphs]);
        }

        public Galley Finish()
        {
            var title = report.Title?.ToPlainText(language) ?? "";
            var properties = new DocumentProperties(title, report.Subtitle?.ToPlainText(language) ?? "", report.Authors, report.Date, language.Tag, report.Libraries);
            return new Galley(sections.ToImmutable(), notes.ToImmutable(), lists.ToImmutable(), properties) { Making = report.Settings.IsLiving ? report.Making ?? Making.Nothing : null, SlotWords = SlotWords(properties), SlotBlocks = [.. slots], LeftOut = LeftOut, Watermark = watermark, HasAppendices = numbering.Entries.Any(e => e.Target.IsAppendix && headings.ContainsKey(e.Target.Block)) };
        }

        /// <summary>The words for slots: what the report says of itself, and what it was given for them.</summary>
        private ImmutableDictionary<string, string> SlotWords(DocumentProperties properties)
        {
            var words = ImmutableDictionary.CreateBuilder<string, string>(StringComparer.OrdinalIgnoreCase);
            foreach (var (slot, text) in report.Slots) words[slot] = text.ToPlainText(language);
            Add("title", properties.Title);
            Add("subtitle", properties.Subject);
            // What fields show is what they will show when somebody renews them.
            words[DocumentProperties.TitleName] = properties.Title;
            words[DocumentProperties.SubjectName] = properties.Subject;
            words[DocumentProperties.AuthorsName] = properties.JoinedAuthors;
            Add("author", string.Join(", ", report.Authors));
            Add("date", report.Date is { } date ? ValueFormatter.Format(date, null, language) : null);
            return words.ToImmutable();

            void Add(string slot, string? text)
            {
                if (!string.IsNullOrEmpty(text)) words.TryAdd(slot, text);
            }
        }

        public void TitleBlock()
        {
            // What the house shows in slots of its text stands there.
            if (report.ShowsTitle && report.Title is { } title && !house.HasSlot("title"))
            {
                if (report.Settings.HasCover)
                {
                    Cover(title);
                    return;
                }
                Add(StyleRole.Title, title);
            }
            if (report.Subtitle is { } subtitle && !house.HasSlot("subtitle")) Add(StyleRole.Subtitle, subtitle);
            AuthorAndDate();
            // The last line of the title keeps its distance, whichever it is.
            if (blocks.Count > 0 && house.Style(((GalleyParagraph)blocks[^1]).Style).After == Length.Zero) blocks.Add(Spacer());
            titleBlocks = blocks.Count;
        }

        private void AuthorAndDate()
        {
            if (!report.Authors.IsEmpty && !house.HasSlot("author")) Add(StyleRole.Author, string.Join(", ", report.Authors));
            if (report.Date is { } date && !house.HasSlot("date")) Add(StyleRole.Date, ValueFormatter.Format(date, null, language));
        }

        /// <summary>The title on a page of its own, without headers and footers; one that is long is smaller.</summary>
        private void Cover(RichText title)
        {
            var words = title.ToPlainText(language);
            var full = house.Style(StyleRole.CoverTitle);
            var isLong = house.Face(StyleRole.CoverTitle, full.Bold).Width(words, full.Points) > section.Page.TextWidth.Points * MostTitleLines;
            Add(isLong ? StyleRole.CoverTitleSmall : StyleRole.CoverTitle, title);
            if (report.Subtitle is { } subtitle && !house.HasSlot("subtitle")) Add(StyleRole.CoverSubtitle, subtitle);
            var panel = Taken();
            AuthorAndDate();
            var foot = Taken();
            WholePage(new GalleyCover(words, panel, foot.IsEmpty ? [Spacer()] : foot, section.Page));
            titleSections = sections.Count;

            ImmutableArray<GalleyParagraph> Taken()
            {
                ImmutableArray<GalleyParagraph> taken = [.. blocks.Cast<GalleyParagraph>()];
                blocks.Clear();
                return taken;
            }
        }

        private void Lower(LastPage last)
        {
            CloseSection();
            foreach (var inner in last.Blocks) Lower(inner, indents: 0);
            ImmutableArray<GalleyParagraph> words = [.. blocks.OfType<GalleyParagraph>().Select(p => p with { Style = StyleRole.CoverText })];
            blocks.Clear();
            WholePage(new GalleyCover(report.Title?.ToPlainText(language) ?? "", words.IsEmpty ? [Spacer()] : words, [Spacer()], section.Page) { IsLast = true });
        }

        /// <summary>A page without margins, headers and footers.</summary>
        private void WholePage(GalleyCover cover)
        {
            var after = section;
            // What a house has at the head and foot of its pages has no place there.
            section = section with
            {
                Stories = house.HasStories || sections.Count > 0 ? [new GalleyStory(new StoryKind(false), [new GalleyParagraph(StyleRole.Header, [])]), new GalleyStory(new StoryKind(true), [new GalleyParagraph(StyleRole.Footer, [])])] : [],
                Page = section.Page with { Left = Length.Zero, Right = Length.Zero, Top = Length.Zero, Bottom = Length.Zero, HeaderDistance = Length.Zero, FooterDistance = Length.Zero, Gutter = Length.Zero, Measure = null },
                Columns = [],
                IsContinuous = false,
            };
            blocks.Add(cover);
            CloseSection();
            section = after;
        }

        public void Lower(Block block, int indents)
        {
            var id = here = ids.Next();
            var before = blocks.Count;
            switch (block)
            {
                case Appendices:
                    return;
                case SeriesItem item:
                    var itemNumber = numbering.ByBlock[id];
                    blocks.Add(Caption(StyleRole.Caption, itemNumber, item.Caption));
                    foreach (var inner in item.Blocks) Lower(inner, indents);
                    break;
                case EquationGroup group:
                    foreach (var inner in group.Blocks) Lower(inner, indents);
                    break;
                case IndexOfTerms:
                    LowerIndex();
                    break;
                case ListOfAbbreviations:
                    LowerAbbreviations();
                    break;
                case ListOfSeries list:
                    var series = report.Settings.Series.First(s => s.Name == list.Series);
                    Lower(series.Plural, Sequence(series.Word), t => t.Series == series, 1);
                    break;
                case LastPage last:
                    Lower(last);
                    return;
                case Box box:
                    Lower(box, indents);
                    break;
                case KeyFigures figures:
                    Lower(figures, indents);
                    break;
                case Aside aside:
                    foreach (var inner in aside.Blocks) Lower(inner, indents);
                    var role = aside.Kind == AsideKind.PullQuote ? StyleRole.PullQuote : StyleRole.MarginNote;
                    for (var i = before; i < blocks.Count; i++)
                        if (blocks[i] is GalleyParagraph { Style: StyleRole.Body or StyleRole.ListContinue } beside) blocks[i] = beside with { Style = role, Indents = 0 };
                    break;
                case InSlot inSlot:
                    foreach (var inner in inSlot.Blocks) Lower(inner, indents);
                    return;
                case Landscape landscape:
                    Lower(new Pages(new PageLayout { IsLandscape = true }, landscape.Blocks), indents);
                    return;
                case Pages pages:
                    Lower(pages, indents);
                    return;
                case SideBySide columns when StandsInCells(columns):
                    PlaceBeside(columns, indents);
                    break;
                case SideBySide columns:
                    Lower(columns, indents);
                    return;
                case Heading heading:
                    var section = numbering.ByBlock[id];
                    var number = headings.GetValueOrDefault(id);
                    if (heading.Level == 1 && number is not null && this.section.Numbers?.ByChapter is not null) BeginChapter(number, ref before);
                    if (heading.Level == 1) sectionChapter ??= lastChapter = TextOf(heading.Content);
                    blocks.Add(new GalleyParagraph(StyleRole.Heading1 + Math.Clamp(heading.Level, 1, 6) - 1, [.. OutsideMarks(Inlines(heading.Content), words => Marked(section.ContentsBookmark, new GalleyBookmark(section.Bookmark, words)))]) { Number = number?.Shown, IsUncounted = number is null, IsAppendix = section.IsAppendix && number is not null });
                    break;
                case Paragraph paragraph:
                    // Line spacing would clip or inflate a picture.
                    var body = paragraph.Content.Inlines is [PictureInline] ? StyleRole.Figure : indents > 0 ? StyleRole.ListContinue : StyleRole.Body;
                    blocks.Add(new GalleyParagraph(body, Inlines(paragraph.Content)) { Indents = indents });
                    break;
                case Items list:
                    Lower(list, indents);
                    break;
                case Quotation quotation:
                    foreach (var inner in quotation.Blocks) Lower(inner, indents);
                    for (var i = before; i < blocks.Count; i++)
                        if (blocks[i] is GalleyParagraph { Style: StyleRole.Body or StyleRole.ListContinue } quoted) blocks[i] = quoted with { Style = StyleRole.Quotation };
                    break;
                case DefinitionList definitions:
                    foreach (var definition in definitions.Entries) Lower(definition, indents);
                    break;
                case Bibliography:
                    LowerSources();
                    break;
                case Equation equation:
                    Lower(id, equation, indents);
                    break;
                case Contents contents:
                    Lower(language.Words.Contents, null, t => t.Kind == NumberedKind.Section, contents.Levels);
                    break;
                case ListOfTables:
                    Lower(language.Words.ListOfTables, Sequence(language.Words.Table), t => t.Kind == NumberedKind.Table, 1);
                    break;
                case ListOfFigures:
                    Lower(language.Words.ListOfFigures, Sequence(language.Words.Figure), t => t.Kind == NumberedKind.Figure, 1);
                    break;
                case Listing listing:
                    blocks.Add(new GalleyParagraph(StyleRole.Listing, Code(listing)) { Indents = indents });
                    break;
                case PageBreak:
                    breaksPage = true;
                    return;
                case ThoughtBreak:
                    blocks.Add(new GalleyParagraph(StyleRole.ThoughtBreak, []));
                    break;
                case TableBlock table:
                    Lower(id, table, indents);
                    break;
                case FigureBlock figure:
                    Lower(id, figure, indents);
                    break;
                default:
                    throw new InvalidOperationException($"No lowering for {block.GetType().Name}.");
            }
            if (blocks.Count == before) return;
            if (breaksPage) BreakPage(before);
            if (breaksColumn) BreakColumn(before);
            if (blocks[before].Begins is null) blocks[before] = blocks[before] with { Begins = id };
            var (written, label) = OriginOf(block);
            if (written is null && label is null) return;
            for (var i = before; i < blocks.Count; i++) blocks[i] = blocks[i] with { WrittenAt = blocks[i].WrittenAt ?? written, Label = blocks[i].Label ?? label };
        }

        private static (SourcePlace? Place, string? Label) OriginOf(Block block) => block switch
        {
            TableBlock table => (table.WrittenAt ?? table.Place, table.Label?.Name),
            FigureBlock figure => (figure.WrittenAt ?? figure.Place, figure.Label?.Name),
            Equation equation => (equation.WrittenAt, equation.Label?.Name),
            Heading heading => (heading.WrittenAt, heading.Label?.Name),
            _ => (block.WrittenAt, null),
        };

        /// <summary>A chapter whose pages have numbers of its own is a section of its own.</summary>
        private void BeginChapter(HeadingNumber number, ref int first)
        {
            CloseSection();
            section = section with { Chapter = number.Own, Numbers = section.Numbers! with { Start = 1 }, IsContinuous = false };
            first = blocks.Count;
            breaksPage = false;
        }

        private void BreakColumn(int first)
        {
            breaksColumn = false;
            if (blocks[first] is GalleyParagraph paragraph) blocks[first] = paragraph with { BreaksColumn = true };
            else blocks.Insert(first, Spacer() with { BreaksColumn = true });
        }

        /// <summary>A paragraph can start a page; before a table that has no caption an empty one does.</summary>
        private void BreakPage(int first)
        {
            breaksPage = false;
            if (blocks[first] is GalleyParagraph paragraph) blocks[first] = paragraph with { BreaksPage = true };
            else if (blocks[first] is GalleyEquation { Number.IsEmpty: true } equation) blocks[first] = equation with { BreaksPage = true };
            else blocks.Insert(first, Spacer() with { BreaksPage = true });
        }

        private ImmutableArray<GalleyInline> Code(Listing listing)
        {
            var inlines = ImmutableArray.CreateBuilder<GalleyInline>();
            var at = 0;
            foreach (var span in listing.Spans)
            {
                if (span.Start > at) inlines.Add(new GalleyText(listing.Code[at..span.Start]));
                inlines.Add(new GalleyStyled(house.Design.StyleOf(span.Kind), [new GalleyText(listing.Code.Substring(span.Start, span.Length))]));
                at = span.Start + span.Length;
            }
            if (at < listing.Code.Length || at == 0) inlines.Add(new GalleyText(listing.Code[at..]));
            return inlines.ToImmutable();
        }

        private void Lower(Items list, int level)
        {
            Dictionary<string, int> numbers = [];
            foreach (var item in list.Entries)
            {
                var first = blocks.Count;
                var mark = list.Ordered ? "" : MarkOf(item);
                if (!numbers.TryGetValue(mark, out var number))
                {
                    numbers[mark] = number = lists.Count;
                    lists.Add(new GalleyList(list.Ordered, list.Start, level, list.Entries.Length, mark.Length > 0 ? mark : null));
                }
                foreach (var inner in item) Lower(inner, level + 1);
                var place = new ListPlace(number, level);
                var style = list.Ordered ? StyleRole.ListNumber : StyleRole.ListBullet;
                // The item's first paragraph carries the bullet; an item that starts with anything else gets an empty one.
                if (first < blocks.Count && blocks[first] is GalleyParagraph { Style: StyleRole.ListContinue, List: null } paragraph)
                    blocks[first] = paragraph with { Style = style, List = place, Indents = 0, Inlines = mark.Length > 0 ? WithoutMark(paragraph.Inlines) : paragraph.Inlines };
                else
                    blocks.Insert(first, new GalleyParagraph(style, []) { List = place });
            }
        }

        /// <summary>The box of a task, which is the mark of its item then; "" if it is none.</summary>
        private static string MarkOf(ImmutableArray<Block> item) =>
            item is [Paragraph { Content.Inlines: [TextInline { Text: ['☐' or '☑', ..] } first, ..] }, ..] ? first.Text[..1] : "";

        private static ImmutableArray<GalleyInline> WithoutMark(ImmutableArray<GalleyInline> inlines) => inlines is [GalleyText first, ..] ? inlines.SetItem(0, first with { Text = first.Text[1..].TrimStart() }) : inlines;

        private void Lower(Box box, int indents)
        {
            var look = box.Kind == BoxKind.Note ? BoxLook.Note : BoxLook.Summary;
            var title = box.Title ?? (box.Kind == BoxKind.Summary ? language.Words.InBrief : RichText.Empty);
            Place(look, title.ToPlainText(language), 1, indents, [() =>
            {
                if (!title.IsEmpty) Add(StyleRole.BoxTitle, title);
                foreach (var inner in box.Blocks) Lower(inner, indents: 0);
                for (var i = 0; i < blocks.Count; i++)
                    if (blocks[i] is GalleyParagraph { Style: StyleRole.Body } text) blocks[i] = text with { Style = StyleRole.BoxText };
            }]);
        }

        private void Lower(KeyFigures figures, int indents)
        {
            if (figures.Figures.IsEmpty) return;
            // Tiles of one width in all rows: none stands alone in the last.
            var most = Math.Max(1, Math.Min(MostTiles, (int)(textWidth.Points / NarrowestTile)));
            var rows = (figures.Figures.Length + most - 1) / most;
            var columns = (figures.Figures.Length + rows - 1) / rows;
            Place(BoxLook.KeyFigures, string.Join("; ", figures.Figures.Select(f => $"{f.Label.ToPlainText(language)}: {f.Number.ToPlainText(language)}")), columns, indents, [.. figures.Figures.Select(figure => (Action)(() =>
            {
                Add(StyleRole.KeyFigureLabel, figure.Label);
                Add(StyleRole.KeyFigure, figure.Number);
                if (figure.Change is { IsEmpty: false } change) Add(StyleRole.KeyFigureChange, change);
                if (figure.Note is { IsEmpty: false } note) Add(StyleRole.KeyFigureNote, note);
            }))]);
        }

        /// <summary>Places cells that hold blocks, in columns that are alike, or as wide as is said.</summary>
        private void Place(BoxLook look, string title, int columns, int indents, ImmutableArray<Action> cells, ImmutableArray<Length>? rooms = null)
        {
            Separate();
            var (outer, outerWidth, outerBreaksPage, outerBreaksColumn) = (blocks, textWidth, breaksPage, breaksColumn);
            // It breaks before the whole, not within its first cell.
            (breaksPage, breaksColumn) = (false, false);
            var width = textWidth - (house.ListStep * indents);
            var lowered = new List<ImmutableArray<GalleyBlock>>();
            foreach (var cell in cells)
            {
                blocks = ImmutableArray.CreateBuilder<GalleyBlock>();
                textWidth = rooms?[lowered.Count] ?? GalleyBox.RoomIn(width, columns, house.Design.Boxes[(int)look]);
                cell();
                // A cell ends with a paragraph.
                if (blocks.Count == 0 || blocks[^1] is not GalleyParagraph) blocks.Add(Spacer());
                lowered.Add(blocks.ToImmutable());
            }
            while (lowered.Count % columns != 0) lowered.Add([Spacer()]);
            (blocks, textWidth, breaksPage, breaksColumn) = (outer, outerWidth, outerBreaksPage, outerBreaksColumn);
            blocks.Add(new GalleyBox(look, title, [.. lowered.Chunk(columns).Select(r => r.ToImmutableArray())], width) { Indents = indents, Columns = rooms ?? [] });
            blocks.Add(Spacer());
        }

        private void Lower(Definition definition, int indents)
        {
            foreach (var term in definition.Terms) blocks.Add(new GalleyParagraph(StyleRole.Term, Inlines(term)) { Indents = indents });
            var first = blocks.Count;
            foreach (var inner in definition.Blocks) Lower(inner, indents);
            for (var i = first; i < blocks.Count; i++)
                if (blocks[i] is GalleyParagraph { Style: StyleRole.Body or StyleRole.ListContinue } meaning) blocks[i] = meaning with { Style = StyleRole.Definition, Indents = indents };
        }

        private void Lower(BlockId id, Equation equation, int indents)
        {
            var isNumbered = numbering.ByBlock.TryGetValue(id, out var numbered);
            var letter = house.Style(StyleRole.Equation).Points * Formula.Letter;
            var room = ((textWidth - (house.ListStep * indents)) * (isNumbered ? GalleyEquation.ShareBesideNumber : 1)).Points / letter;
            var formula = FormulaLines.Break(equation.Formula, room);
            if (!isNumbered)
            {
                blocks.Add(new GalleyEquation(formula, [], formula.Letters > room) { Indents = indents });
                return;
            }
            Separate();
            blocks.Add(new GalleyEquation(formula, [new GalleyBookmark(numbered!.Bookmark, [new GalleyText("("), .. EquationNumber(numbered!), new GalleyText(")")])], formula.Letters > room) { Indents = indents });
        }

        /// <summary>The number of an equation; those of a group share that of the first, and have letters.</summary>
        private ImmutableArray<GalleyInline> EquationNumber(Numbered numbered)
        {
            if (numbered.Group is not { } group) return NumberOf(numbered);
            if (numbered.Letter == 1) return [new GalleyBookmark(group.Bookmark, NumberOf(group)), new GalleyLetter(LettersOf(group), 1)];
            var number = NumberOf(group);
            return [.. number[..^1], (GalleySequence)number[^1] with { Starts = false, IsRepeated = true, IsToldToOthers = true }, new GalleyLetter(LettersOf(group), numbered.Letter)];
        }

        /// <summary>The name under which the letters of a group are counted; some readers take a bookmark of the same name for them.</summary>
        private static string LettersOf(Numbered group) => $"Letter_{Plain(group.Block.Index)}";

        /// <summary>The sources that are cited: in the order of their authors, or of their numbers.</summary>
        private void LowerSources()
        {
            var numbered = report.CitationStyle == CitationStyle.Numbered;
            var compare = StringComparer.Create(language.Culture, ignoreCase: true);
            foreach (var source in numbered ? numbering.Sources.Values.OrderBy(s => s.Number) : numbering.Sources.Values.OrderBy(s => WorkText.SortKey(s.Work), compare))
            {
                var words = Inlines(WorkText.Describe(source.Work, numbered ? "" : source.Suffix, language));
                blocks.Add(new GalleyParagraph(StyleRole.Source, [new GalleyBookmark(source.Bookmark!, numbered ? [new GalleyText($"[{Plain(source.Number)}]"), new GalleyTab(), .. words] : words)]));
            }
        }

        /// <summary>A citation in brackets, or with the names in the sentence; each source leads to its line in the list.</summary>
        private void Append(ImmutableArray<GalleyInline>.Builder inlines, CiteInline cite, CharacterFormat format)
        {
            var numbered = report.CitationStyle == CitationStyle.Numbered;
            var (open, close) = numbered ? ("[", "]") : ("(", ")");
            // "[1, 2]", but "[1, p. 45; 2]".
            var separator = cite.IsNamed || (numbered && cite.Sources.All(s => s.Locator.Length == 0)) ? ", " : "; ";
            if (!cite.IsNamed) inlines.Add(new GalleyText(open, format));
            for (var i = 0; i < cite.Sources.Length; i++)
            {
                var source = numbering.Sources[cite.Sources[i].Key];
                var locator = cite.Sources[i].Locator is { Length: > 0 } place ? $", {place.Replace(". ", "." + Unbreakable, StringComparison.Ordinal)}" : "";
                var number = numbered ? Plain(source.Number) : WorkText.Year(source.Work, source.Suffix, language);
                if (i > 0) inlines.Add(new GalleyText(cite.IsNamed && i == cite.Sources.Length - 1 ? $" {language.Words.And} " : separator, format));
                if (cite.IsNamed) inlines.Add(new GalleyText($"{WorkText.Names(source.Work, language)} {open}", format));
                else if (!numbered) inlines.Add(new GalleyText($"{WorkText.Names(source.Work, language)} ", format));
                inlines.Add(source.Bookmark is { } bookmark ? new GalleyAnchor(bookmark, [new GalleyText(number, format)]) : new GalleyText(number, format));
                if (locator.Length > 0) inlines.Add(new GalleyText(locator, format));
                if (cite.IsNamed) inlines.Add(new GalleyText(close, format));
            }
            if (!cite.IsNamed) inlines.Add(new GalleyText(close, format));
        }

        /// <summary>A list of contents: its title, an entry for each thing that it lists, and the end of its field.</summary>
        private void Lower(string title, string? sequence, Func<Numbered, bool> lists, int levels)
        {
            // The contents alone stand in a control that offers to renew them: there is one of it in a document.
            var isWhole = sequence is null;
            blocks.Add(new GalleyParagraph(StyleRole.ContentsHeading, [new GalleyText(title)]) { OpensContents = isWhole });
            var isFirst = true;
            var entries = numbering.Entries.Where(e => lists(e.Target) && e.Level <= levels && !(isWhole && e.Target.Title.IsEmpty)).ToArray();
            var hangings = entries.Where(e => headings.ContainsKey(e.Target.Block)).GroupBy(e => e.Level).ToDictionary(g => g.Key, g => Hanging(StyleRole.Contents1 + g.Key - 1, g.Select(e => headings[e.Target.Block].Shown)));
            foreach (var entry in entries)
            {
                var target = entry.Target;
                var heading = headings.GetValueOrDefault(target.Block);
                var words = Copied(target.Title, CharacterFormat.Plain);
                if (target.Number is not null) words = words.Insert(0, new GalleyText($"{WordOf(target)}{Unbreakable}{Shown(target)}{(target.Title.IsEmpty ? "" : ". ")}"));
                GalleyInline[] lead = heading is null ? [] : [new GalleyText(heading.Shown), new GalleyTab()];
                var line = new GalleyAnchor(target.ContentsBookmark!, [.. lead, .. words, new GalleyTab(), new GalleyPageNumber(target.ContentsBookmark!, target.Block)]);
                blocks.Add(new GalleyParagraph(isWhole ? StyleRole.Contents1 + entry.Level - 1 : StyleRole.ContentsOfKind, isFirst ? [new GalleyContentsBegin(levels, sequence), line] : [line])
                {
                    RightTab = textWidth == house.Page.TextWidth ? null : textWidth,
                    Hanging = heading is null ? null : hangings[entry.Level],
                });
                isFirst = false;
            }
            blocks.Add(new GalleyParagraph(StyleRole.Spacer, isFirst ? [new GalleyContentsBegin(levels, sequence), new GalleyContentsEnd()] : [new GalleyContentsEnd()]) { ClosesContents = isWhole });
        }

        /// <summary>The index: its terms in the order of the alphabet, with the pages of their places.</summary>
        private void LowerIndex()
        {
            var compare = StringComparer.Create(language.Culture, ignoreCase: true);
            blocks.Add(new GalleyParagraph(StyleRole.ContentsHeading, [new GalleyText(language.Words.Index)]));
            var lines = ImmutableArray.CreateBuilder<GalleyParagraph>();
            foreach (var term in numbering.Terms.GroupBy(t => t.Term).OrderBy(t => t.Key, compare))
            {
                lines.Add(Entry(StyleRole.Index1, term.Key, [.. term.Where(t => t.Detail is null)]));
                foreach (var detail in term.Where(t => t.Detail is not null).GroupBy(t => t.Detail!).OrderBy(t => t.Key, compare)) lines.Add(Entry(StyleRole.Index2, detail.Key, [.. detail]));
            }
            if (lines.Count > 0) lines[0] = lines[0] with { Inlines = lines[0].Inlines.Insert(0, new GalleyIndexBegin()) };
            blocks.AddRange(lines);
            blocks.Add(new GalleyParagraph(StyleRole.Spacer, lines.Count > 0 ? [new GalleyContentsEnd()] : [new GalleyIndexBegin(), new GalleyContentsEnd()]));

            static GalleyParagraph Entry(StyleRole role, string words, ImmutableArray<IndexInline> places) =>
                new(role, places.IsEmpty ? [new GalleyText(words)] : [new GalleyText(words + ", "), new GalleyIndexPages(places)]);
        }

        private void LowerAbbreviations()
        {
            blocks.Add(new GalleyParagraph(StyleRole.ContentsHeading, [new GalleyText(language.Words.Abbreviations)]));
            var sorted = numbering.Abbreviations.OrderBy(a => a.Key, StringComparer.Create(language.Culture, ignoreCase: true)).ToArray();
            if (sorted.Length == 0) return;
            var hanging = Hanging(StyleRole.Abbreviation, sorted.Select(a => a.Key));
            foreach (var (name, words) in sorted) blocks.Add(new GalleyParagraph(StyleRole.Abbreviation, [new GalleyText(name), new GalleyTab(), .. Inlines(words)]) { Hanging = hanging });
        }

        /// <summary>The room that the widest of some numbers takes, and the space behind it.</summary>
        private Length Hanging(StyleRole role, IEnumerable<string> signs)
        {
            var points = house.Style(role).Points;
            return Length.FromPoints(signs.Max(s => house.Face(role).Width(s, points)) + (points * 0.8));
        }

        /// <summary>The name under which the word processor counts things of a word.</summary>
        private static string Sequence(string word) => string.Concat(word.Select(c => char.IsLetterOrDigit(c) ? c : '_'));

        /// <summary>The number of a caption, behind that of its chapter if it counts in one; the first of its kind starts anew where the house has counted before.</summary>
        private ImmutableArray<GalleyInline> NumberOf(Numbered numbered, bool starts = false)
        {
            var name = Sequence(WordOf(numbered));
            var number = numbered.Number!.Value;
            var isNext = number == lastNumbers.GetValueOrDefault(name) + 1;
            lastNumbers[name] = number;
            starts |= house.CountedBefore.Contains(name) && counted.Add(name);
            if (numbered.Chapter is not { } chapter) return [new GalleySequence(name, number, starts || !isNext)];
            return [new GalleyChapterNumber(NumberOf(chapter)), new GalleyText("."), new GalleySequence(name, number, starts || (!isNext && number != 1)) { IsOfChapter = true, IsToldToOthers = !isNext }];
        }

        /// <summary>The number of a chapter.</summary>
        private string NumberOf(BlockId chapter) => headings.TryGetValue(chapter, out var heading) ? heading.Own
            : throw new ReportException(Diagnostic.Error(null, "captions count by chapter, but the headings of chapters have no numbers", "write `headings.numbered: yes`, or `House = house with { NumbersHeadings = true }`"));

        /// <summary>A number as it stands in text.</summary>
        private string Shown(Numbered numbered) => $"{(numbered.Chapter is { } chapter ? NumberOf(chapter) + "." : "")}{Plain(numbered.Number!.Value)}{(numbered.Letter > 0 ? Counting.Write(numbered.Letter, PageNumberFormat.LowerLetter) : "")}";

        private string WordOf(Numbered target) => target.Kind switch
        {
            NumberedKind.Table => language.Words.Table,
            NumberedKind.Figure => language.Words.Figure,
            NumberedKind.Section when target.IsAppendix => language.Words.Appendix,
            NumberedKind.Section => language.Words.Section,
            NumberedKind.Item => target.Series!.Word,
            _ => language.Words.Equation,
        };

        private string PluralOf(Numbered target) => target.Kind switch
        {
            NumberedKind.Table => language.Words.Tables,
            NumberedKind.Figure => language.Words.Figures,
            NumberedKind.Section when target.IsAppendix => language.Words.Appendices,
            NumberedKind.Section => language.Words.Sections,
            NumberedKind.Item => target.Series!.Plural,
            _ => language.Words.Equations,
        };

        private void Lower(BlockId id, TableBlock block, int indents)
        {
            var lowered = TableLowering.Lower(block, report.Settings, house.Design, language, Inlines);
            var numbered = numbering.ByBlock.GetValueOrDefault(id);
            var note = TableNote(block);
            var table = lowered with { Title = TextOf(block.Caption ?? RichText.Empty), Indents = indents, Continued = numbered is null ? Spacer() : Continued(numbered) };
            Separate();
            var first = blocks.Count;
            var caption = numbered is null ? null : Caption(StyleRole.Caption, numbered, block.Caption, block.Number);
            var captionBelow = caption is not null && report.Settings.TableCaption == CaptionPlace.Below;
            if (caption is not null && !captionBelow) blocks.Add(caption);
            // The last row keeps with what belongs under the table.
            blocks.Add(note is not null || captionBelow ? table with { Rows = KeepLastRow(table.Rows) } : table);
            if (captionBelow) blocks.Add(caption! with { Style = StyleRole.FigureCaption, KeepWithNext = note is not null, IsTight = note is not null });
            if (note is not null) blocks.Add(note);
            else if (!captionBelow) blocks.Add(Spacer());
            Join(first, numbered, report.Settings.TablesMayDrift && indents == 0, shrink: 0);
        }

        /// <summary>What stands under one caption is one thing on the page.</summary>
        private void Join(int first, Numbered? numbered, bool mayDrift, double shrink)
        {
            if (numbered is null) return;
            // Notes are numbered in the order of their marks.
            var hasNotes = blocks.Skip(first).OfType<GalleyParagraph>().Any(p => p.Inlines.Any(HasNote));
            var floating = new GalleyFloat($"{WordOf(numbered)} {Shown(numbered)}", mayDrift && numbered.IsReferred && !numbered.Title.IsEmpty && !hasNotes, shrink);
            for (var i = first; i < blocks.Count; i++) blocks[i] = blocks[i] with { Float = floating };
        }

        private static bool HasNote(GalleyInline inline) => inline is GalleyNoteMark || (inline is GalleyContainer container && container.Content.Any(HasNote));

        private static GalleyRows KeepLastRow(GalleyRows rows) => new(rows.Count, i => i == rows.Count - 1 ? TableLowering.Keep(rows[i]) : rows[i]);

        /// <summary>What the writer of the report says under the table, and then what the table says of itself.</summary>
        private GalleyParagraph? TableNote(TableBlock block)
        {
            var inlines = ImmutableArray.CreateBuilder<GalleyInline>();
            var notes = block.Note is { IsEmpty: false } own ? block.Table.Notes.Insert(0, own) : block.Table.Notes;
            foreach (var note in notes)
            {
                if (inlines.Count > 0) inlines.Add(new GalleyText(" "));
                Append(inlines, note, CharacterFormat.Plain);
            }
            AppendSymbols(inlines, block.Table);
            AppendSource(inlines, block.Source);
            return inlines.Count == 0 ? null : new GalleyParagraph(StyleRole.Note, inlines.ToImmutable());
        }

        /// <summary>What the signs mean that stand in a table, on a line of its own.</summary>
        private void AppendSymbols(ImmutableArray<GalleyInline>.Builder inlines, Tables.Table table)
        {
            if (report.Settings.TableSymbols.IsEmpty) return;
            var texts = table.Rows.SelectMany(r => r.Cells).SelectMany(c => new[] { c.Content.ToPlainText(language), c.Sign?.ToPlainText(language) ?? "" }).ToHashSet();
            var used = report.Settings.TableSymbols.Where(s => texts.Contains(s.Sign)).Select(s => $"{s.Sign}{Unbreakable}{s.Meaning}").ToArray();
            if (used.Length == 0) return;
            if (inlines.Count > 0) inlines.Add(new GalleyBreak());
            inlines.Add(new GalleyText($"{string.Join("; ", used)}."));
        }

        /// <summary>What a table or figure was made from, on a line of its own.</summary>
        private void AppendSource(ImmutableArray<GalleyInline>.Builder inlines, RichText? source)
        {
            if (source is not { IsEmpty: false }) return;
            if (inlines.Count > 0) inlines.Add(new GalleyBreak());
            inlines.Add(new GalleyText($"{language.Words.Source} "));
            Append(inlines, source, CharacterFormat.Plain);
        }

        private GalleyParagraph Continued(Numbered numbered) =>
            new(StyleRole.Caption, [new GalleyReference(numbered.Bookmark, $"{WordOf(numbered)}{Unbreakable}{Shown(numbered)}"), new GalleyText($", {language.Words.Continued}")]);

        private void Lower(BlockId id, FigureBlock block, int indents)
        {
            var name = block.Label?.Name ?? $"figure {id.Index}";
            var first = blocks.Count;
            var numbered = numbering.ByBlock.GetValueOrDefault(id);
            if (block.Panels is { } panels) Place(panels, block, name, numbered);
            else blocks.Add(new GalleyParagraph(StyleRole.Figure, [block.Picture is { } picture ? Place(picture, block, name) : block.Drawn is { } drawn ? Place(drawn, block, name) : Place(block.Chart!, block, name)]) { Alignment = block.Alignment ?? report.Settings.FigureAlignment });
            var note = ImmutableArray.CreateBuilder<GalleyInline>();
            if (block.Note is { IsEmpty: false }) Append(note, block.Note, CharacterFormat.Plain);
            AppendSource(note, block.Source);
            var hasNote = note.Count > 0;
            if (numbered is not null)
            {
                var above = report.Settings.FigureCaption == CaptionPlace.Above;
                var caption = Caption(above ? StyleRole.Caption : StyleRole.FigureCaption, numbered, block.Caption);
                if (above) blocks.Insert(first, caption);
                else blocks.Add(caption with { KeepWithNext = hasNote, IsTight = hasNote });
            }
            if (hasNote) blocks.Add(new GalleyParagraph(StyleRole.Note, note.ToImmutable()));
            Join(first, numbered, report.Settings.FiguresMayDrift && indents == 0, report.Settings.FigureShrink);
        }

        /// <summary>Charts beside each other, as cells of a table without rules.</summary>
        private void Place(ChartPanels panels, FigureBlock block, string name, Numbered? numbered)
        {
            var title = panels.TitlesIn(language);
            if (panels.Measured.Length > 0) blocks.Add(new GalleyParagraph(StyleRole.Note, [new GalleyText(panels.Measured)]) { KeepWithNext = true });
            Place(BoxLook.Panels, title.Length > 0 ? title : name, panels.Columns, 0, [.. panels.Panels.Select((panel, i) => (Action)(() =>
            {
                var isNamed = panel.Title is not null && !panels.HasLetters;
                var chart = isNamed ? panel.Chart with { Subtitle = ChartWords.Of(panel.Title!, null, language) } : panel.Chart;
                if (panels.HasLetters) blocks.Add(Lettered((char)('a' + i), panel.Title is null ? "" : ChartWords.Of(panel.Title, null, language), numbered));
                var drawn = Draw(chart, textWidth, block.Height?.Of(textWidth) ?? (chart.LiesOnSide == true ? null : textWidth * PanelShape), block.Place, $"{name} {i + 1}", block.AlternativeText);
                blocks.Add(new GalleyParagraph(StyleRole.Figure, [(block.IsNative ?? report.Settings.HasNativeCharts) && !ChartCheck.NeedsPicture(chart) ? drawn : drawn.AsPicture(report.PictureTools, block.DotsPerInch ?? report.Settings.FigureDotsPerInch, block.Place)]));
            }))]);
            // The caption or the note stands behind the table in place of an empty paragraph.
            if (block.Caption is { IsEmpty: false } || block.Label is not null || block.Note is { IsEmpty: false } || block.Source is { IsEmpty: false }) blocks.RemoveAt(blocks.Count - 1);
        }

        /// <summary>The letter of a panel and what that shows.</summary>
        private static GalleyParagraph Lettered(char letter, string title, Numbered? figure)
        {
            var bookmark = figure?.PanelBookmarks.GetValueOrDefault(letter);
            return new GalleyParagraph(StyleRole.Note, [new GalleyText("("), Marked(bookmark, new GalleyText(letter.ToString())), new GalleyText($"){(title.Length > 0 ? Unbreakable + title : "")}")]) { KeepWithNext = true };
        }

        private GalleyInline Place(Chart chart, FigureBlock block, string name)
        {
            var width = Narrow((block.Width ?? report.Settings.FigureWidth)?.Of(textWidth) ?? textWidth);
            GalleyChart Drawn(Length? height) => Draw(chart, width, height, block.Place, name, block.AlternativeText);
            var drawn = Drawn(block.Height?.Of(width)) with { Resized = height => Drawn(height) };
            return (block.IsNative ?? report.Settings.HasNativeCharts) && !ChartCheck.NeedsPicture(chart) ? drawn : drawn.AsPicture(report.PictureTools, block.DotsPerInch ?? report.Settings.FigureDotsPerInch, block.Place);
        }

        private GalleyChart Draw(Chart chart, Length width, Length? height, SourcePlace? place, string name, string? alternative)
        {
            chart = chart with
            {
                Palette = chart.Palette.IsEmpty ? report.Settings.FigurePalette : chart.Palette,
                Labels = chart.Labels == SeriesLabels.Chosen ? report.Settings.FigureLabels : chart.Labels,
            };
            try
            {
                var drawing = ChartDrawer.Draw(chart, width, height, report.Settings.FigureHeight?.Of(width) ?? width * house.Design.FigureShape, house, language);
                return new GalleyChart(drawing, name, alternative ?? drawing.Description);
            }
            catch (ValueFormatException problem)
            {
                throw new ReportException([Diagnostic.Error(place, problem.Message, problem.Suggestion)], problem);
            }
        }

        private GalleyPicture Place(IDrawnFigure drawn, FigureBlock block, string name)
        {
            var width = Narrow((block.Width ?? report.Settings.FigureWidth)?.Of(textWidth) ?? textWidth);
            var height = (block.Height ?? report.Settings.FigureHeight)?.Of(width) ?? width * house.Design.FigureShape;
            try
            {
                return new GalleyPicture(drawn.Draw(ChartDrawer.FrameOf(house, width, height, block.DotsPerInch ?? report.Settings.FigureDotsPerInch, report.PictureTools)), width, height, name, block.AlternativeText ?? "");
            }
            catch (ReportException problem) when (block.Place is { } place)
            {
                throw new ReportException(problem.Diagnostics.Select(d => d with { Place = d.Place ?? place }), problem);
            }
        }

        /// <summary>A picture keeps its shape unless it is given both width and height.</summary>
        private GalleyPicture Place(Picture picture, FigureBlock block, string name)
        {
            var shape = (double)picture.PixelHeight / picture.PixelWidth;
            // A share for the height alone is one of the picture's own.
            var width = Narrow(block.Width?.Of(textWidth) ?? (block.Height is { } given ? given.Of(picture.Height) * (1 / shape) : picture.Width));
            return new GalleyPicture(picture, width, block is { Width: not null, Height: { } height } ? height.Of(width) : width * shape, name, block.AlternativeText ?? "");
        }

        private Length Narrow(Length width) => width > textWidth ? textWidth : width;

        /// <summary>The bookmark holds word and number, and nothing that is formatted, since a reference carries formatting along.</summary>
        private GalleyParagraph Caption(StyleRole style, Numbered numbered, RichText? caption, int? startsAt = null)
        {
            var inlines = ImmutableArray.CreateBuilder<GalleyInline>();
            var number = NumberOf(numbered, startsAt is not null);
            inlines.Add(new GalleyBookmark(numbered.Bookmark, [new GalleyText(WordOf(numbered) + Unbreakable), .. numbered.NumberBookmark is { } own ? [new GalleyBookmark(own, number)] : number]));
            if (caption is { IsEmpty: false })
            {
                inlines.Add(new GalleyText(". "));
                if (numbered.TitleBookmark is { } title) inlines.AddRange(OutsideMarks(Inlines(caption), words => new GalleyBookmark(title, words)));
                else Append(inlines, caption, CharacterFormat.Plain);
            }
            return new GalleyParagraph(style, numbered.ContentsBookmark is { } contents ? [new GalleyBookmark(contents, inlines.ToImmutable())] : inlines.ToImmutable());
        }

        /// <summary>Places of the index stand outside of bookmarks: what refers to those would be places of it too.</summary>
        private static IEnumerable<GalleyInline> OutsideMarks(ImmutableArray<GalleyInline> words, Func<ImmutableArray<GalleyInline>, GalleyInline> mark) =>
            words.OfType<GalleyIndexMark>().Prepend(mark([.. words.Where(w => w is not GalleyIndexMark)]));

        private static GalleyInline Marked(string? bookmark, GalleyInline content) => bookmark is null ? content : new GalleyBookmark(bookmark, [content]);

        /// <summary>Two tables never touch: the word processor would make them one.</summary>
        private void Separate()
        {
            if (blocks.Count > 0 && IsTable(blocks[^1])) blocks.Add(Spacer());
        }

        /// <summary>A numbered equation is written as a table.</summary>
        private static bool IsTable(GalleyBlock block) => block is GalleyTable or GalleyBox or GalleyEquation { Number.IsEmpty: false };

        private static GalleyParagraph Footer(string title)
        {
            var shortTitle = title.Length <= ShortTitle ? title : string.Concat(title.AsSpan(0, Math.Max(title.LastIndexOf(' ', ShortTitle), ShortTitle / 2)).TrimEnd(), "…");
            return new GalleyParagraph(StyleRole.Footer, [title.Length > 0 && shortTitle == title ? new GalleyReportTitle(title) : new GalleyText(shortTitle), new GalleyTab(), new GalleyPage()]);
        }

        private static GalleyParagraph Spacer() => new(StyleRole.Spacer, []);

        private void Add(StyleRole style, RichText content) => blocks.Add(new GalleyParagraph(style, Inlines(content)));

        private ImmutableArray<GalleyInline> Inlines(RichText content)
        {
            // What most cells are.
            if (content.Inlines is [TextInline only]) return [new GalleyText(only.Text) { Origins = only.Origins }];
            if (content.Inlines is [ValueInline value]) return [new GalleyText(ValueFormatter.Format(value.Value, value.Format, language))];
            return Inlines(content, CharacterFormat.Plain);
        }

        private ImmutableArray<GalleyInline> Inlines(RichText content, CharacterFormat format)
        {
            var inlines = ImmutableArray.CreateBuilder<GalleyInline>();
            Append(inlines, content, format);
            return inlines.ToImmutable();
        }

        private void Append(ImmutableArray<GalleyInline>.Builder inlines, RichText content, CharacterFormat format)
        {
            foreach (var inline in content.Inlines)
            {
                switch (inline)
                {
                    case TextInline text: inlines.Add(new GalleyText(text.Text, format) { Origins = text.Origins }); break;
                    case ValueInline value: inlines.Add(new GalleyText(ValueFormatter.Format(value.Value, value.Format, language), format)); break;
                    case PhraseInline phrase: Append(inlines, phrase.In(language), format); break;
                    case Code code: inlines.Add(new GalleyText(code.Text, format | CharacterFormat.Code)); break;
                    case CiteInline cite: Append(inlines, cite, format); break;
                    case FormulaInline formula: inlines.Add(new GalleyFormula(formula.Formula)); break;
                    case IndexInline term: inlines.Add(new GalleyIndexMark(term)); break;
                    case AbbreviationInline abbreviation:
                        var isFirst = numbering.FirstUses.Contains(abbreviation);
                        if (isFirst) Append(inlines, numbering.Abbreviations[abbreviation.Short], format);
                        inlines.Add(new GalleyText(isFirst ? $" ({abbreviation.Short})" : abbreviation.Short, format));
                        break;
                    case RaisedInline raised: inlines.Add(new GalleyText(raised.Text, format | CharacterFormat.Raised)); break;
                    case SmallChart small:
                        if (small.Mark == SmallMark.Bar || small.IsEmpty) Append(inlines, new RichText([small.IsEmpty ? new ValueInline(null, null) : small.Number]), format);
                        if (small.IsEmpty) break;
                        if (small.Mark == SmallMark.Bar) inlines.Add(new GalleyText(Unbreakable, format));
                        inlines.Add(new GalleySmallChart(SmallDrawing.Of(small), $"chart {++smallDrawings}", small.Description(language), small.Mark == SmallMark.Bar ? "" : small.Blocks(language)));
                        break;
                    case PictureInline picture:
                        var width = Narrow(picture.Width ?? picture.Picture.Width);
                        inlines.Add(new GalleyPicture(picture.Picture, width, width * ((double)picture.Picture.PixelHeight / picture.Picture.PixelWidth), $"picture {++smallDrawings}", picture.AlternativeText));
                        break;
                    case PageInline { Word: PageWord.Number }: inlines.Add(new GalleyPage(format)); break;
                    case PageInline { Word: PageWord.Count }: inlines.Add(new GalleyPageCount(format)); break;
                    case PageInline { Word: PageWord.Title }: inlines.Add(new GalleyReportTitle(report.Title?.ToPlainText(language) ?? "", format)); break;
                    case PageInline { Word: PageWord.Date }: inlines.Add(new GalleyText(report.Date is { } date ? ValueFormatter.Format(date, null, language) : "", format)); break;
                    case PageInline: inlines.Add(new GalleyChapterTitle(FirstChapter(), format)); break;
                    case BreakInline: inlines.Add(new GalleyBreak()); break;
                    case Stress emphasis: Append(inlines, emphasis.Content, format | (emphasis.Strong ? CharacterFormat.Bold : CharacterFormat.Italic)); break;
                    case StruckInline struck: Append(inlines, struck.Content, format | CharacterFormat.Struck); break;
                    case Link link: inlines.Add(new GalleyLink(link.Target, Inlines(link.Content, format | CharacterFormat.Link))); break;
                    case StyledInline styled: inlines.Add(new GalleyStyled(house.Design.FindCharacterStyle(styled.Style, styled.Place), Inlines(styled.Content, format))); break;
                    case ColouredInline coloured: inlines.Add(new GalleyColoured(coloured.Colour, Inlines(coloured.Content, format))); break;
                    case FootnoteInline note:
                        var noteMark = new GalleyNoteMark(numbering.Notes[note].Number);
                        inlines.Add(Marked(numbering.Notes[note].Bookmark, noteMark));
                        break;
                    case SameFootnoteInline { First: var first }:
                        var known = numbering.Notes[first];
                        inlines.Add(new GalleyReference(known.Bookmark!, Plain(known.Number), format | CharacterFormat.NoteMark, ReferenceForm.NoteMark));
                        break;
                    case SeeInline { Part: SeePart.Page } page:
                        var onPage = numbering.ByLabel[page.Label];
                        inlines.Add(new GalleyPageNumber(onPage.Bookmark, onPage.Begins, format));
                        break;
                    case SeeInline { Part: SeePart.Where } where:
                        var place = numbering.ByLabel[where.Label];
                        inlines.Add(new GalleyWhere(where, place.Bookmark, place.Begins, WordsFor(place), format));
                        break;
                    case SeeInline see: inlines.AddRange(Reference(see, format, isFirst: BeginsSentence(inlines))); break;
                    case SeeAllInline all: Append(inlines, all, format); break;
                    default: throw new InvalidOperationException($"No lowering for {inline.GetType().Name}.");
                }
            }
        }

        /// <summary>Whether what comes next is the first word of a sentence.</summary>
        private static bool BeginsSentence(ImmutableArray<GalleyInline>.Builder before)
        {
            for (var i = before.Count - 1; i >= 0; i--)
            {
                if (before[i] is GalleyNoteMark or GalleyBreak) continue;
                if (before[i] is not GalleyText { Text: var text }) return false;
                text = text.TrimEnd().TrimEnd(Closing);
                if (text.Length > 0) return text[^1] is '.' or '!' or '?' or '…';
            }
            return true;
        }

        private static readonly char[] Closing = ['"', '\'', ')', ']', '»', '“', '”', '‘', '’', '\u00A0', '\u202F', ' '];

        /// <summary>Several targets: those of one kind by one word and their numbers, runs of three and more by their ends.</summary>
        private void Append(ImmutableArray<GalleyInline>.Builder inlines, SeeAllInline all, CharacterFormat format)
        {
            var words = language.Words;
            ImmutableArray<Numbered> targets = [.. all.References.Select(r => numbering.ByLabel[r.Label]).Distinct()];
            var isOneKind = targets.Length > 1 && targets.All(t => t.Kind == targets[0].Kind && t.Series == targets[0].Series && t.IsAppendix == targets[0].IsAppendix && (t.Number is not null || headings.GetValueOrDefault(t.Block) is { HasWord: false }));
            if (isOneKind) inlines.Add(new GalleyText(InText(all.Word ?? PluralOf(targets[0]), all.Case, all.Word is not null || BeginsSentence(inlines)) + Unbreakable, format));
            var parts = new List<GalleyInline[]>();
            var sorted = isOneKind ? [.. targets.OrderBy(t => t.Number is null ? 0 : t.Chapter?.Index ?? -1).ThenBy(t => t.Number).ThenBy(t => t.Letter)] : targets;
            for (var i = 0; i < sorted.Length;)
            {
                var end = i;
                while (isOneKind && end + 1 < sorted.Length && Follows(sorted[end], sorted[end + 1])) end++;
                if (end - i < 2) end = i;
                var first = isOneKind ? Number(sorted[i], format) : Reference(new SeeInline(LabelOf(all, sorted[i]), null), format, BeginsSentence(inlines) && parts.Count == 0);
                parts.Add(end == i ? first : [.. first, new GalleyText("\u2013", format), .. Number(sorted[end], format)]);
                i = end + 1;
            }
            for (var i = 0; i < parts.Count; i++)
            {
                if (i > 0) inlines.Add(new GalleyText(i == parts.Count - 1 ? $" {words.And} " : ", ", format));
                inlines.AddRange(parts[i]);
            }
        }

        private string LabelOf(SeeAllInline all, Numbered target) => all.References.First(r => numbering.ByLabel[r.Label] == target).Label;

        private static bool Follows(Numbered first, Numbered second) => first.Number is { } number && first.Chapter == second.Chapter
            && (first.Letter > 0 || second.Letter > 0 ? first.Group is not null && first.Group == second.Group && second.Letter == first.Letter + 1 : second.Number == number + 1);

        /// <summary>The word before a number as it stands in a sentence.</summary>
        private string InText(string word, WordCase grammatical, bool isFirst)
        {
            word = WordCases.In(grammatical, word, language);
            return isFirst || !language.Words.IsLowerInSentences ? word : char.ToLower(word[0], language.Culture) + word[1..];
        }

        /// <summary>A reference to one thing, by word and number or as it says.</summary>
        private GalleyInline[] Reference(SeeInline see, CharacterFormat format, bool isFirst)
        {
            var target = numbering.ByLabel[see.Label];
            GalleyInline[] panel = see.Panel is { } letter ? [new GalleyReference(target.PanelBookmarks[letter], letter.ToString(), format)] : [];
            if (see.Part == SeePart.Title) return [Named(target.TitleBookmark ?? target.Bookmark, target, format)];
            if (see.Part == SeePart.Number) return [.. Number(target, format), .. panel];
            var isHeading = headings.TryGetValue(target.Block, out var heading);
            // A section without a number is known by its title.
            if (target.Number is null && !isHeading) return [Named(target.Bookmark, target, format)];
            var isApart = target.Kind is NumberedKind.Equation or NumberedKind.Section || see.HasWordApart(language);
            if (!isApart) return [new GalleyReference(target.Bookmark, $"{WordOf(target)}{Unbreakable}{Shown(target)}", format), .. panel];
            if (heading is { HasWord: true } && see.Word is null) return Number(target, format);
            return [new GalleyText(InText(see.Word ?? WordOf(target), see.Case, isFirst || see.Word is not null) + Unbreakable, format), .. Number(target, format), .. panel];
        }

        /// <summary>A reference to a number alone.</summary>
        private GalleyInline[] Number(Numbered target, CharacterFormat format)
        {
            if (target.Number is null) return headings.TryGetValue(target.Block, out var heading) ? [new GalleyReference(target.Bookmark, heading.Full, format, ReferenceForm.HeadingNumber)] : [Named(target.Bookmark, target, format)];
            if (target.IsGroup) return [new GalleyText("(", format), new GalleyReference(target.Bookmark, Shown(target), format), new GalleyText(")", format)];
            return target.Kind == NumberedKind.Equation ? [new GalleyReference(target.Bookmark, $"({Shown(target)})", format)] : [new GalleyReference(target.NumberBookmark!, Shown(target), format)];
        }

        /// <summary>The words for where something is.</summary>
        private WhereWords WordsFor(Numbered target)
        {
            var number = Phrases.Find("on page {0}", language).Split("{0}");
            var facing = section.Stories.Any(s => s.Kind.Pages == StoryPages.Even) ? Phrases.Find("on the facing page", language) : null;
            return new WhereWords(Phrases.Find(target.Block.Index > here.Index ? "below" : "above", language), Phrases.Find("on the next page", language), Phrases.Find("on the previous page", language), facing, number[0], number[1]);
        }

        /// <summary>A reference by a title. One with a formula is no field: not every reader keeps formulas in fields. Nor are titles that name each other in a circle, which no field can show.</summary>
        private GalleyInline Named(string bookmark, Numbered target, CharacterFormat format)
        {
            if (!titlesInHand.Add(target.Block))
            {
                isInCircle = true;
                return new GalleyText(target.Number is null ? "…" : Shown(target), format);
            }
            var outer = isInCircle;
            isInCircle = false;
            var words = Copied(target.Title, format);
            var isField = !isInCircle && words is [] or [GalleyText];
            isInCircle |= outer;
            titlesInHand.Remove(target.Block);
            return isField ? new GalleyReference(bookmark, TextOf(words), format) : new GalleyAnchor(bookmark, words);
        }

        /// <summary>The words of a title as they stand elsewhere: without their formatting, but with their formulas and the pages that they name.</summary>
        private ImmutableArray<GalleyInline> Copied(RichText title, CharacterFormat format)
        {
            if (title.IsEmpty) return [];
            if (!IsMoreThanText(title)) return [new GalleyText(TextOf(title), format)];
            return
            [
                .. title.Inlines.SelectMany(inline => inline switch
                {
                    FormulaInline or SeeInline { Part: SeePart.Page or SeePart.Where } => Inlines(new RichText([inline]), format),
                    _ when inline.Inside is { } inner => Copied(inner, format),
                    _ => Copied(new RichText([inline]), format),
                }),
            ];
        }

        private static bool IsMoreThanText(RichText words) =>
            words.Inlines.Any(i => i is FormulaInline or SeeInline { Part: SeePart.Page or SeePart.Where } || (i.Inside is { } inner && IsMoreThanText(inner)));

        /// <summary>The text of words, with references and citations as the reader sees them.</summary>
        private string TextOf(RichText words) => string.Concat(words.Inlines.Select(inline => inline switch
        {
            SeeInline or SeeAllInline or CiteInline => TextOf(Inlines(new RichText([inline]), CharacterFormat.Plain)),
            _ when inline.Inside is { } inner => TextOf(inner),
            _ => new RichText([inline]).ToPlainText(language),
        }));

        private static string TextOf(ImmutableArray<GalleyInline> inlines) => string.Concat(inlines.Select(inline => inline switch
        {
            GalleyText text => text.Text,
            GalleyField field => field.Result,
            GalleyContainer container => TextOf(container.Content),
            GalleyFormula formula => formula.Formula.Source,
            _ => "",
        }));

        private string FirstChapter() => numbering.Entries.FirstOrDefault(e => e is { Level: 1, Target.Kind: NumberedKind.Section }) is { } first ? TextOf(first.Target.Title) : "";

        private static string Plain(int number) => number.ToString(CultureInfo.InvariantCulture);
    }
}
