using System.Text.Json;
using System.Text.RegularExpressions;
using Bearing.Contracts;
using Bearing.Core.FirstReading;
using Bearing.Core.Reading;
using Bearing.Data.Books;
using Bearing.Service.Books;
using Bearing.Service.Hosting;
using Bearing.Service.Loading;

namespace Bearing.Service.Asking;

/// <summary>Questions kept under a name and run one after another, with a period or a member put in.</summary>
public static partial class SavedQuestionEndpoints
{
    private const int MostAtOnce = 50;

    public static void MapSavedQuestions(this IEndpointRouteBuilder app)
    {
        var book = app.MapGroup("/api/books/{book}/questions").WithTags("Saved questions");
        book.MapGet("/", (string book, [AsParameters] PageOf page, BookShelf shelf) => page.Of(All(shelf.Get(book)), q => q.Name))
            .WithName("ListQuestions");
        book.MapPut("/{name}", Keep).WithName("KeepQuestion").Produces<SavedQuestion>();
        book.MapDelete("/{name}", (string book, string name, BookShelf shelf) =>
                shelf.Get(book).Questions.Delete(name) ? Results.NoContent() : throw None(name)
            )
            .WithName("RemoveQuestion")
            .Produces(204);
        book.MapPost("/run", Run).WithName("RunQuestions").Produces<IReadOnlyList<RunDto>>();
    }

    private static List<SavedQuestion> All(OpenBook open) => [.. open.Questions.Names().Select(n => Read(open, n))];

    private static SavedQuestion Read(OpenBook open, string name)
    {
        var kept = open.Questions.Read(name) is { } json
            ? JsonSerializer.Deserialize<SavedQuestion>(json, MappingForm.Json)!
            : throw None(name);
        return kept with { Parameters = Parameters(kept.Text) };
    }

    private static SavedQuestion Keep(string book, string name, SavedQuestion question, BookShelf shelf)
    {
        var open = shelf.Get(book);
        var text = (question.Text ?? "").Trim();
        if (!BookShelf.IsId(name))
            throw new ProblemException(
                ProblemKinds.ValueUnusable,
                $"“{name}” cannot be the name of a question.",
                "Use lower-case letters, digits and dashes, for example fuel-by-route."
            );
        if (text.Length is 0 or > FirstReader.LongestText)
            throw new ProblemException(
                ProblemKinds.ValueUnusable,
                text.Length == 0 ? "It has no words." : "It is too long.",
                $"Write it in up to {FirstReader.LongestText:N0} characters."
            );
        open.Questions.Write(name, JsonSerializer.Serialize(new SavedQuestion(name, text), MappingForm.Json));
        return Read(open, name);
    }

    private static async Task<List<RunDto>> Run(string book, RunRequest request, BookShelf shelf, CancellationToken cancel)
    {
        var open = shelf.Get(book);
        var questions = request.Names is { Count: > 0 } names ? names.Select(n => Read(open, n)).ToList() : All(open);
        if (questions.Count == 0)
            throw new ProblemException(ProblemKinds.NoQuestionsKept, "The book keeps no questions yet.", "Keep one first.");
        if (questions.Count > MostAtOnce)
            throw new ProblemException(
                ProblemKinds.TooMany,
                $"{questions.Count} questions would be run; up to {MostAtOnce} are.",
                "Name those that are wanted."
            );
        // What is missing is told before anything is computed.
        var lacking = questions
            .SelectMany(q => q.Parameters!)
            .Distinct()
            .Where(p => request.With?.ContainsKey(p) != true)
            .ToList();
        if (lacking.Count > 0)
            throw new ProblemException(
                ProblemKinds.QuestionIncomplete,
                $"The questions need {string.Join(", ", lacking.Select(p => $"“{p}”"))}.",
                $"Say what stands in its place, for example {lacking[0]}=September 2026."
            );
        var edition = open.Edition();
        var results = new List<RunDto>();
        foreach (var question in questions)
        {
            var text = Braces().Replace(question.Text, m => request.With![m.Groups[1].Value]);
            results.Add(new RunDto(question.Name, text, await AskEndpoints.Ask(open, edition, text, [], cancel)));
        }
        return results;
    }

    private static List<string> Parameters(string text) => [.. Braces().Matches(text).Select(m => m.Groups[1].Value).Distinct()];

    private static ProblemException None(string name) =>
        new(
            ProblemKinds.NoSuchQuestion,
            $"No question “{name}” is kept in this book.",
            "List the kept questions for their names."
        );

    [GeneratedRegex(@"\{([A-Za-z][A-Za-z0-9 -]{0,39})\}")]
    private static partial Regex Braces();
}
