using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Store;
using Bearing.Core.Variance;
using Bearing.Data.Books;
using Bearing.Data.State;
using Bearing.Service.Books;
using Bearing.Service.Hosting;
using Bearing.Service.Loading;
using Microsoft.EntityFrameworkCore;

namespace Bearing.Service.Periods;

/// <summary>The month-end itself: closing months, what changed since, the trial balance.</summary>
public static class PeriodEndpoints
{
    public static void MapPeriods(this IEndpointRouteBuilder app)
    {
        var book = app.MapGroup("/api/books/{book}").WithTags("Periods");
        book.MapGet("/closed", (string book, BookShelf shelf) => Closed(shelf.Get(book).Store.Read()))
            .TaggedByEdition()
            .WithName("GetClosed");
        book.MapPost("/closed", Close).WithName("ClosePeriods").Produces<ClosedDto>();
        book.MapGet("/changes", Changes).WithName("ListChanges").Produces<ChangesDto>();
        book.MapPost("/reconciliations", Reconcile).WithName("Reconcile").Produces<ReconciliationDto>();
    }

    private static async Task<ClosedDto> Close(
        string book,
        CloseRequest request,
        BookShelf shelf,
        BookChanges changes,
        Asker asker,
        CancellationToken cancel
    )
    {
        Period? through = request.Through is null ? null : ToPeriod(request.Through);
        await changes.Run(
            book,
            asker,
            (open, writer) =>
            {
                var now = open.Store.Read();
                var definition = now.Definition;
                if (request.Entity is null)
                    definition = definition with { ClosedThrough = through };
                else if (!now.TryMember(now.Entities.Id, request.Entity, out var entity))
                    throw new ProblemException(
                        ProblemKinds.ValueUnusable,
                        $"There is no entity “{request.Entity}”.",
                        "Use the code of an entity of the book."
                    );
                else
                    definition = definition with
                    {
                        ClosedThroughOf = through is { } own
                            ? definition.ClosedThroughOf.SetItem(entity.Code, own)
                            : definition.ClosedThroughOf.Remove(entity.Code),
                    };
                return writer.Define(
                    definition,
                    $"closed through {request.Through ?? "nothing"}{(request.Entity is null ? "" : $" for {request.Entity}")}"
                );
            },
            cancel
        );
        return Closed(shelf.Get(book).Store.Read());
    }

    private static ClosedDto Closed(Book book) =>
        new(
            book.Definition.ClosedThrough?.ToString(),
            book.Definition.ClosedThrough is { } p ? book.Calendar.NameOf(p) : null,
            book.Definition.ClosedThroughOf.OrderBy(c => c.Key, StringComparer.Ordinal)
                .ToDictionary(c => c.Key, c => c.Value.ToString()),
            book.Edition
        );

    /// <param name="from">Edition to compare with; the one before the latest change when left out.</param>
    /// <param name="to">The later edition; the latest when left out.</param>
    private static async Task<ChangesDto> Changes(
        string book,
        int? from,
        int? to,
        [AsParameters] PageOf page,
        BookShelf shelf,
        CancellationToken cancel
    )
    {
        var open = shelf.Get(book);
        var after = open.Edition(to);
        var before = open.Edition(Math.Max(1, from ?? after.Book.Edition - 1));
        var changes = await new ChangeFinder(before.Book, before.Facts, after.Book, after.Facts).Find(cancel);
        var (a, b) = (after.Book, before.Book);
        return new ChangesDto(
            b.Edition,
            a.Edition,
            [.. open.Store.Editions(b.Edition, a.Edition).Select(e => $"{e.Edition}: {e.What}")],
            changes.Length,
            [
                .. changes
                    .Skip(page.Skip)
                    .Take(page.Take)
                    .Select(c =>
                    {
                        var (account, entity) = (Label(a, b, c.Account), Label(a, b, c.Entity));
                        return new ChangeDto(
                            c.Scenario,
                            c.Period.ToString(),
                            a.Calendar.NameOf(c.Period),
                            account.Code,
                            account.Name,
                            entity.Code,
                            entity.Name,
                            c.Before is { } was ? WireText.Amount(was) : null,
                            c.After is { } has ? WireText.Amount(has) : null,
                            WireText.Amount(c.Difference),
                            c.Late
                        );
                    }),
            ],
            page.NextOf(changes.Length)
        );
    }

    private static (string Code, string Name) Label(Book after, Book before, int member) =>
        after.Members.Any(m => m.Id == member) ? after.Label(member) : before.Label(member);

    private static async Task<ReconciliationDto> Reconcile(
        string book,
        ReconcileRequest request,
        BookShelf shelf,
        IDbContextFactory<StateDb> state,
        CancellationToken cancel
    )
    {
        var through = ToPeriod(request.Through);
        var open = shelf.Get(book);
        await using var db = await state.CreateDbContextAsync(cancel);
        var upload = await db.Uploads.AsNoTracking().FirstOrDefaultAsync(u => u.Id == request.Upload && u.Book == book, cancel)
            ?? throw new ProblemException(
                ProblemKinds.NoSuchUpload,
                $"There is no upload “{request.Upload}” in this book.",
                "Send the file to /uploads first."
            );
        var at = open.Edition();
        var (rows, byEntity) = await Task.Run(
            () =>
                new LoadPlanner(
                    open,
                    new LoadRequest(
                        upload.Id,
                        request.Mapping is null ? "ledger" : null,
                        Mapping: request.Mapping,
                        Sign: request.Sign,
                        Columns: request.Columns
                    )
                ).TrialBalance(upload, through),
            cancel
        );
        var compared = await new Reconciliation(at.Book, at.Facts).Compare(rows, through, byEntity, cancel);
        var differing = compared.Where(c => c.Difference != 0).ToList();
        return new ReconciliationDto(
            upload.FileName,
            through.ToString(),
            at.Book.Calendar.NameOf(through),
            compared.Length - differing.Count,
            WireText.Amount(differing.Sum(d => Math.Abs(d.Difference))),
            [
                .. differing.Select(d => new ReconciledDto(
                    at.Book.Label(d.Account).Code,
                    at.Book.Label(d.Account).Name,
                    d.Entity is { } e ? at.Book.Label(e).Name : null,
                    d.Trial is { } t ? WireText.Amount(t) : null,
                    WireText.Amount(d.Book),
                    WireText.Amount(d.Difference)
                )),
            ]
        );
    }

    private static Period ToPeriod(string text) =>
        Period.TryParse(text, out var period)
            ? period
            : throw new ProblemException(
                ProblemKinds.ValueUnusable,
                $"“{text}” is not a period.",
                "Write it as 2026-P09 (fiscal year and period)."
            );
}
