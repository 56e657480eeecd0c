using System.Net.ServerSentEvents;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Reading;
using Bearing.Core.Store;
using Bearing.Data.Books;
using Bearing.Service.Hosting;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using Microsoft.Extensions.Caching.Memory;

namespace Bearing.Service.Books;

/// <summary>Books and what is in them.</summary>
public static class BookEndpoints
{
    public static void MapBooks(this IEndpointRouteBuilder app)
    {
        app.MapGet("/health", (BookShelf shelf) =>
                new HealthDto(
                    shelf.Damaged.Count == 0 ? "ok" : "degraded",
                    typeof(BookEndpoints).Assembly.GetName().Version!.ToString(3),
                    shelf.Ids().Count,
                    [.. shelf.Damaged.Keys.Order(StringComparer.Ordinal)]
                )
            )
            .WithName("GetHealth");
        app.MapGet("/ready", (Readiness readiness) =>
                readiness.Waits is { Count: > 0 } waits
                    ? Results.Json(new ReadyDto(false, waits), statusCode: StatusCodes.Status503ServiceUnavailable)
                    : Results.Ok(new ReadyDto(true, []))
            )
            .WithName("GetReadiness")
            .Produces<ReadyDto>()
            .Produces<ReadyDto>(StatusCodes.Status503ServiceUnavailable);
        var books = app.MapGroup("/api/books").WithTags("Books");
        books
            .MapGet("/", ([AsParameters] PageOf page, BookShelf shelf, IMemoryCache cache) =>
                page.Of(Summaries(shelf, cache), b => b.Id)
            )
            .WithName("ListBooks");
        books.MapPost("/", Create).WithName("CreateBook").Produces<BookDto>(StatusCodes.Status201Created);
        books.MapPost("/{book}/purge", Purge).WithName("PurgeBook").Produces<PurgeDto>();
        books
            .MapGet("/{book}", (string book, BookShelf shelf) => ToDto(shelf.Get(book).Edition()))
            .TaggedByEdition()
            .WithName("GetBook");
        books.MapPut("/{book}", Define).WithName("DefineBook").Produces<BookDto>();
        books.MapDelete("/{book}", Erase).WithName("EraseBook").Produces(204);
        books.MapPost("/{book}/restore", Restore).WithName("RestoreBook").Produces<BookDto>();
        books.MapGet("/{book}/editions", Editions).WithName("ListEditions");
        books
            .MapGet("/{book}/editions/events", FollowEditions)
            .WithName("FollowEditions")
            .Produces<EditionDto>(200, "text/event-stream");
        books.MapGet("/{book}/members", Members).TaggedByEdition().WithName("ListMembers");
    }

    private static Page<EditionDto> Editions(string book, [AsParameters] PageOf page, BookShelf shelf)
    {
        var store = shelf.Get(book).Store;
        return new Page<EditionDto>(
            [.. store.Editions(page.Skip, page.Skip + page.Take).Select(ToDto)],
            page.NextOf(store.LatestEdition())
        );
    }

    /// <summary>One event for each edition, the first of them the one that counts now; whoever comes back goes on behind the last
    /// one that they saw.</summary>
    private static ServerSentEventsResult<EditionDto> FollowEditions(
        string book,
        [FromHeader(Name = "Last-Event-ID")] int? lastEventId,
        BookShelf shelf,
        BookChanges changes,
        CancellationToken cancel
    )
    {
        var after = lastEventId ?? shelf.Get(book).Store.LatestEdition() - 1;
        return TypedResults.ServerSentEvents(
            changes.Follow(book, after, cancel).Select(e => new SseItem<EditionDto>(ToDto(e)) { EventId = $"{e.Edition}" })
        );
    }

    private static EditionDto ToDto(EditionRecord e) =>
        new(e.Edition, new DateTimeOffset(DateTime.SpecifyKind(e.At, DateTimeKind.Utc)), e.What, e.By);

    /// <exception cref="ProblemException">404 when there is no such book.</exception>
    public static OpenBook Get(this BookShelf shelf, string id) => shelf.Find(id) ?? throw ProblemException.NoBook(id);

    /// <summary>Only whoever says the book's name again erases it: an address that was mistyped or led elsewhere does
    /// not.</summary>
    /// <param name="confirm">The book's name, or its id where it is damaged.</param>
    private static async Task<IResult> Erase(
        string book,
        string? confirm,
        BookShelf shelf,
        BookChanges changes,
        IMemoryCache cache,
        Asker asker,
        CancellationToken cancel
    )
    {
        OpenBook? open = null;
        var name = book;
        if (!shelf.Damaged.ContainsKey(book))
        {
            open = shelf.Get(book);
            name = open.Store.Read().Definition.Name;
        }
        if (confirm != name)
            throw new ProblemException(
                ProblemKinds.ConfirmationMissing,
                confirm is null
                    ? $"“{book}” and all its loads would be erased."
                    : $"“{confirm}” is not the name of the book {book}.",
                $"Say its name again to erase it: confirm={name}."
            );
        cache.Remove((nameof(Summaries), book));
        return await changes.Erase(book, open, asker, cancel) ? Results.NoContent() : throw ProblemException.NoBook(book);
    }

    /// <summary>Like erasing, it cannot be taken back, so the book's name is said again.</summary>
    private static async Task<PurgeDto> Purge(
        string book,
        string? confirm,
        BookShelf shelf,
        BookChanges changes,
        LeftoverSweep sweep,
        TimeProvider clock,
        Asker asker,
        CancellationToken cancel
    )
    {
        var open = shelf.Get(book);
        var name = open.Store.Read().Definition.Name;
        if (confirm != name)
            throw new ProblemException(
                ProblemKinds.ConfirmationMissing,
                $"What was taken back in “{name}” would be removed for good, and the editions in which it counted could no longer be read.",
                $"Say the book's name again to do so: confirm={name}."
            );
        long Size() => new DirectoryInfo(open.Folder).EnumerateFiles("*", SearchOption.AllDirectories).Sum(f => f.Length);
        var before = Size();
        var purged = await changes.Run(book, asker, (_, writer) => writer.Purge(clock.GetUtcNow().UtcDateTime), cancel);
        await sweep.Run(book, open, cancel);
        return new PurgeDto(purged?.Loads ?? [], purged?.Edition ?? open.Store.LatestEdition(), Math.Max(0, before - Size()));
    }

    private static async Task<BookDto> Restore(string book, BookShelf shelf, BookChanges changes)
    {
        try
        {
            if (!shelf.Restore(book))
                throw new ProblemException(
                    ProblemKinds.NoBookErased,
                    $"No book “{book}” lies in the recycle folder.",
                    $"An erased book can be brought back for {BookShelf.KeptErased.Days} days."
                );
        }
        catch (InvalidOperationException e)
        {
            throw new ProblemException(
                ProblemKinds.BookThereAlready,
                e.Message,
                "Erase that one first, or leave the erased one where it is."
            );
        }
        await changes.CheckAll();
        return ToDto(shelf.Get(book).Edition());
    }

    private static IResult Create(NewBook book, BookShelf shelf, Asker asker)
    {
        var definition = BookDefinitionReader.Read(book);
        if (!shelf.TryCreate(definition, asker))
            throw new ProblemException(
                ProblemKinds.BookThereAlready,
                $"There is a book “{book.Id}” already.",
                "Choose another id, or erase the book first."
            );
        return Results.Created($"/api/books/{definition.Id}", ToDto(shelf.Get(definition.Id).Edition()));
    }

    private static async Task<BookDto> Define(
        string book,
        NewBook definition,
        BookShelf shelf,
        BookChanges changes,
        Asker asker,
        CancellationToken cancel
    )
    {
        var read = BookDefinitionReader.Read(definition with { Id = book });
        await changes.Run(
            book,
            asker,
            (open, writer) => writer.Define(read with { ClosedThroughOf = open.Store.Read().Definition.ClosedThroughOf }),
            cancel
        );
        return ToDto(shelf.Get(book).Edition());
    }

    private static Page<MemberDetail> Members(
        string book,
        string dimension,
        string? search,
        int? edition,
        [AsParameters] PageOf page,
        BookShelf shelf
    )
    {
        var at = shelf.Get(book).Edition(edition).Book;
        if (!at.TryDimension(dimension, out var found))
            throw new ProblemException(
                ProblemKinds.NoSuchDimension,
                $"The book has no dimension “{dimension}”.",
                $"Use one of {string.Join(", ", at.Definition.Dimensions.Select(d => d.Code))}."
            );
        var matching = at.MembersOf(found.Id)
            .Where(m =>
                string.IsNullOrEmpty(search)
                || m.Title.Contains(search, StringComparison.OrdinalIgnoreCase)
                || m.OtherNames.Any(n => n.Contains(search, StringComparison.OrdinalIgnoreCase))
            )
            .ToList();
        var members = matching
            .Skip(page.Skip)
            .Take(page.Take)
            .Select(m => new MemberDetail(
                m.Code,
                m.Name,
                m.ParentId is { } p ? at.Member(p).Code : null,
                found.Levels[at.HasChildren(m) ? Math.Min(at.DepthOf(m), found.Levels.Length - 1) : found.Levels.Length - 1],
                m.OtherNames,
                m.Account?.Type.ToString().ToLowerInvariant(),
                m.Account?.Unit,
                m.Entity?.Currency,
                m.Entity?.OwnedPercent.ToString("0.####", System.Globalization.CultureInfo.InvariantCulture)
            ))
            .ToList();
        return new Page<MemberDetail>(members, page.NextOf(matching.Count));
    }

    /// <summary>A closed book has not changed since it was summed up, so it is not opened for the list. A book that is erased while
    /// the list is made is left out of it; one that is damaged stands there with why.</summary>
    private static List<BookSummary> Summaries(BookShelf shelf, IMemoryCache cache)
    {
        var list = new List<BookSummary>();
        foreach (var id in shelf.Ids())
        {
            try
            {
                if (!shelf.IsOpen(id) && cache.TryGetValue((nameof(Summaries), id), out BookSummary? known))
                    list.Add(known!);
                else if (shelf.Find(id) is { } open)
                    list.Add(cache.Set((nameof(Summaries), id), Summary(open)));
            }
            catch (BookGoneException)
            {
                // Gone between two lines.
            }
            catch (BookDamagedException e)
            {
                list.Add(new BookSummary(id, id, "", "", 0, null, null, 0, e.Message));
            }
        }
        return list;
    }

    private static BookSummary Summary(OpenBook open)
    {
        var book = open.Store.Read();
        return new BookSummary(
            book.Definition.Id,
            book.Definition.Name,
            book.Definition.Currency,
            book.Definition.Provenance.ToString().ToLowerInvariant(),
            book.Edition,
            book.CurrentPeriod?.ToString(),
            book.CurrentPeriod is { } now ? book.Calendar.NameOf(now) : null,
            open.Store.Loads().Count(l => l.UndoneIn is null)
        );
    }

    private static BookDto ToDto(OpenEdition edition)
    {
        var book = edition.Book;
        var definition = book.Definition;
        var code = (int id) => book.Dimension(id).Code;
        var figures = definition
            .Statement.Select(l => new FigureRef(FigureKind.Measure, l.Code))
            .Concat(definition.Measures.Select(m => new FigureRef(FigureKind.Measure, m.Code)))
            .Concat(book.MembersOf(book.Accounts.Id).Select(a => new FigureRef(FigureKind.Account, a.Code)))
            .Select(r => book.Figure(r))
            .OfType<Figure>()
            .Select(f => new FigureDto(Book.Coded(f.Ref), f.Name, f.Unit))
            .ToList();
        return new BookDto(
            definition.Id,
            definition.Name,
            definition.Currency,
            definition.FiscalYearStartMonth,
            definition.Provenance.ToString().ToLowerInvariant(),
            book.Edition,
            book.CurrentPeriod?.ToString(),
            book.CurrentPeriod is { } now ? book.Calendar.NameOf(now) : null,
            definition.ClosedThrough is { } closed ? book.Calendar.NameOf(closed) : null,
            [
                .. definition.Dimensions.Select(d => new DimensionDto(
                    d.Code,
                    d.Name,
                    d.Role.ToString().ToLowerInvariant(),
                    d.Levels,
                    book.MembersOf(d.Id).Count()
                )),
            ],
            [
                .. definition.Scenarios.Select(s => new ScenarioDto(
                    s.Code,
                    s.Name,
                    s.Kind.ToString().ToLowerInvariant(),
                    [
                        .. s.Versions.Select(v => new VersionDto(
                            v.Code,
                            v.Coverage?.Span.From.ToString(),
                            v.Coverage?.Span.To.ToString(),
                            [.. v.Coverage?.KeptDimensions.Select(code) ?? []],
                            v.CutOff?.ToString()
                        )),
                    ]
                )),
            ],
            figures,
            Periods(book),
            [.. Openings.Of(book)],
            [.. book.Remarks.Where(r => r.IsNotice).Select(r => r.Text).Distinct()]
        );
    }

    /// <summary>What can be chosen in place of a period: year to date, years, quarters and months, newest first.</summary>
    private static List<PeriodDto> Periods(Book book)
    {
        if (book.ActualSpan is not { } span || book.CurrentPeriod is not { } now)
            return [];
        var last = book.Definition.Scenarios.Select(s => s.Current.Coverage!.Span.To).Append(span.To).Max();
        var spans = new List<PeriodSpan> { FiscalCalendar.YearToDate(now) };
        spans.AddRange(Enumerable.Range(span.From.Year, last.Year - span.From.Year + 1).Reverse().Select(FiscalCalendar.Year));
        spans.AddRange(Enumerable.Range(1, 4).Select(q => FiscalCalendar.Quarter(now.Year, q)));
        spans.AddRange(span.Periods().Reverse().Select(PeriodSpan.Of));
        return [.. spans.DistinctBy(s => s.ToString()).Select(s => new PeriodDto(s.ToString(), book.Calendar.NameOf(s)))];
    }
}
