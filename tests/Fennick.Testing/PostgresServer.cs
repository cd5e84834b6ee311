using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using Xunit;

namespace Fennick.Testing;

/// <summary>A PostgreSQL server of the test's own, from Debian's packages, that listens on loopback alone and ends with the test.</summary>
public sealed class PostgresServer : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("fennick-postgres-").FullName;
    private readonly string bin;
    private readonly Process server;

    private PostgresServer(string bin)
    {
        this.bin = bin;
        using (var listener = new TcpListener(IPAddress.Loopback, 0))
        {
            listener.Start();
            Port = ((IPEndPoint)listener.LocalEndpoint).Port;
        }
        // The server does not run as root.
        if (IsRoot) Command.Run("chown", ["postgres", folder]);
        Run("initdb", "-D", Data, "-U", "tester", "--auth=trust", "-E", "UTF8", "--no-sync");
        server = Process.Start(Info("postgres", "-D", Data, "-h", "127.0.0.1", "-p", $"{Port}", "-k", folder, "-c", "fsync=off"))!;
        for (var wait = 0; Command.Run(Path.Combine(bin, "pg_isready"), ["-h", "127.0.0.1", "-p", $"{Port}"]).ExitCode != 0; wait++)
        {
            Assert.True(wait < 300 && !server.HasExited, "the PostgreSQL server did not start");
            Thread.Sleep(100);
        }
    }

    public int Port { get; }

    /// <summary>What a connection to it is made by.</summary>
    public string Connection => $"Host=127.0.0.1;Port={Port};Database=postgres;Username=tester";

    private string Data => Path.Combine(folder, "data");

    private static bool IsRoot => Environment.UserName == "root";

    /// <summary>Starts a server; skips the test, loudly, where the packages are missing.</summary>
    public static PostgresServer Start()
    {
        var bin = Directory.Exists("/usr/lib/postgresql") ? Directory.GetDirectories("/usr/lib/postgresql").Select(d => Path.Combine(d, "bin")).LastOrDefault(d => File.Exists(Path.Combine(d, "postgres"))) : null;
        if (bin is not null) return new PostgresServer(bin);
        Console.Error.WriteLine("SKIPPED: PostgreSQL (postgresql) is not installed, so no server has been asked.");
        Assert.Skip("postgresql is not installed");
        throw new UnreachableException();
    }

    /// <summary>Ends it at once, as if its machine had failed.</summary>
    public void Kill() => Run("pg_ctl", "stop", "-D", Data, "-m", "immediate");

    public void Dispose()
    {
        // It may have been ended by the test, and be about to go.
        var info = Info("pg_ctl", "stop", "-D", Data, "-m", "immediate");
        if (!server.WaitForExit(500)) Command.Run(info.FileName, [.. info.ArgumentList]);
        if (!server.WaitForExit(10_000)) server.Kill(entireProcessTree: true);
        server.WaitForExit();
        server.Dispose();
        Directory.Delete(folder, recursive: true);
    }

    private void Run(string program, params string[] arguments)
    {
        var info = Info(program, arguments);
        var result = Command.Run(info.FileName, [.. info.ArgumentList]);
        Assert.True(result.ExitCode == 0, result.Output + result.Errors);
    }

    private ProcessStartInfo Info(string program, params string[] arguments)
    {
        string[] all = IsRoot ? ["runuser", "-u", "postgres", "--", Path.Combine(bin, program), .. arguments] : [Path.Combine(bin, program), .. arguments];
        var info = new ProcessStartInfo(all[0]) { RedirectStandardOutput = true, RedirectStandardError = true, WorkingDirectory = "/tmp" };
        foreach (var argument in all[1..]) info.ArgumentList.Add(argument);
        return info;
    }
}
