using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace Fennick.Files;

/// <summary>The standard streams of this process, as the system knows them.</summary>
internal static partial class UnixStreams
{
    private const int Output = 1;
    private const int Errors = 2;
    private const int DuplicateClosed = 1030;
    private const int FirstFree = 3;

    /// <summary>What this process was given to read, for itself alone: its code and the programs that it starts find nothing there.</summary>
    public static FileStream TakeInput()
    {
        var taken = Take(0);
        using var nothing = File.OpenHandle("/dev/null");
        _ = dup2((int)nothing.DangerousGetHandle(), 0);
        return new FileStream(taken, FileAccess.Read, bufferSize: 0);
    }

    /// <summary>Where this process was told to write, for itself alone; what its code and the programs that it starts write goes to a file.</summary>
    public static FileStream TakeOutput(string log)
    {
        var taken = Take(Output);
        SendTo(log, Output, Errors);
        return new FileStream(taken, FileAccess.Write, bufferSize: 0);
    }

    /// <summary>Sends to a file what the system writes of this process when it dies. A console that was used before keeps its own way to the terminal.</summary>
    public static void SendErrorsTo(string log) => SendTo(log, Errors);

    private static SafeFileHandle Take(int number) => new(fcntl(number, DuplicateClosed, FirstFree), ownsHandle: true);

    private static void SendTo(string log, params ReadOnlySpan<int> numbers)
    {
        using var file = new FileStream(log, FileMode.Append, FileAccess.Write, FileShare.ReadWrite, bufferSize: 0);
        foreach (var number in numbers) _ = dup2((int)file.SafeFileHandle.DangerousGetHandle(), number);
    }

    [LibraryImport("libc")]
    private static partial int dup2(int from, int to);

    [LibraryImport("libc")]
    private static partial int fcntl(int handle, int command, int argument);
}
