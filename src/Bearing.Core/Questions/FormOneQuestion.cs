using System.Collections.Immutable;
using Bearing.Core.Books;

namespace Bearing.Core.Questions;

/// <summary>What is wanted of a figure.</summary>
public enum Intent
{
    /// <summary>The figure itself.</summary>
    Value,

    /// <summary>The figure against one or more bases.</summary>
    Variance,

    /// <summary>Where a variance comes from: drivers first.</summary>
    Why,

    /// <summary>Steps from the base to the subject.</summary>
    Bridge,

    /// <summary>The ledger lines behind the figure.</summary>
    Entries,

    /// <summary>Records, or journals, that meet tests: listed, counted, gathered or aged.</summary>
    Records,
}

/// <summary>
/// A question as the first form had it, every part of every sort side by side: what the first reader works on until the second
/// takes its place. <see cref="FormOne"/> turns it into a <see cref="Question"/> and back.
/// </summary>
public sealed record FormOneQuestion
{
    /// <summary>The same as a question of one kind.</summary>
    public Question ToKinds() => FormOne.ToKinds(this);

    public Intent Intent { get; init; }
    public required FigureRef Figure { get; init; }

    /// <summary>Further figures of the same rows, in columns of their own; rows are ranked and kept by the first one.</summary>
    public ImmutableArray<FigureRef> Beside { get; init; } = [];

    /// <summary>Whether other figures can stand beside the first: nothing is compared, summarised or carried forward.</summary>
    public bool CanHoldBeside =>
        Beside.IsEmpty
        || (
            Intent == Intent.Value
            && Bases.IsEmpty
            && Spans.Length == 1
            && Statistic is null
            && Projection is null
            && Records is null
            && Currency is null
            && Rates is null
            && Claim is null
            && Than is null
            && !Cumulative
        );
    public Side Subject { get; init; } = Side.Actual;
    public ImmutableArray<Side> Bases { get; init; } = [];

    /// <summary>One block of columns each; at least one.</summary>
    public ImmutableArray<PeriodSpan> Spans { get; init; } = [];
    public ImmutableArray<Filter> Filters { get; init; } = [];
    public ImmutableArray<Breakdown> Breakdowns { get; init; } = [];
    public Ranking? Ranking { get; init; }

    /// <summary>Only rows that meet all of these are shown.</summary>
    public ImmutableArray<Condition> Conditions { get; init; } = [];

    /// <summary>Whether each row's part of the total is asked for.</summary>
    public bool Share { get; init; }

    /// <summary>Whether parts of the totals are meant as well, where a share beside a base would be one of the variance
    /// only.</summary>
    public bool Mix { get; init; }

    /// <summary>The row whose share is wanted, which the answer then says first; null where those of all rows are.</summary>
    public PartAsked? Part { get; init; }

    /// <summary>By what the innermost split stands within, where shares are asked for; null where all of it is one
    /// dimension.</summary>
    public string? SharesWithin =>
        Share
        && Bases.IsEmpty
        && Breakdowns.Length > 1
        && Breakdowns.LastOrDefault(b => b.Dimension != Breakdowns[^1].Dimension) is { } outer
            ? (outer.Level ?? outer.Dimension ?? outer.Grain!.Value.ToString()).ToLowerInvariant()
            : null;

    /// <summary>Whether either side's mix stands beside its amounts; of several bases or periods the table would outgrow the
    /// page.</summary>
    public bool SharesOfSides => Share && Mix && Bases.Length == 1 && Spans.Length == 1;

    /// <summary>Whether movement is asked for and not effect on profit: a cost that rose has grown.</summary>
    public bool Growth { get; init; }

    /// <summary>Whether months carry on the sum of those before.</summary>
    public bool Cumulative { get; init; }

    /// <summary>For entries: the document that they belong to, or its end behind <see cref="Kind.Entries.EndOfNumber"/>; null for
    /// any.</summary>
    public string? Document { get; init; }

    /// <summary>For entries: words that the text of a line holds, whatever their case; null for any.</summary>
    public string? Text { get; init; }

    /// <summary>ISO 4217 code of the currency in which amounts are shown: as posted where they were posted in it, converted where
    /// not; null for the book's own.</summary>
    public string? Currency { get; init; }

    /// <summary>The set of rates (actual, budget, forecast …, or <see cref="Scope.PriorYearRates"/>) at which amounts posted in other
    /// currencies are translated; null for the rates by which they were.</summary>
    public string? Rates { get; init; }

    /// <summary>Taken over the rows of the outermost split; null for none.</summary>
    public RowStatistic? Statistic { get; init; }

    /// <summary>How the answer is to be shown; null for the usual way.</summary>
    public Display? Display { get; init; }

    /// <summary>For entries and records: columns and order that were asked for; null for the usual ones.</summary>
    public Listing? Listing { get; init; }

    /// <summary>What the months so far are carried forward to; null where figures stand as they are.</summary>
    public Projection? Projection { get; init; }

    /// <summary>Records or journals that are asked for instead of sums; null otherwise.</summary>
    public RecordAsk? Records { get; init; }

    /// <summary>What is to be answered by yes or no; null for other questions.</summary>
    public Direction? Claim { get; init; }

    /// <summary>Of how many rows it is claimed; null where it is claimed of the total, or of each month shown.</summary>
    public Quantifier? ClaimOf { get; init; }

    /// <summary>The figure that the claim holds this one against, by growth where that is asked for and by size otherwise; null
    /// where sides or rows are.</summary>
    public FigureRef? Than { get; init; }

    public bool Equals(FormOneQuestion? other) =>
        other is not null
        && Intent == other.Intent
        && Figure == other.Figure
        && Beside.SequenceEqual(other.Beside)
        && Subject == other.Subject
        && Bases.SequenceEqual(other.Bases)
        && Spans.SequenceEqual(other.Spans)
        && Filters.SequenceEqual(other.Filters)
        && Breakdowns.SequenceEqual(other.Breakdowns)
        && Ranking == other.Ranking
        && Conditions.SequenceEqual(other.Conditions)
        && Share == other.Share
        && Mix == other.Mix
        && Part == other.Part
        && Claim == other.Claim
        && ClaimOf == other.ClaimOf
        && Than == other.Than
        && Growth == other.Growth
        && Cumulative == other.Cumulative
        && Document == other.Document
        && Text == other.Text
        && Currency == other.Currency
        && Rates == other.Rates
        && Statistic == other.Statistic
        && Display == other.Display
        && Listing == other.Listing
        && Projection == other.Projection
        && Records == other.Records;

    public override int GetHashCode() =>
        HashCode.Combine(Intent, Figure, Subject, Bases.Length, Spans.Length, Filters.Length, Breakdowns.Length);
}
