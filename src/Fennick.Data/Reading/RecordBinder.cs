using System.Globalization;
using System.Linq.Expressions;
using System.Reflection;
using Fennick.Diagnostics;

namespace Fennick.Data.Reading;

/// <summary>Makes records of one type from the rows of one source.</summary>
internal sealed class RecordBinder<T>
{
    // Fewer rows are done before a compiled form of the binding would be.
    private const int RowsBeforeCompiling = 2000;

    private readonly BoundMember[] targets;
    private readonly ConstructorInfo? constructor;
    private readonly MemberReader reader;
    private readonly Func<int, object?>?[] readers;
    private Func<T>? make;
    private int count;

    private RecordBinder(RowSource row, BoundMember[] targets, ConstructorInfo? constructor)
    {
        this.targets = targets;
        this.constructor = constructor;
        reader = new MemberReader(row, targets);
        readers = [.. targets.Select(t => t.Column < 0 ? null : reader.Boxed(t.Type))];
    }

    /// <summary>Finds a column for each parameter of a record's constructor, or for each settable property.</summary>
    public static RecordBinder<T> Create(RowSource source)
    {
        var columns = source.Heads;
        var nullability = new NullabilityInfoContext();
        // A value by itself comes from the only column.
        if (CanRead(Nullable.GetUnderlyingType(typeof(T)) ?? typeof(T)))
        {
            if (columns.Count != 1) throw new ReportException(Diagnostic.Error(source.HeadPlace, $"there are {columns.Count} columns, and a `{MemberTypes.Name(typeof(T))}` comes from one", "read a record with a member for each column, or ask for one column"));
            return new RecordBinder<T>(source, [new BoundMember(columns[0], typeof(T), Nullable.GetUnderlyingType(typeof(T)) is not null, null, false) { Column = 0, Head = columns[0] }], null);
        }
        var constructor = typeof(T).GetConstructors().Where(c => c.GetParameters().Length > 0).MaxBy(c => c.GetParameters().Length);
        var targets = constructor is not null
            ? constructor.GetParameters().Select(p => new BoundMember(p.Name!, p.ParameterType, nullability.Create(p).WriteState == NullabilityState.Nullable, null, p.HasDefaultValue))
            : typeof(T).GetProperties().Where(p => p.CanWrite).Select(p => new BoundMember(p.Name, p.PropertyType, nullability.Create(p).WriteState == NullabilityState.Nullable, p, true));
        return new RecordBinder<T>(source, [.. targets.Select(FindColumn)], constructor);

        BoundMember FindColumn(BoundMember target)
        {
            var matches = Enumerable.Range(0, columns.Count).Where(c => ColumnNames.AreAlike(target.Name, columns[c])).ToArray();
            if (matches.Length > 1)
                throw new ReportException(Diagnostic.Error(source.HeadPlace, $"more than one column fits `{target.Name}`: {List(matches.Select(c => columns[c]))}", "rename one of them"));
            if (matches.Length == 0 && !target.IsOptional)
                throw new ReportException(Diagnostic.Error(source.HeadPlace, $"there is no column for `{target.Name}`", Nearest.Suggest(target.Name, columns) ?? $"the columns are {List(columns)}"));
            if (matches.Length == 0) return target;
            var type = Nullable.GetUnderlyingType(target.Type) ?? target.Type;
            return CanRead(type) ? target with { Column = matches[0], Head = columns[matches[0]] }
                : throw new ReportException(Diagnostic.Error(null, $"a member of type `{type.Name}` cannot be read from a file", "use text, a number, a date, bool or an enum"));
        }

        static string List(IEnumerable<string> names) => string.Join(", ", names.Select(n => $"`{n}`"));
    }

    /// <summary>A record of the current row.</summary>
    public T Bind() => make is not null || ++count > RowsBeforeCompiling ? (make ??= Compile())() : BindOne();

    /// <summary>Refuses the whole if there was a cell of the wrong form.</summary>
    /// <exception cref="ReportException">There was one: a message for each column.</exception>
    public void Finish()
    {
        reader.Finish();
    }

    private T BindOne()
    {
        if (IsValue) return (T)readers[0]!(0)!;
        if (constructor is not null)
        {
            var arguments = new object?[targets.Length];
            for (var i = 0; i < targets.Length; i++) arguments[i] = readers[i] is { } read ? read(i) : Type.Missing;
            return (T)constructor.Invoke(BindingFlags.OptionalParamBinding, null, arguments, CultureInfo.InvariantCulture);
        }
        var record = Activator.CreateInstance<T>();
        for (var i = 0; i < targets.Length; i++)
            if (readers[i] is { } read) targets[i].Property!.SetValue(record, read(i));
        return record;
    }

    private bool IsValue => constructor is null && targets is [{ Property: null }];

    // The same as an expression, whose values are not boxed.
    private Func<T> Compile()
    {
        var values = targets.Select((t, i) => t.Column < 0 ? null : Expression.Call(Expression.Constant(reader), MemberReader.MethodFor(t.Type), Expression.Constant(i))).ToArray();
        Expression body = IsValue ? values[0]!
            : constructor is not null
            ? Expression.New(constructor, constructor.GetParameters().Select((p, i) => values[i] ?? (p.DefaultValue is { } given ? Expression.Convert(Expression.Constant(given), p.ParameterType) : (Expression)Expression.Default(p.ParameterType))))
            : Expression.MemberInit(Expression.New(typeof(T)), targets.Select((t, i) => (t, i)).Where(p => values[p.i] is not null).Select(p => Expression.Bind(p.t.Property!, values[p.i]!)));
        return Expression.Lambda<Func<T>>(body).Compile();
    }

    private static bool CanRead(Type type) => type == typeof(string) || type == typeof(double) || type == typeof(int) || type == typeof(long) || type == typeof(decimal) || type == typeof(float)
        || type == typeof(DateOnly) || type == typeof(DateTime) || type == typeof(DateTimeOffset) || type == typeof(bool) || type.IsEnum;
}
