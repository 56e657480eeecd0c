namespace Bearing.Contracts;

/// <summary>
/// The way to read one kind of file, in the form in which it is kept, exported, reviewed and imported. What is left out is
/// recognised from the file. docs/mapping.schema.json describes it.
/// </summary>
/// <param name="Form">Version of this form: bearing-mapping/1.</param>
/// <param name="Kind">ledger, plan, statistics, accounts, entities, members or names.</param>
/// <param name="Sign">debit-positive, credit-positive or as-shown.</param>
/// <param name="Dates">For example dd.MM.yyyy.</param>
/// <param name="Decimals">point or comma.</param>
/// <param name="Dimension">For members and names: of which dimension.</param>
/// <param name="Scale">Amounts are multiplied by it; 1000 for a file in thousands.</param>
/// <param name="MonthsAcross">Every further heading that names a month heads amounts of that month.</param>
/// <param name="Periods">fiscal when 2026/09 is fiscal year and period; calendar otherwise.</param>
/// <param name="FiscalYear">Of periods written without one (P09).</param>
/// <param name="Blanks">Texts that mean an empty cell.</param>
/// <param name="LookUps">Role → text of the file → code in the book.</param>
/// <param name="Rules">Values for roles that the file has no column for.</param>
/// <param name="Sheets">Sheets of a workbook to read; all that have the headings when left out.</param>
/// <param name="Balanced">Whether every document has to add up to zero; found out from the file when left out.</param>
/// <param name="Scenario">Where amounts go.</param>
/// <param name="Scenarios">By code: scenarios that columns name in their sets.</param>
public sealed record MappingFile(
    string Form, string Name, string Kind, IReadOnlyList<MappingColumn> Columns, string? Sign = null, string? Dates = null, string? Decimals = null, string? Dimension = null,
    decimal? Scale = null, bool? MonthsAcross = null, string? Periods = null, int? FiscalYear = null, IReadOnlyList<string>? Blanks = null,
    IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>>? LookUps = null, IReadOnlyList<MappingRule>? Rules = null, IReadOnlyList<string>? Sheets = null,
    bool? Balanced = null, MappingScenario? Scenario = null, IReadOnlyDictionary<string, MappingScenario>? Scenarios = null);

/// <param name="Role">What the column is; null when it is not used.</param>
/// <param name="FillDown">A blank takes the value of the row above.</param>
/// <param name="Sets">For one of several amount columns: role → value, what the column says by itself.</param>
public sealed record MappingColumn(string Heading, string? Role = null, bool? FillDown = null, IReadOnlyDictionary<string, string>? Sets = null);

/// <summary>Where the role <paramref name="When"/> has the value <paramref name="Is"/>, the role <paramref name="Role"/> has <paramref name="Value"/>.</summary>
public sealed record MappingRule(string When, string Is, string Role, string Value);

/// <param name="Name">When the scenario is new.</param>
/// <param name="Kind">budget or forecast, when it is new.</param>
/// <param name="CutOff">For a forecast: last period taken from actuals.</param>
public sealed record MappingScenario(string Code, string? Name = null, string? Kind = null, string? Version = null, string? CutOff = null);
