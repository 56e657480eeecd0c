using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Store;
using Bearing.Core.Variance;

namespace Bearing.Core.Commentary;

public sealed partial class CommentaryWriter
{
    private Sentence DriverSentence(Driver driver, int index, DriverReport report)
    {
        var segments = ImmutableArray.CreateBuilder<Segment>();
        var figure = FigureOf(driver);
        var part = report.Total == 0m ? 0m : Math.Abs(driver.Variance / report.Total);
        var lead = (index, part) switch
        {
            (0, > 1.05m) => "More than all of it sits in ",
            (0, >= 0.999m) => "All of it sits in ",
            (0, >= 0.9m) => "Nearly all of it sits in ",
            (0, >= 0.5m) => "Most of it sits in ",
            (0, _) => "The largest part sits in ",
            (1, _) => "Next comes ",
            _ => "Then ",
        };
        segments.Add(new(lead + Titled(driver) + ": "));
        segments.Add(new(Direction(driver.Variance)));
        segments.Add(Fig(driver.Variance, "variance", driver.Slice, figure));
        segments.Add(new(" ("));
        segments.Add(Fig(driver.Subject, "subject", driver.Slice, figure));
        segments.Add(
            new(driver.Base == 0m ? $" with nothing in {book.NameOf(question.Scope.Bases[0], table.Spans[0])})" : " against ")
        );
        if (driver.Base != 0m)
        {
            segments.Add(Fig(driver.Base, "base", driver.Slice with { Side = question.Scope.Bases[0] }, figure));
            segments.Add(new(")"));
        }
        for (var i = 0; i < driver.Below.Length; i++)
        {
            var below = driver.Below[i];
            segments.Add(
                new(
                    (
                        i == 0
                            ? driver.IsEven
                                ? ", spread over "
                                : below.Variance == driver.Variance
                                    ? ", all in "
                                    : ", mainly "
                            : i == driver.Below.Length - 1
                                ? " and "
                                : ", "
                    )
                        + Titled(below)
                        + " ("
                )
            );
            segments.Add(Fig(below.Variance, "variance", below.Slice, FigureOf(below)));
            segments.Add(new(")"));
        }
        segments.Add(new("."));
        return new(SentenceRole.Driver, segments.ToImmutable());
    }

    private Sentence TimingSentence(Slice slice, string name, TimingEvidence timing) =>
        new(
            SentenceRole.Timing,
            [
                new($"{book.Calendar.NameOf(timing.Period)} shows "),
                Fig(timing.Variance, "variance", slice with { Span = PeriodSpan.Of(timing.Period) }, FigureOf(slice)),
                new($" the other way in {name}, so the two months together nearly level out: a sign of timing."),
            ]
        );

    private Sentence Offsets(DriverReport report)
    {
        var segments = ImmutableArray.CreateBuilder<Segment>();
        for (var i = 0; i < report.Offsets.Length; i++)
        {
            var offset = report.Offsets[i];
            segments.Add(
                new(
                    i == 0 ? "Against this, "
                    : i == report.Offsets.Length - 1 ? " and "
                    : ", "
                )
            );
            segments.Add(new(Titled(offset) + " was "));
            segments.Add(Fig(offset.Variance, "variance", offset.Slice, FigureOf(offset)));
            segments.Add(
                new(
                    offset.Variance * GoodSign > 0 ? " favourable"
                    : offset.Variance * GoodSign < 0 ? " unfavourable"
                    : offset.Variance > 0 ? " higher"
                    : " lower"
                )
            );
        }
        segments.Add(new("."));
        return new(SentenceRole.Offset, segments.ToImmutable());
    }

    private Sentence Rest(DriverReport report) =>
        new(
            SentenceRole.Rest,
            [
                new("The remaining "),
                Fig(report.Rest, "variance", _grid.Total.Slice),
                new(
                    $"{(GoodSign == 0 ? "" : report.Rest > 0 ? " favourable" : " unfavourable")} is spread over {report.RestMembers} smaller movement{(report.RestMembers == 1 ? "" : "s")} by {report.Cut.ToLowerInvariant()}."
                ),
            ]
        );

    private static Sentence Standout(StandoutEntry entry)
    {
        var text = entry.Line.Text.Length > 60 ? entry.Line.Text[..59] + "…" : entry.Line.Text;
        return new(
            SentenceRole.Entry,
            [
                new(
                    $"In {entry.Driver.Member.Name} one entry stands out: {(text.Length == 0 ? "one without a text" : $"“{text}”")} ({entry.Line.Document}, "
                ),
                new(
                    Amounts.Short(entry.Line.Amount, entry.Figure),
                    entry.Line.Amount * entry.Figure.ShownSign,
                    "subject",
                    entry.Driver.Slice
                ),
                new(")."),
            ]
        );
    }

    /// <summary>What a ranking puts first, which is what was asked for.</summary>
    private IEnumerable<Segment> First()
    {
        if (
            question.Layout.Ranking is not { Count: < Ranking.All, BothEnds: false, Within: false, Pairs: false } ranking
            || question.Layout.Rows.Length != 1
            || question.Layout.Conditions.Length > 0
        )
            yield break;
        if (
            _grid.Rows.FirstOrDefault(r => r.Kind == RowKind.Member) is not { } first
            || _grid.Value(first, ColumnKind.Subject).Number is not { } value
        )
            yield break;
        yield return new(
            $"{(ranking.By == RankBy.Unusual ? "Furthest from the usual is"
                : ranking.Skip > 0 ? $"Number {ranking.Skip + 1} is"
                : "First comes")} {first.Label} with "
        );
        yield return Fig(value, "subject", first.Slice, FigureOf(first.Slice));
        if (_grid.Value(first, ColumnKind.Variance).Number is { } variance && question.Scope.Bases.Length > 0 && variance != 0m)
        {
            yield return new(", ");
            yield return Fig(
                variance,
                "variance",
                first.Slice,
                FigureOf(first.Slice),
                points: _figure is PairFigure { Rule: PairRule.Percent }
            );
            yield return new(
                $" {(value > _grid.Value(first, ColumnKind.Base).Number ? "above" : "below")} {book.NameOf(question.Scope.Bases[0], table.Spans[0])}"
            );
        }
        yield return new(". ");
    }

    private Sentence? LargestRow()
    {
        if (_figure is not SumFigure { OverTime: OverTime.Sum })
            return null;
        var rows = _grid.Parts().Where(r => r.Kind != RowKind.Other).ToList();
        if (rows.Count < 2)
            return null;
        var largest = rows.MaxBy(r => _grid.Value(r, ColumnKind.Subject).Number ?? decimal.MinValue)!;
        return new(
            SentenceRole.Driver,
            [
                new($"The largest of the {rows.Count} is {largest.Label} with "),
                Fig(_grid.Value(largest, ColumnKind.Subject).Number ?? 0m, "subject", largest.Slice, FigureOf(largest.Slice)),
                new("."),
            ]
        );
    }
}
