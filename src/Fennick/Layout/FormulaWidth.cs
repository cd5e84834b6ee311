using Fennick.Mathematics;

namespace Fennick.Layout;

/// <summary>How wide formulas are in a line, in points, with the measures of the word processor of Debian's packages, which sets them in its own size and face.</summary>
internal static class FormulaWidth
{
    private const string Family = "Times New Roman";
    private const double Points = 12;

    // Letters that lean reach over their advance.
    private const double Leaning = 1.2;
    private const double Script = 0.6;
    private const double AroundRelation = 2.6;
    private const double AroundSum = 0.6;
    private const double FractionBar = 1.6;
    private const double RootSign = 7.3;
    private const double Operator = 16;
    private const double Integral = 12.6;
    private const double Delimiter = 3.1;
    private const double HighDelimiter = 4.7;
    private const double BehindFunction = 1.5;
    private const double BetweenCells = 9.6;

    private static readonly IFaceMeasures Upright = FontWidths.Instance.Face(new FontFace(Family));
    private static readonly IFaceMeasures Italic = FontWidths.Instance.Face(new FontFace(Family, Italic: true));

    /// <summary>The width of a formula.</summary>
    public static double Of(FormulaNode node) => node switch
    {
        FormulaNode.Text text => Of(text),
        FormulaNode.Fraction fraction => Math.Max(Of(fraction.Over), Of(fraction.Under)) + FractionBar,
        FormulaNode.Root root => Of(root.Of) + RootSign,
        FormulaNode.Script script => Of(script.Of) + (Script * Math.Max(script.Below is { } below ? Of(below) : 0, script.Above is { } above ? Of(above) : 0)),
        FormulaNode.BigOperator big => SignWidth(big) + Of(big.Of),
        FormulaNode.Limit limit => Of(limit.Of),
        FormulaNode.Function function => Of(function.Name) + BehindFunction + Of(function.Argument),
        FormulaNode.Delimited delimited => (2 * (FormulaHeight.IsHigh(delimited) ? HighDelimiter : Delimiter)) + delimited.Parts.Sum(Of),
        FormulaNode.Grid grid => grid.Rows.Select(r => r.Length == 0 ? 0 : r.Sum(Of) + (BetweenCells * (r.Length - 1))).DefaultIfEmpty().Max(),
        _ => node.Children.Sum(Of),
    };

    private static double SignWidth(FormulaNode.BigOperator big) =>
        Math.Max(FormulaHeight.IsIntegral(big.Sign) ? Integral : Operator, Script * Math.Max(big.Below is { } below ? Of(below) : 0, big.Above is { } above ? Of(above) : 0));

    private static double Of(FormulaNode.Text text)
    {
        if (text.Value == "\u200B") return 0;
        if (text.Lettering == Lettering.Usual && text.Value.Length == 1 && char.IsLetter(text.Value[0])) return Italic.Width(text.Value, Points) + Leaning;
        return Upright.Width(text.Value, Points) + (TexSymbols.IsRelation(text.Value) ? AroundRelation : TexSymbols.IsSum(text.Value) ? AroundSum : 0);
    }
}
