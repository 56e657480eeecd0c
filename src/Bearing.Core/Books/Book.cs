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

    /// <summary>Whether all accounts of the one stand in the trees of the other: what is added up in the part is added up in the
    /// whole.</summary>
    public bool IsWithin(SumFigure part, SumFigure whole) => part.Accounts.All(a => PathTo(a).Any(whole.Accounts.Contains));

    /// <summary>Computes what a reference names; null when the book knows no such figure.</summary>
    public Figure? Figure(FigureRef reference)
    {
        if (reference.Kind == FigureKind.Account)
            return TryMember(Accounts.Id, reference.Code, out var account) ? AccountFigure(account) : null;
        if (Definition.Statement.FirstOrDefault(l => l.Code == reference.Code) is { } line)
            return LineFigure(line);
        if (reference.Code == AllCosts)
            return CostsFigure(reference);
        if (reference.Code == TranslationDifference)
            return new SumFigure(
                reference,
                TranslationDifferenceName,
                Definition.Currency,
                2,
                GoodDirection.None,
                [.. Enum.GetValues<AccountType>().Where(t => t != AccountType.Statistic).SelectMany(t => TopsOf(t))],
                OverTime.Closing,
                -1,
                false
            );
        if (reference.Code == CostsAndAssets)
            return new SumFigure(
                reference,
                "Costs and assets",
                Definition.Currency,
                2,
                GoodDirection.None,
                TopsOf(AccountType.Cost).AddRange(TopsOf(AccountType.Asset)),
                OverTime.Sum,
                -1,
                false
            );
        if (reference.Code.StartsWith(PercentCode, StringComparison.Ordinal))
            return PercentFigure(reference);
        if (reference.Code.StartsWith(PerCode, StringComparison.Ordinal))
            return PerFigure(reference);
        if (reference.Code.StartsWith(LessCode, StringComparison.Ordinal))
            return LessFigure(reference);
        if (reference.Code.StartsWith(PlusCode, StringComparison.Ordinal))
            return PlusFigure(reference);
        if (reference.Code.StartsWith(BeforeCode, StringComparison.Ordinal))
            return BeforeFigure(reference);
        if (Definition.Measures.FirstOrDefault(m => m.Code == reference.Code) is not { } ratio)
            return null;
        return Part(ratio.Numerator) is { } top && Part(ratio.Denominator) is { } bottom
            ? new PairFigure(
                reference,
                ratio.Name,
                ratio.Unit,
                ratio.Decimals,
                ratio.Good,
                top,
                bottom,
                ratio.Percent ? PairRule.Percent : PairRule.Quotient
            )
            : null;
    }

    private const string PerCode = "~per:";
    private const string PercentCode = "~pct:";
    private const string LessCode = "~less:";
    private const string PlusCode = "~plus:";
    private const string BeforeCode = "~before:";

    /// <summary>A figure as a:code (account) or m:code (line, measure, ratio).</summary>
    public static string Coded(FigureRef reference) => (reference.Kind == FigureKind.Account ? "a:" : "m:") + reference.Code;

    /// <summary>Another figure above what a ratio is divided by; null where the two make none, such as income in percent of
    /// itself.</summary>
    public Figure? Divided(FigureRef top, PairFigure like) =>
        Figure(
            like.Rule == PairRule.Percent
                ? PercentOf(Coded(top), Coded(like.Bottom.Ref))
                : Per(Coded(top), Coded(like.Bottom.Ref))
        );

    /// <summary>Names one sum in percent of another, each as a:code or m:code.</summary>
    public static FigureRef PercentOf(string top, string bottom) => new(FigureKind.Measure, Paired(PercentCode, top, bottom));

    /// <summary>A line of the statement in percent of an income account: the book's own measure of it, where it has
    /// one.</summary>
    public FigureRef MarginOf(string line, FigureRef income) =>
        Definition.Measures.FirstOrDefault(m => m.Percent && m.Numerator == line && m.Denominator == income.Code) is { } named
            ? new(FigureKind.Measure, named.Code)
            : PercentOf("m:" + line, Coded(income));

    public bool IsStatementLine(FigureRef reference) =>
        reference.Kind == FigureKind.Measure && Definition.Statement.Any(l => l.Code == reference.Code);

    /// <summary>Names the ratio of two figures, each as a:code or m:code.</summary>
    public static FigureRef Per(string top, string bottom) => new(FigureKind.Measure, Paired(PerCode, top, bottom));

    /// <summary>Names one sum less another, each as a:code or m:code.</summary>
    public static FigureRef Less(string top, string bottom) => new(FigureKind.Measure, Paired(LessCode, top, bottom));

    /// <summary>Names a line of the statement without some of the accounts in it, by their codes.</summary>
    public static FigureRef Before(string line, IEnumerable<string> accounts) =>
        new(FigureKind.Measure, $"{BeforeCode}{line}|{string.Join(',', accounts)}");

    /// <summary>Null unless the code names a line and accounts, and something is left of the line.</summary>
    private SumFigure? BeforeFigure(FigureRef reference)
    {
        if (
            reference.Code[BeforeCode.Length..].Split('|') is not [var code, var accounts]
            || Definition.Statement.FirstOrDefault(l => l.Code == code) is not { } line
            || LineFigure(line) is not { } whole
        )
            return null;
        var without = accounts.Split(',').Select(c => TryMember(Accounts.Id, c, out var account) ? account : null).ToList();
        if (without.Contains(null))
            return null;
        ImmutableArray<int> left = [.. whole.Accounts.SelectMany(a => Except(Member(a), without!))];
        return left.Length == 0
            ? null
            : whole with
            {
                Ref = reference,
                Name = $"{whole.Name} before {string.Join(" and ", without.Select(a => a!.Name.ToLowerInvariant()))}",
                Accounts = left,
            };
    }

    /// <summary>What is left of a member's tree without some members and all below these.</summary>
    private IEnumerable<int> Except(Member at, List<Member> without) =>
        without.Contains(at) ? []
        : without.Exists(w => PathTo(w.Id).Contains(at.Id)) ? Children(at.DimensionId, at.Id).SelectMany(c => Except(c, without))
        : [at.Id];

    /// <summary>Names two sums as one, each as a:code or m:code.</summary>
    public static FigureRef Plus(string one, string other) => new(FigureKind.Measure, Paired(PlusCode, one, other));

    /// <summary>A figure made of others stands in parentheses, so that it can be a part of another.</summary>
    private static string Paired(string prefix, string top, string bottom)
    {
        static string Part(string coded) => coded.Contains('/', StringComparison.Ordinal) ? $"{coded[..2]}({coded[2..]})" : coded;
        return $"{prefix}{Part(top)}/{Part(bottom)}";
    }

    /// <summary>Null unless the code names two sums behind its prefix.</summary>
    private (SumFigure Top, SumFigure Bottom)? Pair(string code, string prefix)
    {
        if (code.Length > LongestCode)
            return null;
        var (depth, slash) = (0, -1);
        for (var i = prefix.Length; i < code.Length; i++)
        {
            depth += code[i] switch
            {
                '(' => 1,
                ')' => -1,
                _ => 0,
            };
            if (code[i] != '/' || depth != 0)
                continue;
            // A third part makes no pair.
            if (slash >= 0)
                return null;
            slash = i;
        }
        return
            slash >= 0
            && depth == 0
            && Of(code[prefix.Length..slash]) is SumFigure top
            && Of(code[(slash + 1)..]) is SumFigure bottom
            ? (top, bottom)
            : null;

        Figure? Of(string text) =>
            text.Length < 3
                ? null
                : Figure(
                    new(
                        text[0] == 'a' ? FigureKind.Account : FigureKind.Measure,
                        text[2] == '(' && text[^1] == ')' ? text[3..^1] : text[2..]
                    )
                );
    }

    /// <summary>Codes come from outside as well, and each nests the next: none is longer than a figure that somebody would ask
    /// for.</summary>
    private const int LongestCode = 2_000;

    /// <summary>Which way what is divided is good: income up, costs down, a count as its account says.</summary>
    private static GoodDirection GoodOf(SumFigure top) =>
        !top.IsProfit ? top.Good
        : top.ShownSign < 0 ? GoodDirection.Down
        : GoodDirection.Up;

    /// <summary>Null unless both are sums in the same unit and of the same sign, and neither is part of the other.</summary>
    private SumFigure? PlusFigure(FigureRef reference) =>
        Pair(reference.Code, PlusCode) is var (one, other)
        && one.Unit == other.Unit
        && one.OverTime == other.OverTime
        && one.ShownSign == other.ShownSign
        && one.IsProfit == other.IsProfit
        && !Overlap(one, other)
            ? one with
            {
                Ref = reference,
                Name = $"{one.Name} plus {Lower(other)}",
                Accounts = one.Accounts.AddRange(other.Accounts),
            }
            : null;

    /// <summary>Null unless both are sums in the same unit, or both count something: tests in % of slots.</summary>
    private PairFigure? PercentFigure(FigureRef reference) =>
        Pair(reference.Code, PercentCode) is var (top, bottom)
        && (top.Unit == bottom.Unit || (IsCount(top) && IsCount(bottom)))
        && top.OverTime == bottom.OverTime
        && !top.Accounts.SequenceEqual(bottom.Accounts)
            ? new PairFigure(reference, $"{top.Name} in % of {Lower(bottom)}", "%", 1, GoodOf(top), top, bottom, PairRule.Percent)
            : null;

    private bool IsCount(SumFigure figure) => !figure.IsProfit && figure.Unit != Definition.Currency;

    /// <summary>Null unless both are sums and the lower one counts something.</summary>
    private PairFigure? PerFigure(FigureRef reference) =>
        Pair(reference.Code, PerCode) is var (top, bottom) && IsCount(bottom)
            ? new PairFigure(
                reference,
                $"{top.Name} per {One(bottom.Name)}",
                $"{top.Unit} per {One(bottom.Unit)}",
                2,
                GoodOf(top),
                top,
                bottom,
                PairRule.Quotient
            )
            : null;

    /// <summary>
    /// Income less costs, or costs less income, is the sum of what is stored of both, since costs are stored with their effect on
    /// profit. Null unless both are sums in the same unit and neither is part of the other.
    /// </summary>
    private Figure? LessFigure(FigureRef reference)
    {
        if (
            Pair(reference.Code, LessCode) is not var (top, bottom)
            || top.Unit != bottom.Unit
            || top.OverTime != bottom.OverTime
            || Overlap(top, bottom)
        )
            return null;
        var name = $"{top.Name} less {Lower(bottom)}";
        return top.IsProfit && bottom.IsProfit && top.ShownSign != bottom.ShownSign
            ? top with
            {
                Ref = reference,
                Name = name,
                Accounts = top.Accounts.AddRange(bottom.Accounts),
            }
            : new PairFigure(reference, name, top.Unit, top.Decimals, GoodDirection.None, top, bottom, PairRule.Difference);
    }

    /// <summary>Of what there are many: passengers → passenger.</summary>
    private static string One(string name) => Language.Words.Phrase(name);

    private static string Lower(Figure figure) => figure.Name.ToLowerInvariant();

    private bool Overlap(SumFigure one, SumFigure other) =>
        one
            .Accounts.SelectMany(a => SelfAndBelow(Member(a)))
            .Select(m => m.Id)
            .ToHashSet()
            .Overlaps(other.Accounts.SelectMany(a => SelfAndBelow(Member(a))).Select(m => m.Id));

    /// <summary>Accounts of a type that stand below no other of it. Asked for with every covering of a question, and found
    /// once.</summary>
    private ImmutableArray<int> TopsOf(AccountType type) =>
        (
            _tops ??= MembersOf(Accounts.Id)
                .Where(m => m.ParentId is not { } parent || Member(parent).Account?.Type != m.Account?.Type)
                .ToLookup(m => m.Account?.Type, m => m.Id)
        )[type]
            .ToImmutableArray();

    /// <summary>The cost accounts that stand below no other; null in a book without any.</summary>
    private SumFigure? CostsFigure(FigureRef reference)
    {
        var tops = TopsOf(AccountType.Cost);
        return tops.Length == 0
            ? null
            : new SumFigure(
                reference,
                tops.Length == 1 ? Member(tops[0]).Name : "Costs",
                Definition.Currency,
                2,
                GoodDirection.None,
                tops,
                OverTime.Sum,
                -1,
                true
            );
    }

    public SumFigure AccountFigure(Member account)
    {
        var traits = account.Account ?? AccountTraits.Default(AccountType.Income);
        var unit = traits.Unit ?? Definition.Currency;
        return new SumFigure(
            new FigureRef(FigureKind.Account, account.Code),
            account.Name,
            unit,
            traits.Type == AccountType.Statistic ? 0 : 2,
            traits.Good,
            [account.Id],
            traits.OverTime,
            traits.ShownSign,
            traits.IsProfitAndLoss
        );
    }

    /// <summary>Codes in statement lines and measures that the book does not have, for a clear message on loading.</summary>
    public IEnumerable<string> MissingCodes() =>
        Definition
            .Statement.SelectMany(l => l.Sums)
            .Concat(Definition.Measures.SelectMany(m => new[] { m.Numerator, m.Denominator }))
            .Where(code => Part(code) is null)
            .Distinct();

    private SumFigure? Part(string code, int before = int.MaxValue)
    {
        if (code.Contains(" + ", StringComparison.Ordinal))
            return Together([.. code.Split(" + ", StringSplitOptions.TrimEntries).Select(c => Part(c, before))]);
        for (var i = 0; i < Definition.Statement.Length && i < before; i++)
            if (Definition.Statement[i].Code == code)
                return LineFigure(Definition.Statement[i]);
        return TryMember(Accounts.Id, code, out var account) ? AccountFigure(account) : null;
    }

    /// <summary>Several figures as one: a cost where all of them are costs.</summary>
    private SumFigure? Together(ImmutableArray<SumFigure?> parts) =>
        parts.Any(p => p is null)
            ? null
            : parts[0]! with
            {
                Name = string.Join(" and ", parts.Select(p => p!.Name)),
                Accounts = [.. parts.SelectMany(p => p!.Accounts)],
                ShownSign = parts.All(p => p!.ShownSign < 0) ? -1 : 1,
            };

    /// <summary>A line may use only lines above it, so that no circle can arise.</summary>
    private SumFigure? LineFigure(StatementLine line)
    {
        var accounts = ImmutableArray.CreateBuilder<int>();
        foreach (var code in line.Sums)
        {
            if (Part(code, Definition.Statement.IndexOf(line)) is not { } part)
                return null;
            accounts.AddRange(part.Accounts);
        }
        var reference = new FigureRef(FigureKind.Measure, line.Code);
        return new SumFigure(
            reference,
            line.Name,
            Definition.Currency,
            2,
            GoodDirection.None,
            accounts.ToImmutable(),
            OverTime.Sum,
            1,
            true
        );
    }

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
