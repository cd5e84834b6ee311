using System.Buffers;
using System.IO.Compression;
using System.IO.Hashing;
using System.Xml;
using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Houses;

/// <summary>A relationship of a part.</summary>
/// <param name="Id">Its id in the part.</param>
/// <param name="Type">What it is.</param>
/// <param name="Target">The name of the part it leads to, or an outside address.</param>
/// <param name="IsExternal">Whether it leads outside.</param>
internal sealed record HouseRelationship(string Id, string Type, string Target, bool IsExternal)
{
    /// <summary>Whether it is of a kind, whoever defined that.</summary>
    public bool Is(string kind) => Type.EndsWith("/" + kind, StringComparison.OrdinalIgnoreCase);
}

/// <summary>The parts of a house's file, unpacked within limits: all that is not to be trusted is looked at here (ECMA-376 Part 2).</summary>
internal sealed class HousePackage
{
    /// <summary>The namespace of content types.</summary>
    public static readonly XNamespace Types = "http://schemas.openxmlformats.org/package/2006/content-types";

    private const string TypesName = "[Content_Types].xml";
    public const long LargestWhole = 128L << 20;
    private const int LargestXml = 16 << 20;
    private const int DeepestXml = 200;
    private const int MostElements = 500_000;
    private const int MostParts = 10_000;
    private static readonly XNamespace Relations = "http://schemas.openxmlformats.org/package/2006/relationships";

    private readonly Dictionary<string, byte[]> parts = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<string, string> defaults = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<string, string> overrides = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<string, List<HouseRelationship>> relationships = new(StringComparer.OrdinalIgnoreCase);
    private readonly SourcePlace place;

    // Parts whose size has been looked at, as they are.
    private readonly HashSet<byte[]> sized = new(ReferenceEqualityComparer.Instance);

    private HousePackage(SourcePlace place) => this.place = place;

    /// <summary>The names of its parts, without a leading slash, in their order.</summary>
    public IReadOnlyCollection<string> Names => parts.Keys;

    /// <summary>The name of the part that holds the text.</summary>
    public string Main { get; private set; } = "";

    /// <summary>The types of endings.</summary>
    public IReadOnlyDictionary<string, string> Defaults => defaults;

    /// <summary>Unpacks a file.</summary>
    /// <exception cref="ReportException">It is not a word-processor document, is damaged, or unpacks to more than can be sound.</exception>
    public static HousePackage Read(byte[] file, SourcePlace place)
    {
        var package = new HousePackage(place);
        package.CheckKind(file);
        try
        {
            package.Unpack(file);
            package.ReadTypes();
            foreach (var name in package.parts.Keys.ToArray()) package.ReadRelationships(name);
        }
        catch (Exception problem) when (problem is InvalidDataException or EndOfStreamException or NotSupportedException)
        {
            throw new ReportException([package.Error($"the file is damaged: {problem.Message.TrimEnd('.')}", "open it in the word processor, save it anew, and use that")], problem);
        }
        package.FindMain();
        return package;
    }

    public bool Has(string name) => parts.ContainsKey(name);

    public byte[] Bytes(string name) => parts[name];

    /// <summary>A part as XML, read without entities and within limits.</summary>
    public XDocument Xml(string name)
    {
        try
        {
            CheckSize(name);
            using var reader = Open(name);
            return XDocument.Load(reader, LoadOptions.PreserveWhitespace);
        }
        catch (XmlException problem)
        {
            var message = problem.Message.Contains("DTD", StringComparison.Ordinal) ? $"the part {name} declares entities, which no word processor writes" : $"the part {name} is damaged: {problem.Message.TrimEnd('.')}";
            throw new ReportException([Error(message, "open the file in the word processor, save it anew, and use that")], problem);
        }
    }

    private XmlReader Open(string name) => XmlReader.Create(new MemoryStream(parts[name]), new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null, MaxCharactersInDocument = LargestXml });

    /// <summary>Refuses what is larger or deeper than a word processor makes it, before all of it is in memory.</summary>
    private void CheckSize(string name)
    {
        if (!sized.Add(parts[name])) return;
        if (parts[name].Length > LargestXml) throw new ReportException(Error($"the part {name} is larger than {LargestXml >> 20} MB", "take what it holds out of the house"));
        var excess = XmlMeasure.Find(parts[name], DeepestXml, MostElements);
        if (excess is null)
        {
            using var reader = Open(name);
            excess = XmlMeasure.Find(reader, DeepestXml, MostElements);
        }
        switch (excess)
        {
            case XmlExcess.Depth: throw new ReportException(Error($"the part {name} is nested more than {DeepestXml} deep", "it was not made by a word processor; use another file"));
            case XmlExcess.Elements: throw new ReportException(Error($"the part {name} holds more than {MostElements} elements", "take what it holds out of the house"));
        }
    }

    /// <summary>The type of a part.</summary>
    public string TypeOf(string name) => overrides.GetValueOrDefault(name) ?? defaults.GetValueOrDefault(Path.GetExtension(name).TrimStart('.'), "");

    public IReadOnlyList<HouseRelationship> RelationshipsOf(string name) => relationships.GetValueOrDefault(name, []);

    /// <summary>The part that another leads to by a relationship of a kind; null if there is none.</summary>
    public string? Find(string from, string kind) => RelationshipsOf(from).FirstOrDefault(r => r.Is(kind) && !r.IsExternal && Has(r.Target))?.Target;

    /// <summary>Removes a part and what leads to it.</summary>
    public void Remove(string name)
    {
        parts.Remove(name);
        overrides.Remove(name);
        relationships.Remove(name);
        foreach (var list in relationships.Values) list.RemoveAll(r => !r.IsExternal && string.Equals(r.Target, name, StringComparison.OrdinalIgnoreCase));
    }

    /// <summary>Removes the parts that nothing leads to.</summary>
    public void RemoveUnreached()
    {
        var (reached, open) = (new HashSet<string>(StringComparer.OrdinalIgnoreCase), new Stack<string>([""]));
        while (open.TryPop(out var from))
        {
            foreach (var relationship in RelationshipsOf(from).Where(r => !r.IsExternal))
                if (reached.Add(relationship.Target)) open.Push(relationship.Target);
        }
        foreach (var name in Names.Where(n => !reached.Contains(n)).ToArray()) Remove(name);
    }

    public void Remove(string from, HouseRelationship relationship) => relationships[from].Remove(relationship);

    public void Replace(string from, IEnumerable<HouseRelationship> with) => relationships[from] = [.. with];

    /// <summary>Adds a relationship to a part, unless it has that.</summary>
    /// <returns>Its id.</returns>
    public string Relate(string from, string type, string target, bool isExternal)
    {
        var own = RelationshipsOf(from);
        if (own.FirstOrDefault(r => r.Type == type && r.Target == target && r.IsExternal == isExternal) is { } known) return known.Id;
        var ids = own.Select(r => r.Id).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var number = own.Count + 1;
        while (ids.Contains($"rId{number}")) number++;
        Replace(from, [.. own, new HouseRelationship($"rId{number}", type, target, isExternal)]);
        return $"rId{number}";
    }

    public void Add(string name, byte[] bytes) => parts[name] = bytes;

    public void SetDefault(string ending, string type) => defaults.TryAdd(ending, type);

    public void RemoveDefault(string ending) => defaults.Remove(ending);

    /// <summary>The type that a part has by its own name; null if its ending says it.</summary>
    public string? OverrideOf(string name) => overrides.GetValueOrDefault(name);

    /// <summary>The same parts, to be changed apart from these.</summary>
    public HousePackage Copy()
    {
        var copy = new HousePackage(place) { Main = Main };
        foreach (var (name, bytes) in parts) copy.parts[name] = bytes;
        foreach (var (ending, type) in defaults) copy.defaults[ending] = type;
        foreach (var (name, type) in overrides) copy.overrides[name] = type;
        foreach (var (name, list) in relationships) copy.relationships[name] = [.. list];
        return copy;
    }

    public void SetType(string name, string type) => overrides[name] = type;

    private Diagnostic Error(string message, string suggestion) => Diagnostic.Error(place, message, suggestion);

    private void CheckKind(ReadOnlySpan<byte> file)
    {
        if (file.StartsWith((ReadOnlySpan<byte>)[0xD0, 0xCF, 0x11, 0xE0]))
        {
            // The names of streams are UTF-16.
            throw new ReportException(file.IndexOf(System.Text.Encoding.Unicode.GetBytes("EncryptedPackage")) >= 0
                ? Error("the file is encrypted", "open it in the word processor, take the password away, and save it anew")
                : Error("the file is in the older binary format", "open it in the word processor and save it as `.docx` or `.dotx`"));
        }
        if (file.Length == 0) throw new ReportException(Error("the file is empty", "name a `.docx` or `.dotx` file"));
        if (!file.StartsWith("PK"u8)) throw new ReportException(Error("the file is not a word-processor document", "name a `.docx` or `.dotx` file"));
    }

    private void Unpack(byte[] file)
    {
        using var archive = new ZipArchive(new MemoryStream(file), ZipArchiveMode.Read);
        if (archive.Entries.Count > MostParts) throw new ReportException(Error($"the file holds {archive.Entries.Count} parts, more than any document", "use another file"));
        long whole = 0;
        foreach (var entry in archive.Entries)
        {
            var name = entry.FullName.TrimStart('/');
            if (name.Length == 0 || name.EndsWith('/')) continue;
            if (name.Contains('\\') || name.Contains(':') || name.Split('/').Any(s => s is ".." or "."))
                throw new ReportException(Error($"the file holds a part that climbs out of it, `{entry.FullName}`", "it was not made by a word processor; use another file"));
            var bytes = Unpack(entry, ref whole);
            if (!parts.TryAdd(name, bytes)) throw new InvalidDataException($"it holds the part {name} twice");
        }
        if (parts.ContainsKey("mimetype") && !parts.ContainsKey(TypesName)) throw new ReportException(Error("the file is a document of another format", "open it in the word processor and save it as `.docx` or `.dotx`"));
    }

    /// <summary>Unpacks a part, counting what really comes out.</summary>
    private byte[] Unpack(ZipArchiveEntry entry, ref long whole)
    {
        using var stream = entry.Open();
        var content = new ArrayBufferWriter<byte>((int)Math.Clamp(entry.Length, 256, 1 << 20));
        while (true)
        {
            var read = stream.Read(content.GetSpan(64 * 1024));
            if (read == 0) break;
            content.Advance(read);
            whole += read;
            if (whole > LargestWhole) throw new ReportException(Error($"the file unpacks to more than {LargestWhole >> 20} MB (at its part {entry.FullName})", "it was not made by a word processor; use another file"));
        }
        if (Crc32.HashToUInt32(content.WrittenSpan) != entry.Crc32) throw new InvalidDataException($"the part {entry.FullName} is not what was written");
        return content.WrittenSpan.ToArray();
    }

    private void ReadTypes()
    {
        if (!parts.ContainsKey(TypesName)) throw new ReportException(Error("the file is not a word-processor document: it does not say what its parts are", "name a `.docx` or `.dotx` file"));
        foreach (var element in Xml(TypesName).Root!.Elements())
        {
            var type = (string?)element.Attribute("ContentType") ?? "";
            if (element.Name == Types + "Default" && (string?)element.Attribute("Extension") is { } extension) defaults[extension] = type;
            else if (element.Name == Types + "Override" && (string?)element.Attribute("PartName") is { } name && Has(name.TrimStart('/'))) overrides[name.TrimStart('/')] = type;
        }
        parts.Remove(TypesName);
    }

    private void ReadRelationships(string name)
    {
        if (!name.EndsWith(".rels", StringComparison.OrdinalIgnoreCase)) return;
        var folder = name[..(name.LastIndexOf('/') + 1)];
        if (!folder.EndsWith("_rels/", StringComparison.OrdinalIgnoreCase)) return;
        var own = folder[..^"_rels/".Length];
        var list = new List<HouseRelationship>();
        foreach (var element in Xml(name).Root!.Elements(Relations + "Relationship"))
        {
            var target = (string?)element.Attribute("Target") ?? "";
            var isExternal = string.Equals((string?)element.Attribute("TargetMode"), "External", StringComparison.OrdinalIgnoreCase);
            list.Add(new HouseRelationship((string?)element.Attribute("Id") ?? "", (string?)element.Attribute("Type") ?? "", isExternal ? target : Resolve(own, target), isExternal));
        }
        parts.Remove(name);
        relationships[own + name[folder.Length..^".rels".Length]] = list;
    }

    /// <summary>The name of the part that a relationship of a part in this folder leads to.</summary>
    internal static string Resolve(string folder, string target)
    {
        target = Uri.UnescapeDataString(target.Split('#')[0]);
        var path = new List<string>();
        foreach (var step in (target.StartsWith('/') ? target : folder + target).Split('/', StringSplitOptions.RemoveEmptyEntries))
        {
            if (step == "..")
            {
                if (path.Count > 0) path.RemoveAt(path.Count - 1);
            }
            else if (step != ".") path.Add(step);
        }
        return string.Join('/', path);
    }

    private void FindMain()
    {
        var main = RelationshipsOf("").FirstOrDefault(r => r.Is("officeDocument") && !r.IsExternal)?.Target ?? throw new ReportException(Error("the file is not a word-processor document: it has no main part", "name a `.docx` or `.dotx` file"));
        if (!Has(main)) throw new ReportException(Error($"the file is damaged: its main part {main} is missing", "open it in the word processor, save it anew, and use that"));
        var type = TypeOf(main);
        if (!type.Contains("wordprocessingml", StringComparison.OrdinalIgnoreCase) && !type.Contains("ms-word", StringComparison.OrdinalIgnoreCase))
            throw new ReportException(Error($"the file is not a word-processor document but {(type.Contains("spreadsheet", StringComparison.OrdinalIgnoreCase) ? "a spreadsheet" : type.Contains("presentation", StringComparison.OrdinalIgnoreCase) ? "a presentation" : "something else")}", "name a `.docx` or `.dotx` file"));
        Main = main;
    }
}
