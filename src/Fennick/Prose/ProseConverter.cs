using System.Collections.Immutable;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Mathematics;
using Fennick.Pictures;
using Fennick.Tables;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;
using Block = Fennick.Documents.Block;
using Inline = Fennick.Documents.Inline;
using MarkdownBlock = Markdig.Syntax.Block;
using MarkdownInline = Markdig.Syntax.Inlines.Inline;

namespace Fennick.Prose;

/// <summary>Turns parsed Markdown into the blocks and inlines of a report.</summary>
internal sealed class ProseConverter(IProseHost host)
{
    private Dictionary<FootnoteBlock, FootnoteInline> notes = [];
    private (Items List, (char, char) Marker)? lastList;

    /// <summary>Adds the blocks of one Markdown block; none for a comment or a link definition.</summary>
    public void Append(ImmutableArray<Block>.Builder blocks, MarkdownBlock block)
    {
        switch (block)
        {
            case ControlBlock { Layout: { } layout } placed:
                var inside = ImmutableArray.CreateBuilder<Block>();
                foreach (var branch in host.Passes(placed)) AppendAll(inside, branch);
                blocks.Add(host.WithWords(placed, layout(inside.ToImmutable())));
                return;
            case ControlBlock control:
                foreach (var branch in host.Passes(control)) InPass(() => AppendAll(blocks, branch));
                return;
            case Markdig.Syntax.ListBlock list:
                Append(blocks, list);
                return;
            case HtmlBlock { Type: HtmlBlockType.Comment }:
                // A comment keeps two lists apart.
                lastList = null;
                return;
            default:
                var made = Convert(block);
                blocks.AddRange(host.KeepsPlaces ? [.. made.Select(b => b with { WrittenAt = host.PlaceOf(block.Span.Start) })] : made);
                return;
        }
    }

    /// <summary>The blocks of a container in order.</summary>
    public ImmutableArray<Block> ConvertAll(ContainerBlock container)
    {
        var blocks = ImmutableArray.CreateBuilder<Block>();
        AppendAll(blocks, container);
        return blocks.ToImmutable();
    }

    private void AppendAll(ImmutableArray<Block>.Builder blocks, ContainerBlock container)
    {
        foreach (var block in container)
        {
            Append(blocks, block);
            if (host.IsLeftIn(block)) return;
        }
    }

    private ImmutableArray<Block> Convert(MarkdownBlock block)
    {
        switch (block)
        {
            case HeadingBlock heading:
                var label = host.LabelOf(heading);
                var words = Inlines(heading.Inline);
                return [new Heading(heading.Level, TrimEnd(words), label) { IsNumbered = host.IsNumbered(heading) }];
            case DirectiveBlock directive:
                return host.Fill(directive);
            case ParagraphBlock paragraph:
                var content = Inlines(paragraph.Inline);
                return content.Inlines is [PictureInline] ? [host.WithCaption(paragraph, new Paragraph(content))] : content.IsEmpty ? [] : [new Paragraph(content)];
            case Markdig.Extensions.Tables.Table table:
                return [host.WithCaption(table, Convert(table))];
            case QuoteBlock quote:
                return [new Quotation(ConvertAll(quote))];
            case Markdig.Extensions.DefinitionLists.DefinitionList definitions:
                return [new DefinitionList([.. definitions.OfType<Markdig.Extensions.DefinitionLists.DefinitionItem>().Select(Convert)])];
            case FencedCodeBlock fence when host.Fill(fence) is { } filled:
                return filled;
            case CodeBlock code:
                var lines = HoleMarks.Restore(code.Lines.ToString());
                return [new Listing(lines) { Spans = host.ColoursOf(lines, (code as FencedCodeBlock)?.Info ?? "") }];
            case FormulaBlock formula:
                return host.FormulaOf(formula) is { } displayed ? [new Equation(displayed.Fill(host.Fill), host.LabelOf(formula))] : Read(formula) is { } own ? [new Equation(own)] : [];
            case ThematicBreakBlock:
                return [new ThoughtBreak()];
            case FootnoteBlock or LinkReferenceDefinitionGroup or LinkReferenceDefinition or BlankLineBlock:
                return [];
            case HtmlBlock:
                Error(block.Span.Start, "HTML cannot be placed in a report", "write it as Markdown, or leave it out");
                return [];
            default:
                Error(block.Span.Start, $"a {block.GetType().Name} cannot be placed in a report");
                return [];
        }
    }

    private Definition Convert(Markdig.Extensions.DefinitionLists.DefinitionItem item)
    {
        var blocks = ImmutableArray.CreateBuilder<Block>();
        foreach (var block in item)
            if (block is not Markdig.Extensions.DefinitionLists.DefinitionTerm) Append(blocks, block);
        return new Definition([.. item.OfType<Markdig.Extensions.DefinitionLists.DefinitionTerm>().Select(t => Inlines(t.Inline))], blocks.ToImmutable());
    }

    /// <summary>Names of footnotes are a pass's own.</summary>
    private void InPass(Action convert)
    {
        var outer = notes;
        notes = new Dictionary<FootnoteBlock, FootnoteInline>(outer);
        convert();
        notes = outer;
    }

    /// <summary>Lists with one marker that only directives keep apart are one list that counts on.</summary>
    private void Append(ImmutableArray<Block>.Builder blocks, Markdig.Syntax.ListBlock list)
    {
        var start = int.TryParse(list.OrderedStart, out var number) ? number : 1;
        var made = new Items(list.IsOrdered, start, [.. list.OfType<ListItemBlock>().Select(ConvertAll)]);
        var before = blocks.Count > 0 ? blocks[^1] as Items : null;
        if (before is not null && lastList is var (last, marker) && ReferenceEquals(last, before) && marker == (list.BulletType, list.OrderedDelimiter) && (start <= 1 || start == before.Start + before.Entries.Length))
            blocks[^1] = made = before with { Entries = before.Entries.AddRange(made.Entries) };
        else
            blocks.Add(made);
        lastList = (made, (list.BulletType, list.OrderedDelimiter));
    }

    /// <summary>The inlines of a leaf block.</summary>
    public RichText Inlines(ContainerInline? container)
    {
        if (container is null) return RichText.Empty;
        var inlines = ImmutableArray.CreateBuilder<Inline>();
        Append(inlines, container);
        return new RichText(Joined(inlines));
    }

    /// <summary>Without the space between a heading and its label.</summary>
    private static RichText TrimEnd(RichText words) => words.Inlines is [.. var before, TextInline last] ? string.IsNullOrWhiteSpace(last.Text) ? TrimEnd(new(before)) : new([.. before, last with { Text = last.Text.TrimEnd() }]) : words;

    private TableBlock Convert(Markdig.Extensions.Tables.Table table)
    {
        var rows = table.OfType<Markdig.Extensions.Tables.TableRow>().ToArray();
        var width = rows.Max(r => r.Count);
        var columns = Enumerable.Range(0, width).Select(c => new TableColumn(c < table.ColumnDefinitions.Count ? table.ColumnDefinitions[c].Alignment switch
        {
            Markdig.Extensions.Tables.TableColumnAlign.Right => Alignment.Right,
            Markdig.Extensions.Tables.TableColumnAlign.Center => Alignment.Centre,
            _ => Alignment.Left,
        } : Alignment.Left));
        TableRow Row(Markdig.Extensions.Tables.TableRow row)
        {
            var cells = row.OfType<Markdig.Extensions.Tables.TableCell>().Select(c => new TableCell(CellContent(c)));
            return new TableRow([.. cells, .. Enumerable.Repeat(TableCell.Empty, width - row.Count)]);
        }
        return new TableBlock(new Table
        {
            Columns = [.. columns],
            HeaderRows = [.. rows.Where(r => r.IsHeader).Select(Row)],
            Rows = [.. rows.Where(r => !r.IsHeader).Select(Row)],
        })
        {
            Place = host.PlaceOf(table.Span.Start),
        };
    }

    private RichText CellContent(Markdig.Extensions.Tables.TableCell cell) => cell is [LeafBlock { Inline: { } content }] ? Inlines(content) : RichText.Empty;

    /// <summary>A picture from a file, placed as it is.</summary>
    private void AppendPicture(ImmutableArray<Inline>.Builder inlines, Markdig.Syntax.Inlines.LinkInline image)
    {
        var target = Uri.UnescapeDataString(host.TargetOf(image));
        if (target.Contains("://", StringComparison.Ordinal))
        {
            Error(image.Span.Start, $"the picture `{target}` is not a file", "save it beside the manuscript and name the file");
            return;
        }
        try
        {
            inlines.Add(new PictureInline(Picture.Read(host.PathOf(target, image.Span.Start), host.PictureTools), Inlines(image).ToPlainText()) { Place = host.PlaceOf(image.Span.Start) });
        }
        catch (ReportException problem)
        {
            foreach (var diagnostic in problem.Diagnostics) Error(image.Span.Start, $"`{target}`: {diagnostic.Message}", diagnostic.Suggestion);
        }
    }

    private void Append(ImmutableArray<Inline>.Builder inlines, ContainerInline container)
    {
        foreach (var inline in container) Append(inlines, inline);
    }

    private void Append(ImmutableArray<Inline>.Builder inlines, MarkdownInline inline)
    {
        switch (inline)
        {
            case LiteralInline literal:
                AppendText(inlines, HoleMarks.Restore(literal.Content.ToString()));
                break;
            case HtmlEntityInline entity:
                AppendText(inlines, HoleMarks.Clean(entity.Transcoded.ToString()));
                break;
            case Markdig.Syntax.Inlines.CodeInline code:
                inlines.Add(new Documents.Code(HoleMarks.Restore(code.Content)));
                break;
            case Markdig.Syntax.Inlines.EmphasisInline emphasis:
                inlines.Add(emphasis.DelimiterChar == '~' ? new StruckInline(Inlines(emphasis)) : new Documents.Stress(emphasis.DelimiterCount == 2, Inlines(emphasis)));
                break;
            case Markdig.Extensions.TaskLists.TaskList task:
                AppendText(inlines, task.Checked ? "\u2611" : "\u2610");
                break;
            case Markdig.Syntax.Inlines.LinkInline { IsImage: true } image:
                AppendPicture(inlines, image);
                break;
            case Markdig.Syntax.Inlines.LinkInline link:
                inlines.Add(new Documents.Link(host.TargetOf(link), Inlines(link)));
                break;
            case AutolinkInline link:
                inlines.Add(new Documents.Link(HoleMarks.Restore(link.IsEmail ? "mailto:" + link.Url : link.Url), RichText.Plain(HoleMarks.Restore(link.Url))));
                break;
            case LineBreakInline { IsHard: true }:
                inlines.Add(new BreakInline());
                break;
            case LineBreakInline:
                AppendText(inlines, " ");
                break;
            case HtmlInline html when html.Tag.StartsWith("<!--", StringComparison.Ordinal):
                break;
            case HtmlInline html:
                Error(inline.Span.Start, $"HTML (`{HoleMarks.Restore(html.Tag)}`) cannot be placed in a report", "write a `\\` before the `<` to show it as text");
                break;
            case ControlInline control:
                foreach (var branch in host.Passes(control)) InPass(() => Append(inlines, (ContainerInline)branch));
                break;
            case FormulaSpan span:
                if (host.FormulaOf(span) is { } formula) inlines.Add(new FormulaInline(formula.Fill(host.Fill)));
                else if (Read(span) is { } own) inlines.Add(new FormulaInline(own));
                break;
            case FootnoteMark { Definition: { } note }:
                // The first mark brings the text, later ones lead to it.
                if (notes.TryGetValue(note, out var known)) inlines.Add(new SameFootnoteInline(known));
                else inlines.Add(notes[note] = new FootnoteInline(ConvertAll(note), host.PlaceOf(inline.Span.Start)));
                break;
            case FootnoteMark:
                break;
            case HoleInline { HasEnd: false }:
                Error(inline.Span.Start, "this `{` has no `}` in its paragraph", "close it, or write `\\{` for a brace");
                break;
            case HoleInline hole:
                if (hole.GivesSign && LastSign(inlines) is ('=' or '<' or '>'))
                    Error(hole.Span.Start, "`p-value` gives the sign too, and there is one before it", "write `p {…:p-value}`, or `{…:p-value bare}` for the number alone");
                foreach (var filled in host.Fill(hole))
                {
                    if (filled is not TextInline { Text: "" }) inlines.Add(filled);
                }
                break;
            case ContainerInline container:
                Append(inlines, container);
                break;
            default:
                Error(inline.Span.Start, $"a {inline.GetType().Name} cannot be placed in a report");
                break;
        }
    }

    /// <summary>Reads a formula whose host has not; null if it is wrong.</summary>
    private Formula? Read(MarkdownObject written)
    {
        try
        {
            return FormulaReading.Read(written, host.PlaceOf, holdsValues: true).Fill(host.Fill);
        }
        catch (ReportException problem)
        {
            foreach (var diagnostic in problem.Diagnostics) host.Add(diagnostic);
        }
        return null;
    }

    private static void AppendText(ImmutableArray<Inline>.Builder inlines, string text)
    {
        if (text.Length > 0) inlines.Add(new TextInline(text));
    }

    /// <summary>Neighbouring texts become one.</summary>
    private static ImmutableArray<Inline> Joined(ImmutableArray<Inline>.Builder inlines)
    {
        var joined = ImmutableArray.CreateBuilder<Inline>();
        var text = new StringBuilder();
        var origins = ImmutableArray.CreateBuilder<OriginRange>();
        for (var i = 0; i < inlines.Count; i++)
        {
            if (inlines[i] is TextInline words && (text.Length > 0 || (i + 1 < inlines.Count && inlines[i + 1] is TextInline)))
            {
                foreach (var origin in words.Origins) origins.Add(origin with { Start = origin.Start + text.Length });
                text.Append(words.Text);
                if (i + 1 < inlines.Count && inlines[i + 1] is TextInline) continue;
                joined.Add(new TextInline(text.ToString()) { Origins = origins.ToImmutable() });
                text.Clear();
                origins.Clear();
            }
            else joined.Add(inlines[i]);
        }
        return joined.ToImmutable();
    }

    /// <summary>The last character before what is appended next that is not a space; none if something else than text stands there.</summary>
    private static char LastSign(ImmutableArray<Inline>.Builder inlines)
    {
        for (var i = inlines.Count - 1; i >= 0 && inlines[i] is TextInline text; i--)
            if (text.Text.AsSpan().TrimEnd() is [.., var last]) return last;
        return '\0';
    }

    private void Error(int offset, string message, string? suggestion = null) =>
        host.Add(Diagnostic.Error(host.PlaceOf(offset), message, suggestion));
}
