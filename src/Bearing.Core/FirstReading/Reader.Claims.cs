using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>Questions for a yes or a no, and what they claim.</summary>
public sealed partial class FirstReader
{
    /// <summary>The question with what is claimed of it, and the further ones of which it is told as well; null where nothing is
    /// claimed.</summary>
    private (FormOneQuestion Question, ImmutableArray<FormOneQuestion> Also)? Claimed(Candidate best)
    {
        var (question, draft) = (best.Question, best.Draft);
        if (question.Part is { } part && draft.PartClaim is { } most)
            return (question with { Part = part with { Claim = most } }, []);
        if (question is { Part: { } place, Share: false })
            return (question with { Part = place with { Claim = PartClaim.First } }, []);
        if (draft.Sign != 0 && question.Bases.Length == 0)
        {
            var signed = question with { Claim = draft.Sign > 0 ? Direction.Over : Direction.Under };
            if (question.Breakdowns.IsEmpty)
                return (signed, []);
            if (draft.Quantifier is { } of)
                return (signed with { ClaimOf = of, Conditions = of == Quantifier.Every ? [] : signed.Conditions }, []);
        }
        if (
            draft.DifferenceClaim is { } better
            && question is { Statistic: RowStatistic.Difference } or { Than: not null }
            && question is { Bases.Length: 0 } or { Growth: true }
        )
            return (question with { Claim = better }, Further(best.Resolved));
        if (draft.GapClaim is { } grows && question is { Bases.Length: 1, Cumulative: true })
            return (question with { Claim = grows, ClaimOf = Quantifier.Gap }, []);
        // Any of which it is so in every month are named: they are the answer.
        if (
            question is { Bases.Length: > 0, ClaimOf: null, Part: null }
            && (draft.Direction ?? OfAny(draft, question)) is { } claim
            && (claim != Direction.Either || draft.Direction is null)
        )
            return (
                question with
                {
                    Claim = claim,
                    ClaimOf = draft.Quantifier,
                },
                [.. Further(best.Resolved).Select(q => q with { Claim = claim, ClaimOf = draft.Quantifier })]
            );
        return null;
    }

    /// <summary>Figures, of which nothing is claimed that shows in them.</summary>
    private static bool IsPlain(Candidate best) =>
        best.Question
            is {
                Intent: Intent.Value or Intent.Variance,
                Records: null,
                Document: null,
                Projection: null,
                Statistic: null
            } question
        && question.Conditions.All(c => c.On is ConditionOn.New or ConditionOn.Ended)
        && (question.Conditions.IsEmpty || best.Covering.Unused.Count > 0);

    /// <summary>"Are guests happier": what is claimed is not known, so that the figures alone would answer something
    /// else.</summary>
    private ReadResult NotTold(Asked asked, Candidate best)
    {
        var words = Unused(asked, best);
        return Cannot(
            $"{string.Join(", ", words.Take(5).Select(w => $"“{w}”"))} {(words.Length == 1 ? "is" : "are")} not known in this book, so neither yes nor no can be told.",
            [.. book.Figure(best.Question.Figure) is { } figure ? (string[])[figure.Name] : []]
        ) with
        {
            Unknown = words,
        };
    }

    /// <summary>"Did it …", "cleaning: was it …".</summary>
    private bool AsksYesOrNo(string text, List<Token> tokens)
    {
        var behind = text.IndexOfAny([':', '–', '—']);
        return vocabulary.ClaimsAt(tokens, 0)
            || (behind > 0 && tokens.FindIndex(t => t.Start > behind) is > 0 and var from && vocabulary.ClaimsAt(tokens, from));
    }

    /// <summary>"Is any account more than 10% over budget?": what the limit claims of the rows; "can we still make the budget?":
    /// that the year beats it. Null where nothing is claimed.</summary>
    private static Direction? OfAny(Draft draft, FormOneQuestion question) =>
        question.Projection is Projection.Outlook or Projection.RunRate ? Direction.For
        : draft.Quantifier == Quantifier.Any && !question.Conditions.IsEmpty ? question.Conditions[0].Direction
        : null;
}
