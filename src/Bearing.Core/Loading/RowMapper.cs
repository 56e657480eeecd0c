using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Bearing.Core.Books;
using Bearing.Core.Reading;

namespace Bearing.Core.Loading;

/// <summary>A row of facts, mapped and checked.</summary>
/// <param name="Scenario">The scenario that its column names; empty for the one of the load.</param>
/// <param name="Members">Ids in the order of the book's dimensions.</param>
/// <param name="Amount">Credit-positive; statistics as given.</param>
public readonly record struct FactRow(
    int Row, string Scenario, Period Period, DateOnly? Date, string Document, string LineNumber, int[] Members, decimal Amount, decimal? Local, string? Currency, string Text);

/// <summary>A member that a ledger or plan brought along for a further dimension.</summary>
public sealed record NewMember(int Id, int DimensionId, string Code);

/// <summary>
/// Turns raw rows into facts by a mapping: one fact a row, or one for each amount column that holds something. Accounts and
/// entities must be known, by code, name or both in one cell; members of further dimensions are added unless the book
/// already has a list of them.
/// </summary>
public sealed class RowMapper
{
    private readonly Book _book;
    private readonly FileMapping _mapping;
    private readonly ImmutableArray<Dimension> _dimensions;
    private readonly string[] _roles;
    private readonly bool[] _listed;
    private readonly int _account;
    private readonly Dictionary<string, int>[] _found;
    private readonly Dictionary<(int, string), int> _added = [];
    private int _nextMember;
    private Layout _layout;
    private int[] _columns = [];
    private int _date, _period, _document, _line, _debit, _credit, _local, _currency, _text;

    /// <param name="nextMember">First id free for new members.</param>
    public RowMapper(Book book, FileMapping mapping, Layout layout, int nextMember)
    {
        (_book, _mapping, _nextMember) = (book, mapping, nextMember);
        _dimensions = book.Definition.Dimensions;
        _account = _dimensions.IndexOf(book.Accounts);
        _roles = [.. _dimensions.Select(RoleOf)];
        _listed = [.. _dimensions.Select(d => d.Role != DimensionRole.Other || book.MembersOf(d.Id).Any(m => m.Name != m.Code))];
        _found = [.. _dimensions.Select(_ => new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase))];
        _layout = layout;
        Use(layout);
    }

    public List<NewMember> NewMembers { get; } = [];

    /// <summary>Dimensions that the file keeps apart: those with a column.</summary>
    public ImmutableArray<int> KeptDimensions => _mapping.Kind == TableKind.Ledger ? [.. _dimensions.Select(d => d.Id)]
        : [.. _dimensions.Where((d, i) => _columns[i] >= 0 || d.Role != DimensionRole.Other).Select(d => d.Id)];

    /// <summary>The next sheet may have its columns elsewhere.</summary>
    public void Use(Layout layout)
    {
        _layout = layout;
        _columns = [.. _roles.Select(layout.IndexOf)];
        (_date, _period, _document, _line) = (layout.IndexOf("date"), layout.IndexOf("period"), layout.IndexOf("document"), layout.IndexOf("line"));
        (_debit, _credit, _local) = (layout.IndexOf("debit"), layout.IndexOf("credit"), layout.IndexOf("local"));
        (_currency, _text) = (layout.IndexOf("currency"), layout.IndexOf("text"));
    }

    /// <summary>Adds the facts of a row to <paramref name="into"/>, or says why the row cannot be placed and adds none.</summary>
    public Refusal? Map(RawRow raw, List<FactRow> into)
    {
        if (raw.Fields.Length != _layout.Width)
            return new Refusal(raw.Number, null, null, $"The row has {raw.Fields.Length} fields where the heading has {_layout.Width}.",
                "Check that the separator is the right one; then look for a missing quote or an extra separator in this row.");
        var date = DateOf(raw, out var refusal);
        if (refusal is not null) return refusal;
        if (_layout.Values.Length == 0) return TryDebitCredit(raw, out var net, out refusal) ? AddFact(raw, null, net, date, into) : refusal;
        var several = _layout.Values.Length > 1;
        var before = into.Count;
        foreach (var value in _layout.Values)
        {
            if (several && IsBlank(raw, value.Index)) continue;
            if (TryNumber(raw, value.Index, out var amount, out refusal)) refusal = AddFact(raw, value, amount * _mapping.Scale, date, into);
            if (refusal is null) continue;
            into.RemoveRange(before, into.Count - before);
            return refusal;
        }
        return null;
    }

    private static string RoleOf(Dimension dimension) => dimension.Role switch { DimensionRole.Account => "account", DimensionRole.Entity => "entity", _ => $"dimension:{dimension.Code}" };

    private Refusal? AddFact(RawRow raw, ValueColumn? value, decimal amount, DateOnly? date, List<FactRow> into)
    {
        if (!TryPeriod(raw, value, date, out var period, out var refusal) || !TryMembers(raw, value, amount, out var members, out refusal)) return refusal;
        if (decimal.Round(amount, 4) != amount) return new Refusal(raw.Number, value?.Heading, null, "The amount has more than four decimals.", "Round it in the source.");
        decimal? local = null;
        if (_local >= 0 && !IsBlank(raw, _local))
        {
            if (!TryNumber(raw, _local, out var given, out refusal)) return refusal;
            local = Signed(given, members);
        }
        var scenario = value?.Sets.GetValueOrDefault("scenario") ?? "";
        into.Add(new FactRow(raw.Number, scenario, period, date, Field(raw, _document), Field(raw, _line), members, Signed(amount, members), local, NullIfEmpty(Field(raw, _currency)), Field(raw, _text)));
        return null;
    }

    private DateOnly? DateOf(RawRow raw, out Refusal? refusal)
    {
        refusal = null;
        if (_date < 0) return null;
        if (raw.Typed?[_date] is DateOnly typed) return typed;
        var text = Field(raw, _date);
        if (text.Length == 0) return null;
        if (DateOnly.TryParseExact(text, _mapping.DateFormat ?? "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)) return day;
        refusal = Refuse(raw, _date, $"“{Shorten(text)}” is not a date of the form {_mapping.DateFormat ?? "yyyy-MM-dd"}.", "Correct the date.");
        return null;
    }

    private bool TryPeriod(RawRow raw, ValueColumn? value, DateOnly? date, out Period period, out Refusal? refusal)
    {
        (period, refusal) = (default, null);
        if (value?.Period is { } across)
        {
            period = across;
            return true;
        }
        if (_period < 0 || IsBlank(raw, _period))
        {
            if (date is not null) period = _book.Calendar.PeriodOf(date.Value);
            else refusal = Refuse(raw, _date >= 0 ? _date : _period, "The row has no date.", "Give every row a date or a period.");
            return refusal is null;
        }
        if (raw.Typed?[_period] is DateOnly day) period = _book.Calendar.PeriodOf(day);
        else if (!HeadingWords.TryPeriod(Field(raw, _period), _book.Calendar, _mapping.FiscalYear ?? (date is { } d ? _book.Calendar.PeriodOf(d).Year : null), _mapping.FiscalPeriods, out period))
            refusal = Refuse(raw, _period, $"“{Shorten(Field(raw, _period))}” is not a period.", "Write periods as 2026-09 (calendar month) or 2026-P09 (fiscal year and period).");
        return refusal is null;
    }

    private bool TryMembers(RawRow raw, ValueColumn? value, decimal amount, out int[] members, out Refusal? refusal)
    {
        members = new int[_dimensions.Length];
        refusal = null;
        for (var i = 0; i < _dimensions.Length; i++)
        {
            var dimension = _dimensions[i];
            var text = value?.Sets.GetValueOrDefault(_roles[i]) ?? (IsBlank(raw, _columns[i]) ? "" : Field(raw, _columns[i]));
            if (text.Length > 0 && TryFind(i, text, out var id)) members[i] = id;
            else if (text.Length == 0 && dimension.Role == DimensionRole.Other)
                members[i] = _columns[i] >= 0 || _mapping.Kind == TableKind.Ledger ? Member.Unassigned : Member.NotKept;
            else if (text.Length == 0) refusal = Refuse(raw, _columns[i], $"The row has no {dimension.Name.ToLowerInvariant()}.", $"Give every row its {dimension.Name.ToLowerInvariant()} code.");
            else if (_listed[i])
                refusal = Refuse(raw, _columns[i], $"{dimension.Name} “{Shorten(text)}” is not in the book.{Nearest(dimension, text)}",
                    $"Load the {dimension.Name.ToLowerInvariant()} list with it first, say in the mapping what it stands for, or correct it.") with
                { Amount = amount };
            else members[i] = Add(dimension, text);
            if (refusal is not null) return false;
        }
        return true;
    }

    /// <summary>By look-up, code, name or other name, or code and name in one cell. Each text is looked for once.</summary>
    private bool TryFind(int dimension, string text, out int id)
    {
        if (_found[dimension].TryGetValue(text, out id)) return id != 0;
        if (_mapping.LookUps.TryGetValue(_roles[dimension], out var lookUp) && lookUp.TryGetValue(text, out var meant) && meant != text) return TryFind(dimension, meant, out id);
        id = Find(_dimensions[dimension], text);
        _found[dimension][text] = id;
        return id != 0;
    }

    private int Find(Dimension dimension, string text)
    {
        if (_book.TryMember(dimension.Id, text, out var coded)) return coded.Id;
        var phrase = Words.Phrase(text);
        var named = _book.MembersOf(dimension.Id).Where(m => Words.Phrase(m.Name) == phrase || m.OtherNames.Any(n => Words.Phrase(n) == phrase)).Take(2).ToList();
        if (named.Count == 1) return named[0].Id;
        // "5010 Marine fuel": only where the rest is the name of the code's member.
        var space = text.IndexOf(' ', StringComparison.Ordinal);
        return space > 0 && _book.TryMember(dimension.Id, text[..space], out var both) && Words.Phrase(both.Name) == Words.Phrase(text[space..]) ? both.Id : 0;
    }

    private bool TryDebitCredit(RawRow raw, out decimal amount, out Refusal? refusal)
    {
        (amount, refusal) = (0m, null);
        var (debit, credit) = (0m, 0m);
        if (_debit >= 0 && !IsBlank(raw, _debit) && !TryNumber(raw, _debit, out debit, out refusal)) return false;
        if (_credit >= 0 && !IsBlank(raw, _credit) && !TryNumber(raw, _credit, out credit, out refusal)) return false;
        // Signed() turns debit-positive into credit-positive.
        amount = (debit - credit) * _mapping.Scale;
        return true;
    }

    private decimal Signed(decimal amount, int[] members)
    {
        var account = _book.Member(members[_account]);
        if (account.Account?.Type == AccountType.Statistic) return amount;
        return (_layout.Values.Length == 0 ? SignConvention.DebitPositive : _mapping.Sign) switch
        {
            SignConvention.DebitPositive => -amount,
            SignConvention.AsShown => amount * (account.Account?.ShownSign ?? 1),
            _ => amount,
        };
    }

    private bool TryNumber(RawRow raw, int column, out decimal value, out Refusal? refusal)
    {
        refusal = null;
        if (raw.Typed?[column] is decimal typed)
        {
            value = typed;
            return true;
        }
        var text = Field(raw, column);
        if (Numbers.TryRead(text, _mapping.DecimalComma, out value, out var because)) return true;
        refusal = Refuse(raw, column, $"“{Shorten(text)}” {because}.", "Correct the amount; write it without currency signs.");
        return false;
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
        // One digit off in a short code, two letters off in a long name.
        var most = Math.Max(1, Words.Tolerance(stem.Length));
        var near = _book.MembersOf(dimension.Id).Select(m => (m.Title, Distance: Math.Min(Words.Distance(Words.Stem(m.Code), stem, most), Words.Distance(Words.Stem(m.Name), stem, most))))
            .Where(m => m.Distance <= most).OrderBy(m => m.Distance).ThenBy(m => m.Title, StringComparer.Ordinal).Select(m => m.Title).Take(3).ToList();
        return near.Count == 0 ? "" : $" Nearest: {string.Join(", ", near)}.";
    }

    private Refusal Refuse(RawRow raw, int column, string because, string remedy) =>
        new(raw.Number, column >= 0 ? _layout.Heading.Fields[column].Trim() : null, column >= 0 ? Shorten(Field(raw, column)) : null, because, remedy);

    private bool IsBlank(RawRow raw, int column)
    {
        if (column < 0) return true;
        var text = raw.Fields[column];
        return string.IsNullOrWhiteSpace(text) || (text.Length < 8 && !char.IsAsciiDigit(text[0]) && _mapping.Blanks.Contains(text.Trim()));
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
