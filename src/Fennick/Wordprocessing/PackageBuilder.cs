using System.Buffers.Binary;
using System.IO.Compression;
using System.IO.Hashing;
using System.Security.Cryptography;
using System.Text;
using Fennick.Diagnostics;

namespace Fennick.Wordprocessing;

/// <summary>Puts a package together from slabs and freshly written parts; nothing static is compressed or copied again.</summary>
/// <remarks>The format is that of APPNOTE 6.3.3 §4.3 as ECMA-376 Part 2, §7.3 profiles it: deflated or stored, no data descriptors.</remarks>
internal sealed class PackageBuilder : IDisposable
{
    private const int LocalHeaderLength = 30;
    private const int CentralHeaderLength = 46;
    private const int EndLength = 22;
    // To set up a deflater costs more than these bytes are worth.
    private const int SmallestWorthDeflating = 1200;
    private const ushort VersionNeeded = 20;

    private readonly List<Entry> entries = [];
    private readonly PooledBuffer arena = new(64 * 1024);
    private readonly ArenaStream arenaStream;
    private readonly ushort dosDate;

    /// <param name="date">The time stamp of every part; the earliest that the format knows if null.</param>
    public PackageBuilder(DateOnly? date)
    {
        arenaStream = new ArenaStream(arena);
        var stamp = date is { Year: >= 1980 and <= 2107 } d ? d : new DateOnly(1980, 1, 1);
        dosDate = (ushort)(((stamp.Year - 1980) << 9) | (stamp.Month << 5) | stamp.Day);
    }

    /// <summary>Adds a part that is compressed already; the same slab may serve many names.</summary>
    public void Add(string name, Slab slab) => entries.Add(new Entry(name, slab.Crc, slab.UncompressedLength, slab.IsDeflated, slab.Data, 0, slab.Data.Length));

    /// <summary>Adds a part as it is, or deflates it if that is worth it.</summary>
    /// <param name="name">The part's name, without a leading slash.</param>
    /// <param name="content">Its bytes, copied.</param>
    /// <param name="first">Whether it goes before all others.</param>
    /// <param name="level">How hard it is compressed.</param>
    public void Add(string name, ReadOnlySpan<byte> content, bool first = false, CompressionLevel level = CompressionLevel.Fastest)
    {
        var deflates = content.Length >= SmallestWorthDeflating;
        var start = arena.Length;
        if (deflates) Deflate(content, level);
        else arena.Write(content);
        Insert(new Entry(name, Crc32.HashToUInt32(content), content.Length, deflates, null, start, arena.Length - start), first);
    }

    /// <summary>Adds a part that is compressed by its own nature, as it is.</summary>
    public void AddStored(string name, ReadOnlySpan<byte> content)
    {
        var start = arena.Length;
        arena.Write(content);
        Insert(new Entry(name, Crc32.HashToUInt32(content), content.Length, false, null, start, content.Length), first: false);
    }

    /// <summary>Opens a part that is written piece by piece; no other part may be added before it is finished.</summary>
    public OpenPart Open(string name) => new(this, name);

    /// <summary>Writes the package to memory.</summary>
    public void WriteTo(PooledBuffer target)
    {
        foreach (var segment in Segments()) target.Write(segment.Span);
    }

    /// <summary>The hash of the package as it will be written.</summary>
    public string Hash()
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        foreach (var segment in Segments()) hash.AppendData(segment.Span);
        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }

    /// <summary>What tells later whether anybody has worked on the document: a hash of the parts that are there so far.</summary>
    public string Seal() => Files.Seal.Of(entries.Select(e => (e.Name, e.Crc, (long)e.UncompressedLength)));

    /// <summary>The checksums of the parts that are there so far.</summary>
    public IEnumerable<(string Name, uint Checksum)> Checksums => entries.Select(e => (e.Name, e.Crc));

    /// <summary>Writes the package into a file from its start.</summary>
    public void WriteTo(FileStream file) => RandomAccess.Write(file.SafeFileHandle, Segments(), 0);

    /// <summary>Writes the package into a stream.</summary>
    public void WriteTo(Stream stream)
    {
        foreach (var segment in Segments()) stream.Write(segment.Span);
    }

    /// <summary>Writes the package into a stream without blocking.</summary>
    public async Task WriteToAsync(Stream stream, CancellationToken stop)
    {
        foreach (var segment in Segments()) await stream.WriteAsync(segment, stop).ConfigureAwait(false);
    }

    public void Dispose() => arena.Dispose();

    private void Insert(Entry entry, bool first)
    {
        if (first) entries.Insert(0, entry);
        else entries.Add(entry);
    }

    private void Deflate(ReadOnlySpan<byte> content, CompressionLevel level)
    {
        using var deflate = new DeflateStream(arenaStream, level, leaveOpen: true);
        deflate.Write(content);
    }

    /// <summary>Headers and data in file order, ready to be gathered.</summary>
    private List<ReadOnlyMemory<byte>> Segments()
    {
        if (entries.Count > ushort.MaxValue)
            throw new ReportException(Diagnostic.Error(null, $"the document would have {entries.Count} parts, more than a package can hold", "split the report"));
        var nameBytes = entries.Sum(e => Encoding.UTF8.GetByteCount(e.Name));
        var headers = new byte[(entries.Count * (LocalHeaderLength + CentralHeaderLength)) + (2 * nameBytes) + EndLength];
        var segments = new List<ReadOnlyMemory<byte>>((2 * entries.Count) + 1);
        var offsets = new uint[entries.Count];
        var at = 0;
        long position = 0;
        for (var i = 0; i < entries.Count; i++)
        {
            var entry = entries[i];
            offsets[i] = (uint)position;
            var length = WriteLocalHeader(headers.AsSpan(at), entry);
            segments.Add(headers.AsMemory(at, length));
            segments.Add(entry.Data ?? arena.Written.Slice(entry.Start, entry.Length));
            at += length;
            position += length + entry.Length;
            if (position > uint.MaxValue)
                throw new ReportException(Diagnostic.Error(null, "the document would be larger than 4 GB", "split the report"));
        }
        var directoryStart = at;
        for (var i = 0; i < entries.Count; i++) at += WriteCentralHeader(headers.AsSpan(at), entries[i], offsets[i]);
        var directoryLength = at - directoryStart;
        WriteEnd(headers.AsSpan(at), directoryLength, (uint)position);
        segments.Add(headers.AsMemory(directoryStart, directoryLength + EndLength));
        return segments;
    }

    private int WriteLocalHeader(Span<byte> to, Entry entry)
    {
        BinaryPrimitives.WriteUInt32LittleEndian(to, 0x04034B50);
        WriteCommon(to[4..], entry);
        return LocalHeaderLength + Encoding.UTF8.GetBytes(entry.Name, to[LocalHeaderLength..]);
    }

    private int WriteCentralHeader(Span<byte> to, Entry entry, uint offset)
    {
        BinaryPrimitives.WriteUInt32LittleEndian(to, 0x02014B50);
        BinaryPrimitives.WriteUInt16LittleEndian(to[4..], VersionNeeded);
        WriteCommon(to[6..], entry);
        BinaryPrimitives.WriteUInt32LittleEndian(to[42..], offset);
        return CentralHeaderLength + Encoding.UTF8.GetBytes(entry.Name, to[CentralHeaderLength..]);
    }

    private void WriteCommon(Span<byte> to, Entry entry)
    {
        BinaryPrimitives.WriteUInt16LittleEndian(to, VersionNeeded);
        BinaryPrimitives.WriteUInt16LittleEndian(to[4..], (ushort)(entry.IsDeflated ? 8 : 0));
        BinaryPrimitives.WriteUInt16LittleEndian(to[8..], dosDate);
        BinaryPrimitives.WriteUInt32LittleEndian(to[10..], entry.Crc);
        BinaryPrimitives.WriteUInt32LittleEndian(to[14..], (uint)entry.Length);
        BinaryPrimitives.WriteUInt32LittleEndian(to[18..], (uint)entry.UncompressedLength);
        BinaryPrimitives.WriteUInt16LittleEndian(to[22..], (ushort)Encoding.UTF8.GetByteCount(entry.Name));
    }

    private void WriteEnd(Span<byte> to, int directoryLength, uint directoryOffset)
    {
        BinaryPrimitives.WriteUInt32LittleEndian(to, 0x06054B50);
        BinaryPrimitives.WriteUInt16LittleEndian(to[8..], (ushort)entries.Count);
        BinaryPrimitives.WriteUInt16LittleEndian(to[10..], (ushort)entries.Count);
        BinaryPrimitives.WriteUInt32LittleEndian(to[12..], (uint)directoryLength);
        BinaryPrimitives.WriteUInt32LittleEndian(to[16..], directoryOffset);
    }

    /// <summary>A part: its data is a slab's, or a stretch of the arena.</summary>
    private readonly record struct Entry(string Name, uint Crc, int UncompressedLength, bool IsDeflated, ReadOnlyMemory<byte>? Data, int Start, int Length);

    /// <summary>A part that is compressed while it is written.</summary>
    internal sealed class OpenPart(PackageBuilder package, string name) : IDisposable
    {
        private readonly Crc32 crc = new();
        private DeflateStream? deflate;
        private int start;
        private long length;

        /// <summary>Takes what a buffer holds, and empties it.</summary>
        public void Take(PooledBuffer buffer)
        {
            if (deflate is null)
            {
                start = package.arena.Length;
                deflate = new DeflateStream(package.arenaStream, CompressionLevel.Fastest, leaveOpen: true);
            }
            crc.Append(buffer.WrittenSpan);
            length += buffer.Length;
            if (length > int.MaxValue) throw new ReportException(Diagnostic.Error(null, "the text of the document would be larger than 2 GB", "split the report"));
            deflate.Write(buffer.WrittenSpan);
            buffer.Clear();
        }

        /// <summary>Takes the rest and adds the part.</summary>
        public void Finish(PooledBuffer buffer)
        {
            if (deflate is null)
            {
                package.Add(name, buffer.WrittenSpan);
                return;
            }
            Take(buffer);
            deflate!.Dispose();
            package.entries.Add(new Entry(name, crc.GetCurrentHashAsUInt32(), (int)length, true, null, start, package.arena.Length - start));
        }

        public void Dispose() => deflate?.Dispose();
    }

    private sealed class ArenaStream(PooledBuffer arena) : Stream
    {
        public override bool CanRead => false;

        public override bool CanSeek => false;

        public override bool CanWrite => true;

        public override long Length => arena.Length;

        public override long Position { get => arena.Length; set => throw new NotSupportedException(); }

        public override void Write(byte[] buffer, int offset, int count) => arena.Write(buffer.AsSpan(offset, count));

        public override void Write(ReadOnlySpan<byte> buffer) => arena.Write(buffer);

        public override void Flush()
        {
        }

        public override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException();

        public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

        public override void SetLength(long value) => throw new NotSupportedException();
    }
}
