using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>A third company: a group of laundries, whose questions were written in one go and kept before any was tried.</summary>
public sealed class LaundriesTests(DemoService demo)
{
    private const string Id = "pellworth";

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Questions_of_a_third_company_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "laundries", Id);
        await company.Load("plants.csv", [("centres.csv", "centre"), ("sectors.csv", "sector"), ("suppliers.csv", "supplier")], ("forecast-6+6.csv.gz", "Forecast 6+6"));
        var scored = await new QuestionScore(1).Score(demo.Client, Id, company.File("questions.jsonl"), Cancel);
        await File.WriteAllTextAsync(Path.Combine(Repository.Root, "out", "questions-laundries.txt"), QuestionScore.Report(scored), Cancel);
        Assert.True(scored.Count(s => s.Verdict == Verdict.AsExpected) >= LeastAsExpected, QuestionScore.Report(scored));
        Assert.False(scored.Exists(s => s.Verdict == Verdict.SilentlyWrong), QuestionScore.Report(scored));
    }

    /// <summary>Reached; to be raised with every mechanism.</summary>
    private const int LeastAsExpected = 115;
}
