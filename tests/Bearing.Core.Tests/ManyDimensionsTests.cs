using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Store;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Books have as many dimensions as a group wants: cells of different members never fall together, however many there
/// are.</summary>
public sealed class ManyDimensionsTests
{
    [Theory]
    [InlineData(3, false)]
    [InlineData(12, false)]
    [InlineData(12, true)]
    [InlineData(20, true)]
    public async Task Sums_are_those_of_the_rows_by_every_combination_of_members(int dimensions, bool byPeriod)
    {
        var random = new Random(dimensions);
        // Few members of high numbers, so that keys are long and combinations are met again.
        int[] members = [1, 2, 40_000, 1_000_000, int.MaxValue];
        var rows = Enumerable
            .Range(0, 4_000)
            .Select(_ =>
                (
                    Month: random.Next(1, 13),
                    Members: Enumerable
                        .Range(0, dimensions)
                        .Select(d => members[d % 3 == 0 ? random.Next(members.Length) : d % members.Length])
                        .ToArray(),
                    Amount: random.Next(-1_000_000, 1_000_000) / 100m
                )
            )
            .ToList();
        ImmutableArray<int> ids = [.. Enumerable.Range(1, dimensions)];
        var facts = new MemoryFacts(
            new BookView(1),
            ids,
            rows.Select(r => new Cell(
                1,
                new Period(2026, r.Month).Ordinal,
                r.Members,
                (long)(r.Amount * 10_000m),
                1,
                default,
                (long)(r.Amount * 10_000m)
            ))
        );

        var cells = await facts.Cells(
            new CellQuery(1, new PeriodSpan(new(2026, 1), new(2026, 12)), [], ids, byPeriod),
            TestContext.Current.CancellationToken
        );

        var expected = rows.GroupBy(r =>
                (Members: string.Join(',', r.Members), Period: byPeriod ? new Period(2026, r.Month).Ordinal : 0)
            )
            .ToDictionary(g => g.Key, g => (g.Sum(r => r.Amount), (long)g.Count()));
        Assert.Equal(expected.Count, cells.Count);
        Assert.All(cells, c => Assert.Equal(expected[(string.Join(',', c.Members), c.Period)], (c.Amount, c.Lines)));
    }
}
