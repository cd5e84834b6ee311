using System.Globalization;
using Fennick.Diagnostics;

namespace Fennick.Running;

/// <summary>What a run goes by. It follows the flow of execution, so that runs side by side in one process know nothing of each other.</summary>
internal record RunContext
{
    private static readonly AsyncLocal<RunContext?> Flow = new();

    /// <summary>The context of the current flow of execution; null outside of all runs.</summary>
    public static RunContext? Current => Flow.Value;

    /// <summary>The folder that relative paths start from; that of the process if null.</summary>
    public string? Folder { get; init; }

    /// <summary>How numbers and dates are written where nothing else says so; as before if null.</summary>
    public CultureInfo? Culture { get; init; }

    /// <summary>The encoding of data files where no other is named; UTF-8 if null.</summary>
    public string? Encoding { get; init; }

    /// <summary>Takes note of the files that are read.</summary>
    public FilesRead? Files { get; init; }

    /// <summary>Tells that the run is wanted no longer.</summary>
    public CancellationToken Stop { get; init; }

    /// <summary>The full path of a file or folder that the user named.</summary>
    /// <exception cref="ReportException">It is not a path.</exception>
    public static string FullPath(string path) => string.IsNullOrWhiteSpace(path) ? throw new ReportException(Diagnostic.Error(null, "the name of a file or folder is empty", "name one"))
        : path.Contains('\0', StringComparison.Ordinal) ? throw new ReportException(Diagnostic.Error(null, $"`{path.Replace('\0', '\u2400')}` holds a character that no name can hold", "name the file without it"))
        : Current?.Folder is { } folder ? Path.GetFullPath(path, folder) : Path.GetFullPath(path);

    /// <summary>Makes this the context of the current flow of execution, until the scope is disposed of.</summary>
    public Scope Enter() => new(this);

    /// <summary>The time in which a context holds.</summary>
    internal sealed class Scope : IDisposable
    {
        private readonly RunContext? before = Current;
        private readonly CultureInfo culture = CultureInfo.CurrentCulture;

        public Scope(RunContext context)
        {
            Flow.Value = context;
            if (context.Culture is { } own) CultureInfo.CurrentCulture = own;
        }

        public void Dispose()
        {
            Flow.Value = before;
            CultureInfo.CurrentCulture = culture;
        }
    }
}
