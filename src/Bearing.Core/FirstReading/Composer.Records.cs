using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>The rules that speak of records, of lists and of their fields.</summary>
internal sealed partial class Composer
{
    /// <summary>number, supplier and amount of overdue invoices · with the columns date and text → columns of a list.</summary>
    private bool ColumnList(List<Item> items, int at)
    {
        var led = Word(items, at)?.Kind is MentionKind.Columns;
        if (
            (
                !led
                && !items.Exists(i =>
                    i
                        is WordItem
                        {
                            Mention: { Kind: MentionKind.Records or MentionKind.Check }
                                or { Kind: MentionKind.Intent, Value: "entries" or "entries:journal" or "entries:document" }
                        }
                )
            )
            || (
                !led && Word(items, at - 1)?.Kind is MentionKind.By or MentionKind.Exclude or MentionKind.Which or MentionKind.Gap
            )
        )
            return false;
        var (codes, next) = (ImmutableArray.CreateBuilder<string>(), led ? at + 1 : at);
        // Open invoices are no two columns: these are told apart by “and”, or by commas, which a covering may leave out.
        while (
            ColumnAt(next) is { } code
            && (
                codes.Count == 0
                || Word(items, next - 1)?.Kind is MentionKind.And
                || IsComma(items[next - 1].End, items[next].Start)
            )
        )
        {
            codes.Add(code);
            next++;
            while (
                Word(items, next)?.Kind is MentionKind.And
                && (ColumnAt(next + 1) is not null || Word(items, next + 1)?.Kind is MentionKind.And)
            )
                next++;
        }
        // One field alone says something of the records; two that must be the same are a test.
        // "Entries of rent with supplier": beside what a list shows anyway; "with supplier Ollerby" names one.
        var beside =
            !led
            && at > 0
            && _said.Any(m => m is { Kind: MentionKind.Place, Value: "with" } && m.End == items[at].Start)
            && Word(items, next)?.Kind
                is not (
                    MentionKind.Member
                    or MentionKind.Value
                    or MentionKind.Not
                    or MentionKind.Check
                    or MentionKind.Gap
                    or MentionKind.Period
                )
            && At<PeriodItem>(items, next) is null
            && items.Take(at).Any(IsList);
        if (codes.Count < (led || beside ? 1 : 2) || Word(items, next)?.Kind is MentionKind.SameField)
            return false;
        return Replace(items, at, next - at, (s, e) => new ColumnsItem(s, e, codes.ToImmutable()) { Beside = beside });

        // Among columns a document is its number.
        string? ColumnAt(int index) =>
            FieldAt(items, index)
            ?? (
                Word(items, index)?.Kind is MentionKind.Records
                && FieldAt(items, index + 1) is not null
                && IsComma(items[index].End, items[index + 1].Start)
                && items.Skip(index + 2).Any(IsList)
                    ? "key"
                : (
                    led
                    || codes.Count > 0
                    || (Word(items, index + 1)?.Kind is MentionKind.And && FieldAt(items, index + 2) is not null)
                    || (FieldAt(items, index + 1) is not null && IsComma(items[index].End, items[index + 1].Start))
                ) && Word(items, index) is { Kind: MentionKind.Intent, Value: "entries:document" }
                    ? "key"
                : null
            );
    }

    /// <summary>paid and still open · how much have we paid them and how much do we owe → nothing is both: the amounts of either,
    /// beside the whole.</summary>
    private bool PaidAndOpen(List<Item> items, int at)
    {
        // "How much have we paid them and how much do we owe": paying is no state of what follows.
        if (
            Word(items, at)?.Kind is MentionKind.And
            && Word(items, at + 1)?.Kind is MentionKind.Intent
            && StateAt(items, at + 2) == false
            && _said.Any(m => m is { Kind: MentionKind.Filler, Value: "settled:by-us" or "pays" } && m.End <= items[at].Start)
        )
            return Replace(items, at, 3, (s, e) => new AmountsItem(s, e));
        if (StateAt(items, at) is not { } first)
            return false;
        var next = at + 1;
        while (Word(items, next)?.Kind is MentionKind.And)
            next++;
        var beside = next > at + 1 || (next < items.Count && IsComma(items[at].End, items[next].Start));
        // "… and how much do we still owe": asked for once more, whoever was named between.
        if (!beside || StateAt(items, next) is not { } second)
        {
            var and = items.FindIndex(at + 1, i => i is WordItem { Mention.Kind: MentionKind.And });
            if (
                and < 0
                || Word(items, and + 1)?.Kind is not MentionKind.Intent
                || StateAt(items, and + 2) is not { } other
                || other == first
            )
                return false;
            items.RemoveRange(and, 3);
            return Replace(items, at, 1, (s, e) => new AmountsItem(s, e));
        }
        if (second == first)
            return false;
        // "Invoiced, paid and open", "amount, paid, open": the whole is shown beside them.
        var from = at;
        if (IsWhole(at - 1))
            from = at - 1;
        else if (Word(items, at - 1)?.Kind is MentionKind.And && IsWhole(at - 2))
            from = at - 2;
        if (Word(items, next + 1)?.Kind is MentionKind.And && IsWhole(next + 2))
            next += 2;
        else if (IsWhole(next + 1))
            next++;
        return Replace(items, from, next - from + 1, (s, e) => new AmountsItem(s, e));

        bool IsWhole(int index) =>
            FieldAt(items, index) == RecordAsk.Amount
            || Word(items, index) is { Kind: MentionKind.Intent, Value: "value:total" }
            || Word(items, index) is { Kind: MentionKind.Records };
    }

    /// <summary>Whether something says that it was paid (true) or that it is open (false), as a state or as a field; null where
    /// it says neither.</summary>
    private bool? StateAt(List<Item> items, int at) =>
        Word(items, at) switch
        {
            { Kind: MentionKind.Check, Value: "settled" or "settled:by-us" } => true,
            { Kind: MentionKind.Check, Value: "open" or "owed-by-us" or "owed-to-us" } => false,
            { Kind: MentionKind.Field or MentionKind.Value } said => vocabulary
                .Find(Words.Phrase(said.Title))
                .Select(e => e is { Kind: MentionKind.Check } ? e.Value : null)
                .FirstOrDefault(v => v is "settled" or "open") switch
            {
                "settled" => true,
                "open" => false,
                _ => null,
            },
            _ => null,
        };

    /// <summary>disputed client invoices · supplier bills → those of the table that is kept by clients, and no split.</summary>
    private bool RecordsOfParty(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Level, Dimension: { } party }
            || Word(items, at + 1) is not { Kind: MentionKind.Records } records
            || records.Start != items[at].End
            || Word(items, at - 1)
                is { Kind: MentionKind.By or MentionKind.Then or MentionKind.And or MentionKind.Rank or MentionKind.Number }
        )
            return false;
        return book.Tables.FirstOrDefault(t => t.Code != Table.Ledger && t.Fields.Any(f => f.Dimension == party)) is { } table
            && Replace(items, at, 2, (s, e) => new WordItem(records with { Value = table.Code, Start = s, Length = e - s }));
    }

    /// <summary>Whether nothing was said between two places: a comma was left out by the covering.</summary>
    private bool IsComma(int from, int to) => to > from && !_said.Any(m => m.Start < to && m.End > from);

    /// <summary>approved by its preparer · where the approver is the preparer → two fields that say the same.</summary>
    private bool SamePerson(List<Item> items, int at)
    {
        // "That one person both prepared and approved".
        if (
            Word(items, at)?.Kind is MentionKind.SameField
            && Word(items, at + 1)?.Kind is MentionKind.Quantifier
            && Word(items, at + 2)?.Kind is MentionKind.Field
        )
            items.RemoveAt(at + 1);
        if (
            Word(items, at)?.Kind is MentionKind.SameField
            && Word(items, at + 1)?.Kind is MentionKind.Field
            && Word(items, Word(items, at + 2)?.Kind is MentionKind.And ? at + 3 : at + 2)?.Kind is MentionKind.Field
        )
        {
            if (Word(items, at + 2)?.Kind is MentionKind.And)
                items.RemoveAt(at + 2);
            var same = items[at];
            items.RemoveAt(at);
            items.Insert(at + 2, same);
        }
        // "Approved by those who prepared them".
        if (
            Word(items, at)?.Kind is MentionKind.Field
            && Word(items, at + 1) is { Kind: MentionKind.Which, Value: "who" }
            && Word(items, at + 2)?.Kind is MentionKind.Field
        )
            items.RemoveAt(at + 1);
        if (
            Word(items, at) is not { Kind: MentionKind.Field } one
            || Word(items, at + 1) is not { Kind: MentionKind.Field } other
            || IsComma(one.End, other.Start)
            || book.Table(Table.Ledger) is not { } ledger
        )
            return false;
        string? Person(Mention field) =>
            Array.Find(Persons, role =>
                RecordWords.FieldOf(ledger.Fields, vocabulary, role) is { } of
                && RecordWords.FieldOf(ledger.Fields, vocabulary, field.Value) == of
            );
        return Person(one) is { } first
            && Person(other) is { } second
            && first != second
            && Word(items, at + 2)?.Kind is not MentionKind.SameField
            && Replace(items, at, 2, (s, e) => new FieldTestItem(s, e, RecordTestKind.SameAs, one.Value, other.Value, 0));
    }

    /// <summary>Roles of fields that name somebody who did something to a line.</summary>
    private static readonly string[] Persons = ["approver", "preparer"];

    /// <summary>How many, or which, invoices: what a key names is the record itself.</summary>
    private bool IsKey(Mention field) =>
        field.Value == "key" || book.Tables.Any(t => t.Field(field.Value)?.Type == FieldType.Key);

    private static string? FieldAt(List<Item> items, int at) =>
        Word(items, at) switch
        {
            { Kind: MentionKind.Field } field => field.Value,
            { Kind: MentionKind.Level } level => level.Dimension,
            _ => null,
        };

    /// <summary>mentioning retainer · with “annual licence” in the text → entries whose text holds it.</summary>
    private static bool TextHolds(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Contains, Value: "holds" }
        && Word(items, at + 1) is { Kind: MentionKind.Quote } quote
            ? Replace(items, at, Word(items, at + 2)?.Kind is MentionKind.Contains ? 3 : 2, (s, e) =>
                new TextItem(s, e, quote.Value)
            )
            : Word(items, at) is { Kind: MentionKind.Quote } said
                && Word(items, at + 1) is { Kind: MentionKind.Contains, Value: MentionContext.TextBehind }
                && Replace(items, at, 2, (s, e) => new TextItem(s, e, said.Value));

    /// <summary>the one ending in 0376 → the document of which only the end was said.</summary>
    private static bool EndingIn(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Contains, Value: "ends" }
        && Word(items, at + 1) is { Kind: MentionKind.Quote } quote
        && Replace(items, at, 2, (s, e) =>
            new WordItem(
                quote with
                {
                    Kind = MentionKind.Document,
                    Value = Kind.Entries.EndOfNumber + quote.Value,
                    Start = s,
                    Length = e - s,
                }
            )
        );

    /// <summary>by supplier and status · by month, supplier and status → what follows is one more that they are gathered
    /// by.</summary>
    private bool FurtherField(List<Item> items, int at)
    {
        var and = Word(items, at) is { Kind: MentionKind.And or MentionKind.Then } connector ? connector : null;
        var next = and is null ? at : at + 1;
        if (
            Word(items, next) is not { } more
            || !IsSplit(more)
            || at == 0
            || (and is null && items[at - 1].End != more.Start && !IsComma(items[at - 1].End, more.Start))
        )
            return false;
        var isMore =
            Word(items, at - 1) is { } first
            && (
                Word(items, at - 2) is { Kind: MentionKind.By } or { Kind: MentionKind.Which, Value: "which" }
                || first is { Kind: MentionKind.Grain, Length: > 1 }
            )
            && IsSplit(first)
            && (first.Kind == MentionKind.Field || more.Kind == MentionKind.Field);
        return isMore
            && (
                and is null
                    ? Insert(items, at, new WordItem(By(more.Start, 0)))
                    : Replace(items, at, 1, (s, e) => new WordItem(By(s, e - s)))
            );
        static Mention By(int start, int length) => new(MentionKind.By, "by", null, start, length, 0, "by");
    }

    /// <summary>Whether records can be gathered by it: a level, a grain of time, or a field that says whose or which.</summary>
    private bool IsSplit(Mention word) =>
        word.Kind is MentionKind.Level or MentionKind.Grain
        || (
            word.Kind == MentionKind.Field
            && book.Tables.Any(t =>
                RecordWords.FieldOf(t.Fields, vocabulary, word.Value) is { } code
                && t.Field(code)?.Type is FieldType.Text or FieldType.Member or FieldType.Date
            )
        );

    /// <summary>by supplier → records gathered by that field.</summary>
    private static bool ByField(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.By } by
        && Word(items, at + 1) is { Kind: MentionKind.Field } field
        && Replace(items, at, 2, (s, e) => new ByFieldItem(s, e, field.Value) { Each = by.Value is "each" or "per" });

    /// <summary>the largest open invoice · the oldest bill → one of them.</summary>
    private static bool OneRecord(List<Item> items, int at)
    {
        var order = At<OrderItem>(items, at) is { By: "day" } day ? day : null;
        if (
            (
                order is null
                && Word(items, at)
                    is not { Kind: MentionKind.Rank, Value: "largest" or "smallest" or "largest:some" or "smallest:some" }
            )
            || items.Exists(i => i is RankItem)
            || Word(items, at - 1)?.Kind is MentionKind.Ordinal or MentionKind.Number
            || Word(items, at + 1) is { Kind: MentionKind.Number, Value: not "1" }
        )
            return false;
        // "The oldest one", of those that were listed.
        if (order is not null && at == items.Count - 2 && Word(items, at + 1) is { Kind: MentionKind.Number, Value: "1" })
            return Replace(items, at + 1, 1, (s, e) => new RankItem(s, e, Listed, 1) { Single = true });
        var listed = items
            .Skip(at + 1)
            .SkipWhile(i =>
                i is WordItem { Mention.Kind: MentionKind.Check or MentionKind.Value or MentionKind.Figure or MentionKind.Member }
            )
            .FirstOrDefault();
        if (listed is not WordItem { Mention.Singular: true } || !IsList(listed))
            return false;
        return order is not null
            ? Insert(items, at, new RankItem(order.Start, order.End, Listed, 1) { Single = true })
            : Replace(items, at, 1, (s, e) => new RankItem(s, e, Word(items, at)!.Value, 1) { Single = true });
    }

    /// <summary>The largest invoice per supplier, the three largest of each: one list of what is first in each.</summary>
    private static bool RanksEach(List<Item> items)
    {
        var rank = items.FindIndex(i => i is RankItem { Number: not null });
        if (rank < 0 || items.FindIndex(rank, i => IsList(i)) is not (>= 0 and var list))
            return false;
        var single = ((RankItem)items[rank]).Single;
        return items
            .Skip(list + 1)
            .Any(i =>
                i is ByFieldItem { Each: true } or BreakdownItem { Each: true, Breakdowns: [{ Dimension: not null }] }
                || (single && i is ByFieldItem or BreakdownItem { Led: true, Breakdowns: [{ Dimension: not null }] })
            );
    }

    /// <summary>customers with overdue invoices → records gathered by that field, where it is the first that is said.</summary>
    private bool PartyFirst(List<Item> items, int at) =>
        at == 0
        && Word(items, 0) is { Kind: MentionKind.Field } field
        && book.Tables.Any(t => t.Code != Table.Ledger && t.Field(field.Value)?.Type is FieldType.Text or FieldType.Member)
        && items.Exists(i => i is WordItem { Mention.Kind: MentionKind.Check or MentionKind.Records })
        && Word(items, 1)?.Kind is not (MentionKind.And or MentionKind.Field or MentionKind.SameField)
        && Replace(items, 0, 1, (s, e) => new ByFieldItem(s, e, field.Value));

    /// <summary>top 3 customers by invoice amount → gathered by that field, and ranked by what it comes to.</summary>
    private bool RankedField(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Field } field
            || Word(items, at - 1)?.Kind is not (MentionKind.Rank or MentionKind.Number)
            || !book.Tables.Any(t => t.Code != Table.Ledger && t.Field(field.Value)?.Type is FieldType.Text or FieldType.Member)
            || !items.Exists(i => IsList(i) || IsState(i))
        )
            return false;
        if (
            Word(items, at + 1) is { Kind: MentionKind.By, Value: "by" }
            && items.ElementAtOrDefault(at + 2) is { } list
            && (IsList(list) || IsState(list))
        )
            items.RemoveAt(at + 1);
        return Replace(items, at, 1, (s, e) => new ByFieldItem(s, e, field.Value) { Ranked = true });
    }

    private static bool IsState(Item item) => item is WordItem { Mention.Kind: MentionKind.Check };

    /// <summary>the last invoice from · latest journals → the newest first.</summary>
    private static bool LatestRecord(List<Item> items, int at)
    {
        // "Ten latest postings" are the latest ten.
        if (
            Word(items, at)?.Kind is MentionKind.Number
            && Word(items, at + 1)?.Kind is MentionKind.Trailing
            && items.ElementAtOrDefault(at + 2) is { } of
            && IsList(of)
        )
            (items[at], items[at + 1]) = (items[at + 1], items[at]);
        // "The first ten postings of June", from the earliest.
        if (
            Word(items, at)?.Kind is MentionKind.Leading
            && Word(items, at + 1) is { Kind: MentionKind.Number } most
            && items.ElementAtOrDefault(at + 2) is { } earliest
            && IsList(earliest)
            && !items.Exists(i => i is OrderItem)
        )
            return Replace(items, at, 1, (s, e) => new OrderItem(s, e, "day", null, false))
                && Replace(items, at + 1, 1, (s, e) =>
                    new RankItem(s, e, Listed, int.Parse(most.Value, CultureInfo.InvariantCulture))
                );
        return Word(items, at)?.Kind is MentionKind.Trailing
                && Word(items, at + 1)
                    is { Kind: MentionKind.Records }
                        or { Kind: MentionKind.Intent, Value: "entries" or "entries:journal" or "entries:document" }
                && !items.Exists(i => i is OrderItem)
                && Replace(items, at, 1, (s, e) => new OrderItem(s, e, "day", null, true))
            || Word(items, at)?.Kind is MentionKind.Trailing
                && Word(items, at + 1) is { Kind: MentionKind.Number } number
                && items
                    .Skip(at + 2)
                    .SkipWhile(i => i is WordItem { Mention.Kind: MentionKind.Value or MentionKind.Check })
                    .FirstOrDefault()
                    is { } list
                && IsList(list)
                && !items.Exists(i => i is OrderItem)
                && Replace(items, at, 1, (s, e) => new OrderItem(s, e, "day", null, true))
                && Replace(items, at + 1, 1, (s, e) =>
                    new RankItem(s, e, Listed, int.Parse(number.Value, CultureInfo.InvariantCulture))
                );
    }

    /// <summary>the next invoice due · the next 5 invoices due → those not due yet, by the day on which they are.</summary>
    private static bool NextDue(List<Item> items, int at)
    {
        if (
            Word(items, at)?.Kind is not MentionKind.Further
            || items.FindIndex(i => i is WordItem { Mention: { Kind: MentionKind.Check, Value: "due" } })
                is not (>= 0 and var due)
        )
            return false;
        var number = Word(items, at + 1) is { Kind: MentionKind.Number } said
            ? int.Parse(said.Value, CultureInfo.InvariantCulture)
            : (int?)null;
        if (items.ElementAtOrDefault(number is null ? at + 1 : at + 2) is not { } list || !IsList(list))
            return false;
        items[due] = new WordItem(Word(items, due)! with { Value = "not-due" });
        return Replace(items, at, number is null ? 1 : 2, (s, e) => new OrderItem(s, e, "field", "due", false))
            && Insert(items, at, new RankItem(items[at].Start, items[at].Start, Listed, number ?? 1));
    }

    /// <summary>The order of rows that are kept in the order of the list.</summary>
    public const string Listed = "listed";

    private static bool IsList(Item item) =>
        item
            is WordItem
            {
                Mention: { Kind: MentionKind.Records }
                    or { Kind: MentionKind.Intent, Value: "entries" or "entries:journal" or "entries:document" }
            };

    /// <summary>who approved the largest journal → the journals themselves, which say who did; who approved the most of them
    /// gathers.</summary>
    private bool WhoOfLargest(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Which, Value: "who" or "which" }
        && Word(items, at + 1) is { Kind: MentionKind.Field } field
        && !IsKey(field)
        && Word(items, at + 2) is { Kind: MentionKind.Rank, Value: not ("largest:many" or "smallest:many") }
        && items
            .Skip(at + 3)
            .SkipWhile(i => i is WordItem { Mention.Kind: MentionKind.Check or MentionKind.Value })
            .FirstOrDefault()
            is WordItem { Mention: { Kind: MentionKind.Records or MentionKind.Intent } listed }
        // A list of entries shows only its own columns unless others are said.
        && (
            listed.Kind == MentionKind.Records
                ? Remove(items, at, 2)
                : Replace(items, at, 2, (s, e) => new ColumnsItem(s, e, ["date", "key", "text", "amount", field.Value]))
        );

    /// <summary>invoice 10045 → the record of that number.</summary>
    private static bool NumberedRecord(List<Item> items, int at) =>
        Word(items, at)?.Kind is MentionKind.Amount
        && Word(items, at - 1) is { Kind: MentionKind.Records or MentionKind.Intent } listed
        && listed.End == items[at].Start
        && (listed.Kind == MentionKind.Records || listed.Value.StartsWith("entries", StringComparison.Ordinal))
        && Replace(items, at, 1, (s, e) =>
            new WordItem(Word(items, at)! with { Kind = MentionKind.Document, Value = Word(items, at)!.Title })
        );

    /// <summary>the largest journals and who approved them → with a column that tells.</summary>
    private bool WhoAlso(List<Item> items, int at) =>
        Word(items, at)?.Kind is MentionKind.And
        && Word(items, at + 1) is { Kind: MentionKind.Which, Value: "who" }
        && Word(items, at + 2) is { Kind: MentionKind.Field } field
        && !IsKey(field)
        && items.Take(at).Any(IsList)
        && Replace(items, at, 3, (s, e) => new ColumnsItem(s, e, ["date", "key", "text", "amount", field.Value]));

    /// <summary>on a Saturday or a Sunday → on either of them.</summary>
    private static bool EitherDay(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Check, Value: "weekend:6" or "weekend:7" } one
        && Word(items, at + 1)?.Kind is MentionKind.And
        && Word(items, at + 2) is { Kind: MentionKind.Check, Value: "weekend:6" or "weekend:7" } other
        && other.Value != one.Value
        && Replace(items, at, 3, (s, e) => new WordItem(one with { Value = "weekend", Start = s, Length = e - s }));

    /// <summary>owe most to → to whom.</summary>
    private static bool OwedTo(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.To, Value: "to" } to
        && at > 0
        && items.Take(at).Any(i => i is WordItem { Mention: { Kind: MentionKind.Check, Value: "open" or "owed-by-us" } })
        && (at + 1 == items.Count || Word(items, at + 1)?.Kind is MentionKind.Rank or MentionKind.Leading or MentionKind.And)
        && Replace(items, at, 1, (s, e) => new WordItem(to with { Kind = MentionKind.Which, Value = "who" }));

    /// <summary>who approved · which supplier → gathered by whoever stands in that field.</summary>
    private bool WhoField(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Which, Value: "who" or "which" }
        && Word(items, at + 1) is { Kind: MentionKind.Field } field
        && !IsKey(field)
        && Replace(items, at, 2, (s, e) => new ByFieldItem(s, e, field.Value) { Who = Word(items, at)?.Value == "who" });

    /// <summary>1-30, 31-60, over 60 days → buckets of age.</summary>
    private static bool Buckets(List<Item> items, int at)
    {
        var bounds = ImmutableArray.CreateBuilder<int>();
        var next = at;
        while (Word(items, next) is { Kind: MentionKind.Bucket } bucket)
        {
            bounds.Add(int.Parse(bucket.Value, CultureInfo.InvariantCulture));
            next++;
            if (
                Word(items, next)?.Kind is MentionKind.And
                && Word(items, next + 1)?.Kind is MentionKind.Bucket or MentionKind.Gap
            )
                next++;
        }
        // "Ageing with 15, 30 and 60 days": bounds without their lower ends.
        if (
            bounds.Count == 0
            && items.Exists(i => i is WordItem { Mention: { Kind: MentionKind.Check, Value: "ageing" or "overdue" } })
        )
        {
            while (
                Word(items, next) is { Kind: MentionKind.Number } bound
                && int.Parse(bound.Value, CultureInfo.InvariantCulture) is var days
                && (bounds.Count == 0 || days > bounds[^1])
            )
            {
                bounds.Add(days);
                next++;
                if (Word(items, next)?.Kind is MentionKind.And && Word(items, next + 1)?.Kind is MentionKind.Number)
                    next++;
            }
            if (bounds.Count == 1)
                return false;
        }
        // "15, 30, 60", with nothing else said.
        if (
            bounds.Count == 0
            && at == items.FindIndex(i => i is WordItem { Mention.Kind: MentionKind.Number })
            && items.TrueForAll(i =>
                i is WordItem { Mention.Kind: MentionKind.Number or MentionKind.And or MentionKind.Days or MentionKind.Edit }
            )
        )
        {
            bounds.AddRange(
                items
                    .OfType<WordItem>()
                    .Where(i => i.Mention.Kind == MentionKind.Number)
                    .Select(i => int.Parse(i.Mention.Value, CultureInfo.InvariantCulture))
            );
            if (bounds.Count < 2 || !bounds.Zip(bounds.Skip(1)).All(n => n.First < n.Second))
                return false;
            next = items.Count;
        }
        if (bounds.Count == 0)
            return false;
        if (Word(items, next)?.Kind is MentionKind.Gap && Word(items, next + 1)?.Kind is MentionKind.Number)
            next += 2;
        if (Word(items, next)?.Kind is MentionKind.Days)
            next++;
        return Replace(items, at, next - at, (s, e) => new BucketsItem(s, e, [.. bounds.Order().Distinct()]));
    }

    /// <summary>open or disputed · paid and disputed → either value of one field. A state of what is owed is the value of that
    /// name, where one stands beside it.</summary>
    private bool EitherValue(List<Item> items, int at)
    {
        var next = Word(items, at + 1)?.Kind is MentionKind.And ? at + 2 : at + 1;
        if (next == at + 1 && (next >= items.Count || !IsComma(items[at].End, items[next].Start)))
            return false;
        var (one, other) = (Word(items, at), Word(items, next));
        if (one is { Kind: MentionKind.Check } && other is { Kind: MentionKind.Value })
            one = AsValue(one, other);
        else if (other is { Kind: MentionKind.Check } && one is { Kind: MentionKind.Value })
            other = AsValue(other, one);
        if (
            one is not { Kind: MentionKind.Value }
            || other is not { Kind: MentionKind.Value }
            || FieldOf(one) is not { } field
            || FieldOf(other) != field
        )
            return false;
        return Replace(items, at, next - at + 1, (s, e) =>
            new WordItem(
                one with
                {
                    Value = $"{one.Value}{RecordTest.Or}{other.Value[(field.Length + 1)..]}",
                    Title = $"{one.Title} or {other.Title}",
                    Start = s,
                    Length = e - s,
                }
            )
        );

        string? FieldOf(Mention value) =>
            value.Value.IndexOf('=', StringComparison.Ordinal) is > 0 and var end ? value.Value[..end] : null;

        Mention? AsValue(Mention check, Mention beside) =>
            FieldOf(beside) is { } of
            && of.Split('/') is [var code, var its]
            && book.Table(code)
                ?.Field(its)
                ?.Values.FirstOrDefault(v => string.Equals(Words.Phrase(v), check.Title, StringComparison.Ordinal))
                is { } value
                ? check with
                {
                    Kind = MentionKind.Value,
                    Value = $"{of}={value}",
                }
                : null;
    }

    /// <summary>journals by R. Vale → whoever it was that did it.</summary>
    private static bool ByValue(List<Item> items, int at)
    {
        if (Word(items, at)?.Kind is not MentionKind.By || Word(items, at + 1)?.Kind is not MentionKind.Value)
            return false;
        items.RemoveAt(at);
        return true;
    }

    /// <summary>approved by R. Vale → that value of that field, and of no other that has it too.</summary>
    private bool FieldIsValue(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Field } field
        && Word(items, at + 1) is { Kind: MentionKind.Value } value
        && value.Value.Split('/', '=') is [var code, var of, ..]
        && book.Table(code) is { } table
        && RecordWords.FieldOf(table.Fields, vocabulary, field.Value) == of
        && Replace(items, at, 2, (s, e) => new WordItem(value with { Start = s, Length = e - s }));

    /// <summary>prepared and approved by the same person → two fields that say the same.</summary>
    private static bool SameFields(List<Item> items, int at)
    {
        if (Word(items, at) is not { Kind: MentionKind.Field } one)
            return false;
        // "Approve a journal they had prepared themselves".
        if (
            items.ElementAtOrDefault(at + 1) is { } list
            && IsList(list)
            && Word(items, at + 2) is { Kind: MentionKind.Field } own
            && Word(items, at + 3)?.Kind is MentionKind.SameField
        )
        {
            items.RemoveAll(i => i is WordItem { Mention.Kind: MentionKind.SameField } && i.Start < items[at].Start);
            var first = items.FindIndex(i => i is WordItem w && w.Mention == one);
            return Replace(items, first + 2, 2, (s, e) => new FieldTestItem(s, e, RecordTestKind.SameAs, one.Value, own.Value, 0))
                && Remove(items, first, 1);
        }
        var next = Word(items, at + 1)?.Kind is MentionKind.And ? at + 2 : at + 1;
        return Word(items, next) is { Kind: MentionKind.Field } other
            && Word(items, next + 1)?.Kind is MentionKind.SameField
            && Replace(items, at, next - at + 2, (s, e) =>
                new FieldTestItem(s, e, RecordTestKind.SameAs, one.Value, other.Value, 0)
            );
    }

    /// <summary>without an approver · approved by nobody → a field that says nothing.</summary>
    private static bool MissingField(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Field } said && Word(items, at + 1) is { Kind: MentionKind.Not, Value: "nobody" }
            ? Replace(items, at, 2, (s, e) => new FieldTestItem(s, e, RecordTestKind.Empty, said.Value, null, 0))
            : Word(items, at) is { Kind: MentionKind.Exclude, Value: not ("after" or "before") }
                && Word(items, at + 1) is { Kind: MentionKind.Field } field
                && Replace(items, at, 2, (s, e) => new FieldTestItem(s, e, RecordTestKind.Empty, field.Value, null, 0));

    /// <summary>overdue by more than a month · more than two weeks overdue → so many days, where records are spoken of.</summary>
    private static bool DaysOfSpan(List<Item> items, int at)
    {
        if (
            Word(items, at)?.Kind is not MentionKind.Gap
            || !items.Exists(i =>
                i is WordItem { Mention: { Kind: MentionKind.Check } check }
                && check.Value is not ("weekend" or "month-end" or "round")
            )
        )
            return false;
        var number = Word(items, at + 1) is { Kind: MentionKind.Number } said ? said : null;
        var span = Word(items, number is null ? at + 1 : at + 2);
        var days = span switch
        {
            { Kind: MentionKind.Finer, Value: "week" } => 7,
            { Kind: MentionKind.Grain, Value: "month", Length: 1 } => 30,
            _ => 0,
        };
        if (days == 0)
            return false;
        var count = (number is null ? 1 : int.Parse(number.Value, CultureInfo.InvariantCulture)) * days;
        Replace(items, at + 1, number is null ? 1 : 2, (s, e) =>
            new WordItem(
                span! with
                {
                    Kind = MentionKind.Number,
                    Value = count.ToString(CultureInfo.InvariantCulture),
                    Start = s,
                    Length = e - s,
                }
            )
        );
        return Insert(
            items,
            at + 2,
            new WordItem(span! with { Kind = MentionKind.Days, Value = "days", Start = span.End, Length = 0 })
        );
    }

    /// <summary>next week · in the next 14 days · within 30 days · less than 30 days old → so many days from the day in
    /// question.</summary>
    private static bool DaysFrom(List<Item> items, int at)
    {
        if (Word(items, at) is { Kind: MentionKind.Ahead } week)
            return Replace(items, at, 1, (s, e) =>
                new FieldTestItem(s, e, RecordTestKind.Ahead, null, null, decimal.Parse(week.Value, CultureInfo.InvariantCulture))
            );
        if (
            Word(items, at + 1) is not { Kind: MentionKind.Number } number
            || Word(items, at + 2)?.Kind is not MentionKind.Days
            || Word(items, at + 3)?.Kind is MentionKind.Field
        )
            return false;
        var kind = Word(items, at) switch
        {
            { Kind: MentionKind.Further } => RecordTestKind.Ahead,
            { Kind: MentionKind.Gap } gap when DirectionOf(gap) is Direction.Within or Direction.Under => RecordTestKind.NotOlder,
            { Kind: MentionKind.Trailing } => RecordTestKind.NotOlder,
            _ => (RecordTestKind?)null,
        };
        return kind is { } k
            && Replace(items, at, 3, (s, e) =>
                new FieldTestItem(s, e, k, null, null, decimal.Parse(number.Value, CultureInfo.InvariantCulture))
            );
    }

    /// <summary>days between invoice date and paid date · days from the one to the other → the days of each record that has
    /// both.</summary>
    private static bool DaysBetween(List<Item> items, int at)
    {
        if (Word(items, at)?.Kind is not MentionKind.Days)
            return false;
        var first = Word(items, at + 1)?.Kind is MentionKind.Between ? at + 2 : at + 1;
        if (
            Word(items, first) is not { Kind: MentionKind.Field } from
            || Word(items, first + 1)?.Kind is not (MentionKind.And or MentionKind.To)
            || Word(items, first + 2) is not { Kind: MentionKind.Field } to
        )
            return false;
        return Replace(items, at, first + 3 - at, (s, e) =>
            new FieldTestItem(s, e, RecordTestKind.BothDays, to.Value, from.Value, 0)
        );
    }

    /// <summary>more than 5 days after their posting date → days between two fields; without a field the entry against its own
    /// date.</summary>
    private static bool DaysAfter(List<Item> items, int at)
    {
        // What is aged is so by days, said or not.
        var days = Word(items, at + 2)?.Kind is MentionKind.Days;
        if (
            Word(items, at)?.Kind is not MentionKind.Gap
            || Word(items, at + 1) is not { Kind: MentionKind.Number } number
            || !(days || items.Exists(i => i is WordItem { Mention: { Kind: MentionKind.Check, Value: "ageing" } }))
        )
            return false;
        if (!days)
            return Replace(items, at, 2, (s, e) =>
                new FieldTestItem(
                    s,
                    e,
                    RecordTestKind.DaysAfter,
                    null,
                    null,
                    decimal.Parse(number.Value, CultureInfo.InvariantCulture)
                )
            );
        var field =
            Word(items, at + 3) is { Kind: MentionKind.Field } f ? f
            : Word(items, at + 3)?.Kind is not MentionKind.By && Word(items, at + 4) is { Kind: MentionKind.Field } g ? g
            : null;
        return Replace(
            items,
            at,
            field is null ? 3 : items.FindIndex(i => i is WordItem w && w.Mention == field) - at + 1,
            (s, e) =>
                new FieldTestItem(
                    s,
                    e,
                    RecordTestKind.DaysAfter,
                    null,
                    field?.Value,
                    decimal.Parse(number.Value, CultureInfo.InvariantCulture)
                )
        );
    }
}
