namespace Bearing.Contracts;

/// <summary>Closes months, or opens them again by naming an earlier one.</summary>
/// <param name="Through">Last closed month, for example 2026-P09; null opens all.</param>
/// <param name="Entity">Code of one entity; null for all that have no month of their own.</param>
public sealed record CloseRequest(string? Through, string? Entity = null);

/// <param name="Through">Last closed month of the book; null while none is closed.</param>
/// <param name="Entities">Entities that closed later or earlier than the rest.</param>
public sealed record ClosedDto(string? Through, string? ThroughName, IReadOnlyDictionary<string, string> Entities, int Edition);

/// <summary>What changed between two editions.</summary>
/// <param name="Loads">Loads and other changes between them.</param>
/// <param name="Total">Number of changed figures; the largest of them come first.</param>
/// <param name="Next">Cursor of the page behind this one; null on the last.</param>
public sealed record ChangesDto(
    int From,
    int To,
    IReadOnlyList<string> Loads,
    long Total,
    IReadOnlyList<ChangeDto> Changes,
    string? Next
);

/// <param name="Before">Credit-positive; null where there was none.</param>
/// <param name="Late">Actuals that came into a month which was closed and loaded.</param>
public sealed record ChangeDto(
    string Scenario,
    string Period,
    string PeriodName,
    string Account,
    string AccountName,
    string Entity,
    string EntityName,
    string? Before,
    string? After,
    string Difference,
    bool Late
);

/// <param name="Upload">The trial balance; its columns are recognised like a ledger's, or read by a mapping.</param>
/// <param name="Through">Month at whose end it was drawn.</param>
public sealed record ReconcileRequest(
    string Upload,
    string Through,
    string? Mapping = null,
    string? Sign = null,
    IReadOnlyDictionary<string, string>? Columns = null
);

/// <param name="Agreeing">Number of accounts without difference.</param>
public sealed record ReconciliationDto(
    string File,
    string Through,
    string ThroughName,
    int Agreeing,
    string Difference,
    IReadOnlyList<ReconciledDto> Differing
);

/// <param name="Trial">Credit-positive; null where the trial balance lacks the account.</param>
public sealed record ReconciledDto(
    string Account,
    string AccountName,
    string? Entity,
    string? Trial,
    string Book,
    string Difference
);
