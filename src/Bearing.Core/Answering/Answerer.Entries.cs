using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Commentary;
using Bearing.Core.Questions;
using Bearing.Core.Store;
using Bearing.Core.Variance;

namespace Bearing.Core.Answering;

/// <summary>Ledger lines: those behind a figure, those of a document, and those that stand out behind a driver.</summary>
public sealed partial class Answerer
{
    private const int EntriesShown = 200;

    /// <summary>Lines of the same amount as the last one that are shown beside it.</summary>
    private const int MostTies = 5;
    private const int MonthsOfRoutine = 12;
    private const int LinesOfRoutine = 5;
    private const decimal SizeOfRoutine = 0.75m;

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
        ValueTask<LinePage> Page(int limit) =>
            Lines(slice, order, Math.Min(LineQuery.MostLines, limit), null, question.Layout.Conditions, number, words, cancel);
        var wanted = (question.Layout.Ranking?.Count ?? EntriesShown) + passed;
        var page = await Page(wanted);
        // The largest may be there twice.
        if (question.Layout.Ranking is { By: not RankBy.Name } && page.Next is not null && page.Lines is [.., { } last])
        {
            var further = await Page(wanted + MostTies);
            if (further.Lines.Skip(wanted).TakeWhile(l => l.Amount == last.Amount).Count() is > 0 and var ties)
                page = await Page(wanted + ties);
        }
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

    /// <summary>Evidence for a why: single lines that make up at least half of a driver's actual amount and push the same
    /// way.</summary>
    private async ValueTask<ImmutableArray<StandoutEntry>> Standouts(
        Question question,
        Tabulation table,
        DriverReport? drivers,
        CancellationToken cancel
    )
    {
        var unusual = Unusual(question, table);
        if ((question.Kind is not Kind.Why && unusual is null) || question.Scope.Subject != Side.Actual)
            return [];
        var found = ImmutableArray.CreateBuilder<StandoutEntry>();
        // A result mixes income and costs, so a large line says nothing there: its accounts are looked into instead.
        // The deepest place named, so that a line is held against the one month and member where it sits.
        foreach (
            var driver in (unusual is null ? drivers?.Drivers ?? [] : [unusual])
                .Concat(unusual is null ? drivers?.Offsets ?? [] : [])
                .SelectMany(d =>
                    d.Below.Length == 1 ? [d.Below[0] with { Member = d.Member }]
                    : d.Slice.Figure.Kind == FigureKind.Account ? [d]
                    : d.Below.AsEnumerable()
                )
                .DefaultIfEmpty(Whole(table))
                .OfType<Driver>()
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

    /// <summary>The month that is furthest from what the others come to on average, where that was asked for.</summary>
    private static Driver? Unusual(Question question, Tabulation table)
    {
        var grid = table.Grid;
        if (
            question.Layout is not { Ranking.By: RankBy.Unusual, Rows: [{ Grain: TimeGrain.Month }] }
            || table.Figure is not SumFigure figure
            || table.Spans is not [{ Count: > 1 and var months }]
            || grid.Rows.FirstOrDefault(r => r.Kind == RowKind.Member) is not { } row
            || grid.Value(row, ColumnKind.Subject).Number is not { } subject
            || grid.Value(grid.Total, ColumnKind.Subject).Number is not { } total
        )
            return null;
        var others = (total - subject) / (months - 1);
        return new Driver(
            row.Members[^1] with
            {
                Name = row.Label,
            },
            "",
            subject * figure.ShownSign,
            others * figure.ShownSign,
            (subject - others) * figure.ShownSign,
            row.Slice,
            []
        );
    }

    /// <summary>One cell that nothing splits any further is looked into itself; null where it has no variance.</summary>
    private static Driver? Whole(Tabulation table)
    {
        var (grid, total) = (table.Grid, table.Grid.Total);
        return
            grid.Value(total, ColumnKind.Subject).Number is { } subject
            && grid.Value(total, ColumnKind.Base).Number is { } reference
            && table.Figure is SumFigure figure
            ? new Driver(
                new RowMember(figure.Ref.Kind.ToString(), figure.Ref.Code, figure.Name),
                "",
                subject * figure.ShownSign,
                reference * figure.ShownSign,
                (subject - reference) * figure.ShownSign,
                total.Slice,
                []
            )
            : null;
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
}
