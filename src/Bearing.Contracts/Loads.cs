namespace Bearing.Contracts;

public sealed record UploadDto(string Id, string FileName, long Bytes, string Sha256);

/// <summary>What is to be loaded and how. Everything but the upload is a correction of what Bearing would propose.</summary>
/// <param name="Kind">ledger, plan, statistics, opening, accounts, entities, members, names, rates or records; null to recognise
/// it.</param>
/// <param name="Dimension">For members: which dimension.</param>
/// <param name="Scenario">Scenario code the facts go to; null for actual.</param>
/// <param name="ScenarioName">Its name, when it is new.</param>
/// <param name="ScenarioKind">budget or forecast, when it is new.</param>
/// <param name="Version">Version of the scenario; v1 when null.</param>
/// <param name="CutOff">For a forecast: the last period taken from actuals, for example 2026-P06.</param>
/// <param name="Sign">debit-positive, credit-positive or as-shown; null to recognise it.</param>
/// <param name="DateFormat">For example dd/MM/yyyy; null to recognise it.</param>
/// <param name="Columns">Heading → role, for columns that are to be read otherwise than recognised; an empty role leaves the
/// column out.</param>
/// <param name="Mode">add or replace.</param>
/// <param name="Mapping">Name of a saved mapping; null to recognise one by the headings.</param>
/// <param name="Given">A mapping that is not saved.</param>
/// <param name="Agreed">True when a person has seen the warnings and wants the load to land.</param>
/// <param name="Headings">Upload of the file of journal headings that belongs to these lines.</param>
/// <param name="Table">For records: code of the table.</param>
/// <param name="HeadingLine">Line (or row of the sheet) in which the headings stand; null to find it.</param>
/// <param name="Sheets">Sheets of a workbook to read; null for all that have the headings.</param>
/// <param name="LookUps">Role → text of the file → code in the book, beside those of the mapping.</param>
/// <param name="Separator">Between the fields of a text file: one character, or tab; null to recognise it.</param>
/// <param name="Encoding">Of a text file, for example windows-1252; null to recognise it.</param>
/// <param name="Decimals">point or comma; null to recognise it.</param>
/// <param name="Scale">Amounts are multiplied by it, 1000 for a file in thousands; null for what the mapping says.</param>
/// <param name="Currency">In which currency the amounts stand: a code, or local; null for what the mapping or the file
/// says.</param>
/// <param name="Rates">For a plan: the set of rates by which it is translated; null for what the mapping says.</param>
/// <param name="Add">Members to add first, for texts that the book does not know.</param>
public sealed record LoadRequest(
    string Upload,
    string? Kind = null,
    string? Dimension = null,
    string? Scenario = null,
    string? ScenarioName = null,
    string? ScenarioKind = null,
    string? Version = null,
    string? CutOff = null,
    string? Sign = null,
    string? DateFormat = null,
    IReadOnlyDictionary<string, string>? Columns = null,
    string Mode = "add",
    string? Mapping = null,
    MappingFile? Given = null,
    bool Agreed = false,
    string? Headings = null,
    string? Table = null,
    int? HeadingLine = null,
    IReadOnlyList<string>? Sheets = null,
    IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>>? LookUps = null,
    IReadOnlyList<AddedMember>? Add = null,
    string? Separator = null,
    string? Encoding = null,
    string? Decimals = null,
    decimal? Scale = null,
    string? Currency = null,
    string? Rates = null
);

/// <param name="Dimension">account, entity or the code of a further dimension.</param>
/// <param name="Parent">Code of the member above; null at the top.</param>
/// <param name="Type">For an account: its type; that of the parent when null.</param>
public sealed record AddedMember(string Dimension, string Code, string Name, string? Parent = null, string? Type = null);

/// <summary>What a load would do, before anything is changed.</summary>
/// <param name="Form">What the file turned out to be, in words.</param>
/// <param name="Mapping">How it is read, in the form in which it can be saved.</param>
/// <param name="Sheets">Sheets of a workbook; empty for other files.</param>
/// <param name="HeadingLine">Line or row in which the headings stand.</param>
/// <param name="Lands">Whether the load would come in as it is, warnings agreed.</param>
/// <param name="Problem">Why it would not, as a whole; null otherwise.</param>
public sealed record LoadPreview(
    string FileName,
    string Form,
    string Kind,
    string? Scenario,
    string? DateFormat,
    string Sign,
    IReadOnlyList<ColumnMappingDto> Columns,
    IReadOnlyList<string> Roles,
    IReadOnlyList<IReadOnlyList<string>> FirstRows,
    MappingFile Mapping,
    bool Lands,
    string? Problem,
    ReceiptDto? Receipt,
    IReadOnlyList<string> Sheets,
    int HeadingLine
);

public sealed record ColumnMappingDto(string Heading, string? Role, string Evidence);

/// <param name="Load">0 when nothing landed.</param>
/// <param name="RefusedRows">Number of rows.</param>
/// <param name="Refused">By cause.</param>
public sealed record ReceiptDto(
    int Load,
    int Edition,
    string File,
    string Kind,
    string? Scenario,
    long RowsRead,
    long RowsTaken,
    long RefusedRows,
    IReadOnlyList<RefusalDto> Refused,
    IReadOnlyList<PeriodTotalDto> Periods,
    IReadOnlyList<string> Entities,
    long Cells,
    IReadOnlyList<string> Supersedes,
    IReadOnlyList<string> NewMembers,
    IReadOnlyList<LeftOutDto> LeftOut,
    string? Totals,
    IReadOnlyList<StepDto> Steps,
    string? Filter,
    string? Joined,
    string? Coverage,
    IReadOnlyList<WarningDto> Warnings,
    IReadOnlyList<TypeTotalDto> Types,
    IReadOnlyList<string> Translated
);

/// <param name="Type">income, cost, asset, liability or equity.</param>
/// <param name="Net">Credit-positive.</param>
public sealed record TypeTotalDto(string Type, long Lines, string Net);

/// <summary>One step from the file to the book: rows before and after it.</summary>
public sealed record StepDto(string What, long Before, long After);

/// <summary>Something to look at before the load lands.</summary>
/// <param name="Check">Short name of the check.</param>
public sealed record WarningDto(string Check, string Where, string Because, string Remedy, long Count);

/// <summary>Rows without data.</summary>
/// <param name="What">titles, blank rows, totals, notes or repeated headings.</param>
public sealed record LeftOutDto(string What, long Count, IReadOnlyList<string> Places);

/// <summary>Rows refused for one cause.</summary>
/// <param name="Count">How many.</param>
/// <param name="Amount">Sum of the rows' amounts, where it matters.</param>
/// <param name="Unknown">Where the value is no member of the book: the role under which look-ups give it a meaning.</param>
/// <param name="Places">Lines of a text, or sheets and rows of a workbook: the first ten.</param>
public sealed record RefusalDto(
    long Count,
    IReadOnlyList<string> Places,
    string? Amount,
    string? Column,
    string? Value,
    string Because,
    string Remedy,
    string? Unknown = null
);

/// <param name="Currency">In which debit, credit and net were posted, where they were translated; null for the book's
/// own.</param>
public sealed record PeriodTotalDto(
    string Period,
    string Name,
    long Lines,
    string Debit,
    string Credit,
    string Net,
    string? Currency = null
);

/// <param name="State">queued, running, committing, done, failed or cancelled.</param>
/// <param name="Progress">0–1.</param>
/// <param name="Problem">What was wrong and what to do, when failed.</param>
/// <param name="Upload">What a fetch from a source brought, when done.</param>
/// <param name="Preview">What a load would do, when a preview is done.</param>
public sealed record JobDto(
    string Id,
    string State,
    string File,
    long Rows,
    double Progress,
    ReceiptDto? Receipt,
    ProblemDto? Problem,
    UploadDto? Upload = null,
    LoadPreview? Preview = null
);

/// <summary>What was wrong and what to do (RFC 9457).</summary>
/// <param name="Type">Address of the page that explains this kind of failure; ends with the code that tells kinds apart.</param>
/// <param name="Status">Of HTTP.</param>
/// <param name="Refused">Rows that could not be taken, with their reasons.</param>
/// <param name="Warnings">With which a person can agree.</param>
public sealed record ProblemDto(
    string Type,
    string Title,
    int Status,
    string Detail,
    string? Remedy,
    IReadOnlyList<RefusalDto>? Refused = null,
    IReadOnlyList<WarningDto>? Warnings = null
);

/// <param name="UndoneIn">Edition that took it back; null while it counts.</param>
/// <param name="PurgedIn">Edition from which on nothing of it is left but its receipt; null before.</param>
public sealed record LoadDto(
    int Load,
    int Edition,
    int? UndoneIn,
    DateTimeOffset At,
    string File,
    string Kind,
    string? Scenario,
    long Rows,
    ReceiptDto Receipt,
    int? PurgedIn = null
);

public sealed record UndoDto(int Load, int Edition);

/// <param name="Loads">What was taken back before, and is now removed for good; empty where there was nothing.</param>
/// <param name="Freed">Bytes of the data folder that were given back.</param>
public sealed record PurgeDto(IReadOnlyList<int> Loads, int Edition, long Freed);

/// <param name="Waits">What belongs to the start and is not done yet.</param>
public sealed record ReadyDto(bool Ready, IReadOnlyList<string> Waits);

/// <summary>One change of a book.</summary>
/// <param name="By">Who made it, as <c>person:name</c>, <c>token:name</c> or <c>service:name</c>; null for changes from before that
/// was kept.</param>
public sealed record EditionDto(int Edition, DateTimeOffset At, string What, string? By);

/// <param name="Status">ok, or degraded where books are set apart.</param>
/// <param name="Damaged">Ids of the books that are set apart.</param>
public sealed record HealthDto(string Status, string Version, int Books, IReadOnlyList<string> Damaged);
