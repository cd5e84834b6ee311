using System.Text.Json;
using System.Text.RegularExpressions;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Editing;
using Microsoft.VisualStudio.Threading;
using StreamJsonRpc;

namespace Fennick.Editors;

/// <summary>Answers an editor by the language server protocol (version 3.17): what is wrong as one types, what may be written, where a name is declared, what a value was in the last run.</summary>
internal sealed partial class EditorService : IDisposable
{
    private const string QuickFix = "quickfix";
    private static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(150);

    private readonly OpenTexts texts = new();
    private readonly Dictionary<string, (HashSet<string> Files, IReadOnlyList<(string File, Problem Problem, Diagnostic Diagnostic)> Told)> told = new(StringComparer.Ordinal);
    private readonly Lock guard = new();
    private readonly Dictionary<string, CancellationTokenSource> checks = new(StringComparer.Ordinal);
    private readonly TaskCompletionSource ended = new();
    private JsonRpc rpc = null!;

    private EditorService()
    {
    }

    /// <summary>Serves an editor until it has enough.</summary>
    /// <param name="input">What the editor says.</param>
    /// <param name="output">What it is told.</param>
    public static async Task ServeAsync(Stream input, Stream output)
    {
        using var service = new EditorService();
        using var formatter = new SystemTextJsonFormatter { JsonSerializerOptions = new JsonSerializerOptions(JsonSerializerDefaults.Web) { DefaultIgnoreCondition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingNull } };
        using var handler = new HeaderDelimitedMessageHandler(output, input, formatter);
        // One thing after the other: a question is about the text that was sent before it.
        using var rpc = new JsonRpc(handler) { SynchronizationContext = new NonConcurrentSynchronizationContext(sticky: false) };
        service.rpc = rpc;
        rpc.AddLocalRpcTarget(service, new JsonRpcTargetOptions { AllowNonPublicInvocation = false });
        rpc.StartListening();
        // Where the editor says so, it ends, whether its end of the pipe is closed or not.
        await (await Task.WhenAny(rpc.Completion, service.ended.Task).ConfigureAwait(false)).ConfigureAwait(false);
    }

    /// <summary>What it can do.</summary>
    [JsonRpcMethod("initialize", UseSingleObjectParameterDeserialization = true)]
    public static object Initialize(JsonElement call) => new
    {
        capabilities = new
        {
            textDocumentSync = new { openClose = true, change = 1 },
            completionProvider = new { triggerCharacters = new[] { "{", ".", ":", " ", "|" } },
            definitionProvider = true,
            hoverProvider = true,
            codeActionProvider = new { codeActionKinds = new[] { QuickFix } },
        },
        serverInfo = new { name = "fennick", version = typeof(Manuscript).Assembly.GetName().Version!.ToString(3) },
    };

    /// <summary>The editor ends soon.</summary>
    [JsonRpcMethod("shutdown")]
    public static object? Shutdown() => null;

    /// <summary>The editor has ended.</summary>
    [JsonRpcMethod("exit")]
    public void Exit() => ended.TrySetResult();

    /// <summary>A text was opened.</summary>
    [JsonRpcMethod("textDocument/didOpen", UseSingleObjectParameterDeserialization = true)]
    public void Open(OpenedText call) => Take(call.TextDocument.Uri, call.TextDocument.Text ?? "");

    /// <summary>A text has changed.</summary>
    [JsonRpcMethod("textDocument/didChange", UseSingleObjectParameterDeserialization = true)]
    public void Change(ChangedText call)
    {
        if (call.ContentChanges is [.., var last]) Take(call.TextDocument.Uri, last.Text);
    }

    /// <summary>A text was closed.</summary>
    [JsonRpcMethod("textDocument/didClose", UseSingleObjectParameterDeserialization = true)]
    public void Close(OpenedText call) => texts.Close(call.TextDocument.Uri.LocalPath);

    /// <summary>What may be written at a place.</summary>
    [JsonRpcMethod("textDocument/completion", UseSingleObjectParameterDeserialization = true)]
    public Proposals Complete(PlaceQuestion call)
    {
        if (Asked(call) is not var (manuscript, file, text, offset)) return new Proposals(false, []);
        var found = manuscript.Complete(file, offset);
        return new Proposals(true, [.. found.Select((c, i) => new Proposal(c.Text.TrimEnd(' ', ':'), KindOf(c.Kind), c.Detail, $"{i:D5}", new TextChange(new TextRange(OpenTexts.PositionOf(text, c.Start), call.Position), c.Text)))]);
    }

    /// <summary>Where a name is declared.</summary>
    [JsonRpcMethod("textDocument/definition", UseSingleObjectParameterDeserialization = true)]
    public FoundPlace? Define(PlaceQuestion call)
    {
        if (Asked(call) is not var (manuscript, file, _, offset) || manuscript.Define(file, offset) is not var (declared, place)) return null;
        return texts.TextOf(declared) is { } text ? new FoundPlace(new Uri(declared).AbsoluteUri, OpenTexts.RangeOf(text, place)) : null;
    }

    /// <summary>What a name stands for, and what a value was.</summary>
    [JsonRpcMethod("textDocument/hover", UseSingleObjectParameterDeserialization = true)]
    public Explanation? Explain(PlaceQuestion call) =>
        Asked(call) is var (manuscript, file, _, offset) && manuscript.Explain(file, offset) is { } words ? new Explanation(new ShownText("markdown", words)) : null;

    /// <summary>How problems in a part of a text can be mended.</summary>
    [JsonRpcMethod("textDocument/codeAction", UseSingleObjectParameterDeserialization = true)]
    public IReadOnlyList<Remedy> Mend(RangeQuestion call)
    {
        var (file, remedies) = (call.TextDocument.Uri.LocalPath, new List<Remedy>());
        if (texts.TextOf(file) is not { } text) return remedies;
        (string File, Problem Problem, Diagnostic Diagnostic)[] known;
        lock (guard) known = [.. told.Values.SelectMany(t => t.Told).Where(t => t.File == file)];
        foreach (var (_, problem, diagnostic) in known.Where(k => k.Problem.Range.Start.Line <= call.Range.End.Line && k.Problem.Range.End.Line >= call.Range.Start.Line))
        {
            if (Meant().Match(diagnostic.Suggestion ?? "") is not { Success: true } meant || Wrong().Match(diagnostic.Message) is not { Success: true } wrong) continue;
            // The name that is wrong stands at the place or soon behind it.
            var start = OpenTexts.OffsetOf(text, problem.Range.Start);
            var line = text.IndexOf('\n', start) is >= 0 and var end ? end : text.Length;
            var name = wrong.Groups[1].Value;
            if (text.IndexOf(name, start, line - start, StringComparison.Ordinal) is not (>= 0 and var at)) continue;
            var range = new TextRange(OpenTexts.PositionOf(text, at), OpenTexts.PositionOf(text, at + name.Length));
            remedies.Add(new Remedy($"Write `{meant.Groups[1].Value}`", QuickFix, [problem], new TextChanges(new Dictionary<string, TextChange[]> { [call.TextDocument.Uri.OriginalString] = [new TextChange(range, meant.Groups[1].Value)] })));
        }
        return remedies;
    }

    public void Dispose()
    {
        lock (guard)
        {
            foreach (var check in checks.Values) check.Dispose();
            checks.Clear();
        }
    }

    private (EditedManuscript Manuscript, string File, string Text, int Offset)? Asked(PlaceQuestion call)
    {
        var file = call.TextDocument.Uri.LocalPath;
        return texts.TextOf(file) is { } text && texts.ManuscriptOf(file) is { } manuscript ? (manuscript, file, text, OpenTexts.OffsetOf(text, call.Position)) : null;
    }

    /// <summary>Takes a text, and checks its manuscript when nobody has typed for a moment.</summary>
    private void Take(Uri uri, string text)
    {
        var file = uri.LocalPath;
        texts.Take(file, text);
        CancellationTokenSource check;
        lock (guard)
        {
            if (checks.Remove(file, out var before)) before.Cancel();
            checks[file] = check = new CancellationTokenSource();
        }
        _ = CheckAsync(file, check.Token);
    }

    private async Task CheckAsync(string file, CancellationToken stop)
    {
        try
        {
            await Task.Delay(Pause, stop).ConfigureAwait(false);
            if (texts.ManuscriptOf(file) is not { } manuscript) return;
            var found = manuscript.Check();
            if (stop.IsCancellationRequested) return;
            await TellAsync(manuscript.Files, found).ConfigureAwait(false);
        }
        catch (Exception problem) when (problem is OperationCanceledException or ObjectDisposedException or ConnectionLostException)
        {
            // Somebody has typed on, or the editor has ended.
        }
    }

    /// <summary>Tells what was found in each file of a manuscript, and that nothing was found any more where something was.</summary>
    private async Task TellAsync(IReadOnlyList<string> files, IReadOnlyList<Diagnostic> found)
    {
        var main = files.FirstOrDefault(f => f.EndsWith(Manuscript.Extension, StringComparison.Ordinal)) ?? files[0];
        var placed = found.Select(d => (File: d.Place is { Line: >= 0 } place && files.Contains(Path.GetFullPath(place.File)) ? Path.GetFullPath(place.File) : main, Diagnostic: d))
            .Select(p => (p.File, Problem: ProblemOf(p.File, p.Diagnostic), p.Diagnostic)).ToArray();
        HashSet<string> all = [.. files];
        lock (guard)
        {
            if (told.TryGetValue(main, out var before)) all.UnionWith(before.Files);
            told[main] = ([.. files], placed);
        }
        foreach (var file in all)
            await rpc.NotifyWithParameterObjectAsync("textDocument/publishDiagnostics", new Problems(new Uri(file).AbsoluteUri, [.. placed.Where(p => p.File == file).Select(p => p.Problem)])).ConfigureAwait(false);
    }

    private Problem ProblemOf(string file, Diagnostic diagnostic)
    {
        var isHere = diagnostic.Place is { Line: >= 0 } place && Path.GetFullPath(place.File) == file;
        var words = diagnostic.Suggestion is null ? diagnostic.Message : $"{diagnostic.Message}; {diagnostic.Suggestion}";
        return new Problem(OpenTexts.RangeOf(texts.TextOf(file) ?? "", isHere ? diagnostic.Place! : new SourcePlace(file, 1, 1)), diagnostic.Severity switch { Severity.Error => 1, Severity.Warning => 2, _ => 3 },
            isHere || diagnostic.Place is null ? words : $"{diagnostic.Place}: {words}");
    }

    private static int KindOf(CompletionKind kind) => kind switch
    {
        CompletionKind.Method => 2,
        CompletionKind.Variable => 6,
        CompletionKind.Type => 7,
        CompletionKind.Member or CompletionKind.Setting => 10,
        CompletionKind.Value => 12,
        CompletionKind.Label => 18,
        CompletionKind.Format => 24,
        _ => 14,
    };

    [GeneratedRegex("^did you mean `([^`]+)`\\?$")]
    private static partial Regex Meant();

    [GeneratedRegex("[`']([^`']+)[`']")]
    private static partial Regex Wrong();
}
