using System.Diagnostics;
using Fennick.Testing;
using PuppeteerSharp;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>The live page, and the page that is handed out, in a real browser.</summary>
public sealed class LivePageTests : IDisposable
{
    private const string Report = "document.getElementById('report').shadowRoot";
    private const string Start = "```manuscript\ntitle: Hives\n```\n\n```csharp prepare data\nvar weights = new[] { 1.5, 2.5 };\nConsole.WriteLine(\"read\");\n```\n\n# Honey\n\nThe hives gave {weights.Sum():0.0} kg.\n\n# Next year\n\nMore of it.\n";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public async Task A_writer_sees_what_changes_and_where_it_comes_from()
    {
        folder.Write("m.ms.md", Start);
        using var watch = new WatchedReport(folder.Path, "m.ms.md", "--no-document");
        await using var page = await WebBrowser.OpenAsync(watch.Address);
        await using var browser = page.Browser;
        await page.WaitAsync($"{Report}.textContent.includes('gave 4.0 kg')");
        Assert.Equal("Hives", await page.GetTitleAsync());
        Assert.Equal(["Honey", "Next year"], await page.EvaluateExpressionAsync<string[]>("[...document.querySelectorAll('nav a')].map(a => a.textContent)"));

        // A number leads to its expression, value and line.
        await page.EvaluateExpressionAsync($"{Report}.querySelector('.value').click()");
        var panel = await page.EvaluateExpressionAsync<string>("document.getElementById('panel').innerText");
        foreach (var part in new[] { "weights.Sum()", "0.0", "m.ms.md:12:17", "Copy place" }) Assert.Contains(part, panel, StringComparison.Ordinal);
        await page.EvaluateExpressionAsync($"[...{Report}.querySelectorAll('p')].at(-1).click()");
        Assert.Contains("m.ms.md:16", await page.EvaluateExpressionAsync<string>("document.getElementById('panel').innerText"), StringComparison.Ordinal);

        // A sentence is there at once, and marked; what did not change is the same element as before.
        await page.EvaluateExpressionAsync($"window.kept = {Report}.querySelector('h2')");
        var time = Stopwatch.StartNew();
        folder.Write("m.ms.md", Start.Replace("More of it.", "Much more of it.", StringComparison.Ordinal));
        await page.WaitAsync($"{Report}.textContent.includes('Much more of it.')");
        TestContext.Current.TestOutputHelper?.WriteLine($"sentence to page: {time.ElapsedMilliseconds} ms");
        Assert.Equal(["Much more of it."], await page.EvaluateExpressionAsync<string[]>($"[...{Report}.querySelectorAll('.changed')].map(e => e.textContent)"));
        Assert.True(await page.EvaluateExpressionAsync<bool>("window.kept.isConnected"));

        // An error stands where it is, and the report stays; then it is mended.
        folder.Write("m.ms.md", Start.Replace("{weights", "{wieghts", StringComparison.Ordinal));
        await page.WaitAsync($"{Report}.querySelector('.problem')");
        Assert.Equal("1 error; the page shows the report before", await page.EvaluateExpressionAsync<string>("document.getElementById('status').textContent"));
        Assert.Contains("The hives gave {wieghts.Sum():0.0} kg.", await page.EvaluateExpressionAsync<string>($"{Report}.querySelector('.problem .here').textContent"), StringComparison.Ordinal);
        Assert.Equal("The hives gave 4.0 kg.", await page.EvaluateExpressionAsync<string>($"{Report}.querySelector('.problem').previousElementSibling.textContent"));
        folder.Write("m.ms.md", Start.Replace("1.5,", "3.5,", StringComparison.Ordinal));
        await page.WaitAsync($"{Report}.textContent.includes('gave 6.0 kg') && !{Report}.querySelector('.problem')");

        // A page that is loaded anew shows the same; one whose watcher has ended says so.
        await page.ReloadAsync();
        await page.WaitAsync($"{Report}.textContent.includes('gave 6.0 kg')");
        watch.End();
        await page.WaitAsync("!document.getElementById('lost').hidden");
    }

    [Fact]
    public async Task Everything_is_reached_by_keyboard_and_named_for_those_who_listen()
    {
        folder.Write("m.ms.md", Start);
        using var watch = new WatchedReport(folder.Path, "m.ms.md", "--no-document");
        await using var page = await WebBrowser.OpenAsync(watch.Address);
        await using var browser = page.Browser;
        await page.WaitAsync($"{Report}.textContent.includes('gave 4.0 kg')");
        await page.Keyboard.PressAsync("v");
        Assert.Equal("4.0", await page.EvaluateExpressionAsync<string>($"{Report}.activeElement.textContent"));
        await page.Keyboard.PressAsync("Enter");
        Assert.False(await page.EvaluateExpressionAsync<bool>("document.getElementById('panel').hidden"));
        await page.Keyboard.PressAsync("Escape");
        Assert.True(await page.EvaluateExpressionAsync<bool>("document.getElementById('panel').hidden"));
        await page.Keyboard.PressAsync("s");
        await page.WaitAsync("document.getElementById('panel').innerText.includes('data prepare')");
        Assert.Empty(await page.AccessibilityFaultsAsync());
        await page.Keyboard.PressAsync("s");
        await page.Keyboard.PressAsync("p");
        Assert.Equal("false", await page.EvaluateExpressionAsync<string>("document.getElementById('show-pages').getAttribute('aria-pressed')"));
        folder.Write("m.ms.md", Start.Replace("{weights", "{wieghts", StringComparison.Ordinal));
        await page.WaitAsync($"{Report}.querySelector('.problem')");
        await page.Keyboard.PressAsync("e");
        Assert.StartsWith("error: the name", await page.EvaluateExpressionAsync<string>($"{Report}.activeElement.textContent"), StringComparison.Ordinal);
        Assert.Empty(await page.AccessibilityFaultsAsync());
        await page.SetViewportAsync(new ViewPortOptions { Width = 400, Height = 800 });
        Assert.True(await page.EvaluateExpressionAsync<bool>("document.documentElement.scrollWidth <= 400"));
    }

    [Fact]
    public async Task Pages_begin_where_the_document_begins_them()
    {
        var text = string.Join("\n\n", Enumerable.Range(1, 60).Select(i => $"Paragraph {i} says something about the hives that takes a little more than one line of the page, and then it says something else about them, so that pages are filled {{1 + {i}}}."));
        folder.Write("m.ms.md", $"# All\n\n{text}\n");
        using var watch = new WatchedReport(folder.Path, "m.ms.md");
        watch.Wait("document", _ => true);
        await using var page = await WebBrowser.OpenAsync(watch.Address);
        await using var browser = page.Browser;
        await page.WaitAsync($"{Report}.textContent.includes('Paragraph 60')");
        var edges = await page.EvaluateExpressionAsync<string[]>($"[...{Report}.querySelectorAll('.page-edge')].map(e => {{ const r = document.createRange(); r.setStartAfter(e); r.setEnd({Report}.querySelector('.sheet'), {Report}.querySelector('.sheet').childNodes.length); return e.dataset.page + ' ' + r.toString().trim().slice(0, 24); }})");
        var pdf = WordProcessor.Convert(folder.File("m.docx"), "pdf");
        var pages = Command.Run("pdftotext", ["-layout", pdf, "-"]).Output.Split('\f').Where(p => p.Trim().Length > 0).ToArray();
        Assert.Equal(pages.Length - 1, edges.Length);
        for (var i = 0; i < edges.Length; i++)
        {
            var words = string.Join(' ', pages[i + 1].Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
            Assert.StartsWith($"{i + 2} {words[..15]}", edges[i], StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task A_page_that_is_handed_out_needs_nothing_else_and_prints_as_it_reads()
    {
        folder.Write("m.ms.md", Start + "\n```csharp table weights\ncaption: Weights\n=>\nTable.Of(weights.Select(w => new { Weight = w })).Column(\"Weight (kg)\", r => r.Weight)\n```\n\n```csharp figure drawn\ncaption: The same\n=>\nChart.Columns(weights.Select((w, i) => (Name: $\"Hive {i}\", Weight: w)), w => w.Name, w => w.Weight)\n```\n");
        var written = FennickCommand.Run(folder.Path, "write", "m.ms.md", "--also", "page");
        Assert.True(written.ExitCode == 0, written.Errors);
        await using var page = await WebBrowser.OpenAsync(new Uri($"file://{folder.File("m.html")}"));
        await using var browser = page.Browser;
        Assert.Equal(0, await page.EvaluateExpressionAsync<int>("performance.getEntriesByType('resource').length"));
        Assert.Empty(await page.AccessibilityFaultsAsync());
        await page.EmulateMediaFeaturesAsync([new MediaFeatureValue { MediaFeature = MediaFeature.PrefersColorScheme, Value = "dark" }]);
        Assert.Empty(await page.AccessibilityFaultsAsync());
        await page.SetViewportAsync(new ViewPortOptions { Width = 400, Height = 800 });
        Assert.True(await page.EvaluateExpressionAsync<bool>("document.documentElement.scrollWidth <= 400"));
        await page.PdfAsync(folder.File("m.pdf"));
        Assert.Contains("The hives gave 4.0 kg.", Command.Run("pdftotext", [folder.File("m.pdf"), "-"]).Output, StringComparison.Ordinal);
    }
}
