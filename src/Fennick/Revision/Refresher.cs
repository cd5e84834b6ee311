using System.Collections.Immutable;
using System.Xml.Linq;
using Fennick.Records;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Brings a document that people have edited up to date with what its manuscript gives now: of everything there are three versions, and what people did stays.</summary>
internal sealed class Refresher
{
    private readonly RefreshPass pass;
    private readonly DocumentRecord before;
    private readonly ParagraphMerge paragraphs;
    private readonly TableMerge tables;
    private readonly Surroundings surroundings;

    private Refresher(WordDocument theirs, WordDocument fresh, RefreshOptions options, DateOnly? date)
    {
        before = theirs.Record!;
        pass = new RefreshPass(theirs, fresh, before, options, date);
        var objects = new ObjectMerge(pass, before);
        paragraphs = new ParagraphMerge(pass, objects);
        tables = new TableMerge(pass, objects);
        surroundings = new Surroundings(fresh, [before, pass.Now]);
    }

    /// <summary>Refreshes a document.</summary>
    /// <param name="theirs">The document that people have edited; it is changed.</param>
    /// <param name="fresh">What the manuscript gives now.</param>
    /// <param name="options">How.</param>
    /// <param name="date">The date of comments and tracked changes.</param>
    public static RefreshResult Refresh(WordDocument theirs, WordDocument fresh, RefreshOptions options, DateOnly? date)
    {
        var refresher = new Refresher(theirs, fresh, options, date);
        return refresher.Run();
    }

    private RefreshResult Run()
    {
        var remarks = ImmutableArray.CreateBuilder<string>();
        if (!before.IsIntact) remarks.Add("what the document remembers of how it was made has been changed by somebody; look at the changes with care");
        if (pass.Places.WithoutMark is > 0 and var lost) remarks.Add(lost == 1 ? "a paragraph had lost its mark; it was found by its text" : $"{lost} paragraphs had lost their marks; they were found by their text");
        Bookmarks.Rename(pass, before);
        var insertion = new Insertion(pass, surroundings);
        foreach (var story in before.Stories)
            foreach (var block in story.Blocks) Merge(block);
        foreach (var (of, copy) in pass.Places.Copies) MergeCopy(of, copy);
        insertion.AddNew();
        new SlotMerge(pass, before).Merge();
        var numbering = new FieldRenewal(pass);
        numbering.Renew();
        if (numbering.PagesAreUnsure) remarks.Add("the page numbers of the contents are those of the manuscript's own report; the word processor renews them when the document is opened");
        new Suspects(pass).Find();
        NewMarks.Set(pass, before);
        WriteRecord();
        return new RefreshResult([.. pass.Changes], remarks.ToImmutable());
    }

    private void Merge(RecordedBlock block)
    {
        var (theirs, now) = (pass.Places.Of(block), pass.Succession.Later(block));
        var where = surroundings.Of(now ?? block);
        if (theirs is null)
        {
            if (now is not null && WordsOf(block) is { Length: > 0 } words && WordsOf(now) is var other && words != other) pass.Add(ChangeKind.StaysDeleted, block is RecordedTable ? "the table" : "a paragraph", where, Short(words), Short(other), now.Place);
            return;
        }
        var part = pass.Places.PartOf(theirs);
        if (now is null) Remove(block, theirs, where);
        else if (pass.FreshPlaces.Of(now) is not { } fresh) return;
        else if (block is RecordedParagraph paragraph && now is RecordedParagraph next && theirs is ReadParagraph mine && fresh is ReadParagraph made) paragraphs.Merge(paragraph, mine, part, next, made, where);
        else if (block is RecordedTable table && now is RecordedTable later && theirs is ReadTable edited && fresh is ReadTable written) tables.Merge(table, edited, part, later, written, where);
    }

    /// <summary>What somebody has copied with its mark is brought up to date like what it was copied from.</summary>
    private void MergeCopy(RecordedBlock of, ReadBlock copy)
    {
        if (pass.Succession.Later(of) is not { } now || pass.FreshPlaces.Of(now) is not { } fresh) return;
        var where = $"a copy of {surroundings.Of(now)}";
        if (of is RecordedParagraph paragraph && now is RecordedParagraph next && copy is ReadParagraph mine && fresh is ReadParagraph made && paragraph.Text == mine.Text) paragraphs.Merge(paragraph, mine, pass.Places.PartOf(copy), next, made, where);
        else if (of is RecordedTable table && now is RecordedTable later && copy is ReadTable edited && fresh is ReadTable written) tables.Merge(table, edited, pass.Places.PartOf(copy), later, written, where);
    }

    /// <summary>Takes out what the manuscript no longer has, unless people have changed it.</summary>
    private void Remove(RecordedBlock block, ReadBlock theirs, string where)
    {
        var isTheirs = block switch
        {
            RecordedParagraph paragraph => theirs.Text != paragraph.Text || ((ReadParagraph)theirs).Reading.HasRemarks,
            RecordedTable { Rows: { } rows } => !rows.Select(r => r.Key).SequenceEqual(((ReadTable)theirs).Rows.Select(r => RecordedRow.KeyOf(r.Cells.Select(c => c.Text)))) || theirs.Element.Descendants().Any(e => e.Is("ins") || e.Is("del") || e.Is("commentReference")),
            RecordedTable table => table.Hash != RecordedTable.HashOf(((ReadTable)theirs).Rows.SelectMany(r => r.Cells).Select(c => c.Text)),
            _ => true,
        };
        var what = block is RecordedTable ? "the table" : "a paragraph";
        if (isTheirs)
        {
            pass.Add(ChangeKind.Open, what, where, Short(theirs.Text), "the manuscript no longer has it, and people have changed it", block.Place);
            return;
        }
        if (theirs.Text.Trim().Length > 0) pass.Add(ChangeKind.Removed, what, where, Short(theirs.Text), null, block.Place);
        // A list of contents goes with its title.
        foreach (var entry in Insertion.EntriesBehind(theirs.Element, pass.Places).ToArray()) entry.Remove();
        if (pass.Tracker is { } author && theirs is ReadParagraph marked) TrackedChanges.MarkDeleted(marked.Element, author);
        else if (theirs.Element.Descendants(W + "sectPr").Any() || (theirs.Element.Parent!.Name == Cell && theirs.Element.Parent.Elements(P).Count() == 1))
        {
            // The end of a section, and the last paragraph of a cell, have to stay.
            theirs.Element.Elements().Where(e => !e.Is("pPr")).Remove();
        }
        else
        {
            var container = theirs.Element.Parent!;
            theirs.Element.Remove();
            RemoveEmptied(container);
        }
    }

    /// <summary>A box whose content is gone goes too.</summary>
    private static void RemoveEmptied(XElement container)
    {
        if (container.Name != Cell || container.Ancestors(Table).FirstOrDefault() is not { } table) return;
        if (!container.Elements().Any(e => e.Name == P || e.Name == Table || e.Is("sdt"))) container.Add(new XElement(P));
        if (table.Descendants(P).All(p => ParagraphReading.Of(p).Pieces.Count == 0)) table.Remove();
    }

    /// <summary>The words and values of a block, without the numbers that count.</summary>
    private static string WordsOf(RecordedBlock block) => block is RecordedTable table ? string.Concat((table.Rows ?? []).Select(r => r.Key)) + table.Hash : string.Concat(block.Segments.Select(s => s is FieldSegment ? "" : s.Text)).Trim();

    internal static string Short(string text)
    {
        const int Longest = 80;
        text = text.Replace('\n', ' ').Replace('\t', ' ').Trim();
        return text.Length <= Longest ? text : text[..Longest].TrimEnd() + "…";
    }

    private void WriteRecord()
    {
        var record = pass.Now with
        {
            Stories = [.. pass.Now.Stories.Select(s => s with { Blocks = [.. s.Blocks.Select(Unresolved)] })],
        };
        var bytes = RecordWriter.Write(record);
        if (pass.Theirs.RecordPart is { } part) pass.Theirs.Package.Add(part, bytes);
    }

    private RecordedBlock Unresolved(RecordedBlock block)
    {
        if (block is RecordedParagraph paragraph)
        {
            return paragraph with { Content = [.. paragraph.Content.Select((s, i) => s is ValueSegment value && pass.Unresolved.TryGetValue((block, i), out var old) ? value with { Text = old, Proposed = value.Text } : s)] };
        }
        return block is RecordedTable { Rows: { } rows } table && pass.UnresolvedCells.Any(c => c.Key.Table == table)
            ? table with { Rows = [.. rows.Select((r, i) => Unresolved(table, r, i))] } : block;
    }

    private RecordedRow Unresolved(RecordedTable table, RecordedRow row, int index)
    {
        var cells = row.Cells.Select((c, i) => pass.UnresolvedCells.TryGetValue((table, index, i), out var key) ? c with { Key = key } : c).ToImmutableArray();
        return cells.SequenceEqual(row.Cells) ? row : new RecordedRow(RecordedRow.Unsettled, cells);
    }
}
