using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using System.Reflection;
using System.Runtime.Loader;
using System.Security.Cryptography;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts.Settings;

namespace Fennick.Manuscripts.Compilation;

/// <summary>The libraries of a manuscript: packages, restored once through the SDK with what they depend on, and assemblies from files.</summary>
internal sealed class LibrarySet
{
    private readonly ImmutableArray<AssemblyDependencyResolver> resolvers;

    private LibrarySet(ImmutableArray<string> assemblies, ImmutableArray<AssemblyDependencyResolver> resolvers, ImmutableArray<string> versions, string key)
    {
        Assemblies = assemblies;
        this.resolvers = resolvers;
        Versions = versions;
        Key = key;
    }

    /// <summary>The assemblies that the program can use, by path.</summary>
    public ImmutableArray<string> Assemblies { get; }

    /// <summary>Name and version of each library.</summary>
    public ImmutableArray<string> Versions { get; }

    /// <summary>What a compiled program depends on.</summary>
    public string Key { get; }

    /// <summary>Finds the libraries; a package that is not kept yet is restored.</summary>
    /// <exception cref="ReportException">A package cannot be found or restored, or a file is not an assembly.</exception>
    public static LibrarySet Load(ImmutableArray<Library> libraries, string folder, string cacheFolder)
    {
        var assemblies = ImmutableArray.CreateBuilder<string>();
        var resolvers = ImmutableArray.CreateBuilder<AssemblyDependencyResolver>();
        var versions = ImmutableArray.CreateBuilder<string>();
        var key = new StringBuilder();
        foreach (var library in libraries.Where(l => l.Version is null))
        {
            var path = Path.GetFullPath(Path.Combine(folder, library.Name));
            try
            {
                var name = AssemblyName.GetAssemblyName(path);
                versions.Add($"{name.Name} {name.Version}");
            }
            catch (Exception problem) when (problem is IOException or BadImageFormatException or UnauthorizedAccessException)
            {
                throw new ReportException([Diagnostic.Error(library.Place, problem is FileNotFoundException or DirectoryNotFoundException ? $"there is no file `{Path.GetRelativePath(folder, library.Name)}`" : $"`{Path.GetRelativePath(folder, library.Name)}` is not an assembly", "name a `.dll`, or a package and its version, such as `Larkmere.Analysis 2.1.0`")], problem);
            }
            assemblies.Add(path);
            resolvers.Add(new AssemblyDependencyResolver(path));
            var file = new FileInfo(path);
            key.Append(CultureInfo.InvariantCulture, $"{path} {file.Length} {file.LastWriteTimeUtc.Ticks}\n");
        }
        var packages = libraries.Where(l => l.Version is not null).ToArray();
        if (packages.Length > 0)
        {
            var restored = Restore(packages, folder, cacheFolder);
            assemblies.AddRange(Directory.EnumerateFiles(restored, "*.dll").Where(f => Path.GetFileName(f) != RestoredName + ".dll" && !Compilation.References.Has(Path.GetFileName(f))).Order(StringComparer.Ordinal));
            resolvers.Add(new AssemblyDependencyResolver(Path.Combine(restored, RestoredName + ".dll")));
            versions.AddRange(packages.Select(p => $"{p.Name} {p.Version}"));
            key.Append(restored);
        }
        return new LibrarySet(assemblies.ToImmutable(), resolvers.ToImmutable(), versions.ToImmutable(), key.ToString());
    }

    /// <summary>Opens the assembly of a name; null if it is none of them.</summary>
    public Stream? Open(string name) => Assemblies.FirstOrDefault(a => Path.GetFileNameWithoutExtension(a) == name) is { } path ? File.OpenRead(path) : null;

    /// <summary>Where the program runs: libraries come from here, all else from the process.</summary>
    public AssemblyLoadContext CreateContext() => new Context(this);

    private const string RestoredName = "Restored";

    /// <summary>The folder with the packages' assemblies; made once.</summary>
    private static string Restore(Library[] packages, string folder, string cacheFolder)
    {
        var project = new StringBuilder("<Project Sdk=\"Microsoft.NET.Sdk\"><PropertyGroup><TargetFramework>net10.0</TargetFramework><CopyLocalLockFileAssemblies>true</CopyLocalLockFileAssemblies><NuGetAudit>false</NuGetAudit><ImportDirectoryBuildProps>false</ImportDirectoryBuildProps></PropertyGroup><ItemGroup>");
        foreach (var package in packages) project.Append(CultureInfo.InvariantCulture, $"<PackageReference Include=\"{package.Name}\" Version=\"[{package.Version}]\"/>");
        project.Append("</ItemGroup></Project>");
        var text = project.ToString();
        var name = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text + Environment.Version)))[..24];
        var kept = Path.Combine(cacheFolder, name);
        var output = Path.Combine(kept, "out");
        if (Directory.Exists(output))
        {
            return CompiledCache.IsPrivate(cacheFolder) && UnixFile.Of(kept) is { IsOwn: true } ? output
                : throw new ReportException(Diagnostic.Error(packages[0].Place, $"the packages in {kept} are not used: somebody else can look into the folder, or made it", "remove the folder, or name one of your own in the variable FENNICK_CACHE"));
        }
        var work = Path.Combine(cacheFolder, $".{Guid.NewGuid():N}");
        try
        {
            Directory.CreateDirectory(work);
            File.SetUnixFileMode(cacheFolder, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
            File.WriteAllText(Path.Combine(work, RestoredName + ".csproj"), text);
            // Nothing in the folders above has a say in it.
            foreach (var stop in new[] { "Directory.Build.props", "Directory.Build.targets", "Directory.Packages.props" }) File.WriteAllText(Path.Combine(work, stop), "<Project/>");
            File.WriteAllText(Path.Combine(work, "global.json"), "{}");
            var errors = Build(work, Path.Combine(work, "out"), ConfigurationFor(folder));
            if (errors.Length > 0)
                throw new ReportException(Diagnostic.Error(packages.FirstOrDefault(p => errors.Contains(p.Name, StringComparison.OrdinalIgnoreCase))?.Place ?? packages[0].Place, $"the packages cannot be found or restored: {errors}", "check name and version, and that the package source can be reached; once restored they are kept"));
            Directory.Delete(Path.Combine(work, "obj"), recursive: true);
            if (!Directory.Exists(kept)) Directory.Move(work, kept);
            return output;
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException or System.ComponentModel.Win32Exception)
        {
            throw new ReportException([Diagnostic.Error(packages[0].Place, $"the packages cannot be restored: {problem.Message}", "check that the command `dotnet` is on the path, and that the cache can be written")], problem);
        }
        finally
        {
            if (Directory.Exists(work)) Directory.Delete(work, recursive: true);
        }
    }

    /// <summary>Has the SDK restore and gather the packages; the result is what it says is wrong.</summary>
    private static string Build(string work, string output, string? configuration)
    {
        var start = new ProcessStartInfo("dotnet", ["build", "--nologo", "--verbosity", "quiet", "--configuration", "Release", "--output", output]) { WorkingDirectory = work, RedirectStandardOutput = true, RedirectStandardError = true };
        if (configuration is not null) start.ArgumentList.Add($"-p:RestoreConfigFile={configuration}");
        start.Environment["DOTNET_CLI_UI_LANGUAGE"] = "en";
        start.Environment["DOTNET_NOLOGO"] = "1";
        using var process = Process.Start(start)!;
        var standardError = process.StandardError.ReadToEndAsync();
        var said = process.StandardOutput.ReadToEnd() + standardError.Result;
        process.WaitForExit();
        if (process.ExitCode == 0) return "";
        var errors = said.Split('\n').Where(l => l.Contains("error ", StringComparison.Ordinal)).Select(l => l[(l.IndexOf("error ", StringComparison.Ordinal) + "error ".Length)..]).Select(l => l.LastIndexOf(" [", StringComparison.Ordinal) is > 0 and var end ? l[..end] : l).Distinct().ToArray();
        return errors.Length == 0 ? said.Trim() : string.Join(' ', errors);
    }

    /// <summary>The package sources that hold for the manuscript's folder.</summary>
    private static string? ConfigurationFor(string folder)
    {
        foreach (var (at, _) in OwnFolders.Above(folder).Where(f => f.IsTrusted))
            if (new DirectoryInfo(at).EnumerateFiles().FirstOrDefault(f => f.Name.Equals("nuget.config", StringComparison.OrdinalIgnoreCase)) is { } file && OwnFolders.IsOwn(file.FullName)) return file.FullName;
        return null;
    }

    private sealed class Context(LibrarySet libraries) : AssemblyLoadContext("manuscript")
    {
        protected override Assembly? Load(AssemblyName name)
        {
            if (Compilation.References.Has($"{name.Name}.dll")) return null;
            foreach (var path in libraries.resolvers.Select(r => r.ResolveAssemblyToPath(name)).OfType<string>()) return LoadFromAssemblyPath(path);
            return libraries.Assemblies.FirstOrDefault(a => Path.GetFileNameWithoutExtension(a) == name.Name) is { } own ? LoadFromAssemblyPath(own) : null;
        }

        protected override nint LoadUnmanagedDll(string name) =>
            libraries.resolvers.Select(r => r.ResolveUnmanagedDllToPath(name)).OfType<string>().FirstOrDefault() is { } path ? LoadUnmanagedDllFromPath(path) : 0;
    }
}
