using System.Collections.Immutable;
using System.Globalization;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Manuscripts.Source;

namespace Fennick.Manuscripts.Provenance;

/// <summary>What a run made its report from, without anything of the machine that it ran on.</summary>
internal static class MadeOf
{
    /// <param name="tree">The manuscript.</param>
    /// <param name="folder">Its folder.</param>
    /// <param name="values">The values of its parameters.</param>
    /// <param name="read">What was read.</param>
    public static Making Of(ManuscriptTree tree, string folder, IReadOnlyDictionary<string, object> values, IReadOnlyList<FileStamp> read)
    {
        ManuscriptSource[] sources = [.. tree.Sources.All.Where(s => s.HasLines)];
        var own = sources.Select(s => s.FullPath).ToHashSet(StringComparer.Ordinal);
        return new Making(
            NameOf(tree.Sources.Main.FullPath, folder),
            Short(FileHashes.OfText(string.Join('\0', sources.Select(s => s.Text)))),
            [.. values.OrderBy(v => v.Key, StringComparer.Ordinal).Select(v => KeyValuePair.Create(v.Key, TextOf(v.Value)))],
            [.. read.Where(f => f.Length >= 0 && !own.Contains(f.Path)).Select(f => new MadeFrom(NameOf(f.Path, folder), Short(FileHashes.Shared.Of(f))))],
            tree.Settings.EmbedsSource ? [.. sources.Select(s => KeyValuePair.Create(NameOf(s.FullPath, folder), s.Text))] : [])
        {
            Names = sources.GroupBy(s => s.DisplayPath, StringComparer.Ordinal).ToImmutableDictionary(g => g.Key, g => NameOf(g.First().FullPath, folder), StringComparer.Ordinal),
        };
    }

    /// <summary>The path of a file from a folder; what lies elsewhere is known by its name.</summary>
    internal static string NameOf(string path, string folder)
    {
        var relative = Path.GetRelativePath(folder, path);
        return Path.IsPathRooted(relative) || relative.StartsWith(Path.Combine("..", "..", ".."), StringComparison.Ordinal) ? Path.GetFileName(path) : relative;
    }

    /// <summary>Half of a hash tells two files apart as well.</summary>
    internal static string Short(string hash) => hash.Length == 64 ? hash[..32] : hash;

    private static string TextOf(object value) => value switch
    {
        DateOnly date => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
        bool yes => yes ? "yes" : "no",
        _ => Convert.ToString(value, CultureInfo.InvariantCulture) ?? "",
    };
}
