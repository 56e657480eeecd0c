using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

internal static partial class Rules
{
    /// <summary>A line is sooner one of the ledger's.</summary>
    private const int LineOfFigure = 10;

    private static IEnumerable<Rule> OfNames =>
        [
            Rule.Of<FigureItem, AndWord, FigureItem>(
                "two figures",
                (one, _, two, _) => one.Figure == two.Figure ? null : new FiguresItem([one.Figure, two.Figure]),
                "fuel and crew wages",
                "rent and rent"
            ),
            Rule.Of<FiguresItem, AndWord, FigureItem>(
                "a further figure",
                (list, _, next, _) => list.Figures.Contains(next.Figure) ? null : new FiguresItem([.. list.Figures, next.Figure]),
                "fuel, crew wages and rent",
                "fuel and crew wages"
            ),
            Rule.Of<FigureItem, PerWord, FigureItem>(
                "one figure for each of another, or in percent of it",
                (top, per, bottom, b) => Ratio(b, top.Figure, bottom.Figure, per.Percent),
                "fuel per trip",
                "fuel and trips"
            ),
            Rule.Of<FigureItem, OfWord, OneWord, FigureItem>(
                "what one of something comes to",
                (top, _, _, one, b) =>
                    b.Figure(one.Figure) is SumFigure { IsProfit: false } ? Ratio(b, top.Figure, one.Figure, false) : null,
                "fuel of a trip",
                "fuel of an yard"
            ),
            Rule.Of<SoldWord, FigureItem>("sold, and how many of what", (_, f, b) => IsCounted(b, f), "sold trips", "sold fuel"),
            Rule.Of<FigureItem, SoldWord>("what is counted, sold", (f, _, b) => IsCounted(b, f), "trips sold", "fuel sold"),
            Rule.Of<TotalWord, FigureItem>("the total of a figure", (_, f, _) => f, "total fuel", "fuel"),
            Rule.Of<TotalWord>("in total", (_, _) => new AskItem(Asked.Value), "total", "fuel"),
            Rule.Of<StatisticItem, FigureItem>(
                "how many of what is counted",
                (s, f, b) => s.Of == RowStatistic.Count ? IsCounted(b, f) : null,
                "how many trips",
                "how many fuel"
            ),
            Rule.Of<FigureItem, EntriesItem>(
                "the line of a figure",
                (f, line, _) => line is { Rank: null, Plural: false } ? f : null,
                "fuel line",
                "fuel entries",
                LineOfFigure
            ),
            Rule.Of<FigureItem, OrWord, FigureItem>(
                "income or costs are all that makes the result",
                (one, _, two, b) =>
                    b.Result is { } result && IsIncomeAndCosts(b, one.Figure, two.Figure) ? new FigureItem(result) : null,
                "income or costs",
                "fuel or rent"
            ),
            Rule.Of<PartOfItem, FigureItem, FigureItem>(
                "how much of one figure another one is",
                (_, whole, part, b) =>
                    b.Figure(part.Figure) is SumFigure of && b.Figure(whole.Figure) is SumFigure all && !b.IsWithin(of, all)
                        ? Ratio(b, part.Figure, whole.Figure, true)
                        : null,
                "how much of the fares is fuel",
                "fares is fuel"
            ),
            Rule.Of<FigureItem, LessWord, FigureItem>(
                "one figure less another",
                (top, _, less, b) =>
                    b.Figure(Book.Less(Book.Coded(top.Figure), Book.Coded(less.Figure))) is { } made
                        ? new FigureItem(made.Ref)
                        : null,
                "fares less fuel",
                "fuel less fuel"
            ),
            Rule.Of<PerWord, FigureItem>(
                "for each of a figure, or in percent of it",
                (per, f, _) => f.Partial ? null : new RatioToItem(f.Figure, per.Percent),
                "per trip",
                "by trip"
            ),
            Rule.Of<FigureItem, FigureItem>(
                "a cost, and that it is one",
                (f, cost, b) =>
                    cost.Figure is { Kind: FigureKind.Measure, Code: Book.AllCosts }
                    && b.Figure(f.Figure) is SumFigure { IsProfit: true, ShownSign: < 0 }
                        ? f
                        : null,
                "fuel costs",
                "revenue costs"
            ),
            Rule.Of<FromWord, MembersItem>("from a member", (_, m, _) => m, "from Aldermouth", "Aldermouth"),
            Rule.Of<MembersItem, AndWord, MembersItem>(
                "several members of one dimension",
                (one, _, two, _) =>
                    one.Dimension == two.Dimension && !one.Codes.Any(c => two.Codes.Contains(c))
                        ? new MembersItem(one.Dimension, [.. one.Codes, .. two.Codes], one.Together || two.Together)
                        : null,
                "Birkhaven and Aldermouth",
                "Birkhaven and Birkhaven"
            ),
            Rule.Of<MembersItem, TogetherWord>(
                "members taken together",
                (m, _, _) => m.Codes.Length > 1 ? m with { Together = true } : null,
                "Birkhaven and Aldermouth combined",
                "Birkhaven combined"
            ),
            Rule.Of<TogetherWord, MembersItem>(
                "together, members",
                (_, m, _) => m.Codes.Length > 1 ? m with { Together = true } : null,
                "combined Birkhaven and Aldermouth",
                "combined Birkhaven"
            ),
            Rule.Of<LevelItem, MembersItem>(
                "a member, with what it is",
                (l, m, b) => AreOf(b, m, l) ? m : null,
                "yard Aldermouth",
                "account Aldermouth"
            ),
            Rule.Of<MembersItem, LevelItem>(
                "a member, and what it is",
                (m, l, b) => AreOf(b, m, l) && !l.Plural ? m : null,
                "Aldermouth yard",
                "Aldermouth accounts"
            ),
            Rule.Of<WithoutWord, MembersItem>(
                "without members",
                (_, m, _) => new LeftOutItem(m.Dimension, m.Codes),
                "without Aldermouth",
                "Aldermouth"
            ),
            Rule.Of<MembersItem, LeftOutWord>(
                "members left out",
                (m, _, _) => new LeftOutItem(m.Dimension, m.Codes),
                "Aldermouth excluded",
                "Aldermouth"
            ),
            Rule.Of<NotWord, MembersItem>(
                "not members",
                (_, m, _) => new LeftOutItem(m.Dimension, m.Codes),
                "not Aldermouth",
                "Aldermouth"
            ),
            Rule.Of<WithoutWord, FigureItem>("without an account", (_, f, b) => LeftOut(b, [f.Figure]), "without fuel", "fuel"),
            Rule.Of<WithoutWord, FiguresItem>(
                "without accounts",
                (_, f, b) => LeftOut(b, f.Figures),
                "without fuel and crew wages",
                "fuel and crew wages"
            ),
            Rule.Of<FigureItem, LeftOutWord>("an account left out", (f, _, b) => LeftOut(b, [f.Figure]), "fuel excluded", "fuel"),
            Rule.Of<NotWord, FigureItem>(
                "not an account, by a name of it and not by a word that is also in one",
                (_, f, b) => f.Partial ? null : LeftOut(b, [f.Figure]),
                "not fuel",
                "fuel"
            ),
            Rule.Of<EveryWord, LevelItem>(
                "all of a level are its rows",
                (_, l, _) => l.Plural ? new SplitItem([l.Of], Each: true) : null,
                "all yards",
                "all yard"
            ),
            .. OfUnknown,
        ];

    /// <summary>An unknown word beside a name belongs to it, and one where a name has to stand is a name.</summary>
    private static IEnumerable<Rule> OfUnknown =>
        [
            Rule.Of<UnknownItem, FigureItem>("an unknown word before a figure", (u, _, _) => NotKnown(u), "frobbed fuel", "fuel"),
            Rule.Of<FigureItem, UnknownItem>("an unknown word behind a figure", (_, u, _) => NotKnown(u), "fuel frobs", "fuel"),
            Rule.Of<UnknownItem, LevelItem>("an unknown word before a level", (u, _, _) => NotKnown(u), "frobbed yards", "yards"),
            Rule.Of<UnknownItem, MembersItem>(
                "an unknown word before a member",
                (u, _, _) => NotKnown(u),
                "frobbed Aldermouth",
                "Aldermouth"
            ),
            Rule.Of<MembersItem, UnknownItem>(
                "an unknown word behind a member",
                (_, u, _) => NotKnown(u),
                "Aldermouth frobs",
                "Aldermouth"
            ),
            Rule.Of<PlaceWord, UnknownItem>(
                "an unknown word behind for, at or in",
                (_, u, _) => NotKnown(u),
                "for frobs",
                "frobs"
            ),
            Rule.Of<OfWord, UnknownItem>("an unknown word behind of", (_, u, _) => NotKnown(u), "of frobs", "frobs"),
            Rule.Of<ByWord, UnknownItem>("an unknown word behind by", (_, u, _) => NotKnown(u), "by frobs", "frobs"),
            Rule.Of<PerWord, UnknownItem>("an unknown word behind per", (_, u, _) => NotKnown(u), "as % of frob", "frobs"),
        ];

    /// <summary>Whether the members stand on the level; a yard is no group of yards.</summary>
    private static bool AreOf(Book book, MembersItem members, LevelItem level) =>
        level.Of.Dimension == members.Dimension
        && members.Codes.All(c => Breakdown.OfMember(book, members.Dimension, c)?.Level is { } of && of == level.Of.Level);

    private static bool IsIncomeAndCosts(Book book, FigureRef one, FigureRef two)
    {
        var costs = new FigureRef(FigureKind.Measure, Book.AllCosts);
        return book.Sales is { } sales && ((one, two) == (sales, costs) || (one, two) == (costs, sales));
    }

    private static FigureItem? IsCounted(Book book, FigureItem figure) =>
        book.Figure(figure.Figure) is SumFigure { IsProfit: false } ? figure : null;

    private static OtherItem NotKnown(UnknownItem word) => new(MentionKind.Quote, word.Word);

    private static FigureItem? Ratio(Book book, FigureRef top, FigureRef bottom, bool percent)
    {
        var (over, under) = (Book.Coded(top), Book.Coded(bottom));
        return book.Figure(percent ? Book.PercentOf(over, under) : Book.Per(over, under)) is { } made
            ? new FigureItem(made.Ref)
            : null;
    }

    private static LeftOutItem? LeftOut(Book book, ImmutableArray<FigureRef> figures) =>
        figures.All(f => f.Kind == FigureKind.Account)
            ? new LeftOutItem(book.Accounts.Code, [.. figures.Select(f => f.Code)])
            : null;
}
