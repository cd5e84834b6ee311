using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Flow;
using Fennick.Formatting;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Outputs;

/// <summary>Writes a report as plain text, for mail and terminals: tables aligned, charts by what they show.</summary>
internal sealed class TextWriter : IReportWriter
{
    public string Name => "text";

    public string Extension => ".txt";

    public IReadOnlyList<Diagnostic> Write(ReportContent report, Stream target)
    {
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(target);
        var diagnostics = new List<Diagnostic>();
        target.Write(Encoding.UTF8.GetBytes(new Sheet(ReportFile.LayOut(report, diagnostics)).Write()));
        return diagnostics;
    }

    private sealed class Sheet(LaidReport laid)
    {
        private const int Width = 80;
        private const int Step = 3;
        private const int Gap = 2;

        private readonly StringBuilder text = new();
        private readonly Language language = laid.House.Language;
        private readonly Dictionary<int, int> counts = [];

        // Lists and contents stand without empty lines between their items.
        private bool wasItem;

        public string Write()
        {
            var properties = laid.Galley.Properties;
            if (properties.Title.Length > 0) Heading(properties.Title, '=');
            string[] about = [properties.Subject, string.Join(", ", properties.Authors), properties.Date is { } date ? ValueFormatter.Format(date, null, language) : ""];
            if (about.Any(a => a.Length > 0)) Paragraph(string.Join("\n", about.Where(a => a.Length > 0)), "", "");
            foreach (var (_, section) in laid.Galley.SlotBlocks) WriteAll(section.Blocks, "");
            foreach (var section in laid.Galley.Sections) WriteAll(section.Blocks, "");
            for (var n = 1; n <= laid.Galley.Notes.Length; n++)
                Paragraph(string.Join("\n", laid.Galley.Notes[n - 1].Select(p => TextOf(p.Inlines).Trim())), $"[{n}] ", new string(' ', 4));
            return text.ToString().TrimEnd() + "\n";
        }

        private void WriteAll(ImmutableArray<GalleyBlock> blocks, string indent)
        {
            foreach (var block in blocks) Write(block, indent);
        }

        private void Write(GalleyBlock block, string indent)
        {
            switch (block)
            {
                case GalleyParagraph paragraph: Write(paragraph, indent); break;
                case GalleyTable table: Write(table, indent + new string(' ', table.Indents * Step)); break;
                case GalleyBox { Look: BoxLook.KeyFigures } tiles:
                    foreach (var tile in tiles.Rows.SelectMany(r => r))
                    {
                        string[] words = [.. tile.OfType<GalleyParagraph>().Select(p => TextOf(p.Inlines)).Where(w => w.Length > 0)];
                        if (words.Length > 0) Item($"{words[0]}: {string.Join(", ", words[1..])}", indent);
                    }
                    break;
                case GalleyBox box:
                    foreach (var cell in box.Rows.SelectMany(r => r)) WriteAll(cell, box.Look is BoxLook.Summary or BoxLook.Note ? indent + "| " : indent);
                    break;
                case GalleyEquation equation: Paragraph($"{equation.Formula.Source}{(equation.Number.IsEmpty ? "" : "    " + TextOf(equation.Number))}", indent + "    ", indent + "    "); break;
                case GalleyCover { IsLast: true } cover: WriteAll([.. cover.Panel], indent); break;
            }
        }

        private void Write(GalleyParagraph paragraph, string indent)
        {
            if (paragraph.Style is StyleRole.Title or StyleRole.Subtitle or StyleRole.Author or StyleRole.Date or StyleRole.Spacer) return;
            var words = TextOf(paragraph.Inlines).Trim('\n');
            if (paragraph.Style == StyleRole.ThoughtBreak) words = "* * *";
            if (words.Length == 0) return;
            var deeper = indent + new string(' ', paragraph.Indents * Step);
            switch (paragraph.Style)
            {
                case StyleRole.Heading1: Heading(Numbered(paragraph, words), '-'); break;
                case > StyleRole.Heading1 and <= StyleRole.Heading6 or StyleRole.ContentsHeading: Heading(Numbered(paragraph, words), null); break;
                case >= StyleRole.Contents1 and <= StyleRole.ContentsOfKind or StyleRole.Index1 or StyleRole.Index2 or StyleRole.Abbreviation:
                    var depth = paragraph.Style is StyleRole.Index2 ? 1 : paragraph.Style is >= StyleRole.Contents1 and <= StyleRole.Contents6 ? paragraph.Style - StyleRole.Contents1 : 0;
                    // There are no pages here.
                    Item(TextOf(WithoutPages(paragraph.Inlines)).Replace('\t', ' ').Trim(' ', ',', '\n'), new string(' ', depth * Step));
                    break;
                case StyleRole.Quotation: Paragraph(words, deeper + "> ", deeper + "> "); break;
                case StyleRole.Listing: Lines(words.Split('\n').Select(l => deeper + "    " + l)); break;
                case StyleRole.Definition:
                    Wrap(words, deeper + "    ", deeper + "    ");
                    break;
                default:
                    if (paragraph.List is { } place) ListItem(words, place, indent);
                    else Paragraph(words, deeper, deeper);
                    break;
            }
        }

        private static ImmutableArray<GalleyInline> WithoutPages(ImmutableArray<GalleyInline> inlines) =>
            [.. inlines.Where(i => i is not (GalleyPageNumber or GalleyIndexPages)).Select(i => i is GalleyAnchor anchor ? anchor with { Content = WithoutPages(anchor.Content) } : i)];

        private static string Numbered(GalleyParagraph heading, string words) => heading.Number is { Length: > 0 } number ? $"{number} {words}" : words;

        private void ListItem(string words, ListPlace place, string indent)
        {
            var list = laid.Galley.Lists[place.List];
            var count = counts[place.List] = counts.GetValueOrDefault(place.List, list.Start - 1) + 1;
            var mark = list.Mark is not null ? list.Mark + " " : list.Ordered ? string.Create(CultureInfo.InvariantCulture, $"{count}. ") : "- ";
            var first = indent + new string(' ', place.Level * Step) + mark;
            Item(words, first, new string(' ', first.Length));
        }

        private void Item(string words, string first, string? others = null)
        {
            if (!wasItem && text.Length > 0) text.Append('\n');
            Wrap(words, first, others ?? first + "   ");
            wasItem = true;
        }

        private void Heading(string words, char? rule)
        {
            if (text.Length > 0) text.Append("\n\n");
            text.Append(words).Append('\n');
            if (rule is { } line) text.Append(line, Math.Min(Width, WidthOf(words))).Append('\n');
            wasItem = false;
        }

        private void Paragraph(string words, string first, string others)
        {
            if (text.Length > 0) text.Append('\n');
            Wrap(words, first, others);
            wasItem = false;
        }

        private void Lines(IEnumerable<string> lines)
        {
            if (text.Length > 0) text.Append('\n');
            foreach (var line in lines) text.Append(line.TrimEnd()).Append('\n');
            wasItem = false;
        }

        private void Wrap(string words, string first, string others)
        {
            var lead = first;
            foreach (var given in words.Split('\n'))
            {
                var line = new StringBuilder(lead);
                var hasWords = false;
                foreach (var word in given.Split(' ', StringSplitOptions.RemoveEmptyEntries))
                {
                    if (hasWords && WidthOf(line.ToString()) + 1 + WidthOf(word) > Width)
                    {
                        text.Append(line.ToString().TrimEnd()).Append('\n');
                        line.Clear().Append(others);
                        hasWords = false;
                    }
                    if (hasWords) line.Append(' ');
                    line.Append(word);
                    hasWords = true;
                }
                text.Append(line.ToString().TrimEnd()).Append('\n');
                lead = others;
            }
        }

        private void Write(GalleyTable table, string indent)
        {
            var columns = table.Columns.Length;
            var rows = table.Rows.Select(r => Cells(r)).ToArray();
            var widths = new int[columns];
            foreach (var cell in rows.SelectMany(r => r).Where(c => c.Span == 1)) widths[cell.Column] = Math.Max(widths[cell.Column], WidthOf(cell.Words));
            foreach (var cell in rows.SelectMany(r => r).Where(c => c.Span > 1 && c.Span < columns))
            {
                var room = RoomOf(widths, cell);
                if (WidthOf(cell.Words) > room) widths[cell.Column + cell.Span - 1] += WidthOf(cell.Words) - room;
            }
            var whole = widths.Sum() + (Gap * (columns - 1));
            var lines = new List<string> { new('─', whole) };
            for (var r = 0; r < rows.Length; r++)
            {
                if (r == table.HeaderRows && r > 0) lines.Add(new string('─', whole));
                var line = new StringBuilder();
                foreach (var cell in rows[r])
                {
                    if (cell.Column > 0) line.Append(' ', Gap);
                    var free = Math.Max(0, RoomOf(widths, cell) - WidthOf(cell.Words));
                    var before = cell.Alignment is Alignment.Right or Alignment.Decimal ? free : cell.Alignment is Alignment.Centre ? free / 2 : 0;
                    line.Append(' ', before).Append(cell.Words).Append(' ', free - before);
                }
                lines.Add(line.ToString());
            }
            lines.Add(new string('─', whole));
            Lines(lines.Select(l => indent + l));
        }

        private static int RoomOf(int[] widths, Cell cell) => widths.Skip(cell.Column).Take(cell.Span).Sum() + (Gap * (cell.Span - 1));

        private List<Cell> Cells(GalleyRow row)
        {
            var cells = new List<Cell>();
            var column = 0;
            foreach (var cell in row.Cells)
            {
                var words = cell.Merge == CellMerge.Continues ? "" : (new string(' ', cell.Level * 2) + TextOf(cell.Inlines) + TextOf(cell.Sign)).Replace('\n', ' ');
                cells.Add(new Cell(column, cell.ColumnSpan, words, cell.Alignment));
                column += cell.ColumnSpan;
            }
            return cells;
        }

        /// <summary>How many places text takes in a terminal: marks that stand over letters take none, wide letters two.</summary>
        private static int WidthOf(string words)
        {
            var width = 0;
            foreach (var rune in words.EnumerateRunes())
                width += Rune.GetUnicodeCategory(rune) is UnicodeCategory.NonSpacingMark or UnicodeCategory.EnclosingMark or UnicodeCategory.Format ? 0 : rune.Value is (>= 0x1100 and <= 0x115F) or (>= 0x2E80 and <= 0xA4CF) or (>= 0xAC00 and <= 0xD7A3) or (>= 0xF900 and <= 0xFAFF) or (>= 0xFF00 and <= 0xFF60) or (>= 0x1F300 and <= 0x1FAFF) ? 2 : 1;
            return width;
        }

        private string TextOf(ImmutableArray<GalleyInline> inlines) => string.Concat(inlines.Select(inline => inline switch
        {
            GalleyText words => words.Text,
            GalleyField field => field.Result,
            GalleyBreak => "\n",
            GalleyTab => "\t",
            GalleyPageNumber number => laid.Pages.PageOf(number),
            GalleyPageCount => laid.Pages.Count.ToString(CultureInfo.InvariantCulture),
            GalleyWhere where => where.Words.SamePage,
            GalleyIndexPages pages => laid.Pages.PagesOf(pages),
            GalleyNoteMark note => $"[{note.Number}]",
            GalleyLink link => LinkOf(link),
            GalleyContainer container => TextOf(container.Content),
            GalleyFormula formula => formula.Formula.Source,
            GalleyChart chart => $"[{chart.Description}]",
            GalleySmallChart small => small.Text,
            GalleyPicture { IsBehind: false } picture when picture.Description != Accessibility.Decorative => $"[{picture.Description}]",
            _ => "",
        }));

        private string LinkOf(GalleyLink link) => TextOf(link.Content) is var words && words == link.Target ? words : $"{words} <{link.Target}>";

        private sealed record Cell(int Column, int Span, string Words, Alignment Alignment);
    }
}
