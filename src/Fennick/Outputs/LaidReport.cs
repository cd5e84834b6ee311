using Fennick.Flow;
using Fennick.Houses;
using Fennick.Layout;

namespace Fennick.Outputs;

/// <summary>A report on its way to a form: what it says in terms of paragraphs, and how that fills pages.</summary>
/// <param name="Galley">All of it in the order in which it was written, its tables whole.</param>
/// <param name="Pages">Where everything stands on paper.</param>
/// <param name="Document">The same as it fills the pages.</param>
/// <param name="House">What it wears.</param>
internal sealed record LaidReport(Galley Galley, PageMap Pages, FittedDocument Document, DressedHouse House);
