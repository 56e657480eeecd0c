namespace Bearing.Demo;

internal sealed record LedgerLine(
    string Document,
    int Line,
    DateOnly Date,
    Place Place,
    long Cents,
    long LocalCents,
    string Currency,
    string Text
);
