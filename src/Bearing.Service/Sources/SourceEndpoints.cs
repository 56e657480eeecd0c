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
        book.MapGet("", (string book, BookShelf shelf, SourceKeeper keeper) => keeper.List(shelf.Get(book)))
            .WithName("ListSources");
        book.MapPut("/{name}", (string book, string name, NewSource source, BookShelf shelf, SourceKeeper keeper) =>
                keeper.Keep(shelf.Get(book), name, source)
            )
            .WithName("KeepSource")
            .ProducesProblem(403)
            .ProducesProblem(422);
        book.MapDelete("/{name}", (string book, string name, BookShelf shelf) =>
                shelf.Get(book).Sources.Delete(name)
                    ? Results.NoContent()
                    : throw new ProblemException(
                        404,
                        "No such source",
                        $"There is no source “{name}” in this book.",
                        "List the sources for their names."
                    )
            )
            .WithName("RemoveSource")
            .Produces(204)
            .ProducesProblem(404);
        book.MapGet(
                "/{name}/tables",
                async (string book, string name, BookShelf shelf, SourceKeeper keeper, CancellationToken cancel) =>
                    await keeper.Open(shelf.Get(book), name).Tables(cancel)
            )
            .WithName("ListSourceTables")
            .ProducesProblem(502);
        book.MapPost("/{name}/fetch", Fetch)
            .WithName("FetchFromSource")
            .Produces<JobDto>(StatusCodes.Status202Accepted)
            .ProducesProblem(403)
            .ProducesProblem(404);
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
                422,
                "It is not clear what to fetch",
                "Neither or both of a table and a query are given.",
                "Name a table or entity set, or give a query."
            );
        var job = await jobs.Enqueue(book, new JobWork(null, new FetchWork(name, request)), asker, null, cancel);
        return Results.Accepted($"/api/books/{book}/jobs/{job.Id}", await jobs.Find(book, job.Id, cancel));
    }
}
