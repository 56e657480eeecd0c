using System.Globalization;
using System.Net.Http.Json;
using System.Text.Json;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>What the service tells of a book, and steps through it over HTTP.</summary>
public sealed class BookTests(DemoService demo)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private async Task<JsonElement> Get(string path) =>
        await demo.Service.Http.GetFromJsonAsync<JsonElement>($"api/books/tarrow/{path}", Cancel);

    private static decimal Of(string? amount) => decimal.Parse(amount!, CultureInfo.InvariantCulture);

    [Fact]
    public async Task A_book_tells_its_calendar_dimensions_scenarios_and_where_it_stands()
    {
        var book = await demo.Client.Book(DemoService.Book, Cancel);
        Assert.Equal(
            ("EUR", 1, "invented", "2026-P09"),
            (book.Currency, book.FiscalYearStartMonth, book.Provenance, book.CurrentPeriod)
        );
        Assert.Equal(["account", "entity", "department", "route", "vessel"], book.Dimensions.Select(d => d.Code));
        Assert.Equal(["actual", "budget-2026", "forecast-6-6"], book.Scenarios.Select(s => s.Code).Order(StringComparer.Ordinal));
        var forecast = book.Scenarios.Single(s => s.Kind == "forecast").Versions.Single();
        Assert.Equal(("2026-P01", "2026-P12", "2026-P06"), (forecast.From, forecast.To, forecast.CutOff));
        Assert.DoesNotContain("vessel", forecast.Keeps);
        Assert.InRange(book.Suggestions.Count, 4, 10);
    }

    [Fact]
    public async Task Members_are_searched_and_paged_to_the_last()
    {
        var seen = new List<string>();
        string? cursor = null;
        do
        {
            var page = await Get(
                $"members?dimension=account&limit=17{(cursor is null ? "" : $"&cursor={Uri.EscapeDataString(cursor)}")}"
            );
            var codes = page.GetProperty("items").EnumerateArray().Select(m => m.GetProperty("code").GetString()!).ToList();
            Assert.InRange(codes.Count, 1, 17);
            seen.AddRange(codes);
            cursor = page.GetProperty("next").GetString();
        } while (cursor is not null);
        Assert.Equal(File.ReadLines(Repository.Demo("accounts.csv")).Count() - 1, seen.Distinct().Count());
        Assert.Equal(seen.Count, seen.Distinct().Count());
        var found = (await Get("members?dimension=account&search=fuel"))
            .GetProperty("items")
            .EnumerateArray()
            .Select(m => m.GetProperty("name").GetString())
            .ToList();
        Assert.Contains("Marine fuel", found);
        Assert.DoesNotContain("Crew wages", found);
    }

    [Theory]
    [InlineData("why did oper", "Operating profit")]
    [InlineData("fuel at Skel", "Skelmar Ferries")]
    [InlineData("revenue versus budg", "Budget 2026")]
    [InlineData("revenue by depar", "Department")]
    public async Task Words_are_completed_from_any_place_in_the_sentence(string text, string expected)
    {
        var completions = await Get($"complete?text={Uri.EscapeDataString(text)}");
        Assert.Contains(completions.GetProperty("items").EnumerateArray(), i =>
            string.Equals(i.GetProperty("insert").GetString(), expected, StringComparison.OrdinalIgnoreCase)
        );
        Assert.InRange(completions.GetProperty("from").GetInt32(), 0, text.Length);
    }

    [Fact]
    public async Task Steps_by_every_dimension_and_grain_keep_the_total()
    {
        var top = Assert.Single((await demo.Ask("overheads versus budget in Q3 2026")).Answers);
        var total = top.Grid!.Rows[^1];
        foreach (
            var by in new[] { "account", "account:Account", "entity", "entity:Entity", "department", "route", "month", "quarter" }
        )
        {
            var step = Assert.Single(
                (await demo.Client.Drill(DemoService.Book, new DrillRequest(top.Question, total.Slice, by), Cancel)).Answers
            );
            Assert.Equal(
                (total.Values["subject"], total.Values["base"], total.Values["variance"]),
                (step.Grid!.Rows[^1].Values["subject"], step.Grid.Rows[^1].Values["base"], step.Grid.Rows[^1].Values["variance"])
            );
            Assert.Equal("ties", step.TieOut.State);
            var bridge = step.Charts.FirstOrDefault(c => c.Kind == "bridge");
            if (bridge is not null)
                Assert.Equal(Of(bridge.Points[^1].Subject), bridge.Points.SkipLast(1).Sum(p => Of(p.Subject)));
        }
    }

    [Fact]
    public async Task A_kept_question_gives_the_same_answer_and_an_unknown_form_is_refused()
    {
        var asked = Assert.Single((await demo.Ask("revenue versus last year by entity in August 2026")).Answers);
        var again = Assert.Single(
            (await demo.Client.Answer(DemoService.Book, new AnswerRequest(asked.Question), Cancel)).Answers
        );
        Assert.Equal(JsonSerializer.Serialize(asked), JsonSerializer.Serialize(again));
        var e = await Assert.ThrowsAsync<BearingProblemException>(() =>
            demo.Client.Answer(DemoService.Book, new AnswerRequest(asked.Question with { Form = 99 }), Cancel)
        );
        Assert.Contains("form", e.Problem.Detail, StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public async Task Several_readers_at_once_get_the_answers_that_one_gets()
    {
        string[] questions =
        [
            "fuel versus budget by route in August 2026",
            "operating profit by entity year to date",
            "why was consulting overspent in September 2026?",
            "revenue by month in 2025",
        ];
        var alone = new List<string>();
        foreach (var question in questions)
            alone.Add(JsonSerializer.Serialize(await demo.Ask(question)));
        var together = await Task.WhenAll(
            Enumerable
                .Range(0, 24)
                .Select(async i =>
                    (
                        Index: i % questions.Length,
                        Answer: JsonSerializer.Serialize(await demo.Ask(questions[i % questions.Length]))
                    )
                )
        );
        Assert.All(together, t => Assert.Equal(alone[t.Index], t.Answer));
    }

    [Fact]
    public async Task Health_tells_state_version_and_number_of_books()
    {
        var health = await demo.Client.Health(Cancel);
        Assert.Equal("ok", health.Status);
        Assert.NotEmpty(health.Version);
        Assert.True(health.Books >= 1);
    }
}
