using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>The rules that make one figure of two, or hold figures against each other.</summary>
internal sealed partial class Composer
{
    /// <summary>payroll cost · cost of fuel: the word for any cost only says what kind of figure it is; personnel + cost ratio:
    /// the ratio of these costs.</summary>
    private bool CostOf(List<Item> items, int at)
    {
        const string any = "m:" + Book.AllCosts;
        if (
            Word(items, at) is not { Kind: MentionKind.Figure } one
            || Word(items, at + 1) is not { Kind: MentionKind.Figure } other
            || other.Start - one.End > 1
        )
            return false;
        // The share of costs that crew is: a whole and its part.
        if (Word(items, at - 1)?.Kind is MentionKind.Share && other.Start > one.End)
            return false;
        if (
            other.Partial
            && book.Figure(FigureOf(other)) is PairFigure ratio
            && book.Figure(FigureOf(one)) is SumFigure top
            && ratio.Top.Accounts.SequenceEqual(top.Accounts)
        )
            return Replace(items, at, 2, (s, e) => new WordItem(other with { Start = s, Length = e - s }));
        // Agency staff: side by side the part says which part of the whole.
        if (other.Start == one.End && IsPart(one, other) is { } part)
            return Replace(items, at, 2, (s, e) => new WordItem(part with { Start = s, Length = e - s }));
        // "Gross ticket income": a word that begins another figure's name only says of which kind this one is.
        if (
            one is { Partial: true, Length: 1 }
            && other is { Partial: false, Corrected: false }
            && one.Value[0] == 'm'
            && book.Figure(FigureOf(other)) is SumFigure
            && FigureOf(other) != book.Sales
            && other.Start == one.End
            && items.Count(i => i is WordItem { Mention.Kind: MentionKind.Figure }) > 1
        )
        {
            items[at] = new WordItem(one with { Kind = MentionKind.Others });
            return true;
        }
        if ((one.Value == any) == (other.Value == any))
            return false;
        if (
            book.Figure(FigureOf(one.Value == any ? other : one))
            is not (SumFigure { ShownSign: < 0 } or PairFigure { Top.ShownSign: < 0 })
        )
            return false;
        return Replace(items, at, 2, (s, e) => new WordItem((one.Value == any ? other : one) with { Start = s, Length = e - s }));
    }

    /// <summary>The one that is a part of the other; null where neither is.</summary>
    private Mention? IsPart(Mention one, Mention other)
    {
        bool Within(Mention part, Mention whole) =>
            !book.IsStatementLine(FigureOf(whole))
            && book.Figure(FigureOf(part)) is SumFigure p
            && book.Figure(FigureOf(whole)) is SumFigure w
            && !p.Accounts.SequenceEqual(w.Accounts)
            && book.IsWithin(p, w);
        return Within(one, other) ? one
            : Within(other, one) ? other
            : null;
    }

    /// <summary>staff this year including pensions → staff, of which pensions are a part.</summary>
    private bool PartIncluded(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.And, Value: "including" }
        && Word(items, at + 1) is { Kind: MentionKind.Figure } part
        && items.Take(at).LastOrDefault(i => i is WordItem { Mention.Kind: MentionKind.Figure }) is WordItem whole
        && IsPart(part, whole.Mention) == part
        && Remove(items, at, 2);

    /// <summary>opex as a percentage of revenue → one in percent of the other.</summary>
    private bool FigurePercentOfFigure(List<Item> items, int at)
    {
        // "As a percentage of ytd revenue": of that time, on both sides.
        if (
            Word(items, at) is { Kind: MentionKind.By, Value: "percent" }
            && Word(items, at + 1)?.Kind is MentionKind.Period or MentionKind.Month or MentionKind.Part
            && Word(items, at + 2)?.Kind is MentionKind.Figure
        )
            (items[at + 1], items[at + 2]) = (items[at + 2], items[at + 1]);
        // "As a percentage of the group's overheads": of all there is.
        if (
            Word(items, at) is { Kind: MentionKind.By, Value: "percent" }
            && Word(items, at + 1) is { Kind: MentionKind.Result, Value: Scope }
            && Word(items, at + 2)?.Kind is MentionKind.Figure
        )
            items.RemoveAt(at + 1);
        if (
            Word(items, at) is not { Kind: MentionKind.By, Value: "percent" }
            || Word(items, at + 1) is not { Kind: MentionKind.Figure } bottom
        )
            return false;
        // By what it is split may be said in between: costs by department as a share of revenue.
        var before = items.FindLastIndex(at, i => i is WordItem { Mention.Kind: MentionKind.Figure or MentionKind.Statement });
        // The statement in percent of revenue: each of its lines.
        if (
            before >= 0
            && Word(items, before) is { Kind: MentionKind.Statement } statement
            && book.Definition.Statement.LastOrDefault() is { } last
        )
        {
            items[before] = new WordItem(statement with { Kind = MentionKind.Figure, Value = "m:" + last.Code });
            if (
                !items.Exists(i =>
                    i is WordItem { Mention.Kind: MentionKind.Level } level && level.Mention.Dimension == book.Accounts.Code
                )
            )
                items.Add(new BreakdownItem(statement.Start, statement.End, [Breakdown.By(book.Accounts.Code)]));
        }
        if (before < 0 && !items.Skip(at + 2).Any(i => i is WordItem { Mention.Kind: MentionKind.Figure }))
            return Replace(items, at, 2, (s, e) => new RatioToItem(s, e, FigureOf(bottom), true));
        if (
            before < 0
            || Enumerable
                .Range(before + 1, at - before - 1)
                .Any(i =>
                    Word(items, i)?.Kind
                        is not (
                            MentionKind.By
                            or MentionKind.Then
                            or MentionKind.And
                            or MentionKind.Level
                            or MentionKind.Grain
                            or MentionKind.Month
                            or MentionKind.Part
                            or MentionKind.Year
                            or MentionKind.Period
                        )
                )
        )
            return false;
        var top = Word(items, before)!;
        // In percent of itself: what each of the rows is of all of them.
        if (top.Value == bottom.Value && items.Exists(i => i is BreakdownItem or WordItem { Mention.Kind: MentionKind.Level }))
            return Replace(items, at, 2, (s, e) =>
                new WordItem(new Mention(MentionKind.Share, "share", null, s, e - s, 0, bottom.Title))
            );
        var reference = Book.PercentOf(top.Value, bottom.Value);
        if (book.Figure(reference) is not { } ratio)
            // Never the shares of either of them instead.
            return
                top.Value == bottom.Value
                || book.Figure(FigureOf(top)) is not SumFigure
                || book.Figure(FigureOf(bottom)) is not SumFigure
                ? false
                : throw new CannotAnswerException(
                    $"{top.Title} cannot be shown in percent of {bottom.Title}: the two are not of one kind. Ask for both beside each other, as in “{top.Title} and {bottom.Title}”."
                );
        items.RemoveRange(at, 2);
        items[before] = new WordItem(
            new Mention(
                MentionKind.Figure,
                "m:" + reference.Code,
                null,
                top.Start,
                before == at - 1 ? bottom.End - top.Start : top.Length,
                0,
                ratio.Name
            )
        );
        return true;
    }

    /// <summary>
    /// result before interest → the result without it · revenue after commissions → less them. What is a part of the first
    /// is in it already when it is said after, and what is no part of it is not in it when it is said before.
    /// </summary>
    private bool BeforeOrAfter(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Figure } whole
            || Word(items, at + 1) is not { Kind: MentionKind.Exclude, Value: "before" or "after" } turn
            || Word(items, at + 2) is not { Kind: MentionKind.Figure } part
            || part.Value[0] != 'a'
        )
            return false;
        // "The largest after salaries" ranks what is left.
        if (items.Exists(i => i is RankItem || i is WordItem { Mention.Kind: MentionKind.Rank }))
            return false;
        var within =
            book.Figure(FigureOf(part)) is SumFigure p && book.Figure(FigureOf(whole)) is SumFigure w && book.IsWithin(p, w);
        if (within == (turn.Value == "before"))
            return Replace(items, at + 1, 1, (s, e) => new WordItem(turn with { Value = within ? "exclude" : "less" }));
        items.RemoveRange(at + 1, 2);
        return true;
    }

    /// <summary>
    /// revenue less costs · revenue less fuel and crew · the gap between revenue and costs → one less the others. What is a part
    /// of the first is left out of it instead.
    /// </summary>
    /// <exception cref="CannotAnswerException">When one cannot be taken from the other.</exception>
    private bool FigureLessFigure(List<Item> items, int at)
    {
        var between = IsDifference(items, at);
        var first = between ? at + 2 : at;
        if (
            Word(items, first) is not { Kind: MentionKind.Figure } top
            || Word(items, first + 2) is not { Kind: MentionKind.Figure } bottom
        )
            return false;
        if (!between && Word(items, first + 1) is not { Kind: MentionKind.Exclude, Value: "less" })
            return false;
        if (book.Figure(Book.Less(top.Value, bottom.Value)) is not { } less)
        {
            if (!between && !top.Partial && items[first + 1].End == bottom.Start && book.Figure(FigureOf(top)) is PairFigure)
                throw new CannotAnswerException(
                    $"{top.Title} is worked out from other figures already; nothing can be taken from it. Say what it is made of, as in “(revenue less fuel) as % of revenue”."
                );
            // Never what each of them is over its plan instead.
            if (between && top.Value != bottom.Value && Word(items, first + 1)?.Kind is MentionKind.And)
                throw new CannotAnswerException(
                    $"{bottom.Title} cannot be taken from {top.Title}. Ask for both beside each other, as in “{top.Title} and {bottom.Title}”."
                );
            return false;
        }
        var length = first + 3 - at;
        // "And crew" is taken off as well, but not "and passengers".
        while (
            !between
            && Word(items, at + length) is { Kind: MentionKind.And, Value: "and" or "plus" }
            && Word(items, at + length + 1) is { Kind: MentionKind.Figure } further
            && Word(items, at + length + 2) is not { Kind: MentionKind.Exclude or MentionKind.Margin }
            && book.Figure(FigureOf(bottom)) is SumFigure one
            && book.Figure(FigureOf(further)) is SumFigure other
            && one.ShownSign == other.ShownSign
            && one.ShownSign < 0
            && book.Figure(Book.Less(Book.Coded(less.Ref), further.Value)) is { } next
        )
            (less, length) = (next, length + 2);
        Replace(items, at, length, (s, e) => Made(s, e, less));
        // "What is left of revenue after fuel" speaks of no plan.
        if (
            Word(items, at - 1) is { Kind: MentionKind.Projection, Value: "remaining" }
            && !items.Exists(i => i is WordItem { Mention.Kind: MentionKind.Scenario })
        )
            items.RemoveAt(at - 1);
        return true;
    }

    /// <summary>fuel plus crew cost per sailing → both as one figure, where something is made of it; by itself each of them is
    /// shown, and their sum.</summary>
    private bool FigurePlusFigure(List<Item> items, int at)
    {
        // "Diesel and power together, in percent of takings".
        if (
            Word(items, at)?.Kind is MentionKind.Figure
            && Word(items, at + 1) is { Kind: MentionKind.And, Value: "and" } and
            && Word(items, at + 2)?.Kind is MentionKind.Figure
            && Word(items, at + 3)?.Kind is MentionKind.Combined
            && Word(items, at + 4) is { Kind: MentionKind.By, Value: "per" or "ratio" or "percent" }
        )
        {
            items[at + 1] = new WordItem(and with { Value = "plus" });
            items.RemoveAt(at + 3);
        }
        if (
            Word(items, at) is not { Kind: MentionKind.Figure } one
            || Word(items, at + 1) is not { Kind: MentionKind.And, Value: "plus" }
            || Word(items, at + 2) is not { Kind: MentionKind.Figure } other
        )
            return false;
        // "Fuel plus crew per sailing", where the book has the crew per sailing.
        if (
            RatioInWords(other) is { } per
            && book.Figure(Book.Per(Book.Coded(Book.Plus(one.Value, Book.Coded(per.Top.Ref))), Book.Coded(per.Bottom.Ref)))
                is { } both
        )
            return Replace(items, at, 3, (s, e) => Made(s, e, both));
        if (
            Word(items, at + 3)
                is not (
                    { Kind: MentionKind.By, Value: "per" or "ratio" or "percent" }
                    or { Kind: MentionKind.Exclude, Value: "less" }
                    or { Kind: MentionKind.Margin }
                )
            && Word(items, at - 1) is not { Kind: MentionKind.By, Value: "per" or "ratio" or "percent" }
        )
            return false;
        return book.Figure(Book.Plus(one.Value, other.Value)) is { } sum && Replace(items, at, 3, (s, e) => Made(s, e, sum));
    }

    private static WordItem Made(int start, int end, Figure figure) =>
        new(new Mention(MentionKind.Figure, Book.Coded(figure.Ref), null, start, end - start, 0, figure.Name));

    /// <summary>payroll is more than 45% of revenue → the one in percent of the other, and a limit of it.</summary>
    private bool OverPercentOf(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Figure } top
            || Word(items, at + 1)?.Kind is not MentionKind.Gap
            || LimitAt(items, at + 2, true) is not (ConditionOn.Percent, _, var length and > 0)
            || Word(items, at + 2 + length) is not { Kind: MentionKind.Figure } bottom
            || !_said.Any(m => m is { Kind: MentionKind.Place, Value: "of" } && m.End == bottom.Start)
        )
            return false;
        var reference = Book.PercentOf(top.Value, bottom.Value);
        if (book.Figure(reference) is not { } ratio)
            return false;
        items[at] = new WordItem(top with { Value = "m:" + reference.Code, Title = ratio.Name });
        return Remove(items, at + 2 + length, 1);
    }

    /// <summary>more people visit, where people are costs of staff and visitors are counted → the visitors.</summary>
    private bool AnybodyCounted(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Figure, Length: 1 } anybody
        && IsCounted(Word(items, at + 1))
        && items[at + 1].Start == anybody.End
        && !IsCounted(anybody)
        && anybody.IsAnybody
        && Remove(items, at, 1);

    private bool IsCounted(Mention? word) =>
        word is { Kind: MentionKind.Figure }
        && book.Figure(FigureOf(word)) is SumFigure { Unit: var unit }
        && unit != book.Definition.Currency;

    /// <summary>Marine as a share of survey fees → what part of them is that member's.</summary>
    private static bool MemberAsShare(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Member }
        && Word(items, at + 1) is { Kind: MentionKind.By, Value: "percent" } percent
        && items
            .Skip(at + 2)
            .SkipWhile(i =>
                i
                    is PeriodItem
                        or WordItem
                        {
                            Mention.Kind: MentionKind.Period or MentionKind.Month or MentionKind.Part or MentionKind.Gap
                        }
            )
            .FirstOrDefault()
            is WordItem { Mention.Kind: MentionKind.Figure }
        && !items.Take(at).Any(i => i is WordItem { Mention.Kind: MentionKind.Figure } or RatioToItem)
        && Replace(items, at + 1, 1, (s, e) => new WordItem(percent with { Kind = MentionKind.Share, Value = "share" }));

    /// <summary>genres as shares of ticket sales · regions as a share of September revenue → the share of each row.</summary>
    private static bool RowsAsShares(List<Item> items, int at)
    {
        // "Each project as a share of grants".
        if (
            at == 0
            && Word(items, 0) is { Kind: MentionKind.By, Value: "each" }
            && Word(items, 1)?.Kind is MentionKind.Level
            && Word(items, 2) is { Kind: MentionKind.By, Value: "percent" }
        )
            return Remove(items, 0, 1);
        if (
            Word(items, at) is not { Kind: MentionKind.Level } rows
            || Word(items, at + 1) is not { Kind: MentionKind.By, Value: "percent" } percent
        )
            return false;
        if (Word(items, at - 1)?.Kind is MentionKind.By or MentionKind.Figure or MentionKind.Which)
            return false;
        var of = items.FindIndex(at + 2, i =>
            i is not WordItem { Mention.Kind: MentionKind.Month or MentionKind.Part or MentionKind.Year or MentionKind.Period }
        );
        if (of < 0 || Word(items, of)?.Kind is not MentionKind.Figure)
            return false;
        items[at] = new BreakdownItem(rows.Start, rows.End, [Breakdown.By(rows.Dimension!, rows.Value)]) { Led = true };
        items[at + 1] = new WordItem(percent with { Kind = MentionKind.Share, Value = "share" });
        return true;
    }

    /// <summary>class mix of revenue by month · mix of classes by month → the classes of each month.</summary>
    private static bool MixBehindRows(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Level }
            || !(
                Word(items, at + 1)?.Kind is MentionKind.Share
                || (
                    Word(items, at - 1) is { Kind: MentionKind.Share, Value: "mix" }
                    && Word(items, at + 1)?.Kind is MentionKind.By or MentionKind.Grain
                )
            )
            || Word(items, at - 1)?.Kind is MentionKind.By or MentionKind.Which or MentionKind.Rank
        )
            return false;
        var by = items.FindIndex(at + 1, i =>
            i is WordItem { Mention: { Kind: MentionKind.By, Value: "by" or "per" or "each" } or { Kind: MentionKind.Grain } }
        );
        if (
            by < 0
            || (
                Word(items, by)!.Kind is MentionKind.By && Word(items, ++by)?.Kind is not (MentionKind.Level or MentionKind.Grain)
            )
        )
            return false;
        var level = items[at];
        items.Insert(by + 1, level);
        return Remove(items, at, 1);
    }

    /// <summary>call fuel divided by passengers fuel per head → what is defined; the figures in its name are none that are asked
    /// for.</summary>
    private bool DefinedName(List<Item> items, int at)
    {
        if (
            Word(items, at)?.Kind is not MentionKind.Define
            || Word(items, at + 1) is not { Kind: MentionKind.Figure } defined
            || !_said.Any(m =>
                m is { Kind: MentionKind.By, Value: "ratio" } or { Kind: MentionKind.Exclude, Value: "less" }
                && m.Start >= defined.Start
                && m.End <= defined.End
            )
        )
            return false;
        for (var end = defined.End; Word(items, at + 2) is { Kind: MentionKind.Figure } name && name.Start == end; end = name.End)
            items.RemoveAt(at + 2);
        _defined = true;
        return Remove(items, at, 1);
    }

    /// <summary>EBITDA margin · staff cost ratio, where the book has no ratio of that name → the figure in percent of
    /// income.</summary>
    private bool MarginOf(List<Item> items, int at)
    {
        // "The margin of the shop".
        var turned =
            Word(items, at) is { Kind: MentionKind.Margin, Value: "margin" } lead
            && Word(items, at + 1) is { Kind: MentionKind.Figure } of
            && _said.Any(m => m is { Kind: MentionKind.Place, Value: "of" } && m.Start == lead.End && m.End <= of.Start);
        if (
            Word(items, turned ? at + 1 : at) is not { Kind: MentionKind.Figure } top
            || Word(items, turned ? at : at + 1) is not { Kind: MentionKind.Margin } margin
            || (!turned && margin.Start != top.End)
            || book.Sales is not { } income
        )
            return false;
        // "Occupancy rate".
        if (margin.Value == "rate")
            return Remove(items, turned ? at : at + 1, 1);
        // "Gross profit %" is a margin; a sign behind anything else is none.
        if (margin.Value == "sign" && (top.Value[0] != 'm' || book.Figure(FigureOf(top)) is not SumFigure))
            return Remove(items, at + 1, 1);
        // One account in percent of income is a share or a ratio, and no margin.
        if (
            margin.Value is "margin"
            && book.Figure(FigureOf(top)) is SumFigure { IsProfit: true, Ref.Kind: FigureKind.Account } part
        )
            throw new CannotAnswerException(
                $"{part.Name} is {(part.ShownSign > 0 ? "income" : "a cost")} alone; a margin is what income leaves when costs are taken off. Say of which, as in “sales less purchases”, or ask for it in percent of all income.",
                $"{part.Name} as % of {book.Figure(income)?.Name}"
            );
        var reference = Book.PercentOf(top.Value, Book.Coded(income));
        return book.Figure(reference) is { } ratio && Replace(items, at, 2, (s, e) => Made(s, e, ratio));
    }

    /// <summary>who earns most per visit, where no other figure is named → income per visit.</summary>
    private bool EarnedPer(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.By, Value: "per" }
            || Word(items, at + 1) is not { Kind: MentionKind.Figure } bottom
            || book.Sales is not { } income
        )
            return false;
        if (items.Count(i => i is WordItem { Mention.Kind: MentionKind.Figure }) > 1)
            return false;
        // "The most expensive depot per parcel".
        if (
            items.Take(at).Any(i => i is WordItem { Mention: { Kind: MentionKind.Rank, Value: "largest:cost" } })
            && book.Figure(Book.Per("m:" + Book.AllCosts, bottom.Value)) is { } cost
        )
            return Replace(items, at, 2, (s, e) => Made(s, e, cost));
        if (
            items.FindIndex(i =>
                i is WordItem { Mention: { Kind: MentionKind.Unit, Value: "income" or "sales" or "sales:taken" } }
            )
                is not (>= 0 and var earned)
            || earned > at
        )
            return false;
        // "Which route earned most, and how much per sailing": what was earned comes first.
        if (
            Word(items, at - 1) is { Kind: MentionKind.Intent } asked
            && Word(items, at - 2)?.Kind is MentionKind.And
            && book.Figure(income) is { } all
            && book.Figure(Book.Per(Book.Coded(income), bottom.Value)) is { } each
        )
        {
            items[earned] = new WordItem(
                Word(items, earned)! with
                {
                    Kind = MentionKind.Figure,
                    Value = Book.Coded(income),
                    Title = all.Name,
                }
            );
            Replace(items, at, 2, (s, e) => Made(s, e, each));
            return Remove(items, items.FindIndex(i => i is WordItem w && w.Mention == asked), 1);
        }
        var reference = Book.Per(Book.Coded(income), bottom.Value);
        if (book.Figure(reference) is not { } ratio)
            return false;
        Replace(items, at, 2, (s, e) => Made(s, e, ratio));
        items.RemoveAt(earned);
        return true;
    }

    /// <summary>is fuel higher than wages · growing faster than → both beside each other, and their growth: neither is a yes or
    /// no of their sum.</summary>
    private bool FigureThanFigure(List<Item> items, int at)
    {
        if (Word(items, at)?.Kind is not MentionKind.Figure)
            return false;
        var next = at + 1;
        while (Word(items, next)?.Kind is MentionKind.Gap)
            next++;
        var than =
            next > at + 1
            && (EndsInThan(Word(items, next - 1)!) || Word(items, next) is { Kind: MentionKind.Comparator, Value: "than" });
        if (Word(items, next)?.Kind is MentionKind.Comparator)
            next++;
        if (!than || Word(items, next) is not { Kind: MentionKind.Figure })
            return false;
        var moved = Enumerable
            .Range(at + 1, next - at - 1)
            .Select(i => Word(items, i)!)
            .FirstOrDefault(w => GapSense.Of(w) is { OverTime: true, Side: Direction.Over or Direction.Under });
        var between = Word(items, at + 1)!;
        // The last of them claims: "is it growing slower than".
        if (
            items.Skip(at + 1).Take(next - at - 1).LastOrDefault(i => i is WordItem { Mention.Kind: MentionKind.Gap })
            is WordItem claim
        )
            items.Add(new DifferenceItem(between.Start, between.Start, DirectionOf(claim.Mention)));
        items.RemoveRange(at + 1, next - at - 1);
        items.Insert(at + 1, new WordItem(between with { Kind = MentionKind.And, Value = "and" }));
        if (moved is not null)
            items.Add(new WordItem(moved with { Kind = MentionKind.Growth, Value = "growth" }));
        return true;
    }

    /// <summary>"Higher than": what is compared with follows.</summary>
    private bool EndsInThan(Mention word) =>
        vocabulary.Find(word.Title.Split(' ')[^1]).Any(e => e is { Kind: MentionKind.Comparator, Value: "than" });

    /// <summary>fuel versus wages → both of them, beside each other.</summary>
    private static bool FigureAgainstFigure(List<Item> items, int at)
    {
        // "Income of tests versus the number of tests".
        if (
            Word(items, at)?.Kind is MentionKind.Figure
            && Word(items, at + 1)?.Kind is MentionKind.Comparator
            && Word(items, at + 2)
                is { Kind: MentionKind.Statistic, Value: "count" }
                    or { Kind: MentionKind.Intent, Value: "value:many" }
            && Word(items, at + 3)?.Kind is MentionKind.Figure
        )
            items.RemoveAt(at + 2);
        if (
            Word(items, at) is not { Kind: MentionKind.Figure } one
            || Word(items, at + 1) is not { Kind: MentionKind.Comparator } against
            || Word(items, at + 2) is not { Kind: MentionKind.Figure } other
            || one.Value == other.Value
        )
            return false;
        items[at + 1] = new WordItem(against with { Kind = MentionKind.And });
        return true;
    }

    /// <summary>"Counter, café and catering" are of one kind: a member and figures are no list. A comma may be left out by a
    /// covering.</summary>
    private static bool IsMixedList(List<Item> items, int at)
    {
        bool IsFigure(int i) => Word(items, i)?.Kind is MentionKind.Figure;
        bool IsAnd(int i) => Word(items, i)?.Kind is MentionKind.And;
        if (IsMember(items, at) && IsFigure(at + 1) && items[at + 1].Start > items[at].End)
            return IsAnd(at + 2) && IsFigure(at + 3);
        if (Word(items, at)?.Kind is MentionKind.Comparator)
            return IsMember(items, at - 1) && IsFigure(at + 1);
        // "Groups and schools", where groups are a kind of visitor as well as a level of the accounts.
        if (
            IsAnd(at)
            && Word(items, at - 1)?.Kind is MentionKind.Level
            && Word(items, at - 2)?.Kind
                is not (
                    MentionKind.By
                    or MentionKind.Then
                    or MentionKind.Which
                    or MentionKind.Rank
                    or MentionKind.Number
                    or MentionKind.Quantifier
                )
            && Word(items, at + 1)?.Kind is MentionKind.Member
        )
            return true;
        return Word(items, at) is { Kind: MentionKind.And } and
            && (and.Value is "and" or "plus" or "slash" || IsAnd(at + 2) || IsAnd(at - 2))
            && ((IsMember(items, at - 1) && IsFigure(at + 1)) || (IsFigure(at - 1) && IsMember(items, at + 1)));
    }

    private static bool IsMember(List<Item> items, int at) =>
        Word(items, at)?.Kind is MentionKind.Member || At<FilterItem>(items, at) is { Exclude: false };

    /// <exception cref="CannotAnswerException">When each of two figures has a limit or a claim of its own: rows are kept by
    /// one.</exception>
    private void RefuseTwoLimits(List<Item> items)
    {
        bool Limits(Item item) =>
            item is ConditionItem or BaseItem { Direction: not null } || item is WordItem { Mention.Kind: MentionKind.Gap };
        if (!items.Exists(i => i is BreakdownItem))
            return;
        var figures = Enumerable.Range(0, items.Count).Where(i => Word(items, i)?.Kind is MentionKind.Figure).ToList();
        for (var i = 1; i < figures.Count; i++)
        {
            var (first, second) = (figures[i - 1], figures[i]);
            // "Falling sales and rising costs" says them ahead.
            var ahead = Word(items, first - 1)?.Kind is MentionKind.Gap && Word(items, second - 1)?.Kind is MentionKind.Gap;
            if (ahead || (Enumerable.Range(first, second - first).Any(j => Limits(items[j])) && items.Skip(second).Any(Limits)))
                throw new CannotAnswerException(
                    $"Rows can be kept by a limit on one figure at a time, not by one on {Word(items, first)!.Title} and another on {Word(items, second)!.Title}. Ask for one after the other."
                );
        }
    }
}
