using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Store;

namespace Bearing.Core.Variance;

/// <summary>
/// What has to be said of a total over several entities: it is a sum and not consolidated, entities that belong to the group in
/// part count whole, and what entities post with each other should come to nothing.
/// </summary>
internal sealed class GroupTotal(Book book, IFacts facts)
{
    private const int MostPairs = 3;

    /// <param name="side">The question's own side.</param>
    public async ValueTask<ImmutableArray<string>> Notes(
        Question question,
        SumFigure figure,
        SidePlan side,
        CancellationToken cancel
    )
    {
        if (figure.Unit != book.Definition.Currency || side.Version?.Coverage is not { } coverage)
            return [];
        var filters = Scoping.Filters(book, question.Scope.Filters);
        var scope = filters.Where(f => f.Dimension == book.Entities.Id).ToList();
        var entities = coverage
            .Entities.Where(e => e >= Member.FirstOwnId && scope.TrueForAll(f => f.Members.Contains(e) != f.Exclude))
            .Select(book.Member)
            .ToList();
        if (entities.Count < 2)
            return [];
        var partly = entities
            .Where(e => e.Entity is { OwnedPercent: < 100m })
            .Select(e => FormattableString.Invariant($"{e.Name} ({e.Entity!.OwnedPercent:0.##} %)"))
            .ToList();
        var sum =
            $"A sum of {entities.Count:N0} {Words.Plural(book.Entities.Name.ToLowerInvariant())}, not consolidated.{(partly.Count == 0 ? "" : $" What belongs to the group in part counts whole: {string.Join(", ", partly)}.")}";
        return figure.IsProfit ? [sum, .. await Mismatch(figure, side, filters, entities, cancel)] : [sum];
    }

    /// <summary>Accounts whose name, or that of a group above them, says that entities of the group post on them with each
    /// other.</summary>
    private ImmutableHashSet<int> Accounts() =>
        [
            .. book.MembersOf(book.Accounts.Id)
                .Where(a => book.PathTo(a.Id).Any(above => IsIntraGroup(book.Member(above).Name)))
                .Select(a => a.Id),
        ];

    private static bool IsIntraGroup(string name)
    {
        var stems = Words.Tokens(name).Select(t => t.Stem).ToList();
        return Vocabulary.English.IntraGroup.Any(phrase =>
            Enumerable
                .Range(0, Math.Max(0, stems.Count - phrase.Length + 1))
                .Any(at => phrase.SequenceEqual(stems.Skip(at).Take(phrase.Length)))
        );
    }

    /// <summary>What does not cancel out, by pair where lines name the other side, else by entity.</summary>
    private async ValueTask<IEnumerable<string>> Mismatch(
        SumFigure figure,
        SidePlan side,
        ImmutableArray<MemberFilter> filters,
        List<Member> entities,
        CancellationToken cancel
    )
    {
        var accounts = Scoping.Accounts(book, figure).Members.Intersect(Accounts());
        if (accounts.IsEmpty)
            return [];
        var partner = book.Definition.Dimensions.FirstOrDefault(d =>
            d.Role == DimensionRole.Other
            && side.Kept.Contains(d.Id)
            && book.MembersOf(d.Id).Count(m => EntityOf(m) is not null) > 1
        );
        ImmutableArray<int> groupBy = partner is null ? [book.Entities.Id] : [book.Entities.Id, partner.Id];
        var cells = await facts.Cells(
            new CellQuery(
                side.Version!.Id,
                side.Stored,
                filters.Add(new MemberFilter(book.Accounts.Id, accounts, false)),
                groupBy,
                false
            ),
            cancel
        );
        var left = cells.Sum(c => c.Amount);
        if (partner is null)
            return IsNothing(left)
                ? []
                :
                [
                    $"What its {Words.Plural(book.Entities.Name.ToLowerInvariant())} post with each other does not cancel out: {Said(left)} remains ({string.Join(", ", cells.OrderByDescending(c => Math.Abs(c.Amount)).Take(MostPairs).Select(c => $"{book.Label(c.Members[0]).Name} {Said(c.Amount)}"))}).",
                ];
        var pairs = cells
            .Where(c => c.Amount != 0m && c.Members[1] >= Member.FirstOwnId && EntityOf(book.Member(c.Members[1])) is not null)
            .GroupBy(c => Ordered(c.Members[0], EntityOf(book.Member(c.Members[1]))!.Id))
            .Select(g => (g.Key, Left: g.Sum(c => c.Amount)))
            .Where(p =>
                !IsNothing(p.Left) && entities.Exists(e => e.Id == p.Key.One) && entities.Exists(e => e.Id == p.Key.Other)
            )
            .OrderByDescending(p => Math.Abs(p.Left))
            .ToList();
        return pairs
            .Take(MostPairs)
            .Select(p =>
                $"{book.Label(p.Key.One).Name} and {book.Label(p.Key.Other).Name} do not agree on what they post with each other: {Said(p.Left)} remains."
            );
    }

    /// <summary>What is less than half a cent comes of translating line by line.</summary>
    private static bool IsNothing(decimal left) => Math.Abs(left) < 0.005m;

    private static (int One, int Other) Ordered(int one, int other) => (Math.Min(one, other), Math.Max(one, other));

    private Member? EntityOf(Member partner) => book.TryMember(book.Entities.Id, partner.Code, out var entity) ? entity : null;

    private string Said(decimal amount) =>
        FormattableString.Invariant($"{book.Definition.Currency} {amount:#,##0.00;(#,##0.00)}");
}
