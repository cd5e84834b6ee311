using System.Globalization;
using Fennick.Diagnostics;

namespace Fennick.Files;

/// <summary>The place of a file that is to be written, and what must not be lost there.</summary>
internal static class Destination
{
    /// <summary>Checks that a file may be written without loss, before there is anything to write.</summary>
    /// <param name="path">Its full path.</param>
    /// <param name="inputs">What it is made from.</param>
    /// <param name="force">Whether a file that is protected against writing is replaced too.</param>
    /// <exception cref="ReportException">It is one of them, by whatever path, link or spelling in capitals, or it is protected.</exception>
    public static void Check(string path, IEnumerable<string> inputs, bool force)
    {
        var place = new SourcePlace(path, 0, 0);
        if (UnixFile.Of(path) is { IsOrdinary: false }) throw new ReportException(Diagnostic.Error(place, "what is there is a pipe or a device, not a file", "write the report to another place"));
        if (FindInput(path, inputs) is { } input)
        {
            throw new ReportException(Diagnostic.Error(place, $"the report would be written over {(input == path ? "a file" : $"{input}, a file")} that it is made from", "write it to another place, such as with `--out`"));
        }
        if (!force && File.Exists(path) && new FileInfo(StagedFile.PlaceOf(path)).IsReadOnly)
            throw new ReportException(Diagnostic.Error(place, "the document there is protected against writing", "write the report to another place, or say that it is to be replaced: `--force`"));
    }

    /// <summary>The file among those that a report is made from which a path leads to; null if there is none.</summary>
    public static string? FindInput(string path, IEnumerable<string> inputs)
    {
        var own = UnixFile.Of(path);
        UnixFile? folder = null;
        foreach (var input in inputs.Where(i => !i.Contains('\0', StringComparison.Ordinal)))
        {
            // All names of a file lead to one number.
            if (own is { } file && UnixFile.Of(input) is { } other && file.IsSame(other)) return input;
            // Where it is copied to, capitals may not count.
            if (string.Equals(Path.GetFileName(path), Path.GetFileName(input), StringComparison.OrdinalIgnoreCase)
                && (folder ??= UnixFile.Of(Path.GetDirectoryName(path)!)) is { } here && UnixFile.Of(Path.GetDirectoryName(Path.GetFullPath(input))!) is { } there && here.IsSame(there)) return input;
        }
        return null;
    }

    /// <summary>Keeps a document under another name that people have worked on, or that Fennick did not write.</summary>
    /// <returns>The name.</returns>
    public static string Keep(string path)
    {
        var place = StagedFile.PlaceOf(path);
        for (var n = 1; ; n++)
        {
            var ending = Path.GetExtension(place);
            var kept = string.Create(CultureInfo.InvariantCulture, $"{place[..^ending.Length]} (kept {DateTime.Now:yyyy-MM-dd}{(n == 1 ? "" : $" {n}")}){ending}");
            if (Path.Exists(kept)) continue;
            File.Copy(place, kept);
            return kept;
        }
    }

    /// <summary>What is said of a document that was kept.</summary>
    public static Diagnostic Tell(string path, string kept) => Diagnostic.Warning(new SourcePlace(path, 0, 0), "the old document was changed since it was made, or was not made by Fennick", $"it is kept as {kept}");
}
