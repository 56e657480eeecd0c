using Bearing.Core.Books;
using Bearing.Core.Questions;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Addresses of cells: what is written can be read, and what cannot be read says where.</summary>
public sealed class SliceTests
{
    private static readonly Gen<string> Code = Gen.String[Gen.Char["abcXYZ019 ;,=!@%/ß–."], 1, 8];
    private static readonly Gen<Period> Periods = Gen.Select(Gen.Int[2020, 2030], Gen.Int[1, 12])
        .Select((y, n) => new Period(y, n));

    private static readonly Gen<Slice> Slices =
        from side in Pick.One(
            Side.Actual,
            Side.PriorYear,
            Side.PriorPeriod,
            new Side(SideKind.Version, "budget-26"),
            new Side(SideKind.Version, "budget-26", "v2"),
            Side.PriorPeriod with
            {
                Version = "3",
            }
        )
        from first in Periods
        from months in Gen.Int[0, 14]
        from kind in Gen.Bool
        from figure in Code
        from filters in Gen.Select(Pick.One("entity", "route", "vessel"), Code.Array[1, 3], Gen.Bool).Array[0, 3]
        select new Slice(
            side,
            new PeriodSpan(first, first.AddMonths(months)),
            new FigureRef(kind ? FigureKind.Account : FigureKind.Measure, figure),
            [.. filters.Select(f => new Filter(f.Item1, [.. f.Item2], f.Item3))]
        );

    [Fact]
    public void What_is_written_is_read_back_whatever_the_codes_hold() =>
        Slices.Sample(
            slice =>
            {
                var read = Slice.Parse(slice.ToString());
                Assert.Equal(slice.ToString(), read.ToString());
                Assert.Equal((slice.Side, slice.Span, slice.Figure), (read.Side, read.Span, read.Figure));
                Assert.Equal(slice.Filters, read.Filters);
            },
            iter: 500
        );

    [Theory]
    [InlineData("", "scenario@period")]
    [InlineData("actual", "scenario@period")]
    [InlineData("actual@2026-09;figure=a:1", "not a period")]
    [InlineData("actual@2026-P13;figure=a:1", "not a period")]
    [InlineData("actual@2026-P09", "no figure")]
    [InlineData("actual@2026-P09;figure=1", "not a figure")]
    [InlineData("actual@2026-P09;figure=x:1", "not a figure")]
    [InlineData("actual@2026-P09;figure=a:1;entity", "dimension=code")]
    [InlineData("actual@2026-P09;figure=a:1;=N1", "dimension=code")]
    public void What_cannot_be_read_says_which_part(string text, string says) =>
        Assert.Contains(says, Assert.Throws<FormatException>(() => Slice.Parse(text)).Message, StringComparison.Ordinal);

    [Fact]
    public void Any_text_is_read_or_refused() =>
        Gen.String[0, 60]
            .Sample(
                text =>
                {
                    try
                    {
                        _ = Slice.Parse(text).ToString();
                    }
                    catch (FormatException e)
                    {
                        Assert.NotEmpty(e.Message);
                    }
                },
                iter: 500
            );

    [Fact]
    public void Members_of_a_filter_are_taken_with_all_below_them_and_unknown_ones_are_named()
    {
        var book = new SmallBook().Add(1, new(2026, 1), "FARES", "N1", 1m).Book();
        var filter = Assert.Single(Scoping.Filters(book, [new Filter("entity", ["N"])]));
        Assert.Equal(new[] { "N", "N1", "N2" }.Select(c => SmallBook.Id(SmallBook.EntityDim, c)).Order(), filter.Members.Order());
        Assert.Contains(
            "\"XX\"",
            Assert.Throws<CannotAnswerException>(() => Scoping.Filters(book, [new Filter("entity", ["XX"])])).Message,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "\"colour\"",
            Assert.Throws<CannotAnswerException>(() => Scoping.Filters(book, [new Filter("colour", ["red"])])).Message,
            StringComparison.Ordinal
        );
    }
}
