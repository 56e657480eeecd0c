using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>A whole question made of what was said.</summary>
/// <param name="Assumed">What was taken as usual since nothing said it, each in words.</param>
/// <param name="Kept">What was kept from the turn before, each in words; empty for a question of its own.</param>
internal sealed record Filled(Question Question, ImmutableArray<string> Assumed, ImmutableArray<string> Kept, int Price);

/// <summary>Fills the slots of a question that nothing was said of: from the talk, or as is usual in the book.</summary>
/// <exception cref="CannotAnswerException">Wherever the book has not what was asked for.</exception>
internal sealed partial class Filling(Book book, Vocabulary vocabulary, Said said)
{
    private const int DefaultRanking = 10;
    private const int DefaultEnds = 3;

    /// <summary>Months among which one can be unusual.</summary>
    private const int FewestUsual = 3;

    /// <summary>Members that are named one by one are shown one by one, unless they are too many.</summary>
    private const int MostListed = 12;

    /// <summary>Any difference at all.</summary>
    private const decimal Cent = 0.01m;

    /// <summary>Whether any kind of question has room for it.</summary>
    public static bool HasSlot(Item item) =>
        OfItsOwn.ContainsKey(item.GetType())
        || OfEntries.ContainsKey(item.GetType())
        || OfATurn.ContainsKey(item.GetType())
        || OfARecordsTurn.ContainsKey(item.GetType());

    private readonly List<string> _assumed = [];
    private int _price = said.Price;

    private Filled Done(Question question, params IEnumerable<string> kept) => new(question, [.. _assumed], [.. kept], _price);

    // ---- figures

    /// <summary>The figures that were named.</summary>
    private ValueList<FigureRef> Figures() =>
        said.One<FiguresItem>() is { } several ? several.Figures
        : said.One<FigureItem>() is { } one ? [one.Figure]
        : said.One<BackToItem>() is { } back ? [back.Figure]
        : [];

    private SumFigure? Sum(FigureRef figure) => book.Figure(figure) as SumFigure;

    private bool IsCost(FigureRef figure) => Sum(figure) is { IsProfit: true, ShownSign: < 0 };

    /// <summary>Of costs and of what they come to for each of something the lowest is the best.</summary>
    private bool IsBetterLow(FigureRef figure) => IsCost(figure) || book.Figure(figure) is { Good: GoodDirection.Down };

    private string NameOf(FigureRef figure) => book.Figure(figure)?.Name ?? figure.Code;

    // ---- sides

    private IEnumerable<SideName> SidesNamed() =>
        said
            .Parts.SelectMany(p =>
                p.Item switch
                {
                    SideItem side => [side.Name],
                    SidesItem sides => sides.Names.AsEnumerable(),
                    _ => [],
                }
            )
            .Distinct();

    private IEnumerable<SideName> SidesAgainst() => said.All<AgainstItem>().SelectMany(a => a.Names).Distinct();

    private Side Resolve(SideName name, PeriodSpan span) =>
        name switch
        {
            SideName.Actual => Side.Actual,
            SideName.PriorYear => Side.PriorYear,
            SideName.Prior prior => Side.PriorPeriod with { Version = Plain(prior.Months ?? span.Count) },
            SideName.ForecastBefore => new Side(SideKind.Version, ForecastBefore(span).Code),
            SideName.Plan plan => new Side(
                SideKind.Version,
                (
                    book.Latest(plan.Kind, span.To)
                    ?? throw new CannotAnswerException(
                        $"The book has no {plan.Kind.ToString().ToLowerInvariant()} yet.",
                        "versus last year"
                    )
                ).Code
            ),
            SideName.Version { Side: var side } => book.Scenario(side.Scenario) is { } known && known.Current.Code == side.Version
                ? side with
                {
                    Version = null,
                }
                : side,
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    private static string Plain(int number) => number.ToString(System.Globalization.CultureInfo.InvariantCulture);

    private Scenario ForecastBefore(PeriodSpan span)
    {
        var latest = book.Latest(ScenarioKind.Forecast, span.To)
            ?? throw new CannotAnswerException("The book has no forecast yet.", "versus last year");
        var cut = latest.Current.CutOff;
        return book.Definition.Scenarios.Where(s =>
                s.Kind == ScenarioKind.Forecast
                && s.Code != latest.Code
                && s.Current.Coverage?.Span.Intersect(span) is not null
                && (cut is null || s.Current.CutOff < cut)
            )
            .OrderByDescending(s => s.Current.CutOff ?? default)
            .FirstOrDefault()
            ?? throw new CannotAnswerException(
                $"The book has one forecast only, {latest.Name}; there is none before it.",
                $"versus {latest.Name}"
            );
    }

    /// <summary>Actual before newer forecast before older forecast before budget before the past.</summary>
    private int Precedence(Side side) =>
        side.Kind switch
        {
            SideKind.PriorYear => 40,
            SideKind.PriorPeriod => 50,
            _ => book.Scenario(side.Scenario) switch
            {
                { Kind: ScenarioKind.Actual } => 0,
                { Kind: ScenarioKind.Forecast } forecast => 20 - Math.Clamp(forecast.Current.CutOff?.Number ?? 0, 0, 12),
                _ => 30,
            },
        };

    /// <summary>The newer is held against the older, and a plan against what was planned before, whatever the order of
    /// words.</summary>
    private (Side Subject, ImmutableArray<Side> Bases) Ordered(IEnumerable<Side> sides)
    {
        var all = sides.Distinct().OrderBy(Precedence).ToList();
        return (all[0], [.. all.Skip(1)]);
    }

    // ---- rows

    /// <summary>Accounts while there are several, entities of a single one.</summary>
    private Breakdown UsualRows(FigureRef figure)
    {
        if (
            book.Figure(figure) is PairFigure { Rule: PairRule.Percent, Top: { IsProfit: true, ShownSign: < 0 } top }
            && book.Definition.Measures.All(m => m.Code != figure.Code)
        )
            figure = top.Ref;
        var several =
            book.Figure(figure) is SumFigure sum && (sum.Accounts.Length > 1 || book.HasChildren(book.Member(sum.Accounts[0])));
        return several
            ? Breakdown.By(book.Accounts.Code, book.Accounts.Levels[^1])
            : Breakdown.By(book.Entities.Code, book.Entities.Levels[^1]);
    }

    /// <summary>By size of a variance, or by what is favourable; by value where nothing is compared.</summary>
    private Ranking Ranked(RankItem rank, FigureRef figure, bool compares, bool growth, Direction? claimed)
    {
        var ofMembers = (rank.Of ?? said.One<SplitItem>()?.By[0]) is { Dimension: { } ranked } && ranked != book.Accounts.Code;
        var earned =
            compares
            && rank is { Some: true, BothEnds: false }
            && claimed is null
            && !growth
            && ofMembers
            && Sum(figure) is { IsProfit: true, ShownSign: > 0 };
        var by = rank.End switch
        {
            End.Fastest or End.Slowest when compares => RankBy.Percent,
            End.Largest or End.Smallest when compares && growth => RankBy.Percent,
            End.Worst => compares ? RankBy.Unfavourable : RankBy.Value,
            End.Best => compares ? RankBy.Favourable : RankBy.Value,
            End.Unusual => RankBy.Unusual,
            _ when compares && rank.BothEnds && claimed is null && !growth => RankBy.Favourable,
            _ when earned => rank.End == End.Smallest ? RankBy.Unfavourable : RankBy.Favourable,
            _ => compares ? SideOf(claimed, figure) : RankBy.Value,
        };
        var ascending =
            (rank.End is End.Smallest or End.Slowest && !earned)
            || (!compares && rank.End == (IsBetterLow(figure) ? End.Best : End.Worst));
        var count = rank.Count ?? (rank.BothEnds || rank.End == End.Unusual ? DefaultEnds : DefaultRanking);
        return new Ranking(Math.Clamp(count, 1, Ranking.All), by, ascending) { BothEnds = rank.BothEnds, Skip = rank.Skip };
    }

    /// <summary>"Over" is bad for a cost and good for income.</summary>
    private RankBy SideOf(Direction? direction, FigureRef figure)
    {
        var low = IsBetterLow(figure);
        return direction switch
        {
            Direction.Against => RankBy.Unfavourable,
            Direction.For => RankBy.Favourable,
            Direction.Over => low ? RankBy.Unfavourable : RankBy.Favourable,
            Direction.Under => low ? RankBy.Favourable : RankBy.Unfavourable,
            _ => RankBy.Size,
        };
    }

    /// <summary>All rows in an order.</summary>
    private Ranking InOrder(OrderItem order, FigureRef figure, bool compares, bool growth) =>
        order switch
        {
            { ByName: true } => new Ranking(Ranking.All, RankBy.Name),
            { End: End.Worst or End.Best } when growth => new Ranking(
                Ranking.All,
                RankBy.Percent,
                (order.End == End.Worst) ^ IsBetterLow(figure)
            ),
            { End: End.Worst or End.Best } => new Ranking(
                Ranking.All,
                !compares ? RankBy.Value
                    : order.End == End.Worst ? RankBy.Unfavourable
                    : RankBy.Favourable,
                !compares && order.End == (IsBetterLow(figure) ? End.Best : End.Worst)
            ),
            { End: End.Fastest } when compares => new Ranking(Ranking.All, RankBy.Percent),
            _ when growth => new Ranking(Ranking.All, RankBy.Percent, order.End == End.Smallest),
            _ => new Ranking(Ranking.All, compares ? RankBy.Size : RankBy.Value, order.End == End.Smallest),
        };

    private Display? Shown(Display? before)
    {
        foreach (var form in said.All<FormItem>())
            before = new Display(
                form.Display.View ?? before?.View,
                form.Display.Scale ?? before?.Scale,
                form.Display.Decimals ?? before?.Decimals
            );
        return before;
    }
}
