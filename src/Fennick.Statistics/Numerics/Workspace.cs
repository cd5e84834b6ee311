using System.Runtime.CompilerServices;

namespace Fennick.Statistics.Numerics;

/// <summary>Room for a block of rows.</summary>
internal static class Workspace
{
    private const int CacheLine = 64;
    private const int WorthAligning = 2048;

    /// <summary>Zeros that start at a cache line where they are many, so that no wide load straddles two lines.</summary>
    public static unsafe Memory<double> Create(int length)
    {
        if (length < WorthAligning) return new double[length];
        var room = GC.AllocateArray<double>(length + (CacheLine / sizeof(double)), pinned: true);
        var beyond = (int)((nuint)Unsafe.AsPointer(ref room[0]) % CacheLine);
        return room.AsMemory((CacheLine - beyond) / sizeof(double), length);
    }
}
