namespace Fennick;

/// <summary>Files that are there whole or not at all.</summary>
internal static class WholeFile
{
    private const string Ending = ".part";

    /// <summary>Writes a file beside its place and then renames it: the old file stays whole until the new one is.</summary>
    /// <param name="path">Its full path; where that is a link, what it leads to is written.</param>
    /// <param name="write">Writes the file of the path that it is given, which is not there yet.</param>
    public static void Put(string path, Action<string> write)
    {
        var place = (File.Exists(path) ? File.ResolveLinkTarget(path, returnFinalTarget: true)?.FullName : null) ?? path;
        var beside = Path.Combine(Path.GetDirectoryName(place)!, $".{Path.GetFileName(place)}.{Guid.NewGuid():N}{Ending}");
        try
        {
            write(beside);
            File.Move(beside, place, overwrite: true);
        }
        catch
        {
            File.Delete(beside);
            throw;
        }
    }

    /// <summary>Whether a file is one that was to be renamed to another, but was not, since its process was killed.</summary>
    public static bool IsLeftOver(string file, string of)
    {
        var (name, start) = (Path.GetFileName(file), $".{Path.GetFileName(of)}.");
        return name.StartsWith(start, StringComparison.Ordinal) && name.EndsWith(Ending, StringComparison.Ordinal) && Guid.TryParseExact(name[start.Length..^Ending.Length], "N", out _);
    }
}
