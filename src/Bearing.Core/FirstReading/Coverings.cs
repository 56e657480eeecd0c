using Bearing.Core.Language;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>A choice of mentions that do not overlap, and the words left over.</summary>
public sealed record Covering(IReadOnlyList<Mention> Mentions, IReadOnlyList<int> Unused, double Cost);

/// <summary>Finds the cheapest coverings of a text, all candidate meanings weighed together.</summary>
public static class Coverings
{
    private const int Kept = 64;

    /// <summary>A word without a use costs more than any reading of it would.</summary>
    private const double UnusedWord = 4.0;
    private const double UnusedSign = 0.6;

    private sealed record Step(Step? Before, Mention? Mention, int Position, double Cost);

    public static IReadOnlyList<Covering> Best(IReadOnlyList<Token> tokens, IReadOnlyList<Mention> mentions)
    {
        var starting = mentions.ToLookup(m => m.Start);
        var states = Enumerable.Range(0, tokens.Count + 1).Select(_ => new List<Step>()).ToArray();
        states[0].Add(new Step(null, null, 0, 0));
        for (var at = 0; at < tokens.Count; at++)
        {
            foreach (var step in states[at].OrderBy(s => s.Cost).Take(Kept))
            {
                states[at + 1]
                    .Add(
                        new Step(
                            step,
                            null,
                            at,
                            step.Cost
                                + (
                                    tokens[at].Stem.Any(char.IsLetterOrDigit) ? UnusedWord
                                    : tokens[at].Text is "%" or "/" || (tokens[at].Stem == "-" && starting[at].Any()) ? UnusedSign
                                    : 0
                                )
                        )
                    );
                foreach (var mention in starting[at])
                    states[mention.End].Add(new Step(step, mention, at, step.Cost + mention.Cost));
            }
        }
        return [.. states[^1].OrderBy(s => s.Cost).Take(Kept).Select(s => ToCovering(s, tokens))];
    }

    private static Covering ToCovering(Step last, IReadOnlyList<Token> tokens)
    {
        var mentions = new List<Mention>();
        var unused = new List<int>();
        for (var step = last; step.Before is not null; step = step.Before)
        {
            if (step.Mention is { } mention)
                mentions.Insert(0, mention);
            else if (tokens[step.Position].Stem.Any(char.IsLetterOrDigit))
                unused.Insert(0, step.Position);
        }
        return new Covering(mentions, unused, last.Cost);
    }
}
