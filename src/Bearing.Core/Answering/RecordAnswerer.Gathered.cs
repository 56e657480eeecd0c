using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.Answering;

/// <summary>Records gathered by one field or by several, the outermost first, and aged.</summary>
internal sealed partial class RecordAnswerer
{
    /// <summary>Between the names of what a record is gathered to; no name holds it.</summary>
    private const char Inner = '\u001f';

    /// <summary>What is gathered, under the names that it is gathered by.</summary>
    private sealed record Gathered(string Key, decimal Sum, int Count, decimal Days, List<Item> Items)
    {
        public IEnumerable<string?> Names => Key.Split(Inner);
    }

    /// <exception cref="CannotAnswerException">When the table has no such field, or no such level stands above it.</exception>
    private void CheckGathering(Gathering by)
    {
        var field = Column(by.Field);
        if (by.Level is not { } level)
            return;
        if (field.Type == FieldType.Date)
        {
            if (GrainOf(by) is null)
                throw new CannotAnswerException(
                    $"Days are gathered by {string.Join(", ", Enum.GetNames<TimeGrain>()).ToLowerInvariant()}, not by “{level}”."
                );
        }
        else if (DimensionOf(by.Field) is { } dimension && !dimension.Levels.Contains(level))
            throw new CannotAnswerException(
                $"{dimension.Name} has no level “{level}”; it has {string.Join(", ", dimension.Levels)}."
            );
    }

    private static TimeGrain? GrainOf(Gathering by) => Enum.TryParse<TimeGrain>(by.Level, true, out var grain) ? grain : null;

    private bool IsOfDays(Gathering by) => by.Level is not null && Column(by.Field).Type == FieldType.Date;

    /// <summary>The names of all that a record is gathered by.</summary>
    private string Key(Item item) => string.Join(Inner, _ask.By.Select(by => Name(item, by)));

    /// <summary>What a record is gathered to: the member that it names, or the one above it on the level that was asked
    /// for.</summary>
    private string Name(Item item, Gathering by)
    {
        if (IsOfDays(by) && GrainOf(by) is { } grain)
            return item.Day(by.Field) is { } day ? book.Calendar.NameOf(grain.BucketOf(book.Calendar.PeriodOf(day))) : "";
        return
            DimensionOf(by.Field) is { } dimension
            && item[by.Field] is { } code
            && book.TryMember(dimension.Id, code, out var member)
            ? At(member.Id, dimension, by.Level)
            : Name(by.Field, item[by.Field]);
    }

    /// <summary>Name of a member, or of the one above it on that level.</summary>
    private string At(int member, Dimension dimension, string? level)
    {
        if (level is null || member < Member.FirstOwnId || dimension.Levels.IndexOf(level) is not (>= 0 and var depth))
            return book.Label(member).Name;
        var path = book.PathTo(member);
        return book.Member(path[Math.Min(depth, path.Length - 1)]).Name;
    }

    private RecordColumn GroupColumn(Gathering by) =>
        by.Level is { } level ? Column(by.Field) with { Title = level } : Column(by.Field);

    private Gathered Gather(string key, List<Item> items) =>
        new(key, items.Sum(i => i.Number(_ask.Sum)), items.Count, DaysTest is null ? 0m : AverageDays(items), items);

    /// <summary>The innermost rows in their order: within each outer one, the first first; of all against each other where pairs
    /// are ranked.</summary>
    private List<Gathered> InOrder(List<Item> items)
    {
        var all = items.GroupBy(Key).Select(g => Gather(g.Key, [.. g])).OrderBy(g => g.Key, StringComparer.Ordinal).ToList();
        return question.Layout.Ranking is { Pairs: true } pairs ? Picked(Ordered(all, _ask.By[0]), pairs) : Inside(all, 0);
    }

    private List<Gathered> Inside(List<Gathered> groups, int depth)
    {
        var outer = groups.GroupBy(g => g.Names.ElementAt(depth)).ToDictionary(g => g.Key ?? "", g => g.ToList());
        var ordered = Ordered([.. outer.Select(g => Gather(g.Key, [.. g.Value.SelectMany(i => i.Items)]))], _ask.By[depth]);
        if (depth == 0 && question.Layout.Ranking is { } ranking)
            ordered = Picked(ordered, ranking);
        return depth == _ask.By.Length - 1
            ? [.. ordered.SelectMany(g => outer[g.Key])]
            : [.. ordered.SelectMany(g => Inside(outer[g.Key], depth + 1))];
    }

    private static List<Gathered> Picked(List<Gathered> ordered, Ranking ranking) =>
        [.. ordered.Skip(ranking.Skip).Take(ranking.Count)];

    /// <summary>The largest first; months follow each other unless the largest are asked for, and so does what is aged by
    /// name.</summary>
    private List<Gathered> Ordered(List<Gathered> groups, Gathering by)
    {
        var (ranked, listing) = (
            question.Layout.Ranking is not null && (by == _ask.By[0] || question.Layout.Ranking.Pairs),
            _listing
        );
        if (!ranked && IsOfDays(by) && listing is null)
            return [.. groups.OrderBy(g => g.Items.Min(i => i.Day(by.Field) ?? DateOnly.MaxValue))];
        var byName = listing?.OrderBy == by.Field || (!ranked && _ask.Due is not null);
        List<Gathered> ordered = byName
            ? [.. groups.OrderBy(g => g.Key, StringComparer.OrdinalIgnoreCase)]
            :
            [
                .. groups
                    .OrderByDescending(g =>
                        _ask.CountOnly ? g.Count
                        : _ask.Tests.Any(t => t.Kind == RecordTestKind.BothDays) ? g.Days
                        : g.Sum
                    )
                    .ThenBy(g => g.Key, StringComparer.Ordinal),
            ];
        if (
            (ranked && question.Layout.Ranking!.Ascending)
            || (
                listing is { OrderBy: { } order }
                && listing.Descending != (order == _ask.Sum)
                && (order == _ask.Sum || order == by.Field)
            )
        )
            ordered.Reverse();
        return ordered;
    }

    private RecordTable GatheredTable(List<Item> items)
    {
        var groups = InOrder(items);
        var all = items.Select(Key).Distinct().Count();
        var (also, days, middle) = (_ask.Also, DaysTest is not null, MiddleName);
        decimal Also(List<Item> of) => of.Where(i => Passes(i, also!)).Sum(i => i.Number(_ask.Sum));
        var rows = groups
            .Take(Math.Max(Shown, question.Layout.Ranking?.Count ?? 0))
            .Select(g =>
                Row([
                    .. g.Names,
                    Text(g.Sum),
                    .. _ask.Beside.Select(b => Text(g.Items.Sum(i => i.Number(b)))),
                    .. also is null ? (string?[])[] : [Text(Also(g.Items))],
                    Text(g.Count),
                    .. days ? (string?[])[Text(g.Days)] : [],
                    .. middle is null ? (string?[])[] : [Text(Middle(g.Items))],
                ])
            );
        ImmutableArray<RecordColumn> columns =
        [
            .. _ask.By.Select(GroupColumn),
            AmountColumn() with
            {
                Title = InUnit(AmountColumn().Title),
            },
            .. _ask.Beside.Select(Column).Select(c => c with { Title = InUnit(c.Title) }),
            .. also is null ? (RecordColumn[])[] : [new("also", InUnit(also.Kind.ToString()), FieldType.Amount)],
            new("count", "Count", FieldType.Quantity),
            .. days ? (RecordColumn[])[new("days", DaysName, FieldType.Quantity)] : [],
            .. middle is null ? (RecordColumn[])[] : [new("middle", middle, FieldType.Amount)],
        ];
        var totals = ImmutableArray.CreateBuilder<(string, decimal)>();
        if (_ask.Statistic == RowStatistic.Count)
            totals.Add(($"Different {Words.Plural(GroupColumn(_ask.By[0]).Title.ToLowerInvariant())}", all));
        if (days && items.Count > 0)
            totals.Add((DaysName, AverageDays(items)));
        totals.AddRange(Totals(AmountColumn().Title, items, i => i.Number(_ask.Sum)));
        foreach (var beside in _ask.Beside)
            totals.AddRange(Totals(Column(beside).Title, items, i => i.Number(beside)));
        if (also is not null)
            totals.AddRange(Totals(also.Kind.ToString(), [.. items.Where(i => Passes(i, also))], i => i.Number(_ask.Sum)));
        totals.Add(("Count", items.Count));
        return new RecordTable(columns, [.. rows], totals.ToImmutable(), all);
    }

    private const string AllOfThem = "All";

    private RecordTable Ageing(List<Item> items)
    {
        ImmutableArray<string> names =
        [
            "not due",
            .. _ask.Buckets.Select((to, i) => $"{(i == 0 ? 1 : _ask.Buckets[i - 1] + 1)}-{to}"),
            $"over {_ask.Buckets[^1]}",
        ];
        int Bucket(Item item)
        {
            var days = item.Day(_ask.Due) is { } due ? _day.DayNumber - due.DayNumber : 0;
            return days <= 0 ? 0 : _ask.Buckets.TakeWhile(b => days > b).Count() + 1;
        }
        // Of what is gathered only buckets that hold something are told.
        IEnumerable<RecordTableRow> Rows(IEnumerable<string?> of, List<Item> aged) =>
            names
                .Select((name, i) => (name, Held: aged.FindAll(a => Bucket(a) == i)))
                .Where(b => _ask.By.IsEmpty || b.Held.Count > 0)
                .Select(b => Row([.. of, b.name, Text(b.Held.Sum(i => i.Number(_ask.Sum))), Text(b.Held.Count)]));
        var rows = _ask.By.IsEmpty
            ? Rows([], items)
            : InOrder(items)
                .SelectMany(g => Rows(g.Names, g.Items))
                .Concat(Rows(Enumerable.Repeat(AllOfThem, _ask.By.Length), items));
        return new RecordTable(
            [
                .. _ask.By.Select(GroupColumn),
                new("bucket", "Days overdue", FieldType.Text),
                Column(_ask.Sum!),
                new("count", "Count", FieldType.Quantity),
            ],
            [.. rows],
            [(Column(_ask.Sum!).Title, items.Sum(i => i.Number(_ask.Sum))), ("Count", items.Count)],
            items.Count
        );
    }

    /// <summary>What is taken over the amounts, where an average or a median was asked for and not of days.</summary>
    private string? MiddleName =>
        DaysTest is not null
            ? null
            : _ask.Statistic switch
            {
                RowStatistic.Average => "Average",
                RowStatistic.Median => "Median",
                _ => null,
            };

    /// <summary>Of those that say something there: a blank is no zero.</summary>
    private decimal Middle(IReadOnlyList<Item> items)
    {
        var said = items.Where(i => i[_ask.Sum] is not null).Select(i => i.Number(_ask.Sum)).ToArray();
        return said.Length == 0 ? 0m
            : _ask.Statistic == RowStatistic.Median ? Median(said)
            : decimal.Round(said.Sum() / said.Length, 4);
    }

    private static decimal Median(decimal[] values)
    {
        Array.Sort(values);
        return (values[(values.Length - 1) / 2] + values[values.Length / 2]) / 2;
    }
}
