using System.Collections.Immutable;
using Fennick.Formatting;
using Fennick.Houses;

namespace Fennick.Wordprocessing;

/// <summary>Writes the parts of a house that are the same in every report, and compresses them once.</summary>
internal static class HouseParts
{
    /// <summary>The name of the settings' part.</summary>
    public const string SettingsName = "word/settings.xml";

    /// <summary>The settings of a document that has footnotes.</summary>
    public static Slab SettingsWithNotes(Language language) => Compress(xml => SettingsPart.Write(xml, language, hasNotes: true));

    public static PackageTemplate Create(HouseDesign house, Language language)
    {
        var parts = ImmutableArray.CreateBuilder<(string, Slab)>();
        Add("_rels/.rels", xml => xml.Raw("""
            <Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/><Relationship Id="rId2" Type="http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties" Target="docProps/core.xml"/><Relationship Id="rId3" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/extended-properties" Target="docProps/app.xml"/></Relationships>
            """u8));
        Add("word/styles.xml", xml => StylesPart.Write(xml, house, language));
        Add("word/theme/theme1.xml", xml => ThemePart.Write(xml, house, language));
        Add(SettingsName, xml => SettingsPart.Write(xml, language, hasNotes: false));
        Add("word/fontTable.xml", xml => FontTablePart.Write(xml, house));
        return new PackageTemplate(parts.ToImmutable());

        void Add(string name, Action<Utf8XmlWriter> write) => parts.Add((name, Compress(write)));
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
