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
    private static readonly TimeSpan Every = TimeSpan.FromMinutes(1);
    private const int HourlyTurns = 60;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, clock);
        for (var turn = 0; turn == 0 || await timer.WaitForNextTickAsync(stoppingToken); turn++)
        {
            shelf.CloseIdle(BookShelf.KeptIdle);
            if (turn % HourlyTurns != 0)
                continue;
            try
            {
                shelf.SweepErased();
                foreach (var id in shelf.Ids().Except(shelf.Damaged.Keys))
                {
                    using var use = await shelf.Use(id, stoppingToken);
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
                when (e
                        is IOException
                            or UnauthorizedAccessException
                            or BookDamagedException
                            or BookGoneException
                            or BooksBusyException
                )
            {
                log.LogWarning("Leftovers could not be removed: {Because}", e.Message);
            }
        }
    }
}
