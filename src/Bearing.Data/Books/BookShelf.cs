using System.Collections.Concurrent;
using System.Text.RegularExpressions;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Facts;
using Bearing.Core.Reading;
using Bearing.Data.Facts.Duck;

namespace Bearing.Data.Books;

/// <summary>One edition of a book, ready to be asked: figures in memory, words indexed.</summary>
/// <param name="Facts">Cells from memory, lines from the fact file.</param>
public sealed record OpenEdition(Book Book, BookWords Words, IFacts Facts)
{
    public Answerer Answerer { get; } = new(Book, Facts);
}

/// <summary>An open book. Editions are built when first asked for and the last few are kept.</summary>
public sealed class OpenBook : IDisposable
{
    private const int KeptEditions = 3;

    /// <summary>Beyond this many cells (about 600 MB) questions are answered in SQL.</summary>
    private const int MostCellsInMemory = 10_000_000;

    private readonly ConcurrentDictionary<int, Lazy<OpenEdition>> _editions = new();

    internal OpenBook(string folder, DuckBook store) => (Folder, Store) = (folder, store);

    public string Folder { get; }

    public DuckBook Store { get; }

    /// <summary>Held by whoever changes the book: one writer at a time.</summary>
    public SemaphoreSlim Writing { get; } = new(1, 1);

    public NamedFiles Mappings => new(Path.Combine(Folder, "mappings"));

    public NamedFiles Selections => new(Path.Combine(Folder, "selections"));

    public NamedFiles Questions => new(Path.Combine(Folder, "questions"));

    public NamedFiles Sources => new(Path.Combine(Folder, "sources"));

    /// <summary>Refused rows of a job, while they wait for correction.</summary>
    public string Refused(string job) => Path.Combine(Folder, "refused", $"{job}.csv");

    public string Incoming(string sha256) => Path.Combine(Folder, "incoming", sha256);

    /// <exception cref="ArgumentOutOfRangeException">When there is no such edition.</exception>
    public OpenEdition Edition(int? edition = null)
    {
        var at = edition ?? Store.LatestEdition();
        if (_editions.TryGetValue(at, out var open)) return open.Value;
        var book = Store.WithFieldValues(Store.Read(at));
        foreach (var old in _editions.Keys.Where(e => e != at).OrderDescending().Skip(KeptEditions - 1)) _editions.TryRemove(old, out _);
        return _editions.GetOrAdd(at, _ => new Lazy<OpenEdition>(() => Build(book))).Value;
    }

    public void Dispose()
    {
        Store.Dispose();
        Writing.Dispose();
    }

    private OpenEdition Build(Book book)
    {
        var duck = new DuckFacts(Store.Store, book.Definition);
        using var connection = Store.Store.Open();
        var count = DuckStore.Scalar<long>(connection, "SELECT count(*) FROM cells");
        IFacts facts = count > MostCellsInMemory ? duck : new SnapshotFacts(new MemoryFacts(new BookView(book.Edition),
            [.. book.Definition.Dimensions.Select(d => d.Id)], duck.ReadCells(connection, book.Edition)), duck);
        return new OpenEdition(book, new BookWords(book), facts);
    }

    private sealed class SnapshotFacts(MemoryFacts cells, DuckFacts lines) : IFacts
    {
        public ValueTask<IReadOnlyList<CellSum>> Cells(BookView view, CellQuery query, CancellationToken cancel) => cells.Cells(view, query, cancel);

        public ValueTask<RecordPage> Records(BookView view, RecordQuery query, CancellationToken cancel) => lines.Records(view, query, cancel);

        public ValueTask<LinePage> Lines(BookView view, LineQuery query, CancellationToken cancel) => lines.Lines(view, query, cancel);
    }
}

/// <summary>All books of a data folder, each in a folder of its own. Erasing a book is deleting its folder.</summary>
public sealed partial class BookShelf : IDisposable
{
    private readonly string _root;
    private readonly TimeProvider _clock;
    private readonly Dictionary<string, OpenBook> _open = [];
    private readonly Lock _lock = new();

    public BookShelf(string dataFolder, TimeProvider clock)
    {
        (_root, _clock) = (Path.Combine(Path.GetFullPath(dataFolder), "books"), clock);
        Directory.CreateDirectory(_root);
    }

    /// <summary>Book ids are folder names, so they are kept to a safe alphabet.</summary>
    public static bool IsId(string id) => IdPattern().IsMatch(id);

    public IReadOnlyList<string> Ids() => [.. Directory.EnumerateDirectories(_root).Where(d => File.Exists(Path.Combine(d, "facts.duckdb")))
        .Select(d => Path.GetFileName(d)!).Where(IsId).Order(StringComparer.Ordinal)];

    /// <summary>Null when there is no such book.</summary>
    public OpenBook? Find(string id)
    {
        if (!IsId(id)) return null;
        lock (_lock)
        {
            if (_open.TryGetValue(id, out var open)) return open;
            var folder = Path.Combine(_root, id);
            var file = Path.Combine(folder, "facts.duckdb");
            return File.Exists(file) ? _open[id] = new OpenBook(folder, DuckBook.Open(file)) : null;
        }
    }

    /// <summary>False when a book with this id exists.</summary>
    public bool TryCreate(BookDefinition definition)
    {
        lock (_lock)
        {
            var folder = Path.Combine(_root, definition.Id);
            if (File.Exists(Path.Combine(folder, "facts.duckdb"))) return false;
            Directory.CreateDirectory(Path.Combine(folder, "incoming"));
            _open[definition.Id] = new OpenBook(folder, DuckBook.Create(Path.Combine(folder, "facts.duckdb"), definition, _clock.GetUtcNow().UtcDateTime));
            return true;
        }
    }

    /// <summary>False when there is no such book.</summary>
    public bool Erase(string id)
    {
        if (!IsId(id)) return false;
        lock (_lock)
        {
            var folder = Path.Combine(_root, id);
            if (!Directory.Exists(folder)) return false;
            if (_open.Remove(id, out var open)) open.Dispose();
            Directory.Delete(folder, recursive: true);
            return true;
        }
    }

    public void Dispose()
    {
        foreach (var book in _open.Values) book.Dispose();
    }

    [GeneratedRegex("^[a-z0-9][a-z0-9-]{0,39}$")]
    private static partial Regex IdPattern();
}
