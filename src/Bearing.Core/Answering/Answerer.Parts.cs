using Bearing.Core.Commentary;
using Bearing.Core.Variance;

namespace Bearing.Core.Answering;

/// <summary>One part of a whole, for the headline.</summary>
public sealed partial class Answerer
{
    /// <summary>More than this is most of it, in percent.</summary>
    private const decimal Half = 50m;

    /// <summary>"Yes. Overtime: EUR 4.7k of EUR 5.8k, 80.8 %." Null where no one part was asked for or nothing can be said of it.</summary>
    private static string? PartSaid(Question question, Tabulation table)
    {
        if (question.Part is not { } asked || table.Grid.Rows.FirstOrDefault(r => r.Members.LastOrDefault() is { } m && m.Dimension == asked.Dimension && m.Code == asked.Code) is not { } row) return null;
        var grid = table.Grid;
        var kind = question.Bases.IsEmpty ? ColumnKind.Subject : ColumnKind.Variance;
        if (Share(grid, row, kind) is not { } share || grid.Value(row, kind).Number is not { } amount || grid.Value(grid.Total, kind).Number is not { } whole) return null;
        var name = row.Members[^1].Name;
        var (its, all) = (Amounts.Short(Math.Abs(amount), table.Figure), Amounts.Short(Math.Abs(whole), table.Figure));
        var said = share switch
        {
            < 0m => $"{name}: {its} the other way",
            > 100m => FormattableString.Invariant($"{name} alone: {its}, {share:0.0} % of the {all}, since others go the other way"),
            _ => FormattableString.Invariant($"{name}: {its} of {all}, {share:0.0} %"),
        };
        if (asked.Claim is not { } claim) return said + ". ";
        if (claim == PartClaim.Most) return $"{(share > Half ? "Yes" : "No")}. {said}. ";
        var others = grid.Innermost().Where(r => r != row && !Within(r, row) && Math.Sign(grid.Value(r, kind).Number ?? 0m) == Math.Sign(whole)).ToList();
        return others.Count == 0 && share > 0m ? $"Yes. {said}. " : $"No. {said}. On that side: {Names(others)} ";
    }

    /// <summary>Part of the total in percent; null where there is none, or no total.</summary>
    private static decimal? Share(Grid grid, Row row, ColumnKind kind) => grid.Value(grid.Total, kind).Number is { } whole and not 0m && grid.Value(row, kind).Number is { } part ? 100m * part / whole : null;

    private static bool Within(Row row, Row outer) => row.Members.Length >= outer.Members.Length && row.Id.StartsWith(outer.Id + "/", StringComparison.Ordinal);
}
