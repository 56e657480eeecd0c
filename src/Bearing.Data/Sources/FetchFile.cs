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

    private static readonly TimeSpan[] Pauses = [TimeSpan.FromMilliseconds(300), TimeSpan.FromSeconds(1), TimeSpan.FromSeconds(3)];
    private string NotePath => path + ".note";

    /// <returns>Number of rows.</returns>
    /// <exception cref="SourceException">When the source cannot be read, also after some tries.</exception>
    public async Task<long> Fetch(Source source, Fetch fetch, IProgress<long>? progress, CancellationToken cancel)
    {
        for (var attempt = 0; ; attempt++)
        {
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
                if ((ReadNote()?.Rows ?? 0) > before) attempt = 0;
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
        await foreach (var page in source.Pages(fetch, note?.Next, cancel))
        {
            foreach (var row in page.Rows) await file.WriteAsync(Encoding.UTF8.GetBytes(row.ToJsonString(Relaxed) + "\n"), cancel);
            await file.FlushAsync(cancel);
            rows += page.Rows.Count;
            if (page.Next is not null) await WriteNote(new Note(page.Next, file.Length, rows), cancel);
            progress?.Report(rows);
        }
        return rows;
    }

    private static readonly JsonSerializerOptions Relaxed = new() { Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    private Note? ReadNote() => File.Exists(NotePath) && File.Exists(path) ? JsonSerializer.Deserialize<Note>(File.ReadAllText(NotePath)) : null;

    private async Task WriteNote(Note note, CancellationToken cancel)
    {
        await File.WriteAllTextAsync(NotePath + ".new", JsonSerializer.Serialize(note), cancel);
        File.Move(NotePath + ".new", NotePath, overwrite: true);
    }
}
