using System.Text;
using System.Text.RegularExpressions;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Steps;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;
using Microsoft.CodeAnalysis.Text;
using Diagnostic = Fennick.Diagnostics.Diagnostic;

namespace Fennick.Manuscripts.Compilation;

/// <summary>What the compiler's parser says of one step: which parts go where in the program.</summary>
internal sealed partial class StepSyntax
{
    private static readonly CSharpParseOptions Options = new(LanguageVersion.Latest, DocumentationMode.None, SourceCodeKind.Script);
    private readonly Step step;
    private readonly StringBuilder body;

    private StepSyntax(Step step, CompilationUnitSyntax root)
    {
        this.step = step;
        body = new StringBuilder(step.Code.Text);
        Root = root;
    }

    public CompilationUnitSyntax Root { get; }

    /// <summary>The code with everything blanked out that stands elsewhere; lines and columns are as in the step.</summary>
    public string Body => body.ToString();

    public List<string> Usings { get; } = [];

    /// <summary>Types, which move out of the method that holds all steps.</summary>
    public List<(string Code, int Start)> Types { get; } = [];

    /// <summary>The expression whose value is the step's result.</summary>
    public (string Code, int Start)? Result { get; private set; }

    /// <summary>Whether the step awaits outside functions of its own.</summary>
    public bool Awaits { get; private set; }

    /// <summary>The names that later steps and prose can use, and where they are declared.</summary>
    public Dictionary<string, int> Names { get; } = [];

    /// <summary>Parses a step by itself: an open brace or comment must not escape into the next.</summary>
    public static StepSyntax Parse(Step step, ManuscriptTree tree, List<Diagnostic> diagnostics)
    {
        var root = CSharpSyntaxTree.ParseText(step.Code.Text, Options).GetCompilationUnitRoot();
        var syntax = new StepSyntax(step, root);
        // The parser, which knows no such declaration here, would ask for a semicolon.
        var (text, told) = (root.SyntaxTree.GetText(), new HashSet<int>());
        var kept = text.Lines.Where(l => KeptByUsing().IsMatch(l.ToString())).Select(l => l.LineNumber).ToHashSet();
        foreach (var problem in root.GetDiagnostics().Where(d => d.Severity == DiagnosticSeverity.Error))
        {
            var line = problem.Location.GetLineSpan().StartLinePosition.Line;
            // What follows from the first mistake of a line would only hide it.
            if (!told.Add(line)) continue;
            if (!kept.Contains(line)) diagnostics.Add(Diagnostic.Error(Place(problem.Location.SourceSpan.Start), CompilerMessages.Text(problem)));
            else diagnostics.Add(Diagnostic.Error(Place(text.Lines[line].Start), "a step cannot keep a variable by `using`: what it declares lives on for the steps and the prose after it", "write `using (var x = …) { … }`, or `var x = …` if something later needs it"));
        }
        foreach (var (node, message, suggestion) in Forbidden(root))
            diagnostics.Add(Diagnostic.Error(Place(node), message, suggestion));
        syntax.Split(tree, diagnostics);
        return syntax;

        SourcePlace Place(int offset) => tree.Sources.PlaceOf(step.Code.ToSource(offset));
    }

    private void Split(ManuscriptTree tree, List<Diagnostic> diagnostics)
    {
        foreach (var directive in Root.Usings)
        {
            Usings.Add(directive.ToString());
            Blank(directive.Span);
        }
        foreach (var member in Root.Members)
        {
            switch (member)
            {
                case BaseTypeDeclarationSyntax or DelegateDeclarationSyntax:
                    Types.Add((Public(member), member.SpanStart));
                    Blank(member.Span);
                    break;
                case FieldDeclarationSyntax field:
                    BlankAccess(field.Modifiers);
                    foreach (var variable in field.Declaration.Variables) Names.TryAdd(variable.Identifier.Text, variable.Identifier.SpanStart);
                    break;
                case MethodDeclarationSyntax method:
                    BlankAccess(method.Modifiers);
                    Names.TryAdd(method.Identifier.Text, method.Identifier.SpanStart);
                    break;
                case GlobalStatementSyntax statement:
                    foreach (var designation in statement.DescendantNodes(n => n is not (AnonymousFunctionExpressionSyntax or BlockSyntax)).OfType<SingleVariableDesignationSyntax>())
                        Names.TryAdd(designation.Identifier.Text, designation.Identifier.SpanStart);
                    break;
            }
        }
        Awaits = Root.DescendantNodes(n => n is not (AnonymousFunctionExpressionSyntax or LocalFunctionStatementSyntax or MethodDeclarationSyntax)).Any(n =>
            n is AwaitExpressionSyntax or ForEachStatementSyntax { AwaitKeyword.RawKind: (int)SyntaxKind.AwaitKeyword });
        TakeResult(tree, diagnostics);
    }

    /// <summary>The last statement is the result if it is an expression without a semicolon, or a call with one; an assignment is none.</summary>
    private void TakeResult(ManuscriptTree tree, List<Diagnostic> diagnostics)
    {
        var last = Root.Members.LastOrDefault(m => m is not (BaseTypeDeclarationSyntax or DelegateDeclarationSyntax or MethodDeclarationSyntax));
        if (last is GlobalStatementSyntax { Statement: ExpressionStatementSyntax statement } && statement.Expression is not AssignmentExpressionSyntax)
        {
            var hasSemicolon = !statement.SemicolonToken.IsMissing;
            if (step.Role is not (StepRole.Prepare or StepRole.Show) || (!hasSemicolon && (step.Role == StepRole.Show || !IsStatement(statement.Expression))))
            {
                Result = (statement.Expression.ToString(), statement.Expression.SpanStart);
                Blank(statement.Span);
                return;
            }
            if (!hasSemicolon) body.Insert(statement.Expression.Span.End, ';');
            return;
        }
        if (last is GlobalStatementSyntax { Statement: ExpressionStatementSyntax { SemicolonToken.IsMissing: true } assignment }) body.Insert(assignment.Expression.Span.End, ';');
        if (step.Role is StepRole.Prepare or StepRole.Show || Root.ContainsDiagnostics) return;
        var offset = last is null ? 0 : last.SpanStart;
        diagnostics.Add(Diagnostic.Error(
            tree.Sources.PlaceOf(step.Code.ToSource(offset)), $"this `{step.Role.ToString().ToLowerInvariant()}` step gives nothing", "its last line must be a value, without `var`"));
    }

    private static bool IsStatement(ExpressionSyntax expression) =>
        expression is InvocationExpressionSyntax or AwaitExpressionSyntax or ObjectCreationExpressionSyntax or PostfixUnaryExpressionSyntax { RawKind: (int)SyntaxKind.PostIncrementExpression or (int)SyntaxKind.PostDecrementExpression }
            or PrefixUnaryExpressionSyntax { RawKind: (int)SyntaxKind.PreIncrementExpression or (int)SyntaxKind.PreDecrementExpression };

    /// <summary>What its types keep that all runs share: static, and free to change.</summary>
    public IEnumerable<(string Name, LinePosition Place)> SharedState => Root.Members.OfType<TypeDeclarationSyntax>().SelectMany(t => t.DescendantNodes()).SelectMany(node => node switch
    {
        FieldDeclarationSyntax kept when IsStatic(kept.Modifiers) && !kept.Modifiers.Any(SyntaxKind.ReadOnlyKeyword) => kept.Declaration.Variables.Select(v => v.Identifier),
        PropertyDeclarationSyntax { AccessorList: { } accessors } property when IsStatic(property.Modifiers) && accessors.Accessors.Any(a => a.IsKind(SyntaxKind.SetAccessorDeclaration)) => [property.Identifier],
        _ => [],
    }).Select(name => (name.Text, name.GetLocation().GetLineSpan().StartLinePosition));

    private static bool IsStatic(SyntaxTokenList modifiers) => modifiers.Any(SyntaxKind.StaticKeyword);

    private static IEnumerable<(int Offset, string Message, string Suggestion)> Forbidden(CompilationUnitSyntax root)
    {
        bool OutsideFunctions(SyntaxNode n) => n is not (AnonymousFunctionExpressionSyntax or LocalFunctionStatementSyntax or BaseMethodDeclarationSyntax or BaseTypeDeclarationSyntax);
        foreach (var node in root.DescendantNodes(OutsideFunctions))
        {
            switch (node)
            {
                case ReturnStatementSyntax: yield return (node.SpanStart, "`return` stands outside a function", "the value of the last line is the step's result"); break;
                case GotoStatementSyntax: yield return (node.SpanStart, "`goto` stands outside a function", "move the code into a function"); break;
                case YieldStatementSyntax: yield return (node.SpanStart, "`yield` stands outside a function", "move it into a function that returns a sequence"); break;
                case BaseNamespaceDeclarationSyntax: yield return (node.SpanStart, "a step cannot hold a namespace", "leave it out: types of a step need none"); break;
            }
        }
        foreach (var trivia in root.DescendantTrivia().Where(t => t.Kind() is SyntaxKind.LineDirectiveTrivia or SyntaxKind.LineSpanDirectiveTrivia or SyntaxKind.ReferenceDirectiveTrivia or SyntaxKind.LoadDirectiveTrivia))
            yield return (trivia.SpanStart, $"`{trivia.ToString().Trim()}` cannot stand in a step", "leave it out");
    }

    /// <summary>A type's code with <c>public</c> in front, whatever access it had.</summary>
    private static string Public(MemberDeclarationSyntax type)
    {
        var code = new StringBuilder(type.ToString());
        foreach (var modifier in AccessModifiers(type.Modifiers))
            for (var i = modifier.SpanStart; i < modifier.Span.End; i++) code[i - type.SpanStart] = ' ';
        return code.ToString();
    }

    private void BlankAccess(SyntaxTokenList modifiers)
    {
        foreach (var modifier in AccessModifiers(modifiers)) Blank(modifier.Span);
    }

    private static IEnumerable<SyntaxToken> AccessModifiers(SyntaxTokenList modifiers) =>
        modifiers.Where(m => m.Kind() is SyntaxKind.PublicKeyword or SyntaxKind.PrivateKeyword or SyntaxKind.InternalKeyword or SyntaxKind.ProtectedKeyword);

    private void Blank(TextSpan span)
    {
        for (var i = span.Start; i < span.End; i++)
            if (body[i] is not ('\n' or '\r')) body[i] = ' ';
    }

    [GeneratedRegex(@"^\s*(await\s+)?using\s+[\w<>,.?\[\]]+\s+\w+\s*=")]
    private static partial Regex KeptByUsing();
}
