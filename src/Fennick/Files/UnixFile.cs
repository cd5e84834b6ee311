using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace Fennick.Files;

/// <summary>What the system knows of a file, a folder or what a link leads to.</summary>
/// <param name="Device">The device that it lies on.</param>
/// <param name="Number">Its number there; with the device it is the same for all names that a file has.</param>
/// <param name="Owner">Whose it is.</param>
/// <param name="Group">The group that it belongs to.</param>
/// <param name="Mode">Who may do what with it.</param>
/// <param name="IsOrdinary">Whether it is a file or a folder, and no pipe, device or socket.</param>
internal readonly partial record struct UnixFile(ulong Device, ulong Number, uint Owner, uint Group, UnixFileMode Mode, bool IsOrdinary)
{
    private const int CurrentFolder = -100;
    private const int EmptyPath = 0x1000;
    private const uint BasicStatistics = 0x7FF;
    private const int ReadOnly = 0;
    private const int Folder = 0x10000;
    private const int SharedLock = 1;
    private const int PermissionBits = 0xFFF;
    private const int KindBits = 0xF000;
    private const int KindFile = 0x8000;
    private const int KindFolder = 0x4000;

    /// <summary>The user whom this process acts for.</summary>
    public static uint CurrentUser => geteuid();

    /// <summary>Whether it is the current user's.</summary>
    public bool IsOwn => Owner == CurrentUser;

    /// <summary>What a path leads to; null if there is nothing.</summary>
    public static UnixFile? Of(string path) => Read(CurrentFolder, path, 0);

    /// <summary>What is open.</summary>
    public static UnixFile? Of(SafeFileHandle handle) => Read((int)handle.DangerousGetHandle(), "", EmptyPath);

    /// <summary>Whether it is the same file, whatever it is called.</summary>
    public bool IsSame(UnixFile other) => Device == other.Device && Number == other.Number;

    /// <summary>Gives a file to somebody, if the system allows that.</summary>
    public static bool TryGive(string path, uint owner, uint group) => chown(path, owner, group) == 0;

    /// <summary>Lets others open for reading what this process has locked for itself alone; still nobody can lock it alone.</summary>
    public static void ShareLock(SafeFileHandle handle) => _ = flock((int)handle.DangerousGetHandle(), SharedLock);

    /// <summary>Puts the names in a folder on the disk.</summary>
    public static void FlushFolder(string path)
    {
        var handle = open(path, ReadOnly | Folder);
        if (handle < 0) return;
        // Some file systems cannot, and then there is nothing more to be done.
        _ = fsync(handle);
        _ = close(handle);
    }

    // struct statx of Linux is the same on all processors.
    private static UnixFile? Read(int folder, string path, int flags)
    {
        Span<byte> buffer = stackalloc byte[256];
        if (statx(folder, path, flags, BasicStatistics, buffer) != 0) return null;
        var mode = MemoryMarshal.Read<ushort>(buffer[28..]);
        return new UnixFile(
            ((ulong)MemoryMarshal.Read<uint>(buffer[136..]) << 32) | MemoryMarshal.Read<uint>(buffer[140..]),
            MemoryMarshal.Read<ulong>(buffer[32..]), MemoryMarshal.Read<uint>(buffer[20..]), MemoryMarshal.Read<uint>(buffer[24..]), (UnixFileMode)(mode & PermissionBits),
            (mode & KindBits) is KindFile or KindFolder);
    }

    [LibraryImport("libc", StringMarshalling = StringMarshalling.Utf8)]
    private static partial int statx(int folder, string path, int flags, uint mask, Span<byte> buffer);

    [LibraryImport("libc", StringMarshalling = StringMarshalling.Utf8)]
    private static partial int chown(string path, uint owner, uint group);

    [LibraryImport("libc", StringMarshalling = StringMarshalling.Utf8)]
    private static partial int open(string path, int flags);

    [LibraryImport("libc", StringMarshalling = StringMarshalling.Utf8)]
    private static partial int flock(int handle, int operation);

    [LibraryImport("libc", StringMarshalling = StringMarshalling.Utf8)]
    private static partial int fsync(int handle);

    [LibraryImport("libc", StringMarshalling = StringMarshalling.Utf8)]
    private static partial int close(int handle);

    [LibraryImport("libc", StringMarshalling = StringMarshalling.Utf8)]
    private static partial uint geteuid();
}
