using System.Collections.Concurrent;
using System.Runtime.ExceptionServices;

namespace Bearing.Data.Formats;

/// <summary>Reads a sequence on a thread of its own, some batches ahead of the one who takes it.</summary>
public static class ReadAhead
{
    /// <summary>Small enough for a batch of large structs to stay out of the large-object heap.</summary>
    private const int BatchSize = 256;

    /// <summary>Enough for the taker to stop for a while without the source having to wait.</summary>
    private const int MostBatches = 1024;

    /// <summary>
    /// The taker runs in the caller's thread and gets everything in the order of the source. A batch is its own until it asks for
    /// the next. The first fault, of the source or of the taker, stops both and is thrown here.
    /// </summary>
    public static void Run<T>(IEnumerable<T> source, Action<IEnumerable<List<T>>> take)
    {
        using var batches = new BlockingCollection<List<T>>(MostBatches);
        var taken = new ConcurrentBag<List<T>>();
        using var stop = new CancellationTokenSource();
        ExceptionDispatchInfo? fault = null;
        var reading = Task.Factory.StartNew(
            () => Guard(Read),
            CancellationToken.None,
            TaskCreationOptions.LongRunning,
            TaskScheduler.Default
        );
        Guard(() => take(Taken()));
        // Whoever takes may be content before the end.
        stop.Cancel();
        reading.Wait(CancellationToken.None);
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
                    if (batch.Count < BatchSize)
                        continue;
                    batches.Add(batch, stop.Token);
                    if (!taken.TryTake(out batch))
                        batch = new List<T>(BatchSize);
                }
                batches.Add(batch, stop.Token);
            }
            finally
            {
                batches.CompleteAdding();
            }
        }

        void Guard(Action action)
        {
            try
            {
                action();
            }
            catch (OperationCanceledException) when (stop.IsCancellationRequested)
            {
                // The other one failed first, or wants no more.
            }
            catch (Exception e)
            {
                Interlocked.CompareExchange(ref fault, ExceptionDispatchInfo.Capture(e), null);
                stop.Cancel();
            }
        }
    }
}
