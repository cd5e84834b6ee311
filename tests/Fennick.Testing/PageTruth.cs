using System.Globalization;
using System.Text.RegularExpressions;

namespace Fennick.Testing;

/// <summary>A page number that a document prints, and the page on which its target stands once the word processor has laid it out.</summary>
/// <param name="Document">The document.</param>
/// <param name="Bookmark">The target.</param>
/// <param name="Printed">The number.</param>
/// <param name="Real">The page.</param>
public sealed record PrintedPage(string Document, string Bookmark, int Printed, int Real);

/// <summary>Compares the page numbers that documents print with the pages on which the word processor from Debian's packages puts their targets.</summary>
public static partial class PageTruth
{
    private const string Pdf = "pdf:writer_pdf_Export:{\"ExportBookmarksToPDFDestination\":{\"type\":\"boolean\",\"value\":\"true\"}}";

    /// <summary>The printed pages of a document whose pages are numbered from 1 on, and how many pages it has.</summary>
    public static (IReadOnlyList<PrintedPage> Pages, int Count) Check(string document)
    {
        var converted = WordProcessor.Convert(document, Pdf);
        try
        {
            var places = Command.Run("pdfinfo", ["-dests", converted]).Output.Split('\n').Select(l => Destination().Match(l)).Where(m => m.Success)
                .GroupBy(m => m.Groups[2].Value.Replace("5F", "_", StringComparison.Ordinal)).ToDictionary(g => g.Key, g => int.Parse(g.First().Groups[1].Value, CultureInfo.InvariantCulture));
            var count = int.Parse(PageCount().Match(Command.Run("pdfinfo", [converted]).Output).Groups[1].Value, CultureInfo.InvariantCulture);
            return ([.. Printed(Docx.Open(document)).Select(p => new PrintedPage(Path.GetFileName(document), p.Bookmark, p.Page, places.GetValueOrDefault(p.Bookmark)))], count);
        }
        finally
        {
            Directory.Delete(Path.GetDirectoryName(converted)!, recursive: true);
        }
    }

    /// <summary>The fields that name a page, with what stands in them.</summary>
    private static IEnumerable<(string Bookmark, int Page)> Printed(Docx docx)
    {
        string? bookmark = null;
        var (isResult, text) = (false, "");
        foreach (var element in docx.Body.Descendants())
        {
            if (element.Name == Docx.W + "instrText" && Field().Match(element.Value) is { Success: true } field) (bookmark, text) = (field.Groups[1].Value, "");
            else if (element.Name == Docx.W + "t" && isResult) text += element.Value;
            else if (element.Name == Docx.W + "fldChar" && bookmark is not null)
            {
                isResult = (string?)element.Attribute(Docx.W + "fldCharType") == "separate";
                if ((string?)element.Attribute(Docx.W + "fldCharType") != "end") continue;
                if (int.TryParse(text, CultureInfo.InvariantCulture, out var page)) yield return (bookmark, page);
                bookmark = null;
            }
        }
    }

    [GeneratedRegex(@"^ *(\d+) \[.*?\] ""(.*)""")]
    private static partial Regex Destination();

    [GeneratedRegex(@"Pages: *(\d+)")]
    private static partial Regex PageCount();

    [GeneratedRegex(@"PAGEREF (\S+)")]
    private static partial Regex Field();
}
