using System.Linq.Expressions;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Variables;

/// <summary>A variable as an expression of a record.</summary>
internal sealed class RecordFormula<T> : IFormula
{
    private readonly IReadOnlyList<T> records;
    private readonly ParameterExpression record;
    private readonly Expression expression;
    private readonly RecordMembers members;

    public RecordFormula(IReadOnlyList<T> records, ParameterExpression record, Expression expression)
    {
        this.records = records;
        this.record = record;
        this.expression = expression;
        members = new RecordMembers(record);
        Members = [.. members.In(expression).Select(f => f.Member).Distinct()];
        IsPlain = members.MemberOf(StripConversions(expression)) is not null;
    }

    public IReadOnlyList<Member> Members { get; }

    public bool IsPlain { get; }

    /// <summary>The values of a numeric expression, and the rows where it is not defined though nothing is missing.</summary>
    /// <exception cref="AnalysisException">It fails in a row.</exception>
    public (double[] Values, int[] OutsideDomain) Evaluate(string name)
    {
        var read = CompiledFormulas.WithMissing<T, double?>(expression, record);
        Func<T, double>[]? numbers = null;
        var values = new double[records.Count];
        var outside = new List<int>();
        for (var i = 0; i < values.Length; i++)
        {
            try
            {
                var value = read(records[i]);
                values[i] = value ?? double.NaN;
                if (value is not { } given || double.IsFinite(given) || IsPlain) continue;
            }
            catch (DivideByZeroException)
            {
                values[i] = double.NaN;
            }
            catch (Exception problem)
            {
                throw new AnalysisException($"`{name}` cannot be computed in row {i + 1}: {Describe(problem)}");
            }
            // What is made of a number that is itself missing or infinite is so too; anything else has left the formula's domain.
            numbers ??= Numbers();
            if (numbers.Any(n => double.IsNaN(n(records[i])))) values[i] = double.NaN;
            else if (numbers.All(n => double.IsFinite(n(records[i]))))
            {
                outside.Add(i);
                values[i] = double.NaN;
            }
        }
        return (values, [.. outside]);
    }

    public double[] Slopes(Member member)
    {
        Expression? derivative;
        try
        {
            derivative = Differentiation.Of(expression, e => members.MemberOf(e)?.Path == member.Path);
        }
        catch (NoDerivativeException problem)
        {
            throw new AnalysisException($"the effect of `{member.Name}` cannot be computed through `{ExpressionText.Of(problem.Part)}`: {problem.Reason}; write it with arithmetic and the functions of `Math`, or make it a column of its own");
        }
        var slopes = new double[records.Count];
        if (derivative is null) return slopes;
        var read = CompiledFormulas.Of<T, double>(derivative, record);
        for (var i = 0; i < slopes.Length; i++) slopes[i] = read(records[i]);
        return slopes;
    }

    public double[] ValuesWith(Member member, object value) => new RecordFormula<T>(records, record, members.Replace(expression, member, value)).Evaluate(member.Name).Values;

    /// <summary>Why a formula fails, in the reader's words.</summary>
    public static string Describe(Exception problem) => problem switch
    {
        OverflowException => "the number is too large for its type; write `(double)` before one of the numbers that it is computed from",
        NullReferenceException => "the record is null",
        _ => problem.Message,
    };

    private Func<T, double>[] Numbers() =>
        [.. members.In(expression).Where(f => TermReader.IsNumeric(f.Place.Type)).Select(f => CompiledFormulas.Of<T, double>(Differentiation.Value(f.Place), record))];

    private static Expression StripConversions(Expression expression) => expression is UnaryExpression { NodeType: ExpressionType.Convert or ExpressionType.ConvertChecked } convert ? StripConversions(convert.Operand) : expression;
}
