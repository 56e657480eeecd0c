using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

internal static partial class Rules
{
    /// <summary>What is said of columns is sooner said of amounts, or of one thing after another.</summary>
    private const int FieldsListed = 5;

    private static IEnumerable<Rule> OfRecords =>
        [
            Rule.Of<FieldItem, AndWord, FieldItem>(
                "two fields",
                (one, _, two, _) => one.Role == two.Role ? null : new FieldsItem([one.Role, two.Role]),
                "gross value and net value",
                "net value and net value",
                FieldsListed
            ),
            Rule.Of<FieldsItem, AndWord, FieldItem>(
                "a further field",
                (list, _, next, _) => list.Roles.Contains(next.Role) ? null : list with { Roles = [.. list.Roles, next.Role] },
                "gross value, net value and due date",
                "gross value and net value"
            ),
            Rule.Of<FieldsItem, AndWord, LevelItem>(
                "a further column, by the level that it holds",
                (list, _, l, _) =>
                    l.Of.Dimension is { } of && !list.Roles.Contains(of) ? list with { Roles = [.. list.Roles, of] } : null,
                "gross value, net value and yard",
                "gross value, net value and month"
            ),
            Rule.Of<ColumnsWord, FieldItem>(
                "this column",
                (_, f, _) => new FieldsItem([f.Role]),
                "with columns gross value",
                "gross value"
            ),
            Rule.Of<FieldSaysItem, OrWord, FieldSaysItem>(
                "either text of a field",
                (one, _, two, _) => Either(one, two),
                "berthing or crane",
                "berthing or berthing"
            ),
            Rule.Of<FieldSaysItem, AndWord, FieldSaysItem>(
                "several texts of a field",
                (one, _, two, _) => Either(one, two),
                "berthing and crane",
                "berthing and berthing"
            ),
            Rule.Of<NotWord, FieldSaysItem>("a field does not say", (_, f, _) => f with { Not = !f.Not }, "not crane", "crane"),
            Rule.Of<WithoutWord, FieldSaysItem>(
                "without those of which a field says",
                (_, f, _) => f with { Not = !f.Not },
                "without crane",
                "crane"
            ),
            Rule.Of<NotWord, StateItem>(
                "not so",
                (_, s, _) => s.Of is RecordState.Aged or RecordState.Twice || s.Not ? null : s with { Not = true },
                "not settled",
                "settled"
            ),
            Rule.Of<NotWord, StateItem, MembersItem>(
                "not settled by way of members",
                (_, s, m, _) => s is { Of: RecordState.Settled, Not: false } ? new LeftOutItem(m.Dimension, m.Codes) : null,
                "not settled Long Reach",
                "not overdue Long Reach"
            ),
            Rule.Of<MembersItem, OrWord, MembersItem>(
                "either member of one dimension",
                (one, _, two, _) =>
                    one.Dimension == two.Dimension && !one.Codes.Any(c => two.Codes.Contains(c))
                        ? one with
                        {
                            Codes = [.. one.Codes, .. two.Codes],
                        }
                        : null,
                "Birkhaven or Aldermouth",
                "Birkhaven or Birkhaven"
            ),
            Rule.Of<MembersItem, OrWord, ByWord, MembersItem>(
                "either of two ways",
                (one, _, by, two, _) =>
                    !by.Each && one.Dimension == two.Dimension && !one.Codes.Any(c => two.Codes.Contains(c))
                        ? one with
                        {
                            Codes = [.. one.Codes, .. two.Codes],
                        }
                        : null,
                "Birkhaven or by Aldermouth",
                "Birkhaven or by Birkhaven"
            ),
            Rule.Of<WithWord, FieldsItem>(
                "with these fields",
                (_, f, _) => f with { Beside = true },
                "with gross value and net value",
                "with Aldermouth"
            ),
            Rule.Of<ByWord, FieldItem>("gathered by a field", (_, f, _) => new ByFieldItem([f.Role]), "by service", "service"),
            Rule.Of<ByFieldItem, AndWord, FieldItem>(
                "gathered by a further field",
                (by, _, f, _) => by.Roles.Contains(f.Role) ? null : new ByFieldItem([.. by.Roles, f.Role]),
                "by service and due date",
                "by service and service"
            ),
            Rule.Of<AskItem, FieldItem>(
                "which of a field",
                (ask, f, _) => ask.What == Asked.Which ? new ByFieldItem([f.Role]) : null,
                "which service",
                "why service"
            ),
            Rule.Of<FieldItem, PeriodsItem>(
                "the day of a field in a period",
                (f, p, _) => new DuringItem(f.Role, p),
                "due date in July",
                "due date"
            ),
            Rule.Of<StateItem, PeriodsItem>(
                "what falls due, or was paid, in a period",
                (s, p, _) =>
                    s.Not ? null
                    : s.Of == RecordState.Due ? new DuringItem("due", p)
                    : s.Of == RecordState.Settled ? new DuringItem("paid-on", p)
                    : null,
                "due in July",
                "overdue in July"
            ),
            Rule.Of<GapItem, NumberItem, DaysWord>(
                "more or less than so many days",
                (gap, n, _, _) => gap.Sense.Side is Direction.Over or Direction.Under or Direction.Within ? Age(gap, n) : null,
                "more than 60 days",
                "60 days"
            ),
            Rule.Of<NumberItem, DaysWord, GapItem>(
                "so many days, or more of them",
                (n, _, gap, _) => gap.Sense.Side is Direction.Over or Direction.Under ? Age(gap, n) : null,
                "60 days over",
                "60 days"
            ),
            Rule.Of<BucketItem>("one group of ages", (b, _) => new BucketsItem([b.Upper]), "31-60", "31"),
            Rule.Of<StateItem, AndWord, BucketsItem>(
                "what is not due, and groups of ages",
                (s, _, all, _) => s is { Of: RecordState.NotDue, Not: false } ? all : null,
                "not due and 1-30",
                "overdue and 1-30"
            ),
            Rule.Of<BucketsItem, BucketItem>(
                "a further group of ages",
                (all, b, _) => b.Upper > all.Upper[^1] ? new BucketsItem([.. all.Upper, b.Upper]) : null,
                "1-30 31-60",
                "31-60 1-30"
            ),
            Rule.Of<BucketsItem, AndWord, BucketItem>(
                "one more group of ages",
                (all, _, b, _) => b.Upper > all.Upper[^1] ? new BucketsItem([.. all.Upper, b.Upper]) : null,
                "1-30 and 31-60",
                "31-60 and 1-30"
            ),
            Rule.Of<BucketsItem, AndWord, GapItem, NumberItem>(
                "the ages beyond the last group",
                (all, _, gap, n, _) => gap.Sense.Side == Direction.Over && n.Value == all.Upper[^1] ? all : null,
                "1-30, 31-60, over 60",
                "1-30, 31-60, over 90"
            ),
            Rule.Of<BucketsItem, AgeItem>(
                "the ages beyond the last group, in days",
                (all, age, _) => age.Over && age.Days == all.Upper[^1] ? all : null,
                "1-30 over 30 days",
                "1-30 over 90 days"
            ),
            Rule.Of<BucketsItem, DaysWord>("groups of ages, in days", (all, _, _) => all, "1-30 days", "30 days"),
            Rule.Of<LevelItem, TableItem>(
                "records of whoever is on the other side, and of no level of the company",
                (l, t, b) =>
                    l.Plural ? null
                    : l.Of.Dimension is { } d
                    && d != b.Entities.Code
                    && b.Tables.Any(x => t.Tables.Contains(x.Code) && x.Fields.Any(f => f.Dimension == d))
                        ? t
                    : new OtherItem(Language.MentionKind.Level, l.Of.Level ?? ""),
                "region bills",
                "regions"
            ),
            Rule.Of<OldestItem, NumberItem>("so many of the oldest", (o, n, _) => Some(o, n), "oldest 5", "5"),
            Rule.Of<NumberItem, OldestItem>("so many of the oldest, the number first", (n, o, _) => Some(o, n), "5 oldest", "5"),
            Rule.Of<OldestItem, TableItem>(
                "the oldest of the records",
                (o, t, _) => t.Plural ? null : o with { Count = 1 },
                "oldest bill",
                "oldest bills"
            ),
            Rule.Of<OrderByWord, FieldItem>(
                "in the order of a field",
                (_, f, _) => new OrderByFieldItem(f.Role),
                "sorted by due date",
                "due date"
            ),
            Rule.Of<HoldsWord, QuoteItem>(
                "whose text holds",
                (_, q, _) => new TextItem(q.Text),
                "mentioning \"quay\"",
                "\"quay\""
            ),
            Rule.Of<AboutWord, UnknownItem>(
                "that speak of something",
                (_, u, _) => new TextItem(Language.Words.Stem(u.Word)),
                "about gangways",
                "about Aldermouth"
            ),
            Rule.Of<AboutWord, QuoteItem>("about these words", (_, q, _) => new TextItem(q.Text), "about \"quay\"", "\"quay\""),
            Rule.Of<AnyWord, TableItem>("any records", (_, t, _) => t, "any supplier bills", "supplier bills"),
            Rule.Of<AnyWord, StateItem>("any that are so", (_, s, _) => s, "any overdue", "overdue"),
            Rule.Of<OldestItem, BucketWord>(
                "the oldest group of ages",
                (o, _, _) => o is { Newest: false, Count: null } ? new OldestBucketItem() : null,
                "oldest bucket",
                "newest bucket"
            ),
            Rule.Of<PointItem, FromWord>("where that is from", (p, _, _) => p, "that from", "from that"),
            Rule.Of<StatisticItem, LevelItem>(
                "how many of a level",
                (s, l, _) =>
                    s.Of == RowStatistic.Count && l is { Plural: true, Of.Dimension: not null }
                        ? new CountOfItem(new SplitItem([l.Of]))
                        : null,
                "how many yards",
                "average yards"
            ),
        ];

    private static FieldSaysItem? Either(FieldSaysItem one, FieldSaysItem two) =>
        (one.Table, one.Field, one.Not) == (two.Table, two.Field, two.Not) && !one.Texts.Any(t => two.Texts.Contains(t))
            ? one with
            {
                Texts = [.. one.Texts, .. two.Texts],
            }
            : null;

    private static AgeItem Age(GapItem gap, NumberItem days) => new(gap.Sense.Side == Direction.Over, days.Value);

    private static OldestItem? Some(OldestItem oldest, NumberItem count) =>
        oldest.Count is null ? oldest with { Count = count.Value } : null;
}
