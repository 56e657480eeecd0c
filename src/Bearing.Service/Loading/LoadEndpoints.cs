using System.Buffers;
using System.Globalization;
using System.Security.Cryptography;
using System.Text.Json;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Loading;
using Bearing.Core.Store;
using Bearing.Data.Books;
using Bearing.Data.Formats;
using Bearing.Data.State;
using Bearing.Service.Books;
using Bearing.Service.Hosting;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Bearing.Service.Loading;

/// <summary>Upload, preview, load, watch, take back.</summary>
public static class LoadEndpoints
{
    public static void MapLoading(this IEndpointRouteBuilder app)
    {
        var book = app.MapGroup("/api/books/{book}").WithTags("Loading");
        book.MapPost("/uploads", Upload)
            .WithName("UploadFile")
            .Accepts<Stream>("application/octet-stream")
            .Produces<UploadDto>()
            .WithMetadata(new Microsoft.AspNetCore.Mvc.DisableRequestSizeLimitAttribute());
        book.MapPost("/loads/preview", Preview).WithName("PreviewLoad").Produces<JobDto>(StatusCodes.Status202Accepted);
        book.MapPost("/loads", Load).WithName("StartLoad").Produces<JobDto>(StatusCodes.Status202Accepted);
        book.MapGet("/loads", (string book, [AsParameters] PageOf page, BookShelf shelf) =>
                page.Of([.. shelf.Get(book).Store.Loads().Select(LoadMapping.ToDto)], l => $"{l.Load}")
            )
            .WithName("ListLoads");
        book.MapPost("/loads/{load:int}/undo", Undo).WithName("UndoLoad").Produces<UndoDto>();
        book.MapGet("/loads/{load:int}/rows/{row:int}", SourceRow).WithName("GetSourceRow").Produces<SourceRowDto>();
        book.MapGet("/jobs/{job}", async (string book, string job, LoadJobs jobs, CancellationToken cancel) =>
                await jobs.Find(book, job, cancel) ?? throw NoJob(job)
            )
            .WithName("GetJob")
            .Produces<JobDto>();
        book.MapDelete("/jobs/{job}", async (string book, string job, LoadJobs jobs, CancellationToken cancel) =>
                await jobs.Cancel(book, job, cancel) ? Results.Accepted() : throw NoJob(job)
            )
            .WithName("CancelJob")
            .Produces(202);
        book.MapGet("/jobs/{job}/refused", Refused).WithName("DownloadRefusedRows").Produces<string>(200, "text/csv");
        book.MapGet("/uploads/{upload}/refused", RefusedByPreview)
            .WithName("DownloadRowsThatWouldBeRefused")
            .Produces<string>(200, "text/csv");
        book.MapGet("/jobs/{job}/events", Events).WithName("FollowJob").Produces<JobDto>(200, "text/event-stream");
    }

    private static async Task<UploadDto> Upload(
        string book,
        string name,
        HttpRequest request,
        BookShelf shelf,
        IDbContextFactory<StateDb> state,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var open = shelf.Get(book);
        var draft = open.Incoming($"{Guid.NewGuid():n}.part");
        try
        {
            var (sha, bytes) = await Keep(request.Body, draft, cancel);
            File.Move(draft, open.Incoming(sha), overwrite: true);
            var upload = new UploadRow
            {
                Id = Guid.NewGuid().ToString("n"),
                Book = book,
                FileName = SafeName(name),
                Sha256 = sha,
                Bytes = bytes,
                CreatedTicks = clock.GetUtcNow().UtcTicks,
            };
            await using var db = await state.CreateDbContextAsync(cancel);
            db.Uploads.Add(upload);
            await db.SaveChangesAsync(cancel);
            return new UploadDto(upload.Id, upload.FileName, bytes, sha);
        }
        finally
        {
            File.Delete(draft);
        }
    }

    private static async Task<(string Sha256, long Bytes)> Keep(Stream body, string path, CancellationToken cancel)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        await using var file = File.Create(path);
        var buffer = ArrayPool<byte>.Shared.Rent(1 << 16);
        var total = 0L;
        for (int read; (read = await body.ReadAsync(buffer, cancel)) > 0; total += read)
        {
            hash.AppendData(buffer, 0, read);
            await file.WriteAsync(buffer.AsMemory(0, read), cancel);
        }
        ArrayPool<byte>.Shared.Return(buffer);
        return (Convert.ToHexStringLower(hash.GetHashAndReset()), total);
    }

    /// <summary>Only for people to read; the file itself lies under its hash.</summary>
    private static string SafeName(string name)
    {
        var last = name.Replace('\\', '/').Split('/')[^1];
        var clean = new string([.. last.Where(c => !char.IsControl(c))]);
        return clean.Length == 0 ? "file.csv"
            : clean.Length > 120 ? clean[..120]
            : clean;
    }

    private static async Task<IResult> Preview(
        string book,
        LoadRequest request,
        LoadJobs jobs,
        IDbContextFactory<StateDb> state,
        Asker asker,
        CancellationToken cancel
    )
    {
        _ = await FindUpload(state, book, request.Upload, cancel);
        return await Accepted(jobs, book, new JobWork(null, null, request), asker, null, cancel);
    }

    private static async Task<IResult> Load(
        string book,
        LoadRequest request,
        HttpRequest http,
        BookShelf shelf,
        LoadJobs jobs,
        IDbContextFactory<StateDb> state,
        Asker asker,
        CancellationToken cancel
    )
    {
        _ = shelf.Get(book);
        _ = await FindUpload(state, book, request.Upload, cancel);
        var key = http.Headers["Idempotency-Key"].ToString() is { Length: > 0 and <= 200 } given ? given : null;
        return await Accepted(jobs, book, new JobWork(request, null), asker, key, cancel);
    }

    private static async Task<IResult> Accepted(
        LoadJobs jobs,
        string book,
        JobWork work,
        Asker asker,
        string? key,
        CancellationToken cancel
    )
    {
        var job = await jobs.Enqueue(book, work, asker, key, cancel);
        return Results.Accepted($"/api/books/{book}/jobs/{job.Id}", await jobs.Find(book, job.Id, cancel));
    }

    private static async Task<UndoDto> Undo(string book, int load, BookChanges changes, Asker asker, CancellationToken cancel) =>
        new(load, await changes.Run(book, asker, (_, writer) => writer.Undo(load), cancel));

    private static SourceRowDto SourceRow(string book, int load, int row, BookShelf shelf)
    {
        var open = shelf.Get(book);
        var record = open.Store.Loads().FirstOrDefault(l => l.Load == load)
            ?? throw new ProblemException(
                ProblemKinds.NoSuchLoad,
                $"There is no load {load}.",
                "List the loads for their numbers."
            );
        var source = SourceFile.Open(open.Incoming(record.Sha256), record.Receipt.Text);
        var (sheet, found) = source.Row(row)
            ?? throw new ProblemException(
                ProblemKinds.NoSuchRow,
                $"Load {load} has no row {row}.",
                "Rows are numbered as the lines of the file, the heading being 1."
            );
        var detection = new Detection(open.Store.Read());
        var heading = source
            .Sheets.Where(s => s.Name == sheet)
            .SelectMany(s => s.Rows().Take(TableReader.HeadingReach))
            .Select(r => r.Row)
            .TakeWhile(r => Math.Abs(r.Number) < Math.Abs(row))
            .Append(found)
            .MaxBy(r => r == found ? -1 : detection.FindHeading([r]).Known);
        return new SourceRowDto(
            load,
            record.File,
            sheet,
            record.Sha256,
            new DateTimeOffset(DateTime.SpecifyKind(record.At, DateTimeKind.Utc)),
            RowPlace.Of(row).Row,
            heading.Fields ?? [],
            found.Fields
        );
    }

    /// <summary>The refused rows as the file has them, with why: to be corrected and loaded again.</summary>
    private static async Task<IResult> Refused(string book, string job, BookShelf shelf, LoadJobs jobs, CancellationToken cancel)
    {
        var found = await jobs.Find(book, job, cancel) ?? throw NoJob(job);
        return RefusedFile(shelf.Get(book).Refused(found.Id), found.File);
    }

    /// <summary>A file that would not land has its refused rows after its preview.</summary>
    private static async Task<IResult> RefusedByPreview(
        string book,
        string upload,
        BookShelf shelf,
        IDbContextFactory<StateDb> state,
        CancellationToken cancel
    )
    {
        var open = shelf.Get(book);
        var found = await FindUpload(state, book, upload, cancel);
        return RefusedFile(open.Refused(LoadPlanner.PreviewOf(found.Id)), found.FileName);
    }

    private static IResult RefusedFile(string path, string file) =>
        File.Exists(path)
            ? Results.File(path, "text/csv", $"refused-{Path.GetFileNameWithoutExtension(file)}.csv")
            : throw new ProblemException(
                ProblemKinds.NoRefusedRows,
                $"No rows of {file} were refused.",
                "Only files whose rows were refused have them."
            );

    /// <summary>The job's states as server-sent events, the first of them the state now, until it has ended.</summary>
    private static async Task<ServerSentEventsResult<JobDto>> Events(
        string book,
        string job,
        LoadJobs jobs,
        CancellationToken cancel
    ) =>
        await jobs.Find(book, job, cancel) is null
            ? throw NoJob(job)
            : TypedResults.ServerSentEvents(jobs.Follow(book, job, cancel));

    private static async Task<UploadRow> FindUpload(
        IDbContextFactory<StateDb> state,
        string book,
        string id,
        CancellationToken cancel
    )
    {
        await using var db = await state.CreateDbContextAsync(cancel);
        return await db.Uploads.AsNoTracking().FirstOrDefaultAsync(u => u.Id == id && u.Book == book, cancel)
            ?? throw new ProblemException(
                ProblemKinds.NoSuchUpload,
                $"There is no upload “{id}” in this book.",
                "Send the file to /uploads first and use the id that comes back."
            );
    }

    private static ProblemException NoJob(string id) =>
        new(
            ProblemKinds.NoSuchJob,
            $"There is no job “{id}” that could be found or stopped.",
            "Use the id that the load gave back."
        );
}
