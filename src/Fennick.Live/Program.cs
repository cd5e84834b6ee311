using System.Globalization;
using System.Net;
using System.Text.Json;
using Fennick.Live;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Connections;
using Microsoft.AspNetCore.Hosting;
using Microsoft.Extensions.Logging;

// It is started by the command, and does nothing by itself: a port and a token in, the events to show line by line, and what the page asks for out.
if (args is not [var wanted, var token] || !ushort.TryParse(wanted, CultureInfo.InvariantCulture, out var port)) return 2;
var builder = WebApplication.CreateSlimBuilder();
builder.Logging.ClearProviders();
builder.WebHost.ConfigureKestrel(server =>
{
    server.AddServerHeader = false;
    server.Listen(IPAddress.Loopback, port);
});
var app = builder.Build();
using var end = new CancellationTokenSource();
var page = new LivePage(token, line => Console.Out.WriteLine(line), end.Token);
app.Run(page.Answer);
try
{
    await app.StartAsync();
}
catch (IOException problem) when (problem.InnerException is AddressInUseException)
{
    Console.Out.WriteLine(JsonSerializer.Serialize(new { inUse = true }));
    return 1;
}
page.Address = new Uri(app.Urls.First());
Console.Out.WriteLine(JsonSerializer.Serialize(new { address = $"{page.Address}{token}/" }));
while (await Console.In.ReadLineAsync() is { } line) page.Show(line);
await end.CancelAsync();
await app.StopAsync();
return 0;
