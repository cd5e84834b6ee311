using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Formatting;
using Fennick.Manuscripts.Compilation;

namespace Fennick.Manuscripts.Reuse;

/// <summary>What came of a piece.</summary>
internal sealed class KeptPiece
{
    /// <summary>The values of the variables that it gave values.</summary>
    public IReadOnlyDictionary<string, object?> Values { get; set; } = ImmutableDictionary<string, object?>.Empty;

    /// <summary>What it gave: the text of a value, or the result of a step.</summary>
    public object? Given { get; set; }

    /// <summary>The words that a step gave, before they had a place; null if it gave something else.</summary>
    public object? Raw { get; set; }

    /// <summary>What it wrote to the console.</summary>
    public string Written { get; set; } = "";

    /// <summary>The files that it read.</summary>
    public ImmutableArray<FileStamp> Files { get; set; } = [];

    /// <summary>The formats that it brought.</summary>
    public ImmutableArray<OwnFormat> Formats { get; set; } = [];

    /// <summary>How it was shown when it ran.</summary>
    public Running.TriedStep? Shown { get; set; }
}

/// <summary>Remembers from run to run what the steps of a manuscript gave, and says which of them need not run again. For looking only: what is handed out is made by running all of it.</summary>
internal sealed class StepMemory
{
    private readonly ReuseCompiler compiler = new();
    private string? compiledKey;
    private (CompiledManuscript Compiled, ReusePlan? Plan) compiled;

    // The run before, and what came of its pieces; null for a piece that is to run again.
    private ReusePlan? before;
    private string worldBefore = "";
    private KeptPiece?[] kept = [];

    // The same for the run that goes on.
    private KeptPiece?[] fresh = [];
    private KeptPiece?[] reused = [];
    private Dictionary<int, int> places = [];

    /// <summary>The compiled form of a manuscript.</summary>
    /// <returns>With whether it was compiled just now.</returns>
    /// <exception cref="ReportException">The code has errors.</exception>
    public (CompiledManuscript Compiled, bool IsNew) Compile(ManuscriptTree tree, LibrarySet libraries)
    {
        var key = ProgramKey.Of(tree, libraries);
        if (key == compiledKey) return (compiled.Compiled, false);
        compiledKey = null;
        compiled = compiler.Compile(tree, key, libraries);
        compiledKey = key;
        return (compiled.Compiled, true);
    }

    /// <summary>How many programs it holds, which only the end of the process frees.</summary>
    public int ProgramCount => compiler.Count;

    /// <summary>Forgets everything, so that all steps run.</summary>
    public void Forget() => before = null;

    /// <summary>A run begins.</summary>
    /// <param name="tree">The manuscript that was compiled last.</param>
    /// <param name="parameters">The values of its parameters.</param>
    public void Begin(ManuscriptTree tree, IReadOnlyDictionary<string, object> parameters)
    {
        if (compiled.Plan is not { } plan)
        {
            (before, fresh, reused, places) = (null, [], [], []);
            return;
        }
        // A format belongs to the value, and not to the program: the tree has the one of now.
        plan = plan with { Pieces = [.. plan.Pieces.Select(p => tree.Executables[p.Ordinal] is Steps.ValueHole hole ? p with { Key = $"value\n{hole.Expression}\n{hole.Format}" } : p)] };
        var world = $"{plan.World}\n{string.Join('\n', parameters.OrderBy(p => p.Key, StringComparer.Ordinal).Select(p => FormattableString.Invariant($"{p.Key}={p.Value}")))}";
        var matches = before is not null && world == worldBefore ? Match(before, plan) : [.. plan.Pieces.Select(_ => -1)];
        Exclude(plan, matches);
        reused = [.. matches.Select(m => m < 0 ? null : kept[m])];
        places = plan.Pieces.Index().ToDictionary(p => p.Item.Ordinal, p => p.Index);
        // What runs now is as new: if the run ends early, the rest of it counts as not there.
        fresh = [.. reused];
        (before, worldBefore, kept) = (plan, world, fresh);
    }

    /// <summary>What came of a piece that need not run; null if it runs.</summary>
    public KeptPiece? Find(int ordinal) => places.TryGetValue(ordinal, out var place) ? reused[place] : null;

    /// <summary>The names of the variables that a piece gives values.</summary>
    public ImmutableArray<string> NamesOf(int ordinal) => places.TryGetValue(ordinal, out var place) ? before!.Pieces[place].Names : [];

    /// <summary>Keeps what came of a piece that has run.</summary>
    public void Keep(int ordinal, KeptPiece piece)
    {
        if (places.TryGetValue(ordinal, out var place)) fresh[place] = piece;
    }

    /// <summary>For each piece the one of the run before that says the same; -1 if there is none.</summary>
    private static int[] Match(ReusePlan old, ReusePlan plan)
    {
        var matches = new int[plan.Pieces.Length];
        Array.Fill(matches, -1);
        var (start, oldEnd, newEnd) = (0, old.Pieces.Length, plan.Pieces.Length);
        while (start < oldEnd && start < newEnd && old.Pieces[start].Key == plan.Pieces[start].Key) matches[start] = start++;
        while (oldEnd > start && newEnd > start && old.Pieces[oldEnd - 1].Key == plan.Pieces[newEnd - 1].Key) matches[--newEnd] = --oldEnd;
        // In between in order, the nearest first.
        var next = start;
        for (var p = start; p < newEnd; p++)
        {
            var found = next;
            while (found < oldEnd && old.Pieces[found].Key != plan.Pieces[p].Key) found++;
            if (found == oldEnd) continue;
            matches[p] = found;
            next = found + 1;
        }
        return matches;
    }

    /// <summary>Takes out what has to run: by itself, or since something runs that it depends on or keeps company with.</summary>
    private void Exclude(ReusePlan plan, int[] matches)
    {
        var stamps = new Dictionary<string, bool>(StringComparer.Ordinal);
        for (var p = 0; p < matches.Length; p++)
            if (matches[p] >= 0 && (plan.Pieces[p].AlwaysRuns || before!.Pieces[matches[p]].AlwaysRuns || kept[matches[p]] is not { } piece || !plan.Pieces[p].Names.All(piece.Values.ContainsKey) || piece.Files.Any(HasChanged))) matches[p] = -1;
        for (var again = true; again;)
        {
            again = false;
            for (var p = 0; p < matches.Length; p++)
            {
                if (matches[p] < 0 || (IsSame(plan.Pieces[p].DependsOn, before!.Pieces[matches[p]].DependsOn) && IsSame(plan.Pieces[p].Company, before.Pieces[matches[p]].Company))) continue;
                matches[p] = -1;
                again = true;
            }
        }

        bool IsSame(ImmutableArray<int> now, ImmutableArray<int> then) => now.Length == then.Length && now.Select(n => matches[n]).Order().SequenceEqual(then);

        bool HasChanged(FileStamp file)
        {
            if (stamps.TryGetValue(file.Path, out var known)) return known;
            try
            {
                return stamps[file.Path] = FileStamp.Of(file.Path) != file;
            }
            catch (ReportException)
            {
                return stamps[file.Path] = true;
            }
        }
    }
}
