using System.Collections.Immutable;
using Fennick.Records;

namespace Fennick.Revision;

/// <summary>Says what a manuscript no longer gives of what a document was written with.</summary>
internal static class Verification
{
    public static VerifyResult Compare(DocumentRecord before, WordDocument fresh)
    {
        var now = fresh.Record!;
        var succession = Succession.Of(before, now);
        var surroundings = new Surroundings(fresh, [before, now]);
        var places = Matching.Find(now, fresh);
        var deviations = ImmutableArray.CreateBuilder<Deviation>();
        foreach (var block in before.Blocks)
        {
            var (later, where) = (succession.Later(block), surroundings.Of(block));
            if (later is null)
            {
                if (block.Text.Trim().Length > 0 || block is RecordedTable) deviations.Add(new Deviation(block is RecordedTable ? "the table" : "a paragraph", where, Refresher.Short(block.Text), null, block.Place));
            }
            else if (block is RecordedParagraph paragraph && later is RecordedParagraph next) Compare(paragraph, next, before, now, where, deviations);
            else if (block is RecordedTable table && later is RecordedTable other) Compare(table, other, places, where, deviations);
        }
        foreach (var added in now.Blocks.Where(b => succession.Earlier(b) is null && (b.Text.Trim().Length > 0 || b is RecordedTable))) deviations.Add(new Deviation(added is RecordedTable ? "a table" : "a paragraph", surroundings.Of(added), "", Refresher.Short(added.Text), added.Place));
        return new VerifyResult(deviations.ToImmutable(), Reasons(before, now));
    }

    private static void Compare(RecordedParagraph paragraph, RecordedParagraph next, DocumentRecord before, DocumentRecord now, string where, ImmutableArray<Deviation>.Builder deviations)
    {
        if (Succession.NameOf(paragraph) != Succession.NameOf(next))
        {
            deviations.Add(new Deviation("the words", where, Refresher.Short(paragraph.Text), Refresher.Short(next.Text), next.Place ?? paragraph.Place));
            return;
        }
        foreach (var (old, other) in paragraph.Content.Zip(next.Content))
        {
            if (old is ValueSegment value && other is ValueSegment fresh && ((value.Proposed ?? value.Text) != fresh.Text || value.Origin.Value != fresh.Origin.Value)) deviations.Add(new Deviation(value.Origin.Expression, where, Full(value), Full(fresh), fresh.Origin.Place));
            else if (old is FieldSegment field && other is FieldSegment shown && field.Text != shown.Text) deviations.Add(new Deviation("a reference or number", where, field.Text, shown.Text, next.Place));
            else if (old is ObjectSegment known && other is ObjectSegment made && IsOther(known, made, before, now)) deviations.Add(new Deviation($"the {known.Kind.ToString().ToLowerInvariant()}", where, "", "another", next.Place));
        }
    }

    private static string Full(ValueSegment value) => (value.Proposed ?? value.Text) is var text && text == value.Origin.Value ? text : $"{text} ({value.Origin.Value})";

    private static bool IsOther(ObjectSegment known, ObjectSegment made, DocumentRecord before, DocumentRecord now) => known.Kind switch
    {
        ObjectKind.Chart or ObjectKind.Picture => before.Parts.GetValueOrDefault("word/" + known.Key) != now.Parts.GetValueOrDefault("word/" + made.Key),
        ObjectKind.Note => false,
        _ => known.Key != made.Key,
    };

    private static void Compare(RecordedTable table, RecordedTable next, Matching places, string where, ImmutableArray<Deviation>.Builder deviations)
    {
        if (table.Hash == next.Hash && table.Hash.Length > 0) return;
        if (table.Rows is not { } rows || next.Rows is not { } others || rows.Length != others.Length)
        {
            deviations.Add(new Deviation("the table", where, table.Rows is { } r ? $"{r.Length} rows" : "", next.Rows is { } n ? $"{n.Length} rows" : "", next.Place));
            return;
        }
        var made = (ReadTable?)places.Of(next);
        for (var r = 0; r < rows.Length; r++)
        {
            // What people have changed and nobody has decided yet is not what was written last.
            if (rows[r].Key == others[r].Key || rows[r].Key == RecordedRow.Unsettled) continue;
            var row = made?.Rows[r];
            var name = row?.Cells.Select(c => c.Text).FirstOrDefault(t => t.Length > 0) ?? $"row {r + 1}";
            deviations.Add(new Deviation($"row “{name}”", where, "", row is null ? null : string.Join(" · ", row.Cells.Select(c => c.Text)), next.Place));
        }
    }

    private static ImmutableArray<string> Reasons(DocumentRecord before, DocumentRecord now)
    {
        var reasons = ImmutableArray.CreateBuilder<string>();
        var inputs = now.Making.Inputs.GroupBy(i => i.Name).ToDictionary(g => g.Key, g => g.First().Hash, StringComparer.Ordinal);
        foreach (var input in before.Making.Inputs)
        {
            if (!inputs.TryGetValue(input.Name, out var hash)) reasons.Add($"data: {input.Name} is not read any more");
            else if (hash != input.Hash) reasons.Add($"data: {input.Name} holds something else");
        }
        foreach (var input in now.Making.Inputs.Where(i => before.Making.Inputs.All(b => b.Name != i.Name))) reasons.Add($"data: {input.Name} was not read then");
        if (before.Making.Hash != now.Making.Hash) reasons.Add("code: the manuscript, what it includes or its scripts are others");
        foreach (var (name, value) in now.Making.Parameters)
            if (before.Making.Parameters.FirstOrDefault(p => p.Key == name) is var old && old.Key is not null && old.Value != value) reasons.Add($"parameter: {name} was {old.Value} and is {value}");
        if (before.Program != now.Program) reasons.Add($"version: Fennick {before.Program} wrote it, and this is {now.Program}");
        return reasons.ToImmutable();
    }
}
