using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Data;

/// <summary>Fetches data files from the web. What an address gives is not known beforehand, so that a batch takes it for changed.</summary>
public static class WebFile
{
    private const long LargestFile = 1L << 32;
    private static readonly TimeSpan Patience = TimeSpan.FromMinutes(10);
    private static readonly Lazy<HttpClient> Client = new(() => new HttpClient(new SocketsHttpHandler { ConnectTimeout = TimeSpan.FromSeconds(20), AutomaticDecompression = DecompressionMethods.All }) { Timeout = Patience, DefaultRequestHeaders = { UserAgent = { new ProductInfoHeaderValue("Fennick", "0.1") } } });

    private sealed record Copy(string Address, string? Tag, DateTimeOffset? Changed, DateTimeOffset Fetched, string Sha256);

    /// <summary>Fetches a file, or asks whether the copy that was fetched before is still the one, and gives the path of the copy for a reader: <c>Csv.Read&lt;Hive&gt;(WebFile.Get("https://data.example.org/hives.csv"))</c>.</summary>
    /// <param name="address">An address over HTTP or HTTPS.</param>
    /// <param name="sha256">The SHA-256 of the file as it has to be, in hexadecimal digits; whatever comes if null.</param>
    /// <param name="useCopy">Whether a copy that was fetched before does without asking, for work without a network.</param>
    /// <returns>The full path of the copy, under the user's cache; its name is that of the address.</returns>
    /// <exception cref="ReportException">This is no such address, it does not answer, refuses, or gives another file than the hash says.</exception>
    public static string Get(string address, string? sha256 = null, bool useCopy = false)
    {
        ArgumentNullException.ThrowIfNull(address);
        if (!Uri.TryCreate(address, UriKind.Absolute, out var uri) || uri.Scheme is not ("http" or "https"))
            throw new ReportException(Diagnostic.Error(null, $"`{address}` is not an address of the web", "write it with `https://`"));
        var folder = Path.Combine(CacheFolder.Root, "web", Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(uri.AbsoluteUri)))[..16]);
        var file = Path.Combine(folder, NameOf(uri));
        var note = Path.Combine(folder, ".fetched.json");
        var copy = ReadNote(note, file);
        if (!useCopy || copy is null) copy = Fetch(uri, file, note, copy);
        if (sha256 is not null && !copy.Sha256.Equals(sha256, StringComparison.OrdinalIgnoreCase))
            throw new ReportException(Diagnostic.Error(null, $"{Shown(uri)} gives another file than the one that is asked for: its SHA-256 is {copy.Sha256}", "look at what has changed, and give the new hash if it is right"));
        return file;
    }

    private static Copy Fetch(Uri uri, string file, string note, Copy? copy)
    {
        using var request = new HttpRequestMessage(HttpMethod.Get, uri);
        if (copy?.Tag is { } tag && EntityTagHeaderValue.TryParse(tag, out var known)) request.Headers.IfNoneMatch.Add(known);
        else if (copy?.Changed is { } changed) request.Headers.IfModifiedSince = changed;
        try
        {
            using var answer = Client.Value.Send(request, HttpCompletionOption.ResponseHeadersRead);
            if (answer.StatusCode == HttpStatusCode.NotModified && copy is not null) return copy;
            if (!answer.IsSuccessStatusCode) throw Failed(uri, string.Create(CultureInfo.InvariantCulture, $"it answers {(int)answer.StatusCode}{(answer.ReasonPhrase is { Length: > 0 } phrase ? $" ({phrase})" : "")}"), copy, null);
            Directory.CreateDirectory(Path.GetDirectoryName(file)!);
            var beside = $"{file}.{Guid.NewGuid():N}";
            try
            {
                var fresh = new Copy(uri.AbsoluteUri, answer.Headers.ETag?.ToString(), answer.Content.Headers.LastModified, DateTimeOffset.UtcNow, Save(answer, beside, uri));
                File.Move(beside, file, overwrite: true);
                File.WriteAllText(note, JsonSerializer.Serialize(fresh));
                return fresh;
            }
            finally
            {
                File.Delete(beside);
            }
        }
        catch (Exception problem) when (problem is HttpRequestException or IOException or TaskCanceledException or UnauthorizedAccessException)
        {
            throw Failed(uri, problem is TaskCanceledException ? "it does not answer in time" : problem.Message.TrimEnd('.'), copy, problem);
        }
    }

    // The hash of what was written.
    private static string Save(HttpResponseMessage answer, string path, Uri uri)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        using var stream = answer.Content.ReadAsStream();
        using var file = new FileStream(path, FileMode.CreateNew);
        var buffer = new byte[1 << 16];
        for (var total = 0L; ;)
        {
            var count = stream.Read(buffer);
            if (count == 0) return Convert.ToHexStringLower(hash.GetHashAndReset());
            if ((total += count) > LargestFile) throw new ReportException(Diagnostic.Error(null, $"{Shown(uri)} gives more than 4 GB", "fetch it by hand, and read what is needed of it"));
            hash.AppendData(buffer, 0, count);
            file.Write(buffer, 0, count);
        }
    }

    private static ReportException Failed(Uri uri, string reason, Copy? copy, Exception? problem) => new([Diagnostic.Error(null, $"{Shown(uri)} cannot be fetched: {reason}",
        copy is null ? null : $"a copy of {copy.Fetched.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture)} UTC is there; to go on with it, call `WebFile.Get` with `useCopy: true`")], problem);

    // A copy that somebody has changed is none.
    private static Copy? ReadNote(string note, string file)
    {
        try
        {
            if (!File.Exists(note) || !File.Exists(file) || JsonSerializer.Deserialize<Copy>(File.ReadAllText(note)) is not { } copy) return null;
            using var stream = File.OpenRead(file);
            return Convert.ToHexStringLower(SHA256.HashData(stream)) == copy.Sha256 ? copy : null;
        }
        catch (Exception problem) when (problem is IOException or JsonException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    // Names and passwords in an address are nobody's business.
    private static string Shown(Uri uri) => uri.UserInfo.Length == 0 ? uri.AbsoluteUri : new UriBuilder(uri) { UserName = "", Password = "" }.Uri.AbsoluteUri;

    private static string NameOf(Uri uri)
    {
        var name = string.Concat(Uri.UnescapeDataString(uri.Segments[^1]).Trim('/').Select(c => char.IsLetterOrDigit(c) || c is '.' or '-' or '_' ? c : '_')).TrimStart('.');
        return name.Length is 0 or > 120 ? "data" : name;
    }
}
