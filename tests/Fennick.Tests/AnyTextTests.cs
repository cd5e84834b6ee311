using System.Text;
using Fennick.Testing;
using FsCheck;
using FsCheck.Fluent;
using Xunit;

namespace Fennick.Tests;

/// <summary>Whatever text a value holds, the document is valid and the text comes back.</summary>
public sealed class AnyTextTests
{
    private static readonly string[] Traps =
        ["<b>&amp;</b>", "*x* _y_ `z`", "[a](b)", "{see x}", "\\{", "]]>", "\t", "\n", "\r\n", "\u2011", "\u00AD", "\u0000", "\uD83D", "\uFDD0", "\uFDD1", "😀", "ا ب", "e\u0301", "  ", "# ", "- ", "| |", "$x$", "\uFFFF"];

    [Fact]
    public void Any_value_comes_back_unchanged()
    {
        using var folder = new TestFolder();
        var texts = ArbMap.Default.GeneratorFor<string>().Where(t => t is not null);
        var generator = Gen.ListOf(Gen.OneOf(texts, Gen.Elements(Traps))).Select(parts => string.Concat(parts));
        Prop.ForAll(generator.ToArbitrary(), text =>
        {
            var path = folder.File("any.docx");
            new Report().Text($"a{text}b").Save(path);
            Assert.Equal(Expected("a" + text + "b"), WordClean.Check(path).Paragraphs[0]);
        }).Check(Config.QuickThrowOnFailure.WithMaxTest(100));
    }

    /// <summary>Line ends become line breaks; XML's forbidden characters are left out.</summary>
    private static string Expected(string text)
    {
        var lines = text.Replace("\r\n", "\n", StringComparison.Ordinal).Replace('\r', '\n').Replace('\u000B', '\n');
        var kept = new StringBuilder();
        for (var i = 0; i < lines.Length; i++)
        {
            if (char.IsHighSurrogate(lines[i]) && i + 1 < lines.Length && char.IsLowSurrogate(lines[i + 1])) kept.Append(lines[i]).Append(lines[++i]);
            else if (!char.IsSurrogate(lines[i]) && lines[i] is not ('\uFFFE' or '\uFFFF') && (lines[i] >= ' ' || lines[i] is '\t' or '\n')) kept.Append(lines[i]);
        }
        return kept.ToString();
    }
}
