using System.Xml.Linq;

namespace Fennick.Houses;

/// <summary>Brings properties into the order of the schema, which not every program keeps and not every program forgives the lack of (ECMA-376 Part 1, annex A).</summary>
internal static class SchemaOrder
{
    private static readonly XNamespace W = StyleSheet.W;
    private static readonly XNamespace Vml = "urn:schemas-microsoft-com:vml";
    private static readonly Dictionary<string, string[]> Orders = new Dictionary<string, string>
    {
        ["pPr"] = "pStyle keepNext keepLines pageBreakBefore framePr widowControl numPr suppressLineNumbers pBdr shd tabs suppressAutoHyphens kinsoku wordWrap overflowPunct topLinePunct autoSpaceDE autoSpaceDN bidi adjustRightInd snapToGrid spacing ind contextualSpacing mirrorIndents suppressOverlap jc textDirection textAlignment textboxTightWrap outlineLvl divId cnfStyle rPr sectPr pPrChange",
        ["rPr"] = "ins del moveFrom moveTo rStyle rFonts b bCs i iCs caps smallCaps strike dstrike outline shadow emboss imprint noProof snapToGrid vanish webHidden color spacing w kern position sz szCs highlight u effect bdr shd fitText vertAlign rtl cs em lang eastAsianLayout specVanish oMath rPrChange",
        ["sectPr"] = "headerReference footerReference footnotePr endnotePr type pgSz pgMar paperSrc pgBorders lnNumType pgNumType cols formProt vAlign noEndnote titlePg textDirection bidi rtlGutter docGrid printerSettings sectPrChange",
        ["tblPr"] = "tblStyle tblpPr tblOverlap bidiVisual tblStyleRowBandSize tblStyleColBandSize tblW jc tblCellSpacing tblInd tblBorders shd tblLayout tblCellMar tblLook tblCaption tblDescription tblPrChange",
        ["tcPr"] = "cnfStyle tcW gridSpan hMerge vMerge tcBorders shd noWrap tcMar textDirection tcFitText vAlign hideMark",
        ["tcBorders"] = "top start left bottom end right insideH insideV tl2br tr2bl",
        ["tblBorders"] = "top start left bottom end right insideH insideV",
        ["pBdr"] = "top left bottom right between bar",
        ["tblCellMar"] = "top start left bottom end right",
        ["tcMar"] = "top start left bottom end right",
        ["style"] = "name aliases basedOn next link autoRedefine hidden uiPriority semiHidden unhideWhenUsed qFormat locked personal personalCompose personalReply rsid pPr rPr tblPr trPr tcPr tblStylePr",
        ["tblStylePr"] = "pPr rPr tblPr trPr tcPr",
        ["abstractNum"] = "nsid multiLevelType tmpl name styleLink numStyleLink lvl",
        ["lvl"] = "start numFmt lvlRestart pStyle isLgl suff lvlText lvlPicBulletId legacy lvlJc pPr rPr",
        ["sdtPr"] = "rPr alias tag id lock placeholder temporary showingPlcHdr dataBinding label tabIndex",
    }.ToDictionary(o => o.Key, o => o.Value.Split(' '));

    /// <summary>Sorts what is not in order, and gives switches and alignments the values that the schema knows; what the schema does not know stays behind what it knows.</summary>
    public static void Restore(XElement root)
    {
        foreach (var element in root.DescendantsAndSelf())
        {
            if (element.Name == W + "cantSplit" || element.Name == W + "tblHeader") SetSwitch(element);
            else if (element.Name == W + "jc" && element.Parent?.Name == W + "tblPr" && element.Attribute(W + "val") is { Value: "start" or "end" } side) side.Value = side.Value == "start" ? "left" : "right";
            else if (element.Name.Namespace == Vml) element.SetAttributeValue("ID", null);
            else if (element.Name == W + "charset") element.SetAttributeValue(W + "characterSet", null);
            if (element.Name.Namespace != W || !Orders.TryGetValue(element.Name.LocalName, out var order)) continue;
            var (last, isSorted) = (-1, true);
            foreach (var child in element.Elements())
            {
                var place = PlaceOf(child, order);
                isSorted &= place > last || (place == last && (IsManyfold(child) || place == order.Length));
                last = place;
            }
            if (isSorted) continue;
            // Of what may stand once, the last one counts.
            var kept = element.Elements().Reverse().Where(e => IsManyfold(e) || e.Name.Namespace != W || !e.ElementsAfterSelf(e.Name).Any());
            element.ReplaceNodes(kept.Reverse().OrderBy(e => PlaceOf(e, order)).ToArray());
        }
    }

    private static bool IsManyfold(XElement element) => element.Name.LocalName is "headerReference" or "footerReference" or "tblStylePr" or "lvl";

    private static void SetSwitch(XElement element)
    {
        if (!StyleSheet.IsOn(element)) element.SetAttributeValue(W + "val", "0");
        else element.SetAttributeValue(W + "val", null);
    }

    private static int PlaceOf(XElement element, string[] order)
    {
        // Headers and footers stand in any order among themselves.
        var name = element.Name.LocalName == "footerReference" ? "headerReference" : element.Name.LocalName;
        var place = element.Name.Namespace == W ? Array.IndexOf(order, name) : -1;
        return place < 0 ? order.Length : place;
    }
}
