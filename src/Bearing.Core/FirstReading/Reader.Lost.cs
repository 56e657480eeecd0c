using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>The last look at a reading: whatever was recognised has to show in the question, or it is named like a word that
/// nobody knows.</summary>
public sealed partial class FirstReader
{
    /// <summary>Tokens of members, levels and figures that the question has lost.</summary>
    private IEnumerable<int> Lost(Covering covering, Draft draft, Resolved resolved) =>
        covering.Mentions.Where(m => !Shows(m, covering, draft, resolved)).SelectMany(m => Enumerable.Range(m.Start, m.Length));

    private bool Shows(Mention said, Covering covering, Draft draft, Resolved resolved)
    {
        var question = resolved.Question;
        // "By account rather than by region": the one that goes.
        if (
            said.Kind == MentionKind.Level
            && covering.Mentions.Any(m => m is { Kind: MentionKind.Edit, Value: "instead" } && m.End <= said.Start)
        )
            return true;
        // "For all clinics" leaves none out.
        if (said.Kind == MentionKind.Level && covering.Mentions.Any(m => m.Kind == MentionKind.Quantifier && m.End == said.Start))
            return true;
        bool Of(string? dimension) =>
            question.Listing?.Columns.Contains(dimension ?? "") == true
            || question.Breakdowns.Any(b => b.Dimension == dimension)
            || question.Filters.Any(f => f.Dimension == dimension)
            || (
                question.Records is { } ask
                && ask.By.Any(b => b.Field == dimension || book.Table(ask.Table)?.Field(b.Field)?.Dimension == dimension)
            );
        return said.Kind switch
        {
            // "Journals on payroll accounts" are those on payroll; "by account" would be a split.
            MentionKind.Level when question.Records is not null && said.Dimension == book.Accounts.Code => !covering.Mentions.Any(
                m => m.Kind == MentionKind.By && m.End == said.Start
            ),
            MentionKind.Level
                when said.Value == Composer.AnyLines
                    || (draft.Pointed is { } pointed && pointed.Start <= said.Start && said.End <= pointed.End) => true,
            // All there is on top of a tree is no split of it.
            MentionKind.Level
                when book.TryDimension(said.Dimension!, out var tree)
                    && tree.Levels[0] == said.Value
                    && book.Roots(tree.Id).Take(2).Count() == 1 => true,
            // "Client invoices": those of the table that is kept by clients.
            MentionKind.Level
                when question.Records is { } of
                    && covering.Mentions.Any(m => m.Kind == MentionKind.Records && m.Start == said.End)
                    && book.Table(of.Table)?.Fields.Any(f => f.Dimension == said.Dimension) == true => true,
            MentionKind.Member or MentionKind.Class or MentionKind.Level => Of(said.Dimension),
            // "Drop fuel": the one that goes.
            MentionKind.Figure
                when resolved.FollowsUp && covering.Mentions.Any(m => m.Kind == MentionKind.Exclude && m.End == said.Start) =>
                true,
            MentionKind.Figure
                when said.Value[..2] is "a:" or "m:"
                    && !said.Value.Contains('#', StringComparison.Ordinal)
                    && !said.Value.Contains('~', StringComparison.Ordinal) => IsIn(Composer.FigureOf(said), question)
                || resolved.Also.Concat(question.Beside).Any(f => IsIn(Composer.FigureOf(said), question with { Figure = f })),
            // "Without the budget", "forecast instead of budget": a side that goes.
            MentionKind.Scenario or MentionKind.OnPlan => draft.Instead is not null
                || ShowsSide(
                    said.Value.Split(':')[^1] is var side && said.Value.StartsWith(Composer.AgainstIt, StringComparison.Ordinal)
                        ? side
                        : said.Value,
                    question
                ),
            MentionKind.Check or MentionKind.Records => question.Records is not null
                || question.Document is not null
                || question.Intent == Intent.Entries,
            MentionKind.Share => question.Share
                || question.Beside.Any(f => book.Figure(f) is PairFigure { Rule: PairRule.Percent })
                || question.Records?.Also is not null
                || question.Bases.Length > 0
                || question.Projection is not null
                || book.Figure(question.Figure) is PairFigure,
            _ => ShowsSense(said, covering, draft, question),
        };
    }

    /// <summary>Words of the language that ask for something of their own: left out, they would be passed over in
    /// silence.</summary>
    private bool ShowsSense(Mention said, Covering covering, Draft draft, FormOneQuestion question)
    {
        var split =
            question.Breakdowns.Any(b => b.Grain is not null) || question.Spans.Length > 1 || question.Projection is not null;
        return said.Kind switch
        {
            MentionKind.Projection when !said.Value.StartsWith("remaining", StringComparison.Ordinal) => question.Projection
                is not null
                || question.Bases.Append(question.Subject).Any(s => s.Kind == SideKind.Version && s != Side.Actual),
            MentionKind.Cumulative => question.Cumulative,
            MentionKind.Growth => question.Growth || split || question.Bases.Length > 0,
            MentionKind.Grain => split
                || question.Records is not null
                || !covering.Mentions.Any(m => m is { Kind: MentionKind.By, Value: "by" } && m.End == said.Start),
            // "Which bills are up": records are over nothing.
            MentionKind.Gap when question.Records is { } ask => question.Conditions.Length > 0
                || question.Claim is not null
                || question.Ranking is not null
                || ask.Tests.Length > 0
                || ask.Buckets.Length > 0,
            MentionKind.Rank => question.Ranking is not null
                || question.Records is not null
                || question.Listing is not null
                || split
                || question.Breakdowns.Length > 0,
            MentionKind.Exclude when said.Value is "exclude" or "excluded" && draft.Instead is null => question.Filters.Any(f =>
                f.Exclude || f.Members.Contains(book.Label(Member.Unassigned).Code)
            )
                || question.Bases.Length > 0
                || question.Conditions.Length > 0
                || question.Ranking is { Skip: > 0 }
                || question.Records is not null
                || book.Figure(question.Figure) is PairFigure,
            MentionKind.Presence when said.Value is not ("negative" or "positive") => question.Conditions.Length > 0
                || question.Claim is not null,
            MentionKind.Statistic when said.Value != "count" => question.Statistic is not null
                || question.Records is not null
                || book.Figure(question.Figure) is not SumFigure { OverTime: OverTime.Sum or OverTime.Stock },
            // "Crew of vessels we sold": costs that were named are not sold; what they take may be said of them.
            MentionKind.Unit when said.Value is "income" or "sales" => draft.Figures.Count == 0
                || book.Figure(question.Figure) is not SumFigure { IsProfit: true, ShownSign: < 0 },
            MentionKind.Currency => question.Currency is not null || said.Value == book.Definition.Currency,
            MentionKind.Quote => question.Text is not null || question.Document is not null || question.Records is not null,
            // "Before July" ends with June.
            MentionKind.Month
                when covering.Mentions.Any(m =>
                    m is { Kind: MentionKind.Exclude, Value: "before" or "after" } && m.End == said.Start
                ) => true,
            MentionKind.Month when question.Records is null && question.Document is null => ShowsMonth(
                int.Parse(said.Value, CultureInfo.InvariantCulture),
                question
            ),
            _ => true,
        };
    }

    /// <summary>In a period, at an end of it, or as the row that was asked for.</summary>
    private bool ShowsMonth(int month, FormOneQuestion question) =>
        question.Part is not null
        || question.Projection is not null
        || question
            .Spans.Concat(
                question
                    .Bases.Where(b => b.Kind == SideKind.PriorPeriod)
                    .SelectMany(b =>
                        question.Spans.Select(s => s.AddMonths(-int.Parse(b.Version ?? "1", CultureInfo.InvariantCulture)))
                    )
            )
            .Any(s => s.Periods().Any(p => p.Number == book.Calendar.PeriodOfMonth(s.To.Year, month).Number));

    /// <summary>A plan shows as a side or in what is left of it; the past also as a period of its own.</summary>
    private bool ShowsSide(string scenario, FormOneQuestion question)
    {
        var sides = question.Bases.Add(question.Subject);
        // What is left or used of a plan, and an outlook, have theirs; months carried forward are held against what is said.
        if (scenario == Book.ActualCode || question.Projection is not (null or Projection.RunRate))
            return true;
        return scenario.StartsWith("prior", StringComparison.Ordinal)
            ? sides.Any(s => s.Kind is SideKind.PriorYear or SideKind.PriorPeriod)
                || question.Spans.Length > 1
                || question.Breakdowns.Any(b => b.Grain is not null)
            : sides.Any(s =>
                s.Kind == SideKind.Version
                && s.Scenario != Book.ActualCode
                && (
                    s.Scenario == scenario
                    || !Enum.TryParse<ScenarioKind>(scenario, true, out var kind)
                    || book.Scenario(s.Scenario)?.Kind == kind
                )
            );
    }

    private bool IsIn(FigureRef said, FormOneQuestion question) =>
        said == question.Figure
        || question.Beside.Contains(said)
        || question.Than == said
        || question.Filters.Any(f => f.Dimension == book.Accounts.Code && f.Members.Contains(said.Code))
        || (
            book.Figure(said) is { } part
            && book.Figure(question.Figure) is { } whole
            && (
                whole.Name.Contains(part.Name, StringComparison.OrdinalIgnoreCase)
                || Parts(part).Any(Parts(whole).Contains)
                // A part of the whole is one of its rows; of "trips income" the trips are meant.
                || (question.Records is null && (Inside(part, whole) || Inside(whole, part)))
            )
        );

    private bool Inside(Figure part, Figure whole) => Parts(part).All(p => book.PathTo(p).Any(Parts(whole).Contains));

    private static IEnumerable<int> Parts(Figure figure) =>
        figure switch
        {
            SumFigure sum => sum.Accounts,
            PairFigure pair => pair.Top.Accounts.Concat(pair.Bottom.Accounts),
            _ => [],
        };
}
