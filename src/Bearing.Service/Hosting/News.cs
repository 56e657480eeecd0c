using System.Collections.Concurrent;

namespace Bearing.Service.Hosting;

/// <summary>Wakes those who wait for something to change. It carries nothing: what changed is read where it is kept.</summary>
internal sealed class News
{
    private readonly ConcurrentDictionary<string, TaskCompletionSource> _waiting = new();

    /// <summary>Ends when there is news of this after the call.</summary>
    public Task Next(string of) =>
        _waiting.GetOrAdd(of, _ => new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously)).Task;

    public void Tell(string of)
    {
        if (_waiting.TryRemove(of, out var waiting))
            waiting.SetResult();
    }
}
