namespace Bearing.Contracts;

public sealed record UploadDto(string Id, string FileName, long Bytes, string Sha256);

/// <summary>What is to be loaded and how. Everything but the upload is a correction of what Bearing would propose.</summary>
/// <param name="Kind">ledger, plan, statistics, accounts, entities or members; null to recognise it.</param>
/// <param name="Dimension">For members: which dimension.</param>
/// <param name="Scenario">Scenario code the facts go to; null for actual.</param>
/// <param name="ScenarioName">Its name, when it is new.</param>
/// <param name="ScenarioKind">budget or forecast, when it is new.</param>
/// <param name="Version">Version of the scenario; v1 when null.</param>
/// <param name="CutOff">For a forecast: the last period taken from actuals, for example 2026-P06.</param>
/// <param name="Sign">debit-positive, credit-positive or as-shown; null to recognise it.</param>
/// <param name="DateFormat">For example dd/MM/yyyy; null to recognise it.</param>
/// <param name="Columns">Heading → role, for columns that are to be read otherwise than recognised; an empty role leaves the column out.</param>
/// <param name="Mode">add or replace.</param>
/// <param name="Mapping">Name of a saved mapping; null to recognise one by the headings.</param>
/// <param name="Given">A mapping that is not saved.</param>
public sealed record LoadRequest(
    string Upload, string? Kind = null, string? Dimension = null, string? Scenario = null, string? ScenarioName = null, string? ScenarioKind = null, string? Version = null,
    string? CutOff = null, string? Sign = null, string? DateFormat = null, IReadOnlyDictionary<string, string>? Columns = null, string Mode = "add", string? Mapping = null, MappingFile? Given = null);

/// <summary>What a load would do, before anything is changed.</summary>
/// <param name="Form">What the file turned out to be, in words.</param>
/// <param name="Mapping">How it is read, in the form in which it can be saved.</param>
/// <param name="Lands">Whether the load would come in as it is.</param>
/// <param name="Problem">Why it would not, as a whole; null otherwise.</param>
public sealed record LoadPreview(
    string FileName, string Form, string Kind, string? Scenario, string? DateFormat, string Sign, IReadOnlyList<ColumnMappingDto> Columns, IReadOnlyList<string> Roles,
    IReadOnlyList<IReadOnlyList<string>> FirstRows, MappingFile Mapping, bool Lands, string? Problem, ReceiptDto? Receipt);

public sealed record ColumnMappingDto(string Heading, string? Role, string Evidence);

/// <param name="Load">0 when nothing landed.</param>
/// <param name="RefusedRows">Number of rows.</param>
/// <param name="Refused">By cause.</param>
public sealed record ReceiptDto(
    int Load, int Edition, string File, string Kind, string? Scenario, long RowsRead, long RowsTaken, long RefusedRows, IReadOnlyList<RefusalDto> Refused,
    IReadOnlyList<PeriodTotalDto> Periods, IReadOnlyList<string> Entities, long Cells, IReadOnlyList<string> Supersedes, IReadOnlyList<string> NewMembers, IReadOnlyList<LeftOutDto> LeftOut, string? Totals);

/// <summary>Rows without data.</summary>
/// <param name="What">titles, blank rows, totals, notes or repeated headings.</param>
public sealed record LeftOutDto(string What, long Count, IReadOnlyList<string> Places);

/// <summary>Rows refused for one cause.</summary>
/// <param name="Count">How many.</param>
/// <param name="Amount">Sum of the rows' amounts, where it matters.</param>
/// <param name="Places">Lines of a text, or sheets and rows of a workbook: the first ten.</param>
public sealed record RefusalDto(long Count, IReadOnlyList<string> Places, string? Amount, string? Column, string? Value, string Because, string Remedy);

public sealed record PeriodTotalDto(string Period, string Name, long Lines, string Debit, string Credit, string Net);

/// <param name="State">queued, running, committing, done, failed or cancelled.</param>
/// <param name="Progress">0–1.</param>
/// <param name="Problem">What was wrong and what to do, when failed.</param>
public sealed record JobDto(string Id, string State, string File, long Rows, double Progress, ReceiptDto? Receipt, ProblemDto? Problem);

public sealed record ProblemDto(string Title, string Detail, string? Remedy, IReadOnlyList<RefusalDto>? Refused = null);

/// <param name="UndoneIn">Edition that took it back; null while it counts.</param>
public sealed record LoadDto(int Load, int Edition, int? UndoneIn, DateTimeOffset At, string File, string Kind, string? Scenario, long Rows, ReceiptDto Receipt);

public sealed record UndoDto(int Load, int Edition);

public sealed record HealthDto(string Status, string Version, int Books);
