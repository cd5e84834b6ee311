using System.Globalization;
using System.Text;
using Fennick.Files;

namespace Fennick.Batches;

/// <summary>The list of a batch's documents, for people and spreadsheets: <c>index.csv</c>.</summary>
internal static class BatchIndex
{
    private const int LongestMessage = 2000;

    /// <summary>Writes the index beside the documents.</summary>
    /// <param name="folder">The folder of the batch.</param>
    /// <param name="part">The part of the roster that it lists.</param>
    /// <param name="files">The documents, in the order of the roster.</param>
    /// <param name="history">What became of them.</param>
    public static void Write(string folder, RosterPart part, IEnumerable<string> files, LedgerHistory history)
    {
        var text = new StringBuilder("unit,file,state,warnings,seconds,message\n");
        foreach (var file in files)
        {
            var known = history.Of(file);
            var hasFile = File.Exists(Path.Combine(folder, file));
            var state = known.Last?.Event switch { null => "not made", LedgerEvent.Done => !hasFile ? "gone" : known.Last.Merged is null ? "made" : "merged", LedgerEvent.Failed when known.Done is not null && hasFile => "failed; the old document stays", LedgerEvent.Failed => "failed", _ => "not finished" };
            var message = known.Last?.Error ?? string.Join(" | ", known.Last?.Warnings ?? []);
            if (message.Length > LongestMessage) message = $"{message[..LongestMessage]}…";
            text.AppendJoin(',', Cell(file[..^".docx".Length]), Cell(hasFile ? file : ""), state, known.Last?.Warnings?.Length ?? 0, known.Last?.Seconds?.ToString("0.###", CultureInfo.InvariantCulture) ?? "", Cell(message)).Append('\n');
        }
        // Spreadsheets take a file without the mark for one of another encoding.
        WholeFile.Put(PathIn(folder, part), text.ToString(), hasMark: true);
    }

    /// <summary>Where the index of a part is.</summary>
    public static string PathIn(string folder, RosterPart part) => Path.Combine(folder, $"index{Ledger.Suffix(part)}.csv");

    /// <summary>A cell; what a spreadsheet would take for a formula gets an apostrophe before it, which makes it text.</summary>
    private static string Cell(string text) => Quoted(text.Length > 0 && (text[0] is '=' or '+' or '-' or '@' or '\t' or '\r') ? $"'{text}" : text);

    private static string Quoted(string text) => text.AsSpan().IndexOfAny(",\"\n\r;") < 0 ? text : $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
}
