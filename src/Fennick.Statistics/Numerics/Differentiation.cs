using System.Linq.Expressions;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Numerics;

/// <summary>Derivatives of C# expressions, found by the rules of calculus and not by steps; missing values give not-a-number.</summary>
internal sealed class Differentiation
{
    private static readonly Expression One = Expression.Constant(1.0);
    private readonly Func<Expression, bool> isVariable;

    private Differentiation(Func<Expression, bool> isVariable) => this.isVariable = isVariable;

    /// <summary>The derivative of an expression, a number; null if it does not depend on the variable.</summary>
    /// <param name="expression">An expression of any type of number.</param>
    /// <param name="isVariable">Whether an expression is the variable.</param>
    /// <exception cref="NoDerivativeException">A part of it has no derivative that is known.</exception>
    public static Expression? Of(Expression expression, Func<Expression, bool> isVariable) => new Differentiation(isVariable).Derive(expression);

    /// <summary>The value of an expression as a double; not-a-number where it is missing.</summary>
    public static Expression Value(Expression expression)
    {
        var value = MissingPropagation.Of(expression);
        if (!MissingPropagation.IsNullable(value.Type)) return value.Type == typeof(double) ? value : Expression.Convert(value, typeof(double));
        return Expression.Coalesce(value.Type == typeof(double?) ? value : Expression.Convert(value, typeof(double?)), Expression.Constant(double.NaN));
    }

    private Expression? Derive(Expression expression)
    {
        if (isVariable(expression)) return One;
        if (!DependsOn(expression)) return null;
        switch (expression)
        {
            case UnaryExpression { NodeType: ExpressionType.Convert or ExpressionType.ConvertChecked } convert:
                return IsWhole(convert.Type) && !IsWhole(convert.Operand.Type) ? throw No(expression, "it cuts off decimals") : Derive(convert.Operand);
            case UnaryExpression { NodeType: ExpressionType.Negate or ExpressionType.NegateChecked } negative: return Negate(Derive(negative.Operand));
            case UnaryExpression { NodeType: ExpressionType.UnaryPlus } plus: return Derive(plus.Operand);
            case MemberExpression member when MissingPropagation.IsValueOf(member): return Derive(member.Expression!);
            case ConditionalExpression choice: return Choose(Condition(choice.Test), Derive(choice.IfTrue), Derive(choice.IfFalse));
            case BinaryExpression binary: return Derive(binary);
            case MethodCallExpression { Method.Name: "GetValueOrDefault", Object: { } owner } call when MissingPropagation.IsNullable(owner.Type):
                return Choose(Expression.NotEqual(owner, Expression.Constant(null, owner.Type)), Derive(owner), call.Arguments.Count == 0 ? null : Derive(call.Arguments[0]));
            case MethodCallExpression call when IsMathematics(call.Method.DeclaringType): return Derive(call);
            default: throw No(expression, "it is not arithmetic");
        }
    }

    private Expression? Derive(BinaryExpression binary)
    {
        var (left, right) = (binary.Left, binary.Right);
        switch (binary.NodeType)
        {
            case ExpressionType.Add or ExpressionType.AddChecked: return Add(Derive(left), Derive(right));
            case ExpressionType.Subtract or ExpressionType.SubtractChecked: return Add(Derive(left), Negate(Derive(right)));
            case ExpressionType.Multiply or ExpressionType.MultiplyChecked: return Add(Times(Derive(left), Value(right)), Times(Derive(right), Value(left)));
            case ExpressionType.Divide when !IsWhole(binary.Type):
                var below = Value(right);
                return Add(Over(Derive(left), below), Negate(Over(Times(Derive(right), Value(left)), Expression.Multiply(below, below))));
            case ExpressionType.Coalesce: return Choose(Expression.NotEqual(left, Expression.Constant(null, left.Type)), Derive(left), Derive(right));
            case ExpressionType.Power: return Power(left, right);
            default: throw No(binary, binary.NodeType == ExpressionType.Divide ? "it divides whole numbers" : "it is not smooth");
        }
    }

    private Expression? Derive(MethodCallExpression call)
    {
        var x = call.Arguments[0];
        var value = Value(x);
        Expression F(string name, params Expression[] arguments) => Expression.Call(typeof(Math), name, null, arguments);
        Expression C(double number) => Expression.Constant(number);
        Expression Square(Expression e) => Expression.Multiply(e, e);
        Expression? Chain(Expression factor) => Times(Derive(x), factor);
        Expression? Inverse(Expression divisor) => Over(Derive(x), divisor);
        Expression? Larger(Expression other, bool wantsLarger)
        {
            var isFirst = wantsLarger ? Expression.GreaterThanOrEqual(value, Value(other)) : Expression.LessThanOrEqual(value, Value(other));
            return Choose(isFirst, Derive(x), Derive(other));
        }
        return (call.Method.Name, call.Arguments.Count) switch
        {
            ("Log", 1) => Inverse(value),
            ("Log", 2) => Derive(Expression.Divide(F("Log", value), F("Log", Value(call.Arguments[1]))), call),
            ("Log10", 1) => Inverse(Expression.Multiply(value, C(Math.Log(10)))),
            ("Log2", 1) => Inverse(Expression.Multiply(value, C(Math.Log(2)))),
            ("LogP1", 1) => Inverse(Expression.Add(value, One)),
            ("Exp", 1) => Chain(F("Exp", value)),
            ("ExpM1", 1) => Chain(F("Exp", value)),
            ("Sqrt", 1) => Inverse(Expression.Multiply(C(2), F("Sqrt", value))),
            ("Cbrt", 1) => Inverse(Expression.Multiply(C(3), Square(F("Cbrt", value)))),
            ("Pow", 2) => Power(x, call.Arguments[1]),
            ("Sin", 1) => Chain(F("Cos", value)),
            ("Cos", 1) => Chain(Expression.Negate(F("Sin", value))),
            ("Tan", 1) => Inverse(Square(F("Cos", value))),
            ("Asin", 1) => Inverse(F("Sqrt", Expression.Subtract(One, Square(value)))),
            ("Acos", 1) => Negate(Inverse(F("Sqrt", Expression.Subtract(One, Square(value))))),
            ("Atan", 1) => Inverse(Expression.Add(One, Square(value))),
            ("Sinh", 1) => Chain(F("Cosh", value)),
            ("Cosh", 1) => Chain(F("Sinh", value)),
            ("Tanh", 1) => Inverse(Square(F("Cosh", value))),
            ("Abs", 1) => Choose(Expression.LessThan(value, C(0)), Negate(Derive(x)), Derive(x)),
            ("Max", 2) => Larger(call.Arguments[1], wantsLarger: true),
            ("Min", 2) => Larger(call.Arguments[1], wantsLarger: false),
            ("Clamp", 3) when !DependsOn(call.Arguments[1]) && !DependsOn(call.Arguments[2]) =>
                Choose(Expression.OrElse(Expression.LessThan(value, Value(call.Arguments[1])), Expression.GreaterThan(value, Value(call.Arguments[2]))), null, Derive(x)),
            _ => throw No(call, call.Method.Name is "Floor" or "Ceiling" or "Round" or "Truncate" or "Sign" ? "it jumps" : $"the derivative of `{call.Method.Name}` is not known"),
        };
    }

    /// <summary>ln x / ln b, with derivatives of both.</summary>
    private Expression? Derive(Expression quotient, MethodCallExpression logarithm)
    {
        var (x, b) = (Value(logarithm.Arguments[0]), Value(logarithm.Arguments[1]));
        var lnB = Expression.Call(typeof(Math), "Log", null, b);
        return Add(Over(Derive(logarithm.Arguments[0]), Expression.Multiply(x, lnB)), Negate(Over(Times(Derive(logarithm.Arguments[1]), quotient), Expression.Multiply(b, lnB))));
    }

    private Expression? Power(Expression x, Expression exponent)
    {
        var (b, e) = (Value(x), Value(exponent));
        var slope = Times(Derive(x), Expression.Multiply(e, Expression.Call(typeof(Math), "Pow", null, b, Expression.Subtract(e, One))));
        return Add(slope, Times(Derive(exponent), Expression.Multiply(Expression.Call(typeof(Math), "Log", null, b), Expression.Call(typeof(Math), "Pow", null, b, e))));
    }

    private static Expression Condition(Expression test)
    {
        var lifted = MissingPropagation.Of(test);
        return lifted.Type == typeof(bool) ? lifted : Expression.Coalesce(lifted, Expression.Constant(false));
    }

    private static bool IsMathematics(Type? type) => type == typeof(Math) || type == typeof(MathF) || type == typeof(double) || type == typeof(float);

    private static bool IsWhole(Type type) => Type.GetTypeCode(Nullable.GetUnderlyingType(type) ?? type) is >= TypeCode.SByte and <= TypeCode.UInt64;

    private bool DependsOn(Expression expression)
    {
        var finder = new Finder(isVariable);
        finder.Visit(expression);
        return finder.Found;
    }

    private static NoDerivativeException No(Expression expression, string reason) => new(expression, reason);

    private static Expression? Add(Expression? a, Expression? b) => a is null ? b : b is null ? a : Expression.Add(a, b);

    private static UnaryExpression? Negate(Expression? a) => a is null ? null : Expression.Negate(a);

    private static Expression? Times(Expression? a, Expression b) => a is null ? null : a == One ? b : Expression.Multiply(a, b);

    private static BinaryExpression? Over(Expression? a, Expression b) => a is null ? null : Expression.Divide(a, b);

    private static ConditionalExpression? Choose(Expression test, Expression? one, Expression? other) => one is null && other is null ? null
        : Expression.Condition(test, one ?? Expression.Constant(0.0), other ?? Expression.Constant(0.0));

    private sealed class Finder(Func<Expression, bool> isVariable) : ExpressionVisitor
    {
        public bool Found { get; private set; }

        public override Expression? Visit(Expression? node)
        {
            if (node is not null && !Found && isVariable(node)) Found = true;
            return Found ? node : base.Visit(node);
        }
    }
}

/// <summary>A part of an expression has no derivative that is known.</summary>
internal sealed class NoDerivativeException(Expression expression, string reason) : Exception($"{reason}: {expression}")
{
    /// <summary>The part.</summary>
    public Expression Part => expression;

    /// <summary>Why, in the reader's words.</summary>
    public string Reason => reason;
}
