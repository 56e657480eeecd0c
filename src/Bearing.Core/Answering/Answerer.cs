using System.Collections.Immutable;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Bearing.Core.Books;
using Bearing.Core.Commentary;
using Bearing.Core.Questions;
using Bearing.Core.Store;
using Bearing.Core.Variance;

namespace Bearing.Core.Answering;

/// <summary>Question to answer: chooses the rows when none were asked for, has them computed, adds charts, drivers, commentary
/// and proof.</summary>
public sealed partial class Answerer(Book book, IFacts facts)
{
    private readonly Tabulator _tabulator = new(book, facts);
    private readonly NextQuestions _next = new(book);

    /// <exception cref="CannotAnswerException">When the book lacks what is asked for.</exception>
    public async ValueTask<Answer> Answer(Question question, CancellationToken cancel)
    {
        if (question.Scope.Spans.IsEmpty)
            throw new CannotAnswerException("The question names no period, and the book has no actuals to take one from.");
        return await question.Kind.Match(
            _ => AnswerTable(question, cancel),
            _ => AnswerTable(question, cancel),
            _ => AnswerTable(question, cancel),
            _ => AnswerTable(question, cancel),
            entries => AnswerEntries(question, entries, cancel),
            records => AnswerRecords(question, records, cancel),
            projected => AnswerProjection(question, projected, cancel)
        );
    }

    private async ValueTask<Answer> AnswerTable(Question question, CancellationToken cancel)
    {
        // The answer keeps the question as it was put: rows chosen here are not carried into follow-ups.
        var asked = question;
        if (question.Layout.Rows.IsEmpty)
            question = question.Laid(l => l with { Rows = DefaultBreakdowns(asked) });
        var table = await _tabulator.Tabulate(question, cancel);
        RefuseUnplanned(question, table);
        // Drivers and tie-out are those of the book's own currency.
        var drivers =
            question.Layout.Ranking is null && question.Scope.Currency is null && question.Scope.Rates is null
                ? await new DriverSearch(book, facts).Find(question, cancel)
                : null;
        var commentary = new CommentaryWriter(book, question, table).Write(
            drivers,
            await Standouts(question, table, drivers, cancel)
        );
        var charts = await new ChartWriter(book, _tabulator, question, table).Write(cancel);
        var tieOut = await TieOut(question, table, cancel);
        var next = _next.After(question, table.Figure);
        if (IsNothing(question, table, tieOut))
            (commentary, charts, next) = ([new CommentaryWriter(book, question, table).Nothing()], [], _next.Elsewhere(question));
        commentary = commentary.SetItem(0, await new FirstSaid(book, _tabulator, question, table).Before(commentary[0], cancel));
        return new Answer(
            IdOf(asked),
            asked,
            commentary[0].Text,
            table,
            null,
            charts,
            commentary,
            drivers,
            tieOut,
            [.. table.Notes, .. Observations(question, table)],
            next
        )
        {
            Calculation = new CalculationWriter(book, question, table).Write(),
        };
    }

    /// <summary>Nothing was booked and nothing is there to hold it against: that is said, and no picture is drawn of
    /// zeros.</summary>
    private static bool IsNothing(Question question, Tabulation table, TieOut tieOut) =>
        tieOut is { State: TieOutState.Ties, Count: 0 }
        && question.Of is { Claim: null, Statistic: null, Part: null }
        && question is { Layout.Conditions.IsEmpty: true, Beside.IsEmpty: true }
        && table.Grid.Rows.All(r =>
            r.Values.Where((_, i) => table.Grid.Columns[i].Kind is ColumnKind.Subject or ColumnKind.Base)
                .All(v => v.Number is null or 0m)
        );

    /// <summary>A plan without any figure of a statistic or a ratio did not plan it: that is no plan of nothing.</summary>
    private void RefuseUnplanned(Question question, Tabulation table)
    {
        if (
            question.Scope.Bases is not [{ Kind: SideKind.Version } plan]
            || book.Scenario(plan.Scenario) is not { Kind: not ScenarioKind.Actual } scenario
            || table.Figure is SumFigure { IsProfit: true }
        )
            return;
        var grid = table.Grid;
        if (
            grid.Rows.Any(r => grid.Value(r, ColumnKind.Base).Number is not (null or 0m))
            || grid.Rows.All(r => grid.Value(r, ColumnKind.Subject).Number is null or 0m)
        )
            return;
        var others = book
            .Definition.Scenarios.Where(s =>
                s.Kind != ScenarioKind.Actual
                && s.Code != scenario.Code
                && s.Current.Coverage?.Span.Intersect(table.Spans[0]) is not null
            )
            .Select(s => $"versus {s.Name}");
        throw new CannotAnswerException(
            $"{book.NameOf(plan)} has no {table.Figure.Name} for {book.Calendar.NameOf(table.Spans[0])}.",
            [.. others, "versus last year"]
        );
    }

    private async ValueTask<Answer> AnswerProjection(Question question, Kind.Projected projected, CancellationToken cancel)
    {
        var projection = projected.By;
        var table = await new Projector(book, facts).Project(question, projection, cancel);
        var sofar = new Question(
            question.Scope with
            {
                Spans = [table.Spans[0]],
                Bases = [],
            },
            question.Layout with
            {
                Ranking = null,
            },
            new Kind.Values(OfRows.Nothing with { Claim = projected.Claim }, [])
        );
        var tieOut = await TieOut(sofar, await _tabulator.Tabulate(sofar, cancel), cancel);
        var commentary = new ProjectionWriter(book, question, table).Write(projection);
        return new Answer(
            IdOf(question),
            question,
            commentary[0].Text,
            table,
            null,
            [
                await new ChartWriter(book, _tabulator, sofar.In(s => s with { Bases = question.Scope.Bases }), table).Months(
                    cancel
                ),
            ],
            commentary,
            null,
            tieOut,
            table.Notes,
            [.. _next.After(question, table.Figure).Where(n => n != "year to date" && n != "why?")]
        )
        {
            Calculation = new CalculationWriter(book, question, table).Write(),
        };
    }

    /// <summary>Accounts while they can be opened, then entities, then the first dimension that both sides keep.</summary>
    private ImmutableArray<Breakdown> DefaultBreakdowns(Question question)
    {
        if (question.Scope.Bases.Length == 0)
            return [];
        if (
            book.Figure(question.Scope.Figure) is SumFigure sum
            && (sum.Accounts.Length > 1 || book.HasChildren(book.Member(sum.Accounts[0])))
        )
            return [Breakdown.By(book.Accounts.Code, question.Kind is Kind.Why ? LevelOfCauses(question) : null)];
        var open = book
            .Definition.Dimensions.Where(d =>
                d.Role != DimensionRole.Account
                && question.Scope.Filters.All(f =>
                    f.Dimension != d.Code
                    || f.Exclude
                    || f.Members.Length > 1
                    || (book.TryMember(d.Id, f.Members[0], out var m) && book.HasChildren(m))
                )
            )
            .ToList();
        // What is counted is seldom kept by more than entities; a ratio is split by what both of its parts have, which only those
        // are sure to be.
        if (book.Figure(question.Scope.Figure) is PairFigure { Rule: not PairRule.Difference })
            open.RemoveAll(d => d.Role != DimensionRole.Entity);
        var kept = open.FirstOrDefault(d =>
            question
                .Scope.Bases.Prepend(question.Scope.Subject)
                .All(b => Scoping.Keeps(book, b, d, book.Figure(question.Scope.Figure)))
        );
        return kept is null
            ? []
            : [Breakdown.By(kept.Code, question.Scope.Filters.Any(f => f.Dimension == kept.Code) ? null : kept.Levels[^1])];
    }

    /// <summary>Why an account moved shows in its accounts; why a line of the statement moved, in their groups, and in the
    /// accounts of one entity.</summary>
    private string LevelOfCauses(Question question) =>
        question.Scope.Figure.Kind == FigureKind.Account
        || question.Scope.Filters.Any(f => !f.Exclude)
        || book.Accounts.Levels.Length < 2
            ? book.Accounts.Levels[^1]
            : book.Accounts.Levels[^2];

    /// <summary>The shown total against the lines themselves: two routes to the same amount.</summary>
    private async ValueTask<TieOut> TieOut(Question question, Tabulation table, CancellationToken cancel)
    {
        var total = table.Grid.Total;
        if (
            question.Scope.Currency is not null
            || question.Scope.Rates is not null
            || table.Figure is not SumFigure { OverTime: OverTime.Sum } sum
            || table.Grid.Value(total, ColumnKind.Subject).Number is not { } shown
        )
            return new TieOut(TieOutState.NotASum, 0m, 0m, 0);
        var plan = new ComparisonPlan(book, question);
        var filters = Scoping.Filters(book, question.Scope.Filters).Add(Scoping.Accounts(book, sum));
        if (plan.EntityFilter is { } covered)
            filters = filters.Add(covered);
        var subject = plan.Blocks[0].Sides[0];
        var page = await facts.Lines(
            new LineQuery(subject.Version!.Id, subject.Stored, filters, LineOrder.AsLoaded, 0) { WithLoads = true },
            cancel
        );
        var stored = shown * sum.ShownSign;
        return new TieOut(stored == page.Sum ? TieOutState.Ties : TieOutState.Differs, stored, page.Sum, page.Count)
        {
            Loads = page.Loads,
        };
    }

    private IEnumerable<string> Observations(Question question, Tabulation table)
    {
        var grid = table.Grid;
        if (question.Scope.Bases.Length == 0 || table.Figure is not SumFigure)
            yield break;
        var variances = grid.Parts().Select(r => grid.Value(r, ColumnKind.Variance).Number ?? 0m).ToList();
        var (net, gross) = (Math.Abs(variances.Sum()), variances.Sum(Math.Abs));
        if (variances.Count > 1 && gross > 0m && net * 4m < gross)
            yield return $"The parts move in opposite directions: {Amounts.Short(gross, table.Figure)} of movement nets to {Amounts.Short(net, table.Figure)}.";
        if (
            question.Scope.Bases.Any(b => b.Kind == SideKind.Version)
            && question.Scope.Subject == Side.Actual
            && variances.Count > 1
            && variances.All(v => v == 0m)
            && grid.Value(grid.Total, ColumnKind.Subject).Number is not (null or 0m)
        )
            yield return "Actual equals the base in every row: these figures may not be final.";
    }

    private string IdOf(Question question)
    {
        var text = $"{book.Definition.Id}|{book.Edition}|{JsonSerializer.Serialize(question)}";
        return Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)))[..12];
    }
}
