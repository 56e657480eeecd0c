using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Answering;

/// <summary>
/// Records in several currencies: gathered by currency each stands in its own; otherwise all are converted at the closing rates
/// of the month in question, or, where a rate is missing, told apart. They are never added up as they are.
/// </summary>
internal sealed partial class RecordAnswerer
{
    /// <summary>Currencies that could not be converted and have to be told apart; empty where all amounts are in one.</summary>
    private string[] _unconverted = [];
    private string? _lacking;

    /// <summary>The one currency that sums are in; null where the table does not say, and where they are told apart.</summary>
    private string? _unit;
    private readonly List<string> _currencyNotes = [];

    /// <summary>The field of currencies, in a table whose amounts stand in the currency that it says.</summary>
    private Field? CurrencyField => book.Table(_ask.Table) is { } table && table.Code != Table.Ledger ? table.Currency : null;

    private List<Item> InOneCurrency(List<Item> items)
    {
        if (CurrencyField is not { } field)
            return items;
        items = items.ConvertAll(i =>
            i with
            {
                Currency = i[field.Code]?.ToUpperInvariant() is { } own && own != book.Definition.Currency ? own : null,
            }
        );
        var into = question.Scope.Currency ?? book.Definition.Currency;
        var there = items.Select(i => i.Currency ?? book.Definition.Currency).Distinct().Order(StringComparer.Ordinal).ToArray();
        if (question.Scope.Currency is null && there.Length <= 1)
        {
            if (there is [var only] && only != book.Definition.Currency)
                _currencyNotes.Add($"Amounts are in {only}.");
            _unit = there.FirstOrDefault();
            return items;
        }
        // Side by side each amount stands as it is.
        if (_ask.By.Any(g => g.Field == field.Code) && question.Scope.Currency is null)
        {
            _apart = there;
            return items;
        }
        var month = book.Calendar.PeriodOf(_day);
        var rates = there
            .Append(into)
            .Where(c => c != book.Definition.Currency)
            .Distinct()
            .ToDictionary(c => c, c => book.Rate(month, c, RateKind.Closing, RateBasis.Actual));
        if (rates.FirstOrDefault(r => r.Value is null).Key is { } lacking)
        {
            (_unconverted, _apart, _lacking) = (
                there,
                there,
                $"there is no closing rate of {lacking} for {book.Calendar.NameOf(month)}"
            );
            if (question.Scope.Currency is not null)
                throw DoNotAdd(items);
            _currencyNotes.Add($"Amounts in {string.Join(", ", there)} are not added up: {_lacking}.");
            return items;
        }
        _unit = into;
        _currencyNotes.Add(
            $"Sums are in {into}, converted at the closing rates of {book.Calendar.NameOf(month)} ({string.Join(", ", rates.Select(r => FormattableString.Invariant($"{r.Key} {r.Value!.Value:0.0###}")))}); ask by {field.Name.ToLowerInvariant()} for the amounts as they are."
        );
        var amounts = book.Table(_ask.Table)!.Fields.Where(f => f.Type == FieldType.Amount).Select(f => f.Code).ToHashSet();
        return items.ConvertAll(i =>
            (i.Currency ?? book.Definition.Currency) == into
                ? i
                : i with
                {
                    Convert = (code, amount) => amounts.Contains(code) ? Converted(amount, i.Currency, into, rates) : amount,
                }
        );
    }

    private decimal Converted(decimal amount, string? from, string into, Dictionary<string, Rate?> rates)
    {
        var home = from is null ? amount : rates[from]!.ToHome(amount);
        return decimal.Round(
            into == book.Definition.Currency ? home : rates[into]!.ToForeign(home),
            Rate.MoneyDecimals,
            MidpointRounding.AwayFromZero
        );
    }

    /// <summary>Currencies in which totals are told apart.</summary>
    private string[] _apart = [];

    private IEnumerable<(string Title, decimal Value)> Totals(string title, List<Item> items, Func<Item, decimal> amount) =>
        _apart.Length == 0
            ? [(InUnit(title), items.Sum(amount))]
            : items
                .GroupBy(i => i.Currency ?? book.Definition.Currency)
                .OrderBy(g => g.Key, StringComparer.Ordinal)
                .Select(g => ($"{title} {g.Key}", g.Sum(amount)));

    private string InUnit(string title) => _unit is null ? title : $"{title} {_unit}";

    private CannotAnswerException DoNotAdd(List<Item> items) =>
        new(
            $"The amounts are in {string.Join(", ", items.Select(i => i.Currency ?? book.Definition.Currency).Distinct().Order(StringComparer.Ordinal))}, which do not add up, and {_lacking}. Load the rate, or ask by {CurrencyField!.Name.ToLowerInvariant()}.",
            $"by {CurrencyField.Name.ToLowerInvariant()}"
        );

    private RecordTable WithNotes(RecordTable table) => table with { Notes = [.. _currencyNotes] };
}
