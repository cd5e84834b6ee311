using System.Globalization;
using System.Xml.Linq;
using Fennick.Records;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Gives what stands in a refreshed document the marks of the record that it gets.</summary>
internal static class NewMarks
{
    public static void Set(RefreshPass pass, DocumentRecord before)
    {
        var values = Values(pass, before);
        var marks = pass.Places.Stories.SelectMany(s => s.Blocks).Select(b => (Block: b, Now: pass.Places.Of(b) is { } known ? pass.Succession.Later(known) : null)).Where(b => b.Now is not null)
            .ToDictionary(b => b.Block is ReadTable ? b.Block.Element.Descendants(P).FirstOrDefault() ?? b.Block.Element : b.Block.Element, b => b.Now!.Mark);
        var named = new HashSet<int>();
        Separate(pass);
        foreach (var story in pass.Theirs.Stories.ToArray())
        {
            var root = pass.Theirs.Change(story);
            Declare(root);
            foreach (var paragraph in root.Descendants(P))
            {
                if (paragraph.Annotation<FreshMark>() is not null) continue;
                if (marks.TryGetValue(paragraph, out var mark) && mark <= DocumentRecord.MostMarks) paragraph.SetAttributeValue(W14 + "paraId", string.Create(CultureInfo.InvariantCulture, $"0FE1{mark:X4}"));
                else if (WordDocument.MarkOf(paragraph) > 0) paragraph.Attribute(W14 + "paraId")!.Remove();
            }
            var ends = root.Descendants(W + "bookmarkEnd").ToLookup(e => (string?)e.Attribute(Id));
            foreach (var start in root.Descendants(W + "bookmarkStart").ToArray())
            {
                var name = (string?)start.Attribute(Name) ?? "";
                if (!name.StartsWith("_v", StringComparison.Ordinal)) continue;
                var isFresh = name.StartsWith(Transplant.FreshValue, StringComparison.Ordinal);
                if (!int.TryParse(name.AsSpan(isFresh ? Transplant.FreshValue.Length : 2), NumberStyles.None, CultureInfo.InvariantCulture, out var number)) continue;
                var next = isFresh ? number : values.GetValueOrDefault(number);
                if (next > 0 && named.Add(next))
                {
                    start.SetAttributeValue(Name, string.Create(CultureInfo.InvariantCulture, $"_v{next}"));
                    continue;
                }
                foreach (var end in ends[(string?)start.Attribute(Id)].ToArray()) end.Remove();
                start.Remove();
            }
        }
    }

    /// <summary>What somebody has copied with its bookmarks gets bookmarks of its own; of two of one name the first stays.</summary>
    private static void Separate(RefreshPass pass)
    {
        var (ids, names) = (new HashSet<string>(), new HashSet<string>(StringComparer.OrdinalIgnoreCase));
        foreach (var story in pass.Theirs.Stories.ToArray())
        {
            var ends = pass.Theirs.Open(story).Descendants(W + "bookmarkEnd").GroupBy(e => (string?)e.Attribute(Id) ?? "").ToDictionary(g => g.Key, g => new Queue<XElement>(g), StringComparer.Ordinal);
            foreach (var start in pass.Theirs.Open(story).Descendants(W + "bookmarkStart").ToArray())
            {
                var (id, name) = ((string?)start.Attribute(Id) ?? "", (string?)start.Attribute(Name) ?? "");
                var end = ends.TryGetValue(id, out var open) && open.Count > 0 ? open.Dequeue() : null;
                var isTwice = !names.Add(name) && !name.StartsWith("_v", StringComparison.Ordinal);
                if (end is null || isTwice)
                {
                    start.Remove();
                    end?.Remove();
                }
                else if (!ids.Add(id))
                {
                    var free = pass.Transplant.NextBookmark();
                    start.SetAttributeValue(Id, free);
                    end.SetAttributeValue(Id, free);
                }
            }
        }
    }

    /// <summary>The numbers that the marks of values get.</summary>
    private static Dictionary<int, int> Values(RefreshPass pass, DocumentRecord before)
    {
        var values = new Dictionary<int, int>();
        foreach (var block in before.Blocks.OfType<RecordedParagraph>())
        {
            if (pass.Succession.Later(block) is not RecordedParagraph now) continue;
            var pairs = Alignment.Equal([.. block.Content.Select(Succession.KeyOf)], [.. now.Content.Select(Succession.KeyOf)]);
            for (var s = 0; s < pairs.Length; s++)
                if (pairs[s] >= 0 && block.Content[s] is ValueSegment { Mark: > 0 } value && now.Content[pairs[s]] is ValueSegment next) values[value.Mark] = next.Mark;
        }
        return values;
    }

    /// <summary>Binds the prefix of marks.</summary>
    private static void Declare(XElement root)
    {
        if (root.GetPrefixOfNamespace(W14) is not { } prefix) root.SetAttributeValue(XNamespace.Xmlns + (prefix = "w14"), W14.NamespaceName);
        if (root.GetPrefixOfNamespace(Mc) is null) root.SetAttributeValue(XNamespace.Xmlns + "mc", Mc.NamespaceName);
        var ignorable = ((string?)root.Attribute(Mc + "Ignorable") ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (!ignorable.Contains(prefix)) root.SetAttributeValue(Mc + "Ignorable", string.Join(' ', ignorable.Append(prefix)));
    }
}
