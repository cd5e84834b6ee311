using System.Globalization;
using System.Linq.Expressions;

namespace Fennick.Statistics.Variables;

/// <summary>A term before it becomes columns: a variable, or the interaction of variables.</summary>
/// <param name="Name">The name in results.</param>
/// <param name="Factors">The variables whose product it is; one, if it is no interaction.</param>
internal sealed record TermSpecification(string Name, IReadOnlyList<Variable> Factors);

/// <summary>Reads variables from records by the expressions that name them.</summary>
internal static class TermReader
{
    /// <summary>The terms of <c>h => new { h.ForageHa, Log = Math.Log(h.Mites), Both = Cross(h.ForageHa, h.Strain) }</c>, or of one member.</summary>
    public static List<TermSpecification> ReadTerms<T>(IReadOnlyList<T> records, Expression<Func<T, object?>> terms)
    {
        var body = Strip(terms.Body);
        if (body is not NewExpression { Members: { } members } made) return [ReadTerm(records, terms.Parameters[0], body, NameOf(body) ?? "x", _ => null)];
        // In an interaction a variable has the name that it has by itself.
        var names = made.Arguments.Select((argument, i) => (Text: Strip(argument).ToString(), members[i].Name)).GroupBy(n => n.Text).ToDictionary(g => g.Key, g => g.First().Name);
        return [.. made.Arguments.Select((argument, i) => ReadTerm(records, terms.Parameters[0], argument, members[i].Name, part => names.GetValueOrDefault(part.ToString())))];
    }

    /// <summary>One variable of records.</summary>
    public static Variable Read<T, TValue>(IReadOnlyList<T> records, Expression<Func<T, TValue>> member)
    {
        var body = Strip(member.Body);
        return ReadVariable(records, member.Parameters[0], body, NameOf(body) ?? "y");
    }

    private static TermSpecification ReadTerm<T>(IReadOnlyList<T> records, ParameterExpression record, Expression expression, string name, Func<Expression, string?> ownName)
    {
        var stripped = Strip(expression);
        if (stripped is MethodCallExpression { Method: { Name: nameof(Terms.Cross) } method } cross && method.DeclaringType == typeof(Terms))
        {
            var parts = cross.Arguments.Select(Strip).SelectMany(a => ReadTerm(records, record, a, ownName(a) ?? NameOf(a) ?? name, ownName).Factors);
            return new TermSpecification(name, [.. parts]);
        }
        return new TermSpecification(name, [ReadVariable(records, record, stripped, name)]);
    }

    private static Variable ReadVariable<T>(IReadOnlyList<T> records, ParameterExpression record, Expression expression, string name)
    {
        if (expression is MethodCallExpression { Method: { Name: nameof(Terms.Factor) } method } call && method.DeclaringType == typeof(Terms))
        {
            var reference = Expression.Lambda<Func<string?>>(call.Arguments[1]).Compile(preferInterpretation: true)();
            var inner = Strip(call.Arguments[0]);
            return ToFactor(records, record, inner, NameOf(inner) ?? name, reference);
        }
        var type = Nullable.GetUnderlyingType(expression.Type) ?? expression.Type;
        if (type == typeof(string) || type == typeof(bool) || type.IsEnum) return ToFactor(records, record, expression, name, null);
        if (!IsNumeric(type)) throw new AnalysisException($"`{name}` is a {type.Name}, which is neither a number nor a factor; write `Factor(…)` around it, or compute a number from it");
        var read = Expression.Lambda<Func<T, double?>>(Expression.Convert(expression, typeof(double?)), record).Compile();
        var values = new double[records.Count];
        for (var i = 0; i < values.Length; i++) values[i] = read(records[i]) ?? double.NaN;
        return new NumericVariable(name, values);
    }

    private static FactorVariable ToFactor<T>(IReadOnlyList<T> records, ParameterExpression record, Expression expression, string name, string? reference)
    {
        var read = Expression.Lambda<Func<T, object?>>(Expression.Convert(expression, typeof(object)), record).Compile();
        var values = records.Select(read).ToArray();
        var type = Nullable.GetUnderlyingType(expression.Type) ?? expression.Type;
        // Enums keep the order they are declared in, numbers that of their size.
        var levels = values.OfType<object>().Distinct();
        IEnumerable<string>? ordered = type.IsEnum || IsNumeric(type) ? levels.Order().Select(Text) : null;
        return FactorVariable.Of(name, [.. values.Select(v => v is null ? null : Text(v))], ordered, reference);
    }

    private static string Text(object value) => value switch
    {
        bool flag => flag ? "yes" : "no",
        IFormattable formattable => formattable.ToString(null, CultureInfo.InvariantCulture),
        _ => value.ToString() ?? "",
    };

    private static bool IsNumeric(Type type) => Type.GetTypeCode(type) is >= TypeCode.SByte and <= TypeCode.Decimal && !type.IsEnum;

    private static string? NameOf(Expression expression) => StripAll(expression) switch
    {
        MemberExpression { Member.Name: "Value", Expression: MemberExpression inner } => inner.Member.Name,
        MemberExpression member => member.Member.Name,
        // `h.Survived ? 1 : 0` is still Survived.
        ConditionalExpression { IfTrue: var one, IfFalse: var zero } choice when IsConstant(one, 1) && IsConstant(zero, 0) => NameOf(choice.Test),
        _ => null,
    };

    private static Expression StripAll(Expression expression) => expression is UnaryExpression { NodeType: ExpressionType.Convert or ExpressionType.ConvertChecked } convert ? StripAll(convert.Operand) : expression;

    private static bool IsConstant(Expression expression, double value) => StripAll(expression) is ConstantExpression { Value: IConvertible number } && number is not (string or bool) && number.ToDouble(CultureInfo.InvariantCulture) == value;

    private static Expression Strip(Expression expression) =>
        expression is UnaryExpression { NodeType: ExpressionType.Convert or ExpressionType.ConvertChecked } convert && (convert.Type == typeof(object) || convert.Method is null && Nullable.GetUnderlyingType(convert.Type) == convert.Operand.Type)
            ? Strip(convert.Operand) : expression;
}
