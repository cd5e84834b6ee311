namespace Fennick.Statistics.Fits;

/// <summary>A fit by nonlinear least squares.</summary>
public sealed class NonlinearFit : RegressionFit
{
    private readonly Func<double[], object, double> curve;

    internal NonlinearFit(FitBasis basis, StandardErrors errors, Func<double[], object, double> curve, bool converged, int iterations)
        : base(basis, errors)
    {
        this.curve = curve;
        Converged = converged;
        Iterations = iterations;
    }

    /// <summary>Whether the iteration met its criterion: residuals orthogonal to the tangent plane, to 1e-7 of their length.</summary>
    public override bool Converged { get; }

    /// <summary>The steps of the iteration.</summary>
    public int Iterations { get; }

    /// <summary>√(residual sum of squares / residual degrees of freedom), in units of the response.</summary>
    public double ResidualStandardError => Math.Sqrt(Basis.Dispersion);

    /// <summary>The fitted curve at a record.</summary>
    /// <typeparam name="T">The type of the records that were fitted.</typeparam>
    public double Curve<T>(T record)
        where T : notnull => curve(Basis.Coefficients, record);

    /// <summary>The same fit with other standard errors.</summary>
    /// <exception cref="AnalysisException">There are fewer than two clusters.</exception>
    public NonlinearFit With(StandardErrors errors)
    {
        ArgumentNullException.ThrowIfNull(errors);
        return new NonlinearFit(Basis, errors, curve, Converged, Iterations);
    }
}
