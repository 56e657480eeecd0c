using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>The rules that say in which order rows stand, and which of them is meant by its place.</summary>
internal sealed partial class Composer
{
    /// <summary>newest first · sorted by due date, descending → the order of rows.</summary>
    private static bool Ordering(List<Item> items, int at)
    {
        if (Word(items, at) is not { Kind: MentionKind.Order } word)
            return false;
        if (word.Value != "field")
        {
            // "Open for longest" goes by the day, "longest overdue" by the day on which it was due; what took longest to pay does
            // not.
            if (word.Value == "day:longest")
            {
                var late = items.Exists(i => i is WordItem { Mention: { Kind: MentionKind.Check, Value: "overdue" } });
                if (
                    !late
                    && !items.Exists(i =>
                        i is WordItem { Mention: { Kind: MentionKind.Check, Value: "open" or "owed-by-us" or "owed-to-us" } }
                    )
                )
                    return false;
                var one =
                    items.FirstOrDefault(i => i is WordItem { Mention: { Kind: MentionKind.Records, Singular: true } })
                    is not null;
                return Replace(items, at, 1, (s, e) =>
                        late ? new OrderItem(s, e, "field", "due", false) : new OrderItem(s, e, "day", null, false)
                    )
                    && (
                        !one
                        || items.Exists(i => i is RankItem)
                        || Insert(items, at, new RankItem(items[at].Start, items[at].Start, Listed, 1) { Single = true })
                    );
            }
            var by = word.Value.Split(':')[0];
            Replace(items, at, 1, (s, e) => new OrderItem(s, e, by, null, word.Value.EndsWith("down", StringComparison.Ordinal)));
            // "The 5 newest invoices", "newest 5": so many of them, in that order.
            var number =
                by != "day" ? -1
                : Word(items, at - 1) is { Kind: MentionKind.Number } ? at - 1
                : Word(items, at + 1) is { Kind: MentionKind.Number } ? at + 1
                : -1;
            return number < 0
                || !items.Exists(IsList)
                || Replace(items, number, 1, (s, e) =>
                    new RankItem(s, e, Listed, int.Parse(Word(items, number)!.Value, CultureInfo.InvariantCulture))
                );
        }

        if (Word(items, at + 1) is { Kind: MentionKind.Figure } && !items.Exists(IsList))
            return false;
        if (FieldAt(items, at + 1) is not { } field)
            return false;
        var side = Word(items, at + 2) is { Kind: MentionKind.And } && Word(items, at + 3) is { Kind: MentionKind.Order } ? 3 : 2;
        var turned = Word(items, at + side) is { Kind: MentionKind.Order, Value: not "field" } turn ? turn : null;
        return Replace(items, at, turned is null ? 2 : side + 1, (s, e) =>
            new OrderItem(s, e, "field", field, turned?.Value.EndsWith("down", StringComparison.Ordinal) == true)
        );
    }

    /// <summary>sorted by ebitda · highest margin first → the order of rows by one of the figures.</summary>
    private static bool OrderByFigure(List<Item> items, int at)
    {
        if (items.Exists(IsList) || Word(items, at + 1) is not { Kind: MentionKind.Figure } figure)
            return false;
        var falling = Word(items, at + 2) switch
        {
            { Kind: MentionKind.Leading }
                when Word(items, at) is { Kind: MentionKind.Rank, Value: "largest" or "smallest" } end => end.Value == "largest",
            _ when Word(items, at) is not { Kind: MentionKind.Order, Value: "field" } => (bool?)null,
            { Kind: MentionKind.Order, Value: not "field" } way => !way.Value.EndsWith("up", StringComparison.Ordinal),
            _ => true,
        };
        if (falling is not { } down)
            return false;
        var length = Word(items, at + 2) is { Kind: MentionKind.Order or MentionKind.Leading } ? 3 : 2;
        return Replace(items, at, length, (s, e) => new RankedByItem(s, e, FigureOf(figure)))
            && Insert(items, at + 1, new OrderItem(items[at].Start, items[at].End, "size", null, down));
    }

    /// <summary>rank shops by growth of revenue · the three largest routes by contribution → what is ranked by is the
    /// figure.</summary>
    private static bool RankedBy(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.By, Value: "by" }
            || Word(items, at + 1) is not { Kind: MentionKind.Figure } figure
            || !items.Exists(i => i is RankItem or OrderItem)
        )
            return false;
        // "Sailings and passengers, top 5 by revenue": of several the one that ranks comes first.
        return Replace(items, at, 2, (s, e) => new RankedByItem(s, e, FigureOf(figure)));
    }

    /// <summary>the farm with the biggest shortfall, after rows → the worst of them.</summary>
    private static bool RowBySide(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Row, Value: "largest" or "smallest" } row
            || GapSense.Of(Word(items, at + 1)) is not { } gap
            || !(gap.OfProfit || gap.OfCosts)
        )
            return false;
        if (Word(items, at - 1) is { Kind: MentionKind.Level })
            items.RemoveAt(--at);
        return Replace(items, at, 2, (s, e) =>
            new WordItem(
                row with
                {
                    Start = s,
                    Length = e - s,
                    Value = (gap.Side is Direction.Against or Direction.Over) == (row.Value == "largest") ? "worst" : "best",
                }
            )
        );
    }
}
