using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Flow;

namespace Fennick.Layout;

/// <summary>The widths of a table's columns, in twips; their sum is the table's width.</summary>
internal sealed record TableGeometry(ImmutableArray<int> Columns)
{
    public int Width => Columns.Sum();
}

/// <summary>A lowered report whose tables have their widths.</summary>
/// <param name="Flow">The lowered report.</param>
/// <param name="Tables">The geometry of its tables, in their order.</param>
/// <param name="Diagnostics">What could not be fitted.</param>
internal sealed record FittedDocument(FlowDocument Flow, ImmutableArray<TableGeometry> Tables, ImmutableArray<Diagnostic> Diagnostics);
