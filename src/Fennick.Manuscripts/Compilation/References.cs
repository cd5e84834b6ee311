namespace Fennick.Manuscripts.Compilation;

/// <summary>The assemblies that a manuscript's program can use: those of this process.</summary>
internal static class References
{
    private static readonly string Framework = Path.GetDirectoryName(typeof(object).Assembly.Location)!;

    /// <summary>All of them, by path.</summary>
    public static IReadOnlyList<string> All { get; } =
        ((string?)AppContext.GetData("TRUSTED_PLATFORM_ASSEMBLIES") ?? "").Split(Path.PathSeparator, StringSplitOptions.RemoveEmptyEntries);

    /// <summary>Whether one has this file name.</summary>
    public static bool Has(string fileName) => Names.Value.Contains(fileName);

    private static readonly Lazy<HashSet<string>> Names = new(() => [.. All.Select(p => Path.GetFileName(p)!)]);

    /// <summary>Those beside the program, apart from the framework's.</summary>
    public static IReadOnlyList<string> Own { get; } =
        [.. All.Where(path => !path.StartsWith(Framework, StringComparison.Ordinal)).Where(File.Exists).Order(StringComparer.Ordinal)];
}
