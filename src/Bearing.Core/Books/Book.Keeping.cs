using System.Collections.Frozen;

namespace Bearing.Core.Books;

/// <summary>What versions keep apart, by account.</summary>
public sealed partial class Book
{
    /// <summary>Of accounts that a version has figures of, whether it keeps a dimension apart for them: a budget may keep service
    /// lines of income only. Known of books that are asked.</summary>
    public FrozenDictionary<(int Version, int Dimension, int Account), bool> KeptAccounts { get; init; } =
        FrozenDictionary<(int, int, int), bool>.Empty;

    private FigureRef? _sales;
    private ILookup<int, int>? _posted;

    /// <summary>Whether a version has figures of any of these accounts; yes where that is not known.</summary>
    public bool HasFigures(int version, IEnumerable<int> accounts)
    {
        var posted = (
            _posted ??= KeptAccounts.Keys.Select(k => (k.Version, k.Account)).Distinct().ToLookup(k => k.Version, k => k.Account)
        )[version]
            .ToHashSet();
        return posted.Count == 0 || accounts.Any(posted.Contains);
    }

    /// <summary>All that is sold: what stands on top of income, or, where its accounts have nothing above them, the first line of
    /// the statement that adds up income alone. Null without income.</summary>
    public FigureRef? Sales =>
        _sales ??=
            Roots(Accounts.Id).FirstOrDefault(a => a.Account?.Type == AccountType.Income) is not { } first ? null
            : HasChildren(first)
            || Definition
                .Statement.Select(l => Figure(new(FigureKind.Measure, l.Code)))
                .FirstOrDefault(f =>
                    f is SumFigure { Accounts.Length: > 1 } sum
                    && sum.Accounts.All(a => Member(a).Account?.Type == AccountType.Income)
                )
                is not { } line
                ? new FigureRef(FigureKind.Account, first.Code)
            : line.Ref;

    /// <summary>Whether a version keeps a dimension of income, and of no costs.</summary>
    public bool KeepsOfIncomeOnly(int version, int dimension) =>
        Keeps(
            version,
            dimension,
            [.. MembersOf(Accounts.Id).Where(a => a.Account?.Type is AccountType.Income or AccountType.Cost).Select(a => a.Id)]
        ) == Keeping.IncomeOnly;

    /// <summary>Whether a version keeps a dimension of income, and of less than half of the accounts of costs: a result by it
    /// would be of few costs.</summary>
    public bool KeepsOfIncomeMainly(int version, int dimension)
    {
        var posted = MembersOf(Accounts.Id)
            .Where(a => KeptAccounts.ContainsKey((version, dimension, a.Id)))
            .Select(a => (a.Account!.Type, Kept: KeptAccounts[(version, dimension, a.Id)]))
            .ToList();
        return posted.Exists(a => a is (AccountType.Income, true))
            && posted.Count(a => a is (AccountType.Cost, true)) * 2 < posted.Count(a => a.Type == AccountType.Cost);
    }

    /// <summary>How a version keeps a dimension of what these accounts hold; as a whole where they have no figures.</summary>
    public Keeping Keeps(int version, int dimension, IReadOnlyCollection<int> accounts)
    {
        var posted = accounts
            .Where(a => KeptAccounts.ContainsKey((version, dimension, a)))
            .Select(a => (Account: Member(a).Account!.Type, Kept: KeptAccounts[(version, dimension, a)]))
            .ToList();
        if (posted.Count == 0)
            return Keeping.Whole;
        var kept = posted.Where(a => a.Kept).Select(a => a.Account).ToHashSet();
        if (kept.Count == 0)
            return Keeping.Not;
        var types = posted.Select(a => a.Account).ToHashSet();
        if (
            !types.Contains(AccountType.Income)
            || !types.Contains(AccountType.Cost)
            || kept.IsSupersetOf([AccountType.Income, AccountType.Cost])
        )
            return Keeping.Whole;
        return kept.Contains(AccountType.Income) ? Keeping.IncomeOnly : Keeping.CostsOnly;
    }

    /// <summary>What a side is compared with where nothing else is named: the budget of the period, else the year before; null
    /// where the book has neither.</summary>
    public Side? UsualBase(PeriodSpan span, Side subject)
    {
        if (
            Latest(ScenarioKind.Budget, span.To) is { } budget
            && budget.Code != subject.Scenario
            && budget.Current.Coverage!.Span.Intersect(span) is not null
        )
            return new Side(SideKind.Version, budget.Code);
        return subject == Side.PriorYear || ActualSpan?.Intersect(span.AddMonths(-12)) is null ? null : Side.PriorYear;
    }
}
