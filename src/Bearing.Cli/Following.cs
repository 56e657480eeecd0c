using Bearing.Contracts;
using Spectre.Console;

namespace Bearing.Cli;

/// <summary>Waits for long work of the service, with a bar where someone watches.</summary>
internal static class Following
{
    /// <summary>The job as it ended.</summary>
    public static Task<JobDto> Job(Session session, string book, JobDto job, CancellationToken cancel) =>
        Session.IsTerminal && !session.AsJson ? Watch(session, book, job, cancel) : Last(session, book, job, cancel);

    private static Task<JobDto> Watch(Session session, string book, JobDto job, CancellationToken cancel) =>
        AnsiConsole
            .Progress()
            .HideCompleted(true)
            .Columns(new TaskDescriptionColumn(), new ProgressBarColumn(), new PercentageColumn(), new ElapsedTimeColumn())
            .StartAsync(async progress =>
            {
                var bar = progress.AddTask(Markup.Escape(job.File), maxValue: 1);
                await foreach (var state in session.Client.Follow(book, job.Id, cancel))
                {
                    (job, bar.Value) = (state, state.Progress);
                    bar.Description = $"{Markup.Escape(state.File)} {state.State}, {state.Rows:N0} rows";
                }
                return job;
            });

    private static async Task<JobDto> Last(Session session, string book, JobDto job, CancellationToken cancel)
    {
        await foreach (var state in session.Client.Follow(book, job.Id, cancel))
            job = state;
        return job;
    }
}
