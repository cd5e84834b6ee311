using System.Collections.Immutable;
using Fennick.Tables;

namespace Fennick.Documents;

/// <summary>Makes a report a chapter among others in one document: its labels become its own, its headings go down, and what a document has once is left out.</summary>
internal sealed class BoundChapter
{
    private readonly string scope;
    private readonly int levels;
    private readonly HashSet<string> named = [];
    private readonly HashSet<string> repeated = [];
    private readonly Dictionary<FootnoteInline, FootnoteInline> notes = new(ReferenceEqualityComparer.Instance);

    private BoundChapter(string scope, int levels, IEnumerable<Block> blocks)
    {
        this.scope = scope;
        this.levels = levels;
        FindHeadings(blocks);
    }

    /// <summary>The blocks of a report as those of a chapter.</summary>
    /// <param name="blocks">The blocks.</param>
    /// <param name="scope">What its labels begin with; no other chapter has the same.</param>
    /// <param name="levels">By how many levels its headings go down.</param>
    public static ImmutableArray<Block> Bind(ImmutableArray<Block> blocks, string scope, int levels) => new BoundChapter(scope, levels, blocks).Bind(blocks);

    /// <summary>Sections are known by their words, which other chapters may have as well.</summary>
    private void FindHeadings(IEnumerable<Block> blocks)
    {
        foreach (var block in blocks)
        {
            if (block is Heading { Label: null } heading && Label.FromWords(heading.Content.ToPlainText()) is var words && !named.Add(words)) repeated.Add(words);
            FindHeadings(block is Quotation or Items or DefinitionList ? [] : block.Inside ?? []);
        }
    }

    private ImmutableArray<Block> Bind(ImmutableArray<Block> blocks) => [.. blocks.SelectMany(b => Bind(b))];

    private ImmutableArray<Block> Bind(Block block) => block switch
    {
        Contents or ListOfTables or ListOfFigures or Bibliography => [],
        // An appendix of a chapter is a section of it.
        Appendices => [],
        ListOfSeries or IndexOfTerms or ListOfAbbreviations => [],
        SeriesItem item => [item with { Label = Own(item.Label), Caption = Bind(item.Caption), Blocks = Bind(item.Blocks) }],
        EquationGroup group => [group with { Label = Own(group.Label), Blocks = Bind(group.Blocks) }],
        InSlot slot => Bind(slot.Blocks),
        Heading heading => [heading with { Level = Math.Min(6, heading.Level + levels), Content = Bind(heading.Content), Label = LabelOf(heading) }],
        Paragraph paragraph => [paragraph with { Content = Bind(paragraph.Content) }],
        Items list => [list with { Entries = [.. list.Entries.Select(i => Bind(i))] }],
        Quotation quotation => [quotation with { Blocks = Bind(quotation.Blocks) }],
        DefinitionList definitions => [new DefinitionList([.. definitions.Entries.Select(e => new Definition([.. e.Terms.Select(t => Bind(t))], Bind(e.Blocks)))])],
        Landscape landscape => [landscape with { Blocks = Bind(landscape.Blocks) }],
        Pages pages => [pages with { Blocks = Bind(pages.Blocks) }],
        SideBySide columns => [columns with { Columns = [.. columns.Columns.Select(c => Bind(c))] }],
        Box box => [box with { Title = Maybe(box.Title), Blocks = Bind(box.Blocks) }],
        LastPage => [],
        Aside aside => [aside with { Blocks = Bind(aside.Blocks) }],
        KeyFigures figures => [new KeyFigures([.. figures.Figures.Select(f => new KeyFigure(Bind(f.Label), Bind(f.Number)) { Change = Maybe(f.Change), Note = Maybe(f.Note) })])],
        Equation equation => [equation with { Label = Own(equation.Label) }],
        TableBlock table => [table with { Label = Own(table.Label), Caption = Maybe(table.Caption), Note = Maybe(table.Note), Source = Maybe(table.Source), Table = Bind(table.Table) }],
        FigureBlock figure => [figure with { Label = Own(figure.Label), Caption = Maybe(figure.Caption), Note = Maybe(figure.Note), Source = Maybe(figure.Source) }],
        _ => [block],
    };

    private Table Bind(Table table) => table with
    {
        HeaderRows = [.. table.HeaderRows.Select(r => Bind(r))],
        Rows = [.. table.Rows.Select(r => Bind(r))],
        Notes = [.. table.Notes.Select(n => Bind(n))],
    };

    private TableRow Bind(TableRow row) => row with { Cells = [.. row.Cells.Select(c => c with { Content = Bind(c.Content) })] };

    private Label? LabelOf(Heading heading)
    {
        if (heading.Label is not null) return Own(heading.Label);
        var words = Label.FromWords(heading.Content.ToPlainText());
        return words.Length == 0 || repeated.Contains(words) ? null : new Label(Scoped(words), null);
    }

    private Label? Own(Label? label) => label is null ? null : label with { Name = Scoped(label.Name) };

    private string Scoped(string label) => $"{scope}-{label}";

    private RichText? Maybe(RichText? content) => content is null ? null : Bind(content);

    private RichText Bind(RichText content) => content.Inlines.Any(IsBound) ? new RichText([.. content.Inlines.Select(i => Bind(i))]) : content;

    /// <summary>Most text has nothing to bind, and stays as it is.</summary>
    private static bool IsBound(Inline inline) => inline is SeeInline or SeeAllInline or Stress or StruckInline or Link or StyledInline or ColouredInline or FootnoteInline or SameFootnoteInline;

    private Inline Bind(Inline inline) => inline switch
    {
        SeeInline see => see with { Label = Scoped(see.Label) },
        SeeAllInline all => all with { References = [.. all.References.Select(r => r with { Label = Scoped(r.Label) })] },
        Stress emphasis => emphasis with { Content = Bind(emphasis.Content) },
        StruckInline struck => struck with { Content = Bind(struck.Content) },
        Link link => link with { Content = Bind(link.Content) },
        StyledInline styled => styled with { Content = Bind(styled.Content) },
        ColouredInline coloured => coloured with { Content = Bind(coloured.Content) },
        FootnoteInline note => Bind(note),
        SameFootnoteInline again => new SameFootnoteInline(Bind(again.First)),
        _ => inline,
    };

    /// <summary>A note that is marked again is still the same one.</summary>
    private FootnoteInline Bind(FootnoteInline note)
    {
        if (!notes.TryGetValue(note, out var bound)) notes[note] = bound = note with { Blocks = Bind(note.Blocks) };
        return bound;
    }
}
