using System.Text.Json;
using System.Threading.Channels;
using Bearing.Contracts;
using Bearing.Core.Loading;
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

public sealed partial class LoadJobs
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await using (var db = await state.CreateDbContextAsync(stoppingToken))
            foreach (
                var id in await db
                    .Jobs.Where(j => j.State == JobState.Queued || j.State == JobState.Running || j.State == JobState.Committing)
                    .OrderBy(j => j.CreatedTicks)
                    .Select(j => j.Id)
                    .ToListAsync(stoppingToken)
            )
                await _queue.Writer.WriteAsync(id, stoppingToken);
        try
        {
            await foreach (var id in _queue.Reader.ReadAllAsync(stoppingToken))
                if (await QueueOf(id, stoppingToken) is { } queue)
                    _last[queue] = After(_last.GetValueOrDefault(queue, Task.CompletedTask), id, stoppingToken);
        }
        catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
        {
            // Jobs under way are rolled back and stay as running in state.db; the next start takes them up again.
            await Task.WhenAll(_last.Values);
        }
    }

    private async Task<string?> QueueOf(string id, CancellationToken stopping)
    {
        await using var db = await state.CreateDbContextAsync(stopping);
        return await db.Jobs.AsNoTracking().FirstOrDefaultAsync(j => j.Id == id, stopping) is not { } job ? null
            : Work(job).Fetch is null ? job.Book
            : $"{job.Book}:fetch";
    }

    private async Task After(Task before, string id, CancellationToken stopping)
    {
        await before;
        try
        {
            await Run(id, stopping);
        }
        catch (OperationCanceledException) when (stopping.IsCancellationRequested)
        {
            // See ExecuteAsync.
        }
        catch (Exception e)
        {
            log.LogError(e, "Job {Job} could not be run", id);
        }
    }

    private async Task Run(string id, CancellationToken stopping)
    {
        await using var db = await state.CreateDbContextAsync(stopping);
        var job = await db.Jobs.FirstOrDefaultAsync(j => j.Id == id, stopping);
        if (job is null || job.State is JobState.Cancelled or JobState.Done or JobState.Failed)
            return;
        using var source = CancellationTokenSource.CreateLinkedTokenSource(stopping);
        _running[id] = source;
        using var span = Telemetry.Span("bearing.job", job.Book);
        try
        {
            job.Attempts++;
            if (Work(job).Fetch is not null && job.Attempts > MostFetchAttempts)
                throw new SourceException(
                    $"The service ended {MostFetchAttempts} times while this was fetched.",
                    "Fetch less at once, or find out from the service's log what ended it; then start the fetch again."
                );
            await Change(db, job, JobState.Running, null);
            using var use = await shelf.Use(job.Book, source.Token);
            if (Work(job) is { Fetch: { } fetch })
            {
                var upload = await Task.Run(() => Fetch(db, job, fetch, source.Token), source.Token);
                await Change(db, job, JobState.Done, JsonSerializer.Serialize(upload));
                log.LogInformation("Fetched {Rows} rows from {Source} for {Book}", job.Rows, fetch.Source, job.Book);
                return;
            }
            if (Work(job).Preview is { } preview)
            {
                var shown = await Preview(db, job, preview, source.Token);
                await Change(db, job, JobState.Done, JsonSerializer.Serialize(shown));
                return;
            }
            await _loading.WaitAsync(source.Token);
            LoadReceipt receipt;
            try
            {
                receipt = await Load(db, job, source.Token);
            }
            finally
            {
                _loading.Release();
            }
            await Change(db, job, JobState.Done, JsonSerializer.Serialize(LoadMapping.ToDto(receipt)));
            log.LogInformation(
                "Load {Load} of {File} into {Book}: {Rows} rows",
                receipt.Load,
                receipt.File,
                job.Book,
                receipt.RowsTaken
            );
        }
        catch (OperationCanceledException) when (!stopping.IsCancellationRequested)
        {
            await Change(db, job, JobState.Cancelled, null);
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            var problem = Problems.Describe(e);
            if (problem.Status == StatusCodes.Status500InternalServerError)
                log.LogError(e, "Load job {Job} failed", id);
            await Change(db, job, JobState.Failed, JsonSerializer.Serialize(problem));
        }
        finally
        {
            span?.SetTag("bearing.state", WireText.Name(job.State)).SetTag("bearing.rows", job.Rows);
            Telemetry.CountRows(job.Rows, WireText.Name(job.State));
            _running.TryRemove(id, out _);
        }
    }

    /// <summary>The fetched file lies among the incoming ones under its hash, like every upload.</summary>
    private async Task<UploadDto> Fetch(StateDb db, JobRow job, FetchWork work, CancellationToken cancel)
    {
        var open = shelf.Get(job.Book);
        var draft = open.Incoming($"fetch-{job.Id}.part");
        var what = new Fetch(work.What.From, work.What.Query, work.What.Columns ?? [], work.What.Filter);
        var rows = await new FetchFile(draft).Fetch(
            sources.Open(open, work.Source),
            what,
            new FetchProgress(new JobProgress(this, db, job)),
            cancel
        );
        if (rows == 0)
            throw LoadRefusedException.File($"{work.Source} has no rows for this.", "Check the filter.");
        string sha;
        await using (var file = File.OpenRead(draft))
            sha = Convert.ToHexStringLower(await System.Security.Cryptography.SHA256.HashDataAsync(file, cancel));
        var upload = new UploadRow
        {
            Id = Guid.NewGuid().ToString("n"),
            Book = job.Book,
            FileName = work.FileName,
            Sha256 = sha,
            Bytes = new FileInfo(draft).Length,
            CreatedTicks = Now,
        };
        File.Move(draft, open.Incoming(sha), overwrite: true);
        db.Uploads.Add(upload);
        db.Audit.Add(
            new AuditRow
            {
                Book = job.Book,
                What = $"fetched {rows} rows from {work.Source}",
                AtTicks = Now,
                By = job.By,
            }
        );
        job.Rows = rows;
        await db.SaveChangesAsync(cancel);
        return new UploadDto(upload.Id, upload.FileName, upload.Bytes, upload.Sha256);
    }

    /// <summary>How many rows a source has is not known before the end.</summary>
    private sealed class FetchProgress(JobProgress progress) : IProgress<long>
    {
        public void Report(long value) => progress.Report((value, 0.5));
    }

    private async Task<LoadReceipt> Load(StateDb db, JobRow job, CancellationToken cancel)
    {
        var open = shelf.Get(job.Book);
        if (open.Store.LoadOfJob(job.Id) is { } landed)
            return landed.Receipt;
        var request = Work(job).Load!;
        var (upload, headings) = await Uploads(db, request, cancel);
        return await changes.Run(
            job.Book,
            AskerOf(job),
            (book, writer) =>
            {
                var plan = new LoadPlanner(book, request).Plan(upload, headings, job.Id);
                return writer.Load(plan.Command, new JobProgress(this, db, job), cancel);
            },
            cancel
        );
    }

    private async Task<LoadPreview> Preview(StateDb db, JobRow job, LoadRequest request, CancellationToken cancel) =>
        await LoadPreviews.Run(
            shelf.Get(job.Book),
            request,
            await Uploads(db, request, cancel),
            AskerOf(job),
            new JobProgress(this, db, job),
            cancel
        );

    private static Asker AskerOf(JobRow job) => job.By is { } by ? Asker.Parse(by) : Asker.Service;

    private static async Task<(UploadRow File, UploadRow? Headings)> Uploads(
        StateDb db,
        LoadRequest request,
        CancellationToken cancel
    )
    {
        async Task<UploadRow> Find(string id) =>
            await db.Uploads.AsNoTracking().FirstOrDefaultAsync(u => u.Id == id, cancel)
            ?? throw new ProblemException(ProblemKinds.NoSuchUpload, $"There is no upload “{id}”.", "Send the file again.");
        return (await Find(request.Upload), request.Headings is { } headings ? await Find(headings) : null);
    }

    private async Task Change(StateDb db, JobRow job, JobState to, string? result)
    {
        (job.State, job.Result, job.ChangedTicks) = (to, result, clock.GetUtcNow().UtcTicks);
        if (to == JobState.Done)
            job.Progress = 1;
        try
        {
            await db.SaveChangesAsync(CancellationToken.None);
        }
        catch (Exception e) when (DiskFull.Is(e))
        {
            _unwritten[job.Id] = (to, result);
        }
        news.Tell(job.Id);
    }

    /// <summary>On a full disk the end of a job cannot be written down at once; whoever asks for it gets it, and it is tried
    /// again.</summary>
    private async Task WriteDown(StateDb db, JobRow job, CancellationToken cancel)
    {
        if (!_unwritten.TryGetValue(job.Id, out var end))
            return;
        (job.State, job.Result) = (end.State, end.Result);
        try
        {
            await db
                .Jobs.Where(j => j.Id == job.Id)
                .ExecuteUpdateAsync(
                    s =>
                        s.SetProperty(j => j.State, end.State)
                            .SetProperty(j => j.Result, end.Result)
                            .SetProperty(j => j.ChangedTicks, Now),
                    cancel
                );
            _unwritten.TryRemove(job.Id, out _);
        }
        catch (Exception e) when (DiskFull.Is(e))
        {
            // Still no room.
        }
    }

    /// <summary>Writes progress down now and then; called on the loading thread, so the context is not shared.</summary>
    private sealed class JobProgress(LoadJobs jobs, StateDb db, JobRow job) : IProgress<(long Rows, double Part)>
    {
        private long _last = Environment.TickCount64;

        public void Report((long Rows, double Part) value)
        {
            if (value.Part < 1 && Environment.TickCount64 - _last < ProgressEvery.TotalMilliseconds)
                return;
            _last = Environment.TickCount64;
            // All rows are read: what remains is the engine's own work up to the commit.
            (job.Rows, job.Progress, job.State) = (
                value.Rows,
                Math.Min(0.95, value.Part),
                value.Part >= 1 ? JobState.Committing : JobState.Running
            );
            job.ChangedTicks = jobs.Now;
            db.SaveChanges();
            jobs.Tell(job.Id);
        }
    }
}
