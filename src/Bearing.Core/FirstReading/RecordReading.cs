using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>
/// Turns what was said of records and journals into a typed ask: which table, which of its fields play the parts that the words
/// speak of, and what is to be done with them. Names of fields are matched by the language's table of roles.
/// </summary>
internal sealed class RecordReading(Book book, Vocabulary vocabulary)
{
    private static readonly ImmutableArray<int> UsualBuckets = [30, 60, 90];
    private const string RoundHundreds = "round:100";

    /// <summary>What is booked twice is so in the ledger, unless records are named.</summary>
    private const string PostedTwice = "posted-twice";

    private const string Payables = "payables",
        Receivables = "receivables";

    private static readonly string[] OfItems =
    [
        "open",
        "settled",
        "due",
        "not-due",
        "overdue",
        "late",
        "early",
        "on-time",
        "twice",
        PostedTwice,
        "ageing",
        "days-to-pay",
        "days-late",
    ];

    private readonly List<string> _assumed = [];

    public IReadOnlyList<string> Assumed => _assumed;

    /// <exception cref="CannotAnswerException">When the book holds no such table, or the table lacks a field that is
    /// needed.</exception>
    public RecordAsk Ask(Draft draft)
    {
        var items = IsOfRecords(draft);
        var table = items
            ? TableOf(
                draft.Records
                    ?? draft
                        .Values.Select(v => v.Split('/'))
                        .Where(p => p.Length > 1 && p[0] != Table.Ledger)
                        .Select(p => p[0])
                        .FirstOrDefault(),
                draft.ByField
                    ?? DaysOf(draft)
                    ?? OwnField(draft)
                    ?? draft
                        .Breakdowns.Select(b => b.Dimension)
                        .Concat(draft.Filters.Select(f => f.Dimension))
                        .FirstOrDefault(d => d is not null && d != book.Accounts.Code)
            )
            : book.Table(Table.Ledger) ?? new Table(Table.Ledger, "Ledger", []);
        var ask = new RecordAsk(table.Code, [.. Tests(draft, table).Distinct()])
        {
            Sum = items ? Amount(draft, table) : RecordAsk.Amount,
            PaidOn = items ? TryField(table, "paid-on") : null,
            OfFigure = !items && draft.Figures.Count > 0,
            CountOnly = draft.HowMany,
            Statistic = draft.Statistic,
        };
        if (draft.AmountsApart)
            ask = ask with { Sum = Amounts(table)[0], Beside = [.. Amounts(table).Skip(1)] };
        ask = ask with { By = By(draft, table, ask) };
        ask = ask with
        {
            LimitsGroups = !ask.By.IsEmpty && !draft.RankEach && draft.Conditions.Count > 0 && !draft.LimitsRecords,
        };
        // "How old is the oldest one" asks for that one.
        return (draft.Checks.Contains("ageing") && draft.Rank is not { Single: true }) || draft.Buckets.Length > 0
            ? Aged(ask, draft, table)
            : ask;
    }

    /// <summary>Whether records such as invoices are spoken of, and not the ledger's journals.</summary>
    public bool IsOfRecords(Draft draft) =>
        draft.AmountsApart
        || draft.Checks.Any(OfItems.Contains) && !IsBookedTwice(draft)
        || draft.Buckets.Length > 0
        || draft.Records is not null
        || IsOfItems(draft);

    /// <summary>Posted twice, or entries that are there twice: the ledger's, where no records are named.</summary>
    private static bool IsBookedTwice(Draft draft) =>
        draft.Records is null
        && draft.Checks.All(c => c is "twice" or PostedTwice)
        && (draft.Checks.Contains(PostedTwice) || draft.Intent == Intent.Entries);

    /// <summary>"Days customers take to pay": a field that one of the tables has says which of them is meant.</summary>
    private string? OwnField(Draft draft)
    {
        if (draft.Field is not { } word || book.Tables.Count(t => t.Code != Table.Ledger && t.Field(word.Value) is not null) != 1)
            return null;
        draft.Unplaced.RemoveAll(i => i >= word.Start && i < word.End);
        return word.Value;
    }

    /// <summary>The day up to which days are counted.</summary>
    private static string? DaysOf(Draft draft) => draft.FieldTests.Find(t => t.Kind == RecordTestKind.BothDays)?.Field;

    /// <summary>Gathered by a field, or counting the days up to one, that other records have and the ledger has not.</summary>
    private bool IsOfItems(Draft draft) =>
        (draft.ByField ?? DaysOf(draft)) is { } by
        && (book.Table(Table.Ledger) is not { } ledger || TryField(ledger, by) is null)
        && book.Tables.Any(t => t.Code != Table.Ledger && TryField(t, by) is not null);

    /// <summary>A follow-up changes the buckets or what it is gathered by, or asks for a part of what was shown.</summary>
    public RecordAsk Edit(RecordAsk before, Draft draft)
    {
        var table = book.Table(before.Table) ?? new Table(before.Table, before.Table, []);
        if (draft.Buckets.Length > 0 || draft.Checks.Contains("ageing"))
            return Aged(before with { Also = null }, draft, table);
        var tests = Tests(draft, table).ToImmutableArray();
        var said = By(draft, table, before with { Tests = [.. before.Tests, .. tests] });
        // The records themselves, named again, are listed and no longer gathered.
        // "Sorted by due date": what is gathered has none.
        var sorts =
            draft.Order is { By: "field" or "day" } order
            && said.IsEmpty
            && !before.By.IsEmpty
            && (
                order.By == "day"
                || !table.Fields.Any(f =>
                    before.By.Any(g => g.Field == f.Code) && RecordWords.FieldOf(table.Fields, vocabulary, order.Field!) == f.Code
                )
            );
        if (draft.Records is not null || draft.OneByOne || sorts)
            before = before with { By = [], Due = null, Buckets = [], Also = null, LimitsGroups = false };
        // "Show the invoices", after how many there are.
        if (
            draft is
            {
                Records: not null,
                HowMany: false,
                Checks.Count: 0,
                FieldTests.Count: 0,
                Filters.Count: 0,
                Periods.Count: 0,
                Values.Count: 0
            }
        )
            before = before with { CountOnly = false };
        var by = said.IsEmpty ? before.By : said;
        if (draft.TotalOnly)
            (by, before) = ([], before with { By = [], CountOnly = true });
        if (!by.IsEmpty && draft.Conditions.Count > 0 && !draft.LimitsRecords)
            before = before with { LimitsGroups = true };
        // What is settled is not overdue: "late" says again how it was paid.
        if (before.Tests.Any(t => t.Kind == RecordTestKind.Settled))
            tests = tests.RemoveAll(t => t.Kind == RecordTestKind.Overdue);
        // "Over 60 days", of what is overdue, or aged by its due date.
        if ((before.Due ?? before.Tests.FirstOrDefault(t => t.Kind == RecordTestKind.Overdue)?.Field) is { } due)
            tests = [.. tests.Select(t => t.Kind == RecordTestKind.OlderThan ? t with { Field = due } : t)];
        return
            !before.By.IsEmpty && by.SequenceEqual(before.By) && !draft.Only && tests is [{ Kind: RecordTestKind.Overdue } part]
            ? before with
            {
                Also = part,
            }
            : before with
            {
                By = by,
                OfFigure = before.OfFigure || (before.Table == Table.Ledger && draft.Figures.Count > 0),
                Tests =
                [
                    .. before.Tests.Where(t => tests.All(n => n.Kind != t.Kind && !AreContrary(n.Kind, t.Kind))).Concat(tests),
                ],
            };
    }

    /// <summary>"The paid ones", after what was open: nothing is both.</summary>
    private static bool AreContrary(RecordTestKind one, RecordTestKind other) =>
        IsOwed(one) ? other == RecordTestKind.Settled : one == RecordTestKind.Settled && IsOwed(other);

    private static bool IsOwed(RecordTestKind kind) =>
        kind is RecordTestKind.Open or RecordTestKind.Overdue or RecordTestKind.NotDue;

    /// <summary>Whether a follow-up speaks of the records that were shown: it names none, or these again.</summary>
    public bool IsOf(RecordAsk before, Draft draft) =>
        draft.Records is null
        || (
            before.Table != Table.Ledger
            && book.Tables.Any(t => t.Code == before.Table)
            && TableOf(draft.Records, null).Code == before.Table
        );

    /// <summary>"Same for payables", after receivables by age: the same of the other records; null where more is said of
    /// them.</summary>
    /// <exception cref="CannotAnswerException">When the other records lack a field that plays the same part.</exception>
    public RecordAsk? Carried(RecordAsk before, Draft draft)
    {
        if (
            draft is not { Edits: true, Records: { } other, Buckets.IsEmpty: true, Document: null, Text: null }
            || draft.Checks.Count + draft.FieldTests.Count + draft.Values.Count + draft.Conditions.Count + draft.ByFields.Count
                > 0
        )
            return null;
        if (before.Table == Table.Ledger || book.Table(before.Table) is not { } from)
            return null;
        var table = TableOf(other, null);
        string? Same(string? code) =>
            code is null || from.Field(code) is not { } field
                ? code
                : vocabulary
                    .Fields.Keys.Append("key")
                    .Where(role => RecordWords.FieldOf(from.Fields, vocabulary, role) == code)
                    .Select(role => TryField(table, role))
                    .FirstOrDefault(c => c is not null)
                    ?? throw new CannotAnswerException(
                        $"{table.Name} have nothing like the {field.Name.ToLowerInvariant()} of {from.Name.ToLowerInvariant()}; they have {List(table)}."
                    );
        var ask = before with
        {
            Table = table.Code,
            Sum = Same(before.Sum)!,
            PaidOn = Same(before.PaidOn),
            Due = Same(before.Due),
            Tests = [.. before.Tests.Select(t => t with { Field = Same(t.Field), Other = Same(t.Other) })],
        };
        return ask with
        {
            By =
                draft.Breakdowns.Count > 0
                    ? By(draft, table, ask)
                    : [.. before.By.Select(g => g with { Field = Same(g.Field)! })],
        };
    }

    private RecordAsk Aged(RecordAsk ask, Draft draft, Table table)
    {
        if (draft.Buckets.IsEmpty)
            _assumed.Add("by 30, 60 and 90 days past the due date");
        return ask with
        {
            Due = Field(table, "due"),
            Sum = Field(table, "open"),
            Buckets = draft.Buckets.IsEmpty ? UsualBuckets : draft.Buckets,
            Tests =
            [
                new RecordTest(RecordTestKind.Open, null, Field(table, "open")),
                .. ask.Tests.Where(t => t.Kind is not (RecordTestKind.Open or RecordTestKind.Overdue or RecordTestKind.NotDue)),
            ],
        };
    }

    private IEnumerable<RecordTest> Tests(Draft draft, Table table)
    {
        foreach (var check in draft.Checks.Distinct())
        {
            if (check is "due" && !draft.Checks.Contains("open"))
                yield return new RecordTest(RecordTestKind.Open, null, Field(table, "open"));
            else if (check is "open" && !draft.Checks.Contains("overdue"))
                yield return new RecordTest(RecordTestKind.Open, null, Field(table, "open"));
            else if (check is "settled")
                yield return new RecordTest(RecordTestKind.Settled, null, Field(table, "open"));
            else if (check is "not-due")
                yield return new RecordTest(RecordTestKind.NotDue, Field(table, "due"), Field(table, "open"));
            else if (check is "overdue")
                yield return new RecordTest(RecordTestKind.Overdue, Field(table, "due"), Field(table, "open"));
            else if (check is "late")
            {
                yield return new RecordTest(
                    RecordTestKind.DaysAfter,
                    Field(table, "paid-on"),
                    Field(table, "due"),
                    null,
                    draft.FieldTests.Where(t => IsAge(t, table)).Select(t => t.Number).DefaultIfEmpty().Max()
                );
                // A part that is paid makes no invoice paid.
                if (TryField(table, "open") is { } open)
                    yield return new RecordTest(RecordTestKind.Settled, null, open);
            }
            else if (check is "early")
            {
                yield return new RecordTest(RecordTestKind.DaysAfter, Field(table, "due"), Field(table, "paid-on"));
                if (TryField(table, "open") is { } none)
                    yield return new RecordTest(RecordTestKind.Settled, null, none);
            }
            else if (check is "on-time")
            {
                yield return new RecordTest(RecordTestKind.NotAfter, Field(table, "paid-on"), Field(table, "due"));
                if (TryField(table, "open") is { } rest)
                    yield return new RecordTest(RecordTestKind.Settled, null, rest);
            }
            else if (check is "days-to-pay" or "days-late")
            {
                // What is not paid has no such days, and counts as none: not as zero.
                yield return new RecordTest(
                    RecordTestKind.BothDays,
                    Field(table, "paid-on"),
                    check is "days-late" ? Field(table, "due") : DayOf(table)
                );
                if (TryField(table, "open") is { } left)
                    yield return new RecordTest(RecordTestKind.Settled, null, left);
            }
            else if (IsBookedTwice(draft))
                throw new CannotAnswerException(
                    "Whether a journal was posted twice is not looked for by itself, only among entries that were just shown, or whether an invoice is there twice.",
                    "duplicate invoices"
                );
            else if (check is "twice" or PostedTwice)
                yield return new RecordTest(RecordTestKind.Twice);
            else if (check.StartsWith("weekend", StringComparison.Ordinal))
                yield return new RecordTest(
                    RecordTestKind.Weekend,
                    Entered(table),
                    Number: check.Split(':') is [_, var day] ? int.Parse(day, CultureInfo.InvariantCulture) : 0
                );
            else if (check is "self-approved")
                yield return new RecordTest(RecordTestKind.SameAs, Field(table, "preparer"), Field(table, "approver"));
            else if (check is "unapproved")
                yield return new RecordTest(RecordTestKind.Empty, Field(table, "approver"));
            // What is owed at month end is what is open then; only postings have a day that can be the last.
            else if (check is "month-end" && table.Code == Table.Ledger)
                yield return new RecordTest(RecordTestKind.MonthEnd, RecordAsk.Date);
            else if (check is "out-of-period")
                yield return new RecordTest(RecordTestKind.OutOfPeriod, RecordAsk.Date);
            else if (check is "round" && draft.Checks.Contains(RoundHundreds))
                continue;
            else if (check is "round" or RoundHundreds)
                yield return new RecordTest(RecordTestKind.Round, Number: check is RoundHundreds ? 100 : 1_000);
            else if (check is "backdated" && draft.FieldTests.All(t => t.Kind != RecordTestKind.DaysAfter))
                yield return new RecordTest(RecordTestKind.DaysAfter, Field(table, "entered"), RecordAsk.Date);
            else if (check is "unbalanced")
                yield return new RecordTest(RecordTestKind.Unbalanced);
            else if (check is "gap")
                yield return new RecordTest(RecordTestKind.MissingNumber);
        }
        if (draft.Document is { } number)
        {
            var key =
                table.Code == Table.Ledger
                    ? RecordAsk.Document
                    : table.Fields.FirstOrDefault(f => f.Type == FieldType.Key)?.Code
                        ?? throw new CannotAnswerException($"{table.Name} have no number of their own; they have {List(table)}.");
            yield return number[0] == Kind.Entries.EndOfNumber
                ? new RecordTest(RecordTestKind.EndsIn, key, null, number[1..])
                : new RecordTest(RecordTestKind.Is, key, null, number);
        }
        if (draft.Text is { } held)
            yield return new RecordTest(RecordTestKind.Contains, null, null, held);
        // "Due within 30 days" lies ahead; an invoice of less than 30 days lies behind.
        foreach (
            var ahead in draft.FieldTests.Where(t =>
                IsSpan(t) && (t.Kind == RecordTestKind.Ahead || draft.Checks.Contains("due"))
            )
        )
            yield return new RecordTest(RecordTestKind.Ahead, Field(table, "due"), null, null, ahead.Number);
        foreach (
            var age in draft.FieldTests.Where(t =>
                (IsAge(t, table) && !draft.Checks.Contains("late"))
                || (t.Kind == RecordTestKind.NotOlder && !draft.Checks.Contains("due"))
            )
        )
        {
            // What is paid grows no older.
            if (
                !IsSpan(age)
                && TryField(table, "open") is { } still
                && draft.Values.Count == 0
                && !draft.Checks.Exists(OfItems.Contains)
            )
            {
                _assumed.Add("still open, since what is paid grows no older");
                yield return new RecordTest(RecordTestKind.Open, null, still);
            }
            yield return new RecordTest(
                IsSpan(age) ? RecordTestKind.NotOlder : RecordTestKind.OlderThan,
                draft.Checks.Exists(c => c is "overdue" or "ageing") ? Field(table, "due") : DayOf(table),
                null,
                null,
                age.Number
            );
        }
        foreach (var test in draft.FieldTests.Where(t => !IsAge(t, table) && !IsSpan(t)))
            yield return new RecordTest(
                test.Kind,
                test.Field is { } f ? Field(table, f)
                    : test.Kind == RecordTestKind.DaysAfter ? TryField(table, "entered") ?? throw NoDayEntered(table)
                    : null,
                test.Other is { } o ? Field(table, o)
                    : test.Kind == RecordTestKind.DaysAfter ? RecordAsk.Date
                    : null,
                null,
                test.Number
            );
        foreach (var value in draft.Values.Distinct())
            yield return Is(table, value);
    }

    /// <summary>"More than 60 days", with no word of from where to where: the age of a record.</summary>
    private static bool IsAge(FieldTestItem test, Table table) =>
        table.Code != Table.Ledger && test is { Kind: RecordTestKind.DaysAfter, Field: null, Other: null };

    /// <summary>What is said of days alone is an age, where nothing tells when something was entered.</summary>
    private static CannotAnswerException NoDayEntered(Table table) =>
        new(
            $"{(table.Code == Table.Ledger ? "The ledger's lines do" : $"{table.Name} do")} not tell when they were entered, so that no number of days lies behind their date. By age, records such as invoices are asked for, as in “invoices over 60 days”."
        );

    /// <summary>So many days from the day in question, ahead or back.</summary>
    private static bool IsSpan(FieldTestItem test) => test.Kind is RecordTestKind.Ahead or RecordTestKind.NotOlder;

    /// <summary>The day that a record bears: the first of its dates.</summary>
    private static string DayOf(Table table) =>
        table.Fields.FirstOrDefault(f => f.Type == FieldType.Date)?.Code
        ?? throw new CannotAnswerException($"{table.Name} have no date; they have {List(table)}.");

    /// <summary>"Manual" is the value of whichever field has it.</summary>
    private static RecordTest Is(Table table, string value)
    {
        var (field, text) = value.IndexOf('=', StringComparison.Ordinal) is var at and > 0
            ? (value[(value.IndexOf('/', StringComparison.Ordinal) + 1)..at], value[(at + 1)..])
            : (table.Fields.FirstOrDefault(f => f.Values.Contains(value, StringComparer.OrdinalIgnoreCase))?.Code, value);
        if (field is null || table.Field(field) is null)
            throw new CannotAnswerException(
                table.Fields.IsEmpty
                    ? $"{(table.Code == Table.Ledger ? "The ledger's lines" : table.Name)} keep no further fields, so nothing tells which are “{text}”."
                    : $"No field of {(table.Code == Table.Ledger ? "the ledger's lines" : table.Name)} says “{text}”; they have {List(table)}."
            );
        return new RecordTest(RecordTestKind.Is, field, null, text);
    }

    private const int MostSplits = 4;

    /// <summary>What records are gathered by, in the order said.</summary>
    private ImmutableArray<Gathering> By(Draft draft, Table table, RecordAsk ask)
    {
        var items = ask.Table != Table.Ledger;
        var said = draft.Breakdowns.ConvertAll(b =>
            b.Grain is { } grain ? ByTime(ask, draft, table, grain) : ByMember(b, table, items)
        );
        foreach (var (field, behind) in Enumerable.Reverse(draft.ByFields))
            said.Insert(Math.Min(behind, said.Count), new Gathering(Field(table, field)));
        if (said.Count > MostSplits)
            throw new CannotAnswerException(
                $"Journals and records are gathered by up to {MostSplits} things at a time. Leave one of them out."
            );
        if (said.Count > 0)
            return [.. said.Distinct()];
        if (!items || !draft.Which || (draft.HowMany && draft.Rank is null) || draft.WhichRecords)
            return [];
        return
            (
                table.Fields.FirstOrDefault(f => f.Type == FieldType.Member && f.Dimension != book.Entities.Code)?.Code
                ?? TryField(table, "party")
            )
                is { } party
            ? [new Gathering(party)]
            : [];
    }

    private Gathering ByMember(Breakdown by, Table table, bool items)
    {
        var dimension = book.TryDimension(by.Dimension!, out var kept) ? kept : null;
        // "By region": above the members that records name.
        var level =
            by.Level is { } named && dimension?.Levels.IndexOf(named) is >= 0 and var at && at < dimension.Levels.Length - 1
                ? named
                : null;
        if (!items && by.Dimension == book.Entities.Code)
            return new Gathering(by.Dimension, level);
        if (table.Fields.FirstOrDefault(f => f.Dimension == by.Dimension) is { } field)
            return new Gathering(field.Code, level);
        var name = dimension?.Name.ToLowerInvariant() ?? by.Dimension!;
        throw new CannotAnswerException(
            $"{table.Name} {(items ? "are" : "journals are")} not kept by {name}; {(items ? $"the table has {List(table)}" : "they can be listed")}.",
            [.. table.Fields.Where(f => f.Type == FieldType.Member).Select(f => $"by {f.Name.ToLowerInvariant()}")]
        );
    }

    /// <summary>"Invoices by month": gathered by the day that is spoken of, otherwise by the one that the list goes by.</summary>
    private Gathering ByTime(RecordAsk ask, Draft draft, Table table, TimeGrain grain)
    {
        var day =
            draft.DayOf is { } said ? DayOf(ask, said)
            : ask.Tests.Any(t => t.Kind == RecordTestKind.Settled) ? ask.PaidOn
            : ask.Tests.FirstOrDefault(t => t.Kind is RecordTestKind.Overdue or RecordTestKind.NotDue)?.Field
                ?? (draft.Checks.Contains("due") ? TryField(table, "due") : null);
        day ??= ask.Table == Table.Ledger ? RecordAsk.Date : FirstDay(ask);
        return new Gathering(
            day
                ?? throw new CannotAnswerException(
                    $"{table.Name} have no date, so they cannot be split by {grain.ToString().ToLowerInvariant()}."
                ),
            grain.ToString()
        );
    }

    /// <summary>The day that a list of some months goes by: that of what was late, otherwise the first that the table
    /// has.</summary>
    public string? FirstDay(RecordAsk ask) =>
        ask.Tests.FirstOrDefault(t => t.Kind == RecordTestKind.DaysAfter)?.Field
        ?? book.Table(ask.Table)?.Fields.FirstOrDefault(f => f.Type == FieldType.Date)?.Code;

    /// <param name="by">A field that it has to have; null where any will do.</param>
    private Table TableOf(string? said, string? by)
    {
        var tables = book.Tables.Where(t => t.Code != Table.Ledger).ToList();
        if (said is null && by is not null && tables.FindAll(t => TryField(t, by) is not null) is { Count: > 0 } having)
            tables = having;
        // Words for both sides, such as invoices, name no table.
        List<string> WordsOf(string table) =>
            [
                .. vocabulary.Phrases.Where(p =>
                    vocabulary.Find(p).Where(e => e.Kind == MentionKind.Records).ToList() is [var only] && only.Value == table
                ),
                table,
            ];
        static bool IsCalled(Table table, List<string> words) =>
            words.Exists(w =>
                Words.Phrase(table.Code).Contains(w, StringComparison.Ordinal)
                || Words.Phrase(table.Name).Contains(w, StringComparison.Ordinal)
            );
        if (said is null && tables.FindAll(t => TryField(t, "due") is not null) is { Count: > 1 } several)
            _assumed.Add(
                $"{several[0].Name}; {string.Join(" and ", several.Skip(1).Select(t => t.Name))} can be asked for by name"
            );
        return tables.Find(t => t.Code == said)
            ?? (said is null ? null : tables.Find(t => IsCalled(t, WordsOf(said))))
            // What is owed by us is not what customers owe.
            ?? (
                said is null or Payables
                    ? tables.Find(t => TryField(t, "due") is not null && !(said == Payables && IsCalled(t, WordsOf(Receivables))))
                    : null
            )
            ?? throw new CannotAnswerException(
                tables.Count == 0
                    ? "The book holds no records such as invoices. Load them with the kind records."
                    : $"The book holds no {said ?? "records with a due date"}; it has {string.Join(", ", tables.Select(t => t.Name))}."
            );
    }

    /// <summary>What is open where only open records count, otherwise the first amount.</summary>
    private string Amount(Draft draft, Table table) =>
        draft.Checks.Any(c => c is "open" or "due" or "not-due" or "overdue")
            ? Field(table, "open")
            : (
                table.Fields.FirstOrDefault(f => f.Type == FieldType.Amount)
                ?? throw new CannotAnswerException($"{table.Name} have no amount.")
            ).Code;

    /// <summary>What the records are of, and the amounts that it comes apart into.</summary>
    private static List<string> Amounts(Table table) =>
        table.Fields.Where(f => f.Type == FieldType.Amount).Select(f => f.Code).ToList() is { Count: > 1 } amounts
            ? amounts
            : throw new CannotAnswerException(
                $"{table.Name} do not tell what was paid and what is open; they have {List(table)}."
            );

    /// <summary>When somebody keyed it in; a ledger that does not tell has only its date.</summary>
    private string Entered(Table table)
    {
        if (TryField(table, "entered") is { } entered)
            return entered;
        _assumed.Add("the posting date, since the ledger does not tell when entries were keyed in");
        return RecordAsk.Date;
    }

    private string Field(Table table, string role) =>
        role == RecordAsk.Date && table.Code == Table.Ledger
            ? role
            : TryField(table, role)
                ?? throw new CannotAnswerException(
                    $"{(table.Code == Table.Ledger ? "The ledger's lines have" : $"{table.Name} have")} no field for “{role.Replace('-', ' ')}”; {(table.Fields.IsEmpty ? "they have no further fields" : $"they have {List(table)}")}."
                );

    private string? TryField(Table table, string role) => RecordWords.FieldOf(table.Fields, vocabulary, role);

    /// <summary>The day that a word right before a period speaks of: its own field, or the one named like it; null when it speaks
    /// of none.</summary>
    public string? DayOf(RecordAsk ask, Mention said)
    {
        var table = book.Table(ask.Table) ?? new Table(ask.Table, ask.Table, []);
        var code = said.Kind switch
        {
            MentionKind.Field => TryField(table, said.Value),
            MentionKind.Check => TryField(table, "paid-on"),
            _ => table
                .Fields.FirstOrDefault(f =>
                    f.Type == FieldType.Date && Words.Phrase(f.Name).Split(' ').Contains(Words.Phrase(said.Title))
                )
                ?.Code,
        };
        return code is not null && table.Field(code)?.Type == FieldType.Date ? code : null;
    }

    /// <summary>The field of the day on which something is due.</summary>
    public string DueOf(RecordAsk ask) => Field(book.Table(ask.Table) ?? new Table(ask.Table, ask.Table, []), "due");

    /// <summary>Columns and order of the list, where any were asked for.</summary>
    /// <param name="day">Field of the day that the list goes by; null where the table has none.</param>
    public Listing? Listing(RecordAsk ask, Draft draft, Listing? before, string? day)
    {
        if (draft.Order is null && draft.Columns.IsEmpty)
            return before;
        var table = book.Table(ask.Table) ?? new Table(ask.Table, ask.Table, []);
        var ledger = ask.Table == Table.Ledger;
        string Code(string said) =>
            !ledger ? Field(table, said)
            : said is "key" ? RecordAsk.Document
            : said is RecordAsk.Date or RecordAsk.Amount or RecordAsk.Text || said == book.Entities.Code ? said
            : Field(table, said);
        ImmutableArray<string> said = [.. draft.Columns.Select(Code).Distinct()];
        // Those that many records are gathered to have no day of their own.
        if (
            draft.Order is { By: "day" or "field" } by
            && !ask.By.IsEmpty
            && !(
                by.By == "field" && ask.By.Any(g => g.Field == Code(by.Field!))
                || by.By == "field" && Code(by.Field!) == ask.Sum
                || ask.By.Any(g => table.Field(g.Field)?.Type == FieldType.Date)
            )
        )
            throw new CannotAnswerException(
                $"What is gathered {RecordWords.ByNames(book, ask)} goes by its amount, its number or its name, and not by a field of single records. Ask for the records themselves.",
                "oldest open invoices"
            );
        // Records show all their fields anyway.
        var listing = (before ?? new Listing([])) with
        {
            Columns =
                draft.ColumnsBeside ? []
                : draft.Columns.IsEmpty ? before?.Columns ?? []
                : said,
        };
        return draft.Order is not { } order
            ? listing.Columns.IsEmpty && listing.OrderBy is null
                ? null
                : listing
            : order.By switch
            {
                "field" => listing with { OrderBy = Code(order.Field!), Descending = order.Descending },
                "day" => listing with
                {
                    OrderBy = (ledger ? RecordAsk.Date : day)
                        ?? throw new CannotAnswerException($"{table.Name} have no date; they have {List(table)}."),
                    Descending = order.Descending,
                },
                "name" => listing with
                {
                    OrderBy = ask.By.FirstOrDefault()?.Field
                        ?? (ledger ? RecordAsk.Text : TryField(table, "party") ?? Field(table, "key")),
                    Descending = order.Descending,
                },
                _ => listing with { OrderBy = ask.Sum, Descending = order.Descending },
            };
    }

    private static string List(Table table) => string.Join(", ", table.Fields.Select(f => f.Name.ToLowerInvariant()));
}
