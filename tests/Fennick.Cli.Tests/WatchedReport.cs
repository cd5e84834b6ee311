using System.Diagnostics;
using System.Text.Json;
using System.Text.RegularExpressions;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>A running <c>fennick watch</c>, and what its page is told.</summary>
internal sealed partial class WatchedReport : IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(90);
    private readonly Process process;
    private readonly Lock guard = new();
    private readonly List<(string Name, JsonElement Data)> events = [];
    private readonly HttpClient client = new() { Timeout = Timeout.InfiniteTimeSpan };
    private readonly Task<string> errors;

    /// <summary>Starts to watch, and waits for the address of the page.</summary>
    public WatchedReport(string folder, params string[] arguments)
    {
        var start = new ProcessStartInfo(Path.Combine(FennickCommand.Folder, "Fennick.Cli"), ["watch", .. arguments]) { WorkingDirectory = folder, RedirectStandardOutput = true, RedirectStandardError = true, RedirectStandardInput = true };
        start.Environment["FENNICK_CACHE"] = FennickCommand.Cache;
        process = Process.Start(start)!;
        errors = process.StandardError.ReadToEndAsync();
        Address = new Uri(process.StandardOutput.ReadLine() ?? throw new InvalidOperationException(errors.Result));
        _ = Task.Run(ListenAsync);
    }

    /// <summary>The address of the page.</summary>
    public Uri Address { get; }

    /// <summary>The number of the watching process.</summary>
    public int ProcessId => process.Id;

    /// <summary>How many events there have been.</summary>
    public int Count
    {
        get
        {
            lock (guard) return events.Count;
        }
    }

    /// <summary>The first event of a name, not before the given one, that is as wanted.</summary>
    public JsonElement Wait(string name, Func<JsonElement, bool> isWanted, int from = 0)
    {
        var watch = Stopwatch.StartNew();
        while (watch.Elapsed < Patience)
        {
            lock (guard)
            {
                for (var i = from; i < events.Count; i++)
                    if (events[i].Name == name && isWanted(events[i].Data)) return events[i].Data;
            }
            Thread.Sleep(10);
        }
        lock (guard) throw new TimeoutException($"No event `{name}` as wanted came; there were: {string.Join("\n", events.Skip(from).Select(e => $"{e.Name} {(e.Data.ToString() is { Length: > 600 } text ? text[..600] : e.Data.ToString())}"))}");
    }

    /// <summary>The report with these words in it.</summary>
    public string WaitForText(string words, int from = 0) => Wait("report", e => Html(e) is var html && (html.Contains(words, StringComparison.Ordinal) || Tag().Replace(html, "").Contains(words, StringComparison.Ordinal)), from) is var found ? Html(found) : "";

    // Values stand in elements of their own.
    [GeneratedRegex("<[^>]*>")]
    private static partial Regex Tag();

    /// <summary>The state of a run that is over.</summary>
    public JsonElement WaitForProblem(string words, int from = 0) =>
        Wait("state", e => e.TryGetProperty("problems", out var problems) && problems.EnumerateArray().Any(p => p.GetProperty("message").GetString()!.Contains(words, StringComparison.Ordinal)), from)
            .GetProperty("problems").EnumerateArray().First(p => p.GetProperty("message").GetString()!.Contains(words, StringComparison.Ordinal));

    /// <summary>Ends it as Ctrl-C does.</summary>
    public CommandResult End()
    {
        Command.Run("kill", ["-INT", process.Id.ToString(System.Globalization.CultureInfo.InvariantCulture)]);
        Assert.True(process.WaitForExit(TimeSpan.FromSeconds(20)), "Ctrl-C does not end it.");
        return new CommandResult(process.ExitCode, process.StandardOutput.ReadToEnd(), errors.Result);
    }

    public void Dispose()
    {
        client.Dispose();
        if (!process.HasExited)
        {
            process.Kill(entireProcessTree: true);
            process.WaitForExit();
        }
        process.Dispose();
    }

    private static string Html(JsonElement data) => data.GetProperty("report").GetProperty("html").GetString()!;

    private async Task ListenAsync()
    {
        try
        {
            using var reader = new StreamReader(await client.GetStreamAsync(new Uri(Address, "events")));
            var name = "";
            while (await reader.ReadLineAsync() is { } line)
            {
                if (line.StartsWith("event: ", StringComparison.Ordinal)) name = line[7..];
                if (!line.StartsWith("data: ", StringComparison.Ordinal)) continue;
                lock (guard) events.Add((name, JsonDocument.Parse(line[6..]).RootElement));
            }
        }
        catch (Exception problem) when (problem is HttpRequestException or IOException or OperationCanceledException or ObjectDisposedException)
        {
            // The test is over.
        }
    }
}
