using System.Reflection;
using System.Security.Cryptography;
using System.Text;
using Microsoft.AspNetCore.Http;

namespace Fennick.Live;

/// <summary>The live page: files of its own, and a stream of events that tells browsers what to show. It answers nobody but pages that came from here.</summary>
/// <param name="token">The word without which no address is known.</param>
/// <param name="ask">Takes what a page asks for: a line of JSON.</param>
/// <param name="end">Tells that nothing more is shown.</param>
internal sealed class LivePage(string token, Action<string> ask, CancellationToken end)
{
    private const int LongestQuestion = 4096;
    private static readonly TimeSpan Pause = TimeSpan.FromSeconds(15);

    // Nothing is loaded from anywhere else.
    private const string Policy = "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'";

    private static readonly Dictionary<string, string> Types = new() { [".html"] = "text/html; charset=utf-8", [".js"] = "text/javascript; charset=utf-8", [".css"] = "text/css; charset=utf-8" };

    private readonly Lock guard = new();
    private readonly Dictionary<string, (long Version, string Data)> events = [];
    private TaskCompletionSource next = new(TaskCreationOptions.RunContinuationsAsynchronously);
    private long version;

    /// <summary>Where it is.</summary>
    public Uri Address { get; set; } = new("http://127.0.0.1/");

    /// <summary>Shows an event to all who look, and to those who come later.</summary>
    /// <param name="line">The name of the event, a space, and its data as JSON; the last of each name counts.</param>
    public void Show(string line)
    {
        if (line.IndexOf(' ', StringComparison.Ordinal) is not (> 0 and var end)) return;
        TaskCompletionSource told;
        lock (guard)
        {
            events[line[..end]] = (++version, line[(end + 1)..]);
            (told, next) = (next, new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously));
        }
        told.SetResult();
    }

    /// <summary>Answers a request.</summary>
    public Task Answer(HttpContext context)
    {
        var (request, response) = (context.Request, context.Response);
        response.Headers.ContentSecurityPolicy = Policy;
        response.Headers.XContentTypeOptions = "nosniff";
        response.Headers["Referrer-Policy"] = "no-referrer";
        response.Headers["Cross-Origin-Resource-Policy"] = "same-origin";
        response.Headers["Cross-Origin-Opener-Policy"] = "same-origin";
        response.Headers.CacheControl = "no-store";
        if (!IsOwn(request)) return Refuse(response, StatusCodes.Status403Forbidden);
        var parts = (request.Path.Value ?? "").Split('/');
        if (parts is not ["", var given, var name] || !CryptographicOperations.FixedTimeEquals(Encoding.UTF8.GetBytes(given), Encoding.UTF8.GetBytes(token))) return Refuse(response, StatusCodes.Status404NotFound);
        return (request.Method, name) switch
        {
            ("GET", "events") => Stream(context),
            ("POST", "ask") => Take(request, response),
            ("GET", "") => Give(response, "index.html"),
            ("GET", "live.js" or "live.css") => Give(response, name),
            _ => Refuse(response, StatusCodes.Status404NotFound),
        };
    }

    /// <summary>Whether a request is for this address, and comes from no page of another.</summary>
    private bool IsOwn(HttpRequest request)
    {
        var port = Address.Port;
        if (request.Host.Port != port || request.Host.Host is not ("127.0.0.1" or "localhost")) return false;
        if (request.Headers["Sec-Fetch-Site"].ToString() is "cross-site" or "same-site") return request.Method == "GET" && request.Headers["Sec-Fetch-Mode"] == "navigate";
        return request.Headers.Origin.ToString() is var origin && (origin.Length == 0 || origin == $"http://{request.Host.Value}");
    }

    private static Task Refuse(HttpResponse response, int status)
    {
        response.StatusCode = status;
        return Task.CompletedTask;
    }

    private static Task Give(HttpResponse response, string name)
    {
        response.ContentType = Types[Path.GetExtension(name)];
        using var file = Assembly.GetExecutingAssembly().GetManifestResourceStream(name)!;
        using var reader = new StreamReader(file);
        return response.WriteAsync(reader.ReadToEnd());
    }

    /// <summary>Passes on what the page asks for.</summary>
    private async Task Take(HttpRequest request, HttpResponse response)
    {
        using var reader = new StreamReader(request.Body);
        var buffer = new char[LongestQuestion];
        var length = await reader.ReadBlockAsync(buffer);
        var text = new string(buffer, 0, length);
        if (length == LongestQuestion || text.Contains('\n', StringComparison.Ordinal) || request.ContentType?.StartsWith("application/json", StringComparison.Ordinal) != true)
        {
            response.StatusCode = StatusCodes.Status400BadRequest;
            return;
        }
        ask(text);
        response.StatusCode = StatusCodes.Status204NoContent;
    }

    /// <summary>Events as they come; of those that came too fast, the last ones.</summary>
    private async Task Stream(HttpContext context)
    {
        using var either = CancellationTokenSource.CreateLinkedTokenSource(context.RequestAborted, end);
        context.Response.ContentType = "text/event-stream";
        var seen = 0L;
        try
        {
            while (true)
            {
                Task told;
                (string Name, long Version, string Data)[] fresh;
                lock (guard)
                {
                    told = next.Task;
                    fresh = [.. events.Where(e => e.Value.Version > seen).Select(e => (e.Key, e.Value.Version, e.Value.Data)).OrderBy(e => e.Version)];
                }
                foreach (var (name, number, data) in fresh)
                {
                    await context.Response.WriteAsync($"event: {name}\ndata: {data}\n\n", either.Token);
                    seen = number;
                }
                await context.Response.Body.FlushAsync(either.Token);
                try
                {
                    await told.WaitAsync(Pause, either.Token);
                }
                catch (TimeoutException)
                {
                    await context.Response.WriteAsync(": still here\n\n", either.Token);
                }
            }
        }
        catch (OperationCanceledException)
        {
            // Nobody looks any more, or nothing is left to show.
        }
    }
}
