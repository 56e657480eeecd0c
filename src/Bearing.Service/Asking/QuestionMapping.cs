using System.Collections.Immutable;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Service.Hosting;

namespace Bearing.Service.Asking;

/// <summary>Questions between the wire and the core.</summary>
internal static class QuestionMapping
{
    private const int MostSpans = 13;
    private const int MostBreakdowns = 6;
    private const int MostColumns = 40;
    private const int MostBeside = 11;

    public static QuestionDto ToDto(Question q) =>
        new(
            q.Form,
            q.Intent.ToString().ToLowerInvariant(),
            Book.Coded(q.Figure),
            q.Subject.ToString(),
            [.. q.Bases.Select(b => b.ToString())],
            [.. q.Spans.Select(s => s.ToString())],
            [.. q.Filters.Select(f => new FilterDto(f.Dimension, f.Members, f.Exclude))],
            [
                .. q.Breakdowns.Select(b =>
                    b.Grain is { } g
                        ? new BreakdownDto(g.ToString().ToLowerInvariant(), null)
                        : new BreakdownDto(b.Dimension!, b.Level)
                ),
            ],
            q.Ranking is { } r
                ? new RankingDto(
                    r.Count,
                    r.By.ToString().ToLowerInvariant(),
                    r.Ascending,
                    r.Skip > 0 ? r.Skip : null,
                    r.BothEnds ? true : null,
                    r.Within ? true : null,
                    r.Pairs ? true : null,
                    r.InPercent ? true : null
                )
                : null,
            q.Conditions.IsEmpty
                ? null
                :
                [
                    .. q.Conditions.Select(c => new ConditionDto(
                        c.On.ToString().ToLowerInvariant(),
                        c.Direction.ToString().ToLowerInvariant(),
                        c.Value.ToString(System.Globalization.CultureInfo.InvariantCulture),
                        c.Of?.ToString()
                    )),
                ],
            q.Share ? true : null,
            q.Claim?.ToString().ToLowerInvariant(),
            q.Growth ? true : null,
            q.Document,
            q.Cumulative ? true : null,
            q.Projection is { } p ? Loading.LoadMapping.Name(p) : null,
            q.Records is { } a ? ToDto(a) : null,
            q.Statistic is { } s ? Loading.LoadMapping.Name(s) : null,
            q.Text,
            q.Display is { } d ? new DisplayDto(d.View is { } v ? Loading.LoadMapping.Name(v) : null, d.Scale, d.Decimals) : null,
            q.Currency,
            q.Listing is { } l
                ? new ListingDto(l.Columns.IsEmpty ? null : l.Columns, l.OrderBy, l.Descending ? true : null)
                : null,
            q.ClaimOf?.ToString().ToLowerInvariant(),
            q.Mix ? true : null,
            q.Than is { } than ? Book.Coded(than) : null,
            q.Part is { } part ? new PartDto(part.Dimension, part.Code, part.Claim?.ToString().ToLowerInvariant()) : null,
            q.Beside.IsEmpty ? null : [.. q.Beside.Select(Book.Coded)],
            q.Rates
        );

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
            a.Statistic is { } s ? Loading.LoadMapping.Name(s) : null,
            a.LimitsGroups ? true : null,
            a.PaidOn,
            a.AsAt?.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture),
            a.Beside.IsEmpty ? null : a.Beside
        );

    private const int MostGatherings = 4;

    private static RecordTestDto ToDto(RecordTest t) =>
        new(Loading.LoadMapping.Name(t.Kind), t.Field, t.Other, t.Value, t.Number == 0 ? null : t.Number);

    private static RecordAsk ToAsk(RecordAskDto a) =>
        new(
            a.Table ?? throw Wrong("records.table", "it is missing.", "Name a table, or ledger."),
            [.. (a.Tests ?? []).Select(ToTest)]
        )
        {
            By = a.By is { Count: > MostGatherings }
                ? throw Wrong("records.by", "there are too many.", $"Give up to {MostGatherings}.")
                :
                [
                    .. (a.By ?? []).Select(g => new Gathering(
                        g.Field ?? throw Wrong("records.by.field", "it is missing.", "Give the code of a field."),
                        g.Level
                    )),
                ],
            PaidOn = a.PaidOn,
            Beside = a.Beside is { Count: > MostGatherings }
                ? throw Wrong("records.beside", "there are too many.", $"Give up to {MostGatherings}.")
                : [.. a.Beside ?? []],
            AsAt =
                a.AsAt is null ? null
                : DateOnly.TryParseExact(
                    a.AsAt,
                    "yyyy-MM-dd",
                    System.Globalization.CultureInfo.InvariantCulture,
                    System.Globalization.DateTimeStyles.None,
                    out var day
                )
                    ? day
                : throw Wrong("records.asAt", $"“{a.AsAt}” is not a day.", "Write 2026-09-15."),
            Sum = a.Sum,
            Due = a.Due,
            Buckets =
                a.Buckets is { } b
                && (b.Count > 20 || b.Any(d => d is < 1 or > 10_000) || b.Zip(b.Skip(1)).Any(n => n.First >= n.Second))
                    ? throw Wrong(
                        "records.buckets",
                        "the bounds do not rise, or there are too many.",
                        "Give up to twenty rising numbers of days."
                    )
                    : [.. a.Buckets ?? []],
            CountOnly = a.CountOnly ?? false,
            LimitsGroups = a.LimitsGroups ?? false,
            OfFigure = a.OfFigure ?? false,
            Statistic = a.Statistic is null ? null : Known<RowStatistic>(a.Statistic, "records.statistic"),
            Also = a.Also is null ? null : ToTest(a.Also),
        };

    private static RecordTest ToTest(RecordTestDto t) =>
        new(
            Known<RecordTestKind>((t.Kind ?? "").Replace("-", "", StringComparison.Ordinal), "records.tests.kind"),
            t.Field,
            t.Other,
            t.Value,
            t.Number is < 0 or > 1_000_000_000
                ? throw Wrong("records.tests.number", "it is out of range.", "Give zero or more.")
                : t.Number ?? 0
        );

    /// <exception cref="ProblemException">400, naming the part that is wrong.</exception>
    public static Question FromDto(QuestionDto? dto)
    {
        if (dto is null)
            throw Wrong("question", "it is missing.", "Send the typed question that an answer carries.");
        if (dto.Form != Question.CurrentForm)
            throw Wrong("form", $"{dto.Form} is not a form that this service knows.", $"Use form {Question.CurrentForm}.");
        if (dto.Spans is not { Count: > 0 and <= MostSpans })
            throw Wrong(
                "spans",
                "A question needs one to thirteen periods: a year and its months.",
                "For example [\"2026-P09\"]."
            );
        if (dto.Breakdowns is { Count: > MostBreakdowns })
            throw Wrong("breakdowns", $"Up to {MostBreakdowns} breakdowns can be nested.", "Leave some out.");
        return new Question
        {
            Intent = Enum.TryParse<Intent>(dto.Intent, true, out var intent)
                ? intent
                : throw Wrong("intent", $"“{dto.Intent}” is not known.", "Use value, variance, why, bridge, entries or records."),
            Figure = ToFigure(dto.Figure, "figure"),
            Subject = Side.Parse(dto.Subject ?? Book.ActualCode),
            Bases = [.. (dto.Bases ?? []).Select(Side.Parse)],
            Spans =
            [
                .. dto.Spans.Select(s =>
                    PeriodSpan.TryParse(s, out var span)
                        ? span
                        : throw Wrong("spans", $"“{s}” is not a period.", "Write 2026-P09 or 2026-P01..2026-P09.")
                ),
            ],
            Filters = [.. (dto.Filters ?? []).Select(x => new Filter(x.Dimension, [.. x.Members ?? []], x.Exclude))],
            Breakdowns = [.. (dto.Breakdowns ?? []).Select(b => ToBreakdown(b.By, b.Level))],
            Ranking = dto.Ranking is { } r
                ? new Ranking(
                    Math.Clamp(r.Count, 1, 1000),
                    Enum.TryParse<RankBy>(r.By, true, out var by)
                        ? by
                        : throw Wrong(
                            "ranking",
                            $"“{r.By}” is not known.",
                            "Use value, size, favourable, unfavourable, percent or name."
                        ),
                    r.Ascending,
                    Math.Clamp(r.Skip ?? 0, 0, 1_000_000)
                )
                {
                    BothEnds = r.BothEnds ?? false,
                    Within = r.Within ?? false,
                    Pairs = r.Pairs ?? false,
                    InPercent = r.InPercent ?? false,
                }
                : null,
            Conditions =
            [
                .. (dto.Conditions ?? []).Select(c => new Condition(
                    Known<ConditionOn>(c.On, "conditions.on"),
                    Known<Direction>(c.Direction, "conditions.direction"),
                    decimal.TryParse(c.Value, System.Globalization.CultureInfo.InvariantCulture, out var limit) && limit >= 0
                        ? limit
                        : throw Wrong(
                            "conditions.value",
                            $"“{c.Value}” is no limit.",
                            "Give zero or more in plain decimal notation."
                        )
                )
                {
                    Of =
                        string.IsNullOrEmpty(c.Of) ? null
                        : dto.Bases?.Contains(c.Of) == true ? Side.Parse(c.Of)
                        : throw Wrong(
                            "conditions.of",
                            $"“{c.Of}” is none of the bases.",
                            "Name one of them, or leave it out for the first."
                        ),
                }),
            ],
            Share = dto.Share ?? false,
            Mix = dto.Mix ?? false,
            Growth = dto.Growth ?? false,
            Document = string.IsNullOrEmpty(dto.Document) ? null : dto.Document,
            Text = string.IsNullOrEmpty(dto.Text) ? null : dto.Text,
            Currency =
                string.IsNullOrEmpty(dto.Currency) ? null
                : dto.Currency.Length == 3 && dto.Currency.All(char.IsAsciiLetter) ? dto.Currency.ToUpperInvariant()
                : throw Wrong("currency", $"“{dto.Currency}” is no currency.", "Use an ISO 4217 code."),
            Rates =
                string.IsNullOrEmpty(dto.Rates) ? null
                : dto.Rates.Length <= 40 && dto.Rates.All(c => char.IsAsciiLetterLower(c) || char.IsAsciiDigit(c) || c == '-')
                    ? dto.Rates
                : throw Wrong(
                    "rates",
                    $"“{dto.Rates}” is no set of rates.",
                    "Use actual, budget, forecast, prior-year, or the code of a version's own."
                ),
            Statistic = dto.Statistic is null ? null : Known<RowStatistic>(dto.Statistic, "statistic"),
            Display = dto.Display is { } d
                ? new Display(
                    d.View is null ? null : Known<View>(d.View, "display.view"),
                    d.Scale is null or 1 or 1_000 or 1_000_000
                        ? d.Scale
                        : throw Wrong("display.scale", $"{d.Scale} is no scale.", "Use 1, 1000 or 1000000."),
                    d.Decimals is null or (>= 0 and <= 4)
                        ? d.Decimals
                        : throw Wrong("display.decimals", $"{d.Decimals} is out of range.", "Use 0 to 4.")
                )
                : null,
            Cumulative = dto.Cumulative ?? false,
            Records = dto.Records is null ? null : ToAsk(dto.Records),
            Listing = dto.Listing is { } l
                ? new Listing(
                    l.Columns is { Count: > MostColumns }
                        ? throw Wrong("listing.columns", "there are too many.", $"Give up to {MostColumns}.")
                        : [.. l.Columns ?? []],
                    string.IsNullOrEmpty(l.OrderBy) ? null : l.OrderBy,
                    l.Descending ?? false
                )
                : null,
            Projection = dto.Projection is null
                ? null
                : Known<Projection>(dto.Projection.Replace("-", "", StringComparison.Ordinal), "projection"),
            Claim = dto.Claim is null ? null : Known<Direction>(dto.Claim, "claim"),
            ClaimOf = dto.ClaimOf is null ? null : Known<Quantifier>(dto.ClaimOf, "claimOf"),
            Part = dto.Part is { } part
                ? new PartAsked(
                    part.Dimension ?? throw Wrong("part.dimension", "it is missing.", "Give the code of a dimension, or period."),
                    part.Code ?? throw Wrong("part.code", "it is missing.", "Give the code of a member."),
                    part.Claim is null ? null : Known<PartClaim>(part.Claim, "part.claim")
                )
                : null,
            Than = dto.Than is null ? null : ToFigure(dto.Than, "than"),
            Beside = dto.Beside is { Count: > MostBeside }
                ? throw Wrong("beside", "there are too many.", $"Give up to {MostBeside}.")
                : [.. (dto.Beside ?? []).Select(f => ToFigure(f, "beside"))],
        };
    }

    public static FigureRef ToFigure(string? text, string where) =>
        text is { Length: > 2 } f && f[1] == ':' && f[0] is 'a' or 'm'
            ? new FigureRef(f[0] == 'a' ? FigureKind.Account : FigureKind.Measure, f[2..])
            : throw Wrong(where, $"“{text}” is not a figure.", "Use a: and an account code or m: and a measure.");

    private static T Known<T>(string text, string where)
        where T : struct, Enum =>
        text.Length > 0 && Enum.TryParse<T>(text, true, out var value) && !char.IsDigit(text[0])
            ? value
            : throw Wrong(
                where,
                $"“{text}” is not known.",
                $"Use one of {string.Join(", ", Enum.GetNames<T>().Select(n => n.ToLowerInvariant()))}."
            );

    public static Breakdown ToBreakdown(string by, string? level) =>
        Enum.TryParse<TimeGrain>(by, true, out var grain) && !char.IsDigit(by[0])
            ? Breakdown.ByTime(grain)
            : Breakdown.By(by, level);

    private static ProblemException Wrong(string where, string because, string remedy) =>
        new(400, "The question cannot be read", $"{where}: {because}", remedy);
}
