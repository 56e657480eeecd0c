using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Commentary;
using Bearing.Core.Questions;
using Bearing.Core.Store;

namespace Bearing.Core.Answering;

/// <summary>Answers about records and journals: what is said of the table that <see cref="RecordAnswerer"/> makes.</summary>
public sealed partial class Answerer
{
    private async ValueTask<Answer> AnswerRecords(Question question, Kind.Records records, CancellationToken cancel)
    {
        var ask = records.Ask;
        var table = await new RecordAnswerer(book, facts, question, records).Answer(cancel);
        var headline = RecordHeadline(table, question, ask);
        var day = ask.AsAt ?? book.Calendar.LastDay(question.Scope.Spans[0].To);
        var notes = new List<string>
        {
            ask.Table != Table.Ledger
                ? $"As at {day:yyyy-MM-dd}, of the records that are loaded."
                : $"Journals of {book.Calendar.NameOf(question.Scope.Spans[0])}; the amount of a journal is {(ask.OfFigure ? $"what its lines on {book.Figure(question.Scope.Figure)?.Name} come to" : "the sum of its debits")}.",
        };
        if (
            ask.PaidOn is not null
            && book.CurrentPeriod is { } now
            && day < book.Calendar.LastDay(now)
            && ask.Tests.Any(t => t.Kind is RecordTestKind.Open or RecordTestKind.Overdue or RecordTestKind.NotDue)
        )
            notes.Add("What was paid after that day counts as open on it, in full.");
        if (ask.Due is null && table.Rows.Length > 0 && table.Rows.Length < table.Count)
            notes.Add(
                FormattableString.Invariant(
                    $"{table.Rows.Length:N0} of {table.Count:N0} {(table.Rows.Length == 1 ? "is" : "are")} shown."
                )
            );
        notes.AddRange(table.Notes);
        var next = NextOfRecords(ask);
        return new Answer(
            IdOf(question),
            question,
            headline,
            null,
            null,
            [],
            [new Sentence(SentenceRole.Headline, [new Segment(headline)])],
            null,
            new TieOut(TieOutState.NotASum, 0m, 0m, 0),
            [.. notes],
            next
        )
        {
            Records = table,
        };
    }

    /// <summary>Cents in full where there are any: 1,362.40.</summary>
    private static string Exact(decimal value) =>
        value.ToString(value == decimal.Truncate(value) ? "#,0" : "#,0.00", CultureInfo.InvariantCulture);

    /// <summary>By whoever stands in the table, and aged where it tells what is open.</summary>
    private ImmutableArray<string> NextOfRecords(RecordAsk ask)
    {
        if (ask.Table == Table.Ledger || book.Table(ask.Table) is not { } table)
            return [];
        var by = table.Fields.FirstOrDefault(f => f.Type == FieldType.Member && ask.By.All(g => g.Field != f.Code));
        return
        [
            .. by is null ? (string[])[] : [$"by {by.Name.ToLowerInvariant()}"],
            .. ask.Due is null && ask.Tests.Any(t => t.Kind is RecordTestKind.Open or RecordTestKind.Overdue)
                ? (string[])["ageing"]
                : [],
        ];
    }

    private string RecordHeadline(RecordTable table, Question question, RecordAsk ask)
    {
        static string Said((string Title, decimal Value) total) =>
            string.Create(CultureInfo.InvariantCulture, $"{total.Title} {Exact(total.Value)}");
        static bool IsOfDays(string title) => title is RecordAnswerer.DaysOnAverage or RecordAnswerer.MedianOfDays;
        var totals = table.Totals.Where(t => t.Title != "Count").ToList();
        var all = string.Join(", ", totals.Select(Said));
        var (journals, name) = (ask.Table == Table.Ledger, book.Table(ask.Table)?.Name ?? "");
        if (ask.Tests.Any(t => t.Kind == RecordTestKind.Unbalanced))
            return $"{(table.Count == 0 ? "Yes, every document balances" : "No, not every document balances")}: {all}.";
        if (ask.Tests.Any(t => t.Kind == RecordTestKind.MissingNumber))
            return $"{(table.Count == 0 ? "No number is missing" : $"Missing: {string.Join(", ", table.Rows.Take(3).Select(r => r.Values[0]))}{(table.Count > 3 ? " …" : "")}")}: {all}.";
        if (table.Count == 0)
            return journals ? "None: no journal meets this." : $"None: nothing in {name} meets this.";
        if (!ask.By.IsEmpty && question.Layout.Ranking is not { Within: true } && table.Rows.Length > 0 && ask.Due is null)
        {
            // What is summed first, then what is taken over it; counted where a count was asked for.
            var sums = totals
                .Where(t => !IsOfDays(t.Title))
                .Select(Said)
                .Concat(
                    ask.CountOnly
                        ?
                        [
                            FormattableString.Invariant(
                                $"{table.Totals.First(t => t.Title == "Count").Value:N0} {(journals ? "journals" : "records")}"
                            ),
                        ]
                        : []
                );
            var days = string.Concat(totals.Where(t => IsOfDays(t.Title)).Select(t => ", " + Said(t)));
            return $"{(journals ? "Journals" : name)}: {string.Join(", ", sums)} in all{days}. First {(string.IsNullOrEmpty(table.Rows[0].Values[0]) ? "come those without one" : $"comes {string.Join(", ", table.Rows[0].Values.Take(ask.By.Length))}")}.";
        }
        return FormattableString.Invariant(
            $"{FirstOf(table, question, ask)}{(journals ? "" : $"{name}: ")}{table.Count:N0} {(journals ? "journal" : "record")}{(table.Count == 1 ? "" : "s")}, {all}."
        );
    }

    /// <summary>The record that a ranking puts first, by its number and amount; nothing where none was asked for.</summary>
    private static string FirstOf(RecordTable table, Question question, RecordAsk ask)
    {
        if (question.Layout.Ranking is not { Count: < Ranking.All } || table.Rows.Length == 0 || ask.Due is not null)
            return "";
        var columns = table.Columns.ToList();
        var (key, sum) = (columns.FindIndex(c => c.Type == FieldType.Key), columns.FindIndex(c => c.Id == ask.Sum));
        return key < 0 || sum < 0 || !decimal.TryParse(table.Rows[0].Values[sum], CultureInfo.InvariantCulture, out var amount)
            ? ""
            : FormattableString.Invariant($"First comes {table.Rows[0].Values[key]} with {Exact(amount)}. ");
    }

    /// <summary>The records in full whose key is the number, or ends like it; null when there are none.</summary>
    private async ValueTask<Answer?> Numbered(Question question, string number, CancellationToken cancel)
    {
        const int most = 100;
        var (ends, text) = number[0] == Kind.Entries.EndOfNumber ? (true, number[1..]) : (false, number);
        foreach (var table in book.Tables.Where(t => t.Code != Table.Ledger))
        {
            if (table.Fields.FirstOrDefault(f => f.Type == FieldType.Key) is not { } key)
                continue;
            var page = await facts.Records(
                new RecordQuery(table, [new FieldTest(key, ends ? TestKind.Contains : TestKind.Is, text)], null, false, most, 0),
                cancel
            );
            var found = page
                .Records.Where(r =>
                    r.Fields.TryGetValue(key.Code, out var known)
                    && (!ends || known.EndsWith(text, StringComparison.OrdinalIgnoreCase))
                )
                .ToList();
            if (found.Count == 0)
                continue;
            var rows = found.Select(r => new RecordTableRow(
                [
                    .. table.Fields.Select(f =>
                        r.Fields.TryGetValue(f.Code, out var value)
                            ? f.Dimension is { } d
                            && book.TryDimension(d, out var dimension)
                            && book.TryMember(dimension.Id, value, out var member)
                                ? member.Name
                                : value
                            : null
                    ),
                ],
                r.Load,
                r.Row
            ));
            var headline =
                found.Count == 1
                    ? $"{table.Name}: {key.Name} {found[0].Fields[key.Code]}."
                    : FormattableString.Invariant(
                        $"{table.Name}: {found.Count:N0} whose {key.Name.ToLowerInvariant()} ends like that."
                    );
            return new Answer(
                IdOf(question),
                question,
                headline,
                null,
                null,
                [],
                [new Sentence(SentenceRole.Headline, [new Segment(headline)])],
                null,
                new TieOut(TieOutState.NotASum, 0m, 0m, 0),
                [],
                NextOfRecords(new RecordAsk(table.Code, []))
            )
            {
                Records = new RecordTable(
                    [.. table.Fields.Select(f => new RecordColumn(f.Code, f.Name, f.Type))],
                    [.. rows],
                    [("Count", found.Count)],
                    found.Count
                ),
            };
        }
        return null;
    }
}
