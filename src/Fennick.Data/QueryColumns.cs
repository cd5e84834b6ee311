using System.Data.Common;

namespace Fennick.Data;

/// <summary>Reads a database query to its end, a column at a time.</summary>
internal static class QueryColumns
{
    /// <summary>The columns with their values; NULL is null.</summary>
    public static IEnumerable<(string Name, IEnumerable<object?> Values)> Read(DbDataReader reader)
    {
        var values = Enumerable.Range(0, reader.FieldCount).Select(_ => new List<object?>()).ToArray();
        while (reader.Read())
            for (var c = 0; c < values.Length; c++) values[c].Add(reader.IsDBNull(c) ? null : reader.GetValue(c));
        return values.Select((column, c) => (reader.GetName(c), (IEnumerable<object?>)column));
    }
}
