using Bearing.Data.Books;
using Bearing.Data.State;
using Bearing.Service.Asking;
using Microsoft.EntityFrameworkCore;

namespace Bearing.Service.Books;

/// <summary>What nobody needs of a book any more: pieces of broken transfers, unpacked copies, uploads that were never loaded, jobs
/// that ended long ago, trails that nobody opens.</summary>
public sealed class LeftoverSweep(IDbContextFactory<StateDb> state, TimeProvider clock)
{
    /// <summary>A transfer may take hours; what is older was broken off.</summary>
    private static readonly TimeSpan Broken = TimeSpan.FromDays(1);

    /// <summary>An unpacked copy is made again when it is needed.</summary>
    private static readonly TimeSpan Unpacked = TimeSpan.FromHours(1);

    /// <summary>An upload that was previewed and never loaded, and refused rows that nobody corrected.</summary>
    private static readonly TimeSpan Forgotten = TimeSpan.FromDays(30);

    /// <returns>Bytes that were freed.</returns>
    public async Task<long> Run(string book, OpenBook open, CancellationToken cancel)
    {
        await using var db = await state.CreateDbContextAsync(cancel);
        var loads = open.Store.Loads();
        var loaded = loads.Where(l => l.PurgedIn is null).Select(l => l.Sha256).ToHashSet();
        var purged = loads.Where(l => l.PurgedIn is not null).Select(l => l.Sha256).ToHashSet();
        var before = (clock.GetUtcNow() - Forgotten).UtcTicks;
        var waiting = await db
            .Uploads.AsNoTracking()
            .Where(u => u.Book == book && u.CreatedTicks >= before)
            .Select(u => u.Sha256)
            .ToListAsync(cancel);
        var jobs = await db
            .Jobs.AsNoTracking()
            .Where(j =>
                j.Book == book && (j.State == JobState.Queued || j.State == JobState.Running || j.State == JobState.Committing)
            )
            .Select(j => j.Id)
            .ToListAsync(cancel);
        await SweepRows(db, book, cancel);
        var needed = loaded.Concat(waiting).ToHashSet();
        var freed = 0L;
        foreach (var file in Files(open.Incoming("")).Concat(Files(open.RefusedFolder)))
        {
            var name = file.Name;
            var limit =
                name.Contains(".unpacked", StringComparison.Ordinal) ? Unpacked
                : name.EndsWith(".part", StringComparison.Ordinal) || name.Contains(".part.", StringComparison.Ordinal) ? Broken
                : Forgotten;
            if (limit == Forgotten && needed.Contains(name))
                continue;
            if (purged.Contains(name))
                limit = TimeSpan.Zero;
            if (
                jobs.Exists(j => name.Contains(j, StringComparison.Ordinal))
                || clock.GetUtcNow().UtcDateTime - file.LastWriteTimeUtc < limit
            )
                continue;
            freed += file.Length;
            file.Delete();
        }
        return freed;
    }

    /// <summary>Jobs that ended long ago, and trails that nobody opens.</summary>
    private async Task SweepRows(StateDb db, string book, CancellationToken cancel)
    {
        var longAgo = (clock.GetUtcNow() - Forgotten).UtcTicks;
        await db
            .Jobs.Where(j =>
                j.Book == book
                && j.ChangedTicks < longAgo
                && (j.State == JobState.Done || j.State == JobState.Failed || j.State == JobState.Cancelled)
            )
            .ExecuteDeleteAsync(cancel);
        var unused = (clock.GetUtcNow() - TrailEndpoints.Kept).UtcTicks;
        // All steps of a trail were used when it was: what is older goes with whole trails.
        var most = await db
            .Trails.Where(t => t.Book == book)
            .OrderByDescending(t => t.UsedTicks)
            .Skip(TrailEndpoints.MostKept)
            .Select(t => t.UsedTicks)
            .FirstOrDefaultAsync(cancel);
        unused = Math.Max(unused, most);
        await db.Trails.Where(t => t.Book == book && t.UsedTicks < unused).ExecuteDeleteAsync(cancel);
    }

    private static IEnumerable<FileInfo> Files(string folder) =>
        Directory.Exists(folder) ? new DirectoryInfo(folder).EnumerateFiles().ToList() : [];
}
