using System.Globalization;
using System.Text.Json;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Running;

namespace Fennick.Outputs;

/// <summary>Shows the reports that a program saves to whoever watches the program: as files in a folder that the environment names.</summary>
internal static class WatchedProgram
{
    /// <summary>Names the folder.</summary>
    public const string Variable = "FENNICK_SHOWS_IN";

    private static int count;

    /// <summary>Shows a report that was saved, if somebody watches.</summary>
    /// <param name="report">The report.</param>
    /// <param name="path">The full path of its file.</param>
    /// <param name="diagnostics">What was told of it.</param>
    public static void Show(ReportContent report, string path, IEnumerable<Diagnostics.Diagnostic> diagnostics)
    {
        if (Environment.GetEnvironmentVariable(Variable) is not { Length: > 0 } folder || !Directory.Exists(folder)) return;
        var view = ReportView.Of(ReportFile.LayOut(report, []));
        using var text = new MemoryStream();
        using (var json = new Utf8JsonWriter(text))
        {
            json.WriteStartObject();
            json.WriteString("path", path);
            json.WriteString("title", view.Title);
            json.WriteString("language", view.Language);
            json.WriteString("style", view.Style);
            json.WriteString("html", view.Html);
            json.WriteNumber("pages", view.PageCount);
            WriteAll(json, "files", FilesRead.SoFar.Concat(ReportFile.HouseOf(report)));
            WriteAll(json, "told", diagnostics.Select(d => d.ToString()));
            json.WriteEndObject();
        }
        WholeFile.Put(Path.Combine(folder, Interlocked.Increment(ref count).ToString("D6", CultureInfo.InvariantCulture) + ".json"), target => text.WriteTo(target));
    }

    private static void WriteAll(Utf8JsonWriter json, string name, IEnumerable<string> texts)
    {
        json.WriteStartArray(name);
        foreach (var text in texts) json.WriteStringValue(text);
        json.WriteEndArray();
    }
}
