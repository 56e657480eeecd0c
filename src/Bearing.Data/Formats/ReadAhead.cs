using System.Collections.Concurrent;
using System.Runtime.ExceptionServices;

namespace Bearing.Data.Formats;

/// <summary>Reads a sequence on a thread of its own, a few batches ahead of those who take it, and shares it out among them.</summary>
public static class ReadAhead
{
    /// <summary>Small enough for a batch of large structs to stay out of the large-object heap.</summary>
    private const int BatchSize = 256;
    /// <summary>Enough for those who take to stop for a while, all at once, without the source having to wait.</summary>
    private const int MostBatches = 1024;

    /// <summary>
    /// Each taker runs on a thread of its own and gets batches in the order of the source, others of which go to other takers. A batch
    /// is the taker's until it asks for the next. The first fault, of the source or of a taker, stops all and is thrown here.
    /// </summary>
    public static void Share<T>(IEnumerable<T> source, int takers, Action<IEnumerable<List<T>>> take)
    {
        using var batches = new BlockingCollection<List<T>>(MostBatches);
        var taken = new ConcurrentBag<List<T>>();
        using var stop = new CancellationTokenSource();
        ExceptionDispatchInfo? fault = null;
        Task.WaitAll([Run(Read), .. Enumerable.Range(0, takers).Select(_ => Run(() => take(Taken())))]);
        fault?.Throw();

        // A batch that was taken is filled again: new ones would be most of what the garbage collector has to look after.
        IEnumerable<List<T>> Taken()
        {
            foreach (var batch in batches.GetConsumingEnumerable(stop.Token))
            {
                yield return batch;
                batch.Clear();
                taken.Add(batch);
            }
        }

        void Read()
        {
            try
            {
                var batch = new List<T>(BatchSize);
                foreach (var item in source)
                {
                    batch.Add(item);
                    if (batch.Count < BatchSize) continue;
                    batches.Add(batch, stop.Token);
                    if (!taken.TryTake(out batch)) batch = new List<T>(BatchSize);
                }
                batches.Add(batch, stop.Token);
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
}
