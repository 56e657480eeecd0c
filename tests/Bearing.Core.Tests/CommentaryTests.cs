using System.Globalization;
using System.Text.RegularExpressions;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Commentary;
using Bearing.Core.Questions;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>The written paragraph: words follow from sign and account type, figures from the cells.</summary>
public sealed partial class CommentaryTests
{
    private static readonly Period Jan = new(2026, 1),
        Feb = new(2026, 2);
    private static readonly Side Budget = new(SideKind.Version, "budget-26");

    private static Answer Ask(
        SmallBook small,
        FigureRef figure,
        Func<Question, Question>? asking = null,
        Materiality? limits = null,
        params Breakdown[] by
    ) =>
        SmallBook.Now(
            new Answerer(small.Book(limits), small.Facts()).Answer(
                (asking ?? Why)(Question.About(figure, PeriodSpan.Of(Jan)).By(by)),
                CancellationToken.None
            )
        );

    private static Question Why(Question question) => Variance(question) with { Kind = new Kind.Why(false, null) };

    private static Question Variance(Question question) => question.Against(Budget);

    private static FigureRef Account(string code) => new(FigureKind.Account, code);

    private static readonly FigureRef Result = new(FigureKind.Measure, "result");

    private static string Text(Answer answer) => string.Join(' ', answer.Commentary.Select(s => s.Text));

    [Theory]
    [InlineData("FARES", 110, 100, "EUR 10 (10.0 %) above Budget 26, favourable.")]
    [InlineData("FARES", 90, 100, "EUR 10 (10.0 %) below Budget 26, unfavourable.")]
    [InlineData("FUEL", -110, -100, "EUR 10 (10.0 %) above Budget 26, unfavourable.")]
    [InlineData("FUEL", -90, -100, "EUR 10 (10.0 %) below Budget 26, favourable.")]
    [InlineData("FARES", 100, 100, "exactly as in Budget 26.")]
    [InlineData("FARES", 100, 0, "EUR 100 above Budget 26, favourable.")]
    [InlineData("TRIPS", 12, 10, "2 trips (20.0 %) above Budget 26, favourable.")]
    [InlineData("HEADS", 12, 10, "2 heads (20.0 %) above Budget 26.")]
    public void The_headline_speaks_of_size_and_of_profit_apart(string account, int actual, int budget, string ends)
    {
        var small = new SmallBook()
            .Add(1, Jan, account, "N1", actual)
            .Add(2, Jan, account, "N1", budget)
            .Add(2, Jan, "RENT", "N1", -1m);
        Assert.EndsWith(ends, Ask(small, Account(account), Variance).Headline, StringComparison.Ordinal);
    }

    [Fact]
    public void A_loss_keeps_its_sign()
    {
        var small = new SmallBook().Add(1, Jan, "FUEL", "N1", -70m).Add(2, Jan, "FUEL", "N1", -50m);
        Assert.Contains("came to minus EUR 70, EUR 20 (40.0 %) below", Ask(small, Result).Headline, StringComparison.Ordinal);
    }

    [Fact]
    public void Drivers_offsets_and_rest_are_said_in_this_order_with_their_direction()
    {
        var small = new SmallBook();
        foreach (
            var (account, actual, budget) in new[]
            {
                ("FARES", 1000m, 1000m),
                ("FREIGHT", 500m, 460m),
                ("FUEL", -500m, -300m),
                ("CREW", -205m, -200m),
                ("RENT", -100m, -100m),
            }
        )
            small
                .Add(1, Jan, account, "N1", actual)
                .Add(2, Jan, account, "N1", budget)
                .Add(1, Jan, account, "S1", actual)
                .Add(2, Jan, account, "S1", budget);
        var answer = Ask(small, Result);
        Assert.Equal(
            [SentenceRole.Headline, SentenceRole.Driver, SentenceRole.Offset, SentenceRole.Rest],
            answer.Commentary.Select(s => s.Role).Where(r => r != SentenceRole.Entry)
        );
        Assert.StartsWith(
            "More than all of it sits in Fuel: unfavourable by EUR 400 (EUR 1.0k against EUR 600)",
            answer.Commentary[1].Text,
            StringComparison.Ordinal
        );
        Assert.Equal("Against this, Freight was EUR 80 favourable.", answer.Commentary[2].Text);
        Assert.Equal(
            "The remaining EUR 10 unfavourable is spread over 1 smaller movement by account.",
            answer.Commentary[3].Text
        );
    }

    [Fact]
    public void A_split_in_the_proportions_of_the_base_is_called_spread_and_a_concentrated_one_named()
    {
        var even = new SmallBook();
        foreach (var entity in new[] { "N1", "S1" })
            even.Add(1, Jan, "FUEL", entity, -110m).Add(2, Jan, "FUEL", entity, -100m);
        Assert.Contains("spread over", Text(Ask(even, Result)), StringComparison.Ordinal);
        var uneven = new SmallBook()
            .Add(1, Jan, "FUEL", "N1", -100m)
            .Add(2, Jan, "FUEL", "N1", -100m)
            .Add(1, Jan, "FUEL", "S1", -130m)
            .Add(2, Jan, "FUEL", "S1", -100m);
        Assert.Contains("Corrie Bay", Text(Ask(uneven, Result)), StringComparison.Ordinal);
    }

    [Fact]
    public void A_movement_that_the_next_month_takes_back_is_called_a_sign_of_timing()
    {
        var small = new SmallBook();
        foreach (var (period, actual, budget) in new[] { (Jan, -100m, 0m), (Feb, 0m, -100m) })
            small
                .Add(1, period, "RENT", "N1", actual)
                .Add(2, period, "RENT", "N1", budget)
                .Add(1, period, "FARES", "N1", 500m)
                .Add(2, period, "FARES", "N1", 500m);
        Assert.Contains("February 2026 shows EUR 100 the other way", Text(Ask(small, Account("RENT"))), StringComparison.Ordinal);
        Assert.DoesNotContain("timing", Text(Ask(small, Account("FARES"))), StringComparison.Ordinal);
    }

    [Fact]
    public void What_was_judged_of_one_side_is_closed_before_the_next()
    {
        var small = new SmallBook()
            .Add(1, Jan, "FARES", "N1", 110m)
            .Add(2, Jan, "FARES", "N1", 100m)
            .Add(1, new Period(2025, 1), "FARES", "N1", 120m);
        var answer = SmallBook.Now(
            new Answerer(small.Book(), small.Facts()).Answer(
                Question.About(Account("FARES"), PeriodSpan.Of(Jan)).Against(Budget, Side.PriorYear),
                CancellationToken.None
            )
        );
        Assert.Equal(
            "Fares in January 2026 came to EUR 110, EUR 10 (10.0 %) above Budget 26, favourable, and EUR 10 (8.3 %) below Prior year, unfavourable.",
            answer.Headline
        );
    }

    [Theory]
    [InlineData(100, 1, true)]
    [InlineData(5, 1, false)]
    [InlineData(5, 20, true)]
    public void Under_either_threshold_no_comment_is_due(int amount, int percent, bool quiet)
    {
        var small = new SmallBook().Add(1, Jan, "FARES", "N1", 110m).Add(2, Jan, "FARES", "N1", 100m);
        Assert.Equal(
            quiet,
            Text(Ask(small, Account("FARES"), limits: new Materiality(amount, percent)))
                .Contains("no comment is due", StringComparison.OrdinalIgnoreCase)
        );
    }

    [Theory]
    [InlineData(100, 100, true)]
    [InlineData(100, 60, false)]
    public void No_comment_is_due_only_where_none_of_the_bases_asks_for_one(int budget, int before, bool quiet)
    {
        var small = new SmallBook()
            .Add(1, Jan, "FARES", "N1", 110m)
            .Add(2, Jan, "FARES", "N1", budget)
            .Add(1, Jan.AddMonths(-12), "FARES", "N1", before);
        var answer = SmallBook.Now(
            new Answerer(small.Book(new Materiality(20m, 5m)), small.Facts()).Answer(
                Question.About(Account("FARES"), PeriodSpan.Of(Jan)).Against(Budget, Side.PriorYear),
                CancellationToken.None
            )
        );
        Assert.Equal(quiet, Text(answer).Contains("No comment is due", StringComparison.Ordinal));
    }

    [Fact]
    public void Parts_that_level_out_are_commented_although_their_total_needs_nothing()
    {
        var small = new SmallBook()
            .Add(1, Jan, "FARES", "N1", 160m)
            .Add(2, Jan, "FARES", "N1", 100m)
            .Add(1, Jan, "FUEL", "N1", -158m)
            .Add(2, Jan, "FUEL", "N1", -100m);
        var text = Text(Ask(small, Result, Variance, new Materiality(20m, 5m), Breakdown.By("account", "Account")));
        Assert.Contains(
            "The total needs no comment, which takes both EUR 20 and 5.0 %, but Fares (EUR 60 favourable) and Fuel (EUR 58 unfavourable) do.",
            text,
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData(5, true)]
    [InlineData(50, false)]
    public void A_small_movement_taken_back_is_noise_and_no_sign_of_timing(int material, bool told)
    {
        var small = new SmallBook()
            .Add(1, Jan, "FARES", "N1", 90m)
            .Add(2, Jan, "FARES", "N1", 100m)
            .Add(1, Feb, "FARES", "N1", 110m)
            .Add(2, Feb, "FARES", "N1", 100m);
        Assert.Equal(
            told,
            Text(Ask(small, Account("FARES"), limits: new Materiality(material, 1m)))
                .Contains("a sign of timing", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void An_entry_that_is_posted_every_month_stands_out_of_nothing()
    {
        var small = new SmallBook()
            .Add(1, Jan, "RENT", "N1", -900m)
            .Add(2, Jan, "RENT", "N1", 0m)
            .Add(1, Jan, "FARES", "N1", 10m)
            .Add(2, Jan, "FARES", "N1", 10m)
            .Add(1, Jan.AddMonths(-1), "RENT", "N1", -880m);
        Assert.DoesNotContain(Ask(small, Result).Commentary, s => s.Role == SentenceRole.Entry);
    }

    [Fact]
    public void One_entry_that_makes_up_a_driver_is_shown_as_evidence()
    {
        var small = new SmallBook()
            .Add(1, Jan, "RENT", "N1", -900m)
            .Add(2, Jan, "RENT", "N1", 0m)
            .Add(1, Jan, "FARES", "N1", 10m)
            .Add(2, Jan, "FARES", "N1", 10m);
        var entry = Ask(small, Result).Commentary.Single(s => s.Role == SentenceRole.Entry);
        Assert.Contains("“line 1” (D1, EUR 900)", entry.Text, StringComparison.Ordinal);
    }

    [Fact]
    public void Without_a_base_the_largest_part_is_named_and_nothing_is_judged()
    {
        var small = new SmallBook()
            .Add(1, Jan, "FARES", "N1", 30m)
            .Add(1, Jan, "FARES", "S1", 70m)
            .Add(1, Jan, "FREIGHT", "S1", 20m);
        var text = Text(Ask(small, Account("INC"), q => q, null, Breakdown.By("account", "Account")));
        Assert.Contains("The largest of the 2 is Fares with EUR 100.", text, StringComparison.Ordinal);
        Assert.DoesNotContain("favourable", text, StringComparison.Ordinal);
    }

    /// <summary>Nothing is asserted that was not computed: each number of the text stands in a segment with an address, or in the
    /// text of an entry.</summary>
    [Fact]
    public void Every_money_figure_is_a_link_whose_exact_amount_rounds_to_it() =>
        Gen.Select(
                Pick.One("FARES", "FREIGHT", "FUEL", "CREW", "RENT"),
                Pick.One("N1", "N2", "S1"),
                Gen.Int[-90_000, 90_000],
                Gen.Int[1, 2]
            )
            .Array[2, 14]
            .Sample(
                draws =>
                {
                    var small = new SmallBook().Add(1, Jan, "FARES", "N1", 1m).Add(2, Jan, "FARES", "N1", 1m);
                    foreach (var (account, entity, amount, version) in draws)
                        small.Add(version, Jan, account, entity, amount / 7m);
                    var book = small.Book();
                    foreach (
                        var segment in Ask(small, Result)
                            .Commentary.Where(s => s.Role is not (SentenceRole.Entry or SentenceRole.Threshold))
                            .SelectMany(s => s.Segments)
                    )
                    {
                        if (segment.Slice is null)
                        {
                            Assert.DoesNotMatch(Money(), segment.Text);
                            continue;
                        }
                        var shown = Amounts.Short(segment.Exact!.Value, book.Figure(segment.Slice.Figure)!);
                        Assert.EndsWith(shown, segment.Text, StringComparison.Ordinal);
                        _ = Slice.Parse(segment.Slice.ToString());
                    }
                },
                iter: 60
            );

    [Theory]
    [InlineData("0.4", "EUR 0")]
    [InlineData("999.94", "EUR 1,000")]
    [InlineData("999.95", "EUR 1.0k")]
    [InlineData("-12499", "EUR 12k")]
    [InlineData("9999.5", "EUR 10k")]
    [InlineData("999949", "EUR 1,000k")]
    [InlineData("999950", "EUR 1.00m")]
    [InlineData("1234567.89", "EUR 1.23m")]
    public void Amounts_are_rounded_once_from_the_exact_value(string amount, string shown)
    {
        var book = new SmallBook().Add(1, Jan, "FARES", "N1", 1m).Book();
        Assert.Equal(shown, Amounts.Short(decimal.Parse(amount, CultureInfo.InvariantCulture), book.Figure(Account("FARES"))!));
    }

    [GeneratedRegex(@"EUR \d")]
    private static partial Regex Money();
}
