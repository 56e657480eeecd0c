using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Reading;
using Bearing.Data.Books;
using Bearing.Data.State;
using Bearing.Service.Hosting;
using Microsoft.EntityFrameworkCore;

namespace Bearing.Service.Books;

/// <summary>Books and what is in them.</summary>
public static class BookEndpoints
{
    public static void MapBooks(this IEndpointRouteBuilder app)
    {
        app.MapGet("/health", (BookShelf shelf) => new HealthDto("ok", typeof(BookEndpoints).Assembly.GetName().Version!.ToString(3), shelf.Ids().Count)).WithName("GetHealth");
        var books = app.MapGroup("/api/books").WithTags("Books");
        books.MapGet("/", (BookShelf shelf) => Summaries(shelf)).WithName("ListBooks").Produces<IReadOnlyList<BookSummary>>();
        books.MapPost("/", Create).WithName("CreateBook").Produces<BookDto>(StatusCodes.Status201Created).ProducesProblem(409).ProducesProblem(422);
        books.MapGet("/{book}", (string book, BookShelf shelf) => ToDto(shelf.Get(book).Edition())).WithName("GetBook").ProducesProblem(404);
        books.MapPut("/{book}", Define).WithName("DefineBook").Produces<BookDto>().ProducesProblem(422);
        books.MapDelete("/{book}", Erase).WithName("EraseBook").Produces(204).ProducesProblem(404);
        books.MapGet("/{book}/members", Members).WithName("ListMembers").Produces<MemberPage>().ProducesProblem(404);
    }

    /// <exception cref="ProblemException">404 when there is no such book.</exception>
    public static OpenBook Get(this BookShelf shelf, string id) => shelf.Find(id) ?? throw ProblemException.NoBook(id);

    /// <summary>With its figures go its uploads, the keys of its loads and the words that were not understood: a book of the same id begins afresh.</summary>
    private static async Task<IResult> Erase(string book, BookShelf shelf, IDbContextFactory<StateDb> state, CancellationToken cancel)
    {
        if (!shelf.Erase(book)) throw ProblemException.NoBook(book);
        await using var db = await state.CreateDbContextAsync(cancel);
        await db.Jobs.Where(j => j.Book == book && (j.State == JobState.Done || j.State == JobState.Failed || j.State == JobState.Cancelled)).ExecuteDeleteAsync(cancel);
        await db.Uploads.Where(u => u.Book == book).ExecuteDeleteAsync(cancel);
        await db.UnknownWords.Where(w => w.Book == book).ExecuteDeleteAsync(cancel);
        return Results.NoContent();
    }

    private static IResult Create(NewBook book, BookShelf shelf)
    {
        var definition = BookDefinitionReader.Read(book);
        if (!shelf.TryCreate(definition)) throw new ProblemException(409, "The book is there already", $"There is a book “{book.Id}” already.", "Choose another id, or erase the book first.");
        return Results.Created($"/api/books/{definition.Id}", ToDto(shelf.Get(definition.Id).Edition()));
    }

    private static async Task<BookDto> Define(string book, NewBook definition, BookShelf shelf, TimeProvider clock, CancellationToken cancel)
    {
        var open = shelf.Get(book);
        var read = BookDefinitionReader.Read(definition with { Id = book });
        await open.Writing.WaitAsync(cancel);
        try
        {
            new Data.Facts.Duck.DuckWriter(open.Store, clock).Define(read with { ClosedThroughOf = open.Store.Read().Definition.ClosedThroughOf });
        }
        finally
        {
            open.Writing.Release();
        }
        return ToDto(open.Edition());
    }

    private static MemberPage Members(string book, string dimension, string? search, int? limit, int? cursor, BookShelf shelf)
    {
        var edition = shelf.Get(book).Edition().Book;
        if (!edition.TryDimension(dimension, out var found))
            throw new ProblemException(404, "No such dimension", $"The book has no dimension “{dimension}”.", $"Use one of {string.Join(", ", edition.Definition.Dimensions.Select(d => d.Code))}.");
        var (take, skip) = (Math.Clamp(limit ?? 100, 1, 1000), Math.Max(0, cursor ?? 0));
        var matching = edition.MembersOf(found.Id).Where(m => string.IsNullOrEmpty(search) || m.Title.Contains(search, StringComparison.OrdinalIgnoreCase)
            || m.OtherNames.Any(n => n.Contains(search, StringComparison.OrdinalIgnoreCase))).ToList();
        var page = matching.Skip(skip).Take(take).Select(m => new MemberDetail(m.Code, m.Name, m.ParentId is { } p ? edition.Member(p).Code : null,
            found.Levels[edition.HasChildren(m) ? Math.Min(edition.DepthOf(m), found.Levels.Length - 1) : found.Levels.Length - 1],
            m.OtherNames, m.Account?.Type.ToString().ToLowerInvariant(), m.Account?.Unit, m.Entity?.Currency, m.Entity?.OwnedPercent.ToString("0.####", System.Globalization.CultureInfo.InvariantCulture))).ToList();
        return new MemberPage(page, skip + take < matching.Count ? (skip + take).ToString(System.Globalization.CultureInfo.InvariantCulture) : null);
    }

    /// <summary>A book that is erased while the list is made is left out of it.</summary>
    private static List<BookSummary> Summaries(BookShelf shelf)
    {
        var list = new List<BookSummary>();
        foreach (var id in shelf.Ids())
        {
            try
            {
                if (shelf.Find(id) is { } open) list.Add(Summary(open));
            }
            catch (Exception) when (!shelf.Ids().Contains(id))
            {
                // Gone between two lines.
            }
        }
        return list;
    }

    private static BookSummary Summary(OpenBook open)
    {
        var book = open.Store.Read();
        return new BookSummary(book.Definition.Id, book.Definition.Name, book.Definition.Currency, book.Definition.Provenance.ToString().ToLowerInvariant(), book.Edition,
            book.CurrentPeriod?.ToString(), book.CurrentPeriod is { } now ? book.Calendar.NameOf(now) : null, open.Store.Loads().Count(l => l.UndoneIn is null));
    }

    private static BookDto ToDto(OpenEdition edition)
    {
        var book = edition.Book;
        var definition = book.Definition;
        var code = (int id) => book.Dimension(id).Code;
        var figures = definition.Statement.Select(l => new FigureRef(FigureKind.Measure, l.Code)).Concat(definition.Measures.Select(m => new FigureRef(FigureKind.Measure, m.Code)))
            .Concat(book.MembersOf(book.Accounts.Id).Select(a => new FigureRef(FigureKind.Account, a.Code)))
            .Select(r => book.Figure(r)).OfType<Figure>().Select(f => new FigureDto(Book.Coded(f.Ref), f.Name, f.Unit)).ToList();
        return new BookDto(definition.Id, definition.Name, definition.Currency, definition.FiscalYearStartMonth, definition.Provenance.ToString().ToLowerInvariant(), book.Edition,
            book.CurrentPeriod?.ToString(), book.CurrentPeriod is { } now ? book.Calendar.NameOf(now) : null, definition.ClosedThrough is { } closed ? book.Calendar.NameOf(closed) : null,
            [.. definition.Dimensions.Select(d => new DimensionDto(d.Code, d.Name, d.Role.ToString().ToLowerInvariant(), d.Levels, book.MembersOf(d.Id).Count()))],
            [.. definition.Scenarios.Select(s => new ScenarioDto(s.Code, s.Name, s.Kind.ToString().ToLowerInvariant(), [.. s.Versions.Select(v => new VersionDto(v.Code,
                v.Coverage?.Span.From.ToString(), v.Coverage?.Span.To.ToString(), [.. v.Coverage?.KeptDimensions.Select(code) ?? []], v.CutOff?.ToString()))]))],
            figures, Periods(book), [.. Openings.Of(book)], [.. book.Remarks.Where(r => r.IsNotice).Select(r => r.Text).Distinct()]);
    }

    /// <summary>What can be chosen in place of a period: year to date, years, quarters and months, newest first.</summary>
    private static List<PeriodDto> Periods(Book book)
    {
        if (book.ActualSpan is not { } span || book.CurrentPeriod is not { } now) return [];
        var last = book.Definition.Scenarios.Select(s => s.Current.Coverage!.Span.To).Append(span.To).Max();
        var spans = new List<PeriodSpan> { FiscalCalendar.YearToDate(now) };
        spans.AddRange(Enumerable.Range(span.From.Year, last.Year - span.From.Year + 1).Reverse().Select(FiscalCalendar.Year));
        spans.AddRange(Enumerable.Range(1, 4).Select(q => FiscalCalendar.Quarter(now.Year, q)));
        spans.AddRange(span.Periods().Reverse().Select(PeriodSpan.Of));
        return [.. spans.DistinctBy(s => s.ToString()).Select(s => new PeriodDto(s.ToString(), book.Calendar.NameOf(s)))];
    }
}
