using System.Collections.Immutable;

namespace Fennick.Manuscripts.Reuse;

/// <summary>A piece of a program that may be left out when nothing that it depends on has changed.</summary>
/// <param name="Ordinal">The number of what it carries out.</param>
/// <param name="Key">All that it says: pieces of one key say the same.</param>
/// <param name="DependsOn">The pieces, by their places in the plan, whose values it uses.</param>
/// <param name="Company">The pieces with which it runs, or not; only itself if nothing changes what it uses.</param>
/// <param name="Names">The variables that it gives values, in the order in which the program names them.</param>
/// <param name="AlwaysRuns">Whether it runs every time.</param>
internal sealed record ReusablePiece(int Ordinal, string Key, ImmutableArray<int> DependsOn, ImmutableArray<int> Company, ImmutableArray<string> Names, bool AlwaysRuns);

/// <summary>What of a program may be left out.</summary>
/// <param name="Pieces">Its pieces in order.</param>
/// <param name="World">All that holds for all pieces: types, namespaces, libraries.</param>
internal sealed record ReusePlan(ImmutableArray<ReusablePiece> Pieces, string World);
