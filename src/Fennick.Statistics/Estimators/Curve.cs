using System.Linq.Expressions;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Estimators;

/// <summary>A curve over the rows used, and its derivatives with respect to the parameters.</summary>
/// <param name="rows">n, the number of rows.</param>
/// <param name="value">The curve for parameters and a row.</param>
/// <param name="gradient">The derivative with respect to each parameter; null if they must be found by steps.</param>
/// <param name="residuals">Response less curve in double length, the data taken as the decimal numbers that they are written as; null if the curve cannot be computed so.</param>
internal sealed class Curve(int rows, Func<double[], int, double> value, Func<double[], int, double>[]? gradient, Func<DoubleDouble[], double[]>? residuals)
{
    /// <summary>Response less curve in double length; null if the curve cannot be computed so.</summary>
    public Func<DoubleDouble[], double[]>? Residuals => residuals;

    // The step that balances the rounding of a difference and the error of Richardson's extrapolation, which goes with the fourth power.
    private static readonly double RelativeStep = Math.Pow(2, -10);

    /// <summary>The derivatives of an expression by the rules of calculus; null if it calls functions whose derivatives are not known, or uses the parameters as a whole.</summary>
    public static Func<double[], T, double>[]? Gradient<T>(Expression<Func<double[], T, double>> curve, int parameters)
    {
        var array = curve.Parameters[0];
        var result = new Func<double[], T, double>[parameters];
        if (new ParameterUse(array).IsWhole(curve.Body)) return null;
        for (var p = 0; p < parameters; p++)
        {
            try
            {
                var derivative = Differentiation.Of(curve.Body, e => IndexOf(e, array) == p) ?? Expression.Constant(0.0);
                result[p] = Expression.Lambda<Func<double[], T, double>>(derivative, curve.Parameters).Compile();
            }
            catch (NoDerivativeException)
            {
                return null;
            }
        }
        return result;
    }

    /// <summary>The curve in each row.</summary>
    public double[] Values(double[] parameters)
    {
        var values = new double[rows];
        for (var i = 0; i < rows; i++) values[i] = value(parameters, i);
        return values;
    }

    /// <summary>The derivatives, a column for each parameter.</summary>
    /// <param name="parameters">Where.</param>
    /// <param name="scales">The size of each parameter, which steps are relative to where a parameter is zero.</param>
    public double[][] Slopes(double[] parameters, double[] scales)
    {
        var columns = new double[parameters.Length][];
        for (var p = 0; p < columns.Length; p++)
        {
            columns[p] = new double[rows];
            if (gradient is not null) for (var i = 0; i < rows; i++) columns[p][i] = gradient[p](parameters, i);
            // A formula may be undefined at a point where the curve itself is smooth: 0 · ln 0.
            if (gradient is null || columns[p].Any(s => !double.IsFinite(s))) Step(parameters, p, scales[p], columns[p]);
        }
        return columns;
    }

    /// <summary>Central differences of two widths, extrapolated.</summary>
    private void Step(double[] parameters, int p, double scale, double[] target)
    {
        var width = RelativeStep * (parameters[p] != 0 ? Math.Abs(parameters[p]) : scale != 0 ? scale : 1);
        var moved = (double[])parameters.Clone();
        double[] Difference(double step)
        {
            moved[p] = parameters[p] + step;
            var (high, above) = (moved[p], Values(moved));
            moved[p] = parameters[p] - step;
            var (low, below) = (moved[p], Values(moved));
            return [.. above.Zip(below, (a, b) => (a - b) / (high - low))];
        }
        var (wide, narrow) = (Difference(width), Difference(width / 2));
        for (var i = 0; i < target.Length; i++) target[i] = ((4 * narrow[i]) - wide[i]) / 3;
    }

    /// <summary>The place of the parameter that an expression is; -1 if it is none.</summary>
    internal static int IndexOf(Expression expression, ParameterExpression array)
    {
        if (expression is not BinaryExpression { NodeType: ExpressionType.ArrayIndex } element || element.Left != array) return -1;
        return element.Right is ConstantExpression { Value: int index } ? index : Expression.Lambda<Func<int>>(element.Right).Compile(preferInterpretation: true)();
    }

    /// <summary>Whether the array of parameters is used otherwise than by its elements at fixed places.</summary>
    private sealed class ParameterUse(ParameterExpression array) : ExpressionVisitor
    {
        private bool isWhole;

        public bool IsWhole(Expression body)
        {
            Visit(body);
            return isWhole;
        }

        protected override Expression VisitBinary(BinaryExpression node)
        {
            if (node.NodeType != ExpressionType.ArrayIndex || node.Left != array) return base.VisitBinary(node);
            var inside = new ParameterFinder();
            inside.Visit(node.Right);
            isWhole |= inside.Found;
            return node;
        }

        protected override Expression VisitParameter(ParameterExpression node)
        {
            isWhole |= node == array;
            return node;
        }

        private sealed class ParameterFinder : ExpressionVisitor
        {
            public bool Found { get; private set; }

            protected override Expression VisitParameter(ParameterExpression node)
            {
                Found = true;
                return node;
            }
        }
    }
}
