using System.Globalization;
using System.Linq.Expressions;

namespace Fennick.Statistics.Variables;

/// <summary>Finds the members of a record in expressions: <c>h.Site.Altitude</c>, <c>h.Mites.Value</c>, <c>row[2]</c>.</summary>
internal sealed class RecordMembers(ParameterExpression record)
{
    /// <summary>The member that an expression is, if it is one and nothing else.</summary>
    public Member? MemberOf(Expression expression) => PathOf(expression) is { Length: > 0 } path ? new Member(path, path[(path.LastIndexOf('.') + 1)..]) : null;

    /// <summary>The members in an expression, each with the place where it stands.</summary>
    public IReadOnlyList<(Member Member, Expression Place)> In(Expression expression)
    {
        var finder = new Finder(this);
        finder.Visit(expression);
        return finder.Found;
    }

    /// <summary>The expression with a value in the place of a member.</summary>
    public Expression Replace(Expression expression, Member member, object value) => new Replacer(this, member, value).Visit(expression)!;

    private string? PathOf(Expression? expression)
    {
        if (expression == record) return "";
        switch (expression)
        {
            case MemberExpression member when MissingPropagation.IsValueOf(member): return PathOf(member.Expression);
            case MemberExpression member: return PathOf(member.Expression) is { } owner ? (owner.Length == 0 ? member.Member.Name : $"{owner}.{member.Member.Name}") : null;
            case BinaryExpression { NodeType: ExpressionType.ArrayIndex } element: return PathOf(element.Left) is { } array && IndexOf(element.Right) is { } index ? $"{array}[{index}]" : null;
            case MethodCallExpression { Method.Name: "get_Item", Object: { } owned, Arguments: [var key] }: return PathOf(owned) is { } list && IndexOf(key) is { } place ? $"{list}[{place}]" : null;
            default: return null;
        }
    }

    private string? IndexOf(Expression index) => In(index).Count > 0 ? null
        : Convert.ToString(Expression.Lambda<Func<object?>>(Expression.Convert(index, typeof(object))).Compile(preferInterpretation: true)(), CultureInfo.InvariantCulture);

    private sealed class Finder(RecordMembers members) : ExpressionVisitor
    {
        public List<(Member, Expression)> Found { get; } = [];

        public override Expression? Visit(Expression? node)
        {
            if (node is null || members.MemberOf(node) is not { } member) return base.Visit(node);
            Found.Add((member, node));
            return node;
        }
    }

    private sealed class Replacer(RecordMembers members, Member member, object value) : ExpressionVisitor
    {
        public override Expression? Visit(Expression? node)
        {
            if (node is null || members.MemberOf(node)?.Path != member.Path) return base.Visit(node);
            var type = Nullable.GetUnderlyingType(node.Type) ?? node.Type;
            var constant = Expression.Constant(type.IsInstanceOfType(value) ? value : Convert.ChangeType(value, type, CultureInfo.InvariantCulture), type);
            return node.Type == type ? constant : Expression.Convert(constant, node.Type);
        }
    }
}
