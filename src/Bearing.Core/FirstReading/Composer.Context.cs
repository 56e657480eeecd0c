using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>What no single item says: what shows beside its neighbours, or only once everything was taken up.</summary>
internal sealed partial class Composer
{
    /// <summary>Words that ask what something is made of; where rows are said they say no more.</summary>
    public const string PartsWord = "parts";

    /// <summary>What is added up, and not only listed.</summary>
    private const string Plus = "plus";

    /// <summary>Words that point at what was shown: one row, several, and the possessives of both.</summary>
    public const string ThatRow = "that",
        ThoseRows = "those",
        ItsWord = "its",
        TheirWord = "their",
        ThenWord = "then",
        EditWord = "edit";

    /// <summary>"Group revenue": all there is on top of a tree is no split of it, unless it is asked for as one.</summary>
    private bool IsTop(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Level } level
        && book.TryDimension(level.Dimension!, out var dimension)
        && dimension.Levels is [var top, _, ..]
        && top == level.Value
        && book.Roots(dimension.Id).Take(2).Count() == 1
        && Word(items, at - 1)
            is not (
                { Kind: MentionKind.Then or MentionKind.And }
                or { Kind: MentionKind.By, Value: not "percent" }
                or { Kind: MentionKind.Rank or MentionKind.Number or MentionKind.Ordinal }
                or { Kind: MentionKind.Which, Value: "which" }
            );

    /// <summary>What shows only beside its neighbours, noted before each item is taken up for itself.</summary>
    private void LookAround(Draft draft, List<Item> items)
    {
        for (var i = 0; i < items.Count; i++)
        {
            if (IsMixedList(items, i))
                draft.Cost += MixedList;
            // Only time stands side by side; of other rows it is said that they do not.
            if (items[i] is BreakdownItem && Word(items, i + 1) is { Kind: MentionKind.Across } across)
                draft.Unplaced.AddRange(Enumerable.Range(across.Start, across.Length));
            // "Leisure's share of": a part of each row, where it is split by something else.
            // "Is online growing faster than wholesale": what stands behind "than" is of the kind of what stands before it.
            if (
                Word(items, i) is { Kind: MentionKind.Gap } than
                && EndsInThan(than)
                && Word(items, i + 1)?.Kind is MentionKind.Figure or MentionKind.Member
            )
                draft.Cost += ThanWithoutSide;
            if (
                Word(items, i)?.Kind is MentionKind.Share
                && Word(items, Word(items, i - 1)?.Kind is MentionKind.Figure ? i - 2 : i - 1)
                    is { Kind: MentionKind.Member } owner
            )
                draft.ShareOf = owner;
            if (
                Word(items, i)?.Kind is MentionKind.Share
                && Word(items, i + 1) is { Kind: MentionKind.Member } part
                && part.Start == items[i].End
            )
                draft.ShareOf ??= part;
            // "How much of overheads was …": overheads are the whole.
            draft.WholeSaid |=
                Word(items, i) is { Kind: MentionKind.Share, Value: "of-whole" }
                && Word(items, i + 1)?.Kind is MentionKind.Figure;
            // "Freight revenue and its share of revenue": the amount as well.
            draft.AmountAndShare |=
                Word(items, i)?.Kind is MentionKind.Share
                && Word(items, i - 1)?.Kind is MentionKind.And
                && Word(items, i - 2)?.Kind is MentionKind.Figure
                && Word(items, i + 1)?.Kind is MentionKind.Figure;
            // "What share of sales is online".
            if (
                Word(items, i) is { Kind: MentionKind.Member } equal
                && items.Take(i).Any(x => x is WordItem { Mention.Kind: MentionKind.Share })
                && IsEqual(equal.Start)
            )
                draft.ShareOf ??= equal;
            // "Compare Calder Ferries with the group": the group is what it is held against.
            if (
                Word(items, i) is { Kind: MentionKind.Result } whole
                && i > 0
                && items[i - 1] is FilterItem or WordItem { Mention.Kind: MentionKind.Member }
                && items.Take(i).Any(x => x is WordItem { Mention.Kind: MentionKind.Compare })
                && _said.Any(m => m is { Kind: MentionKind.Place, Value: "with" } && m.End == whole.Start)
            )
                draft.Cost += ThanWithoutSide;
            // "The highest paid mechanic" is one of those who are paid.
            if (
                Word(items, i) is { Kind: MentionKind.Figure, Partial: true, OtherNumber: false } paid
                && items.ElementAtOrDefault(i - 1) is RankItem or WordItem { Mention.Kind: MentionKind.Rank }
                && _said.Any(m =>
                    m is { Kind: MentionKind.Filler, Value: "pays" } && m.End == paid.Start && m.Start == items[i - 1].End
                )
            )
                draft.WhichOf = paid;
            draft.LimitsRecords |= items[i] is ConditionItem && Word(items, i - 1)?.Kind is MentionKind.Records;
            // "Unfavourable variances", "only the adverse ones": rows on that side.
            draft.SidedRows |=
                GapSense.Of(Word(items, i)).OfRows
                && (
                    IsVariance(items.ElementAtOrDefault(i + 1))
                    || items.ElementAtOrDefault(i + 1) is BreakdownItem
                    || Word(items, i - 1) is { Kind: MentionKind.Edit }
                    || Word(items, i + 1) is { Kind: MentionKind.Edit }
                    || items.Count == 1
                );
            // "Only the bad months": they say more than that they sound well.
            if (draft.SidedRows && Word(items, i) is { Kind: MentionKind.Gap })
                draft.Cost -= 0.15;
            // "Paid in May": the day of what is said right before.
            if (
                items[i] is PeriodItem
                && Word(items, i - 1)
                    is { Kind: MentionKind.Value or MentionKind.Field }
                        or { Kind: MentionKind.Check, Value: "settled" }
                && !(
                    Word(items, i - 1) is { Kind: MentionKind.Field } whose
                    && vocabulary.Fields["party"].Contains(Words.Phrase(whose.Value))
                )
            )
                draft.DayOf = Word(items, i - 1);
            if (Word(items, i) is { Kind: MentionKind.Check, Value: "settled" } settled)
                draft.DayOf ??= settled;
            // "The most invoices" counts them; of nothing that they could be counted by, the most overdue ones are those that are
            // so for longest.
            draft.HowMany |=
                items.Exists(x =>
                    x
                        is BreakdownItem
                            or ByFieldItem
                            or WordItem
                            {
                                Mention.Kind: MentionKind.Which
                                    or MentionKind.By
                                    or MentionKind.Level
                                    or MentionKind.Member
                                    or MentionKind.Value
                            }
                            or FilterItem
                )
                && items[i] is RankItem { Many: true }
                && items
                    .Skip(i + 1)
                    .SkipWhile(x => x is WordItem { Mention.Kind: MentionKind.Check or MentionKind.Value })
                    .FirstOrDefault()
                    is WordItem
                    {
                        Mention: { Kind: MentionKind.Records }
                            or { Kind: MentionKind.Intent, Value: "entries" or "entries:journal" or "entries:document" }
                    };
            draft.FiguresJoined |=
                Word(items, i)?.Kind is MentionKind.Figure
                && Word(items, i + 1)?.Kind is MentionKind.Figure
                && !_said.Any(m =>
                    m is { Kind: MentionKind.Place, Value: "with" } && m.Start >= items[i].End && m.End <= items[i + 1].Start
                );
            if (Word(items, i) is not { Kind: MentionKind.Which, Value: "which" })
                continue;
            var of = Word(items, i + 1);
            if (of?.Kind is MentionKind.Figure or MentionKind.Member)
            {
                draft.WhichOf = of;
                draft.Cost += WhichOfWhole;
            }
            draft.WhichRecords |=
                of?.Kind is MentionKind.Records
                || (of?.Kind is MentionKind.Check or MentionKind.Value && Word(items, i + 2)?.Kind is MentionKind.Records);
        }
        for (var i = items.Count - 2; i > 0; i--)
            if (
                Word(items, i)?.Kind is MentionKind.And
                && Word(items, i - 1)?.Kind is MentionKind.Figure
                && Word(items, i + 1)?.Kind is MentionKind.Figure
            )
            {
                draft.ListsFigures = true;
                // "Staff costs / revenue" divides sooner than it lists.
                if (Word(items, i)!.Value == "slash")
                    draft.Cost += SlashAsList;
                items.RemoveAt(i);
            }
    }

    /// <summary>"For each month the three largest routes": within each. "Fuel by month of the three largest routes": these stand
    /// outside.</summary>
    private static void RankedInside(Draft draft, List<Item> items)
    {
        if (draft is not { RankWithin: false, Rank.Ranked: { } ranked } || draft.Breakdowns.IndexOf(ranked) <= 0)
            return;
        draft.RankWithin = items.Exists(i =>
            i is BreakdownItem { Each: true } each && each.Breakdowns.Contains(draft.Breakdowns[0])
        );
        if (!draft.RankWithin && draft.Breakdowns.Remove(ranked))
            draft.Breakdowns.Insert(0, ranked);
    }

    /// <summary>"The largest variance of each entity": its accounts are ranked, and the first is shown.</summary>
    private void LargestOfEach(Draft draft, List<Item> items)
    {
        if (
            draft.Rank is not { Number: null, OfLevel: false } rank
            || draft.Breakdowns is not [{ Dimension: { } outer }]
            || outer == book.Accounts.Code
            || !items.Exists(i => i is BreakdownItem { Each: true })
        )
            return;
        var at = items.FindIndex(i => i is RankItem);
        if (
            items.ElementAtOrDefault(at + 1)
            is not WordItem { Mention: { Kind: MentionKind.Intent, Value: "variance", Singular: true } }
        )
            return;
        draft.Breakdowns.Add(Breakdown.By(book.Accounts.Code, book.Accounts.Levels[^1]));
        draft.Rank = rank with { Number = 1 };
        draft.RankWithin = true;
    }

    /// <summary>"With their text", "by how many days": what a list or a count shows without being asked is not passed
    /// over.</summary>
    private static void ShownAnyway(Draft draft, List<Item> items)
    {
        foreach (var word in items.OfType<WordItem>().Select(w => w.Mention))
            if (
                (
                    word is { Kind: MentionKind.Field, Value: RecordAsk.Text or RecordAsk.Date or RecordAsk.Amount }
                    && draft is { Intent: Intent.Entries, Columns.IsEmpty: true }
                )
                || word is { Kind: MentionKind.Percent, Value: "percent" } && draft.Compares
                || (
                    word.Kind == MentionKind.Days
                    && draft.Checks.Exists(c => c is "late" or "early" or "overdue" or "days-to-pay")
                )
            )
                draft.Unplaced.RemoveAll(i => i >= word.Start && i < word.End);
    }

    /// <summary>What no table tells, though every word of it is known.</summary>
    /// <exception cref="CannotAnswerException">Says what was asked and what can be asked instead.</exception>
    private void Refuse(Draft draft, List<Item> items)
    {
        if (
            _said.Count(m => m.Kind == MentionKind.Growth) > 1
            && _said.Any(m => m.Kind is MentionKind.Comparator or MentionKind.Compare)
        )
            throw new CannotAnswerException(
                "One growth is not held against another. Ask for the growth of the one and after it of the other, or for growth by quarter."
            );
        // "Call …", and the name was not found.
        if (
            !_defined
            && _said.Count > 0
            && _said[0].Start == 0
            && _said.Any(m =>
                m is { Kind: MentionKind.By, Value: "ratio" or "per" } or { Kind: MentionKind.Exclude, Value: "less" }
            )
            && vocabulary.Find(Words.Phrase(_said[0].Title)).Any(e => e.Kind == MentionKind.Define)
        )
            throw new CannotAnswerException(
                "What is to be called like that could not be told from its name. Say the figures first and the name behind, as in “call fuel divided by sailings fuel per sailing”, or “define fuel per sailing as fuel divided by sailings”."
            );
        // "Which accounts explain 80% of the overrun": no row does so, but some of them together.
        if (
            _said.Any(m =>
                m.Kind == MentionKind.Percent
                && m.Value != "percent"
                && _said.Any(o => o is { Kind: MentionKind.Place, Value: "of" } && o.Start == m.End)
                && _said.Any(o =>
                    o.End == m.Start && o is { Kind: MentionKind.Intent, Value: "why" } or { Kind: MentionKind.Share }
                )
            )
            && draft.Breakdowns.Count > 0
        )
            throw new CannotAnswerException(
                "How few of them come to so much together is not picked out. Ask for the largest with their shares, which add up from the top.",
                "the 10 largest with their share"
            );
        RefuseRowsWithout(draft, items);
        RefuseEitherTest(items);
        // "Which costs grew faster than revenue": rows are not held against another figure.
        if (
            _said.Any(m => m is { Kind: MentionKind.Which, Value: "which" })
            && draft.Figures.Count > 1
            && _said.Any(m => m.Kind == MentionKind.Gap && EndsInThan(m) || m is { Kind: MentionKind.Comparator, Value: "than" })
            && items.FindIndex(i => i is DifferenceItem) >= 0
        )
            throw new CannotAnswerException(
                $"Rows are not held against another figure. Ask for their growth, and for that of {book.Figure(draft.Figures[^1])?.Name} after it.",
                $"growth of {book.Figure(draft.Figures[0])?.Name} by {book.Accounts.Levels[^1].ToLowerInvariant()}",
                $"growth of {book.Figure(draft.Figures[^1])?.Name}"
            );
        if (
            items.Select(i => GapSense.Of((i as WordItem)?.Mention)).Where(g => g.OfRows).Select(g => g.Side).Distinct().Count()
            > 1
        )
            throw new CannotAnswerException(
                "Rows are kept on one side at a time, the favourable or the unfavourable. Ask for the one first and for the other after it."
            );
    }

    /// <summary>"Routes without revenue": what has none is no row, and "without" would leave the account out of every
    /// row.</summary>
    /// <exception cref="CannotAnswerException">Always when that was asked.</exception>
    private void RefuseRowsWithout(Draft draft, List<Item> items)
    {
        if (
            draft is not { ResultNamed: false, Filters: [{ Exclude: true } none] }
            || none.Dimension != book.Accounts.Code
            || draft.Figures.Count > 1
        )
            return;
        if (
            draft.Figures is [var whole]
            && (
                book.Figure(whole) is not SumFigure sum
                || !book.TryMember(book.Accounts.Id, none.Members[0], out var account)
                || sum.Accounts.Any(a => book.PathTo(a).Contains(account.Id) || book.PathTo(account.Id).Contains(a))
            )
        )
            return;
        var at = items.FindIndex(i => i is FilterItem { Exclude: true });
        var name = book.Figure(new FigureRef(FigureKind.Account, none.Members[0]))?.Name;
        if (draft.Figures is [var has] && draft.Breakdowns is [var lacking, ..])
            throw new CannotAnswerException(
                $"Those that have one thing and lack another are not picked out. Ask for both beside each other, and look for those without {name}.",
                $"{book.Figure(has)?.Name} and {name} by {(lacking.Level ?? lacking.Grain?.ToString() ?? lacking.Dimension!).ToLowerInvariant()}"
            );
        if (
            draft.Figures.Count > 0
            || at < 1
            || items[at - 1] is not BreakdownItem { Breakdowns: [var rows, ..] } said
            || (said.Led && said.Of is null)
        )
            return;
        throw new CannotAnswerException(
            $"Rows without any {name} are none that are shown. Ask for those that have it.",
            $"{name} by {(rows.Level ?? rows.Grain?.ToString() ?? rows.Dimension!).ToLowerInvariant()}"
        );
    }

    /// <summary>"Over 10k or older than 90 days": what is kept meets every test, so that either of two would be both.</summary>
    /// <exception cref="CannotAnswerException">Always when that was asked.</exception>
    private void RefuseEitherTest(List<Item> items)
    {
        static bool Tests(Item? item) =>
            item
                is ConditionItem
                    or FieldTestItem
                    or TextItem
                    or WordItem { Mention.Kind: MentionKind.Check or MentionKind.Value or MentionKind.Presence };
        foreach (var either in _said.Where(m => m is { Kind: MentionKind.And, Value: "or" }))
            if (Tests(items.FindLast(i => i.End <= either.Start && i.End > 0)) && Tests(items.Find(i => i.Start >= either.End)))
                throw new CannotAnswerException(
                    "What is kept meets every test that is named, not one or the other. Ask for the one first and for the other after it."
                );
    }

    /// <summary>Words that speak of what was shown.</summary>
    private void PointBack(Draft draft)
    {
        // "How much revenue is that", "… is that in total": of what was shown.
        draft.Edits |=
            _said.LastOrDefault(m =>
                m
                    is not (
                        { Kind: MentionKind.Filler, Value: "filler" }
                        or { Kind: MentionKind.Place or MentionKind.Form or MentionKind.Currency or MentionKind.Numbers }
                        or { Kind: MentionKind.Intent, Value: "value:total" or "value" }
                    )
            )
                is { Kind: MentionKind.Filler, Value: ThatRow or ThoseRows };
        // "EBITDA for that, by side": whatever stands behind it, of what was shown.
        draft.Edits |= _said.Any(m =>
            m is { Length: 1, Start: > 0, Kind: MentionKind.Filler or MentionKind.Row }
            && vocabulary.Find(m.Title).Any(e => e is { Kind: MentionKind.Row, Value: ThatRow or ThoseRows })
            && _said.Any(o => o.Kind == MentionKind.Place && o.End == m.Start && o.Start > 0)
            && _said.All(o => o.Start != m.End || o.Kind is MentionKind.By)
        );
        draft.Pronoun = _said.FirstOrDefault(m => m is { Kind: MentionKind.Filler, Value: ItsWord or TheirWord })?.Value
            ?? (
                _said.Count > 0 && _said[^1] is { Kind: MentionKind.Filler, Value: ThoseRows } ? TheirWord
                : _said.Count > 1 && _said[^1] is { Kind: MentionKind.Filler or MentionKind.Then, Value: ThenWord } ? ThenWord
                : null
            );
        // "Its payroll" is that of what was shown, unless the sentence itself names whose.
        draft.Edits |=
            draft.Pronoun is not null
            && draft is { Which: false, Who: false, Filters.Count: 0 }
            && draft.Breakdowns.TrueForAll(b => b.Dimension is null);
    }

    /// <summary>What can be told only of everything that was said.</summary>
    private void LookBack(Draft draft, List<Item> items)
    {
        // A value of some field, of records or lines that nobody named.
        if (draft.Intent != Intent.Entries && draft.Records is null)
            draft.Cost += ValueAlone * draft.Values.Count;
        Refuse(draft, items);
        OwnLimits(draft, items);
        PointBack(draft);
        ShownAnyway(draft, items);
        draft.Parts = _said.Any(m =>
            m is { Kind: MentionKind.Filler, Value: PartsWord } or { Kind: MentionKind.Share, Value: "mix" }
        );
        // What is open and late is overdue: it has no day on which it was paid.
        if (
            draft.Checks.Contains("late")
            && (
                draft.Checks.Contains("open")
                || items.Exists(i =>
                    i is WordItem { Mention: { Kind: MentionKind.Records, Value: var kept } }
                    && kept.EndsWith("#open", StringComparison.Ordinal)
                )
            )
        )
            draft.Checks[draft.Checks.IndexOf("late")] = "overdue";
        // "Revenue split north south": each of them.
        if (
            _said.Any(m => m is { Kind: MentionKind.Filler, Value: PartsWord })
            && draft is { Breakdowns.Count: 0, Filters: [{ Exclude: false, Members.Length: > 1 } parts] }
            && LevelOf(parts.Dimension, parts.Members[0]) is { } each
        )
            draft.Breakdowns.Add(each);
        if (
            _said.FirstOrDefault(m => m is { Kind: MentionKind.Scenario, Value: "prior-year", Singular: true, Length: > 2 }) is
            { } same
        )
            draft.SameGrain = same
                .Title.Split(' ')
                .SelectMany(w => vocabulary.Find(w))
                .Where(e => e.Kind == MentionKind.Grain && e.Value is "month" or "quarter")
                .Select(e => (TimeGrain?)Enum.Parse<TimeGrain>(e.Value, true))
                .FirstOrDefault();
        // "By how many percent did it grow".
        if (
            draft is { OverTime: true, Conditions.Count: 0 }
            && items.Find(i => i is WordItem { Mention: { Kind: MentionKind.Percent, Value: "percent" } }) is WordItem grown
        )
        {
            draft.Growth = true;
            draft.Unplaced.RemoveAll(i => i >= grown.Start && i < grown.End);
        }
        // What a gap does over time is told by its months.
        draft.Edits |= draft.SortsShown;
        if (draft.GapGrows && draft.Breakdowns.TrueForAll(b => b.Grain is null))
            draft.Breakdowns.Add(Breakdown.ByTime(TimeGrain.Month));
        // "Anything over 100k posted in September" asks for what was posted.
        if (
            draft is { Intent: null or Intent.Value, Figures.Count: 0, Breakdowns.Count: 0, Conditions.Count: > 0, Records: null }
            && draft.Conditions.TrueForAll(c => c.On == ConditionOn.Amount)
            && (draft.DayOf ?? draft.Field) is { Kind: MentionKind.Field, Value: "preparer" } posted
        )
        {
            draft.Intent = Intent.Entries;
            draft.Unplaced.RemoveAll(i => i >= posted.Start && i < posted.End);
        }
        LargestOfEach(draft, items);
        RankedInside(draft, items);
        if (draft is { RankWithin: true, Rank: { Number: null, One: true } single })
            draft.Rank = single with { Number = 1 };
        draft.RankEach = RanksEach(items);
        // "And their budget" is seen beside what was shown.
        draft.Adds |=
            items.FirstOrDefault() is WordItem { Mention: { Kind: MentionKind.And, Start: 0 } }
            && draft is { Figures.Count: 0, Filters.Count: 0, Periods.Count: 0, Breakdowns.Count: 0 }
            && draft.Scenarios.Count + draft.Bases.Count + draft.BasePeriods.Count > 0;
        // "Routes that lost money", "accounts over budget": those of which it is so.
        draft.WhichRows |= draft.SidedRows || items.FirstOrDefault() is BreakdownItem { Led: false };
        // "The largest entries for all shops": none is left out, and nothing is split by them.
        if (
            draft.Quantifier == Quantifier.Every
            && (draft.Intent == Intent.Entries || draft.Rank is not null)
            && items.Exists(i =>
                i is BreakdownItem { Of: Quantifier.Every, Each: false, Breakdowns: [{ Dimension: not null } all] }
                && (draft.Intent == Intent.Entries || draft.Breakdowns.Exists(b => b != all))
                && draft.Breakdowns.Remove(all)
            )
        )
            draft.Quantifier = null;
        // "All shops but Nordfield": all of them are not the one that is named.
        if (
            draft.Quantifier == Quantifier.Every
            && draft.Breakdowns.Exists(b => draft.Filters.Exists(f => !f.Exclude && f.Dimension == b.Dimension))
        )
            draft.Cost += AllAndOne;
        // "Split between the regions, percent".
        if (
            draft is { Compares: false, Unit: null, Breakdowns.Count: > 0 }
            && items.LastOrDefault() is WordItem { Mention: { Kind: MentionKind.Percent, Value: "percent" } sign }
        )
        {
            draft.Unit = sign.Value;
            draft.Cost -= 2;
            draft.Unplaced.RemoveAll(i => i >= sign.Start && i < sign.End);
        }
        // "Cumulative for the year", of what was booked: as far as it has come.
        if (
            draft is { Cumulative: true, Projection: null, Periods: [{ } year] }
            && year.Span == FiscalCalendar.Year(_now.Year)
            && draft.Breakdowns.TrueForAll(b => b.Grain is null)
            && draft.Scenarios.TrueForAll(s => s == Book.ActualCode)
        )
            draft.Periods[0] = year with { Span = FiscalCalendar.YearToDate(_now) };
        // "What would it be for a year, if it goes on like that": what it is carried to.
        if (draft.Projection == Projection.RunRate)
            draft.Breakdowns.RemoveAll(b => b.Grain == TimeGrain.Year);
        // "What is behind the shortfall: fewer trips or lower prices": the plan was missed, whatever else became less.
        if (
            draft.Intent == Intent.Why
            && items.Exists(i => i is WordItem w && GapSense.Of(w.Mention) is { OfProfit: true, OverTime: false, OfRows: false })
        )
            draft.OverTime = false;
        // "Compare January and February" holds the later against the earlier.
        if (
            (draft.OpenCompare || draft.Change)
            && draft is { Periods: [{ } one, { } other], BasePeriods.Count: 0 }
            && draft.Bases.Count + draft.Scenarios.Count == 0
            && one.Span.Count == other.Span.Count
            && one.Span != other.Span
        )
        {
            var earlier = one.Span.From < other.Span.From ? one : other;
            draft.Periods.Remove(earlier);
            draft.BasePeriods.Add(earlier.Span);
        }
        // A plan has no earlier side of itself: its first and its second half stand side by side.
        if (
            draft
                is {
                    BasePeriods: [var half],
                    Periods: [{ Said.Kind: MentionKind.Part, YearGiven: false } said],
                    Scenarios: [not Book.ActualCode and not "prior-year"],
                    Bases.Count: 0
                }
            && half.Count == said.Span.Count
            && half.From.Number != said.Span.From.Number
            && !_said.Any(m => m.Kind is MentionKind.Year or MentionKind.Period)
        )
        {
            draft.Periods.Add(
                said with
                {
                    Span = new PeriodSpan(
                        new Period(said.Span.From.Year, half.From.Number),
                        new Period(said.Span.To.Year, half.To.Number)
                    ),
                }
            );
            draft.BasePeriods.Clear();
            draft.Compares = false;
        }
        // "December against the December before": a period is not held against itself.
        if (
            draft is { BasePeriods: [var itself], Periods: [{ } own] }
            && draft.Bases.Count + draft.Scenarios.Count == 0
            && itself == own.Span
        )
            draft.BasePeriods[0] = itself.AddMonths(-12);
        if (draft.BasePeriods is [var held])
            draft.BasePeriod = held;
        else if (draft.BasePeriods.Count > 1)
        {
            draft.Periods.AddRange(draft.BasePeriods.Select(s => new PeriodItem(0, 0, s, true)));
            draft.Compares = false;
        }
        // "Compare fuel and crew" holds them against each other, as columns or rows of one table.
        if (
            draft.OpenCompare
            && draft.ListsFigures
            && draft.Intent is null
            && draft.Direction is null
            && !draft.Growth
            && draft.Bases.Count + draft.Scenarios.Count == 0
            && draft.BasePeriod is null
        )
            draft.Compares = draft.OpenCompare = false;
        // "Compare the best and the worst route" does so with the two.
        if (
            draft is { OpenCompare: true, Rank.BothEnds: true, Intent: null, Direction: null, Growth: false, BasePeriod: null }
            && draft.Bases.Count + draft.Scenarios.Count == 0
        )
            draft.Compares = draft.OpenCompare = false;
        // "Actual, budget and prior year" are sides, beside which last year is no period.
        if (draft is { ListsScenarios: true, LastYear: true })
            draft.Cost += OnLastYear;
        draft.Mix =
            draft.Share
            && !items.Exists(i =>
                IsVariance(i) || i is WordItem { Mention.Kind: MentionKind.Gap or MentionKind.Growth or MentionKind.Shift }
            );
        var sides = draft.Bases.Concat(draft.Scenarios).ToHashSet();
        if (
            draft.Projection == Projection.Outlook
            && sides.Contains("forecast")
            && sides.Contains("budget")
            && !sides.Contains("actual")
        )
            draft.Cost += OutlookOfTwoPlans;
        // "Compare … with last year" names what to compare with.
        if (draft.OpenCompare)
            draft.Cost -= 1.5 * PriorAlone * draft.Scenarios.Count(s => s.StartsWith("prior", StringComparison.Ordinal));
    }

    /// <exception cref="CannotAnswerException">Of “opening hours of the shop” and “cafe costs”, where the cafe earns: two figures
    /// that have nothing to do with each other are not named beside each other, and neither alone is what was asked.</exception>
    private void RefuseFigureOfFigure()
    {
        if (_said.Any(m => m.Kind is MentionKind.Define))
            return;
        for (var i = 0; i + 1 < _said.Count; i++)
        {
            var next = i + 1;
            while (
                next + 1 < _said.Count
                && _said[next]
                    is { Kind: MentionKind.Filler or MentionKind.Place }
                        or { Kind: MentionKind.Comparator, Value: "on" }
                        or { Kind: MentionKind.Since, Value: MentionContext.FromThen }
            )
                next++;
            if (_said[i] is not { Kind: MentionKind.Figure } first || _said[next] is not { Kind: MentionKind.Figure } second)
                continue;
            var costs =
                first.End == second.Start
                && second.Value == "m:" + Book.AllCosts
                && book.Figure(FigureOf(first)) is SumFigure { IsProfit: true };
            // "Fuel of a trip" is that of each, and so is "cost per trip of fuel".
            if (_said.Take(i).LastOrDefault(m => m.Kind != MentionKind.Filler) is { Kind: MentionKind.By })
                continue;
            if (_said.Skip(i + 1).Take(next - i - 1).Any(m => m is { Kind: MentionKind.Filler, Value: MentionContext.OneOf }))
                continue;
            // "Exhibits on loan" are no two accounts that are called so in part; "fares at Freight" is a slip that can be told
            // from its answer.
            var parts = first.Partial && second.Partial;
            if (
                !costs
                && !_said
                    .Skip(i + 1)
                    .Take(next - i - 1)
                    .Any(m =>
                        vocabulary
                            .Find(m.Title)
                            .Any(e =>
                                e is { Kind: MentionKind.Place } && (e.Value == "of" || (parts && e.Value is "place" or "within"))
                            )
                    )
            )
                continue;
            if (
                book.Figure(FigureOf(first)) is not { } one
                || book.Figure(FigureOf(second)) is not { } other
                || IsIn(one, other)
                || IsIn(other, one)
            )
                continue;
            throw new CannotAnswerException(
                $"{one.Name} and {other.Name} are figures of their own: the one is not kept of the other. Ask for either, or for both with “and”.",
                one.Name,
                other.Name,
                $"{one.Name} and {other.Name}"
            );
        }

        bool IsIn(Figure part, Figure whole) => Accounts(part).Any(a => book.PathTo(a).Any(Accounts(whole).Contains));
        static IEnumerable<int> Accounts(Figure figure) =>
            figure switch
            {
                SumFigure sum => sum.Accounts,
                PairFigure pair => pair.Top.Accounts.Concat(pair.Bottom.Accounts),
                _ => [],
            };
    }
}
