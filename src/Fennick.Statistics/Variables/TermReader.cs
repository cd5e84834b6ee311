using System.Globalization;
using System.Linq.Expressions;

namespace Fennick.Statistics.Variables;

/// <summary>A term before it becomes columns: a variable, or the interaction of variables.</summary>
/// <param name="Name">The name in results.</param>
/// <param name="Factors">The variables whose product it is; one, if it is not an interaction.</param>
internal sealed record TermSpecification(string Name, IReadOnlyList<Variable> Factors);

/// <summary>Reads variables from records by the expressions that name them.</summary>
internal static class TermReader
{
    /// <summary>The terms of <c>h => new { h.ForageHa, Log = Math.Log(h.Mites), Both = Cross(h.ForageHa, h.Strain) }</c>, or of one member.</summary>
    public static List<TermSpecification> ReadTerms<T>(IReadOnlyList<T> records, Expression<Func<T, object?>> terms)
    {
        var body = Strip(terms.Body);
        // `new { }` has no terms: the intercept alone.
        if (body is NewExpression { Arguments.Count: 0 }) return [];
        if (body is not NewExpression { Members: { } members } made) return [ReadTerm(records, terms.Parameters[0], body, NameOf(body) ?? ExpressionText.Of(body), _ => null)];
        // In an interaction a variable has the name that it has by itself.
        var names = made.Arguments.Select((argument, i) => (Text: Strip(argument).ToString(), members[i].Name)).GroupBy(n => n.Text).ToDictionary(g => g.Key, g => g.First().Name);
        return [.. made.Arguments.Select((argument, i) => ReadTerm(records, terms.Parameters[0], argument, members[i].Name, part => names.GetValueOrDefault(part.ToString())))];
    }

    /// <summary>One variable of records.</summary>
    public static Variable Read<T, TValue>(IReadOnlyList<T> records, Expression<Func<T, TValue>> member)
    {
        var body = Strip(member.Body);
        return ReadVariable(records, member.Parameters[0], body, NameOf(body) ?? ExpressionText.Of(body));
    }

    /// <summary>A grouping of records: any values, of which the texts are the groups.</summary>
    public static FactorVariable ReadGrouping<T>(IReadOnlyList<T> records, Expression<Func<T, object?>> group)
    {
        var body = Strip(group.Body);
        return ToFactor(records, group.Parameters[0], body, NameOf(body) ?? ExpressionText.Of(body), null);
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
        var formula = new RecordFormula<T>(records, record, expression);
        var (values, outside) = formula.Evaluate(name);
        return new NumericVariable(name, values) { Formula = formula, RowsOutsideDomain = [.. outside] };
    }

    private static FactorVariable ToFactor<T>(IReadOnlyList<T> records, ParameterExpression record, Expression expression, string name, string? reference)
    {
        var read = CompiledFormulas.WithMissing<T, object?>(expression, record);
        var values = new object?[records.Count];
        for (var i = 0; i < values.Length; i++)
        {
            try
            {
                values[i] = read(records[i]);
            }
            catch (Exception problem)
            {
                throw new AnalysisException($"`{name}` cannot be computed in row {i + 1}: {RecordFormula<T>.Describe(problem)}");
            }
        }
        // Enums keep the order they are declared in, numbers that of their size.
        object[] levels = [.. NaturalOrder.Of(values.OfType<object>().Where(v => Text(v).Length > 0))];
        var factor = FactorVariable.Of(name, [.. values.Select(v => v is null ? null : Text(v))], levels.Select(Text).Distinct(), reference);
        return factor with { Formula = new RecordFormula<T>(records, record, expression), LevelValues = [.. levels.DistinctBy(Text)] };
    }

    private static string Text(object value) => value switch
    {
        bool flag => flag ? "yes" : "no",
        IFormattable formattable => formattable.ToString(null, CultureInfo.InvariantCulture),
        _ => value.ToString() ?? "",
    };

    /// <summary>Whether a type holds numbers, or numbers that may be missing.</summary>
    internal static bool IsNumeric(Type type) => (Nullable.GetUnderlyingType(type) ?? type) is { IsEnum: false } own && Type.GetTypeCode(own) is >= TypeCode.SByte and <= TypeCode.Decimal;


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
