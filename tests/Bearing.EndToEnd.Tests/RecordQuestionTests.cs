using System.Globalization;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>Questions about the demo's supplier invoices, held against the invoices themselves.</summary>
public sealed class RecordQuestionTests(DemoService demo)
{
    private const string AsAt = "2026-09-30";

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static decimal Of(string? text) => decimal.Parse(text ?? "0", CultureInfo.InvariantCulture);

    private static decimal Total(RecordTableDto table, string title) => Of(table.Totals.Single(t => t.Title == title).Value);

    private static RecordAskDto AskOf(AnswerDto answer) => ((RecordsDto)answer.Question.Kind).Ask;

    private async Task<RecordTableDto> Ask(string text, QuestionDto? previous = null)
    {
        var set = await demo.Ask(text, previous);
        Assert.True(set.Outcome == "answered", set.Because);
        Assert.Empty(set.Reading!.Unused);
        return set.Answers[0].Records!;
    }

    private async Task<List<RecordDto>> Invoices()
    {
        var page = await demo.Client.Records(DemoService.Book, "open-items", [], null, 1000, null, Cancel);
        Assert.Null(page.Next);
        return [.. page.Records];
    }

    private static decimal Open(RecordDto r) => Of(r.Fields.GetValueOrDefault("open"));

    private static readonly DateOnly AsOf = DateOnly.Parse(AsAt, CultureInfo.InvariantCulture);

    private static DateOnly? DayOf(RecordDto r, string field) =>
        r.Fields.TryGetValue(field, out var day) ? DateOnly.Parse(day, CultureInfo.InvariantCulture) : null;

    private static bool Overdue(RecordDto r) => Open(r) != 0 && string.CompareOrdinal(r.Fields["due-date"], AsAt) < 0;

    [Fact]
    public async Task Open_and_overdue_equal_the_invoices_one_by_one()
    {
        var invoices = await Invoices();
        var open = await Ask("open invoices");
        Assert.Equal((invoices.Count(r => Open(r) != 0), invoices.Sum(Open)), (open.Count, Total(open, "Open")));
        var overdue = await Ask("overdue invoices");
        Assert.Equal((invoices.Count(Overdue), invoices.Where(Overdue).Sum(Open)), (overdue.Count, Total(overdue, "Overdue")));
        Assert.All(overdue.Rows, r => Assert.True(r.Load > 0 && r.Row > 1));
        var ahead = await Ask("invoices not due yet");
        Assert.Equal(
            (open.Count, Total(open, "Open")),
            (overdue.Count + ahead.Count, Total(overdue, "Overdue") + Total(ahead, "Open"))
        );
    }

    [Theory]
    [InlineData("invoiced, paid and open by supplier")]
    [InlineData("how much is paid and how much is open by supplier")]
    [InlineData("paid and still outstanding invoices by supplier")]
    public async Task What_was_paid_and_what_is_open_come_to_what_was_invoiced(string text)
    {
        var invoices = await Invoices();
        var table = await Ask(text);
        Assert.Equal(["Supplier", "Amount", "Paid", "Open", "Count"], table.Columns.Select(c => c.Title));
        Assert.Equal(invoices.Sum(r => Of(r.Fields.GetValueOrDefault("amount"))), Total(table, "Amount"));
        Assert.Equal(Total(table, "Amount"), Total(table, "Paid") + Total(table, "Open"));
        Assert.All(table.Rows, r => Assert.Equal(Of(r.Values[1]), Of(r.Values[2]) + Of(r.Values[3])));
        Assert.Equal(invoices.Sum(Open), Total(table, "Open"));
    }

    [Theory]
    [InlineData("at the end of June", 6, 30)]
    [InlineData("at 30 June", 6, 30)]
    [InlineData("on 15 August 2026", 8, 15)]
    [InlineData("as at 10.09.2026", 9, 10)]
    public async Task What_was_open_on_an_earlier_day_leaves_out_what_came_or_was_paid_later(
        string said,
        int month,
        int dayOfMonth
    )
    {
        var day = new DateOnly(2026, month, dayOfMonth);
        var there = (await Invoices()).Where(r => DayOf(r, "invoice-date") <= day).ToList();
        decimal Then(RecordDto r) => DayOf(r, "paid-date") > day ? Of(r.Fields["amount"]) : Open(r);
        var open = await Ask($"open invoices {said}");
        Assert.Equal((there.Count(r => Then(r) != 0), there.Sum(Then)), (open.Count, Total(open, "Open")));
        var overdue = await Ask($"overdue invoices {said}");
        var late = there.Where(r => Then(r) != 0 && DayOf(r, "due-date") < day).ToList();
        Assert.Equal((late.Count, late.Sum(Then)), (overdue.Count, Total(overdue, "Overdue")));
        Assert.NotEqual((await Ask("open invoices")).Count, open.Count);
    }

    [Theory]
    [InlineData("invoices dated 10 September 2026", "invoice-date", "2026-09-10", "2026-09-10")]
    [InlineData("invoices paid between 1 and 7 September", "paid-date", "2026-09-01", "2026-09-07")]
    [InlineData("invoices due between 1 and 15 October", "due-date", "2026-10-01", "2026-10-15")]
    [InlineData("invoices after 25 September", "invoice-date", "2026-09-26", "9999-12-31")]
    public async Task Days_are_those_of_the_field_that_was_spoken_of(string text, string field, string first, string last)
    {
        bool Then(RecordDto r) =>
            r.Fields.TryGetValue(field, out var day)
            && string.CompareOrdinal(day, first) >= 0
            && string.CompareOrdinal(day, last) <= 0;
        var expected = (await Invoices())
            .Where(r => Then(r) && (field != "due-date" || Open(r) != 0) && (field != "paid-date" || Open(r) == 0))
            .ToList();
        Assert.NotEmpty(expected);
        Assert.Equal(expected.Count, (await Ask(text)).Count);
    }

    [Fact]
    public async Task The_day_in_question_is_kept_in_the_question_and_a_wrong_one_is_refused()
    {
        var set = await demo.Ask("overdue invoices on 10 September by supplier");
        Assert.Equal("Supplier invoices as at 10 September 2026: overdue, by supplier.", set.Reading!.Sentence);
        var asked = set.Answers[0];
        Assert.Equal("2026-09-10", AskOf(asked).AsAt);
        Assert.Null(AskOf((await demo.Ask("and at the end of August", asked.Question)).Answers[0]).AsAt);
        var wrong = await Assert.ThrowsAsync<BearingProblemException>(() =>
            demo.Client.Answer(
                DemoService.Book,
                new AnswerRequest(asked.Question with { Kind = new RecordsDto(AskOf(asked) with { AsAt = "10 September" }) }),
                Cancel
            )
        );
        Assert.Contains("is not a day", wrong.Problem.Detail, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Either_of_two_states_is_both_of_them()
    {
        var invoices = (await Invoices()).Where(r => r.Fields["status"] is "open" or "disputed").ToList();
        Assert.Equal(invoices.Count, (await Ask("invoices open or disputed")).Count);
        Assert.Equal(
            (await Ask("paid invoices")).Count + invoices.Count(r => r.Fields["status"] == "disputed"),
            (await Ask("paid and disputed invoices")).Count
        );
    }

    [Fact]
    public async Task A_period_right_behind_a_state_is_one_of_its_day()
    {
        var invoices = await Invoices();
        bool In(RecordDto r, string field, int month) => DayOf(r, field) is { Year: 2026 } day && day.Month == month;
        Assert.Equal(invoices.Count(r => Open(r) == 0 && In(r, "paid-date", 8)), (await Ask("invoices settled in August")).Count);
        Assert.Equal(invoices.Count(r => In(r, "due-date", 10)), (await Ask("invoices with a due date in October")).Count);
    }

    [Fact]
    public async Task Records_are_gathered_up_to_the_level_that_is_named()
    {
        var (harbours, regions) = (await Ask("overdue invoices by entity"), await Ask("overdue invoices by region"));
        Assert.Equal(["North Sound", "South Sound"], regions.Rows.Select(r => r.Values[0]).Order());
        Assert.Equal(Total(harbours, "Overdue"), Total(regions, "Overdue"));
        Assert.Equal("Region", regions.Columns[0].Title);
        // The head office stands beside the regions.
        Assert.Equal(
            ["Head Office", "North Sound", "South Sound"],
            (await Ask("journals in September by region")).Rows.Select(r => r.Values[0]).Order()
        );
    }

    [Fact]
    public async Task The_most_and_the_newest_are_picked_by_number_and_by_day()
    {
        var invoices = await Invoices();
        var most = await Ask("which supplier has the most overdue invoices");
        Assert.Equal(
            invoices.Where(Overdue).GroupBy(r => r.Fields["supplier"]).Max(g => g.Count()).ToString(CultureInfo.InvariantCulture),
            most.Rows[0].Values[2]
        );
        var next = await Ask("the next 3 invoices due");
        Assert.Equal(
            invoices
                .Where(r => Open(r) != 0 && string.CompareOrdinal(r.Fields["due-date"], AsAt) >= 0)
                .Select(r => r.Fields["due-date"])
                .Order()
                .Take(3),
            next.Rows.Select(r => r.Values[4])
        );
        var newest = await Ask("the 5 newest invoices");
        Assert.Equal(
            invoices.Select(r => r.Fields["invoice-date"]).OrderDescending().Take(5),
            newest.Rows.Select(r => r.Values[3])
        );
    }

    [Theory]
    [InlineData("invoices due next week", "due-date", 1, 7, true)]
    [InlineData("invoices due within 30 days", "due-date", 1, 30, true)]
    [InlineData("unpaid invoices due in the next 14 days", "due-date", 1, 14, true)]
    [InlineData("invoices overdue by less than 10 days", "due-date", -10, -1, true)]
    [InlineData("what do we owe at month end", "due-date", -4000, 4000, true)]
    [InlineData("invoices less than 30 days old", "invoice-date", -30, 0, false)]
    public async Task So_many_days_count_ahead_or_back_from_the_end_of_the_month(
        string text,
        string field,
        int from,
        int to,
        bool open
    )
    {
        var expected = (await Invoices())
            .Where(r =>
                (!open || Open(r) != 0)
                && DayOf(r, field) is { } day
                && day.DayNumber - AsOf.DayNumber is var days
                && days >= from
                && days <= to
            )
            .ToList();
        Assert.NotEmpty(expected);
        Assert.Equal(expected.Count, (await Ask(text)).Count);
    }

    [Theory]
    [InlineData("did any entity miss budget in August", "Yes, 6 of 7: ")]
    [InlineData("did every harbour beat budget in September", "No, 1 of 2; not Brackness Harbour. ")]
    [InlineData("was fuel over budget in any month", "Yes, 4 of 9: July 2026, August 2026, September 2026, June 2026. ")]
    [InlineData("which harbours missed budget in September", "1 of 2: Brackness Harbour. ")]
    [InlineData("which entities used less fuel than budget in August", "None of 4. ")]
    public async Task Any_every_and_which_speak_of_the_rows(string text, string begins) =>
        Assert.StartsWith(begins, (await demo.Ask(text)).Answers[0].Headline, StringComparison.Ordinal);

    [Theory]
    [InlineData("ageing of open invoices", 5)]
    [InlineData("ageing of payables: 1-7, 8-21, 22-45, over 45 days", 5)]
    [InlineData("ageing of payables 1-10", 3)]
    public async Task Buckets_of_age_add_up_to_what_is_open(string text, int buckets)
    {
        var aged = await Ask(text);
        Assert.Equal(buckets, aged.Rows.Count);
        Assert.Equal("not due", aged.Rows[0].Values[0]);
        Assert.Equal((await Invoices()).Sum(Open), aged.Rows.Sum(r => Of(r.Values[1])));
        Assert.Equal(Total(aged, "Open"), aged.Rows.Sum(r => Of(r.Values[1])));
    }

    [Fact]
    public async Task Groups_add_up_and_a_part_of_them_is_asked_for_in_a_follow_up()
    {
        var first = await demo.Ask("who do we owe the most? top 3");
        var owed = first.Answers[0].Records!;
        var expected = (await Invoices())
            .GroupBy(r => r.Fields["supplier"])
            .Select(g => (g.Key, Open: g.Sum(Open), Overdue: g.Where(Overdue).Sum(Open)))
            .OrderByDescending(g => g.Open)
            .Take(3)
            .ToList();
        Assert.Equal(expected.Select(e => (e.Key, e.Open)), owed.Rows.Select(r => (r.Values[0]!, Of(r.Values[1]))));
        var part = await Ask("how much of that is overdue", first.Answers[0].Question);
        Assert.Equal(expected, part.Rows.Select(r => (r.Values[0]!, Of(r.Values[1]), Of(r.Values[2]))));
    }

    [Fact]
    public async Task Late_payments_are_counted_with_their_days_on_average()
    {
        var late = (await Invoices())
            .Where(r =>
                Open(r) == 0
                && r.Fields.TryGetValue("paid-date", out var paid)
                && string.CompareOrdinal(paid[..10], r.Fields["due-date"]) > 0
            )
            .Select(r =>
                DateOnly.ParseExact(r.Fields["paid-date"][..10], "yyyy-MM-dd", CultureInfo.InvariantCulture).DayNumber
                - DateOnly.ParseExact(r.Fields["due-date"][..10], "yyyy-MM-dd", CultureInfo.InvariantCulture).DayNumber
            )
            .ToList();
        var counted = await Ask("how many invoices were paid late");
        Assert.Empty(counted.Rows);
        Assert.Equal(late.Count, counted.Count);
        if (late.Count > 0)
            Assert.Equal((double)Total(counted, "Days on average"), late.Average(), 3);
    }

    [Fact]
    public async Task One_record_is_shown_in_full_by_its_number_or_the_end_of_it()
    {
        var invoice = (await Invoices())[5];
        var number = invoice.Fields["invoice"];
        var full = await Ask($"details of {number}");
        Assert.Equal(invoice.Row, Assert.Single(full.Rows).Row);
        Assert.Contains(full.Rows[0].Values, v => v == number);
        Assert.Contains((await Ask($"the invoice ending in {number[^4..]}")).Rows, r => r.Row == invoice.Row);
    }

    [Fact]
    public async Task Age_and_days_to_pay_count_from_the_days_that_the_records_bear()
    {
        var invoices = await Invoices();
        Assert.Equal(
            invoices.Count(r => Open(r) != 0 && DayOf(r, "due-date") is { } due && AsOf.DayNumber - due.DayNumber > 30),
            (await Ask("how many invoices are overdue more than 30 days")).Count
        );
        var paid = invoices
            .Where(r => Open(r) == 0 && DayOf(r, "paid-date") is not null)
            .Select(r => DayOf(r, "paid-date")!.Value.DayNumber - DayOf(r, "invoice-date")!.Value.DayNumber)
            .ToList();
        Assert.Equal(paid.Average(), (double)Total(await Ask("average days to pay by supplier"), "Days on average"), 3);
        var granted = invoices
            .Where(r => DayOf(r, "due-date") is not null)
            .Select(r => DayOf(r, "due-date")!.Value.DayNumber - DayOf(r, "invoice-date")!.Value.DayNumber)
            .ToList();
        Assert.Equal(granted.Average(), (double)Total(await Ask("days between invoice date and due date"), "Days on average"), 3);
        Assert.Equal(
            invoices.Average(r => Of(r.Fields["amount"])),
            Total(await Ask("average invoice amount"), "Average amount"),
            3
        );
        var amounts = invoices.Select(r => Of(r.Fields["amount"])).Order().ToList();
        Assert.Equal(
            (amounts[(amounts.Count - 1) / 2] + amounts[amounts.Count / 2]) / 2,
            Total(await Ask("median invoice amount"), "Median amount"),
            4
        );
        paid.Sort();
        Assert.Equal(
            (paid[(paid.Count - 1) / 2] + paid[paid.Count / 2]) / 2.0,
            (double)Total(await Ask("median days to pay"), "Median of days"),
            4
        );
    }

    [Fact]
    public async Task Lists_have_the_columns_and_the_order_that_were_asked_for()
    {
        var overdue = (await Invoices()).Where(r => Open(r) != 0 && DayOf(r, "due-date") is { } due && due < AsOf).ToList();
        var list = await Ask(
            "show number, supplier, due date and open amount of the overdue invoices, sorted by due date, newest first"
        );
        Assert.Equal(["invoice", "supplier", "due-date", "open", "days"], list.Columns.Select(c => c.Id));
        Assert.Equal(
            overdue.Select(r => r.Fields["due-date"][..10]).OrderDescending().Take(list.Rows.Count),
            list.Rows.Select(r => r.Values[2]![..10])
        );
        Assert.Equal(
            overdue.Select(Open).Order().Take(5),
            (await Ask("overdue invoices sorted by open amount")).Rows.Take(5).Select(r => Of(r.Values[8]))
        );
        Assert.Equal(
            overdue.Select(Open).OrderDescending().Take(5),
            (await Ask("overdue invoices, largest first")).Rows.Take(5).Select(r => Of(r.Values[8]))
        );
        var names = (await Ask("overdue invoices by supplier alphabetically")).Rows.Select(r => r.Values[0]).ToList();
        Assert.Equal(names.Order(StringComparer.OrdinalIgnoreCase), names);
        Assert.Equal(
            overdue.Select(Open).OrderByDescending(Math.Abs).ElementAt(1),
            Of(Assert.Single((await Ask("the second largest overdue invoice")).Rows).Values[8])
        );
    }

    [Fact]
    public async Task What_is_due_lies_ahead_and_parties_are_counted_once()
    {
        var invoices = await Invoices();
        var october = invoices
            .Where(r => Open(r) != 0 && r.Fields["due-date"].StartsWith("2026-10", StringComparison.Ordinal))
            .ToList();
        foreach (var text in (string[])["invoices due in October", "invoices falling due next month"])
            Assert.Equal((october.Count, october.Sum(Open)), (await Ask(text) is var due ? due.Count : 0, Total(due, "Open")));
        var suppliers = invoices.Where(r => Open(r) != 0).Select(r => r.Fields["supplier"]).Distinct().Count();
        foreach (
            var text in (string[])
                [
                    "how many suppliers have open invoices",
                    "number of suppliers with open invoices",
                    "distinct suppliers with open invoices",
                ]
        )
            Assert.Equal(suppliers, Total(await Ask(text), "Different suppliers"));
        Assert.Equal(
            invoices.Count(r => r.Fields["supplier"].Contains("Norrvik", StringComparison.Ordinal)),
            (await Ask("invoices mentioning norrvik")).Count
        );
    }

    [Fact]
    public async Task Months_pick_the_records_dated_in_them_and_limits_hold_on_either_side()
    {
        var invoices = await Invoices();
        var august = invoices.Where(r => r.Fields["invoice-date"].StartsWith("2026-08", StringComparison.Ordinal)).ToList();
        Assert.Equal(
            (august.Count, august.Sum(r => Of(r.Fields["amount"]))),
            (await Ask("invoices of August 2026") is var list ? list.Count : 0, Total(list, "Amount"))
        );
        Assert.Equal(
            august.Count(r => Of(r.Fields["amount"]) <= 5_000m),
            (await Ask("invoices of August 2026 under 5,000")).Count
        );
        Assert.Equal(invoices.Count(r => Open(r) >= 20_000m), (await Ask("open invoices over 20,000")).Count);
    }

    [Fact]
    public async Task Entities_and_states_narrow_the_list()
    {
        var at = (await Invoices()).Where(r => r.Fields["entity"] == "SKF" && Open(r) != 0).Sum(Open);
        Assert.Equal(at, Total(await Ask("open invoices of Skelmar Ferries"), "Open"));
        var north = new[] { "SKF", "ORL", "BRH" };
        Assert.Equal(
            (await Invoices()).Where(r => north.Contains(r.Fields["entity"])).Sum(Open),
            Total(await Ask("open invoices for North Sound"), "Open")
        );
        var disputed = await Ask("disputed invoices");
        Assert.Equal((await Invoices()).Count(r => r.Fields["status"] == "disputed"), disputed.Count);
    }

    [Theory]
    [InlineData("overdue invoices by vessel", "vessel")]
    [InlineData("overdue receivables", "receivables")]
    [InlineData("journals without approver", "approver")]
    public async Task What_the_table_does_not_hold_is_said(string text, string names)
    {
        var set = await demo.Ask(text);
        Assert.Equal("cannot-answer", set.Outcome);
        Assert.Contains(names, set.Because, StringComparison.OrdinalIgnoreCase);
    }

    [Theory]
    [InlineData("open invoices by supplier and status", "open invoices by supplier", "Supplier", "Status")]
    [InlineData("open invoices by status, supplier and month", "open invoices by status", "Status", "Supplier", "Month")]
    [InlineData("journals by month and entity in Q3", "journals by month in Q3", "Month", "Entity")]
    public async Task Records_are_gathered_by_several_things_in_the_order_said_and_the_parts_add_up(
        string text,
        string outer,
        params string[] by
    )
    {
        var within = await Ask(text);
        Assert.Equal(by, within.Columns.Take(by.Length).Select(c => c.Title));
        Assert.Equal(within.Rows.Count, within.Rows.Select(r => string.Join('|', r.Values.Take(by.Length))).Distinct().Count());
        var parts = within
            .Rows.GroupBy(r => r.Values[0])
            .Select(g => (g.Key, g.Sum(r => Of(r.Values[by.Length])), g.Sum(r => Of(r.Values[by.Length + 1]))))
            .ToList();
        Assert.Equal((await Ask(outer)).Rows.Select(r => (r.Values[0], Of(r.Values[1]), Of(r.Values[2]))), parts);
    }

    [Fact]
    public async Task The_first_of_what_is_ranked_are_kept_whole_and_pairs_are_ranked_against_each_other()
    {
        var first = (await Ask("open invoices by supplier")).Rows.Take(2).Select(r => r.Values[0]);
        Assert.Equal(first, (await Ask("top 2 suppliers by month of open invoices")).Rows.Select(r => r.Values[0]).Distinct());
        var pairs = (await Ask("largest 4 open invoices by supplier and month")).Rows.Select(r => Of(r.Values[2])).ToList();
        Assert.Equal(pairs.OrderDescending(), pairs);
        Assert.Equal(
            (await Ask("open invoices by supplier and month")).Rows.Select(r => Of(r.Values[2])).OrderDescending().Take(4),
            pairs
        );
    }

    [Theory]
    [InlineData("fuel by supplier", "not kept by supplier")]
    [InlineData("crew cost by supplier and month", "not kept by supplier")]
    [InlineData("overdue fuel invoices", "which account")]
    public async Task A_figure_is_not_passed_over_where_only_records_tell_what_it_is_asked_by(string text, string because)
    {
        var set = await demo.Ask(text);
        Assert.Equal("cannot-answer", set.Outcome);
        Assert.Contains(because, set.Because, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_record_question_travels_as_a_question_of_its_own()
    {
        var first = (await demo.Ask("ageing of open invoices by supplier")).Answers[0];
        var again = (await demo.Client.Answer(DemoService.Book, new AnswerRequest(first.Question), Cancel)).Answers[0];
        Assert.Equal(first.Id, again.Id);
        Assert.Equal(
            first.Records!.Rows.Select(r => string.Join('|', r.Values)),
            again.Records!.Rows.Select(r => string.Join('|', r.Values))
        );
        foreach (
            var broken in new[]
            {
                AskOf(first) with
                {
                    Table = "nowhere",
                },
                AskOf(first) with
                {
                    By = [new GatheringDto("colour")],
                },
            }
        )
            Assert.Equal(
                "cannot-answer",
                (
                    await demo.Client.Answer(
                        DemoService.Book,
                        new AnswerRequest(first.Question with { Kind = new RecordsDto(broken) }),
                        Cancel
                    )
                ).Outcome
            );
        await Assert.ThrowsAsync<BearingProblemException>(() =>
            demo.Client.Answer(
                DemoService.Book,
                new AnswerRequest(first.Question with { Kind = new RecordsDto(AskOf(first) with { Buckets = [60, 30] }) }),
                Cancel
            )
        );
    }
}
