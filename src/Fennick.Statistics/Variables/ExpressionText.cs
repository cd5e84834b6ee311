using System.Globalization;
using System.Linq.Expressions;

namespace Fennick.Statistics.Variables;

/// <summary>Writes an expression as it would stand in C#, without the record that its members are of: <c>Log(HoneyKg)</c>, <c>Mites / ForageHa</c>.</summary>
internal static class ExpressionText
{
    public static string Of(Expression expression) => expression switch
    {
        ParameterExpression => "",
        ConstantExpression { Value: null } => "null",
        ConstantExpression { Value: string text } => $"\"{text}\"",
        ConstantExpression { Value: IFormattable value } => value.ToString(null, CultureInfo.InvariantCulture),
        // What the compiler keeps of a local variable is its name.
        MemberExpression { Expression: ConstantExpression } local => local.Member.Name,
        MemberExpression member when MissingPropagation.IsValueOf(member) => Of(member.Expression!),
        MemberExpression { Expression: { } owner } member => Of(owner) is { Length: > 0 } path ? $"{path}.{member.Member.Name}" : member.Member.Name,
        MemberExpression member => $"{member.Member.DeclaringType?.Name}.{member.Member.Name}",
        UnaryExpression { NodeType: ExpressionType.Negate or ExpressionType.NegateChecked } negative => $"-{Part(negative.Operand)}",
        UnaryExpression { NodeType: ExpressionType.Not } not => $"!{Part(not.Operand)}",
        UnaryExpression unary => Of(unary.Operand),
        ConditionalExpression choice => $"{Part(choice.Test)} ? {Part(choice.IfTrue)} : {Part(choice.IfFalse)}",
        BinaryExpression { NodeType: ExpressionType.ArrayIndex } element => $"{Of(element.Left)}[{Of(element.Right)}]",
        BinaryExpression binary when SignOf(binary.NodeType) is { } sign => $"{Part(binary.Left)} {sign} {Part(binary.Right)}",
        MethodCallExpression { Method.Name: "get_Item", Object: { } list } call => $"{Of(list)}[{Arguments(call)}]",
        MethodCallExpression { Object: { } owner } call when Of(owner) is { Length: > 0 } path => $"{path}.{call.Method.Name}({Arguments(call)})",
        MethodCallExpression call => $"{call.Method.Name}({Arguments(call)})",
        _ => expression.ToString(),
    };

    private static string Arguments(MethodCallExpression call) => string.Join(", ", call.Arguments.Select(Of));

    private static string Part(Expression expression)
    {
        while (expression is UnaryExpression { NodeType: ExpressionType.Convert or ExpressionType.ConvertChecked } convert) expression = convert.Operand;
        return expression is BinaryExpression { NodeType: not ExpressionType.ArrayIndex } or ConditionalExpression ? $"({Of(expression)})" : Of(expression);
    }

    private static string? SignOf(ExpressionType type) => type switch
    {
        ExpressionType.Add or ExpressionType.AddChecked => "+",
        ExpressionType.Subtract or ExpressionType.SubtractChecked => "-",
        ExpressionType.Multiply or ExpressionType.MultiplyChecked => "*",
        ExpressionType.Divide => "/",
        ExpressionType.Modulo => "%",
        ExpressionType.Equal => "==",
        ExpressionType.NotEqual => "!=",
        ExpressionType.LessThan => "<",
        ExpressionType.LessThanOrEqual => "<=",
        ExpressionType.GreaterThan => ">",
        ExpressionType.GreaterThanOrEqual => ">=",
        ExpressionType.AndAlso => "&&",
        ExpressionType.OrElse => "||",
        ExpressionType.Coalesce => "??",
        _ => null,
    };
}
