namespace Fennick.Manuscripts.Running;

/// <summary>The current folder of the process, which follows the manuscript that runs where the process does nothing else.</summary>
internal sealed class WorkingFolder : IDisposable
{
    private readonly string before = Current;

    private WorkingFolder()
    {
    }

    /// <summary>Whether the process is there to run one manuscript at a time, so that also what its steps read by paths of the process is beside it.</summary>
    public static bool Follows { get; set; }

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

    /// <summary>Makes a folder the current one until this is disposed of, if the process follows.</summary>
    public static WorkingFolder Enter(string folder)
    {
        var entered = new WorkingFolder();
        if (Follows) Environment.CurrentDirectory = folder;
        return entered;
    }

    /// <summary>Makes a folder the current one, if it is still there.</summary>
    public static void Change(string folder)
    {
        if (Directory.Exists(folder)) Environment.CurrentDirectory = folder;
    }

    public void Dispose()
    {
        if (Follows) Change(before);
    }
}
