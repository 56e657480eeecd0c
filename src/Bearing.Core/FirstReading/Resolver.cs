using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Variance;

namespace Bearing.Core.FirstReading;

/// <summary>A draft brought to a whole question.</summary>
/// <param name="Assumed">What was not said and taken as usual, each in words.</param>
/// <param name="Cost">Price of what did not fit.</param>
internal sealed record Resolved(FormOneQuestion Question, ImmutableArray<string> Assumed, double Cost, bool FollowsUp)
{
    /// <summary>Further figures that were asked for and do not fit into one table with the first.</summary>
    public ImmutableArray<FigureRef> Also { get; init; } = [];

    /// <summary>What may be meant just as well.</summary>
    public ImmutableArray<FormOneQuestion> Otherwise { get; init; } = [];
}

/// <summary>
/// Fills a draft up to a question: from the previous question when the text is a fragment of it, from the book's usual
/// choices otherwise. Every choice that was not said is listed.
/// </summary>
internal sealed partial class Resolver(Book book, Vocabulary vocabulary, Previous? previous)
{
    private const int DefaultRanking = 10;
    private const int DefaultEnds = 3;
    private const int MostYears = 5;

    /// <summary>Members that are named one by one are shown one by one, unless they are too many.</summary>
    private const int MostListed = 12;

    /// <summary>Months of a year; a page holds no more columns.</summary>
    private const int MostAcross = 12;
    private const double MisfittingPeriods = 0.7,
        SamePeriod = 2;
    private const double NothingToFollow = 3;

    /// <summary>"Versus last year" is a scenario sooner than a year of which the other one is guessed.</summary>
    private const double GuessedSubject = 0.2;

    private const double PlaceOfOutlook = 1;
    private const double OtherUnit = 1;
    private const double ShareUnsaid = 0.6;
    private const double NotCounted = 0.3;
    private const double FieldAlone = 0.4;
    private const double OtherTable = 0.3;
    private const double AnotherYear = 0.3;
    private const double YearAsBase = 0.4;
    private const double OpenMovement = 0.25;
    private const double ResultUnnamed = 0.4;

    /// <summary>A share is one of the same kind of thing before it is a cost in percent of income.</summary>
    private const double ShareOfOther = 0.3;

    /// <summary>What is not in a figure cannot be left out of it.</summary>
    private const double NotInside = 1;

    private const double EachForItself = 0.1;
    private readonly List<string> _assumed = [];
    private readonly List<FigureRef> _also = [];
    private readonly List<FormOneQuestion> _otherwise = [];
    private double _cost;

    public Resolved Resolve(Draft draft, int contentWords)
    {
        _cost = draft.Cost;
        TakePointed(draft);
        var edits = FollowsOn(draft, contentWords);
        Prepare(draft, edits);
        var question = edits ? Edit(draft, previous!) : Fresh(draft);
        // "By region, cumulated until March": of what is split otherwise than by time it is the sum until then.
        if (
            question is { Cumulative: true, Records: null, Breakdowns.IsEmpty: false }
            && !draft.GapGrows
            && question.Breakdowns.All(b => b.Grain is null)
        )
            question = question with
            {
                Cumulative = false,
                Spans = question.Spans is [{ Count: 1 } until] ? [FiscalCalendar.YearToDate(until.To)] : question.Spans,
            };
        // "Energy per loaf", where energy is a supplier and no figure was named: what is taken for it is divided.
        if (!edits && previous is null && draft.RatioTo is { } each && question.Records is null)
            question = question with { Figure = InRatioTo(question.Figure, each) };
        // A field alone, with no word for records, names what figures are split by sooner.
        if (
            question.Records is not null
            && draft.ByField is not null
            && !draft.WhoDid
            && draft.Records is null
            && draft.Checks.Count + draft.FieldTests.Count + draft.Values.Count == 0
            && previous?.Question.Records is null
        )
            _cost += FieldAlone;
        if (question.Records is not null)
            return new Resolved(question, [.. _assumed], _cost, edits);
        RefuseLost(question, draft, edits);
        // One figure without rows is not kept or left out: "how profitable", "is it in the black".
        if (draft.Sign != 0 && (question.Bases.Length > 0 || question.Breakdowns.Length > 0))
            question = question with
            {
                Conditions = question.Conditions.Add(
                    new Condition(
                        ConditionOn.Amount,
                        question.Bases.Length > 0
                            ? draft.Sign < 0
                                ? Direction.Against
                                : Direction.For
                            : draft.Sign < 0
                                ? Direction.Under
                                : Direction.Over,
                        question.Bases.Length > 0 ? Cent : 0m
                    )
                ),
            };
        // "Only trade", of channels that were shown, is no department of that name.
        if (edits)
            _cost +=
                NotInside
                * draft.Filters.Count(f =>
                    !f.Exclude
                    && book.TryDimension(f.Dimension, out var of)
                    && previous!.Question.Breakdowns.All(b => b.Dimension != f.Dimension)
                    && f.Members.Any(c =>
                        book.TryMember(of.Id, c, out var one)
                        && book.IsNameShared(one)
                        && previous.Question.Breakdowns.Any(b =>
                            b.Dimension is { } shown
                            && book.TryDimension(shown, out var rows)
                            && book.MembersOf(rows.Id).Any(m => m.Name.Equals(one.Name, StringComparison.OrdinalIgnoreCase))
                        )
                    )
                );
        _cost +=
            NotInside
            * draft
                .Filters.Where(f => f.Exclude && f.Dimension == book.Accounts.Code)
                .Sum(f => f.Members.Count(m => !IsInside(question.Figure, m)));
        RefuseCounting(draft, question, edits);
        // How many and which ask for things one by one; money is neither.
        if (
            (draft.HowMany || draft.WhichOf is { Kind: MentionKind.Figure, Partial: true })
            && draft.Figures.Count == 1
            && book.Figure(question.Figure)?.Unit == book.Definition.Currency
        )
            _cost += NotCounted;
        return Finished(InUnit(question, draft), draft, edits);
    }

    /// <summary>Whether it goes on from the question before.</summary>
    private bool FollowsOn(Draft draft, int contentWords)
    {
        var follows =
            previous is not null
            && (
                draft.Edits
                || draft.Row is not null
                || (draft.Figures.Count == 0 && !draft.ResultNamed)
                || (draft.IsBare && contentWords <= 3)
                // "And which has the highest revenue per passenger", after routes: of these.
                || (
                    draft
                        is {
                            Which: true,
                            Rank: not null,
                            Breakdowns.Count: 0,
                            Filters.Count: 0,
                            Periods.Count: 0,
                            WhichOf: null,
                            OfRecords: false
                        }
                    && draft.Scenarios.Count + draft.Bases.Count == 0
                    && previous.Question is { Breakdowns.Length: > 0, Records: null }
                )
                // "By how much are we over", of what was shown.
                || (
                    draft.Figures.Count == 0
                    && draft.Direction is not null
                    && draft.Intent is null or Intent.Value
                    && draft.Periods.Count
                        + draft.Filters.Count
                        + draft.Breakdowns.Count
                        + draft.Scenarios.Count
                        + draft.Bases.Count
                        == 0
                )
            );
        // Journals and invoices are asked for afresh, unless the question before was about them; who did it, of what was shown.
        if (draft.OfRecords && previous?.Question.Records is null)
            follows = previous is not null && (draft.AsksWhoDid || draft.AsksDaysOnly);
        return follows;
    }

    /// <summary>What has to be known before a question is made of it.</summary>
    private void Prepare(Draft draft, bool edits)
    {
        if (previous is null && (draft.Row is not null || draft.RatioTo is not null))
            _cost += NothingToFollow;
        // After a question of some months "last year" is what they are held against sooner than another year.
        if (edits)
            _cost +=
                draft.LastYear ? AnotherYear
                : draft.Scenarios.Contains("prior-year") ? -YearAsBase
                : 0.0;
        // What went up did so against something: a reading that has it is meant sooner.
        if (
            draft.Direction is not null
            && !draft.OfCosts
            && draft.Bases.Count + draft.Scenarios.Count == 0
            && draft.BasePeriod is null
            && draft.Periods.Count > 0
            && draft.Conditions.Count == 0
        )
            _cost += OpenMovement;
        // Beside another period, what grew did so on last year.
        if (
            draft.Periods.Count > 1
            && (draft.OverTime || draft.Growth)
            && (draft.LastYear || draft.Periods.Exists(p => draft.Periods.Exists(o => o.Span == p.Span.AddMonths(-12))))
        )
            _cost += AnotherYear;
        RefuseValues(draft);
        // "Supplier spend": passed over, it would be all spend.
        if (
            !draft.OfRecords
            && previous?.Question.Records is null
            && draft.Intent != Intent.Entries
            && draft.Field is { } party
            && draft.Unplaced.Contains(party.Start)
            && vocabulary.Fields["party"].Contains(Words.Phrase(party.Value))
        )
            draft.Breakdowns.Add(Party());
        if (draft.Finer is { } finer)
            throw new CannotAnswerException(
                $"Figures are kept by month, so nothing can be said by the {finer}. Ask for months, or for entries, which have their days.",
                "by month",
                "the newest entries first"
            );
        draft.OverTime |= draft.Moved && draft.Intent is not (Intent.Why or Intent.Bridge);
        OneByOne(draft);
        LookAhead(draft);
        // "March against April, what moved": time runs one way, in whichever order its months are named.
        if (draft is { Shift: true, BasePeriod: { } later, Periods: [{ } first] } && later.From > first.Span.From)
            (draft.BasePeriod, draft.Periods[0]) = (first.Span, first with { Span = later });
        if (
            !edits
            && draft is { Periods.Count: 0, SameGrain: { } same }
            && book.CurrentPeriod is { } current
            && draft.Breakdowns.TrueForAll(b => b.Grain is null)
        )
            draft.Periods.Add(new PeriodItem(0, 0, new PeriodSpan(same.BucketOf(current).From, current), true));
        // "Forecast instead of budget", of nothing that was shown: the one that is wanted.
        if (!edits && draft.Instead is { With.Length: > 0 } wanted)
            (draft.Compares ? draft.Bases : draft.Scenarios).Add(wanted.With);
    }

    /// <summary>Refused where something that was said would be lost.</summary>
    private void RefuseLost(FormOneQuestion question, Draft draft, bool edits)
    {
        // "Which shop missed budget most often": its months would have to be counted, and those of every other.
        if (draft.Rank is { Often: true })
            throw new CannotAnswerException(
                "How often is counted over the months of one row at a time. Name it, as in “how often did … miss budget”, or ask for all of them by month.",
                question.Breakdowns.FirstOrDefault() is { } rows
                    ? $"{book.Figure(question.Figure)?.Name} by {(rows.Level ?? rows.Grain?.ToString() ?? rows.Dimension!).ToLowerInvariant()} by month"
                    : $"{book.Figure(question.Figure)?.Name} by month"
            );
        // "Marketing invoices in August": a figure has no such day.
        if (draft.DayOf is { Kind: MentionKind.Field } field && question.Intent != Intent.Entries)
            draft.Unplaced.AddRange(Enumerable.Range(field.Start, field.Length));
        if (edits && (draft.PartOfIt || draft.Share))
            RefuseOtherKind(question, previous!.Question);
        RefuseNothingLeft(question);
    }

    /// <summary>In what it was asked for, as far as that can be: in percent, as income.</summary>
    private FormOneQuestion InUnit(FormOneQuestion question, Draft draft)
    {
        if (draft.Unit is not { } unit || IsOfUnit(book.Figure(question.Figure), unit))
            return question;
        // Rows in percent are shares of what they add up to.
        var shares =
            unit == "percent"
            && question is { Intent: Intent.Value, Bases.IsEmpty: true, Projection: null }
            && question.Breakdowns.Any(b => b.Dimension is not null)
            && book.Figure(question.Figure) is SumFigure;
        if (shares)
            question = question with { Share = true };
        // A variance is shown in percent as well.
        _cost +=
            shares ? ShareUnsaid
            : unit == "percent" && question.Bases.Length > 0 ? 0
            : OtherUnit;
        if (unit == "percent" && !shares && question.Bases.IsEmpty && book.Figure(question.Figure) is SumFigure sum)
            _assumed.Add($"{sum.Name} as it is kept; of what it would be a percentage was not said");
        // "Guests divided by beds in percent": a count for each of another is one in percent of it.
        if (
            unit == "percent"
            && question.Bases.IsEmpty
            && book.Figure(question.Figure) is PairFigure { Rule: PairRule.Quotient } quotient
        )
        {
            if (quotient is { Top.IsProfit: false, Bottom.IsProfit: false })
                question = question with { Figure = InPercentOf(quotient.Top.Ref, quotient.Bottom.Ref) };
            else
                _assumed.Add($"{quotient.Name} as it is kept; of what it would be a percentage was not said");
        }
        if (unit == "income" && book.Figure(question.Figure) is { } other)
            _assumed.Add($"{other.Name} as it is kept, though it is no income");
        return question;
    }

    /// <summary>The currency, the statistic, the sides and how it is shown.</summary>
    private Resolved Finished(FormOneQuestion question, Draft draft, bool edits)
    {
        // So much percent is one of something: of a base, or of what is a percentage itself.
        if (
            question.Bases.IsEmpty
            && question.Conditions.Any(c => c.On == ConditionOn.Percent)
            && !IsOfUnit(book.Figure(question.Figure), "percent")
        )
            _cost += OtherUnit;
        question = WithSides(question);
        if (draft.Rates is { } rates)
            question = question with { Rates = rates };
        if (draft.Currency is { } currency)
            question = question with { Currency = CurrencyOf(currency, question) };
        if (draft.Statistic is { } statistic)
            question = Summarised(question, statistic, draft);
        if (draft.Same && question.Bases.Length > 0)
            question = Compared(question);
        // An outlook has the forecast in it.
        if (draft.Projection == Projection.Outlook && question.Bases.Length > 1)
            question = question with
            {
                Bases = question.Bases.RemoveAll(b => book.Scenario(b.Scenario)?.Kind == ScenarioKind.Forecast),
            };
        // A limit goes with the base that it was of.
        question = question with
        {
            Conditions = question.Conditions.RemoveAll(c => c.Of is { } of && !question.Bases.Contains(of)),
        };
        if (draft.Projection is not null || question.Projection is not null)
            RefuseBesideProjection(draft, question);
        if (draft.Projection is { } projection)
            question = Projected(question, projection, draft);
        if (draft.View is not null || draft.Scale is not null || draft.Decimals is not null)
            question = question with
            {
                Display = new Display(
                    draft.View ?? question.Display?.View,
                    draft.Scale ?? question.Display?.Scale,
                    draft.Decimals ?? question.Display?.Decimals
                ),
            };
        question = WithPart(question, draft);
        if (draft.Across is { } grain)
            question = SideBySide(question, grain);
        question = WithBeside(question, draft, edits);
        if (draft.OtherBasis)
            _assumed.Add("everything, also what is new or ended; leave it out by name with “without”");
        return new Resolved(question, [.. _assumed], _cost, edits) { Also = [.. _also], Otherwise = [.. _otherwise] };
    }

    /// <summary>A variance below -10k is one of more than 10k against us; lists have no amounts below zero.</summary>
    private static FormOneQuestion WithSides(FormOneQuestion question)
    {
        if (question.Conditions.All(c => c.Value >= 0m) || (question.Bases.IsEmpty && question.Intent != Intent.Entries))
            return question;
        if (
            question.Intent == Intent.Entries
            || question.Conditions.Any(c => c.Value < 0m && c.Direction is not (Direction.Under or Direction.Within))
        )
            throw new CannotAnswerException(
                "A limit below zero can only be one that figures or variances lie below. Say the amount without its sign, with “over”, “under” or “against us”."
            );
        return question with
        {
            Conditions =
            [
                .. question.Conditions.Select(c => c.Value < 0m ? c with { Direction = Direction.Against, Value = -c.Value } : c),
            ],
        };
    }

    /// <summary>The whole period first, and each of its parts in columns of its own.</summary>
    private FormOneQuestion SideBySide(FormOneQuestion question, TimeGrain grain)
    {
        if (question.Projection is not null || question.Statistic is not null)
            throw new CannotAnswerException(
                $"{grain}s stand side by side in a plain table only.",
                $"by {grain.ToString().ToLowerInvariant()}"
            );
        var parts = question.Spans.SelectMany(s => grain.Cut(s)).Distinct().ToList();
        if (parts.Count > MostAcross)
            throw new CannotAnswerException(
                $"{parts.Count} {grain.ToString().ToLowerInvariant()}s do not fit beside each other; up to {MostAcross} do.",
                $"by {grain.ToString().ToLowerInvariant()}"
            );
        return question with
        {
            Spans = [.. question.Spans.Concat(parts).Distinct()],
            Breakdowns = question.Breakdowns.RemoveAll(b => b.Grain == grain),
            Cumulative = false,
        };
    }

    /// <summary>What is not the same differs by so much at least.</summary>
    internal const decimal Cent = 0.01m;

    /// <summary>Null for the book's own.</summary>
    private string? CurrencyOf(string said, FormOneQuestion question)
    {
        if (said == "local")
        {
            var entities = question
                .Filters.Where(f => f.Dimension == book.Entities.Code && !f.Exclude)
                .SelectMany(f => f.Members)
                .Select(c => book.TryMember(book.Entities.Id, c, out var m) ? m : null)
                .OfType<Member>()
                .SelectMany(m => book.SelfAndBelow(m))
                .Where(m => !book.HasChildren(m))
                .Select(m => m.Entity?.Currency ?? book.Definition.Currency)
                .Distinct()
                .ToList();
            said = entities is [var one]
                ? one
                : throw new CannotAnswerException(
                    $"Several currencies are local in this scope. Say which {book.Entities.Name.ToLowerInvariant()}, or which currency: {string.Join(", ", book.Currencies.Order())}."
                );
        }
        if (said == book.Definition.Currency)
            return null;
        return book.Currencies.Contains(said)
            ? said
            : throw new CannotAnswerException(
                $"The book has nothing in {said}.{(book.Currencies.Count > 0 ? $" It knows {string.Join(", ", book.Currencies.Order())}." : "")}"
            );
    }

    /// <summary>Over the rows of the split; where none was said, over the months. What is an average already is recomputed as
    /// ever.</summary>
    private FormOneQuestion Summarised(FormOneQuestion question, RowStatistic statistic, Draft draft)
    {
        if (statistic == RowStatistic.Count)
        {
            var claimed = draft.Direction is { } side && question.Bases.Length > 0 && question.Conditions.IsEmpty;
            return question with
            {
                Statistic = statistic,
                Ranking = null,
                Conditions = claimed ? [new Condition(ConditionOn.Amount, draft.Direction!.Value, Cent)] : question.Conditions,
            };
        }
        // Two figures that are no rows of one table are held against each other only where that is claimed.
        if (statistic == RowStatistic.Difference)
            return _also is [var than]
                ? question with
                {
                    Than = draft.DifferenceClaim is null ? null : than,
                }
                : question with
                {
                    Statistic = statistic,
                };
        if (book.Figure(question.Figure) is PairFigure or SumFigure { OverTime: OverTime.Average })
        {
            _assumed.Add($"{book.Figure(question.Figure)!.Name} as it is: it is an average over members or months already");
            return question;
        }
        if (statistic == RowStatistic.Average && book.Figure(question.Figure) is SumFigure { OverTime: OverTime.Stock })
            return question with { Statistic = statistic };
        if (question.Breakdowns.IsEmpty && question.Spans[0].Count > 1)
            _assumed.Add($"the {statistic.ToString().ToLowerInvariant()} of the months, since nothing else was named");
        // "Average monthly revenue by clinic": of the months of each clinic, whichever was said first.
        return question with
        {
            Statistic = statistic,
            Breakdowns = question.Breakdowns.IsEmpty
                ? [Breakdown.ByTime(TimeGrain.Month)]
                : [.. question.Breakdowns.OrderBy(b => b.Grain is not null)],
        };
    }

    private FormOneQuestion Fresh(Draft draft)
    {
        // Entries by yard are journals gathered by yard.
        if (
            draft.OfRecords
            || (
                draft
                    is {
                        Journals: true,
                        Intent: Intent.Entries,
                        Figures.Count: 0,
                        ResultNamed: false,
                        Document: null,
                        Text: null
                    }
                && draft.Scenarios.Count + draft.Breakdowns.Count == 0
            )
            || (
                draft.Intent == Intent.Entries
                && (
                    draft.SplitLed
                    || (draft.Rank is { Many: true } && draft.Breakdowns.Count > 0)
                    || draft.Conditions.Exists(c => c.On == ConditionOn.Count)
                )
                && draft.Document is null
            )
        )
            return Recorded(draft, null);
        // Only entries have texts.
        if (draft.Text is not null)
            draft.Intent ??= Intent.Entries;
        if (draft.Intent == Intent.Entries)
            RefuseBesideEntries(draft);
        WholeOfShare(draft);
        var soFar = _cost;
        var (figure, filters) = Figure(draft);
        if (PartIn(draft) is { } share)
            (figure, filters) = (share, []);
        else if (Part(draft) is var (whole, level))
        {
            (figure, filters) = (whole, []);
            // The part is one of its rows, and no figure beside it.
            _cost = soFar;
            _also.Clear();
            draft.Breakdowns.Insert(0, Breakdown.By(book.Accounts.Code, level));
        }
        Percentages(draft, figure);
        // "Up between July and August" moved from the one to the other.
        var moved =
            draft.Direction is Direction.Over or Direction.Under
            && !draft.OfCosts
            && draft.Conditions.Count == 0
            && draft.Bases.Count + draft.Scenarios.Count == 0;
        // "Growth from October to November" is one of these two; "by month" has its months.
        // And what happened between two months that follow each other is what changed from the one to the other.
        draft.Shift |=
            draft is { Intent: Intent.Why, Direction: null, Periods: [{ Range: true, Span.Count: 2 } both] }
            && (draft.Between || both.FromTo)
            && draft.Bases.Count + draft.Scenarios.Count == 0;
        var between =
            draft is { Growth: true, Periods: [{ FromTo: true }] }
            && draft.Bases.Count + draft.Scenarios.Count == 0
            && draft.Breakdowns.TrueForAll(b => b.Grain is null);
        if (draft.Shift || draft.Change || draft.Intent == Intent.Bridge || moved || between)
            Shift(draft);
        // "Who bought most": those that income is kept by.
        if (
            draft is { Who: true, Unit: Taken }
            && Buyers is { } buyers
            && draft.Breakdowns.TrueForAll(b => b.Dimension != buyers.Code)
        )
            draft.Breakdowns.Insert(0, Breakdown.By(buyers.Code, buyers.Levels[^1]));
        // "Who did we spend more with than last year": those who are paid.
        if (
            draft is { Who: true, Compares: true, ResultNamed: true, WhoItself: false, Breakdowns.Count: 0 }
            && (figure is { Kind: FigureKind.Measure, Code: Book.AllCosts } || (figure is null && draft.OfCosts))
        )
            draft.Breakdowns.Add(Party());
        if (draft.Who && draft.Breakdowns.Count == 0 && (draft.Compares || draft.Share))
            draft.Breakdowns.Add(Breakdown.By(book.Entities.Code, book.Entities.Levels[^1]));
        if (
            draft.Who
            && !draft.Compares
            && draft.Breakdowns.TrueForAll(b => b.Grain is not null)
            && figure is not null
            && book.Figure(figure) is SumFigure { ShownSign: < 0, IsProfit: true }
        )
            draft.Breakdowns.Insert(0, draft.WhoItself ? Breakdown.By(book.Entities.Code, book.Entities.Levels[^1]) : Party());
        // "Who earned us the most": one of the entities.
        if (draft is { Who: true, Rank: not null, Breakdowns.Count: 0 })
            draft.Breakdowns.Add(Breakdown.By(book.Entities.Code, book.Entities.Levels[^1]));
        Where(draft);
        AmongItsParts(draft);
        figure = PlaceOf(draft) ?? figure ?? Unnamed(draft);
        // A comparison shows the statement's lines anyway.
        if (
            draft.Statement
            && draft.Figures.Count == 1
            && (draft.Breakdowns.Count > 0 || draft.Bases.Count + draft.Scenarios.Count == 0)
            && !draft.Breakdowns.Exists(b => b.Dimension == book.Accounts.Code)
            && draft.Intent is null or Intent.Value or Intent.Variance
        )
            draft.Breakdowns.Add(Breakdown.By(book.Accounts.Code));
        if (
            (draft.SidedRows || (draft.Parts && draft.Rank is null && draft.Projection is null))
            && draft.Breakdowns.Count == 0
            && draft.Intent is null or Intent.Value or Intent.Variance
        )
            draft.Breakdowns.Add(UsualRows(figure));
        var intent = draft.Intent is null or Intent.Value
            ? draft.Compares
                ? Intent.Variance
                : Intent.Value
            : draft.Intent.Value;
        var spans = Spans(draft);
        if (spans.IsEmpty)
            throw new CannotAnswerException("The book has neither a ledger nor a plan yet. Load one first.");
        spans = MonthsOfYears(draft, OfYears(draft, spans));
        var (subject, bases) = Sides(draft, spans[0], intent, Side.Actual, []);
        if (bases.Length > 0 && intent == Intent.Value)
            intent = Intent.Variance;
        if (bases.Length == 0 && intent is Intent.Variance or Intent.Why or Intent.Bridge)
        {
            intent = Intent.Value;
            _assumed.Add(
                $"nothing to compare with, since the book has no budget and no year before {book.Calendar.NameOf(spans[0])}"
            );
        }
        // Each month against the one before it.
        if (
            spans[0].Count > 1
            && draft.Scenarios.Concat(draft.Bases).Contains("prior-month")
            && draft.Breakdowns.TrueForAll(b => b.Grain is null)
        )
            draft.Breakdowns.Add(Breakdown.ByTime(TimeGrain.Month));
        if (
            spans[0].Count > 3
            && draft.Scenarios.Concat(draft.Bases).Contains("prior-quarter")
            && draft.Breakdowns.TrueForAll(b => b.Grain is null)
        )
            draft.Breakdowns.Add(Breakdown.ByTime(TimeGrain.Quarter));
        return Shared(
            new FormOneQuestion
            {
                Intent = intent,
                Figure = figure,
                Subject = subject,
                Bases = bases,
                Spans = spans,
                Filters = [.. filters.Concat(Merge(draft.Filters))],
                Breakdowns = Breakdowns(draft, filters, figure),
                Ranking = intent == Intent.Entries && draft.Rank is null ? null : Ranking(draft, bases.Length > 0, figure),
                Conditions = OfEachBase(
                    draft,
                    draft.Breakdowns.Count > 0,
                    bases,
                    spans[0],
                    bases.Length > 0 && intent != Intent.Entries && Claimed(draft, draft.Breakdowns.Count > 0) is { } claimed
                        ? [new Condition(ConditionOn.Amount, claimed, Cent), .. draft.Conditions]
                        : [.. draft.Conditions]
                ),
                Share = draft.Share,
                Mix = draft.Mix && draft.Share,
                // What changed in one account is told as it moved, what changed in a result by what it did to it.
                // By how many percent something is up on the past is its movement as well.
                Growth =
                    draft.Growth
                    || (draft.Shift && figure.Kind == FigureKind.Account)
                    || (
                        draft
                            is {
                                Unit: "percent",
                                Direction: Direction.Over or Direction.Under,
                                Conditions.Count: 0,
                                OfCosts: false
                            }
                        && !bases.IsEmpty
                        && bases.All(b => b.Kind is SideKind.PriorYear or SideKind.PriorPeriod)
                    ),
                Document = draft.Document,
                Text = draft.Text,
                Listing = intent == Intent.Entries ? ListingOfEntries(draft, null) : NoColumns(draft),
                Cumulative = draft.Cumulative,
                ClaimOf =
                    (draft.EveryOfAny || ((draft.Which || draft.WhichRows) && draft.Quantifier == Quantifier.Every))
                    && draft.Breakdowns is [{ Dimension: not null }, .., { Grain: not null }]
                        ? Quantifier.Every
                        : null,
            },
            draft
        );
    }

    private static List<Filter> Merge(List<Filter> filters) =>
        [
            .. filters
                .GroupBy(f => (f.Dimension, f.Exclude))
                .Select(g => new Filter(g.Key.Dimension, [.. g.SelectMany(f => f.Members).Distinct()], g.Key.Exclude)),
        ];
}

/// <summary>The question before, with the grid that answered it, for follow-ups.</summary>
public sealed record Previous(FormOneQuestion Question, Grid Grid)
{
    /// <summary>The list that answered it, where it asked for records or journals.</summary>
    public RecordTable? Records { get; init; }
}
