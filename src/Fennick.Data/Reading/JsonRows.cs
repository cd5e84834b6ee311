using System.Globalization;
using System.Text;
using System.Text.Json;
using Fennick.Diagnostics;

namespace Fennick.Data.Reading;

/// <summary>The objects of JSON data: those of an array, or one after another. Objects within them give columns of their own (<c>place.valley</c>).</summary>
internal sealed class JsonRows : RowSource
{
    private static readonly JsonReaderOptions Options = new() { AllowTrailingCommas = true, CommentHandling = JsonCommentHandling.Skip, AllowMultipleValues = true };

    private readonly byte[] bytes;
    private readonly List<int> starts = [];
    private readonly List<string> heads = [];
    private readonly Dictionary<string, int> columns = new(StringComparer.Ordinal);
    private readonly List<(JsonTokenType Kind, int Start, int Length)> cells = [];
    private int next;

    private JsonRows(string name, byte[] bytes, string? at)
        : base(name)
    {
        this.bytes = bytes;
        try
        {
            Index(at);
        }
        catch (JsonException problem)
        {
            var line = (int)(problem.LineNumber ?? 0) + 1;
            throw new ReportException([Diagnostic.Error(new SourcePlace(name, line, (int)(problem.BytePositionInLine ?? 0) + 1), $"the file is damaged: {Reason(problem)}", "data are an array of objects, such as `[{\"hive\": 1}]`, or an object a line")], problem);
        }
        // What the reader says of half a character.
        catch (InvalidOperationException problem)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(name, 0, 0), $"the file is damaged: {problem.Message.TrimEnd('.')}")], problem);
        }
    }

    /// <inheritdoc/>
    public override IReadOnlyList<string> Heads => heads;

    /// <inheritdoc/>
    public override bool HasTypes => true;

    /// <inheritdoc/>
    public override Cell this[int column]
    {
        get
        {
            var (kind, start, length) = cells[column];
            var span = bytes.AsSpan(start, length);
            switch (kind)
            {
                case JsonTokenType.String:
                    var reader = new Utf8JsonReader(span);
                    reader.Read();
                    return reader.ValueIsEscaped || reader.ValueSpan.IsEmpty ? Cell.Text(reader.GetString()!) : Cell.Utf8(span[1..^1]);
                case JsonTokenType.Number:
                    if (span.IndexOfAny("eE."u8) < 0 && long.TryParse(span, NumberStyles.Integer, CultureInfo.InvariantCulture, out var whole)) return Cell.Integer(whole);
                    return Cell.Real(double.Parse(span, NumberStyles.Float, CultureInfo.InvariantCulture), span);
                case JsonTokenType.True or JsonTokenType.False:
                    return Cell.Of(kind == JsonTokenType.True);
                case JsonTokenType.StartArray:
                    return Cell.Utf8(span);
                default:
                    return Cell.Missing();
            }
        }
    }

    /// <summary>Reads a file.</summary>
    /// <param name="path">The file.</param>
    /// <param name="at">The names that lead to the array, with points; null for the outermost.</param>
    /// <param name="read">What is done with its rows.</param>
    /// <exception cref="ReportException">There is none, it is no JSON, or holds no objects.</exception>
    public static T Read<T>(string path, string? at, Func<RowSource, T> read) => DataFiles.Read(path, full =>
    {
        using var rows = new JsonRows(path, Encoding.UTF8.GetBytes(Files.TextEncoding.ReadUtf8(full, path)), at);
        return read(rows);
    });

    /// <summary>Reads what another program has written.</summary>
    /// <exception cref="ReportException">It is no JSON, or holds no objects.</exception>
    public static T Read<T>(byte[] bytes, string name, Func<RowSource, T> read)
    {
        using var rows = new JsonRows(name, bytes, null);
        return read(rows);
    }

    /// <inheritdoc/>
    public override int RowNumber => next;

    /// <inheritdoc/>
    public override bool Read()
    {
        if (next == starts.Count) return false;
        for (var c = 0; c < cells.Count; c++) cells[c] = default;
        var reader = new Utf8JsonReader(bytes.AsSpan(starts[next]), Options);
        reader.Read();
        Walk(ref reader, "", starts[next], (column, cell) => cells[column] = cell);
        next++;
        return true;
    }

    /// <inheritdoc/>
    public override SourcePlace PlaceOf(int column)
    {
        var start = cells[column].Length > 0 ? cells[column].Start : starts[next - 1];
        var before = bytes.AsSpan(0, start);
        return new SourcePlace(Name, before.Count((byte)'\n') + 1, start - before.LastIndexOf((byte)'\n'));
    }

    // Where each object starts, and all names that are in them.
    private void Index(string? at)
    {
        var reader = new Utf8JsonReader(bytes, Options);
        if (!reader.Read()) throw Wrong(0, "the file is empty");
        foreach (var name in at?.Split('.') ?? []) Descend(ref reader, name);
        if (reader.TokenType == JsonTokenType.StartArray)
        {
            while (reader.Read() && reader.TokenType != JsonTokenType.EndArray) Add(ref reader);
        }
        else if (at is null && reader.TokenType == JsonTokenType.StartObject)
        {
            do Add(ref reader);
            while (reader.Read());
            if (starts.Count == 1)
            {
                using var whole = JsonDocument.Parse(bytes, new JsonDocumentOptions { AllowTrailingCommas = true, CommentHandling = JsonCommentHandling.Skip });
                if (ArrayIn(whole.RootElement) is { } array) throw Wrong(starts[0], "the file is one object, not a table", $"name the array in it: `at: \"{array}\"`");
            }
        }
        else
        {
            throw Wrong((int)reader.TokenStartIndex, "this is not an array of objects", at is null ? null : $"`{at}` has to lead to one");
        }
        cells.AddRange(Enumerable.Repeat(default((JsonTokenType, int, int)), heads.Count));
        // What comes behind the data has to be JSON as well.
        while (reader.Read()) reader.Skip();
    }

    private void Descend(ref Utf8JsonReader reader, string name)
    {
        var names = new List<string>();
        var start = (int)reader.TokenStartIndex;
        if (reader.TokenType != JsonTokenType.StartObject) throw Wrong(start, $"there is no `{name}`: this is not an object");
        while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
        {
            var own = reader.GetString()!;
            reader.Read();
            if (own == name) return;
            names.Add(own);
            reader.Skip();
        }
        throw Wrong(start, $"there is no `{name}` in this object", Nearest.Suggest(name, names) ?? $"it has {string.Join(", ", names.Take(8).Select(n => $"`{n}`"))}");
    }

    private void Add(ref Utf8JsonReader reader)
    {
        if (reader.TokenType != JsonTokenType.StartObject) throw Wrong((int)reader.TokenStartIndex, "each row has to be an object", "write `{\"name\": value}`");
        starts.Add((int)reader.TokenStartIndex);
        var seen = new HashSet<int>();
        Walk(ref reader, "", 0, (column, cell) =>
        {
            if (!seen.Add(column)) throw Wrong(cell.Start, $"`{heads[column]}` stands twice in this object", "take out one of the two");
        });
    }

    // The values of an object, by their columns; the reader is left at its end.
    private void Walk(ref Utf8JsonReader reader, string prefix, int offset, Action<int, (JsonTokenType Kind, int Start, int Length)> add)
    {
        while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
        {
            var name = prefix + reader.GetString();
            reader.Read();
            if (reader.TokenType == JsonTokenType.StartObject)
            {
                Walk(ref reader, name + ".", offset, add);
                continue;
            }
            if (!columns.TryGetValue(name, out var column))
            {
                columns.Add(name, column = heads.Count);
                heads.Add(name);
            }
            var (kind, start) = (reader.TokenType, (int)reader.TokenStartIndex);
            reader.Skip();
            add(column, (kind, start + offset, (int)reader.BytesConsumed - start));
        }
    }

    // The names that lead to the first array of objects in an object.
    private static string? ArrayIn(JsonElement element)
    {
        if (element.ValueKind != JsonValueKind.Object) return null;
        foreach (var property in element.EnumerateObject())
        {
            if (property.Value.ValueKind == JsonValueKind.Array && property.Value.EnumerateArray().FirstOrDefault().ValueKind == JsonValueKind.Object) return property.Name;
            if (ArrayIn(property.Value) is { } deeper) return $"{property.Name}.{deeper}";
        }
        return null;
    }

    private ReportException Wrong(int start, string message, string? advice = null)
    {
        var before = bytes.AsSpan(0, start);
        return new ReportException(Diagnostic.Error(new SourcePlace(Name, before.Count((byte)'\n') + 1, start - before.LastIndexOf((byte)'\n')), message, advice));
    }

    private static string Reason(JsonException problem) => problem.Message.Split(" LineNumber:")[0].TrimEnd('.');
}
