using System.Collections.Immutable;
using System.Reflection;
using System.Reflection.Emit;
using System.Reflection.Metadata;
using System.Reflection.Metadata.Ecma335;
using System.Reflection.PortableExecutable;

namespace Fennick.Manuscripts.Provenance;

/// <summary>Finds, in compiled code, the calls of which nobody knows what they bring into a report (ECMA-335, partition III).</summary>
internal sealed class UndeclaredCalls
{
    private const string Promise = nameof(DeclaresInputsAttribute);
    private static readonly Dictionary<short, OperandType> Operands = typeof(OpCodes).GetFields(BindingFlags.Public | BindingFlags.Static).Select(f => (OpCode)f.GetValue(null)!).ToDictionary(o => o.Value, o => o.OperandType);

    private readonly MetadataReader code;
    private readonly PEReader file;
    private readonly MetadataReader? symbols;
    private readonly Func<string, Stream?> open;
    private readonly Names names = new();
    private readonly HashSet<MethodDefinitionHandle> seen = [];
    private readonly HashSet<TypeDefinitionHandle> seenTypes = [];
    private readonly Stack<MethodDefinitionHandle> waiting = new();
    private readonly List<UndeclaredCall> found = [];
    private readonly Dictionary<string, LibraryPromises> promises = new(StringComparer.Ordinal);

    private UndeclaredCalls(PEReader file, MetadataReader? symbols, Func<string, Stream?> open)
    {
        this.file = file;
        code = file.GetMetadataReader();
        this.symbols = symbols;
        this.open = open;
    }

    /// <summary>The calls that a method may come to, in the order of the text.</summary>
    /// <param name="assembly">The compiled code.</param>
    /// <param name="symbols">Its line numbers.</param>
    /// <param name="isStart">Whether a method of a type of this name is where the code starts.</param>
    /// <param name="open">Opens the library of a name; null if it is none of the user's.</param>
    public static ImmutableArray<UndeclaredCall> Find(Stream assembly, Stream? symbols, Func<string, MethodDefinitionHandle, bool> isStart, Func<string, Stream?> open)
    {
        using var file = new PEReader(assembly);
        using var provider = symbols is null ? null : MetadataReaderProvider.FromPortablePdbStream(symbols);
        var calls = new UndeclaredCalls(file, provider?.GetMetadataReader(), open);
        foreach (var type in calls.code.TypeDefinitions)
        {
            var name = calls.code.GetString(calls.code.GetTypeDefinition(type).Name);
            foreach (var method in calls.code.GetTypeDefinition(type).GetMethods().Where(m => isStart(name, m))) calls.Reach(method);
        }
        while (calls.waiting.TryPop(out var next)) calls.Read(next);
        return [.. calls.found.Distinct().OrderBy(c => c.Document, StringComparer.Ordinal).ThenBy(c => c.Line).ThenBy(c => c.Column)];
    }

    private void Reach(MethodDefinitionHandle method)
    {
        if (!seen.Add(method) || HasPromise(code, code.GetMethodDefinition(method).GetCustomAttributes())) return;
        waiting.Push(method);
        Reach(code.GetMethodDefinition(method).GetDeclaringType());
    }

    /// <summary>What is called of a type without being named: its initializer, what it overrides, what its interfaces ask for.</summary>
    private void Reach(TypeDefinitionHandle type)
    {
        if (type.IsNil || !seenTypes.Add(type)) return;
        var definition = code.GetTypeDefinition(type);
        if (HasPromise(code, definition.GetCustomAttributes()))
        {
            foreach (var method in definition.GetMethods()) seen.Add(method);
            return;
        }
        foreach (var method in definition.GetMethods())
        {
            var attributes = code.GetMethodDefinition(method).Attributes;
            if (attributes.HasFlag(MethodAttributes.Virtual) || attributes.HasFlag(MethodAttributes.RTSpecialName | MethodAttributes.Static)) Reach(method);
        }
    }

    private void Read(MethodDefinitionHandle handle)
    {
        var method = code.GetMethodDefinition(handle);
        if (method.Attributes.HasFlag(MethodAttributes.PinvokeImpl)) Add(code.GetString(method.Name), CallKind.Files, handle, 0);
        if (method.RelativeVirtualAddress == 0) return;
        // What records and anonymous types say of their own hash is for dictionaries alone.
        if (code.GetString(method.Name) == nameof(GetHashCode)) return;
        var body = file.GetMethodBody(method.RelativeVirtualAddress).GetILReader();
        while (body.RemainingBytes > 0)
        {
            var at = body.Offset;
            short opcode = body.ReadByte();
            if (opcode == 0xFE) opcode = (short)((0xFE << 8) | body.ReadByte());
            switch (Operands[opcode])
            {
                case OperandType.InlineNone: break;
                case OperandType.ShortInlineBrTarget or OperandType.ShortInlineI or OperandType.ShortInlineVar: body.ReadByte(); break;
                case OperandType.InlineVar: body.ReadInt16(); break;
                case OperandType.InlineI8 or OperandType.InlineR: body.ReadInt64(); break;
                case OperandType.InlineSwitch:
                    for (var left = body.ReadInt32(); left > 0; left--) body.ReadInt32();
                    break;
                case OperandType.InlineMethod or OperandType.InlineTok or OperandType.InlineType or OperandType.InlineField:
                    Meet(MetadataTokens.EntityHandle(body.ReadInt32()), handle, at);
                    break;
                default: body.ReadInt32(); break;
            }
        }
    }

    private void Meet(EntityHandle met, MethodDefinitionHandle from, int at)
    {
        switch (met.Kind)
        {
            case HandleKind.MethodDefinition:
                Reach((MethodDefinitionHandle)met);
                break;
            case HandleKind.MethodSpecification:
                var generic = code.GetMethodSpecification((MethodSpecificationHandle)met);
                Meet(generic.Method, from, at);
                foreach (var argument in generic.DecodeSignature(names, null).SelectMany(TypesIn)) Reach(argument);
                break;
            case HandleKind.TypeDefinition:
                Reach((TypeDefinitionHandle)met);
                break;
            case HandleKind.TypeSpecification:
                foreach (var type in TypesIn(code.GetTypeSpecification((TypeSpecificationHandle)met).DecodeSignature(names, null))) Reach(type);
                break;
            case HandleKind.FieldDefinition:
                Reach(code.GetFieldDefinition((FieldDefinitionHandle)met).GetDeclaringType());
                break;
            case HandleKind.MemberReference:
                Meet(code.GetMemberReference((MemberReferenceHandle)met), from, at);
                break;
        }
    }

    private void Meet(MemberReference member, MethodDefinitionHandle from, int at)
    {
        var name = code.GetString(member.Name);
        var parent = member.Parent;
        // A member of a generic type of the code's own.
        if (parent.Kind == HandleKind.TypeSpecification)
        {
            var type = code.GetTypeSpecification((TypeSpecificationHandle)parent).DecodeSignature(names, null);
            if (type.Own is { IsNil: false } own)
            {
                foreach (var method in code.GetTypeDefinition(own).GetMethods().Where(m => code.GetString(code.GetMethodDefinition(m).Name) == name)) Reach(method);
                Reach(own);
            }
            foreach (var inside in TypesIn(type)) Reach(inside);
            if (type.Reference.IsNil) return;
            parent = type.Reference;
        }
        if (parent.Kind == HandleKind.TypeDefinition) Reach((TypeDefinitionHandle)parent);
        if (parent.Kind != HandleKind.TypeReference) return;
        var (assembly, space, typeName) = Describe((TypeReferenceHandle)parent);
        var isField = member.GetKind() == MemberReferenceKind.Field;
        var parameters = isField ? "" : string.Join(',', member.DecodeMethodSignature(names, null).ParameterTypes.Select(p => p.Text));
        var kind = KnownCalls.KindOf(assembly, space, typeName, name, parameters);
        if (kind == CallKind.Known || Promised(assembly, space, typeName, name)) return;
        var shown = typeName.Split('`')[0];
        Add(name == ".ctor" ? $"new {shown}" : $"{shown}.{(name.StartsWith("get_", StringComparison.Ordinal) || name.StartsWith("set_", StringComparison.Ordinal) ? name[4..] : name)}", kind, from, at);
    }

    private (string Assembly, string Space, string Type) Describe(TypeReferenceHandle handle)
    {
        var type = code.GetTypeReference(handle);
        var name = code.GetString(type.Name);
        switch (type.ResolutionScope.Kind)
        {
            case HandleKind.TypeReference:
                var (assembly, space, outer) = Describe((TypeReferenceHandle)type.ResolutionScope);
                return (assembly, space, outer);
            case HandleKind.AssemblyReference:
                return (code.GetString(code.GetAssemblyReference((AssemblyReferenceHandle)type.ResolutionScope).Name), code.GetString(type.Namespace), name);
            default:
                return ("", code.GetString(type.Namespace), name);
        }
    }

    /// <summary>Whether a library of the user's says that what it reads is declared.</summary>
    private bool Promised(string assembly, string space, string type, string member)
    {
        if (!promises.TryGetValue(assembly, out var known)) promises[assembly] = known = open(assembly) is { } library ? LibraryPromises.Read(library) : LibraryPromises.None;
        return known.Holds(space, type, member);
    }

    private void Add(string call, CallKind kind, MethodDefinitionHandle method, int offset)
    {
        var (document, line, column) = PlaceOf(method, offset);
        found.Add(new UndeclaredCall(call, kind, document, line, column));
    }

    private (string Document, int Line, int Column) PlaceOf(MethodDefinitionHandle method, int offset)
    {
        if (symbols is null) return ("", 0, 0);
        var information = symbols.GetMethodDebugInformation(method.ToDebugInformationHandle());
        var point = information.GetSequencePoints().Where(p => !p.IsHidden && p.Offset <= offset).Select(p => (SequencePoint?)p).LastOrDefault() ?? information.GetSequencePoints().Where(p => !p.IsHidden).Select(p => (SequencePoint?)p).FirstOrDefault();
        return point is { } at ? (symbols.GetString(symbols.GetDocument(at.Document).Name), at.StartLine, at.StartColumn) : ("", 0, 0);
    }

    internal static bool HasPromise(MetadataReader reader, CustomAttributeHandleCollection attributes) => attributes.Any(a => reader.GetCustomAttribute(a).Constructor is { Kind: HandleKind.MemberReference } constructor
        && reader.GetMemberReference((MemberReferenceHandle)constructor).Parent is { Kind: HandleKind.TypeReference } type
        && reader.GetString(reader.GetTypeReference((TypeReferenceHandle)type).Name) == Promise);

    private static IEnumerable<TypeDefinitionHandle> TypesIn(TypeName type) => type.Arguments.SelectMany(TypesIn).Append(type.Own).Where(t => !t.IsNil);

    /// <summary>A type in a signature.</summary>
    private sealed record TypeName(string Text, TypeDefinitionHandle Own = default, TypeReferenceHandle Reference = default)
    {
        public ImmutableArray<TypeName> Arguments { get; init; } = [];
    }

    private sealed class Names : ISignatureTypeProvider<TypeName, object?>
    {
        public TypeName GetArrayType(TypeName elementType, ArrayShape shape) => elementType with { Text = elementType.Text + "[,]" };

        public TypeName GetByReferenceType(TypeName elementType) => elementType;

        public TypeName GetFunctionPointerType(MethodSignature<TypeName> signature) => new("function");

        public TypeName GetGenericInstantiation(TypeName genericType, ImmutableArray<TypeName> typeArguments) => genericType with { Arguments = typeArguments };

        public TypeName GetGenericMethodParameter(object? genericContext, int index) => new("T");

        public TypeName GetGenericTypeParameter(object? genericContext, int index) => new("T");

        public TypeName GetModifiedType(TypeName modifier, TypeName unmodifiedType, bool isRequired) => unmodifiedType;

        public TypeName GetPinnedType(TypeName elementType) => elementType;

        public TypeName GetPointerType(TypeName elementType) => elementType;

        public TypeName GetPrimitiveType(PrimitiveTypeCode typeCode) => new(typeCode.ToString());

        public TypeName GetSZArrayType(TypeName elementType) => elementType with { Text = elementType.Text + "[]" };

        public TypeName GetTypeFromDefinition(MetadataReader reader, TypeDefinitionHandle handle, byte rawTypeKind) => new(reader.GetString(reader.GetTypeDefinition(handle).Name), handle);

        public TypeName GetTypeFromReference(MetadataReader reader, TypeReferenceHandle handle, byte rawTypeKind) => new(reader.GetString(reader.GetTypeReference(handle).Name), default, handle);

        public TypeName GetTypeFromSpecification(MetadataReader reader, object? genericContext, TypeSpecificationHandle handle, byte rawTypeKind) => reader.GetTypeSpecification(handle).DecodeSignature(this, genericContext);
    }

    /// <summary>What a library says of itself by <see cref="DeclaresInputsAttribute"/>.</summary>
    private sealed class LibraryPromises
    {
        private readonly HashSet<string> members = new(StringComparer.Ordinal);
        private bool holdsForAll;

        public static LibraryPromises None { get; } = new();

        public static LibraryPromises Read(Stream library)
        {
            var promised = new LibraryPromises();
            using var file = new PEReader(library);
            if (!file.HasMetadata) return promised;
            var reader = file.GetMetadataReader();
            promised.holdsForAll = HasPromise(reader, reader.GetAssemblyDefinition().GetCustomAttributes());
            foreach (var handle in reader.TypeDefinitions)
            {
                var type = reader.GetTypeDefinition(handle);
                var name = $"{reader.GetString(type.Namespace)}.{reader.GetString(type.Name)}";
                if (HasPromise(reader, type.GetCustomAttributes())) promised.members.Add(name);
                foreach (var method in type.GetMethods().Select(reader.GetMethodDefinition).Where(m => HasPromise(reader, m.GetCustomAttributes()))) promised.members.Add($"{name}.{reader.GetString(method.Name)}");
            }
            return promised;
        }

        public bool Holds(string space, string type, string member) => holdsForAll || members.Contains($"{space}.{type}") || members.Contains($"{space}.{type}.{member}");
    }
}
