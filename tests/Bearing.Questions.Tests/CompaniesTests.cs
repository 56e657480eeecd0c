using System.Collections.Concurrent;
using System.Text.Json;
using System.Text.RegularExpressions;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Data.Books;
using Bearing.EndToEnd.Tests;
using Bearing.Service.Asking;
using Xunit;

namespace Bearing.Questions.Tests;

/// <summary>
/// Fifteen companies of other trades, calendars, trees and ways of writing: what is asked of them is answered as their rows have
/// it, asked back or refused, and never silently otherwise. "make questions" prints what this writes; "make check" asks two of
/// them.
/// </summary>
public sealed class CompaniesTests(CompaniesTests.Scores scores) : IClassFixture<CompaniesTests.Scores>
{
    private static readonly InventedCompany[] All =
    [
        new(
            "stages",
            "wrenfold",
            "venues.csv",
            [("genres.csv", "genre"), ("departments.csv", "department"), ("suppliers.csv", "supplier")],
            [("forecast-4+8.csv.gz", "Forecast 4+8")],
            4,
            685
        ),
        new(
            "breweries",
            "tarnhollow",
            "sites.csv",
            [("departments.csv", "department"), ("brands.csv", "brand"), ("customers.csv", "customer")],
            [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-q2.csv.gz", "Q2 forecast")],
            10,
            147
        ),
        // A single entity.
        new(
            "institute",
            "fellgate",
            "institutes.csv",
            [("funds.csv", "fund"), ("groups.csv", "team"), ("projects.csv", "project"), ("suppliers.csv", "supplier")],
            [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-8+4.csv.gz", "Forecast 8+4")],
            1,
            138
        ),
        new(
            "hotels",
            "halveston",
            "hotels.csv",
            [
                ("departments.csv", "department"),
                ("classes.csv", "room"),
                ("channels.csv", "channel"),
                ("suppliers.csv", "supplier"),
            ],
            [("forecast-6+6.csv.gz", "Forecast 6+6")],
            4,
            136
        ),
        // Nothing is counted, and there is no budget.
        new(
            "translators",
            "lexmoor",
            "offices.csv",
            [("desks.csv", "desk"), ("languages.csv", "language"), ("clients.csv", "client"), ("suppliers.csv", "supplier")],
            [("forecast-q1.csv.gz", "Q1 forecast"), ("forecast-q2.csv.gz", "Q2 forecast")],
            7,
            110
        ),
        new(
            "garages",
            "torquehill",
            "garages.csv",
            [("departments.csv", "department"), ("jobs.csv", "job"), ("suppliers.csv", "supplier")],
            [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-8+4.csv.gz", "Forecast 8+4")],
            11,
            131
        ),
        new(
            "campsites",
            "fernwater",
            "campsites.csv",
            [("departments.csv", "department"), ("pitches.csv", "pitch"), ("suppliers.csv", "supplier")],
            [("forecast-1.csv.gz", "Forecast 1"), ("forecast-2.csv.gz", "Forecast 2")],
            1,
            142
        ),
        new(
            "radios",
            "larkwave",
            "stations.csv",
            [("departments.csv", "department"), ("sectors.csv", "sector"), ("suppliers.csv", "supplier")],
            [("forecast-1.csv.gz", "Forecast 1"), ("forecast-2.csv.gz", "Forecast 2")],
            12,
            141
        ),
        // As a controller types it.
        new(
            "trams",
            "copperline",
            "lines.csv",
            [("departments.csv", "department"), ("tickets.csv", "ticket"), ("suppliers.csv", "supplier")],
            [("forecast-6+6.csv.gz", "Forecast 6+6")],
            6,
            139
        ),
        new(
            "kilns",
            "emberfield",
            "works.csv",
            [("departments.csv", "department"), ("ranges.csv", "range"), ("suppliers.csv", "supplier")],
            [("forecast-q1.csv.gz", "Forecast Q1"), ("forecast-q2.csv.gz", "Forecast Q2")],
            3,
            143
        ),
        new(
            "dairies",
            "clovermoor",
            "dairies.csv",
            [("departments.csv", "department"), ("units.csv", "unit"), ("groups.csv", "group"), ("suppliers.csv", "supplier")],
            [("forecast-8+4.csv.gz", "Forecast 8+4")],
            4,
            138
        ),
        // As a manager talks, and as a board writes.
        new(
            "recyclers",
            "ironleaf",
            "yards.csv",
            [("departments.csv", "department"), ("materials.csv", "material"), ("suppliers.csv", "supplier")],
            [("forecast-6+6.csv.gz", "Forecast 6+6")],
            1,
            130
        ),
        new(
            "bowls",
            "skittlewood",
            "centres.csv",
            [("departments.csv", "department"), ("guests.csv", "guest"), ("suppliers.csv", "supplier")],
            [("forecast-7+5.csv.gz", "Forecast 7+5")],
            8,
            126
        ),
        // Mails, speech and other first languages.
        new(
            "mills",
            "grindstone",
            "mills.csv",
            [("departments.csv", "department"), ("products.csv", "product"), ("suppliers.csv", "supplier")],
            [("forecast-7+5.csv.gz", "Forecast 7+5")],
            7,
            123
        ),
        new(
            "quarries",
            "rockhold",
            "quarries.csv",
            [("departments.csv", "department"), ("grades.csv", "grade"), ("suppliers.csv", "supplier")],
            [("forecast-6+6.csv.gz", "Forecast 6+6")],
            1,
            134
        ),
    ];

    /// <summary>Those that are asked: all, unless the environment names a few.</summary>
    private static readonly InventedCompany[] Asked = Environment
        .GetEnvironmentVariable("BEARING_QUESTIONS_OF")
        ?.Split(',', StringSplitOptions.RemoveEmptyEntries)
        is { Length: > 0 } few
        ? [.. All.Where(c => few.Contains(c.Folder))]
        : All;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public static TheoryData<string> Names() => [.. Asked.Select(c => c.Folder)];

    /// <summary>Scores of all companies, worked out beside each other as soon as the first is wanted.</summary>
    public sealed class Scores : IDisposable
    {
        private readonly string _data = Directory.CreateTempSubdirectory("bearing-questions-").FullName;
        private readonly BookShelf _shelf;
        private readonly ConcurrentDictionary<string, TaskCompletionSource<(OpenBook Book, List<Scored> Scored)>> _scores = new(
            Asked.Select(c => KeyValuePair.Create(c.Folder, new TaskCompletionSource<(OpenBook, List<Scored>)>()))
        );
        private readonly Lazy<Task> _all;

        public Scores()
        {
            _shelf = new BookShelf(
                _data,
                new Data.Facts.Duck.DuckEngine(TimeProvider.System),
                TimeProvider.System,
                mostOpen: 100
            );
            _all = new(() =>
                Parallel.ForEachAsync(
                    Asked,
                    new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount },
                    async (company, cancel) =>
                    {
                        try
                        {
                            var open = await company.Open(_shelf, cancel);
                            var edition = open.Edition();
                            var scored = await new QuestionScore(company.FirstMonth).Score(
                                (text, previous) =>
                                    AskEndpoints.Ask(open, edition, text, previous is null ? [] : [previous], cancel),
                                company.File("questions.jsonl"),
                                cancel
                            );
                            _scores[company.Folder].SetResult((open, scored));
                        }
                        catch (Exception e)
                        {
                            _scores[company.Folder].SetException(e);
                        }
                    }
                )
            );
        }

        internal async Task<(OpenBook Book, List<Scored> Scored)> Of(string company)
        {
            _ = _all.Value;
            return await _scores[company].Task;
        }

        public void Dispose()
        {
            _shelf.Dispose();
            Directory.Delete(_data, true);
        }
    }

    [Theory]
    [MemberData(nameof(Names))]
    public async Task Questions_of_a_company_are_answered_as_an_expert_would_or_not_at_all(string name)
    {
        var (_, scored) = await scores.Of(name);
        var report = QuestionScore.Report(scored);
        Directory.CreateDirectory(Path.Combine(Repository.Root, "out"));
        await File.WriteAllTextAsync(Path.Combine(Repository.Root, "out", $"questions-{name}.txt"), report, Cancel);
        Assert.False(scored.Exists(s => s.Verdict == Verdict.SilentlyWrong), report);
        Assert.True(scored.Count(s => s.Verdict == Verdict.AsExpected) >= All.Single(c => c.Folder == name).Least, report);
    }

    /// <summary>Questions of the stages in other words (rephrased.json: a pattern, and what is said instead) ask for the
    /// same.</summary>
    [Fact]
    public async Task What_is_said_otherwise_is_read_as_the_same_question_or_not_at_all()
    {
        Assert.SkipUnless(Asked.Any(c => c.Folder == "stages"), "The stages are not among those asked.");
        var (open, scored) = await scores.Of("stages");
        var company = All.Single(c => c.Folder == "stages");
        var edition = open.Edition();
        var reader = new FirstReader(edition.Book, edition.Words, Vocabulary.English);
        var rephrasings = JsonSerializer
            .Deserialize<string[][]>(await File.ReadAllTextAsync(company.Source("rephrased.json"), Cancel))!
            .Select(r => (Said: new Regex(r[0], RegexOptions.IgnoreCase), Otherwise: r[1]))
            .ToList();
        var fresh = (await File.ReadAllLinesAsync(company.File("questions.jsonl"), Cancel))
            .Select(l => System.Text.Json.Nodes.JsonNode.Parse(l)!)
            .Where(n => n["after"] is null)
            .Select(n => n["question"]!.GetValue<string>())
            .ToHashSet();
        var (same, other, unread, lost) = (0, new List<string>(), 0, new List<string>());
        foreach (
            var question in scored
                .Where(s => s.Verdict == Verdict.AsExpected && fresh.Contains(s.Question))
                .Select(s => s.Question)
        )
        {
            var meant = reader.Read(question);
            if (meant.Outcome != ReadingOutcome.Understood)
                continue;
            foreach (
                var text in rephrasings
                    .Select(r => r.Said.Replace(question, r.Otherwise, 1))
                    .Where(t => !t.Equals(question, StringComparison.OrdinalIgnoreCase))
                    .Distinct()
            )
            {
                var read = reader.Read(text);
                if (read.Outcome != ReadingOutcome.Understood || read.Reading!.Unused.Length > 0)
                    unread++;
                else if (!IsWhole(read.Question!))
                    lost.Add(text);
                else if (Alike(read.Question!, meant.Question!))
                    same++;
                else
                    other.Add($"{question}\n  {text}\n  {read.Reading.Sentence}\n  {meant.Reading!.Sentence}");
            }
        }
        await File.WriteAllTextAsync(
            Path.Combine(Repository.Root, "out", "questions-rephrased.txt"),
            $"{same} the same, {other.Count} other, {unread} not read\n\n{string.Join("\n\n", other)}",
            Cancel
        );
        Assert.Empty(lost);
        Assert.True(other.Count <= MostOther * (same + other.Count + unread), string.Join('\n', other));
        Assert.True(
            same >= LeastSame * (same + other.Count + unread),
            $"{same} the same, {other.Count} other, {unread} not read"
        );
    }

    /// <summary>Nothing of a reading is lost where its question gets its kind. (Parts of both totals mean something beside shares
    /// only.)</summary>
    private static bool IsWhole(FormOneQuestion read) =>
        FormOne.FromKinds(read.ToKinds()) == read with { Mix = read.Mix && read.Share };

    /// <summary>How it is shown, and whether a claim is put as a question, change no figure.</summary>
    private static bool Alike(FormOneQuestion a, FormOneQuestion b) => a with { Display = null } == b with { Display = null };

    private const double LeastSame = 0.96,
        MostOther = 0.01;
}
