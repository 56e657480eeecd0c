using System.Collections.Immutable;

namespace Bearing.Core.Loading;

/// <summary>Rows refused for one and the same cause.</summary>
/// <param name="First">The first of them, with what was wrong and what to do.</param>
/// <param name="Rows">Numbers of the first of the rows.</param>
/// <param name="Amount">Sum of their amounts, where rows tell it.</param>
public sealed record RefusedRows(Refusal First, long Count, ImmutableArray<int> Rows, decimal? Amount = null);

/// <summary>Collects refusals by cause, so that a wrong code on 10,000 rows is told once. Bounded, whatever the file.</summary>
/// <param name="each">Gets every refused row as it stands in the file, to be kept for whoever corrects it.</param>
public sealed class RefusalLog(Action<RawRow, Refusal>? each = null)
{
    private const int MostCauses = 1_000;
    private const int MostRows = 10;

    private readonly Dictionary<
        (string?, string?, string),
        (Refusal First, long Count, List<int> Rows, decimal? Amount)
    > _causes = [];

    /// <summary>Number of refused rows.</summary>
    public long Count { get; private set; }

    /// <summary>In the order in which the causes came up; the first 1,000 of them.</summary>
    public ImmutableArray<RefusedRows> Causes =>
        [.. _causes.Values.Select(c => new RefusedRows(c.First, c.Count, [.. c.Rows], c.Amount))];

    /// <param name="row">As it stands in the file; null when the refusal is of no single row.</param>
    public void Add(Refusal refusal, RawRow? row = null)
    {
        Count++;
        if (row is { } refused)
            each?.Invoke(refused, refusal);
        var key = (refusal.Column, refusal.Value, refusal.Because);
        if (!_causes.TryGetValue(key, out var cause))
        {
            if (_causes.Count == MostCauses)
                return;
            cause = (refusal, 0, [], null);
        }
        if (cause.Rows.Count < MostRows)
            cause.Rows.Add(refusal.Row);
        _causes[key] = cause with
        {
            Count = cause.Count + 1,
            Amount = refusal.Amount is { } amount ? (cause.Amount ?? 0m) + amount : cause.Amount,
        };
    }
}
