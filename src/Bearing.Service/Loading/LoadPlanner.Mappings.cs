using System.Collections.Immutable;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Loading;
using Bearing.Data.Books;
using Bearing.Data.Formats;
using Bearing.Data.State;
using Bearing.Service.Hosting;

namespace Bearing.Service.Loading;

internal sealed partial class LoadPlanner
{
    /// <summary>What the request says beside the mapping: look-ups, sheets, the table of records, the month of opening
    /// balances.</summary>
    private FileMapping Completed(FileMapping mapping)
    {
        var lookUps = mapping.LookUps;
        foreach (var (role, texts) in request.LookUps ?? new Dictionary<string, IReadOnlyDictionary<string, string>>())
            lookUps = lookUps.SetItem(
                role,
                lookUps.GetValueOrDefault(role, ImmutableDictionary<string, string>.Empty).SetItems(texts)
            );
        mapping = mapping with
        {
            LookUps = lookUps,
            Sheets = request.Sheets is null ? mapping.Sheets : [.. request.Sheets],
            Table = request.Table ?? mapping.Table,
        };
        if (
            mapping.Kind == TableKind.Records
            && (mapping.Table is null || !CodePattern().IsMatch(mapping.Table) || mapping.Table == Table.Ledger)
        )
            mapping = mapping with
            {
                Open = new Refusal(
                    0,
                    null,
                    null,
                    mapping.Table is null
                        ? "The file is to be loaded as records, but not into which table."
                        : $"“{mapping.Table}” cannot be the code of a table.",
                    "Say the table in lower-case letters, digits and dashes, for example payables."
                ),
            };
        if (mapping.Kind == TableKind.Records && mapping.TableName is null && mapping.Table is not null)
            mapping = mapping with { TableName = Title(mapping.Table) };
        if (mapping.Kind == TableKind.Opening && !mapping.Has("period") && !mapping.Has("date"))
            mapping = _book.ActualSpan is { } span
                ? mapping with
                {
                    FixedPeriod = span.From.AddMonths(-1),
                }
                : mapping with
                {
                    Open = new Refusal(
                        0,
                        null,
                        null,
                        "Opening balances stand before the first month of Actual, and the book has no ledger yet.",
                        "Load the ledger first, or give the file a column with the period."
                    ),
                };
        return mapping;
    }

    /// <summary>A forecast "5+7" took five months from actuals, when nobody says otherwise.</summary>
    private IEnumerable<Finding> Assumed(MappingScenario? scenario, LoadTarget? target)
    {
        if (
            target is { Kind: ScenarioKind.Forecast, CutOff: { } cutOff }
            && scenario?.CutOff is null
            && _book.Scenario(target.Scenario) is null
        )
            yield return new Finding(
                "cut-off",
                target.Name,
                $"The cut-off of {target.Name} was not said; by its name it is taken to be {_book.Calendar.NameOf(cutOff)}.",
                "Agree, or say the last month that the forecast took from actuals.",
                1
            );
    }

    public static T Parse<T>(string text, string where)
        where T : struct, Enum =>
        text.Length > 0
        && Enum.TryParse<T>(text.Replace("-", "", StringComparison.Ordinal), true, out var value)
        && !char.IsDigit(text[0])
            ? value
            : throw new ProblemException(
                ProblemKinds.OptionUnknown,
                $"{where}: “{text}” is not known.",
                $"Use one of {string.Join(", ", Enum.GetValues<T>().Select(v => WireText.Name(v)))}."
            );

    /// <summary>The mapping that was given or named, or the one whose headings the file has; of several the one with most
    /// columns.</summary>
    private MappingFile? Saved(List<List<RawRow>> heads)
    {
        if (request.Given is not null)
            return request.Given;
        if (request.Mapping is not null)
            return MappingForm.Read(open, request.Mapping);
        if (request.Columns is not null)
            return null;
        return open
            .Mappings.Names()
            .Select(n => MappingForm.Read(open, n))
            .Where(m => request.Kind is null || m.Kind == request.Kind)
            .OrderByDescending(m => m.Columns.Count)
            .FirstOrDefault(m => Find(MappingForm.ToCore(m), heads) is not null);
    }

    private (FileMapping, RawRow, IReadOnlyList<RawRow>) ByMapping(MappingFile file, List<List<RawRow>> heads)
    {
        var mapping = MappingForm.ToCore(file);
        if (Find(mapping, heads) is { } found)
            return (Corrected(mapping), found.Heading, found.Below);
        // The nearest heading row tells what is missing.
        var head = heads.MaxBy(h => new Detection(_book).FindHeading(h).Known)!;
        var heading = head[new Detection(_book).FindHeading(head).Index];
        var missing = mapping
            .Columns.Where(c =>
                c.Role is not (null or "skip") && !heading.Fields.Any(f => Words.Phrase(f) == Words.Phrase(c.Heading))
            )
            .ToList();
        throw new LoadRefusedException(
            new Refusal(
                heading.Number,
                null,
                null,
                $"The headings on line {RowPlace.Of(heading.Number).Row} lack {string.Join(", ", missing.Select(c => $"“{c.Heading}” ({c.Role})"))}, which the mapping {file.Name} needs.",
                "Check that this is the right file for the mapping, or load it without one."
            )
        );
    }

    private (FileMapping, RawRow, IReadOnlyList<RawRow>) ByDetection(IReadOnlyList<SourceSheet> sheets, List<List<RawRow>> heads)
    {
        var detection = new Detection(_book);
        var head = heads.Where(h => h.Count > 0).MaxBy(h => detection.FindHeading(h).Known)!;
        var at = request.HeadingLine is { } line
            ? head.FindIndex(r => RowPlace.Of(r.Number).Row == line)
            : detection.FindHeading(head).Index;
        if (at < 0)
            throw LoadRefusedException.File(
                $"Line {request.HeadingLine} cannot hold the headings: it is empty or lies below the first {TableReader.HeadingReach} rows.",
                "Say another line."
            );
        if (head.Count == at + 1)
            throw LoadRefusedException.File(
                "The file has a heading row and no rows below it: nothing to load.",
                "Check the filter of the export; it may have matched nothing."
            );
        TableKind? kind = request.Kind is null ? null : Parse<TableKind>(request.Kind, "kind");
        var mapping = detection.Propose(
            head[at],
            head[..at],
            head[(at + 1)..],
            kind,
            request.Dimension,
            request.DateFormat,
            request.Columns
        );
        if (mapping.Open is not null)
            mapping = CellForms.DecideDates(mapping, sheets[heads.IndexOf(head)].Rows().Select(r => r.Row));
        return (Corrected(mapping), head[at], head[(at + 1)..]);
    }

    private (RawRow Heading, IReadOnlyList<RawRow> Below)? Find(FileMapping mapping, List<List<RawRow>> heads)
    {
        foreach (var head in heads)
            for (var i = 0; i < Math.Min(head.Count, TableReader.HeadingReach); i++)
                if (TableLayout.Find(mapping, head[i], _book.Calendar) is not null)
                    return (head[i], head[(i + 1)..]);
        return null;
    }

    private FileMapping Corrected(FileMapping mapping)
    {
        if (request.Sign is not null)
            mapping = mapping with { Sign = Parse<SignConvention>(request.Sign, "sign") };
        if (request.DateFormat is not null)
            mapping = mapping with { DateFormat = request.DateFormat };
        if (request.Decimals is not null)
            mapping = mapping with { DecimalComma = MappingForm.DecimalComma(request.Decimals) };
        if (request.Scale is { } scale)
            mapping = mapping with
            {
                Scale =
                    scale != 0
                        ? scale
                        : throw new ProblemException(
                            ProblemKinds.ValueUnusable,
                            "Amounts cannot be multiplied by zero.",
                            "Say 1000 for a file in thousands."
                        ),
            };
        if (request.Currency is not null)
            mapping = mapping with { Currency = MappingForm.Currency(request.Currency) };
        if (request.Rates is not null)
            mapping = mapping with { RateSet = MappingForm.RateSet(request.Rates) };
        return request.Dimension is not null ? mapping with { Dimension = request.Dimension } : mapping;
    }
}
