using System.Collections.Frozen;
using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>The ledger's lines: asked for by name, and how a list of them is laid out.</summary>
internal sealed partial class Filling
{
    /// <summary>Columns beside which others are shown.</summary>
    private static readonly ImmutableArray<string> UsualColumns =
    [
        RecordAsk.Date,
        RecordAsk.Document,
        RecordAsk.Text,
        RecordAsk.Amount,
    ];

    private static readonly FrozenDictionary<Type, int> OfEntries = new Dictionary<Type, int>
    {
        [typeof(EntriesItem)] = 1,
        [typeof(UnknownItem)] = 2,
        [typeof(FigureItem)] = 1,
        [typeof(MembersItem)] = 4,
        [typeof(LeftOutItem)] = 2,
        [typeof(WholeItem)] = 1,
        [typeof(PeriodsItem)] = 1,
        [typeof(SideItem)] = 1,
        [typeof(RankItem)] = 1,
        [typeof(OrderItem)] = 1,
        [typeof(OldestItem)] = 1,
        [typeof(OrderByFieldItem)] = 1,
        [typeof(LimitItem)] = 1,
        [typeof(TextItem)] = 1,
        [typeof(FieldItem)] = 2,
        [typeof(FieldsItem)] = 1,
        [typeof(AskItem)] = 1,
    }.ToFrozenDictionary();

    /// <returns>Null where no lines of one figure are asked for.</returns>
    /// <exception cref="CannotAnswerException">When lines have no such field.</exception>
    public Filled? FreshEntries()
    {
        if (
            !said.Fits(OfEntries)
            || said.One<EntriesItem>() is not { } entries
            || Figures() is not [var figure]
            || HoldsMembersApart()
            || HoldsNamesakes()
            || said.All<AskItem>().Any(a => a.What is not (Asked.Value or Asked.Who or Asked.When))
            || !CanBeLines()
        )
            return null;
        if (Spans(figure, null) is not [var span])
            return null;
        var subject = SidesNamed().Select(s => Resolve(s, span)).FirstOrDefault(Side.Actual);
        var question = new Question(
            new Scope(figure, [span], [.. Filters()], subject, [], null, null),
            Layout.Usual,
            new Kind.Entries(null, null, null)
        );
        return Done(AsList(WithOrder(Entries(question, entries))));
    }

    /// <summary>Lines have an amount, and are neither good nor bad.</summary>
    private bool CanBeLines() =>
        said.One<LimitItem>() is not { } limit
        || limit.Conditions.All(c => c is { On: ConditionOn.Amount, Direction: Direction.Over or Direction.Under });

    /// <summary>Whether something was said that only a list can hold.</summary>
    private bool ListsOnly() =>
        said.Has<FieldItem>()
        || said.Has<FieldsItem>()
        || said.Has<OldestItem>()
        || said.Has<OrderByFieldItem>()
        || said.Has<TextItem>();

    /// <summary>A list of entries with the columns, the order and the text that were named.</summary>
    private Question AsList(Question question)
    {
        if (question.Kind is not Kind.Entries entries)
            return question;
        var listing = Sorted(Columned(entries.Listing));
        if (said.One<OldestItem>() is { Count: { } count })
            question = question.Laid(l => l with { Ranking = new Ranking(count, RankBy.Name) });
        return question with { Kind = entries with { Listing = listing, Text = said.One<TextItem>()?.Text ?? entries.Text } };
    }

    private Listing? Columned(Listing? before)
    {
        var named = said.All<FieldsItem>().SelectMany(f => f.Roles).Select(ColumnOf).ToList();
        if (said.One<FieldsItem>() is { Beside: false })
            return (before ?? new Listing([])) with { Columns = [.. named.Distinct()] };
        named.AddRange(said.All<FieldItem>().Select(f => ColumnOf(f.Role)));
        if (named.Count == 0)
            return before;
        var usual = before is { Columns.IsEmpty: false } ? (IEnumerable<string>)before.Columns : UsualColumns;
        return (before ?? new Listing([])) with { Columns = [.. usual.Concat(named).Distinct()] };
    }

    private Listing? Sorted(Listing? listing)
    {
        (string Field, bool Descending)? by =
            said.One<OldestItem>() is { } oldest ? (RecordAsk.Date, oldest.Newest)
            : said.One<OrderItem>() is { } order ? (RecordAsk.Amount, order.End != End.Smallest)
            : said.One<OrderByFieldItem>() is { } field ? (ColumnOf(field.Role), ColumnOf(field.Role) == RecordAsk.Amount)
            : null;
        return by is not { } of
            ? listing
            : (listing ?? new Listing([])) with
            {
                OrderBy = of.Field is RecordAsk.Date or RecordAsk.Amount
                    ? of.Field
                    : throw new CannotAnswerException("Entries go by date or by amount, up or down.", "newest first"),
                Descending = of.Descending,
            };
    }

    private string ColumnOf(string role) =>
        role switch
        {
            Key or RecordAsk.Document => RecordAsk.Document,
            RecordAsk.Date or RecordAsk.Amount or RecordAsk.Text => role,
            _ when book.TryDimension(role, out var dimension) => dimension.Code,
            _ => RecordWords.FieldOf(book.Table(Table.Ledger)?.Fields ?? [], vocabulary, role)
                ?? throw new CannotAnswerException($"Entries have no “{role.Replace('-', ' ')}”."),
        };

    /// <summary>Of the lines that were shown those that are there twice: the journals that they belong to.</summary>
    private Question? Doubled(Question question)
    {
        var asked = said.Has<BookedTwiceItem>() || said.One<StateItem>() is { Of: RecordState.Twice, Not: false };
        if (!asked || question.Scope.Spans.Length != 1)
            return null;
        return question with
        {
            Layout = Layout.Usual,
            Scope = question.Scope with { Bases = [] },
            Kind = new Kind.Records(
                new RecordAsk(Table.Ledger, [new RecordTest(RecordTestKind.Twice)]) { OfFigure = true, Sum = RecordAsk.Amount },
                null
            ),
        };
    }
}
