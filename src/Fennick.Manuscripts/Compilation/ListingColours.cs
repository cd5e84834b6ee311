using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using System.Security.Cryptography;
using System.Text;
using Fennick.Documents;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Fennick.Manuscripts.Compilation;

/// <summary>What is coloured in listings of C#; what the compiler once said of a listing is kept, so that a later run does not load it.</summary>
internal static class ListingColours
{
    // Grows when the classes below change.
    private const string Version = "2";

    // A step in a loop is listed once a pass.
    private static readonly ConcurrentDictionary<string, ImmutableArray<ListingSpan>> Known = new(StringComparer.Ordinal);

    public static ImmutableArray<ListingSpan> Of(string code) => Known.GetOrAdd(code, Find);

    private static ImmutableArray<ListingSpan> Find(string code)
    {
        var cache = new CompiledCache();
        var key = $"listing-{Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"{Version}\n{code}")))}";
        if (cache.FindBytes(key) is { } kept) return Decode(kept);
        var spans = Classify(code);
        cache.StoreBytes(key, Encode(spans));
        return spans;
    }

    // In a method of its own: what is kept must not even look for the compiler.
    [MethodImpl(MethodImplOptions.NoInlining)]
    private static ImmutableArray<ListingSpan> Classify(string code)
    {
        var tree = CSharpSyntaxTree.ParseText(code, new CSharpParseOptions(LanguageVersion.Latest, kind: SourceCodeKind.Script));
        var compilation = CSharpCompilation.CreateScriptCompilation("listing", tree, ManuscriptCompiler.Platform, new CSharpCompilationOptions(OutputKind.DynamicallyLinkedLibrary, usings: ProgramText.Usings));
        var model = compilation.GetSemanticModel(tree);
        var spans = ImmutableArray.CreateBuilder<ListingSpan>();
        foreach (var token in tree.GetRoot().DescendantTokens(node => node is not DocumentationCommentTriviaSyntax, descendIntoTrivia: true))
        {
            AddComments(token.LeadingTrivia);
            if (!token.Span.IsEmpty && KindOf(token, model) is { } kind) spans.Add(new ListingSpan(token.SpanStart, token.Span.Length, kind));
            AddComments(token.TrailingTrivia);
        }
        // What stands in a directive comes before the comments around it.
        spans.Sort((a, b) => a.Start.CompareTo(b.Start));
        return spans.ToImmutable();

        void AddComments(SyntaxTriviaList trivia)
        {
            foreach (var part in trivia)
            {
                if (part.Kind() is SyntaxKind.SingleLineCommentTrivia or SyntaxKind.MultiLineCommentTrivia or SyntaxKind.SingleLineDocumentationCommentTrivia or SyntaxKind.MultiLineDocumentationCommentTrivia)
                    spans.Add(new ListingSpan(part.SpanStart, part.Span.Length, CodeKind.Comment));
            }
        }
    }

    private static CodeKind? KindOf(SyntaxToken token, SemanticModel model)
    {
        var kind = token.Kind();
        if (SyntaxFacts.IsKeywordKind(kind) || SyntaxFacts.IsPreprocessorKeyword(kind) || kind == SyntaxKind.HashToken || (SyntaxFacts.IsContextualKeyword(kind) && kind != SyntaxKind.IdentifierToken)) return CodeKind.Keyword;
        if (kind is SyntaxKind.StringLiteralToken or SyntaxKind.CharacterLiteralToken or SyntaxKind.Utf8StringLiteralToken or SyntaxKind.SingleLineRawStringLiteralToken or SyntaxKind.MultiLineRawStringLiteralToken or SyntaxKind.Utf8SingleLineRawStringLiteralToken
            or SyntaxKind.Utf8MultiLineRawStringLiteralToken or SyntaxKind.InterpolatedStringStartToken or SyntaxKind.InterpolatedVerbatimStringStartToken or SyntaxKind.InterpolatedStringTextToken or SyntaxKind.InterpolatedStringEndToken
            or SyntaxKind.InterpolatedSingleLineRawStringStartToken or SyntaxKind.InterpolatedMultiLineRawStringStartToken or SyntaxKind.InterpolatedRawStringEndToken)
            return CodeKind.String;
        if (kind != SyntaxKind.IdentifierToken || token.Parent is not { } parent) return null;
        // `var` and its like are words of the language where no type of that name is meant.
        if (parent is IdentifierNameSyntax { IsVar: true } or IdentifierNameSyntax { IsNint: true } or IdentifierNameSyntax { IsNuint: true } or IdentifierNameSyntax { IsNotNull: true } or IdentifierNameSyntax { IsUnmanaged: true }) return CodeKind.Keyword;
        if (parent is BaseTypeDeclarationSyntax or DelegateDeclarationSyntax or TypeParameterSyntax or ConstructorDeclarationSyntax) return CodeKind.Type;
        if (parent is not SimpleNameSyntax name) return null;
        if (name is IdentifierNameSyntax { Identifier.ValueText: "nameof", Parent: InvocationExpressionSyntax } && model.GetSymbolInfo(name).Symbol is null) return CodeKind.Keyword;
        var symbol = model.GetSymbolInfo(name).Symbol ?? model.GetSymbolInfo(name).CandidateSymbols.FirstOrDefault();
        if (symbol is IDynamicTypeSymbol) return CodeKind.Keyword;
        return symbol is IAliasSymbol { Target: ITypeSymbol } or ITypeSymbol or IMethodSymbol { MethodKind: MethodKind.Constructor } ? CodeKind.Type : null;
    }

    private static byte[] Encode(ImmutableArray<ListingSpan> spans)
    {
        using var stream = new MemoryStream();
        using var writer = new BinaryWriter(stream);
        foreach (var span in spans)
        {
            writer.Write(span.Start);
            writer.Write(span.Length);
            writer.Write((byte)span.Kind);
        }
        return stream.ToArray();
    }

    private static ImmutableArray<ListingSpan> Decode(byte[] bytes)
    {
        const int size = 9;
        using var reader = new BinaryReader(new MemoryStream(bytes));
        return [.. Enumerable.Range(0, bytes.Length / size).Select(_ => new ListingSpan(reader.ReadInt32(), reader.ReadInt32(), (CodeKind)reader.ReadByte()))];
    }
}
