using System.Buffers.Binary;
using System.Text;

namespace Fennick.Data.Labelled;

/// <summary>Numbers and texts of a file, in either order of bytes.</summary>
internal sealed class BinarySource(Stream stream)
{
    private const int LongestText = 64 * 1024 * 1024;
    private readonly byte[] buffer = new byte[8];

    /// <summary>Whether the most significant byte comes first.</summary>
    public bool IsBigEndian { get; set; }

    /// <summary>The encoding of texts.</summary>
    public Encoding Encoding { get; set; } = Encoding.Latin1;

    public long Position
    {
        get => stream.Position;
        set => stream.Position = value;
    }

    public Stream Stream => stream;

    public byte Byte() => Take(1)[0];

    public int Int32() => IsBigEndian ? BinaryPrimitives.ReadInt32BigEndian(Take(4)) : BinaryPrimitives.ReadInt32LittleEndian(Take(4));

    public ushort UInt16() => IsBigEndian ? BinaryPrimitives.ReadUInt16BigEndian(Take(2)) : BinaryPrimitives.ReadUInt16LittleEndian(Take(2));

    public long Int64() => IsBigEndian ? BinaryPrimitives.ReadInt64BigEndian(Take(8)) : BinaryPrimitives.ReadInt64LittleEndian(Take(8));

    public double Double() => BitConverter.Int64BitsToDouble(Int64());

    public float Single() => BitConverter.Int32BitsToSingle(Int32());

    /// <summary>An unsigned number of as many bytes.</summary>
    public ulong Unsigned(int bytes)
    {
        ulong value = 0;
        var taken = Take(bytes);
        for (var i = 0; i < bytes; i++) value |= (ulong)taken[IsBigEndian ? bytes - 1 - i : i] << (8 * i);
        return value;
    }

    public byte[] Bytes(long count)
    {
        if (count is < 0 or > LongestText || (stream.CanSeek && count > stream.Length - stream.Position)) throw new EndOfStreamException("it ends too early");
        var bytes = new byte[count];
        stream.ReadExactly(bytes);
        return bytes;
    }

    /// <summary>A text of a number of bytes, up to the first that is zero.</summary>
    public string Text(long count) => TextOf(Bytes(count));

    /// <summary>The text of bytes, up to the first that is zero.</summary>
    public string TextOf(ReadOnlySpan<byte> bytes) => Encoding.GetString(bytes.IndexOf((byte)0) is >= 0 and var end ? bytes[..end] : bytes);

    private Span<byte> Take(int count)
    {
        var taken = buffer.AsSpan(0, count);
        stream.ReadExactly(taken);
        return taken;
    }
}
