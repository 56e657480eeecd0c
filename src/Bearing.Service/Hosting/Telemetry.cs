using System.Diagnostics;
using System.Diagnostics.Metrics;
using OpenTelemetry.Metrics;
using OpenTelemetry.Resources;
using OpenTelemetry.Trace;

namespace Bearing.Service.Hosting;

/// <summary>What the service tells of its own work by OpenTelemetry: a span for each reading, answer and job, and counts of them.
/// It is sent to where the standard variable OTEL_EXPORTER_OTLP_ENDPOINT says, and nowhere without it. Spans name books, never
/// what was asked or answered.</summary>
internal static class Telemetry
{
    private const string Name = "Bearing";
    private static readonly ActivitySource Source = new(Name);
    private static readonly Meter Meter = new(Name);

    private static readonly Counter<long> Readings = Meter.CreateCounter<long>(
        "bearing.readings",
        "{reading}",
        "Texts that were read, by outcome."
    );
    private static readonly Counter<long> Rows = Meter.CreateCounter<long>(
        "bearing.rows",
        "{row}",
        "Rows that ended jobs went through, by state."
    );

    /// <summary>Null, at no cost, where nobody listens.</summary>
    public static Activity? Span(string what, string book) => Source.StartActivity(what)?.SetTag("bearing.book", book);

    public static void CountReading(string outcome) => Readings.Add(1, new KeyValuePair<string, object?>("outcome", outcome));

    public static void CountRows(long rows, string state) => Rows.Add(rows, new KeyValuePair<string, object?>("state", state));

    public static void AddTelemetry(this IServiceCollection services)
    {
        if (string.IsNullOrEmpty(Environment.GetEnvironmentVariable("OTEL_EXPORTER_OTLP_ENDPOINT")))
            return;
        services
            .AddOpenTelemetry()
            .ConfigureResource(r => r.AddService("bearing"))
            .WithTracing(t => t.AddSource(Name).AddAspNetCoreInstrumentation().AddOtlpExporter())
            .WithMetrics(m => m.AddMeter(Name).AddAspNetCoreInstrumentation().AddOtlpExporter());
    }
}
