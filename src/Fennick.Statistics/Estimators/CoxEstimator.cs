using System.Globalization;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Estimators;

/// <summary>Cox's proportional hazards by the partial likelihood, with Efron's or Breslow's treatment of tied times.</summary>
/// <remarks>
/// Kalbfleisch &amp; Prentice, The Statistical Analysis of Failure Time Data, 2nd ed., §4.2–4.3; Efron (1977), Journal of the American Statistical Association 72. Residuals of scores after
/// Therneau &amp; Grambsch, Modeling Survival Data, §4.3.
/// </remarks>
internal sealed class CoxEstimator
{
    private readonly ModelColumns columns;
    private readonly double[] times;
    private readonly bool[] occurred;
    private readonly int[] strata;
    private readonly bool isEfron;

    // Rows by stratum, then from the longest time to the shortest.
    private readonly int[] order;
    private readonly double[] rows;
    private readonly int k;

    private CoxEstimator(ModelColumns columns, double[] times, bool[] occurred, int[] strata, bool isEfron)
    {
        (this.columns, this.times, this.occurred, this.strata, this.isEfron, k) = (columns, times, occurred, strata, isEfron, columns.Count);
        order = [.. Enumerable.Range(0, times.Length).OrderBy(i => strata[i]).ThenByDescending(i => times[i])];
        rows = new double[order.Length * k];
        for (var c = 0; c < k; c++)
            for (var i = 0; i < order.Length; i++) rows[(i * k) + c] = columns.Columns[c][order[i]];
    }

    /// <summary>Fits a model.</summary>
    /// <param name="data">The times as response, with the terms.</param>
    /// <param name="events">Whether the event occurred, 1 or 0, for each row used.</param>
    /// <param name="eventName">What that is called.</param>
    /// <param name="stratum">The stratum of each row used; null for one.</param>
    /// <param name="strataName">What these are called.</param>
    /// <param name="isEfron">Whether ties are Efron's; else Breslow's.</param>
    public static CoxFit Fit(ModelData data, double[] events, string eventName, int[]? stratum, string? strataName, bool isEfron)
    {
        Check(data, events, eventName);
        var columns = ModelColumns.Of(data);
        if (columns.Count == 0) throw new AnalysisException("the model has no terms that vary");
        bool[] occurred = [.. events.Select(e => e == 1)];
        var cox = new CoxEstimator(columns, data.Response, occurred, stratum ?? new int[events.Length], isEfron);
        var none = cox.LogLikelihood(new double[columns.Count], null, null);
        var best = NewtonMaximum.Find(cox.LogLikelihood, new double[columns.Count]);
        var given = columns.ToGiven(columns.Count, 0, []);
        var (coefficients, covariance) = EstimatedBasis.Transform(given, best.Parameters, best.Covariance);
        var (infinite, separated) = Separation.Find(best, 0, columns.Terms, "the hazard", "no event, or every early one, falls on it");
        var basis = new EstimatedBasis
        {
            Estimator = Regression.CoxName,
            Data = data,
            Terms = columns.Terms,
            Coefficients = coefficients,
            Covariance = covariance,
            Infinite = infinite,
            Scores = () => cox.Scores(best.Parameters, given),
            LogLikelihood = best.LogLikelihood,
            ParameterCount = columns.Count,
            Iterations = best.Iterations,
            Converged = best.Converged,
            Warnings = [.. columns.Warnings, .. separated],
        };
        var emptyStrata = cox.StrataWithoutEvents();
        if (emptyStrata > 0) basis = basis with { Warnings = basis.Warnings.Add(new AnalysisWarning($"{emptyStrata} of the strata {(emptyStrata == 1 ? "holds" : "hold")} no event and {(emptyStrata == 1 ? "tells" : "tell")} nothing")) };
        return new CoxFit(basis, StandardErrors.Classical, new CoxDetails(eventName, occurred.Count(o => o), none, strataName, stratum is null ? 1 : stratum.Distinct().Count(), isEfron, transform => cox.Proportionality(best.Parameters, transform)));
    }

    private static void Check(ModelData data, double[] events, string eventName)
    {
        if (events.FirstOrDefault(e => e is not (0 or 1), -1) is not -1 and var wrong) throw new AnalysisException($"`{eventName}` is {wrong.ToString(CultureInfo.InvariantCulture)} in a row; it must be 1 where the event occurred and 0 where the time was cut short");
        if (data.Response.Count(t => t < 0) is > 0 and var early) throw new AnalysisException($"the time `{data.ResponseName}` is negative in {ModelData.CountRows(early)}");
        if (events.All(e => e == 0)) throw new AnalysisException($"the event `{eventName}` occurred in none of the {ModelData.CountRows(events.Length)}, so that there is nothing to model");
    }

    private int StrataWithoutEvents() => Enumerable.Range(0, strata.Length).GroupBy(i => strata[i]).Count(g => !g.Any(i => occurred[i]));

    private double LogLikelihood(double[] slopes, double[]? gradient, double[,]? information)
    {
        var sum = 0.0;
        ForEvents(slopes, information is not null, at =>
        {
            sum += at.EventPredictors;
            if (gradient is not null) Vectors.AddScaled(gradient, 1, at.EventSums);
            for (var tie = 0; tie < at.Count; tie++)
            {
                var share = isEfron ? (double)tie / at.Count : 0;
                var total = at.Total - (share * at.EventTotal);
                sum -= Math.Log(total);
                if (gradient is null) continue;
                for (var c = 0; c < k; c++)
                {
                    var mean = at.Mean(c, share, total);
                    gradient[c] -= mean;
                    if (information is null) continue;
                    for (var d = 0; d <= c; d++) information[c, d] += at.Square(c, d, share, total) - (mean * at.Mean(d, share, total));
                }
            }
        });
        if (information is not null)
            for (var c = 0; c < k; c++)
                for (var d = 0; d < c; d++) information[d, c] = information[c, d];
        return sum;
    }

    /// <summary>Goes through the times with events of each stratum, from the last to the first.</summary>
    private void ForEvents(double[] slopes, bool needsSquares, Action<RiskSet> visit)
    {
        var linear = columns.Predictor(slopes);
        // The likelihood does not change if all predictors do; none may overflow.
        var highest = linear.Max();
        var set = new RiskSet(k);
        for (var i = 0; i < order.Length;)
        {
            if (i == 0 || strata[order[i]] != strata[order[i - 1]]) set.Clear();
            var (time, stratum) = (times[order[i]], strata[order[i]]);
            set.Begin(i);
            for (; i < order.Length && strata[order[i]] == stratum && times[order[i]] == time; i++)
            {
                var row = order[i];
                var relative = linear[row] - highest;
                set.Add(rows.AsSpan(i * k, k), Math.Exp(relative), relative, occurred[row], needsSquares);
            }
            set.End = i;
            if (set.Count > 0) visit(set);
        }
    }

    /// <summary>The derivatives of each row's part of the partial likelihood.</summary>
    private double[][] Scores(double[] slopes, double[,] given)
    {
        var n = order.Length;
        var scores = new double[n][];
        var linear = columns.Predictor(slopes);
        var highest = linear.Max();
        // The sums over the later half of each stratum are needed from the first time on: events are gathered first.
        var events = new List<(int Start, int End, int Count, double[] Mean, double Hazard, double[] Weighted, double OwnHazard, double[] OwnWeighted)>();
        ForEvents(slopes, false, at =>
        {
            var (mean, weighted, ownWeighted, hazard, ownHazard) = (new double[k], new double[k], new double[k], 0.0, 0.0);
            for (var tie = 0; tie < at.Count; tie++)
            {
                var share = isEfron ? (double)tie / at.Count : 0;
                var total = at.Total - (share * at.EventTotal);
                hazard += 1 / total;
                ownHazard += (1 - share) / total;
                for (var c = 0; c < k; c++)
                {
                    var own = at.Mean(c, share, total);
                    mean[c] += own / at.Count;
                    weighted[c] += own / total;
                    ownWeighted[c] += (1 - share) * own / total;
                }
            }
            events.Add((at.Start, at.End, at.Count, mean, hazard, weighted, ownHazard, ownWeighted));
        });
        var (cumulated, sums, next) = (0.0, new double[k], events.Count - 1);
        for (var end = n; end > 0;)
        {
            var start = end - 1;
            if (end == n || strata[order[start]] != strata[order[end]]) (cumulated, sums) = (0, new double[k]);
            while (start > 0 && strata[order[start - 1]] == strata[order[end - 1]] && times[order[start - 1]] == times[order[end - 1]]) start--;
            var isEvent = next >= 0 && events[next].Start == start;
            for (var i = start; i < end; i++)
            {
                var row = order[i];
                var score = new double[k];
                var risk = Math.Exp(linear[row] - highest);
                var isOwn = isEvent && occurred[row];
                var hazard = cumulated + (!isEvent ? 0 : isOwn ? events[next].OwnHazard : events[next].Hazard);
                for (var c = 0; c < k; c++)
                {
                    var x = rows[(i * k) + c];
                    var weighted = sums[c] + (!isEvent ? 0 : isOwn ? events[next].OwnWeighted[c] : events[next].Weighted[c]);
                    score[c] = (isOwn ? x - events[next].Mean[c] : 0) - (risk * ((x * hazard) - weighted));
                }
                // From the columns as they are here to those that were given.
                for (var c = 0; c < k; c++) score[c] /= given[c, c];
                scores[row] = score;
            }
            if (isEvent)
            {
                cumulated += events[next].Hazard;
                Vectors.AddScaled(sums, 1, events[next].Weighted);
                next--;
            }
            end = start;
        }
        return scores;
    }

    /// <summary>Score tests that coefficients do not change with a transformation of time: of each term, and of all together last.</summary>
    /// <remarks>Grambsch &amp; Therneau (1994), Biometrika 81; the score test itself, not its approximation by residuals.</remarks>
    private TestResult[] Proportionality(double[] slopes, TimeScale scale)
    {
        var transformed = Transformed(scale);
        var (score, own, across, plain) = (new double[k], new double[k, k], new double[k, k], new double[k, k]);
        ForEvents(slopes, true, at =>
        {
            var g = transformed[times[order[at.Start]]];
            for (var c = 0; c < k; c++) score[c] += g * at.EventSums[c];
            for (var tie = 0; tie < at.Count; tie++)
            {
                var share = isEfron ? (double)tie / at.Count : 0;
                var total = at.Total - (share * at.EventTotal);
                for (var c = 0; c < k; c++)
                {
                    var mean = at.Mean(c, share, total);
                    score[c] -= g * mean;
                    for (var d = 0; d < k; d++)
                    {
                        var variance = (d <= c ? at.Square(c, d, share, total) : at.Square(d, c, share, total)) - (mean * at.Mean(d, share, total));
                        plain[c, d] += variance;
                        across[c, d] += g * variance;
                        own[c, d] += g * g * variance;
                    }
                }
            }
        });
        var inverse = Cholesky.Inverse(plain, "the terms cannot be told apart, so that their proportionality cannot be tested");
        // What the estimated coefficients take away.
        var (_, taken) = EstimatedBasis.Transform(across, new double[k], inverse);
        var rest = new double[k, k];
        for (var c = 0; c < k; c++)
            for (var d = 0; d < k; d++) rest[c, d] = own[c, d] - taken[c, d];
        List<TestResult> tests = [.. columns.Terms.Select((term, c) => Test(term.Name, score[c] * score[c] / rest[c, c], 1))];
        if (k > 1)
        {
            var lower = Cholesky.Factor(rest, 1e-12) ?? throw new AnalysisException("the terms cannot be told apart over time, so that their proportionality cannot be tested together");
            var solved = Cholesky.SolveLower(lower, score);
            tests.Add(Test("all terms", Vectors.Dot(solved, solved), k));
        }
        return [.. tests];

        static TestResult Test(string name, double statistic, int degrees) => new(name, statistic, degrees, null, Tails.ChiSquaredUpper(statistic, degrees));
    }

    /// <summary>What time counts as, around its mean over the events.</summary>
    private Dictionary<double, double> Transformed(TimeScale scale)
    {
        double[] distinct = [.. Enumerable.Range(0, times.Length).Where(i => occurred[i]).Select(i => times[i]).Distinct().Order()];
        if (scale == TimeScale.Logarithm && distinct[0] <= 0) throw new AnalysisException("an event occurred at time 0, whose logarithm is not defined; use another scale of time");
        var survival = Survival.SurvivalCurve.Of(times, occurred);
        double Value(double time) => scale switch
        {
            TimeScale.Logarithm => Math.Log(time),
            TimeScale.Survival => 1 - survival.Before(time),
            _ => time,
        };
        var counts = Enumerable.Range(0, times.Length).Where(i => occurred[i]).GroupBy(i => times[i]).ToDictionary(g => g.Key, g => g.Count());
        var mean = distinct.Sum(t => Value(t) * counts[t]) / counts.Values.Sum();
        return distinct.ToDictionary(t => t, t => Value(t) - mean);
    }

    /// <summary>Those that are still under observation at a time, with those whose event occurs then.</summary>
    private sealed class RiskSet(int k)
    {
        private readonly double[] sums = new double[k];
        private readonly double[] squares = new double[k * k];
        private readonly double[] eventSums = new double[k];
        private readonly double[] eventWeighted = new double[k];
        private readonly double[] eventSquares = new double[k * k];

        public int Start { get; private set; }

        public int End { get; set; }

        /// <summary>How many events occur.</summary>
        public int Count { get; private set; }

        /// <summary>The sum of the risks of all.</summary>
        public double Total { get; private set; }

        /// <summary>The sum of the risks of those whose event occurs.</summary>
        public double EventTotal { get; private set; }

        /// <summary>The sum of their linear predictors.</summary>
        public double EventPredictors { get; private set; }

        /// <summary>The sums of their columns.</summary>
        public ReadOnlySpan<double> EventSums => eventSums;

        public double Mean(int c, double share, double total) => (sums[c] - (share * eventWeighted[c])) / total;

        public double Square(int c, int d, double share, double total) => (squares[(c * k) + d] - (share * eventSquares[(c * k) + d])) / total;

        public void Clear()
        {
            Total = 0;
            Array.Clear(sums);
            Array.Clear(squares);
        }

        public void Begin(int start)
        {
            Start = start;
            if (Count == 0) return;
            (Count, EventTotal, EventPredictors) = (0, 0, 0);
            Array.Clear(eventSums);
            Array.Clear(eventWeighted);
            Array.Clear(eventSquares);
        }

        public void Add(ReadOnlySpan<double> row, double risk, double predictor, bool isEvent, bool needsSquares)
        {
            Total += risk;
            Add(sums, squares, row, risk, needsSquares);
            if (!isEvent) return;
            Count++;
            EventTotal += risk;
            EventPredictors += predictor;
            Vectors.AddScaled(eventSums, 1, row);
            Add(eventWeighted, eventSquares, row, risk, needsSquares);
        }

        private void Add(double[] first, double[] second, ReadOnlySpan<double> row, double risk, bool needsSquares)
        {
            for (var c = 0; c < row.Length; c++)
            {
                var weighted = risk * row[c];
                first[c] += weighted;
                if (!needsSquares) continue;
                var target = second.AsSpan(c * k, c + 1);
                for (var d = 0; d < target.Length; d++) target[d] += weighted * row[d];
            }
        }
    }
}
