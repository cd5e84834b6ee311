using System.Linq.Expressions;
using Fennick.Statistics.Estimators;

namespace Fennick.Statistics.Numerics;

/// <summary>Compiles a curve to arithmetic of double length. Constants and the members of records are taken as the decimal numbers that they are written as.</summary>
internal sealed class DoubleLength
{
    private readonly ParameterExpression array;
    private readonly ParameterExpression full = Expression.Parameter(typeof(DoubleDouble[]), "p");

    private DoubleLength(ParameterExpression array) => this.array = array;

    /// <summary>The curve in double length; null if it is made of more than arithmetic, powers, exponentials, logarithms and roots.</summary>
    public static Func<DoubleDouble[], T, DoubleDouble>? Compile<T>(Expression<Func<double[], T, double>> curve)
    {
        var lengthening = new DoubleLength(curve.Parameters[0]);
        return lengthening.Translate(curve.Body) is { } body ? Expression.Lambda<Func<DoubleDouble[], T, DoubleDouble>>(body, lengthening.full, curve.Parameters[1]).Compile() : null;
    }

    private Expression? Translate(Expression expression)
    {
        if (expression is BinaryExpression { NodeType: ExpressionType.ArrayIndex } element && element.Left == array)
            return Expression.ArrayIndex(full, Expression.Constant(Curve.IndexOf(expression, array)));
        switch (expression)
        {
            case UnaryExpression { NodeType: ExpressionType.Negate } negative: return Translate(negative.Operand) is { } operand ? Expression.Negate(operand) : null;
            case BinaryExpression { NodeType: ExpressionType.Add or ExpressionType.Subtract or ExpressionType.Multiply or ExpressionType.Divide } binary when binary.Type == typeof(double):
                return Translate(binary.Left) is { } left && Translate(binary.Right) is { } right ? Expression.MakeBinary(binary.NodeType, left, right) : null;
            case MethodCallExpression { Method: { Name: "Exp" or "Log" or "Sqrt" or "Pow" } method } call when method.DeclaringType == typeof(Math) && (method.Name == "Pow" || call.Arguments.Count == 1):
                Expression?[] arguments = [.. call.Arguments.Select(Translate)];
                return arguments.Contains(null) ? null : Expression.Call(typeof(DoubleDouble), method.Name, null, arguments!);
            case ConstantExpression or MemberExpression or UnaryExpression { NodeType: ExpressionType.Convert } when expression.Type == typeof(double):
                return Expression.Call(typeof(DoubleDouble), nameof(DoubleDouble.OfDecimal), null, expression);
            default: return null;
        }
    }
}
