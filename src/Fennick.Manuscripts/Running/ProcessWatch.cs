using System.Diagnostics;
using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Manuscripts.Running;

/// <summary>The private folder by which a process is watched that runs steps: it marks there which step it is in, and the system writes there how it ends.</summary>
/// <param name="prefix">What the folder's name starts with.</param>
internal sealed class ProcessWatch(string prefix) : IDisposable
{
    /// <summary>The folder; the process is given its path.</summary>
    public string Folder { get; } = OwnFolders.CreateTemporary(prefix);

    /// <summary>Whether the process is, or was when it ended, in a step.</summary>
    public bool IsInStep => StepMark.Read(MarkIn(Folder)) is not null;

    /// <summary>What was written beside the console: by programs that steps have started, or by the system.</summary>
    public string Written => ProcessEnd.Tail(LogIn(Folder));

    /// <summary>How much that is, in bytes.</summary>
    public long WrittenLength => new FileInfo(LogIn(Folder)) is { Exists: true } log ? log.Length : 0;

    /// <summary>In the process that is watched: its steps are marked from now on.</summary>
    public static void Enter(string folder) => StepMark.Open(MarkIn(folder));

    /// <summary>In the process that is watched: where what it writes beside the console goes.</summary>
    public static string LogIn(string folder) => Path.Combine(folder, "log");

    /// <summary>Gets ready for a process that has done nothing yet.</summary>
    public void Reset()
    {
        StepMark.Create(MarkIn(Folder));
        ClearWritten();
    }

    /// <summary>Forgets what was written.</summary>
    public void ClearWritten() => File.WriteAllText(LogIn(Folder), "");

    /// <summary>How the process has ended that a step has ended.</summary>
    public Diagnostic Describe(Process process) => ProcessEnd.Describe(process, StepMark.Read(MarkIn(Folder)), Written);

    public void Dispose() => Directory.Delete(Folder, recursive: true);

    private static string MarkIn(string folder) => Path.Combine(folder, "mark");
}
