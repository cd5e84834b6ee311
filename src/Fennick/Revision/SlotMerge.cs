using System.Xml.Linq;
using Fennick.Records;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Brings the slots of a house up to date that hold words.</summary>
internal sealed class SlotMerge(RefreshPass pass, DocumentRecord before)
{
    private static readonly string[] Naming = ["tag", "alias"];

    public void Merge()
    {
        foreach (var (slot, words) in pass.Now.Slots.OrderBy(s => s.Key, StringComparer.Ordinal))
        {
            if (!before.Slots.TryGetValue(slot, out var old) || old == words) continue;
            var isRefreshed = false;
            foreach (var story in pass.Theirs.Stories.ToArray())
            {
                foreach (var control in pass.Theirs.Open(story).Descendants(W + "sdt").Where(c => IsNamed(c, slot)).ToArray())
                {
                    var texts = control.Element(W + "sdtContent")?.Descendants(Text).ToArray() ?? [];
                    if (texts.Length == 0 || string.Concat(texts.Select(t => t.Value)) is var there && there != old && there != words)
                    {
                        pass.Add(ChangeKind.Proposed, $"the slot {slot}", "the house", string.Concat(texts.Select(t => t.Value)), words, null);
                        continue;
                    }
                    pass.Theirs.Change(story);
                    texts[0].Value = words;
                    foreach (var rest in texts.Skip(1)) rest.Value = "";
                    isRefreshed = true;
                }
            }
            if (isRefreshed) pass.Add(ChangeKind.Refreshed, $"the slot {slot}", "the house", old, words, null);
        }
    }

    private static bool IsNamed(XElement control, string slot) =>
        control.Element(W + "sdtPr") is { } properties && Naming.Any(n => string.Equals((string?)properties.Element(W + n)?.Attribute(Val), slot, StringComparison.OrdinalIgnoreCase));
}
