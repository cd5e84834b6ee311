using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Houses;
using Fennick.Layout;

namespace Fennick.Wordprocessing;

/// <summary>Writes a fitted document as a package.</summary>
internal static class PackageWriter
{
    // A body that is longer is compressed while it is written, so that it is never in memory as a whole.
    private const int DrainedAt = 256 * 1024;

    /// <summary>The package, ready to go to memory or to a file, and what deserves attention.</summary>
    public static PackageBuilder Write(FittedDocument document, PageMap pages, DressedHouse house, List<Diagnostic> diagnostics)
    {
        var flow = document.Flow;
        var hasLists = !flow.Lists.IsEmpty;
        var hasNotes = !flow.Notes.IsEmpty;
        var package = new PackageBuilder(flow.Properties.Date);
        using var buffer = new PooledBuffer(64 * 1024);
        using var scratch = new PooledBuffer();
        var xml = new Utf8XmlWriter(buffer);
        using var body = package.Open("word/document.xml");
        var context = new DocumentContext(xml, house, flow.Lists, pages) { Drain = () => body.Take(buffer, atLeast: DrainedAt) };
        var footers = DocumentPart.Footers(flow);

        var hasOwnProperties = !flow.Properties.Libraries.IsEmpty;
        foreach (var (name, slab) in house.Template.Parts)
            package.Add(name, hasNotes && name == HouseParts.SettingsName ? house.SettingsWithNotes : hasOwnProperties && name == HouseParts.RootName ? HouseParts.RootWithCustomProperties : slab);
        xml.Declaration();
        DocumentPart.Write(context, document);
        body.Finish(buffer);
        var bodyStory = context.Story;
        if (hasNotes)
        {
            context.Story = new StoryRelationships();
            AddPart("word/footnotes.xml", () => FootnotesPart.Write(context, flow.Notes));
            if (!context.Story.IsEmpty) AddPart("word/_rels/footnotes.xml.rels", () => RelationshipsPart.WriteNotes(xml, context, context.Story));
        }
        for (var i = 0; i < footers.Length; i++)
        {
            var footer = footers[i];
            AddPart(string.Create(CultureInfo.InvariantCulture, $"word/footer{i + 1}.xml"), () => DocumentPart.WriteFooter(context, footer));
        }
        if (hasLists) AddPart("word/numbering.xml", () => NumberingPart.Write(xml, flow.Lists, house));
        for (var part = 1; part <= context.Charts.Count; part++)
        {
            var chart = context.Charts[part - 1].Chart;
            var number = part.ToString(CultureInfo.InvariantCulture);
            AddPart($"word/charts/chart{number}.xml", () => ChartPart.Write(xml, chart, flow.Properties.Language));
            AddPart($"word/charts/_rels/chart{number}.xml.rels", () => RelationshipsPart.WriteChart(xml, part));
            package.Add($"word/charts/style{number}.xml", ChartStyleParts.Style);
            package.Add($"word/charts/colors{number}.xml", ChartStyleParts.Colours);
            WorkbookPart.Write(package, $"word/embeddings/workbook{number}.xlsx", chart, flow.Properties.Date, scratch);
        }
        for (var part = 1; part <= context.Pictures.Count; part++) package.AddStored($"word/{RelationshipsPart.PictureName(context.Pictures[part - 1], part)}", context.Pictures[part - 1].Bytes.AsSpan());
        AddPart("word/_rels/document.xml.rels", () => RelationshipsPart.WriteDocument(xml, context, bodyStory, hasLists, hasNotes, footers.Length));
        AddPart("docProps/core.xml", () => PropertiesParts.WriteCore(xml, flow.Properties));
        AddPart("docProps/app.xml", () => PropertiesParts.WriteExtended(xml, pages.Count));
        if (hasOwnProperties) AddPart("docProps/custom.xml", () => PropertiesParts.WriteCustom(xml, flow.Properties));
        AddPart("[Content_Types].xml", () => ContentTypesPart.Write(xml, context, hasLists, hasNotes, hasOwnProperties, footers.Length), first: true);

        if (xml.DroppedCharacters > 0)
            diagnostics.Add(Diagnostic.Warning(null, $"{xml.DroppedCharacters} characters that no document can hold (controls, halves of pairs) were left out"));
        return package;

        void AddPart(string name, Action write, bool first = false)
        {
            buffer.Clear();
            xml.Declaration();
            write();
            package.Add(name, buffer.WrittenSpan, first);
        }
    }
}
