using System.Text.Json.Serialization;
using Bearing.Core.Books;

namespace Bearing.Core.Questions;

/// <summary>What the months so far are carried forward to, held against the plan of the whole year.</summary>
public enum Projection
{
    /// <summary>Actual at the pace of its months, times twelve.</summary>
    RunRate,

    /// <summary>The plan of the year less Actual so far.</summary>
    Remaining,

    /// <summary>Actual so far as a part of the plan of the year.</summary>
    Used,

    /// <summary>Live Actual to the current period plus the latest forecast after it.</summary>
    Outlook,
}

/// <summary>The sort of a question. Each carries what only it can mean, and whoever makes one has to state all of it.</summary>
[JsonDerivedType(typeof(Values), "values")]
[JsonDerivedType(typeof(Comparison), "comparison")]
[JsonDerivedType(typeof(Why), "why")]
[JsonDerivedType(typeof(Bridge), "bridge")]
[JsonDerivedType(typeof(Entries), "entries")]
[JsonDerivedType(typeof(Records), "records")]
[JsonDerivedType(typeof(Projected), "projected")]
public abstract record Kind
{
    private Kind() { }

    /// <summary>Goes on with the one case that it is; a new kind does not compile before every such place knows it.</summary>
    public T Match<T>(
        Func<Values, T> values,
        Func<Comparison, T> comparison,
        Func<Why, T> why,
        Func<Bridge, T> bridge,
        Func<Entries, T> entries,
        Func<Records, T> records,
        Func<Projected, T> projected
    ) =>
        this switch
        {
            Values k => values(k),
            Comparison k => comparison(k),
            Why k => why(k),
            Bridge k => bridge(k),
            Entries k => entries(k),
            Records k => records(k),
            Projected k => projected(k),
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    /// <summary>Figures as they stand.</summary>
    /// <param name="Beside">Further figures of the same rows, in columns of their own; rows are ranked and kept by the first.</param>
    public sealed record Values(OfRows Of, ValueList<FigureRef> Beside) : Kind;

    /// <summary>Figures against one or more bases.</summary>
    /// <param name="Growth">Whether movement is asked for and not effect on profit: a cost that rose has grown.</param>
    public sealed record Comparison(OfRows Of, bool Growth) : Kind;

    /// <summary>Where a variance comes from: drivers first.</summary>
    /// <param name="Growth">As for <see cref="Comparison"/>.</param>
    public sealed record Why(bool Growth, Claim? Claim) : Kind;

    /// <summary>Steps from the base to the subject.</summary>
    public sealed record Bridge : Kind;

    /// <summary>The ledger lines behind the figure.</summary>
    /// <param name="Document">The document that they belong to, or its end behind <see cref="EndOfNumber"/>; null for any.</param>
    /// <param name="Text">Words that the text of a line holds, whatever their case; null for any.</param>
    /// <param name="Listing">Columns and order; null for the usual ones.</param>
    public sealed record Entries(string? Document, string? Text, Listing? Listing) : Kind
    {
        /// <summary>Stands before the end of a document's number when only that was said.</summary>
        public const char EndOfNumber = '*';
    }

    /// <summary>Records, or journals, that meet tests: listed, counted, gathered or aged.</summary>
    public sealed record Records(RecordAsk Ask, Listing? Listing) : Kind;

    /// <summary>What the months so far are carried forward to, held against the plan of the year.</summary>
    /// <param name="Claim">Which side of the plan it is claimed to end on; null where nothing is.</param>
    public sealed record Projected(Projection By, Claim? Claim) : Kind;
}
