using System.Text.Json.Serialization;
using Bearing.Core.Books;

namespace Bearing.Core.Questions;

/// <summary>What a question is about: which figure, when, of which members, whose figures.</summary>
/// <param name="Spans">One block of columns each; at least one.</param>
/// <param name="Subject">The side that is asked about.</param>
/// <param name="Bases">What it is compared with; none for figures as they stand.</param>
/// <param name="Currency">ISO 4217 code of the currency in which amounts are shown: as posted where they were posted in it,
/// converted where not; null for the book's own.</param>
/// <param name="Rates">The set of rates (actual, budget, forecast …, or <see cref="PriorYearRates"/>) at which amounts posted in
/// other currencies are translated; null for the rates by which they were.</param>
public sealed record Scope(
    FigureRef Figure,
    ValueList<PeriodSpan> Spans,
    ValueList<Filter> Filters,
    Side Subject,
    ValueList<Side> Bases,
    string? Currency,
    string? Rates
)
{
    /// <summary>Stands for the actual rates of the same months a year before.</summary>
    public const string PriorYearRates = "prior-year";

    public static string NameOfRates(string rates) => rates == PriorYearRates ? "the rates of a year before" : $"{rates} rates";
}

/// <summary>Which rows come back, in which order and shown how.</summary>
/// <param name="Rows">What rows are split by, the outermost first; empty for the usual split.</param>
/// <param name="Conditions">Only rows that meet all of these are shown.</param>
/// <param name="InEvery">Whether a row counts only where all of the months below it meet them.</param>
/// <param name="Display">Null for the usual way; changes no figure.</param>
public sealed record Layout(
    ValueList<Breakdown> Rows,
    Ranking? Ranking,
    ValueList<Condition> Conditions,
    bool InEvery,
    Display? Display
)
{
    /// <summary>The usual rows in the usual order.</summary>
    public static Layout Usual { get; } = new([], null, [], false, null);
}

/// <summary>
/// A question in its typed form: the whole meaning, nothing of the words. Kept by links, follow-ups and papers, therefore written
/// in codes; its JSON form is numbered.
/// </summary>
public sealed record Question(Scope Scope, Layout Layout, Kind Kind)
{
    /// <summary>The figure as it stands, of Actual, in the usual layout.</summary>
    public static Question About(FigureRef figure, params ReadOnlySpan<PeriodSpan> spans) =>
        new(new Scope(figure, [.. spans], [], Side.Actual, [], null, null), Layout.Usual, new Kind.Values(OfRows.Nothing, []));

    /// <summary>The same figure compared with these bases.</summary>
    public Question Against(params ReadOnlySpan<Side> bases) =>
        this with
        {
            Scope = Scope with { Bases = [.. bases] },
            Kind = new Kind.Comparison(OfRows.Nothing, false),
        };

    /// <summary>The same with rows split like this.</summary>
    public Question By(params ReadOnlySpan<Breakdown> rows) => this with { Layout = Layout with { Rows = [.. rows] } };

    /// <summary>The same with another scope.</summary>
    public Question In(Func<Scope, Scope> change) => this with { Scope = change(Scope) };

    /// <summary>The same laid out otherwise.</summary>
    public Question Laid(Func<Layout, Layout> change) => this with { Layout = change(Layout) };

    /// <summary>The same with something else asked of the rows; unchanged where the kind asks nothing of them.</summary>
    public Question Asking(Func<OfRows, OfRows> change) =>
        Kind switch
        {
            Kind.Values values => this with { Kind = values with { Of = change(values.Of) } },
            Kind.Comparison comparison => this with { Kind = comparison with { Of = change(comparison.Of) } },
            _ => this,
        };

    /// <summary>What is asked of the rows of a table; nothing where the kind has none.</summary>
    [JsonIgnore]
    public OfRows Of =>
        Kind.Match(
            values => values.Of,
            comparison => comparison.Of,
            why => OfRows.Nothing with { Claim = why.Claim },
            _ => OfRows.Nothing,
            _ => OfRows.Nothing,
            _ => OfRows.Nothing,
            projected => OfRows.Nothing with { Claim = projected.Claim }
        );

    /// <summary>Whether movement is asked for and not effect on profit.</summary>
    [JsonIgnore]
    public bool Growth => Kind is Kind.Comparison { Growth: true } or Kind.Why { Growth: true };

    /// <summary>Further figures of the same rows.</summary>
    [JsonIgnore]
    public ValueList<FigureRef> Beside => Kind is Kind.Values { Beside: var beside } ? beside : [];

    /// <summary>Whether other figures can stand beside the first: nothing is summarised, claimed or converted, in one
    /// period.</summary>
    [JsonIgnore]
    public bool CanHoldBeside =>
        Beside.IsEmpty
        || Scope is { Bases.IsEmpty: true, Spans.Length: 1, Currency: null, Rates: null }
            && Of is { Statistic: null, Claim: null, Cumulative: false };

    /// <summary>By what the innermost split stands within, where shares are asked for; null where all of it is one
    /// dimension.</summary>
    [JsonIgnore]
    public string? SharesWithin =>
        Of.Shares is not null
        && Scope.Bases.IsEmpty
        && Layout.Rows.Length > 1
        && Layout.Rows.LastOrDefault(b => b.Dimension != Layout.Rows[^1].Dimension) is { } outer
            ? (outer.Level ?? outer.Dimension ?? outer.Grain!.Value.ToString()).ToLowerInvariant()
            : null;

    /// <summary>Whether either side's mix stands beside its amounts; of several bases or periods the table would outgrow the
    /// page.</summary>
    [JsonIgnore]
    public bool SharesOfSides => Of.Shares is { OfSides: true } && Scope is { Bases.Length: 1, Spans.Length: 1 };
}
