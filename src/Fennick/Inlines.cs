using System.Runtime.CompilerServices;
using Fennick.Diagnostics;
using Fennick.Documents;

namespace Fennick;

/// <summary>What a report's interpolated text may hold beside values. Import it with <c>using static Fennick.Inlines;</c>.</summary>
public static class Inlines
{
    /// <summary>A cross-reference: "Table 3", "Figure 2", or the title of a section.</summary>
    /// <param name="label">The label of what is referred to.</param>
    /// <param name="part">What of it is shown.</param>
    /// <param name="file">Filled in by the compiler.</param>
    /// <param name="line">Filled in by the compiler.</param>
    public static Inline See(string label, SeePart part = SeePart.Whole, [CallerFilePath] string file = "", [CallerLineNumber] int line = 0) =>
        new SeeInline(label, new SourcePlace(Path.GetFileName(file), line, 1)) { Part = part };

    /// <summary>References to several things at once: "Tables 2 and 4".</summary>
    /// <param name="labels">Their labels.</param>
    public static Inline SeeAll(params string[] labels) => new SeeAllInline([.. labels.Select(l => new SeeInline(l, null))]);
}
