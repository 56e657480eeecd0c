using System.Diagnostics;
using System.Text.Json;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>The command line where its output goes: narrow terminals, pipes, files, other programs.</summary>
public sealed class TerminalTests(DemoService demo)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private async Task<(int Code, string Out, string Error)> Shell(string script, string? columns = null)
    {
        var start = new ProcessStartInfo("/bin/sh", ["-c", script])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            WorkingDirectory = Repository.Root,
        };
        start.Environment["BEARING_URL"] = demo.Service.Address.ToString();
        if (columns is not null)
            start.Environment["COLUMNS"] = columns;
        using var process = Process.Start(start)!;
        var (output, error) = (process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        await process.WaitForExitAsync();
        return (process.ExitCode, await output, await error);
    }

    [Theory]
    [InlineData("80")]
    [InlineData("120")]
    public async Task Commentary_and_tables_fit_the_width(string columns)
    {
        var (code, output, error) = await Shell(
            "bin/bearing ask 'operating profit versus budget by entity in September 2026' --book tarrow",
            columns
        );
        Assert.True(code == 0, error);
        Assert.All(output.Split('\n'), line =>
            Assert.True(line.TrimEnd().Length <= int.Parse(columns, System.Globalization.CultureInfo.InvariantCulture), line)
        );
    }

    [Fact]
    public async Task A_pipe_gets_plain_text_without_colours_or_progress()
    {
        var (_, output, error) = await Shell("bin/bearing variance fuel --by route --in 'August 2026' --book tarrow | cat");
        Assert.DoesNotContain('\u001b', output + error);
        Assert.Contains("Calder–Pellow", output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Json_goes_to_standard_output_alone_and_errors_to_the_other()
    {
        var (code, output, error) = await Shell("bin/bearing ask 'flibber glorp' --json --book tarrow");
        Assert.Equal(1, code);
        using var set = JsonDocument.Parse(output);
        Assert.Equal("cannot-answer", set.RootElement.GetProperty("outcome").GetString());
        Assert.Empty(error);
        (code, output, error) = await Shell("bin/bearing ask revenue --book nowhere --json");
        Assert.Equal(1, code);
        Assert.Empty(output);
        Assert.Contains("nowhere", error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Amounts_keep_their_cents_in_json()
    {
        var (_, output, _) = await Shell("bin/bearing ask 'insurance recoveries in September 2026' --json --book tarrow");
        using var set = JsonDocument.Parse(output);
        var row = set.RootElement.GetProperty("answers")[0].GetProperty("grid").GetProperty("rows").EnumerateArray().Last();
        Assert.Equal(JsonValueKind.String, row.GetProperty("values").GetProperty("subject").ValueKind);
        Assert.Matches(@"^\d+\.\d\d$", row.GetProperty("values").GetProperty("subject").GetString());
    }

    [Fact]
    public async Task A_book_definition_makes_a_book_that_can_be_shown_and_erased()
    {
        var definition = Path.GetTempFileName();
        await File.WriteAllTextAsync(
            definition,
            (await File.ReadAllTextAsync(Repository.Demo("book.json"), Cancel)).Replace(
                "\"tarrow\"",
                "\"typed-book\"",
                StringComparison.Ordinal
            ),
            Cancel
        );
        Assert.Equal(0, (await Shell($"bin/bearing books create {definition}")).Code);
        Assert.Equal(1, (await Shell($"bin/bearing books create {definition}")).Code);
        Assert.Contains("Tarrow", (await Shell("bin/bearing books show typed-book")).Out, StringComparison.Ordinal);
        Assert.Equal(0, (await Shell("bin/bearing books erase typed-book --confirm \"Tarrow Sound Group\"")).Code);
        Assert.Equal(1, (await Shell("bin/bearing books show typed-book")).Code);
        await File.WriteAllTextAsync(definition, "{ not json", Cancel);
        var (code, _, error) = await Shell($"bin/bearing books create {definition}");
        Assert.Equal(1, code);
        Assert.NotEmpty(error);
        File.Delete(definition);
    }

    [Fact]
    public async Task Several_files_are_loaded_in_order_and_a_bad_one_stops_with_its_rows_by_cause()
    {
        var book = await DemoService.NewBook(demo.Client, "in-order");
        var bad = Path.Combine(Path.GetTempPath(), "bad-rows.csv");
        await File.WriteAllTextAsync(
            bad,
            "Date,Entity,Account,Amount\n" + string.Concat(Enumerable.Range(1, 25).Select(i => $"2026-01-{i:D2},SKF,40l0,{i}\n")),
            Cancel
        );
        var (code, output, error) = await Shell(
            $"bin/bearing load demo/data/routes.csv --dimension route --kind members --book {book} && bin/bearing load demo/data/ledger-2026-h2.csv {bad} --book {book}"
        );
        Assert.Equal(1, code);
        Assert.Contains("ledger-2026-h2.csv", output, StringComparison.Ordinal);
        Assert.Contains(
            "line 2, line 3, line 4, line 5, line 6, line 7, line 8, line 9, line 10, line 11 and 15 more, Account",
            error,
            StringComparison.Ordinal
        );
        Assert.Contains("not in the book", error, StringComparison.Ordinal);
        Assert.Equal(4, (await demo.Client.Loads(book, Cancel)).Count);
    }

    [Theory]
    [InlineData("bin/bearing", 2)]
    [InlineData("bin/bearing --help", 0)]
    [InlineData("bin/bearing --version", 0)]
    [InlineData("bin/bearing nonsense", 2)]
    [InlineData("bin/bearing variance --by", 2)]
    public async Task Exit_codes_tell_use_from_failure(string command, int code) =>
        Assert.Equal(code, (await Shell(command)).Code);
}
