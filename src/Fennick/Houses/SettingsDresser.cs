using System.Xml.Linq;
using Fennick.Formatting;
using Fennick.Schema;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>Brings the settings of a house's file to what a finished report needs (ECMA-376 Part 1, §17.15).</summary>
internal static class SettingsDresser
{
    private static readonly XNamespace W = StyleSheet.W;
    private static readonly string[] Unwanted =
        ["mailMerge", "attachedTemplate", "documentProtection", "writeProtection", "updateFields", "linkStyles", "trackRevisions", "rsids", "decimalSymbol", "listSeparator"];

    /// <summary>The compatibility mode of a house; 12 if it names none.</summary>
    public static int ModeOf(XElement settings) => (int)(settings.Element(W + "compat")?.Elements(W + "compatSetting").Where(s => (string?)s.Attribute(W + "name") == "compatibilityMode").Select(s => StyleSheet.Number(s, "val")).FirstOrDefault() ?? 12);

    /// <summary>Changes the settings.</summary>
    /// <param name="settings">The settings.</param>
    /// <param name="language">The report's language.</param>
    /// <param name="footnotes">The house's footnotes; null if the document has none but a report's, if any.</param>
    /// <param name="endnotes">The house's endnotes, if it has any.</param>
    /// <param name="hasNotes">Whether the document has footnotes.</param>
    /// <param name="hasEvenPages">Whether even pages have other headers than odd ones.</param>
    public static void Change(XElement settings, Language language, XElement? footnotes, XElement? endnotes, bool hasNotes, bool hasEvenPages)
    {
        settings.Elements().Where(e => e.Name.Namespace == W && Unwanted.Contains(e.Name.LocalName)).Remove();
        var own = XElement.Parse(System.Text.Encoding.UTF8.GetString(TemplatePart.Bytes(xml => SettingsPart.Write(xml, language, hasNotes))));
        if (hasEvenPages && settings.Element(W + "evenAndOddHeaders") is null) settings.Add(new XElement(W + "evenAndOddHeaders"));
        var compatibility = ElementOf(settings, "compat");
        foreach (var setting in own.Element(W + "compat")!.Elements())
        {
            compatibility.Elements(W + "compatSetting").Where(s => (string?)s.Attribute(W + "name") == (string?)setting.Attribute(W + "name")).Remove();
            compatibility.Add(new XElement(setting));
        }
        NameSeparators(settings, "footnote", footnotes is null ? own.Element(W + "footnotePr")?.Elements() : SeparatorsOf(footnotes));
        NameSeparators(settings, "endnote", SeparatorsOf(endnotes));
        foreach (var name in new[] { "decimalSymbol", "listSeparator", "clrSchemeMapping" })
            if (settings.Element(W + name) is null) settings.Add(new XElement(own.Element(W + name)!));
        SchemaMender.Order(settings);
    }

    /// <summary>The notes that are drawn between the text and its notes, whatever a house's program has numbered them (§17.11.9).</summary>
    private static IEnumerable<XElement>? SeparatorsOf(XElement? notes) => notes?.Elements().Where(n => (string?)n.Attribute(W + "type") is not (null or "normal"));

    private static void NameSeparators(XElement settings, string kind, IEnumerable<XElement>? separators)
    {
        settings.Element(W + (kind + "Pr"))?.Elements(W + kind).Remove();
        if (separators?.ToArray() is { Length: > 0 } found) ElementOf(settings, kind + "Pr").Add(found.Select(s => new XElement(W + kind, s.Attribute(W + "id"))));
    }

    private static XElement ElementOf(XElement settings, string name)
    {
        if (settings.Element(W + name) is { } element) return element;
        settings.Add(element = new XElement(W + name));
        return element;
    }
}
