using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>Words that say of which kind rows are: harbours, pubs, off-trade customers.</summary>
internal sealed partial class Composer
{
    /// <summary>which harbours · by harbour → the level of those members, kept to the members that are called so; fuel for the
    /// harbours → just these.</summary>
    private bool ClassOfMembers(List<Item> items, int at)
    {
        if (
            Word(items, at) is { Kind: MentionKind.Member } above
            && (
                Word(items, at - 1)
                    is { Kind: MentionKind.By, Value: not "behind" }
                        or { Kind: MentionKind.Which, Value: "which" }
                || IsTold(above)
            )
            && book.TryDimension(above.Dimension!, out var tree)
            && IsPluralAbove(tree, above.Value)
        )
        {
            items[at] = new WordItem(above with { Kind = MentionKind.Level, Value = tree.Levels[^1] });
            items.Add(new FilterItem(above.Start, above.End, tree.Code, [above.Value], false) { OfKind = true });
            return true;
        }
        if (Word(items, at) is not { Kind: MentionKind.Class } word || !book.TryDimension(word.Dimension!, out var dimension))
            return false;
        var filter = new FilterItem(word.Start, word.End, dimension.Code, [.. word.Value.Split('\n')], false);
        if (
            IsTold(word) && !word.Partial
            || Word(items, at - 1) is { } lead
                && (
                    lead.Kind
                        is MentionKind.By
                            or MentionKind.Then
                            or MentionKind.Which
                            or MentionKind.Rank
                            or MentionKind.Number
                            or MentionKind.Compare
                            or MentionKind.Quantifier
                    || IsCount(lead)
                )
        )
        {
            items[at] = new WordItem(word with { Kind = MentionKind.Level, Value = dimension.Levels[^1] });
            items.Add(filter with { OfKind = true });
        }
        else if (word.Partial)
            return false;
        else
            items[at] = filter with { Guessed = true };
        return true;
    }

    /// <summary>"Pubs that", "harbours whose": what is said of each follows.</summary>
    private bool IsTold(Mention rows) =>
        _said.Any(m =>
            m.Start == rows.End
            && m
                is { Kind: MentionKind.Filler, Value: ThatRow or "relative" }
                    or { Kind: MentionKind.Which, Value: "which" or "who" or "where" }
        );

    /// <summary>Members called pubs, above those that are pubs.</summary>
    private bool IsPluralAbove(Dimension dimension, string code) =>
        book.TryMember(dimension.Id, code, out var member)
        && book.HasChildren(member)
        && Words.Tokens(member.Name) is [var word]
        && !word.Text.Equals(word.Stem, StringComparison.OrdinalIgnoreCase);

    /// <summary>accounts 6000 to 6499 → by account, of those alone; without accounts 6000 to 6499 → of all others.</summary>
    private bool LevelOfCodes(List<Item> items, int at)
    {
        if (Word(items, at) is { Kind: MentionKind.Exclude, Value: not ("less" or "before" or "after") })
        {
            var left = Word(items, at + 1)?.Kind is MentionKind.Level ? at + 2 : at + 1;
            return Word(items, left) is { Kind: MentionKind.Codes } gone
                && Replace(items, at, left + 1 - at, (s, e) => new FilterItem(s, e, gone.Dimension!, CodesOf(gone), true));
        }
        return Word(items, at) is { Kind: MentionKind.Level } level
            && Word(items, at + 1) is { Kind: MentionKind.Codes } codes
            && codes.Dimension == level.Dimension
            && Word(items, at - 1)?.Kind is not (MentionKind.By or MentionKind.Which)
            && Replace(items, at, 1, (s, e) =>
                new BreakdownItem(s, e, [Breakdown.By(level.Dimension!, level.Value)]) { Led = true }
            );
    }

    /// <summary>Accounts are figures, other members what is kept.</summary>
    private void TakeCodes(Draft draft, Mention word)
    {
        var codes = CodesOf(word);
        if (word.Dimension == book.Accounts.Code)
            draft.Figures.AddRange(codes.Select(c => new FigureRef(FigureKind.Account, c)));
        else
            draft.Filters.Add(new Filter(word.Dimension!, codes));
    }

    /// <summary>6000 to 6499: whatever is posted to has a code in between.</summary>
    /// <exception cref="CannotAnswerException">When there is none.</exception>
    private ImmutableArray<string> CodesOf(Mention word)
    {
        if (word.Value.Split(':') is not [var low, var high] || !book.TryDimension(word.Dimension!, out var dimension))
            return [];
        var numbered = book.MembersOf(dimension.Id)
            .Where(m => !book.HasChildren(m) && m.Code.Length == low.Length && m.Code.All(char.IsAsciiDigit))
            .Select(m => m.Code)
            .Order(StringComparer.Ordinal)
            .ToList();
        var codes = numbered
            .Where(c => string.CompareOrdinal(c, low) >= 0 && string.CompareOrdinal(c, high) <= 0)
            .ToImmutableArray();
        return codes.IsEmpty
            ? throw new CannotAnswerException(
                $"No {dimension.Name.ToLowerInvariant()} has a code from {low} to {high}{(numbered.Count > 0 ? $"; those of {low.Length} digits run from {numbered[0]} to {numbered[^1]}" : "")}."
            )
            : codes;
    }

    /// <summary>the navigation department · route Calder–Pellow → the member alone; the level only says what it is.</summary>
    private bool Apposition(List<Item> items, int at)
    {
        if (Word(items, at) is not { Kind: MentionKind.Level } level)
            return false;
        // "Northern ports", of several that lie in the north: rows, kept to those.
        if (Word(items, at - 1) is { Kind: MentionKind.Member } outer && outer.End == level.Start && IsAbove(outer, level))
        {
            items[at - 1] = new WordItem(level);
            items.RemoveAt(at);
            items.Add(new FilterItem(outer.Start, outer.End, outer.Dimension!, [outer.Value], false) { OfKind = true });
            return true;
        }
        if (
            Word(items, at - 1)?.Kind
            is MentionKind.By
                or MentionKind.Then
                or MentionKind.Which
                or MentionKind.Rank
                or MentionKind.Number
                or MentionKind.And
        )
            return false;
        var beside =
            Word(items, at - 1) is { Kind: MentionKind.Member } before
                && before.Dimension == level.Dimension
                && before.End == level.Start
            || (
                Word(items, at + 1) is { Kind: MentionKind.Member } after
                && after.Dimension == level.Dimension
                && after.Start == level.End
            );
        if (beside)
            items.RemoveAt(at);
        return beside;
    }

    /// <summary>Whether the level lies below the member, in its own tree.</summary>
    private bool IsAbove(Mention member, Mention level) =>
        member.Dimension == level.Dimension
        && book.TryDimension(level.Dimension!, out var tree)
        && Breakdown.OfMember(book, tree.Code, member.Value)?.Level is { } own
        && tree.Levels.IndexOf(own) < tree.Levels.IndexOf(level.Value);

    /// <summary>"By pub in the north": those that are both; said apart, two members of a tree are all that lies in
    /// either.</summary>
    private void NarrowKinds(List<Item> items)
    {
        foreach (var kind in items.OfType<FilterItem>().Where(f => f.OfKind).ToList())
        {
            // Taken into another before.
            if (!items.Contains(kind) || !book.TryDimension(kind.Dimension, out var tree))
                continue;
            var others = items
                .Where(o =>
                    o != kind
                    && (
                        o is FilterItem { Exclude: false } f
                            ? f.Dimension == tree.Code
                            : o is WordItem { Mention: { Kind: MentionKind.Member } m } && m.Dimension == tree.Code
                    )
                )
                .ToList();
            var named = others.SelectMany(o => o is FilterItem f ? f.Codes : [((WordItem)o).Mention.Value]).ToList();
            var both = kind
                .Codes.Where(c => named.Exists(n => IsWithin(c, n)))
                .Concat(named.Where(n => kind.Codes.Any(c => IsWithin(n, c))))
                .Distinct()
                .ToImmutableArray();
            both = [.. both.Where(c => !both.Any(inner => inner != c && IsWithin(inner, c)))];
            if (both.Length == 0)
                continue;
            items[items.IndexOf(kind)] = kind with { Codes = both };
            items.RemoveAll(others.Contains);

            bool IsWithin(string code, string outer) =>
                book.TryMember(tree.Id, code, out var inner)
                && book.PathTo(inner.Id).Any(above => book.Label(above).Code == outer);
        }
    }
}
