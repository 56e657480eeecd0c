using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using Bearing.Contracts;
using Bearing.Core.Store;
using Bearing.Data.Books;
using Bearing.Data.Facts.Duck;
using Bearing.Data.State;
using Bearing.Service.Asking;
using Bearing.Service.Books;
using Bearing.Service.Demo;
using Bearing.Service.Loading;
using Bearing.Service.Naming;
using Bearing.Service.Periods;
using Bearing.Service.Sources;
using Bearing.Service.Tables;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.ResponseCompression;
using Microsoft.EntityFrameworkCore;
using Serilog;

namespace Bearing.Service.Hosting;

/// <param name="DataFolder">Absolute.</param>
/// <param name="Demo">Load the demo company on start.</param>
/// <param name="Allowed">Addresses of sources that may be reached; everything below them too.</param>
/// <param name="MostOpen">How many books may be open at once.</param>
public sealed record ServiceSettings(string DataFolder, string Urls, bool Demo, IReadOnlyList<Uri> Allowed, int MostOpen);

/// <summary>Builds and runs the service on one data folder.</summary>
public static class ServiceHost
{
    /// <summary>Exit code: 0 after a clean stop, 1 when it could not start.</summary>
    public static async Task<int> Run(ServiceSettings settings, CancellationToken cancel)
    {
        Directory.CreateDirectory(settings.DataFolder);
        using var folderLock = FolderLock.TryTake(settings.DataFolder);
        if (folderLock is null)
        {
            await Console.Error.WriteLineAsync(
                $"Another Bearing service is using {settings.DataFolder}. Stop it, or give another folder with --data."
            );
            return 1;
        }
        await using var app = Build(settings);
        await PrepareState(app);
        await app.Services.GetRequiredService<BookChanges>().CheckAll();
        if (settings.Demo)
            app.Services.GetRequiredService<Readiness>().Await(DemoLoader.Waited);
        try
        {
            await app.RunAsync(cancel);
            return 0;
        }
        catch (IOException e) when (e.InnerException is Microsoft.AspNetCore.Connections.AddressInUseException)
        {
            await Console.Error.WriteLineAsync($"The address {settings.Urls} is in use. Give another one with --urls.");
            return 1;
        }
    }

    private static WebApplication Build(ServiceSettings settings)
    {
        var builder = WebApplication.CreateSlimBuilder(
            new WebApplicationOptions
            {
                ContentRootPath = AppContext.BaseDirectory,
                WebRootPath = Path.Combine(AppContext.BaseDirectory, "wwwroot"),
            }
        );
        builder.WebHost.UseUrls(settings.Urls);
        builder.WebHost.UseKestrelHttpsConfiguration();
        builder.Services.AddSerilog(log =>
            log.MinimumLevel.Information()
                .MinimumLevel.Override("Microsoft", Serilog.Events.LogEventLevel.Warning)
                .WriteTo.Console(
                    formatProvider: CultureInfo.InvariantCulture,
                    outputTemplate: "{Timestamp:HH:mm:ss} {Level:u3} {Message:lj}{NewLine}{Exception}"
                )
        );
        builder.Services.AddTelemetry();
        AddBooks(builder.Services, settings);
        AddInterface(builder.Services);
        var app = builder.Build();
        Use(app);
        Map(app);
        app.Lifetime.ApplicationStarted.Register(() => Log.ForContext<BookShelf>().Information("started"));
        return app;
    }

    /// <summary>Books, what is kept beside them, and what works on them in the background.</summary>
    private static void AddBooks(IServiceCollection services, ServiceSettings settings)
    {
        services.AddSingleton(settings);
        services.AddSingleton(TimeProvider.System);
        services.AddSingleton<IBookEngine, DuckEngine>();
        services.AddSingleton(s => new BookShelf(
            settings.DataFolder,
            s.GetRequiredService<IBookEngine>(),
            s.GetRequiredService<TimeProvider>(),
            settings.MostOpen
        ));
        services.AddDbContextFactory<StateDb>(o => o.UseSqlite($"Data Source={Path.Combine(settings.DataFolder, "state.db")}"));
        // The keys that protect secrets lie beside the data, readable by the service's own user only.
        var keys = Directory.CreateDirectory(Path.Combine(settings.DataFolder, "keys"));
        if (!OperatingSystem.IsWindows())
            File.SetUnixFileMode(keys.FullName, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
        services.AddDataProtection().SetApplicationName("Bearing").PersistKeysToFileSystem(keys);
        services.AddSingleton<BookChanges>();
        services.AddSingleton<LeftoverSweep>();
        services.AddSingleton<SourceKeeper>();
        services.AddHostedService<Housekeeping>();
        services.AddSingleton<LoadJobs>();
        services.AddHostedService(s => s.GetRequiredService<LoadJobs>());
        if (settings.Demo)
            services.AddHostedService<DemoLoader>();
        services.AddSingleton<Readiness>();
        services.AddMemoryCache();
        services.AddTransient<News>();
    }

    /// <summary>How requests and answers are formed.</summary>
    private static void AddInterface(IServiceCollection services)
    {
        // Nobody signs in yet: requests come from this machine.
        services.AddScoped(_ => Asker.Local);
        services.ConfigureHttpJsonOptions(o =>
        {
            o.SerializerOptions.NumberHandling = JsonNumberHandling.Strict;
            o.SerializerOptions.PropertyNamingPolicy = JsonNamingPolicy.CamelCase;
            o.SerializerOptions.UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow;
            o.SerializerOptions.AllowOutOfOrderMetadataProperties = true;
            // What the shapes do not let be null is refused at the door, in lists too.
            o.SerializerOptions.RespectNullableAnnotations = true;
            o.SerializerOptions.TypeInfoResolver = (
                o.SerializerOptions.TypeInfoResolver ?? new DefaultJsonTypeInfoResolver()
            ).WithAddedModifier(NullsInLists.Refuse);
        });
        services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = true);
        services.AddProblemDetails();
        services.AddResponseCompression(o =>
            o.MimeTypes = [.. ResponseCompressionDefaults.MimeTypes, "application/problem+json", "text/csv", "image/svg+xml"]
        );
        services.AddExceptionHandler<Problems>();
        services.AddOpenApi("v1", ApiDescription.Describe);
    }

    private static void Use(WebApplication app)
    {
        app.UseExceptionHandler();
        app.UseStatusCodePages();
        app.UseResponseCompression();
        app.UseMiddleware<OwnOriginOnly>();
        app.UseMiddleware<FormOneJson>();
        app.UseRouting();
        app.UseMiddleware<BookInUse>();
        app.UseDefaultFiles();
        app.UseStaticFiles();
    }

    private static void Map(WebApplication app)
    {
        app.MapOpenApi();
        app.MapProblemPages();
        app.MapBooks();
        app.MapLoading();
        app.MapMappings();
        app.MapSelections();
        app.MapSources();
        app.MapTables();
        app.MapPeriods();
        app.MapAsking();
        app.MapTrails();
        app.MapSavedQuestions();
        app.MapWords();
        // An address of the interface that is none is told as such, not answered with the console.
        app.Map("/api/{**rest}", IResult (string rest) =>
                throw new ProblemException(
                    ProblemKinds.NoSuchAddress,
                    $"There is no “/api/{rest}”.",
                    "The addresses of the interface are described in /openapi/v1.json."
                )
            )
            .ExcludeFromDescription();
        app.MapFallbackToFile("index.html");
    }

    /// <summary>A row left by a killed process in the migration lock would block this start for ever; the folder lock proves that
    /// nobody holds it.</summary>
    private static async Task PrepareState(WebApplication app)
    {
        await using var db = await app.Services.GetRequiredService<IDbContextFactory<StateDb>>().CreateDbContextAsync();
        await db.Database.OpenConnectionAsync();
        await db.Database.ExecuteSqlRawAsync("PRAGMA journal_mode=WAL; DROP TABLE IF EXISTS __EFMigrationsLock;");
        await db.Database.MigrateAsync();
    }
}

/// <summary>A list of the interface has no empty places, and no name in it stands for nothing.</summary>
internal static class NullsInLists
{
    public static void Refuse(JsonTypeInfo type)
    {
        if (type.Kind != JsonTypeInfoKind.Object || type.Type.Namespace != typeof(AskRequest).Namespace)
            return;
        var lists = type
            .Properties.Where(p =>
                p.Get is not null
                && p.PropertyType != typeof(string)
                && p.PropertyType.IsAssignableTo(typeof(System.Collections.IEnumerable))
            )
            .Select(p => (p.Name, Get: p.Get!))
            .ToList();
        if (lists.Count == 0)
            return;
        type.OnDeserialized = value =>
        {
            foreach (var (name, get) in lists)
                if (
                    get(value) is System.Collections.IEnumerable list
                    && (list as System.Collections.IDictionary)?.Values is var values
                    && (values ?? list).Cast<object?>().Any(IsNothing)
                )
                    throw new JsonException($"“{name}” holds null.");
        };
    }

    private static bool IsNothing(object? item) => item is null or KeyValuePair<string, string> { Value: null };
}

/// <summary>Held while a service owns a data folder; the system lets go of it when the process dies.</summary>
internal static class FolderLock
{
    public static FileStream? TryTake(string folder)
    {
        try
        {
            return new FileStream(
                Path.Combine(folder, "bearing.lock"),
                FileMode.OpenOrCreate,
                FileAccess.ReadWrite,
                FileShare.None
            );
        }
        catch (IOException)
        {
            return null;
        }
    }
}
