using System.Linq.Expressions;

namespace Fennick.Statistics.Variables;

/// <summary>
/// Rewrites an expression so that what is computed from a missing value is missing: <c>Math.Log(h.Mites!.Value)</c> is null where <c>Mites</c> is. Whole numbers that grow too large for their type
/// fail instead of turning negative.
/// </summary>
internal sealed class MissingPropagation : ExpressionVisitor
{
    private static readonly MissingPropagation Rewriter = new();

    /// <summary>The rewritten expression; of a nullable type where it may be missing.</summary>
    public static Expression Of(Expression expression) => Rewriter.Visit(expression);

    protected override Expression VisitLambda<T>(Expression<T> node) => node;

    protected override Expression VisitMember(MemberExpression node)
    {
        if (node.Expression is null) return node;
        var owner = Visit(node.Expression);
        if (IsValueOf(node)) return owner.Type == node.Expression.Type ? owner : ToNullable(owner);
        if (owner.Type == node.Expression.Type && (owner.Type.IsValueType || owner is ParameterExpression or ConstantExpression)) return node.Update(owner);
        return Guard([owner], parts => Expression.MakeMemberAccess(parts[0], node.Member), [node.Expression.Type]);
    }

    protected override Expression VisitUnary(UnaryExpression node)
    {
        var operand = Visit(node.Operand);
        if (node.NodeType is not (ExpressionType.Convert or ExpressionType.ConvertChecked))
            return operand.Type == node.Operand.Type ? node.Update(operand) : Expression.MakeUnary(node.NodeType, operand, IsNullable(operand.Type) ? ToNullableType(node.Type) : node.Type, node.Method);
        if (!IsNullable(operand.Type) || !node.Type.IsValueType || IsNullable(node.Type)) return operand.Type == node.Operand.Type ? node.Update(operand) : Expression.Convert(operand, node.Type);
        // A conversion that would fail at a missing value keeps it missing.
        var target = ToNullableType(node.Type);
        return operand.Type == target ? operand : Expression.MakeUnary(node.NodeType, operand, target, IsNullable(node.Operand.Type) ? null : node.Method);
    }

    protected override Expression VisitBinary(BinaryExpression node)
    {
        var (left, right) = (Visit(node.Left), Visit(node.Right));
        var operation = node.Method is not null ? node.NodeType : node.NodeType switch
        {
            ExpressionType.Add => ExpressionType.AddChecked,
            ExpressionType.Subtract => ExpressionType.SubtractChecked,
            ExpressionType.Multiply => ExpressionType.MultiplyChecked,
            _ => node.NodeType,
        };
        if (left.Type == node.Left.Type && right.Type == node.Right.Type) return operation == node.NodeType ? node.Update(left, node.Conversion, right) : Expression.MakeBinary(operation, left, right);
        if (node.NodeType == ExpressionType.ArrayIndex) return Guard([left, right], parts => Expression.ArrayIndex(parts[0], parts[1]), [node.Left.Type, node.Right.Type]);
        if (node.NodeType == ExpressionType.Coalesce) return Expression.Coalesce(left, right);
        if (node.Method is not null && !node.Left.Type.IsValueType) return Expression.MakeBinary(node.NodeType, Expression.Convert(left, node.Left.Type), Expression.Convert(right, node.Right.Type), false, node.Method);
        return Expression.MakeBinary(operation, ToNullable(left), ToNullable(right), false, node.Method);
    }

    protected override Expression VisitConditional(ConditionalExpression node)
    {
        var (test, one, other) = (Visit(node.Test), Visit(node.IfTrue), Visit(node.IfFalse));
        if (one.Type != other.Type) (one, other) = (ToNullable(one), ToNullable(other));
        if (!IsNullable(test.Type)) return Expression.Condition(test, one, other);
        return Guard([test], parts => Expression.Condition(parts[0], one, other), [node.Test.Type]);
    }

    protected override Expression VisitMethodCall(MethodCallExpression node)
    {
        var owner = node.Object is null ? null : Visit(node.Object);
        Expression[] arguments = [.. node.Arguments.Select(a => Visit(a))];
        var isOwnerSafe = owner is null || owner is ParameterExpression or ConstantExpression || (owner.Type == node.Object!.Type && owner.Type.IsValueType);
        if (isOwnerSafe && arguments.Zip(node.Arguments, (a, b) => a.Type == b.Type).All(same => same)) return node.Update(owner, arguments);
        return Guard(owner is null ? arguments : [owner, .. arguments],
            parts => owner is null ? Expression.Call(node.Method, parts) : Expression.Call(parts[0], node.Method, parts[1..]),
            owner is null ? [.. node.Arguments.Select(a => a.Type)] : [node.Object!.Type, .. node.Arguments.Select(a => a.Type)], isOwnerSafe ? -1 : 0);
    }

    /// <summary>Whether a member is the <c>Value</c> of something nullable.</summary>
    public static bool IsValueOf(MemberExpression node) => node is { Member.Name: "Value", Expression: { } owner } && IsNullable(owner.Type);

    public static bool IsNullable(Type type) => Nullable.GetUnderlyingType(type) is not null;

    private static Type ToNullableType(Type type) => type.IsValueType && !IsNullable(type) ? typeof(Nullable<>).MakeGenericType(type) : type;

    private static Expression ToNullable(Expression expression) => ToNullableType(expression.Type) is var type && type != expression.Type ? Expression.Convert(expression, type) : expression;

    /// <summary>What is made of parts; null if one of them is missing that was never so before.</summary>
    private static BlockExpression Guard(Expression[] parts, Func<Expression[], Expression> make, Type[] wanted, int reference = 0)
    {
        var kept = parts.Select((p, i) => Expression.Variable(p.Type, $"part{i}")).ToArray();
        var made = ToNullable(make([.. kept.Select((k, i) => k.Type != wanted[i] && IsNullable(k.Type) && !IsNullable(wanted[i]) ? (Expression)Expression.Property(k, "Value") : k)]));
        Expression result = made;
        for (var i = kept.Length - 1; i >= 0; i--)
        {
            var isLifted = kept[i].Type != wanted[i] && IsNullable(kept[i].Type);
            if (!isLifted && !(i == reference && !kept[i].Type.IsValueType)) continue;
            result = Expression.Condition(Expression.Equal(kept[i], Expression.Constant(null, kept[i].Type)), Expression.Constant(null, made.Type), result);
        }
        return Expression.Block(kept, [.. kept.Zip(parts, Expression.Assign), result]);
    }
}
