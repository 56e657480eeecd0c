using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Variance;

namespace Bearing.Core.Reading;

/// <summary>Something of an earlier answer that can be pointed at: a member, an account or a period.</summary>
/// <param name="Dimension">Dimension code; null for a period.</param>
/// <param name="Code">Member code; null for a period.</param>
internal sealed record Referent(string? Dimension, string? Code, PeriodSpan? Span, string Label);

/// <summary>Finds what words such as "that month" speak of: the nearest turn that showed one of that kind.</summary>
internal sealed class Referents(Book book, Talk talk)
{
    /// <summary>Things that are offered where it is not known which of them is meant.</summary>
    private const int MostOffered = 5;

    /// <returns>One where it is known which is meant; several where they fit equally; none where no turn showed any.</returns>
    public ImmutableArray<Referent> Of(Breakdown kind)
    {
        for (var at = talk.Turns.Length - 1; at >= 0; at--)
            if (In(talk.Turns[at], kind) is { IsEmpty: false } found)
                return found;
        return [];
    }

    private ImmutableArray<Referent> In(Turn turn, Breakdown kind)
    {
        if (Scoped(turn.Question.Scope, kind) is { } scoped)
            return [scoped];
        var rows = turn.Rows.Select(r => OfRow(r, kind)).OfType<Referent>().Distinct().ToImmutableArray();
        if (rows.Length > 0 && turn.Question.Layout.Ranking is { Count: < Ranking.All })
            return rows[..1];
        if (LeftOut(turn.Question.Scope, kind) is { } left)
            return [left];
        if (rows.Length > 0)
            return rows[..Math.Min(rows.Length, MostOffered)];
        if (
            turn.Drivers is { } report
            && Flat(report.Drivers).Select(d => OfDriver(d, kind)).OfType<Referent>().FirstOrDefault() is { } driver
        )
            return [driver];
        return [];
    }

    /// <summary>What was left out was spoken of as well.</summary>
    private Referent? LeftOut(Scope scope, Breakdown kind) =>
        scope.Filters.FirstOrDefault(f => f.Exclude && f.Dimension == kind.Dimension && f.Members.Length == 1) is { } gone
            ? Named(gone.Dimension, gone.Members[0], kind)
            : null;

    /// <summary>The one that the whole answer was about.</summary>
    private Referent? Scoped(Scope scope, Breakdown kind)
    {
        if (kind.Grain is { } grain)
            return scope.Spans is [var span] && grain.BucketOf(span.To) == span
                ? new Referent(null, null, span, book.Calendar.NameOf(span))
                : null;
        var filter = scope.Filters.FirstOrDefault(f => !f.Exclude && f.Dimension == kind.Dimension && f.Members.Length == 1);
        if (filter is not null && Named(filter.Dimension, filter.Members[0], kind) is { } member)
            return member;
        return kind.Dimension == book.Accounts.Code && scope.Figure.Kind == FigureKind.Account
            ? Named(kind.Dimension, scope.Figure.Code, kind)
            : null;
    }

    private Referent? OfRow(Row row, Breakdown kind)
    {
        if (kind.Grain is not null)
            return row.Members.Any(m => m.Dimension == "period") ? new Referent(null, null, row.Slice.Span, row.Label) : null;
        return row.Members.FirstOrDefault(m => m.Dimension == kind.Dimension) is { } member
            ? Named(member.Dimension, member.Code, kind)
            : null;
    }

    private Referent? OfDriver(Driver driver, Breakdown kind) =>
        kind.Grain is null && driver.Member.Dimension == kind.Dimension
            ? Named(driver.Member.Dimension, driver.Member.Code, kind)
            : null;

    private static IEnumerable<Driver> Flat(IEnumerable<Driver> drivers) => drivers.SelectMany(d => Flat(d.Below).Prepend(d));

    private Referent? Named(string dimension, string code, Breakdown kind) =>
        book.TryDimension(dimension, out var of)
        && book.TryMember(of.Id, code, out var member)
        && (
            kind.Level is null
            || kind.Level == of.Levels[^1] && !book.HasChildren(member)
            || Breakdown.OfMember(book, dimension, code)?.Level == kind.Level
        )
            ? new Referent(dimension, code, null, member.Name)
            : null;
}
