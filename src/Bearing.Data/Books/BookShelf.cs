using System.Collections.Concurrent;
using System.Globalization;
using System.Text.RegularExpressions;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Reading;
using Bearing.Core.Store;

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

    private readonly ConcurrentDictionary<int, Lazy<OpenEdition>> _editions = new();

    internal OpenBook(string folder, IBookStore store) => (Folder, Store) = (folder, store);

    public string Folder { get; }

    /// <summary>The door to it.</summary>
    public IBookStore Store { get; }

    private readonly SemaphoreSlim _writing = new(1, 1);

    /// <summary>Runs a change when those before it are through: one at a time, in the order in which they came.</summary>
    public async Task<T> Change<T>(Asker asker, Func<IBookWriter, T> change, CancellationToken cancel)
    {
        using var turn = await Turn(cancel);
        return await Task.Run(() => change(Store.Writer(asker)), cancel);
    }

    /// <summary>Waits until nobody changes the book, and keeps others from it until disposed.</summary>
    public async Task<IDisposable> Turn(CancellationToken cancel)
    {
        await _writing.WaitAsync(cancel);
        return new Release(_writing);
    }

    private sealed class Release(SemaphoreSlim writing) : IDisposable
    {
        public void Dispose() => writing.Release();
    }

    public NamedFiles Mappings => new(Path.Combine(Folder, "mappings"));

    public NamedFiles Selections => new(Path.Combine(Folder, "selections"));

    public NamedFiles Questions => new(Path.Combine(Folder, "questions"));

    public NamedFiles Sources => new(Path.Combine(Folder, "sources"));

    /// <summary>Refused rows of a job, while they wait for correction.</summary>
    public string Refused(string job) => Path.Combine(RefusedFolder, $"{job}.csv");

    public string RefusedFolder => Path.Combine(Folder, "refused");

    public string Incoming(string sha256) => Path.Combine(Folder, "incoming", sha256);

    /// <exception cref="ArgumentOutOfRangeException">When there is no such edition.</exception>
    public OpenEdition Edition(int? edition = null)
    {
        var at = edition ?? Store.LatestEdition();
        if (_editions.TryGetValue(at, out var open))
            return open.Value;
        var book = Store.WithFieldValues(Store.Read(at));
        foreach (var old in _editions.Keys.Where(e => e != at).OrderDescending().Skip(KeptEditions - 1))
            _editions.TryRemove(old, out _);
        return _editions.GetOrAdd(at, _ => new Lazy<OpenEdition>(() => Build(book))).Value;
    }

    /// <summary>Whoever waits to change it is told that it is gone.</summary>
    public void Dispose() => Store.Dispose();

    private OpenEdition Build(Book book) =>
        new(book, new BookWords(book), Store.Facts(book, new BookView(book.Edition, Sight.All)));
}

/// <summary>The book cannot be relied on; it is set apart, and the others work.</summary>
public sealed class BookDamagedException(string id, string because) : Exception(because)
{
    public string Id { get; } = id;
}

/// <summary>All books of a data folder, each in a folder of its own. An erased book lies in a recycle folder for a
/// week.</summary>
public sealed partial class BookShelf : IDisposable
{
    /// <summary>How long an erased book can be brought back.</summary>
    public static readonly TimeSpan KeptErased = TimeSpan.FromDays(7);

    private const string Stamp = "yyyyMMddHHmmssfff";
    private readonly string _root;
    private readonly string _erased;
    private readonly IBookEngine _engine;
    private readonly TimeProvider _clock;
    private readonly Dictionary<string, OpenBook> _open = [];
    private readonly Dictionary<string, string> _damaged = [];
    private readonly Lock _lock = new();

    public BookShelf(string dataFolder, IBookEngine engine, TimeProvider clock)
    {
        (_root, _engine, _clock) = (Path.Combine(Path.GetFullPath(dataFolder), "books"), engine, clock);
        _erased = Path.Combine(_root, ".erased");
        Directory.CreateDirectory(_root);
    }

    /// <summary>Book ids are folder names, so they are kept to a safe alphabet.</summary>
    public static bool IsId(string id) => IdPattern().IsMatch(id);

    public IReadOnlyList<string> Ids() =>
        [
            .. Directory
                .EnumerateDirectories(_root)
                .Where(d => _engine.Holds(d))
                .Select(d => Path.GetFileName(d)!)
                .Where(IsId)
                .Order(StringComparer.Ordinal),
        ];

    /// <summary>Null when there is no such book.</summary>
    /// <exception cref="BookDamagedException">When it was set apart, or its file cannot be opened.</exception>
    public OpenBook? Find(string id)
    {
        if (!IsId(id))
            return null;
        lock (_lock)
        {
            if (_open.TryGetValue(id, out var open))
                return open;
            if (_damaged.TryGetValue(id, out var because))
                throw new BookDamagedException(id, because);
            var folder = Path.Combine(_root, id);
            if (!_engine.Holds(folder))
                return null;
            try
            {
                return _open[id] = new OpenBook(folder, _engine.Open(folder));
            }
            catch (Exception e) when (_engine.IsDamage(e))
            {
                throw new BookDamagedException(id, _damaged[id] = $"Its fact file cannot be read: {FirstLine(e.Message)}");
            }
        }
    }

    /// <summary>Closes a book that does not agree with what is known of it; it is told and not used until the next
    /// start.</summary>
    public void SetApart(string id, string because)
    {
        lock (_lock)
        {
            _damaged[id] = because;
            if (_open.Remove(id, out var open))
                open.Dispose();
        }
    }

    /// <summary>Books that are set apart, by id, with why.</summary>
    public IReadOnlyDictionary<string, string> Damaged
    {
        get
        {
            lock (_lock)
                return new Dictionary<string, string>(_damaged);
        }
    }

    /// <summary>False when a book with this id exists.</summary>
    public bool TryCreate(BookDefinition definition, Asker asker)
    {
        lock (_lock)
        {
            var folder = Path.Combine(_root, definition.Id);
            if (_engine.Holds(folder))
                return false;
            Directory.CreateDirectory(Path.Combine(folder, "incoming"));
            _open[definition.Id] = new OpenBook(
                folder,
                _engine.Create(folder, definition, _clock.GetUtcNow().UtcDateTime, asker)
            );
            return true;
        }
    }

    /// <summary>Moves a book to the recycle folder. False when there is no such book. Whoever calls holds its writer.</summary>
    public bool Erase(string id)
    {
        if (!IsId(id))
            return false;
        lock (_lock)
        {
            var folder = Path.Combine(_root, id);
            if (!Directory.Exists(folder))
                return false;
            if (_open.Remove(id, out var open))
                open.Dispose();
            _damaged.Remove(id);
            Directory.CreateDirectory(_erased);
            Directory.Move(
                folder,
                Path.Combine(_erased, $"{id}~{_clock.GetUtcNow().UtcDateTime.ToString(Stamp, CultureInfo.InvariantCulture)}")
            );
            return true;
        }
    }

    /// <summary>Brings the book of this id back that was erased last. False when none lies in the recycle folder.</summary>
    /// <exception cref="InvalidOperationException">When there is a book of this id again.</exception>
    public bool Restore(string id)
    {
        lock (_lock)
        {
            if (
                !IsId(id)
                || Erased().Where(e => e.Id == id).OrderByDescending(e => e.At).FirstOrDefault().Folder is not { } folder
            )
                return false;
            var back = Path.Combine(_root, id);
            if (Directory.Exists(back))
                throw new InvalidOperationException($"There is a book {id} again.");
            Directory.Move(folder, back);
            return true;
        }
    }

    /// <summary>Removes for good what has lain in the recycle folder long enough.</summary>
    public void SweepErased()
    {
        lock (_lock)
            foreach (var (folder, _, at) in Erased())
                if (_clock.GetUtcNow().UtcDateTime - at >= KeptErased)
                    Directory.Delete(folder, recursive: true);
    }

    private List<(string Folder, string Id, DateTime At)> Erased() =>
        !Directory.Exists(_erased)
            ? []
            :
            [
                .. Directory
                    .EnumerateDirectories(_erased)
                    .Select(f => (Folder: f, Parts: Path.GetFileName(f).Split('~')))
                    .Where(e =>
                        e.Parts.Length == 2
                        && DateTime.TryParseExact(
                            e.Parts[1],
                            Stamp,
                            CultureInfo.InvariantCulture,
                            DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal,
                            out _
                        )
                    )
                    .Select(e =>
                        (
                            e.Folder,
                            e.Parts[0],
                            DateTime.ParseExact(
                                e.Parts[1],
                                Stamp,
                                CultureInfo.InvariantCulture,
                                DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal
                            )
                        )
                    ),
            ];

    public void Dispose()
    {
        foreach (var book in _open.Values)
            book.Dispose();
    }

    private static string FirstLine(string text) =>
        text.Split('\n')[0].Trim() is var line && line.Length > 200 ? line[..200] : text.Split('\n')[0].Trim();

    [GeneratedRegex("^[a-z0-9][a-z0-9-]{0,39}$")]
    private static partial Regex IdPattern();
}
