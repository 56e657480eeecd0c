using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>The rules: each looks for a pattern of kinds and puts something larger in its place.</summary>
internal sealed partial class Composer
{
    // Each rule says whether it found its pattern and replaced it.

    /// <summary>not over · did not beat · never approved · not on budget → the opposite.</summary>
    private static bool Negated(List<Item> items, int at)
    {
        if (Word(items, at)?.Kind is not MentionKind.Not || Word(items, at + 1) is not { } next)
            return false;
        Item? turned = next switch
        {
            { Kind: MentionKind.Gap } when GapSense.Of(next).Opposite is { } other => new WordItem(next with { Value = other }),
            { Kind: MentionKind.Presence } when Opposites.TryGetValue(next.Value, out var other) => new WordItem(
                next with
                {
                    Value = other,
                }
            ),
            { Kind: MentionKind.Check } when Opposites.TryGetValue(next.Value, out var other) => new WordItem(
                next with
                {
                    Value = other,
                }
            ),
            { Kind: MentionKind.OnPlan } => new BaseItem(next.Start, next.End, next.Value) { Direction = Direction.Against },
            // "Not off-peak".
            { Kind: MentionKind.Member } when Word(items, at)!.Value != "nobody" => new FilterItem(
                next.Start,
                next.End,
                next.Dimension!,
                [next.Value],
                true
            ),
            { Kind: MentionKind.Field } => new FieldTestItem(next.Start, next.End, RecordTestKind.Empty, next.Value, null, 0),
            _ => null,
        };
        return turned is not null && Replace(items, at, 2, (s, e) => turned with { Start = s, End = e });
    }

    /// <summary>good and bad · missed or beat → rows on either side: all of them, or those of a limit.</summary>
    private static bool BothSides(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Gap } one
            || Word(items, at + 1)?.Kind is not MentionKind.And
            || Word(items, at + 2) is not { Kind: MentionKind.Gap } other
        )
            return false;
        var (first, second) = (GapSense.Of(one), GapSense.Of(other));
        if (
            (first.Side, second.Side)
            is not (

                (Direction.For, Direction.Against)
                or
                (Direction.Against, Direction.For)
                or
                (Direction.Over, Direction.Under)
                or
                (Direction.Under, Direction.Over)
            )
        )
            return false;
        return first.OfRows && second.OfRows
            ? Remove(items, at, 3)
            : Replace(items, at, 3, (s, e) => new WordItem(one with { Value = "gap", Start = s, Length = e - s }));
    }

    /// <summary>on region level · status wise → by that.</summary>
    private static bool LevelBehind(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Level or MentionKind.Grain or MentionKind.Field or MentionKind.Class } split
        && Word(items, at + 1) is { Kind: MentionKind.By, Value: "behind" } behind
        && Word(items, at - 1)?.Kind is not MentionKind.By
        && Replace(items, at, 2, (s, e) => new WordItem(behind with { Value = "by", Start = s, Length = 0 }))
        && Insert(items, at + 1, new WordItem(split));

    private static readonly Dictionary<string, string> Opposites = new()
    {
        ["positive"] = "negative",
        ["negative"] = "positive",
        ["open"] = "settled",
        ["settled"] = "open",
    };

    /// <summary>over the last months · over the months June to August → when, and nothing that is over something.</summary>
    private bool OverPeriod(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Gap, Title: "over" } over
            || (items.Take(at).Any(IsTime) && !IsEqual(over.Start))
        )
            return false;
        // "More than 5k over in October" is over something.
        if (
            Word(items, at - 1)?.Kind is MentionKind.Amount or MentionKind.Percent or MentionKind.Number
            && Word(items, at - 2) is { Kind: MentionKind.Gap, Value: "more" or "less" }
        )
            return false;
        var next = Word(items, at + 1)?.Kind is MentionKind.Grain ? at + 2 : at + 1;
        return IsRange(next) && Remove(items, at, 1);

        static bool IsTime(Item item) =>
            item is WordItem { Mention.Kind: MentionKind.Month or MentionKind.Part or MentionKind.Year or MentionKind.Period };
        bool IsRange(int index) =>
            index < items.Count
            && (
                Word(items, index)
                    is { Kind: MentionKind.Part or MentionKind.Month }
                        or { Kind: MentionKind.Period, Value: "ytd:0" or "this:0" or "trailing:12" }
                || (Word(items, index)?.Kind is MentionKind.Trailing && Word(items, index + 1)?.Kind is MentionKind.Number)
                || (IsTime(items[index]) && Word(items, index + 1)?.Kind is MentionKind.To)
            );
    }

    /// <summary>is the Pellow result better than Brackness → the figure first, then the members.</summary>
    private static bool ResultOfMember(List<Item> items, int at)
    {
        if (
            Word(items, at)?.Kind is not MentionKind.Member
            || Word(items, at + 2)?.Kind is not MentionKind.Gap
            || Word(items, at + 3)?.Kind is not MentionKind.Member
        )
            return false;
        // "Doing better than": the doing says nothing more.
        if (IsVariance(items[at + 1]))
            return Remove(items, at + 1, 1);
        if (Word(items, at + 1)?.Kind is not (MentionKind.Figure or MentionKind.Result))
            return false;
        (items[at], items[at + 1]) = (items[at + 1], items[at]);
        return true;
    }

    /// <summary>fares, fuel and the result → the result is one of the figures.</summary>
    private bool ResultInList(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Result } word
            || Word(items, at - 1)?.Kind is not MentionKind.And
            || Word(items, at - 2)?.Kind is not MentionKind.Figure
            || book.Result is not { } result
        )
            return false;
        // "And what we planned": of what was named.
        if (Word(items, at + 1)?.Kind is MentionKind.Scenario)
            return false;
        items[at] = new WordItem(word with { Kind = MentionKind.Figure, Value = Book.Coded(result) });
        return true;
    }

    /// <summary>how many entities · number of suppliers → their rows are counted.</summary>
    private bool CountOf(List<Item> items, int at)
    {
        // "The number of people" is how many there are, and no amount.
        if (
            Word(items, at) is { Kind: MentionKind.Statistic, Value: "count" } number
            && Word(items, at + 1)?.Kind is MentionKind.Figure
        )
            return Replace(items, at, 1, (s, e) => new WordItem(number with { Kind = MentionKind.Intent, Value = "value:many" }));
        return Word(items, at) is { } lead
            && IsCount(lead)
            && (
                LevelAt(items, at + 1) is { } level
                    ? Replace(items, at, 2, (s, e) => new BreakdownItem(s, e, [level]))
                    : Word(items, at + 1) is { Kind: MentionKind.Field } field
                        && !IsKey(field)
                        && Replace(items, at, 2, (s, e) => new ByFieldItem(s, e, field.Value))
            )
            && Insert(items, at, new CountItem(lead.Start, lead.End));
    }

    private static bool IsCount(Mention word) =>
        word is { Kind: MentionKind.Intent, Value: "value:many" } or { Kind: MentionKind.Statistic, Value: "count" };

    /// <summary>without a route → what is assigned to none.</summary>
    private bool WithoutMember(List<Item> items, int at) =>
        Word(items, at)?.Kind is MentionKind.Exclude
        && Word(items, at + 1) is { Kind: MentionKind.Level } level
        && Replace(items, at, 2, (s, e) => new FilterItem(s, e, level.Dimension!, [book.Label(Member.Unassigned).Code], false));

    /// <summary>top 3 and bottom 3 → both ends.</summary>
    private static bool TwoEnds(List<Item> items, int at)
    {
        if (At<RankItem>(items, at) is not { Further: false } first)
            return false;
        var next = Word(items, at + 1)?.Kind is MentionKind.And ? at + 2 : at + 1;
        return At<RankItem>(items, next) is { Further: false } other
            && (first.Order, other.Order)
                is
                    ("largest", "smallest")
                    or
                    ("smallest", "largest")
                    or
                    ("best", "worst")
                    or
                    ("worst", "best")
            && Replace(items, at, next - at + 1, (s, e) =>
                first with
                {
                    Start = s,
                    End = e,
                    Number = first.Number ?? other.Number,
                    BothEnds = true,
                    One = first.One || other.One,
                }
            );
    }

    /// <summary>break that region down by yard → "down" belongs to what is broken, and is no fall.</summary>
    private bool BrokenDown(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Gap } down
        && Word(items, at + 1) is { Kind: MentionKind.By, Value: "by" }
        && vocabulary.Find(down.Title).Any(e => e is { Kind: MentionKind.Across, Value: "down" })
        && _said.Any(m => m is { Kind: MentionKind.Filler, Value: PartsWord } && m.End < down.Start)
        && Remove(items, at, 1);

    /// <summary>that shop · those three accounts → rows of the last answer. "This group", of all there is, points at none of
    /// them.</summary>
    private bool Pointed(List<Item> items, int at)
    {
        if (Word(items, at) is not { Kind: MentionKind.Row, Value: ThatRow or ThoseRows } pointer)
            return false;
        var number = Word(items, at + 1)?.Kind is MentionKind.Number;
        var of = number ? at + 2 : at + 1;
        var rows = Word(items, of) is { Kind: MentionKind.Class } kind ? Breakdown.By(kind.Dimension!) : LevelAt(items, of);
        if (rows is null || IsTop(items, of))
            return Remove(items, at, 1);
        return Replace(items, at, of - at + 1, (s, e) => new PointedItem(s, e, rows, number || pointer.Value == ThoseRows));
    }

    /// <summary>by level, level and level · monthly → breakdown, in the order said.</summary>
    private bool Split(List<Item> items, int at)
    {
        var led =
            Word(items, at)
            is { Kind: MentionKind.By, Value: not ("percent" or "ratio") }
                or { Kind: MentionKind.Then or MentionKind.Quantifier };
        var next = led ? at + 1 : at;
        if (LevelAt(items, next) is not { } first)
            return false;
        var each =
            Word(items, at) is { Kind: MentionKind.By, Value: "each" or "per" }
            || (
                Word(items, at) is { Kind: MentionKind.Grain, Length: > 1 } per
                && vocabulary
                    .Find(Words.Phrase(per.Title.Split(' ')[0]))
                    .Any(e => e is { Kind: MentionKind.By, Value: "each" or "per" })
            );
        // "The best route within each region", "within regions": these stand outside.
        each |=
            (
                Word(items, at) is { Kind: MentionKind.Then, Value: Inside }
                || (!led && _said.Any(m => m is { Kind: MentionKind.Place, Value: Inside } && m.End == items[at].Start))
            ) && items.Take(at).Any(i => i is RankItem or WordItem { Mention.Kind: MentionKind.Rank });
        if (Word(items, at) is { Kind: MentionKind.Quantifier, Value: Both } && first.Grain == TimeGrain.Year && items.Count == 2)
            return Replace(items, at, 2, (s, e) => new BothYearsItem(s, e));
        var of = Word(items, at) is { Kind: MentionKind.Quantifier } quantifier
            ? quantifier.Value == Both
                ? Quantifier.Every
                : Enum.Parse<Quantifier>(quantifier.Value, true)
            : (Quantifier?)null;
        if (
            !led
            && (
                Word(items, at - 1)?.Kind is MentionKind.Rank or MentionKind.Which or MentionKind.Number
                || At<RankItem>(items, at - 1) is not null
            )
        )
            return false;
        var breakdowns = ImmutableArray.Create(first);
        next++;
        while (true)
        {
            var skip = next;
            while (Word(items, skip)?.Kind is MentionKind.And or MentionKind.Then or MentionKind.By)
                skip++;
            // Without a connector only words side by side are one list: not "of each clinic in group revenue".
            if (skip == next && (next >= items.Count || items[next].Start != items[next - 1].End))
                break;
            if (
                LevelAt(items, skip) is not { } more
                || (skip > next && Word(items, skip - 1) is { Kind: MentionKind.By, Value: "each" or "per" })
            )
                break;
            breakdowns = breakdowns.Add(more);
            next = skip + 1;
        }
        // "Group revenue" speaks of the revenue sooner than of a level called group.
        var beforeFigure =
            !led && Word(items, next) is { Kind: MentionKind.Figure } figure && figure.Start == items[next - 1].End;
        return Replace(items, at, next - at, (s, e) => new BreakdownItem(s, e, breakdowns)
            {
                Each = each,
                Doubtful = beforeFigure,
                Of = of,
                Led = led,
            });
    }

    /// <summary>the three routes after the top three · routes outside the top 5 → what is ranked behind those.</summary>
    private static bool RankBehind(List<Item> items, int at)
    {
        if (
            Word(items, at)
                is not (
                    { Kind: MentionKind.Exclude, Value: "after" or "exclude" }
                    or { Kind: MentionKind.Gap, Value: "bad" or "under" }
                )
            || Word(items, at + 1) is not { Kind: MentionKind.Rank } rank
            || Word(items, at + 2) is not { Kind: MentionKind.Number } first
        )
            return false;
        if (LevelAt(items, at - 1) is not { } level)
            return false;
        var number = Word(items, at - 2) is { Kind: MentionKind.Number } said
            ? int.Parse(said.Value, CultureInfo.InvariantCulture)
            : Questions.Ranking.All;
        var start = number == Questions.Ranking.All ? at - 1 : at - 2;
        Replace(items, start, at + 3 - start, (s, e) => new BreakdownItem(s, e, [level]));
        return Insert(
            items,
            start,
            new RankItem(items[start].Start, items[start].Start, rank.Value.Split(':')[0], number)
            {
                Ranked = level,
                Skip = int.Parse(first.Value, CultureInfo.InvariantCulture),
            }
        );
    }

    /// <summary>excluding X and Y → filter.</summary>
    private bool Without(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Exclude, Value: not "before" } lead
            || MemberAt(items, at + 1) is not { } first
        )
            return false;
        // "How much less revenue than last year": less is how it stands to that.
        if (
            lead.Value == "less"
            && items
                .Skip(at + 2)
                .Any(i =>
                    i is BaseItem or BasePeriodItem || i is WordItem { Mention: { Kind: MentionKind.Comparator, Value: "than" } }
                )
        )
            return false;
        // "The largest after salaries" leaves these out; revenue after discounts does not.
        if (lead.Value == "after" && !items.Exists(i => i is RankItem || i is WordItem { Mention.Kind: MentionKind.Rank }))
            return false;
        var (codes, end) = (ImmutableArray.Create(first.Code), at + 2);
        while (
            Word(items, end)?.Kind is MentionKind.And && MemberAt(items, end + 1) is { } more && more.Dimension == first.Dimension
        )
            (codes, end) = (codes.Add(more.Code), end + 2);
        return Replace(items, at, end - at, (s, e) => new FilterItem(s, e, first.Dimension, codes, true));
    }

    /// <summary>hide variances under 1k · without the favourable ones → the other rows are kept.</summary>
    private static bool LeftOutRows(List<Item> items, int at)
    {
        if (Word(items, at) is not { Kind: MentionKind.Exclude, Value: "exclude" or "drop" })
            return false;
        // "Hide everything below 500".
        if (Word(items, at + 1)?.Kind is MentionKind.Result && items.ElementAtOrDefault(at + 2) is ConditionItem)
            items.RemoveAt(at + 1);
        var next = at + 1;
        while (
            items.ElementAtOrDefault(next) is { } between
            && (
                IsVariance(between)
                || between is BreakdownItem { Led: false }
                || Word(items, next)?.Kind is MentionKind.Level or MentionKind.Grain
            )
        )
            next++;
        if (Word(items, next) is { Kind: MentionKind.Gap } gap && GapSense.Of(gap) is { OfRows: true, Opposite: { } opposite })
        {
            items[next] = new WordItem(gap with { Value = opposite });
            return Remove(items, at, 1);
        }
        if (
            At<ConditionItem>(items, next) is not { Conditions: [{ On: ConditionOn.Amount or ConditionOn.Percent } limit] } hidden
        )
            return false;
        var compares = items.Exists(i => IsVariance(i) || i is BaseItem or BasePeriodItem);
        var kept = limit.Direction switch
        {
            // "Under 400 off" is off on either side.
            Direction.Within => Direction.Either,
            Direction.Under => compares ? Direction.Either : Direction.Over,
            _ => compares ? Direction.Within : Direction.Under,
        };
        items[next] = hidden with { Conditions = [limit with { Direction = kept }], SideSaid = true };
        return Remove(items, at, 1);
    }

    /// <summary>shared services excluded → the same, said behind.</summary>
    private bool LeftOut(List<Item> items, int at) =>
        MemberAt(items, at) is { } left
        && Word(items, at + 1) is { Kind: MentionKind.Exclude, Value: "excluded" }
        && Replace(items, at, 2, (s, e) => new FilterItem(s, e, left.Dimension, [left.Code], true));

    /// <summary>the three routes with the steepest fall → the number and what is ranked, said before the order.</summary>
    private bool NumberOfRows(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Number } number
            || Word(items, at - 1)?.Kind is MentionKind.Rank or MentionKind.Which
            || LevelAt(items, at + 1) is not { } level
        )
            return false;
        var order = items.FindIndex(at + 2, i => i is WordItem { Mention.Kind: MentionKind.Rank });
        // "The three areas", of which there are three: each of them.
        if (
            order < 0
            && level.Dimension is { } of
            && book.TryDimension(of, out var split)
            && !items.Exists(i => i is RankItem)
            && book.MembersOf(split.Id).Count(m => LevelOf(of, m.Code) == level)
                == int.Parse(number.Value, CultureInfo.InvariantCulture)
        )
            return Replace(items, at, 2, (s, e) => new BreakdownItem(s, e, [level]));
        if (order < 0 || Word(items, order + 1)?.Kind is MentionKind.Number or MentionKind.Level or MentionKind.Grain)
            return false;
        items[order] = new RankItem(
            items[order].Start,
            items[order].End,
            Word(items, order)!.Value.Split(':')[0],
            int.Parse(number.Value, CultureInfo.InvariantCulture)
        )
        {
            Ranked = level,
            Compares = Word(items, order)!.Value.EndsWith(":gap", StringComparison.Ordinal),
        };
        return Replace(items, at, 2, (s, e) => new BreakdownItem(s, e, [level]));
    }

    /// <summary>top 5 · 5 largest · worst · … 10 of them → ranking; a level right behind it becomes the breakdown.</summary>
    private bool Rank(List<Item> items, int at)
    {
        if (
            Word(items, at) is { Kind: MentionKind.Number } many
            && Word(items, at + 1) is { Kind: MentionKind.Edit, Value: "these" }
        )
            return Replace(items, at, 2, (s, e) => new RankItem(s, e, "", int.Parse(many.Value, CultureInfo.InvariantCulture)));
        // "The first two", of the rows as they stand.
        if (
            Word(items, at) is { Kind: MentionKind.Row, Value: "1" }
            && Word(items, at + 1) is { Kind: MentionKind.Number } first
            && items.Count == at + 2
            && !items.Exists(i => i is RankItem or WordItem { Mention.Kind: MentionKind.Rank })
        )
            return Replace(items, at, 2, (s, e) =>
                new RankItem(s, e, "", int.Parse(first.Value, CultureInfo.InvariantCulture)) { AsShown = true }
            );
        if (Word(items, at) is { Kind: MentionKind.Ordinal } place && Word(items, at + 1) is { Kind: MentionKind.Rank } ranked)
        {
            var nth = LevelAt(items, at + 2);
            Replace(items, at, 2, (s, e) =>
                new RankItem(s, e, ranked.Value.Split(':')[0], 1)
                {
                    Ranked = nth,
                    Skip = int.Parse(place.Value, CultureInfo.InvariantCulture) - 1,
                }
            );
            return nth is null || Replace(items, at + 1, 1, (s, e) => new BreakdownItem(s, e, [nth]));
        }
        var numberFirst = Word(items, at) is { Kind: MentionKind.Number } && Word(items, at + 1)?.Kind is MentionKind.Rank;
        if (!numberFirst && Word(items, at)?.Kind is not MentionKind.Rank)
            return false;
        var said = Word(items, numberFirst ? at + 1 : at)!.Value;
        var order = said.Split(':')[0];
        var number = Word(items, numberFirst ? at : at + 1) is { Kind: MentionKind.Number } n
            ? int.Parse(n.Value, CultureInfo.InvariantCulture)
            : (int?)null;
        var length = number is null ? 1 : 2;
        if (number is null && said.EndsWith(":one", StringComparison.Ordinal))
            number = 1;
        // "top 5 unfavourable": the side that is said last decides.
        if (Word(items, at + length) is { Kind: MentionKind.Rank, Value: "worst" or "best" } side)
            (order, length) = (side.Value, length + 1);
        else if (GapSense.Of(Word(items, at + length)) is { OfRows: true } lean)
            (order, length) = (lean.Side == Direction.Against ? "worst" : "best", length + 1);
        var leans = Word(items, at + length - 1)?.Kind is MentionKind.Gap;
        // "The 5 biggest favourable and unfavourable variances".
        var ends =
            leans
            && Word(items, at + length)?.Kind is MentionKind.And
            && GapSense.Of(Word(items, at + length + 1)) is { OfRows: true } otherEnd
            && otherEnd.Side != GapSense.Of(Word(items, at + length - 1)).Side;
        if (ends)
            (order, length) = ("best", length + 2);
        var level = LevelAt(items, at + length);
        // "Top 10 entity and account variances": pairs of them are ranked, as they are where no level is named; "top 5 accounts
        // by entity" ranks accounts.
        var sideBySide = level is not null && At<BreakdownItem>(items, at + length + 1) is { Led: false };
        var pairs =
            sideBySide
            || (
                level is not null
                && Word(items, at + length + 1)?.Kind is MentionKind.And
                && At<BreakdownItem>(items, at + length + 2) is { Led: false }
            );
        Replace(items, at, length, (s, e) => new RankItem(s, e, order, number)
            {
                Ranked = pairs ? null : level,
                One = Word(items, at + length) is { Kind: MentionKind.Level or MentionKind.Grain, Singular: true },
                Compares = leans || said.EndsWith(":gap", StringComparison.Ordinal),
                BothEnds = ends,
                Many = said.EndsWith(":many", StringComparison.Ordinal),
                Often = said.EndsWith(":often", StringComparison.Ordinal),
                Some = said.EndsWith(":some", StringComparison.Ordinal) || said.EndsWith(":many", StringComparison.Ordinal),
            });
        if (level is not null)
            Replace(items, at + 1, 1, (s, e) => new BreakdownItem(s, e, [level]));
        if (pairs && !sideBySide)
            items.RemoveAt(at + 2);
        // "The most expensive depot" is so by its costs, "per parcel" or as they are.
        if (
            said.EndsWith(":cost", StringComparison.Ordinal)
            && !items.Exists(i => i is WordItem { Mention.Kind: MentionKind.Figure })
        )
            return Insert(
                items,
                at,
                new WordItem(new Mention(MentionKind.Figure, "m:" + Book.AllCosts, null, items[at].Start, 0, 0, "costs"))
            );
        // "The most profitable inn" is so by its result.
        return !said.EndsWith(":result", StringComparison.Ordinal)
            || items.Exists(i => i is WordItem { Mention.Kind: MentionKind.Figure })
            || Insert(items, at, new WordItem(new Mention(MentionKind.Result, "result", null, items[at].Start, 0, 0, "result")));
    }

    /// <summary>the next · the next five → further rows of the last ranking; and the others, alone → all that are left.</summary>
    private bool FurtherRows(List<Item> items, int at) =>
        Word(items, at)?.Kind is MentionKind.Others
            && items.TrueForAll(i => i == items[at] || i is WordItem { Mention.Kind: MentionKind.And or MentionKind.Edit })
            && Replace(items, at, 1, (s, e) => new RankItem(s, e, "", Ranking.All) { Further = true, Rest = true })
        || Word(items, at) is { Kind: MentionKind.Number }
            && Word(items, at + 1) is { Kind: MentionKind.Step, Value: "1" } or { Kind: MentionKind.Further }
            && Replace(items, at, 2, (s, e) =>
                new RankItem(s, e, "", int.Parse(Word(items, at)!.Value, CultureInfo.InvariantCulture)) { Further = true }
            )
        || Word(items, at)?.Kind is MentionKind.Further
            && Word(items, at + 1) is var next
            && Replace(items, at, next?.Kind is MentionKind.Number ? 2 : 1, (s, e) =>
                new RankItem(
                    s,
                    e,
                    "",
                    next is { Kind: MentionKind.Number } n ? int.Parse(n.Value, CultureInfo.InvariantCulture) : null
                )
                {
                    Further = true,
                }
            );

    /// <summary>which entity → breakdown, all of it in order; which three entities → the first three.</summary>
    private bool WhichLevel(List<Item> items, int at) =>
        Word(items, at)?.Kind is MentionKind.Which
        && (
            LevelAt(items, at + 1) is { } level
                ? Replace(items, at, 2, (s, e) =>
                    new BreakdownItem(s, e, [level]) { Which = true, One = Word(items, at + 1)!.Singular }
                )
                : Word(items, at + 1) is { Kind: MentionKind.Number } number
                    && LevelAt(items, at + 2) is { } ranked
                    && Replace(items, at, 1, (s, e) =>
                        new RankItem(s, e, "largest", int.Parse(number.Value, CultureInfo.InvariantCulture)) { Ranked = ranked }
                    )
                    && Replace(items, at + 1, 2, (s, e) => new BreakdownItem(s, e, [ranked]))
        );

    /// <summary>worst variances by shop, ten · the three that fell most → how many rows, said apart from the order.</summary>
    private static bool NumberBehind(List<Item> items, int at)
    {
        if (
            items.Count(i => i is WordItem { Mention.Kind: MentionKind.Number }) != 1
            || Word(items, at) is not { Kind: MentionKind.Number } number
            || items.FindIndex(i => i is RankItem) is not (>= 0 and var ranked)
            || items[ranked] is not RankItem { Number: null, Single: false, Further: false } rank
        )
            return false;
        items[ranked] = rank with { Number = int.Parse(number.Value, CultureInfo.InvariantCulture) };
        return Remove(items, at, 1);
    }

    /// <summary>missed by 5k · by how much → “by” before what is no name only sounds well.</summary>
    private static bool StrayBy(List<Item> items, int at)
    {
        var perLine =
            Word(items, at) is { Kind: MentionKind.By, Value: "per" or "each" }
            && Word(items, at + 1)?.Kind is MentionKind.Statement;
        if (
            (Word(items, at) is not { Kind: MentionKind.By, Value: "by" } && !perLine)
            || (
                at + 1 < items.Count
                && (
                    items[at + 1] is FilterItem
                    || Word(items, at + 1)?.Kind
                        is MentionKind.Member
                            or MentionKind.Figure
                            or MentionKind.Value
                            or MentionKind.Records
                            or MentionKind.Intent
                )
            )
        )
            return false;
        items.RemoveAt(at);
        return true;
    }

    private static bool Remove(List<Item> items, int at, int length)
    {
        items.RemoveRange(at, length);
        return true;
    }

    private static bool Insert(List<Item> items, int at, Item item)
    {
        items.Insert(at, item);
        return true;
    }
}
