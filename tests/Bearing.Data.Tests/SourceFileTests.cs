using System.IO.Compression;
using System.Text;
using Bearing.Core.Loading;
using Bearing.Data.Formats;
using CsCheck;
using Xunit;

namespace Bearing.Data.Tests;

/// <summary>Files as they come: what they are is found out from their bytes, and what cannot be read says why.</summary>
public sealed class SourceFileTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("bearing-file-").FullName;
    private int _files;

    public void Dispose() => Directory.Delete(_folder, true);

    private SourceFile Open(byte[] bytes)
    {
        var path = Path.Combine(_folder, $"{_files++}");
        File.WriteAllBytes(path, bytes);
        return SourceFile.Open(path);
    }

    private SourceFile Open(string text) => Open(Encoding.UTF8.GetBytes(text));

    private static List<RawRow> Rows(SourceFile file) => SourceFile.Head(file.Sheets[0], int.MaxValue);

    private static string Refused(Action open) => Assert.Throws<LoadRefusedException>(open).Message;

    [Theory]
    [InlineData("a,b\n1,2\n")]
    [InlineData("a;b\r\n1;2\r\n")]
    [InlineData("a\tb\n1\t2")]
    [InlineData("\ufeffa|b\n1|2\n")]
    public void Separators_line_ends_and_a_byte_order_mark_are_recognised(string text)
    {
        var rows = Rows(Open(text));
        Assert.Equal(["a", "b"], rows[0].Fields);
        Assert.Equal(["1", "2"], rows[1].Fields);
    }

    [Fact]
    public void Commas_of_amounts_and_texts_do_not_hide_the_separator()
    {
        var rows = Rows(Open("A title, with a comma\nDate;Amount;Text\n2026-01-05;1,50;\"a;b, c\"\n2026-01-06;2,25;x\n"));
        Assert.Equal(["2026-01-05", "1,50", "a;b, c"], rows[2].Fields);
    }

    [Theory]
    [InlineData('^', null, "a^b\n1^2;x,y\n", "utf-8")]
    [InlineData(null, "windows-1250", "a;b\n1;Łódź\n", "windows-1250")]
    [InlineData(':', "utf-16", "a:b\n1:2;x\n", "utf-16")]
    public void Separator_and_encoding_can_be_said(char? separator, string? encoding, string text, string written)
    {
        _ = SourceFile.KnowsEncoding(written);
        var path = Path.Combine(_folder, "said");
        File.WriteAllBytes(path, Encoding.GetEncoding(written).GetBytes(text));
        var rows = Rows(SourceFile.Open(path, new TextForm(separator, encoding)));
        Assert.Equal(["a", "b"], rows[0].Fields);
        Assert.Equal(text.TrimEnd()[6..], rows[1].Fields[1]);
    }

    [Fact]
    public void The_form_tells_its_evidence() =>
        Assert.Equal("text, separator “;” (2 in 3 of 4 lines looked at), utf-8", Open("A title\na;b;c\n1;2;3\n4;5;6\n").Form);

    [Fact]
    public void Rows_carry_the_line_on_which_they_begin_and_can_be_fetched_again()
    {
        var file = Open("a,b\n1,\"two\nlines\"\n\n3,4\n");
        Assert.Equal([1, 2, 5], Rows(file).Select(r => r.Number));
        Assert.Equal(["3", "4"], file.Row(5)!.Value.Row.Fields);
        Assert.Null(file.Row(3));
    }

    [Fact]
    public void Windows_1252_is_read_and_a_mixture_of_encodings_is_refused_with_its_line()
    {
        Assert.Equal("Café", Rows(Open([.. "a,b\n1,Caf"u8, 0xe9, 0x0a]))[1].Fields[1]);
        Assert.Contains("line 3", Refused(() => Open([.. "a,b\n1,Café\n2,Caf"u8, 0xe9, 0x0a])), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("", "empty")]
    [InlineData("a,b\n1,\"2\n3,4\n", "quote")]
    public void What_cannot_be_read_says_why(string text, string because) =>
        Assert.Contains(because, Refused(() => Rows(Open(text))), StringComparison.Ordinal);

    [Fact]
    public void Binary_files_endless_rows_a_thousand_columns_and_damaged_packs_are_refused()
    {
        Assert.Contains("not text", Refused(() => Open([0x7f, 0x45, 0, 0, 1])), StringComparison.Ordinal);
        Assert.Contains("1 MB", Refused(() => Rows(Open("a,b\n1,\"" + new string('x', 3_000_000)))), StringComparison.Ordinal);
        Assert.Contains(
            "columns",
            Refused(() => Rows(Open(string.Join(',', Enumerable.Range(0, 1000)) + "\n1\n"))),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "damaged or incomplete",
            Refused(() => Open([.. "PK\u0003\u0004"u8, 1, 2, 3, 4])),
            StringComparison.Ordinal
        );
        Assert.Contains("damaged or incomplete", Refused(() => Open([0x1f, 0x8b, 8, 0, 1, 2, 3])), StringComparison.Ordinal);
    }

    [Fact]
    public void A_packed_file_is_read_like_the_file_itself()
    {
        using var packed = new MemoryStream();
        using (var gzip = new GZipStream(packed, CompressionLevel.Fastest, leaveOpen: true))
            gzip.Write("a,b\n1,2\n"u8);
        Assert.Equal(["1", "2"], Rows(Open(packed.ToArray()))[1].Fields);
    }

    [Theory]
    [InlineData(
        """[{"date":"2026-01-05","amount":12.50,"site":{"code":"N1"}},{"date":"2026-01-06","amount":-3,"text":"x"}]""",
        "JSON array"
    )]
    [InlineData(
        "{\"date\":\"2026-01-05\",\"amount\":12.50,\"site\":{\"code\":\"N1\"}}\n\n{\"date\":\"2026-01-06\",\"amount\":-3,\"text\":\"x\"}\n",
        "JSON, a record on each line"
    )]
    public void Json_records_become_rows_with_exact_numbers_and_inner_names(string text, string form)
    {
        var file = Open(text);
        Assert.Equal(form, file.Form);
        var rows = Rows(file);
        Assert.Equal(["date", "amount", "site.code", "text"], rows[0].Fields);
        Assert.Equal((12.50m, "N1", ""), ((decimal)rows[1].Typed![1]!, rows[1].Fields[2], rows[1].Fields[3]));
        Assert.Equal((-3m, "x"), ((decimal)rows[2].Typed![1]!, rows[2].Fields[3]));
    }

    [Fact]
    public void Broken_json_is_refused_with_its_record() =>
        Assert.Contains("record 2", Refused(() => Rows(Open("{\"a\":1}\n{\"a\":\n"))), StringComparison.Ordinal);

    [Fact]
    public void Parquet_keeps_its_types()
    {
        var path = Path.Combine(_folder, "typed.parquet");
        using (var connection = new DuckDB.NET.Data.DuckDBConnection("Data Source=:memory:"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText =
                $"COPY (SELECT DATE '2026-01-05' AS day, CAST(12.34 AS DECIMAL(18,4)) AS amount, CAST(9.640000000000001 AS DOUBLE) AS binary, '00123' AS code, NULL AS nothing) TO '{path}' (FORMAT parquet)";
            command.ExecuteNonQuery();
        }
        var rows = Rows(SourceFile.Open(path));
        Assert.Equal(["day", "amount", "binary", "code", "nothing"], rows[0].Fields);
        Assert.Equal(["2026-01-05", "12.34", "9.64", "00123", ""], rows[1].Fields);
        Assert.Equal(
            (new DateOnly(2026, 1, 5), 12.34m, 9.64m),
            ((DateOnly)rows[1].Typed![0]!, (decimal)rows[1].Typed![1]!, (decimal)rows[1].Typed![2]!)
        );
    }

    [Fact]
    public void A_workbook_keeps_sheets_rows_and_types_and_its_formulas_give_their_values()
    {
        var file = Open(
            Workbooks.Make(
                ("Cover", ["""<c r="A1" t="inlineStr"><is><t>Title</t></is></c>"""]),
                (
                    "Data",
                    [
                        """<c r="A1" t="inlineStr"><is><t>Code</t></is></c><c r="C1" t="inlineStr"><is><t>Value</t></is></c>""",
                        """<c r="A2"><v>4000</v></c><c r="C2"><f>1+1</f><v>9.640000000000001</v></c>""",
                    ]
                )
            )
        );
        Assert.Equal(["Cover", "Data"], file.Sheets.Select(s => s.Name));
        var rows = SourceFile.Head(file.Sheets[1], 10);
        Assert.Equal(["4000", "", "9.64"], rows[1].Fields);
        Assert.Equal((1, 2), RowPlace.Of(rows[1].Number));
        Assert.Equal("Data", file.Row(rows[1].Number)!.Value.Sheet);
    }

    [Fact]
    public void A_zip_with_one_file_is_that_file_and_with_several_is_refused()
    {
        byte[] Zip(params string[] names)
        {
            using var packed = new MemoryStream();
            using (var zip = new ZipArchive(packed, ZipArchiveMode.Create, leaveOpen: true))
                foreach (var name in names)
                {
                    using var entry = zip.CreateEntry(name).Open();
                    entry.Write("a,b\n1,2\n"u8);
                }
            return packed.ToArray();
        }

        Assert.Equal(["1", "2"], Rows(Open(Zip("table.csv")))[1].Fields);
        Assert.Contains("2 files", Refused(() => Open(Zip("a.csv", "b.csv"))), StringComparison.Ordinal);
        Assert.Equal(["1", "2"], Rows(Open(Zip("../../etc/passwd")))[1].Fields);
    }

    [Fact]
    public void Any_bytes_end_in_rows_or_in_a_refusal() =>
        Gen.Select(Gen.Byte.Array[0, 400], Gen.Int[0, 4])
            .Sample(
                (bytes, kind) =>
                {
                    byte[] start = kind switch
                    {
                        1 => [.. "PK\u0003\u0004"u8],
                        2 => [0x1f, 0x8b],
                        3 => [.. "PAR1"u8],
                        4 => [.. "[{"u8],
                        _ => [],
                    };
                    var path = Path.Combine(_folder, Guid.NewGuid().ToString("n"));
                    try
                    {
                        File.WriteAllBytes(path, [.. start, .. bytes]);
                        foreach (var sheet in SourceFile.Open(path).Sheets)
                            _ = sheet.Rows().Count();
                    }
                    catch (LoadRefusedException e)
                    {
                        Assert.NotEmpty(e.Refusal.Remedy);
                    }
                },
                iter: 300
            );

    [Fact]
    public void Places_in_workbooks_and_texts_are_told_apart_by_one_number()
    {
        foreach (var (sheet, row) in new[] { (0, 1), (3, 1_048_576), (200, 17) })
            Assert.Equal((sheet, row), RowPlace.Of(RowPlace.InSheet(sheet, row)));
        Assert.Equal((-1, 10_000_000), RowPlace.Of(10_000_000));
    }

    [Fact]
    public void Written_text_is_safe_to_open_and_numbers_stay_numbers() =>
        Assert.Equal(
            "h\r\n'=1+1\r\n'@x\r\n-12.50\r\n\"a,b\"\r\n",
            CsvText.Write(
                ["h"],
                [
                    ["=1+1"],
                    ["@x"],
                    ["-12.50"],
                    ["a,b"],
                ]
            )
        );
}
