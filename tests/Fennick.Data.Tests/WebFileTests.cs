using System.Net;
using System.Net.Sockets;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Data.Tests;

/// <summary>Files from the web, by a server of the test's own on loopback.</summary>
public sealed class WebFileTests : IDisposable
{
    private readonly TestFolder folder = new();
    private readonly HttpListener server = new();
    private readonly string address;
    private string content = "apiary,honey\nElm,1\n";
    private int asked;
    private int sent;

    public WebFileTests()
    {
        using (var probe = new TcpListener(IPAddress.Loopback, 0))
        {
            probe.Start();
            address = $"http://127.0.0.1:{((IPEndPoint)probe.LocalEndpoint).Port}/data/";
        }
        server.Prefixes.Add(address);
        server.Start();
        _ = Task.Run(Serve);
    }

    private sealed record Hive(string Apiary, int Honey);

    public void Dispose()
    {
        if (server.IsListening) server.Stop();
        folder.Dispose();
    }

    private void Serve()
    {
        while (server.IsListening)
        {
            HttpListenerContext context;
            try
            {
                context = server.GetContext();
            }
            catch (Exception problem) when (problem is HttpListenerException or ObjectDisposedException)
            {
                return;
            }
            asked++;
            var tag = $"\"{content.Length}-{content.GetHashCode(StringComparison.Ordinal)}\"";
            context.Response.Headers["ETag"] = tag;
            if (context.Request.Url!.AbsolutePath.EndsWith("gone.csv", StringComparison.Ordinal)) context.Response.StatusCode = 404;
            else if (context.Request.Headers["If-None-Match"] == tag) context.Response.StatusCode = 304;
            else
            {
                sent++;
                context.Response.OutputStream.Write(Encoding.UTF8.GetBytes(content));
            }
            context.Response.Close();
        }
    }

    private static string Wrong(Action read) => Assert.Throws<ReportException>(read).Message;

    [Fact]
    public void A_file_is_fetched_once_asked_for_again_and_checked_by_its_hash()
    {
        var hives = $"{address}hives.csv?season={Guid.NewGuid():N}";
        var path = WebFile.Get(hives);
        Assert.Equal("hives.csv", Path.GetFileName(path));
        Assert.Equal([new Hive("Elm", 1)], Csv.Read<Hive>(path));
        Assert.Equal(path, WebFile.Get(hives));
        Assert.Equal((2, 1), (asked, sent));
        Assert.Equal(path, WebFile.Get(hives, useCopy: true));
        Assert.Equal(2, asked);

        // A copy that somebody has changed is fetched anew.
        File.AppendAllText(path, "Oak,9\n");
        Assert.Equal([new Hive("Elm", 1)], Csv.Read<Hive>(WebFile.Get(hives)));
        const string Hash = "7c3e7d1a";
        Assert.Contains("gives another file than the one that is asked for: its SHA-256 is ", Wrong(() => WebFile.Get(hives, Hash)), StringComparison.Ordinal);
        Assert.Equal(path, WebFile.Get(hives, Convert.ToHexString(System.Security.Cryptography.SHA256.HashData(Encoding.UTF8.GetBytes(content)))));
        content = "apiary,honey\nElm,2\n";
        Assert.Equal([new Hive("Elm", 2)], Csv.Read<Hive>(WebFile.Get(hives)));

        server.Stop();
        var message = Wrong(() => WebFile.Get(hives));
        Assert.Contains("cannot be fetched: ", message, StringComparison.Ordinal);
        Assert.Matches(@"a copy of 20\d\d-\d\d-\d\d \d\d:\d\d UTC is there; to go on with it, call `WebFile.Get` with `useCopy: true`", message);
        Assert.Equal([new Hive("Elm", 2)], Csv.Read<Hive>(WebFile.Get(hives, useCopy: true)));
    }

    [Fact]
    public void What_is_no_address_or_is_not_there_is_told()
    {
        Assert.Contains($"{address}gone.csv cannot be fetched: it answers 404", Wrong(() => WebFile.Get($"{address}gone.csv")), StringComparison.Ordinal);
        Assert.DoesNotContain("secret", Wrong(() => WebFile.Get($"{address.Replace("//", "//me:secret@", StringComparison.Ordinal)}gone.csv")), StringComparison.Ordinal);
        foreach (var wrong in (string[])["hives.csv", "file:///etc/passwd", "ftp://example.org/x"]) Assert.Contains("is not an address of the web", Wrong(() => WebFile.Get(wrong)), StringComparison.Ordinal);
    }
}
