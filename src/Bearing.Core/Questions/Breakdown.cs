using Bearing.Core.Books;

namespace Bearing.Core.Questions;

public enum TimeGrain
{
    Month,
    Quarter,
    Half,
    Year,
}

/// <summary>The buckets that a grain cuts time into.</summary>
public static class TimeGrains
{
    /// <summary>The whole bucket that a period falls into.</summary>
    public static PeriodSpan BucketOf(this TimeGrain grain, Period period) =>
        grain switch
        {
            TimeGrain.Quarter => FiscalCalendar.QuarterOf(period),
            TimeGrain.Half => FiscalCalendar.Half(period.Year, ((period.Number - 1) / 6) + 1),
            TimeGrain.Year => FiscalCalendar.Year(period.Year),
            _ => PeriodSpan.Of(period),
        };

    /// <summary>The span cut into buckets, oldest first; the first and the last go no further than the span does.</summary>
    public static IEnumerable<PeriodSpan> Cut(this TimeGrain grain, PeriodSpan span) =>
        span.Periods().Select(p => grain.BucketOf(p)).Distinct().Select(b => b.Intersect(span)).OfType<PeriodSpan>();
}

/// <summary>How an answer's rows are split: by a dimension down to a level, or by time.</summary>
/// <param name="Dimension">Dimension code, or null for time.</param>
/// <param name="Level">Name of a level; null for the first level below what is asked about.</param>
/// <param name="Grain">Set for time only.</param>
public sealed record Breakdown(string? Dimension, string? Level, TimeGrain? Grain)
{
    public static Breakdown ByTime(TimeGrain grain) => new(null, null, grain);

    public static Breakdown By(string dimension, string? level = null) => new(dimension, level, null);

    /// <summary>The level at which a member stands, as a split; null for what the book has not.</summary>
    public static Breakdown? OfMember(Book book, string dimension, string code) =>
        book.TryDimension(dimension, out var kept) && book.TryMember(kept.Id, code, out var member)
            ? By(kept.Code, kept.Levels[book.HasChildren(member) ? Math.Min(book.DepthOf(member), kept.Levels.Length - 1) : ^1])
            : null;
}
