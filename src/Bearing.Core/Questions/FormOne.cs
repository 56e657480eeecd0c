namespace Bearing.Core.Questions;

/// <summary>
/// Questions between the first form and the one of kinds. What the first form holds beside what its kind can mean is lost on the
/// way; <see cref="FromKinds"/> of <see cref="ToKinds"/> shows it.
/// </summary>
public static class FormOne
{
    public static Question ToKinds(FormOneQuestion q) =>
        new(
            new Scope(q.Figure, q.Spans, q.Filters, q.Subject, q.Bases, q.Currency, q.Rates),
            new Layout(q.Breakdowns, q.Ranking, q.Conditions, q.Claim is null && q.ClaimOf == Quantifier.Every, q.Display),
            KindOf(q)
        );

    private static Kind KindOf(FormOneQuestion q)
    {
        var claim = q.Claim is { } direction ? new Claim(direction, q.ClaimOf, q.Than) : null;
        if (q.Intent == Intent.Entries)
            return new Kind.Entries(q.Document, q.Text, q.Listing);
        if (q.Records is { } records)
            return new Kind.Records(records, q.Listing);
        if (q.Projection is { } projection)
            return new Kind.Projected(projection, claim);
        if (q.Intent == Intent.Why)
            return new Kind.Why(q.Growth, claim);
        if (q.Intent == Intent.Bridge)
            return new Kind.Bridge();
        var of = new OfRows(q.Statistic, q.Share ? new Shares(q.Mix) : null, q.Part, claim, q.Cumulative);
        return q.Bases.IsEmpty ? new Kind.Values(of, q.Beside) : new Kind.Comparison(of, q.Growth);
    }

    public static FormOneQuestion FromKinds(Question question)
    {
        var ((figure, spans, filters, subject, bases, currency, rates), (rows, ranking, conditions, inEvery, display), kind) =
            question;
        var plain = new FormOneQuestion
        {
            Figure = figure,
            Spans = spans,
            Filters = filters,
            Subject = subject,
            Bases = bases,
            Currency = currency,
            Rates = rates,
            Breakdowns = rows,
            Ranking = ranking,
            Conditions = conditions,
            ClaimOf = inEvery ? Quantifier.Every : null,
            Display = display,
        };
        return kind.Match(
            values => With(plain with { Intent = Intent.Value, Beside = values.Beside }, values.Of),
            comparison => With(plain with { Intent = Intent.Variance, Growth = comparison.Growth }, comparison.Of),
            why => With(plain with { Intent = Intent.Why, Growth = why.Growth }, why.Claim),
            _ => plain with { Intent = Intent.Bridge },
            entries =>
            {
                var (document, text, listing) = entries;
                return plain with { Intent = Intent.Entries, Document = document, Text = text, Listing = listing };
            },
            records =>
            {
                var (ask, listing) = records;
                return plain with { Intent = Intent.Records, Records = ask, Listing = listing };
            },
            projected => With(plain with { Intent = Intent.Value, Projection = projected.By }, projected.Claim)
        );
    }

    private static FormOneQuestion With(FormOneQuestion plain, OfRows of)
    {
        var (statistic, shares, part, claim, cumulative) = of;
        return With(plain, claim) with
        {
            Statistic = statistic,
            Share = shares is not null,
            Mix = shares is { OfSides: true },
            Part = part,
            Cumulative = cumulative,
        };
    }

    private static FormOneQuestion With(FormOneQuestion plain, Claim? claim)
    {
        if (claim is null)
            return plain;
        var (direction, of, than) = claim;
        return plain with { Claim = direction, ClaimOf = of, Than = than };
    }
}
