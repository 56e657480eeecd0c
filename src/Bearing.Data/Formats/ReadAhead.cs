using System.Collections.Concurrent;
using System.Runtime.ExceptionServices;

namespace Bearing.Data.Formats;

/// <summary>Reads a sequence on a thread of its own, a few batches ahead of whoever takes it; order and faults stay as they are.</summary>
public static class ReadAhead
{
    /// <summary>Small enough for a batch of large structs to stay out of the large-object heap.</summary>
    private const int BatchSize = 256;
    private const int MostBatches = 256;

    public static IEnumerable<T> Of<T>(IEnumerable<T> source)
    {
        using var batches = new BlockingCollection<List<T>>(MostBatches);
        using var stop = new CancellationTokenSource();
        ExceptionDispatchInfo? fault = null;
        var reading = Task.Factory.StartNew(() =>
        {
            try
            {
                var batch = new List<T>(BatchSize);
                foreach (var item in source)
                {
                    batch.Add(item);
                    if (batch.Count < BatchSize) continue;
                    batches.Add(batch, stop.Token);
                    batch = new List<T>(BatchSize);
                }
                batches.Add(batch, stop.Token);
            }
            catch (OperationCanceledException) when (stop.IsCancellationRequested)
            {
                // Whoever took the sequence had enough of it.
            }
            catch (Exception e)
            {
                fault = ExceptionDispatchInfo.Capture(e);
            }
            finally
            {
                batches.CompleteAdding();
            }
        }, CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default);
        try
        {
            foreach (var batch in batches.GetConsumingEnumerable())
                foreach (var item in batch) yield return item;
        }
        finally
        {
            stop.Cancel();
            reading.Wait();
        }
        fault?.Throw();
    }
}
