using System.Diagnostics;
using System.Numerics;
using System.Runtime.InteropServices;
using Fennick.Statistics;
using Fennick.Statistics.Estimators;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Variables;

namespace Fennick.Bench;

/// <summary>
/// Fits against the least that their arithmetic can take: forming X'X once with <see cref="Vector{T}"/> on one core, blocked so that the blocks stay in the cache. Rounds are
/// interleaved, and the quickest of each compared: other work on the machine only ever adds to them.
/// </summary>
internal static class StatisticsBenchmark
{
    private const int Rounds = 9;

    public static int Run()
    {
        LargeLeastSquares();
        SmallLeastSquares();
        PoissonSteps();
        ManyLevels();
        OtherModels();
        return 0;
    }

    /// <summary>Models that are reached step by step, each against the fit that it is an extension of.</summary>
    private static void OtherModels()
    {
        const int n = 100_000, k = 10;
        var (counts, count) = CreateData(n, k, count: true);
        var ofCounts = ModelData.Of(counts, count);
        var random = new Random(4);
        double[] times = [.. count.Select(_ => -Math.Log(1 - random.NextDouble()))], occurred = [.. count.Select(_ => random.Next(2))];
        var ofTimes = ModelData.Of(counts, times);
        var (cox, poisson) = (new List<double>(), new List<double>());
        var (design, response) = CreateData(n, k, count: false);
        var plain = ModelData.Of(design, response);
        var groups = new FactorVariable("group", [.. Enumerable.Range(0, 1000).Select(i => $"{i}")], [.. Enumerable.Range(0, n).Select(i => i % 1000)]);
        var grouped = plain with { Absorbed = [groups] };
        var (mixed, least) = (new List<double>(), new List<double>());
        var (small, smallResponse) = CreateData(10_000, k, count: false);
        var clusters = StandardErrors.ClusteredBy([.. Enumerable.Range(0, 10_000).Select(i => i % 50)]);
        var (wild, fit) = (new List<double>(), new List<double>());
        for (var round = 0; round < Rounds; round++)
        {
            poisson.Add(Time(() => _ = IteratedEstimator.Fit(ofCounts, new Poisson())));
            cox.Add(Time(() => _ = CoxEstimator.Fit(ofTimes, occurred, "event", null, null, isEfron: true)));
            least.Add(Time(() => _ = LinearEstimator.Fit(plain)));
            mixed.Add(Time(() => _ = MixedEstimator.Fit(grouped, [], isRestricted: true)));
            LinearFit result = null!;
            fit.Add(Time(() => result = Regression.LeastSquares(small, smallResponse).With(clusters)));
            wild.Add(Time(() => _ = result.WildBootstrapTest(result.Terms[1].Name)));
        }
        Console.WriteLine($"Cox of {n:N0} × {k}: {cox.Min():0} ms, {cox.Min() / poisson.Min():0.0} Poisson fits (target: at most 4)");
        Console.WriteLine($"mixed model of {n:N0} × {k} in 1,000 groups: {mixed.Min():0} ms, {mixed.Min() / least.Min():0.0} least squares (target: at most 10)");
        Console.WriteLine($"999 wild draws of 10,000 × {k} in 50 clusters: {wild.Min():0.0} ms, {wild.Min() / fit.Min():0.0} fits (target: at most 20)");
    }

    private static void LargeLeastSquares()
    {
        const int n = 1_000_000, k = 20;
        var (design, response) = CreateData(n, k, count: false);
        var clusters = Enumerable.Range(0, n).Select(i => i % 1000).ToArray();
        StandardErrors[] all = [StandardErrors.Hc0, StandardErrors.Hc1, StandardErrors.Hc2, StandardErrors.Hc3, StandardErrors.ClusteredBy(clusters)];
        var product = new double[k, k];
        var fit = new List<double>();
        var errors = new List<double>();
        var cross = new List<double>();
        double allocated = 0;
        for (var round = 0; round < Rounds; round++)
        {
            cross.Add(Time(() => CrossProduct(design, product)));
            GC.Collect();
            var before = GC.GetTotalAllocatedBytes(precise: true);
            LinearFit result = null!;
            fit.Add(Time(() => result = Regression.LeastSquares(design, response)));
            errors.Add(Time(() => _ = result.WithEach(all)));
            allocated = GC.GetTotalAllocatedBytes(precise: true) - before;
        }
        var (x, f, e) = (cross.Min(), fit.Min(), errors.Min());
        Console.WriteLine($"least squares of {n:N0} × {k}: X'X {x:0} ms; fit {f:0} ms; HC0–HC3 and clustered {e:0} ms");
        Console.WriteLine($"    fit with classical errors / X'X: {f / x:0.00} (target: at most 1.0)");
        Console.WriteLine($"    fit with all errors / X'X:       {(f + e) / x:0.00} (target: at most 1.8)");
        Console.WriteLine($"    design and all that was allocated / design: {1 + (allocated / (8.0 * n * k)):0.00} (target for the peak: at most 1.5)");
    }

    private static void SmallLeastSquares()
    {
        var (design, response) = CreateData(60, 5, count: false);
        var times = new List<double>();
        for (var round = 0; round < 40; round++)
        {
            times.Add(Time(() =>
            {
                for (var i = 0; i < 1000; i++) _ = Regression.LeastSquares(design, response);
            }));
        }
        Console.WriteLine($"least squares of 60 × 5: {Median(times.TakeLast(20)):0.0} µs (target: under 40)");
    }

    private static void PoissonSteps()
    {
        const int n = 200_000, k = 10;
        var (design, response) = CreateData(n, k, count: true);
        var weights = Enumerable.Range(0, n).Select(i => 0.5 + (i % 7)).ToArray();
        var data = ModelData.Of(design, response);
        var weightedData = ModelData.Of(design, response, weights);
        var whole = new List<double>();
        var steps = new List<double>();
        var weighted = new List<double>();
        for (var round = 0; round < Rounds; round++)
        {
            weighted.Add(Time(() => _ = LinearEstimator.Fit(weightedData)));
            var iterations = 1;
            steps.Add(Time(() => iterations = IteratedEstimator.Iterate(design, data, new Poisson(), null).Iterations) / iterations);
            whole.Add(Time(() => _ = Regression.Poisson(design, response)));
        }
        Console.WriteLine($"Poisson of {n:N0} × {k}: {Median(steps):0.0} ms a step, {Median(whole):0} ms the whole fit; weighted least squares {Median(weighted):0.0} ms");
        Console.WriteLine($"    a step / weighted least squares: {Median(steps) / Median(weighted):0.00} (target: at most 1.5)");
    }

    private sealed record Visit(double Y, double A, double B, string Place, string Valley);

    /// <summary>Factors of many levels: as terms of the model against absorbing them, and what is computed for each level.</summary>
    private static void ManyLevels()
    {
        var random = new Random(5);
        var rows = Enumerable.Range(0, 4000).Select(i => new Visit(random.NextDouble() * 10, random.NextDouble(), random.NextDouble(), $"place {i % 800}", $"valley {i % 200}")).ToArray();
        List<double> absorbed = [], fitted = [], fit = [], inflation = [], averages = [];
        LinearFit valleys = null!;
        for (var round = 0; round < Rounds; round++)
        {
            absorbed.Add(Time(() => Regression.FixedEffects(rows, v => v.Y, v => new { v.A, v.B }, v => v.Place)));
            fitted.Add(Time(() => Regression.LeastSquares(rows, v => v.Y, v => new { v.A, v.B, v.Place })));
            fit.Add(Time(() => valleys = Regression.LeastSquares(rows, v => v.Y, v => new { v.A, v.B, v.Valley })));
            inflation.Add(Time(() => valleys.VarianceInflation()));
            averages.Add(Time(() => valleys.PredictedMeans("Valley")));
        }
        Console.WriteLine($"a factor of 800 levels on 4,000 rows: {Median(fitted):0.0} ms, absorbed {Median(absorbed):0.0} ms");
        Console.WriteLine($"    as a term / absorbed: {Median(fitted) / Median(absorbed):0.00} (target: at most 3)");
        Console.WriteLine($"a factor of 200 levels on 4,000 rows: {Median(fit):0.0} ms; variance inflation {Median(inflation):0.0} ms; average predictions of its levels {Median(averages):0.0} ms");
    }

    /// <summary>The upper half of X'X, block of rows by block of rows.</summary>
    private static void CrossProduct(DesignMatrix design, double[,] product)
    {
        const int block = 1024;
        Array.Clear(product);
        double[][] columns = [.. Enumerable.Range(0, design.ColumnCount).Select(design.Column)];
        for (var start = 0; start < design.RowCount; start += block)
        {
            var count = Math.Min(block, design.RowCount - start);
            for (var a = 0; a < design.ColumnCount; a++)
                for (var b = a; b < design.ColumnCount; b++) product[a, b] += Dot(columns[a].AsSpan(start, count), columns[b].AsSpan(start, count));
        }
    }

    private static double Dot(ReadOnlySpan<double> a, ReadOnlySpan<double> b)
    {
        var width = Vector<double>.Count;
        var (even, odd) = (Vector<double>.Zero, Vector<double>.Zero);
        ref var first = ref MemoryMarshal.GetReference(a);
        ref var second = ref MemoryMarshal.GetReference(b);
        var i = 0;
        for (; i <= a.Length - (2 * width); i += 2 * width)
        {
            even = Vector.FusedMultiplyAdd(Vector.LoadUnsafe(ref first, (nuint)i), Vector.LoadUnsafe(ref second, (nuint)i), even);
            odd = Vector.FusedMultiplyAdd(Vector.LoadUnsafe(ref first, (nuint)(i + width)), Vector.LoadUnsafe(ref second, (nuint)(i + width)), odd);
        }
        var sum = Vector.Sum(even + odd);
        for (; i < a.Length; i++) sum += a[i] * b[i];
        return sum;
    }

    private static (DesignMatrix Design, double[] Response) CreateData(int n, int k, bool count)
    {
        var random = new Random(17);
        var columns = Enumerable.Range(0, k).Select(c => Enumerable.Range(0, n).Select(_ => c == 0 ? 1 : random.NextDouble()).ToArray()).ToArray();
        var response = new double[n];
        for (var i = 0; i < n; i++)
        {
            var linear = columns.Skip(1).Sum(c => c[i]) / k;
            response[i] = count ? Math.Floor((Math.Exp(linear) * 2 * random.NextDouble()) + 0.3) : linear + random.NextDouble();
        }
        return (new DesignMatrix(columns, [Term.Intercept, .. Enumerable.Range(1, k - 1).Select(c => new Term($"x{c}", $"x{c}"))]), response);
    }

    private static double Time(Action action)
    {
        var watch = Stopwatch.StartNew();
        action();
        return watch.Elapsed.TotalMilliseconds;
    }

    private static double Median(IEnumerable<double> times) => times.Order().ElementAt(times.Count() / 2);
}
