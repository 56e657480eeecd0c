using System.Globalization;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>Questions over the demo book through the running service.</summary>
public sealed class AnswerTests(DemoService demo)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private async Task<AnswerDto> Answered(string text, QuestionDto? previous = null)
    {
        var set = await demo.Ask(text, previous);
        Assert.True(
            set.Outcome == "answered",
            $"{text}: {set.Outcome} {set.Because} {string.Join(" / ", set.Choices.Select(c => c.Means))}"
        );
        Assert.Equal("invented", set.Provenance);
        return Assert.Single(set.Answers);
    }

    private static string Paper(AnswerDto a) =>
        string.Join(' ', a.Commentary.Select(s => s.Text).Concat(a.Notes).Concat(a.Grid?.Rows.Select(r => r.Label) ?? []));

    private static decimal Number(RowDto row, string column) => decimal.Parse(row.Values[column]!, CultureInfo.InvariantCulture);

    /// <summary>The causes planted by the demo's generator: asked about, each must come up with where it sits and, where one
    /// entry made it, with that entry.</summary>
    [Theory]
    [InlineData("why did Ormsay Line miss budget in March 2026?", "Ormsay–Hallin|Ormsay Night Link")]
    [InlineData(
        "why was dry-dock above plan in May 2026?",
        "Calder Ferries|June 2026 shows EUR 420k the other way|Dry-dock MV Halcyra"
    )]
    [InlineData(
        "what drove Skelmar Ferries versus budget in September 2026?",
        "Insurance recoveries|Insurance recovery quay collision 2025"
    )]
    [InlineData("operating profit versus budget by route for Calder Ferries in September 2026", "Pellow–Skarn Express")]
    [InlineData("why was fuel over budget in August 2026?", "Marine fuel")]
    [InlineData("why is lorry freight below budget year to date?", "Calder–Pellow")]
    [InlineData("why is terminal energy better than budget year to date?", "Pellow Harbour")]
    [InlineData("what explains restaurant sales against budget in July 2026?", "Skelmar Ferries")]
    [InlineData("why was crew overtime so high in August 2026?", "Venn Island Line")]
    [InlineData("why did Ormsay Line miss plan in July 2026?", "Charter hire replacing MV Brindra|Engine repair MV Brindra")]
    [InlineData("what happened to advertising in April 2026?", "Head Office|Spring campaign media cost|February 2026 shows")]
    [InlineData("why was consulting overspent in September 2026?", "Head Office|Adviser fee ticket system selection")]
    [InlineData("why are IT licences over budget in September 2026?", "Brackness Harbour|Terminal rent quay 4")]
    [InlineData("why are IT licences at Brackness so high?", "September 2026|Terminal rent quay 4")]
    [InlineData("why did crew overtime exceed budget this year?", "August 2026|Venn–Pellow")]
    [InlineData("what is behind the good result of insurance recoveries in September?", "Skelmar Ferries|quay collision 2025")]
    [InlineData("why is fuel so much more expensive than planned since July?", "Marine fuel|Q3 2026")]
    [InlineData("why was dry-dock off plan in the first half?", "May 2026|yard invoice")]
    [InlineData("why is consulting over budget year to date?", "September 2026|Adviser fee")]
    [InlineData("advertising by month 2026 vs budget", "opposite directions|April 2026")]
    [InlineData("why did port dues paid exceed budget in September 2026?", "Skelmar–Brackness")]
    public async Task Planted_causes_come_up(string question, string expected)
    {
        var paper = Paper(await Answered(question));
        Assert.All(expected.Split('|'), part => Assert.Contains(part, paper, StringComparison.Ordinal));
    }

    [Fact]
    public async Task Nothing_is_said_to_be_nothing_without_a_picture_of_zeros_and_with_where_something_is()
    {
        var answer = await Answered("port costs at Brackness Harbour versus budget in September 2026");
        Assert.Equal(
            "Actual has nothing of Port costs for Brackness Harbour in September 2026, and neither has Budget 2026.",
            answer.Headline
        );
        Assert.Empty(answer.Charts);
        var elsewhere = await Answered(answer.Next[0], answer.Question);
        Assert.Contains("Skelmar Ferries", elsewhere.Grid!.Rows.Select(r => r.Label));
    }

    [Fact]
    public async Task A_month_without_a_plan_offers_the_latest_that_has_both()
    {
        var set = await demo.Ask("fuel in october versus budget by entity");
        Assert.Equal(
            ("cannot-answer", "fuel in September 2026 versus budget by entity"),
            (set.Outcome, Assert.Single(set.Nearest))
        );
    }

    [Fact]
    public async Task How_a_figure_was_worked_out_leads_back_to_its_loads_and_to_the_same_figure()
    {
        var answer = Assert.Single((await demo.Ask("fuel versus budget in Q3 for Calder Ferries")).Answers);
        var how = answer.Calculation!;
        Assert.Equal(answer.TieOut.Count, how.Loads.Sum(l => l.Lines));
        Assert.Equal("ledger-2026-h2.csv", Assert.Single(how.Loads).File);
        Assert.Equal(
            [
                "Fuel and energy is the sum of FUE Fuel and energy, with all accounts below.",
                "Actual: Q3 2026, for Calder Ferries.",
                "Budget 2026: Q3 2026, for Calder Ferries.",
            ],
            how.Words.Take(3)
        );
        var page = await demo.Client.Lines(
            DemoService.Book,
            how.Slices[0].Slice,
            1,
            null,
            false,
            TestContext.Current.CancellationToken
        );
        Assert.Equal(answer.Grid!.Rows[^1].Values["subject"], page.Sum);
    }

    [Fact]
    public async Task Figures_side_by_side_are_each_in_their_unit_and_lead_to_their_own_lines()
    {
        var answer = await Answered("top 3 routes by revenue with sailings and revenue per sailing in September 2026");
        var grid = answer.Grid!;
        Assert.Equal(
            [("Revenue", null), ("Sailings", "sailings"), ("Revenue per sailing", "EUR per sailing")],
            grid.Columns.Select(c => (c.Title, c.Unit))
        );
        Assert.Equal(((ValuesDto)answer.Question.Kind).Beside, grid.Columns.Skip(1).Select(c => c.Figure));
        // The three that earned most, the rest and all: what is left is divided anew.
        Assert.Equal(5, grid.Rows.Count);
        Assert.All(grid.Rows, r => Assert.Equal(Number(r, "subject") / Number(r, "beside"), Number(r, "beside2"), 2));
        Assert.Equal(Number(grid.Rows[^1], "beside"), grid.Rows.Take(4).Sum(r => Number(r, "beside")));
        var first = grid.Rows[0];
        var lines = await demo.Client.Lines(
            DemoService.Book,
            first.Slice.Replace("figure=a:REV", "figure=a:S10", StringComparison.Ordinal),
            100,
            null,
            false,
            Cancel
        );
        Assert.Equal(Number(first, "beside"), decimal.Parse(lines.Sum, CultureInfo.InvariantCulture));
        Assert.Contains("Sailings to", answer.Headline, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_trail_leads_from_the_total_to_the_row_of_the_file_and_every_step_adds_up()
    {
        var top = await Answered("why did operating profit miss budget in September 2026?");
        var total = top.Grid!.Rows[^1];
        var byEntity = await Step(top, total.Slice, "entity:Entity");
        Assert.Equal(
            Number(total, "variance"),
            byEntity
                .Grid!.Rows.Where(r =>
                    r.Members.ContainsKey("entity")
                    && !byEntity.Grid.Rows.Any(o => o.Level > r.Level && o.Id.StartsWith(r.Id + "/", StringComparison.Ordinal))
                )
                .Sum(r => Number(r, "variance"))
        );
        var skelmar = byEntity.Grid.Rows.Single(r => r.Label == "Skelmar Ferries");
        var byAccount = await Step(byEntity, skelmar.Slice, "account:Account");
        var insurance = byAccount.Grid!.Rows.Single(r => r.Label == "Insurance recoveries");
        var byMonth = await Step(byAccount, insurance.Slice, "month");
        Assert.Equal(265_000m, Number(byMonth.Grid!.Rows.Single(r => r.Label == "September 2026"), "subject"));
        var lines = await demo.Client.Lines(DemoService.Book, insurance.Slice, 100, null, true, Cancel);
        var line = Assert.Single(lines.Lines);
        Assert.Equal("265000.00", line.Amount);
        var source = await demo.Client.SourceRow(DemoService.Book, line.Load, line.Row, Cancel);
        Assert.Equal("ledger-2026-h2.csv", source.File);
        Assert.Equal(File.ReadLines(Repository.Demo(source.File)).ElementAt(line.Row - 1), string.Join(',', source.Fields));

        async Task<AnswerDto> Step(AnswerDto from, string slice, string by) =>
            Assert.Single(
                (await demo.Client.Drill(DemoService.Book, new DrillRequest(from.Question, slice, by), Cancel)).Answers
            );
    }

    [Fact]
    public async Task The_same_question_gives_the_same_answer()
    {
        var (one, other) = (
            await Answered("fuel versus budget by entity in August 2026"),
            await Answered("fuel versus budget by entity in August 2026")
        );
        Assert.Equal(System.Text.Json.JsonSerializer.Serialize(one), System.Text.Json.JsonSerializer.Serialize(other));
    }

    [Fact]
    public async Task Follow_ups_over_many_turns_keep_their_scope()
    {
        var answer = await Answered("fuel versus budget in August 2026");
        foreach (
            var (text, expected) in new[]
            {
                ("by entity instead", "Fuel and energy"),
                ("only Calder Ferries", "for Calder Ferries"),
                ("and in July?", "July 2026"),
                ("add last year", "Prior year"),
                ("by route", "Calder–Pellow"),
                ("the largest one", "Calder Ferries"),
                ("why?", "Fuel and energy"),
                ("what about crew wages?", "Crew wages"),
                ("year to date", "year to September 2026"),
            }
        )
        {
            answer = await Answered(text, answer.Question);
            Assert.Contains(expected, Paper(answer), StringComparison.Ordinal);
        }
        Assert.Contains(answer.Question.Scope.Filters!, f => f.Dimension == "entity");
    }

    [Fact]
    public async Task An_ambiguous_name_is_asked_back_and_each_choice_can_be_taken()
    {
        var set = await demo.Ask("passenger revenue in Skelmar in August 2026");
        Assert.Equal("asks-back", set.Outcome);
        Assert.InRange(set.Choices.Count, 2, 5);
        foreach (var choice in set.Choices)
            Assert.Equal(
                "answered",
                (await demo.Client.Answer(DemoService.Book, new AnswerRequest(choice.Question), Cancel)).Outcome
            );
    }

    [Fact]
    public async Task What_the_book_lacks_is_said_with_what_it_has()
    {
        var set = await demo.Ask("revenue in March 2031");
        Assert.Equal("cannot-answer", set.Outcome);
        Assert.Contains("September 2026", set.Because, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Next_questions_work_as_they_stand()
    {
        var answer = await Answered("why did operating profit miss budget in September 2026?");
        foreach (var next in answer.Next)
            Assert.Equal("answered", (await demo.Ask(next, answer.Question)).Outcome);
    }

    [Fact]
    public async Task Opening_questions_work_as_they_stand()
    {
        foreach (var suggestion in (await demo.Client.Book(DemoService.Book, Cancel)).Suggestions)
            await Answered(suggestion);
    }

    [Fact]
    public async Task A_ratio_is_recomputed_from_its_parts()
    {
        var (ratio, fuel, sailings) = (
            await Answered("fuel per sailing in August 2026"),
            await Answered("marine fuel in August 2026"),
            await Answered("sailings in August 2026")
        );
        var expected = Number(fuel.Grid!.Rows[^1], "subject") / Number(sailings.Grid!.Rows[^1], "subject");
        Assert.Equal(decimal.Round(expected, 6), Number(ratio.Grid!.Rows[^1], "subject"));
    }

    [Fact]
    public async Task Every_demand_of_a_text_is_answered_or_told_in_its_order()
    {
        var set = await demo.Ask(
            "show fuel by entity in August 2026 and list the unicorns. Why was consulting over budget in September 2026?"
        );
        var (unicorns, consulting) = (set.Further![0], set.Further[1]);
        Assert.Equal(("answered", "cannot-answer", "answered"), (set.Outcome, unicorns.Outcome, consulting.Outcome));
        Assert.Equal(
            ["show fuel by entity in August 2026", "list the unicorns.", "Why was consulting over budget in September 2026?"],
            [set.Asked!, unicorns.Asked!, consulting.Asked!]
        );
        Assert.Contains("unicorns", unicorns.Because, StringComparison.Ordinal);
        Assert.Contains("Adviser fee", Paper(consulting.Answers[0]), StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_overview_answers_each_part_with_the_same_scope_and_a_list_of_figures_is_one_table()
    {
        var overview = await demo.Ask("everything about fuel in August 2026");
        var all = overview.Further!.Prepend(overview).ToList();
        Assert.All(all, s => Assert.Equal("answered", s.Outcome));
        Assert.All(all, s =>
            Assert.Equal(("2026-P08", "a:FUE"), (s.Answers[0].Question.Scope.Periods[0], s.Answers[0].Question.Scope.Figure))
        );
        Assert.Equal(5, all[^1].Answers[0].Entries!.Lines.Count);
        var figures = await Answered("fuel, passenger revenue and operating profit by quarter");
        Assert.Equal("a:FUE", figures.Question.Scope.Figure);
        Assert.Equal(2, ((ValuesDto)figures.Question.Kind).Beside!.Distinct().Count());
    }

    [Fact]
    public async Task Help_is_questions_that_are_answered_and_too_many_demands_are_refused()
    {
        var help = await demo.Ask("what can I ask?");
        Assert.Equal("help", help.Outcome);
        foreach (var question in help.Nearest)
            await Answered(question);
        Assert.Equal("cannot-answer", (await demo.Ask(string.Concat(Enumerable.Repeat("What was fuel in March? ", 8)))).Outcome);
    }

    [Theory]
    [InlineData("fuel in July 2031", "fuel in July 2026")]
    [InlineData("overdue invoices by route", "overdue invoices by entity")]
    [InlineData("operating profit by cabin class", "operating profit by route")]
    [InlineData("revenue for Atlantis", "revenue by entity")]
    [InlineData("fuel by supplier", "Supplier invoices by supplier")]
    [InlineData("budget 2029 revenue", "budget 2026 revenue")]
    [InlineData("revenue per employee by week", "revenue per employee by month")]
    [InlineData("bunker surcharge versus budget", null)]
    public async Task What_is_offered_where_there_is_no_answer_is_a_whole_question_that_has_one(string text, string? offered)
    {
        var set = await demo.Ask(text);
        Assert.Equal("cannot-answer", set.Outcome);
        if (offered is null)
            Assert.Empty(set.Nearest);
        else
            Assert.Contains(offered, set.Nearest);
        foreach (var question in set.Nearest)
            Assert.Empty((await demo.Ask(question)).Reading!.Unused);
        foreach (var question in set.Nearest)
            await Answered(question);
    }

    [Fact]
    public async Task How_it_is_shown_is_kept_by_follow_ups_and_changes_no_figure()
    {
        var plain = await Answered("revenue by entity in August 2026");
        var shown = await Answered("in millions with two decimals", plain.Question);
        Assert.Equal(plain.Grid!.Rows.Select(r => r.Values["subject"]), shown.Grid!.Rows.Select(r => r.Values["subject"]));
        Assert.Equal(new DisplayDto(null, 1_000_000, 2), shown.Question.Layout!.Display);
        Assert.Equal(
            new DisplayDto("line", 1_000_000, 2),
            (await Answered("as a line chart", shown.Question)).Question.Layout!.Display
        );
    }

    [Fact]
    public async Task The_part_that_is_said_first_opens_as_a_paper_of_its_own()
    {
        var asked = (await demo.Ask("is the marine fuel overspend in August 2026 mostly Skelmar Ferries?")).Answers[0];
        Assert.StartsWith("No. Skelmar Ferries: EUR 58k of EUR 255k, 22.6 %. ", asked.Headline, StringComparison.Ordinal);
        Assert.Equal(new PartDto("entity", "SKF", "most"), ((ComparisonDto)asked.Question.Kind).Of!.Part);
        var slice = asked.Commentary[0].Segments.First(s => s.Slice is not null).Slice!;
        var opened = Assert.Single(
            (await demo.Client.Drill(DemoService.Book, new DrillRequest(asked.Question, slice), Cancel)).Answers
        );
        Assert.Null(((ComparisonDto)opened.Question.Kind).Of?.Part);
        Assert.Equal(["SKF"], Assert.Single(opened.Question.Scope.Filters!).Members);
    }
}
