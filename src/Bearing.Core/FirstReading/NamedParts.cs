using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Variance;

namespace Bearing.Core.FirstReading;

/// <summary>
/// Parts of a question that were given one by one, as options of a command line are. Each is read by itself and has to be of its
/// own sort, so that no part can be taken for another, and none can change what another means.
/// </summary>
public sealed class NamedParts(Book book, BookWords words, Vocabulary vocabulary)
{
    private readonly FirstReader _reader = new(book, words, vocabulary);

    /// <summary>The figure as it stands, in the usual period; the result of the book where no figure is named.</summary>
    /// <exception cref="CannotAnswerException">When it is not the name, or the code, of a figure.</exception>
    public Question About(string? figure) =>
        figure is null
            ? Usual()
            : Read(figure, figure, "figure", "a figure, such as an account or a line of the result").ToKinds();

    /// <summary>A dimension's level, or a grain of time.</summary>
    public Breakdown Split(string level) =>
        Read($"by {level}", level, "breakdown", "a level to split by, such as month or a level of a dimension").Breakdowns
            is [var one]
            ? one
            : throw NotOne(level, "a level to split by");

    /// <summary>A plan, the year before, or another side to compare with.</summary>
    public Side Base(string side) =>
        Read($"versus {side}", side, "base", "a side to compare with, such as budget or last year").Bases is [var one]
            ? one
            : throw NotOne(side, "a side to compare with");

    /// <summary>A member of any dimension.</summary>
    public Filter Member(string member) =>
        Read($"for {member}", member, "filter", "a member of a dimension").Filters is [var one]
            ? one
            : throw NotOne(member, "a member of a dimension");

    /// <summary>One or more fiscal periods in a row.</summary>
    public PeriodSpan Period(string period)
    {
        if (PeriodSpan.TryParse(period, out var span))
            return span;
        return Read($"in {period}", period, "period", "a period, such as September 2026 or year to date").Spans is [var one]
            ? one
            : throw NotOne(period, "a period");
    }

    private Question Usual()
    {
        if (book.Definition.Statement is not [.., var result] || book.CurrentPeriod is not { } now)
            throw new CannotAnswerException("The book has no result to show. Name a figure.");
        return Question.About(new FigureRef(FigureKind.Measure, result.Code), PeriodSpan.Of(now));
    }

    private FormOneQuestion Read(string text, string name, string part, string what)
    {
        // As if it followed on the result, so that nothing but the part itself is left to be asked back.
        var read = _reader.Read(
            text,
            part == "figure" ? null : new Previous(FormOne.FromKinds(Usual()), new Grid([], [], "", 2))
        );
        if (read.Outcome == ReadingOutcome.AsksBack)
            throw new CannotAnswerException(
                $"“{name}” may be {string.Join("; or ", read.Choices.Select(c => c.Means.TrimEnd('.')))}. Give its code."
            );
        var others = read.Reading?.Parts.Where(p => p.Words.Length > 0 && p.Part != part) ?? [];
        return
            read is { Outcome: ReadingOutcome.Understood, Question: { } question, Reading.Unused.IsEmpty: true } && !others.Any()
            ? question
            : throw NotOne(name, what, part == "figure" ? [.. read.Nearest] : []);
    }

    private static CannotAnswerException NotOne(string name, string what, params string[] nearest) =>
        new($"“{name}” is not the name of {what}.", nearest);
}
