using System.Collections.Immutable;
using Bearing.Core.Books;

namespace Bearing.Core.Loading;

/// <summary>What happens to figures already there for the same scenario, periods and entities.</summary>
public enum LoadMode
{
    /// <summary>New documents are added; what is there already is refused.</summary>
    Add,

    /// <summary>The file's scenario × periods × entities are superseded by it.</summary>
    Replace,
}

/// <summary>The scenario version into which facts go.</summary>
/// <param name="CutOff">Last period that a forecast took from actuals.</param>
public sealed record LoadTarget(string Scenario, string Name, ScenarioKind Kind, string Version, Period? CutOff)
{
    /// <summary>The set of rates by which its amounts are translated; null for the usual one.</summary>
    public string? RateSet { get; init; }

    public RateBasis Basis => new(Kind, Scenario, CutOff, RateSet);
}

/// <summary>What a load is to do.</summary>
/// <param name="Sheets">The file's own, in its order.</param>
/// <param name="Target">Null for reference data.</param>
public sealed record LoadCommand(
    string Job,
    string FileName,
    string Sha256,
    IReadOnlyList<SourceSheet> Sheets,
    FileMapping Mapping,
    LoadTarget? Target,
    LoadMode Mode
)
{
    /// <summary>By scenario code: where amount columns go that name a scenario of their own.</summary>
    public IReadOnlyDictionary<string, LoadTarget> Targets { get; init; } = ImmutableDictionary<string, LoadTarget>.Empty;

    /// <summary>The file of headings that belongs to a file of lines.</summary>
    public IReadOnlyList<SourceSheet>? Headings { get; init; }

    /// <summary>Whether a person has seen the warnings and agrees.</summary>
    public bool Agreed { get; init; }

    /// <summary>Where refused rows are written, to be corrected; null to drop them.</summary>
    public string? RefusedFile { get; init; }

    /// <summary>Members that are added before the rows are read, for texts that the book did not know.</summary>
    public IReadOnlyList<Member> Added { get; init; } = [];

    /// <summary>What was not said and is assumed, for a person to agree with.</summary>
    public IReadOnlyList<Finding> Assumed { get; init; } = [];
}

/// <summary>Control totals of one period, to hold against the source; for a file of statistics, of one statistic.</summary>
/// <param name="Period">Empty for statistics.</param>
/// <param name="Net">Credit-positive sum of money, or the sum of a statistic.</param>
public sealed record PeriodTotal(string Period, string Name, long Lines, decimal Debit, decimal Credit, decimal Net)
{
    /// <summary>In which these amounts were posted, where they were translated; null for the book's own.</summary>
    public string? Currency { get; init; }
}

/// <summary>Control total of the accounts of one type.</summary>
/// <param name="Net">In the book's currency, credit-positive.</param>
public sealed record TypeTotal(AccountType Type, long Lines, decimal Net);

/// <summary>What a load did, or would do.</summary>
/// <param name="Load">0 when nothing landed.</param>
/// <param name="RefusedRows">Number of all refused rows.</param>
/// <param name="Refused">The refused rows by cause.</param>
/// <param name="Supersedes">What this load takes the place of, in words.</param>
/// <param name="NewMembers">Members added for further dimensions, by dimension.</param>
public sealed record LoadReceipt(
    int Load,
    int Edition,
    string File,
    TableKind Kind,
    string? Scenario,
    long RowsRead,
    long RowsTaken,
    long RefusedRows,
    ImmutableArray<RefusedRows> Refused,
    ImmutableArray<PeriodTotal> Periods,
    ImmutableArray<string> Entities,
    long Cells,
    ImmutableArray<string> Supersedes,
    ImmutableArray<string> NewMembers
)
{
    /// <summary>Rows that hold no data, by what they are.</summary>
    public ImmutableArray<LeftOut> LeftOut { get; init; } = [];

    /// <summary>How the file's own totals compare with its rows, in words; null where it has none.</summary>
    public string? Totals { get; init; }

    /// <summary>How the text of the file was cut, where a person said it; its rows are shown again in the same way.</summary>
    public TextForm? Text { get; init; }

    /// <summary>Rows before and after each step.</summary>
    public ImmutableArray<LoadStep> Steps { get; init; } = [];

    /// <summary>From which currencies amounts were translated and at which rates, in words; for rates, what was translated
    /// anew.</summary>
    public ImmutableArray<string> Translated { get; init; } = [];

    /// <summary>What of the file was taken, in words; null for all of it.</summary>
    public string? Filter { get; init; }

    /// <summary>Money by type of account; empty for other tables.</summary>
    public ImmutableArray<TypeTotal> Types { get; init; } = [];

    /// <summary>What a plan covers, in words; null for other tables.</summary>
    public string? Coverage { get; init; }

    /// <summary>How lines and headings met, in words.</summary>
    public string? Joined { get; init; }

    /// <summary>What a person agreed with, or has to.</summary>
    public ImmutableArray<Finding> Warnings { get; init; } = [];
}

/// <summary>There are warnings with which nobody agreed yet, so nothing landed.</summary>
public sealed class WarningsException(LoadReceipt receipt)
    : Exception($"{receipt.Warnings.Length} warning{(receipt.Warnings.Length == 1 ? "" : "s")}; the load lands when you agree.")
{
    public LoadReceipt Receipt { get; } = receipt;
}

/// <summary>A load as the book keeps it.</summary>
/// <param name="UndoneIn">Edition that took it back, or null while it counts.</param>
/// <param name="PurgedIn">Edition from which on nothing of it is left but its receipt; null before.</param>
public sealed record LoadRecord(
    int Load,
    int Edition,
    int? UndoneIn,
    DateTime At,
    string File,
    string Sha256,
    TableKind Kind,
    LoadReceipt Receipt,
    int? PurgedIn = null
);

/// <summary>Rows were refused, so nothing landed.</summary>
public sealed class RowsRefusedException(LoadReceipt receipt)
    : Exception($"{receipt.RefusedRows:N0} of {receipt.RowsRead:N0} rows were refused, so nothing was loaded.")
{
    public LoadReceipt Receipt { get; } = receipt;
}
