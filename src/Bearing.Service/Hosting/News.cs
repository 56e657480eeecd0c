using System.Collections.Concurrent;

namespace Bearing.Service.Hosting;

/// <summary>Wakes those who wait for something to change. It carries nothing: what changed is read where it is kept. Who still waits
/// when the service stops is let go.</summary>
public sealed class News : IDisposable
{
    private readonly ConcurrentDictionary<string, TaskCompletionSource> _waiting = new();
    private readonly CancellationToken _stopping;
    private readonly CancellationTokenRegistration _onStop;

    public News(IHostApplicationLifetime lifetime)
    {
        _stopping = lifetime.ApplicationStopping;
        _onStop = _stopping.Register(() =>
        {
            foreach (var waiting in _waiting.Values)
                waiting.TrySetCanceled(_stopping);
        });
    }

    /// <summary>Ends when there is news of this after the call; cancelled when the service stops.</summary>
    public Task Next(string of)
    {
        var next = _waiting.GetOrAdd(of, _ => new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously)).Task;
        return _stopping.IsCancellationRequested ? Task.FromCanceled(_stopping) : next;
    }

    public void Tell(string of)
    {
        if (_waiting.TryRemove(of, out var waiting))
            waiting.TrySetResult();
    }

    public void Dispose() => _onStop.Dispose();
}
