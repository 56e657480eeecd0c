using Bearing.Core.Books;

namespace Bearing.Core.Reading;

/// <summary>
/// What mentions mean beside their neighbours. Every step looks at all mentions of a text and takes some away, makes some dearer, or adds
/// one that only what stands beside it allows. Steps run in order; none of them decides which mention is taken.
/// </summary>
internal sealed partial class MentionContext(Vocabulary vocabulary, Book book, IReadOnlyList<Token> tokens, List<Mention> found)
{
    /// <summary>"By shop" and "bottom 3 shops" speak of shops, even where a department is called Shops; "in Shops" has no other meaning.</summary>
    private const double NamedLikeLevel = 0.15;

    /// <summary>WHO in capitals is the code before it is a word.</summary>
    private const double TypedAsCode = 0.2;

    /// <summary>A word that stands in a name, or means more beside another, is seldom meant alone.</summary>
    private const double SeldomAlone = 0.3;

    private List<Mention> _mentions = found;

    /// <summary>Said behind the text that is looked for.</summary>
    public const string TextBehind = "behind";

    /// <summary>Words that say what a variance or a sum comes from: down to, only, all.</summary>
    public const string Cause = "cause", AllCause = "all-cause", Sole = "sole", Whole = "whole";

    /// <summary>Whether a word for a share says that a part is most or all of the whole.</summary>
    public static bool SaysPart(string share) => share is Cause or AllCause or Sole or Whole;

    /// <summary>So far, right behind a year.</summary>
    private const string ToDateBehind = "date:behind";

    /// <summary>A word that only stands about, unless it says which costs are meant.</summary>
    private const string SaysWhich = "which";

    /// <summary>Words that leave something out only right before its name, or right behind it.</summary>
    private const string LeavesNamed = "exclude:named", NamedLeft = "excluded:named";

    /// <summary>On, right behind a period that something runs from.</summary>
    public const string FromThen = "behind";

    /// <summary>Gaps, and the numbers that they are gaps in.</summary>
    private const string GapLead = "gap:lead", GapOf = "gap:of";

    /// <summary>About, of entries.</summary>
    private const string About = "about";

    /// <summary>Balance, of entries.</summary>
    private const string BalanceOf = "unbalanced:of";

    /// <summary>Said before one of several: the cost of a performance.</summary>
    public const string OneOf = "one-of";

    /// <summary>"Did we pay".</summary>
    private const string PaidByUs = "settled:by-us";

    /// <summary>As words, before what is from something.</summary>
    private const string HowFar = "how far";

    /// <summary>"Our", "of our".</summary>
    private const string OfOurs = "ours";

    public List<Mention> Settle()
    {
        TakeToTheLetter();
        LeaveOutWhatIsWithin();
        LeaveOutWhereNoneStands();
        TellPlacesApart();
        TellFiguresApart();
        TellMoreThan();
        TellPartsApart();
        TellPlansApart();
        TellNamesApart();
        return _mentions;
    }

    /// <summary>What follows certain words is meant as it is typed, known or not.</summary>
    private void TakeToTheLetter()
    {
        // "Postings about drills": what nobody knows stands in their text; "about fuel" is of fuel.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Contains, Value: About } && (m.End == tokens.Count || Any(o => o.Start == m.End && o.Kind is not MentionKind.Quote) || !Any(o => o.Kind == MentionKind.Intent && o.Value.StartsWith("entries", StringComparison.Ordinal) && o.End == m.Start)));
        // Whatever follows "containing" or "ending in".
        foreach (var lead in _mentions.Where(m => m is { Kind: MentionKind.Contains, Value: not TextBehind } && m.End < tokens.Count && tokens[m.End].Quotation == 0 && vocabulary.Find(tokens[m.End].Stem).All(e => e.Kind is not (MentionKind.Place or MentionKind.And or MentionKind.By))).ToList())
        {
            // "Mentioning the flower show": without the article, and up to what says when, where or in which order.
            var from = lead.End;
            while (from < tokens.Count && vocabulary.Find(tokens[from].Stem).Any(e => e is { Kind: MentionKind.Filler or MentionKind.Which })) from++;
            if (from == tokens.Count) continue;
            var to = from + 1;
            while (to < tokens.Count && tokens[to].Stem.Any(char.IsLetter) && tokens[to].Quotation == 0 && !_mentions.Exists(m => m.Start == to && m is not ({ Kind: MentionKind.Filler or MentionKind.Quote or MentionKind.Form } or { Partial: true } or { Corrected: true }))) to++;
            var text = string.Join(' ', tokens.Skip(from).Take(to - from).Select(t => t.Text));
            _mentions.Add(new Mention(MentionKind.Quote, text, null, from, to - from, MentionFinder.PerMention, text));
        }
        // "With insurance in the text" is no insurance: a name right before it is text, and so is a word alone.
        foreach (var behind in _mentions.Where(m => m is { Kind: MentionKind.Contains, Value: TextBehind, Start: > 0 } && tokens[m.Start - 1].Quotation == 0).ToList())
        {
            var from = _mentions.Where(m => m.End == behind.Start && m.Kind is MentionKind.Figure or MentionKind.Member or MentionKind.Value).Select(m => m.Start).DefaultIfEmpty(behind.Start - 1).Min();
            _mentions.RemoveAll(m => m.Start < behind.Start && m.End > from);
            var text = string.Join(' ', tokens.Skip(from).Take(behind.Start - from).Select(t => t.Text));
            _mentions.Add(new Mention(MentionKind.Quote, text, null, from, behind.Start - from, MentionFinder.PerMention, text));
        }
        // "With “credit” in the text": what stands in quotation marks is no part of a name.
        Change(m => m.Kind == MentionKind.Quote && Any(o => o.Kind == MentionKind.Contains && (o.End == m.Start || o.Start == m.End)), m => m with { Cost = MentionFinder.PerMention });
        Dearer(MentionFinder.TakesApart, m => m.Partial && m.Length == 1 && tokens[m.Start].Quotation > 0);
        // "Journal JV-1": what follows one of them and has a digit in it is its number.
        foreach (var lead in _mentions.Where(m => m is { Kind: MentionKind.Records or MentionKind.Intent, Singular: true } && (m.Kind == MentionKind.Records || m.Value.StartsWith("entries", StringComparison.Ordinal)) && m.End < tokens.Count && tokens[m.End].Text.Any(char.IsDigit) && tokens[m.End].Text.Any(char.IsLetter)).ToList())
            if (!Any(o => o.Start <= lead.End && o.End > lead.End)) _mentions.Add(new Mention(MentionKind.Document, tokens[lead.End].Text, null, lead.End, 1, MentionFinder.PerMention, tokens[lead.End].Text));
    }

    /// <summary>A part of a phrase does not mean what it means alone.</summary>
    private void LeaveOutWhatIsWithin()
    {
        // "Not paid" has nothing in it that is paid, and "owes us" nothing that is owed.
        _mentions.RemoveAll(m => m.Kind == MentionKind.Check && Any(o => o.Kind == MentionKind.Check && Holds(o, m) && o.Length > m.Length));
        // "Last year next to it" adds; "next to last year" compares.
        _mentions.RemoveAll(m => m.Kind is MentionKind.Comparator or MentionKind.Filler or MentionKind.Place && Any(o => o.Kind == MentionKind.Add && Holds(o, m) && o.Length > m.Length));
        // "The same in July" follows up; "the same in the forecast" compares.
        // "Sales after product line" are by it; profit after tax is less it.
        Change(m => m is { Kind: MentionKind.Exclude, Value: "after" } && Any(o => o.Kind == MentionKind.Level && o.Start == m.End && !Any(f => f.Kind is MentionKind.Figure or MentionKind.Member && f.Start == m.End && f.End > o.End)), m => m with { Kind = MentionKind.By, Value = "by" });
        // "The third quarter" is no third row.
        _mentions.RemoveAll(m => m.Kind == MentionKind.Row && Any(o => o.Kind == MentionKind.Part && o.Start > m.Start && o.Start < m.End && o.End > m.End));
        Change(m => m is { Kind: MentionKind.Compare, Value: "same", Start: 0 } && Any(o => o.Start == m.End && o.Kind is MentionKind.Month or MentionKind.Part or MentionKind.Period or MentionKind.Year or MentionKind.Member), m => m with { Kind = MentionKind.Edit, Value = "edit" });
        // "March with February beside it" compares; where no figure is named, what is put beside it is added to what was shown.
        var named = Any(m => m.Kind is MentionKind.Figure or MentionKind.Records or MentionKind.Statement or MentionKind.Member or MentionKind.Month or MentionKind.Part);
        _mentions.RemoveAll(m => m.Kind == (named ? MentionKind.Add : MentionKind.Comparator) && Any(o => o.Kind == (named ? MentionKind.Comparator : MentionKind.Add) && Covers(o, m)));
        // "Overtime relative to income" is the one in percent of the other.
        Dearer(SeldomAlone, m => m.Kind == MentionKind.Comparator && Any(o => o is { Kind: MentionKind.By, Value: "percent" } && Covers(o, m)) && Any(o => o.Kind == MentionKind.Figure && o.End == m.Start) && Any(o => o.Kind == MentionKind.Figure && o.Start == m.End));
        // "People % of sales" divides; "percent of payables" asks for a share.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.By, Value: "percent" } && Any(o => o.Kind == MentionKind.Share && Covers(o, m)) && !Any(o => o.Kind == MentionKind.Figure && o.End == m.Start));
        // "Gaps in the FY26 document numbers"; anywhere else a gap is a variance.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Check, Value: GapLead } && !Any(o => o is { Kind: MentionKind.Filler, Value: GapOf }));
        Change(m => m is { Kind: MentionKind.Check, Value: GapLead }, m => m with { Value = "gap" });
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Filler, Value: GapOf } && !Any(o => o is { Kind: MentionKind.Check, Value: "gap" }));
        // "Do all documents of January balance": entries do or do not; of an account the balance is one.
        var entered = Any(o => o.Kind == MentionKind.Intent && o.Value.StartsWith("entries", StringComparison.Ordinal)) && !Any(o => o.Kind == MentionKind.Figure);
        _mentions.RemoveAll(m => entered ? m is { Kind: MentionKind.Unit, Value: "balance" } : m is { Kind: MentionKind.Check, Value: BalanceOf });
        Change(m => m is { Kind: MentionKind.Check, Value: BalanceOf }, m => m with { Value = "unbalanced" });
        // "Which of our drivers": people who are called so, and not what drives.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Intent, Value: "why" } && Any(o => o.Kind == MentionKind.Member && Covers(o, m)) && Any(o => o.Kind == MentionKind.Which && o.End <= m.Start));
        // "Open invoices" are open, and what is paid between two days was paid then.
        Dearer(SeldomAlone, m => m.Kind is MentionKind.Filler or MentionKind.Field && Any(o => o.Kind == MentionKind.Check && Covers(o, m)) && Any(o => o.Kind == MentionKind.Records) && (m.Kind == MentionKind.Filler || Any(o => o.Kind is MentionKind.Place or MentionKind.Between && o.Start == m.End)));
        // "By customer age" asks for nothing that grows old.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Check, Value: "ageing", Length: 1 } && m.Start > 1 && vocabulary.Find(tokens[m.Start - 2].Stem).Any(e => e.Kind == MentionKind.By) && vocabulary.Find(tokens[m.Start - 1].Stem).Count == 0);
        // "As % of revenue" is no percentage of which nothing was said, and no share.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Unit, Value: "percent" } or { Kind: MentionKind.Percent, Value: "percent" } or { Kind: MentionKind.Margin, Value: "sign" } or { Kind: MentionKind.Share } && Any(o => o is { Kind: MentionKind.By, Value: "percent" } && Holds(o, m)));
        // "Number of" counts; "the numbers" only stand about.
        _mentions.RemoveAll(m => m.Kind == MentionKind.Filler && Any(o => o is { Kind: MentionKind.Statistic, Value: "count", Length: > 1 } && Holds(o, m)));
        // "Are the document numbers of FY26 complete" counts nothing.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Statistic, Value: "count" } && Any(o => o is { Kind: MentionKind.Filler, Value: GapOf } && o.Start < m.Start && o.End > m.Start));
        // What has "gone up" is still there.
        _mentions.RemoveAll(m => m.Kind == MentionKind.Presence && Any(o => o.Kind == MentionKind.Gap && Holds(o, m) && o.Length > m.Length));
        // "More than 5k over, but less than 10%": both limits hold.
        Change(m => m is { Kind: MentionKind.Exclude, Value: "but" } && Any(o => o.Kind == MentionKind.Gap && o.Start >= m.End && o.Start <= m.End + 1), m => m with { Kind = MentionKind.And, Value = "and" });
        // "Compare H1 to H2 last year": last year says which H2.
        Dearer(MentionFinder.TakesApart, m => m is { Kind: MentionKind.Scenario, Value: "prior-year" } && Any(o => o.Kind is MentionKind.Part or MentionKind.Month && o.End == m.Start && Any(t => t.Kind == MentionKind.To && t.End == o.Start)) && Any(o => o.Kind == MentionKind.Compare));
        // "Supplier and open amount" are columns; "open amounts by supplier" are what is open.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Check, Value: "open", Length: > 1 } && vocabulary.Find(tokens[m.End - 1].Stem).Any(e => e is { Kind: MentionKind.Field, Value: "amount" }) && Any(o => o.Kind is MentionKind.And or MentionKind.Field && (o.End == m.Start || o.Start == m.End)));
        // "5k higher than last year" holds against it.
        Dearer(MentionFinder.TakesApart, m => m is { Kind: MentionKind.Period, Value: "year:-1" } && Any(o => o.Kind == MentionKind.Gap && o.End == m.Start && vocabulary.Find(tokens[o.End - 1].Stem).Any(e => e is { Kind: MentionKind.Comparator, Value: "than" })) && Any(o => o.Kind == MentionKind.Scenario && Covers(o, m)));
        // "Increased on last year, %": of what it is a percentage is said by what moved.
        Change(m => m is { Kind: MentionKind.Margin, Value: "sign" } && !Any(o => o.End == m.Start && o.Kind is MentionKind.Figure or MentionKind.Member or MentionKind.Number or MentionKind.Amount) && Any(o => o.Kind == MentionKind.Gap && GapSense.Of(o) is { Moves: true, OverTime: true }), m => m with { Kind = MentionKind.Unit, Value = "percent" });
        // "April, with last year": beside what April was, and no other April.
        Dearer(MentionFinder.TakesApart, m => m is { Kind: MentionKind.Period, Value: "year:-1" } && Any(o => o is { Kind: MentionKind.Place, Value: "with" } && o.End == m.Start) && Any(o => o.End <= m.Start && o.Kind is MentionKind.Month or MentionKind.Part));
        // "The month before?" alone goes on as well.
        _mentions.RemoveAll(m => m.Kind == MentionKind.Scenario && Any(o => o.Kind == MentionKind.Step && Covers(o, m)) && !Any(o => o.Kind is MentionKind.Figure or MentionKind.Member or MentionKind.Comparator or MentionKind.Compare or MentionKind.Gap or MentionKind.Growth or MentionKind.Period or MentionKind.Month && !Holds(m, o)));
        // "In any month before October" ends with September; "the month before October" is one.
        _mentions.RemoveAll(m => m.Kind is MentionKind.Scenario or MentionKind.Step && m.Length > 1 && Any(o => o.Start == m.End && o.Kind is MentionKind.Month or MentionKind.Part) && Any(o => o.End == m.Start && o.Kind == MentionKind.Quantifier || o is { Kind: MentionKind.By, Value: "each" } && o.End == m.Start));
        // "How much have we used against budget": what was used is what it came to, and no part of a plan.
        Change(m => m is { Kind: MentionKind.Projection, Value: "used" } && Any(o => o.Start >= m.End && o.Kind == MentionKind.Comparator && Any(p => p.Kind == MentionKind.Scenario && p.Start == o.End && p.Value != Book.ActualCode)), m => m with { Kind = MentionKind.Filler, Value = "filler" });
        // "The fastest growing"; whoever is fastest at something else is not known here.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Rank, Value: "fastest" or "slowest", Length: 1 } && !Any(o => o.Kind is MentionKind.Growth or MentionKind.Records or MentionKind.Check || (o.Kind == MentionKind.Gap && GapSense.Of(o).Moves)));
        // "And the month before" goes on from an answer; behind a figure it names what is compared with.
        Dearer(MentionFinder.TakesApart, m => m.Kind == MentionKind.Step && Any(o => o.End <= m.Start && o.Kind is MentionKind.Figure or MentionKind.Scenario or MentionKind.Member or MentionKind.Period or MentionKind.Month));
        // "September 2025" is no amount.
        Dearer(MentionFinder.TakesApart, m => m.Kind == MentionKind.Amount && Any(o => o.Kind == MentionKind.Year && Covers(o, m)) && Any(o => o.Kind is MentionKind.Month or MentionKind.Part && o.End == m.Start));
        // "Late" is what is overdue, unless something is said of paying.
        var paying = tokens.Any(t => vocabulary.Find(t.Stem).Any(e => e is { Kind: MentionKind.Check, Value: "settled" or PaidByUs } or { Kind: MentionKind.Filler, Value: "pays" }));
        Dearer(SeldomAlone, m => m is { Kind: MentionKind.Check, Value: "late" or "overdue", Length: 1 } && m.Value == (paying ? "overdue" : "late") && Any(o => o.Kind == MentionKind.Check && o.Value == (paying ? "late" : "overdue") && Covers(o, m)));
        // "The largest entry" is one of the entries, and no row that was shown.
        Dearer(MentionFinder.TakesApart, m => m.Kind == MentionKind.Row && Any(o => o.Kind == MentionKind.Intent && o.Value.StartsWith("entries", StringComparison.Ordinal) && o.Start >= m.End && o.Start <= (o.Singular ? m.End + 2 : m.End)));
        // "That shop" points at a row of the last answer; anywhere else "that" and "those" only stand about.
        Change(m => m is { Kind: MentionKind.Row, Value: Composer.ThatRow or Composer.ThoseRows } && !Any(o => o.Start == m.End && IsPointedAt(o)), m => m with { Kind = MentionKind.Filler });
        // "The drop at Fennhaven" is one of it.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Exclude, Value: "drop" } && Any(o => o.Kind == MentionKind.Place && o.Start == m.End));
        // "Drop Fennhaven" leaves it out; what dropped at Fennhaven fell.
        Dearer(MentionFinder.TakesApart, m => m is { Kind: MentionKind.Exclude, Value: "drop" } && Any(o => o.End == m.Start && o.Kind is MentionKind.Figure or MentionKind.Member or MentionKind.Class or MentionKind.Level or MentionKind.Rank));
        // "Physics pay", "pay versus plan": what stands where a name does is none that only stands about.
        _mentions.RemoveAll(m => m.Kind == MentionKind.Filler && Any(o => o is { Kind: MentionKind.Filler, Value: "noun" } && Covers(o, m)) && (m.Start == 0 || Any(o => o.End == m.Start && o.Kind is MentionKind.Member or MentionKind.Figure or MentionKind.Level))
            && Any(o => o.Start == m.End && o.Kind is MentionKind.Comparator or MentionKind.Scenario or MentionKind.By or MentionKind.Growth or MentionKind.Gap or MentionKind.Grain));
        // "How much of it is carriage" speaks of what was shown.
        Dearer(SeldomAlone, m => m.Kind == MentionKind.Filler && Any(o => o is { Kind: MentionKind.Edit, Value: "part" } && Holds(o, m)));
        // "Gross margin percentage" is a ratio; "percentages only" are those that are shown.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Margin, Value: "sign" } && tokens[m.Start].Text != "%" && !Any(o => o.Kind == MentionKind.Figure && o.End == m.Start));
        // "By status" splits by it; elsewhere "status" only stands about.
        Dearer(SeldomAlone, m => m.Kind == MentionKind.Filler && Any(o => o.Kind == MentionKind.By && o.End == m.Start) && Any(o => o.Kind is MentionKind.Field or MentionKind.Level && Covers(o, m)));
        // "This year" is no split by year.
        var periods = _mentions.Where(m => m is { Kind: MentionKind.Period, Length: > 1, Corrected: false }).ToList();
        Dearer(MentionFinder.TakesApart, m => m.Kind == MentionKind.Grain && periods.Exists(p => Holds(p, m) && p.Length > m.Length));
    }

    /// <summary>What means something only where it stands right behind, or before, another thing.</summary>
    private void TellPlacesApart()
    {
        // "FY26 so far" ends where the ledger does; anywhere else "so far" only stands about.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Period, Value: ToDateBehind } && !Any(o => o.Kind == MentionKind.Year && o.End == m.Start));
        _mentions.RemoveAll(m => m.Kind == MentionKind.Filler && Any(o => o is { Kind: MentionKind.Period, Value: ToDateBehind } && Holds(o, m)));
        Change(m => m is { Kind: MentionKind.Period, Value: ToDateBehind }, m => m with { Value = "date:0" });
        // "If it goes on like this"; of anything else "if" asks for what nobody knows.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Filler, Value: "if" } && !Any(o => o is { Kind: MentionKind.Projection, Value: "runRate" }) && !(Any(o => o is { Kind: MentionKind.Scenario, Value: Book.ActualCode }) && Any(o => o is { Kind: MentionKind.Scenario, Value: "forecast" })));
        // "Garage x account".
        _mentions.RemoveAll(m => m is { Kind: MentionKind.And, Value: "cross" } && !(Any(o => o.Kind == MentionKind.Level && o.End == m.Start) && Any(o => o.Kind == MentionKind.Level && o.Start == m.End)));
        // "Job mix", "by job", of job types; anywhere else a job is none.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Level, Length: 1 } && vocabulary.KindOf(m.Title) is { } kind && kind == tokens[m.Start].Stem && !Any(o => o.Start == m.End && o.Kind == MentionKind.Share) && !Any(o => o.End == m.Start && (o is { Kind: MentionKind.By, Value: "by" } or { Kind: MentionKind.Which })));
        // "Take fuel out", "put rent back": both words say what becomes of what stands between.
        foreach (var (verb, behind, kind) in vocabulary.SplitVerbs)
            for (var at = 0; at < tokens.Count; at++)
                if (tokens[at].Stem == verb && _mentions.Where(m => m.Start > at && m.Start <= at + 2 && m.Kind is MentionKind.Member or MentionKind.Figure && m.End < tokens.Count && tokens[m.End].Stem == behind).MaxBy(m => m.Length) is { } left)
                {
                    _mentions.RemoveAll(m => (m.Start == at && m.Length == 1) || (m.Start == left.End && m.Length == 1));
                    _mentions.Add(new Mention(kind, kind.ToString().ToLowerInvariant(), null, at, 1, MentionFinder.PerMention, tokens[at].Text));
                    _mentions.Add(new Mention(MentionKind.Filler, behind, null, left.End, 1, MentionFinder.PerMention, tokens[left.End].Text));
                }
        // "Bar Ellersby", "Ellersby out": right beside a name it is left out; anywhere else a bar is drawn, and things are out by so much.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Exclude, Value: LeavesNamed } && (!Any(o => o.Kind is MentionKind.Member or MentionKind.Figure or MentionKind.Rank or MentionKind.Codes && (o.Start == m.End || (o.Start == m.End + 1 && vocabulary.Find(tokens[m.End].Stem).Any(e => e.Kind == MentionKind.Filler)) || (o.Kind == MentionKind.Codes && Any(l => l.Kind == MentionKind.Level && l.Start == m.End && l.End == o.Start)))) || Any(o => o.Kind is MentionKind.Member or MentionKind.Figure && Holds(o, m))));
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Exclude, Value: NamedLeft } && !(Any(o => o.Kind == MentionKind.Member && o.End == m.Start) && !Any(o => o.Start == m.End && o.Kind is MentionKind.By or MentionKind.Place or MentionKind.Number or MentionKind.Amount)));
        Change(m => m is { Kind: MentionKind.Exclude, Value: LeavesNamed or NamedLeft }, m => m with { Value = m.Value.Split(':')[0], Cost = 0 });
        // "What do frames bring in": no place.
        _mentions.RemoveAll(m => m.Kind == MentionKind.Filler && Any(o => o is { Kind: MentionKind.Unit, Value: "income", Length: > 1 } && o.Start == m.Start && Holds(o, m)));
        // "The delivery rate" is a percentage already; any other rate is a word of its own.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Margin, Value: "rate" } && !Any(o => o.Kind == MentionKind.Figure && o.End == m.Start && book.Figure(Composer.FigureOf(o)) is PairFigure { Rule: PairRule.Percent }));
        // "Per parcel": what is counted, where an account is called so as well.
        bool IsCounted(Mention m) => m.Kind == MentionKind.Figure && book.Figure(Composer.FigureOf(m)) is SumFigure { IsProfit: false };
        Dearer(MentionFinder.TakesApart, m => m.Kind == MentionKind.Figure && !IsCounted(m) && Any(p => p is { Kind: MentionKind.By, Value: "per" } && p.End == m.Start) && Any(o => Covers(o, m) && IsCounted(o)));
        // "Austria against the group", where that is a level of the book.
        bool IsHeldAgainst(Mention m) => Any(c => c.Kind == MentionKind.Comparator && (c.End == m.Start || (c.End == m.Start - 1 && vocabulary.Find(tokens[c.End].Stem).Any(e => e.Kind == MentionKind.Filler))) && Any(w => w.Kind == MentionKind.Member && w.End <= c.Start));
        _mentions.RemoveAll(m => m.Kind == MentionKind.Filler && Any(o => o.Kind == MentionKind.Level && Covers(o, m) && IsHeldAgainst(o)));
        // "Line of swims" is drawn; "which line of the statement" is one of it.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Form, Value: "line" } && vocabulary.Find(tokens[m.End - 1].Stem).Any(e => e is { Kind: MentionKind.Place, Value: "of" }) && (tokens[m.Start].Text.Length != tokens[m.Start].Stem.Length || Any(o => o.Kind == MentionKind.Statement) || Any(o => o.End == m.Start && o.Kind is MentionKind.Which or MentionKind.By or MentionKind.Rank or MentionKind.Number)));
        // "Drop fuel": said first, it leaves out what is named behind it.
        Dearer(MentionFinder.TakesApart, m => m is { Kind: MentionKind.Gap, Start: 0 } && Any(o => o.Kind == MentionKind.Exclude && Covers(o, m) && o.End == m.End) && Any(o => o.Kind is MentionKind.Figure or MentionKind.Member && o.Start == m.End));
        // "With February beside it".
        Dearer(SeldomAlone, m => m.Kind == MentionKind.Filler && Any(o => o is { Kind: MentionKind.Comparator, Value: "beside" } && Covers(o, m)) && Any(o => o.End == m.Start && o.Kind is MentionKind.Month or MentionKind.Part or MentionKind.Year or MentionKind.Period or MentionKind.Scenario));
        // "From July on", "July onwards"; anywhere else "on" says where.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Since, Value: FromThen } && !(Any(o => o.End == m.Start && o.Kind is MentionKind.Month or MentionKind.Part or MentionKind.Year or MentionKind.Period or MentionKind.Day) && (tokens[m.Start].Stem.Length > 2 || Any(o => o is { Kind: MentionKind.Place, Value: "from" } && o.End < m.Start && m.Start - o.End <= 3))));
        Dearer(SeldomAlone, m => m.Kind is MentionKind.Comparator or MentionKind.Place or MentionKind.Filler && Any(o => o is { Kind: MentionKind.Since, Value: FromThen } && Covers(o, m)));
        // "Five more", "and more"; "8-21, more" is what is older.
        _mentions.RemoveAll(m => m.Kind == MentionKind.Further && m.Start > 0 && tokens.Count(t => char.IsDigit(t.Text[0])) > 1);
        // "Group sales" are no split by groups, unless something says so.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Level, Singular: true } && !IsKindOfRows(m) && !IsHeldAgainst(m) && Any(o => o.Kind == MentionKind.Filler && Covers(o, m)) && !Any(o => o.End == m.Start && (o is { Kind: MentionKind.By or MentionKind.Then or MentionKind.Rank or MentionKind.Number or MentionKind.Quantifier } || (o.Kind == MentionKind.And && tokens[o.Start].Text != ",")) || (o.End == m.Start && o is { Kind: MentionKind.Which, Value: "which" } && !Any(p => p.Kind == MentionKind.Place && p.End == o.Start)))
            && !Any(o => o.Start == m.End && o is { Kind: MentionKind.By, Value: "behind" }) && !(m.Start > 0 && tokens[m.Start - 1].Text == "," && Any(o => o.Kind == MentionKind.Level && o.End == m.Start - 1)));
    }

    private void TellFiguresApart()
    {
        // Bills are records where the book has any, and what was paid for where a figure is named: an electricity bill.
        if (book.Tables.Any(t => t.Code != Table.Ledger)) Dearer(MentionFinder.TakesApart, m => m is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts } && Any(o => o.Kind == MentionKind.Records && Covers(o, m)) && !Any(o => o.Kind == MentionKind.Figure && o.End == m.Start));
        // The top line is no line that is at the top.
        Dearer(SeldomAlone, m => m.Kind is MentionKind.Rank or MentionKind.Intent or MentionKind.Level && Any(o => o is { Kind: MentionKind.Figure, IsUsualName: true, Corrected: false } && Holds(o, m) && o.Length > m.Length && tokens[o.End - 1].Text.Equals(tokens[o.End - 1].Stem, StringComparison.OrdinalIgnoreCase)));
        // "Inside its rent budget", "within the crew budget": no more than that.
        Change(m => m is { Kind: MentionKind.Place, Value: Composer.Inside } && Any(o => o.Kind == MentionKind.Gap && Covers(o, m)) && _mentions.Find(o => o is { Kind: MentionKind.Scenario, Value: not Book.ActualCode } && o.Start > m.End) is { } plan && Enumerable.Range(m.End, plan.Start - m.End).All(i => Any(o => o.Start <= i && i < o.End && o.Kind is MentionKind.Filler or MentionKind.Figure)), m => m with { Kind = MentionKind.Gap, Value = "good" });
        // "What Eastpark contributes to the February variance" is a part of it, and held against nothing.
        Change(m => m.Kind is MentionKind.Comparator or MentionKind.To && vocabulary.Find(tokens[m.Start].Stem).Any(e => e.Kind == MentionKind.To) && Any(o => o.Kind == MentionKind.Share && o.End < m.Start && Any(n => n.Kind == MentionKind.Member && n.Start == o.End && n.End == m.Start)), m => m with { Kind = MentionKind.Filler });
        // "Projected costs at the run rate" are those of the run rate, where they are held against something else.
        Change(m => m is { Kind: MentionKind.Scenario, Value: "forecast", Length: 1, Start: 0 } && Any(o => o is { Kind: MentionKind.Projection, Value: "runRate" }) && Any(o => o is { Kind: MentionKind.Scenario, Value: not Book.ActualCode } && o.Start > m.Start), m => m with { Kind = MentionKind.Filler });
        // "Share of milk in supplier spend" is a part of what was bought from suppliers, which stands in no figure of its own.
        Change(m => m is { Kind: MentionKind.Level, Singular: true, Dimension: not null } && Any(f => f is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts } && f.Start == m.End) && Any(s => s.Kind == MentionKind.Share && s.End < m.Start && Any(p => p.Kind == MentionKind.Figure && p.Start >= s.End && p.End < m.Start)),
            m => m with { Kind = MentionKind.Beyond, Value = $"What was spent by {m.Title.ToLowerInvariant()} is not told apart from other costs where it is divided by. Ask for the share of all costs, or for the spend by {m.Title.ToLowerInvariant()}." });
        // "Bar and kitchen" are no bars.
        Dearer(SeldomAlone, m => m is { Kind: MentionKind.Form, Length: 1 } && Any(o => o is { Kind: MentionKind.Figure or MentionKind.Member, Partial: false, Corrected: false } && Covers(o, m)));
        // "How did guests develop by centre compared with last year" has its rows.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Grain, Value: Composer.Course } && Any(o => o.Kind == MentionKind.Comparator) && Any(o => o is { Kind: MentionKind.By, Value: "by" } && Any(l => l.Kind == MentionKind.Level && l.Start == o.End)));
        // "Open J-104" is asked of a document, and not whether it is paid.
        Change(m => m is { Kind: MentionKind.Check, Value: "open", Start: 0 } && Any(o => o.Kind == MentionKind.Document && o.Start == m.End), m => m with { Kind = MentionKind.Filler });
        // "By how far their profit is from budget".
        Change(m => m is { Kind: MentionKind.Filler, Title: HowFar } && Any(o => o is { Kind: MentionKind.Place, Value: "from" } && o.Start > m.End && Any(s => s.Kind == MentionKind.Scenario && s.Start == o.End)), m => m with { Kind = MentionKind.Intent, Value = "variance" });
        Change(m => m is { Kind: MentionKind.Order, Value: "size:down" } && Any(o => o is { Kind: MentionKind.Intent, Value: "variance", Title: HowFar } && o.Start >= m.End), m => m with { Value = "gap:down" });
        Change(m => m is { Kind: MentionKind.By, Value: "by" } && Any(o => o is { Kind: MentionKind.Intent, Value: "variance", Title: HowFar } && o.Start == m.End), m => m with { Kind = MentionKind.Filler });
        // "Month on month, December against November": said twice.
        Change(m => m is { Kind: MentionKind.Scenario, Value: "prior-month" or "prior-quarter" } && Any(c => c.Kind == MentionKind.Comparator && Any(p => IsTime(p) && p.End == c.Start) && Any(p => IsTime(p) && p.Start == c.End)), m => m with { Kind = MentionKind.Filler });
        // "By month with budget line" draws the budget, and shows no accounts.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Level, Value: Composer.AnyLines, Singular: true } or { Kind: MentionKind.Intent, Value: "entries", Singular: true } && Any(o => o is { Kind: MentionKind.Place, Value: "with" } && (o.End == m.Start || Any(s => s.Kind == MentionKind.Scenario && s.Start == o.End && s.End == m.Start))) && Any(o => o.Kind is MentionKind.Grain or MentionKind.Form && (o.Start >= m.End || o.End <= m.Start)));
        // "Why is the first one off" asks for the first one, and for nothing that happens once.
        _mentions.RemoveAll(m => m.Kind == MentionKind.Beyond && Any(o => o.Kind == MentionKind.Row && o.Start < m.Start && o.End > m.Start));
        // "Which postings make up clay" are those of it, and no shares.
        Change(m => m.Kind == MentionKind.Share && Any(o => o.Kind == MentionKind.Intent && o.Value.StartsWith("entries", StringComparison.Ordinal) && o.End == m.Start), m => m with { Kind = MentionKind.Filler });
        // "Actual, budget, last year": of sides that are listed it is one as well.
        Dearer(SeldomAlone * 2, m => m is { Kind: MentionKind.Period, Value: "year:-1" } && Any(o => o is { Kind: MentionKind.Scenario, Value: not Book.ActualCode } && (o.End == m.Start || (o.End == m.Start - 1 && tokens[o.End].Text == ",")) && Any(a => a is { Kind: MentionKind.Scenario, Value: Book.ActualCode } && (a.End == o.Start || (a.End == o.Start - 1 && tokens[a.End].Text is "," or "/")))));
        // "Best selling" is no selling cost.
        Dearer(SeldomAlone, m => m is { Kind: MentionKind.Figure, Length: 1 } && Any(o => o.Kind == MentionKind.Unit && Covers(o, m)) && Any(o => o.Kind == MentionKind.Rank && o.End == m.Start));
        // "Staff cost per head" is not the bar spend per head: what begins with "per" is no name of its own behind another word.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Figure, Partial: true, Start: > 0 } && vocabulary.Find(tokens[m.Start].Stem).Any(e => e is { Kind: MentionKind.By, Value: "per" }) && Any(o => o.Kind == MentionKind.Figure && o.End == m.Start));
        // "How much rent did we pay" asks for rent, where no invoices are spoken of.
        var bought = Any(m => m is { Kind: MentionKind.Figure, Partial: false } && book.Figure(Composer.FigureOf(m)) is SumFigure { IsProfit: true } && m.Value != "m:" + Book.AllCosts) && !Any(m => m.Kind == MentionKind.Records);
        Change(m => m is { Kind: MentionKind.Check, Value: PaidByUs }, m => bought ? m with { Kind = MentionKind.Filler } : m with { Value = "settled" });
        // "Staff" is what staff cost: the staff cost ratio is asked for by more of its name.
        Dearer(SeldomAlone, m => m is { Kind: MentionKind.Figure, Partial: true } && book.Figure(Composer.FigureOf(m)) is PairFigure { Rule: not PairRule.Difference } && Any(o => Covers(o, m) && (IsNameOfCosts(o) || (Words.Tokens(m.Title)[0].Stem != tokens[m.Start].Stem && o is { Kind: MentionKind.Figure, Partial: false, Corrected: false } && book.Figure(Composer.FigureOf(o)) is SumFigure))));
        // "Which of our drivers earn most": where somebody is called so, they are not what drives a variance.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Intent, Value: "why", Length: 1 } && Any(o => o is { Kind: MentionKind.Figure or MentionKind.Member } && Covers(o, m)) && Any(o => o.End == m.Start && (o is { Kind: MentionKind.Filler, Value: OfOurs } or { Kind: MentionKind.Intent, Value: "value:many" } or { Kind: MentionKind.Statistic, Value: "count" } or { Kind: MentionKind.Which, Value: "who" } || (o.Kind == MentionKind.Which && (Any(u => u.Kind == MentionKind.Unit && u.Start == m.End) || tokens[m.Start].Text.Length == tokens[m.Start].Stem.Length)))));
        // "Wages" are the wages before they are the wage ratio: of two names that both begin so, a ratio wants its own word.
        Dearer(SeldomAlone, m => m is { Kind: MentionKind.Figure, Partial: true, Length: 1 } && book.Figure(Composer.FigureOf(m)) is PairFigure { Rule: not PairRule.Difference } && Any(o => Covers(o, m) && o is { Kind: MentionKind.Figure, Corrected: false } && book.Figure(Composer.FigureOf(o)) is SumFigure && Words.Tokens(o.Title) is [var first, ..] && first.Stem == tokens[m.Start].Stem) && (!Any(o => o is { Kind: MentionKind.Unit, Value: "percent" }) || Any(o => o.Kind == MentionKind.Projection)));
        // "Book purchases" are called so, though a book may be what all figures are in.
        Dearer(MentionFinder.TakesApart, m => m is { Kind: MentionKind.Filler, Value: "book" } && Any(o => o is { Kind: MentionKind.Figure, Partial: false, Length: > 1 } && Holds(o, m)));
        // "The best-selling author" is no author evening: one of a kind that is ranked is no figure.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Figure, Partial: true, Length: 1 } && tokens[m.Start].Text.Equals(tokens[m.Start].Stem, StringComparison.OrdinalIgnoreCase) && Any(o => o is { Kind: MentionKind.Unit, Value: "sales" } && o.End == m.Start && Any(r => r.Kind == MentionKind.Rank && r.End == o.Start)));
        // "How many walks" asks for no walk from plan to actual.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Intent, Value: "bridge", Length: 1 } && Any(o => o.End == m.Start && o is { Kind: MentionKind.Intent, Value: "value:many" } or { Kind: MentionKind.Statistic, Value: "count" }));
        // "The biggest drivers of the variance" are its causes even so.
        Dearer(MentionFinder.TakesApart, m => m.Kind is MentionKind.Figure or MentionKind.Member && Any(o => o is { Kind: MentionKind.Intent, Value: "why", Length: 1 } && Covers(o, m)) && Any(o => o is { Kind: MentionKind.Place, Value: "of" } && o.Start == m.End) && Any(o => (o.End == m.Start && o.Kind == MentionKind.Rank) || (o is { Kind: MentionKind.Intent, Value: "variance" } && o.Start > m.End && o.Start <= m.End + 4)));
        // "Gas cost per kilo" is gas per kilo, not gas beside the cost per kilo.
        Dearer(MentionFinder.TakesApart, m => m is { Kind: MentionKind.Figure, Partial: false, Length: > 1, Start: > 0 } && Any(o => o is { Kind: MentionKind.By, Value: "per" } && o.Start == m.Start + 1 && o.End < m.End)
            && Any(o => o is { Kind: MentionKind.Figure, Corrected: false } && o.End == m.Start && book.Figure(Composer.FigureOf(o)) is SumFigure));
        // "Where will power land": what is told of a figure is no other one, whatever is called so.
        Dearer(SeldomAlone, m => m is { Kind: MentionKind.Figure or MentionKind.Member, Length: 1 } && Any(o => o.Kind == MentionKind.Filler && Covers(o, m)) && Any(o => o.Kind == MentionKind.Projection && o.End <= m.Start) && Any(o => o.Kind == MentionKind.Figure && o.End == m.Start));
        // "The crusher" is no crusher hours: hours are named by that word, and by what has them only beside it.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Figure, Partial: true, Length: 1 } && Words.Tokens(m.Title) is [.., var head] && vocabulary.MeasureNouns.Contains(head.Stem) && tokens[m.Start].Stem != head.Stem && book.Figure(Composer.FigureOf(m)) is SumFigure { IsProfit: false });
        // "Whole thousands, please" says how amounts are shown, where nothing is listed.
        var listed = Any(m => m.Kind is MentionKind.Records or MentionKind.Value || m is { Kind: MentionKind.Intent } && m.Value.StartsWith("entries", StringComparison.Ordinal)) || Any(m => m is { Kind: MentionKind.Check, Value: not "round" });
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Check, Value: "round" } or { Kind: MentionKind.Numbers } && Any(o => o.Kind == (listed ? MentionKind.Check : MentionKind.Numbers) && o.Kind != m.Kind && Covers(o, m)));
        // "How many whales" asks for whales, and "how many posters" for no preparer, whatever is spelt alike.
        _mentions.RemoveAll(m => m.Corrected && m.Kind is MentionKind.Filler or MentionKind.Place or MentionKind.Field && Any(o => o.End == m.Start && o is { Kind: MentionKind.Intent, Value: "value:many" } or { Kind: MentionKind.Statistic, Value: "count" }));
        // "Runs in February" are what is called so, where nothing else is named.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Filler, Length: 1 } && tokens[m.Start].Text.Length > tokens[m.Start].Stem.Length && Any(o => o is { Kind: MentionKind.Figure, Partial: true, Corrected: false } && Covers(o, m) && o.Title.EndsWith(" " + tokens[m.Start].Text, StringComparison.OrdinalIgnoreCase))
            && !Any(o => o is { Kind: MentionKind.Figure, Partial: false } or { Kind: MentionKind.Records or MentionKind.Result or MentionKind.Statement } && !Covers(o, m)));
        // "Break-ins" are no move-ins: half of a word is no part of a name, unless the other half means something as well.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Figure or MentionKind.Member, Partial: true } && ((tokens[m.Start].Hyphened && IsIdle(m.Start - 1)) || (m.End < tokens.Count && tokens[m.End].Hyphened && IsIdle(m.End))));
        // "Stand-in costs": small words that a hyphen joins are a name where there is one.
        Dearer(SeldomAlone, m => m.Kind is MentionKind.Filler or MentionKind.Place && Any(o => o.Kind is MentionKind.Figure or MentionKind.Member && o.Length > 1 && Holds(o, m) && tokens[o.Start + 1].Hyphened));
        // "Fixed costs" are none of the fixed assets.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Figure or MentionKind.Member, Partial: true } && Any(o => o is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts, Length: 1 } && o.Start == m.End && !Any(b => b.Kind == MentionKind.Figure && b.Length > 1 && Holds(b, o)))
            && (m.Kind == MentionKind.Figure ? book.Figure(Composer.FigureOf(m)) is SumFigure { OverTime: OverTime.Closing } kept && book.Member(kept.Accounts[0]).Account?.Type is AccountType.Asset or AccountType.Liability : m.Dimension == book.Accounts.Code && book.TryMember(book.Accounts.Id, m.Value, out var account) && account.Account?.Type is AccountType.Asset or AccountType.Liability));
        // "Running expenses" are some of all expenses.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Filler, Value: SaysWhich } && Any(o => o is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts } && o.Start == m.End));
        // "Cost per book": what something is held per is no word that only stands about.
        _mentions.RemoveAll(m => m.Kind == MentionKind.Filler && m.Length == 1 && Any(o => o is { Kind: MentionKind.By, Value: "per" } && o.End == m.Start) && Any(o => o.Kind == MentionKind.Figure && o.Start == m.Start));
        // "Commission rate" is no commission beside water rates.
        _mentions.RemoveAll(m => m is { Kind: MentionKind.Figure, Partial: true, Length: 1 } && Any(o => o is { Kind: MentionKind.Figure, Partial: false, Corrected: false } && o.End == m.Start && !IsPart(m, o) && !IsPart(o, m)) && !Any(o => o is { Kind: MentionKind.Figure, Partial: false } && Covers(o, m)));
        // "Transactions above 25k on cost accounts" are postings, even where customers are called so.
        Dearer(MentionFinder.TakesApart, m => m is { Kind: MentionKind.Figure } && Any(o => o.Kind == MentionKind.Intent && Covers(o, m)) && (IsOnCostLines(m) || Any(o => Covers(o, m) && IsOfEntries(o))));
        // "The cost of a performance" is one of those that are counted, and "performances" are so anyway.
        _mentions.RemoveAll(m => m.Kind == MentionKind.Intent && !IsOnCostLines(m) && !IsOfEntries(m) && Any(o => o is { Kind: MentionKind.Figure, Partial: false } && Covers(o, m)) && (tokens[m.Start].Text.Length > tokens[m.Start].Stem.Length || Any(o => o.End == m.Start && o is { Kind: MentionKind.By or MentionKind.Number } or { Kind: MentionKind.Filler, Value: OneOf })));
        // "EBITDA margin" is not the operating margin, even where that is called the margin.
        Dearer(MentionFinder.OtherRatio, m => m is { Kind: MentionKind.Figure, Partial: false } && Any(o => o.Kind == MentionKind.Margin && Covers(o, m)) && Any(o => o is { Kind: MentionKind.Figure, Partial: false } && o.End == m.Start));
        // "Revenue - fuel" takes one from the other; anywhere else a dash only parts.
        for (var at = 1; at + 1 < tokens.Count; at++)
            if (tokens[at].Stem == "-" && Any(m => m.Kind == MentionKind.Figure && m.End == at) && Any(m => m.Kind == MentionKind.Figure && m.Start == at + 1))
                _mentions.Add(new Mention(MentionKind.Exclude, "less", null, at, 1, MentionFinder.PerMention, tokens[at].Text));
    }

    /// <summary>"Staff" of Staff costs: all of the name but the word for costs.</summary>
    private bool IsNameOfCosts(Mention mention) => mention is { Kind: MentionKind.Figure, Partial: true } && Words.Tokens(mention.Title) is var name && name.Count == mention.Length + 1
        && vocabulary.Find(name[^1].Stem).Any(e => e is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts });

    private bool IsOnCostLines(Mention mention) => Any(o => o is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts + "#lines" } && o.Start >= mention.End && Any(p => p.Kind == MentionKind.Place && p.End == o.Start));

    /// <summary>A word that means nothing, or only stands about.</summary>
    private bool IsIdle(int at) => !Any(m => m.Start <= at && at < m.End && m.Kind is not (MentionKind.Filler or MentionKind.Place));

    /// <summary>Whether all accounts of the one stand within the other.</summary>
    private bool IsPart(Mention part, Mention whole) => book.Figure(Composer.FigureOf(part)) is SumFigure p && book.Figure(Composer.FigureOf(whole)) is SumFigure w && book.IsWithin(p, w);

    /// <summary>"More guests in May than in April" compares; "more guests" alone only stands about.</summary>
    private void TellMoreThan()
    {
        for (var at = 0; at + 1 < tokens.Count; at++)
        {
            if (!Any(m => m.Kind is MentionKind.Figure or MentionKind.Member && m.Start == at + 1) || Any(m => m.Kind == MentionKind.Gap && m.Start == at)) continue;
            var than = tokens.Skip(at + 2).FirstOrDefault(t => vocabulary.Find(t.Stem).Any(e => e is { Kind: MentionKind.Comparator, Value: "than" }));
            if (than is not null && vocabulary.Find($"{tokens[at].Stem} {than.Stem}").FirstOrDefault(e => e.Kind == MentionKind.Gap) is { Value: { } value })
                _mentions.Add(new Mention(MentionKind.Gap, value == "more" ? "over" : "under", null, at, 1, 0, tokens[at].Stem));
        }
        var claims = vocabulary.ClaimsAt(tokens, 0);
        // "Did they pick more tonnes than": what is done is no part of another figure's name.
        if (claims) Change(m => m is { Kind: MentionKind.Figure, Partial: true, Length: 1 } && Any(o => o is { Kind: MentionKind.Gap, Value: "over" or "under" } && o.Start == m.End && Any(f => f is { Kind: MentionKind.Figure, Partial: false } && f.Start == o.End && Any(c => c is { Kind: MentionKind.Comparator, Value: "than" } && c.Start >= f.End))), m => m with { Kind = MentionKind.Filler, Value = "filler" });
        // "How fast is revenue growing", where a department is called Growing: behind its figure it says what that does.
        if (claims || Any(m => m.Kind == MentionKind.Growth)) _mentions.RemoveAll(m => m is { Kind: MentionKind.Member, Length: 1 } && Any(o => o.Kind == MentionKind.Gap && Covers(o, m) && GapSense.Of(o).OverTime) && Any(o => o.Kind == MentionKind.Figure && o.End == m.Start));
    }

    /// <summary>"Is it mostly overtime", "down to the north": that is a part of the whole, where its name follows; "only" and "all" say so where a yes or a no is wanted.</summary>
    private void TellPartsApart()
    {
        var claims = vocabulary.ClaimsAt(tokens, 0);
        _mentions.RemoveAll(m => IsPartWord(m) && m.Value is Sole or Whole && !claims);
        foreach (var part in _mentions.Where(IsPartWord).ToList())
            if (Named(part) is not { } named || (part.Value == Whole && named.End < tokens.Count) || (part.Value is Cause or AllCause && IsParty(named))) _mentions.Remove(part);
            else _mentions.RemoveAll(o => o != part && Holds(part, o));

        static bool IsPartWord(Mention mention) => mention.Kind == MentionKind.Share && SaysPart(mention.Value);
        bool IsParty(Mention mention) => mention.Kind == MentionKind.Member && vocabulary.Fields["party"].Contains(Words.Phrase(mention.Dimension!));
    }

    /// <summary>The part that is named behind a word, with nothing but small words between.</summary>
    private Mention? Named(Mention lead)
    {
        var at = lead.End;
        while (_mentions.Where(m => m.Start == at && m.Kind is MentionKind.Filler or MentionKind.Place).MaxBy(m => m.Length) is { } small && !Any(m => m.Start == at && IsName(m))) at = small.End;
        return _mentions.Where(m => m.Start == at && IsName(m)).MaxBy(m => m.Length);

        static bool IsName(Mention mention) => mention.Kind is MentionKind.Figure or MentionKind.Member or MentionKind.Month;
    }

    private static bool IsTime(Mention mention) => mention.Kind is MentionKind.Month or MentionKind.Part or MentionKind.Period or MentionKind.Year;

    private static bool Covers(Mention one, Mention other) => (one.Start, one.Length) == (other.Start, other.Length);

    private static bool Holds(Mention whole, Mention part) => whole.Start <= part.Start && whole.End >= part.End;

    private bool Any(Func<Mention, bool> which) => _mentions.Any(which);

    private void Dearer(double by, Func<Mention, bool> which) => Change(which, m => m with { Cost = m.Cost + by });

    private void Change(Func<Mention, bool> which, Func<Mention, Mention> to) => _mentions = [.. _mentions.Select(m => which(m) ? to(m) : m)];
}
