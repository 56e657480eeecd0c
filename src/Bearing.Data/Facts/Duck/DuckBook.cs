using System.Collections.Immutable;
using System.Data;
using System.Text.Json;
using System.Text.Json.Serialization;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Core.Store;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>A book's fact file: its editions, members, loads. Reading is free; changes go through
/// <see cref="DuckWriter"/>.</summary>
internal sealed partial class DuckBook : IBookStore
{
    internal static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
    };

    /// <summary>Beyond this many cells (about 600 MB) questions are answered in SQL.</summary>
    private const int MostCellsInMemory = 10_000_000;

    private readonly TimeProvider _clock;

    private DuckBook(DuckStore store, TimeProvider clock) => (Store, _clock) = (store, clock);

    public DuckStore Store { get; }

    /// <exception cref="IOException">When the file exists already.</exception>
    public static DuckBook Create(string path, BookDefinition definition, DateTime now, Asker asker, TimeProvider clock)
    {
        if (File.Exists(path))
            throw new IOException($"{path} exists already.");
        // Made under another name and moved when whole, so that a crash leaves no half book behind.
        var draft = path + ".new";
        File.Delete(draft);
        using (var store = new DuckStore(draft))
        using (var connection = store.Open())
        {
            using var transaction = connection.BeginTransaction();
            DuckSchema.Create(connection, definition);
            DuckStore.Execute(connection, "INSERT INTO editions VALUES (1, $1, 'book created', $2)", now, asker.ToString());
            DuckStore.Execute(connection, "INSERT INTO definitions VALUES (1, $1)", JsonSerializer.Serialize(definition, Json));
            transaction.Commit();
            DuckStore.Execute(connection, "CHECKPOINT");
        }
        File.Move(draft, path);
        return Open(path, clock);
    }

    public static DuckBook Open(string path, TimeProvider clock)
    {
        var book = new DuckBook(new DuckStore(path), clock);
        try
        {
            using var connection = book.Store.Open();
            using var transaction = connection.BeginTransaction();
            DuckSchema.Upgrade(connection, Definition(connection, int.MaxValue));
            transaction.Commit();
            return book;
        }
        catch
        {
            book.Dispose();
            throw;
        }
    }

    public IReadOnlyList<EditionRecord> Editions(int after, int upTo = int.MaxValue)
    {
        using var connection = Store.Open();
        return DuckStore.Rows(
            connection,
            $"SELECT edition, made_at, what, asker FROM editions WHERE edition > {after} AND edition <= {upTo} ORDER BY edition",
            r => new EditionRecord(r.GetInt32(0), r.GetDateTime(1), r.GetString(2), r.IsDBNull(3) ? null : r.GetString(3))
        );
    }

    public IBookWriter Writer(Asker asker) => new DuckWriter(this, asker, _clock);

    public IFacts Facts(Book book, BookView view)
    {
        var duck = new DuckFacts(Store, book.Definition, view);
        using var connection = Store.Open();
        if (DuckStore.Scalar<long>(connection, "SELECT count(*) FROM cells") > MostCellsInMemory)
            return duck;
        ImmutableArray<int> dimensions = [.. book.Definition.Dimensions.Select(d => d.Id)];
        return new SnapshotFacts(new MemoryFacts(view, dimensions, duck.ReadCells(connection)), duck);
    }

    /// <summary>Cells from memory, lines and records from the file.</summary>
    private sealed class SnapshotFacts(MemoryFacts cells, DuckFacts file) : IFacts
    {
        public ValueTask<IReadOnlyList<CellSum>> Cells(CellQuery query, CancellationToken cancel) => cells.Cells(query, cancel);

        public ValueTask<RecordPage> Records(RecordQuery query, CancellationToken cancel) => file.Records(query, cancel);

        public ValueTask<LinePage> Lines(LineQuery query, CancellationToken cancel) => file.Lines(query, cancel);
    }

    public Book Read(int? edition = null)
    {
        using var connection = Store.Open();
        var latest = DuckStore.Scalar<int>(connection, "SELECT max(edition) FROM editions");
        var at = edition ?? latest;
        ArgumentOutOfRangeException.ThrowIfLessThan(at, 1, nameof(edition));
        ArgumentOutOfRangeException.ThrowIfGreaterThan(at, latest, nameof(edition));
        var gone = DuckStore.Rows(
            connection,
            $"SELECT min(load) FROM loads WHERE purged_in IS NOT NULL AND edition <= {at} AND undone_in > {at}",
            r => r.IsDBNull(0) ? (int?)null : r.GetInt32(0)
        )[0];
        if (gone is { } load)
            throw new EditionPurgedException(at, load);
        return Read(connection, at);
    }

    internal static Book Read(DuckDBConnection connection, int edition)
    {
        var definition = Definition(connection, edition);
        return new Book(definition with { Scenarios = Scenarios(connection, edition) }, edition, Members(connection, edition))
        {
            Tables = Tables(connection, edition),
            Rates = Rates(connection, edition),
            Remarks = Remarks(connection, edition),
            Words = Words(connection, edition),
            OpeningsKnown = OpeningsKnown(connection, definition, edition),
        };
    }

    private static BookDefinition Definition(DuckDBConnection connection, int edition) =>
        JsonSerializer.Deserialize<BookDefinition>(
            DuckStore.Rows(
                connection,
                $"SELECT json FROM definitions WHERE from_edition <= {edition} ORDER BY from_edition DESC LIMIT 1",
                r => r.GetString(0)
            )[0],
            Json
        )!;

    public int LatestEdition()
    {
        using var connection = Store.Open();
        return DuckStore.Scalar<int>(connection, "SELECT max(edition) FROM editions");
    }

    public IReadOnlyList<LoadRecord> Loads()
    {
        using var connection = Store.Open();
        return DuckStore.Rows(
            connection,
            "SELECT load, edition, undone_in, made_at, file, sha256, kind, receipt, purged_in FROM loads ORDER BY load DESC",
            ToRecord
        );
    }

    public LoadRecord? LoadOfJob(string job)
    {
        using var connection = Store.Open();
        return DuckStore
            .Rows(
                connection,
                """
                SELECT load, edition, undone_in, made_at, file, sha256, kind, receipt, purged_in FROM loads
                  WHERE job = $1 ORDER BY load
                """,
                ToRecord,
                job
            )
            .FirstOrDefault();
    }

    public void Dispose() => Store.Dispose();
}
