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

    private static LineOrder OrderOf(string? order) =>
        order switch
        {
            null or "loaded" => LineOrder.AsLoaded,
            "size" => LineOrder.BySize,
            "smallest" => LineOrder.Smallest,
            "newest" => LineOrder.Newest,
            "oldest" => LineOrder.Oldest,
            _ => throw new FormatException($"“{order}” is no order of lines; use loaded, size, smallest, newest or oldest."),
        };
}
