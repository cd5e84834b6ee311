using Fennick.Records;

namespace Fennick.Revision;

/// <summary>Finds numbers that people have written or copied and that were those of values which are others now.</summary>
internal sealed class Suspects(RefreshPass pass)
{
    private const int FewestDigits = 2;

    public void Find()
    {
        var old = new Dictionary<string, (string Now, string What, Diagnostics.SourcePlace? Place)>(StringComparer.Ordinal);
        foreach (var (was, now, what, place) in pass.Outdated)
            if (IsNumber(was)) old.TryAdd(Words.Alike(was), (now, what, place));
        if (old.Count == 0) return;
        foreach (var (_, blocks) in pass.Places.Stories)
        {
            foreach (var block in blocks.OfType<ReadParagraph>())
            {
                if (block.Element.Parent is null) continue;
                var own = pass.Places.Of(block) is RecordedParagraph ? pass.OwnWords.GetValueOrDefault(block, "") : block.Text;
                Look(own, block);
            }
        }

        void Look(string text, ReadParagraph paragraph)
        {
            var alike = Words.Alike(text);
            foreach (var (number, now) in old)
            {
                if (!Holds(alike, number)) continue;
                pass.Add(ChangeKind.Suspect, now.What, $"“{Refresher.Short(paragraph.Text)}”", number, now.Now, now.Place);
            }
        }
    }

    private static bool IsNumber(string text) => text.Count(char.IsAsciiDigit) >= FewestDigits && text.Length <= 40;

    /// <summary>Whether a text holds a number, and not as a part of a longer one.</summary>
    private static bool Holds(string text, string number)
    {
        for (var at = text.IndexOf(number, StringComparison.Ordinal); at >= 0; at = text.IndexOf(number, at + 1, StringComparison.Ordinal))
        {
            var (left, right) = (at - 1, at + number.Length);
            if ((left < 0 || !IsOfNumber(text, left)) && (right >= text.Length || !(char.IsAsciiDigit(text[right]) || (text[right] is '.' or ',' && right + 1 < text.Length && char.IsAsciiDigit(text[right + 1]))))) return true;
        }
        return false;
    }

    private static bool IsOfNumber(string text, int place) => char.IsAsciiDigit(text[place]) || (text[place] is '.' or ',' && place > 0 && char.IsAsciiDigit(text[place - 1]));
}
