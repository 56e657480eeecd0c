using System.Collections.Immutable;
using System.Globalization;
using System.Text.RegularExpressions;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Store;

namespace Bearing.Core.Answering;

internal sealed partial class RecordAnswerer
{
    /// <summary>
    /// The ledger's lines gathered by document. Whether a document balances, and whether a number is missing, shows only where
    /// all lines of all months are seen: then the question's months and members pick documents, not lines. Amount is the sum of a
    /// document's debits, or of the figure's lines where one was named.</summary>
    private async ValueTask<List<Item>> Journals(CancellationToken cancel)
    {
        if (Scoping.Stored(book, question.Scope.Subject, question.Scope.Spans[0]) is not { } stored)
            throw new CannotAnswerException(
                $"The book has no {book.NameOf(question.Scope.Subject)} entries for {book.Calendar.NameOf(question.Scope.Spans[0])}."
            );
        var whole = _ask.Tests.Any(t => t.Kind is RecordTestKind.Unbalanced or RecordTestKind.MissingNumber);
        var asked = Scoping.Filters(book, question.Scope.Filters);
        if (
            _ask.OfFigure
            && (book.Figure(question.Scope.Figure) as SumFigure ?? (book.Figure(question.Scope.Figure) as PairFigure)?.Posted)
                is { } sum
        )
            asked = asked.Add(Scoping.Accounts(book, sum));
        var filters = whole ? [] : asked;
        // Statistics are kept as lines too, and are no journals.
        var statistics = book.MembersOf(book.Accounts.Id)
            .Where(m => m.Account?.Type == AccountType.Statistic)
            .Select(m => m.Id)
            .ToImmutableHashSet();
        if (!statistics.IsEmpty)
            filters = filters.Add(new MemberFilter(book.Accounts.Id, statistics, true));
        var documents = new Dictionary<(int, string), List<Line>>();
        string? cursor = null;
        do
        {
            var page = await facts.Lines(
                new LineQuery(
                    stored.Version.Id,
                    whole ? stored.Version.Coverage?.Span ?? stored.Span : stored.Span,
                    filters,
                    LineOrder.AsLoaded,
                    PageSize,
                    cursor
                ),
                cancel
            );
            if (page.Count > MostRead)
                throw TooMany(page.Count, "the ledger");
            foreach (var line in page.Lines)
            {
                var key = (line.Document.Length == 0 ? line.Row : 0, line.Document.Length == 0 ? $"{line.Load}" : line.Document);
                if (!documents.TryGetValue(key, out var lines))
                    documents[key] = lines = [];
                lines.Add(line);
            }
            cursor = page.Next;
        } while (cursor is not null);
        bool IsAsked(Line line) =>
            line.Period >= stored.Span.From.Ordinal
            && line.Period <= stored.Span.To.Ordinal
            && asked.All(f =>
                f.Members.Contains(line.Members[book.Definition.Dimensions.IndexOf(book.Dimension(f.Dimension))]) != f.Exclude
            );
        return [.. documents.Values.Select(lines => Journal(lines, !whole || lines.Exists(IsAsked)))];
    }

    private Item Journal(List<Line> lines, bool asked)
    {
        var first = lines[0];
        var debits = lines.Where(l => l.Amount < 0).Sum(l => -l.Amount);
        var shown = _ask.OfFigure || debits == 0m ? Math.Abs(lines.Sum(l => l.Amount)) : debits;
        var fields = first.Fields.ToBuilder();
        foreach (var line in lines.Skip(1))
        foreach (var (code, text) in line.Fields)
            if (!fields.TryGetValue(code, out var known) || known.Length == 0)
                fields[code] = text;
        fields[RecordAsk.Document] = first.Document;
        if (first.Date is { } date)
            fields[RecordAsk.Date] = date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        fields[RecordAsk.Amount] = Text(shown);
        fields[RecordAsk.Text] = lines.Select(l => l.Text).FirstOrDefault(t => t.Length > 0) ?? "";
        var entity = book.Definition.Dimensions.IndexOf(book.Entities);
        var level = _ask.By.FirstOrDefault(g => g.Field == book.Entities.Code)?.Level;
        fields[book.Entities.Code] = string.Join(
            ", ",
            lines.Select(l => At(l.Members[entity], book.Entities, level)).Distinct().Take(3)
        );
        return new Item(first.Load, first.Row, fields.ToImmutable(), lines.Sum(l => l.Amount), asked)
        {
            Texts = [.. lines.Select(l => l.Text)],
            Period = first.Period,
            Whose = string.Join(
                ' ',
                first.Members.Where((_, i) => book.Definition.Dimensions[i] != book.Accounts).Prepend(first.Period)
            ),
        };
    }

    /// <summary>Of the same month, members and amount, and of the same day or naming the same reference: a rent that comes every
    /// month is none, and neither are two fees that only cost the same.</summary>
    private static List<Item> TwiceBooked(List<Item> items)
    {
        static IEnumerable<string> References(Item item) =>
            item
                .Texts.SelectMany(t => t.Split(' ', StringSplitOptions.RemoveEmptyEntries))
                .Where(w => w.Length >= ShortestReference && w.Any(char.IsDigit));
        static bool IsSame(Item one, Item other) =>
            one != other && (one[RecordAsk.Date] == other[RecordAsk.Date] || References(one).Intersect(References(other)).Any());
        return
        [
            .. items
                .GroupBy(i => (i.Whose, i.Number(RecordAsk.Amount)))
                .Where(g => g.Key.Item2 != 0m && g.Skip(1).Any())
                .SelectMany(g => g.Where(i => g.Any(o => IsSame(i, o)))),
        ];
    }

    /// <summary>Of the same party and amount, and of the same day or of a number that differs in its marks only.</summary>
    private List<Item> Twice(List<Item> items)
    {
        if (_ask.Table == Table.Ledger)
            return TwiceBooked(items);
        var table = book.Table(_ask.Table);
        var (key, day) = (
            table?.Fields.FirstOrDefault(f => f.Type == FieldType.Key)?.Code,
            table?.Fields.FirstOrDefault(f => f.Type == FieldType.Date)?.Code
        );
        var party = table?.Fields.FirstOrDefault(f => f.Type == FieldType.Member && f.Dimension != book.Entities.Code)?.Code
            ?? table?.Fields.FirstOrDefault(f => f.Type == FieldType.Text)?.Code;
        static string Bare(string? number) => new([.. (number ?? "").Where(char.IsLetterOrDigit).Select(char.ToUpperInvariant)]);
        return
        [
            .. items
                .GroupBy(i => (i[party], i.Number(_ask.Sum)))
                .Where(g => g.Key.Item2 != 0m && g.Skip(1).Any())
                .SelectMany(g =>
                    g.Where(i => g.Any(o => o != i && ((day is not null && o[day] == i[day]) || Bare(o[key]) == Bare(i[key]))))
                ),
        ];
    }

    /// <summary>Numbers left out between the first and the last of each run of documents that are numbered on.</summary>
    private RecordTable Missing(List<Item> items)
    {
        var runs = items
            .Select(i => (Match: Numbered().Match(i[RecordAsk.Document] ?? ""), i.Asked))
            .Where(m => m.Match.Success)
            .GroupBy(m => (Prefix: m.Match.Groups[1].Value, m.Match.Groups[2].Length))
            .Where(g => g.Key.Prefix.Length > 0 && g.Count(m => m.Asked) > 1);
        var missing = new List<string>();
        foreach (var run in runs)
        {
            var numbers = run.Select(m => (Number: long.Parse(m.Match.Groups[2].Value, CultureInfo.InvariantCulture), m.Asked))
                .ToList();
            var have = numbers.Select(n => n.Number).ToHashSet();
            var (first, last) = (numbers.Where(n => n.Asked).Min(n => n.Number), numbers.Where(n => n.Asked).Max(n => n.Number));
            // A run with more holes than numbers is not numbered on.
            if (last - first + 1 > have.Count(n => n >= first && n <= last) * 2L)
                continue;
            for (var n = first; n <= last && missing.Count < MostGapsTold; n++)
                if (!have.Contains(n))
                    missing.Add(run.Key.Prefix + n.ToString(CultureInfo.InvariantCulture).PadLeft(run.Key.Length, '0'));
        }
        return new RecordTable(
            [new(RecordAsk.Document, "Missing document", FieldType.Key)],
            [.. missing.Select(m => Row([m]))],
            [("Documents", items.Count(i => i.Asked)), ("Missing numbers", missing.Count)],
            missing.Count
        );
    }
}
