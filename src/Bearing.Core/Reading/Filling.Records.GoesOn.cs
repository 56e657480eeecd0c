using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>A turn that goes on from records: other ones of the same table, some of those shown, or more of the one.</summary>
internal sealed partial class Filling
{
    /// <returns>Null where what was said changes nothing of such a question, or speaks of something else.</returns>
    private Filled? RecordsGoOn(Turn turn, Kind.Records shown)
    {
        var before = turn.Question;
        if (
            !said.Fits(OfARecordsTurn)
            || HoldsMembersApart()
            || AsksMore()
            || ListsFieldsApart()
            || book.Table(shown.Ask.Table) is not { } table
            || table.Code == Table.Ledger
            || !TablesMeant().Contains(table)
        )
            return null;
        var of = new RecordFilling(this, table, shown.Ask.By.IsEmpty && turn.Records is { Rows.Length: 1 }, shown.Ask.Sum);
        var (ask, layout, filters) = Picked(turn, of, Listed(shown.Ask), before);
        ask = of.Made(ask);
        if (of.Period is { } span)
            ask = of.InPeriod(ask, span);
        if (said.Has<WholeItem>())
            filters = [.. filters.Where(f => f.Dimension != book.Entities.Code || f.Exclude)];
        foreach (var filter in Filters())
            filters = Replaced(filters, filter);
        // The end of the months in which they were paid says nothing of what is still owed.
        bool IsOfTime(RecordTest t) => t.Kind == RecordTestKind.During;
        var lifted = shown.Ask.Tests.Any(IsOfTime) && !ask.Tests.Any(IsOfTime);
        var question = new Question(
            before.Scope with
            {
                Spans =
                [
                    of.Period
                        ?? (lifted && book.CurrentPeriod is { } now ? FiscalCalendar.YearToDate(now) : before.Scope.Spans[0]),
                ],
                Filters = filters,
                Currency = Currency(before.Scope.Currency),
            },
            layout with
            {
                Ranking = of.Ranked(ask, layout.Ranking),
                Conditions = said.Has<LimitItem>() ? of.Limits(ask) : layout.Conditions,
            },
            new Kind.Records(ask, of.Listed(ask, shown.Listing is { } l && ask.By.SequenceEqual(shown.Ask.By) ? l : null))
        );
        return question == before ? null : Done(question, KeptOfRecords(table, before, question));
    }

    /// <summary>The records themselves, where they are named again or asked for one by one: no longer counted or
    /// gathered.</summary>
    private RecordAsk Listed(RecordAsk ask) =>
        said.Has<TableItem>() && !said.Has<SplitItem>() && !said.Has<ByFieldItem>()
        || said.One<ClearItem>() is { What: Cleared.Groups }
        || said.One<RankItem>() is { Costs: true }
            ? ask with
            {
                By = [],
                Due = null,
                Buckets = [],
                Also = null,
                LimitsGroups = false,
                CountOnly = false,
                Statistic = null,
            }
            : ask;

    /// <summary>Some of what was shown: the rows that a ranking kept, the one that is pointed at, or all but that one.</summary>
    /// <exception cref="CannotAnswerException">When no such row was shown.</exception>
    private (RecordAsk Ask, Layout Layout, ImmutableArray<Filter> Filters) Picked(
        Turn turn,
        RecordFilling of,
        RecordAsk ask,
        Question before
    )
    {
        var shown = ((Kind.Records)before.Kind).Ask;
        var kept = (ask, before.Layout, (ImmutableArray<Filter>)before.Scope.Filters);
        if (said.One<PointedFieldItem>() is { Role: var role })
            return (OfThat(role, turn, of, ask), before.Layout with { Ranking = null, Conditions = [] }, before.Scope.Filters);
        var point = said.One<PointItem>() ?? said.One<PointedOutItem>()?.Point;
        var ranked = before.Layout.Ranking is { Count: < Ranking.All };
        var regathers = !shown.By.IsEmpty && ask.By.IsEmpty;
        if (point is null && !said.Has<TheirItem>() && !(ranked && regathers))
            return kept;
        // Of what was only counted the largest is listed.
        if (ask.CountOnly && point is { How: Pointing.Largest or Pointing.Smallest } end)
            return (
                ask with
                {
                    CountOnly = false,
                },
                before.Layout with
                {
                    Ranking = new Ranking(1, RankBy.Size, end.How is Pointing.Smallest),
                },
                before.Scope.Filters
            );
        if (turn.Records is not { Rows.IsEmpty: false } list)
            return kept;
        var rows = point?.How switch
        {
            Pointing.Place => [.. list.Rows.Skip(point.Place - 1).Take(1)],
            Pointing.Largest or Pointing.Best => list.Rows[..1],
            Pointing.Smallest or Pointing.Worst => list.Rows[^1..],
            Pointing.That when list.Rows.Length == 1 => list.Rows,
            Pointing.Those or null when ranked => list.Rows,
            Pointing.Those when shown is { By.IsEmpty: false } => list.Rows,
            _ => [],
        };
        if (rows.IsEmpty)
            return point is null or { How: Pointing.Those }
                ? kept
                : throw new CannotAnswerException("The last answer does not show which one that is. Name it.");
        var field = shown.By.IsEmpty ? of.KeyField : shown.By[0].Field;
        var column = field is null ? -1 : list.Columns.ToList().FindIndex(c => c.Id == field);
        if (column < 0)
            return kept;
        var names = rows.Select(r => r.Values[column]).OfType<string>().Distinct().ToList();
        _assumed.Add($"{(said.Has<PointedOutItem>() ? "without " : "")}{string.Join(", ", names)}, of what was shown");
        var layout = before.Layout with { Ranking = null, Conditions = [] };
        var outside = said.Has<PointedOutItem>();
        if (outside)
            layout = before.Layout;
        return of.OfNames(field!, names, outside) is { Filter: { } filter }
            ? (ask, layout, Replaced(before.Scope.Filters, filter))
            : (
                ask with
                {
                    Tests = [.. ask.Tests.Where(t => t.Field != field), of.OfNames(field!, names, outside).Test!],
                },
                layout,
                before.Scope.Filters
            );
    }

    /// <summary>Of the one that the field names in what was shown, or in what was asked for.</summary>
    /// <exception cref="CannotAnswerException">When several were shown, or none.</exception>
    private RecordAsk OfThat(string role, Turn turn, RecordFilling of, RecordAsk ask)
    {
        var field = of.Field(role);
        if (ask.Tests.Any(t => t is { Kind: RecordTestKind.Is, Not: false } && t.Field == field))
            return ask;
        var column = turn.Records?.Columns.ToList().FindIndex(c => c.Id == field) ?? -1;
        var names = column < 0 ? [] : turn.Records!.Rows.Select(r => r.Values[column]).OfType<string>().Distinct().ToList();
        if (names is not [var only] || of.OfNames(field, names, false).Test is not { } test)
            throw new CannotAnswerException("The last answer does not show which one that is. Name it.");
        _assumed.Add($"{only}, of what was shown");
        return ask with { Tests = ask.Tests.Add(test) };
    }

    private IEnumerable<string> KeptOfRecords(Table table, Question before, Question now)
    {
        var (ask, was) = (((Kind.Records)now.Kind).Ask, ((Kind.Records)before.Kind).Ask);
        yield return table.Name;
        foreach (var test in ask.Tests.Where(was.Tests.Contains))
            yield return RecordWords.TestName(table, test);
        foreach (var filter in now.Scope.Filters.Where(f => before.Scope.Filters.Contains(f)))
            yield return $"{(filter.Exclude ? "without " : "")}{string.Join(" and ", filter.Members.Select(c => MemberName(filter.Dimension, c)))}";
        if (!ask.By.IsEmpty && ask.By.SequenceEqual(was.By))
            yield return RecordWords.ByNames(book, ask);
    }
}
