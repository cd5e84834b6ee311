using System.Globalization;
using System.Text;
using Fennick.Manuscripts.Compilation;
using Fennick.Manuscripts.Steps;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Fennick.Manuscripts.Reuse;

/// <summary>Rewrites a program so that its pieces can be left out: variables that other pieces use are declared before the piece, which gives them their values or takes those of the run before. Lines and columns stay.</summary>
internal sealed class HoistedProgram
{
    private static readonly SymbolDisplayFormat TypeName = SymbolDisplayFormat.FullyQualifiedFormat.WithMiscellaneousOptions(
        SymbolDisplayMiscellaneousOptions.EscapeKeywordIdentifiers | SymbolDisplayMiscellaneousOptions.UseSpecialTypes | SymbolDisplayMiscellaneousOptions.IncludeNullableReferenceTypeModifier);

    private readonly StringBuilder text;
    private readonly SemanticModel model;
    private readonly IReadOnlySet<ISymbol> crossing;
    private readonly List<(int At, string Text)> insertions = [];

    /// <summary>Begins with a program.</summary>
    /// <param name="code">Its text.</param>
    /// <param name="model">What the compiler knows of it.</param>
    /// <param name="crossing">The variables and functions that are used beyond the piece that declares them.</param>
    public HoistedProgram(string code, SemanticModel model, IReadOnlySet<ISymbol> crossing)
    {
        text = new StringBuilder(code);
        this.model = model;
        this.crossing = crossing;
    }

    /// <summary>Lets a piece be left out.</summary>
    /// <param name="piece">The piece.</param>
    /// <param name="statements">Its statements.</param>
    /// <param name="kept">The variables that it gives values.</param>
    /// <param name="mayBeLeftOut">Whether it may; if not, what it declares is still there for others.</param>
    /// <exception cref="NotSupportedException">It declares something that cannot stand before it.</exception>
    public void Add(ProgramPiece piece, IEnumerable<StatementSyntax> statements, IReadOnlyList<ILocalSymbol> kept, bool mayBeLeftOut)
    {
        var before = new StringBuilder();
        foreach (var statement in statements)
        {
            switch (statement)
            {
                case LocalFunctionStatementSyntax function when crossing.Contains(model.GetDeclaredSymbol(function)!):
                    Hoist(before, function, (Step)piece.Executable);
                    break;
                case LocalDeclarationStatementSyntax declaration when declaration.Declaration.Variables.Any(v => crossing.Contains(model.GetDeclaredSymbol(v)!)):
                    Hoist(before, declaration, (Step)piece.Executable);
                    break;
                default:
                    foreach (var designation in statement.DescendantNodes().OfType<SingleVariableDesignationSyntax>())
                        if (model.GetDeclaredSymbol(designation) is ILocalSymbol local && crossing.Contains(local)) Hoist(before, designation, local);
                    break;
            }
        }
        if (mayBeLeftOut)
        {
            var ordinal = piece.Executable.Ordinal.ToString(CultureInfo.InvariantCulture);
            before.Append(CultureInfo.InvariantCulture, $"if ({ProgramText.Run}.Reuses({ordinal})) {{ ");
            for (var i = 0; i < kept.Count; i++) before.Append(CultureInfo.InvariantCulture, $"@{kept[i].Name} = {ProgramText.Run}.Kept<{NameOf(kept[i].Type)}>({ordinal}, {i}); ");
            before.Append("} else {\n");
            insertions.Add((piece.End, $"{ProgramText.Run}.Keep({ordinal}{string.Concat(kept.Select(k => $", @{k.Name}"))}); }}\n"));
        }
        if (before.Length > 0) insertions.Add((piece.Start, before.ToString()));
    }

    /// <summary>The rewritten program.</summary>
    public string Write()
    {
        // From the end, so that places stay; what is put in at one place stands in its order.
        foreach (var (at, inserted) in insertions.Select((i, n) => (i.At, i.Text, n)).OrderByDescending(i => i.At).ThenByDescending(i => i.n).Select(i => (i.At, i.Text))) text.Insert(at, inserted);
        return text.ToString();
    }

    private static string NameOf(ITypeSymbol type) => HasName(type) ? type.ToDisplayString(TypeName) : throw new NotSupportedException();

    /// <summary>Whether variables of a type can be declared by its name, and kept.</summary>
    public static bool HasName(ITypeSymbol type) => !type.IsRefLikeType && type.TypeKind is not (TypeKind.Pointer or TypeKind.FunctionPointer or TypeKind.Error or TypeKind.Dynamic)
        && type.ToDisplayString(TypeName) is var name && !name.Contains("<>", StringComparison.Ordinal) && !name.Contains("<anonymous", StringComparison.Ordinal);

    private static void Declare(StringBuilder before, ILocalSymbol local)
    {
        if (local.IsRef) throw new NotSupportedException();
        before.Append(CultureInfo.InvariantCulture, $"{NameOf(local.Type)} @{local.Name} = default!; ");
    }

    private void Hoist(StringBuilder before, LocalFunctionStatementSyntax function, Step step)
    {
        var line = function.SyntaxTree.GetMappedLineSpan(function.Span).StartLinePosition;
        before.Append(CultureInfo.InvariantCulture, $"\n#line {line.Line + 1} \"{MappedPlace.OfStep(step.Ordinal)}\"\n{new string(' ', line.Character)}{function}\n#line hidden\n");
        Blank(function.Span.Start, function.Span.End);
    }

    private void Hoist(StringBuilder before, LocalDeclarationStatementSyntax statement, Step step)
    {
        var declaration = statement.Declaration;
        if (statement.IsConst)
        {
            var line = statement.SyntaxTree.GetMappedLineSpan(statement.Span).StartLinePosition;
            before.Append(CultureInfo.InvariantCulture, $"\n#line {line.Line + 1} \"{MappedPlace.OfStep(step.Ordinal)}\"\n{new string(' ', line.Character)}{statement}\n#line hidden\n");
            Blank(statement.Span.Start, statement.Span.End);
            return;
        }
        if (declaration.Type is RefTypeSyntax || declaration.Variables.Any(v => v.Initializer?.Value is StackAllocArrayCreationExpressionSyntax or RefExpressionSyntax)) throw new NotSupportedException();
        foreach (var variable in declaration.Variables)
        {
            Declare(before, (ILocalSymbol)model.GetDeclaredSymbol(variable)!);
            if (variable.Initializer is null) Blank(variable.Span.Start, variable.Span.End);
            else if (variable.Initializer.Value is InitializerExpressionSyntax items)
            {
                if (items.Expressions.Any(e => e is InitializerExpressionSyntax)) throw new NotSupportedException();
                text[items.OpenBraceToken.SpanStart] = '[';
                text[items.CloseBraceToken.SpanStart] = ']';
            }
        }
        Blank(declaration.Type.Span.Start, declaration.Type.Span.End);
        foreach (var comma in declaration.Variables.GetSeparators()) text[comma.SpanStart] = ';';
    }

    /// <summary>A variable that is declared in an expression: what its value goes to is declared before.</summary>
    private void Hoist(StringBuilder before, SingleVariableDesignationSyntax designation, ILocalSymbol local)
    {
        Declare(before, local);
        switch (designation.Parent)
        {
            case DeclarationExpressionSyntax single:
                Blank(single.Type.Span.Start, single.Type.Span.End);
                break;
            case ParenthesizedVariableDesignationSyntax { Parent: DeclarationExpressionSyntax several }:
                // All parts have lost their types now.
                foreach (var other in several.DescendantNodes().OfType<SingleVariableDesignationSyntax>())
                    if (!crossing.Contains(model.GetDeclaredSymbol(other)!)) throw new NotSupportedException();
                Blank(several.Type.Span.Start, several.Type.Span.End);
                break;
            default: throw new NotSupportedException();
        }
    }

    private void Blank(int from, int to)
    {
        for (var i = from; i < to; i++)
            if (text[i] is not ('\n' or '\r')) text[i] = ' ';
    }
}
