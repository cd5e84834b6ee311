using System.Text.RegularExpressions;
using System.Xml.Linq;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>Each project and folder knows only those above it.</summary>
public sealed class ArchitectureTests
{
    private static readonly Dictionary<string, string[]> Projects = new()
    {
        ["Fennick.Statistics"] = ["MathNet.Numerics"],
        ["Fennick"] = ["Fennick.Statistics", "Humanizer.Core", "Markdig", "System.IO.Hashing"],
        ["Fennick.Data"] = ["Fennick", "Fennick.Statistics", "CsvHelper", "Microsoft.Data.Analysis", "Apache.Arrow", "System.Numerics.Tensors"],
        ["Fennick.Plots"] = ["Fennick", "NetVips", "NetVips.Native.linux-arm64", "NetVips.Native.linux-x64"],
        ["Fennick.Manuscripts"] = ["Fennick", "Fennick.Data", "Fennick.Plots", "Markdig", "Microsoft.CodeAnalysis.CSharp", "Microsoft.CodeAnalysis.CSharp.Workspaces"],
        ["Fennick.Batches"] = ["Fennick.Data", "Fennick.Manuscripts"],
        ["Fennick.Cli"] = ["Fennick.Batches", "Fennick.Manuscripts", "System.CommandLine", "Spectre.Console"],
    };

    /// <summary>What the source of a folder must not mention.</summary>
    private static readonly (string Folder, string Forbidden)[] Limits =
    [
        ("Fennick.Statistics", @"System\.Xml|Fennick\.(?!Statistics)|Markdig"),
        ("Fennick/Documents", @"System\.Xml|Fennick\.(Flow|Layout|Houses|Wordprocessing|Prose)|Markdig"),
        ("Fennick/Formatting", @"Fennick\.(Documents|Flow|Layout|Houses|Wordprocessing|Prose|Tables|Charts)|Markdig"),
        ("Fennick/Tables", @"System\.Xml|Fennick\.(Flow|Layout|Houses|Wordprocessing|Prose)|Markdig"),
        ("Fennick/Charts", @"System\.Xml|Fennick\.(Flow|Layout|Houses|Wordprocessing|Prose)|Markdig"),
        ("Fennick/Prose", @"System\.Xml|Fennick\.(Flow|Layout|Houses|Wordprocessing)"),
        ("Fennick/Flow", @"System\.Xml|Fennick\.(Layout|Wordprocessing|Prose)|Markdig"),
        ("Fennick/Layout", @"System\.Xml|Fennick\.(Wordprocessing|Prose)|Markdig"),
        ("Fennick/Wordprocessing", @"Fennick\.(Statistics|Prose|Documents)|Markdig"),
        ("", @"DocumentFormat\.OpenXml|System\.IO\.Packaging"),
    ];

    [Fact]
    public void Projects_refer_only_to_those_above_them()
    {
        foreach (var file in Directory.GetFiles(Repository.PathOf("src"), "*.csproj", SearchOption.AllDirectories))
        {
            var references = XDocument.Load(file).Descendants()
                .Where(e => e.Name.LocalName is "ProjectReference" or "PackageReference")
                .Select(e => ((string)e.Attribute("Include")!) is var include && include.EndsWith(".csproj", StringComparison.Ordinal) ? Path.GetFileNameWithoutExtension(include) : include);
            Assert.Equal(Projects[Path.GetFileNameWithoutExtension(file)].Order(), references.Order());
        }
    }

    [Fact]
    public void Folders_mention_only_those_above_them()
    {
        foreach (var (folder, forbidden) in Limits)
            foreach (var (file, text) in Sources(folder)) Assert.False(Regex.IsMatch(text, forbidden), $"{file} mentions {Regex.Match(text, forbidden)}");
    }

    [Fact]
    public void Nothing_outside_the_command_touches_the_console()
    {
        // What steps write is caught where it would reach the console.
        var offenders = Sources("").Where(s => !s.File.Contains("Fennick.Cli/", StringComparison.Ordinal) && !s.File.EndsWith("StepConsole.cs", StringComparison.Ordinal))
            .Where(s => Regex.IsMatch(Regex.Replace(s.Text, @"^\s*//.*$", "", RegexOptions.Multiline), @"\bConsole\."));
        Assert.Empty(offenders.Select(o => o.File));
    }

    [Fact]
    public void Namespaces_are_folders_and_files_are_named_for_their_type()
    {
        foreach (var (file, text) in Sources(""))
        {
            if (Path.GetFileName(file) == "Program.cs") continue;
            var folder = Path.GetRelativePath(Repository.PathOf("src"), Path.GetDirectoryName(file)!).Replace('/', '.');
            Assert.Equal(folder, Regex.Match(text, @"^namespace ([\w.]+);", RegexOptions.Multiline).Groups[1].Value);
            Assert.Matches($@"(class|record|struct|enum|interface) {Regex.Escape(Path.GetFileNameWithoutExtension(file))}\b", text);
        }
    }

    private static IEnumerable<(string File, string Text)> Sources(string folder) =>
        Directory.GetFiles(Repository.PathOf("src", folder), "*.cs", SearchOption.AllDirectories)
            .Where(f => !f.Contains("/obj/", StringComparison.Ordinal) && !f.Contains("/bin/", StringComparison.Ordinal)).Select(f => (f, File.ReadAllText(f)));
}
