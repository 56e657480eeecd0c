using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Turnover, EBITDA and the rest are found by what a book holds, whatever it calls them.</summary>
public sealed class UsualLinesTests
{
    /// <param name="lines">Code, name and sums of the statement.</param>
    /// <param name="accounts">Code, name, parent; a code that begins with I is income.</param>
    private static FirstReader Of(
        (string Code, string Name, string Sums)[] lines,
        params (string Code, string Name, string? Parent)[] accounts
    )
    {
        var members = ImmutableArray.CreateBuilder<Member>();
        foreach (var (code, name, parent) in accounts)
            members.Add(
                new Member(
                    Member.FirstOwnId + members.Count,
                    1,
                    code,
                    name,
                    parent is null ? null : members.Single(m => m.Code == parent).Id,
                    members.Count,
                    [],
                    AccountTraits.Default(code[0] == 'I' ? AccountType.Income : AccountType.Cost)
                )
            );
        members.Add(new Member(Member.FirstOwnId + members.Count, 2, "U1", "Quarry", null, 0, [], null));
        var book = new Book(
            new BookDefinition
            {
                Id = "quarry",
                Name = "Quarry",
                Currency = "EUR",
                FiscalYearStartMonth = 1,
                Dimensions =
                [
                    new(1, "account", "Account", DimensionRole.Account, ["Group", "Account"], []),
                    new(2, "entity", "Unit", DimensionRole.Entity, ["Unit"], []),
                ],
                Scenarios =
                [
                    new Scenario(
                        "actual",
                        "Actual",
                        ScenarioKind.Actual,
                        [
                            new ScenarioVersion(
                                1,
                                "v1",
                                new Coverage(new PeriodSpan(new Period(2026, 1), new Period(2026, 3)), [members[^1].Id], [1, 2]),
                                null
                            ),
                        ]
                    ),
                ],
                Statement = [.. lines.Select(l => new StatementLine(l.Code, l.Name, [.. l.Sums.Split(' ')], []))],
                Measures = [],
                MonthMateriality = new Materiality(0m, 0m),
                YearMateriality = new Materiality(0m, 0m),
            },
            1,
            members.ToImmutable()
        );
        return new FirstReader(book, new BookWords(book), Vocabulary.English);
    }

    private static readonly (string, string, string?)[] Usual =
    [
        ("INC", "Stone delivered", null),
        ("WAG", "Wages", null),
        ("WEE", "Weekly wages", "WAG"),
        ("DEP", "Depreciation of plant", "WAG"),
        ("AMO", "Amortisation of rights", null),
        ("FIN", "Finance result", null),
        ("INT", "Loan interest", "FIN"),
        ("BNK", "Bank charges", "FIN"),
        ("PTX", "Property tax", null),
        ("CTX", "Corporation tax", null),
    ];

    private static readonly FirstReader OneLine = Of([("res", "Result for the year", "INC WAG AMO FIN PTX CTX")], Usual);

    private static readonly FirstReader ManyLines = Of(
        [("core", "Core earnings", "INC WAG AMO PTX"), ("pre", "Taxable earnings", "core FIN"), ("res", "Left over", "pre CTX")],
        Usual
    );

    private static string Figure(FirstReader reader, string text) =>
        reader.Read(text) is { Question: { } question } read
            ? read.Reading!.Sentence.Split(':')[0]
            : $"{reader.Read(text).Outcome}";

    [Theory]
    [InlineData("turnover", "Stone delivered")]
    [InlineData("top line", "Stone delivered")]
    [InlineData("bottom line", "Result for the year")]
    [InlineData("net income", "Result for the year")]
    [InlineData("PBT", "Result for the year before corporation tax")]
    [InlineData("EBIT", "Result for the year before finance result and corporation tax")]
    // Property tax stays a cost, and wages stay without the depreciation below them.
    [InlineData(
        "EBITDA",
        "Result for the year before depreciation of plant and amortisation of rights and finance result and corporation tax"
    )]
    [InlineData(
        "EBITDA margin",
        "Result for the year before depreciation of plant and amortisation of rights and finance result and corporation tax in % of stone delivered"
    )]
    public void What_no_line_comes_to_is_the_last_one_before_what_stands_below(string text, string figure) =>
        Assert.Equal(figure, Figure(OneLine, text));

    [Theory]
    [InlineData("EBIT", "Core earnings")]
    [InlineData("operating profit", "Core earnings")]
    [InlineData("pre-tax profit", "Taxable earnings")]
    [InlineData("net profit", "Left over")]
    [InlineData("EBITDA", "Core earnings before depreciation of plant and amortisation of rights")]
    public void A_line_that_comes_to_the_same_accounts_is_it(string text, string figure) =>
        Assert.Equal(figure, Figure(ManyLines, text));

    [Fact]
    public void What_the_book_calls_so_is_so_whatever_it_holds() =>
        Assert.Equal(
            "Operating result",
            Figure(
                Of([("op", "Operating result", "INC WAG AMO FIN PTX"), ("res", "Result", "op CTX")], Usual),
                "operating profit"
            )
        );

    [Fact]
    public void An_account_of_both_kinds_leaves_open_what_stands_before_one_of_them()
    {
        var reader = Of([("res", "Result", "INC CAP")], ("INC", "Sales", null), ("CAP", "Depreciation and interest", null));
        Assert.Equal("Result before depreciation and interest", Figure(reader, "EBITDA"));
        Assert.Equal("CannotAnswer", Figure(reader, "EBIT"));
    }

    /// <summary>What the name of the line holds anyway needs no word.</summary>
    [Fact]
    public void What_says_itself_is_not_said() =>
        Assert.DoesNotContain(
            Of([("res", "Result", "INC WAG")], ("INC", "Stone income", null), ("WAG", "Wages", null))
                .Read("income")
                .Reading!.Assumed,
            a => a.Contains("read as", StringComparison.Ordinal)
        );

    [Fact]
    public void It_is_said_what_was_taken_for_it() =>
        Assert.Contains("“EBIT” read as Core earnings", ManyLines.Read("EBIT by month").Reading!.Assumed);
}
