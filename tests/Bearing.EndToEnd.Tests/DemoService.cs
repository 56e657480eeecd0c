using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using Bearing.Contracts;
using Bearing.EndToEnd.Tests;
using Microsoft.Playwright;
using Xunit;

[assembly: AssemblyFixture(typeof(DemoService))]

namespace Bearing.EndToEnd.Tests;

/// <summary>A service process as users start it, on a folder of its own.</summary>
internal sealed class ServiceProcess : IAsyncDisposable
{
    private readonly Process _process;
    private readonly List<string> _log = [];

    private ServiceProcess(Process process, Uri address, string data)
    {
        (_process, Address, Data) = (process, address, data);
        Http = new HttpClient { BaseAddress = address, Timeout = TimeSpan.FromMinutes(2) };
        Client = new BearingClient(Http);
    }

    public Uri Address { get; }
    public string Data { get; }
    public HttpClient Http { get; }
    public BearingClient Client { get; }
    public string Log => string.Join('\n', _log);

    public static Task<ServiceProcess> Start(string data, bool demo = false, params string[] allow) =>
        Start(data, demo, allow, null);

    /// <param name="variables">Of the environment, beside those that the tests have.</param>
    public static async Task<ServiceProcess> Start(string data, bool demo, string[] allow, Dictionary<string, string>? variables)
    {
        var address = new Uri($"http://127.0.0.1:{FreePort()}/");
        var start = new ProcessStartInfo(Path.Combine(Repository.Root, "bin", "bearing-service"))
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        foreach (
            var argument in new[] { "--data", data, "--urls", address.ToString().TrimEnd('/') }
                // Every class of tests has books of its own, and all of them run beside each other.
                .Concat(["--open", "100"])
                .Concat(demo ? ["--demo"] : [])
                .Concat(allow.SelectMany(a => new[] { "--allow", a }))
        )
            start.ArgumentList.Add(argument);
        foreach (var (name, value) in variables ?? [])
            start.Environment[name] = value;
        var service = new ServiceProcess(Process.Start(start)!, address, data);
        service._process.OutputDataReceived += (_, e) => service.Keep(e.Data);
        service._process.ErrorDataReceived += (_, e) => service.Keep(e.Data);
        service._process.BeginOutputReadLine();
        service._process.BeginErrorReadLine();
        await service.Until(async () => (await service.Client.Health(default)).Status is "ok" or "degraded");
        if (demo)
            await service.Until(() =>
                Task.FromResult(service.Log.Contains("ready with the demo book", StringComparison.Ordinal))
            );
        return service;
    }

    /// <summary>SIGKILL: nothing of the service gets to run any more.</summary>
    public void Kill()
    {
        _process.Kill();
        _process.WaitForExit();
    }

    /// <summary>SIGTERM, as a service manager sends it. Gives the exit code.</summary>
    public async Task<int> Stop()
    {
        using var kill = Process.Start(
            "kill",
            ["-TERM", _process.Id.ToString(System.Globalization.CultureInfo.InvariantCulture)]
        );
        await _process.WaitForExitAsync().WaitAsync(TimeSpan.FromSeconds(40));
        return _process.ExitCode;
    }

    public async Task Until(Func<Task<bool>> holds)
    {
        for (var i = 0; i < 600; i++)
        {
            if (_process.HasExited)
                throw new InvalidOperationException($"The service ended:\n{Log}");
            try
            {
                if (await holds())
                    return;
            }
            catch (Exception e) when (e is HttpRequestException or BearingProblemException)
            {
                // Not there yet.
            }
            await Task.Delay(150);
        }
        throw new TimeoutException($"Waited in vain:\n{Log}");
    }

    public async ValueTask DisposeAsync()
    {
        if (!_process.HasExited)
            await Stop();
        Http.Dispose();
        _process.Dispose();
    }

    private void Keep(string? line)
    {
        if (line is null)
            return;
        lock (_log)
            _log.Add(line);
    }

    /// <summary>A port that nobody listens on, and that no other test was given: between its choice and its use it is free for a
    /// second one.</summary>
    public static int FreePort()
    {
        while (true)
        {
            using var listener = new TcpListener(IPAddress.Loopback, 0);
            listener.Start();
            var port = ((IPEndPoint)listener.LocalEndpoint).Port;
            if (GivenPorts.TryAdd(port, true))
                return port;
        }
    }

    private static readonly System.Collections.Concurrent.ConcurrentDictionary<int, bool> GivenPorts = new();
}

/// <summary>The simulated ledger system as it ships, on a port of its own.</summary>
internal sealed class LedgerSystem : IAsyncDisposable
{
    private readonly Process _process;

    private LedgerSystem(Process process, string address) => (_process, Address) = (process, address);

    public string Address { get; }

    public static async Task<LedgerSystem> Start(params string[] options)
    {
        var urls = $"http://127.0.0.1:{ServiceProcess.FreePort()}";
        var start = new ProcessStartInfo(Path.Combine(Repository.Root, "bin", "bearing-demo-ledger"))
        {
            RedirectStandardOutput = true,
        };
        foreach (var argument in new[] { "--urls", urls }.Concat(options))
            start.ArgumentList.Add(argument);
        var system = new LedgerSystem(Process.Start(start)!, urls + "/feed/");
        using var http = new HttpClient();
        for (var i = 0; i < 200; i++)
        {
            try
            {
                using var answer = await http.GetAsync(new Uri(system.Address));
                return system;
            }
            catch (HttpRequestException)
            {
                await Task.Delay(100);
            }
        }
        throw new TimeoutException("The simulated ledger system does not answer.");
    }

    public async ValueTask DisposeAsync()
    {
        _process.Kill();
        await _process.WaitForExitAsync();
        _process.Dispose();
    }
}

/// <summary>One service with the demo book for all tests; whoever changes something does it in a book of its own.</summary>
public sealed class DemoService : IAsyncLifetime
{
    public const string Book = "tarrow";
    private readonly string _data = Directory.CreateTempSubdirectory("bearing-e2e-").FullName;
    private ServiceProcess? _service;

    private readonly Lazy<Task<(IPlaywright Playwright, IBrowser Browser)>> _chromium = new(async () =>
    {
        var playwright = await Playwright.CreateAsync();
        return (
            playwright,
            await playwright.Chromium.LaunchAsync(
                new()
                {
                    ExecutablePath = Environment.GetEnvironmentVariable("CHROMIUM") ?? Chromiums.First(File.Exists),
                    Args =
                    [
                        "--no-sandbox",
                        "--disable-gpu",
                        "--disable-quic",
                        "--no-first-run",
                        "--disable-background-networking",
                        "--disable-component-update",
                        "--disable-sync",
                    ],
                }
            )
        );
    });

    /// <summary>The one without windows first: it takes a third of the work for a page.</summary>
    private static readonly string[] Chromiums = ["/usr/bin/chromium-headless-shell", "/usr/bin/chromium"];

    internal ServiceProcess Service => _service!;

    /// <summary>Started when the first test wants it.</summary>
    internal async Task<IBrowser> Browser() => (await _chromium.Value).Browser;

    public BearingClient Client => Service.Client;

    public async ValueTask InitializeAsync()
    {
        _service = await ServiceProcess.Start(_data, demo: true);
        // Without the simulated ledger system the invoices come from their file.
        var mapping = System.Text.Json.JsonSerializer.Deserialize<MappingFile>(
            await File.ReadAllTextAsync(Repository.Demo("open-items.mapping.json")),
            System.Text.Json.JsonSerializerOptions.Web
        );
        await using var content = File.OpenRead(Repository.Demo("open-items.csv"));
        var upload = await Client.Upload(Book, "open-items.csv", content, default);
        var job = await Client.Load(Book, new LoadRequest(upload.Id, Given: mapping), "open-items", default);
        await foreach (var state in Client.Follow(Book, job.Id, default))
            job = state;
        if (job.State != "done")
            throw new InvalidOperationException(job.Problem?.Detail);
    }

    public async ValueTask DisposeAsync()
    {
        if (_chromium.IsValueCreated)
        {
            var (playwright, browser) = await _chromium.Value;
            await browser.DisposeAsync();
            playwright.Dispose();
        }
        if (_service is not null)
            await _service.DisposeAsync();
        Directory.Delete(_data, true);
    }

    public Task<AnswerSet> Ask(string text, QuestionDto? previous = null) =>
        Client.Ask(Book, new AskRequest(text, previous), TestContext.Current.CancellationToken);

    /// <summary>A fresh book with the demo's reference data and the first half of 2026.</summary>
    internal static async Task<string> NewBook(BearingClient client, string id, params string[] files)
    {
        var definition = System.Text.Json.JsonSerializer.Deserialize<NewBook>(
            await File.ReadAllTextAsync(Repository.Demo("book.json")),
            System.Text.Json.JsonSerializerOptions.Web
        )!;
        await client.Create(definition with { Id = id, Name = id }, default);
        foreach (var file in new[] { "accounts.csv", "entities.csv" }.Concat(files))
            await Load(client, id, file);
        return id;
    }

    internal static async Task<JobDto> Load(BearingClient client, string book, string file, string mode = "add") =>
        await Load(client, book, file, await File.ReadAllBytesAsync(Repository.Demo(file)), mode);

    internal static async Task<JobDto> Load(BearingClient client, string book, string name, byte[] bytes, string mode = "add")
    {
        using var content = new MemoryStream(bytes);
        var upload = await client.Upload(book, name, content, default);
        var job = await client.Load(book, new LoadRequest(upload.Id, Mode: mode), Guid.NewGuid().ToString(), default);
        await foreach (var state in client.Follow(book, job.Id, default))
            job = state;
        return job;
    }
}
