using System.Collections.Immutable;
using Bearing.Core.Commentary;
using Bearing.Core.Questions;
using Bearing.Core.Variance;

namespace Bearing.Core.Answering;

/// <summary>One part of a whole, for the headline.</summary>
public sealed partial class Answerer
{
    /// <summary>More than this is most of it, in percent.</summary>
    private const decimal Half = 50m;

    /// <summary>"Yes. Overtime: EUR 4.7k of EUR 5.8k, 80.8 %.", both amounts leading to their cells. Empty where no one part was
    /// asked for or nothing can be said of it.</summary>
    private static ImmutableArray<Segment> PartSaid(Question question, Tabulation table)
    {
        if (question.Of is { Part: { } place, Shares: null })
            return PlaceSaid(question, place, table);
        if (
            question.Of.Part is not { } asked
            || table.Grid.Rows.FirstOrDefault(r =>
                r.Members.LastOrDefault() is { } m && m.Dimension == asked.Dimension && m.Code == asked.Code
            )
                is not { } row
        )
            return [];
        var grid = table.Grid;
        var kind = question.Scope.Bases.IsEmpty ? ColumnKind.Subject : ColumnKind.Variance;
        if (grid.Value(row, kind).Number is not { } part || grid.Value(grid.Total, kind).Number is not { } whole || whole == 0m)
            return [];
        var share = 100m * part / whole;
        Segment Amount(Row of, decimal amount) =>
            new(
                (kind == ColumnKind.Subject && amount < 0m ? "minus " : "") + Amounts.Short(amount, table.Figure),
                amount,
                kind.ToString().ToLowerInvariant(),
                of.Slice
            );
        var name = row.Members[^1].Name;
        ImmutableArray<Segment> said = share switch
        {
            < 0m => [new($"{name}: "), Amount(row, part), new(" the other way. ")],
            > 100m =>
            [
                new($"{name} alone: "),
                Amount(row, part),
                new(FormattableString.Invariant($", {share:0.0} % of the ")),
                Amount(grid.Total, whole),
                new(", since others go the other way. "),
            ],
            _ =>
            [
                new($"{name}: "),
                Amount(row, part),
                new(" of "),
                Amount(grid.Total, whole),
                new(FormattableString.Invariant($", {share:0.0} %. ")),
            ],
        };
        if (asked.Claim is not { } claim)
            return said;
        if (claim == PartClaim.Most)
            return said.Insert(0, new(share > Half ? "Yes. " : "No. "));
        var others = grid.Innermost()
            .Where(r => r != row && !Within(r, row) && Math.Sign(grid.Value(r, kind).Number ?? 0m) == Math.Sign(whole))
            .ToList();
        return others.Count == 0 && share > 0m
            ? said.Insert(0, new("Yes. "))
            : said.Insert(0, new("No. ")).Add(new($"On that side: {Names(others)} "));
    }

    /// <summary>"No: Ellersby is number 5 of 7, with EUR 3.1m.", the amount leading to its cell. Empty where the row has no
    /// figures.</summary>
    private static ImmutableArray<Segment> PlaceSaid(Question question, PartAsked asked, Tabulation table)
    {
        var rows = table.Grid.Parts().Where(r => r.Kind != RowKind.Other).ToList();
        var at = rows.FindIndex(r => r.Members is [.., { } m] && m.Dimension == asked.Dimension && m.Code == asked.Code);
        var kind = question.Scope.Bases.IsEmpty ? ColumnKind.Subject : ColumnKind.Variance;
        if (at < 0 || table.Grid.Value(rows[at], kind).Number is not { } amount)
            return [];
        var lead =
            asked.Claim is null ? ""
            : at == 0 ? "Yes: "
            : "No: ";
        return
        [
            new(
                $"{lead}{rows[at].Members[^1].Name} is number {at + 1} of {rows.Count}, with {(kind == ColumnKind.Subject ? "" : "a variance of ")}"
            ),
            new(
                (amount < 0m ? "minus " : "") + Amounts.Short(amount, table.Figure),
                amount,
                kind.ToString().ToLowerInvariant(),
                rows[at].Slice
            ),
            new(". "),
        ];
    }

    private static bool Within(Row row, Row outer) =>
        row.Members.Length >= outer.Members.Length && row.Id.StartsWith(outer.Id + "/", StringComparison.Ordinal);
}
