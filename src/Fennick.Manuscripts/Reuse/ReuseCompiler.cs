using System.Collections.Immutable;
using System.Reflection;
using System.Runtime.Loader;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Compilation;
using Fennick.Manuscripts.Provenance;
using Fennick.Manuscripts.Steps;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;
using Microsoft.CodeAnalysis.Emit;
using Microsoft.CodeAnalysis.Operations;
using Microsoft.CodeAnalysis.Text;
using Diagnostic = Fennick.Diagnostics.Diagnostic;

namespace Fennick.Manuscripts.Reuse;

/// <summary>Compiles a manuscript that is written on: its pieces can be left out, and its types stay the same as long as their code does.</summary>
internal sealed class ReuseCompiler
{
    private static readonly CSharpParseOptions Parsing = new(LanguageVersion.Latest);
    private AnonymousShapes shapes = new();
    private readonly Dictionary<string, (byte[] Bytes, Assembly Loaded)> ownAssemblies = new(StringComparer.Ordinal);
    private readonly Dictionary<string, MetadataReference> files = new(StringComparer.Ordinal);
    private string? lastTypes;
    private string typesName = "";
    private HashSet<string> impure = [];

    // Whether types do what nobody can follow.
    private bool hasUnclearTypes;
    private int count;
    private string librariesKey = "";
    private AssemblyLoadContext? libraryContext;

    /// <summary>The compiled form, and what of it may be left out; null if nobody can say, and then all of it runs.</summary>
    /// <exception cref="ReportException">The code has errors: each at its own line and column of the manuscript.</exception>
    public (CompiledManuscript Compiled, ReusePlan? Plan) Compile(ManuscriptTree tree, string key, LibrarySet libraries)
    {
        if (TryCompile(tree, libraries) is { } found) return found;
        // Also where there are errors: then they are told as ever.
        return (ManuscriptCompiler.Compile(tree, key, libraries), null);
    }

    private (CompiledManuscript, ReusePlan)? TryCompile(ManuscriptTree tree, LibrarySet libraries)
    {
        if (libraryContext is null || librariesKey != libraries.Key)
        {
            (librariesKey, libraryContext, lastTypes) = (libraries.Key, libraries.CreateContext(), null);
            shapes = new AnonymousShapes();
            ownAssemblies.Clear();
        }
        var diagnostics = new List<Diagnostic>();
        var program = new ProgramText(tree, diagnostics);
        if (diagnostics.Any(d => d.Severity == Severity.Error) || program.SharedState.Any()) return null;
        MetadataReference[] references = [.. ManuscriptCompiler.Platform, .. libraries.Assemblies.Select(ReferenceTo)];
        if (!CompileTypes(program.WriteTypesAlone(), references, libraries)) return null;
        if (hasUnclearTypes) return null;
        var failed = false;
        if (shapes.Replace(program.WriteWithoutTypes([]), (name, source) => failed |= !CompileOwn(name, source, references, out _)) is null || failed) return null;
        // Once more, with what the shapes are called in.
        var written = program.WriteWithoutTypes(shapes.Classes);
        var code = shapes.Replace(written, (_, _) => { })!;
        var pieces = program.Pieces.ToImmutableArray();
        var first = Compilation(code, references);
        if (shapes.LeaveInTrees(first.GetSemanticModel(first.SyntaxTrees[0]), CSharpSyntaxTree.ParseText(written, Parsing).GetRoot()))
        {
            code = shapes.Replace(written, (_, _) => { })!;
            first = Compilation(code, references);
        }
        // The compiler looks for mistakes while the plan is made; it counts only if there are none.
        var looking = Task.Run(() => first.GetDiagnostics());
        try
        {
            var planned = Plan(tree, program, code, pieces, first, references, libraries);
            var problems = looking.GetAwaiter().GetResult();
            if (planned is not var (compiled, plan) || problems.Any(d => d.Severity == DiagnosticSeverity.Error)) return null;
            return (compiled with { Warnings = [.. problems.Where(d => d.Severity == DiagnosticSeverity.Warning).Select(ManuscriptCompiler.Warning).OfType<CompiledWarning>(), .. program.SharedState] }, plan);
        }
        catch (Exception) when (looking.GetAwaiter().GetResult().Any(d => d.Severity == DiagnosticSeverity.Error))
        {
            // Of what does not compile nothing can be planned.
            return null;
        }
    }

    private (CompiledManuscript, ReusePlan)? Plan(ManuscriptTree tree, ProgramText program, string code, ImmutableArray<ProgramPiece> pieces, CSharpCompilation first, MetadataReference[] references, LibrarySet libraries)
    {
        var syntax = first.SyntaxTrees[0];
        var model = first.GetSemanticModel(syntax);
        var method = syntax.GetRoot().DescendantNodes().OfType<MethodDeclarationSyntax>().First(m => m.Identifier.Text == nameof(Running.IManuscriptProgram.RunAsync));
        var symbol = model.GetDeclaredSymbol(method)!;
        var statements = new StatementSyntax[pieces.Length][];
        var next = 0;
        var all = method.Body!.Statements;
        for (var p = 0; p < pieces.Length; p++)
        {
            while (next < all.Count && all[next].SpanStart < pieces[p].Start) next++;
            var begin = next;
            while (next < all.Count && all[next].SpanStart < pieces[p].End) next++;
            statements[p] = [.. all.Skip(begin).Take(next - begin)];
        }
        if (Facts(pieces, statements, model, symbol) is not var (facts, declaredIn)) return null;

        // What is used beyond its piece: also by functions that others call.
        var crossing = new HashSet<ISymbol>(SymbolEqualityComparer.Default);
        for (var p = 0; p < pieces.Length; p++)
            foreach (var used in facts[p].Uses.Concat(facts[p].Writes).Concat(facts[p].Calls))
                if (declaredIn.TryGetValue(used, out var home) && home != p) crossing.Add(used);
        foreach (var function in crossing.OfType<IMethodSymbol>().ToArray())
            foreach (var held in functionFacts[function].Uses.Concat(functionFacts[function].Writes).Concat(functionFacts[function].Calls))
                if (declaredIn.ContainsKey(held)) crossing.Add(held);

        // And what may be used beyond it one day: its steps need not run again then.
        foreach (var variable in statements.SelectMany(s => s).OfType<LocalDeclarationStatementSyntax>().Where(s => !s.IsConst).SelectMany(s => s.Declaration.Variables))
            if (model.GetDeclaredSymbol(variable) is ILocalSymbol local && HoistedProgram.HasName(local.Type)) crossing.Add(local);
        var hoisted = new HoistedProgram(code, model, crossing);
        var undeclared = new HashSet<int>();
        var kept = new ILocalSymbol[pieces.Length][];
        try
        {
            for (var p = 0; p < pieces.Length; p++)
            {
                kept[p] = [.. facts[p].Writes.OfType<ILocalSymbol>().Where(w => crossing.Contains(w) && !w.IsConst).OrderBy(w => w.Name, StringComparer.Ordinal)];
                hoisted.Add(pieces[p], statements[p], kept[p], mayBeLeftOut: pieces[p].Executable is not Control);
            }
        }
        catch (NotSupportedException)
        {
            return null;
        }
        var second = Compilation(hoisted.Write(), references);
        using var assembly = new MemoryStream();
        using var symbols = new MemoryStream();
        var emitted = second.Emit(assembly, symbols, options: new EmitOptions(debugInformationFormat: DebugInformationFormat.PortablePdb));
        if (!emitted.Success) return null;
        var (bytes, lines) = (assembly.ToArray(), symbols.ToArray());
        CompiledCall[] calls = [.. UndeclaredCalls.Find(new MemoryStream(bytes), new MemoryStream(lines), (type, _) => type == CompiledManuscript.ProgramType, name => ownAssemblies.TryGetValue(name, out var own) ? new MemoryStream(own.Bytes) : libraries.Open(name)).Select(CompiledCall.Of)];
        foreach (var call in calls) undeclared.Add(call.Ordinal ?? -1);
        var compiled = new CompiledManuscript(bytes, lines, [], calls) { Context = CreateContext };
        return (compiled, new ReusePlan(Pieces(pieces, facts, kept, declaredIn, undeclared), World(tree, program)));
    }

    private readonly Dictionary<ISymbol, PieceFacts> functionFacts = new(SymbolEqualityComparer.Default);

    /// <summary>What each piece uses and does, itself and by the functions that it calls; null if one does what nobody can follow.</summary>
    private (PieceFacts[] Facts, Dictionary<ISymbol, int> DeclaredIn)? Facts(ImmutableArray<ProgramPiece> pieces, StatementSyntax[][] statements, SemanticModel model, IMethodSymbol program)
    {
        functionFacts.Clear();
        var immutability = new Immutability(OwnNames);
        var declaredIn = new Dictionary<ISymbol, int>(SymbolEqualityComparer.Default);
        var facts = new PieceFacts[pieces.Length];
        var waiting = new Queue<ILocalFunctionOperation>();
        for (var p = 0; p < pieces.Length; p++)
        {
            foreach (var node in statements[p].SelectMany(s => s.DescendantNodesAndSelf()))
                if (node is VariableDeclaratorSyntax or SingleVariableDesignationSyntax or LocalFunctionStatementSyntax && model.GetDeclaredSymbol(node) is { } declared) declaredIn[declared] = p;
            facts[p] = new PieceFacts();
            var walker = new PieceWalker(facts[p], program, immutability, IsImpure);
            walker.Walk([.. statements[p].Select(s => model.GetOperation(s)).OfType<IOperation>()]);
            foreach (var function in walker.Functions) waiting.Enqueue(function);
        }
        while (waiting.TryDequeue(out var function))
        {
            var own = functionFacts[function.Symbol] = new PieceFacts();
            var walker = new PieceWalker(own, program, immutability, IsImpure);
            walker.Walk([.. function.ChildOperations]);
            // What it declares is its own.
            foreach (var inner in walker.Functions) waiting.Enqueue(inner);
        }
        for (var again = true; again;)
        {
            again = false;
            foreach (var one in functionFacts.Values.Concat(facts))
                foreach (var called in one.Calls.ToArray())
                    if (functionFacts.TryGetValue(called, out var other) && other != one) again |= one.Add(other);
        }
        foreach (var one in facts)
        {
            foreach (var later in one.CallsLater.Where(functionFacts.ContainsKey))
            {
                one.Captures.UnionWith(functionFacts[later].Uses);
                one.WritesLater.UnionWith(functionFacts[later].Writes);
            }
        }
        return facts.Any(f => f.IsOpaque) ? null : (facts, declaredIn);
    }

    private ImmutableArray<ReusablePiece> Pieces(ImmutableArray<ProgramPiece> pieces, PieceFacts[] facts, ILocalSymbol[][] kept, Dictionary<ISymbol, int> declaredIn, HashSet<int> undeclared)
    {
        var immutability = new Immutability(OwnNames);
        var company = Enumerable.Range(0, pieces.Length).ToArray();
        int Find(int p) => company[p] == p ? p : company[p] = Find(company[p]);
        var writers = new Dictionary<ISymbol, List<int>>(SymbolEqualityComparer.Default);
        for (var p = 0; p < pieces.Length; p++)
            foreach (var written in facts[p].Writes)
            {
                if (!writers.TryGetValue(written, out var known)) writers[written] = known = [];
                known.Add(p);
            }
        // Variables that lambdas hold while others give them values: nobody can take such a one apart from the rest.
        var later = facts.SelectMany(f => f.WritesLater).ToHashSet(SymbolEqualityComparer.Default);
        var shared = facts.SelectMany(f => f.Captures).Where(c => declaredIn.TryGetValue(c, out var home) && (later.Contains(c) || (writers.TryGetValue(c, out var by) && (by.Count > 1 || by[0] != home)))).ToHashSet(SymbolEqualityComparer.Default);
        var restless = new HashSet<int>();
        var depends = new HashSet<int>[pieces.Length];
        for (var p = 0; p < pieces.Length; p++)
        {
            depends[p] = [];
            foreach (var called in facts[p].Calls)
                if (declaredIn.TryGetValue(called, out var home) && home != p) depends[p].Add(home);
            foreach (var used in facts[p].Uses.Concat(facts[p].Writes))
            {
                if (!writers.TryGetValue(used, out var by) || !declaredIn.TryGetValue(used, out var home)) continue;
                foreach (var writer in by.Where(w => w < p)) depends[p].Add(writer);
                if (used is not ILocalSymbol local || (immutability.IsDeep(local.Type) && !shared.Contains(used))) continue;
                foreach (var writer in by) company[Find(p)] = Find(writer);
                company[Find(p)] = Find(home);
            }
            if (facts[p].MayChange || facts[p].Uses.Concat(facts[p].Writes).Any(shared.Contains)) restless.Add(p);
        }
        // Who asks for a shared value first makes it.
        int[] sharing = [.. Enumerable.Range(0, pieces.Length).Where(p => facts[p].Shares)];
        foreach (var p in sharing) company[Find(p)] = Find(sharing[0]);
        if (sharing.Length > 1) restless.UnionWith(sharing);
        var groups = Enumerable.Range(0, pieces.Length).ToLookup(Find);
        return
        [
            .. pieces.Select((piece, p) =>
            {
                var members = groups[Find(p)].ToImmutableArray();
                var always = piece.Executable is Control || undeclared.Contains(piece.Executable.Ordinal) || undeclared.Contains(-1)
                    || facts[p].Calls.Any(c => declaredIn.TryGetValue(c, out var home) && undeclared.Contains(pieces[home].Executable.Ordinal));
                return new ReusablePiece(piece.Executable.Ordinal, KeyOf(piece.Executable), [.. depends[p].Order()], members.Any(restless.Contains) ? members : [p], [.. kept[p].Select(k => k.Name)], always);
            }),
        ];
    }

    /// <summary>All that a piece says.</summary>
    private static string KeyOf(Executable executable) => executable switch
    {
        ValueHole hole => $"value\n{hole.Expression}\n{hole.Format}",
        Step step => $"step\n{step.Role}\n{step.Label?.Text}\n{step.Script?.Command.Text}\n{step.Script?.Reads?.Text}\n{step.Script?.Writes?.Text}\n{step.Code.Text}",
        _ => "control",
    };

    private string World(ManuscriptTree tree, ProgramText program) =>
        string.Join('\n', [typesName, librariesKey, tree.Settings.Language.Tag, tree.Settings.DataEncoding ?? "", .. tree.Settings.Usings, .. tree.Settings.Parameters.Select(p => $"{p.CSharpType} {p.Name}"), .. program.StepUsings]);

    private IReadOnlyCollection<string> OwnNames => [.. ownAssemblies.Keys];

    private bool IsImpure(IMethodSymbol method) => impure.Contains(method.OriginalDefinition.GetDocumentationCommentId() ?? "");

    /// <summary>Compiles the types of the steps, unless their code is as before.</summary>
    private bool CompileTypes(string? source, MetadataReference[] references, LibrarySet libraries)
    {
        if (source == lastTypes) return true;
        lastTypes = null;
        if (typesName.Length > 0) ownAssemblies.Remove(typesName);
        (impure, hasUnclearTypes, typesName) = ([], false, "");
        if (source is null) return true;
        var name = $"FennickTypes{++count}";
        if (!CompileOwn(name, source, references, out var compilation)) return false;
        typesName = name;
        FindImpure(compilation);
        hasUnclearTypes |= !UndeclaredCalls.Find(new MemoryStream(ownAssemblies[name].Bytes), null, (_, _) => true, libraries.Open).IsEmpty;
        lastTypes = source;
        return true;
    }

    /// <summary>Finds the methods of types that may change something: their own objects, or what they are given.</summary>
    private void FindImpure(CSharpCompilation compilation)
    {
        var immutability = new Immutability(OwnNames);
        var tree = compilation.SyntaxTrees[0];
        var model = compilation.GetSemanticModel(tree);
        (IMethodSymbol Method, IOperation Body)[] bodies =
        [
            .. tree.GetRoot().DescendantNodes().Where(n => n is BaseMethodDeclarationSyntax or AccessorDeclarationSyntax or ArrowExpressionClauseSyntax { Parent: BasePropertyDeclarationSyntax })
                .Select(n => (Symbol: n is ArrowExpressionClauseSyntax ? (model.GetDeclaredSymbol(n.Parent!) as IPropertySymbol)?.GetMethod : model.GetDeclaredSymbol(n) as IMethodSymbol, Body: model.GetOperation(n)))
                .Where(b => b is { Symbol: not null, Body: not null }).Select(b => (b.Symbol!, b.Body!)),
        ];
        for (var again = true; again;)
        {
            again = false;
            foreach (var (method, body) in bodies)
            {
                if (IsImpure(method)) continue;
                var facts = new PieceFacts();
                var walker = new PieceWalker(facts, null, immutability, IsImpure) { IsConstructing = method.MethodKind == MethodKind.Constructor };
                walker.Walk([body]);
                // Functions in methods are looked at as a part of them.
                for (var i = 0; i < walker.Functions.Count; i++) walker.Walk([.. walker.Functions[i].ChildOperations]);
                hasUnclearTypes |= facts.Shares || facts.IsOpaque;
                if (!facts.MayChange) continue;
                impure.Add(method.OriginalDefinition.GetDocumentationCommentId() ?? "");
                again = true;
            }
        }
    }

    private bool CompileOwn(string name, string source, MetadataReference[] references, out CSharpCompilation compilation)
    {
        // What they call was looked at, or nothing is.
        compilation = Compilation(source, references, name).AddSyntaxTrees(CSharpSyntaxTree.ParseText($"[assembly: {typeof(DeclaresInputsAttribute).FullName}]", Parsing));
        using var assembly = new MemoryStream();
        using var symbols = new MemoryStream();
        if (!compilation.Emit(assembly, symbols, options: new EmitOptions(debugInformationFormat: DebugInformationFormat.PortablePdb)).Success) return false;
        assembly.Position = symbols.Position = 0;
        ownAssemblies[name] = (assembly.ToArray(), libraryContext!.LoadFromStream(assembly, symbols));
        return true;
    }

    private CSharpCompilation Compilation(string code, MetadataReference[] references, string? name = null) => CSharpCompilation.Create(
        name ?? $"FennickPieces{++count}",
        [CSharpSyntaxTree.ParseText(SourceText.From(code, Encoding.UTF8), Parsing, path: "program.cs")],
        [.. references, .. ownAssemblies.Where(a => a.Key != name).Select(a => MetadataReference.CreateFromImage(a.Value.Bytes))],
        new CSharpCompilationOptions(OutputKind.DynamicallyLinkedLibrary, optimizationLevel: OptimizationLevel.Release, nullableContextOptions: NullableContextOptions.Annotations, metadataImportOptions: MetadataImportOptions.All));

    private MetadataReference ReferenceTo(string path)
    {
        if (!files.TryGetValue(path, out var known)) files[path] = known = MetadataReference.CreateFromFile(path);
        return known;
    }

    /// <summary>How many programs it has compiled; they stay until the process ends.</summary>
    public int Count => count;

    /// <summary>Where a program runs. One that could go again would be compiled for speed at once, and exceptions would name other lines than those they come from.</summary>
    private PiecesContext CreateContext() => new(libraryContext!, ownAssemblies.ToDictionary(a => a.Key, a => a.Value.Loaded, StringComparer.Ordinal));

    private sealed class PiecesContext(AssemblyLoadContext libraries, Dictionary<string, Assembly> own) : AssemblyLoadContext("manuscript")
    {
        protected override Assembly? Load(AssemblyName name)
        {
            if (own.TryGetValue(name.Name ?? "", out var known)) return known;
            if (References.Has($"{name.Name}.dll")) return null;
            return libraries.LoadFromAssemblyName(name);
        }
    }
}
