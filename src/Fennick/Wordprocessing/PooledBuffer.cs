using System.Buffers;

namespace Fennick.Wordprocessing;

/// <summary>A growing buffer over pooled arrays.</summary>
internal sealed class PooledBuffer : IBufferWriter<byte>, IDisposable
{
    private byte[] array;

    public PooledBuffer(int capacity = 16 * 1024) => array = ArrayPool<byte>.Shared.Rent(capacity);

    public int Length { get; private set; }

    public ReadOnlyMemory<byte> Written => array.AsMemory(0, Length);

    public ReadOnlySpan<byte> WrittenSpan => array.AsSpan(0, Length);

    public void Clear() => Length = 0;

    public void Advance(int count) => Length += count;

    public Memory<byte> GetMemory(int sizeHint = 0)
    {
        Ensure(sizeHint);
        return array.AsMemory(Length);
    }

    public Span<byte> GetSpan(int sizeHint = 0)
    {
        Ensure(sizeHint);
        return array.AsSpan(Length);
    }

    public void Write(ReadOnlySpan<byte> bytes)
    {
        Ensure(bytes.Length);
        bytes.CopyTo(array.AsSpan(Length));
        Length += bytes.Length;
    }

    public void Dispose()
    {
        ArrayPool<byte>.Shared.Return(array);
        array = [];
        Length = 0;
    }

    private void Ensure(int free)
    {
        if (Length + Math.Max(1, free) > array.Length) Grow(Length + Math.Max(1, free));
    }

    private void Grow(int needed)
    {
        var larger = ArrayPool<byte>.Shared.Rent(Math.Max(needed, checked(array.Length * 2)));
        array.AsSpan(0, Length).CopyTo(larger);
        ArrayPool<byte>.Shared.Return(array);
        array = larger;
    }
}
