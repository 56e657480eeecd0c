using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Bearing.Data.Sources;

/// <summary>
/// Brings what a source gives into a file of JSON lines. After every page it notes how far it is, so that a lost connection or a
/// restart goes on there.
/// </summary>
/// <param name="path">Of the file; beside it, while it is not whole, lies the note.</param>
public sealed class FetchFile(string path)
{
    private sealed record Note(string Next, long Bytes, long Rows);

    /// <summary>What one fetch may bring and take; a source without an end stops here.</summary>
    private const long MostRows = 50_000_000;
    private const long MostBytes = 16L << 30;
    private const int MostTries = 100;
    private static readonly TimeSpan MostTime = TimeSpan.FromHours(2);

    /// <summary>A source that gives nothing for so long is taken to give nothing more.</summary>
    private static readonly TimeSpan MostSilence = TimeSpan.FromMinutes(10);

    private static readonly TimeSpan[] Pauses =
    [
        TimeSpan.FromMilliseconds(300),
        TimeSpan.FromSeconds(1),
        TimeSpan.FromSeconds(3),
    ];
    private string NotePath => path + ".note";

    /// <returns>Number of rows.</returns>
    /// <exception cref="SourceException">When the source cannot be read, also after some tries.</exception>
    public async Task<long> Fetch(Source source, Fetch fetch, IProgress<long>? progress, CancellationToken cancel)
    {
        var (tries, until) = (0, Environment.TickCount64 + (long)MostTime.TotalMilliseconds);
        for (var attempt = 0; ; attempt++)
        {
            if (++tries > MostTries || Environment.TickCount64 > until)
                throw new SourceException(
                    $"The source was asked {tries:N0} times and did not come to its end.",
                    "Fetch less at once: fewer columns, or a filter."
                );
            var before = ReadNote()?.Rows ?? 0;
            try
            {
                var rows = await Once(source, fetch, progress, cancel);
                File.Delete(NotePath);
                return rows;
            }
            catch (SourceException e) when (e.MayPass && (attempt < Pauses.Length || (ReadNote()?.Rows ?? 0) > before))
            {
                // As long as pages come in, it goes on.
                if ((ReadNote()?.Rows ?? 0) > before)
                    attempt = 0;
                await Task.Delay(Pauses[Math.Min(attempt, Pauses.Length - 1)], cancel);
            }
        }
    }

    private async Task<long> Once(Source source, Fetch fetch, IProgress<long>? progress, CancellationToken cancel)
    {
        var note = ReadNote();
        await using var file = new FileStream(path, FileMode.OpenOrCreate, FileAccess.Write);
        file.SetLength(note?.Bytes ?? 0);
        file.Seek(0, SeekOrigin.End);
        var rows = note?.Rows ?? 0;
        using var silence = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        silence.CancelAfter(MostSilence);
        await using var pages = source.Pages(fetch, note?.Next, silence.Token).GetAsyncEnumerator(silence.Token);
        while (await MoveNext(pages, silence, cancel))
        {
            var page = pages.Current;
            silence.CancelAfter(MostSilence);
            foreach (var row in page.Rows)
                await file.WriteAsync(Encoding.UTF8.GetBytes(row.ToJsonString(Relaxed) + "\n"), cancel);
            await file.FlushAsync(cancel);
            rows += page.Rows.Count;
            if (rows > MostRows || file.Length > MostBytes)
                throw new SourceException(
                    $"The source gives more than {MostRows:N0} rows or {MostBytes >> 30} GB.",
                    "Fetch less at once: fewer columns, or a filter."
                );
            if (page.Next is not null)
                await WriteNote(new Note(page.Next, file.Length, rows), cancel);
            progress?.Report(rows);
        }
        return rows;
    }

    private static async Task<bool> MoveNext(
        IAsyncEnumerator<SourcePage> pages,
        CancellationTokenSource silence,
        CancellationToken cancel
    )
    {
        try
        {
            // A database's driver may block: it runs apart, so that whoever waits can be told.
            return await Task.Run(async () => await pages.MoveNextAsync(), CancellationToken.None);
        }
        catch (OperationCanceledException) when (silence.IsCancellationRequested && !cancel.IsCancellationRequested)
        {
            throw new SourceException(
                $"The source gave nothing for {MostSilence.TotalMinutes:0} minutes.",
                "Make the query quicker, or fetch less at once."
            );
        }
    }

    private static readonly JsonSerializerOptions Relaxed = new()
    {
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    private Note? ReadNote() =>
        File.Exists(NotePath) && File.Exists(path) ? JsonSerializer.Deserialize<Note>(File.ReadAllText(NotePath)) : null;

    private async Task WriteNote(Note note, CancellationToken cancel)
    {
        await File.WriteAllTextAsync(NotePath + ".new", JsonSerializer.Serialize(note), cancel);
        File.Move(NotePath + ".new", NotePath, overwrite: true);
    }
}
