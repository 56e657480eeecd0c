using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Core.Store;
using Bearing.Data.Books;
using Bearing.Data.Facts.Duck;
using CsCheck;
using Xunit;

namespace Bearing.Data.Tests;

/// <summary>Books as folders: made, found, closed and opened again, erased.</summary>
public sealed class BookShelfTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("bearing-shelf-").FullName;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public void Dispose() => Directory.Delete(_folder, true);

    private BookShelf Shelf() => new(_folder, new DuckEngine(TimeProvider.System), TimeProvider.System);

    private static BookDefinition Definition(string id) =>
        new()
        {
            Id = id,
            Name = $"Book {id}",
            Currency = "EUR",
            ResultLine = "result",
            Dimensions =
            [
                new(1, "account", "Account", DimensionRole.Account, ["Account"], []),
                new(2, "entity", "Entity", DimensionRole.Entity, ["Entity"], []),
            ],
            Statement = [new StatementLine("result", "Result", [], [])],
        };

    [Fact]
    public void A_book_is_found_again_by_another_shelf_on_the_same_folder()
    {
        using (var shelf = Shelf())
        {
            Assert.True(shelf.TryCreate(Definition("b1"), Asker.Local));
            Assert.False(shelf.TryCreate(Definition("b1"), Asker.Local));
            Assert.Equal("Book b1", shelf.Find("b1")!.Store.Read().Definition.Name);
        }
        using var again = Shelf();
        Assert.Equal(["b1"], again.Ids());
        Assert.Equal("Book b1", again.Find("b1")!.Edition().Book.Definition.Name);
        Assert.Null(again.Find("b2"));
    }

    [Fact]
    public void Erasing_takes_the_whole_folder_out_of_the_way_and_leaves_the_others()
    {
        using var shelf = Shelf();
        shelf.TryCreate(Definition("gone"), Asker.Local);
        shelf.TryCreate(Definition("stays"), Asker.Local);
        File.WriteAllText(shelf.Find("gone")!.Incoming("abc"), "kept file");
        Assert.True(shelf.Erase("gone"));
        Assert.False(shelf.Erase("gone"));
        Assert.Equal(["stays"], shelf.Ids());
        Assert.Equal(
            [".erased", "stays"],
            Directory.GetDirectories(Path.Combine(_folder, "books")).Select(Path.GetFileName).Order(StringComparer.Ordinal)
        );
        Assert.True(shelf.Restore("gone"));
        Assert.Equal("kept file", File.ReadAllText(shelf.Find("gone")!.Incoming("abc")));
    }

    [Theory]
    [InlineData("..")]
    [InlineData("../b")]
    [InlineData("a/b")]
    [InlineData("A")]
    [InlineData("")]
    [InlineData("a b")]
    [InlineData("ä")]
    [InlineData("-a")]
    public void Ids_that_could_be_paths_are_no_ids(string id)
    {
        using var shelf = Shelf();
        Assert.False(BookShelf.IsId(id));
        Assert.Null(shelf.Find(id));
        Assert.False(shelf.Erase(id));
    }

    [Fact]
    public void Any_text_is_an_id_of_letters_digits_and_dashes_or_none() =>
        Gen.String[0, 50]
            .Sample(
                id =>
                    Assert.Equal(
                        BookShelf.IsId(id),
                        id.Length is > 0 and <= 40
                            && id[0] != '-'
                            && id.All(c => c is >= 'a' and <= 'z' or >= '0' and <= '9' or '-')
                    ),
                iter: 300
            );

    [Fact]
    public void Editions_are_the_same_object_while_nothing_changes_and_old_ones_stay_askable()
    {
        using var test = new TestBook();
        var before = test.Open.Edition();
        Assert.Same(before, test.Open.Edition());
        test.Load(TestBook.Ledger(("A1", "2026-01-10", "FARES", "N1", 100m)), TableKind.Ledger);
        var after = test.Open.Edition();
        Assert.Equal(before.Book.Edition + 1, after.Book.Edition);
        Assert.Equal((0, 1), (Count(test.Open.Edition(before.Book.Edition)), Count(after)));
        Assert.Throws<ArgumentOutOfRangeException>(() => test.Open.Edition(99));

        static int Count(OpenEdition edition) =>
            edition
                .Facts.Cells(new CellQuery(1, new PeriodSpan(new(2026, 1), new(2026, 12)), [], [1], false), default)
                .AsTask()
                .GetAwaiter()
                .GetResult()
                .Count;
    }

    [Fact]
    public async Task Books_in_use_stay_open_idle_ones_close_and_others_wait()
    {
        using var shelf = new BookShelf(_folder, new DuckEngine(TimeProvider.System), TimeProvider.System, mostOpen: 2);
        foreach (var id in (string[])["one", "two", "three"])
            shelf.TryCreate(Definition(id), Asker.Local);
        Assert.Equal(2, shelf.OpenNow);
        var one = await shelf.Use("one", Cancel);
        using var two = await shelf.Use("two", Cancel);
        var open = shelf.Find("one");
        var three = shelf.Use("three", Cancel);
        Assert.False(three.IsCompleted);
        Assert.Same(open, shelf.Find("one"));
        one!.Dispose();
        using (await three)
            Assert.Equal(2, shelf.OpenNow);
        shelf.CloseIdle(TimeSpan.Zero);
        Assert.Equal(1, shelf.OpenNow);
        Assert.Equal("one", shelf.Find("one")!.Edition().Book.Definition.Id);
    }

    [Fact]
    public async Task Who_waits_too_long_is_told_that_all_are_in_use()
    {
        using var shelf = new BookShelf(_folder, new DuckEngine(TimeProvider.System), new Hurrying(), mostOpen: 1);
        foreach (var id in (string[])["one", "two"])
            shelf.TryCreate(Definition(id), Asker.Local);
        using var one = await shelf.Use("one", Cancel);
        await Assert.ThrowsAsync<BooksBusyException>(() => shelf.Use("two", Cancel));
        Assert.Null(await shelf.Use("nowhere", Cancel));
    }

    /// <summary>A minute passes between any two looks at the clock.</summary>
    private sealed class Hurrying : TimeProvider
    {
        private long _minutes;

        public override long GetTimestamp() => Interlocked.Increment(ref _minutes) * 60 * TimestampFrequency;
    }
}
