using System.Collections.Immutable;
using Fennick.Statistics.Estimators;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;
using MathNet.Numerics.LinearAlgebra;

namespace Fennick.Statistics.Fits;

/// <summary>Tests of the instruments of a fit in two stages.</summary>
internal sealed class InstrumentTests(ModelData data, IReadOnlySet<int> endogenous, DesignMatrix instruments, IReadOnlySet<string> excluded, double[] residuals)
{
    private readonly int[] places = [.. endogenous.Order()];

    /// <summary>The rows of a table.</summary>
    public ImmutableArray<ModelStatistic> Statistics(StandardErrors errors)
    {
        var rows = ImmutableArray.CreateBuilder<ModelStatistic>();
        foreach (var stage in FirstStages(errors)) rows.Add(new ModelStatistic(places.Length == 1 ? "First-stage F" : $"First-stage F of {stage.Name}", stage.Statistic, "#,0.00"));
        if (IsOveridentified) rows.Add(new ModelStatistic(errors.Correction < 0 ? "Over-identification p (Sargan)" : "Over-identification p (Hansen)", Overidentification(errors).PValue));
        rows.Add(new ModelStatistic("Endogeneity p", Endogeneity(errors).PValue));
        return rows.ToImmutable();
    }

    private bool IsOveridentified => ExcludedNames(FirstStage(places[0], StandardErrors.Classical)).Length > places.Length;

    /// <summary>The first stage of each endogenous term.</summary>
    public IReadOnlyList<TestResult> FirstStages(StandardErrors errors) => [.. places.Select(place =>
    {
        var stage = FirstStage(place, errors);
        return stage.Wald(ExcludedNames(stage)) with { Name = data.Design.Terms[place].Name };
    })];

    public double EffectiveF(StandardErrors errors)
    {
        if (places.Length > 1) throw new AnalysisException($"the effective F is of one endogenous term; this fit has {places.Length}");
        var (plain, stage) = (FirstStage(places[0], StandardErrors.Classical), FirstStage(places[0], errors));
        var names = ExcludedNames(stage);
        int[] own = [.. names.Select(n => stage.Terms.IndexOf(stage[n]))];
        Matrix<double> Part(double[,] covariance) => Matrix<double>.Build.Dense(own.Length, own.Length, (i, j) => covariance[own[i], own[j]]);
        // The cross-products of what is left of the instruments.
        var products = Part(plain.Covariance()).Inverse() * (plain.ResidualStandardError * plain.ResidualStandardError);
        var coefficients = Vector<double>.Build.DenseOfEnumerable(names.Select(n => stage[n].Estimate));
        return coefficients * products * coefficients / (Part(stage.Covariance()) * products).Trace();
    }

    public TestResult Overidentification(StandardErrors errors)
    {
        var more = ExcludedNames(FirstStage(places[0], StandardErrors.Classical)).Length - places.Length;
        if (more <= 0) throw new AnalysisException("there are as many instruments as endogenous terms, so that nothing is left to test; an over-identification test needs more instruments");
        var n = data.Response.Length;
        if (errors.Correction < 0)
        {
            var left = LeastSquaresSolver.Solve(instruments, residuals, null).Fitted();
            var statistic = n * Vectors.Dot(left, left) / Vectors.Dot(residuals, residuals);
            return new TestResult("Sargan's test of over-identification", statistic, more, null, Tails.ChiSquaredUpper(statistic, more));
        }
        if (errors.Correction is > StandardErrors.ClusteredCorrection || errors.Groups.Count > 1) throw new AnalysisException($"Hansen's test with {errors.Kind} errors is not known; use errors that are heteroscedasticity-consistent or clustered by one grouping");
        var z = Orthonormal();
        var x = Matrix<double>.Build.DenseOfColumns(Enumerable.Range(0, data.Design.ColumnCount).Select(data.Design.Column).Select(Scaled));
        var y = Vector<double>.Build.DenseOfArray(Scaled(data.Response));
        var u = Vector<double>.Build.DenseOfArray(residuals) / Norm(data.Response);
        var moments = z.EnumerateRows().Select((row, i) => row * u[i]).ToArray();
        if (errors.Correction == StandardErrors.ClusteredCorrection)
        {
            var clusters = data.ClustersOf(errors.Groups);
            if (clusters.Count <= z.ColumnCount) throw new AnalysisException($"{clusters.Count} clusters are too few to test {z.ColumnCount} instruments and terms");
            var sums = Enumerable.Range(0, clusters.Count).Select(_ => Vector<double>.Build.Dense(z.ColumnCount)).ToArray();
            for (var i = 0; i < n; i++) sums[clusters.Codes[i]] += moments[i];
            moments = sums;
        }
        var middle = Matrix<double>.Build.Dense(z.ColumnCount, z.ColumnCount);
        foreach (var moment in moments) middle += moment.OuterProduct(moment);
        var weight = middle.Inverse();
        var zx = z.TransposeThisAndMultiply(x);
        var zy = z.TransposeThisAndMultiply(y);
        var twoStep = (zx.Transpose() * weight * zx).Solve(zx.Transpose() * weight * zy);
        var rest = zy - (zx * twoStep);
        var hansen = rest * weight * rest;
        return new TestResult("Hansen's test of over-identification", hansen, more, null, Tails.ChiSquaredUpper(hansen, more));
    }

    public TestResult Endogeneity(StandardErrors errors)
    {
        double[][] left = [.. places.Select(place => FirstStage(place, StandardErrors.Classical).Residuals.ToArray())];
        string[] names = [.. places.Select(place => $"first-stage residual of {data.Design.Terms[place].Name}")];
        var design = new DesignMatrix([.. Enumerable.Range(0, data.Design.ColumnCount).Select(data.Design.Column), .. left], [.. data.Design.Terms, .. names.Select(Term.Named)]);
        var fit = LinearEstimator.Fit(data with { Design = design, Plan = null }).With(errors);
        return fit.Wald(names) with { Name = "endogeneity test" };
    }

    private LinearFit FirstStage(int place, StandardErrors errors) => LinearEstimator.Fit(data with { Response = data.Design.Column(place), ResponseName = data.Design.Terms[place].Name, Design = instruments, Plan = null }).With(errors);

    private string[] ExcludedNames(LinearFit stage) => [.. stage.Terms.Where(t => excluded.Contains(t.Term.Variable)).Select(t => t.Name)];

    private Matrix<double> Orthonormal() => Matrix<double>.Build.DenseOfColumns(Enumerable.Range(0, instruments.ColumnCount).Select(instruments.Column).Select(Scaled)).QR(MathNet.Numerics.LinearAlgebra.Factorization.QRMethod.Thin).Q;

    private static double Norm(double[] values) => Math.Sqrt(Vectors.Dot(values, values));

    private static double[] Scaled(double[] values)
    {
        var norm = Norm(values);
        return [.. values.Select(v => v / norm)];
    }
}
