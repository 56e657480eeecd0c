using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Variance;

namespace Bearing.Core.FirstReading;

/// <summary>"That shop", "those accounts", "their", "the largest one": rows of the last answer.</summary>
internal sealed partial class Resolver
{
    private const string OtherRow = "other";
    private const string ThatRow = "it";

    /// <summary>What one row was pointed at as: its split has no use any more.</summary>
    private Breakdown? _pointedAt;

    /// <summary>Members and periods of the rows that are pointed at, as if they had been named.</summary>
    /// <exception cref="CannotAnswerException">When nothing was shown that the words can speak of.</exception>
    private void TakePointed(Draft draft)
    {
        // "The first two": the rows as they stand.
        if (
            draft.Rank is { AsShown: true, Number: { } most }
            && previous?.Question is { Records: null, Ranking: null, Breakdowns: [var outer, ..] }
        )
        {
            TakeRows(
                draft,
                new PointedItem(0, 0, outer, true),
                [.. previous.Grid.Parts().Where(r => r.Kind != RowKind.Other).Take(most)]
            );
            (draft.Rank, draft.Edits) = (null, true);
        }
        if ((draft.Pointed ?? Pronoun(draft)) is not { } pointed)
            return;
        if (previous is null)
        {
            if (!pointed.Plural)
                throw new CannotAnswerException(
                    $"“That {NameOf(pointed.Of)}” speaks of an answer before, and there is none. Name the one that is meant."
                );
            draft.Breakdowns.Add(pointed.Of);
            draft.WhichRows |= draft.Direction is not null;
            return;
        }
        draft.Edits = true;
        var question = previous.Question;
        var rows = question.Records is null ? previous.Grid.Parts().Where(r => r.Kind != RowKind.Other).ToList() : [];
        var shown = question.Records is { } ask
            ? ask.By is [var by, ..] && by.Field == pointed.Of.Dimension
            : question.Breakdowns is [var first, ..] && IsSame(first, pointed.Of);
        if (pointed.Plural)
        {
            if (!IsLimited(question) || !shown)
                return;
            if (draft.Breakdowns.Count > 0 && !draft.Breakdowns.Exists(b => IsSame(b, pointed.Of)))
                draft.Breakdowns.Add(question.Records is null ? question.Breakdowns[0] : pointed.Of);
            TakeRows(draft, pointed, rows);
            return;
        }
        if (!shown)
        {
            var scoped = pointed.Of.Grain is { } grain
                ? question.Spans is [var only] && grain.Cut(only).Take(2).Count() == 1
                : question.Filters.Any(f => !f.Exclude && f.Dimension == pointed.Of.Dimension && f.Members.Length == 1)
                    || pointed.Of.Dimension == book.Accounts.Code;
            if (!scoped)
                throw new CannotAnswerException(
                    $"The last answer is not of one {NameOf(pointed.Of)}. Name the one that is meant.",
                    $"by {NameOf(pointed.Of)}"
                );
            return;
        }
        if (rows.Count != 1 && question.Ranking is null)
            throw new CannotAnswerException(
                $"The last answer shows more than one {NameOf(pointed.Of)}. Name the one that is meant, or say “the largest one” or “the first one”.",
                rows.Take(4).Select(r => r.Label).ToArray()
            );
        if (question.Records is null)
            _pointedAt = question.Breakdowns[0];
        TakeRows(draft, pointed, [.. rows.Take(1)]);
    }

    private void TakeRows(Draft draft, PointedItem pointed, List<Row> rows)
    {
        if (pointed.Of.Grain is not null)
            draft.Periods.AddRange(rows.Select(r => new PeriodItem(pointed.Start, pointed.End, r.Slice.Span, true)));
        else if (pointed.Of.Dimension == book.Accounts.Code && !pointed.Plural)
            draft.Figures.AddRange(draft.Figures.Count == 0 ? rows.Select(r => r.Slice.Figure) : []);
        else if (Codes() is { Length: > 0 } codes)
            draft.Filters.Add(new Filter(pointed.Of.Dimension!, codes));
        _assumed.Add($"{string.Join(", ", Names())} of the last answer");

        ImmutableArray<string> Codes() =>
            previous!.Records is { } list && book.TryDimension(pointed.Of.Dimension!, out var kept)
                ? [.. Named(list).Select(n => book.MembersOf(kept.Id).FirstOrDefault(m => m.Name == n)?.Code).OfType<string>()]
            : pointed.Of.Dimension == book.Accounts.Code
                ? [.. rows.Select(r => r.Slice.Figure).Where(f => f.Kind == FigureKind.Account).Select(f => f.Code).Distinct()]
            :
            [
                .. rows.SelectMany(r =>
                        r.Slice.Filters.Where(f => !f.Exclude && f.Dimension == pointed.Of.Dimension && f.Members.Length == 1)
                    )
                    .Select(f => f.Members[0])
                    .Distinct(),
            ];

        IEnumerable<string> Names() => previous!.Records is { } list ? Named(list) : rows.Select(r => r.Label);

        IEnumerable<string> Named(RecordTable list) =>
            list.Rows.Take(pointed.Plural ? int.MaxValue : 1).Select(r => r.Values.FirstOrDefault()).OfType<string>();
    }

    /// <summary>"Their costs", after the three shops with the most sales: of these three. Null where the words name rows of their
    /// own, or where all rows were shown.</summary>
    private PointedItem? Pronoun(Draft draft)
    {
        if (
            draft.Pronoun is not { } said
            || previous?.Question is not { Records: null, Breakdowns: [var first, ..] } question
            || !IsLimited(question)
        )
            return null;
        // "What was the result then", after the best month.
        if (said == Composer.ThenWord)
            return first.Grain is not null && draft.Periods.Count == 0 && draft.Breakdowns.Count == 0
                ? new PointedItem(0, 0, first, false)
                : null;
        if (said == Composer.ItsWord && question.Ranking is null)
            return null;
        if (
            draft.Breakdowns.Exists(b => IsSame(b, first))
            || draft.Filters.Exists(f => f.Dimension == first.Dimension)
            || draft.Which
            || draft.Row is not null
            || draft.Rank is not null
            || (first.Grain is not null && draft.Periods.Count > 0)
        )
            return null;
        return new PointedItem(0, 0, first, said == Composer.TheirWord);
    }

    private static bool IsLimited(FormOneQuestion question) =>
        question.Ranking is { Count: < Questions.Ranking.All } || !question.Conditions.IsEmpty;

    private static bool IsSame(Breakdown one, Breakdown other) =>
        one.Grain == other.Grain
        && one.Dimension == other.Dimension
        && (one.Level == other.Level || one.Level is null || other.Level is null);

    private string NameOf(Breakdown of) =>
        (
            of.Grain?.ToString()
            ?? of.Level
            ?? (book.TryDimension(of.Dimension!, out var dimension) ? dimension.Levels[^1] : of.Dimension!)
        ).ToLowerInvariant();

    /// <summary>"Which of our vets": a figure of several accounts is split into them; one account or member is no list of what it
    /// is made of.</summary>
    private void OneByOne(Draft draft)
    {
        if (draft.WhichOf is not { } of || draft.Breakdowns.Count > 0)
            return;
        // "Which costs": those that there are.
        if (
            of is { Kind: MentionKind.Figure, Partial: false }
            && draft.Intent != Intent.Entries
            && !draft.OfRecords
            && draft.Figures is [var one]
            && book.Figure(one) is SumFigure sum
            && (sum.Accounts.Length > 1 || book.HasChildren(book.Member(sum.Accounts[0])))
        )
        {
            draft.Breakdowns.Add(Breakdown.By(book.Accounts.Code, book.Accounts.Levels[^1]));
            return;
        }
        var dimension = of.Kind == MentionKind.Member ? of.Dimension! : book.Accounts.Code;
        if (
            !book.TryDimension(dimension, out var kept)
            || !book.TryMember(kept.Id, of.Kind == MentionKind.Member ? of.Value : of.Value[2..], out var member)
            || (book.HasChildren(member) && of is not { Kind: MentionKind.Member, Partial: true })
        )
            return;
        throw new CannotAnswerException(
            $"{member.Name} is kept as one {kept.Name.ToLowerInvariant()}; the book has no list of what it is made of, one by one.",
            $"{member.Name} by {book.Entities.Name.ToLowerInvariant()}"
        );
    }

    /// <summary>"And the other one?": of two the one that was not asked for; of several it is asked which.</summary>
    private FormOneQuestion Other(FormOneQuestion question, List<Row> rows)
    {
        var others = rows.ConvertAll(r =>
            question with
            {
                Figure = r.Slice.Figure,
                Filters = r.Slice.Filters,
                Spans = [r.Slice.Span],
                Breakdowns = [],
                Ranking = null,
                Conditions = [],
            }
        );
        if (
            others.Count == 0
            && question.Filters.Where(f => !f.Exclude && f.Members.Length == 1).ToList() is [var only]
            && book.TryDimension(only.Dimension, out var dimension)
            && book.TryMember(dimension.Id, only.Members[0], out var member)
        )
            others =
            [
                .. book.MembersOf(dimension.Id)
                    .Where(m => m.ParentId == member.ParentId && m.Id != member.Id)
                    .Select(m => question with { Filters = question.Filters.Replace(only, only with { Members = [m.Code] }) }),
            ];
        if (others.Count == 0)
            throw new CannotAnswerException(
                "The last answer speaks of one thing only. Name the other that is meant.",
                $"by {book.Entities.Levels[^1].ToLowerInvariant()}"
            );
        _otherwise.AddRange(others.Skip(1));
        return others[0];
    }

    /// <summary>"The largest one", "the second": a row of the last answer becomes the scope.</summary>
    private FormOneQuestion Point(FormOneQuestion question, string row, Previous before)
    {
        var rows = before.Grid.Parts().Where(r => r.Kind != RowKind.Other).ToList();
        if (row == OtherRow || (row == ThatRow && rows.Count > 1 && question.Ranking is null))
            return Other(question, rows);
        // What is looked into is shown with what it is made of.
        if (row == ThatRow)
        {
            var one = rows.Count == 0 ? question : Point(question, "1", before) with { Conditions = [] };
            return one with { Breakdowns = [UsualRows(one.Figure)] };
        }

        var picked = row switch
        {
            // A variance is large on either side; a loss is no large profit.
            "largest" => rows.MaxBy(r =>
                before.Grid.Value(r, ColumnKind.Variance).Number is { } variance ? Math.Abs(variance) : Size(r)
            ),
            "smallest" => rows.MinBy(r =>
                before.Grid.Value(r, ColumnKind.Variance).Number is { } variance ? Math.Abs(variance) : Size(r)
            ),
            "worst" => rows.MinBy(Size),
            "best" => rows.MaxBy(Size),
            _ => rows.ElementAtOrDefault(int.Parse(row, CultureInfo.InvariantCulture) - 1),
        };
        if (picked is null)
            throw new CannotAnswerException(
                rows.Count == 0
                    ? "The last answer has no rows to point at; split it first."
                    : $"The last answer has no such row; it has {rows.Count}.",
                $"by {book.Entities.Levels[^1].ToLowerInvariant()}"
            );
        _assumed.Add($"the row {picked.Label} of the last answer");
        return question with
        {
            Figure = picked.Slice.Figure,
            Filters = picked.Slice.Filters,
            Spans = [picked.Slice.Span],
            Breakdowns = [],
            Ranking = null,
        };

        decimal Size(Row r) =>
            before.Grid.Value(r, ColumnKind.Variance).Number ?? before.Grid.Value(r, ColumnKind.Subject).Number ?? 0m;
    }
}
