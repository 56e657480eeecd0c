using System.Collections.Immutable;
using System.Globalization;
using System.Text.RegularExpressions;
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

    /// <summary>
    /// The ledger's lines gathered by document. Whether a document balances, and whether a number is missing, shows only where
    /// all lines of all months are seen: then the question's months and members pick documents, not lines. Amount is the sum of a
    /// document's debits, or of the figure's lines where one was named.</summary>
    private async ValueTask<List<Item>> Journals(CancellationToken cancel)
    {
        if (Scoping.Stored(book, question.Scope.Subject, question.Scope.Spans[0]) is not { } stored)
            throw new CannotAnswerException(
                $"The book has no {book.NameOf(question.Scope.Subject)} entries for {book.Calendar.NameOf(question.Scope.Spans[0])}."
            );
        var whole = _ask.Tests.Any(t => t.Kind is RecordTestKind.Unbalanced or RecordTestKind.MissingNumber);
        var asked = Scoping.Filters(book, question.Scope.Filters);
        if (
            _ask.OfFigure
            && (book.Figure(question.Scope.Figure) as SumFigure ?? (book.Figure(question.Scope.Figure) as PairFigure)?.Posted)
                is { } sum
        )
            asked = asked.Add(Scoping.Accounts(book, sum));
        var filters = whole ? [] : asked;
        // Statistics are kept as lines too, and are no journals.
        var statistics = book.MembersOf(book.Accounts.Id)
            .Where(m => m.Account?.Type == AccountType.Statistic)
            .Select(m => m.Id)
            .ToImmutableHashSet();
        if (!statistics.IsEmpty)
            filters = filters.Add(new MemberFilter(book.Accounts.Id, statistics, true));
        var documents = new Dictionary<(int, string), List<Line>>();
        string? cursor = null;
        do
        {
            var page = await facts.Lines(
                new LineQuery(
                    stored.Version.Id,
                    whole ? stored.Version.Coverage?.Span ?? stored.Span : stored.Span,
                    filters,
                    LineOrder.AsLoaded,
                    PageSize,
                    cursor
                ),
                cancel
            );
            if (page.Count > MostRead)
                throw TooMany(page.Count, "the ledger");
            foreach (var line in page.Lines)
            {
                var key = (line.Document.Length == 0 ? line.Row : 0, line.Document.Length == 0 ? $"{line.Load}" : line.Document);
                if (!documents.TryGetValue(key, out var lines))
                    documents[key] = lines = [];
                lines.Add(line);
            }
            cursor = page.Next;
        } while (cursor is not null);
        bool IsAsked(Line line) =>
            line.Period >= stored.Span.From.Ordinal
            && line.Period <= stored.Span.To.Ordinal
            && asked.All(f =>
                f.Members.Contains(line.Members[book.Definition.Dimensions.IndexOf(book.Dimension(f.Dimension))]) != f.Exclude
            );
        return [.. documents.Values.Select(lines => Journal(lines, !whole || lines.Exists(IsAsked)))];
    }

    private Item Journal(List<Line> lines, bool asked)
    {
        var first = lines[0];
        var debits = lines.Where(l => l.Amount < 0).Sum(l => -l.Amount);
        var shown = _ask.OfFigure || debits == 0m ? Math.Abs(lines.Sum(l => l.Amount)) : debits;
        var fields = first.Fields.ToBuilder();
        foreach (var line in lines.Skip(1))
        foreach (var (code, text) in line.Fields)
            if (!fields.TryGetValue(code, out var known) || known.Length == 0)
                fields[code] = text;
        fields[RecordAsk.Document] = first.Document;
        if (first.Date is { } date)
            fields[RecordAsk.Date] = date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        fields[RecordAsk.Amount] = Text(shown);
        fields[RecordAsk.Text] = lines.Select(l => l.Text).FirstOrDefault(t => t.Length > 0) ?? "";
        var entity = book.Definition.Dimensions.IndexOf(book.Entities);
        var level = _ask.By.FirstOrDefault(g => g.Field == book.Entities.Code)?.Level;
        fields[book.Entities.Code] = string.Join(
            ", ",
            lines.Select(l => At(l.Members[entity], book.Entities, level)).Distinct().Take(3)
        );
        return new Item(first.Load, first.Row, fields.ToImmutable(), lines.Sum(l => l.Amount), asked)
        {
            Texts = [.. lines.Select(l => l.Text)],
        };
    }

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

    private bool Passes(Item item, RecordTest test) =>
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

    /// <summary>Of the same party and amount, and of the same day or of a number that differs in its marks only.</summary>
    private List<Item> Twice(List<Item> items)
    {
        var table = book.Table(_ask.Table);
        var (key, day) = (
            table?.Fields.FirstOrDefault(f => f.Type == FieldType.Key)?.Code,
            table?.Fields.FirstOrDefault(f => f.Type == FieldType.Date)?.Code
        );
        var party = table?.Fields.FirstOrDefault(f => f.Type == FieldType.Member && f.Dimension != book.Entities.Code)?.Code
            ?? table?.Fields.FirstOrDefault(f => f.Type == FieldType.Text)?.Code;
        static string Bare(string? number) => new([.. (number ?? "").Where(char.IsLetterOrDigit).Select(char.ToUpperInvariant)]);
        return
        [
            .. items
                .GroupBy(i => (i[party], i.Number(_ask.Sum)))
                .Where(g => g.Key.Item2 != 0m && g.Skip(1).Any())
                .SelectMany(g =>
                    g.Where(i => g.Any(o => o != i && ((day is not null && o[day] == i[day]) || Bare(o[key]) == Bare(i[key]))))
                ),
        ];
    }

    private RecordTest? DaysTest =>
        _ask.Tests.FirstOrDefault(t =>
            t.Kind is RecordTestKind.DaysAfter or RecordTestKind.Overdue or RecordTestKind.OlderThan or RecordTestKind.BothDays
        );

    /// <summary>Between the two days that a test speaks of; null where one of them is not there.</summary>
    private int? Days(Item item) =>
        DaysTest is not { } days || item.Day(days.Field) is not { } from ? null
        : days.Kind is RecordTestKind.Overdue or RecordTestKind.OlderThan ? _day.DayNumber - from.DayNumber
        : item.Day(days.Other) is { } to ? from.DayNumber - to.DayNumber
        : null;

    /// <summary>The average, or the median where that was asked for.</summary>
    private decimal AverageDays(IReadOnlyCollection<Item> items) =>
        _ask.Statistic == RowStatistic.Median
            ? Median([.. items.Select(i => (decimal)(Days(i) ?? 0))])
            : decimal.Round((decimal)items.Sum(i => Days(i) ?? 0) / items.Count, 4);

    internal const string DaysOnAverage = "Days on average",
        MedianOfDays = "Median of days";

    private string DaysName => _ask.Statistic == RowStatistic.Median ? MedianOfDays : DaysOnAverage;

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
        foreach (var beside in _ask.Beside)
            totals.AddRange(Totals(Column(beside).Title, items, i => i.Number(beside)));
        if (days is not null && items.Count > 0)
            totals.Add((DaysName, AverageDays(items)));
        if (MiddleName is { } middle && items.Count > 0)
            totals.Add(($"{middle} {AmountColumn().Title.ToLowerInvariant()}", Middle(items)));
        return new RecordTable(columns, [.. rows], totals.ToImmutable(), items.Count);
    }

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

    /// <summary>Numbers left out between the first and the last of each run of documents that are numbered on.</summary>
    private RecordTable Missing(List<Item> items)
    {
        var runs = items
            .Select(i => (Match: Numbered().Match(i[RecordAsk.Document] ?? ""), i.Asked))
            .Where(m => m.Match.Success)
            .GroupBy(m => (Prefix: m.Match.Groups[1].Value, m.Match.Groups[2].Length))
            .Where(g => g.Key.Prefix.Length > 0 && g.Count(m => m.Asked) > 1);
        var missing = new List<string>();
        foreach (var run in runs)
        {
            var numbers = run.Select(m => (Number: long.Parse(m.Match.Groups[2].Value, CultureInfo.InvariantCulture), m.Asked))
                .ToList();
            var have = numbers.Select(n => n.Number).ToHashSet();
            var (first, last) = (numbers.Where(n => n.Asked).Min(n => n.Number), numbers.Where(n => n.Asked).Max(n => n.Number));
            // A run with more holes than numbers is not numbered on.
            if (last - first + 1 > have.Count(n => n >= first && n <= last) * 2L)
                continue;
            for (var n = first; n <= last && missing.Count < MostGapsTold; n++)
                if (!have.Contains(n))
                    missing.Add(run.Key.Prefix + n.ToString(CultureInfo.InvariantCulture).PadLeft(run.Key.Length, '0'));
        }
        return new RecordTable(
            [new(RecordAsk.Document, "Missing document", FieldType.Key)],
            [.. missing.Select(m => Row([m]))],
            [("Documents", items.Count(i => i.Asked)), ("Missing numbers", missing.Count)],
            missing.Count
        );
    }

    private RecordColumn AmountColumn() =>
        _ask.Tests.Any(t => t.Kind == RecordTestKind.Overdue) ? new(_ask.Sum!, "Overdue", FieldType.Amount) : Column(_ask.Sum!);

    /// <summary>What a list shows: for journals their head and what the tests speak of, for records all that the table
    /// has.</summary>
    private IEnumerable<string> Fields() =>
        _listing is { Columns.IsEmpty: false } listing ? listing.Columns
        : _ask.Table != Table.Ledger ? book.Table(_ask.Table)!.Fields.Select(f => f.Code)
        :
        [
            RecordAsk.Document,
            RecordAsk.Date,
            book.Entities.Code,
            RecordAsk.Amount,
            RecordAsk.Text,
            .. book.Table(Table.Ledger)?.Fields.Select(f => f.Code) ?? [],
        ];

    private RecordColumn Column(string code) =>
        code switch
        {
            RecordAsk.Document when _ask.Table == Table.Ledger => new(code, "Document", FieldType.Key),
            RecordAsk.Date when _ask.Table == Table.Ledger => new(code, "Date", FieldType.Date),
            RecordAsk.Amount when _ask.Table == Table.Ledger => new(code, "Amount", FieldType.Amount),
            RecordAsk.Text when _ask.Table == Table.Ledger => new(code, "Text", FieldType.Text),
            _ when _ask.Table == Table.Ledger && code == book.Entities.Code => new(code, book.Entities.Name, FieldType.Text),
            _ => book.Table(_ask.Table)?.Field(code) is { } field
                ? new(code, field.Name, field.Type)
                : throw new CannotAnswerException($"The table {_ask.Table} has no field “{code}”."),
        };

    /// <summary>Members by their names.</summary>
    private string Name(string code, string? text) =>
        text is null ? ""
        : book.Table(_ask.Table)?.Field(code) is { Type: FieldType.Member, Dimension: { } dimension }
        && book.TryDimension(dimension, out var d)
        && book.TryMember(d.Id, text, out var member)
            ? member.Name
        : text;

    private Dimension? DimensionOf(string field) =>
        (book.Table(_ask.Table)?.Field(field)?.Dimension ?? field) is { } code && book.TryDimension(code, out var dimension)
            ? dimension
            : null;

    private static RecordTableRow Row(ImmutableArray<string?> values) => new(values, 0, 0);

    private static string Text(decimal number) => number.ToString("0.00##", CultureInfo.InvariantCulture);

    private static string Text(int number) => number.ToString(CultureInfo.InvariantCulture);

    [GeneratedRegex(@"^(.*?)(\d+)$")]
    private static partial Regex Numbered();
}
