using System.Diagnostics;
using System.Globalization;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Service.Hosting;
using static Bearing.Service.Hosting.WireText;

namespace Bearing.Service.Asking;

/// <summary>Questions between the wire and the core.</summary>
internal static class QuestionMapping
{
    private const int MostSpans = 13;
    private const int MostBreakdowns = 6;
    private const int MostColumns = 40;
    private const int MostBeside = 11;
    private const int MostGatherings = 4;

    public static QuestionDto ToDto(Question question)
    {
        var (scope, layout, kind) = question;
        return new QuestionDto(QuestionDto.CurrentForm, ToDto(scope), ToDto(kind), ToDto(layout));
    }

    private static ScopeDto ToDto(Scope scope)
    {
        var (figure, spans, filters, subject, bases, currency, rates) = scope;
        return new ScopeDto(
            Book.Coded(figure),
            [.. spans.Select(s => s.ToString())],
            [.. filters.Select(f => new FilterDto(f.Dimension, f.Members, f.Exclude))],
            subject.ToString(),
            [.. bases.Select(b => b.ToString())],
            currency,
            rates
        );
    }

    private static LayoutDto ToDto(Layout layout)
    {
        var (rows, ranking, conditions, inEvery, display) = layout;
        return new LayoutDto(
            [.. rows.Select(b => b.Grain is { } g ? new BreakdownDto(Name(g), null) : new BreakdownDto(b.Dimension!, b.Level))],
            ranking is null ? null : ToDto(ranking),
            conditions.IsEmpty ? null : [.. conditions.Select(ToDto)],
            Said(inEvery),
            display is null ? null : new DisplayDto(display.View is { } v ? Name(v) : null, display.Scale, display.Decimals)
        );
    }

    private static RankingDto ToDto(Ranking ranking) =>
        new(
            ranking.Count,
            Name(ranking.By),
            ranking.Ascending,
            ranking.Skip > 0 ? ranking.Skip : null,
            Said(ranking.BothEnds),
            Said(ranking.Within),
            Said(ranking.Pairs),
            Said(ranking.InPercent)
        );

    private static ConditionDto ToDto(Condition c) =>
        new(Name(c.On), Name(c.Direction), c.Value.ToString(CultureInfo.InvariantCulture), c.Of?.ToString());

    private static KindDto ToDto(Kind kind) =>
        kind.Match<KindDto>(
            values => new ValuesDto(ToDto(values.Of), values.Beside.IsEmpty ? null : [.. values.Beside.Select(Book.Coded)]),
            comparison => new ComparisonDto(ToDto(comparison.Of), Said(comparison.Growth)),
            why => new WhyDto(Said(why.Growth), ToDto(why.Claim)),
            _ => new BridgeDto(),
            entries => new EntriesDto(entries.Document, entries.Text, ToDto(entries.Listing)),
            records => new RecordsDto(ToDto(records.Ask), ToDto(records.Listing)),
            projected => new ProjectedDto(Name(projected.By), ToDto(projected.Claim))
        );

    private static OfRowsDto? ToDto(OfRows of)
    {
        if (of == OfRows.Nothing)
            return null;
        var (statistic, shares, part, claim, cumulative) = of;
        return new OfRowsDto(
            statistic is { } s ? Name(s) : null,
            shares is null ? null : new SharesDto(Said(shares.OfSides)),
            part is null ? null : new PartDto(part.Dimension, part.Code, part.Claim is { } c ? Name(c) : null),
            ToDto(claim),
            Said(cumulative)
        );
    }

    private static ClaimDto? ToDto(Claim? claim) =>
        claim is null
            ? null
            : new ClaimDto(
                Name(claim.Direction),
                claim.Of is { } of ? Name(of) : null,
                claim.Than is { } than ? Book.Coded(than) : null
            );

    private static ListingDto? ToDto(Listing? listing) =>
        listing is null
            ? null
            : new ListingDto(listing.Columns.IsEmpty ? null : listing.Columns, listing.OrderBy, Said(listing.Descending));

    /// <summary>What is not so is left out.</summary>
    private static bool? Said(bool so) => so ? true : null;

    private static RecordAskDto ToDto(RecordAsk a) =>
        new(
            a.Table,
            [.. a.Tests.Select(ToDto)],
            a.By.IsEmpty ? null : [.. a.By.Select(g => new GatheringDto(g.Field, g.Level))],
            a.Sum,
            a.Due,
            a.Buckets.IsEmpty ? null : a.Buckets,
            a.CountOnly ? true : null,
            a.OfFigure ? true : null,
            a.Also is { } also ? ToDto(also) : null,
            a.Statistic is { } s ? Name(s) : null,
            a.LimitsGroups ? true : null,
            a.PaidOn,
            a.AsAt?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            a.Beside.IsEmpty ? null : a.Beside
        );

    private static RecordTestDto ToDto(RecordTest t) =>
        new(Name(t.Kind), t.Field, t.Other, t.Value, t.Number == 0 ? null : t.Number, t.Not ? true : null);

    /// <exception cref="ProblemException">400, naming the part that is wrong.</exception>
    public static Question FromDto(QuestionDto? dto)
    {
        if (dto is null)
            throw Wrong("question", "it is missing.", "Send the typed question that an answer carries.");
        if (dto.Form != QuestionDto.CurrentForm)
            throw Wrong("form", $"{dto.Form} is not a form that this service knows.", $"Use form {QuestionDto.CurrentForm}.");
        var scope = ToScope(dto.Scope ?? throw Wrong("scope", "it is missing.", "Name a figure and its periods."));
        var kind = ToKind(dto.Kind ?? throw Wrong("kind", "it is missing.", "Say values, comparison, why …"));
        if (kind is Kind.Values && !scope.Bases.IsEmpty)
            throw Wrong("scope.bases", "values stand as they are.", "Leave the bases out, or ask for a comparison.");
        if (kind is Kind.Comparison or Kind.Why or Kind.Bridge && scope.Bases.IsEmpty)
            throw Wrong("scope.bases", "there is nothing to compare with.", "Name a base, such as prior-year.");
        return new Question(scope, ToLayout(dto.Layout ?? new LayoutDto(), scope), kind);
    }

    private static Scope ToScope(ScopeDto dto)
    {
        if (dto.Periods is not { Count: > 0 and <= MostSpans })
            throw Wrong(
                "scope.periods",
                "A question needs one to thirteen periods: a year and its months.",
                "For example [\"2026-P09\"]."
            );
        return new Scope(
            ToFigure(dto.Figure, "scope.figure"),
            [
                .. dto.Periods.Select(s =>
                    PeriodSpan.TryParse(s, out var span)
                        ? span
                        : throw Wrong("scope.periods", $"“{s}” is not a period.", "Write 2026-P09 or 2026-P01..2026-P09.")
                ),
            ],
            [.. (dto.Filters ?? []).Select(x => new Filter(x.Dimension, [.. x.Members ?? []], x.Exclude))],
            Side.Parse(dto.Subject ?? Book.ActualCode),
            [.. (dto.Bases ?? []).Select(Side.Parse)],
            string.IsNullOrEmpty(dto.Currency) ? null
                : dto.Currency.Length == 3 && dto.Currency.All(char.IsAsciiLetter) ? dto.Currency.ToUpperInvariant()
                : throw Wrong("scope.currency", $"“{dto.Currency}” is no currency.", "Use an ISO 4217 code."),
            string.IsNullOrEmpty(dto.Rates) ? null
                : dto.Rates.Length <= 40 && dto.Rates.All(c => char.IsAsciiLetterLower(c) || char.IsAsciiDigit(c) || c == '-')
                    ? dto.Rates
                : throw Wrong(
                    "scope.rates",
                    $"“{dto.Rates}” is no set of rates.",
                    "Use actual, budget, forecast, prior-year, or the code of a version's own."
                )
        );
    }

    private static Layout ToLayout(LayoutDto dto, Scope scope)
    {
        if (dto.Rows is { Count: > MostBreakdowns })
            throw Wrong("layout.rows", $"Up to {MostBreakdowns} breakdowns can be nested.", "Leave some out.");
        return new Layout(
            [.. (dto.Rows ?? []).Select(b => ToBreakdown(b.By, b.Level))],
            dto.Ranking is { } r ? ToRanking(r) : null,
            [.. (dto.Conditions ?? []).Select(c => ToCondition(c, scope))],
            dto.InEvery ?? false,
            dto.Display is { } d ? ToDisplay(d) : null
        );
    }

    private static Ranking ToRanking(RankingDto r) =>
        new(
            Math.Clamp(r.Count, 1, 1000),
            Known<RankBy>(r.By, "layout.ranking.by"),
            r.Ascending,
            Math.Clamp(r.Skip ?? 0, 0, 1_000_000)
        )
        {
            BothEnds = r.BothEnds ?? false,
            Within = r.Within ?? false,
            Pairs = r.Pairs ?? false,
            InPercent = r.InPercent ?? false,
        };

    private static Condition ToCondition(ConditionDto c, Scope scope) =>
        new(
            Known<ConditionOn>(c.On, "layout.conditions.on"),
            Known<Direction>(c.Direction, "layout.conditions.direction"),
            decimal.TryParse(c.Value, CultureInfo.InvariantCulture, out var limit) && limit >= 0
                ? limit
                : throw Wrong(
                    "layout.conditions.value",
                    $"“{c.Value}” is no limit.",
                    "Give zero or more in plain decimal notation."
                )
        )
        {
            Of =
                string.IsNullOrEmpty(c.Of) ? null
                : scope.Bases.Contains(Side.Parse(c.Of)) ? Side.Parse(c.Of)
                : throw Wrong(
                    "layout.conditions.of",
                    $"“{c.Of}” is none of the bases.",
                    "Name one of them, or leave it out for the first."
                ),
        };

    private static Display ToDisplay(DisplayDto d) =>
        new(
            d.View is null ? null : Known<View>(d.View, "layout.display.view"),
            d.Scale is null or 1 or 1_000 or 1_000_000
                ? d.Scale
                : throw Wrong("layout.display.scale", $"{d.Scale} is no scale.", "Use 1, 1000 or 1000000."),
            d.Decimals is null or (>= 0 and <= 4)
                ? d.Decimals
                : throw Wrong("layout.display.decimals", $"{d.Decimals} is out of range.", "Use 0 to 4.")
        );

    private static Kind ToKind(KindDto dto) =>
        dto switch
        {
            ValuesDto values => new Kind.Values(
                ToOfRows(values.Of),
                values.Beside is { Count: > MostBeside }
                    ? throw Wrong("kind.beside", "there are too many.", $"Give up to {MostBeside}.")
                    : [.. (values.Beside ?? []).Select(f => ToFigure(f, "kind.beside"))]
            ),
            ComparisonDto comparison => new Kind.Comparison(ToOfRows(comparison.Of), comparison.Growth ?? false),
            WhyDto why => new Kind.Why(why.Growth ?? false, ToClaim(why.Claim, "kind.claim")),
            BridgeDto => new Kind.Bridge(),
            EntriesDto entries => new Kind.Entries(
                string.IsNullOrEmpty(entries.Document) ? null : entries.Document,
                string.IsNullOrEmpty(entries.Text) ? null : entries.Text,
                ToListing(entries.Listing)
            ),
            RecordsDto records => new Kind.Records(
                ToAsk(records.Ask ?? throw Wrong("kind.ask", "it is missing.", "Name a table.")),
                ToListing(records.Listing)
            ),
            ProjectedDto projected => new Kind.Projected(
                Known<Projection>(projected.By ?? "", "kind.by"),
                ToClaim(projected.Claim, "kind.claim")
            ),
            _ => throw new UnreachableException(),
        };

    private static OfRows ToOfRows(OfRowsDto? dto) =>
        dto is null
            ? OfRows.Nothing
            : new OfRows(
                dto.Statistic is null ? null : Known<RowStatistic>(dto.Statistic, "kind.of.statistic"),
                dto.Shares is null ? null : new Shares(dto.Shares.OfSides ?? false),
                dto.Part is { } part
                    ? new PartAsked(
                        part.Dimension
                            ?? throw Wrong(
                                "kind.of.part.dimension",
                                "it is missing.",
                                "Give the code of a dimension, or period."
                            ),
                        part.Code ?? throw Wrong("kind.of.part.code", "it is missing.", "Give the code of a member."),
                        part.Claim is null ? null : Known<PartClaim>(part.Claim, "kind.of.part.claim")
                    )
                    : null,
                ToClaim(dto.Claim, "kind.of.claim"),
                dto.Cumulative ?? false
            );

    private static Claim? ToClaim(ClaimDto? dto, string where) =>
        dto is null
            ? null
            : new Claim(
                Known<Direction>(dto.Direction ?? "", $"{where}.direction"),
                dto.Of is null ? null : Known<Quantifier>(dto.Of, $"{where}.of"),
                dto.Than is null ? null : ToFigure(dto.Than, $"{where}.than")
            );

    private static Listing? ToListing(ListingDto? dto) =>
        dto is null
            ? null
            : new Listing(
                dto.Columns is { Count: > MostColumns }
                    ? throw Wrong("kind.listing.columns", "there are too many.", $"Give up to {MostColumns}.")
                    : [.. dto.Columns ?? []],
                string.IsNullOrEmpty(dto.OrderBy) ? null : dto.OrderBy,
                dto.Descending ?? false
            );

    private static RecordAsk ToAsk(RecordAskDto a) =>
        new(
            a.Table ?? throw Wrong("kind.ask.table", "it is missing.", "Name a table, or ledger."),
            [.. (a.Tests ?? []).Select(ToTest)]
        )
        {
            By = a.By is { Count: > MostGatherings }
                ? throw Wrong("kind.ask.by", "there are too many.", $"Give up to {MostGatherings}.")
                :
                [
                    .. (a.By ?? []).Select(g => new Gathering(
                        g.Field ?? throw Wrong("kind.ask.by.field", "it is missing.", "Give the code of a field."),
                        g.Level
                    )),
                ],
            PaidOn = a.PaidOn,
            Beside = a.Beside is { Count: > MostGatherings }
                ? throw Wrong("kind.ask.beside", "there are too many.", $"Give up to {MostGatherings}.")
                : [.. a.Beside ?? []],
            AsAt =
                a.AsAt is null ? null
                : DateOnly.TryParseExact(
                    a.AsAt,
                    "yyyy-MM-dd",
                    CultureInfo.InvariantCulture,
                    System.Globalization.DateTimeStyles.None,
                    out var day
                )
                    ? day
                : throw Wrong("kind.ask.asAt", $"“{a.AsAt}” is not a day.", "Write 2026-09-15."),
            Sum = a.Sum,
            Due = a.Due,
            Buckets =
                a.Buckets is { } b
                && (b.Count > 20 || b.Any(d => d is < 1 or > 10_000) || b.Zip(b.Skip(1)).Any(n => n.First >= n.Second))
                    ? throw Wrong(
                        "kind.ask.buckets",
                        "the bounds do not rise, or there are too many.",
                        "Give up to twenty rising numbers of days."
                    )
                    : [.. a.Buckets ?? []],
            CountOnly = a.CountOnly ?? false,
            LimitsGroups = a.LimitsGroups ?? false,
            OfFigure = a.OfFigure ?? false,
            Statistic = a.Statistic is null ? null : Known<RowStatistic>(a.Statistic, "kind.ask.statistic"),
            Also = a.Also is null ? null : ToTest(a.Also),
        };

    private static RecordTest ToTest(RecordTestDto t) =>
        new(
            Known<RecordTestKind>(t.Kind ?? "", "kind.ask.tests.kind"),
            t.Field,
            t.Other,
            t.Value,
            t.Number is < 0 or > 1_000_000_000
                ? throw Wrong("kind.ask.tests.number", "it is out of range.", "Give zero or more.")
                : t.Number ?? 0
        )
        {
            Not = t.Not ?? false,
        };

    public static FigureRef ToFigure(string? text, string where) =>
        text is { Length: > 2 } f && f[1] == ':' && f[0] is 'a' or 'm'
            ? new FigureRef(f[0] == 'a' ? FigureKind.Account : FigureKind.Measure, f[2..])
            : throw Wrong(where, $"“{text}” is not a figure.", "Use a: and an account code or m: and a measure.");

    private static T Known<T>(string text, string where)
        where T : struct, Enum =>
        text.Length > 0
        && !char.IsDigit(text[0])
        && Enum.TryParse<T>(text.Replace("-", "", StringComparison.Ordinal), true, out var value)
            ? value
            : throw Wrong(
                where,
                $"“{text}” is not known.",
                $"Use one of {string.Join(", ", Enum.GetValues<T>().Select(v => Name(v)))}."
            );

    public static Breakdown ToBreakdown(string by, string? level) =>
        Enum.TryParse<TimeGrain>(by, true, out var grain) && !char.IsDigit(by[0])
            ? Breakdown.ByTime(grain)
            : Breakdown.By(by, level);

    private static ProblemException Wrong(string where, string because, string remedy) =>
        new(ProblemKinds.QuestionUnreadable, $"{where}: {because}", remedy);
}
