namespace Fennick.Statistics.Numerics;

/// <summary>Where a likelihood is largest.</summary>
/// <param name="Parameters">The parameters there.</param>
/// <param name="LogLikelihood">Its logarithm there.</param>
/// <param name="Covariance">The inverse of the negative second derivatives there.</param>
/// <param name="Iterations">How many steps that took.</param>
/// <param name="Converged">Whether the last step was short enough.</param>
internal sealed record NewtonMaximum(double[] Parameters, double LogLikelihood, double[,] Covariance, int Iterations, bool Converged)
{
    private const int MostSteps = 100;
    private const int MostHalvings = 40;

    private const string Undetermined = "the data do not determine all terms of the model: one may separate the categories of the response, or depend on others; leave out terms, or gather rare categories";

    // In squared standard errors.
    private const double Done = 1e-18;

    /// <summary>A log-likelihood with its gradient and the negative of its second derivatives; the arrays come filled with zeros and are null where only the value is wanted.</summary>
    public delegate double Likelihood(double[] parameters, double[]? gradient, double[,]? information);

    /// <summary>Climbs by Newton's method; steps that do not lead upwards are halved, and where the surface is not concave the step is turned towards the gradient.</summary>
    /// <exception cref="AnalysisException">The data do not determine the parameters.</exception>
    public static NewtonMaximum Find(Likelihood likelihood, double[] start)
    {
        var (parameters, k, converged, iteration) = ((double[])start.Clone(), start.Length, false, 0);
        var (gradient, information) = (new double[k], new double[k, k]);
        var value = likelihood(parameters, gradient, information);
        while (iteration < MostSteps && !converged)
        {
            iteration++;
            var lower = Concave(information);
            var step = Solve(lower, gradient);
            converged = Vectors.Dot(step, gradient) < Done;
            var (length, next, reached) = (1.0, Move(parameters, step, 1), 0.0);
            for (var halving = 0; ; halving++)
            {
                reached = likelihood(next, null, null);
                if (reached >= value - (1e-13 * Math.Abs(value)) || converged) break;
                if (halving == MostHalvings) return Finish(false);
                length /= 2;
                next = Move(parameters, step, length);
            }
            if (double.IsNaN(reached) || reached < value - (1e-9 * Math.Abs(value))) return Finish(converged);
            parameters = next;
            Array.Clear(gradient);
            Array.Clear(information);
            value = likelihood(parameters, gradient, information);
        }
        return Finish(converged);

        NewtonMaximum Finish(bool hasConverged) => new(parameters, value, k == 0 ? information : Cholesky.Inverse(information, Undetermined), iteration, hasConverged);
    }

    /// <summary>Adds the negative second derivatives of a likelihood, by differences of its first.</summary>
    /// <param name="derive">Enters the first derivatives at some parameters.</param>
    /// <param name="parameters">Where they are wanted; those beyond the size of the matrix stay as they are.</param>
    /// <param name="width">How far the parameters are moved, of their size or of 1.</param>
    /// <param name="information">Takes them.</param>
    public static void AddDifferences(Action<double[], double[]> derive, double[] parameters, double width, double[,] information)
    {
        var k = information.GetLength(0);
        for (var i = 0; i < k; i++)
        {
            var step = width * Math.Max(1, Math.Abs(parameters[i]));
            var (above, below, moved) = (new double[k], new double[k], (double[])parameters.Clone());
            moved[i] = parameters[i] + step;
            derive(moved, above);
            moved[i] = parameters[i] - step;
            derive(moved, below);
            for (var j = 0; j < k; j++) information[i, j] -= (above[j] - below[j]) / (2 * step);
        }
        for (var i = 0; i < k; i++)
            for (var j = 0; j < i; j++) information[i, j] = information[j, i] = (information[i, j] + information[j, i]) / 2;
    }

    private static double[,] Concave(double[,] information)
    {
        var k = information.GetLength(0);
        for (var ridge = 0.0; ; ridge = ridge == 0 ? 1e-6 : ridge * 10)
        {
            var changed = (double[,])information.Clone();
            for (var i = 0; i < k; i++) changed[i, i] += ridge * (Math.Abs(information[i, i]) + 1e-8);
            if (Cholesky.Factor(changed, 1e-14) is { } lower) return lower;
            if (ridge > 1e12) throw new AnalysisException(Undetermined);
        }
    }

    private static double[] Solve(double[,] lower, double[] right) => Cholesky.SolveUpper(lower, Cholesky.SolveLower(lower, right));

    private static double[] Move(double[] from, double[] step, double length)
    {
        var to = (double[])from.Clone();
        Vectors.AddScaled(to, length, step);
        return to;
    }
}
