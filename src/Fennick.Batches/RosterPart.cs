using System.Globalization;
using System.IO.Hashing;
using System.Text;
using Fennick.Diagnostics;

namespace Fennick.Batches;

/// <summary>The share of a roster that one of several machines makes.</summary>
/// <param name="Index">Which, from 1.</param>
/// <param name="Count">Of how many.</param>
public readonly record struct RosterPart(int Index, int Count)
{
    // What schedulers of array jobs and indexed jobs set: the index, the first index if it is not 0, and the count or the last index.
    private static readonly (string Index, string? First, string? Count, string? Last)[] Variables =
    [
        ("SLURM_ARRAY_TASK_ID", "SLURM_ARRAY_TASK_MIN", "SLURM_ARRAY_TASK_COUNT", null),
        ("JOB_COMPLETION_INDEX", null, "JOB_COMPLETIONS", null),
        ("AWS_BATCH_JOB_ARRAY_INDEX", null, "AWS_BATCH_JOB_ARRAY_SIZE", null),
        ("CLOUD_RUN_TASK_INDEX", null, "CLOUD_RUN_TASK_COUNT", null),
        ("BATCH_TASK_INDEX", null, "BATCH_TASK_COUNT", null),
        ("SGE_TASK_ID", "SGE_TASK_FIRST", null, "SGE_TASK_LAST"),
        ("LSB_JOBINDEX", null, null, "LSB_JOBINDEX_END"),
        ("PBS_ARRAY_INDEX", null, "PBS_ARRAY_COUNT", null),
    ];

    /// <summary>Whether it makes the whole roster.</summary>
    public bool IsWhole => Count <= 1;

    /// <summary>Reads <c>3/40</c>, or takes the numbers of the array job that this process belongs to for <c>auto</c>.</summary>
    /// <exception cref="ReportException">It is neither, or the environment does not say.</exception>
    public static RosterPart Parse(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (text == "auto") return FromEnvironment(Environment.GetEnvironmentVariable);
        return text.Split('/') is [var index, var count] && Number(index) is > 0 and var i && Number(count) is { } n && i <= n ? new RosterPart(i, n)
            : throw new ReportException(Diagnostic.Error(null, $"`{text}` is not a part of a roster", "write `3/40` for the third of forty, or `auto` in an array job"));
    }

    /// <summary>
    /// The units of this part. They are dealt out in the order of a hash of their names, whatever their order in the roster: parts of the same units never overlap, together miss nothing, and differ by at
    /// most one unit. A unit more in the roster moves few of the others.
    /// </summary>
    /// <param name="units">All units that the parts share.</param>
    /// <param name="name">The name of one.</param>
    public IReadOnlyList<T> Of<T>(IReadOnlyList<T> units, Func<T, string> name)
    {
        ArgumentNullException.ThrowIfNull(units);
        if (IsWhole) return units;
        var (count, index) = (Count, Index);
        var own = units.Index().OrderBy(u => XxHash64.HashToUInt64(Encoding.UTF8.GetBytes(name(u.Item)))).ThenBy(u => name(u.Item), StringComparer.Ordinal).Where((_, at) => at % count == index - 1).Select(u => u.Index).Order();
        return [.. own.Select(i => units[i])];
    }

    /// <inheritdoc/>
    public override string ToString() => string.Create(CultureInfo.InvariantCulture, $"{Index}/{Count}");

    internal static RosterPart FromEnvironment(Func<string, string?> variable)
    {
        foreach (var (index, first, count, last) in Variables)
        {
            if (Number(variable(index)) is not { } at) continue;
            // Without a variable for it, jobs that have a last index count from 1.
            var from = first is null ? last is null ? 0 : 1 : Number(variable(first)) ?? 1;
            if (index == "PBS_ARRAY_INDEX") from = 1;
            var n = count is not null ? Number(variable(count)) : Number(variable(last!)) - from + 1;
            if (n == 1 && from > 1) throw new ReportException(Diagnostic.Error(null, $"this is the one task {at} of an array job: nobody says of how many it is a part", $"write `--part {at}/N`, or submit all tasks again: what is done stays"));
            if (n is null) throw new ReportException(Diagnostic.Error(null, $"this is task {at} of an array job, but the variable `{count ?? last}` does not say of how many", $"set it, or write `--part {at - from + 1}/N`"));
            return at - from >= 0 && at - from < n ? new RosterPart(at - from + 1, n.Value)
                : throw new ReportException(Diagnostic.Error(null, $"`{index}` is {at}, which is none of {n} tasks from {from} on", "number the tasks of the job without gaps, or write `--part I/N`"));
        }
        throw new ReportException(Diagnostic.Error(null, "`--part auto` finds no variable of an array job or an indexed job", $"write `--part 3/40`; the variables are {string.Join(", ", Variables.Select(v => $"`{v.Index}`"))}"));
    }

    private static int? Number(string? text) => int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number : null;
}
