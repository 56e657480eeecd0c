using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Bearing.Contracts;
using Bearing.Core.FirstReading;
using Bearing.Core.Reading;
using Bearing.Data.Books;
using Bearing.Data.State;
using Bearing.Service.Books;
using Bearing.Service.Hosting;
using Bearing.Service.Loading;
using Microsoft.EntityFrameworkCore;

namespace Bearing.Service.Asking;

/// <summary>Trails: the steps of a talk, kept under an id that fits into an address.</summary>
public static class TrailEndpoints
{
    /// <summary>How long a trail is kept after it was last used.</summary>
    public static readonly TimeSpan Kept = TimeSpan.FromDays(366);

    /// <summary>Steps of a book; those that nobody used for longest go first.</summary>
    public const int MostKept = 50_000;

    private const int MostSteps = 200;
    private const int IdLength = 16;

    public static void MapTrails(this IEndpointRouteBuilder app)
    {
        var book = app.MapGroup("/api/books/{book}/trails").WithTags("Asking");
        book.MapPost("", Keep).WithName("KeepTrail").Produces<TrailDto>(StatusCodes.Status201Created);
        book.MapGet("/{trail}", Open).WithName("GetTrail");
    }

    private static async Task<IResult> Keep(
        string book,
        NewTrail trail,
        BookShelf shelf,
        IDbContextFactory<StateDb> state,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        _ = shelf.Get(book);
        if (trail.Steps is not { Count: > 0 and <= MostSteps })
            throw new ProblemException(
                ProblemKinds.ValueUnusable,
                $"The trail has {trail.Steps?.Count ?? 0} steps.",
                $"Send 1 to {MostSteps} of them."
            );
        if (trail.Steps.Any(s => s.Label is not { Length: <= FirstReader.LongestText }))
            throw new ProblemException(
                ProblemKinds.ValueUnusable,
                "A step has no label, or one that is too long.",
                $"Write it in up to {FirstReader.LongestText:N0} characters."
            );
        foreach (var step in trail.Steps)
            _ = QuestionMapping.FromDto(step.Question);
        var id = await Append(state, clock, book, null, trail.Steps, cancel);
        return Results.Created($"/api/books/{book}/trails/{id}", new TrailDto(id!, trail.Steps));
    }

    /// <summary>Keeps further steps of a talk.</summary>
    /// <param name="after">The talk so far; null for a new one.</param>
    /// <returns>The talk with them.</returns>
    internal static async Task<string?> Append(
        IDbContextFactory<StateDb> state,
        TimeProvider clock,
        string book,
        string? after,
        IEnumerable<TrailStep> steps,
        CancellationToken cancel
    )
    {
        await using var db = await state.CreateDbContextAsync(cancel);
        var now = clock.GetUtcNow().UtcTicks;
        foreach (var step in steps)
        {
            var json = JsonSerializer.Serialize(step, MappingForm.Json);
            var id = IdOf(book, after, json);
            await db.Database.ExecuteSqlAsync(
                $"""
                INSERT INTO Trails (Id, Book, After, Step, UsedTicks) VALUES ({id}, {book}, {after}, {json}, {now})
                ON CONFLICT (Id) DO UPDATE SET UsedTicks = excluded.UsedTicks
                """,
                cancel
            );
            after = id;
        }
        return after;
    }

    private static async Task<TrailDto> Open(
        string book,
        string trail,
        BookShelf shelf,
        IDbContextFactory<StateDb> state,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        _ = shelf.Get(book);
        return new TrailDto(trail, await Steps(state, clock, book, trail, cancel));
    }

    /// <summary>The steps of a talk, from the first on.</summary>
    /// <exception cref="ProblemException">When the book has no such talk.</exception>
    internal static async Task<IReadOnlyList<TrailStep>> Steps(
        IDbContextFactory<StateDb> state,
        TimeProvider clock,
        string book,
        string trail,
        CancellationToken cancel
    )
    {
        await using var db = await state.CreateDbContextAsync(cancel);
        var rows = await db
            .Trails.FromSql(
                $"""
                WITH RECURSIVE before(Id, After, Depth) AS (
                    SELECT Id, After, 0 FROM Trails WHERE Id = {trail} AND Book = {book}
                    UNION ALL SELECT t.Id, t.After, b.Depth + 1 FROM Trails t JOIN before b ON t.Id = b.After
                )
                SELECT t.* FROM Trails t JOIN before b ON t.Id = b.Id ORDER BY b.Depth DESC
                """
            )
            .ToListAsync(cancel);
        if (rows.Count == 0)
            throw new ProblemException(
                ProblemKinds.NoSuchTrail,
                $"There is no trail “{trail}” in this book.",
                $"Ask anew; a trail is kept for {Kept.Days} days after it was last opened."
            );
        foreach (var row in rows)
            row.UsedTicks = clock.GetUtcNow().UtcTicks;
        await db.SaveChangesAsync(cancel);
        return [.. rows.Select(r => JsonSerializer.Deserialize<TrailStep>(r.Step, MappingForm.Json)!)];
    }

    /// <summary>Nobody can guess an id without knowing the steps, and the same steps have the same.</summary>
    private static string IdOf(string book, string? after, string step) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"{book}\n{after}\n{step}")))[..IdLength];
}
