using System.Globalization;
using System.Linq.Expressions;
using System.Reflection;
using System.Runtime.CompilerServices;
using Fennick.Diagnostics;

namespace Fennick.Data.Reading;

/// <summary>Makes records of one type from the rows of one source.</summary>
internal sealed class RecordBinder<T>
{
    // Fewer rows are done before a compiled form of the binding would be.
    private const int RowsBeforeCompiling = 2000;
    private const int CellsShown = 3;

    private readonly RowSource row;
    private readonly Target[] targets;
    private readonly ConstructorInfo? constructor;
    private readonly Func<int, object?>?[] readers;
    private readonly Dictionary<(int Index, bool IsMissing), Problem> problems = [];
    private Func<T>? make;
    private int count;

    private RecordBinder(RowSource row, Target[] targets, ConstructorInfo? constructor)
    {
        this.row = row;
        this.targets = targets;
        this.constructor = constructor;
        readers = [.. targets.Select(t => t.Column < 0 ? null : Boxed.MakeGenericMethod(t.Type).CreateDelegate<Func<int, object?>>(this))];
    }

    private static MethodInfo Boxed => typeof(RecordBinder<T>).GetMethod(nameof(ReadBoxed), BindingFlags.Instance | BindingFlags.NonPublic)!;

    private static MethodInfo Typed => typeof(RecordBinder<T>).GetMethod(nameof(Read), BindingFlags.Instance | BindingFlags.NonPublic)!;

    /// <summary>Finds a column for each parameter of a record's constructor, or for each settable property.</summary>
    public static RecordBinder<T> Create(RowSource source)
    {
        var columns = source.Heads;
        var nullability = new NullabilityInfoContext();
        // A value by itself comes from the only column.
        if (CanRead(Nullable.GetUnderlyingType(typeof(T)) ?? typeof(T)))
        {
            if (columns.Count != 1) throw new ReportException(Diagnostic.Error(source.HeadPlace, $"there are {columns.Count} columns, and a `{MemberTypes.Name(typeof(T))}` comes from one", "read a record with a member for each column, or ask for one column"));
            return new RecordBinder<T>(source, [new Target(columns[0], typeof(T), Nullable.GetUnderlyingType(typeof(T)) is not null, null, false) { Column = 0, Head = columns[0] }], null);
        }
        var constructor = typeof(T).GetConstructors().Where(c => c.GetParameters().Length > 0).MaxBy(c => c.GetParameters().Length);
        var targets = constructor is not null
            ? constructor.GetParameters().Select(p => new Target(p.Name!, p.ParameterType, nullability.Create(p).WriteState == NullabilityState.Nullable, null, p.HasDefaultValue))
            : typeof(T).GetProperties().Where(p => p.CanWrite).Select(p => new Target(p.Name, p.PropertyType, nullability.Create(p).WriteState == NullabilityState.Nullable, p, true));
        return new RecordBinder<T>(source, [.. targets.Select(FindColumn)], constructor);

        Target FindColumn(Target target)
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
        Diagnostic[] all = [.. problems.Values.Select(p => p.ToDiagnostic()), .. row.Cells.Signs.Doubts()];
        if (all.Length > 0) throw new ReportException(all);
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
        var values = targets.Select((t, i) => t.Column < 0 ? null : Expression.Call(Expression.Constant(this), Typed.MakeGenericMethod(t.Type), Expression.Constant(i))).ToArray();
        Expression body = IsValue ? values[0]!
            : constructor is not null
            ? Expression.New(constructor, constructor.GetParameters().Select((p, i) => values[i] ?? (p.DefaultValue is { } given ? Expression.Convert(Expression.Constant(given), p.ParameterType) : (Expression)Expression.Default(p.ParameterType))))
            : Expression.MemberInit(Expression.New(typeof(T)), targets.Select((t, i) => (t, i)).Where(p => values[p.i] is not null).Select(p => Expression.Bind(p.t.Property!, values[p.i]!)));
        return Expression.Lambda<Func<T>>(body).Compile();
    }

    private object? ReadBoxed<TMember>(int index) => Read<TMember>(index);

    private TMember Read<TMember>(int index)
    {
        var target = targets[index];
        var cell = row[target.Column];
        if (typeof(TMember) == typeof(string))
            return cell.Kind == CellKind.Missing && target.MayBeNull ? default! : (TMember)(object)cell.ToText();
        if (cell.Kind == CellKind.Missing)
        {
            if (!target.MayBeNull) Note(index, cell, isMissing: true);
            return default!;
        }
        if (typeof(TMember) == typeof(double) || typeof(TMember) == typeof(double?))
        {
            if (!row.Cells.TryNumber(cell, row, target.Column, out var number)) return Wrong<TMember>(index, cell);
            return As<double, TMember>(number);
        }
        if (typeof(TMember) == typeof(int) || typeof(TMember) == typeof(int?))
        {
            if (!row.Cells.TryWhole(cell, row, target.Column, out var whole) || whole is < int.MinValue or > int.MaxValue) return Wrong<TMember>(index, cell);
            return As<int, TMember>((int)whole);
        }
        if (typeof(TMember) == typeof(long) || typeof(TMember) == typeof(long?))
        {
            if (!row.Cells.TryWhole(cell, row, target.Column, out var whole)) return Wrong<TMember>(index, cell);
            return As<long, TMember>(whole);
        }
        return row.Cells.Read(cell, Nullable.GetUnderlyingType(typeof(TMember)) ?? typeof(TMember), row, target.Column) is { } value ? (TMember)value : Wrong<TMember>(index, cell);
    }

    // The value itself, or the value as one that may be null.
    private static TMember As<TValue, TMember>(TValue value)
        where TValue : struct
    {
        if (typeof(TMember) == typeof(TValue)) return Unsafe.As<TValue, TMember>(ref value);
        TValue? optional = value;
        return Unsafe.As<TValue?, TMember>(ref optional);
    }

    private TMember Wrong<TMember>(int index, in Cell cell)
    {
        Note(index, cell, isMissing: false);
        return default!;
    }

    private void Note(int index, in Cell cell, bool isMissing)
    {
        var target = targets[index];
        if (!problems.TryGetValue((index, isMissing), out var problem))
        {
            var type = Nullable.GetUnderlyingType(target.Type) ?? target.Type;
            var text = cell.ToText();
            var (message, advice) = isMissing
                ? ($"{(text == "" ? "an empty cell" : $"`{text}`")} in column `{target.Head}`", $"make `{target.Name}` nullable (`{MemberTypes.Name(type)}?`) if values may be missing")
                : ($"`{text}` in column `{target.Head}` is not {MemberTypes.Describe(type)}", MemberTypes.Advise(text.Trim(), type, row));
            problems.Add((index, isMissing), problem = new Problem(row.PlaceOf(target.Column), message, advice));
        }
        else if (problem.Others.Count < CellsShown - 1)
        {
            problem.Others.Add(isMissing ? $"{row.PlaceOf(target.Column)}" : $"`{cell.ToText()}` ({row.PlaceOf(target.Column)})");
        }
        problem.Count++;
    }

    private static bool CanRead(Type type) => type == typeof(string) || type == typeof(double) || type == typeof(int) || type == typeof(long) || type == typeof(decimal) || type == typeof(float)
        || type == typeof(DateOnly) || type == typeof(DateTime) || type == typeof(DateTimeOffset) || type == typeof(bool) || type.IsEnum;

    private sealed record Target(string Name, Type Type, bool MayBeNull, PropertyInfo? Property, bool IsOptional)
    {
        public int Column { get; init; } = -1;

        public string Head { get; init; } = "";
    }

    private sealed class Problem(SourcePlace place, string message, string? advice)
    {
        public int Count { get; set; }

        public List<string> Others { get; } = [];

        public Diagnostic ToDiagnostic() => Diagnostic.Error(place, Count == 1 ? message : $"{message}, and so {(Count == 2 ? "is 1 cell more" : $"are {(Count - 1).ToString("N0", CultureInfo.InvariantCulture)} cells more")}: {string.Join(", ", Others)}{(Count - 1 > Others.Count ? ", …" : "")}", advice);
    }
}
