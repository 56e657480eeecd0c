using Bearing.Core.Books;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>Questions to begin with, made of the book's own words, so that each of them can be answered.</summary>
public static class Openings
{
    public static IEnumerable<string> Of(Book book)
    {
        if (
            book.Result is not { } result
            || book.Figure(result)?.Name.ToLowerInvariant() is not { } name
            || book.CurrentPeriod is not { } now
        )
            yield break;
        var month = book.Calendar.NameOf(now);
        var hasBudget = book.Latest(ScenarioKind.Budget) is not null;
        if (hasBudget)
            yield return $"why did {name} miss budget in {month}?";
        if (hasBudget)
            yield return $"{name} versus budget by entity, year to date";
        if (hasBudget && book.Roots(book.Accounts.Id).FirstOrDefault() is { } first)
            yield return $"{first.Name.ToLowerInvariant()} versus budget and last year by month";
        if (hasBudget)
            yield return $"top 10 accounts by variance in {month}";
        if (book.Latest(ScenarioKind.Forecast) is { } forecast)
            yield return $"{name}: {(hasBudget ? $"{forecast.Name} versus budget" : $"actual versus {forecast.Name}")} by quarter";
        if (book.Definition.Measures.FirstOrDefault() is { } measure)
            yield return $"{measure.Name.ToLowerInvariant()} versus last year by entity";
        if (!hasBudget)
            yield return $"{name} versus last year by entity";
        yield return $"the 10 largest entries in {month}";
        foreach (
            var table in book.Tables.Where(t => t.Code != Table.Ledger && t.Fields.Any(f => f.Type == FieldType.Amount)).Take(1)
        )
            yield return $"how many {table.Name.ToLowerInvariant()} are there in {month}?";
    }
}
