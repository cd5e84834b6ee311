using Fennick.Diagnostics;

namespace Fennick.Documents;

/// <summary>What readers who cannot see a report would miss.</summary>
internal static class Accessibility
{
    /// <summary>The alternative text of what is only an ornament.</summary>
    public const string Decorative = "decorative";

    /// <summary>What a person must write or put right.</summary>
    /// <param name="report">The report.</param>
    public static IEnumerable<Diagnostic> Find(ReportContent report)
    {
        if (report.ShowsTitle && report.Title is not { IsEmpty: false } && report.Settings.IsStrict) yield return Warning(null, "the report has no title, by which its window and its file are known", "write `title: …`, or `new Report(\"…\")`");
        var level = 0;
        foreach (var block in Block.Within(report.Blocks))
        {
            if (block is Heading heading)
            {
                if (heading.Level > level + 1 && level > 0) yield return SkippedLevel(heading.Label?.Place, heading.Content.ToPlainText(report.Language), level, heading.Level);
                level = heading.Level;
            }
            foreach (var found in Pictures(block)) yield return found;
            if (report.Settings.IsStrict && block is TableBlock { Table.HeaderRows.IsEmpty: true } table) yield return Warning(table.Place, "the table has no header, by which its columns are known", "give its columns heads");
        }
    }

    /// <summary>A picture that nobody described.</summary>
    public static Diagnostic NoAlternative(SourcePlace? place, string how) => Warning(place, "the picture has no alternative text, for readers who cannot see it", how);

    /// <summary>A heading below which one of a level in between is missing.</summary>
    public static Diagnostic SkippedLevel(SourcePlace? place, string words, int above, int level) =>
        Warning(place, $"the heading \"{words}\" of level {level} follows one of level {above}", $"make it one of level {above + 1}: readers who go from heading to heading look for that");

    private static Diagnostic Warning(SourcePlace? place, string message, string suggestion) => Diagnostic.Warning(place, message, suggestion);

    private static IEnumerable<Diagnostic> Pictures(Block block)
    {
        if (block is FigureBlock { Chart: null, Panels: null } figure && string.IsNullOrWhiteSpace(figure.AlternativeText)) yield return NoAlternative(figure.Place, $"write `alt: …` in the head of the step, or `alt: {Decorative}` for an ornament");
        if (block is Paragraph paragraph)
        {
            foreach (var inline in paragraph.Content.Inlines)
                if (Lacks(inline) is { } found) yield return found;
        }
        if (block is not TableBlock { Table: var table }) yield break;
        for (var r = -table.HeaderRows.Length; r < table.Rows.Count; r++)
        {
            foreach (var cell in (r < 0 ? table.HeaderRows[r + table.HeaderRows.Length] : table.Rows[r]).Cells)
                foreach (var inline in cell.Content.Inlines)
                    if (Lacks(inline) is { } found) yield return found;
        }
    }

    private static Diagnostic? Lacks(Inline inline) => inline is PictureInline picture && string.IsNullOrWhiteSpace(picture.AlternativeText)
        ? NoAlternative(picture.Place, $"write `![what it shows](file)`, or `![{Decorative}](file)` for an ornament") : null;
}
