using System.Collections.Concurrent;
using System.Net;
using System.Text;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>What the service tells a collector of OpenTelemetry, played by a small listener.</summary>
public sealed class TelemetryTests
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Readings_answers_and_jobs_are_told_where_the_standard_variable_says_and_no_words_of_the_question()
    {
        var address = $"http://127.0.0.1:{ServiceProcess.FreePort()}";
        using var collector = new HttpListener();
        collector.Prefixes.Add($"{address}/");
        collector.Start();
        var told = new ConcurrentQueue<string>();
        _ = Task.Run(
            async () =>
            {
                while (await collector.GetContextAsync() is var call)
                {
                    using var body = new MemoryStream();
                    await call.Request.InputStream.CopyToAsync(body, Cancel);
                    told.Enqueue($"{call.Request.RawUrl} {Encoding.Latin1.GetString(body.ToArray())}");
                    call.Response.Close();
                }
            },
            Cancel
        );
        var data = Directory.CreateTempSubdirectory("bearing-telemetry-").FullName;
        var variables = new Dictionary<string, string>
        {
            ["OTEL_EXPORTER_OTLP_ENDPOINT"] = address,
            ["OTEL_EXPORTER_OTLP_PROTOCOL"] = "http/protobuf",
            ["OTEL_BSP_SCHEDULE_DELAY"] = "50",
            ["OTEL_METRIC_EXPORT_INTERVAL"] = "200",
        };
        await using (var service = await ServiceProcess.Start(data, false, [], variables))
        {
            var book = await DemoService.NewBook(service.Client, "told", "ledger-2026-h1.csv");
            await service.Client.Ask(book, new AskRequest("marine fuel in June 2026"), Cancel);
            string[] expected = ["bearing.read", "bearing.answer", "bearing.job", "bearing.readings", "bearing.rows"];
            await service.Until(() => Task.FromResult(expected.All(e => told.Any(t => t.Contains(e, StringComparison.Ordinal)))));
        }
        Assert.Contains(told, t => t.StartsWith("/v1/traces", StringComparison.Ordinal));
        Assert.DoesNotContain(told, t => t.Contains("marine fuel", StringComparison.OrdinalIgnoreCase));
        Directory.Delete(data, true);
    }
}
