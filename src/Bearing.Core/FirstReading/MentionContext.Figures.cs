using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>What figures mean beside each other, and beside words of the language.</summary>
internal sealed partial class MentionContext
{
    private void TellFiguresApart()
    {
        // Bills are records where the book has any, and what was paid for where a figure is named: an electricity bill.
        if (book.Tables.Any(t => t.Code != Table.Ledger))
            Dearer(MentionFinder.TakesApart, m =>
                m is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts }
                && Any(o => o.Kind == MentionKind.Records && Covers(o, m))
                && !Any(o => o.Kind == MentionKind.Figure && o.End == m.Start)
            );
        // The top line is no line that is at the top.
        Dearer(SeldomAlone, m =>
            m.Kind is MentionKind.Rank or MentionKind.Intent or MentionKind.Level
            && Any(o =>
                o is { Kind: MentionKind.Figure, IsUsualName: true, Corrected: false }
                && Holds(o, m)
                && o.Length > m.Length
                && tokens[o.End - 1].Text.Equals(tokens[o.End - 1].Stem, StringComparison.OrdinalIgnoreCase)
            )
        );
        // "Inside its rent budget", "within the crew budget": no more than that.
        Change(
            m =>
                m is { Kind: MentionKind.Place, Value: Composer.Inside }
                && Any(o => o.Kind == MentionKind.Gap && Covers(o, m))
                && _mentions.Find(o => o is { Kind: MentionKind.Scenario, Value: not Book.ActualCode } && o.Start > m.End)
                    is { } plan
                && Enumerable
                    .Range(m.End, plan.Start - m.End)
                    .All(i => Any(o => o.Start <= i && i < o.End && o.Kind is MentionKind.Filler or MentionKind.Figure)),
            m => m with { Kind = MentionKind.Gap, Value = "good" }
        );
        // "What Eastpark contributes to the February variance" is a part of it, and held against nothing.
        Change(
            m =>
                m.Kind is MentionKind.Comparator or MentionKind.To
                && vocabulary.Find(tokens[m.Start].Stem).Any(e => e.Kind == MentionKind.To)
                && Any(o =>
                    o.Kind == MentionKind.Share
                    && o.End < m.Start
                    && Any(n => n.Kind == MentionKind.Member && n.Start == o.End && n.End == m.Start)
                ),
            m => m with { Kind = MentionKind.Filler }
        );
        // "Projected costs at the run rate" are those of the run rate, where they are held against something else.
        Change(
            m =>
                m is { Kind: MentionKind.Scenario, Value: "forecast", Length: 1, Start: 0 }
                && Any(o => o is { Kind: MentionKind.Projection, Value: "runRate" })
                && Any(o => o is { Kind: MentionKind.Scenario, Value: not Book.ActualCode } && o.Start > m.Start),
            m => m with { Kind = MentionKind.Filler }
        );
        // "Share of milk in supplier spend" is a part of what was bought from suppliers, which stands in no figure of its own.
        Change(
            m =>
                m is { Kind: MentionKind.Level, Singular: true, Dimension: not null }
                && Any(f => f is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts } && f.Start == m.End)
                && Any(s =>
                    s.Kind == MentionKind.Share
                    && s.End < m.Start
                    && Any(p => p.Kind == MentionKind.Figure && p.Start >= s.End && p.End < m.Start)
                ),
            m =>
                m with
                {
                    Kind = MentionKind.Beyond,
                    Value =
                        $"What was spent by {m.Title.ToLowerInvariant()} is not told apart from other costs where it is divided by. Ask for the share of all costs, or for the spend by {m.Title.ToLowerInvariant()}.",
                }
        );
        // "Bar and kitchen" are no bars.
        Dearer(SeldomAlone, m =>
            m is { Kind: MentionKind.Form, Length: 1 }
            && Any(o => o is { Kind: MentionKind.Figure or MentionKind.Member, Partial: false, Corrected: false } && Covers(o, m))
        );
        // "How did guests develop by centre compared with last year" has its rows.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Grain, Value: Composer.Course }
            && Any(o => o.Kind == MentionKind.Comparator)
            && Any(o => o is { Kind: MentionKind.By, Value: "by" } && Any(l => l.Kind == MentionKind.Level && l.Start == o.End))
        );
        // "Open J-104" is asked of a document, and not whether it is paid.
        Change(
            m =>
                m is { Kind: MentionKind.Check, Value: "open", Start: 0 }
                && Any(o => o.Kind == MentionKind.Document && o.Start == m.End),
            m => m with { Kind = MentionKind.Filler }
        );
        // "By how far their profit is from budget".
        Change(
            m =>
                m is { Kind: MentionKind.Filler, Title: HowFar }
                && Any(o =>
                    o is { Kind: MentionKind.Place, Value: "from" }
                    && o.Start > m.End
                    && Any(s => s.Kind == MentionKind.Scenario && s.Start == o.End)
                ),
            m => m with { Kind = MentionKind.Intent, Value = "variance" }
        );
        Change(
            m =>
                m is { Kind: MentionKind.Order, Value: "size:down" }
                && Any(o => o is { Kind: MentionKind.Intent, Value: "variance", Title: HowFar } && o.Start >= m.End),
            m => m with { Value = "gap:down" }
        );
        Change(
            m =>
                m is { Kind: MentionKind.By, Value: "by" }
                && Any(o => o is { Kind: MentionKind.Intent, Value: "variance", Title: HowFar } && o.Start == m.End),
            m => m with { Kind = MentionKind.Filler }
        );
        // "Month on month, December against November": said twice.
        Change(
            m =>
                m is { Kind: MentionKind.Scenario, Value: "prior-month" or "prior-quarter" }
                && Any(c =>
                    c.Kind == MentionKind.Comparator
                    && Any(p => IsTime(p) && p.End == c.Start)
                    && Any(p => IsTime(p) && p.Start == c.End)
                ),
            m => m with { Kind = MentionKind.Filler }
        );
        // "By month with budget line" draws the budget, and shows no accounts.
        _mentions.RemoveAll(m =>
            m
                is { Kind: MentionKind.Level, Value: Composer.AnyLines, Singular: true }
                    or { Kind: MentionKind.Intent, Value: "entries", Singular: true }
            && Any(o =>
                o is { Kind: MentionKind.Place, Value: "with" }
                && (o.End == m.Start || Any(s => s.Kind == MentionKind.Scenario && s.Start == o.End && s.End == m.Start))
            )
            && Any(o => o.Kind is MentionKind.Grain or MentionKind.Form && (o.Start >= m.End || o.End <= m.Start))
        );
        // "Why is the first one off" asks for the first one, and for nothing that happens once.
        _mentions.RemoveAll(m =>
            m.Kind == MentionKind.Beyond && Any(o => o.Kind == MentionKind.Row && o.Start < m.Start && o.End > m.Start)
        );
        // "Which postings make up clay" are those of it, and no shares.
        Change(
            m =>
                m.Kind == MentionKind.Share
                && Any(o =>
                    o.Kind == MentionKind.Intent && o.Value.StartsWith("entries", StringComparison.Ordinal) && o.End == m.Start
                ),
            m => m with { Kind = MentionKind.Filler }
        );
        // "Actual, budget, last year": of sides that are listed it is one as well.
        Dearer(SeldomAlone * 2, m =>
            m is { Kind: MentionKind.Period, Value: "year:-1" }
            && Any(o =>
                o is { Kind: MentionKind.Scenario, Value: not Book.ActualCode }
                && (o.End == m.Start || (o.End == m.Start - 1 && tokens[o.End].Text == ","))
                && Any(a =>
                    a is { Kind: MentionKind.Scenario, Value: Book.ActualCode }
                    && (a.End == o.Start || (a.End == o.Start - 1 && tokens[a.End].Text is "," or "/"))
                )
            )
        );
        // "Best selling" is no selling cost.
        Dearer(SeldomAlone, m =>
            m is { Kind: MentionKind.Figure, Length: 1 }
            && Any(o => o.Kind == MentionKind.Unit && Covers(o, m))
            && Any(o => o.Kind == MentionKind.Rank && o.End == m.Start)
        );
        // "Staff cost per head" is not the bar spend per head: what begins with "per" is no name of its own behind another word.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Figure, Partial: true, Start: > 0 }
            && vocabulary.Find(tokens[m.Start].Stem).Any(e => e is { Kind: MentionKind.By, Value: "per" })
            && Any(o => o.Kind == MentionKind.Figure && o.End == m.Start)
        );
        // "How much rent did we pay" asks for rent, where no invoices are spoken of.
        var bought =
            Any(m =>
                m is { Kind: MentionKind.Figure, Partial: false }
                && book.Figure(Composer.FigureOf(m)) is SumFigure { IsProfit: true }
                && m.Value != "m:" + Book.AllCosts
            ) && !Any(m => m.Kind == MentionKind.Records);
        Change(
            m => m is { Kind: MentionKind.Check, Value: PaidByUs },
            m => bought ? m with { Kind = MentionKind.Filler } : m with { Value = "settled" }
        );
        // "Staff" is what staff cost: the staff cost ratio is asked for by more of its name.
        Dearer(SeldomAlone, m =>
            m is { Kind: MentionKind.Figure, Partial: true }
            && book.Figure(Composer.FigureOf(m)) is PairFigure { Rule: not PairRule.Difference }
            && Any(o =>
                Covers(o, m)
                && (
                    IsNameOfCosts(o)
                    || (
                        Words.Tokens(m.Title)[0].Stem != tokens[m.Start].Stem
                        && o is { Kind: MentionKind.Figure, Partial: false, Corrected: false }
                        && book.Figure(Composer.FigureOf(o)) is SumFigure
                    )
                )
            )
        );
        // "Which of our drivers earn most": where somebody is called so, they are not what drives a variance.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Intent, Value: "why", Length: 1 }
            && Any(o => o is { Kind: MentionKind.Figure or MentionKind.Member } && Covers(o, m))
            && Any(o =>
                o.End == m.Start
                && (
                    o
                        is { Kind: MentionKind.Filler, Value: OfOurs }
                            or { Kind: MentionKind.Intent, Value: "value:many" }
                            or { Kind: MentionKind.Statistic, Value: "count" }
                            or { Kind: MentionKind.Which, Value: "who" }
                    || (
                        o.Kind == MentionKind.Which
                        && (
                            Any(u => u.Kind == MentionKind.Unit && u.Start == m.End)
                            || tokens[m.Start].Text.Length == tokens[m.Start].Stem.Length
                        )
                    )
                )
            )
        );
        // "Wages" are the wages before they are the wage ratio: of two names that both begin so, a ratio wants its own word.
        Dearer(SeldomAlone, m =>
            m is { Kind: MentionKind.Figure, Partial: true, Length: 1 }
            && book.Figure(Composer.FigureOf(m)) is PairFigure { Rule: not PairRule.Difference }
            && Any(o =>
                Covers(o, m)
                && o is { Kind: MentionKind.Figure, Corrected: false }
                && book.Figure(Composer.FigureOf(o)) is SumFigure
                && Words.Tokens(o.Title) is [var first, ..]
                && first.Stem == tokens[m.Start].Stem
            )
            && (!Any(o => o is { Kind: MentionKind.Unit, Value: "percent" }) || Any(o => o.Kind == MentionKind.Projection))
        );
        // "Book purchases" are called so, though a book may be what all figures are in.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Filler, Value: "book" }
            && Any(o => o is { Kind: MentionKind.Figure, Partial: false, Length: > 1 } && Holds(o, m))
        );
        // "The best-selling author" is no author evening: one of a kind that is ranked is no figure.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Figure, Partial: true, Length: 1 }
            && tokens[m.Start].Text.Equals(tokens[m.Start].Stem, StringComparison.OrdinalIgnoreCase)
            && Any(o =>
                o is { Kind: MentionKind.Unit, Value: "sales" }
                && o.End == m.Start
                && Any(r => r.Kind == MentionKind.Rank && r.End == o.Start)
            )
        );
        // "How many walks" asks for no walk from plan to actual.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Intent, Value: "bridge", Length: 1 }
            && Any(o =>
                o.End == m.Start
                && o is { Kind: MentionKind.Intent, Value: "value:many" } or { Kind: MentionKind.Statistic, Value: "count" }
            )
        );
        // "The biggest drivers of the variance" are its causes even so.
        Dearer(MentionFinder.TakesApart, m =>
            m.Kind is MentionKind.Figure or MentionKind.Member
            && Any(o => o is { Kind: MentionKind.Intent, Value: "why", Length: 1 } && Covers(o, m))
            && Any(o => o is { Kind: MentionKind.Place, Value: "of" } && o.Start == m.End)
            && Any(o =>
                (o.End == m.Start && o.Kind == MentionKind.Rank)
                || (o is { Kind: MentionKind.Intent, Value: "variance" } && o.Start > m.End && o.Start <= m.End + 4)
            )
        );
        // "Gas cost per kilo" is gas per kilo, not gas beside the cost per kilo.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Figure, Partial: false, Length: > 1, Start: > 0 }
            && Any(o => o is { Kind: MentionKind.By, Value: "per" } && o.Start == m.Start + 1 && o.End < m.End)
            && Any(o =>
                o is { Kind: MentionKind.Figure, Corrected: false }
                && o.End == m.Start
                && book.Figure(Composer.FigureOf(o)) is SumFigure
            )
        );
        // "Landings" are what is called so, and nobody's landing.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Projection, Length: 1 }
            && tokens[m.Start].Text.Length > tokens[m.Start].Stem.Length
            && Any(o => o is { Kind: MentionKind.Figure, Partial: false, Corrected: false } && Covers(o, m))
        );
        // "Where will power land": what is told of a figure is no other one, whatever is called so.
        Dearer(SeldomAlone, m =>
            m is { Kind: MentionKind.Figure or MentionKind.Member, Length: 1 }
            && Any(o => o.Kind == MentionKind.Filler && Covers(o, m))
            && Any(o => o.Kind == MentionKind.Projection && o.End <= m.Start)
            && Any(o => o.Kind == MentionKind.Figure && o.End == m.Start)
        );
        // "The crusher" is no crusher hours: hours are named by that word, and by what has them only beside it.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Figure, Partial: true, Length: 1 }
            && Words.Tokens(m.Title) is [.., var head]
            && vocabulary.MeasureNouns.Contains(head.Stem)
            && tokens[m.Start].Stem != head.Stem
            && book.Figure(Composer.FigureOf(m)) is SumFigure { IsProfit: false }
        );
        // "Whole thousands, please" says how amounts are shown, where nothing is listed.
        var listed =
            Any(m =>
                m.Kind is MentionKind.Records or MentionKind.Value
                || m is { Kind: MentionKind.Intent } && m.Value.StartsWith("entries", StringComparison.Ordinal)
            ) || Any(m => m is { Kind: MentionKind.Check, Value: not "round" });
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Check, Value: "round" } or { Kind: MentionKind.Numbers }
            && Any(o => o.Kind == (listed ? MentionKind.Check : MentionKind.Numbers) && o.Kind != m.Kind && Covers(o, m))
        );
        // "How many whales" asks for whales, and "how many posters" for no preparer, whatever is spelt alike.
        _mentions.RemoveAll(m =>
            m.Corrected
            && m.Kind is MentionKind.Filler or MentionKind.Place or MentionKind.Field
            && Any(o =>
                o.End == m.Start
                && o is { Kind: MentionKind.Intent, Value: "value:many" } or { Kind: MentionKind.Statistic, Value: "count" }
            )
        );
        // "Runs in February" are what is called so, where nothing else is named.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Filler, Length: 1 }
            && tokens[m.Start].Text.Length > tokens[m.Start].Stem.Length
            && Any(o =>
                o is { Kind: MentionKind.Figure, Partial: true, Corrected: false }
                && Covers(o, m)
                && o.Title.EndsWith(" " + tokens[m.Start].Text, StringComparison.OrdinalIgnoreCase)
            )
            && !Any(o =>
                o
                    is { Kind: MentionKind.Figure, Partial: false }
                        or { Kind: MentionKind.Records or MentionKind.Result or MentionKind.Statement }
                && !Covers(o, m)
            )
        );
        // "Break-ins" are no move-ins: half of a word is no part of a name, unless the other half means something as well.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Figure or MentionKind.Member, Partial: true }
            && (
                (tokens[m.Start].Hyphened && IsIdle(m.Start - 1))
                || (m.End < tokens.Count && tokens[m.End].Hyphened && IsIdle(m.End))
            )
        );
        // "Stand-in costs": small words that a hyphen joins are a name where there is one.
        Dearer(SeldomAlone, m =>
            m.Kind is MentionKind.Filler or MentionKind.Place
            && Any(o =>
                o.Kind is MentionKind.Figure or MentionKind.Member && o.Length > 1 && Holds(o, m) && tokens[o.Start + 1].Hyphened
            )
        );
        // "Fixed costs" are none of the fixed assets.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Figure or MentionKind.Member, Partial: true }
            && Any(o =>
                o is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts, Length: 1 }
                && o.Start == m.End
                && !Any(b => b.Kind == MentionKind.Figure && b.Length > 1 && Holds(b, o))
            )
            && (
                m.Kind == MentionKind.Figure
                    ? book.Figure(Composer.FigureOf(m)) is SumFigure { OverTime: OverTime.Closing } kept
                        && book.Member(kept.Accounts[0]).Account?.Type is AccountType.Asset or AccountType.Liability
                    : m.Dimension == book.Accounts.Code
                        && book.TryMember(book.Accounts.Id, m.Value, out var account)
                        && account.Account?.Type is AccountType.Asset or AccountType.Liability
            )
        );
        // "Running expenses" are some of all expenses.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Filler, Value: SaysWhich }
            && Any(o => o is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts } && o.Start == m.End)
        );
        // "Cost per book": what something is held per is no word that only stands about.
        _mentions.RemoveAll(m =>
            m.Kind == MentionKind.Filler
            && m.Length == 1
            && Any(o => o is { Kind: MentionKind.By, Value: "per" } && o.End == m.Start)
            && Any(o => o.Kind == MentionKind.Figure && o.Start == m.Start)
        );
        // "Commission rate" is no commission beside water rates.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Figure, Partial: true, Length: 1 }
            && Any(o =>
                o is { Kind: MentionKind.Figure, Partial: false, Corrected: false }
                && o.End == m.Start
                && !IsPart(m, o)
                && !IsPart(o, m)
            )
            && !Any(o => o is { Kind: MentionKind.Figure, Partial: false } && Covers(o, m))
        );
        // "Transactions above 25k on cost accounts" are postings, even where customers are called so.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Figure }
            && Any(o => o.Kind == MentionKind.Intent && Covers(o, m))
            && (IsOnCostLines(m) || Any(o => Covers(o, m) && IsOfEntries(o)))
        );
        // "The cost of a performance" is one of those that are counted, and "performances" are so anyway.
        _mentions.RemoveAll(m =>
            m.Kind == MentionKind.Intent
            && !IsOnCostLines(m)
            && !IsOfEntries(m)
            && Any(o => o is { Kind: MentionKind.Figure, Partial: false } && Covers(o, m))
            && (
                tokens[m.Start].Text.Length > tokens[m.Start].Stem.Length
                || Any(o =>
                    o.End == m.Start
                    && o is { Kind: MentionKind.By or MentionKind.Number } or { Kind: MentionKind.Filler, Value: OneOf }
                )
            )
        );
        // "EBITDA margin" is not the operating margin, even where that is called the margin.
        Dearer(MentionFinder.OtherRatio, m =>
            m is { Kind: MentionKind.Figure, Partial: false }
            && Any(o => o.Kind == MentionKind.Margin && Covers(o, m))
            && Any(o => o is { Kind: MentionKind.Figure, Partial: false } && o.End == m.Start)
        );
        // "Revenue - fuel" takes one from the other; anywhere else a dash only parts.
        for (var at = 1; at + 1 < tokens.Count; at++)
            if (
                tokens[at].Stem == "-"
                && Any(m => m.Kind == MentionKind.Figure && m.End == at)
                && Any(m => m.Kind == MentionKind.Figure && m.Start == at + 1)
            )
                _mentions.Add(new Mention(MentionKind.Exclude, "less", null, at, 1, MentionFinder.PerMention, tokens[at].Text));
    }

    /// <summary>"Staff" of Staff costs: all of the name but the word for costs.</summary>
    private bool IsNameOfCosts(Mention mention) =>
        mention is { Kind: MentionKind.Figure, Partial: true }
        && Words.Tokens(mention.Title) is var name
        && name.Count == mention.Length + 1
        && vocabulary.Find(name[^1].Stem).Any(e => e is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts });

    private bool IsOnCostLines(Mention mention) =>
        Any(o =>
            o is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts + "#lines" }
            && o.Start >= mention.End
            && Any(p => p.Kind == MentionKind.Place && p.End == o.Start)
        );

    /// <summary>Whether all accounts of the one stand within the other.</summary>
    private bool IsPart(Mention part, Mention whole) =>
        book.Figure(Composer.FigureOf(part)) is SumFigure p
        && book.Figure(Composer.FigureOf(whole)) is SumFigure w
        && book.IsWithin(p, w);

    /// <summary>"More guests in May than in April" compares; "more guests" alone only stands about.</summary>
    private void TellMoreThan()
    {
        for (var at = 0; at + 1 < tokens.Count; at++)
        {
            if (
                !Any(m => m.Kind is MentionKind.Figure or MentionKind.Member && m.Start == at + 1)
                || Any(m => m.Kind == MentionKind.Gap && m.Start == at)
            )
                continue;
            var than = tokens
                .Skip(at + 2)
                .FirstOrDefault(t => vocabulary.Find(t.Stem).Any(e => e is { Kind: MentionKind.Comparator, Value: "than" }));
            if (
                than is not null
                && vocabulary.Find($"{tokens[at].Stem} {than.Stem}").FirstOrDefault(e => e.Kind == MentionKind.Gap)
                    is { Value: { } value }
            )
                _mentions.Add(new Mention(MentionKind.Gap, value == "more" ? "over" : "under", null, at, 1, 0, tokens[at].Stem));
        }
        var claims = vocabulary.ClaimsAt(tokens, 0);
        // "Did they pick more tonnes than": what is done is no part of another figure's name.
        if (claims)
            Change(
                m =>
                    m is { Kind: MentionKind.Figure, Partial: true, Length: 1 }
                    && Any(o =>
                        o is { Kind: MentionKind.Gap, Value: "over" or "under" }
                        && o.Start == m.End
                        && Any(f =>
                            f is { Kind: MentionKind.Figure, Partial: false }
                            && f.Start == o.End
                            && Any(c => c is { Kind: MentionKind.Comparator, Value: "than" } && c.Start >= f.End)
                        )
                    ),
                m => m with { Kind = MentionKind.Filler, Value = "filler" }
            );
        // "How fast is revenue growing", where a department is called Growing: behind its figure it says what that does.
        if (claims || Any(m => m.Kind == MentionKind.Growth))
            _mentions.RemoveAll(m =>
                m is { Kind: MentionKind.Member, Length: 1 }
                && Any(o => o.Kind == MentionKind.Gap && Covers(o, m) && GapSense.Of(o).OverTime)
                && Any(o => o.Kind == MentionKind.Figure && o.End == m.Start)
            );
    }

    /// <summary>"Is it mostly overtime", "down to the north": that is a part of the whole, where its name follows; "only" and
    /// "all" say so where a yes or a no is wanted.</summary>
    private void TellPartsApart()
    {
        var claims = vocabulary.ClaimsAt(tokens, 0);
        _mentions.RemoveAll(m => IsPartWord(m) && m.Value is Sole or Whole && !claims);
        foreach (var part in _mentions.Where(IsPartWord).ToList())
            if (
                Named(part) is not { } named
                || (part.Value == Whole && named.End < tokens.Count)
                || (part.Value is Cause or AllCause && IsParty(named))
            )
                _mentions.Remove(part);
            else
                _mentions.RemoveAll(o => o != part && Holds(part, o));

        static bool IsPartWord(Mention mention) => mention.Kind == MentionKind.Share && SaysPart(mention.Value);
        bool IsParty(Mention mention) =>
            mention.Kind == MentionKind.Member && vocabulary.Fields["party"].Contains(Words.Phrase(mention.Dimension!));
    }

    /// <summary>The part that is named behind a word, with nothing but small words between.</summary>
    private Mention? Named(Mention lead)
    {
        var at = lead.End;
        while (
            _mentions.Where(m => m.Start == at && m.Kind is MentionKind.Filler or MentionKind.Place).MaxBy(m => m.Length)
                is { } small
            && !Any(m => m.Start == at && IsName(m))
        )
            at = small.End;
        return _mentions.Where(m => m.Start == at && IsName(m)).MaxBy(m => m.Length);

        static bool IsName(Mention mention) => mention.Kind is MentionKind.Figure or MentionKind.Member or MentionKind.Month;
    }
}
