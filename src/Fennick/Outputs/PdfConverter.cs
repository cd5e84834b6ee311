using System.ComponentModel;
using System.Diagnostics;
using Fennick.Diagnostics;

namespace Fennick.Outputs;

/// <summary>Has the word processor that is installed make PDFs of documents: tagged, with bookmarks, any number of documents in one process.</summary>
internal static class PdfConverter
{
    private const string Program = "soffice";

    // Tags for readers who cannot see, and the headings as bookmarks.
    private const string Filter = "pdf:writer_pdf_Export:{\"UseTaggedPDF\":{\"type\":\"boolean\",\"value\":\"true\"},\"ExportBookmarks\":{\"type\":\"boolean\",\"value\":\"true\"}}";

    /// <summary>How long a document may take before the word processor is taken to hang.</summary>
    public static TimeSpan Patience { get; set; } = TimeSpan.FromMinutes(2);

    /// <summary>Makes PDFs.</summary>
    /// <param name="documents">The documents.</param>
    /// <param name="folder">Where the PDFs are put, under the names of the documents.</param>
    /// <exception cref="ReportException">There is no word processor, it hangs, or it made none.</exception>
    public static void Convert(IReadOnlyCollection<string> documents, string folder)
    {
        // A profile of its own: one that is open elsewhere would take the work over, or refuse it.
        using var profile = new WorkFolder();
        var start = new ProcessStartInfo(Program, [$"-env:UserInstallation=file://{profile.Path}", "--headless", "--norestore", "--convert-to", Filter, "--outdir", folder, .. documents])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            RedirectStandardInput = true,
        };
        using var process = Started(start);
        process.StandardInput.Close();
        var said = process.StandardError.ReadToEndAsync();
        _ = process.StandardOutput.ReadToEndAsync();
        if (!process.WaitForExit(Patience * documents.Count))
        {
            process.Kill(entireProcessTree: true);
            process.WaitForExit();
            throw new ReportException(Diagnostic.Error(null, $"the word processor made no PDF within {Patience.TotalSeconds * documents.Count:0} seconds, and was ended", "try again; if it hangs once more, open the document in it by hand"));
        }
        if (documents.FirstOrDefault(d => !File.Exists(Path.Combine(folder, Path.ChangeExtension(Path.GetFileName(d), ".pdf")))) is { } missing)
            throw new ReportException(Diagnostic.Error(null, $"the word processor made no PDF of {Path.GetFileName(missing)}: {said.GetAwaiter().GetResult().Trim()}", "install `libreoffice-writer-nogui` and `libreoffice-math-nogui`"));
    }

    private static Process Started(ProcessStartInfo start)
    {
        try
        {
            return Process.Start(start)!;
        }
        catch (Win32Exception problem)
        {
            throw new ReportException([Diagnostic.Error(null, "a PDF is made by the word processor, and there is none here", "install it, on Debian with `apt install libreoffice-writer-nogui libreoffice-math-nogui`, or leave `pdf` out")], problem);
        }
    }
}
