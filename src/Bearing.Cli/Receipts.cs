using Bearing.Contracts;

namespace Bearing.Cli;

/// <summary>Previews and receipts of loads as they are printed.</summary>
internal static class Receipts
{
    public static void Print(LoadPreview preview)
    {
        Console.WriteLine(
            $"{preview.FileName}: recognised as {preview.Kind}{(preview.Scenario is null ? "" : $" for {preview.Scenario}")}{(preview.Mapping.Name.Length > 0 ? $" by the mapping {preview.Mapping.Name}" : "")}; {preview.Form}, signs {preview.Sign}{(preview.DateFormat is null ? "" : $", dates {preview.DateFormat}")}."
        );
        Tables.Print(
            ["Column", "Read as", "Because", "First rows"],
            preview.Columns.Select(
                (c, i) =>
                    new[]
                    {
                        c.Heading,
                        c.Role ?? "not used",
                        c.Evidence,
                        string.Join(" · ", preview.FirstRows.Take(3).Select(r => i < r.Count ? r[i] : "")),
                    }
            )
        );
        if (preview.Receipt is { } receipt)
            Print(receipt);
        Console.WriteLine(
            preview.Lands ? "It would land as it is. Nothing was changed." : $"It would not land: {preview.Problem}"
        );
    }

    public static void Print(ReceiptDto receipt)
    {
        Console.WriteLine(Summary(receipt));
        foreach (var note in Notes(receipt))
            Console.WriteLine($"  {note}");
        Totals(receipt);
        if (receipt.Types.Count > 0)
            Console.WriteLine(
                $"  by type of account (income +): {string.Join(", ", receipt.Types.Select(t => $"{t.Type} {Figures.Cents(t.Net).Trim()}"))}"
            );
        if (receipt.Load > 0)
            Console.WriteLine($"Ready to ask. Take it back with “bearing undo {receipt.Load}”.");
    }

    private static string Summary(ReceiptDto receipt)
    {
        var landed = receipt.Load > 0 ? $"Load {receipt.Load}: " : "";
        var scenario = receipt.Scenario is null ? "" : $" of {receipt.Scenario}";
        var cells = receipt.Cells > 0 ? $", {receipt.Cells:N0} cells" : "";
        return $"{landed}{receipt.File}, {receipt.Kind}{scenario}: {receipt.RowsRead:N0} rows read, {receipt.RowsTaken:N0} taken, {receipt.RefusedRows:N0} refused{cells}.";
    }

    /// <summary>What happened on the way from the file to the book, in the order in which it happens.</summary>
    private static IEnumerable<string> Notes(ReceiptDto receipt)
    {
        var isReference = receipt.Kind is "accounts" or "entities" or "members" or "names" or "rates";
        foreach (var note in receipt.Supersedes)
            yield return isReference ? note : $"in place of {note}";
        foreach (var note in receipt.NewMembers)
            yield return $"new members, {note}";
        foreach (var refusal in receipt.Refused.Take(10))
            yield return Session.Describe(refusal);
        if (receipt.LeftOut.Count > 0)
            yield return $"left out: {string.Join(", ", receipt.LeftOut.Select(LeftOut))}.";
        string?[] said =
        [
            receipt.Totals,
            receipt.Filter is null ? null : $"took {receipt.Filter}",
            receipt.Joined,
            receipt.Coverage,
            .. receipt.Translated.Select(t => $"translated, {t}"),
        ];
        foreach (var note in said.OfType<string>())
            yield return note;
        if (receipt.Load == 0)
            foreach (var step in receipt.Steps)
                yield return $"{step.Before:N0} → {step.After:N0} rows: {step.What}";
        foreach (var warning in receipt.Warnings)
            yield return Describe(warning);
    }

    private static string LeftOut(LeftOutDto left) =>
        $"{left.Count:N0} {left.What} ({string.Join(", ", left.Places.Take(3))}{(left.Count > 3 ? " …" : "")})";

    /// <summary>The control totals, by what the kind of file is summed by.</summary>
    private static void Totals(ReceiptDto receipt)
    {
        string Named(PeriodTotalDto total) =>
            string.IsNullOrEmpty(total.Currency) ? total.Name : $"{total.Name}, {total.Currency}";

        if (receipt.Kind == "records")
            Tables.Print(
                ["Field", "Filled", "Sum"],
                receipt.Periods.Select(p => new[] { Named(p), $"{p.Lines:N0}", Figures.Cents(p.Net) }),
                1,
                2
            );
        else if (receipt.Kind == "statistics")
            Tables.Print(
                ["Statistic", "Rows", "Sum"],
                receipt.Periods.Select(p => new[] { p.Name, $"{p.Lines:N0}", Figures.Cents(p.Net) }),
                1,
                2
            );
        else if (receipt.Periods.Count > 0)
            Tables.Print(
                ["Period", "Lines", "Debit", "Credit", "Net (income +)"],
                receipt.Periods.Select(p =>
                    new[] { Named(p), $"{p.Lines:N0}", Figures.Cents(p.Debit), Figures.Cents(p.Credit), Figures.Cents(p.Net) }
                ),
                1,
                2,
                3,
                4
            );
    }

    public static string Describe(WarningDto warning) =>
        $"warning, {warning.Check}{(warning.Where.Length > 0 ? $" ({warning.Where})" : "")}: {warning.Because} {warning.Remedy}";
}
