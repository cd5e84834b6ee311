using System.Data.Common;
using System.Globalization;
using Fennick.Statistics;
using Fennick.Statistics.Variables;

namespace Fennick.Data;

/// <summary>Named columns for statistics: from what a database query returned, or from a data frame by the package Fennick.Data.Frames.</summary>
public sealed class Columns : IColumnSource
{
    private readonly Dictionary<string, Variable> variables;

    internal Columns(IEnumerable<Variable> variables)
    {
        this.variables = variables.ToDictionary(v => v.Name, StringComparer.Ordinal);
        Names = [.. this.variables.Keys];
    }

    /// <inheritdoc/>
    public IReadOnlyList<string> Names { get; }

    /// <summary>What the source calls its columns and their levels for people; empty where it does not say.</summary>
    public Tables.Labels Labels { get; internal init; } = Tables.Labels.None;

    /// <summary>How many rows there are.</summary>
    public int Count => variables.Count == 0 ? 0 : variables[Names[0]].Count;

    /// <summary>Columns by name, values and type.</summary>
    internal static Columns Of(IEnumerable<(string Name, IEnumerable<object?> Values, Type Type)> columns) => new(columns.Select(c => ToVariable(c.Name, c.Values, c.Type)));

    /// <summary>The columns of a database query, read to its end: numbers as they are, text and yes/no as factors, NULL as missing.</summary>
    /// <exception cref="AnalysisException">A column is of a type that is neither.</exception>
    public static Columns Of(DbDataReader reader)
    {
        ArgumentNullException.ThrowIfNull(reader);
        return new Columns(QueryColumns.Read(reader).Select((column, c) => ToVariable(column.Name, column.Values, reader.GetFieldType(c))));
    }

    /// <inheritdoc/>
    public Variable Column(string name) => variables.TryGetValue(name, out var variable) ? variable
        : throw new AnalysisException($"there is no column `{name}`; {Diagnostics.Nearest.Suggest(name, Names) ?? $"the columns are {string.Join(", ", Names.Select(n => $"`{n}`"))}"}");

    private static Variable ToVariable(string name, IEnumerable<object?> values, Type type)
    {
        if (type == typeof(string)) return FactorVariable.Of(name, [.. values.Select(v => (string?)v)]);
        if (type == typeof(bool)) return FactorVariable.Of(name, [.. values.Select(v => v is null ? null : (bool)v ? "yes" : "no")]);
        if (Type.GetTypeCode(type) is not (>= TypeCode.SByte and <= TypeCode.Decimal)) throw new AnalysisException($"the column `{name}` holds {type.Name}, which is neither a number nor a factor");
        return new NumericVariable(name, [.. values.Select(v => v is null ? double.NaN : Convert.ToDouble(v, CultureInfo.InvariantCulture))]);
    }
}
