using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>One stage of a reading, as it can be shown to whoever wants to know how a text was read.</summary>
public sealed record ReadingStage(string Name, ImmutableArray<string> Lines);

public sealed partial class Reader
{
    private const int MostLines = 40;

    /// <summary>What each stage of a reading makes of a text: meanings of its words, parts made by rules, ways to read all of it,
    /// and the questions that these make.</summary>
    public ImmutableArray<ReadingStage> How(string text, Talk talk)
    {
        if (Parse(text) is not { } parsed)
            return [new ReadingStage("words", ["too few or too many of them"])];
        var tries = Tries(parsed, talk);
        var readings = Readings(tries);
        var best = readings.IsEmpty ? null : readings[0];
        return
        [
            new ReadingStage("words", [string.Join(' ', parsed.Tokens.Select((t, i) => $"{Plain(i)}:{t.Stem}"))]),
            new ReadingStage(
                "meanings",
                [
                    .. parsed
                        .Found.OrderBy(m => m.Start)
                        .ThenBy(m => m.Cost)
                        .Select(m =>
                            $"{Plain(m.Start)}-{Plain(m.End)} {m.Kind} {m.Value} ({Plain((int)Math.Round(m.Cost * 100))})"
                        ),
                ]
            ),
            new ReadingStage(
                "parts",
                [
                    .. Enumerable
                        .Range(0, parsed.Tokens.Count)
                        .SelectMany(at => parsed.Chart.From(at).OrderBy(p => p.Price))
                        .Select(p => $"{Plain(p.Start)}-{Plain(p.End)} {p.Item} ({Plain(p.Price)})"),
                ]
            ),
            new ReadingStage(
                "ways to read all of it",
                [.. parsed.Covers.Select(c => $"({Plain(c.Price)}) {string.Join(" + ", c.Parts.Select(p => p.Item))}")]
            ),
            new ReadingStage(
                "questions",
                [
                    .. readings
                        .Take(MostLines)
                        .Select(r =>
                            $"({Plain(r.Filled.Price)}) {(r.Filled.Kept.IsEmpty ? "of its own" : "goes on")}: {new ReadingWriter(book).Sentence(FormOne.FromKinds(r.Filled.Question))}"
                        ),
                ]
            ),
            new ReadingStage(
                "decided",
                [
                    best is null ? "no question was made"
                    : best.Said.Price > Cheapest(tries, talk) ? "a cheaper way to read it makes no question here"
                    : Idle(best, talk, parsed.YesNo) is { IsEmpty: false } idle
                        ? $"without effect: {string.Join(", ", idle.Select(p => Text(p, parsed.Tokens)))}"
                    : Taken(parsed, tries, talk) is null ? "several questions are as likely"
                    : "the first",
                ]
            ),
        ];
    }

    private static string Plain(int number) => number.ToString(CultureInfo.InvariantCulture);
}
