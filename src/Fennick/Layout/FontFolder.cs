using System.Collections.Concurrent;

namespace Fennick.Layout;

/// <summary>The font files of some folders; a family is looked for when it is first asked for.</summary>
/// <param name="folders">The folders.</param>
/// <param name="deep">Whether folders in them are looked through too.</param>
internal sealed class FontFolder(IEnumerable<string> folders, bool deep = true)
{
    private const int MostFiles = 20_000;

    // So many files are read whatever they are called.
    private const int FewFiles = 300;
    private const int SameLetters = 3;
    private readonly Lazy<string[]> files = new(() => Files(folders, deep));
    private readonly ConcurrentDictionary<string, FontFile[]> families = new(StringComparer.OrdinalIgnoreCase);

    /// <summary>Where a machine has its fonts.</summary>
    public static IEnumerable<string> OfMachine
    {
        get
        {
            var home = Environment.GetFolderPath(Environment.SpecialFolder.UserProfile);
            return [Path.Combine(home, ".local/share/fonts"), Path.Combine(home, ".fonts"), "/usr/local/share/fonts", "/usr/share/fonts"];
        }
    }

    /// <summary>The measures of a face, or of the family's upright one; null if there is no file of the family.</summary>
    public FontFile? Find(FontFace face)
    {
        var family = families.GetOrAdd(face.Family, FindFamily);
        return family.FirstOrDefault(f => (f.Face.Bold, f.Face.Italic) == (face.Bold, face.Italic)) ?? family.FirstOrDefault(f => f.Face is { Bold: false, Italic: false });
    }

    /// <summary>Files are called after what they hold, more or less.</summary>
    private FontFile[] FindFamily(string family)
    {
        var letters = Letters(family);
        var start = letters[..Math.Min(SameLetters, letters.Length)];
        var likely = files.Value.Length <= FewFiles ? files.Value : files.Value.Where(f => Letters(Path.GetFileName(f)).StartsWith(start, StringComparison.Ordinal));
        return [.. likely.Select(FontFile.Read).OfType<FontFile>().Where(f => string.Equals(f.Face.Family, family, StringComparison.OrdinalIgnoreCase))];
    }

    private static string Letters(string text) => string.Concat(text.Where(char.IsLetterOrDigit)).ToUpperInvariant();

    private static string[] Files(IEnumerable<string> folders, bool deep)
    {
        var options = new EnumerationOptions { RecurseSubdirectories = deep, IgnoreInaccessible = true, MaxRecursionDepth = 6 };
        return [.. folders.Where(Directory.Exists).SelectMany(f => Directory.EnumerateFiles(f, "*", options)).Where(IsFont).Take(MostFiles).Order(StringComparer.Ordinal)];
    }

    private static bool IsFont(string path) => Path.GetExtension(path).ToUpperInvariant() is ".TTF" or ".OTF" or ".TTC";
}
