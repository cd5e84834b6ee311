using Fennick.Mathematics;

namespace Fennick.Layout;

/// <summary>How high displayed formulas are, in twips: boxes in boxes, with the measures of the word processor of Debian's packages, which sets formulas in its own size.</summary>
internal static class FormulaHeight
{
    private const int Line = 265;
    private const int FractionBar = 36;
    private const int RaisedPart = 35;
    private const int AccentPart = 56;
    private const int BraceWithWords = 150;
    private const int RowSpace = 40;
    private const int RootBar = 21;
    private const int RootBarOverHigh = 50;
    private const int DelimiterOverHigh = 58;
    private const int Operator = 386;
    private const int LimitLine = 130;
    private const int ScriptsOfOperator = 146;

    /// <summary>The height of a formula.</summary>
    public static int Of(FormulaNode node) => node switch
    {
        FormulaNode.Text or FormulaNode.Live => Line,
        FormulaNode.Row row => row.Nodes.Select(Of).DefaultIfEmpty(Line).Max(),
        FormulaNode.Fraction fraction => Of(fraction.Over) + Of(fraction.Under) + FractionBar,
        FormulaNode.Script script => Of(script.Of) + (RaisedPart * (script.Below is null || script.Above is null ? 1 : 2)),
        FormulaNode.BigOperator { HasLimits: true } big => Math.Max(Of(big.Of), Operator + (big.Below is null ? 0 : LimitLine) + (big.Above is null ? 0 : LimitLine)),
        FormulaNode.BigOperator big => Math.Max(Of(big.Of), Operator + ((big.Below is null ? 0 : ScriptsOfOperator) + (big.Above is null ? 0 : ScriptsOfOperator))),
        FormulaNode.Limit limit => Of(limit.Of) + (limit.Below is null ? 0 : LimitLine) + (limit.Above is null ? 0 : LimitLine),
        FormulaNode.Function function => Math.Max(Of(function.Name), Of(function.Argument)),
        FormulaNode.Accent accent => Of(accent.Of) + AccentPart,
        FormulaNode.Bar bar => Of(bar.Of) + RootBar,
        FormulaNode.Brace brace => Of(brace.Of) + BraceWithWords,
        FormulaNode.Root root => Of(root.Of) is var inside && inside > 2 * Line ? inside + RootBarOverHigh : inside + RootBar,
        FormulaNode.Delimited delimited => delimited.Parts.Select(Of).DefaultIfEmpty(Line).Max() is var inside && inside > 2 * Line && inside < (2 * Line) + (2 * FractionBar) ? inside + DelimiterOverHigh : inside,
        FormulaNode.Grid grid => grid.Rows.Sum(r => r.Select(Of).DefaultIfEmpty(Line).Max() + RowSpace),
        FormulaNode.Box box => Of(box.Of),
        _ => Line,
    };
}
