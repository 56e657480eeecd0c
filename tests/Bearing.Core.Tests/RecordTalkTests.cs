using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>What the second reader makes of talks about records: bills of suppliers in the small book, where it is the end of
/// March 2026.</summary>
public sealed class RecordTalkTests
{
    private static readonly Book Book = SmallBook.Filled().Book();
    private static readonly Reader Reader = new(Book, new BookWords(Book), Vocabulary.English);

    /// <summary>One row for each of these suppliers, gathered.</summary>
    private static RecordTable Suppliers(params string[] names) =>
        new(
            [
                new RecordColumn("supplier", "Supplier", FieldType.Text),
                new RecordColumn("open", "Open", FieldType.Amount),
                new RecordColumn("count", "Count", FieldType.Quantity),
            ],
            [.. names.Select(n => new RecordTableRow([n, "10.00", "1"], 0, 0))],
            [("Open", 10m * names.Length), ("Count", names.Length)],
            names.Length
        );

    private static string? Read(string text, Talk? talk = null) => Reader.Read(text, talk ?? Talk.New)?.Reading?.Sentence;

    private static Talk After(string text, RecordTable? shown = null) =>
        new([new Turn(Reader.Read(text, Talk.New)!.Question!.ToKinds(), null, shown)]);

    [Theory]
    [InlineData(
        "open supplier bills at Aldermouth",
        "crane, the whole group",
        "Supplier bills as at the end of March 2026: still open, service is Crane."
    )]
    [InlineData(
        "how many supplier bills are open",
        "the largest of those",
        "Supplier bills as at the end of March 2026: still open, the largest."
    )]
    [InlineData(
        "how many supplier bills are open",
        "how many of those for crane",
        "How many: Supplier bills as at the end of March 2026: still open, service is Crane."
    )]
    public void What_a_turn_changes_of_a_list(string first, string then, string sentence) =>
        Assert.Equal(sentence, Read(then, After(first)));

    [Fact]
    public void That_supplier_is_the_one_of_the_row_that_was_shown() =>
        Assert.Equal(
            "Supplier bills as at the end of March 2026: supplier is Norrholm Cranes, still open.",
            Read("what is still open to that supplier", After("the largest supplier bill", Suppliers("Norrholm Cranes")))
        );

    [Fact]
    public void That_supplier_is_none_of_several() =>
        Assert.Null(
            Read(
                "what is open to that supplier",
                After("the 2 largest supplier bills", Suppliers("Norrholm Cranes", "Alder Berths"))
            )
        );

    [Theory]
    [InlineData("how many supplier bills", "How many: Supplier bills as at the end of March 2026.")]
    [InlineData("overdue supplier bills", "Supplier bills as at the end of March 2026: overdue.")]
    [InlineData(
        "supplier bills for crane in february",
        "Supplier bills as at the end of February 2026: service is Crane, bill date in February 2026."
    )]
    [InlineData(
        "supplier bills in february without crane",
        "Supplier bills as at the end of February 2026: service is not Crane, bill date in February 2026."
    )]
    [InlineData(
        "supplier bills for crane or berthing",
        "Supplier bills as at the end of March 2026: service is Crane or Berthing."
    )]
    [InlineData("open supplier bills at Aldermouth", "Supplier bills as at the end of March 2026: still open, for Aldermouth.")]
    [InlineData(
        "gross value and net value of supplier bills by service",
        "Supplier bills as at the end of March 2026, by service, with net value beside the gross value."
    )]
    [InlineData(
        "open supplier bills aged 1-10, 11-40 and over 40 days",
        "Supplier bills as at the end of March 2026: still open, aged by days past the due date: up to 10, 40 and over."
    )]
    [InlineData("the 3 largest open supplier bills", "Supplier bills as at the end of March 2026: still open, the 3 largest.")]
    public void A_question_of_records(string text, string sentence) => Assert.Equal(sentence, Read(text));

    [Theory]
    [InlineData("only crane", "Supplier bills as at the end of March 2026: still open, service is Crane.")]
    [InlineData("at Aldermouth", "Supplier bills as at the end of March 2026: still open, for Aldermouth.")]
    [InlineData("by service", "Supplier bills as at the end of March 2026: still open, by service.")]
    [InlineData("the overdue ones", "Supplier bills as at the end of March 2026: overdue.")]
    [InlineData("over 20k", "Supplier bills as at the end of March 2026: still open, of at least 20,000.")]
    public void A_turn_changes_what_it_names_and_keeps_the_rest(string turn, string sentence) =>
        Assert.Equal(sentence, Read(turn, After("open supplier bills")));

    [Fact]
    public void Bills_after_a_ranking_are_those_of_whoever_it_kept() =>
        Assert.Equal(
            "Supplier bills as at the end of March 2026: still open, supplier is Harl & Sons.",
            Read("list those supplier bills", After("open supplier bills by supplier, the largest", Suppliers("Harl & Sons")))
        );

    [Fact]
    public void The_second_one_is_the_second_that_was_shown() =>
        Assert.Equal(
            "Supplier bills as at the end of March 2026: still open, supplier is Quay Stores.",
            Read(
                "show the supplier bills of the second one",
                After("open supplier bills by supplier, the 2 largest", Suppliers("Harl & Sons", "Quay Stores"))
            )
        );

    [Fact]
    public void What_the_records_do_not_tell_is_no_reading() => Assert.Null(Read("supplier bills paid late"));

    [Fact]
    public void A_figure_of_records_that_do_not_tell_the_account_is_no_reading() =>
        Assert.Null(Read("overdue fuel supplier bills"));
}
