using System.Globalization;
using System.Text.RegularExpressions;
using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Batches;

/// <summary>The record that a batch keeps in its folder of what was made from what: lines that are only ever added.</summary>
internal sealed partial class Ledger : IDisposable
{
    private const int Version = 1;
    private readonly List<FileStream> locks;
    private readonly FileStream file;
    private readonly Lock guard = new();

    private Ledger(FileStream file, List<FileStream> locks, LedgerHistory history)
    {
        this.file = file;
        this.locks = locks;
        History = history;
    }

    /// <summary>What was there when it was opened.</summary>
    public LedgerHistory History { get; }

    /// <summary>Opens the ledger of a folder; nobody else can until it is closed.</summary>
    /// <param name="folder">The folder, which is made if it is not there.</param>
    /// <param name="part">The part of the roster that is made; each has a ledger of its own.</param>
    /// <exception cref="ReportException">Another batch writes into the folder, it cannot be written, or a ledger is of another version.</exception>
    public static Ledger Open(string folder, RosterPart part)
    {
        var locks = new List<FileStream>();
        try
        {
            Directory.CreateDirectory(folder);
            // Parts may write at once, the whole roster only alone.
            locks.Add(Lock(folder, "", part.IsWhole));
            if (!part.IsWhole) locks.Add(Lock(folder, Suffix(part), isAlone: true));
            var history = LedgerHistory.Read(PathsIn(folder));
            var path = Path.Combine(folder, $"ledger{Suffix(part)}.jsonl");
            var isTorn = IsTorn(path);
            var file = new FileStream(path, FileMode.Append, FileAccess.Write, FileShare.ReadWrite, bufferSize: 0);
            if (isTorn) file.WriteByte((byte)'\n');
            return new Ledger(file, locks, history);
        }
        catch (Exception problem)
        {
            foreach (var held in locks) Release(held);
            if (problem is IOException or UnauthorizedAccessException)
                throw new ReportException([Diagnostic.Error(new SourcePlace(folder, 0, 0), $"the folder cannot be written: {FileProblem.Reason(problem)}", "choose another with `--into`, or free this one")], problem);
            throw;
        }
    }

    /// <summary>The ledgers in a folder.</summary>
    public static IEnumerable<string> PathsIn(string folder) => Directory.Exists(folder) ? Directory.EnumerateFiles(folder, "ledger*.jsonl").Where(f => LedgerName().IsMatch(Path.GetFileName(f))).Order(StringComparer.Ordinal) : [];

    /// <summary>The first line of a batch.</summary>
    public static LedgerLine Head(string source, string roster, RosterPart part, IEnumerable<string> units) => new()
    {
        Ledger = Version,
        Event = LedgerEvent.Batch,
        At = DateTimeOffset.Now,
        Fennick = typeof(Report).Assembly.GetName().Version!.ToString(3),
        Source = source,
        Roster = roster,
        Part = part.IsWhole ? null : part.ToString(),
        Units = [.. units],
    };

    /// <summary>Adds a line; when this returns, it has left the process.</summary>
    /// <exception cref="ReportException">It cannot be written; the batch has to stop.</exception>
    public void Add(LedgerLine line)
    {
        try
        {
            lock (guard) file.Write(line.ToBytes());
        }
        catch (IOException problem)
        {
            throw new LedgerFault(file.Name, problem);
        }
    }

    /// <summary>Puts the lines of all parts into the ledger of the whole; those of the parts are removed when it is there.</summary>
    public void Replace(IEnumerable<LedgerLine> lines)
    {
        var (path, folder) = (file.Name, Path.GetDirectoryName(file.Name)!);
        try
        {
            file.Dispose();
            WholeFile.Put(path, stream =>
            {
                foreach (var line in lines.OrderBy(l => l.At)) stream.Write(line.ToBytes());
            });
            foreach (var part in PathsIn(folder).Where(p => p != path))
            {
                File.Delete(part);
                File.Delete(Path.Combine(folder, Path.GetFileName(part).Replace("ledger", "index", StringComparison.Ordinal).Replace(".jsonl", ".csv", StringComparison.Ordinal)));
                File.Delete(Path.Combine(folder, Path.GetFileName(part).Replace("ledger", ".batch", StringComparison.Ordinal).Replace(".jsonl", ".lock", StringComparison.Ordinal)));
            }
        }
        catch (IOException problem)
        {
            throw new LedgerFault(path, problem).ToReport();
        }
    }

    /// <summary>Checks the version of a line.</summary>
    public static void CheckVersion(LedgerLine line, string path, int number)
    {
        if (line.Ledger is { } version and not Version)
            throw new ReportException(Diagnostic.Error(new SourcePlace(path, number, 1), $"this ledger is of version {version}; this Fennick reads version {Version}", "name another folder with `--into`, or move the old one away"));
    }

    public void Dispose()
    {
        file.Dispose();
        foreach (var held in locks) Release(held);
    }

    /// <summary>What tells the files of a part apart.</summary>
    public static string Suffix(RosterPart part) => part.IsWhole ? "" : string.Create(CultureInfo.InvariantCulture, $"-{part.Index}-of-{part.Count}");

    private static FileStream Lock(string folder, string suffix, bool isAlone)
    {
        var path = Path.Combine(folder, $".batch{suffix}.lock");
        try
        {
            while (true)
            {
                if (!File.Exists(path)) File.Open(path, FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.ReadWrite).Dispose();
                var held = isAlone ? new FileStream(path, FileMode.Open, FileAccess.ReadWrite, FileShare.None) : new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read);
                if (UnixFile.Of(held.SafeFileHandle) is not { } own || (UnixFile.Of(path) is { } there && own.IsSame(there))) return held;
                // Whoever had it before has just removed it: it holds nobody off.
                held.Dispose();
            }
        }
        catch (FileNotFoundException)
        {
            return Lock(folder, suffix, isAlone);
        }
        catch (IOException problem) when (File.Exists(path))
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(folder, 0, 0), "another batch is writing into this folder", "wait for it, or choose another folder with `--into`")], problem);
        }
    }

    /// <summary>Gives a lock back, and removes it if nobody else has it.</summary>
    private static void Release(FileStream held)
    {
        held.Dispose();
        try
        {
            using var alone = new FileStream(held.Name, FileMode.Open, FileAccess.ReadWrite, FileShare.None);
            File.Delete(held.Name);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            // Another part goes on, or the folder is gone.
        }
    }

    /// <summary>Whether a file ends in the middle of a line, because its process was killed or its disk was full.</summary>
    private static bool IsTorn(string path)
    {
        if (!File.Exists(path)) return false;
        using var stream = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite);
        if (stream.Length == 0) return false;
        stream.Seek(-1, SeekOrigin.End);
        return stream.ReadByte() != '\n';
    }

    [GeneratedRegex(@"^ledger(-\d+-of-\d+)?\.jsonl$")]
    private static partial Regex LedgerName();
}
