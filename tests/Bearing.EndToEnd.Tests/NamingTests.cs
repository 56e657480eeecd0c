using System.Diagnostics;
using System.Net;
using Bearing.Contracts;
using Microsoft.Playwright;
using Xunit;
using static Microsoft.Playwright.Assertions;

namespace Bearing.EndToEnd.Tests;

/// <summary>People teach their own words, see which were not understood, and keep questions to run again.</summary>
public sealed class NamingTests(DemoService demo) : InBrowser(demo)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private Task<string> Book(string id) => DemoService.NewBook(Demo.Client, id, "ledger-2026-h2.csv");

    private Task<AnswerSet> Ask(string book, string text, int? edition = null) =>
        Demo.Client.Ask(book, new AskRequest(text, null, edition), Cancel);

    [Fact]
    public async Task A_taught_word_is_understood_from_then_on_and_can_be_taken_back()
    {
        var book = await Book("taught");
        Assert.Equal(["bunkering"], (await Ask(book, "bunkering costs in August")).Unknown);
        Assert.Equal("cannot-answer", (await Ask(book, "zinkle in August")).Outcome);
        await Ask(book, "zinkle in September");
        var unknown = await Demo.Client.UnknownWords(book, Cancel);
        Assert.Equal(
            [("zinkle", 2, "zinkle in September"), ("bunkering", 1, "bunkering costs in August")],
            unknown.Select(w => (w.Word, w.Times, w.Example))
        );

        var before = (await Demo.Client.Book(book, Cancel)).Edition;
        var word = await Demo.Client.Teach(book, new TeachRequest("bunkering", "marine fuel", "Mara"), Cancel);
        Assert.Equal(("a:5010", "Marine fuel", "Mara"), (word.Target, word.Means, word.By));
        Assert.Equal("Marine fuel: Actual, August 2026.", (await Ask(book, "bunkering in August")).Reading!.Sentence);
        Assert.Equal("cannot-answer", (await Ask(book, "bunkering in August", before)).Outcome);
        Assert.DoesNotContain(await Demo.Client.UnknownWords(book, Cancel), w => w.Word == "bunkering" && w.Times > 1);

        await Demo.Client.Forget(book, word.Id, Cancel);
        Assert.Empty(await Demo.Client.Words(book, Cancel));
        Assert.Equal("cannot-answer", (await Ask(book, "bunkering in August")).Outcome);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await Assert.ThrowsAsync<BearingProblemException>(() => Demo.Client.Forget(book, word.Id, Cancel))).Status
        );
    }

    [Theory]
    [InlineData("top", "marine fuel", "questions are made of")]
    [InlineData("cash", "marine fuel", "means Cash already")]
    [InlineData("skim", "marine fool", "no name in this book")]
    [InlineData("", "marine fuel", "one to 60 characters")]
    [InlineData("nonsense", "sailings divided by marine fuel", "cannot be worked out")]
    public async Task What_cannot_be_taught_says_why(string word, string means, string because)
    {
        var e = await Assert.ThrowsAsync<BearingProblemException>(() =>
            Demo.Client.Teach(DemoService.Book, new TeachRequest(word, means), Cancel)
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, e.Status);
        Assert.Contains(because, e.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Kept_questions_run_one_after_another_with_what_is_put_in()
    {
        var book = await Book("kept-questions");
        Assert.Equal(
            ["period", "entity"],
            (await Demo.Client.KeepQuestion(book, "b-fuel", "marine fuel in {period} for {entity}", Cancel)).Parameters
        );
        await Demo.Client.KeepQuestion(book, "a-revenue", "revenue in {period}", Cancel);
        var e = await Assert.ThrowsAsync<BearingProblemException>(() =>
            Demo.Client.RunQuestions(
                book,
                new RunRequest(null, new Dictionary<string, string> { ["period"] = "August 2026" }),
                Cancel
            )
        );
        Assert.Contains("“entity”", e.Message, StringComparison.Ordinal);
        var run = await Demo.Client.RunQuestions(
            book,
            new RunRequest(null, new Dictionary<string, string> { ["period"] = "August 2026", ["entity"] = "Skelmar Ferries" }),
            Cancel
        );
        Assert.Equal(["revenue in August 2026", "marine fuel in August 2026 for Skelmar Ferries"], run.Select(r => r.Text));
        Assert.All(run, r => Assert.Equal("answered", r.Result.Outcome));
        await Demo.Client.RemoveQuestion(book, "a-revenue", Cancel);
        Assert.Equal(["b-fuel"], (await Demo.Client.Questions(book, Cancel)).Select(q => q.Name));
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await Assert.ThrowsAsync<BearingProblemException>(() =>
                    Demo.Client.KeepQuestion(book, "../up", "revenue", Cancel)
                )
            ).Status
        );
    }

    [Theory]
    [InlineData("3", "Prior year")]
    [InlineData("two", "Forecast 6+6")]
    [InlineData("the second", "Forecast 6+6")]
    [InlineData("forecast", "Forecast 6+6")]
    public async Task A_choice_is_picked_by_its_number_or_by_a_word_that_only_it_holds(string answer, string against)
    {
        var asked = await Demo.Ask("compare Q2");
        Assert.Equal("asks-back", asked.Outcome);
        var set = await Demo.Client.Ask(DemoService.Book, new AskRequest(answer, asked.Question, null, asked.Choices), Cancel);
        Assert.Contains($"against {against}, Q2 2026", set.Reading!.Sentence, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_was_understood_is_kept_for_a_follow_up_when_it_cannot_be_answered()
    {
        var first = await Demo.Ask("actual revenue in December 2026");
        Assert.Equal("cannot-answer", first.Outcome);
        var set = await Demo.Client.Ask(DemoService.Book, new AskRequest("ok then the forecast for it", first.Question), Cancel);
        Assert.Equal("Revenue: Forecast 6+6, December 2026.", set.Reading!.Sentence);
    }

    [Fact]
    public async Task The_same_on_the_command_line()
    {
        var book = await Book("worded");
        async Task<(int, string)> Bearing(params string[] arguments)
        {
            var start = new ProcessStartInfo(Path.Combine(Repository.Root, "bin", "bearing"))
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            };
            foreach (var argument in (string[])[.. arguments, "--book", book])
                start.ArgumentList.Add(argument);
            start.Environment["BEARING_URL"] = Demo.Service.Address.ToString();
            using var process = Process.Start(start)!;
            var (output, error) = (process.StandardOutput.ReadToEndAsync(Cancel), process.StandardError.ReadToEndAsync(Cancel));
            await process.WaitForExitAsync(Cancel);
            return (process.ExitCode, await output + await error);
        }
        Assert.Contains("No names were taught yet", (await Bearing("words")).Item2, StringComparison.Ordinal);
        Assert.Contains(
            "means Marine fuel from now on",
            (await Bearing("words", "teach", "bunkers oil", "Marine fuel")).Item2,
            StringComparison.Ordinal
        );
        Assert.Contains("bunkers oil", (await Bearing("words")).Item2, StringComparison.Ordinal);
        Assert.Contains(
            "running it needs period",
            (await Bearing("questions", "keep", "oil", "bunkers oil in {period}")).Item2,
            StringComparison.Ordinal
        );
        var (code, text) = await Bearing("questions", "run", "--with", "period=August 2026");
        Assert.Equal(0, code);
        Assert.Contains("oil: bunkers oil in August 2026", text, StringComparison.Ordinal);
        Assert.Equal(1, (await Bearing("questions", "run")).Item1);
        Assert.Equal(0, (await Bearing("words", "forget", "1")).Item1);
        Assert.Contains(
            "Every word of every question was understood",
            (await Bearing("words", "unknown")).Item2,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_word_nobody_knows_is_taught_where_it_was_asked()
    {
        var book = await Book("word-asked");
        var page = await Open($"{book}/ask");
        await page.GetByLabel("Your question").FillAsync("bunkering in August");
        await page.GetByRole(AriaRole.Button, new() { Name = "Ask", Exact = true }).ClickAsync();
        await page.GetByLabel("What bunkering means").FillAsync("marine fuel");
        await HasNoViolations(page);
        await page.GetByRole(AriaRole.Button, new() { Name = "Teach" }).ClickAsync();
        await page.GetByRole(AriaRole.Button, new() { Name = "Ask again" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 })).ToContainTextAsync("Marine fuel in August 2026");
    }

    [Fact]
    public async Task The_page_of_words_teaches_keeps_and_runs()
    {
        var book = await Book("word-page");
        await Ask(book, "bunkering in August");
        var page = await Open($"{book}/words");
        await page.GetByLabel("What bunkering means").FillAsync("marine fuel");
        await page.GetByRole(AriaRole.Button, new() { Name = "Teach" }).First.ClickAsync();
        await Expect(page.GetByRole(AriaRole.Button, new() { Name = "Take back bunkering" })).ToBeVisibleAsync();
        await Expect(page.GetByText("Every word of every question was understood.")).ToBeVisibleAsync();
        await page.GetByLabel("Name", new() { Exact = true }).FillAsync("oil");
        await page.GetByLabel("Question", new() { Exact = true }).FillAsync("bunkering in {period}");
        await page.GetByRole(AriaRole.Button, new() { Name = "Keep" }).ClickAsync();
        await page.GetByLabel("period", new() { Exact = true }).FillAsync("August 2026");
        await HasNoViolations(page);
        await page.GetByRole(AriaRole.Button, new() { Name = "Run oil" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.List, new() { Name = "Answers" })).ToContainTextAsync("Marine fuel in August 2026");
        await page.GetByRole(AriaRole.Button, new() { Name = "Open the paper" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 })).ToContainTextAsync("Marine fuel in August 2026");
    }

    [Fact]
    public async Task Words_and_parts_of_the_reading_light_up_together_and_records_are_shown()
    {
        var page = await Open();
        await Asked(page, "overdue invoices over 20,000", "Supplier invoices");
        var reading = page.GetByRole(AriaRole.Region, new() { Name = "How the question was read" });
        await reading.GetByText("overdue", new() { Exact = true }).First.HoverAsync();
        await Expect(reading).ToHaveAttributeAsync("data-lit", "test");
        await Expect(reading.Locator("mark.lit")).ToHaveTextAsync("overdue");
        await Expect(
                page.GetByRole(AriaRole.Region, new() { Name = "Records" })
                    .GetByRole(AriaRole.Columnheader, new() { Name = "Due date" })
            )
            .ToBeVisibleAsync();
        await HasNoViolations(page);
    }
}
