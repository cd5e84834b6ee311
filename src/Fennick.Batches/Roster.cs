using System.Collections;
using System.Collections.Immutable;
using System.Data.Common;
using System.Globalization;
using System.Reflection;
using System.Text;
using System.Text.Json;
using Fennick.Data;
using Fennick.Data.Reading;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Running;

namespace Fennick.Batches;

/// <summary>A table with a row for each unit; its columns give the parameters.</summary>
public sealed class Roster : IReadOnlyList<RosterRow>
{
    private readonly ImmutableArray<RosterRow> rows;

    private Roster(string name, IEnumerable<string> columns, IEnumerable<(int Line, string?[] Cells)> rows)
    {
        Name = name;
        Columns = [.. columns];
        if (Columns.GroupBy(c => c).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw new ReportException(Diagnostic.Error(new SourcePlace(name, 1, Columns.LastIndexOf(twice.Key) + 1), $"the roster has two columns called `{twice.Key}`", "rename one of them"));
        this.rows = [.. rows.Select((row, i) => new RosterRow(this, i + 1, row.Line, [.. row.Cells.Select(c => c is null or "" or "NA" ? null : c)]))];
        foreach (var row in this.rows.Where(r => r.Cells.Length != Columns.Length))
            throw new ReportException(Diagnostic.Error(row.PlaceOf(0), $"this row has {row.Cells.Length} cells, but the roster has {Columns.Length} columns", "put the cell right that is missing or too many; a cell that holds a comma stands in quotation marks"));
    }

    /// <summary>The names of its columns.</summary>
    public ImmutableArray<string> Columns { get; }

    /// <inheritdoc/>
    public int Count => rows.Length;

    /// <summary>What it is called in messages: its file as it was named.</summary>
    internal string Name { get; }

    /// <inheritdoc/>
    public RosterRow this[int index] => rows[index];

    /// <summary>Reads a CSV file whose first line names its columns, or, if the name ends in <c>.json</c>, an array of objects; or the first sheet of a spreadsheet.</summary>
    /// <param name="path">The file. In CSV an empty cell or <c>NA</c> is a missing value, in JSON <c>null</c> or no member.</param>
    /// <param name="encoding">The encoding of a CSV file, such as <c>windows-1252</c>; UTF-8 if null. A byte order mark in the file counts before it.</param>
    /// <exception cref="ReportException">There is no such file, it is damaged or in another encoding, or it changed while it was read.</exception>
    public static Roster Read(string path, string? encoding = null)
    {
        ArgumentNullException.ThrowIfNull(path);
        var before = FileStamp.Of(path);
        var roster = path.EndsWith(".json", StringComparison.OrdinalIgnoreCase) ? ReadJson(path) : IsSpreadsheet(path) ? ReadSpreadsheet(path) : ReadCsv(path, encoding);
        return FileStamp.Of(path) == before ? roster
            : throw new ReportException(Diagnostic.Error(new SourcePlace(path, 0, 0), "the roster changed while it was read", "run again when it is complete"));
    }

    /// <summary>A roster of records: each public property is a column.</summary>
    public static Roster Of<T>(IEnumerable<T> records)
    {
        ArgumentNullException.ThrowIfNull(records);
        var properties = typeof(T).GetProperties(BindingFlags.Public | BindingFlags.Instance).Where(p => p.CanRead && p.GetIndexParameters().Length == 0).ToArray();
        return new Roster("the roster", properties.Select(p => p.Name), records.Select(r => (0, properties.Select(p => Text(p.GetValue(r))).ToArray())));
    }

    /// <summary>Reads a database query to its end.</summary>
    public static Roster Read(DbDataReader reader)
    {
        ArgumentNullException.ThrowIfNull(reader);
        var rows = new List<(int, string?[])>();
        while (reader.Read()) rows.Add((0, [.. Enumerable.Range(0, reader.FieldCount).Select(c => reader.IsDBNull(c) ? null : Text(reader.GetValue(c)))]));
        return new Roster("the query", Enumerable.Range(0, reader.FieldCount).Select(reader.GetName), rows);
    }

    /// <inheritdoc/>
    public IEnumerator<RosterRow> GetEnumerator() => ((IEnumerable<RosterRow>)rows).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    /// <summary>The index of a column; case, <c>_</c>, <c>-</c> and spaces do not count.</summary>
    /// <exception cref="ReportException">There is no such column.</exception>
    internal int FindColumn(string name, SourcePlace? place) => TryFindColumn(name)
        ?? throw new ReportException(Diagnostic.Error(place, $"the roster has no column `{name}`", Nearest.Suggest(name, Columns) ?? $"its columns are {string.Join(", ", Columns.Select(c => $"`{c}`"))}"));

    internal int? TryFindColumn(string name)
    {
        var exact = Columns.IndexOf(name);
        if (exact >= 0) return exact;
        var alike = Enumerable.Range(0, Columns.Length).Where(c => ColumnNames.AreAlike(name, Columns[c])).ToArray();
        return alike.Length == 1 ? alike[0] : null;
    }

    private static Roster ReadCsv(string path, string? encoding)
    {
        var (heads, rows) = Csv.ReadCells(path, encoding);
        return new Roster(path, heads.Select(h => h.Trim()), rows.Select(r => (r.Line, (string?[])r.Cells)));
    }

    private static bool IsSpreadsheet(string path) => Path.GetExtension(path).ToLowerInvariant() is ".xlsx" or ".xlsm" or ".xlsb" or ".xls" or ".ods";

    private static Roster ReadSpreadsheet(string path)
    {
        var (heads, rows) = Spreadsheet.ReadCells(path);
        return new Roster(path, heads, rows);
    }

    private static Roster ReadJson(string path)
    {
        if (!File.Exists(path)) throw new ReportException(Diagnostic.Error(null, $"there is no file `{path}`", Nearest.SuggestFile(Path.GetFullPath(path))));
        try
        {
            return ReadJson(path, Encoding.UTF8.GetBytes(TextEncoding.ReadUtf8(FilesRead.Note(path), path)));
        }
        catch (JsonException problem)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(path, (int)(problem.LineNumber ?? 0) + 1, (int)(problem.BytePositionInLine ?? 0) + 1), "this is no JSON", "a roster is an array of objects: `[{\"apiary\": \"Alder Bank\"}]`")], problem);
        }
        // What the reader says of half a character.
        catch (InvalidOperationException problem)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(path, 0, 0), $"the file is damaged: {problem.Message.TrimEnd('.')}")], problem);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(path, 0, 0), $"the file cannot be read: {FileProblem.Reason(problem)}")], problem);
        }
    }

    private static Roster ReadJson(string path, ReadOnlySpan<byte> bytes)
    {
        var columns = new List<string>();
        var rows = new List<(int Line, Dictionary<string, string?> Members)>();
        var reader = new Utf8JsonReader(bytes, new JsonReaderOptions { AllowTrailingCommas = true, CommentHandling = JsonCommentHandling.Skip });
        var (line, counted) = (1, 0);
        reader.Read();
        if (reader.TokenType != JsonTokenType.StartArray) throw Wrong(1, "a roster is an array of objects");
        while (reader.Read() && reader.TokenType != JsonTokenType.EndArray)
        {
            line += bytes[counted..(int)reader.TokenStartIndex].Count((byte)'\n');
            counted = (int)reader.TokenStartIndex;
            if (reader.TokenType != JsonTokenType.StartObject) throw Wrong(line, "each row of a roster is an object");
            var members = new Dictionary<string, string?>();
            while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
            {
                var name = reader.GetString()!;
                reader.Read();
                if (!members.TryAdd(name, reader.TokenType switch
                {
                    JsonTokenType.String => reader.GetString(),
                    JsonTokenType.Number => Encoding.UTF8.GetString(reader.ValueSpan),
                    JsonTokenType.True => "yes",
                    JsonTokenType.False => "no",
                    JsonTokenType.Null => null,
                    _ => throw Wrong(line, $"`{name}` is neither text nor a number nor yes or no"),
                })) throw Wrong(line, $"`{name}` is there twice");
                if (!columns.Contains(name)) columns.Add(name);
            }
            rows.Add((line, members));
        }
        return new Roster(path, columns, rows.Select(r => (r.Line, columns.Select(c => r.Members.GetValueOrDefault(c)).ToArray())));

        ReportException Wrong(int at, string message) => new(Diagnostic.Error(new SourcePlace(path, at, 1), message));
    }

    /// <summary>A value as parameters read it.</summary>
    private static string? Text(object? value) => value switch
    {
        null => null,
        bool yes => yes ? "yes" : "no",
        DateTime { TimeOfDay.Ticks: 0 } day => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
        DateOnly day => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
        IFormattable formattable => formattable.ToString(null, CultureInfo.InvariantCulture),
        _ => value.ToString(),
    };
}
