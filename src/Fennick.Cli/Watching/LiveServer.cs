using System.Diagnostics;
using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Running;

namespace Fennick.Cli.Watching;

/// <summary>The process that serves the live page.</summary>
internal sealed class LiveServer : IDisposable
{
    private const int TokenLength = 16;
    private readonly Process process;
    private readonly StreamWriter events;

    /// <summary>Starts it.</summary>
    /// <param name="port">The port; any that is free if null.</param>
    /// <param name="asked">Takes what pages ask for, on a thread of its own.</param>
    /// <param name="ended">Is told when it ends by itself.</param>
    /// <exception cref="ReportException">It cannot be started, or the port is in use.</exception>
    public LiveServer(ushort? port, Action<PageQuestion> asked, Action ended)
    {
        var program = Path.Combine(AppContext.BaseDirectory, "Fennick.Live.dll");
        if (!File.Exists(program) || DotnetHost.Find() is not { } host) throw new ReportException(Diagnostic.Error(null, "the program of the live page is not there", "install Fennick again; `fennick write` works without it"));
        var token = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(TokenLength));
        var start = new ProcessStartInfo(host, ["exec", program, (port ?? 0).ToString(CultureInfo.InvariantCulture), token]) { UseShellExecute = false, RedirectStandardInput = true, RedirectStandardOutput = true, RedirectStandardError = true };
        // What others set for servers of their own does not count here.
        foreach (var name in start.Environment.Keys.Where(k => k.StartsWith("ASPNETCORE_", StringComparison.OrdinalIgnoreCase) || k.Equals("DOTNET_URLS", StringComparison.OrdinalIgnoreCase)).ToArray()) start.Environment.Remove(name);
        process = Process.Start(start)!;
        var errors = process.StandardError.ReadToEndAsync();
        events = new StreamWriter(process.StandardInput.BaseStream, new UTF8Encoding(encoderShouldEmitUTF8Identifier: false)) { AutoFlush = true };
        var lines = new StreamReader(process.StandardOutput.BaseStream, Encoding.UTF8);
        var first = lines.ReadLine() is { } line ? JsonSerializer.Deserialize<Greeting>(line, JsonSerializerOptions.Web) : null;
        if (first?.Address is null)
        {
            process.WaitForExit();
            throw new ReportException(first is { InUse: true } ? Diagnostic.Error(null, $"the port {port} is in use", "name another with `--port`, or leave it out for one that is free")
                : Diagnostic.Error(null, $"the live page cannot be served: {errors.Result.Trim().Split('\n')[0]}", "it needs the ASP.NET Core runtime, which is a part of the .NET SDK; `fennick write` works without it"));
        }
        Address = first.Address;
        new Thread(() =>
        {
            while (lines.ReadLine() is { } question) asked(JsonSerializer.Deserialize<PageQuestion>(question, JsonSerializerOptions.Web)!);
            ended();
        })
        { IsBackground = true }.Start();
    }

    /// <summary>Where the page is.</summary>
    public string Address { get; }

    /// <summary>Shows something to all who look.</summary>
    public void Show<T>(string name, T data)
    {
        try
        {
            events.WriteLine($"{name} {MakerEvent.Line(data)}");
        }
        catch (IOException)
        {
            // It has ended; whoever listens says so.
        }
    }

    public void Dispose()
    {
        try
        {
            events.Dispose();
            if (!process.WaitForExit(TimeSpan.FromSeconds(2))) process.Kill();
        }
        catch (Exception problem) when (problem is IOException or InvalidOperationException)
        {
            // It has ended by itself.
        }
        process.Dispose();
    }

    private sealed record Greeting(string? Address, bool InUse);
}

/// <summary>What a page asks for.</summary>
/// <param name="Open">A file to open in the editor.</param>
/// <param name="Line">Where in it.</param>
/// <param name="Column">Where in the line.</param>
/// <param name="Again">Whether all steps are to run again.</param>
internal sealed record PageQuestion(string? Open, int Line, int Column, bool Again);
