using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Variance;

namespace Bearing.Core.FirstReading;

/// <summary>A text that changes the question before and keeps the rest.</summary>
internal sealed partial class Resolver
{
    private FormOneQuestion Edit(Draft draft, Previous before)
    {
        var question = before.Question;
        if (
            question.Records is not null
            && (
                draft.OfRecords
                || (draft.OfThese && question.Records.Table == Table.Ledger)
                || (draft.Figures.Count == 0 && !draft.Compares && draft.Scenarios.Count == 0)
            )
        )
            return Recorded(draft, question);
        if ((draft.AsksWhoDid || draft.AsksDaysOnly) && question.Records is null)
            return Recorded(draft, question);
        if (question.Records is not null)
            question = question with { Records = null, Intent = Intent.Value };
        // "Sort by passengers": beside what was shown, and first of it.
        if (draft is { SortsShown: true, RanksBy: { } by } && !question.Breakdowns.IsEmpty)
        {
            if (draft.Order is not null && !question.Bases.IsEmpty && by != question.Figure)
                throw new CannotAnswerException(
                    $"Rows that are compared are sorted by what is compared, and not by {book.Figure(by)?.Name}. Ask for the figures without the comparison, or sort by variance.",
                    "sort by variance"
                );
            draft.Figures.Clear();
            question = question with { Figure = by, Beside = [.. question.Beside.Prepend(question.Figure).Where(f => f != by)] };
        }
        if (_pointedAt is { } pointed)
            question = question with { Breakdowns = question.Breakdowns.Remove(pointed), Ranking = null, Conditions = [] };
        else if (draft.Pointed is not null || Pronoun(draft) is not null)
            question = question with { Ranking = null, Conditions = [] };
        // "The best one", after the worst alone was shown: of all that were ranked.
        if (
            draft is { Rank: null, Row: "largest" or "smallest" or "worst" or "best" }
            && question.Ranking is { Count: 1, Within: false }
        )
            (draft.Rank, draft.Row) = (new RankItem(0, 0, draft.Row, 1), null);
        if (draft.Row is { } row)
            question = Point(question, row, before);
        // "Why?" and "show the entries" after "which one is the worst?" ask about that one.
        else if (
            draft.Intent is Intent.Why or Intent.Entries
            && question.Intent != Intent.Entries
            && question.Ranking?.Count == 1
            && draft.IsBareWhy
        )
            question = Point(question, "1", before);
        if (draft.RatioTo is { } ratio)
        {
            if (question.Filters.Any(f => f.Dimension == book.Accounts.Code))
                throw new CannotAnswerException(
                    "Several accounts taken out of a whole have no ratio together. Ask for one of them, or for the whole."
                );
            question = question with
            {
                Figure = InRatioTo(question.Figure, ratio),
                Share = false,
                Breakdowns = [.. question.Breakdowns.OrderBy(b => b.Dimension == book.Accounts.Code)],
            };
        }
        if (
            draft is { SideBySide: true, Across: null }
            && question.Breakdowns.FirstOrDefault(b => b.Grain is not null) is { } months
        )
        {
            question = question with { Breakdowns = question.Breakdowns.Remove(months) };
            draft.Across = months.Grain;
        }
        if (draft.PutsBack)
            question = question with { Filters = question.Filters.RemoveAll(f => f.Exclude) };
        if (draft.TotalOnly && (!question.Conditions.IsEmpty || question.Ranking is { Count: < Questions.Ranking.All }))
            throw new CannotAnswerException(
                "The total that is shown is that of all rows; those that a limit or a ranking keeps are not added up on their own.",
                "all rows"
            );
        if (draft.TotalOnly)
            question = question with { Breakdowns = [], Ranking = null, Conditions = [], Statistic = null, Share = false };
        if (draft.BothYears)
            question = question with
            {
                Intent = Intent.Variance,
                Subject = question.Subject == Side.PriorYear ? Side.Actual : question.Subject,
                Bases = [.. question.Bases.Append(Side.PriorYear).Distinct()],
            };
        if (draft.Instead is var (with, of))
            question = Replaced(question, with, of);
        // "Drop the comparison": the figures as they are.
        if (draft.ClearsBases)
            question = question with
            {
                Bases = [],
                Intent = Intent.Value,
                Conditions = [],
                Ranking = null,
                Growth = false,
                Mix = false,
            };
        if (draft.ClearsFilters)
            question = question with { Filters = [] };
        if (draft.WholeGroup)
            question = question with
            {
                Filters = question.Filters.RemoveAll(f => f.Dimension == book.Entities.Code && !f.Exclude),
            };
        if (draft.ClearsRows)
            question = question with { Conditions = [], Ranking = null };
        // "All shops" are those that were left out as well.
        // "All entities", where accounts of one were shown: of every entity.
        if (
            draft.Quantifier == Quantifier.Every
            && draft.Breakdowns is [{ Dimension: { } every }]
            && question.Breakdowns.Length > 0
            && question.Breakdowns.All(b => b.Dimension != every)
            && question.Filters.Any(f => f.Dimension == every)
        )
        {
            question = question with { Filters = question.Filters.RemoveAll(f => f.Dimension == every) };
            draft.Breakdowns.Clear();
        }
        else if (draft.Quantifier == Quantifier.Every)
            foreach (var all in draft.Breakdowns.Where(b => b.Dimension is not null))
                question = question with
                {
                    Filters = question.Filters.RemoveAll(f => f.Dimension == all.Dimension),
                    Ranking = null,
                    Conditions = [],
                };
        // "Add rent back", after it was left out.
        if (
            draft is { Adds: true, Figures.Count: > 0 }
            && question.Filters.FirstOrDefault(f => f.Exclude && f.Dimension == book.Accounts.Code) is { } without
            && draft.Figures.TrueForAll(f => without.Members.Contains(f.Code))
        )
        {
            question = question with
            {
                Filters = Replace(
                    question,
                    without with
                    {
                        Exclude = false,
                        Members = [.. draft.Figures.Select(f => f.Code)],
                    },
                    true
                ),
            };
            draft.Figures.Clear();
        }
        // "Add customers" puts them beside the figure that was shown.
        if (draft.Adds && draft.Figures.Count > 0 && !draft.Figures.Contains(question.Figure))
        {
            draft.Figures.Insert(0, question.Figure);
            draft.ListsFigures = true;
        }
        // "Drop headcount", of several figures side by side.
        if (
            draft is { Filters: [{ Exclude: true, Members: [var gone] } left] }
            && left.Dimension == book.Accounts.Code
            && question
                .Beside.Append(question.Figure)
                .OrderBy(f => f.Kind)
                .FirstOrDefault(f =>
                    f == new FigureRef(FigureKind.Account, gone) || book.Figure(f) is PairFigure pair && IsMadeOf(pair, gone)
                )
                is { } dropped
            && question.Beside.Length > 0
        )
        {
            draft.Filters.Clear();
            question =
                dropped == question.Figure
                    ? question with
                    {
                        Figure = question.Beside[0],
                        Beside = question.Beside.RemoveAt(0),
                    }
                    : question with
                    {
                        Beside = question.Beside.Remove(dropped),
                    };
        }
        // "With the change", of two periods beside each other: from the one to the other.
        if (
            draft is { Periods.Count: 0, Scenarios.Count: 0, Bases.Count: 0, BasePeriods.Count: 0, BasePeriod: null }
            && (draft.Growth || draft.Change)
            && question is { Bases.IsEmpty: true, Spans: [var one, var two] }
            && one.Count == two.Count
        )
        {
            var (earlier, later) = one.From < two.From ? (one, two) : (two, one);
            question = question with { Spans = [later] };
            draft.BasePeriods.Add(earlier);
            draft.BasePeriod = earlier;
            draft.Compares = true;
        }
        if (draft.Step != 0)
            question = Step(question, draft.Step, before);
        if (draft.Shift)
            Shift(draft);
        // "What did it sell", after its costs.
        if (draft is { Unit: Sold, Figures.Count: 0 } && !IsOfUnit(book.Figure(question.Figure), Sold) && book.Sales is { } sales)
            draft.Figures.Add(sales);
        PartOfShown(draft, question);
        var (figure, extra) = Figure(draft);
        Percentages(draft, figure ?? question.Figure);
        if (figure is not null && draft.RatioTo is null)
            figure = Divided(figure, question.Figure);
        if (
            draft.Conditions.Count == 0
            && (
                draft.RatioTo is not null
                || (figure is not null && book.Figure(figure)?.Unit != book.Figure(before.Question.Figure)?.Unit)
            )
        )
            question = WithoutLimits(question, "it was one of another figure");
        if (figure is not null)
            question = question with
            {
                Figure = figure,
                Filters = [.. question.Filters.Where(f => f.Dimension != book.Accounts.Code).Concat(extra)],
            };
        foreach (var filter in Merge(draft.Filters))
            question = question with
            {
                Filters = Replace(question, filter, draft.Adds),
                Ranking =
                    !filter.Exclude && question.Breakdowns.Any(b => b.Dimension == filter.Dimension) ? null : question.Ranking,
            };
        if (draft.Periods.Count > 0)
            question = question with { Spans = draft.Adds ? [.. question.Spans.Concat(Spans(draft)).Distinct()] : Spans(draft) };
        if (
            draft.Parts
            && draft.Breakdowns.Count == 0
            && draft.Figures.Count + draft.Filters.Count + draft.Periods.Count == 0
            && question.Breakdowns.IsEmpty
            && question.Intent != Intent.Entries
        )
            draft.Breakdowns.Add(UsualRows(question.Figure));
        if (draft.Figures.Count + draft.Filters.Count + draft.Periods.Count == 0)
            Where(draft);
        if (draft.Breakdowns.Count > 0)
            question = question with
            {
                Breakdowns = draft.Adds
                    ? [.. question.Breakdowns.Concat(draft.Breakdowns).Distinct()]
                    : [.. draft.Breakdowns.Distinct()],
                Ranking = null,
            };
        if (draft.Periods.Count == 0 && draft.Breakdowns.Exists(b => b.Grain is not null))
            question = WithCourse(question);
        // "Only people", "same for costs", after the accounts of something: its accounts, the first of them again.
        if (
            draft is { Breakdowns.Count: 0, Edits: true }
            && figure is { } whole
            && _pointedAt is null
            && draft.Row is null
            && UsualRows(whole).Dimension == book.Accounts.Code
        )
            question = question with { Ranking = question.Ranking is { } kept ? kept with { Skip = 0 } : null };
        else if (draft.Breakdowns.Count == 0 && figure is not null)
            question = question with { Breakdowns = [.. question.Breakdowns.Where(b => b.Dimension != book.Accounts.Code)] };
        // Several accounts stay apart, as where they are asked for at once.
        if (extra.Length > 0 && !draft.Combined && question.Breakdowns.All(b => b.Dimension != book.Accounts.Code))
            question = question with { Breakdowns = question.Breakdowns.Add(Breakdown.By(book.Accounts.Code)) };
        var intent = draft.Intent ?? (draft.Compares ? Intent.Variance : question.Intent);
        if (intent == Intent.Value && question.Bases.Length > 0)
            intent = question.Intent;
        if (
            draft.Intent is null
            && question.Intent == Intent.Entries
            && draft.Rank is null
            && (draft.Breakdowns.Count > 0 || draft.Compares)
        )
            intent = question.Bases.Length > 0 || draft.Compares ? Intent.Variance : Intent.Value;
        if (question.Intent == Intent.Entries && intent != Intent.Entries && draft.Conditions.Count == 0)
            question = WithoutLimits(question, "it was one of single entries");
        if (
            draft.Scenarios.Count > 0
            || draft.Bases.Count > 0
            || draft.BasePeriod is not null
            || (draft.Compares && question.Bases.Length == 0)
        )
        {
            // A limit of the figures themselves is none of their variance.
            if (question.Bases.IsEmpty && draft.Conditions.Count == 0)
                question = WithoutLimits(question, "it was one of the figures themselves, and not of a variance");
            // "And full year forecast", after months held against the budget: the forecast of the year takes their place.
            var ahead =
                draft is { Scenarios: [var plan], Bases.Count: 0, BasePeriod: null, Compares: false, Periods.Count: > 0 }
                && question is { Bases.IsEmpty: false, Spans: [var year] }
                && year.To > book.CurrentPeriod
                    ? Named(plan, year)
                    : null;
            // "And the forecast?", of months that have not been: nothing happened that could be held against it.
            var yet =
                draft is { Scenarios: [var instead], Bases.Count: 0, BasePeriod: null, Compares: false }
                && question.Bases.IsEmpty
                && question.Subject == Side.Actual
                && book.ActualSpan is { } past
                && question.Spans.All(s => s.From > past.To)
                    ? Named(instead, question.Spans[0])
                    : null;
            var (subject, bases) =
                yet is not null ? (yet, [])
                : ahead is not null && question.Bases.RemoveAll(b => b == ahead) is { IsEmpty: false } kept ? (ahead, kept)
                : Sides(draft, question.Spans[0], intent, question.Subject, draft.Adds ? question.Bases : []);
            question = question with { Subject = subject, Bases = bases };
            if (intent == Intent.Value && bases.Length > 0)
                intent = Intent.Variance;
        }
        // "And the others?", after one was picked out: all but that.
        if (draft.Rank is { Rest: true } && question is { Ranking: null, Filters: [{ Exclude: false } picked] })
            (draft.Rank, question) = (
                null,
                question with
                {
                    Filters = [picked with { Exclude = true }],
                    Breakdowns =
                        question.Breakdowns.IsEmpty && LevelOf(picked.Dimension, picked.Members[0]) is { } like
                            ? [like]
                            : question.Breakdowns,
                }
            );
        if (draft.Rank is { Further: true } further)
        {
            if (question.Ranking is not { } ranked)
                throw new CannotAnswerException("The last answer ranked nothing that could be gone on with.", "the 10 largest");
            if (ranked.Count >= Questions.Ranking.All)
                throw new CannotAnswerException("All rows are shown already; there are none behind them.", "the 10 largest");
            question = question with
            {
                Ranking = ranked with { Skip = ranked.Skip + ranked.Count, Count = further.Number ?? ranked.Count },
            };
        }
        else if (draft.Rank is { AsShown: true, Number: { } rows } && question.Ranking is { } order)
            question = question with { Ranking = order with { Count = rows } };
        else if (draft.Rank is { } rank)
        {
            var ranking = Ranking(draft, question.Bases.Length > 0, question.Figure);
            // "And the lowest?" after the highest is one as well.
            var asMany =
                rank is { Number: null, BothEnds: false }
                && draft.Breakdowns.Count == 0
                && question.Ranking is { Count: < Questions.Ranking.All };
            // "The worst?", of the rows that were shown.
            if (
                rank is { Number: null, BothEnds: false, Some: false }
                && draft is { IsBareWhy: true, Intent: null, Conditions.Count: 0, Only: false, Which: false }
                && !asMany
                && !ranking!.Within
                && question.Breakdowns.Length == 1
            )
                ranking = ranking with { Count = 1 };
            question = question with { Ranking = asMany ? ranking! with { Count = question.Ranking!.Count } : ranking };
        }
        else if (draft.Order is not null && question.Intent != Intent.Entries)
            question = question with { Ranking = Ranking(draft, question.Bases.Length > 0, question.Figure) };
        // "What is behind Old Tannery" asks about it, whatever rows were kept before.
        if (draft.Intent == Intent.Why && draft.Filters.Count > 0)
            question = question with
            {
                Conditions = [.. draft.Conditions],
                Ranking = null,
                Breakdowns = question.Breakdowns.RemoveAll(b =>
                    draft.Breakdowns.Count == 0
                    && draft.Filters.Exists(f => !f.Exclude && f.Members.Length == 1 && f.Dimension == b.Dimension)
                ),
            };
        // Limits and ranks of rows are none of entries.
        if (intent == Intent.Entries && question.Intent != Intent.Entries)
            question = question with { Conditions = [], Ranking = draft.Rank is null ? null : question.Ranking };
        if (draft.Intent == Intent.Entries && draft.Conditions.Exists(c => c.Direction is Direction.For or Direction.Against))
            RefuseBesideEntries(draft);
        if (intent == Intent.Entries)
            question = question with
            {
                Listing = ListingOfEntries(draft, question.Intent == Intent.Entries ? question.Listing : null),
            };
        else
            question = question with { Listing = NoColumns(draft) };
        // "In both directions", after what was so much over.
        if (draft is { Direction: Direction.Either, Conditions.Count: 0 })
            question = question with
            {
                Conditions =
                [
                    .. question.Conditions.Select(c =>
                        c.On is ConditionOn.Amount or ConditionOn.Percent && c.Direction is not Direction.Within
                            ? c with
                            {
                                Direction = Direction.Either,
                            }
                            : c
                    ),
                ],
            };
        // "By 2k", after what missed by more than 5k: on the same side.
        var side = draft.Unsided
            ? question.Conditions.FirstOrDefault(c => c.On is ConditionOn.Amount or ConditionOn.Percent)?.Direction
            : null;
        if (draft.OwnLimits.Count > 0 && question.Breakdowns.Length > 0)
            question = question with { Conditions = OfEachBase(draft, true, question.Bases, question.Spans[0], []) };
        else if (draft.Conditions.Count > 0)
            question = question with
            {
                Conditions =
                [
                    .. draft.Conditions.Select(c =>
                        side is { } kept && c.Direction is Direction.Over ? c with { Direction = kept } : c
                    ),
                ],
                Ranking = draft.Rank is null ? null : question.Ranking,
            };
        else if (
            intent == Intent.Variance
            && question.Bases.Length > 0
            && Claimed(draft, question.Breakdowns.Length > 0) is { } claimed
        )
            question = question with
            {
                Conditions = [new Condition(ConditionOn.Amount, claimed, Cent)],
                Ranking = new Ranking(Questions.Ranking.All, SideOf(claimed, question.Figure)),
            };
        if (draft.Share)
            question = question with { Share = true, Mix = draft.Mix };
        if (draft.Share && draft.Filters.Exists(f => !f.Exclude))
            question = Shared(question, draft);
        if (draft.Cumulative)
            question = question with { Cumulative = true };
        if (draft.Text is not null)
            question = question with { Text = draft.Text };
        // What was taken over other rows says nothing about these.
        if (draft.Statistic is null && draft.Breakdowns.Count > 0)
            question = question with { Statistic = null };
        question = question with { Claim = null, ClaimOf = null, Than = null };
        return question with { Intent = intent };
    }

    private FormOneQuestion WithoutLimits(FormOneQuestion question, string because)
    {
        if (question.Conditions.All(c => c.On != ConditionOn.Amount))
            return question;
        _assumed.Add($"the limit is left out: {because}");
        return question with { Conditions = [] };
    }

    /// <summary>"Same for gross profit", after something in percent of sales: that is in percent of sales as well.</summary>
    private FigureRef Divided(FigureRef figure, FigureRef before)
    {
        if (
            book.Figure(before) is not PairFigure { Rule: not PairRule.Difference } made
            || book.Definition.Measures.Any(m => m.Code == before.Code)
            || book.Figure(figure) is not SumFigure sum
            || sum.Unit != made.Top.Unit
        )
            return figure;
        if (book.Divided(figure, made) is not { } divided)
            return figure;
        _assumed.Add($"{divided.Name}, divided as what was shown before");
        return divided.Ref;
    }

    /// <summary>"By month" of one month has no course: that of the year up to it is shown.</summary>
    private FormOneQuestion WithCourse(FormOneQuestion question)
    {
        if (
            question.Spans is not [var span]
            || question.Breakdowns.FirstOrDefault(b => b.Grain is not null)?.Grain is not { } grain
            || grain.Cut(span).Take(2).Count() > 1
            || question.Bases.Any(b => b.Kind == SideKind.PriorPeriod)
        )
            return question;
        var year = FiscalCalendar.YearToDate(span.To);
        if (year == span)
            return question;
        _assumed.Add($"{book.Calendar.NameOf(year)}, since {book.Calendar.NameOf(span)} alone has no course");
        return question with { Spans = [year] };
    }

    /// <exception cref="CannotAnswerException">When the side is not one of the question.</exception>
    private FormOneQuestion Replaced(FormOneQuestion question, string with, string of)
    {
        bool Is(Side side) =>
            side.Kind == SideKind.Version
                ? book.Scenario(side.Scenario) is { } known
                    && (known.Code == of || known.Kind.ToString().Equals(of, StringComparison.OrdinalIgnoreCase))
                : side.Kind == SideKind.PriorYear && of == "prior-year";
        if (!Is(question.Subject) && !question.Bases.Any(Is))
            throw new CannotAnswerException($"The last answer does not show {of.Replace('-', ' ')}.");
        if (with.Length == 0)
            return Is(question.Subject)
                ? throw new CannotAnswerException(
                    "What is held against something cannot be left out of its own comparison. Ask for the figure that is to be shown instead."
                )
                : question with
                {
                    Bases = question.Bases.RemoveAll(b => Is(b)),
                    Intent = question.Bases.All(Is) ? Intent.Value : question.Intent,
                };
        var side = Named(with, question.Spans[0]);
        return Is(question.Subject)
            ? question with
            {
                Subject = side,
                Bases = question.Bases.Remove(side),
            }
            : question with
            {
                Bases = [.. question.Bases.Select(b => Is(b) ? side : b).Distinct()],
            };
    }

    /// <exception cref="CannotAnswerException">When the two cannot be divided by each other like that.</exception>
    private FigureRef InRatioTo(FigureRef part, RatioToItem ratio) =>
        book.Figure(part) is PairFigure { Top: var top } && book.Definition.Measures.All(m => m.Code != part.Code)
            ? InRatioTo(top.Ref, ratio)
        : ratio.Percent ? InPercentOf(part, ratio.Figure)
        : book.Figure(Book.Per(Book.Coded(part), Book.Coded(ratio.Figure)))?.Ref
            ?? throw new CannotAnswerException(
                $"{book.Figure(part)?.Name} cannot be shown per {book.Figure(ratio.Figure)?.Name}: that takes an amount and a count."
            );

    /// <exception cref="CannotAnswerException">When the figures are no two sums of one unit.</exception>
    private FigureRef InPercentOf(FigureRef part, FigureRef whole) =>
        book.Figure(Book.PercentOf(Book.Coded(part), Book.Coded(whole)))?.Ref
        ?? throw new CannotAnswerException(
            $"{book.Figure(part)?.Name} cannot be shown in percent of {book.Figure(whole)?.Name}: both have to be amounts of the same kind."
        );

    private ImmutableArray<Filter> Replace(FormOneQuestion question, Filter filter, bool adds)
    {
        // "Add Farrowquay" takes back that it was left out.
        if (
            adds
            && !filter.Exclude
            && question.Filters.FirstOrDefault(f =>
                f.Exclude && f.Dimension == filter.Dimension && filter.Members.All(f.Members.Contains)
            )
                is { } left
        )
            return left.Members.Length == filter.Members.Length
                ? question.Filters.Remove(left)
                : question.Filters.Replace(left, left with { Members = [.. left.Members.Except(filter.Members)] });
        var same = question.Filters.FirstOrDefault(f => f.Dimension == filter.Dimension && f.Exclude == filter.Exclude);
        if (adds && same is not null)
            filter = filter with { Members = [.. same.Members.Concat(filter.Members).Distinct()] };
        // "Not Calder", after an answer for Calder, and "Calder only" after one without it: what was said last holds, and nothing
        // is both.
        var opposite = question.Filters.FirstOrDefault(f => f.Dimension == filter.Dimension && f.Exclude != filter.Exclude);
        var rest = opposite is null ? [] : opposite.Members.Except(filter.Members).ToList();
        var kept = question.Filters.Where(f => f.Dimension != filter.Dimension);
        return
        [
            .. kept,
            .. opposite is not null && rest.Count > 0 ? (Filter[])[opposite with { Members = [.. rest] }] : [],
            filter,
        ];
    }

    /// <summary>"The month before that one": from the period that the last answer put first, or was about.</summary>
    private FormOneQuestion Step(FormOneQuestion question, int step, Previous before)
    {
        var first = question.Breakdowns.Any(b => b.Grain is not null) ? before.Grid.Parts().FirstOrDefault()?.Slice.Span : null;
        var from = first ?? question.Spans[0];
        var to = from.AddMonths(step * from.Count);
        _assumed.Add($"{book.Calendar.NameOf(to)}, {(step < 0 ? "before" : "after")} {book.Calendar.NameOf(from)}");
        return question with { Spans = [to], Breakdowns = [.. question.Breakdowns.Where(b => b.Grain is null)], Ranking = null };
    }
}
