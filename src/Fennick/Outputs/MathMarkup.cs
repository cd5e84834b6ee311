using System.Net;
using System.Text;
using Fennick.Mathematics;

namespace Fennick.Outputs;

/// <summary>Writes formulas as MathML (MathML Core, W3C).</summary>
internal static class MathMarkup
{
    /// <summary>A formula as an element of a page.</summary>
    public static string Of(Formula formula, bool isDisplayed)
    {
        var markup = new StringBuilder(isDisplayed ? "<math display=\"block\">" : "<math>");
        Write(markup, formula.Root);
        return markup.Append("</math>").ToString();
    }

    private static void Write(StringBuilder markup, FormulaNode node)
    {
        switch (node)
        {
            case FormulaNode.Row row: Row(markup, row.Nodes); break;
            case FormulaNode.Text text: Write(markup, text); break;
            case FormulaNode.Fraction fraction: Element(markup, fraction.HasBar ? "<mfrac>" : "<mfrac linethickness=\"0\">", "</mfrac>", fraction.Over, fraction.Under); break;
            case FormulaNode.Root { Degree: { } degree } root: Element(markup, "<mroot>", "</mroot>", root.Of, degree); break;
            case FormulaNode.Root root: Element(markup, "<msqrt>", "</msqrt>", root.Of); break;
            case FormulaNode.Script { Below: { } below, Above: { } above } script: Element(markup, "<msubsup>", "</msubsup>", script.Of, below, above); break;
            case FormulaNode.Script { Below: { } below } script: Element(markup, "<msub>", "</msub>", script.Of, below); break;
            case FormulaNode.Script script: Element(markup, "<msup>", "</msup>", script.Of, script.Above ?? new FormulaNode.Row([])); break;
            case FormulaNode.BigOperator big:
                markup.Append("<mrow>");
                Write(markup, new FormulaNode.Text(big.Sign), big.Below, big.Above, big.HasLimits);
                Write(markup, big.Of);
                markup.Append("</mrow>");
                break;
            case FormulaNode.Limit limit: Write(markup, limit.Of, limit.Below, limit.Above, isAround: true); break;
            case FormulaNode.Function function:
                markup.Append("<mrow>");
                Write(markup, function.Name);
                markup.Append("<mo>&#x2061;</mo>");
                Write(markup, function.Argument);
                markup.Append("</mrow>");
                break;
            case FormulaNode.Delimited delimited:
                markup.Append("<mrow>");
                Sign(markup, delimited.Open);
                for (var i = 0; i < delimited.Parts.Length; i++)
                {
                    if (i > 0) Sign(markup, delimited.Separator);
                    Write(markup, delimited.Parts[i]);
                }
                Sign(markup, delimited.Close);
                markup.Append("</mrow>");
                break;
            case FormulaNode.Accent accent: Over(markup, accent.Of, Spacing(accent.Sign), isAbove: true, isAccent: true); break;
            case FormulaNode.Bar bar: Over(markup, bar.Of, "\u203E", bar.IsAbove, isAccent: false); break;
            case FormulaNode.Brace brace: Over(markup, brace.Of, brace.Sign, brace.IsAbove, isAccent: false); break;
            case FormulaNode.Box box: Element(markup, "<mrow class=\"boxed\">", "</mrow>", box.Of); break;
            case FormulaNode.Grid grid:
                markup.Append("<mtable>");
                foreach (var row in grid.Rows)
                {
                    markup.Append("<mtr>");
                    for (var c = 0; c < row.Length; c++) Element(markup, (c < grid.Columns.Length ? grid.Columns[c] : 'c') switch { 'l' => "<mtd style=\"text-align:left\">", 'r' => "<mtd style=\"text-align:right\">", _ => "<mtd>" }, "</mtd>", row[c]);
                    markup.Append("</mtr>");
                }
                markup.Append("</mtable>");
                break;
            default: throw new InvalidOperationException($"No markup for {node.GetType().Name}.");
        }
    }

    private static void Row(StringBuilder markup, IEnumerable<FormulaNode> nodes)
    {
        markup.Append("<mrow>");
        foreach (var node in nodes) Write(markup, node);
        markup.Append("</mrow>");
    }

    private static void Element(StringBuilder markup, string open, string close, params ReadOnlySpan<FormulaNode> parts)
    {
        markup.Append(open);
        foreach (var part in parts) Write(markup, part);
        markup.Append(close);
    }

    private static void Write(StringBuilder markup, FormulaNode of, FormulaNode? below, FormulaNode? above, bool isAround)
    {
        switch (below, above)
        {
            case ({ } from, { } to): Element(markup, isAround ? "<munderover>" : "<msubsup>", isAround ? "</munderover>" : "</msubsup>", of, from, to); break;
            case ({ } from, null): Element(markup, isAround ? "<munder>" : "<msub>", isAround ? "</munder>" : "</msub>", of, from); break;
            case (null, { } to): Element(markup, isAround ? "<mover>" : "<msup>", isAround ? "</mover>" : "</msup>", of, to); break;
            default: Write(markup, of); break;
        }
    }

    private static void Over(StringBuilder markup, FormulaNode of, string sign, bool isAbove, bool isAccent)
    {
        var name = isAbove ? "mover" : "munder";
        markup.Append('<').Append(name).Append(isAccent ? " accent=\"true\">" : ">");
        Write(markup, of);
        markup.Append(isAccent ? "<mo stretchy=\"false\">" : "<mo stretchy=\"true\">").Append(WebUtility.HtmlEncode(sign)).Append("</mo></").Append(name).Append('>');
    }

    /// <summary>An accent as a character of its own.</summary>
    private static string Spacing(string accent) => accent switch
    {
        "\u0302" => "^",
        "\u0303" => "~",
        "\u0304" or "\u0305" => "\u00AF",
        "\u0307" => "\u02D9",
        "\u0308" => "\u00A8",
        "\u20D7" => "\u2192",
        "\u0301" => "\u00B4",
        "\u0300" => "`",
        "\u0306" => "\u02D8",
        "\u030C" => "\u02C7",
        "\u030A" => "\u02DA",
        _ => accent,
    };

    private static void Sign(StringBuilder markup, string sign)
    {
        if (sign.Length > 0) markup.Append("<mo>").Append(WebUtility.HtmlEncode(sign)).Append("</mo>");
    }

    private static void Write(StringBuilder markup, FormulaNode.Text text)
    {
        var value = text.Value;
        if (value.Length == 0 || value == "\u200B") return;
        var written = WebUtility.HtmlEncode(value);
        if (string.IsNullOrWhiteSpace(value)) markup.Append("<mspace width=\"").Append(value.Length > 1 ? "1em" : "0.22em").Append("\"/>");
        else if (text.Lettering == Lettering.Words) markup.Append("<mtext>").Append(written.Replace(" ", "&#xA0;", StringComparison.Ordinal)).Append("</mtext>");
        else if (value.All(c => char.IsDigit(c) || c is '.' or ',')) markup.Append("<mn>").Append(written).Append("</mn>");
        else if (char.IsLetter(value, 0)) markup.Append("<mi").Append(Variant(text.Lettering, value)).Append('>').Append(Letters(value, text.Lettering)).Append("</mi>");
        else markup.Append("<mo>").Append(written).Append("</mo>");
    }

    // A single letter leans by itself, several stand upright.
    private static string Variant(Lettering lettering, string value) => lettering != Lettering.Usual && value.Length == 1 && lettering is Lettering.Upright ? " mathvariant=\"normal\"" : "";

    /// <summary>Letters of another lettering, as the characters that Unicode has for them (Mathematical Alphanumeric Symbols).</summary>
    private static string Letters(string value, Lettering lettering) => WebUtility.HtmlEncode(MathLetters.In(value, lettering));
}
