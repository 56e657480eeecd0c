using Bearing.Core.Loading;
using Bearing.Core.Questions;
using Bearing.Core.Store;
using Bearing.Data.Facts.Duck;
using Xunit;

namespace Bearing.Data.Tests;

/// <summary>What the door of a book promises whoever comes through it.</summary>
public sealed class DoorTests : IDisposable
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private readonly TestBook _test = new();

    public void Dispose() => _test.Dispose();

    [Fact]
    public async Task A_table_that_does_not_tell_the_slice_apart_is_not_seen_at_all()
    {
        _test.LoadBy(
            TestBook.Mapping(TableKind.Records, ("No", "field:key"), ("Amount", "field:amount")),
            "No,Amount\nA1,10\n"u8.ToArray()
        );
        var book = _test.Open.Store.Read();
        var query = new RecordQuery(book.Tables.Single(), [], null, false, 10, 0);
        var sight = Sight.Of(book, [new Filter("entity", ["N1"])]);
        Assert.Equal(1, (await _test.Sql(book).Records(query, Cancel)).Count);
        Assert.Equal(0, (await _test.Sql(book, sight).Records(query, Cancel)).Count);
    }

    [Fact]
    public void Every_edition_tells_who_made_it()
    {
        var door = _test.Open.Store;
        door.Writer(new Asker(AskerKind.Token, "nightly")).Teach("petrol", "a:FUEL", "nightly");
        door.Writer(Asker.Service).Forget(1);
        Assert.Equal(["person:local", "token:nightly", "service:bearing"], door.Editions(0).Select(e => e.By).Distinct());
        Assert.Equal(door.LatestEdition(), door.Editions(0)[^1].Edition);
    }

    [Fact]
    public async Task Changes_wait_for_each_other_in_the_order_in_which_they_came()
    {
        var order = new List<int>();
        await Task.WhenAll(
            Enumerable
                .Range(0, 20)
                .Select(i =>
                    _test.Open.Change(
                        Asker.Local,
                        writer =>
                        {
                            order.Add(i);
                            return writer.Teach($"word {i}", "a:FUEL", "test").Id;
                        },
                        Cancel
                    )
                )
        );
        Assert.Equal(Enumerable.Range(0, 20), order);
    }

    [Fact]
    public async Task Whoever_cancels_interrupts_the_statement()
    {
        using var stop = new CancellationTokenSource(TimeSpan.FromMilliseconds(200));
        var endless = _test.Engine.Query(
            c => DuckStore.Scalar<long>(c, "SELECT count(*) FROM range(1000000000) a, range(1000000000) b"),
            stop.Token
        );
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => endless.WaitAsync(TimeSpan.FromSeconds(20), Cancel));
    }
}
