namespace Bearing.Service.Hosting;

/// <summary>What belongs to the start and is not done yet.</summary>
public sealed class Readiness
{
    private readonly HashSet<string> _waits = [];

    public IReadOnlyList<string> Waits
    {
        get
        {
            lock (_waits)
                return [.. _waits.Order(StringComparer.Ordinal)];
        }
    }

    /// <summary>Not ready before this is done.</summary>
    public void Await(string what)
    {
        lock (_waits)
            _waits.Add(what);
    }

    public void Done(string what)
    {
        lock (_waits)
            _waits.Remove(what);
    }
}
