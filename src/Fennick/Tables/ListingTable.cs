using System.Collections;
using System.Collections.Immutable;
using System.Data;
using System.Reflection;
using Fennick.Diagnostics;
using Fennick.Formatting;

namespace Fennick.Tables;

/// <summary>Data as they are: records, a data table or a matrix, a row each.</summary>
/// <example><c>ListingTable.Of(hives).Columns("Apiary", "HoneyKg").First(10)</c></example>
public sealed record ListingTable : ResultTable<ListingTable>
{
    private readonly ImmutableArray<string> names;
    private readonly ImmutableArray<object?[]> columns;
    private readonly Labels given;
    private ImmutableArray<string> chosen;
    private ImmutableDictionary<string, string> formats = ImmutableDictionary<string, string>.Empty;
    private int? most;

    private ListingTable(ImmutableArray<string> names, ImmutableArray<object?[]> columns, Labels? given = null)
    {
        this.names = names;
        this.columns = columns;
        this.given = given ?? Tables.Labels.None;
        chosen = names;
    }

    /// <summary>The public properties of records, or single values.</summary>
    public static ListingTable Of<T>(IEnumerable<T> records) => OfObjects(records.Cast<object?>(), typeof(T));

    /// <summary>A data table.</summary>
    public static ListingTable Of(DataTable table)
    {
        ArgumentNullException.ThrowIfNull(table);
        var rows = table.Rows.Cast<DataRow>().ToArray();
        return Of([.. table.Columns.Cast<DataColumn>().Select(c => (c.ColumnName, (IEnumerable<object?>)rows.Select(r => r.IsNull(c) ? null : r[c])))]);
    }

    /// <summary>A matrix, with its columns named 1, 2, …</summary>
    /// <param name="matrix">Rows × columns.</param>
    /// <param name="heads">The names of its columns, if they have any.</param>
    /// <exception cref="ReportException">There are not as many heads as columns.</exception>
    public static ListingTable Of(double[,] matrix, params string[] heads)
    {
        ArgumentNullException.ThrowIfNull(matrix);
        var (rows, width) = (matrix.GetLength(0), matrix.GetLength(1));
        if (heads.Length > 0 && heads.Length != width) throw new ReportException(Diagnostic.Error(null, $"there are {heads.Length} heads for {width} columns", "give one for each"));
        return Of([.. Enumerable.Range(0, width).Select(c => (heads.Length > 0 ? heads[c] : $"{c + 1}", Enumerable.Range(0, rows).Select(r => (object?)matrix[r, c])))]);
    }

    /// <summary>Columns of equal length by name.</summary>
    /// <exception cref="ReportException">The columns differ in length.</exception>
    public static ListingTable Of(params (string Name, IEnumerable<object?> Values)[] columns)
    {
        ImmutableArray<object?[]> values = [.. columns.Select(c => c.Values.ToArray())];
        if (values.Select(v => v.Length).Distinct().Count() > 1)
            throw new ReportException(Diagnostic.Error(null, $"the columns have {string.Join(", ", columns.Zip(values, (c, v) => $"`{c.Name}` {v.Length}"))} values", "give as many to each"));
        return new([.. columns.Select(c => c.Name)], values);
    }

    /// <summary>With these columns alone, in this order.</summary>
    /// <exception cref="ReportException">There is no such column.</exception>
    public ListingTable Columns(params string[] shown)
    {
        foreach (var name in shown) _ = IndexOf(name);
        return this with { chosen = [.. shown] };
    }

    /// <summary>With the first rows alone.</summary>
    public ListingTable First(int rows) => this with { most = rows >= 0 ? rows : throw new ArgumentOutOfRangeException(nameof(rows), rows, "A number of rows is not negative.") };

    /// <summary>With a column in a .NET format.</summary>
    /// <exception cref="ReportException">There is no such column.</exception>
    public ListingTable Format(string column, string format)
    {
        _ = IndexOf(column);
        return this with { formats = formats.SetItem(column, format) };
    }

    /// <inheritdoc/>
    public override Table ToTable()
    {
        if (chosen.IsEmpty) throw new ReportException(Diagnostic.Error(null, "the listing has no columns", "give records with public properties, or columns"));
        var count = columns[0].Length;
        var shown = Math.Min(most ?? count, count);
        var labels = Names.Or(given);
        RecordTable<int> table = Table.Of(Enumerable.Range(0, shown));
        foreach (var name in chosen)
        {
            var values = columns[IndexOf(name)];
            table = table.Column(labels[name], r => values[r] is bool flag ? labels.Word(flag ? "yes" : "no") : values[r], formats.GetValueOrDefault(name));
        }
        return Finish(table.ToTable() with { StubColumns = 1 }, shown < count ? [Sentence($"The first {shown} of {count} rows.")] : [], names);
    }

    /// <summary>The columns with their values, and their labels.</summary>
    internal (IEnumerable<(string Name, object?[] Values)> Columns, Labels Labels) Content() => (names.Select((n, c) => (n, columns[c])), given);

    /// <summary>What a sequence of records or single values lists; null if its items are neither.</summary>
    internal static ListingTable? Find(IEnumerable sequence)
    {
        var items = sequence.Cast<object?>().ToArray();
        var type = items.FirstOrDefault(i => i is not null)?.GetType() ?? sequence.GetType().GetInterfaces().FirstOrDefault(i => i.IsGenericType && i.GetGenericTypeDefinition() == typeof(IEnumerable<>))?.GetGenericArguments()[0];
        return type is null || type == typeof(object) || (!IsSingle(type) && Properties(type).Length == 0) ? null : OfObjects(items, type);
    }

    private static ListingTable OfObjects(IEnumerable<object?> records, Type type)
    {
        object?[] all = [.. records];
        if (IsSingle(type)) return Of(("Value", all));
        var properties = Properties(type);
        return new([.. properties.Select(p => p.Name)], [.. properties.Select(p => all.Select(r => r is null ? null : p.GetValue(r)).ToArray())], Tables.Labels.Of(type));
    }

    private static PropertyInfo[] Properties(Type type) => [.. type.GetProperties(BindingFlags.Public | BindingFlags.Instance).Where(p => p.CanRead && p.GetIndexParameters().Length == 0 && p.Name != "EqualityContract")];

    private static bool IsSingle(Type type) => type == typeof(string) || type == typeof(object) || ValueFormatter.IsNumber(type.IsValueType ? Activator.CreateInstance(type) : null)
        || (Nullable.GetUnderlyingType(type) ?? type) is var own && (own.IsEnum || own.IsPrimitive || own == typeof(DateOnly) || own == typeof(DateTime) || own == typeof(decimal));

    private int IndexOf(string name) => names.IndexOf(name) is >= 0 and var index ? index
        : throw new ReportException(Diagnostic.Error(null, $"the listing has no column `{name}`", Nearest.Suggest(name, names) ?? $"its columns are {string.Join(", ", names.Select(n => $"`{n}`"))}"));
}
