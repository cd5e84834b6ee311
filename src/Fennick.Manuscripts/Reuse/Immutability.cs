using Microsoft.CodeAnalysis;

namespace Fennick.Manuscripts.Reuse;

/// <summary>Says of types whether what they hold can ever change.</summary>
/// <param name="ownAssemblies">The assemblies that hold types of the manuscript.</param>
internal sealed class Immutability(IReadOnlyCollection<string> ownAssemblies)
{
    private static readonly HashSet<string> Values = ["System.DateTime", "System.DateOnly", "System.TimeOnly", "System.TimeSpan", "System.DateTimeOffset", "System.Guid", "System.Uri", "System.Version", "System.Index", "System.Range", "System.Half", "System.Int128", "System.UInt128", "System.Type", "System.Numerics.BigInteger", "System.Numerics.Complex", "System.Text.RegularExpressions.Regex"];
    private readonly Dictionary<ITypeSymbol, bool> known = new(SymbolEqualityComparer.Default);

    /// <summary>Whether nothing that is reached from a value of a type can change.</summary>
    public bool IsDeep(ITypeSymbol? type)
    {
        if (type is null) return false;
        if (known.TryGetValue(type, out var answer)) return answer;
        // A type that holds itself is as immutable as the rest of it.
        known[type] = true;
        return known[type] = Look(type);
    }

    /// <summary>Whether a type is one of the manuscript's own.</summary>
    public bool IsOwn(ITypeSymbol type) => type.ContainingAssembly is { Name: var name } && ownAssemblies.Contains(name);

    private bool Look(ITypeSymbol type)
    {
        if (type.TypeKind == TypeKind.Enum) return true;
        if (type.SpecialType is (>= SpecialType.System_Boolean and <= SpecialType.System_String) or SpecialType.System_Void or SpecialType.System_DateTime) return true;
        if (type is not INamedTypeSymbol { TypeKind: TypeKind.Class or TypeKind.Struct } named || type.IsAnonymousType) return false;
        if (named.IsTupleType) return named.TupleElements.All(e => IsDeep(e.Type));
        if (named.OriginalDefinition.SpecialType == SpecialType.System_Nullable_T) return IsDeep(named.TypeArguments[0]);
        var name = $"{named.ContainingNamespace}.{named.Name}";
        if (Values.Contains(name)) return true;
        if (IsOwn(named))
        {
            return (named.BaseType is null || named.BaseType.SpecialType is SpecialType.System_Object or SpecialType.System_ValueType || IsDeep(named.BaseType))
                && named.GetMembers().OfType<IFieldSymbol>().Where(f => !f.IsStatic).All(f => (f.IsReadOnly || named.IsValueType) && IsDeep(f.Type));
        }
        if (named.ContainingNamespace?.ToString() == "System.Collections.Immutable") return named.Name != "Builder" && named.TypeArguments.All(IsDeep);
        // What Fennick makes does not change; a table or a report that is being put together refers to what others have made.
        return named.ContainingAssembly?.Name.StartsWith("Fennick", StringComparison.Ordinal) == true && !named.IsGenericType && named.ContainingType is null && named.Name != nameof(Report);
    }
}
