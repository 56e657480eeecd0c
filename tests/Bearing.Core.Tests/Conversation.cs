using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Variance;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Questions to the small book, each read after the answer to the one before.</summary>
internal static class Conversation
{
    private static readonly SmallBook Filled = SmallBook.Filled();
    private static readonly Book Book = Filled.Book();

    public static FirstReader Small { get; } = new(Book, new BookWords(Book), Vocabulary.English);

    public static Answer Answered(Question question) =>
        SmallBook.Now(new Answerer(Book, Filled.Facts()).Answer(question, TestContext.Current.CancellationToken));

    public static Previous After(string text, Previous? before = null)
    {
        var read = Small.Read(text, before);
        Assert.True(read.Question is not null, $"{text}: {read.Because} {string.Join(" / ", read.Choices.Select(c => c.Means))}");
        var answer = Answered(read.Question.ToKinds());
        return new Previous(FormOne.FromKinds(answer.Question), answer.Table?.Grid ?? new Grid([], [], "", 2));
    }

    /// <summary>The last of several texts.</summary>
    public static ReadResult Walk(string texts)
    {
        var all = texts.Split(" > ");
        Previous? before = null;
        foreach (var text in all[..^1])
            before = After(text, before);
        return Small.Read(all[^1], before);
    }

    /// <summary>The last of the texts is understood as the sentence says, with no word unused.</summary>
    public static void Says(string texts, string sentence)
    {
        var read = Walk(texts);
        Assert.True(
            read.Outcome == ReadingOutcome.Understood,
            $"{read.Because} {string.Join(" / ", read.Choices.Select(c => c.Means))}"
        );
        Assert.Equal(sentence, read.Reading!.Sentence);
        Assert.Empty(read.Reading.Unused);
    }

    /// <summary>The last of the texts is refused, with the reason.</summary>
    public static void Refuses(string texts, string because)
    {
        var read = Walk(texts);
        Assert.True(read.Outcome == ReadingOutcome.CannotAnswer, $"{read.Outcome} {read.Reading?.Sentence}");
        Assert.Contains(because, read.Because, StringComparison.Ordinal);
    }
}
