using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Store;
using Bearing.Data.Books;
using Bearing.Data.State;
using Bearing.Service.Books;
using Bearing.Service.Hosting;
using Microsoft.EntityFrameworkCore;

namespace Bearing.Service.Naming;

/// <summary>Names that people teach, and the words of their questions that nobody understood.</summary>
public static class WordEndpoints
{
    private const int MostListed = 200;
    private const int MostKept = 2_000;
    private const int LongestName = 60;

    public static void MapWords(this IEndpointRouteBuilder app)
    {
        var book = app.MapGroup("/api/books/{book}/words").WithTags("Words");
        book.MapGet("/", (string book, int? edition, [AsParameters] PageOf page, BookShelf shelf) =>
                page.Of(List(shelf.Get(book).Edition(edition).Book), w => $"{w.Id}")
            )
            .WithName("ListWords");
        book.MapPost("/", Teach).WithName("TeachWord").Produces<WordDto>(StatusCodes.Status201Created);
        book.MapDelete("/{word:int}", Forget).WithName("ForgetWord").Produces(204);
        book.MapGet("/unknown", Unknown).WithName("ListUnknownWords");
    }

    private static List<WordDto> List(Book book) => [.. book.Words.Select(w => ToDto(book, w))];

    private static WordDto ToDto(Book book, TaughtWord word) =>
        new(
            word.Id,
            word.Text,
            word.Target,
            Teaching.Means(book, word.Target),
            word.By,
            new DateTimeOffset(DateTime.SpecifyKind(word.At, DateTimeKind.Utc))
        );

    private static async Task<IResult> Teach(
        string book,
        TeachRequest request,
        BookChanges changes,
        IDbContextFactory<StateDb> state,
        Asker asker,
        CancellationToken cancel
    )
    {
        var (word, means) = ((request.Word ?? "").Trim(), (request.Means ?? "").Trim());
        var by = string.IsNullOrWhiteSpace(request.By) ? "unknown" : request.By.Trim();
        try
        {
            var taught = await changes.Run(
                book,
                asker,
                (open, writer) =>
                {
                    var edition = open.Edition();
                    var target = new Teaching(edition.Book, edition.Words, Vocabulary.English).Target(word, means);
                    return ToDto(edition.Book, writer.Teach(word, target, by.Length > LongestName ? by[..LongestName] : by));
                },
                cancel
            );
            await using var db = await state.CreateDbContextAsync(cancel);
            List<string> known = [.. Words.Tokens(word).Select(t => t.Text.ToLowerInvariant())];
            await db.UnknownWords.Where(w => w.Book == book && known.Contains(w.Word)).ExecuteDeleteAsync(cancel);
            return Results.Created($"/api/books/{book}/words/{taught.Id}", taught);
        }
        catch (CannotAnswerException e)
        {
            throw new ProblemException(
                ProblemKinds.WordUnusable,
                e.Message,
                e.Nearest.Any()
                    ? $"Near to it: {string.Join(", ", e.Nearest)}."
                    : "Choose another word, or name what it means by its code."
            );
        }
    }

    private static async Task<IResult> Forget(
        string book,
        int word,
        BookChanges changes,
        Asker asker,
        CancellationToken cancel
    ) =>
        await changes.Run(book, asker, (_, writer) => writer.Forget(word), cancel)
            ? Results.NoContent()
            : throw new ProblemException(
                ProblemKinds.NoSuchWord,
                $"There is no taught word {word}.",
                "List the words for their numbers."
            );

    /// <summary>Most frequent first. Words that were taught since are gone.</summary>
    private static async Task<Page<UnknownWordDto>> Unknown(
        string book,
        [AsParameters] PageOf page,
        BookShelf shelf,
        IDbContextFactory<StateDb> state,
        CancellationToken cancel
    )
    {
        _ = shelf.Get(book);
        await using var db = await state.CreateDbContextAsync(cancel);
        var rows = await db
            .UnknownWords.Where(w => w.Book == book)
            .OrderByDescending(w => w.Times)
            .ThenBy(w => w.Word)
            .Take(MostListed)
            .ToListAsync(cancel);
        return page.Of(
            [.. rows.Select(w => new UnknownWordDto(w.Word, w.Times, w.Example, new DateTimeOffset(w.LastTicks, TimeSpan.Zero)))],
            w => w.Word
        );
    }

    /// <summary>Counts words that a question held and that nobody understood.</summary>
    internal static async Task Count(
        IDbContextFactory<StateDb> state,
        TimeProvider clock,
        string book,
        string text,
        IReadOnlyCollection<string> words,
        CancellationToken cancel
    )
    {
        if (words.Count == 0)
            return;
        await using var db = await state.CreateDbContextAsync(cancel);
        var now = clock.GetUtcNow().UtcTicks;
        foreach (var word in words.Select(w => w.ToLowerInvariant()).Where(w => w.Length <= LongestName).Distinct())
            // One statement each, so that two askers at once both count.
            await db.Database.ExecuteSqlAsync(
                $"""
                INSERT INTO UnknownWords (Book, Word, Times, Example, LastTicks) SELECT {book}, {word}, 1, {text}, {now}
                WHERE EXISTS (SELECT 1 FROM UnknownWords WHERE Book = {book} AND Word = {word}) OR (SELECT count(*) FROM UnknownWords WHERE Book = {book}) < {MostKept}
                ON CONFLICT (Book, Word) DO UPDATE SET Times = Times + 1, Example = excluded.Example, LastTicks = excluded.LastTicks
                """,
                cancel
            );
    }
}
