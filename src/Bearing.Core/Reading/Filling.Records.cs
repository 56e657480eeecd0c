using System.Collections.Frozen;
using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>A question of records: those of one table that meet what was said, listed, counted, gathered or aged.</summary>
internal sealed partial class Filling
{
    private static readonly ImmutableArray<int> UsualBuckets = [30, 60, 90];

    /// <summary>Months that what is due may lie behind before the same month of a later year is meant.</summary>
    private const int NotLongDue = 6;

    private const string PaidOn = "paid-on",
        Due = "due",
        OpenAmount = "open",
        Party = "party",
        Place = "place",
        Key = "key";

    private static readonly FrozenDictionary<Type, int> OfRecords = new Dictionary<Type, int>
    {
        [typeof(UnknownItem)] = 2,
        [typeof(TableItem)] = 1,
        [typeof(OwersItem)] = 1,
        [typeof(StateItem)] = 3,
        [typeof(FieldSaysItem)] = 3,
        [typeof(FieldItem)] = 1,
        [typeof(FieldsItem)] = 1,
        [typeof(ByFieldItem)] = 1,
        [typeof(DuringItem)] = 1,
        [typeof(AgeItem)] = 1,
        [typeof(BucketsItem)] = 1,
        [typeof(OldestBucketItem)] = 1,
        [typeof(OldestItem)] = 1,
        [typeof(OrderByFieldItem)] = 1,
        [typeof(DocumentItem)] = 1,
        [typeof(TextItem)] = 1,
        [typeof(CountOfItem)] = 1,
        [typeof(MembersItem)] = 4,
        [typeof(LeftOutItem)] = 2,
        [typeof(WholeItem)] = 1,
        [typeof(PeriodsItem)] = 1,
        [typeof(SplitItem)] = 2,
        [typeof(RankItem)] = 1,
        [typeof(OrderItem)] = 1,
        [typeof(LimitItem)] = 1,
        [typeof(StatisticItem)] = 1,
        [typeof(AskItem)] = 2,
        [typeof(CurrencyItem)] = 1,
    }.ToFrozenDictionary();

    /// <summary>What a turn can change of a question of records.</summary>
    private static readonly FrozenDictionary<Type, int> OfARecordsTurn = OfRecords
        .Concat(
            new Dictionary<Type, int>
            {
                [typeof(PointItem)] = 1,
                [typeof(PointedOutItem)] = 1,
                [typeof(PointedFieldItem)] = 1,
                [typeof(GoesOnItem)] = 3,
                [typeof(TheirItem)] = 1,
                [typeof(BesideItem)] = 1,
                [typeof(OnlyItem)] = 1,
                [typeof(ClearItem)] = 1,
            }
        )
        .ToFrozenDictionary();

    /// <returns>Null where what was said is none of records, or where more than one table may be meant.</returns>
    public Filled? FreshRecords()
    {
        if (!said.Fits(OfRecords) || !SpeaksOfRecords() || HoldsMembersApart() || AsksMore() || ListsFieldsApart())
            return null;
        if (TablesMeant() is not [var table] || book.CurrentPeriod is not { } now || book.Result is not { } result)
            return null;
        // A word that is not known may say what is paid, where no records are named.
        if (said.Has<UnknownItem>() && !said.Has<TableItem>() && !said.Has<OwersItem>())
            return null;
        // A number alone may be one of the ledger's documents as well.
        if (said.Asks(Asked.Where) || said.Asks(Asked.When) || said.Has<DocumentItem>() && !said.Has<TableItem>())
            return null;
        var of = new RecordFilling(this, table, false, null);
        var ask = of.Made(new RecordAsk(table.Code, []));
        if (of.Period is { } span)
            ask = of.InPeriod(ask, span);
        else
            _assumed.Add($"as at the end of {book.Calendar.NameOf(now)}");
        var asked = FiscalCalendar.YearToDate(now);
        return Done(
            new Question(
                new Scope(result, [of.Period ?? asked], [.. Filters()], Side.Actual, [], Currency(null), null),
                Layout.Usual with
                {
                    Ranking = of.Ranked(ask, null),
                    Conditions = of.Limits(ask),
                },
                new Kind.Records(ask, of.Listed(ask, null))
            )
        );
    }

    /// <summary>Whether something was said that only records can hold.</summary>
    private bool SpeaksOfRecords() =>
        said.Has<TableItem>()
        || said.Has<OwersItem>()
        || said.Has<StateItem>()
        || said.All<FieldSaysItem>().Any(f => f.Table != Table.Ledger)
        || said.Has<BucketsItem>()
        || said.All<FieldItem>().Any(f => TablesOf(f.Role) is [var of] && of.Field(f.Role)!.Type != FieldType.Key);

    /// <summary>The state that a text of a field is a word for: paid, open; null for other texts. Nothing is both, so that the
    /// amounts of either are meant.</summary>
    private string? StateNamed(string text) =>
        vocabulary
            .Find(Language.Words.Phrase(text))
            .Where(e => e.Kind == MentionKind.Check && e.Value is "open" or "settled")
            .Select(e => e.Value)
            .FirstOrDefault();

    /// <summary>Fields that stand beside each other are one list.</summary>
    private bool ListsFieldsApart() =>
        said.All<FieldSaysItem>()
            .Select(f => f.Texts)
            .Concat(said.All<FieldsItem>().Select(f => f.Roles))
            .Any(words => words.Select(StateNamed).OfType<string>().Distinct().Count() > 1)
        || said.Has<FieldItem>() && said.Has<FieldsItem>()
        || said.Has<BucketsItem>() && said.Has<AgeItem>();

    private List<Table> TablesOf(string role) => [.. book.Tables.Where(t => t.Code != Table.Ledger && t.Field(role) is not null)];

    /// <summary>What records do not answer: causes, bridges and comparisons.</summary>
    private bool AsksMore() =>
        said.All<AskItem>().Any(a => a.What is Asked.Why or Asked.Bridge or Asked.Variance or Asked.Compare);

    /// <summary>The tables that have all that was said: by their names, their fields, their states and what they are kept
    /// by.</summary>
    private List<Table> TablesMeant()
    {
        var named = said.All<TableItem>()
            .Select(t => t.Tables)
            .Concat(said.All<OwersItem>().Select(t => t.Tables))
            .Concat(said.All<StateItem>().Where(s => !s.Tables.IsEmpty).Select(s => s.Tables))
            .Concat(said.All<FieldSaysItem>().Select(f => (ValueList<string>)[f.Table]))
            .ToList();
        return
        [
            .. book.Tables.Where(t =>
                t.Code != Table.Ledger
                && named.TrueForAll(n => n.Contains(t.Code))
                && RolesSaid().All(r => Field(t, r) is not null)
                && DimensionsSaid().All(d => t.Fields.Any(f => f.Dimension == d))
            ),
        ];
    }

    /// <summary>Whether the records that are named have nothing of what was said of them: open orders, where no order tells what
    /// is open.</summary>
    public bool Contradicts =>
        said.Fits(OfRecords)
        && (ListsFieldsApart() || (said.Has<TableItem>() || said.Has<FieldSaysItem>()) && TablesMeant().Count == 0);

    /// <summary>The amount, of records that call none so, is the first that they have.</summary>
    private string? Field(Table table, string role) =>
        RecordWords.FieldOf(table.Fields, vocabulary, role)
        ?? (role == RecordAsk.Amount ? table.Fields.FirstOrDefault(f => f.Type == FieldType.Amount)?.Code : null);

    private bool IsCalled(Table table, string role) => RecordWords.FieldOf(table.Fields, vocabulary, role) is not null;

    /// <summary>The roles of fields that what was said speaks of.</summary>
    private IEnumerable<string> RolesSaid() =>
        said.All<FieldItem>()
            .Select(f => f.Role)
            .Concat(said.All<FieldsItem>().SelectMany(f => f.Roles))
            .Concat(said.All<ByFieldItem>().SelectMany(f => f.Roles))
            .Concat(said.All<DuringItem>().Select(d => d.Role))
            .Concat(said.All<OrderByFieldItem>().Select(o => o.Role))
            .Concat(said.All<StateItem>().SelectMany(s => RolesOf(s.Of)))
            .Concat(said.Has<BucketsItem>() || said.Has<OldestBucketItem>() ? [Due, OpenAmount] : [])
            .Concat(said.Asks(Asked.Where) ? [Place] : [])
            .Where(r => !book.TryDimension(r, out _));

    private static string[] RolesOf(RecordState state) =>
        state switch
        {
            RecordState.Open or RecordState.Settled => [OpenAmount],
            RecordState.Due or RecordState.NotDue or RecordState.Overdue or RecordState.Aged => [Due, OpenAmount],
            RecordState.Late or RecordState.OnTime or RecordState.Early or RecordState.DaysLate => [Due, PaidOn],
            RecordState.DaysToPay => [PaidOn],
            _ => [],
        };

    private IEnumerable<string> DimensionsSaid() =>
        said.All<MembersItem>()
            .Select(m => m.Dimension)
            .Concat(said.All<LeftOutItem>().Select(m => m.Dimension))
            .Concat(Splits().Select(b => b.Dimension).OfType<string>());

    private IEnumerable<Breakdown> Splits() =>
        said.All<SplitItem>()
            .SelectMany(s => s.By)
            .Concat(said.All<CountOfItem>().SelectMany(c => c.Of.By))
            .Concat(said.One<RankItem>()?.Of is { } ranked ? [ranked] : [])
            .Distinct();

    private Said Heard => said;
    private Book Known => book;

    private bool IsNamed(string role, string name) => vocabulary.Fields[role].Contains(Language.Words.Phrase(name));

    /// <summary>What was said, held against the fields of one table.</summary>
    /// <param name="one">Whether one record was shown, of which more is asked.</param>
    /// <param name="shown">Field of the amount that was shown; null where none was.</param>
    private sealed class RecordFilling(Filling filling, Table table, bool one, string? shown)
    {
        private Said Said => filling.Heard;
        private Book Book => filling.Known;

        public PeriodSpan? Period =>
            Said.One<DuringItem>() is { } during ? Near(during)
            : Said.One<PeriodsItem>() is { } period ? period.Span
            : null;

        /// <summary>What is due lies ahead or not long behind: of the Octobers the nearest one is meant.</summary>
        private PeriodSpan Near(DuringItem during)
        {
            var span = during.Period.Span;
            if (during is { Role: Due, Period.Open: not null } && Book.CurrentPeriod is { } now)
                while (now.Ordinal - span.To.Ordinal > NotLongDue)
                    span = span.AddMonths(12);
            return span;
        }

        public string? KeyField => filling.Field(table, Key);

        /// <summary>Only, or all but, those of these names: a filter where a dimension keeps them, a test otherwise.</summary>
        public (Filter? Filter, RecordTest? Test) OfNames(string field, List<string> names, bool except)
        {
            if (table.Field(field)?.Dimension is { } code && Book.TryDimension(code, out var dimension))
            {
                var members = names
                    .Select(n => Book.MembersOf(dimension.Id).FirstOrDefault(m => m.Name == n))
                    .OfType<Member>()
                    .Select(m => m.Code)
                    .ToList();
                if (members.Count == names.Count)
                    return (new Filter(code, [.. members], except), null);
            }
            return (null, new RecordTest(RecordTestKind.Is, field, null, string.Join(RecordTest.Or, names)) { Not = except });
        }

        /// <summary>Code of the table's field of that role.</summary>
        public string Field(string role) => filling.Field(table, role)!;

        private FieldType TypeOf(string code) => table.Field(code)!.Type;

        private string? Day => table.Fields.FirstOrDefault(f => f.Type == FieldType.Date)?.Code;

        private string? WhoseField =>
            table.Fields.FirstOrDefault(f => f.Type == FieldType.Member && f.Dimension is { } d && IsParty(d))?.Code
            ?? filling.Field(table, Party)
            ?? table.Fields.FirstOrDefault(f => f.Type == FieldType.Member && f.Dimension != Book.Entities.Code)?.Code;

        private bool IsParty(string dimension) =>
            Book.TryDimension(dimension, out var of)
            && of.OtherNames.Append(of.Name).Append(of.Code).Any(n => filling.IsNamed(Party, n));

        private bool HasState(params RecordState[] states) => Said.All<StateItem>().Any(s => !s.Not && states.Contains(s.Of));

        /// <summary>An ask of the same table with all that was said of it now; what was not said stays.</summary>
        public RecordAsk Made(RecordAsk before)
        {
            var tests = Tests().Distinct().ToImmutableArray();
            var by = By();
            var (sum, beside) = Amounts(before);
            var ask = before with
            {
                Tests = [.. before.Tests.Where(t => tests.All(n => !TakesPlaceOf(n, t))).Concat(tests)],
                By = by.IsEmpty ? before.By : by,
                Sum = sum,
                Beside = beside,
                PaidOn = filling.Field(table, PaidOn),
                CountOnly =
                    before.CountOnly && !Said.Has<RankItem>()
                    || Said.One<StatisticItem>()?.Of == RowStatistic.Count
                    || Said.One<RankItem>() is { Many: true } && Said.Has<TableItem>(),
                Statistic =
                    Said.Has<CountOfItem>() ? RowStatistic.Count
                    : Said.One<StatisticItem>()?.Of is RowStatistic.Average or RowStatistic.Median ? Said.One<StatisticItem>()!.Of
                    : before.Statistic,
            };
            ask = ask with { LimitsGroups = ask.LimitsGroups || (!ask.By.IsEmpty && Said.Has<LimitItem>()) };
            if (Said.Has<OldestBucketItem>())
                return Oldest(ask);
            return Said.Has<BucketsItem>() || HasState(RecordState.Aged) ? Aged(ask) : ask;
        }

        private RecordAsk Oldest(RecordAsk ask)
        {
            var days = ask.Buckets.IsEmpty ? UsualBuckets[^1] : ask.Buckets[^1];
            return ask with
            {
                Due = null,
                Buckets = [],
                Sum = Field(OpenAmount),
                Tests =
                [
                    new RecordTest(RecordTestKind.Open, null, Field(OpenAmount)),
                    .. ask.Tests.Where(t => !IsOwed(t.Kind) && t.Kind != RecordTestKind.OlderThan),
                    new RecordTest(RecordTestKind.OlderThan, Field(Due), null, null, days),
                ],
            };
        }

        /// <summary>Nothing is both settled and open; the same field says one thing.</summary>
        private bool TakesPlaceOf(RecordTest now, RecordTest before) =>
            now.Kind == before.Kind && (now.Kind != RecordTestKind.Is || now.Field == before.Field)
            || IsOwed(now.Kind) && (before.Kind == RecordTestKind.Settled || IsOwed(before.Kind) || IsOfPayment(before))
            || now.Kind == RecordTestKind.Settled && IsOwed(before.Kind)
            || now.Kind is RecordTestKind.OlderThan or RecordTestKind.NotOlder
                && before.Kind is RecordTestKind.OlderThan or RecordTestKind.NotOlder;

        /// <summary>What is still owed has no day on which it was paid.</summary>
        private bool IsOfPayment(RecordTest test) =>
            filling.Field(table, PaidOn) is { } paid && (test.Field == paid || test.Other == paid);

        private static bool IsOwed(RecordTestKind kind) =>
            kind is RecordTestKind.Open or RecordTestKind.Overdue or RecordTestKind.NotDue;

        private RecordAsk Aged(RecordAsk ask)
        {
            if (!Said.Has<BucketsItem>() && ask.Buckets.IsEmpty)
                filling._assumed.Add("by 30, 60 and 90 days past the due date");
            return ask with
            {
                Due = Field(Due),
                Sum = Field(OpenAmount),
                Buckets =
                    Said.One<BucketsItem>() is { } said ? [.. said.Upper]
                    : ask.Buckets.IsEmpty ? UsualBuckets
                    : ask.Buckets,
                Tests = [new RecordTest(RecordTestKind.Open, null, Field(OpenAmount)), .. ask.Tests.Where(t => !IsOwed(t.Kind))],
            };
        }

        // ---- which of them

        private IEnumerable<RecordTest> Tests() =>
            Said.All<StateItem>()
                .SelectMany(s => States(s).Select(t => s.Not ? t with { Not = true } : t))
                .Concat(Said.Has<OwersItem>() ? [new RecordTest(RecordTestKind.Open, null, Field(OpenAmount))] : [])
                .Concat(
                    Said.All<FieldSaysItem>()
                        .Select(f => new RecordTest(RecordTestKind.Is, f.Field, null, string.Join(RecordTest.Or, f.Texts))
                        {
                            Not = f.Not,
                        })
                )
                .Where(_ => !AsksOfOne)
                .Concat(Said.One<AgeItem>() is { } age ? OfAge(age) : [])
                .Concat(
                    Said.One<DocumentItem>() is { } number && filling.Field(table, Key) is { } key
                        ? [new RecordTest(RecordTestKind.Is, key, null, number.Number)]
                        : []
                )
                .Concat(Said.One<TextItem>() is { } text ? [new RecordTest(RecordTestKind.Contains, null, null, text.Text)] : []);

        private IEnumerable<RecordTest> States(StateItem state)
        {
            var open = filling.Field(table, OpenAmount);
            RecordTest Settled() => new(RecordTestKind.Settled, null, open);
            return state.Of switch
            {
                RecordState.Open when HasState(RecordState.Overdue) => [],
                RecordState.Open or RecordState.Due => [new RecordTest(RecordTestKind.Open, null, open)],
                RecordState.Settled => [Settled()],
                RecordState.NotDue => [new RecordTest(RecordTestKind.NotDue, Field(Due), open)],
                RecordState.Overdue => [new RecordTest(RecordTestKind.Overdue, Field(Due), open)],
                // A part that is paid makes no invoice paid.
                RecordState.Late =>
                [
                    new RecordTest(RecordTestKind.DaysAfter, Field(PaidOn), Field(Due)),
                    .. open is null ? (RecordTest[])[] : [Settled()],
                ],
                RecordState.Early =>
                [
                    new RecordTest(RecordTestKind.DaysAfter, Field(Due), Field(PaidOn)),
                    .. open is null ? (RecordTest[])[] : [Settled()],
                ],
                RecordState.OnTime =>
                [
                    new RecordTest(RecordTestKind.NotAfter, Field(PaidOn), Field(Due)),
                    .. open is null ? (RecordTest[])[] : [Settled()],
                ],
                // What is not paid has no such days, and counts as none: not as zero.
                RecordState.DaysLate or RecordState.DaysToPay =>
                [
                    new RecordTest(RecordTestKind.BothDays, Field(PaidOn), state.Of == RecordState.DaysLate ? Field(Due) : Day),
                    .. open is null ? (RecordTest[])[] : [Settled()],
                ],
                RecordState.Twice => [new RecordTest(RecordTestKind.Twice)],
                _ => [],
            };
        }

        /// <summary>"When was it due", of the one that was shown.</summary>
        private bool AsksOfOne => one && Said.Asks(Asked.When);

        /// <summary>What is paid grows no older.</summary>
        private IEnumerable<RecordTest> OfAge(AgeItem age)
        {
            var due = filling.Field(table, Due);
            var ages = HasState(RecordState.Overdue, RecordState.Aged) || Said.Has<BucketsItem>();
            if (age.Over && filling.Field(table, OpenAmount) is { } open && !Said.Has<StateItem>() && !Said.Has<FieldSaysItem>())
            {
                filling._assumed.Add("still open, since what is paid grows no older");
                yield return new RecordTest(RecordTestKind.Open, null, open);
            }
            yield return HasState(RecordState.Due) && !age.Over
                ? new RecordTest(RecordTestKind.Ahead, due, null, null, age.Days)
                : new RecordTest(
                    age.Over ? RecordTestKind.OlderThan : RecordTestKind.NotOlder,
                    ages ? due : Day,
                    null,
                    null,
                    age.Days
                );
        }

        // ---- how they come

        private ImmutableArray<Gathering> By()
        {
            var by = filling
                .Splits()
                .Select(b => b.Grain is { } grain ? new Gathering(DayMeant()!, grain.ToString()) : OfDimension(b))
                .Concat(Said.All<ByFieldItem>().SelectMany(f => f.Roles).Select(r => new Gathering(Coded(r))))
                .Distinct()
                .ToImmutableArray();
            return by.IsEmpty && !one && (Said.Has<OwersItem>() || Said.Asks(Asked.Who)) && WhoseField is { } whose
                ? [new Gathering(whose)]
                : by;
        }

        private string Coded(string role) =>
            Book.TryDimension(role, out var of) ? table.Fields.First(f => f.Dimension == of.Code).Code
            : role == RecordAsk.Amount && shown is not null && !filling.IsCalled(table, role) ? shown
            : Field(role);

        private string? DayMeant() =>
            Said.One<DuringItem>() is { } during ? Field(during.Role)
            : HasState(RecordState.Overdue, RecordState.NotDue, RecordState.Due) ? Field(Due)
            : HasState(RecordState.Settled) && filling.Field(table, PaidOn) is { } paid ? paid
            : Day;

        /// <summary>By region: above the members that records name.</summary>
        private Gathering OfDimension(Breakdown by)
        {
            var field = table.Fields.First(f => f.Dimension == by.Dimension);
            var levels = Book.TryDimension(by.Dimension!, out var of) ? of.Levels : [];
            return new Gathering(field.Code, by.Level is { } level && level != levels[^1] ? level : null);
        }

        /// <summary>The amounts that were named, or what is open of what is owed, or the first that the records have.</summary>
        private (string? Sum, ImmutableArray<string> Beside) Amounts(RecordAsk before)
        {
            var named = Said.One<FieldsItem>() is { Beside: true }
                ? []
                : NamedFields().Where(IsNumber).Distinct().ToImmutableArray();
            if (!named.IsEmpty && (named.Length == NamedFields().Count() || before.Sum is null))
                return (named[0], named[1..]);
            if (before.Sum is { } kept && !Said.Has<StateItem>() && !Said.Has<OwersItem>())
                return (kept, before.Beside);
            if (
                (HasState(RecordState.Open, RecordState.Due, RecordState.NotDue, RecordState.Overdue) || Said.Has<OwersItem>())
                && filling.Field(table, OpenAmount) is { } open
            )
                return (open, before.Beside);
            return (
                before.Sum
                    ?? table.Fields.FirstOrDefault(f => f.Type == FieldType.Amount)?.Code
                    ?? table.Fields.FirstOrDefault(f => f.Type == FieldType.Quantity)?.Code,
                before.Beside
            );
        }

        private bool IsNumber(string code) => TypeOf(code) is FieldType.Amount or FieldType.Quantity or FieldType.Rate;

        private IEnumerable<string> NamedFields() =>
            Said.All<FieldItem>()
                .Select(f => f.Role)
                .Concat(Said.All<FieldsItem>().SelectMany(f => f.Roles))
                .Select(Coded)
                .Concat(one ? OfOne().OfType<string>() : []);

        /// <summary>What is asked of one record, without the name of a field: who, where, when.</summary>
        private IEnumerable<string?> OfOne() =>
            [
                Said.Asks(Asked.Who) ? WhoseField : null,
                Said.Asks(Asked.Where) ? Field(Place) : null,
                Said.Asks(Asked.When) ? DayMeant() : null,
            ];

        /// <summary>Columns of a list: several fields that were named, or one that is no amount.</summary>
        public Listing? Listed(RecordAsk ask, Listing? before)
        {
            ImmutableArray<string> columns =
                !ask.By.IsEmpty || ask.CountOnly || ask.Statistic is not null ? []
                : Said.One<FieldsItem>() is { } list
                    ? list.Beside ? []
                        : [.. NamedFields().Distinct()]
                : NamedFields().ToList() is [var one] && !IsNumber(one)
                    ? [.. ((string?[])[filling.Field(table, Key), one, ask.Sum]).OfType<string>().Distinct()]
                : [];
            var listing = (before ?? new Listing([])) with { Columns = columns.IsEmpty ? before?.Columns ?? [] : columns };
            if (Said.One<OrderByFieldItem>() is { } field)
                listing = listing with { OrderBy = Coded(field.Role), Descending = IsNumber(Coded(field.Role)) };
            else if (Said.One<OldestItem>() is { } oldest && DayMeant() is { } day)
                listing = listing with { OrderBy = day, Descending = oldest.Newest };
            else if (Said.One<OrderItem>() is { } order)
                listing = listing with
                {
                    OrderBy = order.ByName ? ask.By.FirstOrDefault()?.Field ?? WhoseField : ask.Sum,
                    Descending = !order.ByName && order.End is End.Largest or End.Worst,
                };
            return listing.Columns.IsEmpty && listing.OrderBy is null ? null : listing;
        }

        public Ranking? Ranked(RecordAsk ask, Ranking? before)
        {
            if (Said.One<OldestItem>() is { Count: { } oldest })
                return new Ranking(Math.Clamp(oldest, 1, Ranking.All), RankBy.Name);
            if (Said.One<RankItem>() is not { } rank)
                return before;
            // The largest order is one; the largest orders are as many as are shown of anything.
            var several =
                rank.Some
                || Said.Asks(Asked.Who)
                || Said.Asks(Asked.Which)
                || Said.Has<ByFieldItem>()
                || Said.All<SplitItem>().Any(s => s.Several || s.Which);
            var one = !several && !(ask.By.IsEmpty && Said.One<TableItem>() is { Plural: true });
            return new Ranking(
                Math.Clamp(rank.Count ?? (one ? 1 : DefaultRanking), 1, Ranking.All),
                RankBy.Size,
                rank.End is End.Smallest or End.Worst,
                rank.Skip
            )
            {
                Within = rank.Of is null && Said.All<SplitItem>().Any(s => s.Each),
            };
        }

        public ValueList<Condition> Limits(RecordAsk ask) =>
            Said.One<LimitItem>() is not { } limit ? []
            : limit.Conditions.Any(c => c.On != ConditionOn.Amount)
                ? throw new CannotAnswerException(
                    "Records are kept by their amounts, and not by a percentage. Say an amount, as in “over 10k”."
                )
            : [.. limit.Conditions.Select(c => c with { Direction = IsUpper(c.Direction) ? Direction.Under : Direction.Over })];

        private static bool IsUpper(Direction direction) => direction is Direction.Under or Direction.Within;

        /// <summary>What is open is so at the end of a period; what speaks of no state is one of the records of the
        /// period.</summary>
        public RecordAsk InPeriod(RecordAsk ask, PeriodSpan span)
        {
            var during = Said.One<DuringItem>();
            var stands = ask.Due is not null || ask.Tests.Any(t => IsOwed(t.Kind) && !t.Not);
            var since = Said.One<PeriodsItem>() is { FromTo: true };
            var day =
                during is not null ? Field(during.Role)
                : HasState(RecordState.Settled) && ask.PaidOn is not null ? ask.PaidOn
                : !stands || since ? Day
                : null;
            return ask with
            {
                AsAt = null,
                Tests =
                [
                    .. ask.Tests.Where(t => t.Kind is not (RecordTestKind.During or RecordTestKind.Days)),
                    .. day is null
                        ? (RecordTest[])[]
                        : [new RecordTest(RecordTestKind.During, day, Book.Calendar.NameOf(span), span.ToString())],
                ],
            };
        }
    }
}
