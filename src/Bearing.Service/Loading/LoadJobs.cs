using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using System.Text.Json;
using System.Threading.Channels;
using Bearing.Contracts;
using Bearing.Core.Store;
using Bearing.Data;
using Bearing.Data.Books;
using Bearing.Data.Sources;
using Bearing.Data.State;
using Bearing.Service.Books;
using Bearing.Service.Hosting;
using Bearing.Service.Sources;
using Microsoft.EntityFrameworkCore;

namespace Bearing.Service.Loading;

/// <summary>What a job does: exactly one of these.</summary>
public sealed record JobWork(LoadRequest? Load, FetchWork? Fetch, LoadRequest? Preview = null)
{
    /// <summary>The load that is done, or shown.</summary>
    public LoadRequest? Request => Load ?? Preview;
}

/// <summary>Bringing rows of a source into the book's incoming files.</summary>
public sealed record FetchWork(string Source, FetchRequest What)
{
    public string FileName => $"{Source}-{What.From ?? "query"}.jsonl";
}

/// <summary>
/// Runs jobs in the background, those of one book one after another; a slow source holds up neither loads nor other books. The
/// row in state.db is the truth: after a restart a job that was under way starts again from its kept file, unless its load is
/// found in the book already.
/// </summary>
public sealed partial class LoadJobs(
    BookShelf shelf,
    BookChanges changes,
    IDbContextFactory<StateDb> state,
    SourceKeeper sources,
    TimeProvider clock,
    News news,
    ILogger<LoadJobs> log
) : BackgroundService
{
    /// <summary>A fetch that was under way when the service ended so often is not begun again: it may be what ends it.</summary>
    private const int MostFetchAttempts = 3;

    /// <summary>Loads of different books run beside each other, as many as there are cores to map rows.</summary>
    private readonly SemaphoreSlim _loading = new(2, 2);

    /// <summary>The last job of each queue: one queue for the loads of a book, and one for what it fetches.</summary>
    private readonly Dictionary<string, Task> _last = [];

    private static readonly TimeSpan ProgressEvery = TimeSpan.FromMilliseconds(150);
    private readonly Channel<string> _queue = Channel.CreateUnbounded<string>();
    private readonly ConcurrentDictionary<string, CancellationTokenSource> _running = new();
    private readonly ConcurrentDictionary<string, (JobState State, string? Result)> _unwritten = new();

    /// <summary>Queues work; the same key gives the same job back.</summary>
    public async Task<JobRow> Enqueue(string book, JobWork work, Asker asker, string? key, CancellationToken cancel)
    {
        await using var db = await state.CreateDbContextAsync(cancel);
        if (await WithKey(db, book, key, cancel) is { } known)
            return known;
        var now = clock.GetUtcNow().UtcTicks;
        var job = new JobRow
        {
            Id = Guid.NewGuid().ToString("n"),
            Book = book,
            Work = JsonSerializer.Serialize(work),
            IdempotencyKey = key,
            By = asker.ToString(),
            CreatedTicks = now,
            ChangedTicks = now,
        };
        db.Jobs.Add(job);
        try
        {
            await db.SaveChangesAsync(cancel);
        }
        catch (DbUpdateException) when (key is not null)
        {
            // The same key came in twice at once, and the other request was first.
            if (await WithKey(db, book, key, cancel) is { } first)
                return first;
            throw;
        }
        await _queue.Writer.WriteAsync(job.Id, cancel);
        return job;
    }

    private static async Task<JobRow?> WithKey(StateDb db, string book, string? key, CancellationToken cancel) =>
        key is null
            ? null
            : await db.Jobs.AsNoTracking().FirstOrDefaultAsync(j => j.Book == book && j.IdempotencyKey == key, cancel);

    public async Task<JobDto?> Find(string book, string id, CancellationToken cancel)
    {
        await using var db = await state.CreateDbContextAsync(cancel);
        var job = await db.Jobs.AsNoTracking().FirstOrDefaultAsync(j => j.Id == id && j.Book == book, cancel);
        if (job is null)
            return null;
        await WriteDown(db, job, cancel);
        var work = Work(job);
        if (work.Fetch is { } fetch)
            return ToDto(job, fetch.FileName);
        var file = await db
            .Uploads.AsNoTracking()
            .Where(u => u.Id == work.Request!.Upload)
            .Select(u => u.FileName)
            .FirstOrDefaultAsync(cancel)
            ?? "";
        return ToDto(job, file);
    }

    /// <summary>The states of a job, the first of them the one now, until it has ended.</summary>
    public async IAsyncEnumerable<JobDto> Follow(string book, string id, [EnumeratorCancellation] CancellationToken cancel)
    {
        JobDto? told = null;
        while (true)
        {
            var next = news.Next(id);
            if (await Find(book, id, cancel) is not { } state)
                yield break;
            if (state != told)
                yield return told = state;
            if (state.State is "done" or "failed" or "cancelled")
            {
                // There will be no more news of it.
                news.Tell(id);
                yield break;
            }
            await next.WaitAsync(cancel);
        }
    }

    private static JobWork Work(JobRow job) =>
        JsonSerializer.Deserialize<JobWork>(job.Work) is { } work && (work.Request ?? (object?)work.Fetch) is not null
            ? work
            : new JobWork(JsonSerializer.Deserialize<LoadRequest>(job.Work)!, null);

    /// <summary>False when the job has ended already.</summary>
    public async Task<bool> Cancel(string book, string id, CancellationToken cancel)
    {
        await using var db = await state.CreateDbContextAsync(cancel);
        var queued = await db
            .Jobs.Where(j => j.Id == id && j.Book == book && j.State == JobState.Queued)
            .ExecuteUpdateAsync(
                s => s.SetProperty(j => j.State, JobState.Cancelled).SetProperty(j => j.ChangedTicks, clock.GetUtcNow().UtcTicks),
                cancel
            );
        if (queued > 0)
        {
            news.Tell(id);
            return true;
        }
        if (!_running.TryGetValue(id, out var source))
            return false;
        await source.CancelAsync();
        return true;
    }

    private static JobDto ToDto(JobRow job, string file) =>
        new(
            job.Id,
            WireText.Name(job.State),
            file,
            job.Rows,
            job.Progress,
            job.State == JobState.Done && Work(job).Load is not null ? JsonSerializer.Deserialize<ReceiptDto>(job.Result!) : null,
            job.State == JobState.Failed ? Problems.Kept(job.Result!) : null,
            job.State == JobState.Done && Work(job).Fetch is not null ? JsonSerializer.Deserialize<UploadDto>(job.Result!) : null,
            job.State == JobState.Done && Work(job).Preview is not null
                ? JsonSerializer.Deserialize<LoadPreview>(job.Result!)
                : null
        );

    private void Tell(string job) => news.Tell(job);

    private long Now => clock.GetUtcNow().UtcTicks;
}
