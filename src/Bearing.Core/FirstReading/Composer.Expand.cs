using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>What is done to words before any rule looks at them.</summary>
internal sealed partial class Composer
{
    /// <summary>Words that say two things: "cost accounts" are costs, by account; "open items" are records, and of those what is
    /// open.</summary>
    private void Expand(List<Item> items)
    {
        // "Which route makes the most": of no plan it is what is earned.
        bool Says(Func<Mention, bool> what) => items.Exists(i => i is WordItem { Mention: var word } && what(word));
        if (
            !Says(w => w.Kind == MentionKind.Scenario)
            && (Says(w => w is { Kind: MentionKind.By, Value: "per" }) || Says(w => w.Kind == MentionKind.Rank))
        )
            for (var i = items.Count - 1; i >= 0; i--)
                if (
                    Word(items, i) is { Kind: MentionKind.Gap, Value: GapSense.Attained }
                    && Says(w => w.Kind == MentionKind.Figure)
                    && !Says(w => w is { Kind: MentionKind.By, Value: "per" })
                )
                    items.RemoveAt(i);
                else if (Word(items, i) is { Kind: MentionKind.Gap, Value: GapSense.Attained } makes)
                    items[i] = new WordItem(makes with { Kind = MentionKind.Unit, Value = "income" });
        for (var i = items.Count - 1; i >= 0; i--)
        {
            // "Year on year" says to compare, and with what.
            if (
                Word(items, i) is { Kind: MentionKind.Scenario } against
                && against.Value.StartsWith(AgainstIt, StringComparison.Ordinal)
            )
            {
                items[i] = new BaseItem(against.Start, against.End, against.Value[AgainstIt.Length..]);
                continue;
            }
            // "Shared between the regions": by region, each with its share.
            if (Word(items, i) is { Kind: MentionKind.By, Value: "shares" } shares)
            {
                items[i] = new WordItem(shares with { Value = "by" });
                items.Insert(0, new WordItem(shares with { Kind = MentionKind.Share, Value = "share", Start = 0, Length = 0 }));
                i++;
                continue;
            }
            // "The result of insurance recoveries" is what these came to.
            if (
                Word(items, i) is { Kind: MentionKind.Figure, Value: Outcome }
                && Word(items, i + 1) is { Kind: MentionKind.Figure } of
                && _said.Any(m => m is { Kind: MentionKind.Place, Value: "of" } && m.End == of.Start)
            )
            {
                items.RemoveAt(i);
                continue;
            }
            if (Word(items, i) is { Kind: MentionKind.Figure, Value: AnyProfit or Outcome } profit && book.Result is { } result)
                items[i] = new WordItem(profit with { Value = Book.Coded(result) });
            // A course runs by month, unless quarters or halves were counted: the trend of the last 8 quarters.
            if (Word(items, i) is { Kind: MentionKind.Grain, Value: Course } course)
                items[i] = new WordItem(
                    course with
                    {
                        Value = items
                            .Select(
                                (x, at) =>
                                    Word(items, at) is { Kind: MentionKind.Grain, Value: "quarter" or "half" } grain
                                    && Word(items, at - 1)?.Kind is MentionKind.Number
                                    && Word(items, at - 2)?.Kind is MentionKind.Trailing
                                        ? grain.Value
                                        : null
                            )
                            .FirstOrDefault(g => g is not null)
                            ?? "month",
                    }
                );
            if (Word(items, i) is { Kind: MentionKind.Level, Value: AnyLines } lines)
                items[i] = new WordItem(lines with { Value = book.Accounts.Levels[^1], Dimension = book.Accounts.Code });
            if (
                Word(items, i) is not { Kind: MentionKind.Figure or MentionKind.Records } word
                || word.Value.Split('#') is not [var value, var also, .. var by]
            )
                continue;
            items[i] = new WordItem(word with { Value = value });
            // What is inserted takes all the words, the other none, so that nothing seems to stand between it and what follows.
            // "The three largest creditors" are suppliers, and no invoices.
            if (
                by is [var field]
                && Word(items, i - 1)?.Kind is MentionKind.Rank or MentionKind.Number or MentionKind.Which or MentionKind.By
            )
                items.Insert(i, new ByFieldItem(word.Start, word.Start, field) { Ranked = true });
            items.Insert(
                i,
                new WordItem(
                    word.Kind == MentionKind.Records
                        ? word with
                        {
                            Kind = MentionKind.Check,
                            Value = also,
                        }
                        : word with
                        {
                            Kind = MentionKind.Level,
                            Value = book.Accounts.Levels[^1],
                            Dimension = book.Accounts.Code,
                        }
                )
            );
        }
    }
}
