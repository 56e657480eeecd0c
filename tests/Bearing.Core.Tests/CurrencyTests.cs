using System.Collections.Immutable;
using System.Globalization;
using System.Numerics;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Core.Questions;
using Bearing.Core.Store;
using Bearing.Core.Variance;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Amounts in several currencies, from the row of a file to the total of an answer, against a translation written in
/// fractions.</summary>
public sealed class CurrencyTests
{
    private static readonly string[] Currencies = ["GBP", "EUR", "SEK", "JPY"];
    private static readonly string[] Accounts = ["FEES", "WAGES", "RENT", "BANK", "DEBTS", "CAPITAL"];
    private const int Actual = 1,
        Budget = 2,
        Months = 6;

    /// <param name="Month">0 for January's lines, 5 for June's.</param>
    private sealed record Posting(int Entity, int Account, int Month, int Cents, int Version);

    private static readonly Gen<Posting> Postings = Gen.Select(
        Gen.Int[0, 3],
        Gen.Int[0, Accounts.Length - 1],
        Gen.Int[0, Months - 1],
        Gen.Int[-900_000, 900_000],
        Gen.Int[Actual, Budget],
        (e, a, m, c, v) => new Posting(e, a, m, c, v)
    );

    /// <summary>Rates in hundred-thousandths, by currency × month × (average, closing, budget), and which way round each currency
    /// is quoted.</summary>
    private static readonly Gen<(int[] Rates, bool[] Inverse)> Rates = Gen.Select(
        Gen.Int[20_000, 9_999_999].Array[Currencies.Length * Months * 3],
        Gen.Bool.Array[Currencies.Length],
        (r, i) => (r, i)
    );

    /// <summary>Three hundred random books: every total, of balances too, in the book's currency, in another, and at other
    /// rates.</summary>
    [Fact]
    public void Every_total_of_a_book_in_several_currencies_is_what_fractions_make_of_it() =>
        Gen.Select(Postings.Array[1, 30], Rates, Gen.Int[0, Months - 1], Gen.Int[0, 15])
            .Sample(
                (postings, rates, last, entities) =>
                {
                    var book = BookOf(rates);
                    var facts = MemoryFacts.FromLines(new BookView(1), [1, 2], Lines(book, postings), "GBP");
                    var span = new PeriodSpan(new(2026, 1), new(2026, last + 1));
                    var chosen = Enumerable
                        .Range(0, Currencies.Length)
                        .Where(e => entities == 0 || (entities & (1 << e)) != 0)
                        .ToHashSet();
                    var filter = new Filter("entity", [.. chosen.Select(e => $"E{e}")]);
                    foreach (var version in (int[])[Actual, Budget])
                    foreach (var (figure, accounts, isBalance) in Figures)
                    {
                        var question = Question
                            .About(figure, span)
                            .By(Breakdown.By("account", null))
                            .In(s => s with { Subject = new Side(SideKind.Version, version == Actual ? "actual" : "budget") })
                            .In(s => s with { Filters = [filter] });
                        var lines = postings
                            .Where(p =>
                                p.Version == version
                                && chosen.Contains(p.Entity)
                                && p.Month <= last
                                && accounts.Contains(p.Account)
                            )
                            .ToList();
                        Same(
                            Sum(
                                lines.Select(p =>
                                    isBalance && IsTranslatedAtClosing(p.Account)
                                        ? Exact(rates, p, version, last, closing: true)
                                        : Rounded(Exact(rates, p, version, p.Month, closing: false))
                                )
                            ),
                            Total(book, facts, question),
                            figure
                        );
                        if (isBalance)
                            continue;
                        Same(
                            Sum(lines.Select(p => Exact(rates, p, Budget, p.Month, false))),
                            Total(book, facts, question.In(s => s with { Rates = "budget" })),
                            figure
                        );
                        var euros = Sum(
                            lines.Select(p =>
                                p.Entity == 1
                                    ? Cents(p)
                                    : ToForeign(rates, 1, version, p.Month, Rounded(Exact(rates, p, version, p.Month, false)))
                            )
                        );
                        Same(euros, Total(book, facts, question.In(s => s with { Currency = "EUR" })), figure);
                    }
                },
                iter: 300
            );

    private static readonly (FigureRef Figure, int[] Accounts, bool IsBalance)[] Figures =
    [
        (new(FigureKind.Measure, "result"), [0, 1, 2], false),
        (new(FigureKind.Account, "WAGES"), [1], false),
        (new(FigureKind.Account, "ASSETS"), [3, 4], true),
        (new(FigureKind.Account, "CAPITAL"), [5], true),
    ];

    private static bool IsTranslatedAtClosing(int account) => account is 3 or 4;

    private static decimal Total(Book book, MemoryFacts facts, Question question)
    {
        var table = SmallBook.Now(new Tabulator(book, facts).Tabulate(question, CancellationToken.None));
        var rows = table.Grid.Parts().Select(r => table.Grid.Value(r, ColumnKind.Subject).Number ?? 0m).ToList();
        var total = table.Grid.Value(table.Grid.Total, ColumnKind.Subject).Number!.Value;
        // Each row is rounded by itself; what they add up to is off by half of the last place for each at most.
        Assert.True(
            Math.Abs(
                rows.Zip(table.Grid.Parts(), (v, r) => v * Sign(book, r.Members[^1].Code)).Sum()
                    - (total * Sign(book, question.Scope.Figure.Code))
            )
                <= 0.0001m * rows.Count
        );
        return total * Sign(book, question.Scope.Figure.Code);
    }

    /// <summary>Stored amounts are credit-positive; a cost and an asset are shown the other way round.</summary>
    private static int Sign(Book book, string code) => book.TryMember(1, code, out var account) ? account.Account!.ShownSign : 1;

    private static void Same(Fraction expected, decimal actual, FigureRef figure) =>
        Assert.True(expected.IsWithin(actual, 4), $"{figure.Code}: {expected} is not {actual}");

    private static Book BookOf((int[] Rates, bool[] Inverse) rates)
    {
        Member Account(int id, string code, AccountType type, int? parent = null) =>
            new(id, 1, code, code, parent, id, [], AccountTraits.Default(type));
        var members = new List<Member>
        {
            Account(10, "FEES", AccountType.Income),
            Account(11, "WAGES", AccountType.Cost),
            Account(12, "RENT", AccountType.Cost),
            Account(19, "ASSETS", AccountType.Asset),
            Account(13, "BANK", AccountType.Asset, 19),
            Account(14, "DEBTS", AccountType.Asset, 19),
            Account(15, "CAPITAL", AccountType.Equity),
        };
        members.AddRange(
            Currencies.Select(
                (c, i) => new Member(20 + i, 2, $"E{i}", $"Entity {i}", null, i, [], null, new EntityTraits(c, 100m))
            )
        );
        var coverage = new Coverage(new PeriodSpan(new(2026, 1), new(2026, Months)), [20, 21, 22, 23], [1, 2]);
        var list =
            from c in Enumerable.Range(1, Currencies.Length - 1)
            from m in Enumerable.Range(0, Months)
            from k in Enumerable.Range(0, 3)
            select new Rate(
                new(2026, m + 1),
                Currencies[c],
                k == 1 ? RateKind.Closing : RateKind.Average,
                k == 2 ? "budget" : "actual",
                Rate(rates, c, m, k) / 100_000m,
                rates.Inverse[c] ? Quotation.HomePerForeign : Quotation.ForeignPerHome
            );
        return new Book(
            new BookDefinition
            {
                Id = "test",
                Name = "Test",
                Currency = "GBP",
                ResultLine = "result",
                Dimensions =
                [
                    new(1, "account", "Account", DimensionRole.Account, ["Group", "Account"], []),
                    new(2, "entity", "Entity", DimensionRole.Entity, ["Entity"], []),
                ],
                Statement = [new StatementLine("result", "Result", ["FEES", "WAGES", "RENT"], [])],
                Scenarios =
                [
                    new("actual", "Actual", ScenarioKind.Actual, [new(Actual, "v1", coverage, null)]),
                    new("budget", "Budget", ScenarioKind.Budget, [new(Budget, "v1", coverage, null)]),
                ],
            },
            1,
            members
        )
        {
            Rates = [.. list],
        };
    }

    private static int Rate((int[] Rates, bool[] Inverse) rates, int currency, int month, int kind) =>
        rates.Rates[(((currency * Months) + month) * 3) + kind];

    /// <summary>Through the rows of a file, as a load maps them.</summary>
    private static List<Line> Lines(Book book, Posting[] postings)
    {
        var mapping = new FileMapping(
            TableKind.Plan,
            [
                new("Month", "period", ""),
                new("Entity", "entity", ""),
                new("Account", "account", ""),
                new("Version", null, ""),
                new("Amount", "amount", ""),
            ],
            SignConvention.CreditPositive,
            null,
            false,
            null
        )
        {
            Currency = FileMapping.LocalCurrency,
        };
        var layout = TableLayout.Find(
            mapping,
            new RawRow(1, ["Month", "Entity", "Account", "Version", "Amount"]),
            book.Calendar
        )!;
        var lines = new List<Line>();
        foreach (var version in book.Definition.Scenarios)
        {
            var mapper = new RowMapper(book, mapping, layout, 100)
            {
                Translation = new Translation(book, false, _ => RateBasis.Of(version, version.Current)),
            };
            foreach (var (posting, i) in postings.Select((p, i) => (p, i)).Where(p => p.p.Version == version.Current.Id))
            {
                var facts = new List<FactRow>();
                Assert.Null(
                    mapper.Map(
                        new RawRow(
                            i + 2,
                            [
                                $"2026-P{posting.Month + 1:D2}",
                                $"E{posting.Entity}",
                                Accounts[posting.Account],
                                "",
                                (posting.Cents / 100m).ToString(CultureInfo.InvariantCulture),
                            ]
                        ),
                        facts
                    )
                );
                lines.AddRange(
                    facts.Select(f => new Line(
                        posting.Version,
                        1,
                        i,
                        "",
                        null,
                        f.Period.Ordinal,
                        [.. f.Members],
                        f.Amount,
                        f.Local,
                        f.Currency,
                        ""
                    )
                    {
                        Rate = f.Rate,
                    })
                );
            }
        }
        return lines;
    }

    private static Fraction Cents(Posting posting) => new(posting.Cents, 100);

    /// <summary>In pounds, not rounded.</summary>
    private static Fraction Exact((int[] Rates, bool[] Inverse) rates, Posting posting, int version, int month, bool closing)
    {
        if (posting.Entity == 0)
            return Cents(posting);
        var rate = new Fraction(
            Rate(
                rates,
                posting.Entity,
                month,
                version == Budget ? 2
                    : closing ? 1
                    : 0
            ),
            100_000
        );
        return rates.Inverse[posting.Entity] ? Cents(posting) * rate : Cents(posting) / rate;
    }

    private static Fraction ToForeign((int[] Rates, bool[] Inverse) rates, int currency, int version, int month, Fraction home)
    {
        var rate = new Fraction(Rate(rates, currency, month, version == Budget ? 2 : 0), 100_000);
        return rates.Inverse[currency] ? home / rate : home * rate;
    }

    private static Fraction Rounded(Fraction value) => value.Round(4);

    private static Fraction Sum(IEnumerable<Fraction> values) => values.Aggregate(new Fraction(0, 1), (a, b) => a + b);

    [Theory]
    [InlineData(100, 8, "12.5000")]
    [InlineData(1, 3, "0.3333")]
    [InlineData(-2, 3, "-0.6667")]
    // Half of the last place goes away from zero.
    [InlineData(1, 20_000, "0.0001")]
    [InlineData(-1, 20_000, "-0.0001")]
    public void A_line_is_rounded_half_away_from_zero_to_four_decimals(int local, int rate, string home) =>
        Assert.Equal(
            decimal.Parse(home, CultureInfo.InvariantCulture),
            new Rate(new(2026, 1), "EUR", RateKind.Average, "actual", rate, Quotation.ForeignPerHome).Translate(local)
        );

    [Fact]
    public void Without_a_rate_a_row_is_refused_with_its_month_and_currency()
    {
        var book = BookOf(
                (
                    new int[Currencies.Length * Months * 3]
                        .Select(_ => 100_000)
                        .ToArray(),
                    new bool[Currencies.Length]
                )
            )
            .With();
        book = new Book(book.Definition, 1, book.Members)
        {
            Rates = [.. book.Rates.Where(r => r.Period != new Period(2026, 3) || r.Currency != "SEK")],
        };
        var mapping = new FileMapping(
            TableKind.Ledger,
            [new("Month", "period", ""), new("Entity", "entity", ""), new("Account", "account", ""), new("Amount", "amount", "")],
            SignConvention.CreditPositive,
            null,
            false,
            null
        );
        var mapper = new RowMapper(
            book,
            mapping,
            TableLayout.Find(mapping, new RawRow(1, ["Month", "Entity", "Account", "Amount"]), book.Calendar)!,
            100
        )
        {
            Translation = new Translation(book, false, _ => new RateBasis(ScenarioKind.Actual, "actual", null, null)),
        };
        var facts = new List<FactRow>();
        Assert.Equal(
            "There is no average rate of SEK for March 2026.",
            mapper.Map(new RawRow(2, ["2026-P03", "E2", "FEES", "5"]), facts)!.Because
        );
        Assert.Null(mapper.Map(new RawRow(3, ["2026-P04", "E2", "FEES", "5"]), facts));
        Assert.Equal([22], mapper.TakenAsLocal.Keys);
    }

    /// <summary>Written for these tests alone: whole numbers over whole numbers, as on paper.</summary>
    private readonly record struct Fraction(BigInteger Top, BigInteger Bottom)
    {
        public static Fraction operator +(Fraction a, Fraction b) =>
            new((a.Top * b.Bottom) + (b.Top * a.Bottom), a.Bottom * b.Bottom);

        public static Fraction operator *(Fraction a, Fraction b) => new(a.Top * b.Top, a.Bottom * b.Bottom);

        public static Fraction operator /(Fraction a, Fraction b) => new(a.Top * b.Bottom, a.Bottom * b.Top);

        public Fraction Round(int decimals)
        {
            var scale = BigInteger.Pow(10, decimals);
            var half = (BigInteger.Abs(Top) * scale * 2) + Bottom;
            return new(BigInteger.Divide(half, Bottom * 2) * Top.Sign, scale);
        }

        /// <summary>Half of the last place away at most: what is exactly between two goes either way after a division.</summary>
        public bool IsWithin(decimal value, int decimals)
        {
            var scale = BigInteger.Pow(10, decimals);
            var difference = (Top * scale) - (new BigInteger(value * (decimal)scale) * Bottom);
            return BigInteger.Abs(difference) * 2 <= Bottom + (Bottom / 1_000_000);
        }
    }
}
