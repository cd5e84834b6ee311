using System.Text.RegularExpressions;
using System.Xml.Linq;
using Fennick.Records;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Gives the bookmarks of a document the names that they have in the fresh one, and with them all that leads to them: headings that are new have pushed the numbers on.</summary>
internal static partial class Bookmarks
{
    public static void Rename(RefreshPass pass, DocumentRecord before)
    {
        var names = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        foreach (var block in before.Blocks.OfType<RecordedParagraph>())
        {
            if (pass.Places.Of(block) is not { } theirs || pass.Succession.Later(block) is not { } now || pass.FreshPlaces.Of(now) is not { } fresh) continue;
            var next = NamesIn(fresh.Element).ToLookup(KindOf);
            foreach (var group in NamesIn(theirs.Element).GroupBy(KindOf))
                foreach (var (old, name) in group.Zip(next[group.Key]))
                    if (old != name) names.TryAdd(old, name);
        }
        if (names.Count > 0) Rename(pass.Theirs, names);
    }

    /// <summary>Gives bookmarks other names, and with them all that leads to them.</summary>
    public static void Rename(WordDocument document, Dictionary<string, string> names)
    {
        foreach (var story in document.Stories.ToArray())
        {
            foreach (var element in document.Change(story).Descendants())
            {
                if (element.Is("bookmarkStart") && names.TryGetValue((string?)element.Attribute(Name) ?? "", out var name)) element.SetAttributeValue(Name, name);
                else if (element.Is("hyperlink") && names.TryGetValue((string?)element.Attribute(W + "anchor") ?? "", out var anchor)) element.SetAttributeValue(W + "anchor", anchor);
                else if (element.Is("instrText")) element.Value = Renamed(element.Value, names);
                else if (element.Is("fldSimple") && (string?)element.Attribute(W + "instr") is { } instruction) element.SetAttributeValue(W + "instr", Renamed(instruction, names));
            }
        }
    }

    /// <summary>Takes out the marks of values.</summary>
    public static void RemoveValues(XElement root)
    {
        var ends = root.Descendants(W + "bookmarkEnd").ToLookup(e => (string?)e.Attribute(Id));
        foreach (var start in root.Descendants(W + "bookmarkStart").Where(b => (string?)b.Attribute(Name) is { } name && name.StartsWith("_v", StringComparison.Ordinal) && name.AsSpan(2).IndexOfAnyExceptInRange('0', '9') < 0).ToArray())
        {
            foreach (var end in ends[(string?)start.Attribute(Id)].ToArray()) end.Remove();
            start.Remove();
        }
    }

    private static string Renamed(string instruction, Dictionary<string, string> names) => Reference().Replace(instruction, m => names.TryGetValue(m.Groups[2].Value, out var name) ? m.Groups[1].Value + name : m.Value);

    private static IEnumerable<string> NamesIn(XElement element) => element.Descendants(W + "bookmarkStart").Select(b => (string?)b.Attribute(Name) ?? "").Where(n => n.Length > 0 && !n.StartsWith("_v", StringComparison.Ordinal));

    /// <summary>What a bookmark is for: the beginning of its name.</summary>
    private static string KindOf(string name) => name.StartsWith("_Toc", StringComparison.Ordinal) ? "_Toc" : name.Split('_')[0];

    [GeneratedRegex(@"(\b(?:REF|PAGEREF|NOTEREF)\s+|\\[bl]\s+""?)([\p{L}\d_]+)")]
    private static partial Regex Reference();
}
