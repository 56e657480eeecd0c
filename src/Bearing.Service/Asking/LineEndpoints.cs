using System.Text;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Store;
using Bearing.Data.Books;
using Bearing.Service.Hosting;

namespace Bearing.Service.Asking;

/// <summary>Ledger lines behind the address of a figure.</summary>
internal static class LineEndpoints
{
    public static void MapLines(this RouteGroupBuilder book) =>
        book.MapGet("/lines", Lines)
            .TaggedByEdition()
            .WithName("ListLines")
            .Produces<LinePageDto>(200, "application/json", "text/csv");

    private static async Task<IResult> Lines(
        string book,
        string slice,
        string? scenario,
        string? periods,
        string? figure,
        string? order,
        int? limit,
        string? cursor,
        int? edition,
        HttpRequest http,
        BookShelf shelf,
        CancellationToken cancel
    )
    {
        var (open, at) = AskEndpoints.Open(shelf, book, edition);
        var address = Slice.Parse(slice);
        if (scenario is not null)
            address = address with { Side = Side.Parse(scenario) };
        if (figure is not null)
            address = address with { Figure = QuestionMapping.ToFigure(figure, "figure") };
        if (periods is not null)
            address = address with
            {
                Span = PeriodSpan.TryParse(periods, out var span)
                    ? span
                    : throw new FormatException($"“{periods}” is not a period."),
            };
        var page = await at.Answerer.Lines(
            address,
            OrderOf(order),
            Math.Clamp(limit ?? 100, 1, LineQuery.MostLines),
            cursor,
            cancel
        );
        var sign = at.Book.Figure(address.Figure) is SumFigure sum ? sum.ShownSign : 1;
        var dto = AskEndpoints.Mapping(open, at).ToDto(page, sign);
        return AnswerCsv.IsWanted(http)
            ? Results.Text(AnswerCsv.Lines(at.Book, dto), "text/csv", Encoding.UTF8)
            : Results.Ok(dto);
    }

    private static readonly (string Name, LineOrder Order)[] ByName =
    [
        ("loaded", LineOrder.AsLoaded),
        ("size", LineOrder.BySize),
        ("smallest", LineOrder.Smallest),
        ("newest", LineOrder.Newest),
        ("oldest", LineOrder.Oldest),
    ];

    /// <summary>What the order of lines can be; the first when nothing is said.</summary>
    public static IReadOnlyList<string> Orders { get; } = [.. ByName.Select(o => o.Name)];

    private static LineOrder OrderOf(string? order) =>
        Array.FindIndex(ByName, o => o.Name == (order ?? Orders[0])) is var at and >= 0
            ? ByName[at].Order
            : throw new FormatException(
                $"“{order}” is no order of lines; use {string.Join(", ", Orders.SkipLast(1))} or {Orders[^1]}."
            );
}
