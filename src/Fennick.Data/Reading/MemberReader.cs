using System.Globalization;
using System.Reflection;
using Fennick.Diagnostics;

namespace Fennick.Data.Reading;

/// <summary>Reads the cells of the current row as the types of members, and takes note of those that are of another form. It is not generic, so that the usual types cost no look-up of types.</summary>
internal sealed class MemberReader(RowSource row, BoundMember[] members)
{
    private const int CellsShown = 3;

    private readonly Dictionary<(int Index, bool IsMissing), Problem> problems = [];

    /// <summary>The method that reads a member of a type by its index.</summary>
    public static MethodInfo MethodFor(Type type) => type switch
    {
        _ when type == typeof(double) => Own(nameof(Number)),
        _ when type == typeof(double?) => Own(nameof(OptionalNumber)),
        _ when type == typeof(int) => Own(nameof(Int)),
        _ when type == typeof(int?) => Own(nameof(OptionalInt)),
        _ when type == typeof(long) => Own(nameof(Long)),
        _ when type == typeof(long?) => Own(nameof(OptionalLong)),
        _ when type == typeof(string) => Own(nameof(Text)),
        _ => Own(nameof(Other)).MakeGenericMethod(type),
    };

    /// <summary>The same with a boxed result.</summary>
    public Func<int, object?> Boxed(Type type) => type switch
    {
        _ when type == typeof(double) => i => Number(i),
        _ when type == typeof(double?) => i => OptionalNumber(i),
        _ when type == typeof(int) => i => Int(i),
        _ when type == typeof(int?) => i => OptionalInt(i),
        _ when type == typeof(long) => i => Long(i),
        _ when type == typeof(long?) => i => OptionalLong(i),
        _ when type == typeof(string) => Text,
        _ => Own(nameof(OtherBoxed)).MakeGenericMethod(type).CreateDelegate<Func<int, object?>>(this),
    };

    /// <summary>Refuses the whole if there was a cell of the wrong form.</summary>
    /// <exception cref="ReportException">There was one: a message for each column.</exception>
    public void Finish()
    {
        Diagnostic[] all = [.. problems.Values.Select(p => p.ToDiagnostic()), .. row.Cells.Signs.Doubts()];
        if (all.Length > 0) throw new ReportException(all);
    }

    private static MethodInfo Own(string name) => typeof(MemberReader).GetMethod(name, BindingFlags.Instance | BindingFlags.NonPublic)!;

    private double Number(int index) => row.TryQuickNumber(members[index].Column, out var quick) ? quick : OptionalNumber(index) ?? 0;

    private double? OptionalNumber(int index)
    {
        var column = members[index].Column;
        if (row.TryQuickNumber(column, out var number)) return number;
        var cell = row[column];
        return IsThere(index, cell) && (row.Cells.TryNumber(cell, row, column, out number) || IsWrong(index, cell)) ? number : null;
    }

    private int Int(int index) => OptionalInt(index) ?? 0;

    private int? OptionalInt(int index) => OptionalWhole(index, int.MinValue, int.MaxValue) is { } whole ? (int)whole : null;

    private long Long(int index) => OptionalLong(index) ?? 0;

    private long? OptionalLong(int index) => OptionalWhole(index, long.MinValue, long.MaxValue);

    private long? OptionalWhole(int index, long least, long most)
    {
        var column = members[index].Column;
        if (row.TryQuickWhole(column, out var whole) && whole <= most) return whole;
        var cell = row[column];
        return IsThere(index, cell) && ((row.Cells.TryWhole(cell, row, column, out whole) && whole >= least && whole <= most) || IsWrong(index, cell)) ? whole : null;
    }

    private string? Text(int index) => members[index].MayBeNull && row[members[index].Column].Kind == CellKind.Missing ? null : row.TextOf(members[index].Column);

    private object? OtherBoxed<TMember>(int index) => Other<TMember>(index);

    private TMember Other<TMember>(int index)
    {
        var column = members[index].Column;
        var cell = row[column];
        if (!IsThere(index, cell)) return default!;
        if (row.Cells.Read(cell, Nullable.GetUnderlyingType(typeof(TMember)) ?? typeof(TMember), row, column) is { } value) return (TMember)value;
        IsWrong(index, cell);
        return default!;
    }

    private bool IsThere(int index, in Cell cell)
    {
        if (cell.Kind != CellKind.Missing) return true;
        if (!members[index].MayBeNull) Note(index, cell, isMissing: true);
        return false;
    }

    // Never: the cell is noted.
    private bool IsWrong(int index, in Cell cell)
    {
        Note(index, cell, isMissing: false);
        return false;
    }

    private void Note(int index, in Cell cell, bool isMissing)
    {
        var target = members[index];
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

    private sealed class Problem(SourcePlace place, string message, string? advice)
    {
        public int Count { get; set; }

        public List<string> Others { get; } = [];

        public Diagnostic ToDiagnostic() => Diagnostic.Error(place, Count == 1 ? message : $"{message}, and so {(Count == 2 ? "is 1 cell more" : $"are {(Count - 1).ToString("N0", CultureInfo.InvariantCulture)} cells more")}: {string.Join(", ", Others)}{(Count - 1 > Others.Count ? ", …" : "")}", advice);
    }
}
