namespace Fennick.Testing;

/// <summary>Where things are in the repository.</summary>
public static class Repository
{
    /// <summary>The folder that holds the solution.</summary>
    public static string Root { get; } = FindRoot();

    public static string PathOf(params string[] parts) => Path.Combine([Root, .. parts]);

    // A program of one file is built elsewhere: it is run from the repository.
    private static string FindRoot() => new[] { AppContext.BaseDirectory, Environment.CurrentDirectory }.Select(FindAbove).OfType<string>().FirstOrDefault() ?? throw new InvalidOperationException("This runs outside the repository.");

    private static string? FindAbove(string start)
    {
        for (var folder = start; folder is not null; folder = Path.GetDirectoryName(folder))
            if (File.Exists(Path.Combine(folder, "Fennick.slnx"))) return folder;
        return null;
    }
}
