using System.Collections.Concurrent;
using System.Globalization;
using System.Linq.Expressions;
using System.Reflection;
using System.Runtime.CompilerServices;
using System.Text;

namespace Fennick.Statistics.Variables;

/// <summary>Compiles expressions over records; the same expression, as each report of a batch brings it, is compiled once.</summary>
internal static class CompiledFormulas
{
    // More different ones than any analysis has; a program that makes up new ones without end starts anew.
    private const int Most = 1000;

    // With the record's type they go, for it may come from an assembly that is unloaded.
    private static readonly ConditionalWeakTable<Type, ConcurrentDictionary<string, Delegate>> Compiled = [];

    /// <summary>An expression as a function that gives a missing value where a part of it is missing.</summary>
    /// <param name="body">What it computes.</param>
    /// <param name="record">The record that it computes it from.</param>
    /// <typeparam name="T">The type of records.</typeparam>
    /// <typeparam name="TValue">The type of its value, of which null is one.</typeparam>
    public static Func<T, TValue> WithMissing<T, TValue>(Expression body, ParameterExpression record) => Of<T, TValue>(body, record, b => Expression.Convert(MissingPropagation.Of(b), typeof(TValue)), "missing");

    /// <summary>An expression as a function.</summary>
    /// <param name="body">What it computes.</param>
    /// <param name="record">The record that it computes it from.</param>
    /// <typeparam name="T">The type of records.</typeparam>
    /// <typeparam name="TValue">The type of its value.</typeparam>
    public static Func<T, TValue> Of<T, TValue>(Expression body, ParameterExpression record) => Of<T, TValue>(body, record, b => b, "");

    private static Func<T, TValue> Of<T, TValue>(Expression body, ParameterExpression record, Func<Expression, Expression> lower, string manner)
    {
        if (ExpressionKey.Of(body, record) is not { } text) return Compile();
        var key = $"{manner}{typeof(TValue).TypeHandle.Value:X}{text}";
        var known = Compiled.GetOrCreateValue(typeof(T));
        if (known.TryGetValue(key, out var compiled)) return (Func<T, TValue>)compiled;
        if (known.Count >= Most) known.Clear();
        var function = Compile();
        known[key] = function;
        return function;

        Func<T, TValue> Compile() => Expression.Lambda<Func<T, TValue>>(lower(body), record).Compile();
    }

    /// <summary>Writes what an expression consists of, so that two are the same if their texts are.</summary>
    private sealed class ExpressionKey : ExpressionVisitor
    {
        private readonly StringBuilder text = new();
        private readonly List<ParameterExpression> parameters = [];
        private bool isKnown = true;

        /// <summary>The text; null if the expression holds what others may change, such as the variables of the code around it.</summary>
        public static string? Of(Expression expression, ParameterExpression record)
        {
            var key = new ExpressionKey();
            key.parameters.Add(record);
            key.Visit(expression);
            return key.isKnown ? key.text.ToString() : null;
        }

        public override Expression? Visit(Expression? node)
        {
            if (!isKnown) return node;
            if (node is null)
            {
                text.Append('~');
                return node;
            }
            text.Append(CultureInfo.InvariantCulture, $"({(int)node.NodeType}:{node.Type.TypeHandle.Value:X}");
            Write(node);
            base.Visit(node);
            text.Append(')');
            return node;
        }

        private void Write(Expression node)
        {
            switch (node)
            {
                case ConstantExpression constant: WriteValue(constant.Value); break;
                case ParameterExpression parameter: WriteParameter(parameter); break;
                case MemberExpression member: WriteMember(member.Member); break;
                case MethodCallExpression call: WriteMethod(call.Method); break;
                case NewExpression { Constructor: { } constructor }: WriteMethod(constructor); break;
                case BinaryExpression binary: WriteMethod(binary.Method); text.Append(binary.IsLifted ? '?' : '.').Append(binary.IsLiftedToNull ? '?' : '.'); break;
                case UnaryExpression unary: WriteMethod(unary.Method); break;
                case TypeBinaryExpression type: text.Append(CultureInfo.InvariantCulture, $"{type.TypeOperand.TypeHandle.Value:X}"); break;
                case IndexExpression { Indexer: { } indexer }: WriteMember(indexer); break;
                case LambdaExpression or ConditionalExpression or NewExpression or NewArrayExpression or IndexExpression or DefaultExpression or InvocationExpression: break;
                default: isKnown = false; break;
            }
        }

        private void WriteValue(object? value)
        {
            var words = value switch
            {
                null => "null",
                double number => BitConverter.DoubleToInt64Bits(number).ToString("X", CultureInfo.InvariantCulture),
                float number => BitConverter.SingleToInt32Bits(number).ToString("X", CultureInfo.InvariantCulture),
                string content => $"{content.Length}:{content}",
                DateTime time => $"{time.Ticks}:{time.Kind}",
                DateOnly date => date.DayNumber.ToString(CultureInfo.InvariantCulture),
                Enum or bool or char or decimal or sbyte or byte or short or ushort or int or uint or long or ulong or TimeSpan => string.Create(CultureInfo.InvariantCulture, $"{value}"),
                // Anything else may hold something else the next time.
                _ => null,
            };
            isKnown &= words is not null;
            text.Append(words);
        }

        private void WriteParameter(ParameterExpression parameter)
        {
            if (!parameters.Contains(parameter)) parameters.Add(parameter);
            text.Append(parameters.IndexOf(parameter));
        }

        private void WriteMember(MemberInfo member) => text.Append(CultureInfo.InvariantCulture, $"{member.DeclaringType?.TypeHandle.Value:X}.{member.MetadataToken:X}");

        private void WriteMethod(MethodBase? method)
        {
            if (method is not null) text.Append(CultureInfo.InvariantCulture, $"{method.MethodHandle.Value:X}");
        }
    }
}
