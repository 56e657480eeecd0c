using System.Collections.Immutable;
using System.Text;
using Bearing.Contracts;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Variance;
using Bearing.Data.Books;
using Bearing.Data.Formats;
using Bearing.Data.State;
using Bearing.Service.Books;
using Bearing.Service.Hosting;
using Bearing.Service.Naming;
using Microsoft.EntityFrameworkCore;

namespace Bearing.Service.Asking;

/// <summary>Questions in words or in form, drilling, lines, completion.</summary>
public static class AskEndpoints
{
    private const int MostChoices = 10;
    private const int MostDemands = 6;
    private const int MostNearest = 5;

    public static void MapAsking(this IEndpointRouteBuilder app)
    {
        var book = app.MapGroup("/api/books/{book}").WithTags("Asking");
        book.MapPost(
                "/ask",
                (
                    string book,
                    AskRequest request,
                    BookShelf shelf,
                    IDbContextFactory<StateDb> state,
                    TimeProvider clock,
                    CancellationToken cancel
                ) => Ask(book, request, shelf, state, clock, cancel)
            )
            .WithName("Ask")
            .Produces<AnswerSet>();
        book.MapPost("/ask/reading", HowRead).WithName("ReadQuestion");
        book.MapPost("/answers", Answer).WithName("Answer").Produces<AnswerSet>(200, "application/json", "text/csv");
        book.MapComposing();
        book.MapPost("/drill", Drill).WithName("Drill").Produces<AnswerSet>();
        book.MapLines();
        book.MapGet("/complete", (string book, string text, int? edition, BookShelf shelf) =>
                Complete(shelf.Get(book).Edition(edition), text)
            )
            .WithName("Complete")
            .Produces<CompletionsDto>();
    }

    private static async Task<AnswerSet> Ask(
        string book,
        AskRequest request,
        BookShelf shelf,
        IDbContextFactory<StateDb> state,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var (open, edition) = Open(shelf, book, request.Edition);
        var text = request.Text ?? "";
        if (Picked(request) is { } picked)
            return await Kept(await Compute(edition, Mapping(open, edition), ReadBack(edition, picked), picked, cancel));
        var before = await Earlier(book, request, state, clock, cancel);
        var unknown = new List<string>();
        var set = await Ask(open, edition, text, before, cancel, unknown);
        await WordEndpoints.Count(state, clock, book, text, unknown, cancel);
        return await Kept(set);

        async Task<AnswerSet> Kept(AnswerSet set)
        {
            var steps = (set.Further ?? [])
                .Prepend(set)
                .SelectMany(s => s.Answers)
                .Select((a, i) => new TrailStep(a.Question, text, i > 0 ? true : null))
                .ToList();
            return steps.Count == 0 || text.Length > Reader.LongestText
                ? set
                : set with
                {
                    Trail = await TrailEndpoints.Append(state, clock, book, request.Trail, steps, cancel),
                };
        }
    }

    /// <summary>The questions before this one: those of the talk that it is sent with, then the one that it names itself.</summary>
    private static async Task<IReadOnlyList<QuestionDto>> Earlier(
        string book,
        AskRequest request,
        IDbContextFactory<StateDb> state,
        TimeProvider clock,
        CancellationToken cancel
    ) =>
        [
            .. request.Trail is { } trail
                ? (await TrailEndpoints.Steps(state, clock, book, trail, cancel)).Select(s => s.Question)
                : [],
            .. request.Previous is { } previous ? (QuestionDto[])[previous] : [],
        ];

    private static async Task<ReadingStagesDto> HowRead(
        string book,
        AskRequest request,
        BookShelf shelf,
        IDbContextFactory<StateDb> state,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var (_, edition) = Open(shelf, book, request.Edition);
        var talk = await TalkOf(edition, await Earlier(book, request, state, clock, cancel), cancel);
        return new ReadingStagesDto([
            .. new Reader(edition.Book, edition.Words, Vocabulary.English)
                .How(request.Text ?? "", talk)
                .Select(s => new ReadingStageDto(s.Name, s.Lines)),
        ]);
    }

    /// <summary>After Bearing asked back: the choice meant by its number, or by words that only one of them holds. Null when it
    /// is neither.</summary>
    private static Question? Picked(AskRequest request)
    {
        if (request.Choices is not { Count: > 0 and <= MostChoices } choices)
            return null;
        var words = Words.Tokens(request.Text ?? "");
        var number =
            words is [{ } only]
                ? Vocabulary.English.Find(only.Stem).FirstOrDefault(e => e.Kind == MentionKind.Number).Value ?? only.Text
            : words is [_, _]
            && Vocabulary.English.Find(Words.Phrase(request.Text!)).FirstOrDefault(e => e.Kind == MentionKind.Row).Value
                is { } row
                ? row
            : null;
        if (int.TryParse(number, out var at) && at >= 1 && at <= choices.Count)
            return QuestionMapping.FromDto(choices[at - 1].Question);
        var meant =
            words.Count == 0
                ? []
                : choices.Where(c => words.TrueForAll(w => Words.Tokens(c.Means).Exists(t => t.Stem == w.Stem))).ToList();
        return meant is [var one] ? QuestionMapping.FromDto(one.Question) : null;
    }

    /// <summary>Each demand of the text is answered after the one before, on which it may follow up.</summary>
    /// <param name="unknown">Gets the words that nobody understood; null where nobody counts them.</param>
    internal static async Task<AnswerSet> Ask(
        OpenBook open,
        OpenEdition edition,
        string text,
        IReadOnlyList<QuestionDto> talk,
        CancellationToken cancel,
        List<string>? unknown = null
    )
    {
        var reader = new FirstReader(edition.Book, edition.Words, Vocabulary.English);
        var demands = reader.Demands(text);
        if (demands.Length > MostDemands)
            return Mapping(open, edition)
                .CannotAnswer(
                    null,
                    $"The text asks for {demands.Length} things; up to {MostDemands} can be asked for at once.",
                    []
                );
        var sets = new List<AnswerSet>();
        var before = talk.TakeLast(Talk.Longest).ToList();
        // "Anything odd in fuel" is a question of its own where it can be read as one, and an overview where not.
        if (
            reader.IsOverview(text)
            && new Reader(edition.Book, edition.Words, Vocabulary.English).Read(text, await TalkOf(edition, before, cancel))
                is not null
        )
            demands = [new Demand(text, [])];
        foreach (var demand in demands)
        {
            var set = await Ask(open, edition, reader, demand, before, unknown, cancel);
            sets.AddRange(
                set.Select(s =>
                    demands.Length == 1 ? s : s with { Asked = s.Asked is { } of ? $"{demand.Text} ({of})" : demand.Text }
                )
            );
            if ((set[0].Answers is [{ Question: var answered }, ..] ? answered : set[0].Question) is { } question)
                before.Add(question);
        }
        return sets.Count == 1 ? sets[0] : sets[0] with { Further = sets[1..] };
    }

    /// <summary>One set, or one for each of several figures.</summary>
    private static async Task<List<AnswerSet>> Ask(
        OpenBook open,
        OpenEdition edition,
        FirstReader reader,
        Demand demand,
        List<QuestionDto> before,
        List<string>? unknown,
        CancellationToken cancel
    )
    {
        var mapping = Mapping(open, edition);
        var talk = await TalkOf(edition, before, cancel);
        var turn = talk.Last;
        var previous = turn is null
            ? null
            : new Previous(FormOne.FromKinds(turn.Question), turn.Grid ?? new Grid([], [], "", 2)) { Records = turn.Records };
        using var reading = Telemetry.Span("bearing.read", edition.Book.Definition.Id);
        var result = (
            demand.Shared.IsDefaultOrEmpty
                ? new Reader(edition.Book, edition.Words, Vocabulary.English).Read(demand.Text, talk)
                : null
        ) ?? reader.Read(demand.Text, previous, demand.Shared);
        reading?.Stop();
        Telemetry.CountReading(WireText.Name(result.Outcome));
        unknown?.AddRange(result.Unknown);
        var sets = new List<AnswerSet> { await First() };
        if (sets[0].Outcome == AnswerMapping.NoAnswer)
            sets[0] = sets[0] with { Nearest = await Nearest(edition, reader, demand, sets[0], previous, cancel) };
        foreach (var also in result.Also.Select(q => q.ToKinds()))
            sets.Add(
                await Compute(edition, mapping, ReadBack(edition, also), also, cancel) with
                {
                    Asked = edition.Book.Figure(also.Scope.Figure)?.Name,
                }
            );
        if (sets.Count > 1)
            sets[0] = sets[0] with { Asked = edition.Book.Figure(result.Question!.Figure)?.Name };
        return sets;

        async Task<AnswerSet> First() =>
            result.Outcome switch
            {
                ReadingOutcome.Understood => await Compute(edition, mapping, result.Reading, result.Question!.ToKinds(), cancel),
                ReadingOutcome.GoesBack or ReadingOutcome.StartsAfresh => mapping.Walk(result.Outcome),
                ReadingOutcome.Help => mapping.Help(result.Because!, result.Nearest),
                ReadingOutcome.AsksBack => mapping.AsksBack(result.Reading, result.Choices, result.Because),
                _ => mapping.CannotAnswer(result.Reading, result.Because!, result.Nearest) with
                {
                    Unknown = result.Unknown.IsEmpty ? null : result.Unknown,
                },
            };
    }

    /// <summary>What is offered instead of an answer is tried first: each of these has one.</summary>
    private static async Task<IReadOnlyList<string>> Nearest(
        OpenEdition edition,
        FirstReader reader,
        Demand demand,
        AnswerSet set,
        Previous? previous,
        CancellationToken cancel
    )
    {
        var nearest = new List<string>();
        foreach (
            var (text, question) in reader.Nearest(demand.Text, set.Nearest, [.. set.Unknown ?? []], previous, demand.Shared)
        )
        {
            if (nearest.Count == MostNearest)
                break;
            if (!nearest.Contains(text) && await HasAnswer(edition, question.ToKinds(), cancel))
                nearest.Add(text);
        }
        return nearest;
    }

    private static async Task<bool> HasAnswer(OpenEdition edition, Question question, CancellationToken cancel)
    {
        try
        {
            await edition.Answer(question, cancel);
            return true;
        }
        catch (CannotAnswerException)
        {
            return false;
        }
    }

    private static async Task<IResult> Answer(
        string book,
        AnswerRequest request,
        HttpRequest http,
        BookShelf shelf,
        CancellationToken cancel
    )
    {
        var (open, edition) = Open(shelf, book, request.Edition);
        var question = QuestionMapping.FromDto(request.Question);
        var answers = await Compute(edition, Mapping(open, edition), ReadBack(edition, question), question, cancel);
        return AnswerCsv.IsWanted(http) && answers.Answers is [{ } answer] && AnswerCsv.Table(answer) is { } text
            ? Results.Text(text, "text/csv", Encoding.UTF8)
            : Results.Ok(answers);
    }

    private static async Task<AnswerSet> Drill(string book, DrillRequest request, BookShelf shelf, CancellationToken cancel)
    {
        var (open, edition) = Open(shelf, book, request.Edition);
        var slice = Slice.Parse(request.Slice);
        var question = QuestionMapping
            .FromDto(request.Question)
            .In(s => s with { Figure = slice.Figure, Filters = slice.Filters, Spans = [slice.Span] })
            .Laid(l => l with { Ranking = null, Rows = By(request.By) })
            // What was a row is now all that is shown.
            .Asking(of => of with { Part = null });
        if (question.Kind is Kind.Entries)
            question = question with
            {
                Kind = question.Scope.Bases.IsEmpty
                    ? new Kind.Values(OfRows.Nothing, [])
                    : new Kind.Comparison(OfRows.Nothing, false),
            };
        return await Compute(edition, Mapping(open, edition), ReadBack(edition, question), question, cancel);
    }

    private static CompletionsDto Complete(OpenEdition edition, string text)
    {
        var completions = new Completer(edition.Book, edition.Words, Vocabulary.English).Complete(
            text.Length > FirstReader.LongestText ? "" : text
        );
        return new CompletionsDto(
            completions.From,
            [
                .. completions.Items.Select(i => new CompletionDto(
                    i.Kind.ToString().ToLowerInvariant(),
                    i.Text,
                    i.Insert,
                    i.Detail
                )),
            ]
        );
    }

    private static async Task<AnswerSet> Compute(
        OpenEdition edition,
        AnswerMapping mapping,
        Reading? reading,
        Question question,
        CancellationToken cancel
    )
    {
        using var span = Telemetry.Span("bearing.answer", edition.Book.Definition.Id);
        try
        {
            return mapping.Answered(reading, await edition.Answer(question, cancel));
        }
        catch (CannotAnswerException e)
        {
            return mapping.CannotAnswer(reading, e.Message, e.Nearest, question);
        }
    }

    private static async Task<Talk> TalkOf(OpenEdition edition, IReadOnlyList<QuestionDto> before, CancellationToken cancel)
    {
        var turns = ImmutableArray.CreateBuilder<Turn>();
        foreach (var question in before.TakeLast(Talk.Longest))
            turns.Add(await Before(edition, QuestionMapping.FromDto(question), cancel));
        return new Talk(turns.ToImmutable());
    }

    private static async Task<Turn> Before(OpenEdition edition, Question question, CancellationToken cancel)
    {
        try
        {
            var answer = await edition.Answer(question, cancel);
            return new Turn(answer.Question, answer.Table?.Grid, answer.Records) { Drivers = answer.Drivers };
        }
        catch (CannotAnswerException)
        {
            // The scope is kept even when the question before had no answer.
            return new Turn(question, null, null);
        }
    }

    /// <summary>A question by hand reads back in words like any other.</summary>
    private static Reading ReadBack(OpenEdition edition, Question question) =>
        new ReadingWriter(edition.Book).Write(FormOne.FromKinds(question));

    private static ImmutableArray<Breakdown> By(string? by)
    {
        if (string.IsNullOrEmpty(by))
            return [];
        var parts = by.Split(':', 2);
        return [QuestionMapping.ToBreakdown(parts[0], parts.Length > 1 ? parts[1] : null)];
    }

    internal static (OpenBook Open, OpenEdition Edition) Open(BookShelf shelf, string book, int? edition)
    {
        var open = shelf.Get(book);
        return (open, open.Edition(edition));
    }

    internal static AnswerMapping Mapping(OpenBook open, OpenEdition edition)
    {
        var files = new Lazy<Dictionary<int, string>>(() => open.Store.Loads().ToDictionary(l => l.Load, l => l.File));
        return new AnswerMapping(edition.Book, load => files.Value.GetValueOrDefault(load, ""));
    }
}
