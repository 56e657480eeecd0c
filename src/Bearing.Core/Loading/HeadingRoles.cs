using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Loading;

/// <summary>Which role a column has by its heading, and what its columns make of a file.</summary>
internal sealed class HeadingRoles(Book book)
{
    /// <summary>Names of the book's further dimensions first, then the general words for roles, then what the book calls its
    /// entities and accounts: depot, branch.</summary>
    public ColumnMapping Of(string heading)
    {
        var phrase = Words.Phrase(heading);
        Dimension? Named(bool other) =>
            book.Definition.Dimensions.FirstOrDefault(d =>
                d.Role == DimensionRole.Other == other
                && new[] { d.Code, d.Name, d.Levels[^1] }
                    .Concat(d.OtherNames)
                    .Any(n => Words.Phrase(n) == phrase || Words.Phrase(n + " code") == phrase)
            );
        if (Named(true) is { } dimension)
            return new ColumnMapping(heading, $"dimension:{dimension.Code}", $"the book's dimension {dimension.Name}");
        if (HeadingWords.RoleOf(heading) is { } role)
            return new ColumnMapping(heading, role, role == "skip" ? "known; not needed" : $"a usual heading for {role}");
        if (
            HeadingWords.WithCurrency(heading) is var (currency, rest)
            && HeadingWords.RoleOf(rest) is "amount" or "debit" or "credit" or "local"
            && HeadingWords.RoleOf(rest) is { } money
        )
            return new ColumnMapping(heading, money, $"a usual heading for {money}, in {currency}");
        if (Named(false) is { } main)
            return new ColumnMapping(
                heading,
                main.Role == DimensionRole.Account ? "account" : "entity",
                $"what the book calls its {(main.Role == DimensionRole.Account ? "accounts" : "entities")}"
            );
        return new ColumnMapping(heading, null, "not recognised; not used");
    }

    public static TableKind KindOf(ImmutableArray<ColumnMapping> columns)
    {
        bool Has(string role) => columns.Any(c => c.Role == role);
        if (Has("amount") || Has("debit") || Has("credit") || Has("month"))
            return Has("document") || Has("date") ? TableKind.Ledger
                : columns.Any(c =>
                    c.Role == "account" && Words.Phrase(c.Heading).StartsWith("statistic", StringComparison.Ordinal)
                )
                    ? TableKind.Statistics
                : TableKind.Plan;
        if (Has("name") && Has("type"))
            return TableKind.Accounts;
        if (Has("code") && Has("name"))
            return TableKind.Members;
        if (Has("currency") && (Has("period") || Has("date")) && columns.Any(c => RateOf(c.Heading) is not null))
            return TableKind.Rates;
        return Has("code") || Has("account") ? TableKind.Accounts
            : Has("entity") ? TableKind.Entities
            : TableKind.Ledger;
    }

    /// <summary>In a reference file the column of the object itself is its code.</summary>
    public static ImmutableArray<ColumnMapping> Adapt(ImmutableArray<ColumnMapping> columns, TableKind kind)
    {
        if (kind == TableKind.Rates)
            return
            [
                .. columns.Select(c =>
                    RateOf(c.Heading) is { } sets ? c with { Role = "rate", Sets = sets, Evidence = "a rate" } : c
                ),
            ];
        var own = kind switch
        {
            TableKind.Accounts => "account",
            TableKind.Entities => "entity",
            _ => null,
        };
        if (kind is not (TableKind.Accounts or TableKind.Entities or TableKind.Members))
            columns =
            [
                .. columns.Select(c =>
                    c.Role?.StartsWith("level:", StringComparison.Ordinal) == true
                        ? c with
                        {
                            Role = null,
                            Evidence = "not needed here",
                        }
                        : c
                ),
            ];
        else
            columns =
            [
                .. columns.Select(c =>
                    c.Role?.StartsWith("level:", StringComparison.Ordinal) == true
                        ? c with
                        {
                            FillDown = kind == TableKind.Accounts,
                        }
                        : c
                ),
            ];
        if (kind == TableKind.Members)
            return
            [
                .. columns.Select(c =>
                    c.Role?.StartsWith("dimension:", StringComparison.Ordinal) == true && columns.All(o => o.Role != "code")
                        ? c with
                        {
                            Role = "code",
                        }
                        : c
                ),
            ];
        return own is null || columns.Any(c => c.Role == "code")
            ? columns
            : [.. columns.Select(c => c.Role == own ? c with { Role = "code" } : c)];
    }

    /// <summary>What a heading says of the rates below it; null when it names none.</summary>
    private static ImmutableDictionary<string, string>? RateOf(string heading) =>
        Words.Tokens(heading).Any(t => t.Stem is "closing" or "spot" or "average" or "rate")
        && RateWords.Of(heading) is var (kind, set)
            ? ImmutableDictionary<string, string>.Empty.Add("rate", kind.ToString().ToLowerInvariant()).Add("scenario", set)
            : null;
}
