using System.Collections.Frozen;
using System.Collections.Immutable;
using System.Diagnostics.CodeAnalysis;

namespace Bearing.Core.Books;

/// <summary>
/// One edition of a book: its definition, its members and what follows from them. Immutable, safe to share between threads.
/// </summary>
public sealed partial class Book
{
    public const string ActualCode = "actual";

    private readonly FrozenDictionary<int, Member> _members;
    private readonly FrozenDictionary<(int Dimension, string Code), Member> _byCode;
    private readonly ILookup<(int Dimension, int? Parent), Member> _children;
    private readonly FrozenDictionary<string, Dimension> _dimensionsByCode;
    private FrozenSet<string>? _sharedNames;
    private ILookup<AccountType?, int>? _tops;

    /// <param name="edition">Number of changes made to the book so far.</param>
    /// <exception cref="ArgumentException">When a parent is missing or a tree runs in a circle.</exception>
    public Book(BookDefinition definition, int edition, IEnumerable<Member> members)
    {
        Definition = definition;
        Edition = edition;
        Calendar = new FiscalCalendar(definition.FiscalYearStartMonth);
        var all = members.ToList();
        _members = all.ToFrozenDictionary(m => m.Id);
        _byCode = all.ToFrozenDictionary(m => (m.DimensionId, m.Code.ToUpperInvariant()));
        _children = all.OrderBy(m => m.Order)
            .ThenBy(m => m.Code, StringComparer.Ordinal)
            .ToLookup(m => (m.DimensionId, m.ParentId));
        _dimensionsByCode = definition.Dimensions.ToFrozenDictionary(d => d.Code);
        foreach (var member in all)
            CheckAncestors(member);
        Accounts = definition.Dimensions.Single(d => d.Role == DimensionRole.Account);
        Entities = definition.Dimensions.Single(d => d.Role == DimensionRole.Entity);
        Result = FindResult();
    }

    /// <summary>The same edition with other members or tables.</summary>
    public Book With(
        IEnumerable<Member>? members = null,
        ImmutableArray<Table>? tables = null,
        FrozenDictionary<(int Version, int Dimension, int Account), bool>? keptAccounts = null
    ) =>
        new(Definition, Edition, members ?? Members)
        {
            Tables = tables ?? Tables,
            Rates = Rates,
            Words = Words,
            Remarks = Remarks,
            OpeningsKnown = OpeningsKnown,
            KeptAccounts = keptAccounts ?? KeptAccounts,
        };

    public BookDefinition Definition { get; }
    public int Edition { get; }
    public FiscalCalendar Calendar { get; }
    public Dimension Accounts { get; }
    public Dimension Entities { get; }
    public IEnumerable<Member> Members => _members.Values;

    /// <summary>Tables of records, and the further fields of ledger lines under the code of the ledger.</summary>
    public ImmutableArray<Table> Tables { get; init; } = [];

    public ImmutableArray<Rate> Rates { get; init; } = [];

    /// <summary>Names that people taught beside those of the reference data.</summary>
    public ImmutableArray<TaughtWord> Words { get; init; } = [];

    /// <summary>What answers have to say of loads whose figures they use.</summary>
    public ImmutableArray<Remark> Remarks { get; init; } = [];

    /// <summary>
    /// Whether balances are known: opening balances were loaded, or the ledger itself brought equity, which a company has from
    /// its first day. Without, only movements are known.
    /// </summary>
    public bool OpeningsKnown { get; init; } = true;

    public Table? Table(string code) => Tables.FirstOrDefault(t => t.Code == code);

    /// <summary>Codes of the sets of rates that the book has: actual, budget, forecast, or one version's own.</summary>
    public ImmutableHashSet<string> RateSets => _rateSets ??= [.. Rates.Select(r => r.Set)];

    private ImmutableHashSet<string>? _rateSets;
    private FrozenDictionary<(Period, string, RateKind, string), Rate>? _rates;

    /// <summary>Null when the book has no such rate.</summary>
    /// <param name="currency">ISO 4217 code, in whatever case.</param>
    public Rate? Rate(Period period, string currency, RateKind kind, string set) =>
        (_rates ??= Rates.ToFrozenDictionary(r => (r.Period, r.Currency.ToUpperInvariant(), r.Kind, r.Set))).GetValueOrDefault(
            (period, currency.ToUpperInvariant(), kind, set)
        );

    /// <summary>ISO 4217 code of the currency in which an entity keeps its books.</summary>
    public string CurrencyOf(Member entity) => entity.Entity?.Currency?.ToUpperInvariant() ?? Definition.Currency;

    /// <summary>The last closed period of an entity; null while none is closed.</summary>
    public Period? ClosedThrough(Member entity) =>
        Definition.ClosedThroughOf.TryGetValue(entity.Code, out var own) ? own : Definition.ClosedThrough;

    /// <summary>The figure that stands for the result when a question names none; null in a book without accounts.</summary>
    public FigureRef? Result { get; }

    /// <summary>Periods with actuals; null before the first ledger.</summary>
    public PeriodSpan? ActualSpan => Scenario(ActualCode)?.Current.Coverage?.Span;

    /// <summary>The latest closed month of Actual, from which relative words count; null before the first ledger.</summary>
    public Period? CurrentPeriod =>
        ActualSpan is not { } span ? null
        : Definition.ClosedThrough is { } closed && span.Contains(closed) ? closed
        : span.To;

    public Scenario? Scenario(string code) =>
        Definition.Scenarios.FirstOrDefault(s => string.Equals(s.Code, code, StringComparison.OrdinalIgnoreCase));

    public Dimension Dimension(int id) => Definition.Dimensions.Single(d => d.Id == id);

    public bool TryDimension(string code, [NotNullWhen(true)] out Dimension? dimension) =>
        _dimensionsByCode.TryGetValue(code, out dimension);

    public Member Member(int id) => _members[id];

    public bool TryMember(int dimension, string code, [NotNullWhen(true)] out Member? member) =>
        _byCode.TryGetValue((dimension, code.ToUpperInvariant()), out member);

    /// <summary>A name for any member id, the fixed ones included.</summary>
    public (string Code, string Name) Label(int memberId) =>
        memberId switch
        {
            Books.Member.Unassigned => ("~unassigned", "Unassigned"),
            Books.Member.NotKept => ("~not-kept", "Not kept"),
            _ => _members.TryGetValue(memberId, out var m) ? (m.Code, m.Name) : ("~unknown", "Unknown"),
        };

    /// <summary>Whether a member of another dimension is called the same: a channel and a department Trade.</summary>
    public bool IsNameShared(Member member) =>
        (
            _sharedNames ??= _members
                .Values.GroupBy(m => m.Name, StringComparer.OrdinalIgnoreCase)
                .Where(g => g.Select(m => m.DimensionId).Distinct().Count() > 1)
                .Select(g => g.Key)
                .ToFrozenSet(StringComparer.OrdinalIgnoreCase)
        ).Contains(member.Name);

    public IEnumerable<Member> Children(int dimension, int? parent) => _children[(dimension, parent)];

    public bool HasChildren(Member member) => _children.Contains((member.DimensionId, member.Id));

    public IEnumerable<Member> MembersOf(int dimension) => Roots(dimension).SelectMany(SelfAndBelow);

    public IEnumerable<Member> Roots(int dimension) => Children(dimension, null);

    /// <summary>The member and everything below it, parents first, in the order of the tree.</summary>
    public IEnumerable<Member> SelfAndBelow(Member member)
    {
        yield return member;
        foreach (var child in Children(member.DimensionId, member.Id))
        foreach (var below in SelfAndBelow(child))
            yield return below;
    }

    /// <summary>From the top of the tree down to the member itself. The fixed members stand alone.</summary>
    public ImmutableArray<int> PathTo(int memberId)
    {
        var path = ImmutableArray.CreateBuilder<int>();
        for (int? id = memberId; id is { } at; id = _members.TryGetValue(at, out var m) ? m.ParentId : null)
            path.Insert(0, at);
        return path.ToImmutable();
    }

    public int DepthOf(Member member) => PathTo(member.Id).Length - 1;

    /// <summary>Resolves a side to the version that holds its figures; null when the book has none.</summary>
    public ScenarioVersion? Version(Side side)
    {
        var scenario = Scenario(side.Scenario);
        if (scenario is null)
            return null;
        return side.Version is null || side.Kind != SideKind.Version
            ? scenario.Current
            : scenario.Versions.FirstOrDefault(v => v.Code == side.Version);
    }

    /// <summary>The latest scenario of a kind by cut-off and end of coverage. Of several for the same months the plainest name is
    /// meant: a revised budget has to be named. Null when there is none.</summary>
    public Scenario? Latest(ScenarioKind kind, Period? covering = null) =>
        Definition
            .Scenarios.Where(s =>
                s.Kind == kind && s.Current.Coverage is { } c && (covering is null || c.Span.Contains(covering.Value))
            )
            .OrderBy(s => s.Current.CutOff?.Ordinal ?? 0)
            .ThenBy(s => s.Current.Coverage!.Span.To)
            .ThenBy(s => s.Name.Contains(kind.ToString(), StringComparison.OrdinalIgnoreCase))
            .ThenByDescending(s => s.Name.Split(' ').Length)
            .ThenBy(s => s.Current.Id)
            .LastOrDefault()
        ?? (covering is null ? null : Latest(kind));

    public string NameOf(Side side) =>
        side.Kind switch
        {
            SideKind.PriorYear => "Prior year",
            SideKind.PriorPeriod => "Prior period",
            _ => (Scenario(side.Scenario)?.Name ?? side.Scenario) + (side.Version is null ? "" : $" {side.Version}"),
        };

    /// <summary>A prior period is named by the months that it stands for, seen from the subject's span.</summary>
    public string NameOf(Side side, PeriodSpan span) =>
        side.Kind == SideKind.PriorPeriod
            ? side.Version == "1" && span.Count > 1
                ? "Month before"
                : Calendar.NameOf(span.AddMonths(-(int.TryParse(side.Version, out var months) ? months : span.Count)))
            : NameOf(side);

    /// <summary>Code of the figure that gathers every cost account, in books whose tree has none.</summary>
    public const string AllCosts = "~costs";

    /// <summary>Code and name of the figure that holds what translating balances at closing rates, and the rest at the rates of
    /// their months, leaves over.</summary>
    public const string TranslationDifference = "~translation";
    public const string TranslationDifferenceName = "Translation difference";

    /// <summary>ISO 4217 codes of the foreign currencies that entities keep their books in or that there are rates of.</summary>
    public ImmutableHashSet<string> Currencies =>
        _currencies ??= [
            .. MembersOf(Entities.Id)
                .Select(e => e.Entity?.Currency)
                .Concat(Rates.Select(r => r.Currency))
                .OfType<string>()
                .Select(c => c.ToUpperInvariant())
                .Where(c => c != Definition.Currency),
        ];

    private ImmutableHashSet<string>? _currencies;

    /// <summary>Code of the figure that gathers what was booked on costs and on assets: of a supplier or a project all that was
    /// bought.</summary>
    public const string CostsAndAssets = "~costs-and-assets";

    private FigureRef? FindResult()
    {
        if (Definition.ResultLine is { } line && Figure(new(FigureKind.Measure, line)) is not null)
            return new(FigureKind.Measure, line);
        if (Definition.Statement.LastOrDefault() is { } last && LineFigure(last) is not null)
            return new(FigureKind.Measure, last.Code);
        return Roots(Accounts.Id).FirstOrDefault() is { } first ? new(FigureKind.Account, first.Code) : null;
    }

    private void CheckAncestors(Member member)
    {
        var seen = new HashSet<int> { member.Id };
        for (var at = member; at.ParentId is { } parent; at = _members[parent])
        {
            if (!_members.TryGetValue(parent, out var above) || above.DimensionId != member.DimensionId)
                throw new ArgumentException($"The parent of {at.Code} is not in the book.", nameof(member));
            if (!seen.Add(parent))
                throw new ArgumentException($"{member.Code} stands above itself.", nameof(member));
        }
    }
}
