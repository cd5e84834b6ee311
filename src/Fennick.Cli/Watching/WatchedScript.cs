using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using System.Text.RegularExpressions;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts.Running;
using Fennick.Outputs;

namespace Fennick.Cli.Watching;

/// <summary>A C# program that is being watched: it runs again, and the report that it saves last is shown.</summary>
internal static partial class WatchedScript
{
    private const string Extension = ".cs";
    private const string ShownIn = "fennick-shows-";

    /// <summary>Whether a file is a program.</summary>
    public static bool Is(string path) => path.EndsWith(Extension, StringComparison.OrdinalIgnoreCase);

    /// <summary>Runs it.</summary>
    /// <param name="path">The program as it was named.</param>
    /// <param name="stop">Ends it.</param>
    /// <returns>What came of it, and the documents that it has saved.</returns>
    /// <exception cref="OperationCanceledException">It was ended.</exception>
    public static (MadeView View, IReadOnlyList<string> Saved) Run(string path, CancellationToken stop)
    {
        var watch = Stopwatch.StartNew();
        var full = Path.GetFullPath(path);
        var folder = Path.GetDirectoryName(full)!;
        var isInProject = Directory.EnumerateFiles(folder, "*.csproj").Any();
        var files = (isInProject ? Directory.EnumerateFiles(folder, "*.cs") : []).Append(full).ToHashSet(StringComparer.Ordinal);
        OwnFolders.RemoveOld(ShownIn, TimeSpan.FromDays(1));
        var shown = OwnFolders.CreateTemporary(ShownIn);
        try
        {
            var (exit, output, errors) = Run(isInProject ? ["run", "--project", folder] : ["run", full], shown, stop);
            var step = new LiveStep(Path.GetFileName(path), "program", path, 1, Math.Round(watch.Elapsed.TotalMilliseconds, 1), output, "", IsReused: false);
            var problems = exit == 0 ? [] : Problems(path, full, output, errors).ToList();
            LiveReport? report = null;
            var saved = new List<string>();
            foreach (var file in Directory.GetFiles(shown, "*.json").Order(StringComparer.Ordinal))
            {
                using var json = JsonDocument.Parse(File.ReadAllBytes(file));
                var view = json.RootElement;
                report = new LiveReport(Text(view, "title"), Text(view, "language"), Text(view, "style"), Text(view, "html"), view.GetProperty("pages").GetInt32(), []);
                saved.Add(Text(view, "path"));
                files.UnionWith(view.GetProperty("files").EnumerateArray().Select(f => f.GetString()!));
                problems.AddRange(view.GetProperty("told").EnumerateArray().Select(t => Diagnostic.Warning(null, t.GetString()!)));
            }
            if (exit == 0 && report is null) problems.Add(Diagnostic.Error(new SourcePlace(path, 1, 1), "the program has ended and has saved no report", "call `report.Save(\"report.docx\")` in it"));
            return (new MadeView { Report = exit == 0 ? report : null, Problems = [.. problems.Distinct().Select(LiveProblem.Of)], Steps = [step], Files = [.. files], Milliseconds = Math.Round(watch.Elapsed.TotalMilliseconds, 1) }, saved);
        }
        finally
        {
            Directory.Delete(shown, recursive: true);
        }
    }

    private static (int Exit, string Output, string Errors) Run(string[] arguments, string shown, CancellationToken stop)
    {
        var start = new ProcessStartInfo(DotnetHost.Find() ?? "dotnet", arguments) { RedirectStandardInput = true, RedirectStandardOutput = true, RedirectStandardError = true, UseShellExecute = false };
        start.Environment[WatchedProgram.Variable] = shown;
        // What the tools say is read, not looked at.
        start.Environment["MSBUILDTERMINALLOGGER"] = "off";
        start.Environment["DOTNET_NOLOGO"] = "1";
        using var process = Process.Start(start)!;
        process.StandardInput.Close();
        var (output, errors) = (process.StandardOutput.ReadToEndAsync(CancellationToken.None), process.StandardError.ReadToEndAsync(CancellationToken.None));
        using (stop.Register(() => process.Kill(entireProcessTree: true)))
        {
            process.WaitForExit();
        }
        stop.ThrowIfCancellationRequested();
        return (process.ExitCode, output.GetAwaiter().GetResult(), errors.GetAwaiter().GetResult());
    }

    /// <summary>What the compiler or the runtime has said, at its place.</summary>
    private static IEnumerable<Diagnostic> Problems(string path, string full, string output, string errors)
    {
        var compiler = CompilerError().Matches(output + "\n" + errors).Select(m => (File: m.Groups[1].Value, Line: Number(m.Groups[2]), Column: Number(m.Groups[3]), Message: m.Groups[5].Value, Id: m.Groups[4].Value)).ToArray();
        if (compiler.Length > 0)
        {
            foreach (var (file, line, column, message, id) in compiler) yield return Diagnostic.Error(new SourcePlace(file == full ? path : file, line, column), $"{char.ToLowerInvariant(message[0])}{message[1..].TrimEnd('.')} ({id})");
            yield break;
        }
        var thrown = Thrown().Match(errors);
        var place = Frame().Matches(errors).FirstOrDefault(f => File.Exists(f.Groups[1].Value)) is { } frame ? new SourcePlace(frame.Groups[1].Value == full ? path : frame.Groups[1].Value, Number(frame.Groups[2]), 1) : new SourcePlace(path, 1, 1);
        yield return Diagnostic.Error(place, thrown.Success ? $"{thrown.Groups[2].Value.Trim().ReplaceLineEndings(" ")} ({thrown.Groups[1].Value.Split('.')[^1]})" : $"the program has failed: {(errors.Trim().Length > 0 ? errors : output).Trim().ReplaceLineEndings(" ")}");

        static int Number(Group group) => int.Parse(group.Value, CultureInfo.InvariantCulture);
    }

    private static string Text(JsonElement view, string name) => view.GetProperty(name).GetString()!;

    [GeneratedRegex(@"^\s*(.+?)\((\d+),(\d+)\): error ([A-Z]+\d+): (.+?)(?: \[[^\]]*\])?\r?$", RegexOptions.Multiline)]
    private static partial Regex CompilerError();

    [GeneratedRegex(@"Unhandled exception\. ([\w.+`]+): (.*?)(?=\n   at |\z)", RegexOptions.Singleline)]
    private static partial Regex Thrown();

    [GeneratedRegex(@" in (.+?):line (\d+)")]
    private static partial Regex Frame();
}
