using System.Collections.Frozen;
using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Loading;

/// <summary>A column of amounts.</summary>
/// <param name="Period">The month that its heading names; null where rows say theirs.</param>
/// <param name="Sets">What the column says by itself of account, entity or scenario.</param>
public sealed record ValueColumn(int Index, string Heading, Period? Period, ImmutableDictionary<string, string> Sets);

/// <summary>Where the columns of a mapping stand in one sheet, found by their headings.</summary>
public sealed class TableLayout
{
    private readonly FrozenDictionary<string, int> _roles;

    private TableLayout(
        RawRow heading,
        int sourceWidth,
        FrozenDictionary<string, int> roles,
        ImmutableArray<ValueColumn> values
    ) => (Heading, SourceWidth, _roles, Values) = (heading, sourceWidth, roles, values);

    /// <summary>The row in which the headings stand; behind the file's own those of joined and derived columns.</summary>
    public RawRow Heading { get; }

    public int Width => Heading.Fields.Length;

    /// <summary>Columns that the file itself has.</summary>
    public int SourceWidth { get; }

    /// <summary>Amount columns; empty where debit and credit stand apart.</summary>
    public ImmutableArray<ValueColumn> Values { get; }

    public ImmutableArray<int> FillDown { get; private init; } = [];

    /// <summary>Columns that become fields, in the order of the mapping.</summary>
    public ImmutableArray<(ColumnMapping Column, int Index)> Fields { get; private init; } = [];

    public IEnumerable<string> Roles => _roles.Keys;

    /// <summary>-1 when the sheet has no such column.</summary>
    public int IndexOf(string role) => _roles.GetValueOrDefault(role, -1);

    /// <summary>-1 when the sheet has no column under this heading.</summary>
    public int IndexOfHeading(string heading) => IndexOf(Heading, heading);

    private static int IndexOf(RawRow row, string heading)
    {
        var phrase = Words.Phrase(heading);
        return Array.FindIndex(row.Fields, f => Words.Phrase(f) == phrase);
    }

    /// <summary>Null when the row is not the heading row of the mapping.</summary>
    public static TableLayout? Find(FileMapping mapping, RawRow row, FiscalCalendar calendar)
    {
        var sourceWidth = row.Fields.Length;
        if (mapping.Headings is { } headings && IndexOf(row, headings.LineKey) < 0)
            return null;
        row = row.Extended([.. mapping.Headings?.Columns ?? [], .. mapping.Derived.Select(d => d.Heading)]);
        var phrases = row.Fields.Select(f => Words.Phrase(f)).ToArray();
        var taken = new HashSet<int>();
        var roles = new Dictionary<string, int>();
        var values = ImmutableArray.CreateBuilder<ValueColumn>();
        var fill = ImmutableArray.CreateBuilder<int>();
        var fields = ImmutableArray.CreateBuilder<(ColumnMapping, int)>();
        foreach (var column in mapping.Columns)
        {
            var at = Array.IndexOf(phrases, Words.Phrase(column.Heading));
            if (at < 0 && column.Role is null or "skip")
                continue;
            if (at < 0)
                return null;
            taken.Add(at);
            if (column.FillDown)
                fill.Add(at);
            if (column.Field is not null || (mapping.Kind == TableKind.Records && column.Role is not (null or "skip")))
                fields.Add((column, at));
            else if (column.Role is "amount" or "rate")
                values.Add(new ValueColumn(at, row.Fields[at].Trim(), null, column.Sets));
            else if (column.Role is not (null or "skip"))
                roles.TryAdd(column.Role, at);
        }
        if (mapping.MonthsAcross)
        {
            for (var i = 0; i < phrases.Length; i++)
                if (!taken.Contains(i) && MonthOf(row, i, mapping, calendar) is { } period)
                    values.Add(new ValueColumn(i, row.Fields[i].Trim(), period, ImmutableDictionary<string, string>.Empty));
            if (values.Count == 0)
                return null;
        }
        if (mapping.Keep.Any(k => IndexOf(row, k.Heading) < 0))
            return null;
        return roles.Count + fields.Count == 0
            ? null
            : new TableLayout(row, sourceWidth, roles.ToFrozenDictionary(), values.ToImmutable())
            {
                FillDown = fill.ToImmutable(),
                Fields = fields.ToImmutable(),
            };
    }

    /// <summary>The period that a heading names, if it names one.</summary>
    public static Period? MonthOf(RawRow row, int index, FileMapping mapping, FiscalCalendar calendar) =>
        MonthOf(row, index, calendar, mapping.FiscalYear, mapping.FiscalPeriods);

    public static Period? MonthOf(RawRow row, int index, FiscalCalendar calendar, int? year, bool fiscal = false) =>
        row.Typed?[index] is DateOnly day ? calendar.PeriodOf(day)
        : HeadingWords.TryPeriod(row.Fields[index].Trim(), calendar, year, fiscal, out var period) ? period
        : null;
}
