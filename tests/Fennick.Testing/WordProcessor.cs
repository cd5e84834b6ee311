using Xunit;

namespace Fennick.Testing;

/// <summary>The word processor from Debian's packages: another reader of the documents.</summary>
public static class WordProcessor
{
    /// <summary>Opens a document, saves it again as another .docx and opens that; skips the test, loudly, where the word processor is missing.</summary>
    public static Docx Resave(string path)
    {
        var converted = Convert(path, "docx:MS Word 2007 XML");
        try
        {
            return Docx.Open(converted);
        }
        finally
        {
            Directory.Delete(Path.GetDirectoryName(converted)!, recursive: true);
        }
    }

    /// <summary>Skips the test, loudly, where the word processor is missing.</summary>
    public static void SkipIfMissing()
    {
        if (IsInstalled) return;
        Console.Error.WriteLine("SKIPPED: the word processor (libreoffice-writer-nogui) is not installed, so no other reader has opened the documents.");
        Assert.Skip("libreoffice-writer-nogui is not installed");
    }

    /// <summary>A document in another format, in a folder of its own; skips the test, loudly, where the word processor is missing.</summary>
    public static string Convert(string path, string format)
    {
        SkipIfMissing();
        var folder = Directory.CreateTempSubdirectory("fennick-reader-").FullName;
        var profile = Directory.CreateTempSubdirectory("fennick-profile-").FullName;
        try
        {
            var result = Command.Run("soffice", [$"-env:UserInstallation=file://{profile}", "--headless", "--convert-to", format, "--outdir", folder, path]);
            var converted = Path.Combine(folder, Path.GetFileNameWithoutExtension(path) + "." + format.Split(':')[0]);
            Assert.True(File.Exists(converted), $"the word processor could not open {path}: {result.Output}{result.Errors}");
            return converted;
        }
        finally
        {
            Directory.Delete(profile, recursive: true);
        }
    }

    private static bool IsInstalled => (Environment.GetEnvironmentVariable("PATH") ?? "").Split(':').Any(folder => File.Exists(Path.Combine(folder, "soffice")));
}
