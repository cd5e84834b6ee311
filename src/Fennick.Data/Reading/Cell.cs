using System.Globalization;
using System.Text;

namespace Fennick.Data.Reading;

/// <summary>What a cell holds.</summary>
internal enum CellKind
{
    Missing,
    Text,
    Whole,
    Number,
    Exact,
    Truth,
    Time,
    OffsetTime,
}

/// <summary>A cell of a row; it is valid until the next row is read.</summary>
internal readonly ref struct Cell
{
    private readonly ReadOnlySpan<byte> bytes;
    // A text, or a value that does not fit into the bits.
    private readonly object? content;
    private readonly long bits;

    private Cell(CellKind kind, long bits = 0, object? content = null, ReadOnlySpan<byte> bytes = default)
    {
        Kind = kind;
        this.bits = bits;
        this.content = content;
        this.bytes = bytes;
    }

    public CellKind Kind { get; }

    public long Whole => bits;

    public double Number => BitConverter.Int64BitsToDouble(bits);

    public decimal Exact => (decimal)content!;

    public DateTime Time => new(bits);

    public DateTimeOffset OffsetTime => (DateTimeOffset)content!;

    /// <summary>The bytes of a text, or of a written number, in UTF-8; empty where it came as characters.</summary>
    public ReadOnlySpan<byte> Bytes => bytes;

    /// <summary>A cell without a value, and the word that says so.</summary>
    public static Cell Missing(string? word = null) => new(CellKind.Missing, content: word);

    /// <summary>A cell of text in UTF-8.</summary>
    public static Cell Utf8(ReadOnlySpan<byte> bytes) => new(CellKind.Text, bytes: bytes);

    /// <summary>A cell of text.</summary>
    public static Cell Text(string text) => new(CellKind.Text, content: text);

    /// <summary>A cell of a whole number.</summary>
    public static Cell Integer(long value) => new(CellKind.Whole, value);

    /// <summary>A cell of a number; not-a-number is one.</summary>
    /// <param name="value">The number.</param>
    /// <param name="written">As it is written, in UTF-8, where more digits may stand than the number holds.</param>
    public static Cell Real(double value, ReadOnlySpan<byte> written = default) => new(CellKind.Number, BitConverter.DoubleToInt64Bits(value), bytes: written);

    /// <summary>A cell of what a source has already read.</summary>
    /// <returns>A cell; of kind <see cref="CellKind.Missing"/> for null, of text for what is none of the kinds.</returns>
    public static Cell Of(object? value) => value switch
    {
        null or DBNull => Missing(),
        string s => Text(s),
        double d => Real(d),
        float f => Real(double.Parse(f.ToString(CultureInfo.InvariantCulture), CultureInfo.InvariantCulture)),
        decimal m => new(CellKind.Exact, content: m),
        long l => Integer(l),
        int i => Integer(i),
        short or sbyte or byte or ushort or uint => Integer(Convert.ToInt64(value, CultureInfo.InvariantCulture)),
        ulong u => u <= long.MaxValue ? Integer((long)u) : new(CellKind.Exact, content: (decimal)u),
        bool b => new(CellKind.Truth, b ? 1 : 0),
        DateTime t => new(CellKind.Time, t.Ticks),
        DateOnly d => new(CellKind.Time, d.ToDateTime(default).Ticks),
        DateTimeOffset o => new(CellKind.OffsetTime, content: o),
        TimeOnly t => Text(t.ToString("HH:mm:ss.FFFFFFF", CultureInfo.InvariantCulture)),
        byte[] b => Text(Convert.ToHexStringLower(b)),
        IFormattable f => Text(f.ToString(null, CultureInfo.InvariantCulture)),
        _ => Text(value.ToString() ?? ""),
    };

    /// <summary>The cell as text that can be read back.</summary>
    public string ToText() => Kind switch
    {
        CellKind.Missing or CellKind.Text => (string?)content ?? Encoding.UTF8.GetString(bytes),
        CellKind.Whole => Whole.ToString(CultureInfo.InvariantCulture),
        CellKind.Number => Number.ToString("R", CultureInfo.InvariantCulture),
        CellKind.Exact => Exact.ToString(CultureInfo.InvariantCulture),
        CellKind.Truth => Whole != 0 ? "yes" : "no",
        CellKind.Time => Time.ToString(Time.TimeOfDay == default ? "yyyy-MM-dd" : "yyyy-MM-dd'T'HH:mm:ss.FFFFFFF", CultureInfo.InvariantCulture),
        _ => OffsetTime.ToString("yyyy-MM-dd'T'HH:mm:ss.FFFFFFFzzz", CultureInfo.InvariantCulture),
    };
}
