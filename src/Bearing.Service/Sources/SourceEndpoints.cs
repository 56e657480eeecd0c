using Bearing.Contracts;
using Bearing.Core.Store;
using Bearing.Data.Books;
using Bearing.Data.Sources;
using Bearing.Service.Books;
using Bearing.Service.Hosting;
using Bearing.Service.Loading;

namespace Bearing.Service.Sources;

/// <summary>Sources beside files: which there are, what they have, and fetching from them.</summary>
public static class SourceEndpoints
{
    public static void MapSources(this IEndpointRouteBuilder app)
    {
        var book = app.MapGroup("/api/books/{book}/sources").WithTags("Sources");
        book.MapGet("", (string book, [AsParameters] PageOf page, BookShelf shelf, SourceKeeper keeper) =>
                page.Of(keeper.List(shelf.Get(book)), s => s.Name)
            )
            .WithName("ListSources");
        book.MapPut("/{name}", (string book, string name, NewSource source, BookShelf shelf, SourceKeeper keeper) =>
                keeper.Keep(shelf.Get(book), name, source)
            )
            .WithName("KeepSource");
        book.MapDelete("/{name}", (string book, string name, BookShelf shelf) =>
                shelf.Get(book).Sources.Delete(name)
                    ? Results.NoContent()
                    : throw new ProblemException(
                        ProblemKinds.NoSuchSource,
                        $"There is no source “{name}” in this book.",
                        "List the sources for their names."
                    )
            )
            .WithName("RemoveSource")
            .Produces(204);
        book.MapGet(
                "/{name}/tables",
                async (
                    string book,
                    string name,
                    [AsParameters] PageOf page,
                    BookShelf shelf,
                    SourceKeeper keeper,
                    CancellationToken cancel
                ) => page.Of(await keeper.Open(shelf.Get(book), name).Tables(cancel), table => table)
            )
            .WithName("ListSourceTables");
        book.MapPost("/{name}/fetch", Fetch).WithName("FetchFromSource").Produces<JobDto>(StatusCodes.Status202Accepted);
    }

    private static async Task<IResult> Fetch(
        string book,
        string name,
        FetchRequest request,
        BookShelf shelf,
        SourceKeeper keeper,
        LoadJobs jobs,
        Asker asker,
        CancellationToken cancel
    )
    {
        // Whether it may be reached is said at once, not only when the job runs.
        _ = keeper.Open(shelf.Get(book), name);
        if (request.From is null == request.Query is null)
            throw new ProblemException(
                ProblemKinds.SourceUnusable,
                "Neither or both of a table and a query are given.",
                "Name a table or entity set, or give a query."
            );
        var job = await jobs.Enqueue(book, new JobWork(null, new FetchWork(name, request)), asker, null, cancel);
        return Results.Accepted($"/api/books/{book}/jobs/{job.Id}", await jobs.Find(book, job.Id, cancel));
    }
}
