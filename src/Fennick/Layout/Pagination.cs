using System.Collections.Immutable;
using Fennick.Documents;
using Fennick.Flow;
using Fennick.Formatting;
using Fennick.Styles;

namespace Fennick.Layout;

/// <summary>Finds on which page each block begins: breaks text into lines, cuts tables into rows, and fills pages with them. Where a captioned table or figure would leave a page half empty, it makes that smaller or lets text go ahead of it.</summary>
internal sealed class Pagination
{
    private const double TwipsPerEighth = 2.5;

    // Margins that leave no room still leave this much.
    private const int LeastRoom = 240;

    // The fewest lines of a paragraph that stand alone at the foot or at the top of a page.
    private const int FewestLines = 2;

    // What is left free, in twips, where a figure was made smaller.
    private const int SlackOfShrunk = 60;

    private readonly FittedDocument document;
    private readonly IStyleBook house;
    private readonly LayoutRules rules;
    private readonly Dictionary<BlockId, PageLabel> pages = [];
    private readonly Dictionary<Inline, PageLabel> inlines = new(ReferenceEqualityComparer.Instance);

    // What stands in the rows that are being measured and has to be known by its page, or has a note there.
    private readonly List<Inline> marks = [];
    private readonly List<BlockId> held = [];
    private readonly List<int> notesInside = [];
    private readonly PageFiller filler;
    private readonly ImmutableArray<PageStart>.Builder starts = ImmutableArray.CreateBuilder<PageStart>();
    private int lastPage;
    private PageNumberFormat format = PageNumberFormat.Decimal;
    private int shift;
    private string chapter = "";
    private int tableIndex;

    // The space behind the last block, and that block.
    private int gap;
    private GalleyParagraph? before;

    // What stands beside the next lines and takes room from them.
    private TextAside aside;
    private readonly ImmutableArray<LayoutRemedy>.Builder remedies = ImmutableArray.CreateBuilder<LayoutRemedy>();

    private Pagination(FittedDocument document, IStyleBook house, LayoutRules rules)
    {
        (this.document, this.house, this.rules) = (document, house, rules);
        var lead = house.Lead;
        NoteHeight[] notes = [.. document.Flow.Notes.Select(n => HeightOfNote([.. n]))];
        filler = new PageFiller(rules, lead.FirstPage, (int)(lead.Height * 20), notes, Begin);
    }

    /// <summary>A slice stays on a page.</summary>
    private void Begin(Slice slice, int page)
    {
        if (page > lastPage && slice.Of is { } block)
        {
            lastPage = page;
            starts.Add(new PageStart(block, slice.At, new PageLabel(page, page + shift, format, chapter)));
        }
        if (slice.Begins is null && slice.Marks.IsEmpty && slice.Holds.IsEmpty) return;
        var label = new PageLabel(page, page + shift, format, chapter);
        if (slice.Begins is { } id) pages[id] = label;
        foreach (var held in slice.Holds) pages[held] = label;
        foreach (var mark in slice.Marks) inlines[mark] = label;
    }

    /// <summary>The pages of a document, and the document as it fills them.</summary>
    /// <param name="document">The document.</param>
    /// <param name="house">The house it is set in.</param>
    /// <param name="rules">Those of the word processor that opens it; of Debian's if null.</param>
    public static (PageMap Pages, FittedDocument Document) Paginate(FittedDocument document, IStyleBook house, LayoutRules? rules = null)
    {
        var pagination = new Pagination(document, house, rules ?? LayoutRules.Debian);
        var sections = document.Flow.Sections;
        var filled = sections;
        for (var i = 0; i < sections.Length; i++)
            if (pagination.Add(sections[i], isFirst: i == 0, isLast: i == sections.Length - 1) is { } blocks) filled = filled.SetItem(i, sections[i] with { Blocks = blocks });
        var lead = house.Lead;
        var pages = new PageMap(pagination.pages, pagination.inlines, Math.Max(1, pagination.filler.Page - lead.FirstPage + 1) + lead.PagesBeside) { Starts = pagination.starts.ToImmutable(), Fill = [.. pagination.filler.Filled] };
        return (pages, document with { Flow = document.Flow with { Sections = filled }, Remedies = pagination.remedies.ToImmutable() });
    }

    /// <summary>Adds a section; the result is its blocks if something has become of them.</summary>
    private ImmutableArray<GalleyBlock>? Add(GalleySection section, bool isFirst, bool isLast)
    {
        // An empty paragraph that does nothing but end a section takes no room, unless a table needs one behind it.
        var blocks = !isLast && rules.DropsSectionEnds && section.Blocks is [.., GalleyParagraph, GalleyParagraph { Style: StyleRole.Spacer, Inlines.IsEmpty: true }] ? section.Blocks[..^1] : section.Blocks;
        if (!isFirst && !section.IsContinuous) filler.BreakPage(evenIfEmpty: true);
        else filler.Settle();
        filler.Room = Math.Max(LeastRoom, section.Page.TextHeight.Twips);
        if (section.Numbers is { } numbers) (format, shift) = (numbers.Format, numbers.Start is { } start ? start - filler.Page : shift);
        else format = PageNumberFormat.Decimal;
        chapter = section is { Chapter: { } own, Numbers.ByChapter: { } sign } ? own + Counting.Sign(sign) : "";
        (gap, before) = (0, null);
        ImmutableArray<GalleyBlock>? filled = null;
        if (section.Columns.Length > 1) filler.AddInColumns(CutInColumns(blocks, section.Columns), section.Columns.Length);
        else
        {
            var order = Fill(blocks, section.Columns.IsEmpty ? section.Page.TextWidth : section.Columns[0]);
            if (!order.SequenceEqual(blocks, ReferenceEqualityComparer.Instance)) filled = [.. order, .. section.Blocks.Skip(blocks.Length)];
        }
        filler.Settle();
        return filled;
    }

    /// <summary>Fills pages with blocks; the result is their order, which may be another.</summary>
    private List<GalleyBlock> Fill(ImmutableArray<GalleyBlock> blocks, Length width)
    {
        var order = new List<GalleyBlock>(blocks.Length);
        for (var i = 0; i < blocks.Length;)
        {
            var end = i + 1;
            if (blocks[i].Float is not { } floating)
            {
                Place(blocks[i++]);
                continue;
            }
            while (end < blocks.Length && blocks[end].Float == floating) end++;
            var group = blocks[i..end];
            var lacking = Lacking(group);
            if (lacking > 0 && Smaller(group, lacking) is { } smaller) group = smaller;
            else if (lacking > 0 && floating.MayDrift && !(i > 0 && Introduces(blocks[i - 1])) && end < blocks.Length && MayGoAhead(blocks[end]) && BeginsHere(blocks[end]))
            {
                var (page, first) = (filler.Page, end);
                while (end < blocks.Length && MayGoAhead(blocks[end]) && (filler.Page == page || GoesOn(blocks[end - 1], blocks[end]))) Place(blocks[end++]);
                remedies.Add(new LayoutRemedy(floating.Name, page, 0, end - first));
            }
            foreach (var block in group) Place(block);
            i = end;
        }
        return order;

        void Place(GalleyBlock block)
        {
            if (block is GalleyBox { Look: BoxLook.SideBySide } box)
            {
                order.Add(PlaceBeside(box));
                return;
            }
            order.Add(block);
            filler.Add(Cut(block, width));
        }

        // What a table's rows are measured with is counted, and what stands before them is known, only when they are placed.
        T Looking<T>(Func<T> look)
        {
            var (table, space, paragraph) = (tableIndex, gap, before);
            var seen = look();
            (tableIndex, gap, before) = (table, space, paragraph);
            return seen;
        }

        int Lacking(ImmutableArray<GalleyBlock> group) => Looking(() =>
        {
            var slices = group.SelectMany(b => Cut(b, width)).ToArray();
            marks.Clear();
            // What may break over pages needs no help.
            var last = slices.Length - (group[^1] is GalleyParagraph { Style: StyleRole.Spacer } ? 2 : 1);
            return slices.Take(last).Any(s => !s.Keeps) ? 0 : filler.Lacking(slices[..(last + 1)]);
        });

        // Its first lines have room on the page.
        bool BeginsHere(GalleyBlock block) => Looking(() =>
        {
            var lines = new List<Slice>();
            foreach (var slice in Cut(block, width))
            {
                lines.Add(slice);
                if (!slice.Keeps) break;
            }
            return filler.Lacking(lines) <= 0;
        });

        ImmutableArray<GalleyBlock>? Smaller(ImmutableArray<GalleyBlock> group, int lacking)
        {
            for (var i = 0; i < group.Length; i++)
            {
                if (group[i] is not GalleyParagraph { Style: StyleRole.Figure, Inlines: [var drawing] } figure) continue;
                var height = drawing switch { GalleyPicture picture => picture.Height, GalleyChart chart => chart.Height, _ => Length.Zero };
                // A little more than is needed, so that it has room in every reader.
                var share = (double)(lacking + SlackOfShrunk) / Math.Max(1, height.Twips);
                if (share > group[i].Float!.Shrink) return null;
                var smaller = Length.FromTwips(height.Twips - lacking - SlackOfShrunk);
                GalleyInline? resized = drawing switch
                {
                    GalleyPicture picture => picture with { Width = picture.Width * (smaller.Points / height.Points), Height = smaller },
                    GalleyChart { Resized: { } resize } => resize(smaller) with { Resized = resize },
                    _ => null,
                };
                if (resized is null) return null;
                remedies.Add(new LayoutRemedy(group[i].Float!.Name, filler.Page, share, 0));
                return group.SetItem(i, figure with { Inlines = [resized] });
            }
            return null;
        }
    }

    /// <summary>Whether text may go ahead of a table or figure.</summary>
    private static bool MayGoAhead(GalleyBlock block) => block.Float is null && block is GalleyParagraph
    {
        BreaksPage: false, BreaksColumn: false, OpensContents: false, ClosesContents: false,
        Style: StyleRole.Body or StyleRole.ListBullet or StyleRole.ListNumber or StyleRole.ListContinue or StyleRole.Quotation or StyleRole.Definition or StyleRole.Term,
    };

    /// <summary>Whether a table or figure must not come between two blocks: the parts of a list, and what one says that the other is.</summary>
    private static bool GoesOn(GalleyBlock first, GalleyBlock second) => Introduces(first) || (first is GalleyParagraph { Style: not StyleRole.Body } && second is GalleyParagraph { Style: not (StyleRole.Body or StyleRole.Term) });

    /// <summary>Whether a paragraph ends with a colon.</summary>
    private static bool Introduces(GalleyBlock block) => block is GalleyParagraph { Inlines: [.., GalleyText last] } && last.Text.AsSpan().TrimEnd() is [.., ':' or '\uFF1A'];

    /// <summary>The height of blocks that stand one below the other.</summary>
    private int HeightOf(ImmutableArray<GalleyBlock> blocks, Length width)
    {
        var height = 0;
        foreach (var slice in Cut(blocks, width))
        {
            height += slice.Before + slice.Height;
            marks.AddRange(slice.Marks);
            notesInside.AddRange(slice.Notes);
            held.AddRange(slice.Holds);
            if (slice.Begins is { } id) held.Add(id);
        }
        // The space behind the last paragraph counts in full.
        return height + SpaceAfter(blocks);
    }

    private int SpaceAfter(ImmutableArray<GalleyBlock> blocks) => blocks is [.., GalleyParagraph last] ? house.Style(last.Style).After.Twips : 0;

    private NoteHeight HeightOfNote(ImmutableArray<GalleyBlock> blocks)
    {
        Slice[] slices = [.. Cut(blocks, house.Page.TextWidth)];
        var after = SpaceAfter(blocks);
        var height = slices.Sum(s => s.Before + s.Height) + after;
        var tail = after + slices[^1].Overhang;
        // It breaks where a paragraph may.
        var first = Array.FindIndex(slices, s => !s.Keeps);
        return new NoteHeight(height, tail, first == slices.Length - 1 ? height - tail : slices.Take(first + 1).Sum(s => s.Before + s.Height), slices[0].Height);
    }

    /// <summary>Cuts blocks into slices, as if nothing stood before them.</summary>
    private List<Slice> Cut(ImmutableArray<GalleyBlock> blocks, Length width)
    {
        var outer = (gap, before);
        (gap, before) = (0, null);
        var slices = new List<Slice>();
        foreach (var block in blocks) slices.AddRange(Cut(block, width));
        (gap, before) = outer;
        return slices;
    }

    /// <summary>Cuts blocks that stand side by side; each is as wide as the column that it is told to begin. Where none is told to, columns are as wide as the first.</summary>
    private List<Slice> CutInColumns(ImmutableArray<GalleyBlock> blocks, ImmutableArray<Length> columns)
    {
        var slices = new List<Slice>();
        var column = 0;
        foreach (var block in blocks)
        {
            if (block is GalleyParagraph { BreaksColumn: true }) column = Math.Min(column + 1, columns.Length - 1);
            slices.AddRange(Cut(block, columns[column]));
        }
        return slices;
    }

    /// <summary>Cuts a block into slices.</summary>
    private IEnumerable<Slice> Cut(GalleyBlock block, Length width)
    {
        switch (block)
        {
            case GalleyTable table:
                aside = default;
                foreach (var slice in Cut(table, document.Tables[tableIndex++], gap)) yield return slice;
                gap = 0;
                break;
            case GalleyBox box:
                foreach (var slice in Cut(box, gap)) yield return slice;
                gap = 0;
                break;
            case GalleyEquation equation:
                var look = house.Style(StyleRole.Equation);
                var height = FormulaHeight.Of(equation.Formula.Root);
                // A numbered one stands in a table, whose cells hold the space around it.
                var isTable = !equation.Number.IsEmpty;
                yield return isTable
                    ? new Slice(gap, look.Before.Twips + height + look.After.Twips) { Of = block, Begins = block.Begins, BreaksPage = equation.BreaksPage }
                    : new Slice(Math.Max(gap, look.Before.Twips), height) { Of = block, Begins = block.Begins, BreaksPage = equation.BreaksPage };
                gap = isTable ? 0 : look.After.Twips;
                break;
            case GalleyParagraph note when house.Style(note.Style).InMargin:
                if (MarginFrame.Of(house.Page) is { IsInText: true } frame) aside = new TextAside(HeightOfAside(note, frame.Width), frame.Width + MarginFrame.Gap);
                break;
            case GalleyParagraph paragraph:
                var style = house.Style(paragraph.Style);
                var isClose = style.Contextual && before?.Style == paragraph.Style;
                foreach (var slice in Cut(paragraph, width, isClose ? 0 : Math.Max(gap, style.Before.Twips))) yield return slice;
                gap = paragraph.IsTight ? 0 : style.After.Twips;
                break;
        }
        before = block as GalleyParagraph;
    }

    private int HeightOfAside(GalleyParagraph note, Length width)
    {
        var style = house.Style(note.Style);
        return LineBreaker.Break(note.Inlines, rules, house, note.Style, style.Points, width.Points).Sum(line => line.Spaced(rules, style.Lines)) + style.After.Twips;
    }

    private IEnumerable<Slice> Cut(GalleyParagraph paragraph, Length width, int space)
    {
        var style = house.Style(paragraph.Style);
        var left = LeftOf(paragraph, style);
        var beside = aside with { Height = aside.Height - (aside.IsBegun ? space : 0) };
        var lines = LineBreaker.Break(paragraph.Inlines, rules, house, paragraph.Style, style.Points, (width - left - style.IndentRight).Points, paragraph.List is null ? (paragraph.Hanging ?? style.Hanging).Points : 0, beside, style.Lines);
        if (aside.Height > 0) aside = beside with { Height = beside.Height - lines.Sum(line => line.Spaced(rules, style.Lines)), IsBegun = true };
        var keepsNext = style.KeepWithNext || paragraph.KeepWithNext;
        var (above, below) = (RuleHeight(style.RuleAbove), RuleHeight(style.RuleBelow));
        for (var i = 0; i < lines.Count; i++)
        {
            var single = lines[i].Metrics.Height;
            var height = lines[i].Spaced(rules, style.Lines);
            var isLast = i == lines.Count - 1;
            yield return new Slice(i == 0 ? space : 0, height + (i == 0 ? above : 0) + (isLast ? below : 0))
            {
                Overhang = Math.Max(0, height - single),
                Keeps = isLast ? keepsNext : style.KeepLines || i + 1 < FewestLines || lines.Count - 1 - i < FewestLines,
                Notes = lines[i].Notes,
                Marks = lines[i].Marks,
                Of = paragraph,
                At = lines[i].Start,
                Begins = i == 0 ? paragraph.Begins : null,
                BreaksPage = i == 0 && paragraph.BreaksPage,
                BreaksColumn = i == 0 && paragraph.BreaksColumn,
            };
        }
    }

    private Length LeftOf(GalleyParagraph paragraph, ParagraphStyle style)
    {
        if (paragraph.List is { } place) return style.ListStep * (place.Level + 1);
        if (paragraph.Hanging is { } hanging) return style.IndentLeft + hanging;
        return style.IndentLeft + (house.ListStep * Math.Max(0, paragraph.Indents - (paragraph.Style == StyleRole.ListContinue ? 1 : 0)));
    }

    private static int RuleHeight(ParagraphRule? rule) => rule is null ? 0 : (int)(rule.EighthsOfPoint * TwipsPerEighth) + (rule.Space * 20);

    private static int RuleHeight(TableRule? rule) => rule is null ? 0 : (int)(rule.EighthsOfPoint * TwipsPerEighth);

    private IEnumerable<Slice> Cut(GalleyTable table, TableGeometry geometry, int gap)
    {
        var design = house.Ruling(table.Ruling);
        var (header, belowBefore) = (0, CellRule.AsStyle);
        for (var i = 0; i < table.Rows.Count; i++)
        {
            var row = table.Rows[i];
            var rule = i == 0 ? RuleHeight(design.Outer) : Math.Max(RuleHeight(i == table.HeaderRows && belowBefore is CellRule.AsStyle or CellRule.Strong ? design.Header ?? design.Inner ?? design.Rows : design.Inner ?? design.Rows), row.Cells.Any(c => c.Above == CellRule.Thin) || belowBefore == CellRule.Thin ? RuleHeight(design.Thin) : 0);
            var height = rule + HeightOf(row, geometry, design) + (i == table.Rows.Count - 1 ? RuleHeight(design.Bottom) : 0);
            if (i < table.HeaderRows) header += height;
            belowBefore = row.Cells.Select(c => c.Below).DefaultIfEmpty().Max();
            yield return new Slice(i == 0 ? gap : 0, height)
            {
                Keeps = row.Cells.Any(c => c.KeepWithNext) || i < table.HeaderRows,
                Of = table,
                At = i,
                Begins = i == 0 ? table.Begins : null,
                Marks = Taken(marks),
                Notes = Taken(notesInside),
                Repeated = i >= table.HeaderRows ? header : 0,
            };
        }
    }

    /// <summary>What was gathered while rows were measured.</summary>
    private static ImmutableArray<T> Taken<T>(List<T> gathered)
    {
        if (gathered.Count == 0) return [];
        ImmutableArray<T> taken = [.. gathered];
        gathered.Clear();
        return taken;
    }

    private int HeightOf(GalleyRow row, TableGeometry geometry, RulingDesign design)
    {
        var (tallest, place) = (0, 0);
        foreach (var cell in row.Cells)
        {
            var style = house.Style(cell.Style);
            var points = house.Style(cell.Style.At(geometry.TextStep)).Points;
            var width = (geometry.WidthOf(place, cell.ColumnSpan) / 20.0) - geometry.CellMargins - CellText.Indent(cell).Points;
            place += cell.ColumnSpan;
            if (cell.Merge == CellMerge.Continues) continue;
            var height = 0;
            if (geometry.Wraps || cell.Inlines is not ([] or [GalleyText]))
            {
                foreach (var line in LineBreaker.Break(cell.Inlines, rules, house, cell.Style, points, width))
                {
                    height += line.Spaced(rules, style.Lines);
                    if (!line.Marks.IsEmpty) marks.AddRange(line.Marks);
                    if (!line.Notes.IsEmpty) notesInside.AddRange(line.Notes);
                }
            }
            else height = rules.Spaced(house.Face(cell.Style).Line(points).Height, style.Lines);
            tallest = Math.Max(tallest, height + style.Before.Twips + style.After.Twips + (int)(design.CellPadding * 20) + (cell.SpaceBelow > Length.Zero ? cell.SpaceBelow.Twips : (int)(design.CellPaddingBelow * 20)));
        }
        return tallest;
    }

    /// <summary>Places what stands side by side: together, or in cells that go on over pages if it needs more than half of one. The result says which.</summary>
    private GalleyBox PlaceBeside(GalleyBox box)
    {
        var (space, table) = (gap, tableIndex);
        (gap, before) = (0, null);
        Slice[] rows = [.. Cut(box, space)];
        if (rows.Sum(r => r.Height) <= filler.Room / 2)
        {
            filler.Add(rows);
            return box;
        }
        tableIndex = table;
        var design = house.Design.Boxes[(int)box.Look];
        List<Slice>[] cells = [.. box.Rows[0].Select((cell, column) => Cut(cell, box.RoomOf(column, design)))];
        foreach (var (column, cell) in cells.Index()) cell[^1] = cell[^1] with { Height = cell[^1].Height + SpaceAfter(box.Rows[0][column]) };
        if (box.Begins is { } id) cells[0][0] = cells[0][0] with { Holds = [.. cells[0][0].Holds, id] };
        filler.AddBeside(cells, space);
        return box with { IsLong = true };
    }

    private IEnumerable<Slice> Cut(GalleyBox box, int gap)
    {
        var design = house.Design.Boxes[(int)box.Look];
        var (above, below) = ((int)(design.CellPadding * 20), (int)(design.CellPaddingBelow * 20));
        foreach (var (index, row) in box.Rows.Index())
        {
            var space = index == 0 ? gap : 0;
            if (box.IsInOnePiece)
            {
                var height = row.Index().Max(cell => HeightOf(cell.Item, box.RoomOf(cell.Index, design))) + above + below + RuleHeight(index == 0 ? design.Outer : design.Inner ?? design.Rows);
                yield return new Slice(space, height) { Of = box, At = index, Begins = index == 0 ? box.Begins : null, Marks = Taken(marks), Notes = Taken(notesInside), Holds = Taken(held) };
                continue;
            }
            Slice[] slices = [.. Cut(row[0], box.RoomOf(0, design))];
            var after = SpaceAfter(row[0]);
            for (var i = 0; i < slices.Length; i++)
            {
                var slice = slices[i];
                if (i == 0) slice = slice with { Before = space, Height = slice.Height + slice.Before + above, Begins = slice.Begins ?? box.Begins };
                if (i == slices.Length - 1) slice = slice with { Height = slice.Height + after + below };
                // What begins with a title moves to the next page as a whole if that has room for it.
                else if (row[0] is [GalleyParagraph first, ..] && house.Style(first.Style).KeepWithNext) slice = slice with { Keeps = true };
                if (i > 0) slice = slice with { Repeated = above };
                yield return slice;
            }
        }
    }
}
