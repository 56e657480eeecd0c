using System.Collections.Concurrent;
using System.Runtime.ExceptionServices;

namespace Bearing.Data.Formats;

/// <summary>Reads a sequence on a thread of its own, a few batches ahead of those who take it, and shares it out among them.</summary>
public static class ReadAhead
{
    /// <summary>Small enough for a batch of large structs to stay out of the large-object heap.</summary>
    private const int BatchSize = 256;
    private const int MostBatches = 256;

    /// <summary>
    /// Each taker runs on a thread of its own and gets batches in the order of the source, others of which go to other takers. The
    /// first fault, of the source or of a taker, stops all and is thrown here.
    /// </summary>
    public static void Share<T>(IEnumerable<T> source, int takers, Action<IEnumerable<T>> take)
    {
        using var batches = new BlockingCollection<List<T>>(MostBatches);
        using var stop = new CancellationTokenSource();
        ExceptionDispatchInfo? fault = null;
        Task.WaitAll([Run(Read), .. Enumerable.Range(0, takers).Select(_ => Run(() => take(batches.GetConsumingEnumerable(stop.Token).SelectMany(b => b))))]);
        fault?.Throw();

        void Read()
        {
            try
            {
                foreach (var batch in source.Chunked(BatchSize)) batches.Add(batch, stop.Token);
            }
            finally
            {
                batches.CompleteAdding();
            }
        }

        Task Run(Action action) => Task.Factory.StartNew(() =>
        {
            try
            {
                action();
            }
            catch (OperationCanceledException) when (stop.IsCancellationRequested)
            {
                // Another one failed first.
            }
            catch (Exception e)
            {
                Interlocked.CompareExchange(ref fault, ExceptionDispatchInfo.Capture(e), null);
                stop.Cancel();
            }
        }, CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default);
    }

    private static IEnumerable<List<T>> Chunked<T>(this IEnumerable<T> source, int size)
    {
        var batch = new List<T>(size);
        foreach (var item in source)
        {
            batch.Add(item);
            if (batch.Count < size) continue;
            yield return batch;
            batch = new List<T>(size);
        }
        yield return batch;
    }
}
