using System.Text.RegularExpressions;
using System.Xml.Linq;
using Fennick.Testing;
using Mono.Cecil;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>Each project and folder knows only those above it.</summary>
public sealed partial class ArchitectureTests
{
    private static readonly Dictionary<string, string[]> Projects = new()
    {
        ["Fennick.Statistics"] = ["MathNet.Numerics"],
        ["Fennick"] = ["Fennick.Statistics", "Humanizer.Core", "Markdig", "System.IO.Hashing"],
        ["Fennick.Data"] = ["Fennick", "Fennick.Statistics", "CsvHelper"],
        ["Fennick.Data.Frames"] = ["Fennick.Data", "Microsoft.Data.Analysis", "Apache.Arrow", "System.Numerics.Tensors"],
        ["Fennick.Data.DuckDb"] = ["Fennick.Data", "DuckDB.NET.Data.Full"],
        ["Fennick.Data.Labelled"] = ["Fennick.Data"],
        ["Fennick.Data.Parquet"] = ["Fennick.Data", "Parquet.Net"],
        ["Fennick.Data.Postgres"] = ["Fennick.Data", "Npgsql"],
        ["Fennick.Data.Sheets"] = ["Fennick.Data", "ExcelDataReader"],
        ["Fennick.Data.Sqlite"] = ["Fennick.Data", "Microsoft.Data.Sqlite"],
        ["Fennick.Plots"] = ["Fennick", "NetVips", "NetVips.Native.linux-arm64", "NetVips.Native.linux-x64", "ScottPlot", "SkiaSharp.NativeAssets.Linux.NoDependencies"],
        ["Fennick.Manuscripts"] = ["Fennick", "Fennick.Data", "Fennick.Data.Frames", "Fennick.Data.Labelled", "Fennick.Data.Parquet", "Fennick.Data.Postgres", "Fennick.Data.Sheets", "Fennick.Data.Sqlite", "Fennick.Plots", "Markdig", "Microsoft.CodeAnalysis.CSharp"],
        ["Fennick.Batches"] = ["Fennick.Data", "Fennick.Data.Sheets", "Fennick.Manuscripts"],
        ["Fennick.Editors"] = ["Fennick.Manuscripts", "StreamJsonRpc"],
        ["Fennick.Live"] = [],
        ["Fennick.Cli"] = ["Fennick.Batches", "Fennick.Editors", "Fennick.Live", "Fennick.Manuscripts", "System.CommandLine", "Spectre.Console"],
    };

    /// <summary>The layers of the library: each knows only itself and those above it.</summary>
    private static readonly string[][] Layers =
    [
        ["Fennick.Diagnostics", "Fennick.Files", "Fennick.Running"],
        ["Fennick.Charts", "Fennick.Citations", "Fennick.Documents", "Fennick.Formatting", "Fennick.Mathematics", "Fennick.Pictures", "Fennick.Tables"],
        ["Fennick.Prose"],
        ["Fennick.Drawing", "Fennick.Flow", "Fennick.Layout", "Fennick.Styles"],
        ["Fennick.Houses", "Fennick.Records", "Fennick.Schema", "Fennick.Wordprocessing"],
        ["Fennick", "Fennick.Outputs", "Fennick.Revision"],
    ];

    // Of the library's own namespace, these belong to what a report says; and this one takes it through all layers.
    private static readonly string[] ModelTypes = ["ChapterSign", "Length", "Measure", "PageLayout", "PageNumberFormat", "PageNumbers"];
    private const string WholePipeline = "ReportFile";

    // What goes against the direction; nothing may be added.
    private static readonly string[] Against = ["FileDresser → House", "HouseDresser → House", "Livery → House", "ReportContent → House", "TexReader → HoleScanner"];

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
    public void Each_layer_of_the_library_knows_only_those_above_it()
    {
        using var library = ModuleDefinition.ReadModule(typeof(Report).Assembly.Location);
        var found = library.GetTypes().SelectMany(type => TypesIn(type).Select(used => (From: Outermost(type), To: Outermost(used))))
            .Where(p => p.To.Scope == library && p.From.Namespace.StartsWith("Fennick", StringComparison.Ordinal) && p.To.Namespace.StartsWith("Fennick", StringComparison.Ordinal) && LayerOf(p.From) < LayerOf(p.To))
            .Select(p => $"{p.From.Name} → {p.To.Name}").Distinct().Order(StringComparer.Ordinal);
        Assert.Equal(Against, found);
    }

    [Fact]
    public void No_document_package_of_others_is_used_and_statistics_know_no_document()
    {
        foreach (var (file, text) in Sources("")) Assert.False(Regex.IsMatch(text, @"DocumentFormat\.OpenXml|System\.IO\.Packaging"), file);
        using var statistics = ModuleDefinition.ReadModule(typeof(Statistics.Regression).Assembly.Location);
        Assert.DoesNotContain(statistics.AssemblyReferences, r => r.Name.StartsWith("Fennick", StringComparison.Ordinal) || r.Name.Contains("Xml", StringComparison.Ordinal));
        using var library = ModuleDefinition.ReadModule(typeof(Report).Assembly.Location);
        var readers = library.GetTypes().Where(t => Outermost(t).Namespace.StartsWith("Fennick", StringComparison.Ordinal) && LayerOf(Outermost(t)) is 1 or 3 && TypesIn(t).Any(u => u.Namespace.StartsWith("System.Xml", StringComparison.Ordinal) || u.Namespace.StartsWith("Markdig", StringComparison.Ordinal)));
        // Drawings are XML themselves.
        Assert.Equal(["SvgCleaner", "SvgSize"], readers.Select(t => Outermost(t).Name).Distinct().Order(StringComparer.Ordinal));
    }

    private static int LayerOf(TypeReference type) => type.Name switch
    {
        WholePipeline => Layers.Length - 1,
        _ when type.Namespace == "Fennick" && ModelTypes.Contains(type.Name) => 1,
        _ => Array.FindIndex(Layers, l => l.Contains(type.Namespace)) is >= 0 and var layer ? layer : throw new InvalidOperationException($"{type.FullName} is in no layer."),
    };

    private static TypeReference Outermost(TypeReference type)
    {
        while (type.DeclaringType is { } outer) type = outer;
        return type;
    }

    /// <summary>All types that a type is made of, or that its code mentions.</summary>
    private static IEnumerable<TypeReference> TypesIn(TypeDefinition type)
    {
        var found = new List<TypeReference?> { type.BaseType };
        found.AddRange(type.Interfaces.Select(i => i.InterfaceType));
        found.AddRange(type.Fields.Select(f => f.FieldType));
        foreach (var method in type.Methods)
        {
            AddMethod(method);
            if (!method.HasBody) continue;
            found.AddRange(method.Body.Variables.Select(v => v.VariableType));
            foreach (var instruction in method.Body.Instructions)
            {
                if (instruction.Operand is TypeReference named) found.Add(named);
                else if (instruction.Operand is FieldReference field) found.AddRange([field.DeclaringType, field.FieldType]);
                else if (instruction.Operand is MethodReference called) AddMethod(called);
            }
        }
        return found.OfType<TypeReference>().SelectMany(Parts);

        void AddMethod(MethodReference method)
        {
            found.AddRange([method.DeclaringType, method.ReturnType, .. method.Parameters.Select(p => p.ParameterType)]);
            if (method is GenericInstanceMethod generic) found.AddRange(generic.GenericArguments);
        }

        static IEnumerable<TypeReference> Parts(TypeReference type) => type switch
        {
            GenericInstanceType generic => generic.GenericArguments.SelectMany(Parts).Concat(Parts(generic.ElementType)),
            TypeSpecification special => Parts(special.ElementType),
            GenericParameter => [],
            _ => [type],
        };
    }

    [Fact]
    public void Nothing_outside_the_command_touches_the_console()
    {
        // What steps write is caught where it would reach the console; the live page is a program that speaks by it.
        var offenders = Sources("").Where(s => !s.File.Contains("Fennick.Cli/", StringComparison.Ordinal) && !s.File.EndsWith("Fennick.Live/Program.cs", StringComparison.Ordinal) && !s.File.EndsWith("StepConsole.cs", StringComparison.Ordinal))
            .Where(s => Regex.IsMatch(Regex.Replace(s.Text, @"^\s*//.*$", "", RegexOptions.Multiline), @"\bConsole\."));
        Assert.Empty(offenders.Select(o => o.File));
    }

    [Fact]
    public void Namespaces_are_folders_and_files_are_named_for_their_type()
    {
        foreach (var (file, text) in Sources(""))
        {
            if (Path.GetFileName(file) == "Program.cs") continue;
            // What all packages share is called as the product, and a package beside another goes on from it.
            var folder = Path.GetFileName(file) == "FennickException.cs" ? "Fennick" : Path.GetRelativePath(Repository.PathOf("src"), Path.GetDirectoryName(file)!).Replace('/', '.');
            // Each kind of data has a package of its own; what one calls is in one namespace.
            folder = PackagesOfData().Replace(folder, "Fennick.Data");
            Assert.Equal(folder, Regex.Match(text, @"^namespace ([\w.]+);", RegexOptions.Multiline).Groups[1].Value);
            Assert.Matches($@"(class|record|struct|enum|interface) {Regex.Escape(Path.GetFileNameWithoutExtension(file))}\b", text);
        }
    }

    private static IEnumerable<(string File, string Text)> Sources(string folder) =>
        Directory.GetFiles(Repository.PathOf("src", folder), "*.cs", SearchOption.AllDirectories)
            .Where(f => !f.Contains("/obj/", StringComparison.Ordinal) && !f.Contains("/bin/", StringComparison.Ordinal)).Select(f => (f, File.ReadAllText(f)));

    [GeneratedRegex(@"^Fennick\.Data\.(Frames|Parquet|Postgres|Labelled|Sheets|Sqlite|DuckDb)(?=$|\.)")]
    private static partial Regex PackagesOfData();
}
