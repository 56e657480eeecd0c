using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Tables as they are exported: titles above, totals within and below, months across, codes and names in one
/// cell.</summary>
public sealed class TableReaderTests
{
    private static readonly SmallBook Small = new SmallBook().Add(1, new(2026, 1), "FARES", "N1", 1m);
    private static readonly Book Book = Small.Book();
    private static readonly FiscalCalendar Calendar = Book.Calendar;

    private static List<RawRow> Sheet(params string[] lines) => [.. lines.Select((l, i) => new RawRow(i + 1, l.Split(';')))];

    private static FileMapping Mapping(TableKind kind, params (string Heading, string? Role)[] columns) =>
        new(
            kind,
            [.. columns.Select(c => new ColumnMapping(c.Heading, c.Role, "test"))],
            SignConvention.AsShown,
            "yyyy-MM-dd",
            true,
            null
        );

    private static readonly FileMapping Plan = Mapping(
        TableKind.Plan,
        ("Site", "entity"),
        ("Account", "account"),
        ("Month", "period"),
        ("Value", "amount")
    );

    private static (List<FactRow> Facts, List<Refusal> Refused, TableReader Reader) Read(FileMapping mapping, List<RawRow> sheet)
    {
        var reader = new TableReader(mapping, Calendar, new RefusalLog());
        RowMapper? mapper = null;
        var (facts, refused) = (new List<FactRow>(), new List<Refusal>());
        foreach (var row in reader.Data(sheet))
        {
            mapper ??= new RowMapper(Book, mapping, reader.Layout!, 900);
            if (mapper.Map(row, facts) is { } refusal)
                refused.Add(refusal);
        }
        return (facts, refused, reader);
    }

    private static string Code(FactRow fact, int dimension) => Book.Label(fact.Members[dimension - 1]).Code;

    [Fact]
    public void Titles_blank_rows_totals_and_notes_are_left_out_and_counted()
    {
        var (facts, refused, reader) = Read(
            Plan,
            Sheet(
                "Small Yards;;;",
                "Budget, approved;;;",
                "Site;Account;Month;Value",
                "N1;FARES;2026-01;100",
                "N2;FARES;2026-01;50",
                "Total income;;;150",
                ";;;",
                "N1;FUEL;2026-01;30",
                "Total costs;;;30",
                "Result;;;120",
                "Prepared by the planners;;;"
            )
        );
        Assert.Empty(refused);
        Assert.Equal([100m, 50m, -30m], facts.Select(f => f.Amount));
        Assert.Equal([4, 5, 8], facts.Select(f => f.Row));
        Assert.Equal(["titles 2", "totals 3", "blank rows 1", "notes 1"], reader.LeftOut.Select(l => $"{l.What} {l.Count}"));
        Assert.Equal((2, 0), (reader.Totals.Agreeing, reader.Totals.Differing.Count));
    }

    [Fact]
    public void A_total_that_its_rows_do_not_make_is_told_with_its_line()
    {
        var (_, _, reader) = Read(
            Plan,
            Sheet(
                "Site;Account;Month;Value",
                "N1;FARES;2026-01;100",
                "N2;FARES;2026-01;50",
                "Total;;;149",
                "Sum of 2 lines;;;150"
            )
        );
        Assert.Equal((4, "Total"), Assert.Single(reader.Totals.Differing));
        Assert.Equal(1, reader.Totals.Agreeing);
    }

    [Fact]
    public void A_row_without_its_account_that_is_no_total_is_refused_and_not_left_out()
    {
        var (facts, refused, _) = Read(Plan, Sheet("Site;Account;Month;Value", "N1;;2026-01;100"));
        Assert.Empty(facts);
        Assert.Contains("no account", Assert.Single(refused).Because, StringComparison.Ordinal);
    }

    [Fact]
    public void Headings_repeated_on_every_page_are_left_out_and_another_order_is_refused()
    {
        var (facts, _, reader) = Read(
            Plan,
            Sheet("Site;Account;Month;Value", "N1;FARES;2026-01;100", "Site;Account;Month;Value", "N2;FARES;2026-01;50")
        );
        Assert.Equal(2, facts.Count);
        Assert.Contains(reader.LeftOut, l => l.What == "repeated headings");
        var e = Assert.Throws<LoadRefusedException>(() =>
            Read(
                Plan,
                Sheet("Site;Account;Month;Value", "N1;FARES;2026-01;100", "Site;Month;Account;Value", "N2;2026-01;FARES;50")
            )
        );
        Assert.Contains("Line 3 is a second header row", e.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_sheet_without_the_headings_has_no_rows()
    {
        var reader = new TableReader(Plan, Calendar, new RefusalLog());
        Assert.Empty(reader.Data(Sheet("Cover;;;", "Approved;;;")));
        Assert.Null(reader.Layout);
    }

    [Fact]
    public void Columns_are_found_by_their_headings_in_any_order_case_and_number()
    {
        var (facts, _, _) = Read(Plan, Sheet("VALUE;note;months;accounts;Sites", "12,50;x;2026-02;FARES;N1"));
        Assert.Equal((12.5m, new Period(2026, 2), "N1"), (facts[0].Amount, facts[0].Period, Code(facts[0], SmallBook.EntityDim)));
    }

    [Fact]
    public void Months_across_become_one_fact_each_and_blanks_none()
    {
        var mapping = Mapping(TableKind.Plan, ("Site", "entity"), ("Account", "account"), ("Year", "skip")) with
        {
            MonthsAcross = true,
            Scale = 1000m,
            FiscalYear = 2026,
        };
        foreach (
            var headings in new[]
            {
                "Jan 26;Feb 26;Mar 26",
                "2026-01;2026-02;2026-03",
                "P01;P02;P03",
                "January 2026;February 2026;March 2026",
                "01/2026;02/2026;03/2026",
            }
        )
        {
            var (facts, refused, _) = Read(
                mapping,
                Sheet($"Site;Account;{headings};Year", "N1;FARES;1,5;-;;1,5", "N1;FUEL;;2;3;5")
            );
            Assert.Empty(refused);
            Assert.Equal([(1, 1500m), (2, -2000m), (3, -3000m)], facts.Select(f => (f.Period.Number, f.Amount)));
        }
    }

    [Fact]
    public void Columns_side_by_side_say_account_and_scenario_by_themselves()
    {
        var mapping = Mapping(TableKind.Statistics, ("Month", "period"), ("Site", "entity")) with { DecimalComma = true };
        mapping = mapping with
        {
            Columns = mapping.Columns.AddRange(
                new ColumnMapping("Trips", "amount", "")
                {
                    Sets = ImmutableDictionary<string, string>.Empty.Add("account", "TRIPS"),
                },
                new ColumnMapping("Trips planned", "amount", "")
                {
                    Sets = ImmutableDictionary<string, string>.Empty.Add("account", "TRIPS").Add("scenario", "budget-26"),
                }
            ),
        };
        var (facts, refused, _) = Read(
            mapping,
            Sheet("Month;Site;Trips;Trips planned", "Jul 2025;N1;1.204;1.100", "Aug 2025;N1;980;")
        );
        Assert.Empty(refused);
        Assert.Equal([("", 1204m), ("budget-26", 1100m), ("", 980m)], facts.Select(f => (f.Scenario, f.Amount)));
        Assert.All(facts, f => Assert.Equal("TRIPS", Code(f, SmallBook.AccountDim)));
    }

    [Theory]
    [InlineData("N1", "N1")]
    [InlineData("Aldermouth", "N1")]
    [InlineData("aldermouth ", "N1")]
    [InlineData("N1 Aldermouth", "N1")]
    [InlineData("Aldermoth", "N1")]
    [InlineData("N1 Birkhaven", null)]
    [InlineData("Elsewhere", null)]
    public void Members_are_known_by_code_name_both_or_look_up_and_never_by_chance(string text, string? code)
    {
        var mapping = Plan with
        {
            LookUps = ImmutableDictionary<string, ImmutableDictionary<string, string>>.Empty.Add(
                "entity",
                ImmutableDictionary<string, string>.Empty.Add("Aldermoth", "N1")
            ),
        };
        var (facts, refused, _) = Read(mapping, Sheet("Site;Account;Month;Value", $"{text};FARES;2026-01;100"));
        Assert.Equal(code, facts.Count == 0 ? null : Code(facts[0], SmallBook.EntityDim));
        Assert.Equal(code is null, refused.Count == 1);
    }

    [Theory]
    [InlineData("2026-P03", 3)]
    [InlineData("2026/03", 3)]
    [InlineData("03/2026", 3)]
    [InlineData("202603", 3)]
    [InlineData("Mar 2026", 3)]
    [InlineData("march 26", 3)]
    [InlineData("2026-03-31", 3)]
    [InlineData("P03", 3)]
    [InlineData("2026-13", 0)]
    [InlineData("P13", 0)]
    [InlineData("Marz 2026", 0)]
    [InlineData("", 0)]
    public void Periods_are_read_as_people_write_them(string text, int number) =>
        Assert.Equal(number, HeadingWords.TryPeriod(text, Calendar, 2026, false, out var period) ? period.Number : 0);

    [Fact]
    public void Dates_decide_whether_a_number_behind_the_year_is_a_month_or_a_fiscal_period()
    {
        var book = new SmallBook(7).Add(1, new(2026, 1), "FARES", "N1", 1m).Book();
        var heading = new RawRow(1, ["Document", "Date", "Period", "Account", "Entity", "Amount"]);
        FileMapping Propose(string period) =>
            new Detection(book).Propose(
                heading,
                [],
                [new RawRow(2, ["J1", "2025-07-15", period, "FARES", "N1", "-1"])],
                null,
                null
            );
        Assert.True(Propose("2026/01").FiscalPeriods);
        Assert.False(Propose("2025/07").FiscalPeriods);
    }

    [Fact]
    public void The_heading_row_is_the_one_with_most_known_headings_and_titles_tell_the_scale()
    {
        var sheet = Sheet(
            "Budget of Small Yards, total by site;;;",
            "all amounts in thousand EUR;;;",
            "",
            "Site;Account;Jan 26;Feb 26;Mar 26",
            "N1;FARES;1;2;3"
        );
        var detection = new Detection(Book);
        var (at, known) = detection.FindHeading(sheet);
        Assert.Equal((3, 5), (at, known));
        var mapping = detection.Propose(sheet[at], sheet[..at], sheet[(at + 1)..], null, null);
        Assert.Equal((TableKind.Plan, true, 1000m), (mapping.Kind, mapping.MonthsAcross, mapping.Scale));
    }

    /// <summary>2011.4 could be April 2011; beside the days of an invoice it is an amount.</summary>
    [Fact]
    public void Days_and_an_amount_that_reads_like_a_month_are_no_headings()
    {
        var sheet = Sheet(
            "InvoiceNo;Supplier;InvoiceDate;DueDate;Amount;Paid;PaidDate;Status",
            "N100;Yardley;2025-12-22;2026-02-05;2011.4;2011.4;2026-02-06;paid",
            "N101;Yardley;2025-12-23;2026-01-05;800.00;0;;open"
        );
        Assert.Equal(0, new Detection(Book).FindHeading(sheet).Index);
        Assert.Equal(
            1,
            new Detection(Book).FindHeading(Sheet("Budget", "Site;Account;Mar 26;Feb 26;Jan 26", "N1;FARES;1;2;3")).Index
        );
    }

    [Fact]
    public void Level_columns_become_groups_filled_down_and_mixed_ones_are_left_to_the_statement()
    {
        var mapping = Mapping(
            TableKind.Accounts,
            ("Code", "code"),
            ("Name", "name"),
            ("L1", "level:1"),
            ("L2", "level:2"),
            ("Type", "type")
        ) with
        {
            Rules = [new RoleRule("code", "9010", "over time", "average")],
        };
        mapping = mapping with
        {
            Columns = [.. mapping.Columns.Select(c => c.Role == "level:1" ? c with { FillDown = true } : c)],
        };
        var reader = new TableReader(mapping, Calendar, new RefusalLog());
        var rows = reader
            .Data(
                Sheet(
                    "Code;Name;L1;L2;Type",
                    "4000;Fees;Profit and loss;Revenue;income",
                    "5000;Drugs;;Cost of sales;cost",
                    "6000;Pay;;Staff;cost",
                    "9010;Heads;Statistics;-;statistic"
                )
            )
            .ToList();
        var refusals = new RefusalLog();
        var members = new MemberMapper(Book, mapping, reader.Layout!, 900).Map(rows, refusals);
        Assert.Equal(0, refusals.Count);
        Assert.DoesNotContain(members, m => m.Name == "Profit and loss");
        string? Parent(string code) => members.SingleOrDefault(m => m.Id == members.Single(x => x.Code == code).ParentId)?.Code;
        Assert.Equal(
            ["Revenue", "Cost of sales", "Staff", "Statistics"],
            new[] { "4000", "5000", "6000", "9010" }.Select(Parent)
        );
        Assert.Equal(
            (AccountType.Income, OverTime.Average),
            (members.Single(m => m.Code == "Revenue").Account!.Type, members.Single(m => m.Code == "9010").Account!.OverTime)
        );
    }

    [Fact]
    public void Whatever_stands_in_a_sheet_every_row_is_data_left_out_or_a_title()
    {
        var cell = Pick.One(
            "",
            "N1",
            "FARES",
            "2026-01",
            "12,5",
            "Total",
            "Site",
            "Account",
            "Month",
            "Value",
            "x",
            "n/a",
            "=1+1"
        );
        cell.Array[4]
            .Array[1, 12]
            .Sample(
                rows =>
                {
                    var sheet = rows.Select((r, i) => new RawRow(i + 2, r))
                        .Prepend(new RawRow(1, ["Site", "Account", "Month", "Value"]))
                        .ToList();
                    try
                    {
                        var (facts, refused, reader) = Read(Plan, sheet);
                        Assert.Equal(rows.Length, facts.Count + refused.Count + reader.LeftOut.Sum(l => l.Count));
                        Assert.Equal(facts.Count + refused.Count, reader.DataRows);
                    }
                    catch (LoadRefusedException e)
                    {
                        Assert.Contains("second header", e.Message, StringComparison.Ordinal);
                    }
                },
                iter: 300
            );
    }

    [Theory]
    [InlineData("1,234,567.8", false, true)]
    [InlineData("12,34", false, false)]
    [InlineData("1,2,3", false, false)]
    [InlineData("1234,567", false, false)]
    [InlineData("2.052", true, true)]
    [InlineData("20.52", true, false)]
    [InlineData("1.234,56-", true, true)]
    [InlineData("(16,673.42)", false, true)]
    public void Thousand_marks_stand_before_three_digits_or_the_text_is_no_number(string text, bool comma, bool ok) =>
        Assert.Equal(ok, Numbers.TryRead(text, comma, out _, out _));

    [Fact]
    public void Refusals_are_gathered_by_cause_with_count_and_sum()
    {
        var log = new RefusalLog();
        for (var i = 1; i <= 25; i++)
            log.Add(new Refusal(i, "Account", "6999", "unknown", "map it", 2m));
        log.Add(new Refusal(30, "Date", "x", "no date", "correct it"));
        Assert.Equal(26, log.Count);
        Assert.Equal([(25L, 10, (decimal?)50m), (1L, 1, null)], log.Causes.Select(c => (c.Count, c.Rows.Length, c.Amount)));
    }
}
