using Deque.AxeCore.Commons;
using Deque.AxeCore.Playwright;
using Microsoft.Playwright;
using Xunit;
using static Microsoft.Playwright.Assertions;

namespace Bearing.EndToEnd.Tests;

/// <summary>Headless Chromium before the console of the demo service: one for all tests, each of which opens pages of its
/// own.</summary>
public abstract class InBrowser(DemoService demo) : IAsyncLifetime
{
    private IBrowser? _browser;

    protected DemoService Demo => demo;

    protected IBrowser Browser => _browser!;

    public async ValueTask InitializeAsync()
    {
        // Two cores serve the service, the browser and other tests at once: waiting longer fails no right page.
        SetDefaultExpectTimeout(60_000);
        _browser = await demo.Browser();
    }

    /// <summary>The pages go with the tests.</summary>
    public async ValueTask DisposeAsync()
    {
        GC.SuppressFinalize(this);
        foreach (var page in _pages)
            await page.Context.CloseAsync();
    }

    private readonly List<IPage> _pages = [];

    protected async Task<IPage> NewPage(BrowserNewPageOptions? options = null)
    {
        var page = await Browser.NewPageAsync(options);
        _pages.Add(page);
        return page;
    }

    protected async Task<IPage> Open(string path = "tarrow/ask", ColorScheme scheme = ColorScheme.Light, int width = 1280)
    {
        var page = await NewPage(
            new()
            {
                ViewportSize = new() { Width = width, Height = 800 },
                ColorScheme = scheme,
                ReducedMotion = ReducedMotion.Reduce,
            }
        );
        await page.GotoAsync(demo.Service.Address + path);
        await Expect(page.GetByRole(AriaRole.Navigation, new() { Name = "Pages" })).ToBeVisibleAsync();
        return page;
    }

    protected static ILocator Trail(IPage page) =>
        page.GetByRole(AriaRole.Complementary, new() { Name = "Trail" }).GetByRole(AriaRole.Listitem);

    protected static async Task Ask(IPage page, string text)
    {
        await page.GetByLabel("Your question").FillAsync(text);
        await page.GetByRole(AriaRole.Button, new() { Name = "Ask", Exact = true }).ClickAsync();
    }

    protected static async Task<IPage> Asked(IPage page, string text, string headline)
    {
        // The next question follows this answer, whose headline may read like the one before it.
        var steps = Trail(page);
        var before = await steps.CountAsync();
        await Ask(page, text);
        await Expect(steps).ToHaveCountAsync(before + 1);
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 })).ToContainTextAsync(headline);
        return page;
    }

    protected static async Task HasNoViolations(IPage page, AxeRunOptions? options = null)
    {
        var result = await page.RunAxe(options);
        Assert.True(
            result.Violations.Length == 0,
            string.Join(
                '\n',
                result.Violations.Select(v => $"{v.Id}: {v.Help}: {string.Join(" | ", v.Nodes.Take(3).Select(n => n.Html))}")
            )
        );
    }
}
