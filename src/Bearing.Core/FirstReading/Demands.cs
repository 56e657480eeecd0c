using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>One demand of a text that may hold several.</summary>
/// <param name="Text">As typed.</param>
/// <param name="Shared">Periods that its sentence names once for all of its demands; empty when it names its own.</param>
public sealed record Demand(string Text, ImmutableArray<PeriodSpan> Shared);

/// <summary>
/// Cuts a text into the demands that it holds: sentences, and within one the parts that begin with a connector and a word that
/// opens a demand ("and list …", "and why"). What is only polite is no demand.
/// </summary>
internal sealed class DemandSplitter(Vocabulary vocabulary, SettledMentions finder)
{
    private const int LongestOpener = 3;

    /// <summary>Words up to this length before a full stop are abbreviations sooner than ends of sentences.</summary>
    private const int Abbreviation = 3;

    /// <summary>Each sentence with its demands; a text without words is one demand as it stands.</summary>
    public List<List<string>> Split(string text)
    {
        var sentences = new List<string>();
        foreach (var sentence in Sentences(text).Where(s => Words.Tokens(s).Exists(t => !IsPolite(t))))
        {
            // What does not begin a demand of its own says more about the one before it: "who do we owe the most? top 5".
            if (sentences.Count > 0 && !IsFurther(sentence, sentences[^1]))
                sentences[^1] += sentence;
            else
                sentences.Add(sentence);
        }
        return sentences.Count == 0
            ?
            [
                [text],
            ]
            : sentences.ConvertAll(Parts);
    }

    /// <summary>"Revenue by month. Why did it fall?" are two; "outlook = actuals plus forecast. What does that give?" is a
    /// statement and its question.</summary>
    private bool IsFurther(string sentence, string before)
    {
        var tokens = Words.Tokens(sentence);
        return IsDemand(before)
            ? Begins(tokens, true)
            : Begins(tokens, false)
                && finder
                    .Find(Words.Tokens(before))
                    .Exists(m =>
                        m.Kind is MentionKind.Figure or MentionKind.Member or MentionKind.Records or MentionKind.Statement
                    );
    }

    /// <summary>Something asked, and not a statement for what follows.</summary>
    private bool IsDemand(string sentence) => sentence.TrimEnd().EndsWith('?') || Begins(Words.Tokens(sentence), true);

    /// <param name="asks">Whether a word that only asks, such as what or is, begins a demand as well.</param>
    private bool Begins(List<Token> tokens, bool asks)
    {
        bool Asks(Token token) => vocabulary.Claims.Contains(token.Stem) || vocabulary.Asking.Contains(token.Stem);
        var at = 0;
        while (at < tokens.Count && !Opens(tokens, at) && !Asks(tokens[at]) && IsPolite(tokens[at]))
            at++;
        return at < tokens.Count && (Opens(tokens, at) || (asks && Asks(tokens[at])));
    }

    private IEnumerable<string> Sentences(string text)
    {
        var start = 0;
        for (var at = 0; at < text.Length; at++)
        {
            if (!(text[at] is '?' or '!' or ';' or '\n' || (text[at] == '.' && EndsSentence(text, start, at))))
                continue;
            yield return text[start..(at + 1)];
            start = at + 1;
        }
        if (start < text.Length)
            yield return text[start..];
    }

    private bool EndsSentence(string text, int start, int at)
    {
        if (at + 1 >= text.Length || !char.IsWhiteSpace(text[at + 1]))
            return at + 1 >= text.Length;
        var word = text[start..at].Split(' ')[^1];
        // An initial: "journals by R. Vale".
        if (word.Length == 1 && char.IsUpper(word[0]))
            return false;
        return !word.Contains('.', StringComparison.Ordinal)
            && !vocabulary.Abbreviations.ContainsKey(Words.Stem(word))
            && (
                word.Length > Abbreviation
                || (word.Length == Abbreviation && char.IsUpper(text[(at + 1)..].TrimStart().FirstOrDefault()))
            );
    }

    private List<string> Parts(string sentence)
    {
        var tokens = Words.Tokens(sentence);
        var parts = new List<string>();
        var from = 0;
        for (var at = 1; at < tokens.Count; at++)
        {
            var whole = tokens[at - 1].Text == "," || IsConnector(tokens[at - 1]);
            if (!whole && !IsWith(tokens[at - 1]))
                continue;
            var connector = at - 1;
            while (connector > from && (IsConnector(tokens[connector - 1]) || tokens[connector - 1].Text == ","))
                connector--;
            if (
                whole
                && IsWhole(tokens[from..connector], false)
                && IsWhole(tokens[at..], true)
                && !SharesEnding(tokens, connector)
            )
            {
                parts.Add(Text(sentence, tokens, from, connector));
                from = at;
                continue;
            }
            if (tokens[at - 1].Text == ",")
                continue;
            // A list holds no comparison, so that what is asked behind it is asked for itself.
            if (
                !Opens(tokens, at)
                && !SpeaksOfRows(tokens[from..connector], tokens[at..])
                && !(vocabulary.Asking.Contains(tokens[at].Stem) && Lists(tokens[from..connector]))
            )
                continue;
            if (IsWith(tokens[at - 1]) && !SpeaksOfRows(tokens[from..connector], tokens[at..]))
                continue;
            if (
                AreStates(tokens[from..connector], tokens[at..])
                || !NamesSomething(tokens[from..connector])
                || OnlyLeavesOut(tokens[from..connector])
                || !tokens.Skip(at).Any(t => !IsPolite(t))
            )
                continue;
            parts.Add(Text(sentence, tokens, from, connector));
            from = at;
        }
        parts.Add(Text(sentence, tokens, from, tokens.Count));
        return parts;
    }

    /// <summary>"Fuel in March, crew in April against budget": each has a figure and a period of its own, and nothing holds the
    /// one against the other.</summary>
    /// <param name="begins">Whether the figure has to come first.</param>
    private bool IsWhole(List<Token> tokens, bool begins)
    {
        var end = tokens.FindIndex(t => t.Text == ",") is > 0 and var comma && begins ? comma : tokens.Count;
        var found = finder.Find(tokens.Take(end).ToList());
        return found.Exists(m => m.Kind == MentionKind.Figure && !m.Partial && (!begins || m.Start == 0))
            && found.Exists(m =>
                m.Kind is MentionKind.Month or MentionKind.Part or MentionKind.Period or MentionKind.Year
                && !found.Exists(n =>
                    n is { Kind: MentionKind.Figure or MentionKind.Member, Partial: false, Corrected: false }
                    && n.Length > m.Length
                    && n.Start <= m.Start
                    && n.End >= m.End
                )
            )
            && !found.Exists(m =>
                m.Kind
                    is MentionKind.Compare
                        or MentionKind.Between
                        or MentionKind.Define
                        or MentionKind.Share
                        or MentionKind.Projection
                        or MentionKind.Shift
                        or MentionKind.Cumulative
                        or MentionKind.Rank
                || (m is { Kind: MentionKind.By, Value: "ratio" or "percent" })
            );
    }

    /// <summary>"Annual and visitor berths" are annual berths and visitor berths: what ends behind the connector belongs to both
    /// sides.</summary>
    private bool SharesEnding(List<Token> tokens, int connector)
    {
        var apart = finder.Find(tokens[..connector]);
        return finder
            .Find(tokens)
            .Exists(m =>
                m.Kind is MentionKind.Figure or MentionKind.Member
                && m.End == connector
                && !apart.Exists(o => o.Value == m.Value && o.Start == m.Start)
            );
    }

    /// <summary>"How much is paid and how much is open": of the same records.</summary>
    private bool AreStates(List<Token> before, List<Token> behind)
    {
        var (one, other) = (finder.Find(before), finder.Find(behind));
        static bool Says(List<Mention> found, bool paid) =>
            found.Exists(m =>
                m.Kind == MentionKind.Check
                && (paid ? m.Value is "settled" or "settled:by-us" : m.Value is "open" or "owed-by-us" or "owed-to-us")
            );
        return !one.Concat(other).Any(m => m is { Kind: MentionKind.Figure, Partial: false })
            && ((Says(one, true) && Says(other, false)) || (Says(one, false) && Says(other, true)));
    }

    private bool IsWith(Token token) => vocabulary.Find(token.Stem).Any(e => e is { Kind: MentionKind.Place, Value: "with" });

    /// <summary>"The worst three shops on result, with their sales": the figure of what was ranked or kept before it is a demand
    /// of its own.</summary>
    private bool SpeaksOfRows(List<Token> before, List<Token> behind)
    {
        var said = behind.FindIndex(t =>
            vocabulary.Find(t.Stem).Any(e => e is { Kind: MentionKind.Filler, Value: Composer.ItsWord or Composer.TheirWord })
        );
        if (
            said < 0
            || !behind.Take(said).All(t => IsPolite(t) || vocabulary.Asking.Contains(t.Stem))
            || !finder.Find(behind).Exists(m => m.Start == said + 1 && m.Kind is MentionKind.Figure)
        )
            return false;
        // Figures alone, of some period, are columns beside the first.
        var rest = behind.Skip(said + 1).ToList();
        var covered = finder
            .Find(rest)
            .Where(m => m is { Kind: MentionKind.Period } or { Kind: MentionKind.Figure, Partial: false })
            .ToList();
        if (
            !finder
                .Find(before)
                .Exists(m =>
                    m.Kind
                        is MentionKind.Gap
                            or MentionKind.Comparator
                            or MentionKind.Compare
                            or MentionKind.Scenario
                            or MentionKind.OnPlan
                    || m is { Kind: MentionKind.Intent, Value: "variance" }
                )
            && rest.Where((_, i) => !covered.Exists(p => p.Start <= i && i < p.End))
                .All(t =>
                    t.Text == ","
                    || finder
                        .Find([t])
                        .Exists(m =>
                            m.Kind
                                is MentionKind.Figure
                                    or MentionKind.And
                                    or MentionKind.Period
                                    or MentionKind.Month
                                    or MentionKind.Part
                                    or MentionKind.Year
                        )
                    || IsPolite(t)
                )
        )
            return false;
        var kept = finder.Find(before);
        return kept.Exists(m => m.Kind is MentionKind.Rank or MentionKind.Which or MentionKind.Gap)
            && kept.Exists(m => m.Kind is MentionKind.Level or MentionKind.Class)
            && !Lists(before);
    }

    private bool Opens(List<Token> tokens, int at) =>
        Enumerable
            .Range(1, Math.Min(LongestOpener, tokens.Count - at))
            .Any(length => vocabulary.Openers.Contains(string.Join(' ', tokens.Skip(at).Take(length).Select(t => t.Stem))));

    /// <summary>A comma alone divides clauses of one demand more often than demands.</summary>
    private bool IsConnector(Token token) =>
        token.Text != ","
        && vocabulary.Find(token.Stem).Any(e => e.Kind is MentionKind.And or MentionKind.Then or MentionKind.Add);

    private bool IsPolite(Token token) =>
        vocabulary.Find(token.Stem) is { Count: > 0 } found
        && found.All(e => e.Kind is MentionKind.Filler or MentionKind.Place or MentionKind.And);

    /// <summary>"Show and explain revenue" is one demand: what stands before the connector has to be about something.</summary>
    private bool NamesSomething(List<Token> tokens) =>
        finder
            .Find(tokens)
            .Exists(m =>
                m.Kind
                    is MentionKind.Figure
                        or MentionKind.Member
                        or MentionKind.Level
                        or MentionKind.Records
                        or MentionKind.Statement
                        or MentionKind.Result
                        or MentionKind.Projection
                        or MentionKind.Check
                        or MentionKind.Period
            );

    /// <summary>"Strip out Sunfield and tell me …": what is left out is so in what follows, and no demand.</summary>
    private bool OnlyLeavesOut(List<Token> tokens)
    {
        var found = finder.Find(tokens);
        return found.Exists(m => m is { Kind: MentionKind.Exclude, Start: 0, Value: "exclude" or "drop" })
            && !found.Exists(m =>
                m
                    is {
                        Kind: MentionKind.Figure
                            or MentionKind.Records
                            or MentionKind.Statement
                            or MentionKind.Result
                            or MentionKind.Level
                            or MentionKind.Projection
                            or MentionKind.Check
                            or MentionKind.Intent
                    }
            );
    }

    private bool Lists(List<Token> tokens) =>
        finder
            .Find(tokens)
            .Exists(m =>
                m
                    is { Kind: MentionKind.Records or MentionKind.Check }
                        or { Kind: MentionKind.Intent, Value: "entries" or "entries:journal" or "entries:document" }
            );

    private static string Text(string sentence, List<Token> tokens, int from, int to) =>
        sentence[tokens[from].Start..(to < tokens.Count ? tokens[to].Start : sentence.Length)].Trim();
}
