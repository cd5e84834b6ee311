namespace Fennick.Manuscripts.Running;

/// <summary>The current folder of the process, which a manuscript's steps read from, while they run.</summary>
internal sealed class WorkingFolder : IDisposable
{
    private readonly string before = Current;

    private WorkingFolder(string folder) => Environment.CurrentDirectory = folder;

    /// <summary>The current folder; nothing if somebody has removed it.</summary>
    public static string Current
    {
        get
        {
            try
            {
                return Environment.CurrentDirectory;
            }
            catch (IOException)
            {
                return "";
            }
        }
    }

    /// <summary>Makes a folder the current one until this is disposed of.</summary>
    public static WorkingFolder Enter(string folder) => new(folder);

    /// <summary>Makes a folder the current one, if it is still there.</summary>
    public static void Change(string folder)
    {
        if (Directory.Exists(folder)) Environment.CurrentDirectory = folder;
    }

    public void Dispose() => Change(before);
}
