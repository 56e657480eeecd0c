using System.Collections.Immutable;
using Bearing.Core.Books;

namespace Bearing.Core.Loading;

/// <summary>A row of facts, mapped and checked.</summary>
/// <param name="Scenario">The scenario that its column names; empty for the one of the load.</param>
/// <param name="Members">Ids in the order of the book's dimensions.</param>
/// <param name="Amount">In the book's currency, credit-positive; statistics as given.</param>
/// <param name="Local">In <paramref name="Currency"/>, credit-positive; null where the file has one amount, in the book's
/// currency.</param>
/// <param name="Fields">Further fields as JSON (<see cref="RecordRow"/>); null for none.</param>
public readonly record struct FactRow(
    int Row,
    string Scenario,
    Period Period,
    DateOnly? Date,
    string Document,
    string LineNumber,
    int[] Members,
    decimal Amount,
    decimal? Local,
    string? Currency,
    string Text,
    string? Fields = null
)
{
    /// <summary>The rate at which the amount was translated from the local one; null where nothing was.</summary>
    public Rate? Rate { get; init; }
}

/// <summary>A member that a ledger or plan brought along for a further dimension.</summary>
public sealed record NewMember(int Id, int DimensionId, string Code);

/// <summary>
/// Turns raw rows into facts by a mapping: one fact a row, or one for each amount column that holds something. Accounts and
/// entities must be known, by code, name or both in one cell; members of further dimensions are added unless the book
/// already has a list of them. Amounts in another currency than the book's are translated line by line.
/// </summary>
public sealed partial class RowMapper
{
    private const int MostDays = 10_000;
    private readonly Book _book;
    private readonly FileMapping _mapping;
    private readonly ImmutableArray<Dimension> _dimensions;
    private readonly string[] _roles;
    private readonly bool[] _listed;
    private readonly int _account;
    private readonly int _entity;
    private readonly MemberFinder[] _finders;
    private readonly FieldReader _fields;
    private readonly Dictionary<(int, string), int> _added = [];
    private readonly Dictionary<string, DateOnly> _days = [];
    private int _nextMember;
    private TableLayout _layout;
    private int[] _columns = [];
    private string? _json;
    private int _date,
        _period,
        _document,
        _line,
        _debit,
        _credit,
        _local,
        _currency,
        _text,
        _fiscalYear;
    private readonly Dictionary<int, string> _currencyOf = [];

    /// <summary>Whether the file has the book's amount and the local one beside each other.</summary>
    private bool _bothAmounts;

    /// <summary>What the headings of the amounts say of their currency; null where they say nothing, or different ones.</summary>
    private string? _headingCurrency;

    /// <param name="nextMember">First id free for new members.</param>
    public RowMapper(Book book, FileMapping mapping, TableLayout layout, int nextMember)
    {
        (_book, _mapping, _nextMember) = (book, mapping, nextMember);
        _dimensions = book.Definition.Dimensions;
        _account = _dimensions.IndexOf(book.Accounts);
        _entity = _dimensions.IndexOf(book.Entities);
        _roles = [.. _dimensions.Select(RoleOf)];
        _listed = [.. _dimensions.Select(d => d.Role != DimensionRole.Other || book.MembersOf(d.Id).Any(m => m.Name != m.Code))];
        _finders = [.. _dimensions.Select((d, i) => new MemberFinder(book, mapping, d, _roles[i]))];
        _fields = new FieldReader(book, mapping, layout);
        _layout = layout;
        Use(layout);
    }

    public List<NewMember> NewMembers { get; } = [];

    /// <summary>The rates by which amounts in other currencies are translated; null where they stay as they are, as those of a
    /// trial balance do.</summary>
    public Translation? Translation { get; init; }

    /// <summary>Entities, with their currency, whose amounts were taken to be in it because nothing says otherwise.</summary>
    public Dictionary<int, string> TakenAsLocal { get; } = [];

    /// <summary>What stands in the columns of debits and credits, each by itself, by period and by the currency that was
    /// translated from: to be held against the source, which adds up its columns so.</summary>
    public Dictionary<(Period Period, string? Currency), (decimal Debit, decimal Credit)> ColumnTotals { get; } = [];

    /// <summary>Rows that have a debit and a credit.</summary>
    public List<int> BothSides { get; } = [];

    /// <summary>For tables that speak of the group as a whole: the entity under which their rows are placed.</summary>
    public int? EntityWhereNone { get; init; }

    /// <summary>Fields that the file keeps beside what facts carry anyway.</summary>
    public ImmutableArray<Field> Fields => Adjustments == 0 ? _fields.Fields : _fields.Fields.Add(Adjustment);

    /// <summary>Facts of an adjustment period 13, which count in the twelfth month and are marked.</summary>
    public long Adjustments { get; private set; }

    private static readonly Field Adjustment = new("adjustment", "Adjustment", FieldType.Text);

    /// <summary>Dimensions that the file keeps apart: those with a column.</summary>
    public ImmutableArray<int> KeptDimensions =>
        _mapping.Kind == TableKind.Ledger
            ? [.. _dimensions.Select(d => d.Id)]
            : [.. _dimensions.Where((d, i) => _columns[i] >= 0 || d.Role != DimensionRole.Other).Select(d => d.Id)];

    /// <summary>The next sheet may have its columns elsewhere.</summary>
    public void Use(TableLayout layout)
    {
        _layout = layout;
        _fields.Use(layout);
        _columns = [.. _roles.Select(layout.IndexOf)];
        (_date, _period, _document, _line) = (
            layout.IndexOf("date"),
            layout.IndexOf("period"),
            layout.IndexOf("document"),
            layout.IndexOf("line")
        );
        (_debit, _credit, _local) = (layout.IndexOf("debit"), layout.IndexOf("credit"), layout.IndexOf("local"));
        (_currency, _text, _fiscalYear) = (layout.IndexOf("currency"), layout.IndexOf("text"), layout.IndexOf("fiscal year"));
        _headingCurrency = new[] { _debit, _credit }
            .Where(i => i >= 0)
            .Concat(layout.Values.Select(v => v.Index))
            .Select(i => HeadingWords.CurrencyOf(layout.Heading.Fields[i].Trim(), _book.Definition.Currency))
            .Distinct()
            .ToList()
            is [var one]
            ? one
            : null;
        _bothAmounts = _local >= 0 && (layout.Values.Length > 0 || _debit >= 0 || _credit >= 0);
    }

    /// <summary>Adds the facts of a row to <paramref name="into"/>, or says why the row cannot be placed and adds none.</summary>
    public Refusal? Map(RawRow raw, List<FactRow> into)
    {
        if (raw.Fields.Length != _layout.Width)
            return new Refusal(
                raw.Number,
                null,
                null,
                $"The row has {raw.Fields.Length} fields where the heading has {_layout.Width}.",
                "Check that the separator is the right one; then look for a missing quote or an extra separator in this row."
            );
        var date = DateOf(raw, out var refusal);
        if ((refusal ??= _fields.Read(raw, out _json)) is not null)
            return refusal;
        if (IsLocalOnly(raw))
            return TryNumber(raw, _local, out var local, out refusal)
                ? AddFact(raw, null, local * _mapping.Scale, date, into)
                : refusal;
        if (_layout.Values.Length == 0)
        {
            if (!TryDebitCredit(raw, out var debit, out var credit, out refusal))
                return refusal;
            if (AddFact(raw, null, debit - credit, date, into) is { } unplaced)
                return unplaced;
            var key = (into[^1].Period, into[^1].Rate is null ? null : into[^1].Currency);
            var (debits, credits) = ColumnTotals.GetValueOrDefault(key);
            ColumnTotals[key] = (debits + debit, credits + credit);
            return null;
        }
        var several = _layout.Values.Length > 1;
        var before = into.Count;
        foreach (var value in _layout.Values)
        {
            if (several && IsBlank(raw, value.Index))
                continue;
            if (TryNumber(raw, value.Index, out var amount, out refusal))
                refusal = AddFact(raw, value, amount * _mapping.Scale, date, into);
            if (refusal is null)
                continue;
            into.RemoveRange(before, into.Count - before);
            return refusal;
        }
        return null;
    }

    private static string RoleOf(Dimension dimension) =>
        dimension.Role switch
        {
            DimensionRole.Account => "account",
            DimensionRole.Entity => "entity",
            _ => $"dimension:{dimension.Code}",
        };

    private bool TryMembers(RawRow raw, ValueColumn? value, decimal amount, out int[] members, out Refusal? refusal)
    {
        members = new int[_dimensions.Length];
        refusal = null;
        for (var i = 0; i < _dimensions.Length; i++)
        {
            var dimension = _dimensions[i];
            var text = value?.Sets.GetValueOrDefault(_roles[i]) ?? (IsBlank(raw, _columns[i]) ? "" : Field(raw, _columns[i]));
            if (EntityWhereNone is { } group && dimension.Role == DimensionRole.Entity)
                members[i] = group;
            else if (text.Length > 0 && _finders[i].TryFind(text, out var id))
                members[i] = id;
            else if (text.Length == 0 && dimension.Role == DimensionRole.Other)
                members[i] = _columns[i] >= 0 || _mapping.Kind == TableKind.Ledger ? Member.Unassigned : Member.NotKept;
            else if (text.Length == 0)
                refusal = Refuse(
                    raw,
                    _columns[i],
                    $"The row has no {dimension.Name.ToLowerInvariant()}.",
                    $"Give every row its {dimension.Name.ToLowerInvariant()} code."
                );
            else if (_listed[i])
                refusal = Refuse(
                    raw,
                    _columns[i],
                    $"{dimension.Name} “{Shorten(text)}” is not in the book.{_finders[i].Nearest(text)}",
                    $"Load the {dimension.Name.ToLowerInvariant()} list with it first, say in the mapping what it stands for, or correct it."
                ) with
                {
                    Amount = amount,
                    Unknown = _roles[i],
                };
            else
                _finders[i].Learn(text, members[i] = Add(dimension, text));
            if (refusal is not null)
                return false;
        }
        return true;
    }

    private int Add(Dimension dimension, string code)
    {
        if (_added.TryGetValue((dimension.Id, code.ToUpperInvariant()), out var id))
            return id;
        id = _nextMember++;
        _added[(dimension.Id, code.ToUpperInvariant())] = id;
        NewMembers.Add(new NewMember(id, dimension.Id, code));
        return id;
    }

    private Refusal Refuse(RawRow raw, int column, string because, string remedy) =>
        new(
            raw.Number,
            column >= 0 ? _layout.Heading.Fields[column].Trim() : null,
            column >= 0 ? Shorten(Field(raw, column)) : null,
            because,
            remedy
        );

    private bool IsBlank(RawRow raw, int column)
    {
        if (column < 0)
            return true;
        var text = raw.Fields[column];
        return string.IsNullOrWhiteSpace(text)
            || (text.Length < 8 && !char.IsAsciiDigit(text[0]) && _mapping.Blanks.Contains(text.Trim()));
    }

    private static string Field(RawRow raw, int column) => column < 0 ? "" : Clean(raw.Fields[column]);

    private static string Shorten(string text) => text.Length > 60 ? text[..60] + "…" : text;

    private static string? NullIfEmpty(string text) => text.Length == 0 ? null : text;
}
