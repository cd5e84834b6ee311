using System.Xml.Linq;

namespace Fennick.Houses;

/// <summary>Brings together what belongs together in the texts of a house: the marks of fields and bookmarks, numbers and what they stand for. Half of a pair goes.</summary>
internal static class StoryMender
{
    private static readonly XNamespace W = StyleSheet.W;
    private static readonly string[] StoryKinds = ["header", "footer", "footnotes", "endnotes", "comments", "styles", "numbering", "settings"];

    /// <summary>Mends all texts of a house, its styles and its lists.</summary>
    public static void Mend(HousePackage package)
    {
        string? Part(string kind) => package.Find(package.Main, kind);
        var stories = package.RelationshipsOf(package.Main).Where(r => !r.IsExternal && StoryKinds.Any(r.Is)).Select(r => r.Target).Where(package.Has).Distinct(StringComparer.OrdinalIgnoreCase).Prepend(package.Main).ToDictionary(n => n, package.Xml);
        var changed = new HashSet<string>();
        foreach (var (name, xml) in stories) xml.Changed += (_, _) => changed.Add(name);
        var styles = Part("styles") is { } stylesPart ? MendStyles(stories[stylesPart]) : [];
        var lists = Part("numbering") is { } listsPart ? MendLists(stories[listsPart]) : [];
        var (names, ids) = (new HashSet<string>(StringComparer.OrdinalIgnoreCase), new HashSet<string>());
        foreach (var xml in stories.Values)
        {
            MendFields(xml);
            MendBookmarks(xml, names, ids);
            MendNamedStyles(xml, styles);
            foreach (var number in xml.Descendants(W + "numId").Where(n => n.Parent!.Name == W + "numPr" && (string?)n.Attribute(W + "val") is not ("0" or null) && !lists.Contains((string?)n.Attribute(W + "val"))).ToArray()) number.Parent!.Remove();
        }
        foreach (var kind in new[] { "footnote", "endnote", "comment" }) MendReferences(stories, kind, Part(kind + "s"));
        foreach (var name in changed) package.Add(name, HouseFile.BytesOf(stories[name]));
    }

    /// <summary>A style has an id of its own, and is based on one of its type that is there.</summary>
    private static HashSet<(string Type, string Id)> MendStyles(XDocument xml)
    {
        var ids = new HashSet<string>();
        foreach (var style in xml.Root!.Elements(W + "style").Where(s => StyleSheet.IdOf(s) is not { Length: > 0 } id || !ids.Add(id)).ToArray()) style.Remove();
        var styles = xml.Root!.Elements(W + "style").Select(s => (TypeOf(s), StyleSheet.IdOf(s))).ToHashSet();
        foreach (var style in xml.Root!.Elements(W + "style"))
        {
            foreach (var kind in new[] { "basedOn", "next", "link" })
                if ((string?)style.Element(W + kind)?.Attribute(W + "val") is { } id && !(kind == "link" ? ids.Contains(id) : styles.Contains((TypeOf(style), id)))) style.Element(W + kind)!.Remove();
        }
        return styles;

        static string TypeOf(XElement style) => (string?)style.Attribute(W + "type") ?? "paragraph";
    }

    /// <summary>A list has a number of its own and counts by a scheme that is there (§17.9).</summary>
    private static HashSet<string?> MendLists(XDocument xml)
    {
        var (schemes, lists) = (new HashSet<string?>(), new HashSet<string?>());
        foreach (var scheme in xml.Root!.Elements(W + "abstractNum").Where(a => !schemes.Add((string?)a.Attribute(W + "abstractNumId"))).ToArray()) scheme.Remove();
        foreach (var list in xml.Root!.Elements(W + "num").Where(n => !schemes.Contains((string?)n.Element(W + "abstractNumId")?.Attribute(W + "val")) || !lists.Add((string?)n.Attribute(W + "numId"))).ToArray()) list.Remove();
        return lists;
    }

    /// <summary>A field begins, may be separated once, and ends (ECMA-376 Part 1, §17.16.18).</summary>
    private static void MendFields(XDocument xml)
    {
        var open = new Stack<List<XElement>>();
        var stray = new List<XElement>();
        foreach (var mark in xml.Descendants().Where(e => e.Name == W + "fldChar" || e.Name == W + "instrText").ToArray())
        {
            var type = (string?)mark.Attribute(W + "fldCharType");
            if (type == "begin") open.Push([mark]);
            else if (!open.TryPeek(out var field) || (type == "separate" && field.Exists(m => (string?)m.Attribute(W + "fldCharType") == "separate"))) stray.Add(mark);
            else if (type == "end") open.Pop();
            else field.Add(mark);
        }
        foreach (var mark in stray.Concat(open.SelectMany(f => f))) ActiveContent.Remove(mark);
    }

    /// <summary>A bookmark starts and ends once, and its name and number are its own (§17.13.6).</summary>
    private static void MendBookmarks(XDocument xml, HashSet<string> names, HashSet<string> ids)
    {
        var ends = xml.Descendants(W + "bookmarkEnd").ToLookup(e => (string?)e.Attribute(W + "id") ?? "");
        var paired = new HashSet<XElement>();
        foreach (var start in xml.Descendants(W + "bookmarkStart").ToArray())
        {
            var (id, name) = ((string?)start.Attribute(W + "id") ?? "", (string?)start.Attribute(W + "name") ?? "");
            var end = ends[id].FirstOrDefault();
            if (end is null || name.Length == 0 || !(char.IsLetter(name[0]) || name[0] == '_') || !name.All(c => char.IsLetterOrDigit(c) || c == '_') || names.Contains(name) || !ids.Add(id))
            {
                start.Remove();
                continue;
            }
            names.Add(name);
            paired.Add(end);
        }
        foreach (var end in ends.SelectMany(e => e).Where(e => !paired.Contains(e))) end.Remove();
    }

    /// <summary>What names a style that is not there looks as if it named none, and does so from now on.</summary>
    private static void MendNamedStyles(XDocument xml, HashSet<(string Type, string Id)> styles)
    {
        foreach (var (element, type) in new[] { ("pStyle", "paragraph"), ("rStyle", "character"), ("tblStyle", "table") })
            foreach (var named in xml.Descendants(W + element).Where(s => !styles.Contains((type, (string?)s.Attribute(W + "val") ?? ""))).ToArray()) named.Remove();
    }

    /// <summary>A mark refers to a note or comment that is there.</summary>
    private static void MendReferences(Dictionary<string, XDocument> stories, string kind, string? part)
    {
        var ids = new HashSet<string?>();
        if (part is not null) stories[part].Root!.Elements(W + kind).Where(n => !ids.Add((string?)n.Attribute(W + "id"))).Remove();
        foreach (var mark in stories.Values.SelectMany(s => s.Descendants()).Where(e => (e.Name == W + (kind + "Reference") || (e.Name == W + kind && e.Parent!.Name == W + (kind + "Pr")) || (kind == "comment" && (e.Name == W + "commentRangeStart" || e.Name == W + "commentRangeEnd"))) && !ids.Contains((string?)e.Attribute(W + "id"))).ToArray()) ActiveContent.Remove(mark);
    }
}
