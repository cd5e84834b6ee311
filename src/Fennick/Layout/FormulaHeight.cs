using Fennick.Mathematics;

namespace Fennick.Layout;

/// <summary>How high formulas are, in twips: boxes in boxes, with the measures of the word processor of Debian's packages, which sets formulas in its own size.</summary>
internal static class FormulaHeight
{
    private const int Line = 265;
    private const int FractionBar = 36;
    private const int RaisedPart = 35;
    private const int Brace = 265;
    private const int RowSpace = 20;
    private const int RootBar = 21;
    private const int RootBarOverHigh = 50;
    private const int RootDegree = 23;
    private const int Operator = 329;
    private const int Integral = 359;
    private const int LimitLine = 158;

    // Delimiters are taller than what they hold by a tenth of it.
    private const double Delimiters = 1.1;

    // The share of a script's own height over a line that makes it stand further out.
    private const double HighScript = 0.6;

    /// <summary>A line of text with a formula in it: it stands in the middle of the line.</summary>
    public static LineMetrics InLine(FormulaNode node, LineMetrics text)
    {
        var more = Math.Max(0, Of(node) - text.Height);
        return new LineMetrics(text.Ascent + (more / 2), text.Descent + more - (more / 2));
    }

    /// <summary>The height of a formula.</summary>
    public static int Of(FormulaNode node) => node switch
    {
        FormulaNode.Text or FormulaNode.Live => Line,
        FormulaNode.Row row => row.Nodes.Select(Of).DefaultIfEmpty(Line).Max(),
        FormulaNode.Fraction fraction => Of(fraction.Over) + Of(fraction.Under) + FractionBar,
        FormulaNode.Script script => Of(script.Of) + OfScript(script.Below) + OfScript(script.Above),
        FormulaNode.BigOperator big => Math.Max(Of(big.Of), (IsIntegral(big.Sign) ? Integral : Operator) + (big.Below is null ? 0 : LimitLine) + (big.Above is null ? 0 : LimitLine)),
        FormulaNode.Limit { Of: FormulaNode.Brace brace } => Of(brace),
        FormulaNode.Limit limit => Of(limit.Of) + (limit.Below is null ? 0 : LimitLine) + (limit.Above is null ? 0 : LimitLine),
        FormulaNode.Function function => Math.Max(Of(function.Name), Of(function.Argument)),
        FormulaNode.Accent accent => Of(accent.Of) + AccentOver(accent),
        FormulaNode.Bar bar => Of(bar.Of),
        FormulaNode.Brace brace => Of(brace.Of) + Brace,
        FormulaNode.Root root => (Of(root.Of) is var inside && inside > 2 * Line ? inside + RootBarOverHigh : inside + RootBar) + (root.Degree is null ? 0 : RootDegree),
        FormulaNode.Delimited delimited => (int)(delimited.Parts.Select(Of).DefaultIfEmpty(Line).Max() * Delimiters),
        FormulaNode.Grid grid => grid.Rows.Sum(r => r.Select(Of).DefaultIfEmpty(Line).Max()) + (RowSpace * (grid.Rows.Length - 1)),
        FormulaNode.Box box => Of(box.Of),
        _ => Line,
    };

    private static int OfScript(FormulaNode? script) => script is null ? 0 : RaisedPart + (int)(HighScript * (Of(script) - Line));

    /// <summary>Whether a part is higher than a line.</summary>
    public static bool IsHigh(FormulaNode node) => Of(node) > 1.3 * Line;

    /// <summary>Whether a large sign is an integral.</summary>
    public static bool IsIntegral(string sign) => sign is [>= '\u222B' and <= '\u2233'];

    /// <summary>What an accent adds: nothing over small letters, where there is room, nor where it is flat.</summary>
    private static int AccentOver(FormulaNode.Accent accent) => accent.Of is not FormulaNode.Text { Value: var letter } ? RaisedPart
        : accent.Sign is "\u0302" or "\u0303" or "^" or "~" && letter.Any(c => char.IsUpper(c) || "bdfhklt\u03B2\u03B4\u03B6\u03B8\u03BB\u03BE".Contains(c, StringComparison.Ordinal)) ? RaisedPart : 0;
}
