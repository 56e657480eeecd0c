using System.Collections.Immutable;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>Records and journals, and what lists of any kind would pass over in silence.</summary>
internal sealed partial class Resolver
{
    /// <summary>Records or journals, of the period said or up to the current one.</summary>
    private FormOneQuestion Recorded(Draft draft, FormOneQuestion? before)
    {
        AskOfOne(draft, before);
        var (figure, accounts) = Figure(draft);
        // "Journals on payroll accounts" are those on payroll.
        if (draft.Figures.Count > 0)
            draft.Breakdowns.RemoveAll(b => b.Dimension == book.Accounts.Code);
        // "What part of that is overdue", of what was shown.
        if (before?.Records is not null && draft.Checks.Count > 0)
            draft.Share = false;
        RefuseBesideRecords(draft);
        RefuseDays(draft, figure ?? before?.Figure);
        var reading = new RecordReading(book, vocabulary);
        var ask = AskOf(draft, before, reading, figure);
        var currency = draft.Currency is { } other
            ? CurrencyOf(
                other,
                new FormOneQuestion { Figure = new FigureRef(FigureKind.Account, ""), Filters = [.. draft.Filters] }
            )
            : before?.Currency;
        if (currency is not null && book.Table(ask.Table)?.Currency is null)
            throw new CannotAnswerException(
                $"{(ask.Table == Table.Ledger ? "Journals" : book.Table(ask.Table)!.Name)} do not tell the currency of their amounts, so they are not converted."
            );
        // "Who approved them", after a figure: the journals that it is made of.
        if (before is { Records: null } && ask.Table == Table.Ledger)
            (ask, before) = (
                ask with
                {
                    OfFigure = book.Figure(before.Figure) is not null,
                },
                before with
                {
                    Ranking = null,
                    Conditions = [],
                    Listing = null,
                }
            );
        var picked =
            ask.By.IsEmpty && before is { Ranking.Count: < Questions.Ranking.All, Records.By: [var of] } && draft.Rank is null
                ? Picked(of.Field, before.Ranking)
                : null;
        if (picked?.Test is { } test)
            ask = ask with { Tests = ask.Tests.Add(test) };
        var now = book.CurrentPeriod
            ?? throw new CannotAnswerException("The book has no ledger yet, so there is no day to look from.");
        // What is due lies ahead or not long behind: of the Octobers the nearest one is meant.
        if (
            draft.Checks.Any(c => c is "due" or "overdue" or "open" or "ageing")
            || draft.DayOf is { Kind: MentionKind.Field } field && reading.DayOf(ask, field) == TryDue(ask)
        )
            for (var i = 0; i < draft.Periods.Count; i++)
                while (draft.Periods[i] is { YearGiven: false } ahead && now.Ordinal - ahead.Span.To.Ordinal > 6)
                    draft.Periods[i] = ahead with { Span = ahead.Span.AddMonths(12), Days = ahead.Days?.NextYear };
        var spans = draft.Periods.Count > 0 ? [OnePeriod(Spans(draft))] : before?.Spans ?? [FiscalCalendar.YearToDate(now)];
        if (draft.Periods.Count > 0)
            ask = OfDays(ask, draft, reading, spans[0]);
        else if (before is null)
            _assumed.Add(
                ask.Table == Table.Ledger
                    ? $"{book.Calendar.NameOf(spans[0])}, the year to date, since no period was named"
                    : $"as at the end of {book.Calendar.NameOf(spans[0].To)}"
            );
        _assumed.AddRange(reading.Assumed);
        return new FormOneQuestion
        {
            Intent = Intent.Records,
            Figure = figure
                ?? before?.Figure
                ?? book.Result
                ?? throw new CannotAnswerException("The book has no accounts yet. Load the accounts first."),
            Spans = spans,
            Filters =
            [
                .. (before?.Filters ?? [])
                    .Where(f => draft.Filters.All(n => n.Dimension != f.Dimension))
                    .Concat(Merge(draft.Filters))
                    .Concat(accounts)
                    .Concat(picked?.Filter is { } only ? [only] : []),
            ],
            Ranking = picked is not null ? null : RankingOfRecords(draft, before, ask),
            Conditions = draft.Conditions.Count > 0 ? [.. draft.Conditions] : before?.Conditions ?? [],
            Listing = reading.Listing(ask, draft, before?.Listing, reading.FirstDay(ask)),
            Records = ask,
            Currency = currency,
            Display = draft.View is View.Csv or View.Json ? new Display(draft.View) : null,
        };
    }

    /// <summary>What is asked of which records, and what would be passed over if it were answered.</summary>
    private RecordAsk AskOf(Draft draft, FormOneQuestion? before, RecordReading reading, FigureRef? figure)
    {
        // A book without records says that first: of invoices by account there can be none.
        if (
            reading.IsOfRecords(draft)
            && figure is not null
            && book.Figure(figure) is SumFigure { OverTime: OverTime.Sum } sum
            && book.Tables.Where(t => t.Code != Table.Ledger).ToList() is { Count: > 0 } kept
        )
            throw NotByAccount(sum, kept, draft);
        var ask =
            before?.Records is { } asked && reading.IsOf(asked, draft)
                ? reading.Edit(asked, draft)
                : (before?.Records is { } other ? reading.Carried(other, draft) : null) ?? reading.Ask(draft);
        if (ask is { Table: Table.Ledger, By.IsEmpty: true } && draft is { WhoDid: false, Which: true })
            RefuseWho(draft);
        // "Their invoices" are those of the table that was shown.
        if (before?.Records is { } shown && shown.Table != ask.Table)
            _cost += OtherTable;
        if (ask.By.IsEmpty && draft.Conditions.Exists(c => c.On == ConditionOn.Count))
            throw new CannotAnswerException(
                "A limit of how many there are is one of what they are gathered by. Say it, as in “suppliers with more than 10 open invoices”."
            );
        if (
            ask.Table != Table.Ledger
            && book.Table(ask.Table) is { } table
            && draft.Filters.Find(f => table.Fields.All(x => x.Dimension != f.Dimension)) is { } foreign
        )
            throw new CannotAnswerException(
                $"{table.Name} are not kept by {(book.TryDimension(foreign.Dimension, out var d) ? d.Name.ToLowerInvariant() : foreign.Dimension)}."
            );
        // "At month end" says when, unless journals are spoken of.
        if (ask.Table == Table.Ledger && draft.Checks is ["month-end"] && draft.Intent != Intent.Entries)
            _cost += FieldAlone;
        // What grows old is an invoice before it is a journal.
        if (
            ask.Table == Table.Ledger
            && draft.Records is null
            && before is null
            && draft.FieldTests.Exists(t => t is { Kind: RecordTestKind.DaysAfter, Field: null })
            && draft.Figures.Count > 0
            && book.Tables.Any(t => t.Code != Table.Ledger)
        )
            _cost += OtherTable;
        if (
            ask.Table == Table.Ledger
            && draft.Figures is [var one]
            && book.Figure(one) is SumFigure counted
            && counted.Unit != book.Definition.Currency
        )
            throw new CannotAnswerException(
                $"{counted.Name} is counted by month; no journal is posted on it, and it has no days.",
                $"{counted.Name} by month"
            );
        // "Open receivables" are not supplier invoices: what is owed to us has records of its own, or none.
        if (
            (ask.Table != Table.Ledger || draft.FieldTests.Exists(t => t is { Kind: RecordTestKind.DaysAfter, Field: null }))
            && draft.Records is null
            && before is null
            && figure is not null
            && book.Figure(figure) is SumFigure { OverTime: OverTime.Closing } owed
            && book.Member(owed.Accounts[0]).Account?.Type == AccountType.Asset
        )
            throw new CannotAnswerException(
                $"{owed.Name} are kept as an account; the book holds no records of receivables one by one.",
                $"{owed.Name} by {book.Entities.Name.ToLowerInvariant()}"
            );
        return ask;
    }

    /// <summary>Those of the months that were said, by the day that was spoken of.</summary>
    private RecordAsk OfDays(RecordAsk ask, Draft draft, RecordReading reading, PeriodSpan span)
    {
        // What is open is so at the end of a period; "open since November" is of these months. A list that speaks of no state is
        // one of the records of them.
        var stateOf = ask.Due is not null || ask.Tests.Any(t => t.Kind is RecordTestKind.Open or RecordTestKind.Overdue);
        if (draft.Periods is [{ Days: { } days }])
        {
            var own =
                draft.DayOf is { } of ? reading.DayOf(ask, of) ?? (draft.Checks.Contains("settled") ? ask.PaidOn : null)
                : draft.Checks.Contains("due") ? reading.DueOf(ask)
                : null;
            // A field of amounts has no day: "paid" is then what was done.
            if (own is null && draft.DayOf is { Kind: MentionKind.Field, Value: not RecordAsk.Date })
                _cost += FieldAlone;
            if (stateOf && own is null && days.Single is { } then)
                return ask with { AsAt = then };
            return ask with
            {
                AsAt = null,
                Tests =
                [
                    .. ask.Tests.Where(t => t.Kind is not (RecordTestKind.During or RecordTestKind.Days)),
                    new RecordTest(
                        RecordTestKind.Days,
                        own
                            ?? (ask.Table == Table.Ledger ? RecordAsk.Date : reading.FirstDay(ask))
                            ?? throw new CannotAnswerException(
                                $"{book.Table(ask.Table)?.Name ?? ask.Table} have no date, so they cannot be picked by their days."
                            ),
                        days.Name,
                        days.ToString()
                    ),
                ],
            };
        }
        ask = ask with { AsAt = null };
        if (ask.Table != Table.Ledger && (!stateOf || draft.Periods.Exists(p => p.Since)) && reading.FirstDay(ask) is { } first)
            ask = During(ask, first, span);
        if (
            draft.DayOf is { } dayOf
            && (reading.DayOf(ask, dayOf) ?? (draft.Checks.Contains("settled") ? ask.PaidOn : null)) is { } said
        )
            ask = During(ask, said, span);
        return draft.Checks.Contains("due") && reading.DueOf(ask) is var due ? During(ask, due, span) : ask;
    }

    private static Ranking? RankingOfRecords(Draft draft, FormOneQuestion? before, RecordAsk ask)
    {
        if (draft.Rank is { Further: true } && before?.Ranking is { } go)
            return go with { Skip = go.Skip + go.Count };
        if (draft.Row is "largest" or "smallest")
            return new Ranking(1, RankBy.Size, draft.Row == "smallest");
        return draft.Rank is not { } rank
            ? before?.Ranking
            : new Ranking(
                Math.Clamp(rank.Number ?? DefaultRanking, 1, 1000),
                rank.Order == Composer.Listed || rank.AsShown ? RankBy.Name : RankBy.Size,
                rank.Order is "smallest",
                rank.Skip
            )
            {
                Within = draft.RankEach,
                Pairs = ask.By.Length > 1 && !rank.OfLevel && !draft.RanksField && !draft.RankEach && !draft.Which,
            };
    }

    /// <summary>"Fuel by supplier", "open fuel invoices", where only records tell the supplier, and no records the
    /// account.</summary>
    private CannotAnswerException NotByAccount(SumFigure figure, List<Table> tables, Draft draft)
    {
        var having = tables.FindAll(t =>
            draft.ByFields.TrueForAll(b => RecordWords.FieldOf(t.Fields, vocabulary, b.Field) is not null)
        );
        var names = string.Join(" and ", (having.Count > 0 ? having : tables).Select(t => t.Name));
        var entries = $"{figure.Name} entries";
        if (draft.ByField is not { } said || having.Count == 0)
            return new CannotAnswerException(
                $"{names} do not tell which account they were for, so those of {figure.Name} cannot be picked out. The ledger's entries can.",
                [
                    .. draft
                        .Breakdowns.Take(1)
                        .Select(b => $"{figure.Name} by {(b.Grain?.ToString() ?? b.Level ?? b.Dimension!).ToLowerInvariant()}"),
                    entries,
                ]
            );
        var by = having[0].Field(RecordWords.FieldOf(having[0].Fields, vocabulary, said)!)!.Name.ToLowerInvariant();
        return new CannotAnswerException(
            $"{figure.Name} is not kept by {by}; {names} are, and do not tell which account they were for.",
            $"{having[0].Name} by {by}",
            entries
        );
    }

    /// <summary>"Who is it from", "when was it due", after one record: that record, with what was asked.</summary>
    private void AskOfOne(Draft draft, FormOneQuestion? before)
    {
        if (
            before?.Records is not { By.IsEmpty: true, CountOnly: false }
            || previous?.Records is not { Rows.Length: 1 }
            || draft.Records is not null
            || draft.Figures.Count + draft.Filters.Count + draft.Periods.Count + draft.Breakdowns.Count + draft.Values.Count > 0
        )
            return;
        if (
            (
                draft.ByField
                ?? draft.Field?.Value
                ?? (
                    draft.Checks is ["due"] ? "due"
                    : draft.Who && draft.Checks.Count == 0 ? "party"
                    : null
                )
            )
            is not { } field
        )
            return;
        if (draft.Field is { } named)
            draft.Unplaced.RemoveAll(i => i >= named.Start && i < named.End);
        (draft.Which, draft.Who, draft.WhoDid, draft.Field) = (false, false, false, null);
        draft.ByFields.Clear();
        draft.Checks.Clear();
        draft.Columns = [.. ((string[])["key", field, RecordAsk.Amount]).Distinct()];
    }

    /// <summary>"Their invoices", of those that the list before was gathered down to.</summary>
    private (Filter? Filter, RecordTest? Test)? Picked(string by, Ranking ranking)
    {
        var names = previous?.Records is { } list
            ? list
                .Rows.Take(ranking.Count)
                .Select(r => r.Values.FirstOrDefault())
                .OfType<string>()
                .Where(n => n.Length > 0)
                .Distinct()
                .ToList()
            : [];
        if (names.Count == 0)
            return null;
        _assumed.Add(
            names is [var first]
                ? $"those of {first}, the first of the last answer"
                : $"those of {string.Join(", ", names)}, of the last answer"
        );
        var members = book.TryDimension(by, out var dimension)
            ? names
                .Select(n => book.MembersOf(dimension.Id).FirstOrDefault(m => m.Name == n))
                .OfType<Member>()
                .Select(m => m.Code)
                .ToImmutableArray()
            : [];
        return members.Length == names.Count
            ? (new Filter(by, members), null)
            : (null, new RecordTest(RecordTestKind.Is, by, null, string.Join(RecordTest.Or, names)));
    }

    private string? TryDue(RecordAsk ask) =>
        book.Table(ask.Table) is { } table ? RecordWords.FieldOf(table.Fields, vocabulary, "due") : null;

    /// <exception cref="CannotAnswerException">Days of what has none, or two runs of days.</exception>
    private void RefuseDays(Draft draft, FigureRef? figure)
    {
        if (!draft.OfDays)
            return;
        if (draft.Periods.Count > 1)
            throw new CannotAnswerException(
                "Records and journals are listed for one run of days at a time. Ask for the one first and for the other after it."
            );
        if (
            figure is not null && book.Figure(figure) is { } of and not SumFigure { OverTime: OverTime.Sum }
            || (draft.Figures.Count > 0 && figure is not null && book.Figure(figure)?.Unit != book.Definition.Currency)
        )
            throw new CannotAnswerException(
                $"{book.Figure(figure!)!.Name} is told by month, and not by day. Entries of accounts have their days.",
                $"{book.Figure(figure!)!.Name} in {book.Calendar.NameOf(draft.Periods[0].Span.To)}"
            );
    }

    private RecordAsk During(RecordAsk ask, string day, PeriodSpan span) =>
        ask with
        {
            Tests =
            [
                .. ask.Tests.Where(t => t.Kind != RecordTestKind.During),
                new RecordTest(RecordTestKind.During, day, book.Calendar.NameOf(span), span.ToString()),
            ],
        };

    /// <summary>Months that follow each other are one period; others have to be asked for one after the other.</summary>
    private PeriodSpan OnePeriod(ImmutableArray<PeriodSpan> spans)
    {
        var ordered = spans.OrderBy(s => s.From).ToList();
        return Enumerable.Range(1, ordered.Count - 1).All(i => ordered[i].From <= ordered[i - 1].To.AddMonths(1))
            ? new PeriodSpan(ordered[0].From, ordered.Max(s => s.To))
            : throw new CannotAnswerException(
                $"Journals and records are listed for one period at a time, not for {string.Join(" and ", spans.Select(book.Calendar.NameOf))}."
            );
    }

    private void RefuseBesideRecords(Draft draft)
    {
        if (draft.Statistic == RowStatistic.Count && draft.ByFields.Count + draft.Breakdowns.Count > 1)
            throw new CannotAnswerException(
                "Those that differ are counted over everything that is asked for, not within each of something else. Ask for one of them, as in “how many … of” and its name."
            );
        var beside =
            draft.Bases.Count > 0 || draft.BasePeriod is not null || draft.Scenarios.Any(s => s != Book.ActualCode)
                ? "a comparison or a plan"
            : draft.Share ? "shares"
            : draft.Growth ? "growth"
            : draft.Cumulative ? "cumulative sums"
            : draft.Chart ? "a chart"
            : draft.Unit is not null ? "what is earned, a percentage or a balance"
            : draft.Sign != 0 ? "what is above or below zero"
            : draft.Projection is not null ? "a projection"
            : draft.Intent is Intent.Why or Intent.Bridge ? "a cause"
            : draft.Conditions.Any(c => c.On is not (ConditionOn.Amount or ConditionOn.Count)) ? "a percentage"
            : null;
        if (beside is not null)
            throw new CannotAnswerException(
                $"Journals and records are listed, counted, gathered and aged as they are; {beside} does not apply to them.",
                [
                    .. book
                        .Tables.Where(t =>
                            t.Code != Table.Ledger
                            && draft.ByField is { } by
                            && RecordWords.FieldOf(t.Fields, vocabulary, by) is not null
                        )
                        .Take(1)
                        .Select(t =>
                            $"{t.Name} by {t.Field(RecordWords.FieldOf(t.Fields, vocabulary, draft.ByField!)!)!.Name.ToLowerInvariant()}"
                        ),
                ]
            );
    }

    private static readonly string[] UsualColumns = [RecordAsk.Date, "key", RecordAsk.Text, RecordAsk.Amount];

    /// <summary>Columns and order of a list of entries: their own fields, dimensions, and what their files brought
    /// besides.</summary>
    private Listing? ListingOfEntries(Draft draft, Listing? before)
    {
        if (draft.Order is null && draft.Columns.IsEmpty)
            return before;
        var fields = book.Table(Table.Ledger)?.Fields ?? [];
        string Code(string said) =>
            said switch
            {
                "key" or "document" => RecordAsk.Document,
                RecordAsk.Date or RecordAsk.Amount or RecordAsk.Text => said,
                _ when book.TryDimension(said, out var dimension) => dimension.Code,
                _ => RecordWords.FieldOf(fields, vocabulary, said)
                    ?? throw new CannotAnswerException(
                        $"Entries have no “{said.Replace('-', ' ')}”; they have date, document, amount, text, {string.Join(", ", book.Definition.Dimensions.Select(d => d.Name).Concat(fields.Select(f => f.Name)).Select(n => n.ToLowerInvariant()))}."
                    ),
            };
        var listing = (before ?? new Listing([])) with
        {
            Columns = draft.Columns.IsEmpty
                ? before?.Columns ?? []
                : [.. (draft.ColumnsBeside ? UsualColumns : []).Concat(draft.Columns).Select(Code).Distinct()],
        };
        return draft.Order is not { } order
            ? listing
            : order.By switch
            {
                "size" => listing with { OrderBy = RecordAsk.Amount, Descending = order.Descending },
                "day" => listing with { OrderBy = RecordAsk.Date, Descending = order.Descending },
                "field" when Code(order.Field!) is (RecordAsk.Date or RecordAsk.Amount) and var field => listing with
                {
                    OrderBy = field,
                    Descending = order.Descending || field == RecordAsk.Amount,
                },
                _ => throw new CannotAnswerException(
                    "Entries go by date or by amount, up or down.",
                    "newest first",
                    "largest first"
                ),
            };
    }

    /// <summary>"Spend with …", where only invoices tell with whom: passed over, it would be all spend.</summary>
    private void RefuseValues(Draft draft)
    {
        if (draft.OfRecords || previous?.Question.Records is not null || draft.Values is not [var value, ..])
            return;
        // "Disputed by supplier": where no figure is named, records that say so are meant.
        if (
            draft.Figures.Count == 0
            && !draft.ResultNamed
            && draft.Intent is null or Intent.Value
            && draft.Values.ConvertAll(v => v.Split('/')[0]).Distinct().ToList() is [var of]
            && of != Table.Ledger
            && book.Table(of) is not null
            && draft.Values.TrueForAll(v => v.Contains('/', StringComparison.Ordinal))
        )
        {
            draft.Records = of;
            return;
        }

        if (value.Split('/', '=') is not [var code, var field, var text])
            throw new CannotAnswerException($"Figures do not tell which are “{value}”; entries may.", $"{value} entries");
        var table = book.Table(code);
        var ledger = code == Table.Ledger;
        throw new CannotAnswerException(
            $"Figures are not kept by {(table?.Field(field)?.Name ?? field).ToLowerInvariant()}; “{text}” stands in {(ledger ? "the ledger's lines" : table?.Name ?? code)} only.",
            ledger ? $"{text} entries" : $"{table?.Name ?? code} {text}"
        );
    }

    /// <summary>Suppliers, clients or the like; those first with whom money is spent.</summary>
    private IEnumerable<Dimension> Parties =>
        book
            .Definition.Dimensions.Where(d =>
                d.Role == DimensionRole.Other
                && d.OtherNames.Append(d.Name).Append(d.Code).Any(n => vocabulary.Fields["party"].Contains(Words.Phrase(n)))
            )
            .OrderBy(IsBuyer);

    /// <summary>With whom money is spent: suppliers or the like.</summary>
    /// <exception cref="CannotAnswerException">When the ledger is not kept by anything of the kind.</exception>
    private Breakdown Party()
    {
        return Parties.FirstOrDefault(p => !IsBuyer(p)) is { } dimension
            ? Breakdown.By(dimension.Code, dimension.Levels[^1])
            : throw new CannotAnswerException(
                "The ledger is not kept by suppliers or the like, so it does not tell with whom.",
                [
                    .. book
                        .Tables.Where(t =>
                            t.Code != Table.Ledger && RecordWords.FieldOf(t.Fields, vocabulary, "party") is not null
                        )
                        .Select(t =>
                            $"{t.Name} by {t.Field(RecordWords.FieldOf(t.Fields, vocabulary, "party")!)!.Name.ToLowerInvariant()}"
                        ),
                ]
            );
    }

    private static Listing? NoColumns(Draft draft) =>
        draft.Columns.IsEmpty
            ? null
            : throw new CannotAnswerException(
                "Columns can be chosen for lists of entries and of records; a table of figures has those that the question needs."
            );

    private static void RefuseWho(Draft draft)
    {
        if (draft.Who && draft.Columns.IsEmpty)
            throw new CannotAnswerException(
                "Entries tell who prepared and who approved them. Say which of the two is meant.",
                "who prepared the most journals",
                "who approved the most journals"
            );
    }

    /// <summary>What a list of entries would pass over.</summary>
    private static void RefuseBesideEntries(Draft draft)
    {
        RefuseWho(draft);
        var beside =
            draft.Bases.Count > 0 || draft.BasePeriod is not null || draft.Scenarios.Count > 1 ? "a comparison"
            : draft.Share ? "shares"
            : draft.Growth || draft.OverTime ? "growth"
            : draft.Conditions.Exists(c => c.On == ConditionOn.Percent || c.Direction is Direction.For or Direction.Against)
                ? "a limit of a variance"
            : draft.Cumulative ? "cumulative sums"
            : draft.Statistic is not null ? "an average or a count"
            : draft.Sign != 0 ? "what is above or below zero"
            : null;
        if (beside is not null)
            throw new CannotAnswerException(
                $"Entries are listed as they were posted; {beside} does not apply to them. Ask for one after the other."
            );
    }
}
