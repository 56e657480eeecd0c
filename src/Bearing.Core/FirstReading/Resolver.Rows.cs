using System.Collections.Immutable;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>Which rows an answer has, and in which order.</summary>
internal sealed partial class Resolver
{
    /// <summary>"Where is it over budget?": in which entities; beside another split "where" has nothing left to say, unless a
    /// limit follows.</summary>
    private void Where(Draft draft)
    {
        // Where a year ends up is no place; where it falls short is one.
        if (draft is { Where: not null, Projection: Projection.Outlook, Direction: not null })
            _cost += PlaceOfOutlook;
        if (draft.Where is not { } word || draft.Projection is not null)
            return;
        // "Where is it worst", after regions: in which of them.
        if (
            draft is { Breakdowns.Count: 0, Rank: not null }
            && previous?.Question is { Records: null, Breakdowns: [{ } shown] }
            && shown.Dimension == book.Entities.Code
        )
            draft.Which = draft.WhichOne = true;
        else if (draft.Breakdowns.Count == 0 && draft.Intent != Intent.Entries)
        {
            draft.Breakdowns.Add(Breakdown.By(book.Entities.Code, book.Entities.Levels[^1]));
            draft.WhichRows = draft.Sign != 0 || draft.Direction is not null || draft.Rank is not null;
        }
        else if (
            draft.Sign == 0
            && draft.Direction is null
            && draft.Rank is null
            && draft.Conditions.Count == 0
            && draft.Text is null
        )
            draft.Unplaced.AddRange(Enumerable.Range(word.Start, word.Length));
    }

    /// <summary>Accounts while there are several, entities of a single one.</summary>
    private Breakdown UsualRows(FigureRef? figure)
    {
        // The three largest costs in percent of income are accounts, as they are without it.
        if (
            figure is not null
            && book.Figure(figure) is PairFigure { Rule: PairRule.Percent, Top: { IsProfit: true, ShownSign: < 0 } top }
            && book.Definition.Measures.All(m => m.Code != figure.Code)
        )
            figure = top.Ref;
        var several =
            figure is null
            || book.Figure(figure) is SumFigure sum
                && (sum.Accounts.Length > 1 || book.HasChildren(book.Member(sum.Accounts[0])));
        return several
            ? Breakdown.By(book.Accounts.Code, book.Accounts.Levels[^1])
            : Breakdown.By(book.Entities.Code, book.Entities.Levels[^1]);
    }

    /// <summary>What was said; several figures, or members, asked for at once stay apart in it.</summary>
    private ImmutableArray<Breakdown> Breakdowns(Draft draft, ImmutableArray<Filter> figures, FigureRef? figure)
    {
        ImmutableArray<Breakdown> accounts =
            figures.Length > 0 && !draft.Combined && !draft.Breakdowns.Exists(b => b.Dimension == book.Accounts.Code)
                ? [Breakdown.By(book.Accounts.Code)]
                : [];
        if (draft.Breakdowns.Count > 0)
            return
            [
                .. draft
                    .Breakdowns.Concat(accounts)
                    .Concat(
                        draft.Breakdowns.TrueForAll(b => b.Grain is not null) && IsPlain(draft) ? Listed(draft, MostLines) : []
                    )
                    .Distinct(),
            ];
        if (draft.Chart || draft.Cumulative)
            return [Breakdown.ByTime(TimeGrain.Month), .. draft.Chart && IsPlain(draft) ? Listed(draft, MostLines) : []];
        if ((draft.Conditions.Count > 0 || draft.Rank is not null) && draft.Intent != Intent.Entries)
            return [UsualRows(figure)];
        if (
            accounts.Length > 0
            || draft.Intent is not (null or Intent.Value or Intent.Variance)
            || draft.Share
            || draft.Combined
            || draft.Statistic is not null
            || draft.Projection is not null
            || draft.Across is not null
        )
            return accounts;
        return Listed(draft, MostListed);
    }

    /// <summary>Lines beside each other that a chart over time can be read of.</summary>
    private const int MostLines = 4;

    /// <summary>The level of members that were named one by one, up to so many.</summary>
    private ImmutableArray<Breakdown> Listed(Draft draft, int most) =>
        !draft.Combined
        && draft.Filters.Find(f => f is { Exclude: false, Members.Length: > 1 } && f.Members.Length <= most) is { } listed
        && listed.Members.Select(m => LevelOf(listed.Dimension, m)).Distinct().ToList() is [{ } level]
            ? [level]
            : [];

    /// <summary>Nothing is ranked, kept, shared out or carried on: figures, or figures and what they are held against.</summary>
    private static bool IsPlain(Draft draft) =>
        draft
            is {
                Intent: null or Intent.Value or Intent.Variance,
                Share: false,
                Growth: false,
                Statistic: null,
                Projection: null,
                Rank: null,
                Cumulative: false,
                Across: null,
                Quantifier: null,
                Direction: null,
                Sign: 0
            }
        && draft.Conditions.Count == 0;

    /// <summary>From November to December: the last month against the first.</summary>
    private void Shift(Draft draft)
    {
        if (
            draft.Periods is not [{ Span.Count: > 1, Range: true } range]
            || draft.Bases.Count > 0
            || draft.BasePeriod is not null
        )
            return;
        var (from, to) = range.Ends ?? (PeriodSpan.Of(range.Span.From), PeriodSpan.Of(range.Span.To));
        draft.Periods[0] = range with { Span = to };
        // From last year to this year: as far as this one has come.
        draft.BasePeriod =
            from.Count != to.Count && to.AddMonths(-12) is var before && from.Intersect(before) == before ? before : from;
    }

    private Ranking? Ranking(Draft draft, bool compares, FigureRef? figure = null)
    {
        if (draft.Rank is { Further: true })
            _cost += NothingToFollow;
        if (draft.Rank is null && draft.Order is { } order)
            return Ordered(order, compares, compares && draft.Growth && !draft.Change, IsBetterLow(figure));
        if (draft.Rank is not { } rank)
        {
            if (compares && Claimed(draft, draft.Breakdowns.Count > 0) is { } side)
                return new Ranking(Questions.Ranking.All, SideOf(side, figure));
            return draft.Which && draft.Breakdowns.Count > 0 && draft.Conditions.Count == 0
                ? new Ranking(DefaultRanking, compares ? RankBy.Unfavourable : RankBy.Value)
                : null;
        }
        // At the top of what is earned, of members, stand those that did best; of accounts the largest movements.
        var earned =
            compares
            && rank is { Some: true, Many: false, BothEnds: false }
            && draft is { Direction: null, Growth: false, BasePeriod: null, Intent: null or Intent.Value }
            && IsOfMembers(rank, draft)
            && IsEarned(figure);
        var by = rank.Order switch
        {
            Composer.Listed => RankBy.Name,
            "fastest" or "slowest" when compares => RankBy.Percent,
            "largest" or "smallest" when compares && draft.Growth && !draft.Change => RankBy.Percent,
            "worst" => compares ? RankBy.Unfavourable : RankBy.Value,
            "best" => compares ? RankBy.Favourable : RankBy.Value,
            // Two months side by side are ranked by what they are, variances by how large they are.
            // Both ends of variances are the good and the bad one.
            _ when compares && rank.BothEnds && draft.Direction is null && !draft.Growth => RankBy.Favourable,
            _ when earned => rank.Order == "smallest" ? RankBy.Unfavourable : RankBy.Favourable,
            _ => compares && !(draft.BasePeriod is not null && (draft.Growth || draft.BesideOnly))
                ? SideOf(draft.Direction, figure)
                : RankBy.Value,
        };
        // "The largest increase in percent".
        var inPercent = compares && draft.Unit == "percent" && by is RankBy.Unfavourable or RankBy.Favourable or RankBy.Size;
        var ascending =
            (rank.Order is "smallest" or "slowest" && !earned)
            || (!compares && rank.Order == (IsBetterLow(figure) ? "best" : "worst"));
        return new Ranking(
            Math.Clamp(
                rank.Number
                    ?? (
                        IsOfOne(rank, draft) ? 1
                        : rank.BothEnds ? DefaultEnds
                        : DefaultRanking
                    ),
                1,
                1000
            ),
            by,
            ascending
        )
        {
            BothEnds = rank.BothEnds,
            Within = draft.RankWithin,
            Skip = rank.Skip,
            Pairs = IsOfPairs(rank, draft),
            InPercent = inPercent,
        };
    }

    /// <summary>"The best and the worst month", "fuel of the largest route by month": that one, and not those that follow
    /// it.</summary>
    private bool IsOfOne(RankItem rank, Draft draft) =>
        (draft.WhichSingle && !rank.BothEnds && previous?.Question.Breakdowns.Any(draft.Breakdowns.Contains) == true)
        || (
            rank.BothEnds ? rank.One
            : draft.WhichOne ? !rank.OfLevel
            : rank.One && !draft.Which && draft.Breakdowns.Count > 1
        );

    /// <summary>"The ten worst by entity and account" are ten pairs of an entity and an account.</summary>
    private static bool IsOfPairs(RankItem rank, Draft draft) =>
        !rank.OfLevel
        && !rank.BothEnds
        && !draft.RankWithin
        && !draft.Which
        && draft.Breakdowns.Select(b => b.Dimension).Distinct().Count() > 1;

    /// <summary>"Which harbours missed budget", "did any harbour": those that did, and no others. Null where nothing is claimed
    /// of the rows.</summary>
    private static Direction? Claimed(Draft draft, bool hasRows) =>
        (draft.Which || draft.WhichRows || draft.Only || draft.Quantifier == Quantifier.Any)
        && hasRows
        && draft.Conditions.TrueForAll(c => c.On == ConditionOn.Base)
        && draft.Rank is null
        && draft.Direction is { } side and not (Direction.Either or Direction.Within)
            ? side
            : null;

    private bool IsOfMembers(RankItem rank, Draft draft) =>
        (rank.Ranked ?? draft.Breakdowns.FirstOrDefault() ?? previous?.Question.Breakdowns.FirstOrDefault())
            is { Dimension: { } ranked }
        && ranked != book.Accounts.Code;

    private bool IsEarned(FigureRef? figure) =>
        figure is not null && book.Figure(figure) is SumFigure { IsProfit: true, ShownSign: > 0 };

    /// <summary>Of costs and of what they come to for each of something the lowest is the best.</summary>
    private bool IsBetterLow(FigureRef? figure) =>
        figure is not null && book.Figure(figure) is SumFigure { ShownSign: < 0, IsProfit: true } or { Good: GoodDirection.Down };

    /// <summary>All rows, in the order that was asked for.</summary>
    private static Ranking Ordered(OrderItem order, bool compares, bool growth, bool betterLow) =>
        order.By switch
        {
            "worst" or "best" when growth => new Ranking(Questions.Ranking.All, RankBy.Percent, order.By == "worst" ^ betterLow),
            "worst" or "best" => new Ranking(
                Questions.Ranking.All,
                !compares ? RankBy.Value
                    : order.By == "worst" ? RankBy.Unfavourable
                    : RankBy.Favourable,
                !compares && order.By == (betterLow ? "best" : "worst")
            ),
            "growth" when compares => new Ranking(Questions.Ranking.All, RankBy.Percent, !order.Descending),
            "size" when growth => new Ranking(Questions.Ranking.All, RankBy.Percent, !order.Descending),
            "size" or "gap" => new Ranking(Questions.Ranking.All, compares ? RankBy.Size : RankBy.Value, !order.Descending),
            "day" or "name" => new Ranking(Questions.Ranking.All, RankBy.Name, order.Descending),
            _ => throw new CannotAnswerException(
                "Rows of a table go by size, by variance, by name or by time; fields are for lists of entries and records.",
                "largest first",
                "alphabetically"
            ),
        };

    /// <summary>"Top 5 over budget": over is bad for a cost and good for income.</summary>
    private RankBy SideOf(Direction? direction, FigureRef? figure)
    {
        var isCost = IsBetterLow(figure);
        return direction switch
        {
            Direction.Against => RankBy.Unfavourable,
            Direction.For => RankBy.Favourable,
            Direction.Over => isCost ? RankBy.Unfavourable : RankBy.Favourable,
            Direction.Under => isCost ? RankBy.Favourable : RankBy.Unfavourable,
            _ => RankBy.Size,
        };
    }
}
