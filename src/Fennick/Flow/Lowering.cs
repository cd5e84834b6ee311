using System.Collections.Immutable;
using System.Globalization;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Houses;
using Fennick.Tables;

namespace Fennick.Flow;

/// <summary>Lowers a numbered report to the paragraphs and tables of a house.</summary>
internal static class Lowering
{
    public static FlowDocument Lower(ReportContent report, Numbering numbering, DressedHouse house)
    {
        var pass = new Pass(report, numbering, house);
        pass.TitleBlock();
        foreach (var block in report.Blocks) pass.Lower(block, indents: 0);
        return pass.Finish();
    }

    private sealed class Pass(ReportContent report, Numbering numbering, DressedHouse house)
    {
        private const string Unbreakable = "\u00A0";
        private const int ShortTableRows = 24;
        private const int ShortTitle = 70;

        private readonly BlockCounter ids = new();
        private readonly ImmutableArray<FlowBlock>.Builder blocks = ImmutableArray.CreateBuilder<FlowBlock>();
        private readonly ImmutableArray<FlowList>.Builder lists = ImmutableArray.CreateBuilder<FlowList>();
        private readonly Language language = report.Language;

        public FlowDocument Finish()
        {
            // A table is never last in a body.
            if (blocks.Count == 0 || blocks[^1] is FlowTable) blocks.Add(Spacer());
            var title = report.Title?.ToPlainText(language) ?? "";
            var properties = new DocumentProperties(title, report.Subtitle?.ToPlainText(language) ?? "", report.Authors, report.Date, language.Tag);
            return new FlowDocument([new FlowSection(house.Page, blocks.ToImmutable(), Footer(title))], lists.ToImmutable(), properties);
        }

        public void TitleBlock()
        {
            if (report.Title is { } title) Add(StyleRole.Title, title);
            if (report.Subtitle is { } subtitle) Add(StyleRole.Subtitle, subtitle);
            if (!report.Authors.IsEmpty) Add(StyleRole.Author, string.Join(", ", report.Authors));
            if (report.Date is { } date) Add(StyleRole.Date, ValueFormatter.Format(date, null, language));
        }

        public void Lower(Block block, int indents)
        {
            var id = ids.Next();
            var before = blocks.Count;
            switch (block)
            {
                case Heading heading:
                    var words = Inlines(heading.Content);
                    blocks.Add(new FlowParagraph(StyleRole.Heading1 + Math.Clamp(heading.Level, 1, 6) - 1, [new FlowBookmark(numbering.ByBlock[id].Bookmark, words)]));
                    break;
                case Paragraph paragraph:
                    blocks.Add(new FlowParagraph(indents > 0 ? StyleRole.ListContinue : StyleRole.Body, Inlines(paragraph.Content)) { Indents = indents });
                    break;
                case ListBlock list:
                    Lower(list, indents);
                    break;
                case Quotation quotation:
                    foreach (var inner in quotation.Blocks) Lower(inner, indents);
                    for (var i = before; i < blocks.Count; i++)
                        if (blocks[i] is FlowParagraph { Style: StyleRole.Body or StyleRole.ListContinue } quoted) blocks[i] = quoted with { Style = StyleRole.Quotation };
                    break;
                case Listing listing:
                    blocks.Add(new FlowParagraph(StyleRole.Listing, [new FlowText(listing.Code)]) { Indents = indents });
                    break;
                case ThoughtBreak:
                    blocks.Add(new FlowParagraph(StyleRole.ThoughtBreak, []));
                    break;
                case TableBlock table:
                    Lower(id, table, indents);
                    break;
                case FigureBlock figure:
                    Lower(id, figure);
                    break;
                default:
                    throw new InvalidOperationException($"No lowering for {block.GetType().Name}.");
            }
            if (blocks.Count > before && blocks[before].Begins is null) blocks[before] = blocks[before] with { Begins = id };
        }

        private void Lower(ListBlock list, int level)
        {
            var number = lists.Count;
            lists.Add(new FlowList(list.Ordered, list.Start, level));
            foreach (var item in list.Items)
            {
                var first = blocks.Count;
                foreach (var inner in item) Lower(inner, level + 1);
                var place = new ListPlace(number, level);
                var style = list.Ordered ? StyleRole.ListNumber : StyleRole.ListBullet;
                // The item's first paragraph carries the bullet; an item that starts with anything else gets an empty one.
                if (first < blocks.Count && blocks[first] is FlowParagraph { Style: StyleRole.ListContinue, List: null } paragraph)
                    blocks[first] = paragraph with { Style = style, List = place, Indents = 0 };
                else
                    blocks.Insert(first, new FlowParagraph(style, []) { List = place });
            }
        }

        private void Lower(BlockId id, TableBlock block, int indents)
        {
            var table = block.Table;
            var caption = block.Caption?.ToPlainText(language) ?? "";
            Separate();
            if (numbering.ByBlock.TryGetValue(id, out var numbered)) blocks.Add(Caption(StyleRole.Caption, language.Words.Table, numbered, block.Caption));
            var hasNote = block.Note is { IsEmpty: false };
            var rows = ImmutableArray.CreateBuilder<FlowRow>(table.HeaderRows.Length + table.Rows.Length);
            foreach (var row in table.HeaderRows) rows.Add(LowerRow(table, row, isHeader: true, keeps: true));
            for (var i = 0; i < table.Rows.Length; i++)
            {
                var fromEnd = table.Rows.Length - 1 - i;
                var keeps = fromEnd == 0 ? hasNote : table.Rows.Length <= ShortTableRows || i < 2 || fromEnd <= 2;
                rows.Add(LowerRow(table, table.Rows[i], isHeader: false, keeps));
            }
            var heads = string.Join(", ", table.HeaderRows.LastOrDefault()?.Cells.Select(c => c.Content.ToPlainText(language)) ?? []);
            blocks.Add(new FlowTable(table.Columns, rows.ToImmutable(), block.Ruling ?? report.Settings.TableRuling, caption, heads) { Indents = indents });
            blocks.Add(hasNote ? new FlowParagraph(StyleRole.Note, Inlines(block.Note!)) : Spacer());
        }

        private FlowRow LowerRow(Table table, TableRow row, bool isHeader, bool keeps)
        {
            var cells = ImmutableArray.CreateBuilder<FlowCell>(row.Cells.Length);
            for (var c = 0; c < row.Cells.Length; c++)
            {
                var alignment = table.Columns[c].Alignment;
                var style = (isHeader, alignment) switch
                {
                    (true, Alignment.Right) => StyleRole.TableHeadNumber,
                    (true, _) => StyleRole.TableHead,
                    (false, Alignment.Right) => StyleRole.TableNumber,
                    _ => StyleRole.TableText,
                };
                cells.Add(new FlowCell(new FlowParagraph(style, Inlines(row.Cells[c].Content)) { KeepWithNext = keeps && !isHeader, Centred = alignment == Alignment.Centre }));
            }
            return new FlowRow(cells.MoveToImmutable(), isHeader);
        }

        private void Lower(BlockId id, FigureBlock block)
        {
            var width = block.Width ?? report.Settings.FigureWidth ?? house.Page.TextWidth;
            if (width > house.Page.TextWidth) width = house.Page.TextWidth;
            var height = block.Height ?? report.Settings.FigureHeight ?? width * house.Design.FigureShape;
            var name = block.Label?.Name ?? $"figure {id.Index}";
            var description = block.AlternativeText ?? block.Chart.Describe(language);
            blocks.Add(new FlowParagraph(StyleRole.Figure, [new FlowChart(block.Chart, width, height, name, description)]));
            var hasNote = block.Note is { IsEmpty: false };
            if (numbering.ByBlock.TryGetValue(id, out var numbered))
                blocks.Add(Caption(StyleRole.FigureCaption, language.Words.Figure, numbered, block.Caption) with { KeepWithNext = hasNote });
            if (hasNote) blocks.Add(new FlowParagraph(StyleRole.Note, Inlines(block.Note!)));
        }

        /// <summary>The bookmark holds word and number, and nothing that is formatted, since a reference carries formatting along.</summary>
        private FlowParagraph Caption(StyleRole style, string word, Numbered numbered, RichText? caption)
        {
            var inlines = ImmutableArray.CreateBuilder<FlowInline>();
            var number = numbered.Number!.Value.ToString(CultureInfo.InvariantCulture);
            var sequence = new FlowField($"SEQ {word.Replace(' ', '_')} \\* ARABIC", number);
            inlines.Add(new FlowBookmark(numbered.Bookmark, [new FlowText(word + Unbreakable), sequence]));
            if (caption is { IsEmpty: false })
            {
                inlines.Add(new FlowText(". "));
                Append(inlines, caption, CharacterFormat.Plain);
            }
            return new FlowParagraph(style, inlines.ToImmutable());
        }

        /// <summary>Two tables never touch: the word processor would make them one.</summary>
        private void Separate()
        {
            if (blocks.Count > 0 && blocks[^1] is FlowTable) blocks.Add(Spacer());
        }

        private static FlowParagraph Footer(string title)
        {
            var shortTitle = title.Length <= ShortTitle ? title : string.Concat(title.AsSpan(0, Math.Max(title.LastIndexOf(' ', ShortTitle), ShortTitle / 2)).TrimEnd(), "…");
            return new FlowParagraph(StyleRole.Footer, [new FlowText(shortTitle), new FlowTab(), new FlowField("PAGE", "1")]);
        }

        private static FlowParagraph Spacer() => new(StyleRole.Spacer, []);

        private void Add(StyleRole style, RichText content) => blocks.Add(new FlowParagraph(style, Inlines(content)));

        private ImmutableArray<FlowInline> Inlines(RichText content)
        {
            if (content.Inlines is [TextInline only]) return [new FlowText(only.Text)];
            var inlines = ImmutableArray.CreateBuilder<FlowInline>();
            Append(inlines, content, CharacterFormat.Plain);
            return inlines.ToImmutable();
        }

        private void Append(ImmutableArray<FlowInline>.Builder inlines, RichText content, CharacterFormat format)
        {
            foreach (var inline in content.Inlines)
            {
                switch (inline)
                {
                    case TextInline text: inlines.Add(new FlowText(text.Text, format)); break;
                    case ValueInline value: inlines.Add(new FlowText(ValueFormatter.Format(value.Value, value.Format, language), format)); break;
                    case CodeInline code: inlines.Add(new FlowText(code.Text, format | CharacterFormat.Code)); break;
                    case BreakInline: inlines.Add(new FlowBreak()); break;
                    case EmphasisInline emphasis: Append(inlines, emphasis.Content, format | (emphasis.Strong ? CharacterFormat.Bold : CharacterFormat.Italic)); break;
                    case LinkInline link:
                        var inner = ImmutableArray.CreateBuilder<FlowInline>();
                        Append(inner, link.Content, format | CharacterFormat.Link);
                        inlines.Add(new FlowLink(link.Target, inner.ToImmutable()));
                        break;
                    case SeeInline see: inlines.Add(Reference(numbering.ByLabel[see.Label], format)); break;
                    default: throw new InvalidOperationException($"No lowering for {inline.GetType().Name}.");
                }
            }
        }

        private FlowField Reference(Numbered target, CharacterFormat format)
        {
            var word = target.Kind == NumberedKind.Table ? language.Words.Table : language.Words.Figure;
            var text = target.Number is { } number
                ? string.Create(CultureInfo.InvariantCulture, $"{word}{Unbreakable}{number}")
                : target.Title.ToPlainText(language);
            return new FlowField($"REF {target.Bookmark} \\h", text, format);
        }
    }
}
