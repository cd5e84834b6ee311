namespace Fennick.Testing;

/// <summary>Where things are in the repository.</summary>
public static class Repository
{
    /// <summary>The folder that holds the solution.</summary>
    public static string Root { get; } = FindRoot();

    public static string PathOf(params string[] parts) => Path.Combine([Root, .. parts]);

    private static string FindRoot()
    {
        var folder = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(folder, "Fennick.slnx")))
            folder = Path.GetDirectoryName(folder) ?? throw new InvalidOperationException("The tests run outside the repository.");
        return folder;
    }
}
