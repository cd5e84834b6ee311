using System.Text.Json;
using System.Text.Json.Serialization;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts.Running;

namespace Fennick.Batches.Workers;

/// <summary>The first line to a worker: what it makes reports of.</summary>
/// <param name="Manuscript">The manuscript as it was named, relative to the current folder.</param>
/// <param name="With">Settings that count instead of its own.</param>
internal sealed record WorkerOpening(string Manuscript, IReadOnlyDictionary<string, string> With);

/// <summary>A line to a worker: the report of a unit.</summary>
/// <param name="Parameters">The values of its parameters, as written in a roster.</param>
/// <param name="Path">The full path that the document will have; it is written beside it.</param>
/// <param name="Root">The folder of the batch, which has to be there.</param>
/// <param name="Forms">The names of the forms that it is written in too.</param>
internal sealed record WorkerRequest(IReadOnlyDictionary<string, string> Parameters, string Path, string Root, IReadOnlyList<string> Forms);

/// <summary>A form of a report that a worker has written.</summary>
/// <param name="Extension">The ending of its file.</param>
/// <param name="Staged">Where it lies.</param>
/// <param name="Hash">Its hash.</param>
internal sealed record WorkerForm(string Extension, string Staged, string Hash);

/// <summary>A line from a worker.</summary>
internal sealed record WorkerReply
{
    /// <summary>Where the document lies that was asked for; null if it could not be made.</summary>
    public string? Staged { get; init; }

    /// <summary>Its hash.</summary>
    public string Output { get; init; } = "";

    /// <summary>The hash of its house.</summary>
    public string House { get; init; } = "";

    /// <summary>The files that it was made from.</summary>
    public IReadOnlyList<FileStamp> Files { get; init; } = [];

    /// <summary>What deserves attention, or was wrong.</summary>
    public IReadOnlyList<Diagnostic> Diagnostics { get; init; } = [];

    /// <summary>What the steps wrote to the console.</summary>
    public IReadOnlyList<StepOutput> Outputs { get; init; } = [];

    /// <summary>Its other forms.</summary>
    public IReadOnlyList<WorkerForm> Forms { get; init; } = [];

    /// <summary>Whether the worker had better not go on.</summary>
    public bool IsSpent { get; init; }
}

/// <summary>Reads and writes the lines also where nothing may be found out about types at run time, as in single-file programs.</summary>
[JsonSerializable(typeof(WorkerOpening))]
[JsonSerializable(typeof(WorkerRequest))]
[JsonSerializable(typeof(WorkerReply))]
internal sealed partial class WorkerJson : JsonSerializerContext
{
    /// <summary>A line with a message.</summary>
    public static byte[] Line<T>(T message, System.Text.Json.Serialization.Metadata.JsonTypeInfo<T> type) => [.. JsonSerializer.SerializeToUtf8Bytes(message, type), (byte)'\n'];
}
