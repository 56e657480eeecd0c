using System.Runtime.InteropServices;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using DuckDB.NET.Data;
using DuckDB.NET.Data.DataChunk.Writer;

namespace Bearing.Data.Facts.Duck;

/// <summary>A ledger or plan line on its way into the table of postings, column by column as <see cref="DuckSchema"/> has
/// them.</summary>
internal sealed class PostingLine : IncomingRow
{
    private const int BeforeMembers = 5;
    private List<(FactRow Fact, int Part)> _batch = [];
    private int _index;

    /// <summary>A source's decimals have 38 digits, which cost more than all the rest of a line: amounts travel in
    /// ten-thousandths.</summary>
    private const decimal Parts = 10_000m;

    public static string Select =>
        "* REPLACE (CAST(amount AS DECIMAL(18,0)) * 0.0001 AS amount, CAST(local_amount AS DECIMAL(18,0)) * 0.0001 AS local_amount)";

    public static IReadOnlyList<ColumnInfo> Columns(BookDefinition definition) =>
        [
            new("part", typeof(int)),
            new("row", typeof(int)),
            new("document", typeof(string)),
            new("line_number", typeof(string)),
            new("date", typeof(DateOnly)),
            .. definition.Dimensions.Select(d => new ColumnInfo(DuckSchema.Column(d), typeof(int))),
            new("amount", typeof(long)),
            new("local_amount", typeof(long)),
            new("currency", typeof(string)),
            new("text", typeof(string)),
            new("fields", typeof(string)),
        ];

    /// <summary>One place, moved from line to line.</summary>
    public static IEnumerable<PostingLine> All(IEnumerable<List<(FactRow Fact, int Part)>> batches)
    {
        var line = new PostingLine();
        foreach (var batch in batches)
            for ((line._batch, line._index) = (batch, 0); line._index < batch.Count; line._index++)
                yield return line;
    }

    public override void Write(IDuckDBDataWriter[] columns, ulong at)
    {
        ref readonly var line = ref CollectionsMarshal.AsSpan(_batch)[_index];
        ref readonly var fact = ref line.Fact;
        columns[0].WriteValue(line.Part, at);
        columns[1].WriteValue(fact.Row, at);
        columns[2].WriteValue(fact.Document, at);
        columns[3].WriteValue(fact.LineNumber, at);
        if (fact.Date is { } date)
            columns[4].WriteValue(date, at);
        else
            columns[4].WriteNull(at);
        var column = BeforeMembers;
        foreach (var member in fact.Members)
            columns[column++].WriteValue(member, at);
        columns[column++].WriteValue((long)(fact.Amount * Parts), at);
        if (fact.Local is { } local)
            columns[column].WriteValue((long)(local * Parts), at);
        else
            columns[column].WriteNull(at);
        Text(columns[column + 1], fact.Currency, at);
        columns[column + 2].WriteValue(fact.Text, at);
        Text(columns[column + 3], fact.Fields, at);
    }

    private static void Text(IDuckDBDataWriter column, string? text, ulong at)
    {
        if (text is null)
            column.WriteNull(at);
        else
            column.WriteValue(text, at);
    }
}
