using System.Text;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Fennick.Manuscripts.Reuse;

/// <summary>
/// Gives the anonymous types of a program types of their own, which stay the same when the program is compiled again: <c>new { A = 1 }</c> becomes a call that is as long, so that lines and columns stay.
/// </summary>
internal sealed class AnonymousShapes
{
    private const char Mark = '\u02AC';
    private const string Digits = "0123456789abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ";
    private readonly Dictionary<string, string> known = new(StringComparer.Ordinal);

    // As they stand in code that is read instead of run, where they have to stay what they are.
    private readonly HashSet<string> asWritten = new(StringComparer.Ordinal);

    /// <summary>The static classes whose methods make them, each in an assembly of its own.</summary>
    public IEnumerable<string> Classes => known.Values.Select(ClassOf);

    /// <summary>Replaces them.</summary>
    /// <param name="code">The program.</param>
    /// <param name="make">Compiles the code of one that is new.</param>
    /// <returns>The code; null if one has to stay anonymous.</returns>
    public string? Replace(string code, Action<string, string> make)
    {
        var text = new StringBuilder(code);
        foreach (var creation in CSharpSyntaxTree.ParseText(code).GetRoot().DescendantNodes().OfType<AnonymousObjectCreationExpressionSyntax>())
        {
            if (asWritten.Contains(creation.ToString())) continue;
            string?[] names = [.. creation.Initializers.Select(i => i.NameEquals?.Name.Identifier.Text ?? SyntaxFacts.TryGetInferredMemberName(i.Expression))];
            if (names.Length == 0 || names.Any(n => n is null or "ToString" or "Equals" or "GetHashCode" or "GetType") || creation.NewKeyword.Text.Length != 3) return null;
            var key = string.Join(',', names);
            if (!known.TryGetValue(key, out var name))
            {
                known[key] = name = $"{Mark}{Digits[known.Count / Digits.Length % Digits.Length]}{Digits[known.Count % Digits.Length]}";
                make(ClassOf(name), Write(name, names!));
            }
            Put(creation.NewKeyword, name);
            Put(creation.OpenBraceToken, "(");
            Put(creation.CloseBraceToken, ")");
            foreach (var initializer in creation.Initializers.Where(i => i.NameEquals is not null)) Blank(initializer.NameEquals!.Span.Start, initializer.NameEquals.Span.End);
            if (creation.Initializers.SeparatorCount == creation.Initializers.Count) Put(creation.Initializers.GetSeparator(creation.Initializers.Count - 1), " ");
        }
        return text.ToString();

        void Put(SyntaxToken token, string with)
        {
            for (var i = 0; i < with.Length; i++) text[token.SpanStart + i] = with[i];
        }

        void Blank(int from, int to)
        {
            for (var i = from; i < to; i++)
                if (text[i] is not ('\n' or '\r')) text[i] = ' ';
        }
    }

    /// <summary>Finds those that stand in expression trees, which are read instead of run; from now on they are left as they are.</summary>
    /// <param name="model">What the compiler knows of a program in which they were replaced.</param>
    /// <param name="before">The same program as it was before.</param>
    /// <returns>Whether there are any.</returns>
    public bool LeaveInTrees(SemanticModel model, SyntaxNode before)
    {
        var any = false;
        foreach (var call in model.SyntaxTree.GetRoot().DescendantNodes().OfType<InvocationExpressionSyntax>().Where(c => c.Expression is IdentifierNameSyntax { Identifier.Text: [Mark, ..] }))
        {
            if (!call.Ancestors().OfType<LambdaExpressionSyntax>().Any(l => model.GetTypeInfo(l).ConvertedType is INamedTypeSymbol { Name: "Expression", ContainingNamespace.Name: "Expressions" })) continue;
            // Both are of one length.
            if (before.FindNode(call.Span, getInnermostNodeForTie: true) is AnonymousObjectCreationExpressionSyntax creation) any |= asWritten.Add(creation.ToString());
        }
        return any;
    }

    private static string ClassOf(string name) => $"FennickShape{name}";

    /// <summary>A type that is to others as an anonymous one: its members, equality and text.</summary>
    private static string Write(string name, string[] names)
    {
        var type = $"{name}Of<{string.Join(", ", names.Select((_, i) => $"{Mark}T{i}"))}>";
        var members = string.Join("; ", names.Select((n, i) => $"public {Mark}T{i} {n} {{ get; }} = {Mark}{i}"));
        var arguments = string.Join(", ", names.Select((_, i) => $"{Mark}T{i} {Mark}{i}"));
        var equal = string.Join(" && ", names.Select((n, i) => $"System.Collections.Generic.EqualityComparer<{Mark}T{i}>.Default.Equals({n}, other.{n})"));
        var text = "$\"{{ " + string.Join(", ", names.Select(n => $"{n.TrimStart('@')} = {{{n}}}")) + " }}\"";
        return $$"""
            public static class {{ClassOf(name)}}
            {
                public static {{type}} {{name}}<{{string.Join(", ", names.Select((_, i) => $"{Mark}T{i}"))}}>({{arguments}}) => new({{string.Join(", ", names.Select((_, i) => $"{Mark}{i}"))}});
            }
            public sealed class {{type}}({{arguments}})
            {
                {{members}};
                public override bool Equals(object? value) => value is {{type}} other && {{equal}};
                public override int GetHashCode() { var hash = new System.HashCode(); {{string.Concat(names.Select(n => $"hash.Add({n}); "))}}return hash.ToHashCode(); }
                public override string ToString() => {{text}};
            }
            """;
    }
}
