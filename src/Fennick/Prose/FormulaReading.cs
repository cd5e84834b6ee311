using Fennick.Diagnostics;
using Fennick.Mathematics;
using Markdig.Syntax;

namespace Fennick.Prose;

/// <summary>Reads the formulas of parsed prose.</summary>
internal static class FormulaReading
{
    /// <param name="written">The formula as it was parsed.</param>
    /// <param name="placeOf">The place of an offset in the prose.</param>
    /// <param name="holdsValues">Whether marked braces are values, as in C#; in a manuscript they are TeX's.</param>
    /// <exception cref="ReportException">It is not understood.</exception>
    public static Formula Read(MarkdownObject written, Func<int, SourcePlace?> placeOf, bool holdsValues)
    {
        switch (written)
        {
            case FormulaBlock block:
                if (!block.HasEnd) throw new ReportException(Diagnostic.Error(placeOf(block.Span.Start), "this formula has no end", "close it with `$$` before an empty line"));
                return Checked(WithBraces(block.Text), offset => placeOf(block.ToSource(offset)));
            case FormulaSpan span:
                return Checked(WithBraces(span.Text), offset => placeOf(span.Span.Start + span.Dollars + offset));
            default:
                throw new InvalidOperationException($"No formula in {written.GetType().Name}.");
        }

        string WithBraces(string text) => HoleMarks.Restore(holdsValues ? text.Replace(HoleMarks.Open.ToString(), "\\live{", StringComparison.Ordinal) : text);
    }

    private static Formula Checked(string text, Func<int, SourcePlace?> placeOf) =>
        string.IsNullOrWhiteSpace(text) ? throw new ReportException(Diagnostic.Error(placeOf(0), "this formula is empty", "write something between the dollars, or `\\$` for the sign")) : Formula.Read(text, placeOf);
}
