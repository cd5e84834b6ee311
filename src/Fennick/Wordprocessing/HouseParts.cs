using System.Collections.Immutable;
using Fennick.Formatting;
using Fennick.Houses;

namespace Fennick.Wordprocessing;

/// <summary>Writes the parts of a house that are the same in every report, and compresses them once.</summary>
internal static class HouseParts
{
    /// <summary>The name of the package's own relationships.</summary>
    public const string RootName = "_rels/.rels";

    /// <summary>The package's relationships if it has properties of its own.</summary>
    public static Slab RootWithCustomProperties { get; } = Compress(xml => RelationshipsPart.WriteRoot(xml, hasCustomProperties: true));

    /// <summary>The name of the settings' part.</summary>
    public const string SettingsName = "word/settings.xml";

    /// <summary>The settings of a document that has footnotes.</summary>
    public static Slab SettingsWithNotes(Language language) => Compress(xml => SettingsPart.Write(xml, language, hasNotes: true));

    public static PackageTemplate Create(HouseDesign house, Language language)
    {
        var parts = ImmutableArray.CreateBuilder<(string, Slab)>();
        Add(RootName, xml => RelationshipsPart.WriteRoot(xml, hasCustomProperties: false));
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
