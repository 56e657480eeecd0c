using System.Collections.Immutable;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Store;
using Xunit;
using static Bearing.Core.Tests.SmallBook;

namespace Bearing.Core.Tests;

/// <summary>Questions about journals, each test seen on a handful of documents.</summary>
public sealed class JournalTests
{
    private static readonly Period Jan = new(2026, 1);

    private static readonly Table Ledger = new(
        Table.Ledger,
        "Ledger",
        [
            new Field("source", "Source", FieldType.Text) { Values = ["manual", "system"] },
            new Field("prepared-by", "Prepared by", FieldType.Text) { Values = ["Ann", "Cy"] },
            new Field("approved-by", "Approved by", FieldType.Text) { Values = ["Bo"] },
            new Field("posted-at", "Posted at", FieldType.Date),
        ]
    );

    private static readonly List<Line> Lines =
    [
        .. Journal("J-001", 9, 500m, "manual", "Ann", "Bo", "2026-01-09"),
        .. Journal("J-002", 31, 3000m, "manual", "Ann", "Ann", "2026-02-02"),
        .. Journal("J-003", 12, 120m, "system", "SYS", "", "2026-01-12"),
        .. Journal("J-005", 15, 75m, "manual", "Cy", "", "2026-01-24"),
        Line("J-006", 20, "FUEL", -40m, "system", "SYS", "", "2026-01-20"),
        Line("J-006", 20, "CASH", 39m, "system", "SYS", "", "2026-01-20"),
        // Between two yards, and balanced only as a whole: seen by one of them it would seem off.
        Line("J-008", 21, "FUEL", -10m, "system", "SYS", "", "2026-01-21"),
        Line("J-008", 21, "CASH", 10m, "system", "SYS", "", "2026-01-21", "N2"),
        Line("J-007", 22, "FUEL", -10m, "system", "SYS", "", "2026-01-22", "N2"),
        Line("J-009", 3, "FUEL", -10m, "system", "SYS", "", "2026-02-03", month: 2),
        Line("J-009", 3, "CASH", 10m, "system", "SYS", "", "2026-02-03", month: 2),
        Line("J-011", 3, "FUEL", -10m, "system", "SYS", "", "2026-02-03", month: 2),
        Line("J-011", 3, "CASH", 10m, "system", "SYS", "", "2026-02-03", month: 2),
        Line("J-010", 31, "FUEL", -10m, "system", "SYS", "", "2026-01-30"),
        Line("J-010", 31, "CASH", 10m, "system", "SYS", "", "2026-01-30"),
    ];

    private static readonly Book Book = new(
        new SmallBook().Add(1, Jan, "FUEL", "N1", -1m).Add(1, Jan.AddMonths(1), "FUEL", "N2", -1m).Book().Definition,
        1,
        Members
    )
    {
        Tables = [Ledger],
    };

    private static readonly FirstReader FirstReader = new(Book, new BookWords(Book), Vocabulary.English);

    private static int _row;

    private static Line[] Journal(
        string document,
        int day,
        decimal amount,
        string source,
        string by,
        string approved,
        string posted
    ) =>
        [
            Line(document, day, "FUEL", -amount, source, by, approved, posted),
            Line(document, day, "CASH", amount, source, by, approved, posted),
        ];

    private static Line Line(
        string document,
        int day,
        string account,
        decimal amount,
        string source,
        string by,
        string approved,
        string posted,
        string yard = "N1",
        int month = 1
    ) =>
        new(
            1,
            1,
            ++_row,
            document,
            new DateOnly(2026, month, day),
            Jan.Ordinal + month - 1,
            [Id(AccountDim, account), Id(EntityDim, yard), Member.Unassigned, Member.Unassigned],
            amount,
            null,
            null,
            $"line of {document}"
        )
        {
            Fields = new Dictionary<string, string>
            {
                ["source"] = source,
                ["prepared-by"] = by,
                ["approved-by"] = approved,
                ["posted-at"] = posted,
            }
                .Where(f => f.Value.Length > 0)
                .ToImmutableSortedDictionary(),
        };

    private static Answer Ask(string text)
    {
        var read = FirstReader.Read(text);
        Assert.True(
            read.Outcome == ReadingOutcome.Understood && read.Reading!.Unused.IsEmpty,
            $"{text}: {read.Because} {read.Reading?.Sentence} {string.Join(',', read.Reading?.Unused ?? [])}"
        );
        return Now(
            new Answerer(Book, MemoryFacts.FromLines(new BookView(1), Dimensions, Lines, "EUR")).Answer(
                read.Question!.ToKinds(),
                TestContext.Current.CancellationToken
            )
        );
    }

    [Theory]
    [InlineData("largest entry of fuel in january", "J-002")]
    [InlineData("second largest entry of fuel in january", "J-001")]
    [InlineData("third largest entry of fuel in january", "J-003")]
    public void The_one_entry_of_a_place_in_the_order_is_that_one(string text, string document) =>
        Assert.Equal([document], Ask(text).Entries!.Lines.Select(l => l.Document));

    [Theory]
    [InlineData("manual journals", "J-001 J-002 J-005")]
    [InlineData("manual journals above 1,000", "J-002")]
    [InlineData("journals prepared and approved by the same person", "J-002")]
    [InlineData("manual journals without approver", "J-005")]
    [InlineData("journals entered on a weekend", "J-005")]
    [InlineData("journals entered on a saturday", "J-005")]
    [InlineData("journals entered on a sunday", "")]
    [InlineData("self-approved journals", "J-002")]
    [InlineData("journals where preparer and approver are the same person", "J-002")]
    [InlineData("unapproved manual journals", "J-005")]
    [InlineData("manual journals lacking an approver", "J-005")]
    [InlineData("manual journals with approver missing", "J-005")]
    [InlineData("journals over 400", "J-001 J-002")]
    [InlineData("manual journals of full hundreds", "J-001 J-002")]
    [InlineData("round journals at month end", "J-002")]
    [InlineData("journals posted more than 5 days after their posting date", "J-005")]
    [InlineData("journals out of balance", "J-006 J-007")]
    [InlineData("gaps in the document numbers", "J-004")]
    [InlineData("manual journals below 100", "J-005")]
    [InlineData("manual journals over 100 and under 1,000", "J-001")]
    [InlineData("gaps in the document numbers of Aldermouth", "J-004")]
    [InlineData("gaps in the document numbers in february", "")]
    [InlineData("journals out of balance of Birkhaven", "J-007")]
    [InlineData("manual journals on crew wages", "")]
    [InlineData("manual journals, newest first", "J-002 J-005 J-001")]
    [InlineData("manual journals, oldest first", "J-001 J-005 J-002")]
    [InlineData("manual journals sorted by amount", "J-002 J-001 J-005")]
    [InlineData("manual journals sorted by amount, ascending", "J-005 J-001 J-002")]
    [InlineData("manual journals sorted by approver", "J-002 J-001 J-005")]
    [InlineData("the second largest manual journal", "J-001")]
    [InlineData("manual journals approved by nobody", "J-005")]
    [InlineData("manual journals never approved", "J-005")]
    [InlineData("journals by Ann above 1,000", "J-002")]
    [InlineData("journals approved by Bo", "J-001")]
    [InlineData("manual journals mentioning \"line of j-002\"", "J-002")]
    [InlineData("journals approved by their preparer", "J-002")]
    [InlineData("manual journals where the approver is the preparer", "J-002")]
    [InlineData("the 2 newest manual journals", "J-002 J-005")]
    [InlineData("the last 2 manual journals", "J-002 J-005")]
    [InlineData("journals prepared by Ann or Cy", "J-001 J-002 J-005")]
    public void Journals_that_meet_the_test_are_listed(string text, string documents) =>
        Assert.Equal(documents, string.Join(' ', Ask(text).Records!.Rows.Select(r => r.Values[0])));

    [Theory]
    [InlineData("journals on 12 January 2026", "J-003")]
    [InlineData("journals on 12.01.2026", "J-003")]
    [InlineData("journals on 2026-01-12", "J-003")]
    [InlineData("journals dated 12/1/26", "J-003")]
    [InlineData("journals of the 12th of january", "J-003")]
    [InlineData("what was posted on January 12", "J-003")]
    [InlineData("entries of january 12, 2026", "J-003")]
    [InlineData("manual journals since 15 january", "J-002 J-005")]
    [InlineData("manual journals after 15 january", "J-002")]
    [InlineData("manual journals before 15 january", "J-001")]
    [InlineData("manual journals until 15 january 2026", "J-001 J-005")]
    [InlineData("journals from 9 to 15 january", "J-001 J-003 J-005")]
    [InlineData("journals between 9 and 15 january", "J-001 J-003 J-005")]
    [InlineData("journals 9-15 january", "J-001 J-003 J-005")]
    [InlineData("journals from january 9 to 15", "J-001 J-003 J-005")]
    [InlineData("journals from 31 january to 3 february", "J-002 J-009 J-011 J-010")]
    [InlineData("journals from 1 january to 31 january over 400", "J-001 J-002")]
    [InlineData("journals over 400 on 31 january", "J-002")]
    [InlineData("fuel journals from 9 to 15 january at Aldermouth", "J-001 J-003 J-005")]
    [InlineData("fuel on 12 january", "J-003")]
    [InlineData("journals posted at 24.01.2026", "J-005")]
    [InlineData("the 2 largest journals from 9 to 15 january", "J-001 J-003")]
    [InlineData("journals from 20 january on over 1000", "J-002")]
    [InlineData("journals approved by those who prepared them", "J-002")]
    [InlineData("the top2 manual journals", "J-002 J-001")]
    public void Days_pick_the_journals_of_these_days(string text, string documents) =>
        Assert.Equal(documents, string.Join(' ', Ask(text).Records!.Rows.Select(r => r.Values[0])));

    [Theory]
    [InlineData("fuel from 1 january to 28 february", "Fuel: Actual, January 2026 to February 2026.")]
    [InlineData("fuel at 31 january", "Fuel: Actual, January 2026.")]
    [InlineData("fuel as at 28 february 2026", "Fuel: Actual, January 2026 to February 2026.")]
    [InlineData("fuel since 1 february", "Fuel: Actual, February 2026.")]
    [InlineData("fuel until 31 january", "Fuel: Actual, January 2026.")]
    [InlineData("fuel after 31 january", "Fuel: Actual, February 2026.")]
    [InlineData("fuel from january on", "Fuel: Actual, January 2026 to February 2026.")]
    public void Days_that_make_whole_months_are_these_months(string text, string sentence)
    {
        var read = FirstReader.Read(text);
        Assert.Equal((ReadingOutcome.Understood, sentence), (read.Outcome, read.Reading?.Sentence));
    }

    [Theory]
    [InlineData("journals on 30 february 2026", "February 2026 has no day 30.")]
    [InlineData(
        "fuel on 12 january against 13 january",
        "Days are told of entries and records, as in “entries from 3 to 17 August”; periods that are compared are months."
    )]
    [InlineData(
        "fuel on 12 january against budget",
        "Journals and records are listed, counted, gathered and aged as they are; a comparison or a plan does not apply to them."
    )]
    [InlineData(
        "journals from 15 january 2026 to 9 january 2026",
        "on 9 January 2026 is earlier than on 15 January 2026. Name the earlier day first."
    )]
    [InlineData(
        "fuel per trip on 12 january",
        "Fuel per trip is told by month, and not by day. Entries of accounts have their days."
    )]
    public void What_has_no_such_day_is_refused_with_the_reason(string text, string because)
    {
        var read = FirstReader.Read(text);
        Assert.Equal((ReadingOutcome.CannotAnswer, because), (read.Outcome, read.Because));
    }

    [Theory]
    [InlineData("ageing 0-15 january")]
    [InlineData("journals 0-15 january")]
    [InlineData("ageing 1-30, 31-60, 61-90 january")]
    [InlineData("journals 31-60 january")]
    [InlineData("journals 99-100 february 2026")]
    public void Days_of_age_are_no_days_of_a_month(string text) =>
        Assert.DoesNotContain("posting date", FirstReader.Read(text).Reading?.Sentence ?? "", StringComparison.Ordinal);

    [Fact]
    public void A_figure_that_was_shown_goes_on_to_the_journals_of_a_day()
    {
        var shown = FirstReader.Read("fuel in january at Aldermouth");
        var read = FirstReader.Read(
            "and on 12 january?",
            new Previous(shown.Question!, new Bearing.Core.Variance.Grid([], [], "", 2))
        );
        Assert.Equal(
            "Journals of January 2026 on Fuel: posting date on 12 January 2026, for Aldermouth.",
            read.Reading?.Sentence
        );
    }

    [Fact]
    public void The_amount_of_a_journal_is_the_sum_of_its_debits_and_totals_count_all()
    {
        var records = Ask("the largest manual journal").Records!;
        Assert.Equal("3000.00", records.Rows[0].Values[records.Columns.Select(c => c.Id).ToList().IndexOf("amount")]);
        Assert.Equal([("Count", 3m), ("Amount", 3575m)], records.Totals);
    }

    [Theory]
    [InlineData("who prepared the most manual journals", "Ann:2 Cy:1")]
    [InlineData("who prepared the fewest manual journals", "Cy:1 Ann:2")]
    [InlineData("manual journals by yard", "Aldermouth:3")]
    [InlineData("manual journals by region", "North:3")]
    public void Journals_are_gathered_and_the_most_are_counted(string text, string groups)
    {
        var records = Ask(text).Records!;
        var count = records.Columns.Select(c => c.Id).ToList().IndexOf("count");
        Assert.Equal(groups, string.Join(' ', records.Rows.Select(r => $"{r.Values[0]}:{r.Values[count]}")));
    }

    [Theory]
    [InlineData("the largest journal and who approved it", "approved-by")]
    [InlineData("document, amount, approver of manual journals", "document amount approved-by")]
    public void Columns_are_told_by_commas_and_by_who(string text, string columns)
    {
        var answer = Ask(text);
        var shown = answer.Records?.Columns.Select(c => c.Id) ?? ((Kind.Entries)answer.Question.Kind).Listing!.Columns;
        Assert.EndsWith(columns, string.Join(' ', shown), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("manual journals versus budget", "a comparison or a plan")]
    [InlineData("share of manual journals above 100", "shares")]
    [InlineData("fuel run rate by yard over 50", "limits")]
    public void What_does_not_apply_is_refused_and_not_passed_over(string text, string beside)
    {
        var read = FirstReader.Read(text);
        Assert.True(read.Outcome == ReadingOutcome.CannotAnswer, read.Reading?.Sentence);
        Assert.Contains(beside, read.Because, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("document, date and approver of manual journals", "document date approved-by")]
    [InlineData("manual journals with the columns amount and text", "amount text")]
    public void A_list_has_the_columns_that_were_asked_for(string text, string columns) =>
        Assert.Equal(columns, string.Join(' ', Ask(text).Records!.Columns.Select(c => c.Id)));

    [Fact]
    public void Entries_come_in_the_order_and_with_the_columns_that_were_asked_for()
    {
        var entries = Ask("entries on fuel in january with the columns date, yard and amount, newest first");
        Assert.Equal(["date", "entity", "amount"], ((Kind.Entries)entries.Question.Kind).Listing!.Columns);
        Assert.Equal(entries.Entries!.Lines.Select(l => l.Date).OrderDescending(), entries.Entries.Lines.Select(l => l.Date));
        var rising = Ask("entries on fuel in january, smallest first").Entries!.Lines.Select(l => Math.Abs(l.Amount)).ToList();
        Assert.Equal(rising.Order(), rising);
    }

    [Theory]
    [InlineData("entries on fuel sorted by yard", "by date or by amount")]
    [InlineData("manual journals with the columns date and due date", "due")]
    [InlineData("fuel by yard sorted by due date", "for lists of entries")]
    public void Orders_and_columns_that_cannot_be_are_refused(string text, string because) =>
        Assert.Contains(because, FirstReader.Read(text).Because, StringComparison.Ordinal);

    /// <summary>Reading a list page by page gives what one page gives, in each order, also where days and amounts are the
    /// same.</summary>
    [Fact]
    public void Pages_of_any_size_make_the_same_list_in_every_order()
    {
        var facts = MemoryFacts.FromLines(new BookView(1), Dimensions, Lines, "EUR");
        foreach (var order in Enum.GetValues<LineOrder>())
        {
            var query = new LineQuery(1, new PeriodSpan(Jan, Jan.AddMonths(1)), [], order, 1000);
            var whole = Now(facts.Lines(query, TestContext.Current.CancellationToken)).Lines;
            Assert.Equal(Lines.Count, whole.Length);
            for (var size = 1; size < 6; size++)
            {
                var (rows, cursor) = (new List<int>(), (string?)null);
                do
                {
                    var page = Now(
                        facts.Lines(query with { Limit = size, Cursor = cursor }, TestContext.Current.CancellationToken)
                    );
                    rows.AddRange(page.Lines.Select(l => l.Row));
                    cursor = page.Next;
                } while (cursor is not null);
                Assert.Equal(whole.Select(l => l.Row), rows);
            }
        }
    }

    [Fact]
    public void Entries_keep_the_side_of_a_limit()
    {
        var few = Ask("entries on fuel below 50 in january").Entries!;
        Assert.NotEmpty(few.Lines);
        Assert.All(few.Lines, l => Assert.True(Math.Abs(l.Amount) <= 50m));
        Assert.All(Ask("entries on fuel above 100 in january").Entries!.Lines, l => Assert.True(Math.Abs(l.Amount) >= 100m));
    }

    [Theory]
    [InlineData("duplicate invoices")]
    [InlineData("ageing of payables")]
    public void Without_a_table_of_items_that_is_said(string text) =>
        Assert.Contains("no records", FirstReader.Read(text).Because, StringComparison.Ordinal);

    [Theory]
    [InlineData(
        "fuel at Aldermouth in january",
        "who approved them",
        "Journals of January 2026 on Fuel, for Aldermouth, by approved by."
    )]
    [InlineData(
        "fuel at Aldermouth in january",
        "who prepared the largest",
        "Journals of January 2026 on Fuel, for Aldermouth, by prepared by, the largest."
    )]
    [InlineData("fuel by yard in february", "who keyed them in", "Journals of February 2026 on Fuel, by prepared by.")]
    public void Who_did_it_is_asked_of_what_was_shown(string first, string then, string sentence)
    {
        var shown = Ask(first);
        Assert.Equal(
            sentence,
            FirstReader.Read(then, new Previous(FormOne.FromKinds(shown.Question), shown.Table!.Grid)).Reading!.Sentence
        );
    }

    [Theory]
    [InlineData("journals by source and yard", "source,entity")]
    [InlineData("journals by month, source and preparer", "date,source,prepared-by")]
    [InlineData("journals by preparer by source", "prepared-by,source")]
    public void Journals_are_gathered_in_the_order_said(string text, string fields)
    {
        var answer = Ask(text);
        Assert.Equal(fields, string.Join(',', ((Kind.Records)answer.Question.Kind).Ask.By.Select(b => b.Field)));
        Assert.Equal(
            answer.Records!.Totals.Single(t => t.Title == "Count").Value,
            answer.Records.Rows.Sum(r =>
                decimal.Parse(r.Values[fields.Split(',').Length + 1]!, System.Globalization.CultureInfo.InvariantCulture)
            )
        );
    }

    [Theory]
    [InlineData("who has manual journals", "Say which of the two")]
    [InlineData("journals by source, preparer, approver, yard and month", "up to 4")]
    public void What_journals_do_not_tell_is_refused(string text, string because) =>
        Assert.Contains(because, FirstReader.Read(text).Because, StringComparison.Ordinal);

    [Theory]
    [InlineData("journals on fuel by account", "account")]
    [InlineData("per trip who approved fuel", "per fuel")]
    [InlineData("journals on fuel accounts", "")]
    public void What_was_recognised_and_is_not_in_the_question_is_named(string text, string unused) =>
        Assert.Equal(unused, string.Join(' ', FirstReader.Read(text).Reading!.Unused));

    [Fact]
    public void A_word_said_before_in_the_text_is_text() =>
        Assert.Equal(
            "Actual entries for Result, January 2026 to February 2026, whose text holds “fuel”.",
            FirstReader.Read("entries with fuel in the text").Reading!.Sentence
        );
}
