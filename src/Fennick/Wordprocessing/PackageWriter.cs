using System.Globalization;
using System.IO.Compression;
using Fennick.Diagnostics;
using Fennick.Flow;
using Fennick.Houses;
using Fennick.Layout;
using Fennick.Records;

namespace Fennick.Wordprocessing;

/// <summary>Writes a fitted document as a package.</summary>
internal static class PackageWriter
{
    // A body that is longer is compressed while it is written, so that it is never in memory as a whole.
    private const int DrainedAt = 256 * 1024;

    /// <summary>The package, ready to go to memory or to a file, and what deserves attention.</summary>
    public static PackageBuilder Write(FittedDocument document, PageMap pages, DressedHouse house, List<Diagnostic> diagnostics)
    {
        var (flow, template) = (document.Flow, house.Template);
        var hasNotes = !flow.Notes.IsEmpty || template.HasNotes;
        var hasOwnProperties = !flow.Properties.Libraries.IsEmpty || template.HasOwnProperties;
        var package = new PackageBuilder(flow.Properties.Date);
        using var buffer = new PooledBuffer(64 * 1024);
        using var scratch = new PooledBuffer();
        var xml = new Utf8XmlWriter(buffer);
        using var body = package.Open(template.Document.Name);
        using var record = flow.Making is { } making ? new RecordWriter(making) : null;
        var check = new PackageCheck();
        check.Begin(template.Document.Name);
        var context = new DocumentContext(xml, house, flow.Lists, pages)
        {
            Drain = () =>
            {
                if (buffer.Length < DrainedAt) return;
                check.Read(buffer.WrittenSpan);
                body.Take(buffer);
            },
            Record = record,
            TurnedStories = flow.Sections.Any(s => template.Section.IsTurned(s.Page)) ? template.TurnedStories : [],
        };
        var slots = new SlotWriter(context, document, pages.Count);

        foreach (var (name, slab) in template.Parts) AddSlab(name, slab);
        AddSlab(template.Settings.Name, template.Settings.Of(hasNotes, flow.Sections.Any(s => s.Stories.Any(t => t.Kind.Pages == StoryPages.Even))));
        record?.BeginStory(template.Document.Name);
        slots.Write(template.Document, () => DocumentPart.WriteBody(context, document));
        record?.EndStory();
        check.Read(buffer.WrittenSpan);
        check.End();
        body.Finish(buffer);
        var bodyStory = context.Story;
        if (hasNotes)
        {
            context.Story = new StoryRelationships();
            record?.BeginStory(template.Notes.Name);
            AddTemplate(template.Notes, () => FootnotesPart.Write(context, flow.Notes));
            record?.EndStory();
            if (!context.Story.IsEmpty || !template.NotesRelationships.IsEmpty) AddPart("word/_rels/footnotes.xml.rels", () => RelationshipsPart.WriteStoryPart(xml, context, context.Story, template.NotesRelationships));
        }
        for (var i = 0; i < context.Stories.Count; i++)
        {
            var (story, part) = (context.Stories[i], RelationshipsPart.StoryName(context.Stories[i], context.PartNumber(i)));
            context.Story = new StoryRelationships();
            record?.BeginStory($"word/{part}");
            AddPart($"word/{part}", () => DocumentPart.WriteStory(context, story));
            record?.EndStory();
            if (!context.Story.IsEmpty) AddPart($"word/_rels/{part}.rels", () => RelationshipsPart.WriteStoryPart(xml, context, context.Story, default));
        }
        foreach (var part in template.Slotted) AddTemplate(part, () => { });
        foreach (var turned in context.TurnedStories)
        {
            AddTemplate(turned.Part, () => { });
            if (turned.Relationships is var (name, slab)) AddSlab(name, slab);
        }
        AddTemplate(template.Numbering, () => NumberingPart.WriteNumbers(xml, flow.Lists, flow.HasAppendices, house));
        for (var index = 0; index < context.Charts.Count; index++)
        {
            var (chart, part) = (context.Charts[index], context.PartNumber(index));
            var number = part.ToString(CultureInfo.InvariantCulture);
            AddPart($"word/{RelationshipsPart.ChartName(part)}", () => ChartPart.Write(xml, chart.Drawing, house.Design));
            AddPart($"word/charts/_rels/chart{number}.xml.rels", () => RelationshipsPart.WriteChart(xml, part));
            AddSlab($"word/charts/style{number}.xml", ChartStyleParts.Style);
            AddSlab($"word/charts/colors{number}.xml", ChartStyleParts.Colours);
            check.Add($"word/embeddings/workbook{number}.xlsx");
            WorkbookPart.Write(package, $"word/embeddings/workbook{number}.xlsx", chart.Drawing, flow.Properties.Date, scratch);
        }
        for (var index = 0; index < context.Pictures.Count; index++)
        {
            var (picture, part) = (context.Pictures[index], context.PartNumber(index));
            AddPicture(picture.Extension, stored => package.AddStored(stored, picture.Bytes.AsSpan()));
            if (picture.Svg is { } svg) AddPicture("svg", stored => package.Add(stored, svg.AsSpan()));

            void AddPicture(string extension, Action<string> add)
            {
                var name = $"word/{RelationshipsPart.PictureName(part, extension)}";
                check.Add(name);
                add(name);
            }
        }
        var recordParts = record is null ? null : RecordParts.Of(template.FreeItem);
        AddPart("word/_rels/document.xml.rels", () => RelationshipsPart.WriteDocument(xml, context, bodyStory, !template.HasNumbering, hasNotes && !template.HasNotes, recordParts?.Name));
        AddPart("docProps/app.xml", () => PropertiesParts.WriteExtended(xml, pages.Count, template.ExtendedProperties));
        if (hasOwnProperties) AddTemplate(template.OwnProperties, () => PropertiesParts.WriteOwn(xml, flow.Properties, template.Counts.Property));
        AddPart("_rels/.rels", () => RelationshipsPart.WriteRoot(xml, template, hasOwnProperties && !template.HasOwnProperties));
        AddPart("[Content_Types].xml", () => ContentTypesPart.Write(xml, context, !template.HasNumbering, hasNotes && !template.HasNotes, hasOwnProperties && !template.HasOwnProperties, recordParts?.Properties), first: true);
        if (record is not null) AddRecord(record, recordParts!);
        // Last, for it holds what is known of all others.
        AddPart("docProps/core.xml", () => PropertiesParts.WriteCore(xml, flow.Properties, package.Seal(), template.CoreProperties));
        check.Finish();
        if (check.Faults.Count > 0)
        {
            package.Dispose();
            throw new ReportException(check.Faults.Take(5).Select(f => Diagnostic.Error(null, $"the document that Fennick has made is not sound: {f}", "nothing was overwritten; please report this with the manuscript or the house")));
        }

        diagnostics.AddRange(slots.Diagnostics());
        if (xml.DroppedCharacters > 0)
            diagnostics.Add(Diagnostic.Warning(null, $"{xml.DroppedCharacters} characters that no document can hold (controls, halves of pairs) were left out"));
        return package;

        void AddRecord(RecordWriter record, RecordParts parts)
        {
            foreach (var (slot, words) in flow.SlotWords.Where(w => house.Slots.Any(s => s.Names.Contains(w.Key, StringComparer.OrdinalIgnoreCase))).OrderBy(w => w.Key, StringComparer.Ordinal)) record.Slot(slot, words);
            foreach (var (part, checksum) in package.Checksums.Where(c => DocumentRecord.Knows(c.Name))) record.Part(part, checksum);
            buffer.Clear();
            record.WriteTo(buffer);
            check.Add(parts.Name, buffer.WrittenSpan);
            package.Add(parts.Name, buffer.WrittenSpan, level: CompressionLevel.Optimal);
            AddSlab(parts.Properties, RecordParts.PropertiesSlab);
            AddSlab(parts.Relationships.Name, parts.Relationships.Slab);
        }

        void AddPart(string name, Action write, bool first = false)
        {
            buffer.Clear();
            xml.Declaration();
            write();
            check.Add(name, buffer.WrittenSpan);
            package.Add(name, buffer.WrittenSpan, first);
        }

        void AddSlab(string name, Slab slab)
        {
            check.Add(name);
            package.Add(name, slab);
        }

        void AddTemplate(TemplatePart part, Action writeContent)
        {
            buffer.Clear();
            slots.Write(part, writeContent);
            check.Add(part.Name, buffer.WrittenSpan);
            package.Add(part.Name, buffer.WrittenSpan);
        }
    }
}
