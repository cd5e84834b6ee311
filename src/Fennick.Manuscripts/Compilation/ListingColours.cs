using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using System.Security.Cryptography;
using System.Text;
using Fennick.Documents;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.Classification;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.Text;

namespace Fennick.Manuscripts.Compilation;

/// <summary>What is coloured in listings of C#; what the compiler once said of a listing is kept, so that a later run does not load it.</summary>
internal static class ListingColours
{
    // Grows when the classes below change.
    private const string Version = "1";

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
        using var workspace = new AdhocWorkspace();
        var project = workspace.AddProject(ProjectInfo.Create(ProjectId.CreateNewId(), VersionStamp.Default, "listing", "listing", LanguageNames.CSharp,
            parseOptions: new CSharpParseOptions(LanguageVersion.Latest, kind: SourceCodeKind.Script), metadataReferences: Framework.References,
            compilationOptions: new CSharpCompilationOptions(OutputKind.DynamicallyLinkedLibrary, usings: ProgramText.Usings)));
        var document = workspace.AddDocument(DocumentInfo.Create(DocumentId.CreateNewId(project.Id), "listing.cs", sourceCodeKind: SourceCodeKind.Script,
            loader: TextLoader.From(TextAndVersion.Create(SourceText.From(code), VersionStamp.Default))));
        var spans = ImmutableArray.CreateBuilder<ListingSpan>();
        var end = 0;
        foreach (var found in Classifier.GetClassifiedSpansAsync(document, new TextSpan(0, code.Length)).GetAwaiter().GetResult().OrderBy(s => s.TextSpan.Start))
        {
            if (KindOf(found.ClassificationType) is not { } kind || found.TextSpan.Start < end || found.TextSpan.IsEmpty) continue;
            spans.Add(new ListingSpan(found.TextSpan.Start, found.TextSpan.Length, kind));
            end = found.TextSpan.End;
        }
        return spans.ToImmutable();
    }

    /// <summary>What types are known by; in a class of its own, so that only classifying loads it, and once.</summary>
    private static class Framework
    {
        public static readonly MetadataReference[] References = [.. Compilation.References.All.Where(File.Exists).Select(path => MetadataReference.CreateFromFile(path))];
    }

    private static CodeKind? KindOf(string type) => type switch
    {
        ClassificationTypeNames.Keyword or ClassificationTypeNames.ControlKeyword or ClassificationTypeNames.PreprocessorKeyword => CodeKind.Keyword,
        ClassificationTypeNames.ClassName or ClassificationTypeNames.RecordClassName or ClassificationTypeNames.StructName or ClassificationTypeNames.RecordStructName or ClassificationTypeNames.InterfaceName
            or ClassificationTypeNames.EnumName or ClassificationTypeNames.DelegateName or ClassificationTypeNames.TypeParameterName => CodeKind.Type,
        ClassificationTypeNames.StringLiteral or ClassificationTypeNames.VerbatimStringLiteral or ClassificationTypeNames.StringEscapeCharacter => CodeKind.String,
        ClassificationTypeNames.Comment => CodeKind.Comment,
        _ => null,
    };

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
