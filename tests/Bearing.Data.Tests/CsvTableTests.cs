using System.Text;
using Bearing.Core.Loading;
using Bearing.Data.Formats;
using CsCheck;
using Xunit;

namespace Bearing.Data.Tests;

public sealed class CsvTableTests : IDisposable
{
    private readonly string _path = Path.GetTempFileName();

    public void Dispose() => File.Delete(_path);

    private CsvTable Open(byte[] bytes)
    {
        File.WriteAllBytes(_path, bytes);
        return CsvTable.Open(_path);
    }

    private CsvTable Open(string text) => Open(Encoding.UTF8.GetBytes(text));

    [Theory]
    [InlineData("a,b\n1,2\n")]
    [InlineData("a;b\r\n1;2\r\n")]
    [InlineData("a\tb\n1\t2")]
    [InlineData("\ufeffa|b\n1|2\n")]
    public void Separators_line_ends_and_a_byte_order_mark_are_recognised(string text)
    {
        var table = Open(text);
        Assert.Equal(["a", "b"], table.Headings);
        Assert.Equal(["1", "2"], Assert.Single(table.Rows()).Row.Fields);
    }

    [Fact]
    public void Rows_carry_the_line_on_which_they_begin_and_can_be_fetched_again()
    {
        var table = Open("a,b\n1,\"two\nlines\"\n3,4\n");
        Assert.Equal([2, 4], table.Rows().Select(r => r.Row.Number));
        Assert.Equal(["3", "4"], table.Row(4)!.Value.Fields);
        Assert.Null(table.Row(3));
    }

    [Theory]
    [InlineData("", "empty")]
    [InlineData("a,b\n", "no rows")]
    [InlineData("a,b\n1,\"2\n3,4\n", "quote")]
    public void What_cannot_be_read_says_why(string text, string because) =>
        Assert.Contains(because, Assert.Throws<LoadRefusedException>(() => Open(text).Rows().Count()).Message, StringComparison.Ordinal);

    [Fact]
    public void Binary_files_other_encodings_endless_rows_and_a_thousand_columns_are_refused()
    {
        Assert.Contains("not text", Assert.Throws<LoadRefusedException>(() => Open([0x50, 0x4b, 3, 4, 0, 0, 1])).Message, StringComparison.Ordinal);
        Assert.Contains("UTF-8", Assert.Throws<LoadRefusedException>(() => Open([.. "a,b\n1,"u8, 0xe9, 0x0a])).Message, StringComparison.Ordinal);
        Assert.Contains("1 MB", Assert.Throws<LoadRefusedException>(() => Open("a,b\n1,\"" + new string('x', 3_000_000)).Rows().Count()).Message, StringComparison.Ordinal);
        Assert.Contains("columns", Assert.Throws<LoadRefusedException>(() => Open(string.Join(',', Enumerable.Range(0, 1000)) + "\n1\n")).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Any_bytes_end_in_rows_or_in_a_refusal() => Gen.Byte.Array[0, 400].Sample(bytes =>
    {
        var path = Path.GetTempFileName();
        try
        {
            File.WriteAllBytes(path, bytes);
            _ = CsvTable.Open(path).Rows().Count();
        }
        catch (LoadRefusedException e)
        {
            Assert.NotEmpty(e.Refusal.Remedy);
        }
        finally
        {
            File.Delete(path);
        }
    }, iter: 200);

    [Fact]
    public void Written_text_is_safe_to_open_and_numbers_stay_numbers() =>
        Assert.Equal("h\r\n'=1+1\r\n'@x\r\n-12.50\r\n\"a,b\"\r\n", CsvText.Write(["h"], [["=1+1"], ["@x"], ["-12.50"], ["a,b"]]));
}
