using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Bearing.Core.Books;
using Bearing.Core.Reading;

namespace Bearing.Core.Loading;

/// <summary>A row of facts, mapped and checked.</summary>
/// <param name="Members">Ids in the order of the book's dimensions.</param>
/// <param name="Amount">Credit-positive; statistics as given.</param>
public readonly record struct FactRow(
    int Row, Period Period, DateOnly? Date, string Document, string LineNumber, int[] Members, decimal Amount, decimal? Local, string? Currency, string Text);

/// <summary>A member that a ledger or plan brought along for a further dimension.</summary>
public sealed record NewMember(int Id, int DimensionId, string Code);

/// <summary>
/// Turns raw rows into facts by a mapping. Accounts and entities must be known; members of further dimensions are added
/// unless the book already has a list of them.
/// </summary>
public sealed class RowMapper
{
    private readonly Book _book;
    private readonly FileMapping _mapping;
    private readonly ImmutableArray<Dimension> _dimensions;
    private readonly int[] _columns;
    private readonly int _date, _period, _document, _line, _amount, _debit, _credit, _local, _currency, _text;
    private readonly bool[] _listed;
    private readonly Dictionary<(int, string), int> _added = [];
    private int _nextMember;

    /// <param name="nextMember">First id free for new members.</param>
    public RowMapper(Book book, FileMapping mapping, int nextMember)
    {
        (_book, _mapping, _nextMember) = (book, mapping, nextMember);
        _dimensions = book.Definition.Dimensions;
        _columns = [.. _dimensions.Select(d => mapping.IndexOf(d.Role switch { DimensionRole.Account => "account", DimensionRole.Entity => "entity", _ => $"dimension:{d.Code}" }))];
        _listed = [.. _dimensions.Select(d => d.Role != DimensionRole.Other || book.MembersOf(d.Id).Any(m => m.Name != m.Code))];
        (_date, _period, _document, _line) = (mapping.IndexOf("date"), mapping.IndexOf("period"), mapping.IndexOf("document"), mapping.IndexOf("line"));
        (_amount, _debit, _credit) = (mapping.IndexOf("amount"), mapping.IndexOf("debit"), mapping.IndexOf("credit"));
        (_local, _currency, _text) = (mapping.IndexOf("local"), mapping.IndexOf("currency"), mapping.IndexOf("text"));
    }

    public List<NewMember> NewMembers { get; } = [];

    /// <summary>Dimensions that the file keeps apart: those with a column.</summary>
    public ImmutableArray<int> KeptDimensions => _mapping.Kind == TableKind.Ledger ? [.. _dimensions.Select(d => d.Id)]
        : [.. _dimensions.Where((_, i) => _columns[i] >= 0).Select(d => d.Id)];

    /// <summary>False with the refusal when the row cannot be placed.</summary>
    public bool TryMap(RawRow raw, out FactRow row, out Refusal? refusal)
    {
        row = default;
        if (raw.Fields.Length != _mapping.Columns.Length)
        {
            refusal = new Refusal(raw.Number, null, null, $"The row has {raw.Fields.Length} fields where the heading has {_mapping.Columns.Length}.",
                "Look for a missing quote or an extra separator in this row.");
            return false;
        }
        if (!TryPeriod(raw, out var period, out var date, out refusal) || !TryMembers(raw, out var members, out refusal)
            || !TryAmount(raw, members, out var amount, out refusal) || !TryLocal(raw, members, out var local, out refusal)) return false;
        row = new FactRow(raw.Number, period, date, Field(raw, _document), Field(raw, _line), members, amount, local, NullIfEmpty(Field(raw, _currency)), Field(raw, _text));
        return true;
    }

    private bool TryPeriod(RawRow raw, out Period period, out DateOnly? date, out Refusal? refusal)
    {
        (period, date, refusal) = (default, null, null);
        if (_date >= 0 && Field(raw, _date) is { Length: > 0 } dateText)
        {
            if (!DateOnly.TryParseExact(dateText, _mapping.DateFormat ?? "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day))
                return Refuse(raw, _date, $"“{Shorten(dateText)}” is not a date of the form {_mapping.DateFormat ?? "yyyy-MM-dd"}.", "Correct the date.", out refusal);
            (date, period) = (day, _book.Calendar.PeriodOf(day));
        }
        if (_period < 0) return date is not null || Refuse(raw, _date, "The row has no date.", "Give every row a date.", out refusal);
        var text = Field(raw, _period);
        if (Period.TryParse(text, out period)) return true;
        if (DateOnly.TryParseExact(text, ["yyyy-MM", "yyyy-MM-dd", "MM/yyyy", "yyyyMM"], CultureInfo.InvariantCulture, DateTimeStyles.None, out var month))
        {
            period = _book.Calendar.PeriodOf(month);
            return true;
        }
        return Refuse(raw, _period, $"“{Shorten(text)}” is not a period.", "Write periods as 2026-09 (calendar month) or 2026-P09 (fiscal year and period).", out refusal);
    }

    private bool TryMembers(RawRow raw, out int[] members, out Refusal? refusal)
    {
        members = new int[_dimensions.Length];
        refusal = null;
        for (var i = 0; i < _dimensions.Length; i++)
        {
            var dimension = _dimensions[i];
            var code = Field(raw, _columns[i]);
            if (code.Length > 0 && _book.TryMember(dimension.Id, code, out var member)) members[i] = member.Id;
            else if (code.Length == 0 && dimension.Role == DimensionRole.Other)
                members[i] = _columns[i] >= 0 || _mapping.Kind == TableKind.Ledger ? Member.Unassigned : Member.NotKept;
            else if (code.Length == 0) return Refuse(raw, _columns[i], $"The row has no {dimension.Name.ToLowerInvariant()}.", $"Give every row its {dimension.Name.ToLowerInvariant()} code.", out refusal);
            else if (_listed[i]) return Refuse(raw, _columns[i], $"{dimension.Name} “{Shorten(code)}” is not in the book.{Nearest(dimension, code)}",
                $"Load the {dimension.Name.ToLowerInvariant()} list with it first, or correct the code.", out refusal);
            else members[i] = Add(dimension, code);
        }
        return true;
    }

    private bool TryAmount(RawRow raw, int[] members, out decimal amount, out Refusal? refusal)
    {
        (amount, refusal) = (0m, null);
        if (_amount >= 0)
        {
            if (!TryNumber(raw, _amount, out amount, out refusal)) return false;
            amount = Signed(amount, members);
            return true;
        }
        var (debit, credit) = (0m, 0m);
        if (Field(raw, _debit).Length > 0 && !TryNumber(raw, _debit, out debit, out refusal)) return false;
        if (Field(raw, _credit).Length > 0 && !TryNumber(raw, _credit, out credit, out refusal)) return false;
        amount = credit - debit;
        return true;
    }

    private bool TryLocal(RawRow raw, int[] members, out decimal? local, out Refusal? refusal)
    {
        (local, refusal) = (null, null);
        if (Field(raw, _local).Length == 0) return true;
        if (!TryNumber(raw, _local, out var value, out refusal)) return false;
        local = Signed(value, members);
        return true;
    }

    private decimal Signed(decimal amount, int[] members)
    {
        var account = _book.Member(members[_dimensions.IndexOf(_book.Accounts)]);
        if (account.Account?.Type == AccountType.Statistic) return amount;
        return _mapping.Sign switch
        {
            SignConvention.DebitPositive => -amount,
            SignConvention.AsShown => amount * (account.Account?.ShownSign ?? 1),
            _ => amount,
        };
    }

    private bool TryNumber(RawRow raw, int column, out decimal value, out Refusal? refusal)
    {
        refusal = null;
        var text = Field(raw, column);
        return Numbers.TryRead(text, _mapping.DecimalComma, out value, out var because)
            || Refuse(raw, column, $"“{Shorten(text)}” {because}.", "Correct the amount; write it without currency signs.", out refusal);
    }

    private int Add(Dimension dimension, string code)
    {
        if (_added.TryGetValue((dimension.Id, code.ToUpperInvariant()), out var id)) return id;
        id = _nextMember++;
        _added[(dimension.Id, code.ToUpperInvariant())] = id;
        NewMembers.Add(new NewMember(id, dimension.Id, code));
        return id;
    }

    private string Nearest(Dimension dimension, string code)
    {
        var stem = Words.Stem(code);
        var near = _book.MembersOf(dimension.Id).Select(m => (m.Title, Distance: Math.Min(Words.Distance(Words.Stem(m.Code), stem, 2), Words.Distance(Words.Stem(m.Name), stem, 2))))
            .Where(m => m.Distance <= 2).OrderBy(m => m.Distance).ThenBy(m => m.Title, StringComparer.Ordinal).Select(m => m.Title).Take(3).ToList();
        return near.Count == 0 ? "" : $" Nearest: {string.Join(", ", near)}.";
    }

    private bool Refuse(RawRow raw, int column, string because, string remedy, out Refusal refusal)
    {
        refusal = new Refusal(raw.Number, column >= 0 ? _mapping.Columns[column].Heading : null, column >= 0 ? Shorten(Field(raw, column)) : null, because, remedy);
        return false;
    }

    /// <summary>Trimmed, in one Unicode form and without control characters, so that equal text is equal in every store.</summary>
    private static string Field(RawRow raw, int column)
    {
        if (column < 0) return "";
        var text = raw.Fields[column].Trim();
        if (!text.IsNormalized()) text = text.Normalize(NormalizationForm.FormC);
        return text.Any(char.IsControl) ? new string([.. text.Select(c => char.IsControl(c) ? ' ' : c)]) : text;
    }

    private static string Shorten(string text) => text.Length > 60 ? text[..60] + "…" : text;

    private static string? NullIfEmpty(string text) => text.Length == 0 ? null : text;
}
