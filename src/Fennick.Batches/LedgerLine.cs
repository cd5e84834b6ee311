using System.Collections.Immutable;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Fennick.Batches;

/// <summary>What a line of a ledger tells.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<LedgerEvent>))]
internal enum LedgerEvent
{
    /// <summary>A batch starts.</summary>
    [JsonStringEnumMemberName("batch")]
    Batch,

    /// <summary>A unit starts.</summary>
    [JsonStringEnumMemberName("begun")]
    Begun,

    /// <summary>Its document is about to be put in place.</summary>
    [JsonStringEnumMemberName("placing")]
    Placing,

    /// <summary>Its document is in place.</summary>
    [JsonStringEnumMemberName("done")]
    Done,

    /// <summary>It has failed.</summary>
    [JsonStringEnumMemberName("failed")]
    Failed,
}

/// <summary>A line of a ledger, one JSON object.</summary>
internal sealed record LedgerLine
{
    /// <summary>How many characters a line may have; the list of a batch's units takes most.</summary>
    public const int Longest = 64 * 1024 * 1024;

    /// <summary>How much of a text that people or programs have written a line takes.</summary>
    public const int LongestText = 4000;

    private const int MostWarnings = 100;
    private static readonly LedgerJson Json = new(new JsonSerializerOptions
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    });

    /// <summary>The version of the ledger's format; in the line of a batch.</summary>
    public int? Ledger { get; init; }

    public required LedgerEvent Event { get; init; }

    public required DateTimeOffset At { get; init; }

    /// <summary>Fennick's version.</summary>
    public string? Fennick { get; init; }

    /// <summary>What the batch was run with, in the line of a batch: the manuscript.</summary>
    public string? Source { get; init; }

    public string? Roster { get; init; }

    public string? Part { get; init; }

    /// <summary>All units of the roster, also those of other parts.</summary>
    public ImmutableArray<string>? Units { get; init; }

    /// <summary>The unit's document, relative to the ledger's folder.</summary>
    public string? Unit { get; init; }

    public ImmutableSortedDictionary<string, string>? Parameters { get; init; }

    /// <summary>The hash of the manuscript with all that belongs to it.</summary>
    public string? Manuscript { get; init; }

    /// <summary>The hash of the house with its livery.</summary>
    public string? House { get; init; }

    /// <summary>The hashes of the files that were read for the unit.</summary>
    public ImmutableSortedDictionary<string, string>? Data { get; init; }

    /// <summary>The hash of the document.</summary>
    public string? Output { get; init; }

    /// <summary>What a refresh did, if the document was one that people had edited: what is there then is neither theirs nor that of <see cref="Output"/>.</summary>
    public string? Merged { get; init; }

    /// <summary>The hashes of the files beside the document, by their endings.</summary>
    public ImmutableSortedDictionary<string, string>? Also { get; init; }

    public double? Seconds { get; init; }

    public ImmutableArray<string>? Warnings { get; init; }

    /// <summary>What the steps wrote to the console.</summary>
    public string? Wrote { get; init; }

    public string? Error { get; init; }

    /// <summary>Where the error is: the manuscript, line and column.</summary>
    public string? Place { get; init; }

    public byte[] ToBytes() => [.. JsonSerializer.SerializeToUtf8Bytes(this with { Wrote = Cut(Wrote), Error = Cut(Error), Warnings = Warnings is { } all ? [.. all.Take(MostWarnings).Select(w => Cut(w)!)] : null }, Json.LedgerLine), (byte)'\n'];

    /// <summary>The start of a text that is too long.</summary>
    private static string? Cut(string? text) => text is { Length: > LongestText } ? $"{text[..LongestText]}…" : text;

    /// <summary>Reads a line.</summary>
    /// <exception cref="JsonException">It is not a whole line of a ledger.</exception>
    public static LedgerLine Parse(string line) => JsonSerializer.Deserialize(line, Json.LedgerLine) ?? throw new JsonException();
}

/// <summary>Reads and writes lines also where nothing may be found out about types at run time, as in single-file programs.</summary>
[JsonSerializable(typeof(LedgerLine))]
internal sealed partial class LedgerJson : JsonSerializerContext;
