using System.Diagnostics;
using System.Globalization;
using Fennick.Batches;
using Fennick.Documents;
using Fennick.Manuscripts;
using Fennick.Outputs;

namespace Fennick.Bench;

/// <summary>The other forms of a report: the page of the annual report, and the PDFs of 48 apiary reports in one go beside one process of the word processor each.</summary>
internal static class FormsBenchmark
{
    private const int Units = 48;
    private const int Rounds = 40;

    public static int Run()
    {
        var survey = Path.GetFullPath("examples/survey");
        if (!Directory.Exists(survey))
        {
            Console.Error.WriteLine("run this from the root of the repository");
            return 2;
        }
        var content = Manuscript.Open(Path.Combine(survey, "annual.ms.md")).Run().Content;
        Say($"the page of the annual report: {Quickest(content, ReportWriters.Page):0.0} ms (target: at most 20), as text {Quickest(content, ReportWriters.Text):0.0} ms");
        var folder = Directory.CreateTempSubdirectory("fennick-forms-").FullName;
        try
        {
            var batch = Batch.Of(Manuscript.Open(Path.Combine(survey, "apiary.ms.md")), Roster.Read(Path.Combine(survey, "data", "apiaries.csv"))) with { Name = "{row}.docx", First = Units };
            batch.Run(folder);
            var documents = Directory.GetFiles(folder, "*.docx");
            var together = Seconds(() => PdfConverter.Convert(documents, Directory.CreateDirectory(Path.Combine(folder, "one")).FullName));
            var each = Directory.CreateDirectory(Path.Combine(folder, "each")).FullName;
            var apart = Seconds(() => Array.ForEach(documents, d => PdfConverter.Convert([d], each)));
            Say($"{documents.Length} PDFs in one go: {together:0.0} s; by one process each: {apart:0.0} s; {apart / together:0.0} times (target: at least 5)");
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
        return 0;
    }

    private static double Quickest(ReportContent content, IReportWriter writer) => Enumerable.Range(0, Rounds).Min(_ => 1000 * Seconds(() => writer.Write(content, Stream.Null)));

    private static double Seconds(Action action)
    {
        var watch = Stopwatch.StartNew();
        action();
        return watch.Elapsed.TotalSeconds;
    }

    private static void Say(FormattableString line) => Console.WriteLine(line.ToString(CultureInfo.InvariantCulture));
}
