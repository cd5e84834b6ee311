using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Fennick.Cli.Watching;

/// <summary>The first line to a maker: what it makes again and again.</summary>
/// <param name="Manuscript">The manuscript as it was named, relative to the current folder.</param>
/// <param name="With">Settings that count instead of its own.</param>
/// <param name="Parameters">Values of parameters.</param>
/// <param name="Document">The full path of its document; null if none is wanted.</param>
internal sealed record MakerOpening(string Manuscript, IReadOnlyDictionary<string, string> With, IReadOnlyDictionary<string, string> Parameters, string? Document)
{
    /// <summary>The unit of a batch whose report it is; null if it is of none.</summary>
    public RosterUnit? Unit { get; init; }
}

/// <summary>A line to a maker: makes the report, or stops making it.</summary>
/// <param name="Run">The number of the run.</param>
/// <param name="IsStopped">Whether it is wanted no longer.</param>
/// <param name="RunsAll">Whether also those steps run that need not.</param>
internal sealed record MakerRequest(int Run, bool IsStopped = false, bool RunsAll = false);

/// <summary>A line from a maker: one of its parts is there.</summary>
internal sealed record MakerEvent(int Run)
{
    /// <summary>A step begins.</summary>
    public StepBegun? Begun { get; init; }

    /// <summary>The run is over.</summary>
    public MadeView? Made { get; init; }

    /// <summary>The document was written, or could not be.</summary>
    public SavedDocument? Saved { get; init; }

    /// <summary>The run was stopped.</summary>
    public bool IsStopped { get; init; }

    /// <summary>One line of JSON.</summary>
    public static string Line<T>(T message) => JsonSerializer.Serialize(message, Options);

    /// <summary>What a line says.</summary>
    public static T Read<T>(string line) => JsonSerializer.Deserialize<T>(line, Options)!;

    private static readonly JsonSerializerOptions Options = new() { PropertyNamingPolicy = JsonNamingPolicy.CamelCase, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping, DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull };
}

/// <summary>A step that runs.</summary>
internal sealed record StepBegun(string Name, string File, int Line);

/// <summary>A document.</summary>
/// <param name="Path">Its full path.</param>
/// <param name="Problems">What deserves attention, or kept it from being written.</param>
internal sealed record SavedDocument(string Path, IReadOnlyList<LiveProblem> Problems);
