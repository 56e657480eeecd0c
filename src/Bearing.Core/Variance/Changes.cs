using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Store;

namespace Bearing.Core.Variance;

/// <summary>A figure that is not what it was in an earlier edition.</summary>
/// <param name="Before">Credit-positive; null where there was none. Statistics in their unit.</param>
/// <param name="Late">True where actuals came into a month that was closed and loaded by then.</param>
public sealed record Change(string Scenario, Period Period, int Account, int Entity, decimal? Before, decimal? After, bool Late)
{
    public decimal Difference => (After ?? 0m) - (Before ?? 0m);
}

/// <summary>What changed between two editions of a book, by scenario, month, account and entity.</summary>
public sealed class ChangeFinder(Book before, IFacts factsBefore, Book after, IFacts factsAfter)
{
    /// <summary>Largest difference first; equal ones by scenario, month, account and entity.</summary>
    public async ValueTask<ImmutableArray<Change>> Find(CancellationToken cancel)
    {
        var changes = new List<Change>();
        foreach (var code in before.Definition.Scenarios.Concat(after.Definition.Scenarios).Select(s => s.Code).Distinct())
        {
            var (old, now) = (await Cells(before, factsBefore, code, cancel), await Cells(after, factsAfter, code, cancel));
            foreach (var key in old.Keys.Union(now.Keys))
            {
                decimal? was = old.TryGetValue(key, out var a) ? a : null,
                    has = now.TryGetValue(key, out var b) ? b : null;
                if (was == has)
                    continue;
                var period = Period.FromOrdinal(key.Period);
                var late =
                    code == Book.ActualCode
                    && old.Keys.Any(k => k.Period == key.Period && k.Entity == key.Entity)
                    && after.Members.Any(m => m.Id == key.Entity)
                    && before.ClosedThrough(after.Member(key.Entity)) is { } closed
                    && period <= closed;
                changes.Add(
                    new Change(
                        after.Scenario(code)?.Name ?? before.Scenario(code)!.Name,
                        period,
                        key.Account,
                        key.Entity,
                        was,
                        has,
                        late
                    )
                );
            }
        }
        return
        [
            .. changes
                .OrderByDescending(c => Math.Abs(c.Difference))
                .ThenBy(c => c.Scenario, StringComparer.Ordinal)
                .ThenBy(c => c.Period)
                .ThenBy(c => c.Account)
                .ThenBy(c => c.Entity),
        ];
    }

    private static async ValueTask<Dictionary<(int Account, int Entity, int Period), decimal>> Cells(
        Book book,
        IFacts facts,
        string scenario,
        CancellationToken cancel
    )
    {
        var cells = new Dictionary<(int, int, int), decimal>();
        if (book.Scenario(scenario)?.Current is not { Coverage: { } coverage } version)
            return cells;
        // Opening balances stand before the first covered month.
        var span = new PeriodSpan(coverage.Span.From.AddMonths(-1), coverage.Span.To);
        foreach (
            var sum in await facts.Cells(new CellQuery(version.Id, span, [], [book.Accounts.Id, book.Entities.Id], true), cancel)
        )
            cells[(sum.Members[0], sum.Members[1], sum.Period)] = sum.Amount;
        return cells;
    }
}
