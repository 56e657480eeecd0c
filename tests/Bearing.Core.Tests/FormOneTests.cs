using Bearing.Core.Books;
using Bearing.Core.Questions;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Nothing is lost between the first form of questions and the one of kinds.</summary>
public sealed class FormOneTests
{
    private static readonly FigureRef Fuel = new(FigureKind.Account, "FUEL");
    private static readonly Side Budget = new(SideKind.Version, "budget-26");

    private static Gen<T?> Maybe<T>(Gen<T> of)
        where T : class => Gen.OneOf(of.Select(T? (v) => v), Gen.Const((T?)null));

    private static Gen<T?> MaybeValue<T>()
        where T : struct, Enum => Gen.OneOf(Gen.Enum<T>().Select(T? (v) => v), Gen.Const((T?)null));

    private static readonly Gen<string> Code = Gen.OneOf(Gen.Const("SKF"), Gen.Const("ORM"), Gen.Const("4010"), Gen.Const("*77"));

    private static readonly Gen<FigureRef> Figure = Gen.Select(Gen.Enum<FigureKind>(), Code, (k, c) => new FigureRef(k, c));

    private static readonly Gen<Claim> Claims = Gen.Select(
        Gen.Enum<Direction>(),
        MaybeValue<Quantifier>(),
        Maybe(Figure),
        (direction, of, than) => new Claim(direction, of, than)
    );

    private static readonly Gen<Listing> Listings = Gen.Select(Code.Array[0, 3], Maybe(Code), Gen.Bool, (columns, by, falling) =>
        new Listing([.. columns], by, falling)
    );

    private static readonly Gen<OfRows> Rows = Gen.Select(
        MaybeValue<RowStatistic>(),
        Maybe(Gen.Bool.Select(b => new Shares(b))),
        Maybe(Gen.Select(Code, MaybeValue<PartClaim>(), (c, claim) => new PartAsked("entity", c, claim))),
        Maybe(Claims),
        Gen.Bool,
        (statistic, shares, part, claim, cumulative) => new OfRows(statistic, shares, part, claim, cumulative)
    );

    private static readonly Gen<Kind> Kinds = Gen.OneOf(
        Gen.Select(Rows, Figure.Array[0, 2], Kind (of, beside) => new Kind.Values(of, [.. beside])),
        Gen.Select(Rows, Gen.Bool, Kind (of, growth) => new Kind.Comparison(of, growth)),
        Gen.Select(Gen.Bool, Maybe(Claims), Kind (growth, claim) => new Kind.Why(growth, claim)),
        Gen.Const((Kind)new Kind.Bridge()),
        Gen.Select(Maybe(Code), Maybe(Code), Maybe(Listings), Kind (d, t, l) => new Kind.Entries(d, t, l)),
        Gen.Select(Code, Maybe(Listings), Kind (table, listing) =>
            new Kind.Records(new RecordAsk(table, [new RecordTest(RecordTestKind.Open)]) { CountOnly = true }, listing)
        ),
        Gen.Select(Gen.Enum<Projection>(), Maybe(Claims), Kind (by, claim) => new Kind.Projected(by, claim))
    );

    private static readonly Gen<Layout> Layouts = Gen.Select(
        Code.Array[0, 2],
        Maybe(Gen.Select(Gen.Int[1, 9], Gen.Enum<RankBy>(), (n, by) => new Ranking(n, by) { Within = true })),
        Gen.Decimal[0m, 99m].Array[0, 2],
        Gen.Bool,
        Maybe(Gen.Int[0, 4].Select(d => new Display(View.Chart, 1000, d))),
        (rows, ranking, limits, inEvery, display) =>
            new Layout(
                [.. rows.Select(r => Breakdown.By(r))],
                ranking,
                [.. limits.Select(l => new Condition(ConditionOn.Amount, Direction.Over, l))],
                inEvery,
                display
            )
    );

    private static readonly Gen<Question> Questions = Gen.Select(
        Kinds,
        Layouts,
        Code.Array[0, 2],
        Maybe(Gen.Const("CHF")),
        Maybe(Gen.Const("budget")),
        (kind, layout, members, currency, rates) =>
            new Question(
                new Scope(
                    Fuel,
                    [PeriodSpan.Of(new Period(2026, 3))],
                    [new Filter("entity", [.. members])],
                    Side.Actual,
                    kind is Kind.Values ? [] : [Budget],
                    currency,
                    rates
                ),
                // A yes or no says itself of how many rows it is claimed.
                layout with
                {
                    InEvery = layout.InEvery && new Question(null!, layout, kind).Of.Claim is null,
                },
                kind
            )
    );

    [Fact]
    public void Every_part_of_every_kind_survives_the_way_through_the_first_form() =>
        Questions.Sample(question => Assert.Equal(question, FormOne.FromKinds(question).ToKinds()), iter: 5_000);

    [Fact]
    public void What_a_kind_cannot_mean_is_seen_to_be_lost()
    {
        var beside = new FormOneQuestion
        {
            Intent = Intent.Variance,
            Figure = Fuel,
            Bases = [Budget],
            Beside = [Fuel],
        };
        Assert.NotEqual(beside, FormOne.FromKinds(beside.ToKinds()));
    }
}
