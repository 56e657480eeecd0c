using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>Says a question in one plain sentence and in parts tied to the words that caused them.</summary>
public sealed class ReadingWriter(Book book)
{
    /// <summary>Reads back a question that was put by hand; its parts come from no words.</summary>
    public Reading Write(FormOneQuestion question) => Write(question, [], false, _ => "", []);

    /// <param name="said">The words that caused a part; empty where it was assumed.</param>
    internal Reading Write(
        FormOneQuestion question,
        ImmutableArray<string> assumed,
        bool followsUp,
        Func<string, string> said,
        ImmutableArray<string> unused
    )
    {
        var parts = ImmutableArray.CreateBuilder<ReadingPart>();
        void Add(string part, string means, string value) => parts.Add(new ReadingPart(part, said(part), means, value));

        if (question.Records is { } ask)
        {
            Add("records", ask.Table == Table.Ledger ? "journals" : book.Table(ask.Table)?.Name ?? ask.Table, ask.Table);
            if (ask.OfFigure && book.Figure(question.Figure) is { } of)
                Add("figure", $"on {of.Name}", Book.Coded(question.Figure));
            foreach (var asked in question.Spans)
                Add(
                    "period",
                    ask.Table == Table.Ledger ? book.Calendar.NameOf(asked) : RecordWords.AsAtName(book, ask, asked),
                    asked.ToString()
                );
            foreach (var test in ask.Tests)
                Add("test", RecordWords.TestName(book.Table(ask.Table), test), test.Kind.ToString().ToLowerInvariant());
            if (!ask.Beside.IsEmpty)
                Add("test", RecordWords.BesideName(book.Table(ask.Table), ask), "beside");
            foreach (var filter in question.Filters)
                Add(
                    "filter",
                    FilterName(filter),
                    $"{filter.Dimension}{(filter.Exclude ? "!=" : "=")}{string.Join(',', filter.Members)}"
                );
            if (!ask.By.IsEmpty)
                Add("breakdown", RecordWords.ByNames(book, ask), string.Join(',', ask.By.Select(g => g.Field)));
            foreach (var condition in question.Conditions)
                Add(
                    "condition",
                    ConditionName(condition, false, false, "the base"),
                    $"{condition.On}:{condition.Direction}:{condition.Value}".ToLowerInvariant()
                );
            if (question.Listing is { } listing)
                Add("listing", RecordWords.ListingName(book.Table(ask.Table), listing), "");
            return new Reading(
                Sentence(question),
                parts.ToImmutable(),
                followsUp ? assumed.Insert(0, "what was not said is kept from the question before") : assumed,
                unused
            );
        }
        Add("intent", IntentName(question.Intent), question.Intent.ToString().ToLowerInvariant());
        Add("figure", book.Figure(question.Figure)?.Name ?? question.Figure.Code, Book.Coded(question.Figure));
        foreach (var further in question.Beside)
            Add("figure", "and " + NameOf(further), Book.Coded(further));
        foreach (var span in question.Spans)
            Add("period", book.Calendar.NameOf(span), span.ToString());
        Add("scenario", book.NameOf(question.Subject), question.Subject.ToString());
        foreach (var side in question.Bases)
            Add(
                said("base").Length > 0 ? "base" : "scenario",
                "against " + (question.Spans.IsEmpty ? book.NameOf(side) : book.NameOf(side, question.Spans[0])),
                side.ToString()
            );
        foreach (var filter in question.Filters)
            Add(
                "filter",
                FilterName(filter),
                $"{filter.Dimension}{(filter.Exclude ? "!=" : "=")}{string.Join(',', filter.Members)}"
            );
        foreach (var breakdown in question.Breakdowns)
            Add(
                "breakdown",
                "by " + BreakdownName(breakdown),
                breakdown.Dimension is null
                    ? breakdown.Grain!.Value.ToString().ToLowerInvariant()
                    : $"{breakdown.Dimension}:{breakdown.Level}"
            );
        if (question.Ranking is { } ranking)
            Add(
                "ranking",
                RankingName(ranking) + OfWhich(question, ranking) + PlaceName(question),
                ranking.Count.ToString(System.Globalization.CultureInfo.InvariantCulture)
            );
        foreach (var condition in question.Conditions)
            Add(
                "condition",
                ConditionName(condition, question.Bases.Length > 0, IsPercent(question), BaseOf(condition, question)),
                $"{condition.On}:{condition.Direction}:{condition.Value}{(condition.Of is { } of ? $":{of}" : "")}".ToLowerInvariant()
            );
        if (question.Share)
            Add("share", ShareName(question), "true");
        if (question.Cumulative)
            Add("cumulative", "months carry on the sum of those before", "true");
        if (question.Projection is { } projection)
            Add("projection", ProjectionName(projection), projection.ToString().ToLowerInvariant());
        if (question.Growth)
            Add("growth", "movement, not effect on profit", "true");
        if (question.Statistic is { } statistic)
            Add("statistic", StatisticName(question, statistic), statistic.ToString().ToLowerInvariant());
        if (question.Currency is { } currency)
            Add("currency", $"in {currency}", currency);
        if (question.Rates is { } rates)
            Add("rates", $"at {Scope.NameOfRates(rates)}", rates);
        if (question.Display is { } display)
            Add("display", DisplayName(display), "");
        if (question.Listing is { } layout)
            Add("listing", RecordWords.ListingName(book.Table(Table.Ledger), layout), "");
        if (question.Text is { } text)
            Add("test", $"text with “{text}”", text);
        if (question.Document is { } number)
            Add("document", DocumentName(number), number);
        if (question is { Claim: null, ClaimOf: Quantifier.Every })
            Add("claim", "only those of which it is so in every month", "every");
        if (question.Claim is { } claim)
            Add(
                "claim",
                question.ClaimOf switch
                {
                    Quantifier.Any => "yes if it is so of any row",
                    Quantifier.Every => "yes if it is so of every row",
                    Quantifier.Gap =>
                        $"yes if the gap is {(claim == Direction.Over ? "larger" : "smaller")} in the last of them than before",
                    Quantifier.Better => "whether it looks better than against the usual base",
                    Quantifier.Judged => "whether it is good or bad",
                    Quantifier.Late => "whether it is only late",
                    Quantifier.Planned => "yes for each of the plans that has it",
                    _ => "to be answered by yes or no",
                },
                claim.ToString().ToLowerInvariant()
            );
        if (followsUp)
            assumed = assumed.Insert(0, "what was not said is kept from the question before");
        else if (question.Document is null && question.Filters.All(f => f.Dimension != book.Entities.Code))
            assumed = assumed.Add($"every {book.Entities.Name.ToLowerInvariant()}");
        return new Reading(Sentence(question), parts.ToImmutable(), assumed, unused);
    }

    /// <summary>"Variance of Fuel: Actual against Budget 2026, in September 2026, for Skelmar Ferries, by account."</summary>
    public string Sentence(FormOneQuestion question)
    {
        if (question.Records is { } ask)
            return RecordWords.Sentence(book, question, ask);
        var figure = Listed([NameOf(question.Figure), .. question.Beside.Select(NameOf)]);
        var bases = string.Join(
            " and ",
            question.Bases.Select(b => question.Spans.IsEmpty ? book.NameOf(b) : book.NameOf(b, question.Spans[0]))
        );
        var sides =
            question.Bases.Length == 0 ? book.NameOf(question.Subject) : $"{book.NameOf(question.Subject)} against {bases}";
        var lead = question.Intent switch
        {
            _ when question.Projection is { } projection => $"{figure}, {ProjectionName(projection)}: {sides}",
            Intent.Why => $"What drives the variance of {figure}: {sides}",
            Intent.Variance when question.Growth => $"Growth of {figure}: {sides}",
            Intent.Variance => $"Variance of {figure}: {sides}",
            Intent.Bridge => $"Bridge of {figure} from {bases} to {book.NameOf(question.Subject)}",
            Intent.Entries when question.Document is { } document =>
                $"{book.NameOf(question.Subject)} entries of {DocumentName(document)}",
            Intent.Entries => $"{book.NameOf(question.Subject)} entries for {figure}",
            _ => $"{figure}: {sides}",
        };
        // A document is shown whole, whenever its lines were posted.
        var spans = question.Document is null ? ", " + SpansName(question.Spans) : "";
        var filters = string.Concat(question.Filters.Select(f => ", " + FilterName(f)));
        var by =
            question.Breakdowns.Length == 0 ? "" : ", by " + string.Join(", then ", question.Breakdowns.Select(BreakdownName));
        var rank = question.Ranking is { } r
            ? ", "
                + RankingName(r)
                + OfWhich(question, r)
                + (question.Beside.IsEmpty ? "" : $" by {NameOf(question.Figure)}")
                + PlaceName(question)
            : "";
        var conditions =
            question.Conditions.Length == 0
                ? ""
                : ", only rows "
                    + string.Join(
                        " and ",
                        question.Conditions.Select(c =>
                            ConditionName(
                                c,
                                question.Bases.Length > 0 && question.Intent != Intent.Entries,
                                IsPercent(question),
                                BaseOf(c, question)
                            )
                        )
                    );
        return $"{lead}{spans}{filters}{by}{rank}{conditions}{(question.Currency is { } currency ? $", in {currency}" : "")}{(question.Rates is { } rates ? $", at {Scope.NameOfRates(rates)}" : "")}{(question.Text is { } held ? $", whose text holds “{held}”" : "")}{(question.Statistic is { } statistic ? ", " + StatisticName(question, statistic) : "")}{(question.Cumulative ? ", cumulative" : "")}{(question.Share ? ", with " + ShareName(question) : "")}{(question.Listing is { } listing ? ", " + RecordWords.ListingName(book.Table(Table.Ledger), listing) : "")}.";
    }

    /// <summary>"Year to date 2026 and its months side by side" where the first span is made of the others.</summary>
    private string SpansName(ImmutableArray<PeriodSpan> spans)
    {
        if (spans.Length > 2)
            foreach (var grain in Enum.GetValues<TimeGrain>())
                if (grain.Cut(spans[0]).SequenceEqual(spans.Skip(1)))
                    return $"{book.Calendar.NameOf(spans[0])} and its {(grain == TimeGrain.Half ? "halves" : grain.ToString().ToLowerInvariant() + "s")} side by side";
        return string.Join(" and ", spans.Select(book.Calendar.NameOf));
    }

    public string NameOf(FigureRef figure) => book.Figure(figure)?.Name ?? figure.Code;

    private static string Listed(ImmutableArray<string> names) =>
        names.Length == 1 ? names[0] : $"{string.Join(", ", names[..^1])} and {names[^1]}";

    private string ShareName(FormOneQuestion question) =>
        SharesName(question) + (question.Part is { } part ? $", and what of it is {NameOf(part)}" : "");

    private string PlaceName(FormOneQuestion question) =>
        question is { Part: { } part, Share: false } ? $", and the place of {NameOf(part)}" : "";

    private string NameOf(PartAsked part) =>
        PeriodSpan.TryParse(part.Code, out var span) && !book.TryDimension(part.Dimension, out _) ? book.Calendar.NameOf(span)
        : book.TryDimension(part.Dimension, out var dimension) && book.TryMember(dimension.Id, part.Code, out var member)
            ? member.Name
        : part.Code;

    private static string SharesName(FormOneQuestion question) =>
        question.Bases.IsEmpty
            ? $"each part's share of the total{(question.SharesWithin is { } outer ? $" and within its {outer}" : "")}"
        : question.SharesOfSides ? "each part's share of both totals and of the variance"
        : "each part's share of the variance";

    private static string DocumentName(string number) =>
        number[0] == Kind.Entries.EndOfNumber ? $"the document ending in {number[1..]}" : $"document {number}";

    private bool OfStock(FormOneQuestion question) => book.Figure(question.Figure) is SumFigure { OverTime: OverTime.Stock };

    private string StatisticName(FormOneQuestion question, RowStatistic statistic) =>
        statistic == RowStatistic.Count ? "counted"
        : statistic == RowStatistic.Difference ? "and the first less the second"
        : $"with the {statistic.ToString().ToLowerInvariant()} of its {(question.Breakdowns.LastOrDefault(b => b.Grain is not null)?.Grain is { } grain ? grain.ToString().ToLowerInvariant() + "s" : OfStock(question) ? "months" : "rows")}";

    private static string DisplayName(Display display) =>
        string.Join(
            ", ",
            new[]
            {
                display.View switch
                {
                    null => null,
                    View.Csv or View.Json => display.View.ToString()!.ToUpperInvariant(),
                    View.Line => "as a line chart",
                    View.Bars => "as a bar chart",
                    _ => $"as a {display.View.ToString()!.ToLowerInvariant()}",
                },
                display.Scale switch
                {
                    null => null,
                    1 => "in full",
                    1_000 => "in thousands",
                    _ => "in millions",
                },
                display.Decimals is { } decimals ? $"{decimals} decimals" : null,
            }.OfType<string>()
        );

    private static string ProjectionName(Projection projection) =>
        projection switch
        {
            Projection.RunRate => "carried forward to a year at the pace of these months",
            Projection.Remaining => "what is left of the year's plan",
            Projection.Used => "the part of the year's plan that is used",
            _ => "outlook for the year: actuals so far and the latest forecast after them",
        };

    private static string IntentName(Intent intent) =>
        intent switch
        {
            Intent.Why => "what drives the variance",
            Intent.Variance => "variance",
            Intent.Bridge => "bridge",
            Intent.Entries => "ledger entries",
            _ => "the figure itself",
        };

    private string FilterName(Filter filter)
    {
        var names = !book.TryDimension(filter.Dimension, out var dimension)
            ? (ImmutableArray<string>)filter.Members
            : filter
                .Members.Select(c =>
                    book.TryMember(dimension.Id, c, out var m)
                        ? book.IsNameShared(m)
                            ? $"{m.Name} ({dimension.Name.ToLowerInvariant()})"
                            : m.Name
                        : "Unassigned"
                )
                .Distinct()
                .ToImmutableArray();
        // "For no route" would be taken for all of them.
        if (names is ["Unassigned"] && dimension is not null)
            return $"{(filter.Exclude ? "assigned to" : "without")} any {dimension.Name.ToLowerInvariant()}";
        if (names.Length > MostNamed && dimension is not null)
            names =
            [
                .. names[..(MostNamed / 2)],
                $"{names.Length - (MostNamed / 2)} further {Words.Plural(dimension.Name.ToLowerInvariant())}",
            ];
        return (filter.Exclude ? "without " : "for ") + Listed(names);
    }

    /// <summary>Members that a sentence names one by one; of more the first few, and how many there are.</summary>
    private const int MostNamed = 6;

    private string BreakdownName(Breakdown by)
    {
        if (by.Grain is { } grain)
            return grain.ToString().ToLowerInvariant();
        // "By account group", where a dimension of its own is called group.
        var shared =
            by.Level is { } level
            && book.Definition.Dimensions.Any(d =>
                d.Code != by.Dimension && d.Levels.Contains(level, StringComparer.OrdinalIgnoreCase)
            );
        return (
            shared && book.TryDimension(by.Dimension!, out var own) && own.Name != by.Level
                ? $"{own.Name} {by.Level}"
                : by.Level ?? by.Dimension!
        ).ToLowerInvariant();
    }

    private bool IsPercent(FormOneQuestion question) => book.Figure(question.Figure) is PairFigure { Rule: PairRule.Percent };

    private string BaseOf(Condition condition, FormOneQuestion question) =>
        condition.Of is { } side
            ? question.Spans.IsEmpty
                ? book.NameOf(side)
                : book.NameOf(side, question.Spans[0])
            : "the base";

    private static string ConditionName(Condition condition, bool compares, bool percents, string reference)
    {
        var limit =
            condition.On == ConditionOn.Percent || percents
                ? FormattableString.Invariant($"{condition.Value:0.##}%")
                : FormattableString.Invariant($"{condition.Value:#,0.##}");
        if (condition.On is ConditionOn.New or ConditionOn.Ended)
            return condition.On == ConditionOn.New
                ? $"that are new: nothing in {reference}"
                : "that have ended: nothing any more";
        if (condition.On == ConditionOn.Base)
            return $"with a base of at {(condition.Direction == Direction.Under ? "most" : "least")} {limit}";
        if (condition.Value == 0m && !compares)
            return condition.Direction == Direction.Under ? "below zero" : "above zero";
        // A cent is any difference at all.
        var least = condition is { On: ConditionOn.Amount, Value: 0.01m } ? "" : $"at least {limit} ";
        return compares
                ? condition.Direction switch
                {
                    Direction.Within => $"within {limit} of {reference}",
                    Direction.Over => $"{least}higher than {reference}",
                    Direction.Under => $"{least}lower than {reference}",
                    Direction.Against => $"{least}unfavourable{(condition.Of is null ? "" : " to " + reference)}",
                    Direction.For => $"{least}favourable{(condition.Of is null ? "" : " to " + reference)}",
                    _ => least.Length == 0 ? "that differ" : $"that differ by {least.TrimEnd()}",
                }
            : condition.IsUpper ? $"of at most {limit}"
            : $"of at least {limit}";
    }

    public static string RankingName(Ranking ranking) => OrderName(ranking) + (ranking.InPercent ? ", in percent" : "");

    private static string OrderName(Ranking ranking) =>
        ranking switch
        {
            { Count: 1, Skip: 0, BothEnds: false, By: RankBy.Name } => "the first",
            { Count: 1, Skip: 0, BothEnds: false } => $"the {Degree(ranking)}{InPercent(ranking)}",
            { By: RankBy.Name, Count: < Ranking.All } => $"the {ranking.Count} first{Further(ranking)}",
            { By: RankBy.Name } => ranking.Ascending ? "in reverse order" : "in order",
            { Count: Ranking.All, Skip: > 0 } => $"those after the first {ranking.Skip}",
            { Count: Ranking.All } => $"the {Degree(ranking)} first{InPercent(ranking)}",
            { Count: 1, Skip: > 0 } => $"number {ranking.Skip + 1} of the {Degree(ranking)}",
            { BothEnds: true, Count: 1 } => "the first and the last",
            { BothEnds: true } => $"the {ranking.Count} first and the {ranking.Count} last",
            _ => $"the {ranking.Count} {Degree(ranking)}{Further(ranking)}{InPercent(ranking)}",
        };

    private static string Degree(Ranking ranking) =>
        (ranking.By, ranking.Ascending) switch
        {
            (RankBy.Unfavourable, var up) => up ? "least unfavourable" : "most unfavourable",
            (RankBy.Favourable, var up) => up ? "least favourable" : "most favourable",
            (RankBy.Percent, var up) => up ? "slowest" : "fastest growing",
            (RankBy.Unusual, var up) => up ? "most usual" : "most unusual",
            (_, var up) => up ? "smallest" : "largest",
        };

    private static string InPercent(Ranking ranking) => ranking.By == RankBy.Percent ? ", in percent" : "";

    /// <summary>Of what the rows are that are ranked, where there are several splits.</summary>
    private string OfWhich(FormOneQuestion question, Ranking ranking) =>
        ranking.Within ? " within each"
        : ranking.Pairs ? " of all pairs"
        : question.Breakdowns is [var first, _, ..] && ranking is { Count: < Ranking.All, By: not RankBy.Percent }
            ? $" of the {Words.Plural(BreakdownName(first))}"
        : "";

    private static string Further(Ranking ranking) => ranking.Skip == 0 ? "" : $" after the first {ranking.Skip}";
}
