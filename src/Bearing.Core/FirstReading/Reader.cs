using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>
/// Reads plain language: text → tokens → mentions (all candidate meanings) → coverings → drafts → the cheapest question.
/// A pure function of text, book and previous question.
/// </summary>
public sealed partial class FirstReader(Book book, BookWords words, Vocabulary vocabulary)
{
    public const int LongestText = 1_000;
    private const int MostTokens = 80;
    private const int MostChoices = 5;

    /// <summary>A runner-up within this price of the winner that means something else leads to asking back.</summary>
    internal const double Margin = 0.12;

    /// <summary>What composing a covering can take off its price at most.</summary>
    private const double MostRebate = 0.6;

    /// <summary>A reading dearer by this than one that the book cannot answer is not what was meant.</summary>
    private const double MuchDearer = 0.3;

    /// <summary>What is to be offered is read first, by a reader that offers nothing: offers of offers would have no
    /// end.</summary>
    private bool Offers { get; init; } = true;

    private FirstReader WithoutOffers => new(book, words, vocabulary) { Offers = false };

    private bool CanOffer(string text, Asked instead) =>
        Offers
        && WithoutOffers.Read(text, instead.Previous, instead.Shared)
            is { Outcome: ReadingOutcome.Understood, Also.IsEmpty: true };

    /// <summary>The demands of a text, in the order said; each is read and answered after the one before.</summary>
    public ImmutableArray<Demand> Demands(string text)
    {
        if (text.Length > LongestText)
            return [new Demand(text, [])];
        if (Overview(text) is { } overview)
            return overview;
        var sentences = new DemandSplitter(vocabulary, new SettledMentions(vocabulary, book, words)).Split(text);
        return sentences is [[var only]] ? [new Demand(only, [])] : Sharing(sentences);
    }

    /// <summary>Whether it asks for what stands out, and is answered by several demands.</summary>
    public bool IsOverview(string text) => text.Length <= LongestText && Overview(text) is not null;

    /// <summary>A period said once holds for what follows, and within one sentence for what stands before it.</summary>
    private ImmutableArray<Demand> Sharing(List<List<string>> sentences)
    {
        var demands = ImmutableArray.CreateBuilder<Demand>();
        ImmutableArray<PeriodSpan> before = [];
        foreach (var parts in sentences)
        {
            var said = parts.ConvertAll(SaidPeriods);
            for (var i = 0; i < parts.Count; i++)
            {
                var own = said[i].Length > 0;
                // By month wants the months that are usual, not one that was said of something else.
                demands.Add(
                    new Demand(
                        parts[i],
                        own || SplitsTime(parts[i]) ? []
                            : before.Length > 0 ? before
                            : said.Find(s => s.Length > 0) is { IsDefault: false } later ? later
                            : []
                    )
                );
                if (own)
                    before = said[i];
            }
        }
        return demands.ToImmutable();
    }

    /// <summary>"Everything about fuel in August": the demands that make an overview, each following up on the one
    /// before.</summary>
    private ImmutableArray<Demand>? Overview(string text)
    {
        var tokens = Words.Tokens(text);
        if (
            new SettledMentions(vocabulary, book, words)
                .Find(tokens)
                .Where(m => m.Kind == MentionKind.Overview)
                .MaxBy(m => m.Length)
            is not { } lead
        )
            return null;
        var end = lead.End < tokens.Count ? tokens[lead.End].Start : text.Length;
        var about = string.Concat(text.AsSpan(0, tokens[lead.Start].Start), text.AsSpan(end)).Trim().TrimEnd('?', '!', '.');
        // One month has no course of its own.
        var single = SaidPeriods(about) is [{ Count: 1 }];
        return
        [
            .. vocabulary
                .Overview[lead.Value]
                .Where(o => !single || !SplitsTime(o))
                .Select(o => new Demand(string.Format(CultureInfo.InvariantCulture, o, about).Trim(), [])),
        ];
    }

    /// <summary>"By month", which "last year" is not.</summary>
    private bool SplitsTime(string text)
    {
        var mentions = new SettledMentions(vocabulary, book, words).Find(Words.Tokens(text));
        return mentions.Exists(m =>
            m.Kind == MentionKind.Grain
            && !mentions.Exists(o => o.Kind is MentionKind.Period or MentionKind.Scenario && o.Start <= m.Start && o.End >= m.End)
        );
    }

    private ImmutableArray<PeriodSpan> SaidPeriods(string text)
    {
        var read = WithoutOffers.Read(text);
        var says = read.Reading?.Parts.Any(p => p.Part == "period" && p.Words.Length > 0) == true;
        return says && (read.Question ?? read.Choices.FirstOrDefault()?.Question) is { } question ? question.Spans : [];
    }

    /// <summary>A text on its way to a question: what was typed, the words that are left of it, and what goes on around
    /// it.</summary>
    private sealed record Asked(
        string Text,
        List<Token> Tokens,
        SettledMentions Finder,
        Previous? Previous,
        ImmutableArray<PeriodSpan> Shared
    )
    {
        /// <summary>What was said aside, in words: it is told among the assumptions.</summary>
        public required ImmutableArray<string> Asides { get; init; }

        /// <summary>"Did it …", "cleaning: was it …".</summary>
        public required bool YesOrNo { get; init; }
    }

    /// <summary>One covering, composed and resolved.</summary>
    private sealed record Candidate(Covering Covering, Draft Draft, Resolved Resolved, double Cost)
    {
        public FormOneQuestion Question => Resolved.Question;
    }

    private ReadResult Whole(string text, Previous? previous, ImmutableArray<PeriodSpan> shared)
    {
        if (text.Length > LongestText)
            return Cannot(
                $"The question has {text.Length:N0} characters; up to {LongestText:N0} can be read. Ask for one thing at a time."
            );
        var tokens = Words.Tokens(text);
        if (tokens.Count == 0)
            return Cannot("There are no words in the question. Try “operating profit versus budget by entity”.");
        if (tokens.Count > MostTokens)
            return Cannot($"The question has {tokens.Count} words; up to {MostTokens} can be read. Ask for one thing at a time.");
        var asked = Prepare(text, tokens, previous, shared);
        var mentions = asked.Finder.Find(tokens);
        // "New question: revenue by month" follows up on nothing.
        if (mentions.Exists(m => m is { Kind: MentionKind.Walk, Value: "afresh", Start: 0 }))
            asked = asked with { Previous = null };
        var (candidates, lacks) = Weigh(asked, Coverings.Best(tokens, mentions));
        // Dropping words is no way round what the book lacks, and what is known to be beyond it is not read as something else.
        if (lacks is { } lack && (candidates.Count == 0 || lack.Cost + (lack.Beyond ? 0 : MuchDearer) < candidates[0].Cost))
            return Cannot(lack.Why.Message, [.. lack.Why.Nearest.Concat(WithoutNot(asked))]);
        return Decide(asked, candidates);
    }

    /// <summary>Takes off what is no part of the question, and reads ranges, amounts and joined words as such.</summary>
    private Asked Prepare(string text, List<Token> tokens, Previous? previous, ImmutableArray<PeriodSpan> shared)
    {
        var finder = new SettledMentions(vocabulary, book, words);
        LeaveOutPoliteness(tokens);
        LeaveOutSignature(tokens, finder);
        var leadIn = LeadIn(text, tokens, finder);
        LeaveOutPoliteness(tokens);
        Lower(tokens);
        Heads(tokens);
        Topic(text, tokens, finder);
        var remark = Remark(text, tokens);
        var defined = DefinedName(text, tokens);
        Scaled(text, tokens);
        Signs.Between(text, tokens, vocabulary, words);
        Split(tokens);
        var asides = new[]
        {
            defined is null ? null : $"“{defined}” is what this is to be called",
            leadIn is null ? null : $"“{leadIn}” leads to the question and is no part of it",
            remark is null ? null : $"“{remark}” is a remark",
        };
        return new Asked(text, tokens, finder, previous, shared)
        {
            Asides = [.. asides.OfType<string>()],
            YesOrNo = AsksYesOrNo(text, tokens),
        };
    }

    /// <summary>Every covering that may win, composed and resolved, cheapest first; and the cheapest of those that the book
    /// cannot answer.</summary>
    private (List<Candidate> Candidates, (CannotAnswerException Why, double Cost, bool Beyond)? Lacks) Weigh(
        Asked asked,
        IReadOnlyList<Covering> coverings
    )
    {
        var candidates = new List<Candidate>();
        (CannotAnswerException Why, double Cost, bool Beyond)? lacks = null;
        var composer = new Composer(book, vocabulary);
        foreach (var covering in coverings)
        {
            // Coverings come cheapest first, and nothing that follows makes one cheaper than this allows.
            if (candidates.Count > 0 && covering.Cost - MostRebate > candidates.Min(r => r.Cost) + Margin)
                break;
            var price = covering.Cost;
            try
            {
                var draft = composer.Compose(covering);
                price += draft.Cost;
                if (draft.Periods.Count == 0 && draft.BasePeriod is null && !asked.Shared.IsDefaultOrEmpty)
                    draft.Periods.AddRange(asked.Shared.Select(s => new PeriodItem(0, 0, s, true)));
                var content = covering.Mentions.Count(m =>
                    m.Kind is not (MentionKind.Filler or MentionKind.Place or MentionKind.And or MentionKind.Quantifier)
                );
                var resolved = new Resolver(book, vocabulary, asked.Previous).Resolve(draft, content);
                if (!covering.Mentions.Any(m => m.Value == "m:" + Book.AllCosts + "#lines"))
                    resolved = resolved with { Question = InOwnCosts(resolved.Question) };
                candidates.Add(new Candidate(covering, draft, resolved, covering.Cost + resolved.Cost));
            }
            catch (CannotAnswerException e)
            {
                if (lacks is null || price < lacks.Value.Cost)
                    lacks = (e, price, covering.Mentions.Any(m => m.Kind == MentionKind.Beyond));
            }
        }
        return ([.. candidates.OrderBy(r => r.Cost)], lacks);
    }

    /// <summary>All costs are those that the book itself calls so, where it has a heading for them.</summary>
    private FormOneQuestion InOwnCosts(FormOneQuestion question) =>
        words.OwnCosts is { } own
        && question.Figure is { Kind: FigureKind.Measure } figure
        && (
            figure.Code == Book.AllCosts
                ? new FigureRef(FigureKind.Account, own[2..])
                : figure with
                {
                    Code = figure.Code.Replace("m:" + Book.AllCosts, own, StringComparison.Ordinal),
                }
        )
            is var called
        && book.Figure(called) is not null
            ? question with
            {
                Figure = called,
            }
            : question;

    private static ReadResult Cannot(string because, params string[] nearest) =>
        new(ReadingOutcome.CannotAnswer, null, null, [], because, [.. nearest]);
}
