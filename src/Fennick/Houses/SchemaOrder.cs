using System.Xml.Linq;

namespace Fennick.Houses;

/// <summary>Brings properties into the order of the schema, which not every program keeps and not every program forgives the lack of (ECMA-376 Part 1, annex A).</summary>
internal static class SchemaOrder
{
    private static readonly XNamespace W = StyleSheet.W;
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

    /// <summary>Sorts what is not in order; what the schema does not know stays behind what it knows.</summary>
    public static void Restore(XElement root)
    {
        foreach (var element in root.DescendantsAndSelf())
        {
            if (element.Name.Namespace != W || !Orders.TryGetValue(element.Name.LocalName, out var order)) continue;
            var (last, isSorted) = (0, true);
            foreach (var child in element.Elements())
            {
                var place = PlaceOf(child, order);
                isSorted &= place >= last;
                last = place;
            }
            if (!isSorted) element.ReplaceNodes(element.Elements().OrderBy(e => PlaceOf(e, order)).ToArray());
        }
    }

    private static int PlaceOf(XElement element, string[] order)
    {
        // Headers and footers stand in any order among themselves.
        var name = element.Name.LocalName == "footerReference" ? "headerReference" : element.Name.LocalName;
        var place = element.Name.Namespace == W ? Array.IndexOf(order, name) : -1;
        return place < 0 ? order.Length : place;
    }
}
