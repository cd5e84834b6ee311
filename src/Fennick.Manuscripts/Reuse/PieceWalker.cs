using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.Operations;

namespace Fennick.Manuscripts.Reuse;

/// <summary>Finds what a piece of the program uses, and whether it may change what others have made. What nobody can be sure of counts as a change.</summary>
/// <param name="facts">Takes what is found.</param>
/// <param name="program">The method that holds all steps; null for the methods of types.</param>
/// <param name="immutability">Knows what can change.</param>
/// <param name="isImpure">Whether a method of the manuscript's own types may change something.</param>
internal sealed class PieceWalker(PieceFacts facts, IMethodSymbol? program, Immutability immutability, Func<IMethodSymbol, bool> isImpure)
{
    private readonly HashSet<ISymbol> fresh = new(SymbolEqualityComparer.Default);
    private readonly HashSet<ISymbol> stale = new(SymbolEqualityComparer.Default);
    private int lambdas;

    /// <summary>The local functions that were met, with their bodies.</summary>
    public List<ILocalFunctionOperation> Functions { get; } = [];

    /// <summary>Looks at the operations of a piece.</summary>
    public void Walk(IReadOnlyList<IOperation> operations)
    {
        foreach (var operation in operations) FindFresh(operation);
        fresh.ExceptWith(stale);
        foreach (var operation in operations) Visit(operation);
    }

    /// <summary>Which variables hold nothing but what was made here.</summary>
    private void FindFresh(IOperation operation)
    {
        if (operation is ILocalFunctionOperation) return;
        // What was declared before may be changed before it is given a new value.
        if (operation is IVariableDeclaratorOperation declared && declared.GetVariableInitializer() is { } initializer && IsFresh(initializer.Value)) fresh.Add(declared.Symbol);
        if (operation is ISimpleAssignmentOperation { Target: ILocalReferenceOperation target } assigned && !IsFresh(assigned.Value)) stale.Add(target.Local);
        foreach (var child in operation.ChildOperations) FindFresh(child);
    }

    private void Visit(IOperation operation)
    {
        switch (operation)
        {
            case ILocalFunctionOperation function:
                Functions.Add(function);
                return;
            case IAnonymousFunctionOperation lambda:
                lambdas++;
                Visit(lambda.Body);
                lambdas--;
                return;
            case ILocalReferenceOperation reference:
                Use(reference.Local);
                break;
            case IVariableDeclaratorOperation declarator:
                if (IsMain(declarator.Symbol)) facts.Writes.Add(declarator.Symbol);
                if (declarator.Symbol.IsRef) facts.IsOpaque = true;
                break;
            case ISimpleAssignmentOperation { IsRef: true } or IAddressOfOperation or IDynamicInvocationOperation or IDynamicMemberReferenceOperation or IDynamicIndexerAccessOperation or IDynamicObjectCreationOperation:
                facts.IsOpaque = true;
                break;
            case IAssignmentOperation assignment:
                Change(assignment.Target);
                break;
            case IIncrementOrDecrementOperation step:
                Change(step.Target);
                break;
            case IEventAssignmentOperation:
                facts.MayChange = true;
                break;
            case IArgumentOperation { Parameter.RefKind: RefKind.Ref or RefKind.Out } argument:
                Change(argument.Value);
                break;
            case IInvocationOperation call:
                Call(call.TargetMethod, call.Instance, call.Arguments);
                break;
            case IMethodReferenceOperation reference:
                if (reference.Method.MethodKind == MethodKind.LocalFunction) facts.CallsLater.Add(reference.Method.OriginalDefinition);
                Call(reference.Method, reference.Instance, []);
                break;
            case IObjectCreationOperation { Constructor: { } constructor } creation:
                if (IsOwn(constructor) ? isImpure(constructor) : !PureCalls.Has(constructor) && !PureCalls.ChangesOnlyItself(constructor) && HandsOver(creation.Arguments)) facts.MayChange = true;
                break;
            case IPropertyReferenceOperation { Property.GetMethod: { } getter } when IsOwn(getter) && isImpure(getter):
                facts.MayChange = true;
                break;
            case IUsingOperation { Resources: not IVariableDeclarationGroupOperation }:
                facts.MayChange = true;
                break;
        }
        foreach (var child in operation.ChildOperations) Visit(child);
    }

    private void Use(ILocalSymbol local)
    {
        if (!IsMain(local)) return;
        facts.Uses.Add(local);
        if (lambdas > 0) facts.Captures.Add(local);
    }

    private bool IsMain(ISymbol local) => program is not null && SymbolEqualityComparer.Default.Equals(local.ContainingSymbol, program);

    private bool IsOwn(IMethodSymbol method) => immutability.IsOwn(method.ContainingType);

    /// <summary>Something is given a value.</summary>
    private void Change(IOperation target)
    {
        switch (target)
        {
            case ILocalReferenceOperation local:
                if (!IsMain(local.Local)) break;
                facts.Writes.Add(local.Local);
                if (lambdas > 0) facts.WritesLater.Add(local.Local);
                break;
            case IDeclarationExpressionOperation declaration:
                Change(declaration.Expression);
                break;
            case ITupleOperation tuple:
                foreach (var element in tuple.Elements) Change(element);
                break;
            case IConversionOperation conversion:
                Change(conversion.Operand);
                break;
            case IParameterReferenceOperation { Parameter.RefKind: RefKind.None } or IDiscardOperation:
                break;
            case IMemberReferenceOperation { Instance: null }:
                facts.IsOpaque = true;
                break;
            case IMemberReferenceOperation { Instance: IInstanceReferenceOperation { ReferenceKind: InstanceReferenceKind.ImplicitReceiver } }:
                break;
            case IMemberReferenceOperation { Instance: { } instance }:
                if (instance.Type is { IsValueType: true } && instance is not IArrayElementReferenceOperation) Change(instance);
                else if (!IsFresh(instance) && !IsBeingMade(instance)) facts.MayChange = true;
                break;
            case IArrayElementReferenceOperation element:
                if (!IsFresh(element.ArrayReference)) facts.MayChange = true;
                break;
            case IImplicitIndexerReferenceOperation indexer:
                if (!IsFresh(indexer.Instance)) facts.MayChange = true;
                break;
            default:
                facts.MayChange = true;
                break;
        }
    }

    /// <summary>Whether it is the object whose constructor this is.</summary>
    private bool IsBeingMade(IOperation instance) => instance is IInstanceReferenceOperation && program is null && IsConstructing;

    /// <summary>Whether what is looked at is a constructor.</summary>
    public bool IsConstructing { get; init; }

    private void Call(IMethodSymbol method, IOperation? instance, IReadOnlyList<IArgumentOperation> arguments)
    {
        if (method.MethodKind == MethodKind.LocalFunction)
        {
            facts.Calls.Add(method.OriginalDefinition);
            if (lambdas > 0) facts.CallsLater.Add(method.OriginalDefinition);
            return;
        }
        // What a delegate does was looked at where it was made.
        if (method.MethodKind == MethodKind.DelegateInvoke) return;
        switch (method.ContainingType.ToString())
        {
            case "Fennick.Manuscripts.Running.ManuscriptRun": return;
            // A format is used wherever its name stands.
            case "Fennick.Manuscripts.Formats": facts.IsOpaque = true; return;
            case "Fennick.Manuscripts.Sharing": facts.Shares = true; return;
        }
        if (IsOwn(method))
        {
            if (isImpure(method)) facts.MayChange = true;
            return;
        }
        if (PureCalls.Has(method)) return;
        if (instance is not null && IsFresh(instance) && PureCalls.ChangesOnlyItself(method)) return;
        if ((instance is not null && !IsFresh(instance) && !immutability.IsDeep(instance.Type)) || HandsOver(arguments)) facts.MayChange = true;
    }

    private bool HandsOver(IEnumerable<IArgumentOperation> arguments) => arguments.Any(a => !immutability.IsDeep(a.Value.Type) && !IsFresh(a.Value));

    private bool IsFresh(IOperation operation) => operation switch
    {
        IConversionOperation conversion => IsFresh(conversion.Operand),
        ILocalReferenceOperation reference => fresh.Contains(reference.Local),
        IArrayCreationOperation or ILiteralOperation or IDefaultValueOperation or IInterpolatedStringOperation or ICollectionExpressionOperation or IAnonymousFunctionOperation or IDelegateCreationOperation => true,
        IObjectCreationOperation { Constructor: { } constructor } creation => PureCalls.ChangesOnlyItself(constructor) || creation.Arguments.All(a => immutability.IsDeep(a.Value.Type)),
        IInvocationOperation call => PureCalls.MakesNew(call.TargetMethod),
        _ => false,
    };
}
