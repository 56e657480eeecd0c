namespace Bearing.Contracts;

/// <summary>A question in words, and for a follow-up the talk that it goes on with.</summary>
/// <param name="Previous">A question before, for whoever keeps the talk without the service, or one that was asked back and is not
/// answered yet; null where there is none.</param>
/// <param name="Edition">Null for the book as it is now.</param>
/// <param name="Choices">The choices of the last answer, when Bearing asked back: the text may pick one by its number or by a
/// word.</param>
/// <param name="Trail">The talk so far, as the last answer named it; null to start afresh.</param>
public sealed record AskRequest(
    string Text,
    QuestionDto? Previous = null,
    int? Edition = null,
    IReadOnlyList<ChoiceDto>? Choices = null,
    string? Trail = null
);

/// <summary>One stage of a reading: what it made of the words, a line for each thing.</summary>
public sealed record ReadingStageDto(string Name, IReadOnlyList<string> Lines);

/// <summary>How a text was read, stage by stage, without an answer.</summary>
public sealed record ReadingStagesDto(IReadOnlyList<ReadingStageDto> Stages);

/// <summary>A question in its typed form, by hand.</summary>
public sealed record AnswerRequest(QuestionDto Question, int? Edition = null);

/// <summary>A question put together from names, each of which is read by itself.</summary>
/// <param name="Kind">values, comparison, why or bridge.</param>
/// <param name="Figure">Account or measure, by name or code; left out for the book's result.</param>
/// <param name="By">What rows are split by, the outermost first: levels of dimensions, or month, quarter, half, year.</param>
/// <param name="Period">Such as <c>September 2026</c>, <c>Q3</c>, <c>year to date</c> or <c>2026-P09</c>; left out for the
/// current one.</param>
/// <param name="Against">What is compared with, such as <c>budget</c> or <c>last year</c>; left out for the usual base.</param>
/// <param name="For">Members to keep, by name or code.</param>
/// <param name="Top">Only so many rows, those of the largest variance first.</param>
public sealed record ComposeRequest(
    string Kind,
    string? Figure = null,
    IReadOnlyList<string>? By = null,
    string? Period = null,
    IReadOnlyList<string>? Against = null,
    IReadOnlyList<string>? For = null,
    int? Top = null
);

/// <summary>One step of a trail: a row's slice opened by a dimension (or <c>month</c>, <c>quarter</c>).</summary>
/// <param name="By">Dimension code, optionally with a level (<c>entity:Region</c>), or a time grain. Null for the usual next
/// step.</param>
public sealed record DrillRequest(QuestionDto Question, string Slice, string? By = null, int? Edition = null);

/// <summary>The one shape of every answer.</summary>
/// <param name="Outcome"><c>answered</c>, <c>asks-back</c>, <c>cannot-answer</c>, <c>help</c> with questions to begin with, or
/// <c>goes-back</c> and <c>starts-afresh</c> for whoever keeps the trail.</param>
/// <param name="Edition">The state of the book that was asked.</param>
/// <param name="Provenance"><c>real</c>, <c>test</c> or <c>invented</c>.</param>
/// <param name="Question">What was understood, when it cannot be answered or asks back: a follow-up may keep it. Null when
/// nothing was.</param>
/// <param name="Choices">When asking back: what each choice would give.</param>
/// <param name="Because">Why it cannot be answered, or what is missing where it asks back; null otherwise.</param>
/// <param name="Nearest">Words or questions close by, when it cannot be answered.</param>
/// <param name="Asked">The words of this demand, where the text held several.</param>
/// <param name="Unknown">Words that kept it from being answered, for somebody to teach; null when there are none.</param>
/// <param name="Further">What came of the further demands of the text, in the order said; each stands for itself.</param>
/// <param name="Trail">The talk with this answer, kept by the service: sent along with the next question, that one follows up on
/// all of it. Null where nothing was answered.</param>
public sealed record AnswerSet(
    string Outcome,
    int Edition,
    string Provenance,
    ReadingDto? Reading,
    IReadOnlyList<ChoiceDto> Choices,
    string? Because,
    IReadOnlyList<string> Nearest,
    IReadOnlyList<AnswerDto> Answers,
    QuestionDto? Question = null,
    string? Asked = null,
    IReadOnlyList<AnswerSet>? Further = null,
    IReadOnlyList<string>? Unknown = null,
    string? Trail = null
);

public sealed record ReadingDto(
    string Sentence,
    IReadOnlyList<ReadingPartDto> Parts,
    IReadOnlyList<string> Assumed,
    IReadOnlyList<string> Unused
);

/// <param name="Part">figure, period, scenario, base, filter, breakdown, ranking or intent.</param>
/// <param name="Words">The words that caused it; empty when assumed or kept.</param>
public sealed record ReadingPartDto(string Part, string Words, string Means, string Value);

public sealed record ChoiceDto(string Means, QuestionDto Question);

/// <param name="Form"><c>table</c>, <c>entries</c> or <c>records</c>.</param>
/// <param name="Entries">Set when the form is <c>entries</c>.</param>
/// <param name="Next">Follow-ups that work as they stand.</param>
public sealed record AnswerDto(
    string Id,
    string Headline,
    string Form,
    QuestionDto Question,
    GridDto? Grid,
    LinePageDto? Entries,
    IReadOnlyList<ChartDto> Charts,
    IReadOnlyList<SentenceDto> Commentary,
    IReadOnlyList<DriverDto> Drivers,
    TieOutDto TieOut,
    IReadOnlyList<string> Notes,
    IReadOnlyList<string> Next,
    RecordTableDto? Records = null,
    CalculationDto? Calculation = null
);

/// <summary>How the figures come about.</summary>
/// <param name="Words">One step each, in plain words.</param>
/// <param name="Slices">By column: the address of the total's cells.</param>
/// <param name="Loads">Loads that brought the lines behind the subject's total.</param>
public sealed record CalculationDto(
    IReadOnlyList<string> Words,
    IReadOnlyList<ColumnSliceDto> Slices,
    IReadOnlyList<LoadUsedDto> Loads
);

public sealed record ColumnSliceDto(string Column, string Slice);

public sealed record LoadUsedDto(int Load, string File, long Lines);

/// <param name="Totals">What holds for all of them, also for those not shown.</param>
/// <param name="Count">How many there are, also those not shown.</param>
public sealed record RecordTableDto(
    IReadOnlyList<RecordColumnDto> Columns,
    IReadOnlyList<RecordRowDto> Rows,
    IReadOnlyList<RecordTotalDto> Totals,
    long Count
);

/// <param name="Type">text, key, date, amount, quantity, rate or member.</param>
public sealed record RecordColumnDto(string Id, string Title, string Type);

/// <param name="Values">In the order of the columns.</param>
/// <param name="Load">Load and row that brought it; 0 where a row gathers several.</param>
public sealed record RecordRowDto(IReadOnlyList<string?> Values, int Load, int Row);

public sealed record RecordTotalDto(string Title, string Value);

/// <param name="Unit">Currency code or unit of the figure.</param>
/// <param name="Decimals">Digits behind the point that are worth showing.</param>
public sealed record GridDto(IReadOnlyList<ColumnDto> Columns, IReadOnlyList<RowDto> Rows, string Unit, int Decimals);

/// <param name="Kind">subject, base, variance, percent, mark, share, projected or beside.</param>
/// <param name="Scenario">Whose figures; null for computed columns.</param>
/// <param name="Periods">The periods that the column speaks of.</param>
/// <param name="Figure">Of a further figure beside the first: <c>a:</c> or <c>m:</c> and its code; null for the question's
/// own.</param>
/// <param name="Unit">Of a further figure: its own unit.</param>
/// <param name="Decimals">Of a further figure: digits worth showing.</param>
public sealed record ColumnDto(
    string Id,
    string Kind,
    string Title,
    string? Scenario,
    string Periods,
    string PeriodsName,
    string? Figure = null,
    string? Unit = null,
    int? Decimals = null
);

/// <param name="Kind">member, subtotal, total, calculated or other.</param>
/// <param name="Values">By column id: amounts as plain decimal text, marks as F or U; null when absent.</param>
/// <param name="States">By column id, why a value is absent: missing, not-kept or n/m.</param>
/// <param name="Slice">Address of the row's cells.</param>
/// <param name="CanOpen">Whether a level lies below.</param>
public sealed record RowDto(
    string Id,
    int Level,
    string Kind,
    string Label,
    IReadOnlyDictionary<string, MemberDto> Members,
    IReadOnlyDictionary<string, string?> Values,
    IReadOnlyDictionary<string, string> States,
    string Slice,
    bool CanOpen
);

/// <param name="Id">Same as the code, kept apart so that codes may change.</param>
public sealed record MemberDto(string Id, string Code, string Name);

/// <param name="Kind">bridge, months or ranked.</param>
public sealed record ChartDto(
    string Kind,
    string Title,
    string SubjectTitle,
    string? BaseTitle,
    IReadOnlyList<ChartPointDto> Points
);

/// <param name="Step">For bridges: start, step, other or end.</param>
public sealed record ChartPointDto(
    string Label,
    string? Subject,
    string? Base,
    string? Variance,
    string Mark,
    string? Slice,
    string? Step
);

/// <param name="Role">headline, driver, timing, offset, rest, threshold or entry.</param>
public sealed record SentenceDto(string Role, string Text, IReadOnlyList<SegmentDto> Segments);

/// <param name="Exact">The figure before rounding; null for plain text.</param>
/// <param name="Column">Which column of a grid would show it.</param>
/// <param name="Slice">The cells that it came from.</param>
public sealed record SegmentDto(string Text, string? Exact, string? Column, string? Slice);

/// <param name="Variance">Profit sign.</param>
/// <param name="IsOffset">True when it moved against the total.</param>
public sealed record DriverDto(
    string Dimension,
    string Level,
    string Code,
    string Name,
    string Subject,
    string Base,
    string Variance,
    bool IsOffset,
    string Slice,
    IReadOnlyList<DriverDto> Below
);

/// <param name="State"><c>ties</c>, <c>differs</c> or <c>not-a-sum</c>.</param>
/// <param name="Text">In words.</param>
public sealed record TieOutDto(string State, string Shown, string Lines, long Count, string Text);

/// <param name="Next">Cursor of the next page; null on the last.</param>
/// <param name="Fields">Further fields that the ledger's lines have.</param>
public sealed record LinePageDto(
    IReadOnlyList<LineDto> Lines,
    long Count,
    string Sum,
    string? Next,
    IReadOnlyList<FieldDto> Fields
);

/// <param name="Amount">As read: a cost is positive.</param>
/// <param name="Fields">Code of the field → text; blank fields are not there.</param>
public sealed record LineDto(
    int Load,
    int Row,
    string File,
    string Document,
    string? Date,
    string Period,
    IReadOnlyDictionary<string, MemberDto> Members,
    string Amount,
    string? LocalAmount,
    string? Currency,
    string Text,
    IReadOnlyDictionary<string, string> Fields,
    LineRateDto? Rate = null
);

/// <summary>The rate at which Bearing translated a line's local amount.</summary>
/// <param name="Quotation">foreign-per-home or home-per-foreign.</param>
/// <param name="Set">actual, budget, forecast, or the code of one version's own.</param>
/// <param name="Load">Number of the load that brought it, and its file.</param>
public sealed record LineRateDto(string Value, string Quotation, string Set, int Load, string File);

/// <summary>A line as its file has it: the last step of a trail.</summary>
public sealed record SourceRowDto(
    int Load,
    string File,
    string Sheet,
    string Sha256,
    DateTimeOffset LoadedAt,
    int Row,
    IReadOnlyList<string> Headings,
    IReadOnlyList<string> Fields
);

/// <param name="Kind">figure, member, level, scenario, period or construction.</param>
/// <param name="Insert">Text that replaces the word being typed.</param>
/// <param name="Detail">What it is, for the second column of a list.</param>
public sealed record CompletionDto(string Kind, string Text, string Insert, string Detail);

/// <param name="From">Where the replaced word begins in the text.</param>
public sealed record CompletionsDto(int From, IReadOnlyList<CompletionDto> Items);
