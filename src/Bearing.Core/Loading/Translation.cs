using Bearing.Core.Books;

namespace Bearing.Core.Loading;

/// <summary>
/// Finds the rates by which the lines of a load are translated: the average of the line's month in the set that holds for its
/// version. Opening balances take the closing rate of the month at whose end they stand.
/// </summary>
/// <param name="basisOf">By scenario, as columns name it; empty for that of the load.</param>
public sealed class Translation(Book book, bool opening, Func<string, RateBasis> basisOf)
{
    private readonly Dictionary<(string Scenario, Period Period, string Currency), Rate?> _found = [];

    /// <summary>Null when the book has no such rate; <paramref name="because"/> then says which is missing.</summary>
    public Rate? Find(string scenario, Period period, string currency, out string because)
    {
        because = "";
        if (!_found.TryGetValue((scenario, period, currency), out var rate))
            _found[(scenario, period, currency)] = rate = Find(book, basisOf(scenario), opening, period, currency);
        if (rate is not null)
            return rate;
        var set = basisOf(scenario).SetAt(book, period);
        because =
            $"There is no {(opening ? "closing" : "average")} rate of {currency} for {book.Calendar.NameOf(period)}{(set == RateBasis.Actual ? "" : $" among the {set} rates")}.";
        return null;
    }

    /// <summary>The rate that holds for lines of a version in a period; null when the book has none.</summary>
    public static Rate? Find(Book book, RateBasis basis, bool opening, Period period, string currency)
    {
        var set = basis.SetAt(book, period);
        if (!opening)
            return book.Rate(period, currency, RateKind.Average, set);
        return book.Rate(period, currency, RateKind.Closing, set)
            ?? book.Rate(period, currency, RateKind.Average, set)
            ?? book.Rate(period.AddMonths(1), currency, RateKind.Average, set);
    }
}
