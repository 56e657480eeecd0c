using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Commentary;
using Bearing.Core.Questions;
using Bearing.Core.Variance;

namespace Bearing.Core.Answering;

/// <summary>What a headline says before anything else: yes or no, one part of a whole, a place in the order, a count or an
/// average.</summary>
internal sealed class FirstSaid(Book book, Tabulator tabulator, Question question, Tabulation table)
{
    private const int MostRowsNamed = 5;

    /// <summary>More than this is most of it, in percent.</summary>
    private const decimal Half = 50m;

    /// <summary>Parts of what was missing from which on it has come back, and up to which it has not.</summary>
    private const decimal NearlyAll = 0.9m,
        NearlyNone = 0.1m;

    /// <summary>The headline with what was asked for in front of it.</summary>
    public async ValueTask<Sentence> Before(Sentence headline, CancellationToken cancel)
    {
        if (PartSaid() is { IsEmpty: false } part)
            headline = headline with { Segments = headline.Segments.InsertRange(0, part) };
        else if (Summary() is { } summary)
            headline = headline with { Segments = headline.Segments.Insert(0, new Segment(summary)) };
        if (question.Of.Claim is { Direction: var bigger, Than: { } than })
            return headline with { Segments = headline.Segments.Insert(0, new Segment(await Against(than, bigger, cancel))) };
        return question.Of.Claim is { Direction: var claim } && !IsOfAny ? Verdict(claim, headline) : headline;
    }

    /// <summary>"Yes. Overtime: EUR 4.7k of EUR 5.8k, 80.8 %.", both amounts leading to their cells. Empty where no one part was
    /// asked for or nothing can be said of it.</summary>
    private ImmutableArray<Segment> PartSaid()
    {
        if (question.Of is { Part: { } place, Shares: null })
            return PlaceSaid(place);
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
    private ImmutableArray<Segment> PlaceSaid(PartAsked asked)
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

    /// <summary>What was assigned to no member is a row, and nobody that could be counted.</summary>
    private bool IsNobody(RowMember member) =>
        book.TryDimension(member.Dimension, out var dimension) && !book.TryMember(dimension.Id, member.Code, out _);

    /// <summary>Yes where any row meets the condition, and those that do are the answer.</summary>
    private bool IsOfAny => question is { Of.Claim.Of: Quantifier.Any, Layout.Conditions.IsEmpty: false };

    /// <summary>What an average or a count came to, for the headline; null where none was asked for.</summary>
    private string? Summary()
    {
        if (table.Counted is { } counted)
        {
            if (question.Layout.Conditions.IsEmpty)
                return FormattableString.Invariant($"{counted.Met:N0} of them have figures. ");
            if (counted.Met == 0)
                return FormattableString.Invariant($"{(IsOfAny ? "No, none" : "None")} of {counted.Of:N0}. ");
            return FormattableString.Invariant(
                $"{(IsOfAny ? "Yes, " : "")}{counted.Met:N0} of {counted.Of:N0}: {Names([.. table.Grid.Rows.Where(r => r.Kind == (question.Layout.InEvery ? RowKind.Subtotal : RowKind.Member) && r.Members.All(m => !IsNobody(m)))])} "
            );
        }
        if (table.Grid.Rows.LastOrDefault(r => r.Kind == RowKind.Summary) is not { } row)
            return null;
        if (question is { Growth: true, Of.Statistic: RowStatistic.Difference })
            return table.Grid.Value(row, ColumnKind.Percent).Number is { } points
                ? FormattableString.Invariant($"{row.Label}: {points:+0.0;minus 0.0} percentage points of growth. ")
                : null;
        if (table.Grid.Value(row, ColumnKind.Subject).Number is not { } value)
            return null;
        return $"{row.Label}: {(value < 0 ? "minus " : "")}{Amounts.Short(value, table.Figure)}. ";
    }

    /// <summary>Yes or no first: of the total, of any or every row where that was said, or where rows are months of every one of
    /// them.</summary>
    private Sentence Verdict(Direction claim, Sentence headline)
    {
        var of = question.Of.Claim?.Of;
        var grid = table.Grid;
        if (of == Quantifier.Gap)
            return GapVerdict(claim, headline);
        if (of == Quantifier.Judged)
            return headline with
            {
                Segments = headline.Segments.Insert(
                    0,
                    new Segment(
                        Effect(grid.Total) switch
                        {
                            < 0m => "Bad. ",
                            > 0m => "Good. ",
                            0m => "Neither: it is as planned. ",
                            null => "It is neither good nor bad in itself. ",
                        }
                    )
                ),
            };
        if (of == Quantifier.Late)
            return LateVerdict(headline);
        if (of == Quantifier.Better)
            return BetterVerdict(claim, headline);
        if (of == Quantifier.Planned)
            return PlannedVerdict(headline);
        var members = grid.Innermost().Where(r => !r.Members.Any(IsNobody)).ToList();
        var ofTime = members.Exists(r => r.Members.Any(m => m.Dimension == "period"));
        var difference =
            question.Of.Statistic == RowStatistic.Difference ? grid.Rows.LastOrDefault(r => r.Kind == RowKind.Summary) : null;
        var rows =
            difference is not null ? [difference]
            : members.Count > 0 && (of is not null || ofTime) ? members
            : [grid.Total];
        var good = table.Figure is SumFigure { ShownSign: < 0, IsProfit: true } or { Good: GoodDirection.Down } ? -1 : 1;
        bool Holds(Row row)
        {
            if (difference is not null && question.Growth)
                return grid.Value(row, ColumnKind.Percent).Number is { } points && GridWriter.Holds(claim, points, points * good);
            // Without anything to compare with it is above or below zero.
            if (table.Spans.Length > 0 && grid.Columns.All(c => c.Kind != ColumnKind.Base))
                return grid.Value(row, ColumnKind.Subject).Number is { } own && GridWriter.Holds(claim, own, own * good);
            // Held against several, it is so where it is so of each.
            return Enumerable
                .Range(0, Math.Max(1, question.Scope.Bases.Length))
                .All(b =>
                {
                    if (
                        grid.Value(row, ColumnKind.Subject).Number is not { } subject
                        || grid.Value(row, ColumnKind.Base, 0, b).Number is not { } reference
                    )
                        return false;
                    var mark = grid.Value(row, ColumnKind.Mark, 0, b).Mark;
                    return GridWriter.Holds(
                        claim,
                        subject - reference,
                        mark == "F" ? 1m
                            : mark == "U" ? -1m
                            : 0m
                    );
                });
        }
        // Who asks why takes it for granted: only what is not so is said.
        if (question.Kind is Kind.Why)
            return Holds(grid.Total)
                ? headline
                : headline with
                {
                    Segments = headline.Segments.Insert(0, new Segment("That is not so. ")),
                };
        var holding = rows.Where(Holds).ToList();
        var counted = FormattableString.Invariant(
            $"{(ofTime ? "in " : "")}{holding.Count:N0} of {rows.Count:N0}{(ofTime ? members.TrueForAll(r => r.Members.Length == 1) ? " months" : " rows" : "")}"
        );
        var word = (of, holding.Count) switch
        {
            _ when rows.Count == 1 => holding.Count == 1 ? "Yes. " : "No. ",
            (_, 0) => $"No, {counted}. ",
            (Quantifier.Any, _) => $"Yes, {counted}: {Names(holding)} ",
            var (_, n) when n == rows.Count => $"Yes, {counted}. ",
            (Quantifier.Every, _) => $"No, {counted}; not {Names([.. rows.Except(holding)])} ",
            _ => $"No, {counted}. ",
        };
        return headline with { Segments = headline.Segments.Insert(0, new Segment(word)) };
    }

    /// <summary>Whether the gap is larger, or smaller, in the last month that was added up than in the one before.</summary>
    private Sentence GapVerdict(Direction claim, Sentence headline)
    {
        var grid = table.Grid;
        var months = grid.Innermost().Where(r => grid.Value(r, ColumnKind.Variance).Number is not null).TakeLast(2).ToList();
        var word =
            months is [var before, var last]
            && grid.Value(before, ColumnKind.Variance).Number is { } was
            && grid.Value(last, ColumnKind.Variance).Number is { } now
                ? $"{((claim == Direction.Over ? Math.Abs(now) > Math.Abs(was) : Math.Abs(now) < Math.Abs(was)) ? "Yes" : "No")}: the gap was {Amounts.Short(was, table.Figure)} up to {before.Label} and is {Amounts.Short(now, table.Figure)} up to {last.Label}. "
                : "One month alone does not tell. ";
        return headline with { Segments = headline.Segments.Insert(0, new Segment(word)) };
    }

    /// <summary>Whether the total stands better, or worse, against the first base than against the second.</summary>
    private Sentence BetterVerdict(Direction claim, Sentence headline)
    {
        var (grid, total) = (table.Grid, table.Grid.Total);
        if (Effect(total) is not { } now || Effect(total, 1) is not { } usual)
            return headline;
        var word =
            now == usual ? "Neither better nor worse"
            : now > usual == (claim == Direction.For) ? $"Yes, {(now > usual ? "better" : "worse")}"
            : $"No, {(now > usual ? "better" : "worse")}";
        string Gap(decimal effect, int at) =>
            $"{Amounts.Short(Math.Abs(effect), table.Figure)} {(effect < 0m ? "unfavourable" : "favourable")} to {book.NameOf(question.Scope.Bases[at], table.Spans[0])}";
        return headline with
        {
            Segments = headline.Segments.Insert(0, new Segment($"{word}: {Gap(now, 0)}, and {Gap(usual, 1)}. ")),
        };
    }

    /// <summary>What a row's variance from a base does to profit; null where nothing tells.</summary>
    private decimal? Effect(Row row, int at = 0)
    {
        if (table.Grid.Value(row, ColumnKind.Variance, 0, at).Number is not { } variance)
            return null;
        return table.Grid.Value(row, ColumnKind.Mark, 0, at).Mark switch
        {
            "U" => -Math.Abs(variance),
            "F" => Math.Abs(variance),
            _ => variance == 0m ? 0m : null,
        };
    }

    /// <summary>Whether what the worst month is short of has come in a later one.</summary>
    private Sentence LateVerdict(Sentence headline)
    {
        var grid = table.Grid;
        var months = grid.Innermost().Select(r => (Row: r, Effect: Effect(r) ?? 0m)).ToList();
        if (months.Count == 0 || months.MinBy(m => m.Effect) is not { Effect: < 0m } worst)
            return headline with { Segments = headline.Segments.Insert(0, new Segment("Nothing is missing in any month. ")) };
        var missing = -worst.Effect;
        var after = months.SkipWhile(m => m.Row != worst.Row).Skip(1).ToList();
        var back = after.Where(m => m.Effect > 0m).Sum(m => m.Effect);
        var largest = after.Count > 0 ? after.MaxBy(m => m.Effect) : worst;
        string Short(decimal amount) => Amounts.Short(amount, table.Figure);
        var said =
            back >= missing * NearlyAll
                ? $"Only late: {Short(missing)} unfavourable in {worst.Row.Label} came back later, most of it in {largest.Row.Label}. "
            : back <= missing * NearlyNone
                ? $"Not made up so far: {Short(missing)} unfavourable in {worst.Row.Label} has not come back {(after.Count == 0 ? "yet, and no later month is closed" : "since")}. "
            : $"In part: of {Short(missing)} unfavourable in {worst.Row.Label}, {Short(back)} came back later. ";
        return headline with { Segments = headline.Segments.Insert(0, new Segment(said)) };
    }

    /// <summary>Which of the plans have anything of it.</summary>
    private Sentence PlannedVerdict(Sentence headline)
    {
        var grid = table.Grid;
        var sides = question
            .Scope.Bases.Select((b, i) => (Side: b, grid.Value(grid.Total, ColumnKind.Base, 0, i).Number))
            .Prepend((question.Scope.Subject, grid.Value(grid.Total, ColumnKind.Subject).Number))
            .Select(s => (Name: book.NameOf(s.Item1, table.Spans[0]), Has: s.Number is not (null or 0m)))
            .ToList();
        static string Or(IEnumerable<string> names) => string.Join(" or ", names);
        var (has, lacks) = (sides.FindAll(s => s.Has), sides.FindAll(s => !s.Has));
        var said =
            has.Count == 0 ? $"No, not in {Or(lacks.Select(s => s.Name))}. "
            : lacks.Count == 0 ? $"Yes, in {string.Join(" and ", has.Select(s => s.Name))}. "
            : $"In {string.Join(" and ", has.Select(s => s.Name))} yes, in {Or(lacks.Select(s => s.Name))} no. ";
        return headline with { Segments = headline.Segments.Insert(0, new Segment(said)) };
    }

    /// <summary>Whether one figure moves more than another: both by their totals, in percent where growth is claimed.</summary>
    private async ValueTask<string> Against(FigureRef than, Direction claim, CancellationToken cancel)
    {
        var kind = question.Growth ? ColumnKind.Percent : ColumnKind.Subject;
        var other = await tabulator.Tabulate(
            question
                .In(s => s with { Figure = than })
                .Laid(l => l with { Rows = [] })
                .Asking(of => of with { Claim = null, Statistic = null }),
            cancel
        );
        if (
            table.Grid.Value(table.Grid.Total, kind).Number is not { } own
            || other.Grid.Value(other.Grid.Total, kind).Number is not { } its
            || table.Figure.Unit != other.Figure.Unit && !question.Growth
        )
            return $"{table.Figure.Name} and {other.Figure.Name} cannot be held against each other here. ";
        string Said(decimal value, Figure figure) =>
            question.Growth
                ? FormattableString.Invariant($"{figure.Name} {value:+0.0;minus 0.0;0.0} %")
                : $"{figure.Name} {(value < 0 ? "minus " : "")}{Amounts.Short(value, figure)}";
        return $"{(GridWriter.Holds(claim, own - its, own - its) ? "Yes" : "No")}: {Said(own, table.Figure)}, {Said(its, other.Figure)}. ";
    }

    /// <summary>The first of them, by name.</summary>
    private static string Names(IReadOnlyList<Row> rows) =>
        string.Join(
            ", ",
            rows.Take(MostRowsNamed).Select(r => string.Join(" ", r.Members.GroupBy(m => m.Dimension).Select(g => g.Last().Name)))
        ) + (rows.Count > MostRowsNamed ? " …" : ".");
}
