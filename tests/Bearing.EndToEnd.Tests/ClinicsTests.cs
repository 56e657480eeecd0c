using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>A book loaded from ugly exports by saved mappings: titles, totals, months across, thousands, trailing minus, three
/// spellings.</summary>
public sealed class ClinicsBook(DemoService demo) : IAsyncLifetime
{
    public const string Id = "quillmarsh";

    public static string Fixture(params string[] path) =>
        Path.Combine([Repository.Root, "tests", "fixtures", "clinics", .. path]);

    public Dictionary<string, ReceiptDto> Receipts { get; } = [];

    public async ValueTask InitializeAsync()
    {
        await demo.Client.Create(
            JsonSerializer.Deserialize<NewBook>(await File.ReadAllTextAsync(Fixture("book.json")), JsonSerializerOptions.Web)!,
            default
        );
        foreach (var file in Directory.GetFiles(Fixture("mappings")))
            await demo.Client.KeepMapping(
                Id,
                Path.GetFileNameWithoutExtension(file),
                JsonSerializer.Deserialize<MappingFile>(await File.ReadAllTextAsync(file), JsonSerializerOptions.Web)!,
                default
            );
        await Load("chart-of-accounts.xlsx", "accounts");
        await Load("chart-of-accounts.xlsx", "names");
        foreach (
            var file in new[]
            {
                "clinics.csv",
                "ledger-fy25.csv.gz",
                "ledger-fy26.csv.gz",
                "budget-fy26.xlsx",
                "forecast-5+7.csv",
                "statistics.csv",
                "rates.csv",
                "payables.csv",
            }
        )
            await Load(file);
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    public async Task<JobDto> Try(string path, string? kind = null)
    {
        await using var content = File.OpenRead(path);
        var upload = await demo.Client.Upload(Id, Path.GetFileName(path), content, default);
        var job = await demo.Client.Load(Id, new LoadRequest(upload.Id, kind), Guid.NewGuid().ToString(), default);
        await foreach (var state in demo.Client.Follow(Id, job.Id, default))
            job = state;
        return job;
    }

    private async Task Load(string file, string? kind = null)
    {
        var job = await Try(Fixture(file), kind);
        if (job.Receipt is not { } receipt)
            throw new InvalidOperationException(
                $"{file}: {job.Problem!.Detail} {string.Join(' ', job.Problem.Refused?.Select(r => r.Because) ?? [])}"
            );
        Receipts[kind is null ? file : $"{file} {kind}"] = receipt;
    }
}

public sealed class ClinicsTests(DemoService demo, ClinicsBook clinics) : IClassFixture<ClinicsBook>
{
    private static readonly JsonNode Truth = JsonNode.Parse(
        File.ReadAllText(ClinicsBook.Fixture("truth", "control-totals.json"))
    )!;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static decimal Of(string text) => decimal.Parse(text, CultureInfo.InvariantCulture);

    private static decimal Of(JsonNode? node) => Of(node!.ToJsonString());

    [Theory]
    [InlineData("ledger-fy25.csv")]
    [InlineData("ledger-fy26.csv")]
    public void Ledgers_meet_the_control_totals_of_every_period(string file)
    {
        var (receipt, truth) = (clinics.Receipts[$"{file}.gz"], Truth[file]!);
        Assert.Equal((truth["lines"]!.GetValue<long>(), 0L), (receipt.RowsTaken, receipt.RefusedRows));
        Assert.Equal("1 of the file's own totals agree with its rows.", receipt.Totals);
        var periods = truth["by_period"]!.AsArray();
        Assert.Equal(periods.Count, receipt.Periods.Count);
        foreach (var (expected, got) in periods.Zip(receipt.Periods))
            Assert.Equal(
                (expected!["lines"]!.GetValue<long>(), Of(expected["debit_eur"]), -Of(expected["credit_eur"]), 0m),
                (got.Lines, Of(got.Debit), Of(got.Credit), Of(got.Net))
            );
    }

    [Fact]
    public void The_budget_meets_its_totals_from_four_sheets_with_months_across_in_thousands()
    {
        var (receipt, truth) = (clinics.Receipts["budget-fy26.xlsx"], Truth["budget-fy26.xlsx"]!);
        Assert.Equal(
            (truth["rows"]!.GetValue<long>(), truth["amounts"]!.GetValue<long>()),
            (receipt.RowsTaken, receipt.Periods.Sum(p => p.Lines))
        );
        foreach (var (expected, got) in truth["by_period"]!.AsArray().Zip(receipt.Periods))
            Assert.Equal(Of(expected!["income_eur"]) - Of(expected["cost_eur"]), Of(got.Net));
        Assert.Contains(receipt.LeftOut, l => l is { What: "totals", Count: 34 });
        Assert.Contains(receipt.LeftOut, l => l is { What: "notes", Count: 4 });
    }

    [Fact]
    public void The_forecast_meets_its_totals_by_effect_on_profit()
    {
        var (receipt, truth) = (clinics.Receipts["forecast-5+7.csv"], Truth["forecast-5+7.csv"]!);
        Assert.Equal(truth["rows"]!.GetValue<long>(), receipt.RowsTaken);
        foreach (var (expected, got) in truth["by_period"]!.AsArray().Zip(receipt.Periods))
            Assert.Equal(Of(expected!["actual_eur"]) + Of(expected["forecast_eur"]), Of(got.Net));
    }

    [Fact]
    public async Task Statistics_side_by_side_go_to_their_scenarios_and_heads_are_averaged()
    {
        var months = Truth["statistics.csv"]!["by_period"]!.AsArray();
        var visits = await Ask("patient visits versus budget by month, July 2025 to February 2026");
        foreach (var month in months.Where(m => m!["visits_budget"] is not null && m["visits_actual"] is not null))
        {
            var label = DateOnly
                .ParseExact(month!["month"]!.GetValue<string>(), "yyyy-MM", CultureInfo.InvariantCulture)
                .ToString("MMMM yyyy", CultureInfo.InvariantCulture);
            var row = visits.Grid!.Rows.Single(r => r.Label == label);
            Assert.Equal(
                (Of(month["visits_actual"]), Of(month["visits_budget"])),
                (Of(row.Values["subject"]!), Of(row.Values["base"]!))
            );
        }
        var heads = await Ask("FTE in Q1 2026");
        var quarter = months
            .Where(m => m!["month"]!.GetValue<string>() is "2025-07" or "2025-08" or "2025-09")
            .Average(m => Of(m!["fte_actual"]));
        Assert.Equal(decimal.Round(quarter, 4), decimal.Round(Of(heads.Grid!.Rows[^1].Values["subject"]!), 4));
    }

    [Fact]
    public void Accounts_come_with_their_levels_and_other_names_go_to_accounts_groups_and_results()
    {
        Assert.Equal(74, clinics.Receipts["chart-of-accounts.xlsx accounts"].RowsTaken);
        Assert.Equal(74, clinics.Receipts["chart-of-accounts.xlsx names"].RowsTaken);
    }

    [Fact]
    public async Task Rates_are_all_there_the_way_round_in_which_they_are_quoted()
    {
        Assert.Equal(Truth["rates.csv"]!["rows"]!.GetValue<long>(), clinics.Receipts["rates.csv"].RowsTaken);
        var rates = await demo.Client.Rates(ClinicsBook.Id, Cancel);
        var rows = (await File.ReadAllLinesAsync(ClinicsBook.Fixture("rates.csv"), Cancel))
            .Skip(1)
            .Select(l => l.Split('\t'))
            .ToList();
        Assert.Equal(rows.Sum(r => r[2..].Count(c => c.Trim().Length > 0)), rates.Count);
        Assert.Equal(
            (0.9620m, "foreign-per-home"),
            rates
                .Where(r => r is { Currency: "CHF", PeriodName: "July 2024", Kind: "average" })
                .Select(r => (Of(r.Value), r.Quotation))
                .Single()
        );
    }

    [Fact]
    public async Task Invoices_are_records_whose_open_amounts_equal_the_account_of_the_ledger()
    {
        var (receipt, truth) = (clinics.Receipts["payables.csv"], Truth["payables.csv"]!);
        Assert.Equal(truth["rows"]!.GetValue<long>(), receipt.RowsTaken);
        Assert.Equal(
            (Of(truth["amount_eur"]), Of(truth["paid_eur"]), Of(truth["open_eur"])),
            (Of(receipt.Periods[0].Net), Of(receipt.Periods[1].Net), Of(receipt.Periods[2].Net))
        );
        foreach (var (status, sums) in truth["by_status"]!.AsObject())
        {
            var page = await demo.Client.Records(ClinicsBook.Id, "payables", [$"status is {status}"], null, 1, null, Cancel);
            Assert.Equal(sums!["rows"]!.GetValue<long>(), page.Count);
        }
        // Capitals and blanks behind do not make another supplier.
        var suppliers = await demo.Client.Records(ClinicsBook.Id, "payables", [], null, 1000, null, Cancel);
        Assert.Equal(
            suppliers.Records.Select(r => r.Fields["supplier"].ToUpperInvariant()).Distinct().Count(),
            suppliers.Records.Select(r => r.Fields["supplier"]).Distinct().Count()
        );
        // What is open equals what the ledger ever posted to its account; as a balance it is refused without opening balances.
        Assert.Equal(
            Of(truth["open_equals_ledger_account_2000"]),
            Of((await demo.Client.Lines(ClinicsBook.Id, "actual@2025-P01..2026-P08;figure=a:2000", 1, null, false, Cancel)).Sum)
        );
        var refused = await demo.Client.Ask(ClinicsBook.Id, new AskRequest("trade payables in February 2026"), Cancel);
        Assert.Contains("opening balances", refused.Because, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Ledger_lines_keep_who_prepared_and_approved_them_and_when()
    {
        var page = await demo.Client.Lines(ClinicsBook.Id, "actual@2025-P01;figure=a:5000;entity=C02", 1, null, false, Cancel);
        Assert.Equal(
            ("Karin Ostvold", "Helene Varga-Loth", "2024-07-01T10:50:00", "interface"),
            (
                page.Lines[0].Fields["prepared-by"],
                page.Lines[0].Fields["approved-by"],
                page.Lines[0].Fields["posted-at"],
                page.Lines[0].Fields["source"]
            )
        );
    }

    [Theory]
    [InlineData("turnover of Marrowfield in November 2025", "Revenue")]
    [InlineData("EBITDA versus budget year to date", "EBITDA")]
    [InlineData("payroll at Elverholt in February 2026 against budget", "Staff costs")]
    public async Task Names_from_the_files_can_be_asked_by(string question, string headline) =>
        Assert.Contains(headline, (await Ask(question)).Headline, StringComparison.Ordinal);

    public static TheoryData<string> BadFiles() =>
        [
            .. JsonNode.Parse(File.ReadAllText(ClinicsBook.Fixture("bad", "expected.json")))!["files"]!
                .AsArray()
                .Select(f => f!["file"]!.GetValue<string>()),
        ];

    /// <summary>Words of the expectation that allow other wording, and what stands for them here.</summary>
    private static readonly Dictionary<string, string> Wording = new() { ["separator or number of columns"] = "separator" };

    [Theory]
    [MemberData(nameof(BadFiles))]
    public async Task Each_broken_file_is_refused_with_what_and_where_and_leaves_the_book_as_it_was(string file)
    {
        var expected = JsonNode.Parse(await File.ReadAllTextAsync(ClinicsBook.Fixture("bad", "expected.json"), Cancel))!["files"]!
            .AsArray()
            .Single(f => f!["file"]!.GetValue<string>() == file)!;
        var before = (await demo.Client.Book(ClinicsBook.Id, Cancel)).Edition;
        var job = await clinics.Try(ClinicsBook.Fixture("bad", file));
        Assert.Equal("failed", job.State);
        var said =
            $"{job.Problem!.Detail} {job.Problem.Remedy} {string.Join(' ', job.Problem.Refused?.Select(r => $"{string.Join(", ", r.Places)} {r.Value} {r.Because} {r.Amount} {r.Remedy}") ?? [])}";
        Assert.All(expected["must_mention"]!.AsArray(), m =>
            Assert.Contains(
                Wording.GetValueOrDefault(m!.GetValue<string>(), m.GetValue<string>()),
                said,
                StringComparison.OrdinalIgnoreCase
            )
        );
        Assert.Equal(before, (await demo.Client.Book(ClinicsBook.Id, Cancel)).Edition);
    }

    [Fact]
    public async Task A_line_leads_back_to_the_sheet_and_row_of_its_workbook()
    {
        var page = await demo.Client.Lines(
            ClinicsBook.Id,
            "budget-fy26@2026-P01;figure=a:4000;entity=C01",
            10,
            null,
            false,
            Cancel
        );
        var source = await demo.Client.SourceRow(ClinicsBook.Id, page.Lines[0].Load, page.Lines[0].Row, Cancel);
        Assert.Equal(
            ("budget-fy26.xlsx", "Coast", 4, "55.69", "55690.00"),
            (source.File, source.Sheet, source.Row, source.Fields[5], page.Lines[0].Amount)
        );
        Assert.Equal("Jul 25", source.Headings[5]);
    }

    /// <summary>“make questions” prints what this writes.</summary>
    [Fact]
    public async Task Questions_of_the_clinics_are_answered_as_an_expert_would_or_not_at_all()
    {
        var scored = await new QuestionScore(7).Score(
            (text, previous) => demo.Client.Ask(ClinicsBook.Id, new AskRequest(text, previous), Cancel),
            ClinicsBook.Fixture("questions.jsonl"),
            Cancel
        );
        await File.WriteAllTextAsync(Path.Combine(Repository.Root, "out", "questions.txt"), QuestionScore.Report(scored), Cancel);
        Assert.Equal(130, scored.Count);
        Assert.True(scored.Count(s => s.Verdict == Verdict.AsExpected) >= LeastAsExpected, QuestionScore.Report(scored));
        Assert.False(scored.Exists(s => s.Verdict == Verdict.SilentlyWrong), QuestionScore.Report(scored));
    }

    /// <summary>Reached; to be raised with every mechanism.</summary>
    private const int LeastAsExpected = 124;

    private async Task<AnswerDto> Ask(string question)
    {
        var set = await demo.Client.Ask(ClinicsBook.Id, new AskRequest(question), Cancel);
        Assert.True(
            set.Outcome == "answered",
            $"{question}: {set.Because} {string.Join(" / ", set.Choices.Select(c => c.Means))}"
        );
        return Assert.Single(set.Answers);
    }
}
