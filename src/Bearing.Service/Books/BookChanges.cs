using System.Runtime.CompilerServices;
using Bearing.Core.Store;
using Bearing.Data;
using Bearing.Data.Books;
using Bearing.Data.State;
using Bearing.Service.Hosting;
using Microsoft.EntityFrameworkCore;

namespace Bearing.Service.Books;

/// <summary>
/// The one way in which the service changes a book: in the book's own queue, by an asker, and the audit rows follow the book's own account of its
/// editions, which was committed with the change, so that none is lost between the two.
/// </summary>
public sealed class BookChanges(
    BookShelf shelf,
    IDbContextFactory<StateDb> state,
    TimeProvider clock,
    News news,
    ILogger<BookChanges> log
)
{
    /// <summary>How long what was taken back can still be looked at in the editions in which it counted.</summary>
    public static readonly TimeSpan KeptUndone = TimeSpan.FromDays(90);

    /// <exception cref="Hosting.ProblemException">404 when there is no such book.</exception>
    public async Task<T> Run<T>(string book, Asker asker, Func<OpenBook, IBookWriter, T> change, CancellationToken cancel)
    {
        var open = shelf.Get(book);
        var result = await open.Change(asker, writer => change(open, writer), cancel, () => CopyAudit(book, open));
        news.Tell(book);
        return result;
    }

    /// <summary>The changes after an edition, those to come included.</summary>
    public async IAsyncEnumerable<EditionRecord> Follow(string book, int after, [EnumeratorCancellation] CancellationToken cancel)
    {
        while (shelf.Find(book) is { } open)
        {
            var next = news.Next(book);
            foreach (var edition in open.Store.Editions(after))
            {
                after = edition.Edition;
                yield return edition;
            }
            await next.WaitAsync(cancel);
        }
    }

    /// <summary>Waits for the writer and moves the book to the recycle folder. What the service knew of it begins afresh with a
    /// book of the same id.</summary>
    /// <returns>False when there is no such book.</returns>
    public async Task<bool> Erase(string book, OpenBook? open, Asker asker, CancellationToken cancel)
    {
        using var turn = open is null ? null : await open.Turn(cancel);
        await using var db = await state.CreateDbContextAsync(cancel);
        await db
            .Jobs.Where(j =>
                j.Book == book && (j.State == JobState.Done || j.State == JobState.Failed || j.State == JobState.Cancelled)
            )
            .ExecuteDeleteAsync(cancel);
        await db.Uploads.Where(u => u.Book == book).ExecuteDeleteAsync(cancel);
        await db.UnknownWords.Where(w => w.Book == book).ExecuteDeleteAsync(cancel);
        await db.Trails.Where(t => t.Book == book).ExecuteDeleteAsync(cancel);
        var (now, was) = (clock.GetUtcNow().UtcTicks, $"{book}~{clock.GetUtcNow():yyyyMMddHHmmssfff}");
        await db.Audit.Where(a => a.Book == book).ExecuteUpdateAsync(s => s.SetProperty(a => a.Book, was), cancel);
        db.Audit.Add(
            new AuditRow
            {
                Book = was,
                What = "book erased",
                AtTicks = now,
                By = asker.ToString(),
            }
        );
        await db.SaveChangesAsync(cancel);
        if (!shelf.Erase(book))
            return false;
        news.Tell(book);
        log.LogWarning("Book {Book} was erased; it lies in the recycle folder for a week", book);
        return true;
    }

    /// <summary>Copies what the book says of its editions, once each.</summary>
    private async Task CopyAudit(string book, OpenBook open)
    {
        await using var db = await state.CreateDbContextAsync();
        var last = await db.Audit.Where(a => a.Book == book).MaxAsync(a => a.Edition) ?? 0;
        foreach (var edition in open.Store.Editions(last))
            db.Audit.Add(
                new AuditRow
                {
                    Book = book,
                    Edition = edition.Edition,
                    What = edition.What,
                    AtTicks = DateTime.SpecifyKind(edition.At, DateTimeKind.Utc).Ticks,
                    By = edition.By,
                }
            );
        try
        {
            await db.SaveChangesAsync();
        }
        catch (Exception e) when (DiskFull.Is(e))
        {
            // The change is committed; its row follows with the next one, or at the next start.
        }
    }

    /// <summary>At the start: a book whose facts lack an edition that is known to have been committed is set apart, and rows that
    /// a crash kept back are copied.</summary>
    public async Task CheckAll()
    {
        shelf.SweepErased();
        foreach (var id in shelf.Ids())
        {
            try
            {
                if (shelf.Find(id) is not { } open)
                    continue;
                await using var db = await state.CreateDbContextAsync();
                var known = await db
                    .Audit.Where(a => a.Book == id && a.Edition != null)
                    .OrderByDescending(a => a.Edition)
                    .FirstOrDefaultAsync();
                var has = open.Store.LatestEdition();
                if (known?.Edition > has)
                    shelf.SetApart(
                        id,
                        $"Its facts end at edition {has}, and edition {known.Edition} was committed ({known.What}): a part of its files is missing."
                    );
                else
                    await CopyAudit(id, open);
            }
            catch (BookDamagedException)
            {
                // The shelf remembers why.
            }
        }
        foreach (var (id, because) in shelf.Damaged)
            log.LogError("Book {Book} is set apart: {Because}", id, because);
    }
}
