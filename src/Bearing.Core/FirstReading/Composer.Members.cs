using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>Members that are named together, or held against each other.</summary>
internal sealed partial class Composer
{
    /// <summary>The difference between two of a kind starts here: its two sides stand at +2 and +4.</summary>
    private static bool IsDifference(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Intent, Value: "variance" }
        && Word(items, at + 1)?.Kind is MentionKind.Between
        && Word(items, at + 3)?.Kind is MentionKind.And;

    /// <summary>the difference in fuel between July and August → what it is of, said first.</summary>
    private static bool DifferenceIn(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Intent, Value: "variance" }
            || Word(items, at + 1)?.Kind is not MentionKind.Figure
            || Word(items, at + 2)?.Kind is not MentionKind.Between
        )
            return false;
        (items[at], items[at + 1]) = (items[at + 1], items[at]);
        return true;
    }

    /// <summary>the difference between Coast and Lowland · is Coast better than Lowland → both as rows, and the first less the
    /// second.</summary>
    private bool MemberLessMember(List<Item> items, int at)
    {
        // "More guests at Crown than at Havnen": the claim stands between the two.
        if (
            Word(items, at) is { Kind: MentionKind.Gap } ahead
            && Word(items, at + 1)?.Kind is MentionKind.Figure
            && Word(items, at + 2)?.Kind is MentionKind.Member
            && Word(items, at + 3) is { Kind: MentionKind.Comparator, Value: "than" }
            && Word(items, at + 4)?.Kind is MentionKind.Member
        )
        {
            items.RemoveAt(at);
            items.Insert(at + 2, new WordItem(ahead));
            return true;
        }

        var between = IsDifference(items, at);
        if (!between && Word(items, at + 1)?.Kind is not MentionKind.Gap)
            return false;
        // "Did Crown grow faster than Ravenmoor": the last of several words claims.
        var gaps = between
            ? 0
            : items
                .Skip(at + 1)
                .TakeWhile(i => i is WordItem { Mention: { Kind: MentionKind.Gap, Value: not ("gap" or "within") } })
                .Count();
        var (first, second) = between
            ? (at + 2, at + 4)
            : (at, at + 1 + gaps + (Word(items, at + 1 + gaps)?.Kind is MentionKind.Comparator ? 1 : 0));
        if (!between && gaps == 0)
            return false;
        if (
            Word(items, first) is not { Kind: MentionKind.Member } one
            || Word(items, second) is not { Kind: MentionKind.Member } other
            || one.Dimension != other.Dimension
            || LevelOf(one.Dimension!, one.Value) is not { } level
        )
            return false;
        var claim = between ? null : Word(items, at + gaps);
        Direction? claims = claim is null ? null : DirectionOf(claim);
        if (GapSense.Of(claim) is { OverTime: true, Side: Direction.Over or Direction.Under })
            items.Add(new WordItem(claim! with { Kind = MentionKind.Growth, Value = "growth" }));
        Replace(items, at, second + 1 - at, (s, e) => new FilterItem(s, e, one.Dimension!, [one.Value, other.Value], false));
        return Insert(items, at, new BreakdownItem(one.Start, one.Start, [level]))
            && Insert(items, at, new DifferenceItem(one.Start, one.Start, claims));
    }

    /// <summary>Nordfield versus the other shops → all of them, as rows.</summary>
    private bool MemberAgainstOthers(List<Item> items, int at)
    {
        // "Compare the Lantern with all venues".
        if (
            Word(items, at) is { Kind: MentionKind.Member } single
            && Word(items, at + 1) is { Kind: MentionKind.Quantifier }
            && LevelAt(items, at + 2) is { Dimension: { } their } whoever
            && their == single.Dimension
            && items.FindIndex(0, at, i => i is WordItem { Mention: { Kind: MentionKind.Compare, Value: "compare" } })
                is >= 0
                    and var open
        )
            return Replace(items, at, 3, (s, e) => new BreakdownItem(s, e, [whoever]) { Led = true }) && Remove(items, open, 1);
        // "Austria versus the group": it and its like, and what they come to; "Austria's margin versus the group" as well.
        if (
            Word(items, at)?.Kind is MentionKind.Member
            && Word(items, at + 1)?.Kind is MentionKind.Figure
            && Word(items, at + 2)?.Kind is MentionKind.Comparator
            && Word(items, at + 3) is { Kind: MentionKind.Result, Value: Scope or WholeOfIt }
        )
            (items[at], items[at + 1]) = (items[at + 1], items[at]);
        if (
            Word(items, at) is { Kind: MentionKind.Member } part
            && Word(items, at + 1)?.Kind is MentionKind.Comparator
            && Word(items, at + 2) is { Kind: MentionKind.Result, Value: Scope or WholeOfIt }
            && LevelOf(part.Dimension!, part.Value) is { } like
        )
            return Replace(items, at, 3, (s, e) => new BreakdownItem(s, e, [like]) { Led = true });
        // "Central Office versus the inns": all of them.
        if (
            Word(items, at) is { Kind: MentionKind.Member } lone
            && Word(items, at + 1)?.Kind is MentionKind.Comparator
            && LevelAt(items, at + 2) is { Dimension: { } of } all
            && of == lone.Dimension
        )
            return Replace(items, at, 3, (s, e) => new BreakdownItem(s, e, [all]) { Led = true });
        // "Compare the other shops with Nordfield": all of them, whichever is said first.
        if (
            at > 0
            && Word(items, at)?.Kind is MentionKind.Others
            && Word(items, at - 1) is { Kind: MentionKind.Compare, Value: "compare" }
            && Word(items, LevelAt(items, at + 1) is null ? at + 1 : at + 2) is { Kind: MentionKind.Member } last
            && LevelOf(last.Dimension!, last.Value) is { } whole
        )
            return Replace(items, at - 1, LevelAt(items, at + 1) is null ? 3 : 4, (s, e) =>
                new BreakdownItem(s, e, [whole]) { Led = true }
            );
        // "Compare Nordfield with the other shops": the comparison was said before.
        var compared =
            Word(items, at + 1)?.Kind is MentionKind.Others
                ? items.FindIndex(0, at, i => i is WordItem { Mention: { Kind: MentionKind.Compare, Value: "compare" } })
                : -1;
        var others =
            compared >= 0 ? at + 1
            : Word(items, at + 1)?.Kind is MentionKind.Comparator ? at + 2
            : -1;
        if (
            others < 0
            || Word(items, at) is not { Kind: MentionKind.Member } one
            || Word(items, others)?.Kind is not MentionKind.Others
            || LevelOf(one.Dimension!, one.Value) is not { } own
        )
            return false;
        var level = LevelAt(items, others + 1) is { Dimension: not null } said && said.Dimension == own.Dimension ? said : null;
        Replace(items, at, others - at + (level is null ? 1 : 2), (s, e) =>
            new BreakdownItem(s, e, [level ?? own]) { Led = true }
        );
        return compared < 0 || Remove(items, compared, 1);
    }

    /// <summary>Coast versus Lowland → both, as rows.</summary>
    private bool MemberAgainstMember(List<Item> items, int at)
    {
        // "Coast revenue versus Lowland": of what is said between the two.
        if (
            Word(items, at) is { Kind: MentionKind.Member } owner
            && Word(items, at + 1)?.Kind is MentionKind.Figure
            && Word(items, at + 2)?.Kind is MentionKind.Comparator
            && Word(items, at + 3) is { Kind: MentionKind.Member } against
            && owner.Dimension == against.Dimension
        )
        {
            (items[at], items[at + 1]) = (items[at + 1], items[at]);
            return true;
        }
        // "Compare Coast to Lowland" compares by its first word.
        var compare =
            Word(items, at + 1)?.Kind is MentionKind.To
                ? items.FindIndex(0, at, i => i is WordItem { Mention: { Kind: MentionKind.Compare, Value: "compare" } })
                : -1;
        if (
            Word(items, at) is not { Kind: MentionKind.Member } one
            || (compare < 0 && Word(items, at + 1)?.Kind is not MentionKind.Comparator)
            || Word(items, at + 2) is not { Kind: MentionKind.Member } other
            || one.Dimension != other.Dimension
            || LevelOf(one.Dimension!, one.Value) is not { } level
        )
            return false;
        var codes = ImmutableArray.Create(one.Value, other.Value);
        var end = at + 3;
        while (
            Word(items, end)?.Kind is MentionKind.Comparator or MentionKind.And
            && Word(items, end + 1) is { Kind: MentionKind.Member } more
            && more.Dimension == one.Dimension
        )
            (codes, end) = (codes.Add(more.Value), end + 2);
        Replace(items, at, end - at, (s, e) => new FilterItem(s, e, one.Dimension!, codes, false));
        return Insert(items, at, new BreakdownItem(one.Start, one.Start, [level])) && (compare < 0 || Remove(items, compare, 1));
    }

    /// <summary>compare Coast and Lowland → both, as rows.</summary>
    private bool CompareMembers(List<Item> items, int at)
    {
        if (
            At<FilterItem>(items, at) is not { Exclude: false, Codes.Length: > 1 } filter
            || items.FindIndex(i => i is WordItem { Mention: { Kind: MentionKind.Compare, Value: "compare" } })
                is not (>= 0 and var compare)
            || items.Exists(i =>
                i is BaseItem or ScenariosItem or BasePeriodItem or BreakdownItem
                || i is WordItem { Mention.Kind: MentionKind.Scenario or MentionKind.Comparator }
            )
            || LevelOf(filter.Dimension, filter.Codes[0]) is not { } level
        )
            return false;
        items[compare] = new BreakdownItem(items[compare].Start, items[compare].End, [level]);
        return true;
    }

    private Breakdown? LevelOf(string dimension, string code) => Breakdown.OfMember(book, dimension, code);

    private static bool IsVariance(Item? item) =>
        item
            is WordItem
                {
                    Mention: { Kind: MentionKind.Intent, Value: "variance" } or { Kind: MentionKind.Comparator, Value: "apart" }
                }
                or BaseItem { Apart: true };

    /// <summary>member and member of one dimension → filter.</summary>
    private bool SeveralMembers(List<Item> items, int at)
    {
        var first =
            At<FilterItem>(items, at) is { Exclude: false } known ? known
            : Word(items, at) is { Kind: MentionKind.Member } m ? new FilterItem(m.Start, m.End, m.Dimension!, [m.Value], false)
            : null;
        if (first is null)
            return false;
        var skip = Word(items, at + 1)?.Kind is MentionKind.And ? at + 2 : at + 1;
        if (Word(items, skip) is not { Kind: MentionKind.Member } next || next.Dimension != first.Dimension)
            return false;
        return Replace(items, at, skip - at + 1, (s, e) =>
            first with
            {
                Start = s,
                End = e,
                Codes = first.Codes.Add(next.Value),
            }
        );
    }
}
