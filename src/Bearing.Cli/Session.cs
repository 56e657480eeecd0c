using System.CommandLine;
using System.Text.Json;
using Bearing.Contracts;

namespace Bearing.Cli;

/// <summary>What every command shares: the client, the book, the form of the output, and how failures are told.</summary>
internal sealed class Session
{
    public static readonly Option<string?> BookOption = new("--book", "-b")
    {
        Description = "Which book; may be left out while there is only one",
        Recursive = true,
    };
    public static readonly Option<bool> JsonOption = new("--json") { Description = "Print the service's own JSON, for machines" };

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };
    private readonly string? _book;

    private Session(BearingClient client, string? book, bool asJson) => (Client, _book, AsJson) = (client, book, asJson);

    public BearingClient Client { get; }

    public bool AsJson { get; }

    /// <summary>Whether someone is watching: progress and colours are for a terminal only.</summary>
    public static bool IsTerminal => !Console.IsOutputRedirected;

    public async Task<string> Book(CancellationToken cancel)
    {
        if (_book is not null)
            return _book;
        var books = await Client.Books(cancel);
        return books.Count switch
        {
            1 => books[0].Id,
            0 => throw new CannotException("The service has no book yet.", "Make one with “bearing books create FILE”."),
            _ => throw new CannotException(
                $"The service has {books.Count} books.",
                $"Say which with --book: {string.Join(", ", books.Select(b => b.Id))}."
            ),
        };
    }

    public static void Print(object value) => Console.WriteLine(JsonSerializer.Serialize(value, Json));

    /// <summary>Runs a command's work and turns every failure into a message and an exit code: 0 done, 1 could not.</summary>
    public static async Task<int> Run(ParseResult parsed, Func<Session, Task<int>> work)
    {
        var address = Environment.GetEnvironmentVariable("BEARING_URL") is { Length: > 0 } set ? set : "http://127.0.0.1:5180";
        if (!Uri.TryCreate(address.TrimEnd('/') + "/", UriKind.Absolute, out var uri) || uri.Scheme is not ("http" or "https"))
        {
            await Console.Error.WriteLineAsync(
                $"BEARING_URL is “{address}”, which is not an address. Set it to something like http://127.0.0.1:5180."
            );
            return 2;
        }
        using var http = new HttpClient { BaseAddress = uri, Timeout = Timeout.InfiniteTimeSpan };
        try
        {
            return await work(new Session(new BearingClient(http), parsed.GetValue(BookOption), parsed.GetValue(JsonOption)));
        }
        catch (BearingProblemException e)
        {
            return await Fail(e.Problem.Detail, e.Problem.Remedy, e.Problem.Refused);
        }
        catch (CannotException e)
        {
            return await Fail(e.Message, e.Remedy, null);
        }
        catch (HttpRequestException)
        {
            return await Fail(
                $"No Bearing service answers at {address}.",
                "Start it with “make demo” or “bin/bearing-service”, or set BEARING_URL to its address.",
                null
            );
        }
        catch (IOException e)
        {
            return await Fail(e.Message, null, null);
        }
    }

    public static async Task<int> Fail(string what, string? remedy, IReadOnlyList<RefusalDto>? refused)
    {
        await Console.Error.WriteLineAsync(what);
        foreach (var cause in refused?.Take(10) ?? [])
            await Console.Error.WriteLineAsync($"  {Describe(cause)}");
        if (refused?.Count > 10)
            await Console.Error.WriteLineAsync($"  … and more; {refused.Count} are listed with --json.");
        if (remedy is not null)
            await Console.Error.WriteLineAsync(remedy);
        return 1;
    }

    /// <summary>"line 2, line 4, line 6 and 37 more, Department: …".</summary>
    public static string Describe(RefusalDto refusal)
    {
        var more = refusal.Count - refusal.Places.Count;
        var amount = refusal.Amount is null ? "" : $" ({refusal.Count:N0} rows, {Figures.Cents(refusal.Amount)} in sum)";
        return $"{string.Join(", ", refusal.Places)}{(more > 0 ? $" and {more:N0} more" : "")}{(refusal.Column is null ? "" : $", {refusal.Column}")}: {refusal.Because}{amount} {refusal.Remedy}";
    }
}

/// <summary>Understood and impossible.</summary>
internal sealed class CannotException(string message, string remedy) : Exception(message)
{
    public string Remedy { get; } = remedy;
}
