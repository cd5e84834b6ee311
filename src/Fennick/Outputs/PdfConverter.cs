using System.ComponentModel;
using System.Diagnostics;
using System.Globalization;
using System.Text;
using Fennick.Diagnostics;

namespace Fennick.Outputs;

/// <summary>Has the word processor that is installed make PDFs of documents: tagged, with bookmarks; many documents by few processes.</summary>
internal static class PdfConverter
{
    private const string Program = "soffice";

    // A command line has a limit.
    private const int MostAtOnce = 500;

    // A process takes longer to start than for a few documents, and a quarter of a gigabyte.
    private const int FewestForProcess = 8;
    private const int MostProcesses = 4;

    // Tags for readers who cannot see, and the headings as bookmarks.
    private const string Filter = "pdf:writer_pdf_Export:{\"UseTaggedPDF\":{\"type\":\"boolean\",\"value\":\"true\"},\"ExportBookmarks\":{\"type\":\"boolean\",\"value\":\"true\"}}";

    private static readonly TimeSpan LookEvery = TimeSpan.FromMilliseconds(50);

    /// <summary>How long a document may take before the word processor is taken to hang, in seconds: the variable <c>FENNICK_PDF_PATIENCE</c>, or two minutes.</summary>
    private static TimeSpan Patience => TimeSpan.FromSeconds(
        double.TryParse(Environment.GetEnvironmentVariable("FENNICK_PDF_PATIENCE"), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var seconds) && seconds is > 0 and < 1e6 ? seconds : 120);

    /// <summary>Makes sure that there is a word processor.</summary>
    /// <exception cref="ReportException">There is none.</exception>
    public static void CheckInstalled()
    {
        if (!(Environment.GetEnvironmentVariable("PATH") ?? "").Split(Path.PathSeparator).Any(folder => folder.Length > 0 && File.Exists(Path.Combine(folder, Program)))) throw Missing(null);
    }

    /// <summary>Makes PDFs. A document that the word processor cannot read, hangs at or dies of costs no other its PDF.</summary>
    /// <param name="documents">The documents; no two have one name.</param>
    /// <param name="folder">Where the PDFs are put, under the names of the documents.</param>
    /// <param name="made">Is told of how many are there.</param>
    /// <param name="stop">Ends it; those that are there stay.</param>
    /// <returns>The documents that there is no PDF of, and why.</returns>
    /// <exception cref="ReportException">There is no word processor.</exception>
    public static IReadOnlyDictionary<string, Diagnostic> Convert(IReadOnlyCollection<string> documents, string folder, Action<int>? made = null, CancellationToken stop = default)
    {
        var processes = Math.Clamp(documents.Count / FewestForProcess, 1, Math.Min(MostProcesses, Environment.ProcessorCount));
        var counting = new Lock();
        var parts = documents.Index().GroupBy(d => d.Index % processes, d => d.Item).Select(p => Task.Factory.StartNew(() => ConvertPart([.. p], folder, Look, stop), CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default)).ToArray();
        foreach (var part in parts) ((IAsyncResult)part).AsyncWaitHandle.WaitOne();
        return parts.SelectMany(p => p.GetAwaiter().GetResult()).ToDictionary();

        void Look()
        {
            lock (counting) made?.Invoke(documents.Count(d => File.Exists(PathOf(d, folder))));
        }
    }

    /// <summary>Has one process after the other make PDFs, until there is one of each document, or it is known why not.</summary>
    private static Dictionary<string, Diagnostic> ConvertPart(string[] documents, string folder, Action look, CancellationToken stop)
    {
        // A profile of its own: one that is open elsewhere would take the work over, or refuse it.
        using var profile = new WorkFolder();
        var faults = new Dictionary<string, Diagnostic>();
        var waiting = documents.ToList();
        while (waiting.Count > 0)
        {
            string[] taken = [.. waiting.Take(MostAtOnce)];
            var (isHanging, said) = Run(taken, folder, profile.Path, look, stop);
            waiting.RemoveAll(IsThere);
            if (stop.IsCancellationRequested) break;
            // It takes them in their order, so that the first without a PDF is what it stopped at.
            if (taken.FirstOrDefault(d => !IsThere(d)) is { } first && (isHanging || !taken.Any(IsThere)))
            {
                faults.Add(first, isHanging ? Diagnostic.Error(null, string.Create(CultureInfo.InvariantCulture, $"the word processor made no PDF within {Patience.TotalSeconds:0.##} seconds, and was ended"), "try again; if it hangs once more, open the document in it by hand; `FENNICK_PDF_PATIENCE` gives it more seconds")
                    : Diagnostic.Error(null, $"the word processor made no PDF{(said.Length > 0 ? $": {said}" : "")}", "install `libreoffice-writer-nogui` and `libreoffice-math-nogui`, or open the document in it by hand"));
                waiting.Remove(first);
            }
        }
        return faults;

        bool IsThere(string document) => File.Exists(PathOf(document, folder));
    }

    /// <summary>Where the PDF of a document is put.</summary>
    public static string PathOf(string document, string folder) => Path.Combine(folder, Path.ChangeExtension(Path.GetFileName(document), ".pdf"));

    private static (bool IsHanging, string Said) Run(string[] documents, string folder, string profile, Action look, CancellationToken stop)
    {
        var start = new ProcessStartInfo(Program, [$"-env:UserInstallation=file://{profile}", "--headless", "--norestore", "--convert-to", Filter, "--outdir", folder, .. documents])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            RedirectStandardInput = true,
        };
        using var process = Started(start);
        process.StandardInput.Close();
        var said = process.StandardError.ReadToEndAsync(CancellationToken.None);
        _ = process.StandardOutput.ReadToEndAsync(CancellationToken.None);
        var (since, count) = (Stopwatch.StartNew(), 0);
        while (!process.WaitForExit(LookEvery))
        {
            if (documents.Count(d => File.Exists(PathOf(d, folder))) is var there && there != count) (since, count) = (Stopwatch.StartNew(), there);
            look();
            if (since.Elapsed < Patience && !stop.IsCancellationRequested) continue;
            process.Kill(entireProcessTree: true);
            process.WaitForExit();
            RemoveTorn(documents, folder);
            return (true, "");
        }
        look();
        RemoveTorn(documents, folder);
        return (false, string.Join("; ", said.GetAwaiter().GetResult().Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)));
    }

    /// <summary>Removes what a process that has died had not written to the end.</summary>
    private static void RemoveTorn(string[] documents, string folder)
    {
        foreach (var pdf in documents.Select(d => PathOf(d, folder)).Where(File.Exists).Where(p => !IsWhole(p)).ToArray()) File.Delete(pdf);
    }

    private static bool IsWhole(string pdf)
    {
        const int Tail = 32;
        using var file = File.OpenRead(pdf);
        file.Seek(-Math.Min(Tail, file.Length), SeekOrigin.End);
        var end = new byte[Tail];
        return Encoding.Latin1.GetString(end, 0, file.ReadAtLeast(end, Tail, throwOnEndOfStream: false)).Contains("%%EOF", StringComparison.Ordinal);
    }

    private static Process Started(ProcessStartInfo start)
    {
        try
        {
            return Process.Start(start)!;
        }
        catch (Win32Exception problem)
        {
            throw Missing(problem);
        }
    }

    private static ReportException Missing(Exception? problem) =>
        new([Diagnostic.Error(null, "a PDF is made by the word processor, and there is none here", "install it, on Debian with `apt install libreoffice-writer-nogui libreoffice-math-nogui`, or leave `pdf` out")], problem);
}
