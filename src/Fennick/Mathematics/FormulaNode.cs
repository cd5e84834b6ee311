using System.Collections.Immutable;

namespace Fennick.Mathematics;

/// <summary>How letters of a formula are drawn.</summary>
internal enum Lettering
{
    /// <summary>Letters italic, all else upright.</summary>
    Usual,
    Upright,
    Bold,
    BoldItalic,
    Italic,
    DoubleStruck,
    Script,
    Fraktur,
    SansSerif,
    Monospace,

    /// <summary>Words, not mathematics.</summary>
    Words,
}

/// <summary>A part of a formula.</summary>
internal abstract record FormulaNode
{
    /// <summary>Parts in a row.</summary>
    internal sealed record Row(ImmutableArray<FormulaNode> Nodes) : FormulaNode;

    internal sealed record Text(string Value, Lettering Lettering = Lettering.Usual) : FormulaNode;

    /// <summary>A value that is not known yet; what stands between the braces of <c>\live{…}</c>.</summary>
    internal sealed record Live(string Source, int Offset) : FormulaNode;

    internal sealed record Fraction(FormulaNode Over, FormulaNode Under, bool HasBar) : FormulaNode;

    internal sealed record Root(FormulaNode? Degree, FormulaNode Of) : FormulaNode;

    internal sealed record Script(FormulaNode Of, FormulaNode? Below, FormulaNode? Above) : FormulaNode;

    /// <summary>A sum, a product, an integral with what it runs over.</summary>
    internal sealed record BigOperator(string Sign, FormulaNode? Below, FormulaNode? Above, FormulaNode Of, bool HasLimits) : FormulaNode;

    /// <summary>Something right below or above something else: the limit of "lim".</summary>
    internal sealed record Limit(FormulaNode Of, FormulaNode? Below, FormulaNode? Above) : FormulaNode;

    internal sealed record Function(FormulaNode Name, FormulaNode Argument) : FormulaNode;

    /// <summary>Delimiters that grow; empty for none.</summary>
    internal sealed record Delimited(string Open, string Close, string Separator, ImmutableArray<FormulaNode> Parts) : FormulaNode;

    internal sealed record Accent(string Sign, FormulaNode Of) : FormulaNode;

    internal sealed record Bar(bool IsAbove, FormulaNode Of) : FormulaNode;

    /// <summary>A brace over or under something.</summary>
    internal sealed record Brace(string Sign, bool IsAbove, FormulaNode Of) : FormulaNode;

    internal sealed record Box(FormulaNode Of) : FormulaNode;

    /// <summary>Rows of cells; how its columns are aligned: l, c, r.</summary>
    internal sealed record Grid(ImmutableArray<ImmutableArray<FormulaNode>> Rows, string Columns, bool IsTight) : FormulaNode;

    /// <summary>What stands in it, from outside in.</summary>
    public IEnumerable<FormulaNode> Descendants()
    {
        yield return this;
        foreach (var child in Children)
            foreach (var inner in child.Descendants()) yield return inner;
    }

    public IEnumerable<FormulaNode> Children => this switch
    {
        Row row => row.Nodes,
        Fraction f => [f.Over, f.Under],
        Root r => Some(r.Degree, r.Of),
        Script s => Some(s.Of, s.Below, s.Above),
        BigOperator b => Some(b.Below, b.Above, b.Of),
        Limit l => Some(l.Of, l.Below, l.Above),
        Function f => [f.Name, f.Argument],
        Delimited d => d.Parts,
        Accent a => [a.Of],
        Bar b => [b.Of],
        Brace b => [b.Of],
        Box b => [b.Of],
        Grid g => g.Rows.SelectMany(r => r),
        _ => [],
    };

    private static IEnumerable<FormulaNode> Some(params FormulaNode?[] nodes) => nodes.OfType<FormulaNode>();

    /// <summary>The same with texts in place of what is not known yet.</summary>
    public FormulaNode Fill(Func<Live, string> text) => this switch
    {
        Live live => new Text(text(live), Lettering.Upright),
        Row row => new Row([.. row.Nodes.Select(n => n.Fill(text))]),
        Fraction f => f with { Over = f.Over.Fill(text), Under = f.Under.Fill(text) },
        Root r => r with { Degree = r.Degree?.Fill(text), Of = r.Of.Fill(text) },
        Script s => s with { Of = s.Of.Fill(text), Below = s.Below?.Fill(text), Above = s.Above?.Fill(text) },
        BigOperator b => b with { Below = b.Below?.Fill(text), Above = b.Above?.Fill(text), Of = b.Of.Fill(text) },
        Limit l => l with { Of = l.Of.Fill(text), Below = l.Below?.Fill(text), Above = l.Above?.Fill(text) },
        Function f => f with { Name = f.Name.Fill(text), Argument = f.Argument.Fill(text) },
        Delimited d => d with { Parts = [.. d.Parts.Select(p => p.Fill(text))] },
        Accent a => a with { Of = a.Of.Fill(text) },
        Bar b => b with { Of = b.Of.Fill(text) },
        Brace b => b with { Of = b.Of.Fill(text) },
        Box b => b with { Of = b.Of.Fill(text) },
        Grid g => g with { Rows = [.. g.Rows.Select(r => r.Select(c => c.Fill(text)).ToImmutableArray())] },
        _ => this,
    };

    // What stands on both sides of a relation or an operator, in letters.
    private const double SpaceAroundSign = 0.8;

    /// <summary>About how many letters wide it is.</summary>
    public double Letters() => this switch
    {
        Text { Value: "\u200B" } => 0,
        Text t => t.Value.Length + (TexSymbols.IsSign(t.Value) ? SpaceAroundSign : 0),
        Row row => Beside(row.Nodes),
        Fraction f => Math.Max(f.Over.Letters(), f.Under.Letters()),
        Script s => s.Of.Letters() + (0.7 * Math.Max(s.Below?.Letters() ?? 0, s.Above?.Letters() ?? 0)),
        BigOperator b => b.Of.Letters() + 2,
        Limit l => l.Of.Letters(),
        Grid g => g.Rows.Max(r => Beside(r)) + (g.IsTight ? 0 : g.Columns.Length),
        _ => Beside(Children) + 1,
    };

    private static double Beside(IEnumerable<FormulaNode> nodes) => nodes.Sum(n => n.Letters());
}
