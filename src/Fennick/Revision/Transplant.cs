using System.Globalization;
using System.Xml.Linq;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Takes mark-up from one document into another, with all that it needs there: styles, lists, pictures, charts, notes, links, and numbers of its own.</summary>
internal class Transplant
{
    /// <summary>What the names of the marks of values begin with that come from the other document, until all have their numbers.</summary>
    public const string FreshValue = "_vn";

    private static readonly XNamespace Asvg = "http://schemas.microsoft.com/office/drawing/2016/SVG/main";
    private readonly WordDocument from;
    private readonly WordDocument to;
    private readonly Dictionary<string, string> parts = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<string, string> styles = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string> lists = new(StringComparer.Ordinal);
    private readonly TransplantNumbers numbers;

    public Transplant(WordDocument from, WordDocument to, TransplantNumbers? numbers = null)
    {
        this.from = from;
        this.to = to;
        this.numbers = numbers ?? new TransplantNumbers(to);
    }

    /// <summary>Which list of the other document one is here, where that is known.</summary>
    public Dictionary<string, string> Lists => lists;

    /// <summary>A copy of an element for a part of the other document.</summary>
    /// <param name="element">The element.</param>
    /// <param name="part">The part that it stands in.</param>
    /// <param name="target">The part that the copy will stand in.</param>
    public XElement Copy(XElement element, string part, string target)
    {
        var copy = new XElement(element);
        foreach (var inner in copy.DescendantsAndSelf().ToArray()) Adapt(inner, part, target);
        NumberBookmarks(copy);
        return copy;
    }

    /// <summary>A part of the other document with all that it leads to.</summary>
    /// <returns>Its name here.</returns>
    public virtual string CopyPart(string part)
    {
        if (parts.TryGetValue(part, out var known)) return known;
        var name = parts[part] = to.FreeName(part);
        to.Package.Add(name, from.Package.Bytes(part));
        var ending = Path.GetExtension(part).TrimStart('.');
        if (from.Package.OverrideOf(part) is { } type) to.Package.SetType(name, type);
        else if (to.Package.TypeOf(name).Length == 0) to.Package.SetDefault(ending, from.Package.TypeOf(part));
        if (from.Package.RelationshipsOf(part) is { Count: > 0 } relationships) to.Package.Replace(name, [.. relationships.Select(r => r.IsExternal || !from.Package.Has(r.Target) ? r : r with { Target = CopyPart(r.Target) })]);
        return name;
    }

    /// <summary>Whether sections come with their headers and footers.</summary>
    protected virtual bool BringsHeaders => false;

    /// <summary>Makes what an element of the other document names what that is here.</summary>
    protected virtual void Adapt(XElement element, string part, string target)
    {
        for (var attribute = element.FirstAttribute; attribute is not null; attribute = attribute.NextAttribute)
        {
            if (attribute.Name.Namespace != R && (element.Name.Namespace != Asvg || attribute.Name != "embed")) continue;
            if (from.Package.RelationshipsOf(part).FirstOrDefault(r => r.Id == attribute.Value) is not { } relationship) continue;
            attribute.Value = to.Relate(target, relationship.Type, relationship.IsExternal ? relationship.Target : CopyPart(relationship.Target), relationship.IsExternal);
        }
        if (element.Name.Namespace == WP)
        {
            if (element.Name.LocalName == "docPr") element.SetAttributeValue("id", numbers.NextDrawing());
        }
        else if (element.Is("pStyle") || element.Is("rStyle") || element.Is("tblStyle")) element.SetAttributeValue(Val, StyleOf((string?)element.Attribute(Val) ?? ""));
        else if (element.Is("numId")) element.SetAttributeValue(Val, ListOf((string?)element.Attribute(Val) ?? "0"));
        else if (element.Is("footnoteReference") || element.Is("endnoteReference")) element.SetAttributeValue(Id, NoteOf((string?)element.Attribute(Id) ?? "", element.Name.LocalName[..^"Reference".Length]));
        else if (!BringsHeaders && (element.Is("headerReference") || element.Is("footerReference"))) element.Remove();
    }

    /// <summary>A number that no bookmark has.</summary>
    public int NextBookmark() => numbers.NextBookmark();

    private void NumberBookmarks(XElement copy)
    {
        XElement[] starts = [.. copy.DescendantsAndSelf(W + "bookmarkStart")];
        if (starts.Length == 0) return;
        var ends = copy.DescendantsAndSelf(W + "bookmarkEnd").ToLookup(e => (string?)e.Attribute(Id));
        foreach (var start in starts)
        {
            var (id, name) = ((string?)start.Attribute(Id), (string?)start.Attribute(Name) ?? "");
            var isValue = name.StartsWith("_v", StringComparison.Ordinal);
            if (isValue) start.SetAttributeValue(Name, string.Concat(FreshValue, name.AsSpan(2)));
            var isNew = isValue || numbers.Bookmarks.Add(name);
            var number = numbers.NextBookmark();
            start.SetAttributeValue(Id, number);
            foreach (var end in ends[id].ToArray())
            {
                end.SetAttributeValue(Id, number);
                if (!isNew) end.Remove();
            }
            // What bears the name already is what references lead to.
            if (!isNew) start.Remove();
        }
    }

    /// <summary>The id here of a style: that of the same name, or of a copy.</summary>
    protected virtual string StyleOf(string id)
    {
        if (id.Length == 0) return id;
        if (styles.TryGetValue(id, out var known)) return known;
        if (from.Find("styles") is not { } ownPart || to.Find("styles") is not { } part) return styles[id] = id;
        var own = from.Open(ownPart).Root!;
        if (own.Elements(W + "style").FirstOrDefault(s => (string?)s.Attribute(W + "styleId") == id) is not { } style) return styles[id] = id;
        var (type, name) = ((string?)style.Attribute(W + "type"), NameOf(style));
        var there = to.Open(part).Root!.Elements(W + "style").ToArray();
        if (there.FirstOrDefault(s => (string?)s.Attribute(W + "type") == type && string.Equals(NameOf(s), name, StringComparison.OrdinalIgnoreCase)) is { } same) return styles[id] = (string?)same.Attribute(W + "styleId") ?? id;
        var free = id;
        for (var n = 2; there.Any(s => string.Equals((string?)s.Attribute(W + "styleId"), free, StringComparison.OrdinalIgnoreCase)); n++) free = $"{id}{n}";
        styles[id] = free;
        var copy = new XElement(style);
        copy.SetAttributeValue(W + "styleId", free);
        copy.Attribute(W + "default")?.Remove();
        to.Change(part).Add(copy);
        foreach (var reference in copy.Elements().Where(e => e.Is("basedOn") || e.Is("next") || e.Is("link"))) reference.SetAttributeValue(Val, StyleOf((string?)reference.Attribute(Val) ?? ""));
        foreach (var list in copy.Descendants(W + "numId")) list.SetAttributeValue(Val, ListOf((string?)list.Attribute(Val) ?? "0"));
        return free;
    }

    /// <summary>The name of a style.</summary>
    public static string NameOf(XElement style) => (string?)style.Element(W + "name")?.Attribute(Val) ?? "";

    /// <summary>The number here of a list, with a definition of its own.</summary>
    protected virtual string ListOf(string number)
    {
        if (number == "0" || lists.TryGetValue(number, out _)) return lists.GetValueOrDefault(number, number);
        if (from.Find("numbering") is not { } ownPart || from.Open(ownPart).Root!.Elements(W + "num").FirstOrDefault(n => (string?)n.Attribute(W + "numId") == number) is not { } list) return lists[number] = "0";
        if (to.Find("numbering") is not { } part)
        {
            part = "word/numbering.xml";
            to.Add(part, from.Package.Bytes(ownPart), "application/vnd.openxmlformats-officedocument.wordprocessingml.numbering+xml", "numbering");
            return lists[number] = number;
        }
        var root = to.Change(part);
        var free = FreeNumber(root, W + "num", W + "numId");
        lists[number] = free.ToString(CultureInfo.InvariantCulture);
        var copy = new XElement(list);
        copy.SetAttributeValue(W + "numId", free);
        var shape = (string?)list.Element(W + "abstractNumId")?.Attribute(Val);
        if (from.Open(ownPart).Root!.Elements(W + "abstractNum").FirstOrDefault(a => (string?)a.Attribute(W + "abstractNumId") == shape) is { } form)
        {
            // A definition that looks the same serves both.
            var twin = root.Elements(W + "abstractNum").FirstOrDefault(a => LooksLike(a, form));
            if (twin is null)
            {
                var freeShape = FreeNumber(root, W + "abstractNum", W + "abstractNumId", first: 0);
                twin = new XElement(form);
                twin.SetAttributeValue(W + "abstractNumId", freeShape);
                twin.Element(W + "nsid")?.SetAttributeValue(Val, $"{0x1F000000 + freeShape:X8}");
                foreach (var style in twin.Descendants(W + "pStyle").ToArray()) style.Remove();
                if (root.Elements(W + "abstractNum").LastOrDefault() is { } last) last.AddAfterSelf(twin);
                else root.AddFirst(twin);
            }
            copy.Element(W + "abstractNumId")!.SetAttributeValue(Val, (string?)twin.Attribute(W + "abstractNumId"));
        }
        if (root.Elements(W + "num").LastOrDefault() is { } before) before.AddAfterSelf(copy);
        else root.Add(copy);
        return lists[number];
    }

    private static bool LooksLike(XElement first, XElement second)
    {
        return Bare(first) == Bare(second);

        static string Bare(XElement list)
        {
            var copy = new XElement(list);
            copy.RemoveAttributes();
            copy.Elements(W + "nsid").Remove();
            copy.Elements(W + "tmpl").Remove();
            return copy.ToString(SaveOptions.DisableFormatting);
        }
    }

    private string NoteOf(string id, string kind)
    {
        if (from.Find(kind + "s") is not { } ownPart || from.Open(ownPart).Root!.Elements(W + kind).FirstOrDefault(n => (string?)n.Attribute(Id) == id) is not { } note) return id;
        if (to.Find(kind + "s") is not { } part)
        {
            part = $"word/{kind}s.xml";
            to.Add(part, from.Package.Bytes(ownPart), $"application/vnd.openxmlformats-officedocument.wordprocessingml.{kind}s+xml", kind + "s");
            to.Change(part).Elements(W + kind).Where(n => n.Attribute(W + "type") is null).Remove();
        }
        var root = to.Change(part);
        var free = FreeNumber(root, W + kind, Id).ToString(CultureInfo.InvariantCulture);
        var copy = Copy(note, ownPart, part);
        copy.SetAttributeValue(Id, free);
        root.Add(copy);
        return free;
    }
}
