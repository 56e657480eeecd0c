using System.Collections.Concurrent;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Store;
using Microsoft.Extensions.Caching.Memory;

namespace Bearing.Data.Books;

/// <summary>One edition of a book, ready to be asked: figures in memory, words indexed.</summary>
/// <param name="Facts">Cells from memory, lines from the fact file.</param>
/// <param name="Kept">Answers of the open book, by edition and question.</param>
public sealed record OpenEdition(Book Book, BookWords Words, IFacts Facts, IMemoryCache Kept)
{
    private static readonly MemoryCacheEntryOptions One = new() { Size = 1 };

    public Answerer Answerer { get; } = new(Book, Facts);

    /// <summary>An edition never changes: the same question in another form, or as the one before a follow-up, costs
    /// nothing.</summary>
    /// <exception cref="CannotAnswerException">When the book lacks what is asked for.</exception>
    public async ValueTask<Answer> Answer(Question question, CancellationToken cancel)
    {
        var plain = question.Laid(l => l with { Display = null });
        if (!Kept.TryGetValue((Book.Edition, plain), out Answer? answer))
            answer = Kept.Set((Book.Edition, plain), await Answerer.Answer(plain, cancel), One);
        return question.Layout.Display is null ? answer! : answer! with { Question = question };
    }
}

/// <summary>An open book. Editions are built when first asked for and the last few are kept.</summary>
public sealed class OpenBook : IDisposable
{
    private const int KeptEditions = 3;
    private const int KeptAnswers = 300;

    private readonly ConcurrentDictionary<int, Lazy<OpenEdition>> _editions = new();

    private readonly MemoryCache _answers = new(new MemoryCacheOptions { SizeLimit = KeptAnswers });

    internal OpenBook(string folder, IBookStore store) => (Folder, Store) = (folder, store);

    public string Folder { get; }

    /// <summary>The door to it.</summary>
    public IBookStore Store { get; }

    private readonly SemaphoreSlim _writing = new(1, 1);

    /// <summary>Runs a change when those before it are through: one at a time, in the order in which they came.</summary>
    /// <param name="landed">What belongs to the change and is done before the next one may begin, or the book be erased.</param>
    public async Task<T> Change<T>(Asker asker, Func<IBookWriter, T> change, CancellationToken cancel, Func<Task>? landed = null)
    {
        using var turn = await Turn(cancel);
        var result = await Task.Run(() => change(Store.Writer(asker)), cancel);
        if (landed is not null)
            await landed();
        return result;
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
    public void Dispose()
    {
        _answers.Dispose();
        Store.Dispose();
    }

    private OpenEdition Build(Book book) =>
        new(book, new BookWords(book), Store.Facts(book, new BookView(book.Edition, Sight.All)), _answers);
}
