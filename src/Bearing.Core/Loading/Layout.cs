using System.Collections.Frozen;
using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Reading;

namespace Bearing.Core.Loading;

/// <summary>A column of amounts.</summary>
/// <param name="Period">The month that its heading names; null where rows say theirs.</param>
/// <param name="Sets">What the column says by itself of account, entity or scenario.</param>
public sealed record ValueColumn(int Index, string Heading, Period? Period, ImmutableDictionary<string, string> Sets);

/// <summary>Where the columns of a mapping stand in one sheet, found by their headings.</summary>
public sealed class Layout
{
    private readonly FrozenDictionary<string, int> _roles;

    private Layout(RawRow heading, FrozenDictionary<string, int> roles, ImmutableArray<ValueColumn> values, ImmutableArray<int> fillDown) =>
        (Heading, _roles, Values, FillDown) = (heading, roles, values, fillDown);

    /// <summary>The row in which the headings stand.</summary>
    public RawRow Heading { get; }

    public int Width => Heading.Fields.Length;

    /// <summary>Amount columns; empty where debit and credit stand apart.</summary>
    public ImmutableArray<ValueColumn> Values { get; }

    public ImmutableArray<int> FillDown { get; }

    public IEnumerable<string> Roles => _roles.Keys;

    /// <summary>-1 when the sheet has no such column.</summary>
    public int IndexOf(string role) => _roles.GetValueOrDefault(role, -1);

    /// <summary>Null when the row is not the heading row of the mapping.</summary>
    public static Layout? Find(FileMapping mapping, RawRow row, FiscalCalendar calendar)
    {
        var phrases = row.Fields.Select(f => Words.Phrase(f)).ToArray();
        var taken = new HashSet<int>();
        var roles = new Dictionary<string, int>();
        var values = ImmutableArray.CreateBuilder<ValueColumn>();
        var fill = ImmutableArray.CreateBuilder<int>();
        foreach (var column in mapping.Columns)
        {
            var at = Array.IndexOf(phrases, Words.Phrase(column.Heading));
            if (at < 0 && column.Role is null or "skip") continue;
            if (at < 0) return null;
            taken.Add(at);
            if (column.FillDown) fill.Add(at);
            if (column.Role == "amount") values.Add(new ValueColumn(at, row.Fields[at].Trim(), null, column.Sets));
            else if (column.Role is not (null or "skip")) roles.TryAdd(column.Role, at);
        }
        if (mapping.MonthsAcross)
        {
            for (var i = 0; i < phrases.Length; i++)
                if (!taken.Contains(i) && MonthOf(row, i, mapping, calendar) is { } period) values.Add(new ValueColumn(i, row.Fields[i].Trim(), period, ImmutableDictionary<string, string>.Empty));
            if (values.Count == 0) return null;
        }
        return roles.Count == 0 ? null : new Layout(row, roles.ToFrozenDictionary(), values.ToImmutable(), fill.ToImmutable());
    }

    /// <summary>The period that a heading names, if it names one.</summary>
    public static Period? MonthOf(RawRow row, int index, FileMapping mapping, FiscalCalendar calendar) =>
        row.Typed?[index] is DateOnly day ? calendar.PeriodOf(day)
        : HeadingWords.TryPeriod(row.Fields[index].Trim(), calendar, mapping.FiscalYear, mapping.FiscalPeriods, out var period) ? period : null;
}
