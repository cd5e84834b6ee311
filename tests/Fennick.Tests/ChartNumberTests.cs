using System.IO.Compression;
using System.Xml.Linq;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Formatting;
using Fennick.Testing;
using Xunit;

namespace Fennick.Tests;

/// <summary>A chart shows its numbers as a sentence does, and never the format itself.</summary>
public sealed class ChartNumberTests : IDisposable
{
    private static readonly XNamespace S = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private (XElement Chart, XElement Styles) Write(string format, string language, params double[] values)
    {
        var path = folder.File("chart.docx");
        new Report($"Chart") { Language = Language.Find(language)! }.Add(Chart.Columns(values, v => "c", v => v).Format(format).WithValues()).Save(path);
        var docx = WordClean.Check(path);
        using var workbook = new ZipArchive(new MemoryStream(docx.Bytes("word/embeddings/workbook1.xlsx")));
        using var styles = workbook.GetEntry("xl/styles.xml")!.Open();
        return (docx.Xml("word/charts/chart1.xml").Root!, XDocument.Load(styles).Root!);
    }

    private static string Code(XElement chart, string parent) => (string)chart.Descendants(Docx.C + parent).First().Element(Docx.C + "numFmt")!.Attribute("formatCode")!;

    [Theory]
    [InlineData("0.0", "en-GB", "0.0")]
    [InlineData("N1", "en-GB", "#,##0.0")]
    [InlineData("n0", "en-GB", "#,##0")]
    [InlineData("F2", "en-GB", "0.00")]
    [InlineData("P1", "en-GB", "#,##0.0%")]
    [InlineData("P0", "de-DE", "[$-407]#,##0\"\u00A0\"%")]
    [InlineData("C2", "en-GB", "\"£\"#,##0.00")]
    [InlineData("E2", "en-GB", "0.00E+000")]
    [InlineData("#,0", "en-GB", "#,##0")]
    [InlineData("#,0.00", "en-GB", "#,##0.00")]
    [InlineData("0,0.#", "en-GB", "#,#00.#")]
    [InlineData("0.0' kg'", "en-GB", "0.0\" kg\"")]
    [InlineData("0.0 (0)", "en-GB", "0.0\" (\"0\")\"")]
    [InlineData("0.0;(0.0);'none'", "en-GB", "0.0;\"(\"0.0\")\";\"none\"")]
    [InlineData("[0]", "en-GB", "\"[\"0\"]\"")]
    [InlineData("percent 1", "en-GB", "#,##0.0%")]
    [InlineData("number 2", "en-GB", "#,##0.00")]
    [InlineData("thousands", "en-GB", "#,##0")]
    [InlineData("signed 1", "en-GB", "+#,##0.0;\"\u2212\"#,##0.0;#,##0.0")]
    [InlineData("money EUR", "en-GB", "\"€\"#,##0.00")]
    [InlineData("money EUR 0", "de-DE", "[$-407]#,##0\"\u00A0€\"")]
    [InlineData("money CHF 0", "en-GB", "\"CHF\u00A0\"#,##0")]
    [InlineData("number 1 | unit kg", "en-GB", "#,##0.0\"\u00A0kg\"")]
    [InlineData("0.0 | unit m²", "en-GB", "0.0\"\u00A0m²\"")]
    public void A_format_becomes_the_number_code_of_chart_axis_and_workbook(string format, string language, string code)
    {
        var (chart, styles) = Write(format, language, 12.5, 3000);
        Assert.Equal((code, code), (Code(chart, "dLbls"), Code(chart, "valAx")));
        Assert.Equal(code, chart.Descendants(Docx.C + "formatCode").Single().Value);
        Assert.Equal(code, (string?)styles.Descendants(S + "numFmt").Single().Attribute("formatCode"));
        Assert.Empty(chart.Descendants(Docx.C + "dLbl"));
    }

    [Theory]
    [InlineData("unit kg", "12.5\u00A0kg", "General\"\u00A0kg\"")]
    [InlineData("ordinal", "3rd", "General")]
    [InlineData("words", "three", "General")]
    [InlineData("words | upper", "THREE", "General")]
    [InlineData("power-of-ten 3 1", "12.5\u00A0×\u00A010³", "General")]
    [InlineData("p-value bare 2", "0.25", "General")]
    [InlineData("0.0e+0", "1.2e+1", "General")]
    [InlineData("G3", "12.5", "General")]
    [InlineData("0‰", "12500‰", "General")]
    [InlineData("number 1 | quoted", "‘12.5’", "General")]
    public void What_no_code_shows_stands_as_words(string format, string words, string axis)
    {
        var value = format.StartsWith("ordinal", StringComparison.Ordinal) || format.StartsWith("words", StringComparison.Ordinal) ? 3 : format.StartsWith("p-", StringComparison.Ordinal) ? 0.25 : format.StartsWith("power", StringComparison.Ordinal) ? 12500 : 12.5;
        if (format == "0.0e+0") value = 12;
        var (chart, _) = Write(format, "en-GB", value);
        Assert.Equal(words, string.Concat(chart.Descendants(Docx.C + "dLbl").Single().Descendants(Docx.A + "t").Select(t => t.Value)));
        Assert.Equal((ValueFormatter.Format(value, format, Language.Default), axis), (words, Code(chart, "valAx")));
    }

    [Fact]
    public void Negative_numbers_have_the_minus_of_the_language() => Assert.Equal("[$-41D]#,##0.0;[$-41D]\"\u2212\"#,##0.0", Code(Write("N1", "sv-SE", 3, -4).Chart, "dLbls"));

    [Fact]
    public void Numbers_that_round_to_zero_have_no_sign()
    {
        Assert.Equal(["1.0", "0.0"], Write("0.0", "en-GB", 1, -0.01).Chart.Descendants(Docx.C + "dLbl").Select(l => l.Value.Split("outEnd")[0]));
        Assert.Equal(["+1.0", "0.0"], Write("signed 1", "en-GB", 1, 0.01).Chart.Descendants(Docx.C + "dLbl").Select(l => l.Value.Split("outEnd")[0]));
    }

    [Theory]
    [InlineData("0.0 kg", "`0.0 kg` is not a format for a number")]
    [InlineData("N1x", "`N1x` is not a format for a number")]
    [InlineData("d MMMM", "`d MMMM` is not a format for a number")]
    [InlineData("persent 1", "`persent 1` is not a format for a number")]
    [InlineData("ordinal", "`ordinal` wants a whole number, but got the number 2.5")]
    [InlineData("", "`` is not a format for a number")]
    [InlineData("N1 |", "the chain `N1 |` has an empty link")]
    public void What_is_no_format_is_the_usual_error(string format, string message)
    {
        var problem = Assert.Throws<ReportException>(() => Chart.Columns([2.5], v => "c", v => v).Format(format));
        Assert.Equal(message, problem.Diagnostics.Single().Message);
        var unchecked_ = Chart.Columns([2.5], v => "c", v => v) with { ValueAxis = new ChartAxis { Format = format } };
        Assert.Equal(message, Assert.Throws<ReportException>(() => new Report($"x").Add(unchecked_).Save(folder.File("x.docx"))).Diagnostics.Single().Message);
    }
}
