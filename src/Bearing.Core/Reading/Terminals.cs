using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>Turns what the lexicon found into typed items. What has no item here is read by no rule and fills no slot.</summary>
internal static class Terminals
{
    /// <summary>Hundredths of the lexicon's prices.</summary>
    private const int Scale = 100;

    /// <summary>What a part of a name costs more than a whole one, and what it does where the same words are the whole name of
    /// something else.</summary>
    private const int Doubtful = 15,
        NamesOther = 40;

    /// <summary>A small word costs next to nothing, and more where it could mean something.</summary>
    private const int Slight = 1,
        MayMean = 45;

    /// <summary>A word that is sooner a part of the phrase in which it stands.</summary>
    private const int Nested = 15;

    /// <summary>A word that nobody knows costs more than any meaning that it could have.</summary>
    private const int Unknown = 80;

    /// <summary>A comma that joins as and does.</summary>
    private const int Listing = 3;

    public static IEnumerable<Part> Of(
        Book book,
        BookWords words,
        IReadOnlyList<Token> tokens,
        IReadOnlyCollection<Mention> mentions
    )
    {
        var whole = mentions.Where(m => !m.Partial && IsName(m)).Select(m => (m.Start, m.Length)).ToHashSet();
        var named = mentions
            .Where(m => m is { Kind: MentionKind.Member, Partial: false })
            .Select(m => (m.Start, m.Length))
            .ToHashSet();
        var states = mentions.Where(m => m.Kind == MentionKind.Check).Select(m => (m.Start, m.Length)).ToHashSet();
        var meaning = mentions.Where(m => !IsSmall(m)).Select(m => (m.Start, m.Length)).ToHashSet();
        var phrases = mentions.Where(m => !IsSmall(m) && m.Length > 1).ToList();
        bool IsNested(Mention m) => phrases.Exists(p => p.Start <= m.Start && p.End >= m.End && p.Length > m.Length);
        bool MeansMore(Mention m) => meaning.Contains((m.Start, m.Length)) || IsNested(m);
        var lower = tokens.Any(t => t.Text.Any(char.IsLower));
        var namesakes = mentions
            .Where(m => m is { Kind: MentionKind.Member, Dimension: not null })
            .GroupBy(m => (m.Start, m.Length, m.Dimension, m.Title))
            .Where(g => g.Select(m => m.Value).Distinct().Count() > 1)
            .ToDictionary(
                g => g.Key,
                g => (ValueList<string>)[.. g.Select(m => m.Value).Distinct().Order(StringComparer.Ordinal)]
            );
        foreach (var m in mentions)
        foreach (
            var item in m.Kind == MentionKind.Member
            && namesakes.TryGetValue((m.Start, m.Length, m.Dimension, m.Title), out var all)
                ? [new MembersItem(m.Dimension!, all) { Namesakes = true }]
                : Items(book, words, m)
        )
        {
            if (item is MadeUpItem && tokens[m.Start].Text.Length > tokens[m.Start].Stem.Length)
                continue;
            if (item is FromWord or AsAtWord or SinceWord)
                yield return new Part(item, m.Start, m.End, Part.Span(m.Start, m.End), Slight);
            else if (item is not IPassed)
                yield return new Part(
                    item,
                    m.Start,
                    m.End,
                    Part.Span(m.Start, m.End),
                    (int)Math.Round(m.Cost * Scale)
                        + (IsName(m) || !IsNested(m) ? 0 : Nested)
                        + (
                            !m.Partial ? 0
                            : whole.Contains((m.Start, m.Length)) ? Doubtful + NamesOther
                            : Doubtful
                        )
                        + (m.Kind == MentionKind.Value && named.Contains((m.Start, m.Length)) ? Doubtful : 0)
                        + (m.Kind == MentionKind.Field && states.Contains((m.Start, m.Length)) ? Doubtful : 0)
                );
            // IT in capitals is no pronoun.
            else if (!(lower && m.Length == 1 && IsCapitals(tokens[m.Start].Text) && meaning.Contains((m.Start, 1))))
                yield return new Part(item, m.Start, m.End, 0, MeansMore(m) ? MayMean : Slight);
        }
        for (var at = 0; at < tokens.Count; at++)
        {
            if (tokens[at].Stem.Any(char.IsLetterOrDigit) && !mentions.Any(m => m.Start <= at && at < m.End))
                yield return new Part(new UnknownItem(tokens[at].Text), at, at + 1, Part.Span(at, at + 1), Unknown);
            if (tokens[at].Text == ",")
            {
                yield return new Part(new Comma(), at, at + 1, 0, Slight);
                yield return new Part(new AndWord(), at, at + 1, 0, Listing);
            }
        }
    }

    private static bool IsCapitals(string text) => text.Length > 1 && text.All(char.IsUpper);

    private static bool IsSmall(Mention m) =>
        m
            is { Kind: MentionKind.Filler or MentionKind.Place or MentionKind.And }
                or { Kind: MentionKind.Comparator, Value: "on" }
                or { Kind: MentionKind.Since, Value: "behind" };

    private static bool IsName(Mention m) =>
        m.Kind is MentionKind.Figure or MentionKind.Member or MentionKind.Level or MentionKind.Scenario or MentionKind.Records;

    private static IEnumerable<Item> Items(Book book, BookWords words, Mention m) =>
        m.Kind switch
        {
            MentionKind.Figure when m.Value is Outcome or Profit => book.Result is { } result ? [new FigureItem(result)] : [],
            MentionKind.Figure when !m.Value.Contains('#', StringComparison.Ordinal) =>
            [
                new FigureItem(
                    new FigureRef(m.Value[0] == 'a' ? FigureKind.Account : FigureKind.Measure, m.Value[2..]),
                    m.Partial
                ),
            ],
            MentionKind.Member when m.Dimension is { } dimension => [new MembersItem(dimension, [m.Value])],
            MentionKind.Level when m.Value == Lines =>
            [
                new LevelItem(Breakdown.By(book.Accounts.Code, book.Accounts.Levels[^1]), true),
            ],
            MentionKind.Level when m.Dimension is { } dimension => [new LevelItem(Breakdown.By(dimension, m.Value), !m.Singular)],
            MentionKind.Grain => Grains(m),
            MentionKind.Month => [new MonthItem(Whole(m.Value))],
            MentionKind.Year => [new YearItem(Whole(m.Value))],
            MentionKind.Part => [PartOfYear(m.Value)],
            MentionKind.Period => Periods(m.Value),
            MentionKind.Scenario => Scenarios(m.Value),
            MentionKind.Records => Records(words, m),
            MentionKind.Check => States(words, m),
            MentionKind.Value when Split(m.Value) is var (table, field, text) => [new FieldSaysItem(table, field, [text])],
            _ => Words(m),
        };

    private const string Lines = "~lines";

    /// <summary>The result and profit, of a book that calls no line of its statement so.</summary>
    private const string Outcome = "m:~outcome",
        Profit = "m:~result";

    /// <summary>"Monthly", "by month" and "month by month" split; the noun alone is a level.</summary>
    private static IEnumerable<Item> Grains(Mention m) =>
        !Enum.TryParse<TimeGrain>(m.Value, true, out var grain) ? [new CourseItem()]
        : m.Title.Equals(grain.ToString(), StringComparison.OrdinalIgnoreCase)
            ? [new LevelItem(Breakdown.ByTime(grain), !m.Singular)]
        : [new SplitItem([Breakdown.ByTime(grain)])];

    private static PartOfYearItem PartOfYear(string value)
    {
        var (kind, number) = Pair(value);
        return kind switch
        {
            "quarter" => new PartOfYearItem(TimeGrain.Quarter, number),
            "half" => new PartOfYearItem(TimeGrain.Half, number),
            _ => new PartOfYearItem(TimeGrain.Quarter, number, true),
        };
    }

    private static IEnumerable<Item> Periods(string value)
    {
        if (PeriodSpan.TryParse(value, out var span))
            return [new PeriodsItem(span)];
        if (value == "date:behind")
            return [new ToDateItem()];
        var (kind, steps) = Pair(value);
        return kind switch
        {
            "month" => [new RelativeItem(TimeGrain.Month, steps, true)],
            "last" => [new LastMonthItem()],
            "closed" => [new ClosedItem(steps)],
            "quarter" => [new RelativeItem(TimeGrain.Quarter, steps, true)],
            "half" => [new RelativeItem(TimeGrain.Half, steps, true)],
            "year" => [new RelativeItem(TimeGrain.Year, steps, true)],
            "this" => [new RelativeItem(TimeGrain.Year, steps, false)],
            "ytd" => [new YearToDateItem()],
            "date" => [new ToDateItem()],
            "trailing" => [new TrailingItem(steps)],
            "rest" => [new RestOfYearItem()],
            "all" => [new AllTimeItem()],
            _ => [],
        };
    }

    private static IEnumerable<Item> Scenarios(string value) =>
        value switch
        {
            "against:prior-year" => [new AgainstItem([new SideName.PriorYear()])],
            "against:budget" => [new AgainstItem([new SideName.Plan(ScenarioKind.Budget)])],
            "against:forecast" => [new AgainstItem([new SideName.Plan(ScenarioKind.Forecast)])],
            _ => [new SideItem(Side(value))],
        };

    private static SideName Side(string value) =>
        value switch
        {
            Book.ActualCode => new SideName.Actual(),
            "budget" => new SideName.Plan(ScenarioKind.Budget),
            "forecast" => new SideName.Plan(ScenarioKind.Forecast),
            "forecast-before" => new SideName.ForecastBefore(),
            "prior-year" => new SideName.PriorYear(),
            "prior-month" => new SideName.Prior(1),
            "prior-quarter" => new SideName.Prior(3),
            "prior-period" => new SideName.Prior(null),
            _ => new SideName.Version(Books.Side.Parse(value)),
        };

    /// <summary>Words of the language, by kind and value.</summary>
    private static IEnumerable<Item> Words(Mention m) =>
        (m.Kind, m.Value) switch
        {
            (MentionKind.Number, _) => [new NumberItem(Whole(m.Value))],
            (MentionKind.Amount, _) => [new AmountItem(Exact(m.Value))],
            (MentionKind.Percent, "percent") => [new PercentWord()],
            (MentionKind.Percent, _) => [new PercentItem(Exact(m.Value))],
            (MentionKind.Ordinal, _) => [new OrdinalItem(Whole(m.Value))],
            (MentionKind.Currency, "local") => [new CurrencyItem(null)],
            (MentionKind.Currency, _) => [new CurrencyItem(m.Value)],
            (MentionKind.Rates, _) => [new RatesItem(m.Value)],
            (MentionKind.Intent, "why") => [new AskItem(Asked.Why)],
            (MentionKind.Intent, "variance") => [new AskItem(Asked.Variance)],
            (MentionKind.Intent, "entries") => [new EntriesItem(null, !m.Singular)],
            (MentionKind.Intent, "bridge") => [new AskItem(Asked.Bridge)],
            (MentionKind.Intent, "value:total") => [new TotalWord()],
            (MentionKind.Intent, "value" or "value:much") => [new AskItem(Asked.Value)],
            (MentionKind.Compare, "compare") => [new AskItem(Asked.Compare)],
            (MentionKind.Which, "which") => [new AskItem(Asked.Which)],
            (MentionKind.Which, "where") => [new AskItem(Asked.Where)],
            (MentionKind.Which, "who") => [new AskItem(Asked.Who)],
            (MentionKind.Field, _) => [new FieldItem(m.Value)],
            (MentionKind.Document, _) => [new DocumentItem(m.Value)],
            (MentionKind.Quote, _) => [new QuoteItem(m.Value)],
            (MentionKind.Contains, "holds") => [new HoldsWord()],
            (MentionKind.Columns, _) => [new ColumnsWord()],
            (MentionKind.Days, "bucket") => [new BucketWord()],
            (MentionKind.Days, _) => [new DaysWord()],
            (MentionKind.Bucket, _) => [new BucketItem(Whole(m.Value))],
            (MentionKind.Contains, "about") => [new AboutWord()],
            (MentionKind.Which, "when") => [new AskItem(Asked.When)],
            (MentionKind.Place, "with") => [new WithWord()],
            (MentionKind.And, "or") => [new OrWord()],
            (MentionKind.Gap, "attained") => Other(m),
            (MentionKind.Gap, "judge") => [new JudgeItem()],
            (MentionKind.Intent, "value:many") => [new StatisticItem(RowStatistic.Count)],
            (MentionKind.Statistic, "count") => [new StatisticItem(RowStatistic.Count)],
            (MentionKind.Share, "of-whole") => [new PartOfItem()],
            (MentionKind.Comparator, "on") => [new OnWord()],
            (MentionKind.Gap, _) => [new GapItem(GapSense.Of(m))],
            (MentionKind.Comparator, "versus") => [new VersusWord()],
            (MentionKind.Comparator, "than") => [new ThanWord()],
            (MentionKind.By, "by" or "over") => [new ByWord(false)],
            (MentionKind.By, "each") => [new ByWord(true)],
            (MentionKind.By, "per") => [new ByWord(true), new PerWord(false)],
            (MentionKind.By, "ratio") => [new PerWord(false)],
            (MentionKind.By, "percent") => [new PerWord(true)],
            (MentionKind.Then, "then") => [new ByWord(false)],
            (MentionKind.And, "and") => m.Start == 0 ? [new GoesOnItem(true)] : [new AndWord()],
            (MentionKind.And, "plus") => m.Start == 0 ? [new BesideItem()] : [new AndWord()],
            (MentionKind.And, "comma") => [],
            (MentionKind.To, _) => [new ToWord()],
            (MentionKind.Between, _) => [new BetweenWord()],
            (MentionKind.Since, "since") => [new SinceWord()],
            (MentionKind.Since, "behind") => [new OnwardWord()],
            (MentionKind.Place, "from") => [new FromWord()],
            (MentionKind.Place, "as-at") => [new AsAtWord()],
            (MentionKind.Place, "of") => [new OfWord()],
            (MentionKind.Place, "place") => [new PlaceWord()],
            (MentionKind.Trailing, _) => [new LastWord()],
            (MentionKind.Calendar, "calendar") => [new CalendarWord()],
            (MentionKind.Calendar, "fiscal") => [new FiscalWord()],
            (MentionKind.Calendar, "number") => [new PeriodWord()],
            (MentionKind.Exclude, "exclude" or "drop" or "exclude:named") => [new WithoutWord()],
            (MentionKind.Exclude, "excluded" or "excluded:named") => [new LeftOutWord()],
            (MentionKind.Not, "not") => [new NotWord()],
            (MentionKind.Combined, _) => [new TogetherWord()],
            (MentionKind.Quantifier, "any") => [new AnyWord()],
            (MentionKind.Quantifier, "every") => [new EveryWord()],
            (MentionKind.Quantifier, "both") => [new BothWord()],
            (MentionKind.Others, _) => [new OthersWord()],
            (MentionKind.Across, "across") => [new AcrossWord()],
            (MentionKind.Statistic, "average") => [new StatisticItem(RowStatistic.Average)],
            (MentionKind.Statistic, "median") => [new StatisticItem(RowStatistic.Median)],
            (MentionKind.Share, "share") => [new SharesItem()],
            (MentionKind.Growth, _) => [new GrowthItem(m.Value == "change")],
            (MentionKind.Cumulative, _) => [new CumulativeItem()],
            (MentionKind.Unit, "percent") => [new InPercentItem()],
            (MentionKind.Presence, "negative") => [new PresenceItem(new Condition(ConditionOn.Amount, Direction.Under, 0))],
            (MentionKind.Presence, "positive") => [new PresenceItem(new Condition(ConditionOn.Amount, Direction.Over, 0))],
            (MentionKind.Shift, _) => [new ShiftItem()],
            (MentionKind.Timing, _) => [new TimingItem()],
            (MentionKind.Filler, "sold") or (MentionKind.Unit, "sales") => [new SoldWord()],
            (MentionKind.Outlier, _) => [new EndItem(End.Unusual, true, false, false)],
            (MentionKind.Rank, _) => Ends(m.Value),
            (MentionKind.Order, _) => Orders(m.Value),
            (MentionKind.Row, _) => Pointers(m.Value),
            (MentionKind.Form, _) => Forms(m.Value),
            (MentionKind.Numbers, _) => Scales(m.Value),
            (MentionKind.Edit, "edit") => [new GoesOnItem(false)],
            (MentionKind.Edit, "return") => [new BackWord()],
            (MentionKind.Edit, "only") => [new OnlyItem()],
            (MentionKind.Edit, "instead") => [new InsteadWord(), new GoesOnItem(false)],
            (MentionKind.Edit, "these") => [new PointItem(Pointing.Those, 0, null)],
            (MentionKind.Add, _) => [new BesideItem()],
            (MentionKind.Step, _) => [new StepItem(Whole(m.Value))],
            (MentionKind.Clear, "filters") => [new ClearItem(Cleared.Filters)],
            (MentionKind.Clear, "bases") => [new ClearItem(Cleared.Bases)],
            (MentionKind.Clear, "rows") => [new ClearItem(Cleared.Rows)],
            (MentionKind.Clear, "groups") => [new ClearItem(Cleared.Groups)],
            (MentionKind.Clear, "left-out") => [new ClearItem(Cleared.LeftOut)],
            (MentionKind.Result, "result") => [new OursItem()],
            (MentionKind.Result, _) => [new WholeItem()],
            (MentionKind.Filler, "its" or "their") => [new TheirItem(m.Value == "their")],
            (MentionKind.Filler, "that" or "then") => [new GoesOnItem(false)],
            (MentionKind.Filler, "one-of") => [new OneWord()],
            (MentionKind.Filler, "filler" or "how" or "what" or "equals" or "ours") => [new SmallWord()],
            (MentionKind.Filler, "if" or "relative" or "which" or "1") => [new SmallWord()],
            (MentionKind.Filler, "pays") => [],
            (MentionKind.Share, "sole") => [new OnlyItem()],
            (MentionKind.Share, "whole") => [],
            (MentionKind.Place, "within") => [new PlaceWord()],
            (MentionKind.Exclude, "less") => [new LessWord()],
            (MentionKind.Filler, "parts") => [new MadeUpItem()],
            _ => Other(m),
        };

    private static IEnumerable<Item> Other(Mention m) => [new OtherItem(m.Kind, m.Value)];

    private static IEnumerable<Item> Ends(string value)
    {
        var parts = value.Split(':');
        return
            Enum.TryParse<End>(parts[0], true, out var end)
            && parts.Skip(1).All(p => p is "some" or "one" or "gap" or "many" or "often" or "cost")
            ?
            [
                new EndItem(end, parts.Contains("some"), parts.Contains("one"), parts.Contains("gap"))
                {
                    Many = parts.Contains("many") || parts.Contains("often"),
                    Costs = parts.Contains("cost"),
                },
            ]
            : [new OtherItem(MentionKind.Rank, value)];
    }

    private static IEnumerable<Item> Orders(string value) =>
        value switch
        {
            "size:down" => [new OrderItem(End.Largest, false, false)],
            "size:up" => [new OrderItem(End.Smallest, false, false)],
            "gap:down" => [new OrderItem(End.Largest, true, false)],
            "growth:down" => [new OrderItem(End.Fastest, false, false)],
            "worst:down" => [new OrderItem(End.Worst, false, false)],
            "best:down" => [new OrderItem(End.Best, false, false)],
            "name:up" => [new OrderItem(null, false, true)],
            "day:up" or "day:longest" => [new OldestItem(false, null)],
            "day:down" => [new OldestItem(true, null)],
            "field" => [new OrderByWord()],
            _ => [new OtherItem(MentionKind.Order, value)],
        };

    /// <summary>Invoices, debtors, or the name of a table itself.</summary>
    private static IEnumerable<Item> Records(BookWords words, Mention m)
    {
        var said = m.Value.Split('#');
        if (words.TablesCalled(said[0]) is not { IsEmpty: false } tables)
            return Other(m);
        return said switch
        {
            [_] => [new TableItem([.. tables], !m.Singular)],
            [_, .., "party"] => [new OwersItem([.. tables])],
            _ => [new StateItem(RecordState.Open, [.. tables])],
        };
    }

    private static IEnumerable<Item> States(BookWords words, Mention m)
    {
        StateItem State(RecordState of, string? owed = null) => new(of, owed is null ? [] : [.. words.TablesCalled(owed)]);
        return m.Value switch
        {
            "open" => [State(RecordState.Open)],
            "owed-to-us" => [State(RecordState.Open, "receivables")],
            "owed-by-us" => [State(RecordState.Open, "payables")],
            "settled" => [State(RecordState.Settled)],
            "settled:by-us" or "billed-to-us" when words.TablesCalled("payables").IsEmpty => [new SpendItem()],
            "settled:by-us" => [State(RecordState.Settled, "payables")],
            "billed-to-us" => [new TableItem([.. words.TablesCalled("payables")], true)],
            "due" => [State(RecordState.Due)],
            "not-due" => [State(RecordState.NotDue)],
            "overdue" => [State(RecordState.Overdue)],
            "late" => [State(RecordState.Late)],
            "on-time" => [State(RecordState.OnTime)],
            "early" => [State(RecordState.Early)],
            "twice" => [State(RecordState.Twice)],
            "posted-twice" => [new BookedTwiceItem()],
            "ageing" => [State(RecordState.Aged)],
            "days-late" => [State(RecordState.DaysLate)],
            "days-to-pay" => [State(RecordState.DaysToPay)],
            _ => Other(m),
        };
    }

    /// <summary>orders/status=Paid; null for a value of which the field is not known.</summary>
    private static (string Table, string Field, string Text)? Split(string value) =>
        value.IndexOf('/', StringComparison.Ordinal) is > 0 and var slash && value.IndexOf('=', slash) is > 0 and var equals
            ? (value[..slash], value[(slash + 1)..equals], value[(equals + 1)..])
            : null;

    private static IEnumerable<Item> Pointers(string value) =>
        value switch
        {
            "largest" => [new PointItem(Pointing.Largest, 0, null)],
            "smallest" => [new PointItem(Pointing.Smallest, 0, null)],
            "worst" => [new PointItem(Pointing.Worst, 0, null)],
            "best" => [new PointItem(Pointing.Best, 0, null)],
            "other" => [new PointItem(Pointing.Other, 0, null)],
            "it" or "that" => [new PointItem(Pointing.That, 0, null)],
            "those" => [new PointItem(Pointing.Those, 0, null)],
            _ => [new PointItem(Pointing.Place, Whole(value), null)],
        };

    private static IEnumerable<Item> Forms(string value) =>
        Enum.TryParse<View>(value, true, out var view)
            ? [new FormItem(new Display(View: view))]
            : [new OtherItem(MentionKind.Form, value)];

    private static IEnumerable<Item> Scales(string value) =>
        Pair(value) is ("scale", var scale) ? [new FormItem(new Display(Scale: scale))]
        : Pair(value) is ("decimals", var decimals) ? [new FormItem(new Display(Decimals: decimals))]
        : [];

    private static (string Kind, int Number) Pair(string value) =>
        value.IndexOf(':', StringComparison.Ordinal) is > 0 and var colon
            ? (value[..colon], Whole(value[(colon + 1)..]))
            : (value, 0);

    private static int Whole(string value) => int.Parse(value, CultureInfo.InvariantCulture);

    private static decimal Exact(string value) => decimal.Parse(value, CultureInfo.InvariantCulture);
}
