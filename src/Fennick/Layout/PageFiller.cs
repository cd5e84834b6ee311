using Fennick.Documents;

namespace Fennick.Layout;

/// <summary>Fills pages with slices, from top to bottom: what keeps together moves to the next page together, and footnotes stand at the foot of the page of their mark.</summary>
internal sealed class PageFiller(int firstPage, int usedOnFirst, IReadOnlyList<int> noteHeights, Action<BlockId, int> begin)
{
    // The line above footnotes and the space around it.
    private const int NoteSeparator = 115;

    private readonly List<Slice> slices = [];
    private int used = usedOnFirst;
    private int notes;
    private bool hasContent = usedOnFirst > 0;
    private bool beganByItself;

    /// <summary>The page that is being filled.</summary>
    public int Page { get; private set; } = firstPage;

    /// <summary>How much room for text a page has.</summary>
    public int Room { get; set; }

    /// <summary>Begins a page, unless nothing stands on this one.</summary>
    public void BreakPage(bool evenIfEmpty = false)
    {
        Settle();
        if (!hasContent && !evenIfEmpty) return;
        NextPage(byItself: false);
    }

    /// <summary>Adds slices one after the other.</summary>
    public void Add(IEnumerable<Slice> more)
    {
        foreach (var slice in more) Add(slice);
    }

    /// <summary>Adds a slice.</summary>
    public void Add(Slice slice)
    {
        if (slice.BreaksPage && hasContent)
        {
            Settle();
            NextPage(byItself: false);
        }
        if (hasContent && !Fits(slice))
        {
            var last = slices.Count - 1;
            while (last >= 0 && slices[last].Keeps) last--;
            // A chain that is longer than a page is given up, unless something stands before it.
            Slice[] moved = last >= 0 || IsBehindOthers ? [.. slices.Skip(last + 1)] : [];
            if (moved.Length > 0) slices.RemoveRange(last + 1, moved.Length);
            Settle();
            NextPage(byItself: true);
            foreach (var again in moved) Place(again);
            if (hasContent && !Fits(slice))
            {
                Settle();
                NextPage(byItself: true);
            }
        }
        Place(slice);
    }

    /// <summary>Sets slices side by side, in columns of equal height.</summary>
    public void AddInColumns(IReadOnlyList<Slice> all, int columns)
    {
        Settle();
        var rest = all;
        while (rest.Count > 0)
        {
            var left = Math.Max(1, Room - used - NotesHeight());
            if (Fill(rest, columns, left) is var fitting && fitting == rest.Count)
            {
                var (least, most) = (1, left);
                while (least < most)
                {
                    var middle = (least + most) / 2;
                    if (Fill(rest, columns, middle) == rest.Count) most = middle;
                    else least = middle + 1;
                }
                Begin(rest, rest.Count);
                used += most;
                hasContent = true;
                return;
            }
            if (fitting == 0 && !hasContent) fitting = 1;
            Begin(rest, fitting);
            rest = [.. rest.Skip(fitting)];
            NextPage(byItself: true);
        }
    }

    /// <summary>Ends the last page; nothing moves from it any more.</summary>
    public void Settle()
    {
        Begin(slices, slices.Count);
        slices.Clear();
    }

    /// <summary>Whether something that cannot move any more stands on the page.</summary>
    private bool IsBehindOthers { get; set; } = usedOnFirst > 0;

    private void Begin(IReadOnlyList<Slice> some, int count)
    {
        for (var i = 0; i < count; i++)
            if (some[i].Begins is { } id) begin(id, Page);
        if (count > 0) IsBehindOthers = true;
    }

    private void NextPage(bool byItself)
    {
        Page++;
        (used, notes, hasContent, beganByItself, IsBehindOthers) = (0, 0, false, byItself, false);
    }

    private int NotesHeight() => notes == 0 ? 0 : notes + NoteSeparator;

    private bool Fits(Slice slice)
    {
        var more = notes;
        foreach (var note in slice.Notes) more += noteHeights[note - 1];
        return used + slice.Before + slice.Height - slice.Overhang + (more == 0 ? 0 : more + NoteSeparator) <= Room;
    }

    private void Place(Slice slice)
    {
        if (!hasContent) used += slice.Repeated + (beganByItself ? 0 : slice.Before);
        else used += slice.Before;
        foreach (var note in slice.Notes) notes += noteHeights[note - 1];
        slices.Add(slice);
        used += slice.Height;
        hasContent = true;
        // What is higher than a page goes on over the next ones.
        while (used - slice.Overhang > Room && slice.Height > Room)
        {
            Settle();
            var over = used - Room;
            NextPage(byItself: true);
            (used, hasContent) = (over, true);
            if (used <= Room) break;
        }
    }

    /// <summary>How many slices find room in columns of a height.</summary>
    private static int Fill(IReadOnlyList<Slice> slices, int columns, int height)
    {
        var (column, filled, start) = (0, 0, 0);
        for (var i = 0; i < slices.Count; i++)
        {
            var slice = slices[i];
            var before = filled == 0 ? 0 : slice.Before;
            if (filled > 0 && (slice.BreaksColumn || filled + before + slice.Height - slice.Overhang > height))
            {
                var last = i - 1;
                if (!slice.BreaksColumn)
                {
                    while (last >= start && slices[last].Keeps) last--;
                    if (last < start) last = i - 1;
                }
                if (++column == columns) return last + 1;
                (start, filled) = (last + 1, 0);
                i = last;
                continue;
            }
            if (filled == 0 && slice.Height - slice.Overhang > height) return i;
            filled += before + slice.Height;
        }
        return slices.Count;
    }
}
