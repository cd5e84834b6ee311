using System.Xml.Linq;
using Fennick.Formatting;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>Brings the settings of a house's file to what a finished report needs (ECMA-376 Part 1, §17.15).</summary>
internal static class SettingsDresser
{
    private static readonly XNamespace W = StyleSheet.W;
    private static readonly string[] Unwanted =
        ["mailMerge", "attachedTemplate", "documentProtection", "writeProtection", "updateFields", "linkStyles", "trackRevisions", "rsids", "footnotePr", "endnotePr", "decimalSymbol", "listSeparator"];

    // What the schema has before the switch for even pages.
    private static readonly string[] Before =
    [
        "view", "zoom", "removePersonalInformation", "removeDateAndTime", "doNotDisplayPageBoundaries", "displayBackgroundShape", "printPostScriptOverText", "printFractionalCharacterWidth", "printFormsData",
        "embedTrueTypeFonts", "embedSystemFonts", "saveSubsetFonts", "saveFormsData", "mirrorMargins", "alignBordersAndEdges", "bordersDoNotSurroundHeader", "bordersDoNotSurroundFooter", "gutterAtTop",
        "hideSpellingErrors", "hideGrammaticalErrors", "activeWritingStyle", "proofState", "formsDesign", "stylePaneFormatFilter", "stylePaneSortMethod", "documentType", "revisionView", "doNotTrackMoves",
        "doNotTrackFormatting", "autoFormatOverride", "styleLockTheme", "styleLockQFSet", "defaultTabStop", "autoHyphenation", "consecutiveHyphenLimit", "hyphenationZone", "doNotHyphenateCaps", "showEnvelope",
        "summaryLength", "clickAndTypeStyle", "defaultTableStyle",
    ];

    // The last elements of the settings in the order of the schema.
    private static readonly string[] Tail =
    [
        "footnotePr", "endnotePr", "compat", "docVars", "rsids", "mathPr", "attachedSchema", "themeFontLang", "clrSchemeMapping", "doNotIncludeSubdocsInStats", "doNotAutoCompressPictures", "forceUpgrade", "captions",
        "readModeInkLockDown", "smartTagType", "schemaLibrary", "shapeDefaults", "doNotEmbedSmartTags", "decimalSymbol", "listSeparator",
    ];

    /// <summary>The compatibility mode of a house; 12 if it names none.</summary>
    public static int ModeOf(XElement settings) => (int)(settings.Element(W + "compat")?.Elements(W + "compatSetting").Where(s => (string?)s.Attribute(W + "name") == "compatibilityMode").Select(s => StyleSheet.Number(s, "val")).FirstOrDefault() ?? 12);

    /// <summary>Changes the settings.</summary>
    /// <param name="settings">The settings.</param>
    /// <param name="language">The report's language.</param>
    /// <param name="hasNotes">Whether the document has footnotes.</param>
    /// <param name="hasEndnotes">Whether the house has endnotes.</param>
    /// <param name="hasEvenPages">Whether even pages have other headers than odd ones.</param>
    public static void Change(XElement settings, Language language, bool hasNotes, bool hasEndnotes, bool hasEvenPages)
    {
        settings.Elements().Where(e => e.Name.Namespace == W && Unwanted.Contains(e.Name.LocalName)).Remove();
        var own = XElement.Parse(System.Text.Encoding.UTF8.GetString(TemplatePart.Bytes(xml => SettingsPart.Write(xml, language, hasNotes))));
        if (hasEvenPages && settings.Element(W + "evenAndOddHeaders") is null)
        {
            var added = new XElement(W + "evenAndOddHeaders");
            if (settings.Elements().LastOrDefault(e => Before.Contains(e.Name.LocalName)) is { } last) last.AddAfterSelf(added);
            else settings.AddFirst(added);
        }
        var compatibility = settings.Element(W + "compat") ?? Insert(settings, new XElement(W + "compat"));
        foreach (var setting in own.Element(W + "compat")!.Elements())
        {
            compatibility.Elements(W + "compatSetting").Where(s => (string?)s.Attribute(W + "name") == (string?)setting.Attribute(W + "name")).Remove();
            compatibility.Add(new XElement(setting));
        }
        if (hasNotes) Insert(settings, new XElement(own.Element(W + "footnotePr")!));
        if (hasEndnotes) Insert(settings, new XElement(W + "endnotePr", own.Element(W + "footnotePr") is { } notes ? notes.Elements().Select(e => new XElement(W + "endnote", e.Attributes())) : []));
        foreach (var name in new[] { "decimalSymbol", "listSeparator", "clrSchemeMapping" })
            if (settings.Element(W + name) is null) Insert(settings, new XElement(own.Element(W + name)!));
    }

    private static XElement Insert(XElement settings, XElement element)
    {
        var place = Array.IndexOf(Tail, element.Name.LocalName);
        var next = settings.Elements().FirstOrDefault(e => Array.IndexOf(Tail, e.Name.LocalName) > place || e.Name.NamespaceName.Contains("/office/word/", StringComparison.Ordinal));
        if (next is null) settings.Add(element);
        else next.AddBeforeSelf(element);
        return element;
    }
}
