using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>What asks for records say, in words, and which field of a table plays a role.</summary>
public static class RecordWords
{
    /// <summary>The field that has this code, is kept by this dimension, or plays this role by its name; null when there is
    /// none.</summary>
    public static string? FieldOf(ImmutableArray<Field> fields, Vocabulary vocabulary, string role)
    {
        if (fields.FirstOrDefault(f => f.Code == role || f.Dimension == role) is { } coded)
            return coded.Code;
        if (role == "key")
            return fields.FirstOrDefault(f => f.Type == FieldType.Key)?.Code;
        if (!vocabulary.Fields.TryGetValue(role, out var names))
            return null;
        var day = role == RecordAsk.Date ? fields.FirstOrDefault(f => f.Type == FieldType.Date)?.Code : null;
        return names
            .Select(n => fields.FirstOrDefault(f => Words.Phrase(f.Name).Contains(n, StringComparison.Ordinal)))
            .FirstOrDefault(f => f is not null)
            ?.Code
            ?? day;
    }

    /// <summary>What the ask says, for the reading and its sentence.</summary>
    public static string Sentence(Book book, FormOneQuestion question, RecordAsk ask)
    {
        var table = book.Table(ask.Table);
        var tests = ask.Tests.Select(t => TestName(table, t)).ToList();
        var limits = question
            .Conditions.Where(c => c.On is ConditionOn.Amount or ConditionOn.Count)
            .Select(c =>
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"of at {(c.IsUpper ? "most" : "least")} {c.Value:#,0.##}{(c.On == ConditionOn.Count ? " records" : "")}"
                )
            )
            .ToList();
        if (!ask.LimitsGroups)
            tests.AddRange(limits);
        var what =
            ask.Table == Table.Ledger
                ? $"Journals of {book.Calendar.NameOf(question.Spans[0])}"
                : $"{table?.Name ?? ask.Table} {AsAtName(book, ask, question.Spans[0])}";
        var figure = ask.OfFigure ? $" on {book.Figure(question.Figure)?.Name}" : "";
        var filters = string.Concat(
            question.Filters.Select(f =>
                $", {(f.Exclude ? "without" : "for")} {string.Join(" and ", book.TryDimension(f.Dimension, out var d) ? f.Members.Select(c => book.TryMember(d.Id, c, out var m) ? m.Name : c).Distinct() : f.Members)}"
            )
        );
        var shown = ask.Due is not null
            ? $", aged by days past the {NameOf(table, ask.Due)}: up to {string.Join(", ", ask.Buckets)} and over"
            : "";
        return $"{(ask.CountOnly ? "How many: " : "")}{what}{figure}{(tests.Count == 0 ? "" : ": " + string.Join(", ", tests))}{filters}{(question.Currency is { } currency ? $", in {currency}" : "")}{shown}{(ask.By.IsEmpty ? "" : $", {ByNames(book, ask)}")}{(ask.Statistic is RowStatistic.Average or RowStatistic.Median && ask.Tests.All(t => t.Kind is not (RecordTestKind.BothDays or RecordTestKind.DaysAfter or RecordTestKind.OlderThan or RecordTestKind.Overdue)) ? $", with the {ask.Statistic.Value.ToString().ToLowerInvariant()}" : "")}{(ask.LimitsGroups ? $", only those {string.Join(" and ", limits)} in all" : "")}{(ask.Beside.IsEmpty ? "" : $", {BesideName(table, ask)}")}{(ask.Also is null ? "" : $", and of it what is {ask.Also.Kind.ToString().ToLowerInvariant()}")}{(question.Ranking is { } r ? $", {ReadingWriter.RankingName(r)}{(r.Within ? " of each" : "")}" : "")}{(question.Listing is { } listing ? ", " + ListingName(table, listing) : "")}.";
    }

    /// <summary>The day in question, in words.</summary>
    public static string AsAtName(Book book, RecordAsk ask, PeriodSpan span) =>
        ask.AsAt is { } day
            ? $"as at {day.ToString("d MMMM yyyy", CultureInfo.InvariantCulture)}"
            : $"as at the end of {book.Calendar.NameOf(span.To)}";

    /// <summary>By what they are gathered, in words.</summary>
    public static string ByNames(Book book, RecordAsk ask) =>
        "by "
        + string.Join(
            ", then ",
            ask.By.Select(by =>
                by.Level is { } grain && book.Table(ask.Table)?.Field(by.Field) is { Type: FieldType.Date } day
                    ? $"{grain.ToLowerInvariant()} of the {day.Name.ToLowerInvariant()}"
                    : (
                        by.Level
                        ?? (book.TryDimension(by.Field, out var kept) ? kept.Name : NameOf(book.Table(ask.Table), by.Field))
                    ).ToLowerInvariant()
            )
        );

    /// <summary>The amounts beside the first, in words.</summary>
    public static string BesideName(Table? table, RecordAsk ask) =>
        $"with {string.Join(" and ", ask.Beside.Select(b => NameOf(table, b)))} beside the {NameOf(table, ask.Sum)}";

    /// <summary>One test in words.</summary>
    public static string TestName(Table? table, RecordTest test) =>
        test is { Not: true, Kind: RecordTestKind.Is }
            ? $"{NameOf(table, test.Field)} is not {test.Value?.Replace(RecordTest.Or.ToString(), " or ", StringComparison.Ordinal)}"
        : test.Not ? $"not {TestName(table, test with { Not = false })}"
        : Plainly(table, test);

    private static string Plainly(Table? table, RecordTest test) =>
        test.Kind switch
        {
            RecordTestKind.Is =>
                $"{NameOf(table, test.Field)} is {test.Value?.Replace(RecordTest.Or.ToString(), " or ", StringComparison.Ordinal)}",
            RecordTestKind.Contains => $"with “{test.Value}” in it",
            RecordTestKind.EndsIn => $"{NameOf(table, test.Field)} ends in {test.Value}",
            RecordTestKind.Empty => $"no {NameOf(table, test.Field)}",
            RecordTestKind.SameAs => $"{NameOf(table, test.Field)} the same as {NameOf(table, test.Other)}",
            RecordTestKind.Weekend =>
                $"{NameOf(table, test.Field)} on a {(test.Number == 0 ? "weekend" : $"{(DayOfWeek)((int)test.Number % 7)}")}",
            RecordTestKind.MonthEnd => $"{NameOf(table, test.Field)} on the last day of a month",
            RecordTestKind.OutOfPeriod => "dated outside the month to which it was posted",
            RecordTestKind.Round => string.Create(CultureInfo.InvariantCulture, $"a whole multiple of {test.Number:N0}"),
            RecordTestKind.DaysAfter => test.Number == 0
                ? $"{NameOf(table, test.Field)} after {NameOf(table, test.Other)}"
                : $"{NameOf(table, test.Field)} more than {test.Number} days after {NameOf(table, test.Other)}",
            RecordTestKind.NotAfter => $"{NameOf(table, test.Field)} not after {NameOf(table, test.Other)}",
            RecordTestKind.OlderThan => $"{NameOf(table, test.Field)} more than {test.Number} days ago",
            RecordTestKind.NotOlder => $"{NameOf(table, test.Field)} at most {test.Number} days ago",
            RecordTestKind.Ahead => $"{NameOf(table, test.Field)} within the next {test.Number} days",
            RecordTestKind.BothDays =>
                $"days from {NameOf(table, test.Other)} to {NameOf(table, test.Field)}, where both are known",
            RecordTestKind.During => $"{NameOf(table, test.Field)} in {test.Other}",
            RecordTestKind.Days => $"{NameOf(table, test.Field)} {test.Other}",
            RecordTestKind.Open => "still open",
            RecordTestKind.Settled => "nothing open",
            RecordTestKind.Overdue => "overdue",
            RecordTestKind.NotDue => "open and not due yet",
            RecordTestKind.Twice => "there more than once",
            RecordTestKind.Unbalanced => "out of balance",
            _ => "missing in the run of document numbers",
        };

    /// <summary>Columns and order in words.</summary>
    public static string ListingName(Table? table, Listing listing) =>
        string.Join(
            ", ",
            (string[])
                [
                    .. listing.Columns.IsEmpty
                        ? (string[])[]
                        : [$"only {string.Join(", ", listing.Columns.Select(c => NameOf(table, c)))}"],
                    .. listing.OrderBy is null
                        ? (string[])[]
                        :
                        [
                            $"sorted by {NameOf(table, listing.OrderBy)}, {(TypeOf(table, listing.OrderBy), listing.Descending) switch { (FieldType.Date, var down) => down ? "latest first" : "earliest first", (FieldType.Amount or FieldType.Quantity or FieldType.Rate, var down) => down ? "largest first" : "smallest first", (_, var down) => down ? "Z to A" : "A to Z" }}",
                        ],
                ]
        );

    private static FieldType TypeOf(Table? table, string code) =>
        code switch
        {
            RecordAsk.Date => FieldType.Date,
            RecordAsk.Amount => FieldType.Amount,
            _ => table?.Field(code)?.Type ?? FieldType.Text,
        };

    private static string NameOf(Table? table, string? code) =>
        code is null ? ""
        : code is RecordAsk.Date ? "posting date"
        : (table?.Field(code)?.Name ?? code).ToLowerInvariant();
}
