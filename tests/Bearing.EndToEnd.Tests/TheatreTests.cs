using System.Globalization;
using System.IO.Compression;
using System.Text.Json;
using System.Text.Json.Nodes;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>A group whose entities keep their books in pounds, euros and kronor, loaded by mappings written by hand.</summary>
public sealed class TheatreBook(DemoService demo) : IAsyncLifetime
{
    public const string Id = "lanternmoor";

    public static string Fixture(params string[] path) =>
        Path.Combine([Repository.Root, "tests", "fixtures", "theatre", .. path]);

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
        await Load("../accounts.csv", null, "accounts");
        foreach (
            var (file, mapping) in ((string, string)[])
                [
                    ("entities.csv", "entities"),
                    ("cost_centres.csv", "cost-centres"),
                    ("productions.csv", "productions"),
                    ("channels.csv", "channels"),
                    ("suppliers.csv", "suppliers"),
                    ("customers.csv", "customers"),
                    ("rates.csv", "rates"),
                    ("houses_ledger_FY24.csv.gz", "houses"),
                    ("houses_ledger_FY25.csv.gz", "houses"),
                    ("houses_ledger_FY26_P01-P08.csv.gz", "houses"),
                    ("services_ledger.xlsx", "services"),
                    ("touring_workshop_lines.txt.gz", "touring-workshop"),
                    ("budget_FY26.xlsx", "budget"),
                    ("budget_FY26_revised.csv", "budget-revised"),
                    ("forecast_6plus6.jsonl.gz", "forecast"),
                    ("box_office_orders_May2026.csv.gz", "orders"),
                    ("customer_comments.tsv", "comments"),
                    ("receivables_open_31May2026.csv", "receivables"),
                    ("statistics.parquet", "statistics"),
                    ("statistics.parquet", "statistics-budget"),
                ]
        )
            await Load(file, mapping);
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    public async Task<JobDto> Try(LoadRequest how, params string[] path)
    {
        await using var content = File.OpenRead(Fixture(path));
        var upload = await demo.Client.Upload(Id, path[^1], content, default);
        return await Run(how with { Upload = upload.Id });
    }

    public async Task<JobDto> Run(LoadRequest how)
    {
        var job = await demo.Client.Load(Id, how, Guid.NewGuid().ToString(), default);
        await foreach (var state in demo.Client.Follow(Id, job.Id, default))
            job = state;
        return job;
    }

    private async Task Load(string file, string? mapping, string? kind = null)
    {
        // The supplier S999 stands in the ledger and in no list.
        var how = new LoadRequest(
            "",
            kind,
            Mapping: mapping,
            Agreed: true,
            Add: mapping == "houses" ? [new AddedMember("party", "S999", "S999")] : null
        );
        if (mapping == "touring-workshop")
        {
            await using var headings = File.OpenRead(Fixture("files", "touring_workshop_headers.txt.gz"));
            how = how with { Headings = (await demo.Client.Upload(Id, "touring_workshop_headers.txt.gz", headings, default)).Id };
        }
        var job = await Try(how, "files", file);
        Receipts[mapping == "statistics-budget" ? mapping : file] = job.Receipt
            ?? throw new InvalidOperationException(
                $"{file}: {job.Problem!.Detail} {string.Join(' ', job.Problem.Refused?.Select(r => r.Because) ?? [])}"
            );
    }
}

public sealed class TheatreTests(DemoService demo, TheatreBook theatre) : IClassFixture<TheatreBook>
{
    /// <summary>Each translated line is rounded to four decimals, so that a sum of thousands of them may differ from the exact
    /// one in the last cent.</summary>
    private const decimal Cent = 0.01m;

    private static readonly JsonNode Totals = JsonNode.Parse(
        File.ReadAllText(TheatreBook.Fixture("truth", "control-totals.json"))
    )!;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static decimal Of(JsonNode? node) => decimal.Parse(node!.ToJsonString(), CultureInfo.InvariantCulture);

    private static decimal Of(string text) => decimal.Parse(text, CultureInfo.InvariantCulture);

    [Fact]
    public void Ledgers_meet_their_control_totals_in_the_currencies_of_their_books()
    {
        foreach (var file in (string[])["houses_ledger_FY24.csv", "houses_ledger_FY25.csv", "houses_ledger_FY26_P01-P08.csv"])
        {
            var (receipt, truth) = (theatre.Receipts[$"{file}.gz"], Totals["files"]![file]!);
            Assert.Equal(
                (truth["lines"]!.GetValue<long>(), Of(truth["debit"]), Of(truth["credit"])),
                (receipt.RowsTaken, receipt.Periods.Sum(p => Of(p.Debit)), receipt.Periods.Sum(p => Of(p.Credit)))
            );
        }
        foreach (var file in (string[])["services_ledger.xlsx", "touring_workshop_lines.txt"])
        {
            var receipt = theatre.Receipts.GetValueOrDefault(file) ?? theatre.Receipts[$"{file}.gz"];
            Assert.Equal(Totals["files"]![file]!["lines"]!.GetValue<long>(), receipt.RowsTaken);
            Assert.All(receipt.Periods, p => Assert.Equal(0m, Of(p.Net)));
        }
        Assert.Equal(
            ["EUR", "SEK"],
            theatre.Receipts["touring_workshop_lines.txt.gz"].Periods.Select(p => p.Currency).Distinct().Order()
        );
        Assert.Equal(
            Totals["files"]!["forecast_6plus6.jsonl"]!["rows"]!.GetValue<long>(),
            theatre.Receipts["forecast_6plus6.jsonl.gz"].RowsTaken
        );
        Assert.Equal(
            Totals["budget_input_cells"]!.GetValue<long>(),
            theatre.Receipts["budget_FY26.xlsx"].Periods.Sum(p => p.Lines) - EmptyBudgetCells
        );
    }

    /// <summary>The budget has zeros that the truth does not count as input.</summary>
    private const long EmptyBudgetCells = 1278;

    public static TheoryData<string> Years() =>
        [
            .. Totals["result_by_entity_and_year_gbp"]!
                .AsObject()
                .Select(y => y.Key)
                .Where(y => !y.Contains("revised", StringComparison.Ordinal)),
        ];

    [Theory]
    [MemberData(nameof(Years))]
    public async Task Results_of_every_company_and_of_the_group_are_those_of_the_truth_in_pounds(string year)
    {
        var answer = await Answer(
            Subject(year),
            year.Contains("P01", StringComparison.Ordinal)
                ? $"{YearOf(year)}-P01..{YearOf(year)}-P08"
                : $"{YearOf(year)}-P01..{YearOf(year)}-P12",
            new BreakdownDto("entity", "Company")
        );
        var rows = answer
            .Grid!.Rows.Where(r => r.Members.ContainsKey("entity"))
            .ToDictionary(r => r.Members["entity"].Code, r => r.Values["subject"]);
        foreach (var (entity, result) in Totals["result_by_entity_and_year_gbp"]![year]!.AsObject())
            Assert.InRange(
                Of(entity == "group" ? answer.Grid.Rows[^1].Values["subject"]! : rows[entity] ?? "0") - Of(result),
                -Cent,
                Cent
            );
    }

    [Fact]
    public async Task Every_company_group_of_accounts_and_month_is_that_of_the_truth()
    {
        await using var packed = new GZipStream(
            File.OpenRead(TheatreBook.Fixture("truth", "pnl.json.gz")),
            CompressionMode.Decompress
        );
        var scenarios = (await JsonNode.ParseAsync(packed, cancellationToken: TestContext.Current.CancellationToken))![
            "scenarios"
        ]!.AsObject();
        var compared = 0;
        foreach (var (scenario, entities) in scenarios.Where(s => !s.Key.Contains("revised", StringComparison.Ordinal)))
        {
            var months = new Dictionary<string, Dictionary<(string, string), decimal>>();
            foreach (var (entity, groups) in entities!.AsObject())
            foreach (var (group, values) in groups!.AsObject())
            foreach (var (month, value) in values!.AsObject())
            {
                // Results and totals are no groups of accounts.
                var at = DateOnly.ParseExact(month, "yyyy-MM", CultureInfo.InvariantCulture);
                var period = $"{at.Year + (at.Month >= 10 ? 1 : 0)}-P{((at.Month + 2) % 12) + 1:D2}";
                if (!months.TryGetValue(period, out var cells))
                    months[period] = cells = await Cells(Subject(scenario), period);
                if (!cells.TryGetValue((entity.Split(' ')[0], group), out var got))
                    continue;
                // Costs are shown as costs; the truth has their effect on profit.
                Assert.InRange(Math.Abs(got) - Math.Abs(Of(value)), -Cent, Cent);
                compared++;
            }
        }
        Assert.InRange(compared, 3_500, int.MaxValue);
    }

    private async Task<Dictionary<(string, string), decimal>> Cells(string subject, string period) =>
        (await Answer(subject, period, new BreakdownDto("entity", "Company"), new BreakdownDto("account", "Group")))
            .Grid!.Rows.Where(r =>
                r.Members.ContainsKey("entity") && r.Members.ContainsKey("account") && r.Values["subject"] is not null
            )
            .ToDictionary(r => (r.Members["entity"].Code, r.Members["account"].Name), r => Of(r.Values["subject"]!));

    [Fact]
    public async Task A_balance_is_the_local_one_at_the_closing_rate_of_its_date_and_records_are_converted_by_the_same()
    {
        var receivables = await Ask("trade receivables by company in May 2026");
        foreach (var (entity, tie) in Totals["receivables_tie_out"]!.AsObject())
        {
            var rate = entity switch
            {
                "210" => 1.1765m,
                "220" => 12.5824m,
                _ => 1m,
            };
            var row = receivables.Grid!.Rows.FirstOrDefault(r => r.Members.TryGetValue("entity", out var m) && m.Code == entity);
            Assert.InRange(Of(row?.Values["subject"] ?? "0") - (Of(tie!["ledger_1110_local"]) / rate), -Cent, Cent);
        }
        Assert.Contains(receivables.Notes, n =>
            n.Contains("closing rate of May 2026, 1.1765 EUR for one GBP", StringComparison.Ordinal)
        );
        var open = await Ask("open receivables");
        Assert.InRange(
            Of(open.Records!.Totals.Single(t => t.Title == "Open GBP").Value) - Of(Totals["receivables_open_gbp_closing_rate"]),
            -Cent,
            Cent
        );
        var inEuros = await Ask("open receivables in euros");
        // Each of the invoices is rounded to four decimals.
        Assert.InRange(
            Of(inEuros.Records!.Totals.Single(t => t.Title == "Open EUR").Value)
                - (Of(Totals["receivables_open_gbp_closing_rate"]) * 1.1765m),
            -2 * Cent,
            2 * Cent
        );
        var apart = await Ask("open receivables by currency");
        Assert.Equal(
            ["Open EUR", "Open GBP", "Open SEK"],
            apart.Records!.Totals.Where(t => t.Title != "Count").Select(t => t.Title)
        );
    }

    [Theory]
    [InlineData("result of Touring ytd in euros", "EUR", -372099.39)]
    [InlineData("result of Touring ytd in local currency", "EUR", -372099.39)]
    [InlineData("result ytd at budget rates", "GBP", 867928.62)]
    public async Task Other_currencies_and_other_rates_can_be_asked_for(string question, string unit, double expected)
    {
        var answer = await Ask(question);
        Assert.Equal(unit, answer.Grid!.Unit);
        Assert.InRange(Of(answer.Grid.Rows[^1].Values["subject"]!) - (decimal)expected, -Cent, Cent);
    }

    [Fact]
    public async Task A_line_leads_to_its_local_amount_the_rate_and_the_file_that_brought_it()
    {
        var page = await demo.Client.Lines(
            TheatreBook.Id,
            "actual@2026-P08;figure=a:4110;entity=210",
            1,
            null,
            false,
            TestContext.Current.CancellationToken
        );
        var line = page.Lines[0];
        Assert.Equal(("EUR", "rates.csv", "actual"), (line.Currency, line.Rate!.File, line.Rate.Set));
        Assert.Equal(
            decimal.Round(Of(line.LocalAmount!) / Of(line.Rate.Value), 4, MidpointRounding.AwayFromZero),
            Of(line.Amount)
        );
    }

    [Fact]
    public async Task Statistics_meet_their_totals_and_heads_are_those_of_the_month_end()
    {
        foreach (var (year, truth) in Totals["statistics_totals"]!.AsObject())
        foreach (var (measure, total) in truth!.AsObject())
            Assert.Equal(
                Of(total),
                Of(
                    (
                        await Answer(
                            Subject(year),
                            $"{YearOf(year)}-P01..{YearOf(year)}-P{(year == "actual FY26" ? "08" : "12")}",
                            $"a:{measure}"
                        )
                    )
                        .Grid!
                        .Rows[^1]
                        .Values["subject"]!
                )
            );
        var heads = Of((await Ask("headcount ytd")).Grid!.Rows[^1].Values["subject"]!);
        Assert.Equal(Of((await Ask("headcount in May 2026")).Grid!.Rows[^1].Values["subject"]!), heads);
    }

    [Theory]
    [InlineData("02_huge_numbers.csv", "9007199254740993.01", "14 digits", "1e308", "1e400", "more than four decimals")]
    [InlineData("03_nan_and_infinity.csv", "NaN", "-Infinity", "#DIV/0!", "null", "line 9")]
    [InlineData("06_swollen_workbook.xlsx", "limit")]
    [InlineData("08_right_to_left.csv", "١٢٣.٤٥", "line 5")]
    [InlineData("10_nul_bytes.csv", "not text")]
    [InlineData("11_duplicate_headers.csv", "“Amount” stands over 3 columns")]
    [InlineData("12_ambiguous_dates.csv", "31/02/2026", "dd/MM/yyyy")]
    [InlineData("14_mixed_currencies.csv", "£1,200.00", "1.200,00 USD", "column of their own")]
    [InlineData("17_cut_off.xlsx", "damaged")]
    [InlineData("18_out_of_balance.csv", "B-E02", "45.00", "9999")]
    public async Task A_broken_file_is_refused_with_what_and_where_and_changes_nothing(string file, params string[] said)
    {
        var before = (await demo.Client.Book(TheatreBook.Id, Cancel)).Edition;
        var problem = (await theatre.Try(new LoadRequest("", Agreed: true), "bad", file)).Problem!;
        var text =
            $"{problem.Detail} {problem.Remedy} {string.Join(' ', problem.Refused?.Select(r => $"{string.Join(", ", r.Places)} {r.Value} {r.Because} {r.Remedy}") ?? [])}";
        Assert.All(said, s => Assert.Contains(s, text, StringComparison.OrdinalIgnoreCase));
        Assert.Equal(before, (await demo.Client.Book(TheatreBook.Id, Cancel)).Edition);
    }

    [Theory]
    [InlineData("04_negative_zero.csv", 6, 0)]
    [InlineData("07_..%2f..%2fledger.csv", 7, 280)]
    [InlineData("15a_ads_may.csv", 20, 2210)]
    [InlineData("16_utf16.csv", 1, 10)]
    public async Task A_strange_file_that_can_be_read_comes_in_whole_and_can_be_taken_back(string file, int rows, int total)
    {
        var receipt = (await theatre.Try(new LoadRequest("", Agreed: true), "bad", file)).Receipt!;
        Assert.Equal(
            (rows, 0L, (decimal)total),
            ((int)receipt.RowsTaken, receipt.RefusedRows, -receipt.Periods.Sum(p => Of(p.Net)))
        );
        if (file.StartsWith("15a", StringComparison.Ordinal))
            Assert.Contains(
                "already loaded",
                (await theatre.Try(new LoadRequest("", Agreed: true), "bad", "15b_ads_may (1).csv")).Problem!.Detail,
                StringComparison.Ordinal
            );
        await demo.Client.Undo(TheatreBook.Id, receipt.Load, Cancel);
    }

    /// <summary>Unknown productions are named, each spelling once; added, they are what they are, and formulas are
    /// text.</summary>
    [Theory]
    [InlineData("01_formula_cells.csv", "=PR101", 7, 2800)]
    [InlineData("09_emoji_and_accents.csv", "Café Noir", 0, 0)]
    public async Task An_unknown_production_is_named_and_can_be_added(string file, string production, int rows, int total)
    {
        Assert.Contains(
            production,
            string.Join(
                ' ',
                (await theatre.Try(new LoadRequest("", Agreed: true), "bad", file)).Problem!.Refused!.Select(r => r.Value)
            ),
            StringComparison.Ordinal
        );
        var job = await theatre.Try(
            new LoadRequest("", Agreed: true, Add: [new AddedMember("production", production, production)]),
            "bad",
            file
        );
        if (rows == 0)
        {
            // Composed, decomposed and in capitals it is one name; without its accent it may be another, and is asked about.
            var refused = Assert.Single(job.Problem!.Refused!);
            Assert.Equal(("Cafe Noir", 1L), (refused.Value, refused.Count));
            Assert.Contains("Nearest: Café Noir", refused.Because, StringComparison.Ordinal);
            return;
        }
        Assert.Equal((rows, (decimal)total), ((int)job.Receipt!.RowsTaken, -job.Receipt.Periods.Sum(p => Of(p.Net))));
        await demo.Client.Undo(TheatreBook.Id, job.Receipt.Load, Cancel);
    }

    [Fact]
    public async Task Ten_million_characters_in_one_line_are_refused_at_once()
    {
        using var content = new MemoryStream(
            System.Text.Encoding.ASCII.GetBytes(
                string.Concat(Enumerable.Repeat("B-401,2026-05-04,110,6010,,filler text to make the line long,1.00;", 150_000))
            )
        );
        var upload = await demo.Client.Upload(TheatreBook.Id, "one-line.csv", content, Cancel);
        Assert.Contains(
            "longer than 1 MB",
            (await theatre.Run(new LoadRequest(upload.Id, Agreed: true))).Problem!.Detail,
            StringComparison.Ordinal
        );
    }

    private static string Subject(string scenario) =>
        scenario.StartsWith("actual", StringComparison.Ordinal) ? "actual"
        : scenario.StartsWith("budget", StringComparison.Ordinal) ? "budget-fy26"
        : "forecast-6-6";

    private static string YearOf(string scenario) => $"20{scenario.Split("FY")[1][..2]}";

    private Task<AnswerDto> Answer(string subject, string span, params BreakdownDto[] by) =>
        Answer(subject, span, "m:net-result", by);

    private async Task<AnswerDto> Answer(string subject, string span, string figure, params BreakdownDto[] by)
    {
        var set = await demo.Client.Answer(
            TheatreBook.Id,
            new AnswerRequest(
                new QuestionDto(2, new ScopeDto(figure, [span], Subject: subject), new ValuesDto(), new LayoutDto(by))
            ),
            TestContext.Current.CancellationToken
        );
        Assert.True(set.Outcome == "answered", set.Because);
        return Assert.Single(set.Answers);
    }

    private async Task<AnswerDto> Ask(string question)
    {
        var set = await demo.Client.Ask(TheatreBook.Id, new AskRequest(question), TestContext.Current.CancellationToken);
        Assert.True(set.Outcome == "answered", $"{question}: {set.Because}");
        return Assert.Single(set.Answers);
    }
}
