using System.Text;
using System.Text.Json;
using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Batches;

/// <summary>What ledgers tell of each unit.</summary>
internal sealed class LedgerHistory
{
    private readonly Dictionary<string, UnitHistory> units = new(StringComparer.Ordinal);

    /// <summary>Whether there is none yet.</summary>
    public bool IsEmpty => units.Count == 0;

    /// <summary>The first lines of all batches.</summary>
    public List<LedgerLine> Batches { get; } = [];

    /// <summary>All whole lines, in the order of their times.</summary>
    public List<LedgerLine> Lines { get; private init; } = [];

    /// <summary>Lines that cannot be read.</summary>
    public List<Diagnostic> Diagnostics { get; } = [];

    /// <summary>What is told of a unit; nothing if it was never begun.</summary>
    public UnitHistory Of(string unit) => units.GetValueOrDefault(unit) ?? new UnitHistory();

    /// <summary>Reads ledgers.</summary>
    /// <exception cref="ReportException">One is of another version.</exception>
    public static LedgerHistory Read(IEnumerable<string> paths)
    {
        var found = new List<LedgerLine>();
        var history = new LedgerHistory();
        foreach (var path in paths)
        {
            var number = 0;
            using var stream = new StreamReader(new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite), Encoding.UTF8);
            foreach (var text in LinesOf(stream))
            {
                number++;
                if (text.Length == 0) continue;
                try
                {
                    if (text.Length > LedgerLine.Longest) throw new JsonException();
                    var line = LedgerLine.Parse(text);
                    Ledger.CheckVersion(line, path, number);
                    // A ledger may come from elsewhere.
                    if ((line.Units ?? []).Append(line.Unit ?? "x").Concat((line.Also?.Keys ?? []).Select(ending => Path.ChangeExtension(line.Unit ?? "x", ending))).FirstOrDefault(u => InsidePath.Find(Path.GetDirectoryName(path)!, u) is null) is { } outside)
                        history.Diagnostics.Add(Diagnostic.Warning(new SourcePlace(path, number, 1), $"the unit `{outside}` would lie outside of the folder, or behind a link; the line does not count", "look where this ledger comes from"));
                    else found.Add(line);
                }
                catch (JsonException)
                {
                    history.Diagnostics.Add(Diagnostic.Warning(new SourcePlace(path, number, 1), "this ledger line cannot be read and is ignored; its unit may be made again", "the unit is made again if need be"));
                }
            }
        }
        foreach (var line in found.OrderBy(l => l.At)) history.Take(line);
        return history;
    }

    /// <summary>The lines of a ledger; of one that is too long to be one, no more than shows that.</summary>
    private static IEnumerable<string> LinesOf(StreamReader reader)
    {
        var line = new StringBuilder();
        var buffer = new char[1 << 16];
        int count;
        while ((count = reader.Read(buffer)) > 0)
        {
            for (var start = 0; start < count;)
            {
                var length = buffer.AsSpan(start, count - start).IndexOf('\n');
                var end = length < 0 ? count : start + length;
                line.Append(buffer, start, Math.Min(end - start, Math.Max(0, LedgerLine.Longest + 1 - line.Length)));
                start = end + 1;
                if (length < 0) continue;
                yield return line.ToString().TrimEnd('\r');
                line.Clear();
            }
        }
        if (line.Length > 0) yield return line.ToString();
    }

    private void Take(LedgerLine line)
    {
        Lines.Add(line);
        if (line.Event == LedgerEvent.Batch) Batches.Add(line);
        if (line.Unit is not { } unit) return;
        if (!units.TryGetValue(unit, out var known)) units[unit] = known = new UnitHistory();
        known.Last = line;
        if (line.Event == LedgerEvent.Done) known.Done = line;
        if (line.Output is { } output) known.Outputs.Add(output);
        if (line.Also is { } also) known.Outputs.UnionWith(also.Values);
    }

    /// <summary>What is told of one unit.</summary>
    internal sealed class UnitHistory
    {
        /// <summary>The last line of it.</summary>
        public LedgerLine? Last { get; set; }

        /// <summary>The last line that says that it was made.</summary>
        public LedgerLine? Done { get; set; }

        /// <summary>The hashes of all documents that were made for it, and of their other forms.</summary>
        public HashSet<string> Outputs { get; } = new(StringComparer.Ordinal);
    }
}
