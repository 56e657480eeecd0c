using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;

namespace Bearing.Core.Variance;

/// <summary>One side over one span, resolved to stored facts.</summary>
/// <param name="Version">Null when the side has nothing for the span; <paramref name="Absence"/> says why.</param>
/// <param name="Shift">Months by which stored periods lie before the subject's.</param>
/// <param name="Kept">Dimensions (ids) that the side keeps apart for what is asked.</param>
internal sealed record SidePlan(
    Side Side,
    ScenarioVersion? Version,
    PeriodSpan Stored,
    int Shift,
    Absence? Absence,
    ImmutableHashSet<int> Kept
);

/// <param name="Span">The periods that all sides present cover.</param>
internal sealed record BlockPlan(PeriodSpan Span, ImmutableArray<SidePlan> Sides);

/// <summary>
/// Decides what can be compared before anything is computed: only periods and entities that both sides cover,
/// and only by dimensions that both sides keep. What was left out is said in <see cref="Notes"/>.
/// </summary>
internal sealed class ComparisonPlan
{
    private readonly Book _book;
    private readonly Question _question;
    private readonly List<string> _notes = [];
    private readonly Figure? _figure;
    private CannotAnswerException? _unkept;
    private readonly ImmutableArray<(SumFigure Figure, ImmutableHashSet<int> Accounts)> _parts;

    public ComparisonPlan(Book book, Question question)
    {
        (_book, _question) = (book, question);
        _figure = book.Figure(question.Scope.Figure);
        _parts = Parts();
        Blocks = [.. question.Scope.Spans.Select(Plan)];
        RefuseWhereNothingCompares();
        EntityFilter = CoveredEntities();
        var entities = Scoping.Filters(book, question.Scope.Filters).Where(f => f.Dimension == book.Entities.Id).ToList();
        var (money, counts) = (
            _parts.Any(p => p.Figure.Unit == book.Definition.Currency),
            _parts.Any(p => p.Figure.Unit != book.Definition.Currency)
        );
        foreach (var side in Blocks.SelectMany(b => b.Sides).Where(s => s.Version is not null))
            _notes.AddRange(
                book.Remarks.Where(r =>
                        r.Version == side.Version!.Id
                        && r.Periods.Intersect(side.Stored) is not null
                        && (r.OfStatistics ? counts : money)
                        && r.Entities.Any(e => entities.TrueForAll(f => f.Members.Contains(e) != f.Exclude))
                    )
                    .Select(r => r.Text)
                    .Where(t => !_notes.Contains(t))
            );
    }

    public ImmutableArray<BlockPlan> Blocks { get; }

    /// <summary>Drops entities that a base does not cover; null when all are covered.</summary>
    public MemberFilter? EntityFilter { get; }

    public IEnumerable<string> Notes => _notes;

    private BlockPlan Plan(PeriodSpan asked)
    {
        var subject = Resolve(_question.Scope.Subject, asked);
        if (subject.Version is null)
            throw _unkept ?? Missing(_question.Scope.Subject, asked);
        var sides = _question.Scope.Bases.Select(side => Resolve(side, asked)).Prepend(subject).ToList();
        var present = sides.Where(s => s.Version is not null).ToList();
        var common = present
            .Select(s => Covered(s))
            .Aggregate<PeriodSpan, PeriodSpan?>(asked, (span, covered) => span?.Intersect(covered));
        if (common is not { } used)
            throw new CannotAnswerException(
                $"{string.Join(" and ", present.Select(s => _book.NameOf(s.Side)))} have no period in common in {_book.Calendar.NameOf(asked)}."
            );
        if (used != asked)
            _notes.Add(NoteNarrowed(asked, used, present));
        // Months stay matched when the span shrinks: each side keeps its distance.
        return new BlockPlan(used, [.. sides.Select(s => s with { Stored = used.AddMonths(-s.Shift) })]);
    }

    /// <summary>Accounts of the figure, of a ratio those of either part, as far as filters leave them.</summary>
    private ImmutableArray<(SumFigure Figure, ImmutableHashSet<int> Accounts)> Parts()
    {
        var sums = _figure switch
        {
            SumFigure sum => [sum],
            PairFigure pair => new[] { pair.Top, pair.Bottom },
            _ => [],
        };
        var filters = Scoping.Filters(_book, _question.Scope.Filters).Where(f => f.Dimension == _book.Accounts.Id).ToList();
        return
        [
            .. sums.Select(
                (s, i) =>
                    (
                        s,
                        Scoping
                            .Accounts(_book, s)
                            .Members.Where(a => i > 0 || filters.TrueForAll(f => f.Members.Contains(a) != f.Exclude))
                            .ToImmutableHashSet()
                    )
            ),
        ];
    }

    public Keeping KeepsOfSubject(Dimension dimension) =>
        Blocks[0].Sides[0].Version is { } version ? Keeps(version, dimension) : Keeping.Whole;

    /// <summary>How a version keeps a dimension of what is asked; of a ratio, how it keeps the part it keeps least.</summary>
    private Keeping Keeps(ScenarioVersion version, Dimension dimension) =>
        dimension.Role != DimensionRole.Other ? Keeping.Whole
        : !version.Coverage!.KeptDimensions.Contains(dimension.Id) ? Keeping.Not
        : _parts.Select(p => Keeps(version, dimension, p.Figure, p.Accounts)).DefaultIfEmpty(Keeping.Whole).Max();

    /// <summary>Costs are whole without the little income that stands among their accounts.</summary>
    private Keeping Keeps(ScenarioVersion version, Dimension dimension, SumFigure figure, ImmutableHashSet<int> accounts) =>
        _book.Keeps(version.Id, dimension.Id, accounts) is var keeps
        && keeps == Keeping.CostsOnly
        && figure is { IsProfit: true, ShownSign: < 0 }
            ? Keeping.Whole
            : keeps;

    /// <summary>A table whose every base is empty would look like an answer, and so would one that has all in the row
    /// Unassigned.</summary>
    private void RefuseWhereNothingCompares()
    {
        var splits = _question
            .Layout.Rows.Select(b =>
                b.Dimension is { } code && _book.TryDimension(code, out var split) && split.Role == DimensionRole.Other
                    ? split
                    : null
            )
            .ToList();
        var subject = Blocks[0].Sides[0];
        if (splits.Find(d => d is not null && !subject.Kept.Contains(d.Id)) is { } lacking)
            throw new CannotAnswerException(
                $"{Lacks(subject.Side, subject.Version!, lacking)}, so it cannot be shown by {Lower(lacking)}.",
                Otherwise(lacking, Keeping.Not)
            );
        if (_figure is PairFigure && splits.Find(d => d is not null && KeepsOfSubject(d) != Keeping.Whole) is { } half)
            throw new CannotAnswerException(Half(half, KeepsOfSubject(half)), Otherwise(half, KeepsOfSubject(half)));
        if (_question.Scope.Bases.Length == 0)
            return;
        if (Blocks.All(b => b.Sides.Skip(1).All(s => s.Version is null)))
            throw Blocks[0].Sides[1].Absence == Absence.NotKept
                ? new CannotAnswerException(_notes[^1], "versus last year")
                : Missing(_question.Scope.Bases[0], _question.Scope.Spans[0]);
        // Split by what no base keeps apart, no row could be compared.
        if (
            splits is [{ } first, ..]
            && Blocks.All(b => b.Sides.Skip(1).All(s => s.Version is null || !s.Kept.Contains(first.Id)))
        )
            throw new CannotAnswerException(
                $"{string.Join("; ", Blocks[0].Sides.Skip(1).Where(s => s.Version is not null).Select(s => Lacks(s.Side, s.Version!, first)).Distinct())}, so nothing can be compared by {Lower(first)}.",
                $"versus last year by {Lower(first)}",
                $"{_figure?.Name} by {Lower(first)}"
            );
    }

    /// <summary>Budget FY26 does not keep suppliers apart · in Budget FY26, nothing of Cost of sales is assigned to any service
    /// line.</summary>
    private string Lacks(Side side, ScenarioVersion version, Dimension dimension)
    {
        if (!version.Coverage!.KeptDimensions.Contains(dimension.Id))
            return $"{_book.NameOf(side)} does not keep {Words.Plural(Lower(dimension))} apart";
        var unkept =
            _figure is PairFigure pair && _book.Keeps(version.Id, dimension.Id, _parts[0].Accounts) != Keeping.Not
                ? pair.Bottom.Name
            : _figure is PairFigure { Top: var top } ? top.Name
            : _figure!.Name;
        return $"In {_book.NameOf(side)}, nothing of {unkept} is assigned to any {Lower(dimension)}";
    }

    private string Half(Dimension dimension, Keeping keeps) =>
        $"{(keeps == Keeping.IncomeOnly ? "Costs are" : "Income is")} not kept by {Lower(dimension)}, so {_figure!.Name} of a {Lower(dimension)} would be its {(keeps == Keeping.IncomeOnly ? "income" : "costs")} alone.";

    /// <summary>What is kept by the dimension; where nothing of the figure is, the figure by what every version keeps, and as a
    /// whole.</summary>
    private string[] Otherwise(Dimension dimension, Keeping keeps) =>
        keeps is Keeping.IncomeOnly or Keeping.CostsOnly
            ?
            [
                .. _book
                    .Roots(_book.Accounts.Id)
                    .Where(a => a.Account?.Type == (keeps == Keeping.IncomeOnly ? AccountType.Income : AccountType.Cost))
                    .Take(1)
                    .Select(a => $"{a.Name} by {Lower(dimension)}"),
            ]
            : [$"{_figure!.Name} by {Lower(_book.Entities)}", _figure.Name];

    private static string Lower(Dimension dimension) => dimension.Name.ToLowerInvariant();

    private SidePlan Resolve(Side side, PeriodSpan asked)
    {
        var shift = Scoping.Shift(side, asked);
        if (side.Kind == SideKind.PriorPeriod)
            side = side with { Version = shift.ToString(System.Globalization.CultureInfo.InvariantCulture) };
        if (Scoping.Stored(_book, side, asked) is not { } stored || stored.Version.Coverage is not { } coverage)
            return new SidePlan(side, null, asked, shift, Absence.Missing, []);
        if (stored.Span.Intersect(coverage.Span) is null)
            return new SidePlan(side, null, asked, shift, Absence.Missing, []);
        if (NotKept(stored.Version, side))
            return new SidePlan(side, null, asked, shift, Absence.NotKept, []);
        return new SidePlan(
            side,
            stored.Version,
            stored.Span,
            shift,
            null,
            [.. _book.Definition.Dimensions.Where(d => Keeps(stored.Version, d) != Keeping.Not).Select(d => d.Id)]
        );
    }

    /// <summary>A filter on a dimension that the side does not keep leaves nothing to compare, and one that it keeps of income
    /// only leaves half.</summary>
    private bool NotKept(ScenarioVersion version, Side side)
    {
        if (
            _parts
                .FirstOrDefault(p => p.Figure.Unit != _book.Definition.Currency && !_book.HasFigures(version.Id, p.Accounts))
                .Figure is
            { } uncounted
        )
            return Unkept(
                side,
                $"{_book.NameOf(side)} keeps no {uncounted.Name.ToLowerInvariant()}, so it cannot be {Used(side)}.",
                []
            );
        foreach (var filter in _question.Scope.Filters)
        {
            if (!_book.TryDimension(filter.Dimension, out var dimension))
                continue;
            var keeps = Keeps(version, dimension);
            if (keeps == Keeping.Whole || (keeps != Keeping.Not && (filter.Exclude || IsUnassigned(filter))))
                continue;
            return Unkept(
                side,
                keeps == Keeping.Not
                    ? $"{Lacks(side, version, dimension)}, so it cannot be {Used(side)} for one of them."
                    : Half(dimension, keeps),
                Otherwise(dimension, keeps)
            );
        }
        return false;
    }

    private bool Unkept(Side side, string because, string[] otherwise)
    {
        _notes.Add(because);
        if (side == _question.Scope.Subject)
            _unkept = new CannotAnswerException(because, otherwise);
        return true;
    }

    private string Used(Side side) => side == _question.Scope.Subject ? "shown" : "compared";

    private bool IsUnassigned(Filter filter) => filter.Members.Contains(_book.Label(Member.Unassigned).Code);

    private static PeriodSpan Covered(SidePlan side) => side.Version!.Coverage!.Span.AddMonths(side.Shift);

    private string NoteNarrowed(PeriodSpan asked, PeriodSpan used, List<SidePlan> present)
    {
        var limiting = present
            .Where(s => Covered(s).Intersect(asked) == used)
            .Select(s => _book.NameOf(s.Side))
            .Distinct()
            .ToList();
        var who = limiting.Count > 0 ? string.Join(" and ", limiting) : "the sides together";
        return $"{_book.Calendar.NameOf(asked)} was asked for; {who} cover{(limiting.Count == 1 ? "s" : "")} {_book.Calendar.NameOf(used)}, so only that is shown.";
    }

    private CannotAnswerException Missing(Side side, PeriodSpan asked)
    {
        var name = _book.NameOf(side);
        if (_book.Version(side)?.Coverage is not { } coverage)
            return new CannotAnswerException($"The book has no figures for {name} yet.");
        var span = coverage.Span.AddMonths(Scoping.Shift(side, asked));
        return new CannotAnswerException(
            $"The book has no {name} figures for {_book.Calendar.NameOf(asked)}; they run from {_book.Calendar.NameOf(span.From)} to {_book.Calendar.NameOf(span.To)}.",
            [.. Instead(asked, span).Select(_book.Calendar.NameOf)]
        );
    }

    /// <summary>The same months of the nearest year that has them, as many of the latest with actuals, and as many of the
    /// latest.</summary>
    private IEnumerable<PeriodSpan> Instead(PeriodSpan asked, PeriodSpan covered)
    {
        const int year = 12;
        var late = asked.To > covered.To;
        var years =
            ((late ? asked.To.Ordinal - covered.To.Ordinal : covered.From.Ordinal - asked.From.Ordinal) + year - 1) / year;
        var shifted = asked.AddMonths(late ? -years * year : years * year);
        if (covered.Intersect(shifted) == shifted)
            yield return shifted;
        foreach (var to in new[] { _book.CurrentPeriod, covered.To }.OfType<Period>().Distinct())
        {
            var latest = new PeriodSpan(to.AddMonths(1 - asked.Count), to);
            if (covered.Intersect(latest) == latest && latest != shifted)
                yield return latest;
        }
    }

    private MemberFilter? CoveredEntities()
    {
        var entities = Blocks
            .SelectMany(b => b.Sides)
            .Where(s => s.Version is not null)
            .Select(s => (s.Side, s.Version!.Coverage!.Entities))
            .ToList();
        var all = entities.SelectMany(e => e.Entities).ToHashSet();
        var uncovered = new HashSet<int>();
        foreach (var (side, covered) in entities.DistinctBy(e => e.Side))
        {
            var lacking = all.Except(covered).ToList();
            if (lacking.Count == 0)
                continue;
            uncovered.UnionWith(lacking);
            var names = string.Join(", ", lacking.Select(id => _book.Label(id).Name).Order(StringComparer.Ordinal));
            _notes.Add($"{_book.NameOf(side)} does not cover {names}; the comparison leaves it out.");
        }
        return uncovered.Count == 0 ? null : new MemberFilter(_book.Entities.Id, [.. uncovered], true);
    }
}
