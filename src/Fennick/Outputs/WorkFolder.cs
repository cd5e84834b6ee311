using Fennick.Files;

namespace Fennick.Outputs;

/// <summary>A folder that goes when it is no longer needed; one that an ended process has left goes a day later.</summary>
internal sealed class WorkFolder : IDisposable
{
    private const string Prefix = "fennick-pdf-";

    public WorkFolder() => OwnFolders.RemoveOld(Prefix, TimeSpan.FromDays(1));

    public string Path { get; } = OwnFolders.CreateTemporary(Prefix);

    public void Dispose() => Directory.Delete(Path, recursive: true);
}
