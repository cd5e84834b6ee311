using System.IO.Compression;
using System.Xml;
using System.Xml.Linq;
using Fennick.Files;
using Fennick.Schema;

namespace Fennick.Houses;

/// <summary>The workbook in which a chart of a house keeps its data.</summary>
internal static class EmbeddedWorkbook
{
    private const int Deepest = 100;
    private const int MostElements = 500_000;
    private const long LargestWhole = 64 << 20;

    // The parts of a workbook that run, fetch or hold other programs' objects.
    private static readonly string[] Active = ["vbaProject", "externalLinks/", "connections.xml", "queryTables/", "activeX/", "oleObject", "macrosheets/", "customUI/", "webExtension"];

    // What the parts of a type begin with.
    private static readonly Dictionary<string, string> Roots = new()
    {
        ["application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"] = "workbook",
        ["application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"] = "worksheet",
        ["application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml"] = "styleSheet",
        ["application/vnd.openxmlformats-officedocument.spreadsheetml.sharedStrings+xml"] = "sst",
        ["application/vnd.openxmlformats-officedocument.spreadsheetml.table+xml"] = "table",
        ["application/vnd.openxmlformats-officedocument.spreadsheetml.calcChain+xml"] = "calcChain",
        ["application/vnd.openxmlformats-officedocument.theme+xml"] = "theme",
    };

    /// <summary>Whether a part is a workbook that holds data and nothing that runs or fetches.</summary>
    public static bool IsStill(byte[] bytes)
    {
        try
        {
            using var archive = new ZipArchive(new MemoryStream(bytes));
            long whole = 0;
            foreach (var entry in archive.Entries)
            {
                if ((whole += entry.Length) > LargestWhole) return false;
                using var content = entry.Open();
                if (!IsMarkup(entry)) content.CopyTo(Stream.Null);
                else if (!IsXml(content)) return false;
            }
            return archive.GetEntry("[Content_Types].xml") is not null && archive.Entries.All(e => !Active.Any(a => e.FullName.Contains(a, StringComparison.OrdinalIgnoreCase)));
        }
        catch (InvalidDataException)
        {
            return false;
        }
    }

    /// <summary>Brings the parts of a workbook to what the schema allows.</summary>
    /// <param name="bytes">A workbook that holds nothing but data.</param>
    /// <param name="leftOut">What had to be left out.</param>
    /// <returns>The workbook; null if one of its parts is beyond that.</returns>
    public static byte[]? Mend(byte[] bytes, ICollection<string> leftOut)
    {
        using var archive = new ZipArchive(new MemoryStream(bytes));
        if (!LeadsSomewhere(archive)) return null;
        var mended = new Dictionary<string, XDocument>();
        var roots = Load(archive.GetEntry("[Content_Types].xml")!).Root!.Elements().Where(o => Roots.ContainsKey((string?)o.Attribute("ContentType") ?? ""))
            .DistinctBy(o => (string?)o.Attribute("PartName")).ToDictionary(o => ((string?)o.Attribute("PartName") ?? "").TrimStart('/'), o => Roots[(string)o.Attribute("ContentType")!]);
        foreach (var entry in archive.Entries.Where(IsMarkup))
        {
            var (xml, mender, isChanged) = (Load(entry), new SchemaMender(), false);
            if (roots.TryGetValue(entry.FullName, out var root) && (xml.Root!.Name.LocalName != root || WordSchema.Instance.Root(xml.Root.Name) is null)) return null;
            xml.Changed += (_, _) => isChanged = true;
            if (!mender.Mend(xml.Root!)) return null;
            if (isChanged) mended.Add(entry.FullName, xml);
            foreach (var left in mender.LeftOut) leftOut.Add(left);
        }
        if (mended.Count == 0) return bytes;
        var result = new MemoryStream();
        using (var written = new ZipArchive(result, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var entry in archive.Entries)
            {
                var copy = written.CreateEntry(entry.FullName);
                // The same house gives the same bytes.
                copy.LastWriteTime = new DateTimeOffset(1980, 1, 1, 0, 0, 0, TimeSpan.Zero);
                using var to = copy.Open();
                using var from = mended.TryGetValue(entry.FullName, out var xml) ? new MemoryStream(HouseFile.BytesOf(xml)) : entry.Open();
                from.CopyTo(to);
            }
        }
        return result.ToArray();
    }

    /// <summary>Whether all that the parts relate to is there: the names in a damaged file may be others than those that it speaks of.</summary>
    private static bool LeadsSomewhere(ZipArchive archive)
    {
        var names = archive.Entries.Select(e => e.FullName).ToArray();
        var known = names.ToHashSet(StringComparer.OrdinalIgnoreCase);
        return known.Count == names.Length && archive.Entries.Where(e => e.FullName.EndsWith(".rels", StringComparison.OrdinalIgnoreCase)).All(e =>
        {
            // The relationships of `xl/workbook.xml` stand in `xl/_rels/workbook.xml.rels`.
            var folder = e.FullName[..(e.FullName.LastIndexOf('/') + 1)].Replace("_rels/", "", StringComparison.Ordinal);
            return Load(e).Root!.Elements().Where(r => (string?)r.Attribute("TargetMode") != "External").All(r => known.Contains(HousePackage.Resolve(folder, (string?)r.Attribute("Target") ?? "")));
        });
    }

    private static XDocument Load(ZipArchiveEntry entry)
    {
        using var content = entry.Open();
        return XDocument.Load(content, LoadOptions.PreserveWhitespace);
    }

    private static bool IsMarkup(ZipArchiveEntry entry) => entry.FullName.EndsWith(".xml", StringComparison.OrdinalIgnoreCase) || entry.FullName.EndsWith(".rels", StringComparison.OrdinalIgnoreCase);

    private static bool IsXml(Stream content)
    {
        try
        {
            using var reader = XmlReader.Create(content, new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null, MaxCharactersInDocument = LargestWhole });
            return XmlMeasure.Find(reader, Deepest, MostElements) == XmlExcess.None;
        }
        catch (XmlException)
        {
            return false;
        }
    }
}
