using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Data.Books;
using Bearing.Service.Books;
using Bearing.Service.Hosting;

namespace Bearing.Service.Asking;

/// <summary>Questions put together from names: what options of a command line, or a form, say.</summary>
internal static class Composing
{
    private const int MostParts = 20;
    private const int LongestName = 200;

    public static void MapComposing(this RouteGroupBuilder book) =>
        book.MapPost("/compose", (string book, ComposeRequest request, BookShelf shelf) =>
                Compose(shelf.Get(book).Edition(), request)
            )
            .WithName("Compose")
            .Produces<QuestionDto>();

    private static QuestionDto Compose(OpenEdition edition, ComposeRequest request)
    {
        foreach (var names in (IReadOnlyList<string>?[])[request.By, request.Against, request.For])
            if (names is { Count: > MostParts } || names?.Any(n => n.Length > LongestName) == true)
                throw Wrong(
                    "There are too many names, or one is too long.",
                    $"Give up to {MostParts} of each, of {LongestName} characters."
                );
        var parts = new NamedParts(edition.Book, edition.Words, Vocabulary.English);
        var question = parts.About(request.Figure);
        if (request.Period is { } period)
            question = question.In(s => s with { Spans = [parts.Period(period)] });
        var (scope, layout, _) = question;
        scope = scope with
        {
            Filters = [.. (request.For ?? []).Select(parts.Member)],
            Bases = request.Kind == "values" ? [] : Bases(edition.Book, parts, request, scope),
        };
        layout = layout with
        {
            Rows = [.. (request.By ?? []).Select(parts.Split)],
            Ranking = request.Top is { } top ? new Ranking(Math.Clamp(top, 1, Ranking.All), RankBy.Size) : null,
        };
        Kind kind = request.Kind switch
        {
            "values" => new Kind.Values(OfRows.Nothing, []),
            "comparison" => new Kind.Comparison(OfRows.Nothing, false),
            "why" => new Kind.Why(false, null),
            "bridge" => new Kind.Bridge(),
            _ => throw Wrong($"“{request.Kind}” is no kind that is put together here.", "Use values, comparison, why or bridge."),
        };
        return QuestionMapping.ToDto(new Question(scope, layout, kind));
    }

    private static ValueList<Side> Bases(Book book, NamedParts parts, ComposeRequest request, Scope scope)
    {
        if (request.Against is { Count: > 0 } named)
            return [.. named.Select(parts.Base)];
        return book.UsualBase(scope.Spans[0], scope.Subject) is { } usual
            ? [usual]
            : throw new CannotAnswerException("The book has nothing to compare with: no budget, and no year before.");
    }

    private static ProblemException Wrong(string because, string remedy) => new(ProblemKinds.RequestUnreadable, because, remedy);
}
