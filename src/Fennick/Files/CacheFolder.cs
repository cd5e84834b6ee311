namespace Fennick.Files;

/// <summary>Where Fennick keeps what it can make or fetch again.</summary>
internal static class CacheFolder
{
    /// <summary>The variable that names another folder.</summary>
    public const string Variable = "FENNICK_CACHE";

    private const string TemporaryName = "fennick-cache-";

    private static readonly Lazy<string> Homeless = new(CreateTemporary);

    /// <summary>The folder.</summary>
    public static string Root =>
        Environment.GetEnvironmentVariable(Variable) is { Length: > 0 } named ? Path.GetFullPath(named)
        : Environment.GetEnvironmentVariable("XDG_CACHE_HOME") is ['/', ..] cache ? Path.Combine(cache, "fennick")
        : Environment.GetFolderPath(Environment.SpecialFolder.UserProfile) is { Length: > 0 } home ? Path.Combine(home, ".cache", "fennick") : Homeless.Value;

    /// <summary>The cache of a user without a home: a private folder that goes when the process ends.</summary>
    private static string CreateTemporary()
    {
        OwnFolders.RemoveOld(TemporaryName, TimeSpan.FromDays(1));
        var folder = OwnFolders.CreateTemporary(TemporaryName);
        AppDomain.CurrentDomain.ProcessExit += (_, _) => Directory.Delete(folder, recursive: true);
        return folder;
    }
}
