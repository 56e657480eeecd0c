using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Store;

namespace Bearing.Core.Answering;

/// <summary>
/// Finds, counts, gathers and ages records and journals. They are read page by page through the one port for figures and held
/// against the tests here, so that every store gives the same answer.
/// </summary>
internal sealed partial class RecordAnswerer(Book book, IFacts facts, Question question, Kind.Records kind)
{
    /// <summary>Characters of a word with a digit in it that is taken for a reference and not for an amount.</summary>
    private const int ShortestReference = 5;
    private const int PageSize = 10_000;

    /// <summary>Beyond this a question has to be narrowed: reading on would take minutes.</summary>
    private const int MostRead = 1_000_000;
    private const int Shown = 200;
    private const int MostGapsTold = 100;
    private readonly RecordAsk _ask = kind.Ask;
    private readonly Listing? _listing = kind.Listing;
    private readonly DateOnly _day = kind.Ask.AsAt ?? book.Calendar.LastDay(question.Scope.Spans[0].To);

    /// <summary>A record or a journal, with the fields that tests and columns speak of.</summary>
    /// <param name="Net">Sum of all its lines.</param>
    /// <param name="Asked">False for a document that only serves as a neighbour of those asked about.</param>
    private sealed record Item(int Load, int Row, ImmutableSortedDictionary<string, string> Fields, decimal Net, bool Asked)
    {
        /// <summary>Texts of all lines of a journal.</summary>
        public ImmutableArray<string> Texts { get; init; } = [];

        /// <summary>Ordinal of the month to which a journal was posted.</summary>
        public int Period { get; init; }

        /// <summary>Month and members of a journal, its accounts aside.</summary>
        public string Whose { get; init; } = "";

        public string? this[string? code] =>
            code is not null && Fields.TryGetValue(code, out var text) && text.Length > 0 ? text : null;

        /// <summary>ISO 4217 code in which its amounts stand; null for the book's own and where nobody says it.</summary>
        public string? Currency { get; init; }

        /// <summary>Turns its amounts into the one currency in which all are added up; null where they stay as they
        /// are.</summary>
        public Func<string, decimal, decimal>? Convert { get; init; }

        public decimal Number(string? code) =>
            decimal.TryParse(this[code], NumberStyles.Number, CultureInfo.InvariantCulture, out var number)
                ? Convert is null
                    ? number
                    : Convert(code!, number)
                : 0m;

        public DateOnly? Day(string? code) =>
            this[code] is { Length: >= 10 } text
            && DateOnly.TryParseExact(text[..10], "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)
                ? day
                : null;
    }

    public async ValueTask<RecordTable> Answer(CancellationToken cancel)
    {
        foreach (var by in _ask.By)
            CheckGathering(by);
        var all = _ask.Table == Table.Ledger ? await Journals(cancel) : await Records(cancel);
        if (_ask.Tests.Any(t => t.Kind == RecordTestKind.MissingNumber))
            return Missing(all);
        all = [.. all.Where(i => i.Asked)];
        RefuseUnknownDays(all);
        if (OpenThen is { } open)
            all = [.. all.Select(i => AsAt(i, open)).OfType<Item>()];
        all = InOneCurrency(all);
        var limits = question.Layout.Conditions.Where(c => c.On == ConditionOn.Amount).ToList();
        var counts = question.Layout.Conditions.Where(c => c.On == ConditionOn.Count).ToList();
        var passing = all.Where(i =>
                _ask.Tests.All(t => Passes(i, t)) && (_ask.LimitsGroups || Within(limits, i.Number(_ask.Sum)))
            )
            .ToList();
        if (_ask.Tests.Any(t => t.Kind == RecordTestKind.Twice))
            passing = Twice(passing);
        if (
            _unconverted.Length > 0
            && _ask is { CountOnly: false }
            && (question.Layout.Ranking is not null || !_ask.By.IsEmpty || _ask.Due is not null)
        )
            throw DoNotAdd(passing);
        return WithNotes(
            _ask.Due is not null && !_ask.Buckets.IsEmpty ? Ageing(passing)
            : !_ask.By.IsEmpty && question.Layout.Ranking is not { Within: true }
                ? GatheredTable(
                    _ask.LimitsGroups
                        ?
                        [
                            .. passing
                                .GroupBy(Key)
                                .Where(g => Within(limits, g.Sum(i => i.Number(_ask.Sum))) && Within(counts, g.Count()))
                                .SelectMany(g => g),
                        ]
                        : passing
                )
            : Listed(passing, all.Count)
        );
    }

    /// <summary>None is said of days that the records reach; of others nobody knows.</summary>
    /// <exception cref="CannotAnswerException">When all days of the field lie outside the period.</exception>
    private void RefuseUnknownDays(List<Item> all)
    {
        if (
            _ask.Table == Table.Ledger
            || _ask.Tests.FirstOrDefault(t => t is { Kind: RecordTestKind.During, Not: false }) is not { Field: { } field } during
            || !PeriodSpan.TryParse(during.Value ?? "", out var span)
            || all.Select(i => i.Day(field)).OfType<DateOnly>().ToList() is not { Count: > 0 } days
        )
            return;
        var (from, to) = (days.Min(), days.Max());
        if (book.Calendar.LastDay(span.To) < from || book.Calendar.FirstDay(span.From) > to)
            throw new CannotAnswerException(
                $"{book.Table(_ask.Table)!.Name} are loaded from {from.ToString("d MMMM yyyy", CultureInfo.InvariantCulture)} to {to.ToString("d MMMM yyyy", CultureInfo.InvariantCulture)} ({book.Table(_ask.Table)!.Field(field)!.Name.ToLowerInvariant()}), so nothing can be said of {book.Calendar.NameOf(span)}.",
                $"{book.Table(_ask.Table)!.Name} in {book.Calendar.NameOf(book.Calendar.PeriodOf(to))}"
            );
    }

    private static bool Within(List<Condition> limits, decimal size) =>
        limits.TrueForAll(c => c.IsUpper ? size <= c.Value : size >= c.Value);

    private async ValueTask<List<Item>> Records(CancellationToken cancel)
    {
        var table = book.Table(_ask.Table) ?? throw new CannotAnswerException($"The book has no table “{_ask.Table}”.");
        var tests = question
            .Scope.Filters.Select(f =>
                (
                    Filter: f,
                    Field: table.Fields.FirstOrDefault(x => x.Dimension == f.Dimension) ?? throw Lacks(table, f.Dimension)
                )
            )
            .ToList();
        var items = new List<Item>();
        for (int? next = 0; next is { } offset; )
        {
            var page = await facts.Records(new RecordQuery(table, [], null, false, PageSize, offset), cancel);
            if (page.Count > MostRead)
                throw TooMany(page.Count, table.Name);
            items.AddRange(page.Records.Select(r => new Item(r.Load, r.Row, r.Fields, 0m, true)));
            next = page.Next;
        }
        return [.. items.Where(i => tests.TrueForAll(t => Within(t.Filter, i[t.Field.Code]) != t.Filter.Exclude))];
    }

    private bool Within(Filter filter, string? code)
    {
        if (
            code is null
            || !book.TryDimension(filter.Dimension, out var dimension)
            || !book.TryMember(dimension.Id, code, out var member)
        )
            return false;
        return book.PathTo(member.Id).Any(id => filter.Members.Contains(book.Label(id).Code));
    }

    private CannotAnswerException Lacks(Table table, string dimension) =>
        new(
            $"The table {table.Name} keeps no {(book.TryDimension(dimension, out var d) ? d.Name.ToLowerInvariant() : dimension)}; it has {string.Join(", ", table.Fields.Select(f => f.Name.ToLowerInvariant()))}.",
            [
                .. table
                    .Fields.Where(f => f.Type is FieldType.Member or FieldType.Text)
                    .Take(3)
                    .Select(f => $"by {f.Name.ToLowerInvariant()}"),
            ]
        );

    private static CannotAnswerException TooMany(long count, string of) =>
        new(
            FormattableString.Invariant(
                $"{count:N0} rows of {of} would have to be looked at; up to {MostRead:N0} are. Narrow it to fewer months or to one account."
            )
        );

    /// <summary>The field of what is open, where a day before the newest one is asked about; null where it stands as it was
    /// loaded.</summary>
    private string? OpenThen =>
        book.CurrentPeriod is { } now && _day < book.Calendar.LastDay(now) && _ask.Table != Table.Ledger
            ? _ask
                .Tests.FirstOrDefault(t => t.Kind is RecordTestKind.Open or RecordTestKind.Overdue or RecordTestKind.NotDue)
                ?.Other
            : null;

    /// <summary>A record as it stood on the day in question: null before it was there, and open in full before it was
    /// paid.</summary>
    private Item? AsAt(Item item, string open)
    {
        var fields = book.Table(_ask.Table)!.Fields;
        if (fields.FirstOrDefault(f => f.Type == FieldType.Date) is { } date && item.Day(date.Code) > _day)
            return null;
        return
            _ask.PaidOn is { } paid
            && item.Day(paid) > _day
            && fields.FirstOrDefault(f => f.Type == FieldType.Amount) is { } amount
            ? item with
            {
                Fields = item.Fields.SetItem(open, item[amount.Code] ?? "0"),
            }
            : item;
    }

    private bool Passes(Item item, RecordTest test) => Meets(item, test) != test.Not;

    private bool Meets(Item item, RecordTest test) =>
        test.Kind switch
        {
            RecordTestKind.Is => item[test.Field] is { } own
                && (test.Value ?? "").Split(RecordTest.Or).Contains(own, StringComparer.OrdinalIgnoreCase),
            RecordTestKind.Contains => item
                .Texts.Concat(item.Fields.Keys.Select(f => Name(f, item[f])))
                .Any(t => t.Contains(test.Value ?? "", StringComparison.OrdinalIgnoreCase)),
            RecordTestKind.EndsIn => item[test.Field]?.EndsWith(test.Value ?? "", StringComparison.OrdinalIgnoreCase) == true,
            RecordTestKind.Empty => item[test.Field] is null,
            RecordTestKind.SameAs => item[test.Field] is { } one
                && string.Equals(one, item[test.Other], StringComparison.OrdinalIgnoreCase),
            RecordTestKind.Weekend => item.Day(test.Field)?.DayOfWeek is { } day
                && (test.Number == 0m ? day is DayOfWeek.Saturday or DayOfWeek.Sunday : (int)day == (int)test.Number % 7),
            RecordTestKind.MonthEnd => item.Day(test.Field) is { } day && day.AddDays(1).Day == 1,
            RecordTestKind.OutOfPeriod => item.Day(test.Field) is { } dated
                && book.Calendar.PeriodOf(dated).Ordinal != item.Period,
            RecordTestKind.Round => item.Number(_ask.Sum) is var amount && amount != 0m && amount % test.Number == 0m,
            RecordTestKind.DaysAfter => item.Day(test.Field) is { } late
                && item.Day(test.Other) is { } due
                && late.DayNumber - due.DayNumber > test.Number,
            RecordTestKind.NotAfter => item.Day(test.Field) is { } paid && item.Day(test.Other) is { } until && paid <= until,
            RecordTestKind.OlderThan => item.Day(test.Field) is { } since && _day.DayNumber - since.DayNumber > test.Number,
            RecordTestKind.NotOlder => item.Day(test.Field) is { } since
                && _day.DayNumber - since.DayNumber is var age
                && age >= 0
                && age <= test.Number,
            RecordTestKind.Ahead => item.Day(test.Field) is { } ahead
                && ahead.DayNumber - _day.DayNumber is var wait
                && wait > 0
                && wait <= test.Number,
            RecordTestKind.BothDays => item.Day(test.Field) is not null && item.Day(test.Other) is not null,
            RecordTestKind.During => item.Day(test.Field) is { } on
                && PeriodSpan.TryParse(test.Value ?? "", out var span)
                && span.Contains(book.Calendar.PeriodOf(on)),
            RecordTestKind.Days => item.Day(test.Field) is { } told
                && DaySpan.TryParse(test.Value, out var days)
                && days.Contains(told),
            RecordTestKind.Open => item.Number(test.Other) != 0m,
            RecordTestKind.Settled => item.Number(test.Other) == 0m,
            RecordTestKind.Overdue => item.Number(test.Other) != 0m && item.Day(test.Field) < _day,
            RecordTestKind.NotDue => item.Number(test.Other) != 0m && item.Day(test.Field) >= _day,
            RecordTestKind.Unbalanced => item.Net != 0m,
            _ => true,
        };

    private RecordTable Listed(List<Item> items, int lookedAt)
    {
        var days = DaysTest;
        ImmutableArray<RecordColumn> columns =
        [
            .. Fields().Select(Column),
            .. days is null ? (RecordColumn[])[] : [new("days", "Days", FieldType.Quantity)],
        ];
        var ordered = items.OrderByDescending(i => question.Layout.Ranking is null ? 0m : Math.Abs(i.Number(_ask.Sum))).ToList();
        if (question.Layout.Ranking is { Ascending: true })
            ordered.Reverse();
        // The newest five are picked by day, the largest five by amount whatever their order.
        if (question.Layout.Ranking is { By: RankBy.Name })
            ordered = Sorted(items);
        if (question.Layout.Ranking is { } ranking)
            ordered = ranking.Within
                ? [.. ordered.GroupBy(Key).SelectMany(g => g.Skip(ranking.Skip).Take(ranking.Count))]
                : [.. ordered.Skip(ranking.Skip).Take(ranking.Count)];
        var rows = _ask.CountOnly
            ? []
            : Sorted(ordered)
                .Take(Shown)
                .Select(i => new RecordTableRow(
                    [
                        .. Fields().Select(f => Name(f, i[f])),
                        .. days is null ? (string?[])[] : [Days(i)?.ToString(CultureInfo.InvariantCulture)],
                    ],
                    i.Load,
                    i.Row
                ));
        var totals = ImmutableArray.CreateBuilder<(string, decimal)>();
        if (_ask.Tests.Any(t => t.Kind == RecordTestKind.Unbalanced))
            totals.AddRange(("Documents", lookedAt), ("Documents out of balance", items.Count));
        else
        {
            totals.Add(("Count", items.Count));
            totals.AddRange(Totals(AmountColumn().Title, items, i => i.Number(_ask.Sum)));
        }
        foreach (var beside in _ask.Beside.Concat(Others()).Distinct())
            totals.AddRange(Totals(Column(beside).Title, items, i => i.Number(beside)));
        if (days is not null && items.Count > 0)
            totals.Add((DaysName, AverageDays(items)));
        if (MiddleName is { } middle && items.Count > 0)
            totals.Add(($"{middle} {AmountColumn().Title.ToLowerInvariant()}", Middle(items)));
        return new RecordTable(columns, [.. rows], totals.ToImmutable(), items.Count);
    }

    /// <summary>What else the records count or are worth, where nothing is said of how they stand: sums of all that adds up.</summary>
    private IEnumerable<string> Others() =>
        _ask.Table == Table.Ledger
        || _listing is { Columns.IsEmpty: false }
        || _ask.Statistic is not null
        || _ask.Tests.Any(t =>
            t.Kind is not (RecordTestKind.Is or RecordTestKind.During or RecordTestKind.Days or RecordTestKind.Contains)
        )
            ? []
            : book.Table(_ask.Table)!
                .Fields.Where(f => f.Type is FieldType.Amount or FieldType.Quantity && f.Code != _ask.Sum)
                .Select(f => f.Code);

    /// <summary>By the field that was asked for, what has nothing there last; otherwise as they came.</summary>
    private List<Item> Sorted(List<Item> items)
    {
        if (_listing?.OrderBy is not { } field)
            return items;
        var number = Column(field).Type is FieldType.Amount or FieldType.Quantity or FieldType.Rate;
        var (there, blank) = (items.Where(i => i[field] is not null), items.Where(i => i[field] is null));
        var rising = number
            ? there.OrderBy(i => i.Number(field))
            : there.OrderBy(i => Name(field, i[field]), StringComparer.OrdinalIgnoreCase);
        return [.. _listing.Descending ? rising.Reverse() : rising, .. blank];
    }
}
