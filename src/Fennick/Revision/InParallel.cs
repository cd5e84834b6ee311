using System.Runtime.ExceptionServices;

namespace Fennick.Revision;

/// <summary>Does the same with several documents at once.</summary>
internal static class InParallel
{
    /// <summary>What becomes of each, in their order; the first failure in that order is the one that is thrown.</summary>
    public static TResult[] Select<T, TResult>(IReadOnlyList<T> each, Func<T, TResult> work)
    {
        var (results, failures) = (new TResult[each.Count], new Exception?[each.Count]);
        Parallel.For(0, each.Count, i =>
        {
            try
            {
                results[i] = work(each[i]);
            }
            catch (Exception failure)
            {
                failures[i] = failure;
            }
        });
        if (failures.FirstOrDefault(f => f is not null) is { } first) ExceptionDispatchInfo.Throw(first);
        return results;
    }
}
