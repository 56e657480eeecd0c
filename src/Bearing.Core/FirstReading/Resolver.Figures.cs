using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Variance;

namespace Bearing.Core.FirstReading;

/// <summary>Which figure is meant, alone, as a part of another, or as one of several.</summary>
internal sealed partial class Resolver
{
    /// <summary>Several unrelated accounts are asked for under the result, kept to just these.</summary>
    private (FigureRef? Figure, ImmutableArray<Filter> Filters) Figure(Draft draft)
    {
        // The share of an overrun is one of all costs' variance.
        if (
            draft.Share
            && draft.OfCosts
            && draft.Breakdowns.Count == 0
            && draft.Filters.Count == 0
            && draft.Figures is [var only]
            && book.Figure(only) is SumFigure { ShownSign: < 0 }
        )
            draft.Figures.Add(new FigureRef(FigureKind.Measure, Book.AllCosts));
        var named = draft.Figures.Distinct().ToList();
        // "Spends the most on crew per sailing": what is spent is that.
        if (!draft.ListsFigures && named.Exists(f => book.Figure(f) is PairFigure { Top.ShownSign: < 0 }))
            named.Remove(new FigureRef(FigureKind.Measure, Book.AllCosts));
        var innermost = named.Where(f => !named.Exists(other => other != f && Within(other, f))).ToList();
        // Said as a list, a whole and its part are both meant; side by side the part says which part of the whole.
        var figures = draft.ListsFigures && (!draft.Share || draft.Breakdowns.Count > 0) ? named : innermost;
        if (figures.Count <= 1)
            return (figures.FirstOrDefault(), []);
        // "Overheads between premises and marketing": these of its parts.
        if (draft.Between && named.Count > 2 && named.Skip(1).All(f => f.Kind == FigureKind.Account && Within(f, named[0])))
            return (named[0], [new Filter(book.Accounts.Code, [.. named.Skip(1).Select(f => f.Code)])]);
        if (
            figures.Count > innermost.Count
            || figures.Any(f => f.Kind == FigureKind.Measure || book.Figure(f) is not SumFigure { IsProfit: true })
            || book.Result is null
            || figures.Select(f => book.Figure(f)?.Unit).Distinct().Count() > 1
        )
        {
            // "Café profit", "gross margin of the café": of one account there is none.
            if (
                draft is { ListsFigures: false, FiguresJoined: true }
                && figures.Count == 2
                && figures.Find(f => f.Kind == FigureKind.Account) is { } single
                && figures.Find(f =>
                    f.Kind == FigureKind.Measure
                    && f.Code != Book.AllCosts
                    && (book.IsStatementLine(f) || book.Figure(f) is PairFigure)
                )
                    is { } made
                && book.TryMember(book.Accounts.Id, single.Code, out var account)
                && book.PathTo(account.Id).Length > 1
                && book.Figure(made) is { } of
            )
                throw new CannotAnswerException(
                    $"{of.Name} is worked out over many accounts; {account.Name} has none of its own. Ask for one of the two, or for both with “and”.",
                    account.Name,
                    of.Name
                );
            // A ratio, a line of the statement or a count is no part of a sum: each has an answer of its own.
            _cost += EachForItself * (figures.Count - 1) * (draft.ListsFigures ? 1 : 2) + (draft.Share ? ShareOfOther : 0);
            _also.AddRange(figures.Skip(1));
            return (figures[0], []);
        }
        var codes = figures.Select(f => f.Code).ToImmutableArray();
        var types = codes
            .Select(c => book.TryMember(book.Accounts.Id, c, out var m) ? m.Account?.Type : null)
            .Distinct()
            .ToList();
        // Costs are no part of income: their share of it is the one in percent of the other.
        if (draft.Share && codes.Length == 2 && types.Contains(AccountType.Income) && types.Contains(AccountType.Cost))
        {
            draft.Share = false;
            _cost += ShareOfOther;
            var (cost, income) =
                book.TryMember(book.Accounts.Id, codes[0], out var member) && member.Account?.Type == AccountType.Cost
                    ? (codes[0], codes[1])
                    : (codes[1], codes[0]);
            return (Book.PercentOf($"a:{cost}", $"a:{income}"), []);
        }
        var paths = codes.Select(c => book.TryMember(book.Accounts.Id, c, out var m) ? book.PathTo(m.Id) : []).ToList();
        var common = paths[0].TakeWhile((id, i) => paths.All(p => p.Length > i && p[i] == id)).LastOrDefault();
        var figure =
            common != 0 && types.Count == 1 ? new FigureRef(FigureKind.Account, book.Member(common).Code)
            // Costs of different kinds are costs: together they are no loss.
            : types is [AccountType.Cost] ? new FigureRef(FigureKind.Measure, Book.AllCosts)
            : book.Result;
        return (figure, [new Filter(book.Accounts.Code, codes)]);
    }

    /// <summary>Further figures that were asked for stand in columns of their own, where one table can hold them; otherwise each
    /// has an answer of its own.</summary>
    private FormOneQuestion WithBeside(FormOneQuestion question, Draft draft, bool edits)
    {
        ImmutableArray<FigureRef> kept = edits && (draft.Adds || draft.Figures.Count == 0) ? question.Beside : [];
        var wanted = kept.Concat(_also).Where(f => f != question.Figure).Distinct().ToList();
        question = question with { Beside = [] };
        // A part of the whole is one of an amount: its ratio stands beside it, whichever was said first.
        if (
            question.Share
            && question.Intent == Intent.Value
            && book.Figure(question.Figure) is PairFigure { Rule: not PairRule.Difference } ratio
        )
        {
            var amount = wanted.Find(f => book.Figure(f) is SumFigure)
                ?? throw new CannotAnswerException(
                    $"{ratio.Name} is worked out on every row, so the rows are no parts of a whole. Ask for the shares of an amount.",
                    $"share of {ratio.Top.Name}"
                );
            wanted = [question.Figure, .. wanted.Where(f => f != amount)];
            question = question with { Figure = amount };
        }
        _also.Clear();
        if (wanted.Count == 0)
            return question;
        var oneShare = !question.Share || wanted.TrueForAll(f => book.Figure(f) is PairFigure { Rule: not PairRule.Difference });
        // "Gross income" names one thing, and not two.
        if (
            oneShare
            && (draft.ListsFigures || !draft.FiguresJoined)
            && question.Breakdowns.All(b => b.Dimension != book.Accounts.Code)
            && question with { Beside = [.. wanted] } is { CanHoldBeside: true } together
            && wanted.TrueForAll(f => CanBeShown(question with { Figure = f }))
        )
        {
            if (question.Ranking is { } ranking && ranking.By != RankBy.Name)
                _assumed.Add($"ranked by {book.Figure(question.Figure)?.Name}");
            return together;
        }
        _also.AddRange(wanted);
        return question;
    }

    private bool CanBeShown(FormOneQuestion question)
    {
        try
        {
            return new ComparisonPlan(book, FormOne.ToKinds(question)).Blocks.Length > 0;
        }
        catch (CannotAnswerException)
        {
            return false;
        }
    }

    /// <summary>"How much of the budget is energy?": a part of all costs, or of all income, where no whole is said.</summary>
    private void WholeOfShare(Draft draft)
    {
        // "Who has the biggest share of fuel": the parts are whoever has them.
        if (
            !draft.Share
            || draft.Parts
            || draft.WholeSaid
            || draft.Projection is not null
            || draft.Who
            || draft.Breakdowns.Count + draft.Filters.Count > 0
            || draft.Figures.Distinct().ToList() is not [{ Kind: FigureKind.Account } only]
            || book.Figure(only) is not SumFigure { IsProfit: true } part
        )
            return;
        var whole = part.ShownSign < 0 ? new FigureRef(FigureKind.Measure, Book.AllCosts) : book.Sales;
        if (whole is null || whole == only || book.Figure(whole) is not { } all)
            return;
        draft.Figures.Add(whole);
        _assumed.Add($"of {all.Name.ToLowerInvariant()}, since no whole was named");
    }

    /// <summary>Whether one figure is a part of the other: "fuel costs" means fuel, not all costs.</summary>
    private bool Within(FigureRef part, FigureRef whole)
    {
        // "Net profit" is not the net sales in the profit: a line of the statement says what is asked for, and no kind of figure.
        if (book.IsStatementLine(whole))
            return false;
        if (book.Figure(part) is not SumFigure p || book.Figure(whole) is not SumFigure w || p.Accounts.SequenceEqual(w.Accounts))
            return false;
        return book.IsWithin(p, w);
    }

    /// <summary>Costs are no part of a profit, but what they are over is one of what it fell short by.</summary>
    private bool IsPartOfResult(FigureRef part, FigureRef result) =>
        part.Kind == FigureKind.Account
        && book.IsStatementLine(result)
        && book.Figure(part) is SumFigure p
        && book.Figure(result) is SumFigure r
        && book.IsWithin(p, r);

    /// <summary>Whether an account is a part of the figure, or the other way round.</summary>
    private bool IsInside(FigureRef figure, string account) =>
        book.Figure(figure) is not SumFigure sum
        || (
            book.TryMember(book.Accounts.Id, account, out var m)
            && (book.PathTo(m.Id).Any(sum.Accounts.Contains) || sum.Accounts.Any(a => book.PathTo(a).Contains(m.Id)))
        );

    /// <summary>"Below 20%" is a limit of a margin itself, and of its points beside a plan; of anything else it is one of a
    /// variance, which needs something to compare with.</summary>
    private void Percentages(Draft draft, FigureRef? figure)
    {
        if (!draft.Conditions.Exists(c => c.On == ConditionOn.Percent))
            return;
        if (figure is null || book.Figure(figure) is not PairFigure { Rule: PairRule.Percent })
            draft.Compares = true;
        else
            for (var i = 0; i < draft.Conditions.Count; i++)
                if (draft.Conditions[i].On == ConditionOn.Percent)
                    draft.Conditions[i] = draft.Conditions[i] with { On = ConditionOn.Amount };
    }

    /// <summary>"What share of revenue are harbour dues?": the part is one row of the whole, among its like. Null when no part
    /// and whole were said.</summary>
    private (FigureRef Whole, string Level)? Part(Draft draft)
    {
        if (!draft.Share || draft.Breakdowns.Exists(b => b.Dimension is not null))
            return null;
        var figures = draft.Figures.Distinct().ToList();
        if (
            figures is not [_, _]
            || figures.FindIndex(f => figures.Exists(o => o != f && (Within(f, o) || (draft.Compares && IsPartOfResult(f, o)))))
                is not (>= 0 and var part)
        )
            return null;
        if (LevelOf(figures[part]) is not { } level)
            return null;
        draft.Part = new PartAsked(book.Accounts.Code, figures[part].Code);
        return (figures[1 - part], level);
    }

    /// <summary>"How much of it is overtime", "is it mainly overtime", after payroll: one row of it, among its like.</summary>
    private void PartOfShown(Draft draft, FormOneQuestion before)
    {
        var shown = before.Figure;
        // "And Stonepine?", after the share of Brackmoor.
        if (
            before.Part is { } other
            && !draft.Only
            && draft is { Figures.Count: 0, Breakdowns.Count: 0, Filters: [{ Exclude: false, Members: [var next] } filter] }
            && filter.Dimension == other.Dimension
            && before.Filters.All(f => f.Dimension != filter.Dimension)
        )
        {
            draft.Part = new PartAsked(filter.Dimension, next);
            draft.Filters.Clear();
            return;
        }
        if (
            !(draft.PartOfIt || before.Part?.Dimension == book.Accounts.Code)
            || draft is not { Figures: [var part], Breakdowns.Count: 0 }
            || part == shown
            || LevelOf(part) is not { } level
            || book.Figure(part) is not SumFigure inner
            || book.Figure(shown) is not SumFigure outer
            || !book.IsWithin(inner, outer)
        )
            return;
        draft.Share = true;
        draft.Part = new PartAsked(book.Accounts.Code, part.Code);
        draft.Figures.Clear();
        draft.Breakdowns.Add(Breakdown.By(book.Accounts.Code, level));
    }

    /// <summary>The first of what the book counts.</summary>
    private IEnumerable<string> Counted =>
        book.MembersOf(book.Accounts.Id)
            .Where(m => m.Account?.Type == AccountType.Statistic && !book.HasChildren(m))
            .Take(MostCounted)
            .Select(m => m.Name);

    private string CountedInstead =>
        Counted.Any() ? $"; it counts {string.Join(", ", Counted.Select(c => c.ToLowerInvariant()))}." : ".";

    private const int MostCounted = 4;

    /// <summary>How many of what is kept as an amount, worked out, or not kept at all.</summary>
    private void RefuseCounting(Draft draft, FormOneQuestion question, bool edits)
    {
        // "The most cars" are no fares.
        if (
            draft.OtherNumber is { } counted
            && (draft.HowMany || draft.Rank is { Many: true })
            && book.Figure(question.Figure) is { } paid
            && paid.Unit == book.Definition.Currency
        )
            throw new CannotAnswerException(
                $"“{counted.Title}” is kept as an amount; the book does not count what the word stands for.",
                [.. Counted]
            );
        if (
            draft.HowMany
            && draft.Currency is null
            && question.Statistic is null
            && draft.Figures.Count == 1
            && book.Figure(question.Figure) is PairFigure ratio
        )
            throw new CannotAnswerException($"{ratio.Name} is worked out; it is nothing that is counted.", $"{ratio.Name}");
        if (
            draft.HowMany
            && draft.Currency is null
            && draft.Intent != Intent.Entries
            && question.Statistic is null
            && draft.Figures.Count == 1
            && book.Figure(question.Figure) is SumFigure { IsProfit: true } money
        )
            throw new CannotAnswerException(
                $"{money.Name} is kept as an amount; the book does not count it.",
                $"how much {money.Name}",
                $"list the entries of {money.Name}"
            );
        if (draft.HowMany && draft is { Figures.Count: 0, Breakdowns.Count: 0, ResultNamed: true })
            _cost += NotCounted;
        // "How many breakdowns": nothing is named that could be counted.
        if (!edits && draft is { HowMany: true, Parts: true, Figures.Count: 0, OfRecords: false })
            throw new CannotAnswerException(
                "What is to be counted was not made out. The book counts what its statistics are of.",
                [.. Counted]
            );
        // "Passengers and average fare": the average is one of the second alone.
        if (draft.Statistic is RowStatistic.Average or RowStatistic.Median && _also.Count > 0)
            throw new CannotAnswerException(
                "An average or a median is taken over the rows of one figure at a time. Ask for the one first and for the other after it."
            );
        // "How many trees": a member of which money is kept is not counted.
        if (
            !edits
            && draft
                is {
                    HowMany: true,
                    Currency: null,
                    Figures.Count: 0,
                    OfRecords: false,
                    Breakdowns.Count: 0,
                    Filters: [{ Exclude: false } what, ..]
                }
            && what.Dimension != book.Entities.Code
            && question.Statistic is null
            && book.Figure(question.Figure) is SumFigure { IsProfit: true }
        )
            throw new CannotAnswerException(
                $"The book keeps what {string.Join(" and ", what.Members.Select(c => book.TryDimension(what.Dimension, out var of) && book.TryMember(of.Id, c, out var m) ? m.Name : c))} came to, and does not count it{CountedInstead}",
                [.. Counted]
            );
    }

    /// <summary>The level at which an account is a row; null of what is no account.</summary>
    private string? LevelOf(FigureRef figure) =>
        figure.Kind == FigureKind.Account ? LevelOf(book.Accounts.Code, figure.Code)?.Level : null;

    /// <summary>"Freight's share of revenue by month": the part in percent of the whole, row by row. Null when no split was
    /// said.</summary>
    private FigureRef? PartIn(Draft draft)
    {
        if (!draft.Share || draft.Breakdowns.Count == 0 || draft.Breakdowns.Exists(b => b.Dimension == book.Accounts.Code))
            return null;
        var figures = draft.Figures.Distinct().ToList();
        if (
            figures is not [_, _]
            || figures.FindIndex(f => figures.Exists(o => o != f && Within(f, o))) is not (>= 0 and var part)
        )
            return null;
        if (
            book.Figure(figures[part]) is not SumFigure top
            || book.Figure(figures[1 - part]) is not SumFigure all
            || top.Unit != all.Unit
        )
            return null;
        draft.Share = false;
        if (!draft.AmountAndShare)
            return InPercentOf(figures[part], figures[1 - part]);
        _also.Add(InPercentOf(figures[part], figures[1 - part]));
        return figures[part];
    }

    /// <summary>What the words for selling ask for.</summary>
    private const string Sold = "sales";

    /// <summary>What the words for buying ask for: what is booked on a party.</summary>
    private const string Taken = "bought";

    private Dimension? Buyers => Parties.FirstOrDefault(IsBuyer);

    /// <summary>The figure that is meant where none was named: costs of what was spent, what is booked on a supplier or is new,
    /// otherwise the book's result.</summary>
    /// <exception cref="CannotAnswerException">When the book has no accounts yet.</exception>
    private FigureRef Unnamed(Draft draft)
    {
        var costs = book.Figure(new(FigureKind.Measure, Book.AllCosts))?.Ref;
        if (
            costs is not null
            && (draft.OfCosts || (!draft.ResultNamed && draft.Projection is Projection.Used or Projection.Remaining))
        )
            return Assumed(costs, "costs, since spending is meant");
        // "What did we pay Halden": what is booked on a supplier is spent.
        if (
            draft.Intent != Intent.Entries
            && Parties.FirstOrDefault(p =>
                draft.Filters.Exists(f => !f.Exclude && f.Dimension == p.Code)
                || (!draft.ResultNamed && draft.Breakdowns.Exists(b => b.Dimension == p.Code))
            )
                is { } party
        )
            return AssumedBooked(Bought(party.Code));
        // "How much did we buy": what is bought costs.
        if (draft.Unit == Taken && costs is not null)
            return Assumed(costs, "costs, since what is bought is meant");
        // "Best selling", "how much did we sell": what sells brings in income, and what is ranked by what it earns does.
        if ((draft.Unit == Sold || draft is { Unit: "income", Rank: not null }) && book.Sales is { } sales)
            return Assumed(
                sales,
                $"{book.Figure(sales)!.Name}, since what is {(draft.Unit == Sold ? "sold" : "earned")} is meant"
            );
        if (draft.ResultNamed)
            return book.Result ?? throw NoAccounts();
        // "Which departments are over budget" speaks of costs.
        if (costs is not null && IsOverBudget(draft) && IncomeOf(draft) is null)
            return Assumed(costs, "costs, since what is over budget is meant");
        // Whoever was not there before is new, whatever was booked on it.
        if (
            draft.Conditions.Any(c => c.On is ConditionOn.New or ConditionOn.Ended)
            && draft.Breakdowns.Find(b => b.Dimension is not null && b.Dimension != book.Accounts.Code) is { } rows
        )
            return AssumedBooked(Bought(rows.Dimension!));
        if (draft.Intent != Intent.Entries && IncomeOf(draft) is { } income)
            return Assumed(income.Ref, $"{income.Name}, since costs are not, or hardly, kept apart like that");
        var result = book.Result ?? throw NoAccounts();
        if (draft.Document is not null)
            return result;
        // Which accounts have no plan is asked of all of them.
        if (
            !(
                draft.Conditions.Exists(c => c.On is ConditionOn.New or ConditionOn.Ended)
                && draft.Breakdowns.Exists(b => b.Dimension == book.Accounts.Code)
            )
        )
            _cost += ResultUnnamed;
        return Assumed(result, $"{book.Figure(result)!.Name}, since no figure was named");

        FigureRef Assumed(FigureRef figure, string why)
        {
            _assumed.Add(why);
            return figure;
        }

        FigureRef AssumedBooked(FigureRef figure) =>
            Assumed(figure, $"{book.Figure(figure)?.Name.ToLowerInvariant()} booked, since no figure was named");

        static CannotAnswerException NoAccounts() => new("The book has no accounts yet. Load the accounts first.");
    }

    private bool IsOverBudget(Draft draft) =>
        draft.Direction == Direction.Over
        && draft.Unit is not ("income" or Sold)
        && draft.OwnLimits.TrueForAll(o =>
            o.Side == Direction.Over || !(o.Scenario == "budget" || book.Scenario(o.Scenario)?.Kind == ScenarioKind.Budget)
        )
        && draft.Breakdowns.Exists(b =>
            b.Dimension == book.Accounts.Code || draft.WhichRows || draft.Which || draft.Conditions.Count > 0
        )
        && draft.Bases.Concat(draft.Scenarios).Any(b => book.Scenario(b)?.Kind == ScenarioKind.Budget || b == "budget");

    /// <summary>"How much of it is Dunsprey?": the member is one row among its like, so that the whole can be seen beside
    /// it.</summary>
    private FormOneQuestion Shared(FormOneQuestion question, Draft draft)
    {
        if (!question.Share)
            return question;
        // "Leisure's share of room sales by inn": what all of its like come to in each row, and its part of that.
        if (question.Breakdowns.Length > 0)
        {
            // Of months, it is the member's part of each that is asked for.
            if (
                draft.ShareOf is null
                && question.Breakdowns.All(b => b.Grain is not null)
                && question.Filters.Where(f => !f.Exclude && f.Dimension != book.Accounts.Code).ToList()
                    is [{ Members: [var alone] } single]
            )
                draft.ShareOf = new Mention(MentionKind.Member, alone, single.Dimension, 0, 0, 0, alone);
            if (
                question.Filters.Select(f => f.Exclude ? null : Nested(f)).FirstOrDefault(n => n is not null) is { } within
                && question.Breakdowns.All(b => b.Dimension != within.Whole.Dimension)
            )
                return question with
                {
                    Filters = [.. question.Filters.Select(f => f.Dimension == within.Whole.Dimension ? within.Whole : f)],
                    Breakdowns = question.Breakdowns.Add(LevelOf(within.Whole.Dimension, within.Part)!),
                };
            if (draft.ShareOf is { Length: > 0 } said)
                draft.Sources.Add(("breakdown", said.Start, said.End));
            return
                draft.ShareOf is { } owner
                && question.Breakdowns.All(b => b.Dimension != owner.Dimension)
                && LevelOf(owner.Dimension!, owner.Value) is { } own
                ? question with
                {
                    Filters = question.Filters.RemoveAll(f => f.Dimension == owner.Dimension && !f.Exclude),
                    Breakdowns = question.Breakdowns.Add(own),
                }
                : question;
        }
        var parts = question.Filters.Where(f => !f.Exclude && LevelOf(f.Dimension, f.Members[0]) is not null).ToList();
        // "The structure of costs": what they are made of.
        if (parts.Count == 0)
            return
                book.Figure(question.Figure) is SumFigure all
                && (all.Accounts.Length > 1 || book.HasChildren(book.Member(all.Accounts[0])))
                ? question with
                {
                    Breakdowns = [Breakdown.By(book.Accounts.Code)],
                }
                : question;
        // "What part came from drama at Pier House": the part of either may be meant, unless it was said whose share it is.
        var part = parts.Find(f => draft.ShareOf?.Dimension == f.Dimension) ?? parts[^1];
        if (draft.ShareOf is null)
            _otherwise.AddRange(parts.Where(f => f != part).Select(PartOf));
        if (part.Members.Length == 1 || Nested(part) is not null)
            draft.Part = new PartAsked(part.Dimension, Nested(part)?.Part ?? part.Members[0]);
        return PartOf(part);

        // "The share of basil in herbs": among the herbs.
        FormOneQuestion PartOf(Filter filter) =>
            Nested(filter) is { } nested
                ? question with
                {
                    Filters = question.Filters.Replace(filter, nested.Whole),
                    Breakdowns = [LevelOf(filter.Dimension, nested.Part)!],
                }
                : question with
                {
                    Filters = question.Filters.Remove(filter),
                    Breakdowns = [LevelOf(filter.Dimension, filter.Members[0])!],
                };
    }

    /// <summary>The one row whose share is wanted, as long as rows and figure stay as they are.</summary>
    private FormOneQuestion WithPart(FormOneQuestion question, Draft draft)
    {
        if (
            question is { Statistic: null, Breakdowns: [_] }
            && (draft.PlaceAsked ? question is { Share: false, Ranking: not null } : question is { Share: true, Ranking: null })
            && draft.Part is { } part
        )
        {
            // The name that was said shows as the part, where it leaves nothing out.
            for (var i = 0; i < draft.Sources.Count; i++)
                if (question.Filters.IsEmpty && draft.Sources[i].Part == "filter")
                    draft.Sources[i] = draft.Sources[i] with { Part = draft.PlaceAsked ? "ranking" : "share" };
            return question with { Part = part };
        }

        return
            question.Part is null
            || (
                previous?.Question is { } before
                && before.Figure == question.Figure
                && before.Breakdowns.SequenceEqual(question.Breakdowns)
                && before.Filters.SequenceEqual(question.Filters)
                && question.Share
            )
            ? question
            : question with
            {
                Part = null,
            };
    }

    /// <summary>"Is Dunmere the largest branch", "how does it rank on sales": all of its like are put in order, and its place is
    /// said. Returns the figure of an account's like, otherwise null.</summary>
    private FigureRef? PlaceOf(Draft draft)
    {
        // "Was July the best month": of the months of its year.
        if (
            draft
                is {
                    Periods: [{ Range: false, Trailing: false } said],
                    Breakdowns: [{ Grain: { } grain }],
                    Part: null,
                    Share: false,
                    Which: false,
                    Conditions.Count: 0,
                    Rank: { BothEnds: false, Further: false, Number: null } best,
                    BasePeriod: null
                }
            && grain.Cut(said.Span).SequenceEqual([said.Span])
            && grain != TimeGrain.Year
        )
        {
            (draft.Part, draft.PlaceAsked, draft.Rank) = (
                PartAsked.Of(said.Span),
                true,
                best with
                {
                    Number = Questions.Ranking.All,
                }
            );
            draft.Periods[0] = said with
            {
                Span =
                    said.Span.To.Year == book.CurrentPeriod?.Year
                        ? FiscalCalendar.YearToDate(book.CurrentPeriod.Value)
                        : FiscalCalendar.Year(said.Span.To.Year),
            };
            return null;
        }
        // "Is fuel the largest overspend of all accounts": among the costs, or what is sold.
        var named = draft.Figures.Distinct().ToList();
        // "Spends the most on crew per sailing": what is spent is that.
        if (!draft.ListsFigures && named.Exists(f => book.Figure(f) is PairFigure { Top.ShownSign: < 0 }))
            named.Remove(new FigureRef(FigureKind.Measure, Book.AllCosts));
        var whole = named is [var one, var other]
            ? Within(one, other)
                ? other
                : Within(other, one)
                    ? one
                    : null
            : null;
        if (
            named.Count == (whole is null ? 1 : 2)
            && named.Find(f => f != whole) is { Kind: FigureKind.Account } account
            && draft
                is {
                    Breakdowns: [{ } accounts],
                    Part: null,
                    Share: false,
                    Which: false,
                    Conditions.Count: 0,
                    Rank: { BothEnds: false, Further: false, Number: null } most
                }
            && accounts == LevelOf(book.Accounts.Code, account.Code)
            && book.Figure(account) is SumFigure { IsProfit: true, ShownSign: var sign }
            && (whole ?? (sign < 0 ? new FigureRef(FigureKind.Measure, Book.AllCosts) : book.Sales)) is { } all
            && all != account
        )
        {
            (draft.Part, draft.PlaceAsked, draft.Rank) = (
                new PartAsked(book.Accounts.Code, account.Code),
                true,
                most with
                {
                    Number = Questions.Ranking.All,
                }
            );
            return all;
        }
        if (
            draft
                is not {
                    Filters: [{ Exclude: false, Members: [var member] } of],
                    Part: null,
                    Share: false,
                    Which: false,
                    Conditions.Count: 0,
                    Intent: null or Intent.Value or Intent.Variance
                }
            || LevelOf(of.Dimension, member) is not { } level
        )
            return null;
        var ranked =
            draft.Rank is { BothEnds: false, Further: false, Number: null } && draft.Breakdowns is [var rows] && rows == level;
        if (!ranked && !(draft is { Order.By: "size", Rank: null, Breakdowns.Count: 0 }))
            return null;
        (draft.Part, draft.PlaceAsked) = (new PartAsked(of.Dimension, member), true);
        draft.Filters.Clear();
        if (draft.Breakdowns.Count == 0)
            draft.Breakdowns.Add(level);
        if (draft.Rank is { } rank)
            draft.Rank = rank with { Number = Questions.Ranking.All };
        return null;
    }

    /// <summary>"How much of it is price", of an amount: a price, a ratio or a count is no part of it.</summary>
    private void RefuseOtherKind(FormOneQuestion question, FormOneQuestion before)
    {
        if (
            question.Figure != before.Figure
            && book.Figure(question.Figure) is { } part
            && book.Figure(before.Figure) is { } whole
            && part.Unit != whole.Unit
        )
            throw new CannotAnswerException(
                $"{part.Name} is no part of {whole.Name}, and what prices and volumes did to it is not worked out.",
                $"{part.Name}"
            );
    }

    /// <summary>"Calder Ferries against the group": as one of the rows that make up the whole; both side by side would leave the
    /// one out of the other.</summary>
    private void AmongItsParts(Draft draft)
    {
        if (
            draft.Combined
            || draft.Statistic is RowStatistic.Difference
            || draft.Intent is not (null or Intent.Value or Intent.Variance)
        )
            return;
        var merged = Merge(draft.Filters);
        foreach (var filter in merged.Where(f => !f.Exclude && f.Members.Length > 1))
        {
            if (
                Nested(filter) is not var (whole, part)
                || !book.TryDimension(filter.Dimension, out var dimension)
                || !book.TryMember(dimension.Id, whole.Members[0], out var outer)
                || !book.TryMember(dimension.Id, part, out var inner)
            )
                continue;
            if (
                !filter.Members.All(m =>
                    m == outer.Code
                    || (book.TryMember(dimension.Id, m, out var member) && book.PathTo(member.Id).Contains(outer.Id))
                )
            )
                continue;
            if (draft.Share && draft.Breakdowns.TrueForAll(b => b.Dimension != filter.Dimension))
                continue;
            draft.Filters.RemoveAll(f => f.Dimension == filter.Dimension && !f.Exclude);
            draft.Filters.Add(whole);
            if (draft.Breakdowns.TrueForAll(b => b.Dimension != filter.Dimension))
                draft.Breakdowns.Add(LevelOf(filter.Dimension, part)!);
            _assumed.Add($"{inner.Name} is shown among the parts of {outer.Name}, to which it belongs");
        }
    }

    /// <summary>Of two members one of which holds the other: the outer one, and the code of the inner.</summary>
    private (Filter Whole, string Part)? Nested(Filter filter)
    {
        if (!book.TryDimension(filter.Dimension, out var dimension))
            return null;
        foreach (var code in filter.Members)
            if (
                book.TryMember(dimension.Id, code, out var inner)
                && filter.Members.FirstOrDefault(o =>
                    o != code && book.PathTo(inner.Id).Any(above => book.Label(above).Code == o)
                )
                    is { } outer
            )
                return (filter with { Members = [outer] }, code);
        return null;
    }

    private Breakdown? LevelOf(string dimension, string code) => Breakdown.OfMember(book, dimension, code);

    /// <summary>What shows that somebody is there: income of those that buy, otherwise whatever was bought.</summary>
    private FigureRef Bought(string dimension) =>
        book.TryDimension(dimension, out var kept) && IsBuyer(kept) && book.Sales is { } income
            ? income
            : new FigureRef(FigureKind.Measure, Book.CostsAndAssets);

    /// <summary>Customers or the like: called so, or kept of income alone.</summary>
    private bool IsBuyer(Dimension party) =>
        party.OtherNames.Append(party.Name).Append(party.Code).Any(n => vocabulary.Fields["buyer"].Contains(Words.Phrase(n)))
        || (book.Scenario(Book.ActualCode) is { } actual && book.KeepsOfIncomeOnly(actual.Current.Id, party.Id));

    /// <summary>Split by what is kept for income and few costs, income is meant; null where costs are kept apart as
    /// well.</summary>
    private Figure? IncomeOf(Draft draft)
    {
        var said = draft
            .Breakdowns.Select(b => b.Dimension)
            .Concat(draft.Filters.Where(f => !f.Exclude).Select(f => f.Dimension));
        if (
            said.Select(c => c is not null && book.TryDimension(c, out var d) && d.Role == DimensionRole.Other ? d : null)
                .FirstOrDefault(d => d is not null)
            is not { } dimension
        )
            return null;
        var versions = book
            .Definition.Scenarios.Where(s => draft.Compares || s.Code == Book.ActualCode)
            .Select(s => s.Current.Id);
        return versions.Any(v => book.KeepsOfIncomeMainly(v, dimension.Id)) && book.Sales is { } sales
            ? book.Figure(sales)
            : null;
    }

    private static bool IsOfUnit(Figure? figure, string unit) =>
        unit switch
        {
            "percent" => figure is PairFigure { Rule: PairRule.Percent },
            "balance" => figure is SumFigure { OverTime: OverTime.Closing },
            _ => figure is SumFigure { IsProfit: true, ShownSign: > 0 } or PairFigure { Top: { IsProfit: true, ShownSign: > 0 } },
        };

    /// <summary>"Fuel per sailing" goes with fuel.</summary>
    private bool IsMadeOf(PairFigure pair, string account) =>
        book.Figure(new FigureRef(FigureKind.Account, account)) is SumFigure sum
        && (sum.Accounts.SequenceEqual(pair.Top.Accounts) || book.IsWithin(pair.Top, sum));

    /// <exception cref="CannotAnswerException">When every account of the figure is left out of it.</exception>
    private void RefuseNothingLeft(FormOneQuestion question)
    {
        if (
            (
                book.Figure(question.Figure) is PairFigure { Rule: not PairRule.Difference } ratio
                    ? ratio.Top
                    : book.Figure(question.Figure)
            )
                is not SumFigure sum
            || question.Filters.FirstOrDefault(f => f.Exclude && f.Dimension == book.Accounts.Code) is not { } without
        )
            return;
        if (sum.Accounts.All(a => book.PathTo(a).Any(at => without.Members.Contains(book.Member(at).Code))))
            throw new CannotAnswerException(
                $"Nothing is left of {sum.Name} without {string.Join(" and ", without.Members.Select(c => book.TryMember(book.Accounts.Id, c, out var m) ? m.Name : c))}.",
                sum.Name
            );
    }
}
