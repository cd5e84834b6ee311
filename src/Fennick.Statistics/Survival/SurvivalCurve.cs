using System.Collections.Immutable;
using System.Globalization;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Survival;

/// <summary>A time at which something happened to a group under observation.</summary>
/// <param name="Time">The time.</param>
/// <param name="AtRisk">How many were under observation just before it.</param>
/// <param name="Events">How many events occurred at it.</param>
/// <param name="Censored">For how many observation ended at it without the event.</param>
/// <param name="Survival">The share that survives it.</param>
/// <param name="StandardError">The standard error of that share (Greenwood).</param>
public sealed record SurvivalStep(double Time, int AtRisk, int Events, int Censored, double Survival, double StandardError);

/// <summary>How the confidence limits of a survival curve are made.</summary>
public enum SurvivalLimits
{
    /// <summary>On the scale ln(−ln S), which keeps them between 0 and 1.</summary>
    LogLog,

    /// <summary>On the scale ln S.</summary>
    Log,

    /// <summary>On the scale of S itself.</summary>
    Plain,
}

/// <summary>The product-limit estimate of survival of one group.</summary>
/// <remarks>Kaplan &amp; Meier (1958), Journal of the American Statistical Association 53; errors Greenwood (1926); limits Kalbfleisch &amp; Prentice, 2nd ed., §1.4.1.</remarks>
public sealed class SurvivalCurve
{
    private SurvivalCurve(string? group, ImmutableArray<SurvivalStep> steps, int missing) => (Group, Steps, Missing) = (group, steps, missing);

    /// <summary>The group; null if it is of all.</summary>
    public string? Group { get; }

    /// <summary>The times at which anything happened, in order.</summary>
    public ImmutableArray<SurvivalStep> Steps { get; }

    /// <summary>How many were observed.</summary>
    public int Count => Steps[0].AtRisk;

    /// <summary>How many events occurred.</summary>
    public int Events => Steps.Sum(s => s.Events);

    /// <summary>The rows left out because the time, the event or the group was missing.</summary>
    public int Missing { get; }

    /// <summary>The first time at which at most half survive; null if more survive to the end.</summary>
    public double? Median => Quantile(0.5);

    /// <summary>The curve of plain arrays.</summary>
    /// <param name="times">n times.</param>
    /// <param name="occurred">Whether the event occurred then; else observation ended.</param>
    /// <exception cref="AnalysisException">There are none, not as many of both, or a time is negative or not finite.</exception>
    public static SurvivalCurve Of(IReadOnlyList<double> times, IReadOnlyList<bool> occurred)
    {
        ArgumentNullException.ThrowIfNull(times);
        ArgumentNullException.ThrowIfNull(occurred);
        if (times.Count != occurred.Count) throw new AnalysisException($"there are {times.Count} times, but {occurred.Count} events");
        return Make(null, times.Zip(occurred), 0);
    }

    /// <summary>The curve of records.</summary>
    /// <param name="records">The records; those in which something is missing are left out and counted.</param>
    /// <param name="time">The time until the event, or until observation ended.</param>
    /// <param name="occurred">Whether the event occurred.</param>
    /// <exception cref="AnalysisException">No record is complete, or a time is negative or not finite.</exception>
    public static SurvivalCurve Of<T>(IEnumerable<T> records, Func<T, double?> time, Func<T, bool?> occurred) => By(records, time, occurred, null)[0];

    /// <summary>A curve for each group of records, in their natural order.</summary>
    /// <param name="records">The records; those in which something is missing are left out and counted.</param>
    /// <param name="time">The time until the event, or until observation ended.</param>
    /// <param name="occurred">Whether the event occurred.</param>
    /// <param name="group">The group; null for one curve.</param>
    /// <exception cref="AnalysisException">No record is complete, or a time is negative or not finite.</exception>
    public static IReadOnlyList<SurvivalCurve> By<T>(IEnumerable<T> records, Func<T, double?> time, Func<T, bool?> occurred, Func<T, object?>? group)
    {
        ArgumentNullException.ThrowIfNull(records);
        ArgumentNullException.ThrowIfNull(time);
        ArgumentNullException.ThrowIfNull(occurred);
        var read = records.Select(r => (Time: time(r), Occurred: occurred(r), Group: group is null ? "" : group(r))).ToList();
        var complete = read.Where(r => r.Time is { } t && !double.IsNaN(t) && r.Occurred is not null && r.Group is not null).ToList();
        if (complete.Count == 0) throw new AnalysisException(read.Count == 0 ? "there are no rows" : $"none of the {ModelData.CountRows(read.Count)} has a time, an event and a group");
        var missing = read.Count - complete.Count;
        var groups = complete.GroupBy(r => Convert.ToString(r.Group, CultureInfo.InvariantCulture)!).ToDictionary(g => g.Key, g => g.ToList());
        object[] keys = [.. NaturalOrder.Of(complete.Select(r => r.Group!).Distinct())];
        return [.. keys.Select(k => Convert.ToString(k, CultureInfo.InvariantCulture)!).Distinct().Select(k => Make(group is null ? null : k, groups[k].Select(r => (r.Time!.Value, r.Occurred!.Value)), missing))];
    }

    private static SurvivalCurve Make(string? group, IEnumerable<(double Time, bool Occurred)> observed, int missing)
    {
        var all = observed.ToList();
        if (all.Count == 0) throw new AnalysisException("there are no rows");
        if (all.Count(o => !(o.Time >= 0) || double.IsInfinity(o.Time)) is > 0 and var wrong) throw new AnalysisException($"the time is negative or not finite in {ModelData.CountRows(wrong)}");
        var steps = ImmutableArray.CreateBuilder<SurvivalStep>();
        var (atRisk, survival, greenwood) = (all.Count, 1.0, 0.0);
        foreach (var at in all.GroupBy(o => o.Time).OrderBy(g => g.Key))
        {
            var (events, count) = (at.Count(o => o.Occurred), at.Count());
            survival *= (double)(atRisk - events) / atRisk;
            if (events > 0) greenwood += (double)events / atRisk / (atRisk - events);
            steps.Add(new SurvivalStep(at.Key, atRisk, events, count - events, survival, survival == 0 ? 0 : survival * Math.Sqrt(greenwood)));
            atRisk -= count;
        }
        return new SurvivalCurve(group, steps.ToImmutable(), missing);
    }

    /// <summary>The share that survives a time; null after the last time under observation, unless nobody was left then.</summary>
    /// <param name="time">The time.</param>
    public double? At(double time) => StepAt(time) is { } step ? time > Steps[^1].Time && step.Survival > 0 ? null : step.Survival : 1;

    /// <summary>How many were still under observation just before a time.</summary>
    /// <param name="time">The time.</param>
    public int AtRisk(double time) => Steps.FirstOrDefault(s => s.Time >= time)?.AtRisk ?? 0;

    /// <summary>The confidence limits of the share that survives a time; null where that is not known.</summary>
    /// <param name="time">The time.</param>
    /// <param name="level">The level of the interval.</param>
    /// <param name="limits">The scale on which they are made.</param>
    public Interval? Interval(double time, double level = 0.95, SurvivalLimits limits = SurvivalLimits.LogLog) => At(time) is null ? null : StepAt(time) is { } step ? Around(step, level, limits) : new Interval(1, 1);

    /// <summary>The first time at which at most a share survives.</summary>
    /// <param name="share">The share.</param>
    /// <returns>Null if more survive to the end.</returns>
    public double? Quantile(double share) => First(s => s.Survival, share);

    /// <summary>The confidence limits of such a time: the times at which the limits of the curve reach the share. An end that they do not reach is infinite.</summary>
    /// <param name="share">The share.</param>
    /// <param name="level">The level of the interval.</param>
    /// <param name="limits">The scale on which the curve's limits are made.</param>
    /// <remarks>Brookmeyer &amp; Crowley (1982), Biometrics 38.</remarks>
    public Interval QuantileInterval(double share, double level = 0.95, SurvivalLimits limits = SurvivalLimits.LogLog) =>
        new(First(s => Around(s, level, limits).Low, share) ?? double.PositiveInfinity, First(s => Around(s, level, limits).High, share) ?? double.PositiveInfinity);

    /// <summary>The share that is left just before a time.</summary>
    internal double Before(double time) => Steps.LastOrDefault(s => s.Time < time)?.Survival ?? 1;

    // Shares that are equal but for rounding count as reached.
    private double? First(Func<SurvivalStep, double> value, double share) => Steps.FirstOrDefault(s => value(s) <= share + 1e-12)?.Time;

    private SurvivalStep? StepAt(double time) => Steps.LastOrDefault(s => s.Time <= time);

    private static Interval Around(SurvivalStep step, double level, SurvivalLimits limits)
    {
        var s = step.Survival;
        if (s is 0 or 1) return new Interval(s, s);
        var z = Tails.NormalQuantile(1 - level);
        var relative = step.StandardError / s;
        switch (limits)
        {
            case SurvivalLimits.Plain: return new Interval(Math.Max(0, s - (z * step.StandardError)), Math.Min(1, s + (z * step.StandardError)));
            case SurvivalLimits.Log: return new Interval(s * Math.Exp(-z * relative), Math.Min(1, s * Math.Exp(z * relative)));
        }
        var width = z * relative / Math.Abs(Math.Log(s));
        return new Interval(Math.Pow(s, Math.Exp(width)), Math.Pow(s, Math.Exp(-width)));
    }
}
