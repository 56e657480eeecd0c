namespace Bearing.Contracts;

/// <summary>
/// The way to read one kind of file, in the form in which it is kept, exported, reviewed and imported. What is left out is
/// recognised from the file. docs/mapping.schema.json describes it.
/// </summary>
/// <param name="Form">Version of this form: bearing-mapping/1.</param>
/// <param name="Kind">ledger, plan, statistics, opening, accounts, entities, members, names, rates or records.</param>
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
/// <param name="Table">For records: code of the table; its name in <paramref name="TableName"/>.</param>
/// <param name="Quotation">For rates: foreign-per-home (foreign units for one of the book's currency) or
/// home-per-foreign.</param>
/// <param name="Keep">Only rows that keep all of these rules are taken; answers say so.</param>
/// <param name="Derived">Columns made from others.</param>
/// <param name="Headings">The file of journal headings that comes with a file of lines.</param>
/// <param name="Checks">Rules that rows should keep; a load warns where they do not.</param>
/// <param name="Separator">Between the fields of a text file: one character, or tab; found out from the file when left
/// out.</param>
/// <param name="Encoding">Of a text file, for example windows-1252; found out from the file when left out.</param>
/// <param name="Scenario">Where amounts go.</param>
/// <param name="Currency">In which currency the amounts stand: a code of ISO 4217, or local for that of each row's entity. Left
/// out, a column of currencies tells, and without one the entity.</param>
/// <param name="Rates">For a plan: the set of rates by which its amounts are translated; that of its kind when left out.</param>
/// <param name="Scenarios">By code: scenarios that columns name in their sets.</param>
public sealed record MappingFile(
    string Form,
    string Name,
    string Kind,
    IReadOnlyList<MappingColumn> Columns,
    string? Sign = null,
    string? Dates = null,
    string? Decimals = null,
    string? Dimension = null,
    decimal? Scale = null,
    bool? MonthsAcross = null,
    string? Periods = null,
    int? FiscalYear = null,
    IReadOnlyList<string>? Blanks = null,
    IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>>? LookUps = null,
    IReadOnlyList<MappingRule>? Rules = null,
    IReadOnlyList<string>? Sheets = null,
    bool? Balanced = null,
    MappingScenario? Scenario = null,
    IReadOnlyDictionary<string, MappingScenario>? Scenarios = null,
    string? Table = null,
    string? TableName = null,
    string? Quotation = null,
    IReadOnlyList<MappingKeep>? Keep = null,
    IReadOnlyList<MappingDerived>? Derived = null,
    MappingHeadings? Headings = null,
    IReadOnlyList<MappingCheck>? Checks = null,
    string? Separator = null,
    string? Encoding = null,
    string? Currency = null,
    string? Rates = null
);

/// <param name="Role">What the column is; null when it is not used.</param>
/// <param name="FillDown">A blank takes the value of the row above.</param>
/// <param name="Sets">For one of several amount columns: role → value, what the column says by itself.</param>
/// <param name="Name">For a field (role field:text, field:key, field:date, field:amount, field:quantity or field:rate): its name,
/// where it is not the heading.</param>
/// <param name="Dates">For a field of dates: their form, where it is not that of the mapping.</param>
public sealed record MappingColumn(
    string Heading,
    string? Role = null,
    bool? FillDown = null,
    IReadOnlyDictionary<string, string>? Sets = null,
    string? Name = null,
    string? Dates = null
);

/// <summary>Takes rows by what one column says.</summary>
/// <param name="Is">One of these texts.</param>
/// <param name="List">Name of a selection list of the book that holds the texts.</param>
/// <param name="Not">Take every other row instead.</param>
public sealed record MappingKeep(string Heading, IReadOnlyList<string>? Is = null, string? List = null, bool? Not = null);

/// <summary>A column made from others, by exactly one of text, sum or product.</summary>
/// <param name="Text">Text with headings in braces: {Company}-{Site}.</param>
/// <param name="Sum">Headings that are added; with a minus in front, taken away.</param>
/// <param name="Product">Headings that are multiplied.</param>
public sealed record MappingDerived(
    string Heading,
    string? Text = null,
    IReadOnlyList<string>? Sum = null,
    IReadOnlyList<string>? Product = null
);

/// <param name="LineKey">Heading of the journal's key in the file of lines.</param>
/// <param name="Key">Heading of the same key in the file of headings.</param>
/// <param name="Columns">Headings that every line takes over. Amounts are not among them: they would be multiplied.</param>
public sealed record MappingHeadings(string LineKey, string Key, IReadOnlyList<string> Columns);

/// <summary>Where the column says this, the number lies within the limits.</summary>
public sealed record MappingCheck(string Heading, string Is, string Number, decimal? AtLeast = null, decimal? AtMost = null);

/// <summary>Values under a name, chosen apart from any mapping: the companies of this closing, the months to take.</summary>
public sealed record SelectionList(string Name, IReadOnlyList<string> Values);

/// <summary>Where the role <paramref name="When"/> has the value <paramref name="Is"/>, the role <paramref name="Role"/> has
/// <paramref name="Value"/>.</summary>
public sealed record MappingRule(string When, string Is, string Role, string Value);

/// <param name="Name">When the scenario is new.</param>
/// <param name="Kind">budget or forecast, when it is new.</param>
/// <param name="CutOff">For a forecast: last period taken from actuals.</param>
public sealed record MappingScenario(
    string Code,
    string? Name = null,
    string? Kind = null,
    string? Version = null,
    string? CutOff = null
);
