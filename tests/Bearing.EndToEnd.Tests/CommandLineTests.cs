using System.Diagnostics;
using System.Text.Json;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>The command line as people and scripts run it: a process, its output and its exit code.</summary>
public sealed class CommandLineTests(DemoService demo)
{
    private async Task<(int Code, string Out, string Error)> Run(string? address, params string[] arguments)
    {
        var start = new ProcessStartInfo(Path.Combine(Repository.Root, "bin", "bearing"))
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        foreach (var argument in arguments)
            start.ArgumentList.Add(argument);
        start.Environment["BEARING_URL"] = address ?? demo.Service.Address.ToString();
        using var process = Process.Start(start)!;
        var (output, error) = (process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        await process.WaitForExitAsync().WaitAsync(TimeSpan.FromMinutes(1));
        return (process.ExitCode, await output, await error);
    }

    private Task<(int Code, string Out, string Error)> Bearing(params string[] arguments) =>
        Run(null, [.. arguments, "--book", DemoService.Book]);

    [Fact]
    public async Task A_question_comes_back_as_a_paper_that_fits_the_terminal()
    {
        var (code, output, _) = await Bearing("ask", "why did operating profit miss budget in September 2026?");
        Assert.Equal(0, code);
        foreach (
            var part in new[]
            {
                "Read as",
                "Operating profit in September 2026",
                "Budget 2026",
                "Revenue",
                "Contribution",
                "F/U",
                "Tie-out",
                "invented",
            }
        )
            Assert.Contains(part, output, StringComparison.Ordinal);
        Assert.Matches(@"\([\d,.]+\)\s+.*U", output);
        Assert.All(output.Split('\n'), line => Assert.True(line.Length <= 160, line));
    }

    [Fact]
    public async Task Entries_are_printed_with_the_columns_and_in_the_order_asked_for()
    {
        var (code, output, _) = await Bearing("ask", "date, route and amount of the fuel entries in August 2026, oldest first");
        Assert.Equal(0, code);
        Assert.Matches(@"Date +Route +Amount +Load:row", output);
        var days = System
            .Text.RegularExpressions.Regex.Matches(
                output,
                @"^  (2026-08-\d\d) ",
                System.Text.RegularExpressions.RegexOptions.Multiline
            )
            .Select(m => m.Groups[1].Value)
            .ToList();
        Assert.NotEmpty(days);
        Assert.Equal(days.Order(StringComparer.Ordinal), days);
    }

    [Fact]
    public async Task Several_demands_over_records_are_printed_one_after_the_other()
    {
        var (code, output, _) = await Bearing("ask", "show overdue invoices. show open invoices. who do we owe the most?");
        Assert.Equal(0, code);
        Assert.Equal(
            3,
            System.Text.RegularExpressions.Regex.Count(output, "^Asked ", System.Text.RegularExpressions.RegexOptions.Multiline)
        );
    }

    /// <summary>Records have no entries: the list is what was asked for, and not the ledger's lines of the result.</summary>
    [Theory]
    [InlineData("entries", "overdue invoices", "Supplier invoices: ")]
    [InlineData("ask", "open invoices by supplier as csv", "Supplier,Open,Count")]
    public async Task Records_are_printed_as_records(string command, string text, string said)
    {
        var (code, output, _) = await Bearing(command, text);
        Assert.Equal(0, code);
        Assert.Contains(said, output, StringComparison.Ordinal);
        Assert.DoesNotContain("Harbour dues", output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_word_nobody_knows_comes_with_the_command_that_teaches_it()
    {
        var (code, _, error) = await Bearing("ask", "what is our burn");
        Assert.Equal(1, code);
        Assert.Contains("Teach: bearing words teach \"burn\" MEANING", error, StringComparison.Ordinal);
    }

    /// <summary>What the book lacks is one thing, a word that nobody knows another: both are told.</summary>
    [Fact]
    public async Task Where_the_book_cannot_answer_words_that_were_passed_over_are_named_too()
    {
        var (code, _, error) = await Bearing("ask", "operating profit versus budget by vessel in August 2026, moodwise");
        Assert.Equal(1, code);
        Assert.Contains("does not keep vessels apart", error, StringComparison.Ordinal);
        Assert.Contains("Not used: moodwise", error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Json_is_exactly_the_services_answer()
    {
        var (code, output, _) = await Bearing("ask", "fuel versus budget in August 2026", "--json");
        Assert.Equal(0, code);
        var answers = JsonSerializer.Deserialize<AnswerSet>(output, JsonSerializerOptions.Web)!;
        Assert.Equal(
            JsonSerializer.Serialize(await demo.Ask("fuel versus budget in August 2026")),
            JsonSerializer.Serialize(answers)
        );
    }

    [Theory]
    [InlineData("variance", "fuel", "--by", "entity", "--in", "August 2026")]
    [InlineData("variance", "--by", "account", "--by", "month", "--in", "Q3 2026", "--against", "last year")]
    [InlineData("bridge", "operating profit", "--by", "entity", "--in", "September 2026")]
    [InlineData("comment", "operating profit", "--in", "September 2026")]
    [InlineData("entries", "consulting at head office in September 2026", "--largest", "--limit", "5")]
    [InlineData("entries", "actual@2026-P09;figure=a:4910")]
    [InlineData("books")]
    [InlineData("books", "show", "tarrow")]
    [InlineData("loads")]
    public async Task Every_command_works_on_the_demo_in_words_and_in_json(params string[] arguments)
    {
        var (code, output, error) = await Bearing(arguments);
        Assert.True(code == 0, error);
        Assert.True(output.Length > 80, output);
        var (_, json, _) = await Bearing([.. arguments, "--json"]);
        using var parsed = JsonDocument.Parse(json);
    }

    [Fact]
    public async Task Asking_back_lists_choices_and_a_number_takes_one()
    {
        var (code, output, _) = await Bearing("ask", "passenger revenue in Skelmar in August 2026");
        Assert.Equal(1, code);
        Assert.Contains("1. ", output, StringComparison.Ordinal);
        Assert.Equal(0, (await Bearing("ask", "passenger revenue in Skelmar in August 2026", "--pick", "1")).Code);
        Assert.Equal(1, (await Bearing("ask", "passenger revenue in Skelmar in August 2026", "--pick", "77")).Code);
    }

    [Fact]
    public async Task Words_that_no_reading_uses_are_named() =>
        Assert.Contains(
            "Not used  penguins",
            (await Bearing("ask", "costs by entity in August, penguins")).Out,
            StringComparison.Ordinal
        );

    [Fact]
    public async Task Each_demand_is_printed_under_its_words_and_one_without_an_answer_ends_with_1()
    {
        var (code, output, _) = await Bearing("ask", "show fuel in August 2026 and explain consulting in September 2026");
        Assert.Equal(0, code);
        Assert.Equal(2, output.Split('\n').Count(l => l.StartsWith("Asked", StringComparison.Ordinal)));
        Assert.Equal(1, (await Bearing("ask", "show fuel in August 2026 and list the unicorns")).Code);
        Assert.Contains("why did operating profit miss budget", (await Bearing("ask", "help")).Out, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_question_that_ends_in_its_form_prints_only_the_file()
    {
        var (_, csv, _) = await Bearing("ask", "revenue by entity in August 2026 as csv");
        Assert.Equal("Level,Row,Actual August 2026 (EUR)", csv.Split('\n')[0].Trim());
        using var json = JsonDocument.Parse((await Bearing("ask", "revenue by entity in August 2026 as json")).Out);
        Assert.Equal("EUR", json.RootElement.GetProperty("grid").GetProperty("unit").GetString());
    }

    [Fact]
    public async Task Following_up_keeps_the_scope()
    {
        var (code, output, _) = await Bearing("ask", "by route instead", "--after", "fuel versus budget in August 2026");
        Assert.Equal(0, code);
        Assert.Contains("by route", output, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(1, "cannot answer", "ask", "flibber glorp")]
    [InlineData(1, "no file", "load", "/nowhere/x.csv")]
    [InlineData(1, "no load 999", "undo", "999")]
    [InlineData(2, "unrecognized", "ask", "revenue", "--colour", "red")]
    [InlineData(2, "required", "undo")]
    public async Task Failures_say_what_and_end_with_their_code(int expected, string says, params string[] arguments)
    {
        var (code, _, error) = await Bearing(arguments);
        Assert.Equal(expected, code);
        Assert.Contains(says, error, StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public async Task A_book_that_does_not_exist_and_a_service_that_does_not_run_are_told_with_the_next_step()
    {
        var (code, _, error) = await Run(null, "ask", "revenue", "--book", "nowhere");
        Assert.Equal(1, code);
        Assert.Contains("bearing books", error, StringComparison.Ordinal);
        (code, _, error) = await Run("http://127.0.0.1:9", "books");
        Assert.Equal(1, code);
        Assert.Contains("BEARING_URL", error, StringComparison.Ordinal);
        Assert.Equal(2, (await Run("not an address", "books")).Code);
    }

    [Fact]
    public async Task Files_are_previewed_loaded_and_taken_back()
    {
        var book = await DemoService.NewBook(demo.Client, "typed");
        var file = Repository.Demo("ledger-2026-h2.csv");
        var (code, output, _) = await Run(null, "load", file, "--preview", "--book", book);
        Assert.Equal(0, code);
        Assert.Contains("would land", output, StringComparison.Ordinal);
        (code, output, _) = await Run(null, "load", file, "--book", book);
        Assert.Equal(0, code);
        Assert.Contains("September 2026", output, StringComparison.Ordinal);
        (code, _, var error) = await Run(null, "load", file, "--book", book);
        Assert.Equal(1, code);
        Assert.Contains("already", error, StringComparison.Ordinal);
        (code, output, _) = await Run(
            null,
            "load",
            Repository.Demo("budget-2026.csv"),
            "--scenario",
            "budget-2026",
            "--book",
            book
        );
        Assert.Equal(0, code);
        Assert.Equal(0, (await Run(null, "undo", "3", "--book", book)).Code);
    }

    [Fact]
    public async Task Help_shows_examples()
    {
        foreach (var command in new[] { "ask", "load", "variance", "bridge", "comment", "entries", "undo", "loads", "books" })
            Assert.Contains("Example", (await Run(null, command, "--help")).Out, StringComparison.Ordinal);
    }
}
