using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>What words of the language mean beside each other.</summary>
internal sealed partial class MentionContext
{
    /// <summary>What follows certain words is meant as it is typed, known or not.</summary>
    private void TakeToTheLetter()
    {
        // "Postings about drills": what nobody knows stands in their text; "about fuel" is of fuel.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Contains, Value: About }
            && (
                m.End == tokens.Count
                || Any(o => o.Start == m.End && o.Kind is not MentionKind.Quote)
                || !Any(o =>
                    o.Kind == MentionKind.Intent && o.Value.StartsWith("entries", StringComparison.Ordinal) && o.End == m.Start
                )
            )
        );
        // Whatever follows "containing" or "ending in".
        foreach (
            var lead in _mentions
                .Where(m =>
                    m is { Kind: MentionKind.Contains, Value: not TextBehind }
                    && m.End < tokens.Count
                    && tokens[m.End].Quotation == 0
                    && vocabulary
                        .Find(tokens[m.End].Stem)
                        .All(e => e.Kind is not (MentionKind.Place or MentionKind.And or MentionKind.By))
                )
                .ToList()
        )
        {
            // "Mentioning the flower show": without the article, and up to what says when, where or in which order.
            var from = lead.End;
            while (
                from < tokens.Count
                && vocabulary.Find(tokens[from].Stem).Any(e => e is { Kind: MentionKind.Filler or MentionKind.Which })
            )
                from++;
            if (from == tokens.Count)
                continue;
            var to = from + 1;
            while (
                to < tokens.Count
                && tokens[to].Stem.Any(char.IsLetter)
                && tokens[to].Quotation == 0
                && !_mentions.Exists(m =>
                    m.Start == to
                    && m
                        is not (
                            { Kind: MentionKind.Filler or MentionKind.Quote or MentionKind.Form }
                            or { Partial: true }
                            or { Corrected: true }
                        )
                )
            )
                to++;
            var text = string.Join(' ', tokens.Skip(from).Take(to - from).Select(t => t.Text));
            _mentions.Add(new Mention(MentionKind.Quote, text, null, from, to - from, MentionFinder.PerMention, text));
        }
        // "With insurance in the text" is no insurance: a name right before it is text, and so is a word alone.
        foreach (
            var behind in _mentions
                .Where(m =>
                    m is { Kind: MentionKind.Contains, Value: TextBehind, Start: > 0 } && tokens[m.Start - 1].Quotation == 0
                )
                .ToList()
        )
        {
            var from = _mentions
                .Where(m => m.End == behind.Start && m.Kind is MentionKind.Figure or MentionKind.Member or MentionKind.Value)
                .Select(m => m.Start)
                .DefaultIfEmpty(behind.Start - 1)
                .Min();
            _mentions.RemoveAll(m => m.Start < behind.Start && m.End > from);
            var text = string.Join(' ', tokens.Skip(from).Take(behind.Start - from).Select(t => t.Text));
            _mentions.Add(new Mention(MentionKind.Quote, text, null, from, behind.Start - from, MentionFinder.PerMention, text));
        }
        // "With “credit” in the text": what stands in quotation marks is no part of a name.
        Change(
            m =>
                m.Kind == MentionKind.Quote && Any(o => o.Kind == MentionKind.Contains && (o.End == m.Start || o.Start == m.End)),
            m => m with { Cost = MentionFinder.PerMention }
        );
        Dearer(MentionFinder.TakesApart, m => m.Partial && m.Length == 1 && tokens[m.Start].Quotation > 0);
        // "Journal JV-1": what follows one of them and has a digit in it is its number.
        foreach (
            var lead in _mentions
                .Where(m =>
                    m is { Kind: MentionKind.Records or MentionKind.Intent, Singular: true }
                    && (m.Kind == MentionKind.Records || m.Value.StartsWith("entries", StringComparison.Ordinal))
                    && m.End < tokens.Count
                    && tokens[m.End].Text.Any(char.IsDigit)
                    && tokens[m.End].Text.Any(char.IsLetter)
                )
                .ToList()
        )
            if (!Any(o => o.Start <= lead.End && o.End > lead.End))
                _mentions.Add(
                    new Mention(
                        MentionKind.Document,
                        tokens[lead.End].Text,
                        null,
                        lead.End,
                        1,
                        MentionFinder.PerMention,
                        tokens[lead.End].Text
                    )
                );
    }

    /// <summary>A part of a phrase does not mean what it means alone.</summary>
    private void LeaveOutWhatIsWithin()
    {
        // "Not paid" has nothing in it that is paid, and "owes us" nothing that is owed.
        _mentions.RemoveAll(m =>
            m.Kind == MentionKind.Check && Any(o => o.Kind == MentionKind.Check && Holds(o, m) && o.Length > m.Length)
        );
        // "Last year next to it" adds; "next to last year" compares.
        _mentions.RemoveAll(m =>
            m.Kind is MentionKind.Comparator or MentionKind.Filler or MentionKind.Place
            && Any(o => o.Kind == MentionKind.Add && Holds(o, m) && o.Length > m.Length)
        );
        // "The same in July" follows up; "the same in the forecast" compares.
        // "Sales after product line" are by it; profit after tax is less it.
        Change(
            m =>
                m is { Kind: MentionKind.Exclude, Value: "after" }
                && Any(o =>
                    o.Kind == MentionKind.Level
                    && o.Start == m.End
                    && !Any(f => f.Kind is MentionKind.Figure or MentionKind.Member && f.Start == m.End && f.End > o.End)
                ),
            m => m with { Kind = MentionKind.By, Value = "by" }
        );
        // "The third quarter" is no third row.
        _mentions.RemoveAll(m =>
            m.Kind == MentionKind.Row
            && Any(o => o.Kind == MentionKind.Part && o.Start > m.Start && o.Start < m.End && o.End > m.End)
        );
        Change(
            m =>
                m is { Kind: MentionKind.Compare, Value: "same", Start: 0 }
                && Any(o =>
                    o.Start == m.End
                    && o.Kind
                        is MentionKind.Month
                            or MentionKind.Part
                            or MentionKind.Period
                            or MentionKind.Year
                            or MentionKind.Member
                ),
            m => m with { Kind = MentionKind.Edit, Value = "edit" }
        );
        // "March with February beside it" compares; where no figure is named, what is put beside it is added to what was shown.
        var named = Any(m =>
            m.Kind
                is MentionKind.Figure
                    or MentionKind.Records
                    or MentionKind.Statement
                    or MentionKind.Member
                    or MentionKind.Month
                    or MentionKind.Part
        );
        _mentions.RemoveAll(m =>
            m.Kind == (named ? MentionKind.Add : MentionKind.Comparator)
            && Any(o => o.Kind == (named ? MentionKind.Comparator : MentionKind.Add) && Covers(o, m))
        );
        // "Overtime relative to income" is the one in percent of the other.
        Dearer(SeldomAlone, m =>
            m.Kind == MentionKind.Comparator
            && Any(o => o is { Kind: MentionKind.By, Value: "percent" } && Covers(o, m))
            && Any(o => o.Kind == MentionKind.Figure && o.End == m.Start)
            && Any(o => o.Kind == MentionKind.Figure && o.Start == m.End)
        );
        // "People % of sales" divides; "percent of payables" asks for a share.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.By, Value: "percent" }
            && Any(o => o.Kind == MentionKind.Share && Covers(o, m))
            && !Any(o => o.Kind == MentionKind.Figure && o.End == m.Start)
        );
        // "Gaps in the FY26 document numbers"; anywhere else a gap is a variance.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Check, Value: GapLead } && !Any(o => o is { Kind: MentionKind.Filler, Value: GapOf })
        );
        Change(m => m is { Kind: MentionKind.Check, Value: GapLead }, m => m with { Value = "gap" });
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Filler, Value: GapOf } && !Any(o => o is { Kind: MentionKind.Check, Value: "gap" })
        );
        // "Do all documents of January balance": entries do or do not; of an account the balance is one.
        var entered =
            Any(o => o.Kind == MentionKind.Intent && o.Value.StartsWith("entries", StringComparison.Ordinal))
            && !Any(o => o.Kind == MentionKind.Figure);
        _mentions.RemoveAll(m =>
            entered ? m is { Kind: MentionKind.Unit, Value: "balance" } : m is { Kind: MentionKind.Check, Value: BalanceOf }
        );
        Change(m => m is { Kind: MentionKind.Check, Value: BalanceOf }, m => m with { Value = "unbalanced" });
        // "Which of our drivers": people who are called so, and not what drives.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Intent, Value: "why" }
            && Any(o => o.Kind == MentionKind.Member && Covers(o, m))
            && Any(o => o.Kind == MentionKind.Which && o.End <= m.Start)
        );
        // "Open invoices" are open, and what is paid between two days was paid then.
        Dearer(SeldomAlone, m =>
            m.Kind is MentionKind.Filler or MentionKind.Field
            && Any(o => o.Kind == MentionKind.Check && Covers(o, m))
            && Any(o => o.Kind == MentionKind.Records)
            && (m.Kind == MentionKind.Filler || Any(o => o.Kind is MentionKind.Place or MentionKind.Between && o.Start == m.End))
        );
        // "By customer age" asks for nothing that grows old.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Check, Value: "ageing", Length: 1 }
            && m.Start > 1
            && vocabulary.Find(tokens[m.Start - 2].Stem).Any(e => e.Kind == MentionKind.By)
            && vocabulary.Find(tokens[m.Start - 1].Stem).Count == 0
        );
        // "As % of revenue" is no percentage of which nothing was said, and no share.
        _mentions.RemoveAll(m =>
            m
                is { Kind: MentionKind.Unit, Value: "percent" }
                    or { Kind: MentionKind.Percent, Value: "percent" }
                    or { Kind: MentionKind.Margin, Value: "sign" }
                    or { Kind: MentionKind.Share }
            && Any(o => o is { Kind: MentionKind.By, Value: "percent" } && Holds(o, m))
        );
        // "Number of" counts; "the numbers" only stand about.
        _mentions.RemoveAll(m =>
            m.Kind == MentionKind.Filler
            && Any(o => o is { Kind: MentionKind.Statistic, Value: "count", Length: > 1 } && Holds(o, m))
        );
        // "Are the document numbers of FY26 complete" counts nothing.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Statistic, Value: "count" }
            && Any(o => o is { Kind: MentionKind.Filler, Value: GapOf } && o.Start < m.Start && o.End > m.Start)
        );
        // What has "gone up" is still there.
        _mentions.RemoveAll(m =>
            m.Kind == MentionKind.Presence && Any(o => o.Kind == MentionKind.Gap && Holds(o, m) && o.Length > m.Length)
        );
        // "More than 5k over, but less than 10%": both limits hold.
        Change(
            m =>
                m is { Kind: MentionKind.Exclude, Value: "but" }
                && Any(o => o.Kind == MentionKind.Gap && o.Start >= m.End && o.Start <= m.End + 1),
            m => m with { Kind = MentionKind.And, Value = "and" }
        );
        // "Compare H1 to H2 last year": last year says which H2.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Scenario, Value: "prior-year" }
            && Any(o =>
                o.Kind is MentionKind.Part or MentionKind.Month
                && o.End == m.Start
                && Any(t => t.Kind == MentionKind.To && t.End == o.Start)
            )
            && Any(o => o.Kind == MentionKind.Compare)
        );
        // "Supplier and open amount" are columns; "open amounts by supplier" are what is open.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Check, Value: "open", Length: > 1 }
            && vocabulary.Find(tokens[m.End - 1].Stem).Any(e => e is { Kind: MentionKind.Field, Value: "amount" })
            && Any(o => o.Kind is MentionKind.And or MentionKind.Field && (o.End == m.Start || o.Start == m.End))
        );
        // "5k higher than last year" holds against it.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Period, Value: "year:-1" }
            && Any(o =>
                o.Kind == MentionKind.Gap
                && o.End == m.Start
                && vocabulary.Find(tokens[o.End - 1].Stem).Any(e => e is { Kind: MentionKind.Comparator, Value: "than" })
            )
            && Any(o => o.Kind == MentionKind.Scenario && Covers(o, m))
        );
        // "August versus last year" as well; "2024 versus last year" are two years, and "versus last year's Q4" is a quarter.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Period, Value: "year:-1" }
            && Any(o => o.Kind == MentionKind.Comparator && o.End == m.Start)
            && Any(o => o.Kind == MentionKind.Scenario && Covers(o, m))
            && !Any(o => o.Kind == MentionKind.Year || (o.Start == m.End && IsTime(o)))
        );
        // "Increased on last year, %": of what it is a percentage is said by what moved.
        Change(
            m =>
                m is { Kind: MentionKind.Margin, Value: "sign" }
                && !Any(o =>
                    o.End == m.Start
                    && o.Kind is MentionKind.Figure or MentionKind.Member or MentionKind.Number or MentionKind.Amount
                )
                && Any(o => o.Kind == MentionKind.Gap && GapSense.Of(o) is { Moves: true, OverTime: true }),
            m => m with { Kind = MentionKind.Unit, Value = "percent" }
        );
        // "April, with last year": beside what April was, and no other April.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Period, Value: "year:-1" }
            && Any(o => o is { Kind: MentionKind.Place, Value: "with" } && o.End == m.Start)
            && Any(o => o.End <= m.Start && o.Kind is MentionKind.Month or MentionKind.Part)
        );
        // "The month before?" alone goes on as well.
        _mentions.RemoveAll(m =>
            m.Kind == MentionKind.Scenario
            && Any(o => o.Kind == MentionKind.Step && Covers(o, m))
            && !Any(o =>
                o.Kind
                    is MentionKind.Figure
                        or MentionKind.Member
                        or MentionKind.Comparator
                        or MentionKind.Compare
                        or MentionKind.Gap
                        or MentionKind.Growth
                        or MentionKind.Period
                        or MentionKind.Month
                && !Holds(m, o)
            )
        );
        // "In any month before October" ends with September; "the month before October" is one.
        _mentions.RemoveAll(m =>
            m.Kind is MentionKind.Scenario or MentionKind.Step
            && m.Length > 1
            && Any(o => o.Start == m.End && o.Kind is MentionKind.Month or MentionKind.Part)
            && Any(o =>
                o.End == m.Start && o.Kind == MentionKind.Quantifier
                || o is { Kind: MentionKind.By, Value: "each" } && o.End == m.Start
            )
        );
        // "How much have we used against budget": what was used is what it came to, and no part of a plan.
        Change(
            m =>
                m is { Kind: MentionKind.Projection, Value: "used" }
                && Any(o =>
                    o.Start >= m.End
                    && o.Kind == MentionKind.Comparator
                    && Any(p => p.Kind == MentionKind.Scenario && p.Start == o.End && p.Value != Book.ActualCode)
                ),
            m => m with { Kind = MentionKind.Filler, Value = "filler" }
        );
        // "The fastest growing"; whoever is fastest at something else is not known here.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Rank, Value: "fastest" or "slowest", Length: 1 }
            && !Any(o =>
                o.Kind is MentionKind.Growth or MentionKind.Records or MentionKind.Check
                || (o.Kind == MentionKind.Gap && GapSense.Of(o).Moves)
            )
        );
        // "And the month before" goes on from an answer; behind a figure it names what is compared with.
        Dearer(MentionFinder.TakesApart, m =>
            m.Kind == MentionKind.Step
            && Any(o =>
                o.End <= m.Start
                && o.Kind
                    is MentionKind.Figure
                        or MentionKind.Scenario
                        or MentionKind.Member
                        or MentionKind.Period
                        or MentionKind.Month
            )
        );
        // "September 2025" is no amount.
        Dearer(MentionFinder.TakesApart, m =>
            m.Kind == MentionKind.Amount
            && Any(o => o.Kind == MentionKind.Year && Covers(o, m))
            && Any(o => o.Kind is MentionKind.Month or MentionKind.Part && o.End == m.Start)
        );
        // "Late" is what is overdue, unless something is said of paying.
        var paying = tokens.Any(t =>
            vocabulary
                .Find(t.Stem)
                .Any(e =>
                    e is { Kind: MentionKind.Check, Value: "settled" or PaidByUs } or { Kind: MentionKind.Filler, Value: "pays" }
                )
        );
        Dearer(SeldomAlone, m =>
            m is { Kind: MentionKind.Check, Value: "late" or "overdue", Length: 1 }
            && m.Value == (paying ? "overdue" : "late")
            && Any(o => o.Kind == MentionKind.Check && o.Value == (paying ? "late" : "overdue") && Covers(o, m))
        );
        // "The largest entry" is one of the entries, and no row that was shown.
        Dearer(MentionFinder.TakesApart, m =>
            m.Kind == MentionKind.Row
            && Any(o =>
                o.Kind == MentionKind.Intent
                && o.Value.StartsWith("entries", StringComparison.Ordinal)
                && o.Start >= m.End
                && o.Start <= (o.Singular ? m.End + 2 : m.End)
            )
        );
        // "That shop" points at a row of the last answer; anywhere else "that" and "those" only stand about.
        Change(
            m =>
                m is { Kind: MentionKind.Row, Value: Composer.ThatRow or Composer.ThoseRows }
                && !Any(o => o.Start == m.End && IsPointedAt(o)),
            m => m with { Kind = MentionKind.Filler }
        );
        // "The drop at Fennhaven" is one of it.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Exclude, Value: "drop" } && Any(o => o.Kind == MentionKind.Place && o.Start == m.End)
        );
        // "Drop Fennhaven" leaves it out; what dropped at Fennhaven fell.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Exclude, Value: "drop" }
            && Any(o =>
                o.End == m.Start
                && o.Kind
                    is MentionKind.Figure
                        or MentionKind.Member
                        or MentionKind.Class
                        or MentionKind.Level
                        or MentionKind.Rank
            )
        );
        // "Physics pay", "pay versus plan": what stands where a name does is none that only stands about.
        _mentions.RemoveAll(m =>
            m.Kind == MentionKind.Filler
            && Any(o => o is { Kind: MentionKind.Filler, Value: "noun" } && Covers(o, m))
            && (
                m.Start == 0
                || Any(o => o.End == m.Start && o.Kind is MentionKind.Member or MentionKind.Figure or MentionKind.Level)
            )
            && Any(o =>
                o.Start == m.End
                && o.Kind
                    is MentionKind.Comparator
                        or MentionKind.Scenario
                        or MentionKind.By
                        or MentionKind.Growth
                        or MentionKind.Gap
                        or MentionKind.Grain
            )
        );
        // "How much of it is carriage" speaks of what was shown.
        Dearer(SeldomAlone, m =>
            m.Kind == MentionKind.Filler && Any(o => o is { Kind: MentionKind.Edit, Value: "part" } && Holds(o, m))
        );
        // "Gross margin percentage" is a ratio; "percentages only" are those that are shown.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Margin, Value: "sign" }
            && tokens[m.Start].Text != "%"
            && !Any(o => o.Kind == MentionKind.Figure && o.End == m.Start)
        );
        // "By status" splits by it; elsewhere "status" only stands about.
        Dearer(SeldomAlone, m =>
            m.Kind == MentionKind.Filler
            && Any(o => o.Kind == MentionKind.By && o.End == m.Start)
            && Any(o => o.Kind is MentionKind.Field or MentionKind.Level && Covers(o, m))
        );
        // "This year" is no split by year.
        var periods = _mentions.Where(m => m is { Kind: MentionKind.Period, Length: > 1, Corrected: false }).ToList();
        Dearer(MentionFinder.TakesApart, m =>
            m.Kind == MentionKind.Grain && periods.Exists(p => Holds(p, m) && p.Length > m.Length)
        );
    }

    /// <summary>What means something only where it stands right behind, or before, another thing.</summary>
    private void TellPlacesApart()
    {
        // "FY26 so far" ends where the ledger does; anywhere else "so far" only stands about.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Period, Value: ToDateBehind } && !Any(o => o.Kind == MentionKind.Year && o.End == m.Start)
        );
        _mentions.RemoveAll(m =>
            m.Kind == MentionKind.Filler && Any(o => o is { Kind: MentionKind.Period, Value: ToDateBehind } && Holds(o, m))
        );
        Change(m => m is { Kind: MentionKind.Period, Value: ToDateBehind }, m => m with { Value = "date:0" });
        // "If it goes on like this"; of anything else "if" asks for what nobody knows.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Filler, Value: "if" }
            && !Any(o => o is { Kind: MentionKind.Projection, Value: "runRate" })
            && !(
                Any(o => o is { Kind: MentionKind.Scenario, Value: Book.ActualCode })
                && Any(o => o is { Kind: MentionKind.Scenario, Value: "forecast" })
            )
        );
        // "Garage x account".
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.And, Value: "cross" }
            && !(
                Any(o => o.Kind == MentionKind.Level && o.End == m.Start)
                && Any(o => o.Kind == MentionKind.Level && o.Start == m.End)
            )
        );
        // "Job mix", "by job", of job types; anywhere else a job is none.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Level, Length: 1 }
            && vocabulary.KindOf(m.Title) is { } kind
            && kind == tokens[m.Start].Stem
            && !Any(o => o.Start == m.End && o.Kind == MentionKind.Share)
            && !Any(o => o.End == m.Start && (o is { Kind: MentionKind.By, Value: "by" } or { Kind: MentionKind.Which }))
        );
        // "Take fuel out", "put rent back": both words say what becomes of what stands between.
        foreach (var (verb, behind, kind) in vocabulary.SplitVerbs)
            for (var at = 0; at < tokens.Count; at++)
                if (
                    tokens[at].Stem == verb
                    && _mentions
                        .Where(m =>
                            m.Start > at
                            && m.Start <= at + 2
                            && m.Kind is MentionKind.Member or MentionKind.Figure
                            && m.End < tokens.Count
                            && tokens[m.End].Stem == behind
                        )
                        .MaxBy(m => m.Length)
                        is { } left
                )
                {
                    _mentions.RemoveAll(m => (m.Start == at && m.Length == 1) || (m.Start == left.End && m.Length == 1));
                    _mentions.Add(
                        new Mention(
                            kind,
                            kind.ToString().ToLowerInvariant(),
                            null,
                            at,
                            1,
                            MentionFinder.PerMention,
                            tokens[at].Text
                        )
                    );
                    _mentions.Add(
                        new Mention(
                            MentionKind.Filler,
                            behind,
                            null,
                            left.End,
                            1,
                            MentionFinder.PerMention,
                            tokens[left.End].Text
                        )
                    );
                }
        // "Bar Ellersby", "Ellersby out": right beside a name it is left out; anywhere else a bar is drawn, and things are out by
        // so much.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Exclude, Value: LeavesNamed }
            && (
                !Any(o =>
                    o.Kind is MentionKind.Member or MentionKind.Figure or MentionKind.Rank or MentionKind.Codes
                    && (
                        o.Start == m.End
                        || (o.Start == m.End + 1 && vocabulary.Find(tokens[m.End].Stem).Any(e => e.Kind == MentionKind.Filler))
                        || (
                            o.Kind == MentionKind.Codes
                            && Any(l => l.Kind == MentionKind.Level && l.Start == m.End && l.End == o.Start)
                        )
                    )
                ) || Any(o => o.Kind is MentionKind.Member or MentionKind.Figure && Holds(o, m))
            )
        );
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Exclude, Value: NamedLeft }
            && !(
                Any(o => o.Kind == MentionKind.Member && o.End == m.Start)
                && !Any(o =>
                    o.Start == m.End && o.Kind is MentionKind.By or MentionKind.Place or MentionKind.Number or MentionKind.Amount
                )
            )
        );
        Change(
            m => m is { Kind: MentionKind.Exclude, Value: LeavesNamed or NamedLeft },
            m => m with { Value = m.Value.Split(':')[0], Cost = 0 }
        );
        // "What do frames bring in": no place.
        _mentions.RemoveAll(m =>
            m.Kind == MentionKind.Filler
            && Any(o => o is { Kind: MentionKind.Unit, Value: "income", Length: > 1 } && o.Start == m.Start && Holds(o, m))
        );
        // "The delivery rate" is a percentage already; any other rate is a word of its own.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Margin, Value: "rate" }
            && !Any(o =>
                o.Kind == MentionKind.Figure
                && o.End == m.Start
                && book.Figure(Composer.FigureOf(o)) is PairFigure { Rule: PairRule.Percent }
            )
        );
        // "Per parcel": what is counted, where an account is called so as well.
        bool IsCounted(Mention m) =>
            m.Kind == MentionKind.Figure && book.Figure(Composer.FigureOf(m)) is SumFigure { IsProfit: false };
        Dearer(MentionFinder.TakesApart, m =>
            m.Kind == MentionKind.Figure
            && !IsCounted(m)
            && Any(p => p is { Kind: MentionKind.By, Value: "per" } && p.End == m.Start)
            && Any(o => Covers(o, m) && IsCounted(o))
        );
        // "Austria against the group", where that is a level of the book.
        bool IsHeldAgainst(Mention m) =>
            Any(c =>
                c.Kind == MentionKind.Comparator
                && (
                    c.End == m.Start
                    || (c.End == m.Start - 1 && vocabulary.Find(tokens[c.End].Stem).Any(e => e.Kind == MentionKind.Filler))
                )
                && Any(w => w.Kind == MentionKind.Member && w.End <= c.Start)
            );
        _mentions.RemoveAll(m =>
            m.Kind == MentionKind.Filler && Any(o => o.Kind == MentionKind.Level && Covers(o, m) && IsHeldAgainst(o))
        );
        // "Line of swims" is drawn; "which line of the statement" is one of it.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Form, Value: "line" }
            && vocabulary.Find(tokens[m.End - 1].Stem).Any(e => e is { Kind: MentionKind.Place, Value: "of" })
            && (
                tokens[m.Start].Text.Length != tokens[m.Start].Stem.Length
                || Any(o => o.Kind == MentionKind.Statement)
                || Any(o =>
                    o.End == m.Start && o.Kind is MentionKind.Which or MentionKind.By or MentionKind.Rank or MentionKind.Number
                )
            )
        );
        // "Drop fuel": said first, it leaves out what is named behind it.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Gap, Start: 0 }
            && Any(o => o.Kind == MentionKind.Exclude && Covers(o, m) && o.End == m.End)
            && Any(o => o.Kind is MentionKind.Figure or MentionKind.Member && o.Start == m.End)
        );
        // "With February beside it".
        Dearer(SeldomAlone, m =>
            m.Kind == MentionKind.Filler
            && Any(o => o is { Kind: MentionKind.Comparator, Value: "beside" } && Covers(o, m))
            && Any(o =>
                o.End == m.Start
                && o.Kind
                    is MentionKind.Month
                        or MentionKind.Part
                        or MentionKind.Year
                        or MentionKind.Period
                        or MentionKind.Scenario
            )
        );
        // "From July on", "July onwards"; anywhere else "on" says where.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Since, Value: FromThen }
            && !(
                Any(o =>
                    o.End == m.Start
                    && o.Kind
                        is MentionKind.Month
                            or MentionKind.Part
                            or MentionKind.Year
                            or MentionKind.Period
                            or MentionKind.Day
                )
                && (
                    tokens[m.Start].Stem.Length > 2
                    || Any(o => o is { Kind: MentionKind.Place, Value: "from" } && o.End < m.Start && m.Start - o.End <= 3)
                )
            )
        );
        Dearer(SeldomAlone, m =>
            m.Kind is MentionKind.Comparator or MentionKind.Place or MentionKind.Filler
            && Any(o => o is { Kind: MentionKind.Since, Value: FromThen } && Covers(o, m))
        );
        // "Five more", "and more"; "8-21, more" is what is older.
        _mentions.RemoveAll(m => m.Kind == MentionKind.Further && m.Start > 0 && tokens.Count(t => char.IsDigit(t.Text[0])) > 1);
        // "Group sales" are no split by groups, unless something says so.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Level, Singular: true }
            && !IsKindOfRows(m)
            && !IsHeldAgainst(m)
            && Any(o => o.Kind == MentionKind.Filler && Covers(o, m))
            && !Any(o =>
                o.End == m.Start
                    && (
                        o
                            is {
                                Kind: MentionKind.By
                                    or MentionKind.Then
                                    or MentionKind.Rank
                                    or MentionKind.Number
                                    or MentionKind.Quantifier
                            }
                        || (o.Kind == MentionKind.And && tokens[o.Start].Text != ",")
                    )
                || (
                    o.End == m.Start
                    && o is { Kind: MentionKind.Which, Value: "which" }
                    && !Any(p => p.Kind == MentionKind.Place && p.End == o.Start)
                )
            )
            && !Any(o => o.Start == m.End && o is { Kind: MentionKind.By, Value: "behind" })
            && !(m.Start > 0 && tokens[m.Start - 1].Text == "," && Any(o => o.Kind == MentionKind.Level && o.End == m.Start - 1))
        );
    }
}
