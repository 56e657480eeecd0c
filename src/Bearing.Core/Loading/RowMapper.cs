using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;

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
public sealed class RowMapper
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

    /// <summary>Whether the row has its amount in the local column alone; what is posted in the book's own currency lacks its
    /// amount then.</summary>
    private bool IsLocalOnly(RawRow raw) =>
        _local >= 0
        && !IsBlank(raw, _local)
        && IsBlank(raw, _debit)
        && IsBlank(raw, _credit)
        && _layout.Values.All(v => IsBlank(raw, v.Index))
        && !(_bothAmounts && Field(raw, _currency).Equals(_book.Definition.Currency, StringComparison.OrdinalIgnoreCase));

    private Refusal? AddFact(RawRow raw, ValueColumn? value, decimal amount, DateOnly? date, List<FactRow> into)
    {
        if (
            !TryPeriod(raw, value, date, out var period, out var refusal)
            || !TryMembers(raw, value, amount, out var members, out refusal)
        )
            return refusal;
        if (Unfit(raw, value?.Heading, amount) is { } unfit)
            return unfit;
        if (
            !TryLocal(raw, members, out var local, out refusal)
            || !TryCurrency(raw, value, members, local is not null, out var currency, out refusal)
        )
            return refusal;
        var scenario = value?.Sets.GetValueOrDefault("scenario") ?? "";
        var fact = new FactRow(
            raw.Number,
            scenario,
            period,
            date,
            Field(raw, _document),
            Field(raw, _line),
            members,
            Signed(amount, members),
            local,
            currency,
            Field(raw, _text),
            _json
        );
        if (local is null && currency is not null && currency != _book.Definition.Currency && Translation is { } translation)
        {
            if (translation.Find(scenario, period, currency, out var because) is not { } rate)
                return new Refusal(
                    raw.Number,
                    null,
                    null,
                    because,
                    "Load the rates of these months first, or say in the mapping by which set of rates this version is translated (rates), or in which currency the amounts are (currency)."
                );
            fact = fact with { Amount = rate.Translate(fact.Amount), Local = fact.Amount, Rate = rate };
            if (!Numbers.Fits(fact.Amount))
                return new Refusal(
                    raw.Number,
                    value?.Heading,
                    null,
                    $"Translated at {rate.Value}, the amount has more than 14 digits before the point.",
                    "Check the rate and the amount in the source."
                );
        }
        into.Add(fact);
        return null;
    }

    /// <summary>The local amount that a file has beside the book's; null where it has none.</summary>
    private bool TryLocal(RawRow raw, int[] members, out decimal? local, out Refusal? refusal)
    {
        (local, refusal) = (null, null);
        if (!_bothAmounts || IsBlank(raw, _local) || IsLocalOnly(raw))
            return true;
        if (!TryNumber(raw, _local, out var given, out refusal))
            return false;
        refusal = Unfit(raw, _layout.Heading.Fields[_local].Trim(), given);
        local = Signed(given, members);
        return refusal is null;
    }

    /// <summary>
    /// In which currency a row's one amount stands, or its local one: as its column says, then the mapping, then the row, then
    /// its entity. Null for quantities.
    /// </summary>
    private bool TryCurrency(
        RawRow raw,
        ValueColumn? value,
        int[] members,
        bool hasBoth,
        out string? currency,
        out Refusal? refusal
    )
    {
        (currency, refusal) = (null, null);
        var written = Field(raw, _currency);
        if (_book.Member(members[_account]).Account?.Type == AccountType.Statistic)
        {
            currency = NullIfEmpty(written);
            return true;
        }
        var text = written;
        if (!hasBoth && !(_bothAmounts && IsLocalOnly(raw)))
            text = value?.Sets.GetValueOrDefault("currency")
                ?? (
                    _mapping.Currency is { } said
                        ? said == FileMapping.LocalCurrency
                            ? written
                            : said
                        : _headingCurrency ?? (_bothAmounts ? _book.Definition.Currency : written)
                );
        if (_mapping.LookUps.TryGetValue("currency", out var lookUp) && lookUp.TryGetValue(text, out var meant))
            text = meant;
        if (text.Length == 0 || _mapping.Blanks.Contains(text))
            currency = OfEntity(members, assumed: !hasBoth && _mapping.Currency is null && _local < 0);
        else if (text.Length == 3 && text.All(char.IsAsciiLetter))
            currency = text.ToUpperInvariant();
        else
            refusal = new Refusal(
                raw.Number,
                _currency < 0 ? null : _layout.Heading.Fields[_currency].Trim(),
                Shorten(text),
                $"“{Shorten(text)}” is not a currency code.",
                "Use the three letters of ISO 4217, or say in the mapping what it stands for (look-ups of currency)."
            );
        // What is in the book's own currency needs no mark where the file has none.
        if (currency == _book.Definition.Currency && written.Length == 0)
            currency = null;
        return refusal is null;
    }

    private string OfEntity(int[] members, bool assumed)
    {
        var entity = members[_entity];
        if (!_currencyOf.TryGetValue(entity, out var currency))
            _currencyOf[entity] = currency = _book.CurrencyOf(_book.Member(entity));
        if (assumed && currency != _book.Definition.Currency)
            TakenAsLocal[entity] = currency;
        return currency;
    }

    /// <summary>What no column of the book can keep exactly: typed numbers of workbooks, and what the scale made of a
    /// number.</summary>
    private static Refusal? Unfit(RawRow raw, string? heading, decimal amount) =>
        amount.Scale > 4 && decimal.Round(amount, 4) != amount
            ? new Refusal(raw.Number, heading, null, "The amount has more than four decimals.", "Round it in the source.")
        : !Numbers.Fits(amount)
            ? new Refusal(
                raw.Number,
                heading,
                null,
                "The amount has more than 14 digits before the point.",
                "Check the scale that the mapping says, and the amount in the source."
            )
        : null;

    private DateOnly? DateOf(RawRow raw, out Refusal? refusal)
    {
        refusal = null;
        if (_date < 0)
            return null;
        if (raw.Typed?[_date] is DateOnly typed)
            return typed;
        var text = Field(raw, _date);
        if (text.Length == 0)
            return null;
        // A ledger has few days and many lines of each.
        if (_days.TryGetValue(text, out var day))
            return day;
        if (
            DateOnly.TryParseExact(
                text,
                _mapping.DateFormat ?? "yyyy-MM-dd",
                CultureInfo.InvariantCulture,
                DateTimeStyles.None,
                out day
            ) || TryOtherwise(text, out day)
        )
        {
            if (_days.Count < MostDays)
                _days[text] = day;
            return day;
        }
        refusal = Refuse(
            raw,
            _date,
            $"“{Shorten(text)}” is not a date of the form {_mapping.DateFormat ?? "yyyy-MM-dd"}.",
            "Correct the date."
        );
        return null;
    }

    /// <summary>A day written shorter or with other marks than the rest, in the same order of day and month, or as the number
    /// that workbooks keep of it.</summary>
    private bool TryOtherwise(string text, out DateOnly day)
    {
        if (
            text.Length == 5
            && int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var serial)
            && serial is > 20_000 and < 80_000
        )
        {
            day = DateOnly.FromDateTime(DateTime.FromOADate(serial));
            return true;
        }
        return DateOnly.TryParseExact(
            text,
            _mapping.DateFormat?.TrimStart()[0] == 'M' ? MonthFirst : DayFirst,
            CultureInfo.InvariantCulture,
            DateTimeStyles.None,
            out day
        );
    }

    private static readonly string[] DayFirst = ["yyyy-M-d", "d.M.yyyy", "d.M.yy", "d/M/yyyy", "d/M/yy", "d-M-yyyy"];
    private static readonly string[] MonthFirst = ["yyyy-M-d", "M/d/yyyy", "M/d/yy", "M-d-yyyy"];

    private bool TryPeriod(RawRow raw, ValueColumn? value, DateOnly? date, out Period period, out Refusal? refusal)
    {
        (period, refusal) = (default, null);
        if ((value?.Period ?? _mapping.FixedPeriod) is { } across)
        {
            period = across;
            return true;
        }
        if (_period < 0 || IsBlank(raw, _period))
        {
            if (date is not null)
                period = _book.Calendar.PeriodOf(date.Value);
            else
                refusal = Refuse(raw, _date >= 0 ? _date : _period, "The row has no date.", "Give every row a date or a period.");
            return refusal is null;
        }
        var year = _mapping.FiscalYear ?? FiscalYearOf(raw) ?? (date is { } d ? _book.Calendar.PeriodOf(d).Year : null);
        if (raw.Typed?[_period] is DateOnly day)
            period = _book.Calendar.PeriodOf(day);
        else if (HeadingWords.TryAdjustment(Field(raw, _period), year, out period))
            MarkAdjustment();
        else if (
            !HeadingWords.TryPeriod(Field(raw, _period), _book.Calendar, year, _mapping.FiscalPeriods, out period)
            && !(_fiscalYear >= 0 && HeadingWords.TryNumber(Field(raw, _period), year, out period))
        )
            refusal = Refuse(
                raw,
                _period,
                $"“{Shorten(Field(raw, _period))}” is not a period.",
                "Write periods as 2026-09 (calendar month) or 2026-P09 (fiscal year and period)."
            );
        return refusal is null;
    }

    private int? FiscalYearOf(RawRow raw) =>
        _fiscalYear >= 0 && HeadingWords.TryFiscalYear(Field(raw, _fiscalYear), out var year) ? year : null;

    private void MarkAdjustment()
    {
        Adjustments++;
        var mark = $"\"{Adjustment.Code}\":\"period 13\"";
        _json = _json is null or "{}" ? $"{{{mark}}}" : $"{_json[..^1]},{mark}}}";
    }

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

    private bool TryDebitCredit(RawRow raw, out decimal debit, out decimal credit, out Refusal? refusal)
    {
        (debit, credit, refusal) = (0m, 0m, null);
        if (_debit >= 0 && !IsBlank(raw, _debit) && !TryNumber(raw, _debit, out debit, out refusal))
            return false;
        if (_credit >= 0 && !IsBlank(raw, _credit) && !TryNumber(raw, _credit, out credit, out refusal))
            return false;
        if (debit != 0m && credit != 0m)
            BothSides.Add(raw.Number);
        // Signed() turns debit-positive into credit-positive.
        (debit, credit) = (debit * _mapping.Scale, credit * _mapping.Scale);
        return true;
    }

    private decimal Signed(decimal amount, int[] members)
    {
        var account = _book.Member(members[_account]);
        if (account.Account?.Type == AccountType.Statistic)
            return amount;
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
        if (Numbers.TryRead(text, _mapping.DecimalComma, out value, out var because))
            return true;
        refusal = HoldsCurrency(text)
            ? Refuse(
                raw,
                column,
                $"“{Shorten(text)}” holds a currency beside the amount.",
                "Put currencies into a column of their own, so that amounts in different ones are told apart."
            )
            : Refuse(raw, column, $"“{Shorten(text)}” {because}.", "Correct the amount.");
        return false;
    }

    private static bool HoldsCurrency(string text) =>
        text.Any(c => char.GetUnicodeCategory(c) == UnicodeCategory.CurrencySymbol) || text.Split(' ').Any(CurrencyCode.IsKnown);

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

    /// <summary>Trimmed, in one Unicode form and without control characters, so that equal text is equal in every
    /// store.</summary>
    internal static string Clean(string field)
    {
        // Nearly all fields are plain ASCII, and most of those have nothing to trim.
        if (field.Length > 0 && field[0] != ' ' && field[^1] != ' ' && !field.AsSpan().ContainsAnyExceptInRange(' ', '~'))
            return field;
        var text = field.Trim();
        text = UnicodeForm.Compose(text);
        return text.Any(char.IsControl) ? new string([.. text.Select(c => char.IsControl(c) ? ' ' : c)]) : text;
    }

    private static string Shorten(string text) => text.Length > 60 ? text[..60] + "…" : text;

    private static string? NullIfEmpty(string text) => text.Length == 0 ? null : text;
}
