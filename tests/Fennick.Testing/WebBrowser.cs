using PuppeteerSharp;
using Xunit;

namespace Fennick.Testing;

/// <summary>The browser from Debian's packages, without a window.</summary>
public static class WebBrowser
{
    private const string Program = "/usr/bin/chromium";

    /// <summary>Opens a page of this size; skips the test, loudly, where the browser is missing.</summary>
    public static async Task<IPage> OpenAsync(Uri address, int width = 1280, int height = 800)
    {
        if (!File.Exists(Program))
        {
            Console.Error.WriteLine("SKIPPED: the browser (chromium) is not installed, so no page was looked at in one.");
            Assert.Skip("chromium is not installed");
        }
        var browser = await Puppeteer.LaunchAsync(new LaunchOptions { ExecutablePath = Program, Headless = true, Args = ["--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage"], DefaultViewport = new ViewPortOptions { Width = width, Height = height } });
        var page = await browser.NewPageAsync();
        await page.GoToAsync(address.ToString(), WaitUntilNavigation.DOMContentLoaded);
        return page;
    }

    /// <summary>Waits until something is so on a page.</summary>
    /// <param name="page">The page.</param>
    /// <param name="condition">An expression of JavaScript.</param>
    public static async Task WaitAsync(this IPage page, string condition)
    {
        for (var i = 0; i < 1200; i++)
        {
            if (await page.EvaluateExpressionAsync<bool>($"!!({condition})")) return;
            await Task.Delay(50);
        }
        throw new TimeoutException($"`{condition}` does not come true: {await page.EvaluateExpressionAsync<string>("document.body.innerText")}");
    }

    /// <summary>What an accessibility check finds wrong, a line for each kind.</summary>
    public static async Task<string[]> AccessibilityFaultsAsync(this IPage page)
    {
        await page.EvaluateExpressionAsync(new Deque.AxeCore.Commons.BundledAxeScriptProvider().GetScript());
        return await page.EvaluateExpressionAsync<string[]>("axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice']}).then(r => r.violations.map(v => `${v.id}: ${v.help} (${v.nodes.length}): ${v.nodes.slice(0, 3).map(n => `${n.html} ${n.failureSummary}`).join(' | ')}`))");
    }
}
