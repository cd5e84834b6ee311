using System.Text;
using Fennick.Diagnostics;
using Fennick.Testing;
using FsCheck;
using FsCheck.Fluent;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>Whatever stands in a manuscript: its text comes back, or what is wrong is told.</summary>
public sealed class AnyProseTests : IDisposable
{
    private static readonly string[] Traps =
    [
        "<b>", "&amp;", "*", "_", "`", "[a](b)", "[^n]", "[^n]: note", "{see x}", "{1 + 1}", "{", "}", "\\", "|", "# ", "- ", "1. ", "> ", "$", "$$", "\\frac{1}{2}", "~~", "![x](y)", "😀", "אבג", "e\u0301", "\u2011", "\u00AD", "{if true}", "{end}", "{for each x in new[] { 1, 2 }}",
        "{else}", "{contents}", "{columns 2}", "{next column}", "{landscape}", "{page break}", "{include any.ms.md}", "{cite a}", "{box}", "{box note: x}", "{box key figures}", "{pull quote}", "{margin note}", "{last page}", "{style Warning: ", "{colour #123456: x}", "{table t: T}", "```", "```csharp prepare", "=>", "caption: x", "---", "<!--", ": ", "    ", "\t",
    ];

    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Docx Write(string text) => WordClean.Check(Manuscript.Open(folder.Write("any.ms.md", text)).Write().Path);

    [Fact]
    public void Any_text_that_is_escaped_comes_back_unchanged()
    {
        var texts = ArbMap.Default.GeneratorFor<string>().Where(t => t is not null);
        var generator = Gen.ListOf(Gen.OneOf(texts, Gen.Elements(Traps))).Select(parts => Clean(string.Concat(parts)));
        Prop.ForAll(generator.ToArbitrary(), text => Assert.Equal($"a{text}b", Write($"a{Escape(text)}b").Paragraphs[0])).Check(Config.QuickThrowOnFailure.WithMaxTest(60));
    }

    [Fact]
    public void Any_manuscript_gives_a_valid_document_or_tells_what_is_wrong()
    {
        var generator = Gen.ListOf(Gen.Elements([.. Traps, "\n", "\n", "\n\n", " ", "word"])).Select(parts => string.Concat(parts));
        var written = 0;
        var told = 0;
        Prop.ForAll(generator.ToArbitrary(), text =>
        {
            try
            {
                Write(text);
                written++;
            }
            catch (ReportException problem)
            {
                Assert.All(problem.Diagnostics.Where(d => d.Severity == Severity.Error), d => Assert.False(string.IsNullOrWhiteSpace(d.Message)));
                told++;
            }
        }).Check(Config.QuickThrowOnFailure.WithMaxTest(150));
        Assert.True(written > 0 && told > 0);
    }

    /// <summary>Without what a line of a file cannot hold.</summary>
    private static string Clean(string text)
    {
        var clean = new StringBuilder();
        foreach (var rune in text.EnumerateRunes())
            if (rune.Value >= ' ' && rune.Value is not (0xFFFD or 0xFFFE or 0xFFFF or 0xFDD0 or 0xFDD1 or 0x7F)) clean.Append(rune.ToString());
        return clean.ToString();
    }

    /// <summary>CommonMark: any ASCII punctuation may be escaped.</summary>
    private static string Escape(string text) => string.Concat(text.Select(c => char.IsAscii(c) && (char.IsPunctuation(c) || char.IsSymbol(c)) ? $"\\{c}" : $"{c}"));
}
