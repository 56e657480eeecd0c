using System.Collections.Immutable;

namespace Bearing.Core.Books;

/// <summary>What can be asked for: accounts, lines of the statement, measures, and figures made of figures.</summary>
public sealed partial class Book
{
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
}
