namespace Fennick.Files;

/// <summary>Keeps names that come from elsewhere (ledgers, rosters, archives, documents) inside the folder that they are meant for.</summary>
internal static class InsidePath
{
    /// <summary>The full path of a name in a folder.</summary>
    /// <param name="folder">The folder.</param>
    /// <param name="name">The name, which may hold folders of its own.</param>
    /// <returns>Null if it leads out of the folder, by itself or by links in it, or is not a name.</returns>
    public static string? Find(string folder, string name)
    {
        if (name.Length == 0 || name.AsSpan().IndexOfAny('\0', '\\') >= 0 || Path.IsPathRooted(name)) return null;
        var segments = name.Split('/');
        if (segments.Any(s => s is "" or "." or "..")) return null;
        var path = Path.GetFullPath(folder);
        for (var i = 0; i < segments.Length; i++)
        {
            path = Path.Combine(path, segments[i]);
            // A link inside may lead anywhere.
            if (new FileInfo(path).LinkTarget is not null) return null;
        }
        return path;
    }
}
