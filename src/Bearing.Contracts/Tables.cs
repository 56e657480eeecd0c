namespace Bearing.Contracts;

/// <summary>A table of records, or the further fields of the ledger's lines (code ledger).</summary>
/// <param name="Rows">Records that count now; 0 for the ledger, whose lines are listed by slice.</param>
public sealed record TableDto(string Code, string Name, IReadOnlyList<FieldDto> Fields, long Rows);

/// <param name="Type">text, key, date, amount, quantity, rate or member.</param>
/// <param name="Dimension">For members: of which dimension.</param>
public sealed record FieldDto(string Code, string Name, string Type, string? Dimension);

/// <param name="Fields">Field code → text; blank fields are not there.</param>
public sealed record RecordDto(int Load, int Row, IReadOnlyDictionary<string, string> Fields);

/// <summary>Sum of a field of amounts or quantities over all pages.</summary>
/// <param name="Currency">As the records say it; empty where they leave it blank, null in a table that says none.</param>
public sealed record RecordSumDto(string Field, string? Currency, string Sum);

/// <param name="Sums">Over all pages, of amounts in each currency apart and of quantities.</param>
public sealed record RecordPageDto(
    TableDto Table,
    IReadOnlyList<RecordDto> Records,
    long Count,
    IReadOnlyList<RecordSumDto> Sums,
    string? Next
);

/// <param name="Kind">average or closing.</param>
/// <param name="Set">actual, budget, forecast, or the code of one version's own.</param>
/// <param name="Quotation">foreign-per-home or home-per-foreign.</param>
/// <param name="Load">Number of the load that brought it.</param>
public sealed record RateDto(
    string Period,
    string PeriodName,
    string Currency,
    string Kind,
    string Set,
    string Value,
    string Quotation,
    int Load
);
