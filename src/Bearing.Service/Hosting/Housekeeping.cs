using Bearing.Core.Store;
using Bearing.Data.Books;
using Bearing.Service.Books;

namespace Bearing.Service.Hosting;

/// <summary>At the start and every hour: removes for good what lies in recycle folders or was taken back long enough ago, and
/// what broken uploads, fetches and previews left behind.</summary>
internal sealed class Housekeeping(
    BookShelf shelf,
    LeftoverSweep sweep,
    BookChanges changes,
    TimeProvider clock,
    ILogger<Housekeeping> log
) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromHours(1);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, clock);
        do
        {
            try
            {
                shelf.SweepErased();
                foreach (var id in shelf.Ids().Except(shelf.Damaged.Keys))
                {
                    if (shelf.Find(id) is not { } open)
                        continue;
                    await changes.Run(
                        id,
                        Asker.Service,
                        (_, writer) => writer.Purge(clock.GetUtcNow().UtcDateTime - BookChanges.KeptUndone),
                        stoppingToken
                    );
                    await sweep.Run(id, open, stoppingToken);
                }
            }
            catch (Exception e)
                when (e is IOException or UnauthorizedAccessException or BookDamagedException or BookGoneException)
            {
                log.LogWarning("Leftovers could not be removed: {Because}", e.Message);
            }
        } while (await timer.WaitForNextTickAsync(stoppingToken));
    }
}
