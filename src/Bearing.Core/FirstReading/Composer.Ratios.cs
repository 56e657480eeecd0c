using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>The rules that make a ratio of two figures: so much for each, the one divided by the other.</summary>
internal sealed partial class Composer
{
    /// <summary>fuel and crew per sailing → each of them is per sailing, also where the book has a ratio of that name.</summary>
    private bool EachPer(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Figure } one
            || Word(items, at + 1) is not { Kind: MentionKind.And, Value: "and" }
            || Word(items, at + 2) is not { Kind: MentionKind.Figure } other
            || RatioInWords(other) is not { } ratio
        )
            return false;
        if (
            book.Figure(FigureOf(one)) is not SumFigure { IsProfit: true } spent
            || book.Figure(Book.Per(one.Value, Book.Coded(ratio.Bottom.Ref))) is not { } each
        )
            return false;
        // "Fuel and fuel per sailing": the first is what the other is made of.
        if (book.IsWithin(ratio.Top, spent) || book.IsWithin(spent, ratio.Top))
            return false;
        items[at] = Made(one.Start, one.End, each);
        return true;
    }

    /// <summary>A ratio of the book of which both parts were said: crew cost per sailing, but not the fuel price.</summary>
    private PairFigure? RatioInWords(Mention word) =>
        word.Length > 2 && book.Figure(FigureOf(word)) is PairFigure { Rule: PairRule.Quotient } ratio ? ratio : null;

    /// <summary>revenue for each ticket · revenue by FTE → per ticket, per FTE: nothing is split by a count.</summary>
    private bool EachOfCount(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.By, Value: "each" or "by" } by
            || Word(items, at + 1) is not { Kind: MentionKind.Figure } count
            || book.Figure(FigureOf(count)) is not SumFigure { IsProfit: false }
        )
            return false;
        if (by.Value == "by" && at > 0 && Word(items, at - 1)?.Kind is not MentionKind.Figure)
            return false;
        // "By passengers, highest first" sorts what was shown.
        if (by.Value == "by" && at == 0 && items.Exists(i => i is OrderItem))
            return false;
        items[at] = new WordItem(by with { Value = "per" });
        return true;
    }

    /// <summary>cost per visit, staff only · only staff → of these costs alone.</summary>
    private bool OnlyOfCosts(List<Item> items, int at)
    {
        if (Word(items, at) is not { Kind: MentionKind.Edit, Value: "only" })
            return false;
        var all = items.FindIndex(i => i is WordItem { Mention: { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts } });
        if (all < 0 || Word(items, all + 1) is not { Kind: MentionKind.By, Value: "per" })
            return false;
        var named =
            Word(items, at - 1)?.Kind is MentionKind.Figure && at - 1 != all + 2 ? at - 1
            : Word(items, at + 1)?.Kind is MentionKind.Figure && at + 1 != all ? at + 1
            : -1;
        if (named < 0 || book.Figure(FigureOf(Word(items, named)!)) is not SumFigure { ShownSign: < 0 })
            return false;
        items[all] = items[named];
        items.RemoveRange(Math.Min(at, named), 2);
        return true;
    }

    /// <summary>costs per visit → a ratio of the two.</summary>
    private bool FigurePerFigure(List<Item> items, int at)
    {
        // "Per visit", of the figure that was shown.
        if (
            Word(items, at) is { Kind: MentionKind.By, Value: "per" or "ratio" }
            && Word(items, at + 1) is { Kind: MentionKind.Figure } of
            && book.Figure(FigureOf(of)) is SumFigure { IsProfit: false }
            && items.Count(i => i is WordItem { Mention.Kind: MentionKind.Figure }) == 1
        )
            return Replace(items, at, 2, (s, e) => new RatioToItem(s, e, FigureOf(of), false));
        // "Where did energy cost most per show".
        if (
            Word(items, at)?.Kind is MentionKind.Figure
            && Word(items, at + 1) is { Kind: MentionKind.Rank }
            && Word(items, at + 2) is { Kind: MentionKind.By, Value: "per" }
            && Word(items, at + 3)?.Kind is MentionKind.Figure
        )
        {
            var rank = items[at + 1];
            items.RemoveAt(at + 1);
            items.Insert(at + 3, rank);
        }
        // "Bar takings we make per ticket".
        if (
            Word(items, at)?.Kind is MentionKind.Figure
            && Word(items, at + 1)?.Kind is MentionKind.Result
            && Word(items, at + 2) is { Kind: MentionKind.By, Value: "per" }
        )
            items.RemoveAt(at + 1);
        if (
            Word(items, at)?.Kind is MentionKind.Member
            && Word(items, at + 1) is { Kind: MentionKind.By, Value: "ratio" }
            && Word(items, at + 2) is { Kind: MentionKind.Figure } divisor
        )
            throw new CannotAnswerException(
                $"{Word(items, at)!.Title} is no figure that {divisor.Title} can divide. Say which figure of it, and that it is “for {Word(items, at)!.Title}”."
            );
        if (
            Word(items, at) is not { Kind: MentionKind.Figure } top
            || Word(items, at + 1) is not { Kind: MentionKind.By } by
            || Word(items, at + 2) is not { Kind: MentionKind.Figure } bottom
        )
            return false;
        if (by.Value is not ("per" or "ratio"))
            return false;
        // "The price per litre" where the price of fuel is one of a litre.
        if (
            by.Value == "per"
            && book.Figure(FigureOf(top)) is PairFigure { Rule: PairRule.Quotient } quotient
            && quotient.Bottom.Ref == FigureOf(bottom)
        )
            return Remove(items, at + 1, 2);
        var reference = Book.Per(top.Value, bottom.Value);
        // Money divided by money is a percentage.
        if (by.Value == "ratio" && book.Figure(reference) is null)
            reference = Book.PercentOf(top.Value, bottom.Value);
        if (book.Figure(reference) is not { } ratio)
            throw new CannotAnswerException(
                $"{top.Title} cannot be divided by {bottom.Title} as “{by.Title}”. Say a count, such as one of passengers or staff, or “as a percentage of”."
            );
        // "Cost per visit of drugs": which costs is said behind.
        if (
            top.Value == "m:" + Book.AllCosts
            && Word(items, at + 3) is { Kind: MentionKind.Figure } which
            && _said.Any(m => m is { Kind: MentionKind.Place, Value: "of" or "place" or "from" } && m.End == which.Start)
            && book.Figure(FigureOf(which)) is SumFigure { ShownSign: < 0 }
            && book.Figure(Book.Per(which.Value, bottom.Value)) is { } named
        )
            return Replace(items, at, 4, (s, e) => Made(s, e, named));
        // "Electricity and gas per square metre": each of them is; "revenue, sailings and revenue per sailing": only the last.
        var itself = items
            .Take(at)
            .Any(i =>
                i is WordItem { Mention: { Kind: MentionKind.Figure, Partial: false, Value: var said } }
                && (said == top.Value || said == bottom.Value)
            );
        for (
            var before = at - 2;
            !itself
                && by.Value != "ratio"
                && before >= 0
                && Word(items, before + 1)?.Kind is MentionKind.And
                && Word(items, before) is { Kind: MentionKind.Figure } listed
                && book.Figure(Book.Per(listed.Value, bottom.Value)) is { } other;
            before -= 2
        )
            items[before] = new WordItem(listed with { Value = "m:" + other.Ref.Code, Title = other.Name });
        return Replace(items, at, 3, (s, e) => Made(s, e, ratio));
    }

    /// <summary>the ratio of bar stock to bar takings → the one divided by the other.</summary>
    private bool RatioOf(List<Item> items, int at)
    {
        // "Overheads to revenue ratio".
        if (
            Word(items, at)?.Kind is MentionKind.Figure
            && Word(items, at + 1) is { Kind: MentionKind.To } between
            && Word(items, at + 2)?.Kind is MentionKind.Figure
            && Word(items, at + 3) is { Kind: MentionKind.Margin, Value: "ratio" } behind
        )
        {
            items[at + 1] = new WordItem(between with { Kind = MentionKind.By, Value = behind.Value });
            return Remove(items, at + 3, 1);
        }
        // "Sales to labour", with nothing that it runs from.
        if (
            Word(items, at)?.Kind is MentionKind.Figure
            && Word(items, at + 1) is { Kind: MentionKind.To } over
            && Word(items, at + 2)?.Kind is MentionKind.Figure
            && items.Count(i => i is WordItem { Mention.Kind: MentionKind.Figure }) == 2
            && !_said.Any(m => m.Kind == MentionKind.Place && m.End == items[at].Start)
            && !items.Exists(i => i is WordItem { Mention.Kind: MentionKind.Intent or MentionKind.Shift or MentionKind.Compare })
        )
        {
            items[at + 1] = new WordItem(over with { Kind = MentionKind.By, Value = "ratio" });
            return true;
        }
        // "The cost of a performance", "revenue for a case", "cleaning a room": for each.
        if (
            Word(items, at) is { Kind: MentionKind.Figure } cost
            && IsCounted(Word(items, at + 1))
            && book.Figure(FigureOf(cost)) is SumFigure { IsProfit: true }
            && _said.Any(m =>
                m.Kind == MentionKind.Filler
                && m.End == items[at + 1].Start
                && vocabulary.Find(m.Title).Any(e => e.Value == MentionContext.OneOf)
                && (m.Start == cost.End || _said.Any(o => o.Kind == MentionKind.Place && o.Start == cost.End && o.End == m.Start))
            )
        )
            return Insert(items, at + 1, new WordItem(new Mention(MentionKind.By, "per", null, cost.End, 0, 0, "per")));
        // "What does one performance cost us": the same, said the other way round.
        if (
            IsCounted(Word(items, at))
            && Word(items, at + 1) is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts } costs
            && costs.Start == items[at].End
            && _said.Any(m =>
                m is { Kind: MentionKind.Filler }
                && m.End == items[at].Start
                && (
                    m.Value == MentionContext.OneOf
                    || vocabulary.Find(m.Title).Any(e => e is { Kind: MentionKind.Number, Value: "1" })
                )
            )
        )
        {
            // What one visitor costs is a cost, what one spends is earned.
            items[at + 1] =
                vocabulary.Spending.Contains(costs.Title) && book.Sales is { } earned
                    ? new WordItem(costs with { Value = Book.Coded(earned), Title = book.Figure(earned)!.Name })
                    : items[at + 1];
            (items[at], items[at + 1]) = (items[at + 1], items[at]);
            return Insert(items, at + 1, new WordItem(new Mention(MentionKind.By, "per", null, costs.End, 0, 0, "per")));
        }
        // "Pupil teacher ratio": two counts side by side.
        if (
            IsCounted(Word(items, at))
            && IsCounted(Word(items, at + 1))
            && items[at].End == items[at + 1].Start
            && Word(items, at + 2) is { Kind: MentionKind.Margin, Value: "ratio" } beside
        )
            return Remove(items, at + 2, 1)
                && Insert(items, at + 1, new WordItem(beside with { Kind = MentionKind.By, Start = items[at].End, Length = 0 }));
        if (
            Word(items, at) is not { Kind: MentionKind.Margin, Value: "ratio" } ratio
            || Word(items, at + 1)?.Kind is not MentionKind.Figure
            || Word(items, at + 2) is not { Kind: MentionKind.To } to
            || Word(items, at + 3)?.Kind is not MentionKind.Figure
        )
            return false;
        items[at + 2] = new WordItem(to with { Kind = MentionKind.By, Value = ratio.Value });
        return Remove(items, at, 1);
    }
}
