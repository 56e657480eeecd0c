using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Store;

namespace Bearing.Core.Variance;

/// <summary>
/// What cells count in the currency, and at the rates, that are asked for. Income, costs and equity count as they were translated
/// line by line; a balance of assets or liabilities that Bearing translated is its local balance at the closing rate of the date
/// shown, never a sum of movements each at a rate of its own. Nothing is rounded here.
/// </summary>
internal sealed class Valuation
{
    private readonly Book _book;
    private readonly SidePlan _side;
    private readonly RateBasis _basis;
    private readonly bool _isMoney;
    private readonly bool _isBalance;
    private readonly string? _into;
    private readonly string? _at;

    /// <summary>Place of the accounts among the dimensions that the cells are grouped by; below zero where their types do not
    /// matter.</summary>
    private readonly int _account;

    /// <param name="groupBy">Dimensions by which the rows of the table need the cells.</param>
    public Valuation(Book book, Question question, SidePlan side, SumFigure part, ImmutableArray<int> groupBy)
    {
        (_book, _side) = (book, side);
        _isMoney = part.Unit == book.Definition.Currency;
        _isBalance = part.OverTime == OverTime.Closing;
        (_into, _at) = _isMoney ? (question.Scope.Currency, question.Scope.Rates) : (null, null);
        var scenario = book.Definition.Scenarios.First(s => s.Versions.Contains(side.Version!));
        _basis = RateBasis.Of(scenario, side.Version!);
        ByCurrency = _isMoney && (_into is not null || _at is not null || _isBalance) && !book.Currencies.IsEmpty;
        ByPeriod = ByCurrency && !_isBalance;
        _account = groupBy.IndexOf(book.Accounts.Id);
        GroupBy = groupBy;
        if (ByCurrency && _isBalance && _account < 0)
            (GroupBy, _account) = (groupBy.Add(book.Accounts.Id), groupBy.Length);
    }

    public bool ByCurrency { get; }

    /// <summary>Whether cells have to be kept apart by period, since each has a rate of its own.</summary>
    public bool ByPeriod { get; }

    /// <summary>By what cells have to be grouped: as the rows need it, and by account where its type decides.</summary>
    public ImmutableArray<int> GroupBy { get; }

    /// <summary>What was done to the amounts, in words, for whoever reads the answer.</summary>
    public SortedSet<string> Notes { get; } = new(StringComparer.Ordinal);

    /// <param name="shown">The stored period at whose end a balance is shown.</param>
    public decimal Of(CellSum cell, int shown)
    {
        if (!ByCurrency)
            return cell.Amount;
        var period = Period.FromOrdinal(_isBalance ? shown : cell.Period);
        if (_at is null && cell.Currency is { } own && own == _into)
        {
            Notes.Add($"Amounts that were posted in {_into} are as they were posted.");
            return cell.Local;
        }
        var home = Home(cell, period);
        return _into is null ? home : Into(home, period);
    }

    /// <summary>In the book's currency.</summary>
    private decimal Home(CellSum cell, Period period)
    {
        if (cell.Currency is not { } currency)
            return cell.Amount;
        if (_at is { } set)
            return At(set, currency, period).ToHome(cell.Local);
        if (
            !_isBalance
            || !cell.Translated
            || _book.Member(cell.Members[_account]).Account?.Type is not (AccountType.Asset or AccountType.Liability)
        )
            return cell.Amount;
        var rate = Closing(_basis.SetAt(_book, period), currency, period);
        Notes.Add(
            $"Balances in {currency} are translated at the closing rate of {_book.Calendar.NameOf(period)}, {Quoted(rate)}; what that changes is the figure “{Book.TranslationDifferenceName}”."
        );
        return rate.ToHome(cell.Local);
    }

    private decimal Into(decimal home, Period period)
    {
        var set = _at is null ? _basis.SetAt(_book, period) : SetOf(_at);
        var rate =
            _at is { } asked ? At(asked, _into!, period)
            : _isBalance ? Closing(set, _into!, period)
            : Average(set, _into!, period);
        Notes.Add(
            _isBalance
                ? $"Other amounts are converted from {_book.Definition.Currency} at the closing rate of {_book.Calendar.NameOf(period)}, {Quoted(rate)}."
                : $"Other amounts are converted from {_book.Definition.Currency} at the {(set == RateBasis.Actual ? "average" : set)} rate of each month."
        );
        return rate.ToForeign(home);
    }

    /// <summary>The rate of a named set, of the subject's month: last year's amounts at this year's budget rates take those of
    /// the same month of this year.</summary>
    private Rate At(string asked, string currency, Period period)
    {
        var set = SetOf(asked);
        var of = period.AddMonths(_side.Shift - (asked == Scope.PriorYearRates ? 12 : 0));
        var rate = _isBalance ? Closing(set, currency, of) : Average(set, currency, of);
        Notes.Add($"Amounts posted in other currencies are translated at {Scope.NameOfRates(asked)}.");
        return rate;
    }

    private static string SetOf(string asked) => asked == Scope.PriorYearRates ? RateBasis.Actual : asked;

    private Rate Average(string set, string currency, Period period) =>
        _book.Rate(period, currency, RateKind.Average, set) ?? throw Lacking("average", set, currency, period);

    /// <summary>A set of plan rates may have one rate for everything.</summary>
    private Rate Closing(string set, string currency, Period period) =>
        _book.Rate(period, currency, RateKind.Closing, set)
        ?? (set == RateBasis.Actual ? null : _book.Rate(period, currency, RateKind.Average, set))
        ?? throw Lacking("closing", set, currency, period);

    private CannotAnswerException Lacking(string kind, string set, string currency, Period period) =>
        new(
            $"There is no {kind} rate of {currency} for {_book.Calendar.NameOf(period)}{(set == RateBasis.Actual ? "" : $" among the {set} rates")}, and amounts in different currencies do not add up without one. Load it, or ask for one currency."
        );

    private string Quoted(Rate rate) =>
        FormattableString.Invariant(
            $"{rate.Value:0.0#######} {(rate.Quotation == Quotation.ForeignPerHome ? $"{rate.Currency} for one {_book.Definition.Currency}" : $"{_book.Definition.Currency} for one {rate.Currency}")}"
        );
}
