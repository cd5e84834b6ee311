namespace Fennick.Manuscripts.Running;

/// <summary>The current folder of the process, which a manuscript's steps read from, while they run.</summary>
internal sealed class WorkingFolder : IDisposable
{
    private readonly string before = Environment.CurrentDirectory;

    private WorkingFolder(string folder) => Environment.CurrentDirectory = folder;

    /// <summary>Makes a folder the current one until this is disposed of.</summary>
    public static WorkingFolder Enter(string folder) => new(folder);

    public void Dispose() => Environment.CurrentDirectory = before;
}
