using Fennick.Formatting;

namespace Fennick.Wordprocessing;

/// <summary>Writes <c>word/settings.xml</c> (ECMA-376 Part 1, §17.15).</summary>
internal static class SettingsPart
{
    public static void Write(Utf8XmlWriter xml, Language language, bool hasNotes, bool hasEvenPages = false)
    {
        using (xml.Element("w:settings"u8))
        {
            xml.Attribute("xmlns:w"u8, Namespaces.Main);
            xml.Attribute("xmlns:m"u8, Namespaces.Math);
            xml.Raw("<w:zoom w:percent=\"100\"/><w:defaultTabStop w:val=\"567\"/>"u8);
            if (hasEvenPages) xml.Empty("w:evenAndOddHeaders"u8);
            xml.Raw("<w:characterSpacingControl w:val=\"doNotCompress\"/>"u8);
            if (hasNotes) xml.Raw("<w:footnotePr><w:footnote w:id=\"-1\"/><w:footnote w:id=\"0\"/></w:footnotePr>"u8);
            WriteCompatibility(xml);
            xml.Raw("<m:mathPr><m:mathFont m:val=\"Cambria Math\"/><m:defJc m:val=\"centerGroup\"/></m:mathPr>"u8);
            using (xml.Element("w:themeFontLang"u8)) xml.Attribute("w:val"u8, language.Tag);
            xml.Raw("<w:clrSchemeMapping w:bg1=\"light1\" w:t1=\"dark1\" w:bg2=\"light2\" w:t2=\"dark2\" w:accent1=\"accent1\" w:accent2=\"accent2\" w:accent3=\"accent3\" w:accent4=\"accent4\" w:accent5=\"accent5\" w:accent6=\"accent6\" w:hyperlink=\"hyperlink\" w:followedHyperlink=\"followedHyperlink\"/>"u8);
            var decimalSign = language.Culture.NumberFormat.NumberDecimalSeparator;
            xml.Value("w:decimalSymbol"u8, decimalSign);
            xml.Value("w:listSeparator"u8, decimalSign == "," ? ";"u8 : ","u8);
        }
    }

    /// <summary>Mode 15 with its companions: without them word processors show a compatibility notice.</summary>
    private static void WriteCompatibility(Utf8XmlWriter xml)
    {
        using (xml.Element("w:compat"u8))
        {
            WriteSetting("compatibilityMode"u8, "15"u8);
            WriteSetting("overrideTableStyleFontSizeAndJustification"u8, "1"u8);
            WriteSetting("enableOpenTypeFeatures"u8, "1"u8);
            WriteSetting("doNotFlipMirrorIndents"u8, "1"u8);
            // Every row of a header looks like one.
            WriteSetting("differentiateMultirowTableHeaders"u8, "0"u8);
        }

        void WriteSetting(ReadOnlySpan<byte> name, ReadOnlySpan<byte> value)
        {
            using (xml.Element("w:compatSetting"u8))
            {
                xml.Attribute("w:name"u8, name);
                xml.Attribute("w:uri"u8, "http://schemas.microsoft.com/office/word"u8);
                xml.Attribute("w:val"u8, value);
            }
        }
    }
}
