using Bearing.Core.Books;
using Bearing.Core.Loading;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

public sealed class LoadingTests
{
    private static readonly Book Book = new SmallBook().Add(1, new(2026, 1), "FARES", "N1", 1m).Book();
    private static readonly string[] Headings = ["Document", "Date", "Account", "Entity", "Route", "Amount", "Text"];

    private static RawRow Row(int number, params string[] fields) => new(number, fields);

    private static FileMapping Propose(IReadOnlyList<string> headings, params RawRow[] rows) =>
        new Detection(Book).Propose(Row(1, [.. headings]), [], rows, null, null);

    private static TableLayout LayoutOf(FileMapping mapping) =>
        TableLayout.Find(mapping, Row(1, [.. mapping.Columns.Select(c => c.Heading)]), Book.Calendar)!;

    private static (FactRow? Fact, Refusal? Refusal) Map(FileMapping mapping, RawRow row)
    {
        var facts = new List<FactRow>();
        var refusal = new RowMapper(Book, mapping, LayoutOf(mapping), 100).Map(row, facts);
        return (facts.Count > 0 ? facts[0] : null, refusal);
    }

    [Theory]
    [InlineData("income", AccountType.Income)]
    [InlineData("Revenue", AccountType.Income)]
    [InlineData("expense", AccountType.Cost)]
    [InlineData("EXPENSES", AccountType.Cost)]
    [InlineData("Cost of sales", AccountType.Cost)]
    [InlineData("current asset", AccountType.Asset)]
    [InlineData("statistical", AccountType.Statistic)]
    [InlineData("2", null)]
    [InlineData("", null)]
    public void Types_of_accounts_are_known_by_the_usual_words(string text, AccountType? type) =>
        Assert.Equal(type, HeadingWords.TypeOf(text));

    /// <summary>Days, initials and a cell without a number beside them do not say which mark is the decimal one.</summary>
    [Fact]
    public void The_decimal_mark_of_records_is_that_of_their_numbers()
    {
        var rows = new[]
        {
            Row(2, "W-1", "03.09.2026", "1.250,50", "R. Quill"),
            Row(3, "W-2", "14.09.2026", "99,90", "S. Oak"),
            Row(4, "W-3", "30.09.2026", "not known", "S. Oak"),
        };
        Assert.True(
            new Detection(Book)
                .Propose(Row(1, "Claim no", "Claimed on", "Amount", "Handler"), [], rows, TableKind.Records, null)
                .DecimalComma
        );
    }

    /// <summary>A column may be headed by what the book calls its entities.</summary>
    [Theory]
    [InlineData("Yard")]
    [InlineData("company")]
    public void The_books_own_word_for_its_entities_heads_their_column(string heading) =>
        Assert.Equal(
            "entity",
            new Detection(Book)
                .Propose(
                    Row(1, "Voucher", "Posting date", heading, "Account", "Amount"),
                    [],
                    [Row(2, "1", "2026-01-31", "N1", "FARES", "-1.00")],
                    null,
                    null
                )
                .Columns[2]
                .Role
        );

    [Fact]
    public void What_is_open_of_an_invoice_is_its_amount_less_what_was_paid()
    {
        var mapping = new Detection(Book).Propose(
            Row(1, "Invoice no", "Customer", "Due date", "Invoice amount", "Amount paid"),
            [],
            [
                Row(2, "A-1", "Ostler Inns", "2026-01-31", "100.00", "40.00"),
                Row(3, "A-2", "Ostler Inns", "2026-01-31", "7.50", "0"),
            ],
            TableKind.Records,
            null
        );
        Assert.Equal(
            ("Open", null, "Invoice amount|-Amount paid"),
            (mapping.Derived.Single().Heading, mapping.Derived.Single().Text, string.Join('|', mapping.Derived.Single().Sum))
        );
        Assert.Equal(
            ("field:amount", "Invoice amount less Amount paid"),
            (mapping.Columns[^1].Role, mapping.Columns[^1].Evidence)
        );
        var open = new Detection(Book).Propose(
            Row(1, "Invoice no", "Amount", "Paid", "Outstanding"),
            [],
            [Row(2, "A-1", "100.00", "40.00", "60.00")],
            TableKind.Records,
            null
        );
        Assert.Empty(open.Derived);
    }

    [Fact]
    public void Who_prepared_and_approved_a_line_is_kept_with_it()
    {
        var mapping = Propose(
            ["Document", "Date", "Account", "Entity", "Amount", "Prepared by", "Approved by", "Posted at", "Colour"],
            Row(2, "D1", "2026-01-05", "FARES", "N1", "-10.00", "Ann", "Bo", "2026-01-06T10:00:00", "red")
        );
        Assert.Equal(["field:text", "field:text", "field:date", null], mapping.Columns[^4..].Select(c => c.Role));
    }

    [Theory]
    [InlineData("1234.56", false, 1234.56)]
    [InlineData("1,234.56", false, 1234.56)]
    [InlineData("1.234,56", true, 1234.56)]
    [InlineData("(12.50)", false, -12.5)]
    [InlineData("12.50-", false, -12.5)]
    [InlineData(" 1 000 ", false, 1000)]
    [InlineData(".5", false, 0.5)]
    [InlineData("12.", false, 12)]
    [InlineData("007,5", true, 7.5)]
    [InlineData("-0.1234", false, -0.1234)]
    public void Amounts_are_read_as_people_write_them(string text, bool comma, double expected)
    {
        Assert.True(Numbers.TryRead(text, comma, out var value, out _));
        Assert.Equal((decimal)expected, value);
    }

    /// <summary>Whatever digits and marks a field holds, it is read as the exact number that they spell, or not at all.</summary>
    [Fact]
    public void Plain_digits_are_the_number_that_they_spell_and_nothing_else_is_one() =>
        Gen.Char["0123456789.."]
            .Array[1, 18]
            .Select(c => new string(c))
            .Sample(text =>
            {
                var parsed = decimal.TryParse(
                    text,
                    System.Globalization.NumberStyles.AllowDecimalPoint,
                    System.Globalization.CultureInfo.InvariantCulture,
                    out var exact
                );
                var kept = parsed && exact < 100_000_000_000_000m && decimal.Round(exact, 4) == exact;
                Assert.Equal(kept, Numbers.TryRead(text, false, out var point, out _));
                Assert.Equal(kept, Numbers.TryRead(text.Replace('.', ','), true, out var comma, out _));
                if (kept)
                    Assert.Equal((exact, exact), (point, comma));
            });

    [Theory]
    [InlineData("")]
    [InlineData("abc")]
    [InlineData("NaN")]
    [InlineData("1e9")]
    [InlineData("=1+1")]
    [InlineData("0.00001")]
    [InlineData("100000000000000")]
    [InlineData("12 EUR")]
    public void What_is_no_exact_amount_is_refused_with_a_cause(string text)
    {
        Assert.False(Numbers.TryRead(text, false, out _, out var because));
        Assert.NotEmpty(because!);
    }

    [Fact]
    public void Amounts_survive_being_written_and_read() =>
        Gen.Long[-9_999_999_999_999_999, 9_999_999_999_999_999]
            .Sample(units =>
            {
                var amount = units / 10_000m;
                Assert.True(
                    Numbers.TryRead(
                        amount.ToString(System.Globalization.CultureInfo.InvariantCulture),
                        false,
                        out var read,
                        out _
                    )
                );
                Assert.Equal(amount, read);
            });

    [Fact]
    public void Columns_are_recognised_with_their_evidence()
    {
        var mapping = Propose(Headings, Row(2, "J1", "2026-01-05", "FARES", "N1", "R1", "-10.00", "x"));
        Assert.Equal(TableKind.Ledger, mapping.Kind);
        Assert.Equal(
            ["document", "date", "account", "entity", "dimension:route", "amount", "text"],
            mapping.Columns.Select(c => c.Role)
        );
        Assert.All(mapping.Columns, c => Assert.NotEmpty(c.Evidence));
        Assert.Equal("yyyy-MM-dd", mapping.DateFormat);
    }

    [Theory]
    [InlineData("-100", "60", SignConvention.DebitPositive)]
    [InlineData("100", "60", SignConvention.AsShown)]
    [InlineData("100", "-60", SignConvention.CreditPositive)]
    public void Signs_are_told_by_income_and_cost_accounts(string income, string cost, SignConvention expected) =>
        Assert.Equal(
            expected,
            Propose(
                Headings,
                Row(2, "J1", "2026-01-05", "FARES", "N1", "", income, ""),
                Row(3, "J1", "2026-01-05", "FUEL", "N1", "", cost, "")
            ).Sign
        );

    [Fact]
    public void Whatever_the_sign_convention_income_is_stored_positive_and_cost_negative()
    {
        foreach (var (income, cost) in new[] { ("-100", "60"), ("100", "60"), ("100", "-60") })
        {
            RawRow[] rows =
            [
                Row(2, "J1", "2026-01-05", "FARES", "N1", "", income, ""),
                Row(3, "J1", "2026-01-05", "FUEL", "N1", "", cost, ""),
            ];
            var mapping = Propose(Headings, rows);
            Assert.Equal([100m, -60m], rows.Select(r => Map(mapping, r).Fact!.Value.Amount));
        }
    }

    [Fact]
    public void Dates_that_could_be_either_way_round_have_to_be_told() =>
        Assert.Contains(
            "day-first",
            Propose(Headings, Row(2, "J1", "03/04/2026", "FARES", "N1", "", "1", "")).Open!.Because,
            StringComparison.Ordinal
        );

    [Fact]
    public void A_missing_column_is_named_with_what_to_call_it()
    {
        var open = Propose(["Document", "Date", "Account", "Amount"], Row(2, "J1", "2026-01-05", "FARES", "1")).Open!;
        Assert.Contains("entity", open.Because, StringComparison.Ordinal);
        Assert.NotEmpty(open.Remedy);
    }

    [Fact]
    public void A_list_of_codes_and_names_has_to_be_told_of_what()
    {
        var open = Propose(["Code", "Name"], Row(2, "R7", "New Reach")).Open!;
        Assert.Contains("which dimension", open.Because, StringComparison.Ordinal);
        Assert.Contains("entity, route, vessel", open.Remedy, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("2026-13-01", "FARES", "N1", "1", "Date")]
    [InlineData("2026-01-05", "FARS", "N1", "1", "Account")]
    [InlineData("2026-01-05", "FARES", "N9", "1", "Entity")]
    [InlineData("2026-01-05", "FARES", "N1", "ten", "Amount")]
    [InlineData("2026-01-05", "FARES", "N1", "1.23456", "Amount")]
    [InlineData("2026-01-05", "", "N1", "1", "Account")]
    public void A_row_that_cannot_be_placed_says_where_and_what_to_do(
        string date,
        string account,
        string entity,
        string amount,
        string column
    )
    {
        var (fact, refusal) = Map(
            Propose(Headings, Row(2, "J1", "2026-01-05", "FARES", "N1", "", "1", "")),
            Row(7, "J2", date, account, entity, "", amount, "")
        );
        Assert.Null(fact);
        Assert.Equal((7, column), (refusal!.Row, refusal.Column));
        Assert.NotEmpty(refusal.Remedy);
    }

    [Fact]
    public void A_near_miss_names_the_nearest_account()
    {
        var (_, refusal) = Map(
            Propose(Headings, Row(2, "J1", "2026-01-05", "FARES", "N1", "", "1", "")),
            Row(7, "J2", "2026-01-05", "FARS", "N1", "", "1", "")
        );
        Assert.Contains("FARES Fares", refusal!.Because, StringComparison.Ordinal);
    }

    [Fact]
    public void Trees_keep_ids_of_known_codes_and_refuse_circles()
    {
        var headings = new[] { "Code", "Name", "Parent", "Type" };
        RawRow[] rows =
        [
            Row(2, "FUEL", "Fuel and oil", "DIR", "cost"),
            Row(3, "A", "A", "B", "cost"),
            Row(4, "B", "B", "A", "cost"),
            Row(5, "X", "X", "", "profit"),
        ];
        var refusals = new RefusalLog();
        var members = new MemberMapper(Book, Propose(headings, rows), LayoutOf(Propose(headings, rows)), 500).Map(rows, refusals);
        Assert.Equal(SmallBook.Id(SmallBook.AccountDim, "FUEL"), members.Single(m => m.Code == "FUEL").Id);
        Assert.Equal([3, 4, 5], refusals.Causes.SelectMany(r => r.Rows).Distinct().Order());
    }

    [Fact]
    public void Any_row_is_either_taken_or_refused_and_never_throws()
    {
        var mapping = Propose(Headings, Row(2, "J1", "2026-01-05", "FARES", "N1", "", "1", ""));
        Gen.String[0, 20]
            .Array[0, 9]
            .Sample(fields =>
            {
                var (fact, refusal) = Map(mapping, new RawRow(9, fields));
                Assert.Equal(fact is not null, refusal is null);
            });
    }
}
