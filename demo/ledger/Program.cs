using System.CommandLine;
using Bearing.DemoLedger;
using Microsoft.AspNetCore.OData;
using Microsoft.AspNetCore.OData.Query;
using Microsoft.AspNetCore.OData.Routing.Controllers;
using Microsoft.OData.ModelBuilder;

// A simulated ledger system: the demo company's journals and open items as an OData v4 feed, for the demo and for tests.
var urls = new Option<string>("--urls")
{
    Description = "Address to listen on",
    DefaultValueFactory = _ => "http://127.0.0.1:5190",
};
var key = new Option<string?>("--key") { Description = "Bearer token that callers have to send; open to all when left out" };
var breakEvery = new Option<int>("--break-every")
{
    Description = "Break every n-th answer off in the middle, to try what a lost connection does",
};
var command = new RootCommand(
    "A simulated ledger system of the demo company: an OData v4 feed at /feed/ with accounts, journal headings, journal lines and open items."
)
{
    urls,
    key,
    breakEvery,
};
command.SetAction((parsed, cancel) => Serve(parsed.GetValue(urls)!, parsed.GetValue(key), parsed.GetValue(breakEvery), cancel));
return await command.Parse(args).InvokeAsync();

static async Task Serve(string urls, string? key, int breakEvery, CancellationToken cancel)
{
    var builder = WebApplication.CreateBuilder(new WebApplicationOptions { ContentRootPath = AppContext.BaseDirectory });
    builder.WebHost.UseUrls(urls);
    builder.Logging.SetMinimumLevel(LogLevel.Warning);
    var model = new ODataConventionModelBuilder();
    model.EntitySet<Account>("Accounts");
    model.EntitySet<JournalHeading>("JournalHeadings");
    model.EntitySet<JournalLine>("JournalLines");
    model.EntitySet<OpenItem>("OpenItems");
    builder.Services.AddSingleton(new Books(Path.Combine(AppContext.BaseDirectory, "data")));
    builder
        .Services.AddControllers()
        .AddOData(o =>
            o.AddRouteComponents("feed", model.GetEdmModel()).Select().Filter().OrderBy().Count().SkipToken().SetMaxTop(5_000)
        );
    await using var app = builder.Build();
    var answers = 0;
    app.Use(
        async (context, next) =>
        {
            if (key is not null && context.Request.Headers.Authorization != $"Bearer {key}")
                context.Response.StatusCode = StatusCodes.Status401Unauthorized;
            else if (breakEvery > 0 && Interlocked.Increment(ref answers) % breakEvery == 0)
                context.Abort();
            else
                await next();
        }
    );
    app.MapControllers();
    await app.RunAsync(cancel);
}

namespace Bearing.DemoLedger
{
    /// <summary>Pages are the server's own: a feed cannot be emptied in one call.</summary>
    public sealed class AccountsController(Books books) : ODataController
    {
        [EnableQuery(PageSize = 500)]
        public IQueryable<Account> Get() => books.Accounts.AsQueryable();
    }

    public sealed class JournalHeadingsController(Books books) : ODataController
    {
        [EnableQuery(PageSize = 1_000)]
        public IQueryable<JournalHeading> Get() => books.Headings.AsQueryable();
    }

    public sealed class JournalLinesController(Books books) : ODataController
    {
        [EnableQuery(PageSize = 1_000)]
        public IQueryable<JournalLine> Get() => books.Lines.AsQueryable();
    }

    public sealed class OpenItemsController(Books books) : ODataController
    {
        [EnableQuery(PageSize = 200)]
        public IQueryable<OpenItem> Get() => books.OpenItems.AsQueryable();
    }
}
