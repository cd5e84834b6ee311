using Fennick.Data.Reading;
using Fennick.Diagnostics;
using Parquet;
using Parquet.Schema;

namespace Fennick.Data.Parquets;

/// <summary>The rows of a Parquet file, a group of rows at a time; a column is read when it is first asked for.</summary>
internal sealed class ParquetRows : RowSource
{
    private readonly ParquetReader reader;
    private readonly DataField[] fields;
    private readonly string[] heads;
    private readonly IValues?[] columns;
    private ParquetRowGroupReader? group;
    private int groups;
    private int inGroup = -1;
    private long row;

    private ParquetRows(string name, ParquetReader reader)
        : base(name)
    {
        this.reader = reader;
        fields = [.. reader.Schema.GetDataFields().Where(f => f.MaxRepetitionLevel == 0)];
        heads = [.. fields.Select(f => string.Join('.', f.Path.ToString().Split('/')))];
        columns = new IValues?[fields.Length];
    }

    private interface IValues
    {
        Cell this[int row] { get; }
    }

    /// <inheritdoc/>
    public override IReadOnlyList<string> Heads => heads;

    /// <inheritdoc/>
    public override bool HasTypes => true;

    /// <inheritdoc/>
    public override SourcePlace HeadPlace => new(Name, -1, 0);

    /// <inheritdoc/>
    public override Cell this[int column] => (columns[column] ??= Decode(Name, () => Load(fields[column])))[inGroup];

    /// <summary>Reads a file.</summary>
    /// <exception cref="ReportException">There is none, or it is no Parquet.</exception>
    public static T Read<T>(string path, Func<RowSource, T> read) => DataFiles.Read(path, full =>
    {
        using var stream = new FileStream(full, FileMode.Open, FileAccess.Read, FileShare.Read);
        using var rows = Decode(path, () => new ParquetRows(path, ParquetReader.CreateAsync(stream).GetAwaiter().GetResult()));
        return read(rows);
    });

    /// <inheritdoc/>
    public override int RowNumber => (int)row;

    /// <inheritdoc/>
    public override bool Read()
    {
        while (group is null || inGroup + 1 >= group.RowCount)
        {
            if (groups == reader.RowGroupCount) return false;
            group?.Dispose();
            group = Decode(Name, () => reader.OpenRowGroupReader(groups++));
            inGroup = -1;
            Array.Clear(columns);
        }
        inGroup++;
        row++;
        return true;
    }

    /// <inheritdoc/>
    public override SourcePlace PlaceOf(int column) => new(NameOfRow(RowNumber), -1, 0);

    /// <inheritdoc/>
    public override void Dispose()
    {
        group?.Dispose();
        reader.DisposeAsync().AsTask().GetAwaiter().GetResult();
        base.Dispose();
    }

    private static T Decode<T>(string path, Func<T> call) => DataFiles.Decode(path, "Parquet file", null, call);

    private IValues Load(DataField field)
    {
        var type = field.ClrType;
        if (type == typeof(string) || type == typeof(ReadOnlyMemory<char>))
        {
            var texts = new string?[group!.RowCount];
            Wait(group.ReadAsync(field, texts.AsMemory()));
            return new Objects(texts);
        }
        if (type == typeof(byte[]) || type == typeof(ReadOnlyMemory<byte>))
        {
            var bytes = new byte[]?[group!.RowCount];
            Wait(group.ReadAsync(field, bytes.AsMemory()));
            return new Objects(bytes);
        }
        return type == typeof(double) ? Numbers<double>(field, v => Cell.Real(v))
            : type == typeof(float) ? Numbers<float>(field, v => Cell.Of(v))
            : type == typeof(long) ? Numbers<long>(field, v => Cell.Integer(v))
            : type == typeof(int) ? Numbers<int>(field, v => Cell.Integer(v))
            : type == typeof(short) ? Numbers<short>(field, v => Cell.Integer(v))
            : type == typeof(sbyte) ? Numbers<sbyte>(field, v => Cell.Integer(v))
            : type == typeof(byte) ? Numbers<byte>(field, v => Cell.Integer(v))
            : type == typeof(ushort) ? Numbers<ushort>(field, v => Cell.Integer(v))
            : type == typeof(uint) ? Numbers<uint>(field, v => Cell.Integer(v))
            : type == typeof(ulong) ? Numbers<ulong>(field, v => Cell.Of(v))
            : type == typeof(bool) ? Numbers<bool>(field, v => Cell.Of(v))
            : type == typeof(decimal) ? Numbers<decimal>(field, v => Cell.Of(v))
            : type == typeof(DateTime) ? Numbers<DateTime>(field, v => Cell.Of(v))
            : type == typeof(DateOnly) ? Numbers<DateOnly>(field, v => Cell.Of(v))
            : type == typeof(TimeOnly) ? Numbers<TimeOnly>(field, v => Cell.Of(v))
            : type == typeof(TimeSpan) ? Numbers<TimeSpan>(field, v => Cell.Of(v))
            : type == typeof(Guid) ? Numbers<Guid>(field, v => Cell.Of(v))
            : throw new ReportException(Diagnostic.Error(HeadPlace, $"column `{field.Name}` holds values of type {type.Name}, which cannot be read"));
    }

    private Values<T> Numbers<T>(DataField field, ToCell<T> toCell)
        where T : struct
    {
        var values = new T?[group!.RowCount];
        if (field.IsNullable)
        {
            Wait(group.ReadAsync(field, values.AsMemory()));
        }
        else
        {
            var plain = new T[values.Length];
            Wait(group.ReadAsync(field, plain.AsMemory()));
            for (var i = 0; i < plain.Length; i++) values[i] = plain[i];
        }
        return new Values<T>(values, toCell);
    }

    private static void Wait(ValueTask task) => task.AsTask().GetAwaiter().GetResult();

    private delegate Cell ToCell<T>(T value);

    private sealed class Values<T>(T?[] values, ToCell<T> toCell) : IValues
        where T : struct
    {
        public Cell this[int row] => values[row] is { } value ? toCell(value) : Cell.Missing();
    }

    private sealed class Objects(object?[] values) : IValues
    {
        public Cell this[int row] => Cell.Of(values[row]);
    }
}
