using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Loading;

public sealed partial class RowMapper
{
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
}
