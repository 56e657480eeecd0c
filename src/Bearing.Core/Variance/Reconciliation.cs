using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Core.Store;

namespace Bearing.Core.Variance;

/// <summary>An account of a trial balance beside the same account of the book.</summary>
/// <param name="Entity">Null where the trial balance does not tell entities apart.</param>
/// <param name="Trial">Credit-positive; null where the trial balance lacks the account.</param>
/// <param name="Book">Credit-positive: the balance for balance-sheet accounts, the year to date for income and costs.</param>
public sealed record ReconciledAccount(int Account, int? Entity, decimal? Trial, decimal Book)
{
    public decimal Difference => (Trial ?? 0m) - Book;
}

/// <summary>Holds the loaded ledger against a trial balance. Nothing lands.</summary>
public sealed class Reconciliation(Book book, IFacts facts)
{
    /// <param name="rows">Facts of the trial balance, mapped like a ledger's.</param>
    /// <param name="through">Month at whose end the trial balance was drawn.</param>
    public async ValueTask<ImmutableArray<ReconciledAccount>> Compare(
        IReadOnlyCollection<FactRow> rows,
        Period through,
        bool byEntity,
        CancellationToken cancel
    )
    {
        var (account, entity) = (
            book.Definition.Dimensions.IndexOf(book.Accounts),
            book.Definition.Dimensions.IndexOf(book.Entities)
        );
        var trial = rows.GroupBy(r => (Account: r.Members[account], Entity: byEntity ? r.Members[entity] : 0))
            .ToDictionary(g => g.Key, g => g.Sum(r => r.Amount));
        var own = new Dictionary<(int Account, int Entity), decimal>();
        if (book.Scenario(Book.ActualCode)?.Current is { Coverage: { } coverage } version)
        {
            var whole = new PeriodSpan(coverage.Span.From.AddMonths(-1), Period.Max(through, coverage.Span.From));
            foreach (
                var cell in await facts.Cells(
                    new CellQuery(version.Id, whole, [], [book.Accounts.Id, book.Entities.Id], true),
                    cancel
                )
            )
            {
                var traits = book.Member(cell.Members[0]).Account;
                if (
                    traits?.Type == AccountType.Statistic
                    || (traits?.IsProfitAndLoss == true && Period.FromOrdinal(cell.Period).Year != through.Year)
                )
                    continue;
                var key = (cell.Members[0], byEntity ? cell.Members[1] : 0);
                own[key] = own.GetValueOrDefault(key) + cell.Amount;
            }
        }
        return
        [
            .. trial
                .Keys.Union(own.Keys.Where(k => own[k] != 0))
                .Select(k => new ReconciledAccount(
                    k.Account,
                    byEntity ? k.Entity : null,
                    trial.TryGetValue(k, out var t) ? t : null,
                    own.GetValueOrDefault(k)
                ))
                .OrderByDescending(r => Math.Abs(r.Difference))
                .ThenBy(r => book.Label(r.Account).Code, StringComparer.Ordinal)
                .ThenBy(r => r.Entity),
        ];
    }
}
