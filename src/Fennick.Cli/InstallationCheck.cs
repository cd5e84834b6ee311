using System.ComponentModel;
using System.Diagnostics;
using System.Globalization;
using System.Reflection;
using System.Runtime.InteropServices;
using Fennick.Files;
using Fennick.Layout;

namespace Fennick.Cli;

/// <summary>Looks at the installation: what is there, in which version, what is missing, what one lacks without it, and how to get it.</summary>
internal static class InstallationCheck
{
    private const int MillisecondsToAnswer = 10_000;

    // The measures of the usual fonts of documents, under other names.
    private static readonly (string Family, string Package)[] Fonts = [("Carlito", "fonts-crosextra-carlito"), ("Caladea", "fonts-crosextra-caladea"), ("Liberation Sans", "fonts-liberation"), ("Liberation Serif", "fonts-liberation")];

    private sealed record Finding(string Name, string Found, string? Missing = null, string? Remedy = null);

    /// <summary>Writes what is found.</summary>
    public static int Run()
    {
        Finding[] all = [Fennick(), Sdk(), WordProcessor(), Formulas(), FontsOfDocuments(), Viewer(), Cache()];
        var width = all.Max(f => f.Name.Length) + 2;
        foreach (var finding in all)
        {
            Terminal.Result($"{finding.Name.PadRight(width)}{finding.Found}");
            if (finding.Missing is { } missing) Terminal.Result($"{"".PadRight(width)}{missing}; {finding.Remedy}");
        }
        var count = all.Count(f => f.Missing is not null);
        Terminal.Say(count == 0 ? "everything is there" : $"{count} thing{(count == 1 ? " is" : "s are")} missing; reports are written all the same");
        return ExitCodes.Done;
    }

    private static Finding Fennick()
    {
        var version = typeof(InstallationCheck).Assembly.GetCustomAttribute<AssemblyInformationalVersionAttribute>()!.InformationalVersion.Split('+')[0];
        return new("fennick", $"{version} in {AppContext.BaseDirectory.TrimEnd('/')}, on .NET {Environment.Version}, {RuntimeInformation.RuntimeIdentifier}");
    }

    private static Finding Sdk() => Ask("dotnet", "--version") is { } version ? new(".NET SDK", version)
        : new(".NET SDK", "not found", "libraries of manuscripts (`library:`) and `fennick watch` on a program need it", "install the .NET SDK and put `dotnet` on the PATH");

    private static Finding WordProcessor() => Ask("soffice", "--version") is { } version ? new("word processor", $"{version.Split('\n')[0].Trim()}, {PathOf("soffice")}")
        : new("word processor", "not found", "PDFs (`--also pdf`) need it", "`apt install libreoffice-writer-nogui libreoffice-math-nogui`");

    private static Finding Formulas() => Directory.Exists("/usr/lib/libreoffice") && !File.Exists("/usr/lib/libreoffice/program/libsmlo.so")
        ? new("formulas in PDFs", "not found", "PDFs lack their formulas", "`apt install libreoffice-math-nogui`") : new("formulas in PDFs", PathOf("soffice") is null ? "not found" : "there");

    private static Finding FontsOfDocuments()
    {
        var folder = new FontFolder(FontFolder.OfMachine);
        var missing = Fonts.Where(f => folder.Find(new FontFace(f.Family)) is null).ToArray();
        return new("fonts", missing.Length == Fonts.Length ? "not found" : string.Join(", ", Fonts.Except(missing).Select(f => f.Family)),
            missing.Length == 0 ? null : $"without {string.Join(", ", missing.Select(f => f.Family))} PDFs and documents that are looked at on this machine break their lines elsewhere than their readers' do",
            $"`apt install {string.Join(' ', missing.Select(f => f.Package).Distinct())}`");
    }

    private static Finding Viewer() => PathOf("xdg-open") is { } path ? new("viewer", path) : new("viewer", "not found", "`--open` needs it", "`apt install xdg-utils`, or open the document by hand");

    private static Finding Cache()
    {
        var root = CacheFolder.Root;
        var files = Directory.Exists(root) ? new DirectoryInfo(root).GetFiles("*", new EnumerationOptions { RecurseSubdirectories = true, IgnoreInaccessible = true }) : [];
        var found = string.Create(CultureInfo.InvariantCulture, $"{root}: {files.Length:N0} file{(files.Length == 1 ? "" : "s")}, {files.Sum(f => f.Length) / 1e6:0.0} MB");
        try
        {
            Directory.CreateDirectory(root);
            var probe = Path.Combine(root, $".{Guid.NewGuid():N}");
            File.WriteAllBytes(probe, []);
            File.Delete(probe);
            return new("cache", found);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            return new("cache", found, "nothing can be written there, so that every manuscript is compiled each time", $"make the folder writable, or name another in `{CacheFolder.Variable}`");
        }
    }

    private static string? PathOf(string program) => (Environment.GetEnvironmentVariable("PATH") ?? "").Split(Path.PathSeparator).Where(f => f.Length > 0).Select(f => Path.Combine(f, program)).FirstOrDefault(File.Exists);

    // What a program says of itself; null if it is not there or does not answer.
    private static string? Ask(string program, string argument)
    {
        if (PathOf(program) is not { } path) return null;
        try
        {
            using var process = Process.Start(new ProcessStartInfo(path, [argument]) { RedirectStandardOutput = true, RedirectStandardError = true, RedirectStandardInput = true })!;
            process.StandardInput.Close();
            var said = process.StandardOutput.ReadToEndAsync();
            _ = process.StandardError.ReadToEndAsync();
            if (process.WaitForExit(MillisecondsToAnswer) && said.Wait(MillisecondsToAnswer)) return process.ExitCode == 0 && said.Result.Trim() is { Length: > 0 } text ? text : null;
            process.Kill(entireProcessTree: true);
            return null;
        }
        catch (Exception problem) when (problem is Win32Exception or InvalidOperationException)
        {
            return null;
        }
    }
}
