using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Names that a question does not speak of leave it as it is, whatever words they are made of; and what things are
/// called changes nothing but their name.</summary>
public sealed class BystanderTests
{
    private static readonly Book Book = SmallBook.Filled().Book();

    private static readonly string[] Questions =
    [
        "income vs budget by yard in march",
        "income by month this year, highest first",
        "why did fuel rise in march",
        "how fast is freight growing",
        "yards that missed budget by more than 5% in march",
        "top 3 accounts by variance in march",
        "share of each yard in income",
        "median monthly income of Corrie Bay",
        "compare fares and freight in march",
        "fuel excluding Birkhaven",
        "cumulative income by month",
        "average fuel per trip by yard",
        "is fuel over budget in march",
        "income by qtr and yard",
        "op costs by mth",
        "rolling 12 months fuel",
        "annualise fuel on the last 3 months",
        "list entries on fuel in march",
        "which yard has the highest income",
        "income minus fuel by yard",
        "forecast vs budget for march",
        "second worst yard versus budget in march",
        "how many trips did we run in march",
    ];

    /// <summary>Words of the questions that are no names of the book, each in a part of a name at its beginning, its end and its
    /// middle.</summary>
    public static TheoryData<string> Words()
    {
        var known = new BookWords(Book);
        return
        [
            .. Questions
                .SelectMany(Core.Language.Words.Tokens)
                .Where(t => t.Text.Length > 2 && t.Text.All(char.IsLetter) && !known.Knows(t.Stem))
                .Select(t => t.Text)
                .Distinct(StringComparer.OrdinalIgnoreCase),
        ];
    }

    private static string Read(Book book, string question)
    {
        var result = new FirstReader(book, new BookWords(book), Vocabulary.English).Read(question);
        return result.Outcome
            + ": "
            + (
                result.Question is { } asked
                    ? new ReadingWriter(book).Sentence(asked)
                    : string.Join(" / ", result.Choices.Select(c => c.Means))
            );
    }

    private static Book WithMember(int dimension, string like, string name) =>
        Book.With([
            .. Book.Members,
            Book.Members.Single(m => m.DimensionId == dimension && m.Code == like) with
            {
                Id = 999,
                Code = "ZQX9",
                Name = name,
                Order = 999,
                OtherNames = [],
            },
        ]);

    [Theory]
    [MemberData(nameof(Words))]
    public void A_name_that_holds_a_word_of_the_question_is_not_taken_for_it(string word)
    {
        var name = char.ToUpperInvariant(word[0]) + word[1..].ToLowerInvariant();
        var asked = Questions.Where(q => q.Split(' ').Contains(word)).ToList();
        foreach (
            var (dimension, like) in new[]
            {
                (SmallBook.EntityDim, "N1"),
                (SmallBook.AccountDim, "RENT"),
                (SmallBook.AccountDim, "FREIGHT"),
                (SmallBook.RouteDim, "R1"),
            }
        )
        foreach (var called in new[] { $"{name} zorvane", $"Zorvane {word}", $"Zorvane {word} quell" })
        foreach (var question in asked)
        {
            var read = Read(WithMember(dimension, like, called), question);
            // Asking which is meant is right as well.
            if (!read.StartsWith("AsksBack", StringComparison.Ordinal))
                Assert.Equal((called, Read(Book, question)), (called, read));
        }
    }

    [Theory]
    [InlineData("line")]
    [InlineData("works")]
    [InlineData("store")]
    [InlineData("post")]
    [InlineData("row")]
    [InlineData("market")]
    [InlineData("team")]
    [InlineData("project")]
    [InlineData("term")]
    [InlineData("order")]
    public void A_level_may_be_called_by_a_word_of_the_language(string level)
    {
        var title = char.ToUpperInvariant(level[0]) + level[1..];
        var definition = Book.Definition with
        {
            Dimensions =
            [
                .. Book.Definition.Dimensions.Select(d =>
                    d.Role == DimensionRole.Entity ? d with { Levels = ["Region", title], OtherNames = [] } : d
                ),
            ],
        };
        var renamed = new Book(definition, Book.Edition, Book.Members);
        var plural = level.EndsWith('s') ? level : level + "s";
        string Called(string text) =>
            text.Replace("yards", plural, StringComparison.Ordinal).Replace("yard", level, StringComparison.Ordinal);
        foreach (var question in Questions.Where(q => q.Contains("yard", StringComparison.Ordinal)))
            Assert.Equal(Called(Read(Book, question)), Read(renamed, Called(question)));
    }

    [Theory]
    [InlineData("income of the Harbour Yard in march", "Harbour dues")]
    [InlineData("how many trips did we fit in march", "Fit-out")]
    [InlineData("fuel by host in march", "Host fees")]
    public void A_name_is_not_met_halfway(string question, string called)
    {
        var book = WithMember(SmallBook.AccountDim, "RENT", called);
        Assert.DoesNotContain(called, Read(book, question), StringComparison.Ordinal);
    }
}
