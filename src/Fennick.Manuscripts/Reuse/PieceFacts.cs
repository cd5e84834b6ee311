using Microsoft.CodeAnalysis;

namespace Fennick.Manuscripts.Reuse;

/// <summary>What the compiler knows of a piece of the program.</summary>
internal sealed class PieceFacts
{
    /// <summary>The variables of the program that it mentions, itself or by the functions that it calls.</summary>
    public HashSet<ISymbol> Uses { get; } = new(SymbolEqualityComparer.Default);

    /// <summary>The variables that it declares or gives a value.</summary>
    public HashSet<ISymbol> Writes { get; } = new(SymbolEqualityComparer.Default);

    /// <summary>The functions that it calls.</summary>
    public HashSet<ISymbol> Calls { get; } = new(SymbolEqualityComparer.Default);

    /// <summary>The variables that its lambdas hold.</summary>
    public HashSet<ISymbol> Captures { get; } = new(SymbolEqualityComparer.Default);

    /// <summary>The variables that its lambdas give values, whenever they run.</summary>
    public HashSet<ISymbol> WritesLater { get; } = new(SymbolEqualityComparer.Default);

    /// <summary>The functions that run whenever somebody calls what it made of them.</summary>
    public HashSet<ISymbol> CallsLater { get; } = new(SymbolEqualityComparer.Default);

    /// <summary>Whether it may change something that others have made.</summary>
    public bool MayChange { get; set; }

    /// <summary>Whether it asks for values that all of the report share.</summary>
    public bool Shares { get; set; }

    /// <summary>Whether it does something that nobody can follow.</summary>
    public bool IsOpaque { get; set; }

    /// <summary>Takes what a function does that it calls.</summary>
    public bool Add(PieceFacts other)
    {
        var before = (Uses.Count, Writes.Count, Calls.Count, Captures.Count, WritesLater.Count, CallsLater.Count, MayChange, Shares, IsOpaque);
        Uses.UnionWith(other.Uses);
        Writes.UnionWith(other.Writes);
        Calls.UnionWith(other.Calls);
        Captures.UnionWith(other.Captures);
        WritesLater.UnionWith(other.WritesLater);
        CallsLater.UnionWith(other.CallsLater);
        MayChange |= other.MayChange;
        Shares |= other.Shares;
        IsOpaque |= other.IsOpaque;
        return before != (Uses.Count, Writes.Count, Calls.Count, Captures.Count, WritesLater.Count, CallsLater.Count, MayChange, Shares, IsOpaque);
    }
}
