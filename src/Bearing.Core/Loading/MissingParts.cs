using Bearing.Core.Books;

namespace Bearing.Core.Loading;

/// <summary>What a mapping lacks, in words that say what to do.</summary>
public sealed class MissingParts(Book book)
{
    public static Refusal Say(string because, string remedy) => new(0, null, null, because, remedy);

    /// <summary>What a mapping lacks to place amounts, in words.</summary>
    public Refusal Of(FileMapping mapping) =>
        Column(mapping, new RawRow(1, [.. mapping.Columns.Select(c => c.Heading)]))
        ?? Dimension(mapping)
        ?? Say("The file cannot be read as amounts by account.", "Say which columns hold the account and the amount.");

    public Refusal? Dimension(FileMapping mapping) =>
        mapping.Kind != TableKind.Members
        || (
            mapping.Dimension is not null
            && book.TryDimension(mapping.Dimension, out var known)
            && known.Role != DimensionRole.Account
        )
            ? null
            : Say(
                "The file lists members, but not of which dimension.",
                $"Say the dimension: one of {string.Join(", ", book.Definition.Dimensions.Where(d => d.Role != DimensionRole.Account).Select(d => d.Code))}."
            );

    public static Refusal? Column(FileMapping mapping, RawRow heading)
    {
        var needed = mapping.Kind switch
        {
            TableKind.Accounts => (string[][])
                [
                    ["code"],
                    ["name"],
                    ["type"],
                ],
            TableKind.Entities or TableKind.Members =>
            [
                ["code"],
                ["name"],
            ],
            TableKind.Names =>
            [
                ["code", "account", "entity"],
                ["other names"],
            ],
            TableKind.Rates => mapping.Columns.Any(c => c.Sets.ContainsKey("currency"))
                ?
                [
                    ["period", "date"],
                    ["rate"],
                ]
                :
                [
                    ["period", "date"],
                    ["currency"],
                    ["rate"],
                ],
            TableKind.Records => [],
            TableKind.Opening =>
            [
                ["account"],
                ["entity"],
                ["amount", "debit", "credit", "local"],
            ],
            _ => mapping.MonthsAcross
                ?
                [
                    ["account"],
                    ["entity"],
                ]
                :
                [
                    ["account"],
                    ["entity"],
                    ["date", "period"],
                    ["amount", "debit", "credit", "local"],
                ],
        };
        foreach (var roles in needed)
        {
            if (roles.Any(mapping.Has))
                continue;
            var words = string.Join(", ", roles.SelectMany(r => HeadingWords.Roles[r].Take(3)).Select(w => $"“{w}”"));
            return Say(
                $"The file has no column for the {string.Join(" or ", roles)}; its headings, on line {RowPlace.Of(heading.Number).Row}, are {string.Join(", ", mapping.Columns.Take(12).Select(c => $"“{c.Heading}”"))}.",
                $"Rename the column to one of {words}, or say which column it is{(mapping.IsReference ? "" : "; a table that is no ledger or plan loads as records")}."
            );
        }
        return null;
    }
}
