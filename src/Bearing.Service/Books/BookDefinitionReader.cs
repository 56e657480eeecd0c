using System.Collections.Immutable;
using System.Text.RegularExpressions;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Data.Books;
using Bearing.Service.Hosting;

namespace Bearing.Service.Books;

/// <summary>Checks a definition from outside and brings it into the core's form.</summary>
internal static partial class BookDefinitionReader
{
    private const int MostDimensions = 20;

    /// <exception cref="ProblemException">422, naming the part that is wrong.</exception>
    public static BookDefinition Read(NewBook book)
    {
        if (!BookShelf.IsId(book.Id ?? ""))
            throw Wrong("id", $"“{book.Id}” is not a usable id.", "Use up to 40 lower-case letters, digits and dashes.");
        if (string.IsNullOrWhiteSpace(book.Name) || book.Name.Length > 100)
            throw Wrong("name", "The name is empty or longer than 100 characters.", "Give the company's name.");
        if (!CurrencyPattern().IsMatch(book.Currency ?? ""))
            throw Wrong(
                "currency",
                $"“{book.Currency}” is not a currency code.",
                "Use the three letters of ISO 4217, for example EUR."
            );
        if (book.FiscalYearStartMonth is < 1 or > 12)
            throw Wrong(
                "fiscalYearStartMonth",
                "The month must be 1 to 12.",
                "Give the calendar month in which the fiscal year begins."
            );
        Period? closed =
            book.ClosedThrough is null ? null
            : Period.TryParse(book.ClosedThrough, out var p) ? p
            : throw Wrong("closedThrough", $"“{book.ClosedThrough}” is not a period.", "Write it as 2026-P09.");
        return new BookDefinition
        {
            Id = book.Id!,
            Name = book.Name,
            Currency = book.Currency!,
            FiscalYearStartMonth = book.FiscalYearStartMonth ?? 1,
            Provenance = Parse(book.Provenance, "provenance", Provenance.Real),
            ClosedThrough = closed,
            ResultLine = book.ResultLine,
            Dimensions = Dimensions(book.Dimensions ?? []),
            Statement =
            [
                .. (book.Statement ?? []).Select(l => new StatementLine(
                    Code(l.Code, "statement"),
                    l.Name,
                    [.. l.Sums ?? []],
                    [.. l.OtherNames ?? []]
                )),
            ],
            Measures =
            [
                .. (book.Measures ?? []).Select(m => new RatioMeasure(
                    Code(m.Code, "measures"),
                    m.Name,
                    m.Numerator,
                    m.Denominator,
                    m.Percent,
                    Math.Clamp(m.Decimals ?? 2, 0, 6),
                    m.Unit ?? (m.Percent ? "%" : ""),
                    Parse(m.Good, "measures.good", GoodDirection.None),
                    [.. m.OtherNames ?? []]
                )),
            ],
            MonthMateriality = Limits(book.MonthMateriality, new(10_000m, 5m)),
            YearMateriality = Limits(book.YearMateriality, new(50_000m, 3m)),
        };
    }

    private static ImmutableArray<Dimension> Dimensions(IReadOnlyList<NewDimension> dimensions)
    {
        if (dimensions.Count > MostDimensions)
            throw Wrong(
                "dimensions",
                $"There are {dimensions.Count} dimensions; up to {MostDimensions} are kept.",
                "Leave out those that no question needs."
            );
        // Ids follow the order of definition and name the columns of the fact store.
        var read = dimensions
            .Select(
                (d, i) =>
                    new Dimension(
                        i + 1,
                        Code(d.Code, "dimensions"),
                        d.Name,
                        Parse(d.Role, "dimensions.role", DimensionRole.Other),
                        [.. d.Levels is { Count: > 0 } levels ? levels : [d.Name]],
                        [.. d.OtherNames ?? []]
                    )
            )
            .ToImmutableArray();
        if (read.Select(d => d.Code).Distinct().Count() != read.Length)
            throw Wrong("dimensions", "Two dimensions have the same code.", "Give each its own.");
        foreach (var role in (DimensionRole[])[DimensionRole.Account, DimensionRole.Entity])
            if (read.Count(d => d.Role == role) != 1)
                throw Wrong(
                    "dimensions",
                    $"A book needs exactly one dimension with the role {role.ToString().ToLowerInvariant()}.",
                    "Mark one of the dimensions with it."
                );
        return read;
    }

    private static Materiality Limits(NewMateriality? limits, Materiality usual) =>
        limits is null ? usual : new Materiality(Math.Abs(limits.Amount), Math.Abs(limits.Percent));

    private static string Code(string? code, string where) =>
        code is { Length: > 0 and <= 40 } && CodePattern().IsMatch(code) && code != "period" && code != "figure"
            ? code
            : throw Wrong(
                where,
                $"“{code}” is not a usable code.",
                "Use lower-case letters, digits and dashes, beginning with a letter."
            );

    private static T Parse<T>(string? text, string where, T usual)
        where T : struct, Enum =>
        string.IsNullOrEmpty(text) ? usual
        : Enum.TryParse<T>(text, true, out var value) && !char.IsDigit(text[0]) ? value
        : throw Wrong(
            where,
            $"“{text}” is not known.",
            $"Use one of {string.Join(", ", Enum.GetNames<T>().Select(n => n.ToLowerInvariant()))}."
        );

    private static ProblemException Wrong(string where, string because, string remedy) =>
        new(ProblemKinds.DefinitionUnusable, $"{where}: {because}", remedy);

    [GeneratedRegex("^[a-z][a-z0-9-]*$")]
    private static partial Regex CodePattern();

    [GeneratedRegex("^[A-Z]{3}$")]
    private static partial Regex CurrencyPattern();
}
