using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>Manuscripts that use libraries: packages, restored once, and assemblies from files.</summary>
public sealed class LibraryTests : IDisposable
{
    private const string Fence = "```";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Docx Write(string library) =>
        WordClean.Check(Manuscript.Open(folder.Write("m.ms.md", $"{Fence}manuscript\nlibrary: {library}\nusing: Larkmere.Analysis\n{Fence}\n\nTwice {{Tools.Twice(21)}}.\n")).Write().Path);

    private string Fail(string library) => Assert.Throws<ReportException>(() => Write(library)).Message.Replace(folder.Path + "/", "", StringComparison.Ordinal);

    /// <summary>Packs a library of two packages, one of which needs the other, into a folder that the manuscript's folder names as its only source.</summary>
    private void Pack()
    {
        foreach (var (name, body) in new[] { ("Larkmere.Base", "namespace Larkmere.Base; public static class Number { public static int Double(int n) => n * 2; }"), ("Larkmere.Analysis", "namespace Larkmere.Analysis; public static class Tools { public static int Twice(int n) => Larkmere.Base.Number.Double(n); }") })
        {
            var reference = name == "Larkmere.Base" ? "" : "<ItemGroup><ProjectReference Include=\"../Larkmere.Base/Larkmere.Base.csproj\"/></ItemGroup>";
            folder.Write($"source/{name}/{name}.csproj", $"<Project Sdk=\"Microsoft.NET.Sdk\"><PropertyGroup><TargetFramework>net10.0</TargetFramework><Version>2.1.0</Version></PropertyGroup>{reference}</Project>");
            folder.Write($"source/{name}/Code.cs", body);
            var packed = Command.Run("dotnet", ["pack", "--nologo", "--output", folder.File("feed")], folder.File($"source/{name}"));
            Assert.True(packed.ExitCode == 0, packed.Output);
        }
        folder.Write("nuget.config", $"<configuration><packageSources><clear/><add key=\"feed\" value=\"{folder.File("feed")}\"/></packageSources><config><add key=\"globalPackagesFolder\" value=\"{folder.File("packages")}\"/></config></configuration>");
    }

    [Fact]
    public void Packages_are_restored_once_with_what_they_need_and_assemblies_are_loaded_from_files()
    {
        Pack();
        var docx = Write("Larkmere.Analysis 2.1.0");
        Assert.Equal(["Twice 42."], docx.Paragraphs);
        Assert.Contains("Larkmere.Analysis 2.1.0", docx.Xml("docProps/custom.xml").Root!.Value, StringComparison.Ordinal);
        Directory.Delete(folder.File("feed"), recursive: true);
        Directory.Delete(folder.File("packages"), recursive: true);
        Assert.Equal(["Twice 42."], Write("Larkmere.Analysis 2.1.0").Paragraphs);
        Assert.Contains("m.ms.md:2:10: error: the packages cannot be found or restored: NU1301", Fail("Larkmere.Missing 9.9.9"), StringComparison.Ordinal);

        Directory.CreateDirectory(folder.File("libs"));
        foreach (var file in Directory.EnumerateFiles(folder.File("source/Larkmere.Analysis/bin/Release/net10.0"))) File.Copy(file, Path.Combine(folder.File("libs"), Path.GetFileName(file)));
        docx = Write("libs/Larkmere.Analysis.dll");
        Assert.Equal(["Twice 42."], docx.Paragraphs);
        Assert.Contains("Larkmere.Analysis 2.1.0.0", docx.Xml("docProps/custom.xml").Root!.Value, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("libs/missing.dll", "m.ms.md:2:10: error: there is no file `libs/missing.dll`")]
    [InlineData("text.dll", "m.ms.md:2:10: error: `text.dll` is not an assembly")]
    [InlineData("Larkmere.Analysis", "m.ms.md:2:10: error: `Larkmere.Analysis` is not a library; write the name of a package and its version")]
    public void What_is_no_library_is_told(string library, string message)
    {
        folder.Write("text.dll", "text");
        Assert.Contains(message, Fail(library), StringComparison.Ordinal);
    }
}
