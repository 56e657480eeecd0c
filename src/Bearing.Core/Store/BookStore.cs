using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Loading;

namespace Bearing.Core.Store;

/// <summary>One state of a book as one asker sees it.</summary>
public sealed record BookView(int Edition, Sight Sight)
{
    /// <summary>All of an edition.</summary>
    public BookView(int edition)
        : this(edition, Sight.All) { }
}

/// <summary>What a book says of one of its editions: committed with the change that made it.</summary>
/// <param name="At">UTC.</param>
/// <param name="By">Text form of the asker; null for editions from before they were kept.</param>
public sealed record EditionRecord(int Edition, DateTime At, string What, string? By);

/// <summary>What a purge removed, and the edition that tells of it.</summary>
public sealed record Purged(ImmutableArray<int> Loads, int Edition);

/// <summary>Something that counted in the edition was removed for good since.</summary>
public sealed class EditionPurgedException(int edition, int load)
    : Exception($"Load {load} counted in edition {edition}; it was taken back later, and purged.");

/// <summary>The book was erased while it was being asked or changed.</summary>
public sealed class BookGoneException() : Exception("The book is not there any more.");

/// <summary>
/// The one door to a book: its states, its figures as somebody may see them, and its changes. An engine implements it. Reading is
/// free; whoever owns the door lets one change run at a time.
/// </summary>
public interface IBookStore : IDisposable
{
    int LatestEdition();

    /// <summary>The book as it is now, or as it was after an earlier edition.</summary>
    /// <exception cref="ArgumentOutOfRangeException">When there is no such edition yet.</exception>
    /// <exception cref="EditionPurgedException">When it can no longer be read.</exception>
    Book Read(int? edition = null);

    /// <summary>The same book, whose text fields tell their few different texts: looked for only where questions are
    /// read.</summary>
    Book WithFieldValues(Book book);

    /// <summary>The figures of a state, with those of its cells in memory that are few enough.</summary>
    /// <param name="book">The same state, which tells the dimensions.</param>
    IFacts Facts(Book book, BookView view);

    /// <summary>All loads, the latest first.</summary>
    IReadOnlyList<LoadRecord> Loads();

    /// <summary>The load that a job brought; null as long as it brought none.</summary>
    LoadRecord? LoadOfJob(string job);

    /// <summary>The book's own account of its changes after an edition, oldest first.</summary>
    IReadOnlyList<EditionRecord> Editions(int after, int upTo = int.MaxValue);

    IBookWriter Writer(Asker asker);
}

/// <summary>
/// The changes of a book. Each is one transaction that makes one edition, or leaves nothing behind; what was done, by whom and
/// when is committed with it.
/// </summary>
public interface IBookWriter
{
    /// <summary>Loads a file.</summary>
    /// <param name="progress">Gets rows read and the part of the file read so far (0–1).</param>
    /// <exception cref="RowsRefusedException">When any row was refused; nothing landed.</exception>
    /// <exception cref="WarningsException">When there are warnings and nobody agreed; nothing landed.</exception>
    /// <exception cref="LoadRefusedException">When the file as a whole cannot come in; nothing landed.</exception>
    LoadReceipt Load(LoadCommand command, IProgress<(long Rows, double Part)>? progress, CancellationToken cancel);

    /// <summary>Does all of a load and takes it back, to show what would happen.</summary>
    LoadReceipt Preview(LoadCommand command, IProgress<(long Rows, double Part)>? progress, CancellationToken cancel);

    /// <summary>Takes a load back: its parts and members go off, what it superseded comes on again.</summary>
    /// <returns>The edition that it made.</returns>
    /// <exception cref="LoadRefusedException">When a later load builds on it.</exception>
    int Undo(int load);

    /// <summary>Removes for good what loads brought that were taken back up to a time: the editions in which they counted can no
    /// longer be read.</summary>
    /// <param name="upTo">UTC.</param>
    /// <returns>Null where there are none.</returns>
    Purged? Purge(DateTime upTo);

    /// <summary>Gives something another name, from a new edition on.</summary>
    /// <param name="target">As <see cref="TaughtWord.Target"/>; whoever calls has made sure that the book has it.</param>
    TaughtWord Teach(string text, string target, string by);

    /// <summary>Takes a taught name back. False when there is none of this number.</summary>
    bool Forget(int word);

    /// <summary>Replaces the book's definition; its id and its dimensions stay as they are.</summary>
    /// <param name="what">What changed, for the book's own account of its editions.</param>
    int Define(BookDefinition definition, string what = "definition changed");
}

/// <summary>There is no room left in the data folder; nothing was changed.</summary>
public sealed class DiskFullException(Exception cause) : IOException("There is no room left on the disk.", cause);

/// <summary>Makes and opens the doors of books; one implementation for each engine.</summary>
public interface IBookEngine
{
    /// <summary>Whether a folder holds a book of this engine.</summary>
    bool Holds(string folder);

    /// <exception cref="IOException">When there is one already.</exception>
    IBookStore Create(string folder, BookDefinition definition, DateTime now, Asker asker);

    /// <summary>Opens a book, upgrading what an earlier Bearing made.</summary>
    IBookStore Open(string folder);

    /// <summary>Whether a failure to open says that the file cannot be relied on.</summary>
    bool IsDamage(Exception failure);
}
