using System.Buffers;
using System.Buffers.Text;
using System.Net;
using System.Numerics;
using System.Runtime.Intrinsics;
using System.Text;
using System.Text.Unicode;

namespace Fennick.Wordprocessing;

/// <summary>
/// Checks a document before it is put in place: the tags of each part come out even and its characters are those of XML, relationships lead to what is there, every part has a type,
/// and what is numbered has a number of its own.
/// </summary>
/// <remarks>
/// It goes over the bytes with wide instructions and stops at what is counted alone, for it must cost next to nothing. That names of tags agree is owed to <see cref="Utf8XmlWriter"/>, which
/// closes what it opens; what a house brings was read as XML and measured by the schema when it was read.
/// </remarks>
internal sealed class PackageCheck
{
    private const string Types = "[Content_Types].xml";
    private static readonly byte[] Controls = [.. Enumerable.Range(0, 0x20).Except([9, 10, 13]).Select(c => (byte)c)];
    private static readonly SearchValues<byte> Forbidden = SearchValues.Create(Controls);

    // What may be wrong, or needs a second look: U+FFFE begins with EF.
    private static readonly SearchValues<byte> Unusual = SearchValues.Create([.. Controls, (byte)'&', 0xEF]);
    private readonly HashSet<string> parts = new(StringComparer.OrdinalIgnoreCase);
    private readonly HashSet<string> vouched = new(StringComparer.OrdinalIgnoreCase);
    private readonly List<(string Part, string Id)> named = [];
    private readonly HashSet<(string Part, string Id)> relationships = [];
    private readonly HashSet<string> bookmarks = new(StringComparer.OrdinalIgnoreCase);
    private readonly HashSet<long> starts = [];
    private readonly HashSet<long> ends = [];
    private readonly HashSet<long> drawings = [];
    private readonly HashSet<long> notes = [];
    private readonly HashSet<long> references = [];
    private readonly List<(string From, string Target)> targets = [];
    private HashSet<string>? typed;
    private HashSet<string>? endings;
    private string part = "";
    private Tally tally;

    /// <summary>What is wrong, each with the part that it is in.</summary>
    public List<string> Faults { get; } = [];

    /// <summary>A part that is there and was checked before, with all that it leads to.</summary>
    public void Add(string name)
    {
        AddName(name);
        if (name.EndsWith(".rels", StringComparison.Ordinal)) vouched.Add(SourceOf(name));
    }

    /// <summary>A whole part.</summary>
    public void Add(string name, ReadOnlySpan<byte> content)
    {
        Begin(name);
        Read(content);
        End();
    }

    /// <summary>Begins a part that comes in pieces, each of whole tags.</summary>
    public void Begin(string name)
    {
        AddName(name);
        (part, tally) = (name, default);
    }

    /// <summary>Reads a piece of the part that has begun.</summary>
    public void Read(ReadOnlySpan<byte> piece)
    {
        CheckCharacters(piece);
        tally.Add(piece);
        if (part == Types) ReadTypes(piece);
        else if (part.EndsWith(".rels", StringComparison.Ordinal)) ReadRelationships(piece);
        else ReadNumbered(piece);
    }

    /// <summary>Ends the part that has begun.</summary>
    public void End()
    {
        if (!tally.IsEven) Fault("its tags do not come out even");
    }

    /// <summary>Looks at what can only be said of the whole.</summary>
    public void Finish()
    {
        foreach (var (from, target) in targets.Where(t => !parts.Contains(t.Target))) Faults.Add($"{from}: it leads to {target}, which is not there");
        foreach (var name in parts.Where(p => p != Types && typed?.Contains(p) != true && endings?.Contains(Path.GetExtension(p).TrimStart('.')) != true)) Faults.Add($"{name}: it has no type");
        foreach (var name in typed?.Where(t => !parts.Contains(t)) ?? []) Faults.Add($"{name}: it has a type and is not there");
        foreach (var (from, id) in named.Where(n => !relationships.Contains(n) && !vouched.Contains(n.Part))) Faults.Add($"{from}: it names the relationship {id}, which it does not have");
        if (!starts.SetEquals(ends)) Faults.Add("a bookmark starts and does not end, or ends without a start");
        foreach (var id in references.Where(r => !notes.Contains(r))) Faults.Add($"the footnote {id} is referred to and not there");
    }

    private void AddName(string name)
    {
        if (!parts.Add(name)) Faults.Add($"{name}: it is there twice");
    }

    /// <summary>The part whose relationships a part holds.</summary>
    private static string SourceOf(string relationships) => relationships.Replace("_rels/", "", StringComparison.Ordinal)[..^".rels".Length];

    private void Fault(string wrong) => Faults.Add($"{part}: {wrong}");

    private void CheckCharacters(ReadOnlySpan<byte> bytes)
    {
        if (!Utf8.IsValid(bytes)) Fault("it is not UTF-8");
        if (!bytes.ContainsAny(Unusual)) return;
        if (bytes.ContainsAny(Forbidden) || bytes.IndexOf("\uFFFE"u8) >= 0 || bytes.IndexOf("\uFFFF"u8) >= 0) Fault("it holds a character that no document can");
        for (var rest = bytes; rest.IndexOf((byte)'&') is var at and >= 0;)
        {
            rest = rest[(at + 1)..];
            if (!rest.StartsWith("#"u8) && !rest.StartsWith("amp;"u8) && !rest.StartsWith("lt;"u8) && !rest.StartsWith("gt;"u8) && !rest.StartsWith("quot;"u8) && !rest.StartsWith("apos;"u8)) Fault("it holds an `&` that stands for nothing");
        }
    }

    private void ReadTypes(ReadOnlySpan<byte> bytes)
    {
        (typed, endings) = (new(StringComparer.OrdinalIgnoreCase), new(StringComparer.OrdinalIgnoreCase));
        for (var rest = bytes; NextTag(ref rest, "<Override "u8, out var tag);)
            if (!typed.Add(Text(Value(tag, " PartName=\""u8)).TrimStart('/'))) Fault("a part has two types");
        for (var rest = bytes; NextTag(ref rest, "<Default "u8, out var tag);)
            if (!endings.Add(Text(Value(tag, " Extension=\""u8)))) Fault("an ending has two types");
    }

    private void ReadRelationships(ReadOnlySpan<byte> bytes)
    {
        var from = SourceOf(part);
        var folder = from[..(from.LastIndexOf('/') + 1)];
        for (var rest = bytes; NextTag(ref rest, "<Relationship "u8, out var tag);)
        {
            var id = Text(Value(tag, " Id=\""u8));
            if (!relationships.Add((from, id))) Fault($"two relationships are called {id}");
            if (!Value(tag, " TargetMode=\""u8).SequenceEqual("External"u8)) targets.Add((part, Resolve(folder, Text(Value(tag, " Target=\""u8)))));
        }
    }

    private static string Resolve(string folder, string target) => target.Contains('%') || target.Contains("..", StringComparison.Ordinal) || target.StartsWith('/') ? Path.GetFullPath(Uri.UnescapeDataString(target), "/" + folder)[1..] : folder + target;

    private void ReadNumbered(ReadOnlySpan<byte> bytes)
    {
        for (var rest = bytes; rest.IndexOf(" r:"u8) is var at and >= 0;)
        {
            rest = rest[(at + 1)..];
            // In text these three characters mean nothing.
            if (rest[..Math.Min(20, rest.Length)].IndexOf("=\""u8) is var value and > 2 && rest[2..value].IndexOfAny(" <>"u8) < 0 && rest[(value + 2)..] is var id && id.IndexOf((byte)'"') is var end and > 0) named.Add((part, Text(id[..end])));
        }
        for (var rest = bytes; NextTag(ref rest, "<w:bookmark"u8, out var tag);)
        {
            var number = Number(Value(tag, " w:id=\""u8));
            if (tag.StartsWith("<w:bookmarkEnd"u8) ? !ends.Add(number) : !starts.Add(number)) Fault("two bookmarks have one number");
            if (tag.StartsWith("<w:bookmarkStart"u8) && !bookmarks.Add(Text(Value(tag, " w:name=\""u8)))) Fault($"two bookmarks are called {Text(Value(tag, " w:name=\""u8))}");
        }
        for (var rest = bytes; NextTag(ref rest, "<wp:docPr "u8, out var tag);)
            if (!drawings.Add(Number(Value(tag, " id=\""u8)))) Fault("two drawings have one number");
        for (var rest = bytes; NextTag(ref rest, "<w:footnote"u8, out var tag);)
        {
            if (tag.StartsWith("<w:footnoteReference"u8)) references.Add(Number(Value(tag, " w:id=\""u8)));
            else if (tag.StartsWith("<w:footnote "u8) && part.EndsWith("footnotes.xml", StringComparison.Ordinal) && !notes.Add(Number(Value(tag, " w:id=\""u8)))) Fault("two footnotes have one number");
        }
    }

    /// <summary>Finds the next tag that begins in some way.</summary>
    private static bool NextTag(ref ReadOnlySpan<byte> rest, ReadOnlySpan<byte> beginning, out ReadOnlySpan<byte> tag)
    {
        tag = default;
        var at = rest.IndexOf(beginning);
        if (at < 0) return false;
        var end = rest[at..].IndexOf((byte)'>');
        tag = end < 0 ? rest[at..] : rest.Slice(at, end);
        rest = rest[(at + tag.Length)..];
        return true;
    }

    private static ReadOnlySpan<byte> Value(ReadOnlySpan<byte> tag, ReadOnlySpan<byte> attribute)
    {
        var at = tag.IndexOf(attribute);
        if (at < 0) return default;
        var value = tag[(at + attribute.Length)..];
        return value.IndexOf((byte)'"') is var end and >= 0 ? value[..end] : value;
    }

    private static string Text(ReadOnlySpan<byte> value) => value.Contains((byte)'&') ? WebUtility.HtmlDecode(Encoding.UTF8.GetString(value)) : Encoding.UTF8.GetString(value);

    private static long Number(ReadOnlySpan<byte> value) => Utf8Parser.TryParse(value, out long number, out var read) && read == value.Length ? number : long.MinValue;

    /// <summary>Counts the signs of tags: in text and in values they are written otherwise.</summary>
    private struct Tally
    {
        private long opening;
        private long closing;
        private long ending;
        private long empty;
        private long declaring;

        /// <summary>Whether every tag is closed, and every element that starts ends.</summary>
        public readonly bool IsEven => opening == closing && opening > declaring && opening - declaring - empty == 2 * ending;

        public void Add(ReadOnlySpan<byte> bytes)
        {
            var at = 0;
            if (Vector256.IsHardwareAccelerated)
            {
                for (; at + Vector256<byte>.Count < bytes.Length; at += Vector256<byte>.Count)
                {
                    var (here, next) = (Vector256.Create(bytes[at..]), Vector256.Create(bytes[(at + 1)..]));
                    var (starts, nextSlash) = (Vector256.Equals(here, Vector256.Create((byte)'<')), Vector256.Equals(next, Vector256.Create((byte)'/')));
                    opening += Count(starts);
                    closing += Count(Vector256.Equals(here, Vector256.Create((byte)'>')));
                    ending += Count(starts & nextSlash);
                    empty += Count(Vector256.Equals(here, Vector256.Create((byte)'/')) & Vector256.Equals(next, Vector256.Create((byte)'>')));
                    declaring += Count(starts & Vector256.Equals(next, Vector256.Create((byte)'?')));
                }
            }
            for (; at < bytes.Length; at++)
            {
                var next = at + 1 < bytes.Length ? bytes[at + 1] : (byte)0;
                if (bytes[at] == '<')
                {
                    opening++;
                    if (next == '/') ending++;
                    else if (next == '?') declaring++;
                }
                else if (bytes[at] == '>') closing++;
                else if (bytes[at] == '/' && next == '>') empty++;
            }
        }

        private static int Count(Vector256<byte> found) => BitOperations.PopCount(found.ExtractMostSignificantBits());
    }
}
