using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Data.Formats;

namespace Bearing.Data.Facts.Duck;

internal sealed partial class FactLoad
{
    /// <summary>
    /// Documents have to add up to zero, where the file is one of whole journals: the mapping says so, or most of its documents
    /// do.
    /// </summary>
    private void RefuseUnbalanced()
    {
        if (command.Mapping.Kind != TableKind.Ledger || command.Mapping.Balanced == false || _order.AllBalance)
            return;
        // What was translated adds up as it was posted, in each of its currencies.
        var nets = _order.AnyTranslated
            ? $"""
                SELECT q.document, CAST(sum(CASE WHEN p.currency IS NULL THEN q.amount ELSE q.local_amount END) AS DECIMAL(38,4)) AS net, min(q.row) AS first, p.currency
                  FROM postings q JOIN parts p USING (part) WHERE part >= {_firstPart} AND q.document <> ''
                  GROUP BY q.document, p.currency
                """
            : $"""
                SELECT document, CAST(sum(amount) AS DECIMAL(38,4)) AS net, min(row) AS first, NULL AS currency
                  FROM postings WHERE part >= {_firstPart} AND document <> '' GROUP BY document
                """;
        var (documents, off) = DuckStore.Rows(
            connection,
            $"SELECT count(*), count(*) FILTER (net <> 0) FROM ({nets}) ORDER BY 1",
            r => (r.GetInt64(0), r.GetInt64(1))
        )[0];
        _documents = documents;
        if (off == 0 || (command.Mapping.Balanced is null && off * 2 >= documents))
            return;
        foreach (
            var (row, document, net, currency) in DuckStore.Rows(
                connection,
                $"""
                SELECT l.row, l.document, d.net, d.currency FROM postings l JOIN (SELECT * FROM ({nets}) WHERE net <> 0
                  ORDER BY first LIMIT {MostDocumentsTold}) d USING (document) WHERE l.part >= {_firstPart}
                  ORDER BY d.first, l.row
                """,
                r => (r.GetInt32(0), r.GetString(1), r.GetDecimal(2), r.IsDBNull(3) ? "" : r.GetString(3) + " ")
            )
        )
            _table.Refusals.Add(
                new Refusal(
                    row,
                    null,
                    document,
                    FormattableString.Invariant(
                        $"Document {document} does not balance: its {(net < 0 ? "debits exceed its credits" : "credits exceed its debits")} by {currency}{Math.Abs(net):0.00}."
                    ),
                    "Correct the document in the source, or say in the mapping that documents need not balance."
                )
            );
    }

    /// <summary>After a first refusal no facts come in; whether documents balance is watched here, so that all of it is told at
    /// once.</summary>
    private readonly Dictionary<string, (decimal Net, int Row, bool Broken)> _watched = [];
    private const int MostWatched = 100_000;

    private void Watch(int row, string document, List<FactRow> facts)
    {
        if (
            document.Length == 0
            || command.Mapping.Kind != TableKind.Ledger
            || command.Mapping.Balanced == false
            || (_watched.Count >= MostWatched && !_watched.ContainsKey(document))
        )
            return;
        var (net, first, broken) = _watched.GetValueOrDefault(document, (0m, row, false));
        // A document with a refused row, or in several currencies, adds up to nothing that could be judged.
        broken |= facts.Count == 0 || facts.Exists(f => f.Rate is not null);
        _watched[document] = (net + facts.Sum(f => f.Amount), first, broken);
    }

    private void RefuseUnbalancedToo()
    {
        if (_watched.Count == 0)
            return;
        var before = DuckStore
            .Rows(
                connection,
                $"""
                SELECT document, CAST(sum(amount) AS DECIMAL(38,4)), min(row) FROM postings WHERE part >= {_firstPart}
                  AND document <> '' GROUP BY document
                """,
                r => (Document: r.GetString(0), Net: r.GetDecimal(1), Row: r.GetInt32(2))
            )
            .ToDictionary(b => b.Document);
        var nets = _watched
            .Where(w => !w.Value.Broken)
            .Select(w => (Document: w.Key, Net: w.Value.Net + before.GetValueOrDefault(w.Key).Net, w.Value.Row))
            .Concat(before.Values.Where(b => !_watched.ContainsKey(b.Document)))
            .ToList();
        var off = nets.Where(n => n.Net != 0m).OrderBy(n => n.Row).ToList();
        if (command.Mapping.Balanced is null && off.Count * 2 >= nets.Count)
            return;
        foreach (var (document, net, row) in off.Take(MostDocumentsTold))
            _table.Refusals.Add(
                new Refusal(
                    row,
                    null,
                    document,
                    FormattableString.Invariant(
                        $"Document {document} does not balance: its {(net < 0 ? "debits exceed its credits" : "credits exceed its debits")} by {Math.Abs(net):0.00}."
                    ),
                    "Correct the document in the source, or say in the mapping that documents need not balance."
                )
            );
    }

    private void RefuseProfitInOpening()
    {
        var profit = string.Join(
            ',',
            before.MembersOf(before.Accounts.Id).Where(m => m.Account?.IsProfitAndLoss == true).Select(m => m.Id).Append(0)
        );
        foreach (
            var (row, account) in DuckStore.Rows(
                connection,
                $"""
                SELECT row, {DuckSchema.Column(before.Accounts)} FROM postings WHERE part >= {_firstPart}
                  AND {DuckSchema.Column(before.Accounts)} IN ({profit}) ORDER BY row
                """,
                r => (r.GetInt32(0), r.GetInt32(1))
            )
        )
            _table.Refusals.Add(
                new Refusal(
                    row,
                    "account",
                    before.Label(account).Code,
                    $"{before.Label(account).Name} is an account of the income statement, which has no opening balance.",
                    "Take the row out; last year's result belongs to retained earnings."
                )
            );
    }

    private void RefuseDoubledLines()
    {
        var doubled = DuckStore.Rows(
            connection,
            $"""
            SELECT document, line_number, min(row), max(row) FROM postings WHERE part >= {_firstPart} AND line_number <> ''
              AND document <> ''
            GROUP BY {EntityColumn}, document, line_number HAVING count(*) > 1 ORDER BY 3 LIMIT 1
            """,
            r => (r.GetString(0), r.GetString(1), r.GetInt32(2), r.GetInt32(3))
        );
        if (doubled is [var (document, line, first, second)])
            throw LoadRefusedException.File(
                $"Line {line} of document {document} stands in the file twice (rows {first} and {second}).",
                "Take one of them out and load it again."
            );
    }

    /// <summary>Documents already loaded, and rows without documents for a scope already loaded, are refused.</summary>
    private ImmutableArray<string> RefuseWhatIsThere()
    {
        var active = $"part IN {DuckSchema.ActiveParts(edition - 1)} AND version IN ({string.Join(',', _versions.Values)})";
        if (DuckStore.Scalar<long>(connection, $"SELECT count(*) FROM parts WHERE {active}") == 0)
            return [];
        var documents = DuckStore.Rows(
            connection,
            $"""
            SELECT count(DISTINCT n.document), min(n.document), min(o.load) FROM (SELECT DISTINCT document, {EntityColumn}
              FROM postings WHERE part >= {_firstPart} AND document <> '') n
            JOIN (SELECT DISTINCT document, {EntityColumn}, load FROM lines WHERE load <> {load}
              AND {active}) o USING (document, {EntityColumn}) ORDER BY 1
            """,
            r => (Count: r.GetInt64(0), First: r.IsDBNull(1) ? "" : r.GetString(1), Load: r.IsDBNull(2) ? 0 : r.GetInt32(2))
        )[0];
        if (documents.Count > 0)
            throw LoadRefusedException.File(
                $"{documents.Count:N0} document{(documents.Count == 1 ? "" : "s")} of this file are in the book already (the first is {documents.First}, from load {documents.Load}).",
                "Nothing was changed. To bring the same periods and entities in again, load with “replace”; to add only new documents, take the others out."
            );
        var scopes = Overlap($"AND p.part IN (SELECT part FROM postings WHERE part < {_firstPart} AND document = '')");
        if (scopes.Count > 0)
            throw LoadRefusedException.File(
                $"{command.Target!.Name} already has figures for {scopes[0].Name} in {scopes[0].Period}{(scopes.Count > 1 ? $" and {scopes.Count - 1:N0} more entity-months" : "")} (load {scopes[0].Load}).",
                "Nothing was changed. Load with “replace” to supersede them."
            );
        return [];
    }
}
