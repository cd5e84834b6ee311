namespace Fennick.Testing;

/// <summary>A folder of a test's own, gone when the test ends.</summary>
public sealed class TestFolder : IDisposable
{
    public TestFolder() => Path = Directory.CreateTempSubdirectory("fennick-test-").FullName;

    public string Path { get; }

    public string File(string name) => System.IO.Path.Combine(Path, name);

    /// <summary>Writes a text file and returns its path.</summary>
    public string Write(string name, string text)
    {
        var path = File(name);
        Directory.CreateDirectory(System.IO.Path.GetDirectoryName(path)!);
        System.IO.File.WriteAllText(path, text);
        return path;
    }

    public void Dispose() => Directory.Delete(Path, recursive: true);
}
