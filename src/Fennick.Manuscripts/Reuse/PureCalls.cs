using Microsoft.CodeAnalysis;

namespace Fennick.Manuscripts.Reuse;

/// <summary>The methods of libraries that are known to change nothing that they are given.</summary>
internal static class PureCalls
{
    private static readonly string[] Types =
    [
        "System.Linq.Enumerable", "System.Linq.Queryable", "System.Math", "System.MathF", "System.String", "System.Char", "System.Convert", "System.Enum", "System.HashCode", "System.Tuple", "System.ValueTuple", "System.Nullable", "System.Console", "System.StringComparer",
        "System.DateTime", "System.DateOnly", "System.TimeOnly", "System.TimeSpan", "System.DateTimeOffset", "System.Guid", "System.Index", "System.Range", "System.IO.Path", "System.Globalization.CultureInfo", "System.Text.RegularExpressions.Regex", "System.Diagnostics.Stopwatch",
        "System.Collections.Generic.Comparer", "System.Collections.Generic.EqualityComparer", "System.Collections.Generic.KeyValuePair", "System.MemoryExtensions", "System.Threading.Tasks.Task", "System.Threading.Thread",
    ];

    private static readonly HashSet<string> Readers =
    [
        "ToString", "Equals", "GetHashCode", "GetType", "CompareTo", "GetEnumerator", "Contains", "ContainsKey", "ContainsValue", "TryGetValue", "GetValueOrDefault", "IndexOf", "LastIndexOf", "Find", "FindAll", "FindIndex", "FindLast", "FindLastIndex", "Exists", "TrueForAll", "ToArray", "GetRange",
        "ConvertAll", "BinarySearch", "Peek", "ForEach", "AsReadOnly", "Slice", "GetLength", "GetValue", "SetEquals", "IsSubsetOf", "IsSupersetOf", "Overlaps", "Empty", "AsSpan", "AsMemory", "Deconstruct", "ReferenceEquals",
    ];

    // The methods of the manuscript's own collections of the framework: those that change them change nothing else.
    private static readonly string[] Collections = ["System.Collections.Generic", "System.Collections", "System.Text", "System.Collections.Concurrent", "System.Collections.ObjectModel", "System.Collections.Frozen"];

    /// <summary>Whether a method changes nothing.</summary>
    public static bool Has(IMethodSymbol method)
    {
        var type = method.ContainingType;
        if (method.MethodKind is MethodKind.UserDefinedOperator or MethodKind.Conversion or MethodKind.BuiltinOperator) return true;
        var space = type.ContainingNamespace?.ToString() ?? "";
        var name = $"{space}.{type.Name}";
        if (type.ContainingAssembly?.Name.StartsWith("Fennick", StringComparison.Ordinal) == true && space.StartsWith("Fennick", StringComparison.Ordinal)) return name != "Fennick.Report";
        if (type.SpecialType is >= SpecialType.System_Boolean and <= SpecialType.System_String) return true;
        if (space == "System.Collections.Immutable") return type.Name != "Builder" && method.Name != "Builder";
        if (space.StartsWith("MathNet.Numerics.Statistics", StringComparison.Ordinal) || (space == "MathNet.Numerics.Distributions" && method.IsStatic)) return !method.Name.Contains("Inplace", StringComparison.Ordinal) && !method.Name.StartsWith("Sample", StringComparison.Ordinal);
        return Types.Contains(name) || (Readers.Contains(method.Name) && (space.StartsWith("System", StringComparison.Ordinal) || space.Length == 0));
    }

    /// <summary>Whether a method of a collection changes nothing but the collection.</summary>
    public static bool ChangesOnlyItself(IMethodSymbol method) => Collections.Contains(method.ContainingType.ContainingNamespace?.ToString());

    /// <summary>Whether a method makes something that nobody else holds; its items are those that it was given.</summary>
    public static bool MakesNew(IMethodSymbol method) => method.ContainingType is { Name: "Enumerable", ContainingNamespace.Name: "Linq" } && method.Name is "ToList" or "ToArray" or "ToDictionary" or "ToHashSet" or "ToLookup";
}
