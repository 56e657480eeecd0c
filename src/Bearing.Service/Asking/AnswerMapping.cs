using Bearing.Contracts;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Commentary;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Store;
using Bearing.Core.Variance;
using static Bearing.Service.Hosting.WireText;

namespace Bearing.Service.Asking;

/// <summary>Answers in the one shape that crosses the wire.</summary>
/// <param name="fileOf">Name of the file that a load brought.</param>
internal sealed class AnswerMapping(Book book, Func<int, string> fileOf)
{
    public AnswerSet Answered(Reading? reading, Answer answer) => Set("answered", reading, [], null, [], [ToDto(answer)]);

    public AnswerSet Help(string text, IEnumerable<string> questions) => Set("help", null, [], text, [.. questions], []);

    /// <summary>A step of whoever keeps the trail; the service keeps none.</summary>
    public AnswerSet Walk(ReadingOutcome outcome) => Set(Name(outcome), null, [], null, [], []);

    public AnswerSet AsksBack(Reading? reading, IReadOnlyList<ReadingChoice> choices, string? because) =>
        Set(
            "asks-back",
            reading,
            [.. choices.Select(c => new ChoiceDto(c.Means, QuestionMapping.ToDto(c.Question.ToKinds())))],
            because,
            [],
            []
        ) with
        {
            Question = QuestionMapping.ToDto(choices[0].Question.ToKinds()),
        };

    /// <summary>The outcome of what has no answer.</summary>
    public const string NoAnswer = "cannot-answer";

    public AnswerSet CannotAnswer(Reading? reading, string because, IEnumerable<string> nearest, Question? question = null) =>
        Set(NoAnswer, reading, [], because, [.. nearest], []) with
        {
            Question = question is null ? null : QuestionMapping.ToDto(question),
        };

    /// <param name="asJournal">Debits positive on every account, so that the lines of a document add up to nothing.</param>
    public LinePageDto ToDto(LinePage page, int shownSign, bool asJournal = false) =>
        new(
            [
                .. page.Lines.Select(l => new LineDto(
                    l.Load,
                    l.Row,
                    fileOf(l.Load),
                    l.Document,
                    l.Date?.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture),
                    Period.FromOrdinal(l.Period).ToString(),
                    book.Definition.Dimensions.Select((d, i) => (d.Code, Member: Member(l.Members[i])))
                        .ToDictionary(m => m.Code, m => m.Member),
                    Amount(l.Amount * (asJournal ? -1 : SignOf(l, shownSign))),
                    l.LocalAmount is { } local ? Amount(local * (asJournal ? -1 : SignOf(l, shownSign))) : null,
                    l.Currency,
                    l.Text,
                    l.Fields,
                    l.Rate is { } rate
                        ? new LineRateDto(
                            rate.Value.ToString("0.0#######", System.Globalization.CultureInfo.InvariantCulture),
                            Name(rate.Quotation),
                            rate.Set,
                            rate.Load,
                            fileOf(rate.Load)
                        )
                        : null
                )),
            ],
            page.Count,
            Amount(page.Sum * shownSign),
            page.Next,
            [
                .. book.Table(Table.Ledger)
                    ?.Fields.Select(f => new FieldDto(f.Code, f.Name, f.Type.ToString().ToLowerInvariant(), f.Dimension))
                    ?? [],
            ]
        );

    private AnswerSet Set(
        string outcome,
        Reading? reading,
        IReadOnlyList<ChoiceDto> choices,
        string? because,
        IReadOnlyList<string> nearest,
        IReadOnlyList<AnswerDto> answers
    ) =>
        new(
            outcome,
            book.Edition,
            Name(book.Definition.Provenance),
            reading is null ? null : ToDto(reading),
            choices,
            because,
            nearest,
            answers
        );

    private static ReadingDto ToDto(Reading reading) =>
        new(
            reading.Sentence,
            [.. reading.Parts.Select(p => new ReadingPartDto(p.Part, p.Words, p.Means, p.Value))],
            reading.Assumed,
            reading.Unused
        );

    private AnswerDto ToDto(Answer answer)
    {
        var sign = book.Figure(answer.Question.Scope.Figure) is SumFigure sum ? sum.ShownSign : 1;
        return new AnswerDto(
            answer.Id,
            answer.Headline,
            answer.Records is not null ? "records"
                : answer.Table is null ? "entries"
                : "table",
            QuestionMapping.ToDto(answer.Question),
            answer.Table is { } table ? ToDto(table.Grid) : null,
            answer.Entries is { } entries
                ? ToDto(entries, sign, answer.Question.Kind is Kind.Entries { Document: not null })
                : null,
            [.. answer.Charts.Select(c => ToDto(c, answer.Question))],
            [.. answer.Commentary.Select(ToDto)],
            [
                .. (answer.Drivers?.Drivers ?? []).Select(d => ToDto(d, false)),
                .. (answer.Drivers?.Offsets ?? []).Select(d => ToDto(d, true)),
            ],
            ToDto(answer.TieOut),
            answer.Notes,
            answer.Next,
            answer.Records is { } records ? ToDto(records) : null,
            answer.Calculation is { } how ? ToDto(how, answer.TieOut) : null
        );
    }

    private CalculationDto ToDto(Calculation how, TieOut tie) =>
        new(
            how.Words,
            [.. how.Slices.Select(s => new ColumnSliceDto(s.Column, s.Slice.ToString()))],
            [.. tie.Loads.Select(l => new LoadUsedDto(l.Load, fileOf(l.Load), l.Lines))]
        );

    private static RecordTableDto ToDto(RecordTable table) =>
        new(
            [.. table.Columns.Select(c => new RecordColumnDto(c.Id, c.Title, Name(c.Type)))],
            [.. table.Rows.Select(r => new RecordRowDto(r.Values, r.Load, r.Row))],
            [
                .. table.Totals.Select(t => new RecordTotalDto(
                    t.Title,
                    t.Value.ToString("0.00##", System.Globalization.CultureInfo.InvariantCulture)
                )),
            ],
            table.Count
        );

    private GridDto ToDto(Grid grid) =>
        new(
            [
                .. grid.Columns.Select(c => new ColumnDto(
                    c.Id,
                    Name(c.Kind),
                    c.Title,
                    c.Side?.ToString(),
                    c.Span.ToString(),
                    book.Calendar.NameOf(c.Span),
                    c.Figure is { } f ? Book.Coded(f.Ref) : null,
                    c.Figure?.Unit,
                    c.Figure?.Decimals
                )),
            ],
            [.. grid.Rows.Select(r => ToDto(grid, r))],
            grid.Unit,
            grid.Decimals
        );

    private static RowDto ToDto(Grid grid, Row row)
    {
        var values = new Dictionary<string, string?>();
        var states = new Dictionary<string, string>();
        for (var i = 0; i < grid.Columns.Length; i++)
        {
            var (id, value) = (grid.Columns[i].Id, row.Values[i]);
            values[id] = value.Mark ?? (value.Number is { } number ? Amount(number) : null);
            if (value.Absence is { } absence)
                states[id] = absence == Absence.NotMeaningful ? "n/m" : Name(absence);
        }
        var members = row
            .Members.GroupBy(m => m.Dimension)
            .ToDictionary(g => g.Key, g => new MemberDto(g.Last().Code, g.Last().Code, g.Last().Name));
        return new RowDto(
            row.Id,
            row.Level,
            Name(row.Kind),
            row.Label,
            members,
            values,
            states,
            row.Slice.ToString(),
            row.CanOpen
        );
    }

    private ChartDto ToDto(Chart chart, Question question) =>
        new(
            Name(chart.Kind),
            chart.Title,
            book.NameOf(question.Scope.Subject),
            question.Scope.Bases.Length > 0 ? book.NameOf(question.Scope.Bases[0], question.Scope.Spans[0]) : null,
            [
                .. chart.Points.Select(p => new ChartPointDto(
                    p.Label,
                    Text(p.Subject),
                    Text(p.Base),
                    Text(p.Variance),
                    p.Mark,
                    p.Slice?.ToString(),
                    p.Step is { } step ? Name(step) : null
                )),
            ]
        );

    private static SentenceDto ToDto(Sentence sentence) =>
        new(
            Name(sentence.Role),
            sentence.Text,
            [.. sentence.Segments.Select(s => new SegmentDto(s.Text, Text(s.Exact), s.Column, s.Slice?.ToString()))]
        );

    private static DriverDto ToDto(Driver d, bool isOffset) =>
        new(
            d.Member.Dimension,
            d.Level,
            d.Member.Code,
            d.Member.Name,
            Amount(d.Subject),
            Amount(d.Base),
            Amount(d.Variance),
            isOffset,
            d.Slice.ToString(),
            [.. d.Below.Select(b => ToDto(b, isOffset))]
        );

    private static TieOutDto ToDto(TieOut tie) =>
        new(
            Name(tie.State),
            Amount(tie.Shown),
            Amount(tie.Lines),
            tie.Count,
            tie.State switch
            {
                TieOutState.Ties => tie.Count == 1
                    ? "The total equals its one loaded line to the cent."
                    : FormattableString.Invariant($"The total equals the sum of its {tie.Count:N0} loaded lines to the cent."),
                TieOutState.Differs =>
                    $"The total differs from the sum of its {tie.Count} loaded lines by {Amount(tie.Shown - tie.Lines)}.",
                _ => "This figure is computed from others (a ratio, a balance or an average), so it is not a plain sum of lines.",
            }
        );

    private MemberDto Member(int id)
    {
        var (code, name) = book.Label(id);
        return new MemberDto(code, code, name);
    }

    /// <summary>A line shows its own account's sign when the list mixes accounts.</summary>
    private int SignOf(Line line, int shownSign)
    {
        var account = line.Members[book.Definition.Dimensions.IndexOf(book.Accounts)];
        return account >= Core.Books.Member.FirstOwnId ? book.Member(account).Account?.ShownSign ?? shownSign : shownSign;
    }

    private static string? Text(decimal? number) => number is { } value ? Amount(value) : null;
}
