using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
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
    private const int EntriesShown = 200;
    private const int RankedBars = 12;
    private const int MostRowsNamed = 5;
    private const int MonthsOfRoutine = 12;
    private const int LinesOfRoutine = 5;
    private const decimal SizeOfRoutine = 0.75m;
    private readonly Tabulator _tabulator = new(book, facts);

    private const int MostKept = 100;

    /// <summary>Answers of this edition, which never change: the same question in another form, or as the one before a follow-up,
    /// costs nothing.</summary>
    private readonly ConcurrentDictionary<Question, Answer> _kept = [];

    /// <exception cref="CannotAnswerException">When the book lacks what is asked for.</exception>
    public async ValueTask<Answer> Answer(Question question, CancellationToken cancel)
    {
        var plain = question.Laid(l => l with { Display = null });
        if (!_kept.TryGetValue(plain, out var answer))
        {
            answer = await Compute(plain, cancel);
            if (_kept.Count >= MostKept)
                _kept.Clear();
            _kept[plain] = answer;
        }
        return question.Layout.Display is null ? answer : answer with { Question = question };
    }

    private async ValueTask<Answer> Compute(Question question, CancellationToken cancel)
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
        var commentary = new CommentaryWriter(book, question, table).Write(drivers, await Standouts(question, drivers, cancel));
        var charts = await Charts(question, table, cancel);
        var tieOut = await TieOut(question, table, cancel);
        var next = Next(question, table.Figure);
        if (IsNothing(question, table, tieOut))
            (commentary, charts, next) = ([new CommentaryWriter(book, question, table).Nothing()], [], Elsewhere(question));
        if (PartSaid(question, table) is { IsEmpty: false } part)
            commentary = commentary.SetItem(0, commentary[0] with { Segments = commentary[0].Segments.InsertRange(0, part) });
        else if (Summary(question, table) is { } summary)
            commentary = commentary.SetItem(
                0,
                commentary[0] with
                {
                    Segments = commentary[0].Segments.Insert(0, new Segment(summary)),
                }
            );
        if (question.Of.Claim is { Direction: var bigger, Than: { } than })
            commentary = commentary.SetItem(
                0,
                commentary[0] with
                {
                    Segments = commentary[0]
                        .Segments.Insert(0, new Segment(await Against(question, table, than, bigger, cancel))),
                }
            );
        else if (question.Of.Claim is { Direction: var claim } && !IsOfAny(question))
            commentary = commentary.SetItem(0, Verdict(claim, question, table, commentary[0]));
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
            [await Months(sofar.In(s => s with { Bases = question.Scope.Bases }), table, cancel)],
            commentary,
            null,
            tieOut,
            table.Notes,
            [.. Next(question, table.Figure).Where(n => n != "year to date" && n != "why?")]
        )
        {
            Calculation = new CalculationWriter(book, question, table).Write(),
        };
    }

    /// <summary>What was assigned to no member is a row, and nobody that could be counted.</summary>
    private bool IsNobody(RowMember member) =>
        book.TryDimension(member.Dimension, out var dimension) && !book.TryMember(dimension.Id, member.Code, out _);

    /// <summary>Yes where any row meets the condition, and those that do are the answer.</summary>
    private static bool IsOfAny(Question question) =>
        question is { Of.Claim.Of: Quantifier.Any, Layout.Conditions.IsEmpty: false };

    /// <summary>What an average or a count came to, for the headline; null where none was asked for.</summary>
    private string? Summary(Question question, Tabulation table)
    {
        if (table.Counted is { } counted)
        {
            if (question.Layout.Conditions.IsEmpty)
                return FormattableString.Invariant($"{counted.Met:N0} of them have figures. ");
            if (counted.Met == 0)
                return FormattableString.Invariant($"{(IsOfAny(question) ? "No, none" : "None")} of {counted.Of:N0}. ");
            return FormattableString.Invariant(
                $"{(IsOfAny(question) ? "Yes, " : "")}{counted.Met:N0} of {counted.Of:N0}: {Names([.. table.Grid.Rows.Where(r => r.Kind == (question.Layout.InEvery ? RowKind.Subtotal : RowKind.Member) && r.Members.All(m => !IsNobody(m)))])} "
            );
        }
        if (table.Grid.Rows.LastOrDefault(r => r.Kind == RowKind.Summary) is not { } row)
            return null;
        if (question is { Growth: true, Of.Statistic: RowStatistic.Difference })
            return table.Grid.Value(row, ColumnKind.Percent).Number is { } points
                ? FormattableString.Invariant($"{row.Label}: {points:+0.0;minus 0.0} percentage points of growth. ")
                : null;
        if (table.Grid.Value(row, ColumnKind.Subject).Number is not { } value)
            return null;
        return $"{row.Label}: {(value < 0 ? "minus " : "")}{Amounts.Short(value, table.Figure)}. ";
    }

    /// <summary>Yes or no first: of the total, of any or every row where that was said, or where rows are months of every one of
    /// them.</summary>
    private Sentence Verdict(Direction claim, Question question, Tabulation table, Sentence headline)
    {
        var of = question.Of.Claim?.Of;
        var grid = table.Grid;
        if (of == Quantifier.Gap)
            return GapVerdict(claim, table, headline);
        var members = grid.Innermost().Where(r => !r.Members.Any(IsNobody)).ToList();
        var ofTime = members.Exists(r => r.Members.Any(m => m.Dimension == "period"));
        var difference =
            question.Of.Statistic == RowStatistic.Difference ? grid.Rows.LastOrDefault(r => r.Kind == RowKind.Summary) : null;
        var rows =
            difference is not null ? [difference]
            : members.Count > 0 && (of is not null || ofTime) ? members
            : [grid.Total];
        var good = table.Figure is SumFigure { ShownSign: < 0, IsProfit: true } or { Good: GoodDirection.Down } ? -1 : 1;
        bool Holds(Row row)
        {
            if (difference is not null && question.Growth)
                return grid.Value(row, ColumnKind.Percent).Number is { } points && GridWriter.Holds(claim, points, points * good);
            // Without anything to compare with it is above or below zero.
            if (table.Spans.Length > 0 && grid.Columns.All(c => c.Kind != ColumnKind.Base))
                return grid.Value(row, ColumnKind.Subject).Number is { } own && GridWriter.Holds(claim, own, own * good);
            // Held against several, it is so where it is so of each.
            return Enumerable
                .Range(0, Math.Max(1, question.Scope.Bases.Length))
                .All(b =>
                {
                    if (
                        grid.Value(row, ColumnKind.Subject).Number is not { } subject
                        || grid.Value(row, ColumnKind.Base, 0, b).Number is not { } reference
                    )
                        return false;
                    var mark = grid.Value(row, ColumnKind.Mark, 0, b).Mark;
                    return GridWriter.Holds(
                        claim,
                        subject - reference,
                        mark == "F" ? 1m
                            : mark == "U" ? -1m
                            : 0m
                    );
                });
        }
        var holding = rows.Where(Holds).ToList();
        var counted = FormattableString.Invariant(
            $"{(ofTime ? "in " : "")}{holding.Count:N0} of {rows.Count:N0}{(ofTime ? members.TrueForAll(r => r.Members.Length == 1) ? " months" : " rows" : "")}"
        );
        var word = (of, holding.Count) switch
        {
            _ when rows.Count == 1 => holding.Count == 1 ? "Yes. " : "No. ",
            (_, 0) => $"No, {counted}. ",
            (Quantifier.Any, _) => $"Yes, {counted}: {Names(holding)} ",
            var (_, n) when n == rows.Count => $"Yes, {counted}. ",
            (Quantifier.Every, _) => $"No, {counted}; not {Names([.. rows.Except(holding)])} ",
            _ => $"No, {counted}. ",
        };
        return headline with { Segments = headline.Segments.Insert(0, new Segment(word)) };
    }

    /// <summary>Whether the gap is larger, or smaller, in the last month that was added up than in the one before.</summary>
    private static Sentence GapVerdict(Direction claim, Tabulation table, Sentence headline)
    {
        var grid = table.Grid;
        var months = grid.Innermost().Where(r => grid.Value(r, ColumnKind.Variance).Number is not null).TakeLast(2).ToList();
        var word =
            months is [var before, var last]
            && grid.Value(before, ColumnKind.Variance).Number is { } was
            && grid.Value(last, ColumnKind.Variance).Number is { } now
                ? $"{((claim == Direction.Over ? Math.Abs(now) > Math.Abs(was) : Math.Abs(now) < Math.Abs(was)) ? "Yes" : "No")}: the gap was {Amounts.Short(was, table.Figure)} up to {before.Label} and is {Amounts.Short(now, table.Figure)} up to {last.Label}. "
                : "One month alone does not tell. ";
        return headline with { Segments = headline.Segments.Insert(0, new Segment(word)) };
    }

    /// <summary>"Are costs growing faster than revenue?": both by their totals, in percent where growth is claimed.</summary>
    private async ValueTask<string> Against(
        Question question,
        Tabulation table,
        FigureRef than,
        Direction claim,
        CancellationToken cancel
    )
    {
        var kind = question.Growth ? ColumnKind.Percent : ColumnKind.Subject;
        var other = await _tabulator.Tabulate(
            question
                .In(s => s with { Figure = than })
                .Laid(l => l with { Rows = [] })
                .Asking(of => of with { Claim = null, Statistic = null }),
            cancel
        );
        if (
            table.Grid.Value(table.Grid.Total, kind).Number is not { } own
            || other.Grid.Value(other.Grid.Total, kind).Number is not { } its
            || table.Figure.Unit != other.Figure.Unit && !question.Growth
        )
            return $"{table.Figure.Name} and {other.Figure.Name} cannot be held against each other here. ";
        string Said(decimal value, Figure figure) =>
            question.Growth
                ? FormattableString.Invariant($"{figure.Name} {value:+0.0;minus 0.0;0.0} %")
                : $"{figure.Name} {(value < 0 ? "minus " : "")}{Amounts.Short(value, figure)}";
        return $"{(GridWriter.Holds(claim, own - its, own - its) ? "Yes" : "No")}: {Said(own, table.Figure)}, {Said(its, other.Figure)}. ";
    }

    /// <summary>The first of them, by name.</summary>
    private static string Names(IReadOnlyList<Row> rows) =>
        string.Join(
            ", ",
            rows.Take(MostRowsNamed).Select(r => string.Join(" ", r.Members.GroupBy(m => m.Dimension).Select(g => g.Last().Name)))
        ) + (rows.Count > MostRowsNamed ? " …" : ".");

    /// <summary>What a slice's total was made of, line by line.</summary>
    public ValueTask<LinePage> Lines(Slice slice, LineOrder order, int limit, string? cursor, CancellationToken cancel) =>
        Lines(slice, order, limit, cursor, [], null, null, cancel);

    /// <param name="conditions">Limits of the absolute amount of a line.</param>
    /// <param name="document">Its lines on every account, whatever the slice's figure and periods; null for those of the
    /// slice.</param>
    private ValueTask<LinePage> Lines(
        Slice slice,
        LineOrder order,
        int limit,
        string? cursor,
        ImmutableArray<Condition> conditions,
        string? document,
        string? text,
        CancellationToken cancel
    )
    {
        var amounts = conditions.Where(c => c.On == ConditionOn.Amount).ToList();
        var atLeast = amounts.Where(c => !c.IsUpper).Select(c => c.Value).DefaultIfEmpty(0m).Max();
        decimal? atMost = amounts.Exists(c => c.IsUpper) ? amounts.Where(c => c.IsUpper).Min(c => c.Value) : null;
        var figure = book.Figure(slice.Figure)
            ?? throw new CannotAnswerException($"The book has no figure \"{slice.Figure.Code}\".");
        var sum = figure as SumFigure ?? ((PairFigure)figure).Posted;
        if (Scoping.Stored(book, slice.Side, slice.Span) is not { } stored)
            throw new CannotAnswerException($"The book has no figures for {book.NameOf(slice.Side)}.");
        var filters = Scoping.Filters(book, slice.Filters);
        var ends = document?.StartsWith(Kind.Entries.EndOfNumber) == true;
        var query = document is not null
            ? new LineQuery(stored.Version.Id, stored.Version.Coverage?.Span ?? stored.Span, filters, order, limit, cursor)
            {
                Document = ends ? document[1..] : document,
                DocumentEnds = ends,
            }
            : new LineQuery(stored.Version.Id, stored.Span, filters.Add(Scoping.Accounts(book, sum)), order, limit, cursor);
        return facts.Lines(query with { AtLeast = atLeast, AtMost = atMost, Text = text }, cancel);
    }

    private async ValueTask<Answer> AnswerEntries(Question question, Kind.Entries entries, CancellationToken cancel)
    {
        var (number, words, listing) = entries;
        var slice = new Slice(question.Scope.Subject, question.Scope.Spans[0], question.Scope.Figure, question.Scope.Filters);
        var order = (question.Layout.Ranking, listing?.OrderBy, listing?.Descending) switch
        {
            ({ By: not RankBy.Name, Ascending: true }, _, _) or (null, RecordAsk.Amount, false) => LineOrder.Smallest,
            ({ By: not RankBy.Name }, _, _) or (null, RecordAsk.Amount, _) => LineOrder.BySize,
            (_, RecordAsk.Date, true) => LineOrder.Newest,
            (_, RecordAsk.Date, _) => LineOrder.Oldest,
            _ => LineOrder.AsLoaded,
        };
        var passed = question.Layout.Ranking?.Skip ?? 0;
        var page = await Lines(
            slice,
            order,
            Math.Min(LineQuery.MostLines, (question.Layout.Ranking?.Count ?? EntriesShown) + passed),
            null,
            question.Layout.Conditions,
            number,
            words,
            cancel
        );
        if (passed > 0)
            page = page with { Lines = [.. page.Lines.Skip(passed)] };
        if (number is { } document)
            return page.Count == 0 && await Numbered(question, document, cancel) is { } record
                ? record
                : Document(question, document, page);
        var figure = book.Figure(question.Scope.Figure)!;
        var sign = figure is SumFigure s ? s.ShownSign : 1;
        var scope = Scoping.Named(book, question);
        var held = words is { } text ? $" whose text holds “{text}”" : "";
        var headline =
            page.Count == 0
                ? $"There are no {book.NameOf(question.Scope.Subject)} entries for {figure.Name} in {book.Calendar.NameOf(slice.Span)}{scope}{held}."
                : FormattableString.Invariant(
                    $"{page.Count:N0} {book.NameOf(question.Scope.Subject)} entr{(page.Count == 1 ? "y" : "ies")} for {figure.Name} in {book.Calendar.NameOf(slice.Span)}{scope}{held}, {Amounts.Short(page.Sum * sign, figure)} in total."
                );
        var shown =
            page.Lines.Length < page.Count
                ? ImmutableArray.Create(
                    FormattableString.Invariant(
                        $"{page.Lines.Length} of {page.Count:N0} entries {(page.Lines.Length == 1 ? "is" : "are")} shown here; the list can be read on page by page."
                    )
                )
                : [];
        return new Answer(
            IdOf(question),
            question,
            headline,
            null,
            page,
            [],
            [new Sentence(SentenceRole.Headline, [new Segment(headline)])],
            null,
            new TieOut(TieOutState.Ties, page.Sum, page.Sum, page.Count),
            shown,
            ["the 10 largest entries", "by entity", "by month"]
        );
    }

    private Answer Document(Question question, string document, LinePage page)
    {
        if (page.Count == 0)
            throw new CannotAnswerException(
                $"There is no document {(document[0] == Kind.Entries.EndOfNumber ? $"ending in “{document[1..]}”" : $"“{document}”")} among the {book.NameOf(question.Scope.Subject)} entries, and no record of this number."
            );
        var several = page.Lines.Select(l => l.Document).Distinct().ToList();
        var headline =
            several.Count > 1
                ? FormattableString.Invariant(
                    $"{several.Count:N0} documents end like that: {string.Join(", ", several.Take(5))}{(several.Count > 5 ? " …" : "")}; {page.Count:N0} lines in all."
                )
                : FormattableString.Invariant(
                    $"Document {page.Lines[0].Document} has {page.Count:N0} lines; its debits and credits {(page.Sum == 0 ? "balance" : $"differ by {Math.Abs(page.Sum):N2}")}."
                );
        return new Answer(
            IdOf(question),
            question,
            headline,
            null,
            page,
            [],
            [new Sentence(SentenceRole.Headline, [new Segment(headline)])],
            null,
            new TieOut(TieOutState.Ties, page.Sum, page.Sum, page.Count),
            ["Amounts are debits, or in parentheses credits."],
            []
        );
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

    private async ValueTask<ImmutableArray<Chart>> Charts(Question question, Tabulation table, CancellationToken cancel)
    {
        var charts = ImmutableArray.CreateBuilder<Chart>();
        if (question.Scope.Bases.Length > 0 && question.Layout.Rows.Length > 0 && Bridge.From(book, table) is { } bridge)
            charts.Add(
                new Chart(
                    ChartKind.Bridge,
                    $"{table.Figure.Name}: {book.NameOf(question.Scope.Bases[0])} to {book.NameOf(question.Scope.Subject)}",
                    [.. bridge.Steps.Select(s => new ChartPoint(s.Label, s.Amount, null, null, s.Mark, s.Slice, s.Kind))]
                )
            );
        charts.Add(await Months(question, table, cancel));
        var ranked = Ranked(question, table);
        if (ranked.Points.Length > 1)
            charts.Add(ranked);
        return charts.ToImmutable();
    }

    private async ValueTask<Chart> Months(Question question, Tabulation table, CancellationToken cancel)
    {
        var span = table.Spans[0];
        var shown =
            span.Count > 3 ? span
            : FiscalCalendar.YearToDate(span.To).Count >= 3 ? FiscalCalendar.YearToDate(span.To)
            : new PeriodSpan(span.To.AddMonths(-11), span.To);
        var byMonth = await _tabulator.Tabulate(
            question
                .In(s => s with { Spans = [shown], Bases = [.. s.Bases.Take(1)] })
                .Laid(l => l with { Rows = [Breakdown.ByTime(TimeGrain.Month)], Ranking = null }),
            cancel
        );
        var grid = byMonth.Grid;
        return new Chart(
            ChartKind.Months,
            $"{table.Figure.Name} by month",
            [
                .. grid
                    .Rows.Where(r => r.Kind == RowKind.Member)
                    .Select(r => new ChartPoint(
                        book.Calendar.ShortNameOf(r.Slice.Span.From),
                        grid.Value(r, ColumnKind.Subject).Number,
                        grid.Value(r, ColumnKind.Base).Number,
                        grid.Value(r, ColumnKind.Variance).Number,
                        grid.Value(r, ColumnKind.Mark).Mark ?? "",
                        r.Slice
                    )),
            ]
        );
    }

    private static Chart Ranked(Question question, Tabulation table)
    {
        var grid = table.Grid;
        var kind = question.Scope.Bases.Length > 0 ? ColumnKind.Variance : ColumnKind.Subject;
        var rows = grid.Parts()
            .Where(r => r.Kind != RowKind.Other)
            .Select(r => (Row: r, Size: grid.Value(r, kind).Number))
            .Where(r => r.Size is not null)
            .OrderByDescending(r => Math.Abs(r.Size!.Value))
            .Take(RankedBars);
        return new Chart(
            ChartKind.Ranked,
            question.Scope.Bases.Length > 0 ? "Largest variances" : "Largest first",
            [
                .. rows.Select(r => new ChartPoint(
                    r.Row.Label,
                    grid.Value(r.Row, ColumnKind.Subject).Number,
                    grid.Value(r.Row, ColumnKind.Base).Number,
                    grid.Value(r.Row, ColumnKind.Variance).Number,
                    grid.Value(r.Row, ColumnKind.Mark).Mark ?? "",
                    r.Row.Slice
                )),
            ]
        );
    }

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

    /// <summary>Evidence for a why: single lines that make up at least half of a driver's actual amount and push the same
    /// way.</summary>
    private async ValueTask<ImmutableArray<StandoutEntry>> Standouts(
        Question question,
        DriverReport? drivers,
        CancellationToken cancel
    )
    {
        if (question.Kind is not Kind.Why || drivers is null || question.Scope.Subject != Side.Actual)
            return [];
        var found = ImmutableArray.CreateBuilder<StandoutEntry>();
        // A result mixes income and costs, so a large line says nothing there: its accounts are looked into instead.
        // The deepest place named, so that a line is held against the one month and member where it sits.
        foreach (
            var driver in drivers
                .Drivers.Concat(drivers.Offsets)
                .SelectMany(d =>
                    d.Below.Length == 1 ? [d.Below[0] with { Member = d.Member }]
                    : d.Slice.Figure.Kind == FigureKind.Account ? [d]
                    : d.Below.AsEnumerable()
                )
        )
        {
            if (
                driver.Slice.Figure.Kind != FigureKind.Account
                || book.Figure(driver.Slice.Figure) is not SumFigure { IsProfit: true } figure
            )
                continue;
            var page = await Lines(driver.Slice, LineOrder.BySize, 1, null, cancel);
            if (
                page.Lines is [var line]
                && Math.Abs(line.Amount) * 2m >= Math.Abs(driver.Subject)
                && Math.Sign(line.Amount) == Math.Sign(driver.Variance)
                && !await IsRoutine(driver.Slice, line, cancel)
            )
                found.Add(new StandoutEntry(driver, figure, line));
        }
        return found.ToImmutable();
    }

    /// <summary>A rent that is posted every month stands out of nothing, large as it is: one nearly as large stood there in the
    /// year before.</summary>
    private async ValueTask<bool> IsRoutine(Slice slice, Line line, CancellationToken cancel)
    {
        var before = slice with
        {
            Span = new PeriodSpan(slice.Span.From.AddMonths(-MonthsOfRoutine), slice.Span.From.AddMonths(-1)),
        };
        var page = await Lines(before, LineOrder.BySize, LinesOfRoutine, null, cancel);
        return page.Lines.Any(l =>
            Math.Sign(l.Amount) == Math.Sign(line.Amount) && Math.Abs(l.Amount) >= Math.Abs(line.Amount) * SizeOfRoutine
        );
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

    private ImmutableArray<string> Next(Question question, Figure figure)
    {
        var next = new List<string>();
        if (question.Scope.Bases.Length == 0 && book.Latest(ScenarioKind.Budget) is not null)
            next.Add("versus budget");
        if (question.Scope.Bases.Length > 0 && question.Kind is not Kind.Why && figure is SumFigure)
            next.Add("why?");
        foreach (var dimension in book.Definition.Dimensions.Where(d => d.Role != DimensionRole.Account))
            if (
                question.Layout.Rows.All(b => b.Dimension != dimension.Code)
                && question.Scope.Bases.Prepend(question.Scope.Subject).All(b => Scoping.Keeps(book, b, dimension, figure))
                && book.Roots(dimension.Id).Any()
                && next.Count < 4
            )
                next.Add($"by {dimension.Levels[^1].ToLowerInvariant()}");
        if (question.Scope.Spans is [{ Count: 1 }])
            next.Add("year to date");
        if (question.Scope.Bases.All(b => b.Kind != SideKind.PriorYear))
            next.Add("versus last year");
        next.Add("show the entries");
        return [.. next];
    }

    /// <summary>Where something may be, after a question of which there is nothing.</summary>
    private ImmutableArray<string> Elsewhere(Question question)
    {
        var next = new List<string>();
        foreach (var filter in question.Scope.Filters.Where(f => f.Dimension != book.Accounts.Code))
            if (book.TryDimension(filter.Dimension, out var dimension))
                next.Add($"drop the filter, by {dimension.Levels[^1].ToLowerInvariant()}");
        if (question.Scope.Spans is [{ Count: 1 }])
            next.Add("year to date");
        return [.. next];
    }

    private string IdOf(Question question)
    {
        var text = $"{book.Definition.Id}|{book.Edition}|{JsonSerializer.Serialize(question)}";
        return Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)))[..12];
    }
}
