using Fennick.Formatting;
using Fennick.Styles;

namespace Fennick.Wordprocessing;

/// <summary>Writes the parts of a built-in house that are the same in every report, and compresses them once.</summary>
internal static class HouseParts
{
    public static PackageTemplate Create(HouseDesign house, Language language)
    {
        var document = TemplatePart.Of("word/document.xml", (xml, gap) =>
        {
            using (xml.Element("w:document"u8))
            {
                DocumentPart.WriteNamespaces(xml);
                using (xml.Element("w:body"u8))
                {
                    gap(new ContentSegment());
                    gap(new SectionEndSegment());
                }
            }
        });
        return new PackageTemplate
        {
            Parts =
            [
                ("word/styles.xml", Compress(xml => StylesPart.Write(xml, house, language))),
                ("word/theme/theme1.xml", Compress(xml => ThemePart.Write(xml, house, language))),
                ("word/fontTable.xml", Compress(xml => FontTablePart.Write(xml, house))),
            ],
            Document = document,
            Settings = new SettingsTemplate("word/settings.xml", (hasNotes, hasEvenPages) => Compress(xml => SettingsPart.Write(xml, language, hasNotes, hasEvenPages))),
            Notes = FootnotesPart.Create(),
            Numbering = NumberingPart.Create(house),
            Counts = NumberingPart.Counts(house),
            OwnProperties = PropertiesParts.CreateOwn(),
            Section = SectionTemplate.Plain(house.Page),
            Types = TemplatePart.Bytes(ContentTypesPart.WriteHouse),
            TypedEndings = ["rels", "xml"],
            Relationships = TemplatePart.Bytes(RelationshipsPart.WriteHouseRoot),
            DocumentRelationships = TemplatePart.Bytes(RelationshipsPart.WriteHouse),
        };
    }

    /// <summary>Writes a part once and compresses it.</summary>
    internal static Slab Compress(Action<Utf8XmlWriter> write)
    {
        using var buffer = new PooledBuffer();
        var xml = new Utf8XmlWriter(buffer);
        xml.Declaration();
        write(xml);
        return Slab.Compress(buffer.WrittenSpan);
    }
}
