using System.Globalization;
using System.Text.RegularExpressions;
using Bearing.Core.Books;
using Bearing.Core.Store;

namespace Bearing.Data.Books;

/// <summary>The book cannot be relied on; it is set apart, and the others work.</summary>
public sealed class BookDamagedException(string id, string because) : Exception(because)
{
    public string Id { get; } = id;
}

/// <summary>As many books as may be open are in use; whoever asked for another waited in vain.</summary>
public sealed class BooksBusyException(int most) : Exception($"All {most} books that may be open at once are in use.");

/// <summary>
/// All books of a data folder, each in a folder of its own. So many may be open at once: those in use stay open, idle ones close
/// when another is asked for or after a while, and who finds all in use waits. An erased book lies in a recycle folder for a week.
/// </summary>
public sealed partial class BookShelf : IDisposable
{
    /// <summary>How long an erased book can be brought back.</summary>
    public static readonly TimeSpan KeptErased = TimeSpan.FromDays(7);

    /// <summary>An open book that nobody used for so long is closed.</summary>
    public static readonly TimeSpan KeptIdle = TimeSpan.FromMinutes(10);

    /// <summary>How long somebody waits for a book while all that may be open are in use.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(10);

    private const int UsuallyOpen = 8;
    private const string Stamp = "yyyyMMddHHmmssfff";
    private readonly string _root;
    private readonly string _erased;
    private readonly IBookEngine _engine;
    private readonly TimeProvider _clock;
    private readonly int _mostOpen;
    private readonly Dictionary<string, Slot> _open = [];
    private TaskCompletionSource _freed = new(TaskCreationOptions.RunContinuationsAsynchronously);
    private readonly Dictionary<string, string> _damaged = [];
    private readonly Lock _lock = new();

    /// <summary>A book that is open, how many use it, and when it was used last.</summary>
    private sealed class Slot(OpenBook book)
    {
        public OpenBook Book { get; } = book;
        public int Users { get; set; }
        public long LastUsed { get; set; }
    }

    /// <param name="mostOpen">How many books may be open at once.</param>
    public BookShelf(string dataFolder, IBookEngine engine, TimeProvider clock, int mostOpen = UsuallyOpen)
    {
        (_root, _engine, _clock) = (Path.Combine(Path.GetFullPath(dataFolder), "books"), engine, clock);
        _mostOpen = mostOpen;
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

    /// <summary>The book, open; for whoever uses it already, or needs it for a moment. Null when there is no such book.</summary>
    /// <exception cref="BookDamagedException">When it was set apart, or its file cannot be opened.</exception>
    public OpenBook? Find(string id)
    {
        lock (_lock)
            return Opened(id)?.Book;
    }

    /// <summary>Keeps a book open until disposed; waits while as many as may be open are in use. Null when there is no such
    /// book.</summary>
    /// <exception cref="BookDamagedException">When it was set apart, or its file cannot be opened.</exception>
    /// <exception cref="BooksBusyException">When none of the others became free in time.</exception>
    public async Task<IDisposable?> Use(string id, CancellationToken cancel)
    {
        if (!IsId(id) || !_engine.Holds(Path.Combine(_root, id)))
            return null;
        var began = _clock.GetTimestamp();
        while (true)
        {
            Task freed;
            lock (_lock)
            {
                if (_open.ContainsKey(id) || MakeRoom())
                {
                    if (Opened(id) is not { } slot)
                        return null;
                    slot.Users++;
                    return new InUse(this, slot);
                }
                freed = _freed.Task;
            }
            try
            {
                await freed.WaitAsync(
                    Patience - _clock.GetElapsedTime(began) is { Ticks: > 0 } left ? left : TimeSpan.Zero,
                    _clock,
                    cancel
                );
            }
            catch (TimeoutException)
            {
                throw new BooksBusyException(_mostOpen);
            }
        }
    }

    /// <summary>Closes books that nobody used for a time.</summary>
    public void CloseIdle(TimeSpan idle)
    {
        lock (_lock)
            foreach (var (id, _) in Idle().Where(o => _clock.GetElapsedTime(o.Value.LastUsed) >= idle).ToList())
                Close(id);
    }

    /// <summary>Whether a book is open now.</summary>
    public bool IsOpen(string id)
    {
        lock (_lock)
            return _open.ContainsKey(id);
    }

    /// <summary>How many are open now.</summary>
    public int OpenNow
    {
        get
        {
            lock (_lock)
                return _open.Count;
        }
    }

    private sealed class InUse(BookShelf shelf, Slot slot) : IDisposable
    {
        private bool _ended;

        public void Dispose()
        {
            lock (shelf._lock)
            {
                if (_ended)
                    return;
                _ended = true;
                slot.Users--;
                slot.LastUsed = shelf._clock.GetTimestamp();
                shelf._freed.TrySetResult();
                shelf._freed = new(TaskCreationOptions.RunContinuationsAsynchronously);
            }
        }
    }

    private IEnumerable<KeyValuePair<string, Slot>> Idle() => _open.Where(o => o.Value.Users == 0).OrderBy(o => o.Value.LastUsed);

    /// <summary>False where all that are open are in use.</summary>
    private bool MakeRoom()
    {
        while (_open.Count >= _mostOpen)
        {
            if (Idle().Select(o => o.Key).FirstOrDefault() is not { } longest)
                return false;
            Close(longest);
        }
        return true;
    }

    private void Close(string id)
    {
        if (_open.Remove(id, out var slot))
            slot.Book.Dispose();
    }

    private Slot? Opened(string id)
    {
        if (!IsId(id))
            return null;
        if (_open.TryGetValue(id, out var open))
        {
            open.LastUsed = _clock.GetTimestamp();
            return open;
        }
        if (_damaged.TryGetValue(id, out var because))
            throw new BookDamagedException(id, because);
        var folder = Path.Combine(_root, id);
        if (!_engine.Holds(folder))
            return null;
        MakeRoom();
        try
        {
            return Keep(id, new OpenBook(folder, _engine.Open(folder)));
        }
        catch (Exception e) when (_engine.IsDamage(e))
        {
            throw new BookDamagedException(id, _damaged[id] = $"Its fact file cannot be read: {FirstLine(e.Message)}");
        }
    }

    private Slot Keep(string id, OpenBook book) => _open[id] = new Slot(book) { LastUsed = _clock.GetTimestamp() };

    /// <summary>Closes a book that does not agree with what is known of it; it is told and not used until the next
    /// start.</summary>
    public void SetApart(string id, string because)
    {
        lock (_lock)
        {
            _damaged[id] = because;
            Close(id);
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
            MakeRoom();
            Keep(definition.Id, new OpenBook(folder, _engine.Create(folder, definition, _clock.GetUtcNow().UtcDateTime, asker)));
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
            Close(id);
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
        lock (_lock)
            foreach (var id in _open.Keys.ToList())
                Close(id);
    }

    private static string FirstLine(string text) =>
        text.Split('\n')[0].Trim() is var line && line.Length > 200 ? line[..200] : text.Split('\n')[0].Trim();

    [GeneratedRegex("^[a-z0-9][a-z0-9-]{0,39}$")]
    private static partial Regex IdPattern();
}
