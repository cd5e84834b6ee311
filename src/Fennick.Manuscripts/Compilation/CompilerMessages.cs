using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Prose;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;
using Diagnostic = Fennick.Diagnostics.Diagnostic;

namespace Fennick.Manuscripts.Compilation;

/// <summary>Puts the compiler's messages into the writer's terms, with the names that were probably meant.</summary>
internal static class CompilerMessages
{
    /// <summary>The compiler's own words and its code.</summary>
    public static string Text(Microsoft.CodeAnalysis.Diagnostic problem)
    {
        var text = problem.GetMessage(CultureInfo.InvariantCulture);
        return $"{char.ToLowerInvariant(text[0])}{text[1..]} ({problem.Id})";
    }

    /// <summary>The diagnostic for an error of the compiler.</summary>
    public static Diagnostic Translate(Microsoft.CodeAnalysis.Diagnostic problem, SourcePlace place, CSharpCompilation compilation, ProgramText program, ManuscriptTree tree)
    {
        var node = problem.Location.SourceTree?.GetRoot().FindNode(problem.Location.SourceSpan, getInnermostNodeForTie: true);
        var name = (node as SimpleNameSyntax)?.Identifier.Text;
        switch (problem.Id)
        {
            case "CS0103" when name is not null && node!.Ancestors().OfType<BaseTypeDeclarationSyntax>().FirstOrDefault() is { } type && type.Identifier.Text != CompiledManuscript.ProgramType
                && (program.Names.Any(n => n.Name == name) || tree.Settings.Parameters.Any(p => p.Name == name)):
                return Diagnostic.Error(place, $"the type `{type.Identifier.Text}` uses `{name}`, but a type cannot use a step's variables", "give the value to it as a parameter");
            case "CS0103" when name is not null:
                return Diagnostic.Error(place, Text(problem), Nearest.Suggest(name, program.Names.Select(n => n.Name).Concat(tree.Settings.Parameters.Select(p => p.Name)))
                    ?? (Nearest.Find(name, BraceWords.Alone) is { } directive ? $"did you mean `{{{directive}}}`?" : null));
            case "CS1061" or "CS0117" when name is not null && node!.Parent is MemberAccessExpressionSyntax access:
                var model = compilation.GetSemanticModel(node.SyntaxTree);
                var members = model.GetTypeInfo(access.Expression).Type ?? model.GetSymbolInfo(access.Expression).Symbol as ITypeSymbol;
                var candidates = (members as INamespaceOrTypeSymbol)?.GetMembers().Where(m => m.CanBeReferencedByName && m.DeclaredAccessibility == Accessibility.Public).Select(m => m.Name).Distinct();
                var owner = members is null ? access.Expression.ToString() : members.ToDisplayString(SymbolDisplayFormat.MinimallyQualifiedFormat);
                return Diagnostic.Error(place, $"`{owner}` has no member `{name}` ({problem.Id})", Nearest.Suggest(name, candidates ?? []));
            case "CS0128" or "CS0136" or "CS0111" or "CS8803" or "CS0841":
                var declared = node switch
                {
                    VariableDeclaratorSyntax variable => variable.Identifier.Text,
                    SingleVariableDesignationSyntax designation => designation.Identifier.Text,
                    _ => name ?? "",
                };
                var first = program.Names.FirstOrDefault(n => n.Name == declared);
                var parameter = tree.Settings.Parameters.FirstOrDefault(p => p.Name == declared);
                var other = parameter?.Place ?? first.Place;
                return Diagnostic.Error(place, Text(problem), other is null || other == place ? null
                    : problem.Id == "CS0841" ? $"it is declared at {other}, after this place" : $"it is declared at {other} already");
            case "CS1503" when problem.GetMessage(CultureInfo.InvariantCulture).Contains("'void'", StringComparison.Ordinal):
                return Diagnostic.Error(place, "this gives nothing that could be placed (CS1503)", "its last line must be a value; a call that gives none cannot stand here");
            case "CS0619" when problem.GetMessage(CultureInfo.InvariantCulture).Split("is obsolete: '") is [_, var now]:
                return Diagnostic.Error(place, $"{now.TrimEnd('.', '\'')} ({problem.Id})");
            default:
                return Diagnostic.Error(place, Text(problem));
        }
    }
}
