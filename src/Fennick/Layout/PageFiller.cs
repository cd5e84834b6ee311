
namespace Fennick.Layout;

/// <summary>Fills pages with slices, from top to bottom: what keeps together moves to the next page together, and footnotes stand at the foot of the page of their mark.</summary>
internal sealed class PageFiller(LayoutRules rules, int firstPage, int usedOnFirst, IReadOnlyList<NoteHeight> noteHeights, Action<Slice, int> begin)
{
    private readonly List<Slice> slices = [];
    private int used = usedOnFirst;
    private readonly List<int> notes = [];

    // What is left of a note that began on the page before.
    private int continued;
    private bool hasContent = usedOnFirst > 0;
    private bool beganByItself;

    // Whether something that cannot move any more stands on the page.
    private bool hasSettled = usedOnFirst > 0;

    /// <summary>The page that is being filled.</summary>
    public int Page { get; private set; } = firstPage;

    /// <summary>How much room for text a page has.</summary>
    public int Room { get; set; }

    /// <summary>What share of each page is filled that ended because what came next had no room.</summary>
    public List<(int Page, double Share)> Filled { get; } = [];

    /// <summary>How much room is missing for slices that stay together; 0 or less if they fit, or if nothing stands on the page.</summary>
    public int Lacking(IReadOnlyList<Slice> chain)
    {
        if (!hasContent || chain.Count == 0) return 0;
        var count = notes.Count;
        foreach (var slice in chain) notes.AddRange(slice.Notes);
        var lacking = used + chain.Sum(s => s.Before + s.Height) - chain[^1].Overhang + NotesHeight() - Room;
        notes.RemoveRange(count, notes.Count - count);
        return lacking;
    }

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
            Slice[] moved = last >= 0 || hasSettled ? [.. slices.Skip(last + 1)] : [];
            if (moved.Length > 0) slices.RemoveRange(last + 1, moved.Length);
            foreach (var slipped in moved)
            {
                notes.RemoveRange(notes.Count - slipped.Notes.Length, slipped.Notes.Length);
                used -= slipped.Before + slipped.Height;
            }
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

    /// <summary>Sets slices into cells beside each other that go on over pages, each by itself.</summary>
    /// <param name="cells">The slices of each cell.</param>
    /// <param name="before">The space above.</param>
    public void AddBeside(IReadOnlyList<Slice>[] cells, int before)
    {
        Settle();
        if (hasContent) used += before;
        var next = new int[cells.Length];
        while (true)
        {
            var tallest = 0;
            for (var c = 0; c < cells.Length; c++)
            {
                var height = 0;
                for (; next[c] < cells[c].Count; next[c]++)
                {
                    var slice = cells[c][next[c]];
                    var more = slice.Height + (height == 0 ? 0 : slice.Before);
                    // A line that is higher than a page goes over its foot.
                    if (used + height + more - slice.Overhang + NotesHeight() > Room && (hasContent || height > 0)) break;
                    height += more;
                    notes.AddRange(slice.Notes);
                    begin(slice, Page);
                }
                tallest = Math.Max(tallest, height);
            }
            used += tallest;
            hasContent |= tallest > 0;
            hasSettled |= tallest > 0;
            if (next.Select((n, c) => n == cells[c].Count).All(done => done)) return;
            NextPage(byItself: true);
        }
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

    private void Begin(IReadOnlyList<Slice> some, int count)
    {
        for (var i = 0; i < count; i++) begin(some[i], Page);
        if (count > 0) hasSettled = true;
    }

    private void NextPage(bool byItself)
    {
        if (byItself) Filled.Add((Page, Math.Clamp((used + NotesHeight()) / (double)Room, 0, 1)));
        continued = byItself && notes.Count > 0 ? noteHeights[notes[^1] - 1].Beyond(used + NotesHeight() - Room) : 0;
        notes.Clear();
        Page++;
        (used, hasContent, beganByItself, hasSettled) = (0, false, byItself, false);
    }

    /// <summary>How high the notes of the page are: what stands behind the last one may hang over.</summary>
    private int NotesHeight()
    {
        var (height, tail) = (continued, 0);
        foreach (var note in notes)
        {
            height += noteHeights[note - 1].Height;
            tail = noteHeights[note - 1].Tail;
        }
        return height == 0 ? 0 : height - tail + rules.NoteSeparator;
    }

    /// <summary>Whether a slice fits on the page, with its notes: the last of them need only begin there.</summary>
    private bool Fits(Slice slice)
    {
        var room = Room - used - slice.Before - slice.Height + slice.Overhang;
        if (slice.Notes.IsEmpty) return NotesHeight() <= room;
        notes.AddRange(slice.Notes);
        var last = noteHeights[notes[^1] - 1];
        var fits = NotesHeight() - (last.Height - last.Tail) + last.Least <= room;
        notes.RemoveRange(notes.Count - slice.Notes.Length, slice.Notes.Length);
        return fits;
    }

    private void Place(Slice slice)
    {
        if (!hasContent) used += slice.Repeated + (beganByItself ? 0 : slice.Before);
        else used += slice.Before;
        notes.AddRange(slice.Notes);
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
            if (filled > 0 && (slice.BreaksColumn || filled + before + slice.Height > height))
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
            if (filled == 0 && slice.Height > height) return i;
            filled += before + slice.Height;
        }
        return slices.Count;
    }
}
