using System.Collections.Immutable;
using System.Globalization;
using System.Text.RegularExpressions;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.Answering;

internal sealed partial class RecordAnswerer
{
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
