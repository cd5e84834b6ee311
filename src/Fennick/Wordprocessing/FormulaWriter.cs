using System.Collections.Immutable;
using Fennick.Mathematics;

namespace Fennick.Wordprocessing;

/// <summary>Writes formulas (ECMA-376 Part 1, §22.1).</summary>
internal static class FormulaWriter
{
    // The mathematical face has to be named at every run, or word processors fall back to the text's.
    private static ReadOnlySpan<byte> Face => "<w:rPr><w:rFonts w:ascii=\"Cambria Math\" w:hAnsi=\"Cambria Math\"/></w:rPr>"u8;

    private static ReadOnlySpan<byte> FaceOfSigns => "<m:ctrlPr><w:rPr><w:rFonts w:ascii=\"Cambria Math\" w:hAnsi=\"Cambria Math\"/></w:rPr></m:ctrlPr>"u8;

    /// <summary>A formula in a line.</summary>
    public static void Write(Utf8XmlWriter xml, Formula formula)
    {
        using (xml.Element("m:oMath"u8)) Write(xml, formula.Root, isDisplayed: false);
    }

    /// <summary>A formula alone in its paragraph.</summary>
    public static void WriteDisplayed(Utf8XmlWriter xml, Formula formula)
    {
        using (xml.Element("m:oMathPara"u8))
        using (xml.Element("m:oMath"u8)) Write(xml, formula.Root, isDisplayed: true);
    }

    private static void Write(Utf8XmlWriter xml, FormulaNode node, bool isDisplayed)
    {
        switch (node)
        {
            case FormulaNode.Row row: WriteRow(xml, row.Nodes, isDisplayed); break;
            case FormulaNode.Text text when TexSymbols.IsSign(text.Value): WriteRow(xml, [text], isDisplayed); break;
            case FormulaNode.Text text: WriteText(xml, text.Value, text.Lettering); break;
            case FormulaNode.Fraction fraction:
                using (xml.Element("m:f"u8))
                {
                    WriteProperties("m:fPr"u8, () => Set("m:type"u8, fraction.HasBar ? "bar" : "noBar"));
                    Part("m:num"u8, fraction.Over, false);
                    Part("m:den"u8, fraction.Under, false);
                }
                break;
            case FormulaNode.Root root:
                using (xml.Element("m:rad"u8))
                {
                    WriteProperties("m:radPr"u8, () => Set("m:degHide"u8, root.Degree is null ? "1" : "0"));
                    Part("m:deg"u8, root.Degree ?? new FormulaNode.Row([]), false);
                    Part("m:e"u8, root.Of, isDisplayed);
                }
                break;
            case FormulaNode.Script script: WriteScript(xml, script, isDisplayed); break;
            case FormulaNode.BigOperator big:
                using (xml.Element("m:nary"u8))
                {
                    WriteProperties("m:naryPr"u8, () =>
                    {
                        Set("m:chr"u8, big.Sign);
                        Set("m:limLoc"u8, big.HasLimits && isDisplayed ? "undOvr" : "subSup");
                        Set("m:subHide"u8, big.Below is null ? "1" : "0");
                        Set("m:supHide"u8, big.Above is null ? "1" : "0");
                    });
                    Part("m:sub"u8, big.Below ?? new FormulaNode.Row([]), false);
                    Part("m:sup"u8, big.Above ?? new FormulaNode.Row([]), false);
                    Part("m:e"u8, big.Of, isDisplayed);
                }
                break;
            case FormulaNode.Limit { Below: { } below } limit:
                using (xml.Element("m:limLow"u8))
                {
                    WriteProperties("m:limLowPr"u8, () => { });
                    Part("m:e"u8, limit.Above is null ? limit.Of : limit with { Below = null }, isDisplayed);
                    Part("m:lim"u8, below, false);
                }
                break;
            case FormulaNode.Limit { Above: { } above } limit:
                using (xml.Element("m:limUpp"u8))
                {
                    WriteProperties("m:limUppPr"u8, () => { });
                    Part("m:e"u8, limit.Of, isDisplayed);
                    Part("m:lim"u8, above, false);
                }
                break;
            case FormulaNode.Limit limit: Write(xml, limit.Of, isDisplayed); break;
            case FormulaNode.Function function:
                using (xml.Element("m:func"u8))
                {
                    WriteProperties("m:funcPr"u8, () => { });
                    Part("m:fName"u8, function.Name, isDisplayed);
                    Part("m:e"u8, function.Argument, isDisplayed);
                }
                break;
            case FormulaNode.Delimited delimited:
                using (xml.Element("m:d"u8))
                {
                    WriteProperties("m:dPr"u8, () =>
                    {
                        Set("m:begChr"u8, delimited.Open);
                        if (delimited.Parts.Length > 1) Set("m:sepChr"u8, delimited.Separator);
                        Set("m:endChr"u8, delimited.Close);
                    });
                    foreach (var part in delimited.Parts) Part("m:e"u8, part, isDisplayed);
                }
                break;
            case FormulaNode.Accent accent:
                using (xml.Element("m:acc"u8))
                {
                    WriteProperties("m:accPr"u8, () => Set("m:chr"u8, accent.Sign));
                    Part("m:e"u8, accent.Of, isDisplayed);
                }
                break;
            case FormulaNode.Bar bar:
                using (xml.Element("m:bar"u8))
                {
                    WriteProperties("m:barPr"u8, () => Set("m:pos"u8, bar.IsAbove ? "top" : "bot"));
                    Part("m:e"u8, bar.Of, isDisplayed);
                }
                break;
            case FormulaNode.Brace brace:
                using (xml.Element("m:groupChr"u8))
                {
                    WriteProperties("m:groupChrPr"u8, () =>
                    {
                        Set("m:chr"u8, brace.Sign);
                        Set("m:pos"u8, brace.IsAbove ? "top" : "bot");
                        Set("m:vertJc"u8, brace.IsAbove ? "bot" : "top");
                    });
                    Part("m:e"u8, brace.Of, isDisplayed);
                }
                break;
            case FormulaNode.Box box:
                using (xml.Element("m:borderBox"u8))
                {
                    WriteProperties("m:borderBoxPr"u8, () => { });
                    Part("m:e"u8, box.Of, isDisplayed);
                }
                break;
            case FormulaNode.Grid grid: WriteGrid(xml, grid, isDisplayed); break;
            default: throw new InvalidOperationException($"No writer for {node.GetType().Name}.");
        }

        void Part(ReadOnlySpan<byte> name, FormulaNode of, bool displayed) => WritePart(xml, name, of, displayed);

        void Set(ReadOnlySpan<byte> name, string value) => WriteProperty(xml, name, value);

        void WriteProperties(ReadOnlySpan<byte> name, Action write)
        {
            using (xml.Element(name))
            {
                write();
                xml.Raw(FaceOfSigns);
            }
        }
    }

    private static void WriteScript(Utf8XmlWriter xml, FormulaNode.Script script, bool isDisplayed)
    {
        // What has nothing before it hangs on an invisible sign, or readers draw an empty box.
        var of = script.Of is FormulaNode.Row { Nodes.IsEmpty: true } ? new FormulaNode.Text("\u200B") : script.Of;
        if (script is { Below: null, Above: null })
        {
            Write(xml, script.Of, isDisplayed);
            return;
        }
        var element = script switch { { Below: not null, Above: not null } => "m:sSubSup"u8, { Below: not null } => "m:sSub"u8, _ => "m:sSup"u8 };
        var properties = script switch { { Below: not null, Above: not null } => "m:sSubSupPr"u8, { Below: not null } => "m:sSubPr"u8, _ => "m:sSupPr"u8 };
        using (xml.Element(element))
        {
            using (xml.Element(properties)) xml.Raw(FaceOfSigns);
            WritePart(xml, "m:e"u8, of, isDisplayed);
            if (script.Below is { } below) WritePart(xml, "m:sub"u8, below, false);
            if (script.Above is { } above) WritePart(xml, "m:sup"u8, above, false);
        }
    }

    private static void WriteGrid(Utf8XmlWriter xml, FormulaNode.Grid grid, bool isDisplayed)
    {
        using (xml.Element("m:m"u8))
        {
            using (xml.Element("m:mPr"u8))
            {
                WriteProperty(xml, "m:plcHide"u8, "1");
                if (grid.IsTight)
                {
                    // §22.1.2.18: a gap of none, so that a relation stands close to both its sides.
                    WriteProperty(xml, "m:rSpRule"u8, "1");
                    WriteProperty(xml, "m:cGpRule"u8, "3");
                    WriteProperty(xml, "m:cGp"u8, "0");
                }
                using (xml.Element("m:mcs"u8))
                {
                    foreach (var column in grid.Columns)
                    {
                        using (xml.Element("m:mc"u8))
                        using (xml.Element("m:mcPr"u8))
                        {
                            WriteProperty(xml, "m:count"u8, "1");
                            WriteProperty(xml, "m:mcJc"u8, column switch { 'l' => "left", 'r' => "right", _ => "center" });
                        }
                    }
                }
                xml.Raw(FaceOfSigns);
            }
            foreach (var row in grid.Rows)
            {
                using (xml.Element("m:mr"u8))
                    foreach (var cell in row) WritePart(xml, "m:e"u8, cell, isDisplayed && grid.IsTight);
            }
        }
    }

    private static void WritePart(Utf8XmlWriter xml, ReadOnlySpan<byte> name, FormulaNode node, bool isDisplayed)
    {
        using (xml.Element(name)) Write(xml, node, isDisplayed);
    }

    private static void WriteProperty(Utf8XmlWriter xml, ReadOnlySpan<byte> name, string value)
    {
        using (xml.Element(name)) xml.Attribute("m:val"u8, value);
    }

    /// <summary>Signs in a row that are drawn alike share a run, but no two letters: readers take letters in one run for a name.</summary>
    private static void WriteRow(Utf8XmlWriter xml, ImmutableArray<FormulaNode> nodes, bool isDisplayed)
    {
        // A relation or an operator with nothing on one side has an invisible one there, or readers draw a fault.
        if (nodes is [FormulaNode.Text first, ..] && TexSymbols.IsRelation(first.Value)) nodes = nodes.Insert(0, TexReader.Nothing);
        if (nodes is [.., FormulaNode.Text last] && TexSymbols.IsSign(last.Value)) nodes = nodes.Add(TexReader.Nothing);
        for (var i = 0; i < nodes.Length;)
        {
            if (nodes[i] is not FormulaNode.Text { Lettering: var lettering } text)
            {
                Write(xml, nodes[i++], isDisplayed);
                continue;
            }
            var run = text.Value;
            for (i++; i < nodes.Length && nodes[i] is FormulaNode.Text next && next.Lettering == lettering && SharesRun(run, next.Value, lettering); i++) run += next.Value;
            WriteText(xml, run, lettering);
        }
    }

    private static bool SharesRun(string run, string next, Lettering lettering) => lettering == Lettering.Words || run.Length == 0
        || (string.IsNullOrWhiteSpace(run) == string.IsNullOrWhiteSpace(next) && (!char.IsLetterOrDigit(run[^1]) || !char.IsLetterOrDigit(next[0]) || (char.IsAsciiDigit(run[^1]) && char.IsAsciiDigit(next[0]))));

    private static void WriteText(Utf8XmlWriter xml, string text, Lettering lettering)
    {
        if (text.Length == 0) return;
        using (xml.Element("m:r"u8))
        {
            // Readers leave out spaces that are not words.
            if (lettering == Lettering.Words || string.IsNullOrWhiteSpace(text))
            {
                xml.Raw("<m:rPr><m:nor/></m:rPr>"u8);
            }
            else if (lettering != Lettering.Usual)
            {
                using (xml.Element("m:rPr"u8))
                {
                    if (lettering is Lettering.DoubleStruck or Lettering.Script or Lettering.Fraktur or Lettering.SansSerif or Lettering.Monospace)
                    {
                        WriteProperty(xml, "m:scr"u8, lettering switch
                        {
                            Lettering.DoubleStruck => "double-struck",
                            Lettering.Script => "script",
                            Lettering.Fraktur => "fraktur",
                            Lettering.SansSerif => "sans-serif",
                            _ => "monospace",
                        });
                    }
                    WriteProperty(xml, "m:sty"u8, lettering switch { Lettering.Bold => "b", Lettering.BoldItalic => "bi", Lettering.Italic => "i", _ => "p" });
                }
            }
            xml.Raw(Face);
            using (xml.Element("m:t"u8))
            {
                if (char.IsWhiteSpace(text[0]) || char.IsWhiteSpace(text[^1])) xml.Attribute("xml:space"u8, "preserve"u8);
                xml.Text(text);
            }
        }
    }
}
