using System.Collections.Concurrent;
using System.Globalization;

namespace Fennick.Wordprocessing;

/// <summary>The parts of a document's record (ECMA-376 Part 1, §15.2.5 and §22.5): some programs keep only data that have properties.</summary>
/// <param name="Name">The name of the record.</param>
/// <param name="Properties">The name of its properties.</param>
/// <param name="Relationships">The name of what leads from the one to the other, and that.</param>
internal sealed record RecordParts(string Name, string Properties, (string Name, Slab Slab) Relationships)
{
    private static readonly ConcurrentDictionary<int, RecordParts> Known = new();

    /// <summary>What says that the part is a record.</summary>
    public static Slab PropertiesSlab { get; } = Slab.Compress("""<ds:datastoreItem ds:itemID="{6B2F3D5E-0FE1-4C1B-9C55-0A5B7C1D2E3F}" xmlns:ds="http://schemas.openxmlformats.org/officeDocument/2006/customXml"/>"""u8);

    /// <summary>The parts of a number.</summary>
    public static RecordParts Of(int number) => Known.GetOrAdd(number, static n =>
    {
        var digits = n.ToString(CultureInfo.InvariantCulture);
        return new RecordParts($"customXml/item{digits}.xml", $"customXml/itemProps{digits}.xml", ($"customXml/_rels/item{digits}.xml.rels", HouseParts.Compress(xml => RelationshipsPart.WriteAll(xml, () =>
            RelationshipsPart.WriteOne(xml, "rId1", "http://schemas.openxmlformats.org/officeDocument/2006/relationships/customXmlProps", $"itemProps{digits}.xml")))));
    });
}
