namespace Bearing.Core.Reading;

internal static partial class Rules
{
    /// <summary>After an answer the largest is sooner one of its rows.</summary>
    private const int NotShown = 20;

    /// <summary>Where a figure is named, the talk returns to it sooner than that it goes on with it.</summary>
    private const int NotReturned = 40;

    private static IEnumerable<Rule> OfTalk =>
        [
            Rule.Of<PointItem, LevelItem>(
                "a thing of an earlier answer, by what it is",
                (p, l, _) =>
                    p is { How: Pointing.That or Pointing.Those, Of: null }
                        ? p with
                        {
                            Of = l.Of,
                            How = l.Plural ? Pointing.Those : Pointing.That,
                        }
                        : null,
                "that yard",
                "the largest yard"
            ),
            Rule.Of<PointItem, PointItem>(
                "the largest of those that were shown",
                (end, those, _) =>
                    EndOf(end.How) is not null && end.Of is null && those is { How: Pointing.Those, Of: null } ? end : null,
                "the largest those",
                "the second one those"
            ),
            Rule.Of<PointItem, FieldItem>(
                "what a field says of the records that were shown",
                (p, f, _) => p is { How: Pointing.That, Of: null } ? new PointedFieldItem(f.Role) : null,
                "that supplier",
                "the second one supplier"
            ),
            Rule.Of<ToWord, PointedFieldItem>("to whom they were", (_, f, _) => f, "to that supplier", "to supplier"),
            Rule.Of<BackWord, FigureItem>(
                "back to a figure",
                (_, f, _) => f.Partial ? null : new BackToItem(f.Figure),
                "back to fuel",
                "fuel"
            ),
            Rule.Of<BackWord>("back to what is no figure goes on", (_, _) => new GoesOnItem(false), "back to", "to", NotReturned),
            Rule.Of<PointItem, EntriesItem>(
                "the entries that were shown",
                (p, entries, _) => p is { How: Pointing.That or Pointing.Those, Of: null } ? new TheirItem(true) : null,
                "those entries",
                "the largest entries"
            ),
            Rule.Of<PointItem>(
                "the largest, of rows that are asked for and not of those that were shown",
                (p, _) => EndOf(p.How) is { } end ? new RankItem(end, 1, 0, false, null) : null,
                "the largest one",
                "the second one",
                NotShown
            ),
            Rule.Of<PointItem, JudgeItem>(
                "whether that is good or bad",
                (p, j, _) => p is { How: Pointing.That, Of: null } ? j : null,
                "that good or bad",
                "the second one good or bad"
            ),
            Rule.Of<PointItem, GapItem>(
                "whether that is good, or bad",
                (p, gap, _) =>
                    p is { How: Pointing.That, Of: null } && gap.Sense is { OfProfit: true, OfRows: false } ? gap : null,
                "that a problem",
                "the second one a problem"
            ),
            Rule.Of<OrWord, TimingItem>("or only late", (_, t, _) => t, "or only late", "only late"),
            Rule.Of<PointItem, TimingItem>(
                "is that only late",
                (p, t, _) => p is { How: Pointing.That, Of: null } ? t : null,
                "that only late",
                "the second one only late"
            ),
            Rule.Of<WithoutWord, PointItem>(
                "what is pointed at is left out",
                (_, p, _) => new PointedOutItem(p),
                "without that yard",
                "that yard"
            ),
            Rule.Of<PointItem, LeftOutWord>(
                "what is pointed at, left out",
                (p, _, _) => new PointedOutItem(p),
                "that yard excluded",
                "that yard"
            ),
        ];

    private static End? EndOf(Pointing how) =>
        how switch
        {
            Pointing.Largest => End.Largest,
            Pointing.Smallest => End.Smallest,
            Pointing.Worst => End.Worst,
            Pointing.Best => End.Best,
            _ => null,
        };
}
