using System.Collections.Immutable;

namespace Fennick.Documents;

/// <summary>What a report was made from.</summary>
/// <param name="Manuscript">The name of the manuscript's file; empty if a program made it.</param>
/// <param name="Hash">The hash of the manuscript with all that it includes; empty if a program made it.</param>
/// <param name="Parameters">The values of its parameters, by their names.</param>
/// <param name="Inputs">The files that were read.</param>
/// <param name="Sources">The manuscript itself and what it includes, if that is to be in the document.</param>
internal sealed record Making(string Manuscript, string Hash, ImmutableArray<KeyValuePair<string, string>> Parameters, ImmutableArray<MadeFrom> Inputs, ImmutableArray<KeyValuePair<string, string>> Sources)
{
    /// <summary>What a program made that says nothing of itself.</summary>
    public static Making Nothing { get; } = new("", "", [], [], []);

    /// <summary>The paths of the files of the manuscript from its folder, by the names that places give them.</summary>
    public ImmutableDictionary<string, string> Names { get; init; } = ImmutableDictionary<string, string>.Empty;
}

/// <summary>A file that was read.</summary>
/// <param name="Name">Its path from the manuscript's folder; its name alone if it lies elsewhere.</param>
/// <param name="Hash">The first half of the SHA-256 of what it held, as 32 hexadecimal digits.</param>
internal readonly record struct MadeFrom(string Name, string Hash);
