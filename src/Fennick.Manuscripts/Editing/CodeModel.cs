using Fennick.Manuscripts.Compilation;
using Fennick.Manuscripts.Steps;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;
using Accessibility = Microsoft.CodeAnalysis.Accessibility;

namespace Fennick.Manuscripts.Editing;

/// <summary>What the compiler knows of a manuscript's code, whether it compiles or not.</summary>
internal sealed class CodeModel
{
    private static readonly string[] CommonTypes = ["Math", "DateOnly", "DateTime", "TimeSpan", "Enumerable", "Console", "File", "Path", "Directory", "Convert", "CultureInfo", "Task", "List", "Dictionary", "HashSet", "String", "Array", "Random"];
    private static readonly string[] Keywords = ["var", "new", "foreach", "if", "else", "return", "await", "record", "null", "true", "false", "switch", "static"];

    private readonly ManuscriptTree tree;
    private readonly SemanticModel model;
    private readonly SyntaxNode root;

    private CodeModel(ManuscriptTree tree, SemanticModel model)
    {
        this.tree = tree;
        this.model = model;
        root = model.SyntaxTree.GetRoot();
    }

    /// <summary>The model of a manuscript's code.</summary>
    public static CodeModel Of(ManuscriptTree tree, LibrarySet libraries)
    {
        var compilation = ManuscriptCompiler.CreateCompilation(new ProgramText(tree, []), "Editing", libraries);
        return new CodeModel(tree, compilation.GetSemanticModel(compilation.SyntaxTrees[0]));
    }

    /// <summary>What may stand for a name in the code.</summary>
    /// <param name="name">The name.</param>
    /// <param name="prefix">How what it stands for begins.</param>
    /// <returns>Null if the name is not in the program.</returns>
    public IReadOnlyList<(string Text, CompletionKind Kind, string Detail)>? Complete(string name, string prefix)
    {
        if (root.DescendantTokens().FirstOrDefault(t => t.IsKind(SyntaxKind.IdentifierToken) && t.ValueText == name) is not { Parent: { } node } token) return null;
        var position = token.SpanStart;
        var owner = node.Parent switch
        {
            MemberAccessExpressionSyntax access when access.Name == node => access.Expression,
            MemberBindingExpressionSyntax binding => binding.Ancestors().OfType<ConditionalAccessExpressionSyntax>().FirstOrDefault()?.Expression,
            _ => null,
        };
        IEnumerable<ISymbol> found;
        if (owner is null) found = model.LookupSymbols(position).Where(s => IsInScope(s, position, prefix));
        else if (model.GetSymbolInfo(owner).Symbol is INamespaceOrTypeSymbol container) found = model.LookupSymbols(position, container).Where(s => s.IsStatic || s is INamespaceOrTypeSymbol);
        else if (TypeOf(owner) is { } type) found = model.LookupSymbols(position, type, includeReducedExtensionMethods: true).Where(s => !s.IsStatic || s is IMethodSymbol { IsExtensionMethod: true });
        else return [];
        var named = found.Where(s => s.CanBeReferencedByName && s.Name.Length > 0 && !s.Name.StartsWith(ProgramText.Run, StringComparison.Ordinal) && s.Name.StartsWith(prefix, StringComparison.OrdinalIgnoreCase) && s is not IMethodSymbol { MethodKind: MethodKind.Constructor })
            .Where(s => s.DeclaredAccessibility is Accessibility.Public or Accessibility.NotApplicable || s.ContainingAssembly.Name == model.Compilation.AssemblyName)
            .GroupBy(s => s.Name).Select(g => (g.Key, KindOf(g.First()), Describe(g.First()) + (g.Count() > 1 ? $" (+{g.Count() - 1})" : "")));
        return [.. owner is null ? named.Concat(Keywords.Where(k => k.StartsWith(prefix, StringComparison.Ordinal)).Select(k => (k, CompletionKind.Word, ""))) : named];
    }

    /// <summary>What a name in the code stands for.</summary>
    /// <param name="executable">The step, brace or directive that it stands in.</param>
    /// <param name="line">Its line there, from 0.</param>
    /// <param name="column">Its first column there, from 0.</param>
    /// <param name="name">The name.</param>
    public (string Text, Diagnostics.SourcePlace? Declared)? Find(Executable executable, int line, int column, string name)
    {
        foreach (var token in root.DescendantTokens().Where(t => t.IsKind(SyntaxKind.IdentifierToken) && t.ValueText == name))
        {
            var span = token.GetLocation().GetMappedLineSpan();
            if (MappedPlace.Resolve(span.Path) != executable.Ordinal || span.StartLinePosition.Line != line || span.StartLinePosition.Character != column) continue;
            var symbol = SymbolOf(token.Parent!);
            if (symbol is null) return null;
            var declared = symbol.Locations.Where(l => l.IsInSource).Select(l => l.GetMappedLineSpan()).FirstOrDefault(s => MappedPlace.Resolve(s.Path) is not null);
            return (Describe(symbol), declared.Path is { } path && MappedPlace.Resolve(path) is { } ordinal ? tree.PlaceOf(ordinal, declared.StartLinePosition.Line, declared.StartLinePosition.Character)
                : tree.Settings.Parameters.FirstOrDefault(p => symbol is ILocalSymbol && p.Name == symbol.Name)?.Place);
        }
        return null;
    }

    /// <summary>The type of what a brace holds.</summary>
    public string? TypeOf(ValueHole hole)
    {
        var call = root.DescendantNodes().OfType<InvocationExpressionSyntax>().FirstOrDefault(c => c.Expression.ToString() == $"{ProgramText.Run}.Value" && c.ArgumentList.Arguments is [var number, _, ..] && number.ToString() == hole.Ordinal.ToString(System.Globalization.CultureInfo.InvariantCulture));
        return call is null ? null : TypeOf(call.ArgumentList.Arguments[1].Expression)?.ToDisplayString(SymbolDisplayFormat.MinimallyQualifiedFormat);
    }

    private ITypeSymbol? TypeOf(ExpressionSyntax expression) => model.GetTypeInfo(expression).Type is { TypeKind: not TypeKind.Error } type ? type : null;

    private ISymbol? SymbolOf(SyntaxNode node)
    {
        var info = model.GetSymbolInfo(node);
        return info.Symbol ?? info.CandidateSymbols.FirstOrDefault() ?? model.GetDeclaredSymbol(node);
    }

    /// <summary>Whether a name is one that is likely to be meant: those of the manuscript, those of Fennick, and common ones of the runtime.</summary>
    private static bool IsInScope(ISymbol symbol, int position, string prefix) => symbol switch
    {
        ILocalSymbol local => local.Locations.Any(l => l.SourceSpan.Start < position),
        INamedTypeSymbol type => type.Locations.Any(l => l.IsInSource) ? type.Name != CompiledManuscript.ProgramType : type.ContainingAssembly.Name.StartsWith("Fennick", StringComparison.Ordinal) || CommonTypes.Contains(type.Name) || prefix.Length > 2,
        INamespaceSymbol => prefix.Length > 2,
        IMethodSymbol method => method.ContainingType?.SpecialType != SpecialType.System_Object && method.Name != "RunAsync",
        _ => true,
    };

    private static CompletionKind KindOf(ISymbol symbol) => symbol switch
    {
        ILocalSymbol or IParameterSymbol or IRangeVariableSymbol => CompletionKind.Variable,
        IMethodSymbol => CompletionKind.Method,
        INamespaceOrTypeSymbol => CompletionKind.Type,
        _ => CompletionKind.Member,
    };

    private static string Describe(ISymbol symbol) => symbol switch
    {
        ILocalSymbol local => $"{local.Type.ToDisplayString(SymbolDisplayFormat.MinimallyQualifiedFormat)} {local.Name}",
        _ => symbol.ToDisplayString(SymbolDisplayFormat.MinimallyQualifiedFormat),
    };
}
