using System.Collections.Immutable;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Facts;

namespace Bearing.Core.Variance;

/// <summary>One side over one span, resolved to stored facts.</summary>
/// <param name="Version">Null when the side has nothing for the span; <paramref name="Absence"/> says why.</param>
/// <param name="Shift">Months by which stored periods lie before the subject's.</param>
internal sealed record SidePlan(Side Side, ScenarioVersion? Version, PeriodSpan Stored, int Shift, Absence? Absence);

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

    public ComparisonPlan(Book book, Question question)
    {
        (_book, _question) = (book, question);
        Blocks = [.. question.Spans.Select(Plan)];
        RefuseWhereNothingCompares();
        EntityFilter = CoveredEntities();
        foreach (var side in Blocks.SelectMany(b => b.Sides).Where(s => s.Version is not null))
            _notes.AddRange(book.Remarks.Where(r => r.Version == side.Version!.Id && r.Periods.Intersect(side.Stored) is not null).Select(r => r.Text).Where(t => !_notes.Contains(t)));
    }

    public ImmutableArray<BlockPlan> Blocks { get; }

    /// <summary>Drops entities that a base does not cover; null when all are covered.</summary>
    public MemberFilter? EntityFilter { get; }

    public IEnumerable<string> Notes => _notes;

    private BlockPlan Plan(PeriodSpan asked)
    {
        var subject = Resolve(_question.Subject, asked);
        if (subject.Version is null) throw Missing(_question.Subject, asked);
        var sides = _question.Bases.Select(side => Resolve(side, asked)).Prepend(subject).ToList();
        var present = sides.Where(s => s.Version is not null).ToList();
        var common = present.Select(s => Covered(s)).Aggregate<PeriodSpan, PeriodSpan?>(asked, (span, covered) => span?.Intersect(covered));
        if (common is not { } used) throw new CannotAnswerException(
            $"{string.Join(" and ", present.Select(s => _book.NameOf(s.Side)))} have no period in common in {_book.Calendar.NameOf(asked)}.");
        if (used != asked) _notes.Add(NoteNarrowed(asked, used, present));
        // Months stay matched when the span shrinks: each side keeps its distance.
        return new BlockPlan(used, [.. sides.Select(s => s with { Stored = used.AddMonths(-s.Shift) })]);
    }

    /// <summary>A table whose every base is empty would look like an answer.</summary>
    private void RefuseWhereNothingCompares()
    {
        if (_question.Breakdowns is [{ Dimension: { } asked }, ..] && _book.TryDimension(asked, out var split) && split.Role == DimensionRole.Other && Blocks[0].Sides[0].Version?.Coverage is { } own && !own.KeptDimensions.Contains(split.Id))
            throw new CannotAnswerException($"{_book.NameOf(_question.Subject)} does not keep {split.Name.ToLowerInvariant()}s apart, so it cannot be shown by {split.Name.ToLowerInvariant()}.");
        if (_question.Bases.Length == 0) return;
        if (Blocks.All(b => b.Sides.Skip(1).All(s => s.Version is null)))
            throw Blocks[0].Sides[1].Absence == Absence.NotKept ? new CannotAnswerException(_notes[^1], "versus last year") : Missing(_question.Bases[0], _question.Spans[0]);
        // Split by what no base keeps apart, no row could be compared.
        if (_question.Breakdowns is [{ Dimension: { } code }, ..] && _book.TryDimension(code, out var dimension) && dimension.Role == DimensionRole.Other
            && Blocks.All(b => b.Sides.Skip(1).All(s => s.Version?.Coverage is not { } c || !c.KeptDimensions.Contains(dimension.Id))))
            throw new CannotAnswerException($"{string.Join(" and ", _question.Bases.Select(_book.NameOf))} {(_question.Bases.Length == 1 ? "does" : "do")} not keep {dimension.Name.ToLowerInvariant()}s apart, so nothing can be compared by {dimension.Name.ToLowerInvariant()}.",
                $"versus last year by {dimension.Name.ToLowerInvariant()}");
    }

    private SidePlan Resolve(Side side, PeriodSpan asked)
    {
        var shift = Scoping.Shift(side, asked);
        if (side.Kind == SideKind.PriorPeriod) side = side with { Version = shift.ToString(System.Globalization.CultureInfo.InvariantCulture) };
        if (Scoping.Stored(_book, side, asked) is not { } stored || stored.Version.Coverage is not { } coverage)
            return new SidePlan(side, null, asked, shift, Absence.Missing);
        if (stored.Span.Intersect(coverage.Span) is null) return new SidePlan(side, null, asked, shift, Absence.Missing);
        if (NotKept(coverage, side)) return new SidePlan(side, null, asked, shift, Absence.NotKept);
        return new SidePlan(side, stored.Version, stored.Span, shift, null);
    }

    /// <summary>A filter on a dimension that the side does not keep leaves nothing to compare.</summary>
    private bool NotKept(Coverage coverage, Side side)
    {
        foreach (var filter in _question.Filters)
        {
            if (!_book.TryDimension(filter.Dimension, out var dimension) || coverage.KeptDimensions.Contains(dimension.Id)) continue;
            if (dimension.Role == DimensionRole.Account) continue;
            _notes.Add($"{_book.NameOf(side)} does not keep {dimension.Name.ToLowerInvariant()}s apart, so it cannot be compared for one of them.");
            return true;
        }
        return false;
    }

    private static PeriodSpan Covered(SidePlan side) => side.Version!.Coverage!.Span.AddMonths(side.Shift);

    private string NoteNarrowed(PeriodSpan asked, PeriodSpan used, List<SidePlan> present)
    {
        var limiting = present.Where(s => Covered(s).Intersect(asked) == used).Select(s => _book.NameOf(s.Side)).Distinct().ToList();
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
            $"The book has no {name} figures for {_book.Calendar.NameOf(asked)}; they run from {_book.Calendar.NameOf(span.From)} to {_book.Calendar.NameOf(span.To)}.", [.. Instead(asked, span).Select(_book.Calendar.NameOf)]);
    }

    /// <summary>The same months of the nearest year that has them, and as many of the latest.</summary>
    private static IEnumerable<PeriodSpan> Instead(PeriodSpan asked, PeriodSpan covered)
    {
        const int year = 12;
        var late = asked.To > covered.To;
        var years = ((late ? asked.To.Ordinal - covered.To.Ordinal : covered.From.Ordinal - asked.From.Ordinal) + year - 1) / year;
        var shifted = asked.AddMonths(late ? -years * year : years * year);
        if (covered.Intersect(shifted) == shifted) yield return shifted;
        var latest = new PeriodSpan(covered.To.AddMonths(1 - asked.Count), covered.To);
        if (covered.Intersect(latest) == latest) yield return latest;
    }

    private MemberFilter? CoveredEntities()
    {
        var entities = Blocks.SelectMany(b => b.Sides).Where(s => s.Version is not null)
            .Select(s => (s.Side, s.Version!.Coverage!.Entities)).ToList();
        var all = entities.SelectMany(e => e.Entities).ToHashSet();
        var uncovered = new HashSet<int>();
        foreach (var (side, covered) in entities.DistinctBy(e => e.Side))
        {
            var lacking = all.Except(covered).ToList();
            if (lacking.Count == 0) continue;
            uncovered.UnionWith(lacking);
            var names = string.Join(", ", lacking.Select(id => _book.Label(id).Name).Order(StringComparer.Ordinal));
            _notes.Add($"{_book.NameOf(side)} does not cover {names}; the comparison leaves it out.");
        }
        return uncovered.Count == 0 ? null : new MemberFilter(_book.Entities.Id, [.. uncovered], true);
    }
}
