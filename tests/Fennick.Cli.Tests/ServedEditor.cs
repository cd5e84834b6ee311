using System.Diagnostics;
using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Fennick.Cli.Tests;

/// <summary>An editor that is served by <c>fennick serve</c>: speaks the protocol byte by byte.</summary>
internal sealed class ServedEditor : IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(60);
    private readonly Process process;
    private readonly List<JsonElement> received = [];
    private readonly Lock guard = new();
    private int last;

    public ServedEditor(string folder)
    {
        var start = new ProcessStartInfo(Path.Combine(FennickCommand.Folder, "Fennick.Cli"), ["serve"]) { WorkingDirectory = folder, RedirectStandardOutput = true, RedirectStandardInput = true };
        start.Environment["FENNICK_CACHE"] = FennickCommand.Cache;
        process = Process.Start(start)!;
        new Thread(Listen) { IsBackground = true }.Start();
        Capabilities = Ask("initialize", new JsonObject { ["processId"] = Environment.ProcessId, ["rootUri"] = new Uri(folder).AbsoluteUri, ["capabilities"] = new JsonObject() }).GetProperty("capabilities");
        Tell("initialized", []);
    }

    /// <summary>What the server says that it can do.</summary>
    public JsonElement Capabilities { get; }

    /// <summary>Opens a text, whether it is on the disk or not.</summary>
    public void Open(string file, string text) => Tell("textDocument/didOpen", new JsonObject { ["textDocument"] = new JsonObject { ["uri"] = UriOf(file), ["languageId"] = "markdown", ["version"] = 1, ["text"] = text } });

    /// <summary>Changes a text.</summary>
    public void Change(string file, string text) => Tell("textDocument/didChange", new JsonObject { ["textDocument"] = new JsonObject { ["uri"] = UriOf(file), ["version"] = 2 }, ["contentChanges"] = new JsonArray(new JsonObject { ["text"] = text }) });

    /// <summary>Asks about the place of a mark in a text: <c>|</c>. The text without the mark is what the editor shows.</summary>
    public JsonElement At(string method, string file, string marked)
    {
        var offset = marked.LastIndexOf('|');
        Change(file, marked.Remove(offset, 1));
        var before = marked[..offset];
        return Ask("textDocument/" + method, new JsonObject { ["textDocument"] = new JsonObject { ["uri"] = UriOf(file) }, ["position"] = new JsonObject { ["line"] = before.Count(c => c == '\n'), ["character"] = offset - (before.LastIndexOf('\n') + 1) } });
    }

    /// <summary>What may be written at the place of the mark.</summary>
    public string[] Proposals(string file, string marked) => [.. At("completion", file, marked).GetProperty("items").EnumerateArray().Select(i => i.GetProperty("label").GetString()!)];

    /// <summary>The problems of a file as they are told next, once they are as wanted: line, column, severity and message.</summary>
    public string[] Problems(string file, Func<string[], bool> isWanted)
    {
        var watch = Stopwatch.StartNew();
        string[] seen = [];
        while (watch.Elapsed < Patience)
        {
            lock (guard)
            {
                foreach (var told in received.Where(m => m.TryGetProperty("method", out var name) && name.GetString() == "textDocument/publishDiagnostics" && m.GetProperty("params").GetProperty("uri").GetString() == UriOf(file)))
                    seen = [.. told.GetProperty("params").GetProperty("diagnostics").EnumerateArray().Select(Describe)];
            }
            if (isWanted(seen)) return seen;
            Thread.Sleep(10);
        }
        throw new TimeoutException($"The problems are not as wanted: {string.Join("\n", seen)}");
    }

    public JsonElement Ask(string method, JsonObject parameters)
    {
        var id = Interlocked.Increment(ref last);
        Send(new JsonObject { ["jsonrpc"] = "2.0", ["id"] = id, ["method"] = method, ["params"] = parameters });
        var watch = Stopwatch.StartNew();
        while (watch.Elapsed < Patience)
        {
            lock (guard)
            {
                if (received.Where(m => m.TryGetProperty("id", out var answered) && answered.ValueKind == JsonValueKind.Number && answered.GetInt32() == id && !m.TryGetProperty("method", out _)).Cast<JsonElement?>().FirstOrDefault() is { } answer)
                    return answer.TryGetProperty("result", out var result) ? result : throw new InvalidOperationException(answer.ToString());
            }
            Thread.Sleep(2);
        }
        throw new TimeoutException(method);
    }

    public void Tell(string method, JsonObject parameters) => Send(new JsonObject { ["jsonrpc"] = "2.0", ["method"] = method, ["params"] = parameters });

    /// <summary>Ends the server as editors do.</summary>
    public int End()
    {
        Ask("shutdown", []);
        Tell("exit", []);
        return process.WaitForExit(Patience) ? process.ExitCode : -1;
    }

    public void Dispose()
    {
        if (!process.HasExited)
        {
            process.Kill();
            process.WaitForExit();
        }
        process.Dispose();
    }

    public static string UriOf(string file) => new Uri(file).AbsoluteUri;

    private static string Describe(JsonElement problem)
    {
        var (start, end) = (problem.GetProperty("range").GetProperty("start"), problem.GetProperty("range").GetProperty("end"));
        return string.Create(CultureInfo.InvariantCulture, $"{start.GetProperty("line").GetInt32() + 1}:{start.GetProperty("character").GetInt32() + 1}-{end.GetProperty("character").GetInt32() + 1} {problem.GetProperty("severity").GetInt32()} {problem.GetProperty("message").GetString()}");
    }

    private void Send(JsonObject message)
    {
        var content = Encoding.UTF8.GetBytes(message.ToJsonString());
        var stream = process.StandardInput.BaseStream;
        stream.Write(Encoding.ASCII.GetBytes($"Content-Length: {content.Length}\r\n\r\n"));
        stream.Write(content);
        stream.Flush();
    }

    private void Listen()
    {
        var stream = process.StandardOutput.BaseStream;
        while (true)
        {
            var length = 0;
            while (ReadLine(stream) is { Length: > 0 } line)
                if (line.StartsWith("Content-Length: ", StringComparison.Ordinal)) length = int.Parse(line["Content-Length: ".Length..], CultureInfo.InvariantCulture);
            if (length == 0) return;
            var content = new byte[length];
            stream.ReadExactly(content);
            lock (guard) received.Add(JsonDocument.Parse(content).RootElement);
        }
    }

    private static string? ReadLine(Stream stream)
    {
        var line = new StringBuilder();
        int value;
        while ((value = stream.ReadByte()) is not -1 and not '\n') line.Append((char)value);
        return value == -1 ? null : line.ToString().TrimEnd('\r');
    }
}
