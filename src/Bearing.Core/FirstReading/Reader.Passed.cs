using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

public sealed partial class FirstReader
{
    /// <summary>Kinds of words that say something wherever they stand: what reads the same without one has passed it over.</summary>
    private static bool Says(Mention mention, Question question) =>
        mention switch
        {
            // Journals are posted, and lists of them say by whom.
            { Kind: MentionKind.Field } => question.Kind is not Kind.Records,
            { Kind: MentionKind.Member, Partial: false } => true,
            _ when IsNoSplit(mention, question) => true,
            // Up, down and out belong to many verbs; better and worse do not.
            { Kind: MentionKind.Gap, Value: "good" or "bad" or "improved" or "worsened" } => true,
            { Kind: MentionKind.Exclude, Value: not ("exclude" or "drop" or "excluded") } => false,
            _ => mention.Kind
                is MentionKind.Not
                    or MentionKind.Exclude
                    or MentionKind.Rank
                    or MentionKind.Ordinal
                    or MentionKind.Percent
                    or MentionKind.Check
                    or MentionKind.Value
                    or MentionKind.Records
                    or MentionKind.Further,
        };

    /// <summary>A level beside records that are not gathered splits nothing: "group bookings" are of some kind.</summary>
    private static bool IsNoSplit(Mention mention, Question question) =>
        mention is { Kind: MentionKind.Level, Length: 1 } && question.Kind is Kind.Records { Ask.By.IsEmpty: true };

    /// <param name="shared">Periods to take where the text names none; empty for the usual ones.</param>
    public ReadResult Read(string text, Previous? previous = null, ImmutableArray<PeriodSpan> shared = default)
    {
        var read = Whole(text, previous, shared);
        if (read is not { Outcome: ReadingOutcome.Understood, Question: { } question, Reading: { } reading })
            return read;
        if (PassesOverWho(text, question))
            return Cannot(
                $"Entries of this book do not tell who booked them; beside date, document, amount and text they have {string.Join(", ", book.Definition.Dimensions.Select(d => d.Name).Concat(book.Table(Table.Ledger)?.Fields.Select(f => f.Name) ?? []).Select(n => n.ToLowerInvariant()))}."
            );
        if (HoldsListAgainst(text) is { } list)
            return Cannot(
                $"{list} is a list, and a list is not held against an account here. Ask for what is open in the list and for the balance of the account, each for itself."
            );
        if (previous is not null && ChangesToList(text, question, previous) is { } other)
            return Cannot(
                $"{other} is another list than what the talk is about, and is not named. Name it where it is meant, as in “{other.ToLowerInvariant()}” and what of them."
            );
        if (previous is not null && PointsInVain(text, question.ToKinds(), t => Whole(t, previous, shared)) is { } pointed)
            return Cannot($"“{pointed}” points at something that was shown, and it is not known which. Name it.");
        var passed = Passed(text, reading, question.ToKinds(), t => Whole(t, previous, shared));
        return passed.Length == 0 ? read : read with { Reading = reading with { Unused = [.. reading.Unused, .. passed] } };
    }

    /// <summary>From figures to a list of which only a state was said, such as late: the list's name.</summary>
    private string? ChangesToList(string text, FormOneQuestion question, Previous previous)
    {
        if (
            question.ToKinds().Kind is not Kind.Records { Ask.Table: not Table.Ledger } records
            || previous.Question.ToKinds().Kind is Kind.Records
        )
            return null;
        var found = new MentionFinder(vocabulary, book, words).Find(Words.Tokens(text));
        var states = found.FindAll(m => m is { Kind: MentionKind.Check, Value: "late" or "overdue" });
        var named = found.Exists(m => m.Kind is MentionKind.Records or MentionKind.Field or MentionKind.Value);
        return states.Count > 0 && !named ? book.Table(records.Ask.Table)?.Name : null;
    }

    /// <summary>"That account", without which the question is the same.</summary>
    private string? PointsInVain(string text, Question question, Func<string, ReadResult> again)
    {
        var tokens = Words.Tokens(text);
        var found = new MentionFinder(vocabulary, book, words).Find(tokens);
        return found
            .Where(m => m is { Kind: MentionKind.Row, Value: "that" or "those", Length: 1 })
            .Select(m =>
                found.Find(l => l.Kind == MentionKind.Level && l.Start == m.End) is { } level ? (m.Start, level.End) : default
            )
            .Where(p => p.End > 0)
            .Select(p => (From: tokens[p.Start].Start, To: tokens[p.End - 1].Start + tokens[p.End - 1].Text.Length))
            .Where(p => again(text.Remove(p.From, p.To - p.From)).Question?.ToKinds() == question)
            .Select(p => text[p.From..p.To])
            .FirstOrDefault();
    }

    /// <summary>The role of the field that says who booked an entry.</summary>
    private const string Preparer = "preparer";

    /// <summary>"Does the list agree with the account": the list's name where only the list, or only the account, was
    /// taken.</summary>
    private string? HoldsListAgainst(string text)
    {
        var found = new MentionFinder(vocabulary, book, words).Find(Words.Tokens(text));
        return
            found.Find(m => m is { Kind: MentionKind.Compare, Value: "same" }) is { } same
            && found.Find(m => m.Kind == MentionKind.Records && book.Table(m.Value) is not null) is { } list
            && book.Table(list.Value) is { } table
            && found.Exists(m =>
                m is { Kind: MentionKind.Figure, Partial: false } && (m.Start >= same.End) != (list.Start >= same.End)
            )
            ? table.Name
            : null;
    }

    /// <summary>"Who booked the largest", of lines without a column that says it.</summary>
    private bool PassesOverWho(string text, FormOneQuestion question) =>
        question.ToKinds().Kind is Kind.Entries { Listing: null or { Columns.IsEmpty: true } }
        && RecordWords.FieldOf(book.Table(Table.Ledger)?.Fields ?? [], vocabulary, Preparer) is null
        && new MentionFinder(vocabulary, book, words)
            .Find(Words.Tokens(text))
            .Exists(m => m is { Kind: MentionKind.Which, Value: "who" });

    /// <summary>Words that no part of the reading names, that say something, and without which the question is the same.</summary>
    private ImmutableArray<string> Passed(string text, Reading.Reading reading, Question question, Func<string, ReadResult> again)
    {
        var tokens = Words.Tokens(text);
        var named = reading
            .Parts.SelectMany(p => Words.Tokens(p.Words))
            .Concat(reading.Unused.SelectMany(u => Words.Tokens(u)))
            .Select(t => t.Stem)
            .ToHashSet();
        var found = new MentionFinder(vocabulary, book, words).Find(tokens);
        return
        [
            .. tokens
                .Where(
                    (t, at) =>
                        (!named.Contains(t.Stem) || found.Any(m => m.Start == at && IsNoSplit(m, question)))
                        // A part of a phrase says what the phrase says.
                        && !found.Any(m => m.Length > 1 && m.Start <= at && m.End > at && m.Kind != MentionKind.Filler)
                        && found.Any(m => m.Start == at && m.Length == 1 && Says(m, question))
                )
                .Where(t => again(text.Remove(t.Start, t.Text.Length)).Question?.ToKinds() == question)
                .Select(t => t.Text),
        ];
    }
}
