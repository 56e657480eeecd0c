using System.Text;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>Killing, stopping and starting again on the same folder.</summary>
public sealed class RestartTests
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_load_killed_under_way_is_taken_up_again_and_lands_once()
    {
        var data = Directory.CreateTempSubdirectory("bearing-kill-").FullName;
        string book,
            job;
        await using (var service = await ServiceProcess.Start(data))
        {
            book = await DemoService.NewBook(service.Client, "killed");
            using var content = new MemoryStream(Big(400_000));
            var upload = await service.Client.Upload(book, "big.csv", content, Cancel);
            job = (await service.Client.Load(book, new LoadRequest(upload.Id), "big", Cancel)).Id;
            await service.Until(async () => (await service.Client.Job(book, job, Cancel)) is { State: "running", Rows: > 0 });
            service.Kill();
        }
        await using (var service = await ServiceProcess.Start(data))
        {
            await service.Until(async () => (await service.Client.Job(book, job, Cancel)).State == "done");
            var load = Assert.Single(await service.Client.Loads(book, Cancel), l => l.File == "big.csv");
            Assert.Equal(400_000, load.Rows);
            var answer = (await service.Client.Ask(book, new AskRequest("revenue in August 2026"), Cancel)).Answers[0];
            Assert.Equal(("400000.00", 400_000L), (answer.Grid!.Rows[^1].Values["subject"], answer.TieOut.Count));
            Assert.Equal(0, await service.Stop());
        }
        Directory.Delete(data, true);
    }

    [Fact]
    public async Task After_a_clean_stop_everything_is_found_as_it_was_and_a_folder_has_one_service()
    {
        var data = Directory.CreateTempSubdirectory("bearing-stop-").FullName;
        string headline;
        await using (var service = await ServiceProcess.Start(data))
        {
            var book = await DemoService.NewBook(service.Client, "kept", "ledger-2026-h2.csv");
            headline = (await service.Client.Ask(book, new AskRequest("revenue in August 2026"), Cancel)).Answers[0].Headline;
            await Assert.ThrowsAsync<InvalidOperationException>(() => ServiceProcess.Start(data));
            Assert.Equal(0, await service.Stop());
        }
        await using (var service = await ServiceProcess.Start(data))
            Assert.Equal(
                headline,
                (await service.Client.Ask("kept", new AskRequest("revenue in August 2026"), Cancel)).Answers[0].Headline
            );
        Directory.Delete(data, true);
    }

    private static byte[] Big(int rows)
    {
        var text = new StringBuilder("Document,Date,Entity,Account,Credit,Debit,Text\n", rows * 48);
        for (var i = 0; i < rows; i++)
            text.Append(
                System.Globalization.CultureInfo.InvariantCulture,
                $"B{i},2026-08-{1 + (i % 28):D2},SKF,4010,1.00,,ticket {i}\n"
            );
        return Encoding.UTF8.GetBytes(text.ToString());
    }
}
