using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>
/// Reads a turn of a talk: text → tokens → meanings → typed items → parts → what is said → the cheapest question under the
/// hypotheses that a talk allows (a question of its own, or one that goes on). A pure function of text, book and talk.
/// </summary>
public sealed partial class Reader(Book book, BookWords words, Vocabulary vocabulary)
{
    public const int LongestText = 1_000;
    private const int MostTokens = 40;

    /// <summary>A rival within this price that means something else is a choice, and no reading is taken.</summary>
    private const int Margin = 12;

    /// <summary>What a name of the book costs more than a word of the language at most.</summary>
    private const int NameOrWord = 2;

    /// <summary>What going on costs where a sentence has a figure and more of its own.</summary>
    private const int WholeSentence = 60;

    /// <summary>What a question of its own costs where only a figure is named, after another one.</summary>
    private const int Fragment = 25;

    /// <summary>Parts that a fragment has beside its figure at most.</summary>
    private const int FragmentParts = 2;

    /// <summary>A text on its way: what the words may mean, what the rules made of them, and the ways to read all of it.</summary>
    private sealed record Parsed(
        List<Token> Tokens,
        IReadOnlyList<Mention> Found,
        Chart Chart,
        ImmutableArray<Said> Covers,
        bool YesNo
    );

    private sealed record Candidate(Said Said, Filled Filled);

    /// <returns>Null where the text is none that is read here.</returns>
    public ReadResult? Read(string text, Talk talk)
    {
        if (Parse(text) is not { } parsed || Taken(parsed, Tries(parsed, talk), talk) is not { } best)
            return null;
        return Understood(best.Said, best.Filled, parsed);
    }

    /// <summary>What the very words of a figure or of members name as well, of another kind: an account and a show of one
    /// name.</summary>
    private IEnumerable<string> AlsoNamed(Said said, Parsed parsed)
    {
        foreach (var part in said.Parts.Where(p => p.Item is FigureItem { Partial: false } or MembersItem))
        {
            var own = part.Item is MembersItem m ? m.Dimension : book.Accounts.Code;
            var other = parsed.Found.FirstOrDefault(f =>
                f is { Kind: MentionKind.Figure or MentionKind.Member, Partial: false, Corrected: false, IsUsualName: false }
                && Part.Span(f.Start, f.End) == part.Words
                && string.Equals(f.Title, Text(part, parsed.Tokens), StringComparison.OrdinalIgnoreCase)
                && (f.Dimension ?? book.Accounts.Code) != own
            );
            if (other is not null)
                yield return $"“{Text(part, parsed.Tokens)}” names {KindOf(own)} and {KindOf(other.Dimension ?? book.Accounts.Code)}; taken for the {Name(own)}, and “{Name(other.Dimension ?? book.Accounts.Code)} {other.Title}” asks for the other";
        }
        string Name(string dimension) => book.TryDimension(dimension, out var d) ? d.Name.ToLowerInvariant() : dimension;
        string KindOf(string dimension) =>
            Name(dimension) is var name && "aeiou".Contains(name[0], StringComparison.Ordinal) ? $"an {name}" : $"a {name}";
    }

    private Parsed? Parse(string text)
    {
        if (text.Length > LongestText || Words.Tokens(text) is not { Count: > 0 and <= MostTokens } tokens)
            return null;
        Signs.Between(text, tokens, vocabulary, words);
        var found = new MentionFinder(vocabulary, book, words).Find(tokens);
        var chart = Chart.Of(book, tokens.Count, Terminals.Of(book, words, tokens, found), Rules.All);
        return new Parsed(tokens, found, chart, Covers.Of(chart), vocabulary.ClaimsAt(tokens, 0));
    }

    /// <summary>One way to read all of it, and what it makes under every hypothesis.</summary>
    /// <param name="MayBeMeant">Whether it makes no question here and may be what was meant all the same.</param>
    private sealed record Tried(Said Said, ImmutableArray<Filled> Filled, bool MayBeMeant);

    private List<Tried> Tries(Parsed parsed, Talk talk) => parsed.Covers.Select(s => Under(s, talk, parsed.YesNo)).ToList();

    /// <summary>Every question that may be meant, cheapest first.</summary>
    private static ImmutableArray<Candidate> Readings(List<Tried> tries) =>
        [.. tries.SelectMany(t => t.Filled.Select(f => new Candidate(t.Said, f))).OrderBy(c => c.Filled.Price)];

    /// <summary>The cheapest, where nothing else is as likely and nothing was passed over; null otherwise.</summary>
    private Candidate? Taken(Parsed parsed, List<Tried> tries, Talk talk)
    {
        var readings = Readings(tries);
        if (readings.IsEmpty)
            return null;
        var best = readings[0];
        // A yes or a no speaks of every word; a name that is not known may be what was meant.
        if (
            best
                .Said.All<UnknownItem>()
                .Any(u => parsed.YesNo || char.IsUpper(u.Word[0]) || !vocabulary.IsCommon(Words.Stem(u.Word)))
        )
            return null;
        // What is said more cheaply, and makes no question here, was meant sooner.
        if (best.Said.Price > Cheapest(tries, talk) + NameOrWord)
            return null;
        bool IsWhole(Candidate reading) => Idle(reading, talk, parsed.YesNo).IsEmpty;
        // A rival that passes over what was said is none.
        return
            !IsWhole(best)
            || readings.Any(r =>
                r.Filled.Price <= best.Filled.Price + Margin && r.Filled.Question != best.Filled.Question && IsWhole(r)
            )
            ? null
            : best;
    }

    /// <summary>What reading all of it costs at least; what points at an answer says nothing before there is one.</summary>
    private static int Cheapest(List<Tried> tries, Talk talk) =>
        tries
            .Where(t => !t.Filled.IsEmpty || t.MayBeMeant)
            .Where(t => talk.Last is not null || !t.Said.Has<PointItem>())
            .Select(t => t.Said.Price)
            .FirstOrDefault(int.MaxValue);

    private Tried Under(Said said, Talk talk, bool yesNo)
    {
        var named = said.Has<FigureItem>() || said.Has<FiguresItem>() || said.Has<TableItem>() || said.Has<OwersItem>();
        var others = said.Parts.Count(p => p.Item is not (GoesOnItem or FigureItem or FormItem));
        var evidence =
            said.Has<GoesOnItem>()
            || said.Has<BackToItem>()
            || said.Has<OnlyItem>()
            || said.Has<BesideItem>()
            || said.Has<PointItem>()
            || said.Has<PointedOutItem>()
            || said.Has<TheirItem>();
        var made = ImmutableArray.CreateBuilder<Filled>();
        void Add(int price, Func<Filling, IEnumerable<Filled?>> fill)
        {
            try
            {
                foreach (var filled in fill(new Filling(book, vocabulary, said)).OfType<Filled>().ToList())
                    made.Add(filled with { Price = filled.Price + price });
            }
            catch (CannotAnswerException)
            {
                // What the book has not is said by whoever makes no question of it.
            }
        }
        Add(talk.Last is not null && others < FragmentParts ? Fragment : 0, f => [f.Fresh(yesNo)]);
        Add(talk.Last is not null && others < FragmentParts ? Fragment : 0, f => [f.FreshEntries(), f.InPlan(yesNo)]);
        var ofShown = talk.Last is { Question.Kind: Kind.Records } && !named;
        Add(ofShown ? Fragment : 0, f => [f.FreshRecords()]);
        // "Is it real" asks for a yes or a no, which no change of what was shown gives.
        if (
            talk.Last is { } last
            && (
                !yesNo
                || said.Has<TimingItem>()
                || said.Has<StateItem>()
                || said.Has<BookedTwiceItem>()
                || new Filling(book, vocabulary, said).IsJudged
                || last.Question.Kind is Kind.Records
            )
        )
            Add(named && !evidence && others >= FragmentParts ? WholeSentence : 0, f => f.GoesOn(talk));
        return new Tried(
            said,
            made.ToImmutable(),
            said.Parts.All(p => p.Item is INoRoom || Filling.HasSlot(p.Item)) && !new Filling(book, vocabulary, said).Contradicts
        );
    }

    /// <summary>The parts that had no effect: without them the question is the same.</summary>
    private ImmutableArray<Part> Idle(Candidate best, Talk talk, bool yesNo) =>
        [
            .. best
                .Said.Parts.Where(p => !MayBeIdle(p.Item, best.Filled.Question))
                .Where(p =>
                    Under(best.Said.Without(p), talk, yesNo)
                        .Filled.Any(f => f.Kept.IsEmpty == best.Filled.Kept.IsEmpty && f.Question == best.Filled.Question)
                ),
        ];

    /// <summary>Kinds of items that may stand beside others without an effect of their own.</summary>
    private bool MayBeIdle(Item item, Question question) =>
        // The usual rows may be said as well.
        (item is SplitItem { Which: false } split && split.By.All(b => question.Layout.Rows.Contains(b)))
        || SaysAgain(item, question)
        || (item is FigureItem of && of.Figure == book.Result) // what is meant anyway may be named
        || (item is AgainstItem { Claims: null } && !question.Scope.Bases.IsEmpty) // what is usual to compare with may be named
        || (item is PercentWord && book.Figure(question.Scope.Figure) is PairFigure { Rule: PairRule.Percent })
        || (item is BesideItem && question.Scope.Bases.Length == 1) // beside nothing it is held against it
        || (item is WholeItem && question.Scope.Filters.IsEmpty) // all of it is what is meant where nothing else is named
        || (item is AskItem { What: Asked.Who or Asked.When } && question.Kind is Kind.Entries) // a field that is named says it
        || (item is PeriodsItem or GapItem && question.Of.Claim?.Of == Quantifier.Late) // its year is shown
        || (item is CourseItem && question.Layout.Rows.Any(b => b.Grain is not null)) // a course is shown by whichever parts of time
        || item
            is AskItem { What: Asked.Value or Asked.Variance } // said beside what is compared with, or beside a figure
                or UnknownItem // is named
                or PointItem // is found, or there is no reading; alone "why" goes into the same row
                or TableItem // a value or a field may have told already which records are meant
                or ClearItem { What: Cleared.Groups } // records that are named are listed one by one anyway
                or FieldsItem { Beside: true } // records show all their fields anyway
                or StateItem { Of: RecordState.Aged } // groups of ages say so as well
                or GoesOnItem // says only that the talk goes on
                or OnlyItem // what is named takes the place of what was anyway
                or SoldWord // said beside what is counted
                or PeriodsItem // the period that is usual may be said as well
                or PeriodListItem
                or SideItem { Name: SideName.Actual }; // what happened is the usual side

    /// <summary>What a turn says once more of what was shown, and what therefore holds already.</summary>
    private bool SaysAgain(Item item, Question question) =>
        item switch
        {
            MembersItem m => question.Scope.Filters.Any(f =>
                f.Dimension == m.Dimension && !f.Exclude && m.Codes.All(c => f.Members.Contains(c))
            ),
            SideItem { Name: SideName.Plan plan } => question.Scope.Bases.Any(b => book.Scenario(b.Scenario)?.Kind == plan.Kind),
            StateItem { Of: RecordState.Open, Not: false } => question.Kind is Kind.Records of
                && of.Ask.Tests.Any(t => t.Kind is RecordTestKind.Open or RecordTestKind.Overdue or RecordTestKind.NotDue),
            StateItem { Of: RecordState.Settled, Not: false } => question.Kind is Kind.Records of
                && of.Ask.Tests.Any(t => t.Kind == RecordTestKind.Settled),
            StatisticItem { Of: RowStatistic.Count } => question.Kind is Kind.Records { Ask.CountOnly: true },
            StateItem { Of: RecordState.Overdue, Not: false } => question.Kind is Kind.Records of
                && of.Ask.Tests.Any(t => t.Kind == RecordTestKind.Overdue),
            FieldSaysItem says => question.Kind is Kind.Records of
                && of.Ask.Tests.Any(t =>
                    t.Kind == RecordTestKind.Is
                    && t.Field == says.Field
                    && t.Not == says.Not
                    && says.Texts.All(x => (t.Value ?? "").Split(RecordTest.Or).Contains(x))
                ),
            _ => false,
        };

    private ReadResult Understood(Said said, Filled filled, Parsed parsed)
    {
        var tokens = parsed.Tokens;
        var question = FormOne.FromKinds(filled.Question);
        string SaidBy(string part) =>
            string.Join(" … ", said.Parts.Where(p => PartOf(p.Item) == part).Select(p => Text(p, tokens)));
        var reading = new ReadingWriter(book).Write(
            question,
            [.. filled.Assumed, .. AlsoNamed(said, parsed)],
            false,
            SaidBy,
            [.. said.All<UnknownItem>().Select(u => u.Word)]
        );
        if (!filled.Kept.IsEmpty)
            reading = reading with
            {
                Assumed = reading.Assumed.Insert(0, $"kept from the turn before: {string.Join("; ", filled.Kept)}"),
            };
        return new ReadResult(ReadingOutcome.Understood, reading, question, [], null, []);
    }

    private static string Text(Part part, List<Token> tokens) =>
        string.Join(
            ' ',
            Enumerable
                .Range(part.Start, part.End - part.Start)
                .Where(i => ((part.Words >> i) & 1) == 1)
                .Select(i => tokens[i].Text)
        );

    /// <summary>The name that a reading gives to what an item says.</summary>
    private static string PartOf(Item item) =>
        item switch
        {
            FigureItem or FiguresItem => "figure",
            PeriodsItem or PeriodListItem or StepItem => "period",
            AgainstItem or AgainstPeriodItem => "base",
            SideItem or SidesItem => "scenario",
            MembersItem or LeftOutItem or PointItem or PointedOutItem or WholeItem => "filter",
            SplitItem => "breakdown",
            RankItem or OrderItem => "ranking",
            LimitItem or PresenceItem => "condition",
            SharesItem => "share",
            GrowthItem => "growth",
            StatisticItem => "statistic",
            CumulativeItem => "cumulative",
            CurrencyItem => "currency",
            RatesItem => "rates",
            FormItem => "display",
            GapItem => "claim",
            TableItem or OwersItem => "records",
            StateItem or FieldSaysItem or AgeItem or DuringItem or DocumentItem or TextItem or BucketsItem => "test",
            ByFieldItem or CountOfItem => "breakdown",
            FieldItem or FieldsItem or OldestItem or OrderByFieldItem => "listing",
            _ => "intent",
        };
}
