using System.Collections.Immutable;

namespace Fennick.Wordprocessing;

/// <summary>The parts of a package that are the same in every document, compressed once.</summary>
/// <param name="Parts">Name in the package (without a leading slash) and bytes, in the order they are written.</param>
internal sealed record PackageTemplate(ImmutableArray<(string Name, Slab Slab)> Parts);
