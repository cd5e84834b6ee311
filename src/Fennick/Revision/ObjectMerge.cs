using System.IO.Hashing;
using System.Xml.Linq;
using Fennick.Records;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Brings charts, pictures, shapes and formulas up to date, in the look that people gave them.</summary>
internal sealed class ObjectMerge(RefreshPass pass, DocumentRecord before)
{
    private readonly HashSet<string> done = new(StringComparer.OrdinalIgnoreCase);

    /// <summary>Merges what stands in a paragraph and is no text.</summary>
    public void Merge(RecordedParagraph was, ReadParagraph theirs, string part, RecordedParagraph now, ReadParagraph fresh, string where)
    {
        ObjectSegment[] old = [.. was.Content.OfType<ObjectSegment>()];
        ObjectSegment[] next = [.. now.Content.OfType<ObjectSegment>()];
        if (old.Length == 0 || old.Length != next.Length) return;
        Merge(old, [.. theirs.Reading.Pieces.Where(p => p.Kind == PieceKind.Object)], part, next, [.. fresh.Reading.Pieces.Where(p => p.Kind == PieceKind.Object)], where, now.Place?.ToString() is null ? null : now.Place);
        theirs.Renew();
    }

    /// <summary>Merges things pair by pair.</summary>
    public void Merge(IReadOnlyList<ObjectSegment> old, IReadOnlyList<Piece> theirs, string part, IReadOnlyList<ObjectSegment> next, IReadOnlyList<Piece> fresh, string where, Diagnostics.SourcePlace? place)
    {
        if (next.Count != fresh.Count) return;
        var pairs = Alignment.Best(old.Count, theirs.Count, (i, j) => old[i].Kind == Unit.KindOf(theirs[j]) ? 1 : 0);
        for (var i = 0; i < old.Count && i < next.Count; i++)
        {
            if (old[i].Kind != next[i].Kind || !HasChanged(old[i], next[i])) continue;
            var what = $"the {old[i].Kind.ToString().ToLowerInvariant()}";
            if (pairs[i] < 0)
            {
                pass.Add(ChangeKind.StaysDeleted, what, where, null, null, place);
                continue;
            }
            var piece = theirs[pairs[i]];
            var isDone = old[i].Kind switch
            {
                ObjectKind.Chart => MergeChart(old[i], piece, part, fresh[i]),
                ObjectKind.Picture => MergePicture(old[i], piece, part, fresh[i]),
                ObjectKind.Drawing => MergeShape(piece, fresh[i]),
                ObjectKind.Formula => MergeFormula(old[i], piece, part, fresh[i]),
                _ => true,
            };
            if (old[i].Kind != ObjectKind.Note) pass.Add(isDone ? ChangeKind.Refreshed : ChangeKind.Open, what, where, null, isDone ? null : "people have changed it, and it would be another now", place);
        }
    }

    private bool HasChanged(ObjectSegment old, ObjectSegment next) => old.Kind switch
    {
        ObjectKind.Chart or ObjectKind.Picture => before.Parts.GetValueOrDefault("word/" + old.Key) != pass.Now.Parts.GetValueOrDefault("word/" + next.Key),
        ObjectKind.Note => false,
        _ => old.Key != next.Key,
    };

    /// <summary>The data of a chart are new, its look is theirs; one that nobody has touched is exchanged as a whole.</summary>
    private bool MergeChart(ObjectSegment old, Piece piece, string part, Piece fresh)
    {
        if (pass.Theirs.PartOf(part, piece.Element.Descendants(C + "chart").First().Attribute(R + "id")) is not { } chart || pass.Fresh.PartOf(pass.Fresh.Package.Main, fresh.Element.Descendants(C + "chart").First().Attribute(R + "id")) is not { } next) return false;
        if (!done.Add(chart)) return true;
        var isUntouched = Crc32.HashToUInt32(pass.Theirs.Package.Bytes(chart)) == before.Parts.GetValueOrDefault("word/" + old.Key);
        if (isUntouched)
        {
            var workbook = pass.Theirs.Package.Find(chart, "package");
            pass.Theirs.Package.Add(chart, LinkedAs(pass.Fresh.Package.Bytes(next), pass.Fresh, next, pass.Theirs, chart));
            ExchangeWorkbook(workbook, next);
            return true;
        }
        var data = new ChartData(pass.Theirs.Change(chart), pass.Fresh.Open(next).Root!);
        if (!data.Exchange()) return false;
        ExchangeWorkbook(pass.Theirs.Package.Find(chart, "package"), next);
        return true;
    }

    private void ExchangeWorkbook(string? workbook, string chart)
    {
        if (workbook is not null && pass.Fresh.Package.Find(chart, "package") is { } fresh) pass.Theirs.Package.Add(workbook, pass.Fresh.Package.Bytes(fresh));
    }

    /// <summary>A chart names its workbook by the relationship that it has there.</summary>
    private static byte[] LinkedAs(byte[] bytes, WordDocument from, string part, WordDocument to, string target)
    {
        var own = from.Package.RelationshipsOf(part).FirstOrDefault(r => r.Is("package"))?.Id;
        var there = to.Package.RelationshipsOf(target).FirstOrDefault(r => r.Is("package"))?.Id;
        return own is null || there is null || own == there ? bytes : System.Text.Encoding.UTF8.GetBytes(System.Text.Encoding.UTF8.GetString(bytes).Replace($"<c:externalData r:id=\"{own}\"", $"<c:externalData r:id=\"{there}\"", StringComparison.Ordinal));
    }

    /// <summary>The bytes of a picture are new; its size and its crop are theirs. One that people have put in its place stays.</summary>
    private bool MergePicture(ObjectSegment old, Piece piece, string part, Piece fresh)
    {
        var (blip, next) = (piece.Element.Descendants(A + "blip").First(), fresh.Element.Descendants(A + "blip").First());
        if (pass.Theirs.PartOf(part, blip.Attribute(R + "embed")) is not { } picture || pass.Fresh.PartOf(pass.Fresh.Package.Main, next.Attribute(R + "embed")) is not { } bytes) return false;
        if (Crc32.HashToUInt32(pass.Theirs.Package.Bytes(picture)) != before.Parts.GetValueOrDefault("word/" + old.Key)) return false;
        blip.SetAttributeValue(R + "embed", pass.Theirs.Relate(part, "image", pass.Transplant.CopyPart(bytes), isExternal: false));
        // A drawing beside the picture is that of before.
        blip.Element(A + "extLst")?.Remove();
        if (next.Element(A + "extLst") is { } drawing) blip.Add(pass.Transplant.Copy(drawing, pass.Fresh.Package.Main, part));
        return true;
    }

    private static bool MergeShape(Piece piece, Piece fresh)
    {
        XElement[] paths = [.. piece.Element.Descendants(A + "pathLst")];
        XElement[] next = [.. fresh.Element.Descendants(A + "pathLst")];
        if (paths.Length == 0 || paths.Length != next.Length) return false;
        for (var i = 0; i < paths.Length; i++) paths[i].ReplaceWith(new XElement(next[i]));
        return true;
    }

    private bool MergeFormula(ObjectSegment old, Piece piece, string part, Piece fresh)
    {
        if (string.Concat(piece.Element.Descendants(M + "t").Select(t => t.Value)) != old.Letters) return false;
        piece.Element.ReplaceWith(pass.Transplant.Copy(fresh.Element, pass.Fresh.Package.Main, part));
        return true;
    }
}
