namespace Fennick.Outputs;

/// <summary>A folder that goes when it is no longer needed.</summary>
internal sealed class WorkFolder : IDisposable
{
    public string Path { get; } = Directory.CreateTempSubdirectory("fennick-pdf-").FullName;

    public void Dispose() => Directory.Delete(Path, recursive: true);
}
