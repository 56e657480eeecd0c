using System.IO.Compression;
using Bearing.Core.Loading;

namespace Bearing.Data.Formats;

/// <summary>A file as it came, opened by what it holds and not by its name: text with separators, a workbook, JSON or Parquet,
/// also packed by gzip or zip.</summary>
public sealed class SourceFile
{
    /// <summary>No honest table is larger; a bomb ends here.</summary>
    private const long MostUnpacked = 8L << 30;

    /// <summary>Ledgers pack to a tenth or a fortieth; what packs to less than this is no table but a repetition.</summary>
    private const int MostRatio = 200;

    /// <summary>Below this the ratio does not matter.</summary>
    private const long Harmless = 64L << 20;

    private static readonly byte[] Zip = "PK\u0003\u0004"u8.ToArray();
    private static readonly byte[] Gzip = [0x1f, 0x8b];
    private static readonly byte[] Parquet = "PAR1"u8.ToArray();

    static SourceFile() => System.Text.Encoding.RegisterProvider(System.Text.CodePagesEncodingProvider.Instance);

    private SourceFile(string form, IReadOnlyList<SourceSheet> sheets) => (Form, Sheets) = (form, sheets);

    /// <summary>Removes what was unpacked beside a file; it is unpacked again when it is needed.</summary>
    public static void RemoveUnpacked(string path)
    {
        for (var unpacked = path + Unpacked; File.Exists(unpacked); unpacked += Unpacked)
            File.Delete(unpacked);
    }

    private const string Unpacked = ".unpacked";

    /// <summary>What it turned out to be, in words: "text, separator ;, windows-1252" or "workbook".</summary>
    public string Form { get; }

    public IReadOnlyList<SourceSheet> Sheets { get; }

    /// <summary>Whether text can be read by an encoding of this name.</summary>
    public static bool KnowsEncoding(string name) => TextEncoding.Named(name) is not null;

    /// <param name="path">The kept file. What is unpacked is kept beside it.</param>
    /// <param name="form">How a person says that its text is cut; null to find out.</param>
    /// <exception cref="LoadRefusedException">When it is empty, damaged or none of these.</exception>
    public static SourceFile Open(string path, TextForm? form = null)
    {
        if (BeginsWith(path, Gzip))
            path = Unpack(path, packed => new GZipStream(packed, CompressionMode.Decompress));
        if (BeginsWith(path, Zip))
        {
            if (SinglePacked(path) is not { } only)
                return form is null ? new SourceFile("workbook", Workbook.Open(path)) : throw NoText("a workbook");
            path = Unpack(path, packed => new ZipArchive(packed).GetEntry(only)!.Open());
        }
        if (BeginsWith(path, Parquet))
            return form is null ? new SourceFile("Parquet", [new ParquetTable(path)]) : throw NoText("a Parquet table");
        if (form is null && JsonRecords.TryOpen(path) is { } json)
            return new SourceFile(json.Form, [json]);
        var text = DelimitedText.Open(path, form);
        return new SourceFile(text.Form, [text]);
    }

    private static LoadRefusedException NoText(string what) =>
        LoadRefusedException.File(
            $"A separator or an encoding was said, and the file is {what}, which has neither.",
            "Leave them out, or take the mapping that belongs to this file."
        );

    /// <summary>The first rows of the sheet.</summary>
    public static List<RawRow> Head(SourceSheet sheet, int rows) => [.. sheet.Rows().Take(rows).Select(r => r.Row)];

    /// <summary>One row as the file has it, for the last step of a trail; null when there is none.</summary>
    public (string Sheet, RawRow Row)? Row(int number)
    {
        var (sheet, _) = RowPlace.Of(number);
        if (Math.Max(0, sheet) >= Sheets.Count)
            return null;
        var source = Sheets[Math.Max(0, sheet)];
        foreach (var (row, _) in source.Rows())
            if (row.Number == number)
                return (source.Name, row);
        return null;
    }

    private static bool BeginsWith(string path, byte[] mark)
    {
        using var stream = File.OpenRead(path);
        var head = new byte[mark.Length];
        return stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false) == mark.Length
            && head.AsSpan().SequenceEqual(mark);
    }

    /// <summary>Name of the one file in a zip; null for a workbook, which is a zip of its own kind.</summary>
    private static string? SinglePacked(string path)
    {
        try
        {
            using var zip = ZipFile.OpenRead(path);
            if (
                zip.Entries.Any(e =>
                    e.FullName.StartsWith("xl/", StringComparison.Ordinal) || e.FullName == "[Content_Types].xml"
                )
            )
                return null;
            var files = zip.Entries.Where(e => e.Length > 0).ToList();
            return files.Count == 1
                ? files[0].FullName
                : throw LoadRefusedException.File(
                    $"The zip holds {files.Count} files; one is read.",
                    "Load its files one after another."
                );
        }
        catch (InvalidDataException)
        {
            // Not even a list of entries: the workbook reader says so.
            return null;
        }
    }

    private static string Unpack(string path, Func<Stream, Stream> open)
    {
        var unpacked = path + Unpacked;
        if (File.Exists(unpacked))
            return unpacked;
        var draft = $"{unpacked}.{Guid.NewGuid():n}";
        try
        {
            using (var packed = File.OpenRead(path))
            using (var source = open(packed))
            using (var target = File.Create(draft))
            {
                var buffer = new byte[1 << 16];
                for (int read; (read = source.Read(buffer)) > 0; )
                {
                    target.Write(buffer.AsSpan(0, read));
                    if (target.Length > MostUnpacked)
                        throw LoadRefusedException.File(
                            "The packed file holds more than 8 GB.",
                            "Split it, and load the parts one after another."
                        );
                    if (target.Length > Harmless && target.Length > packed.Length * MostRatio)
                        throw LoadRefusedException.File(
                            $"The packed file unpacks to more than {MostRatio} times its size, as no table does.",
                            "Load the table itself."
                        );
                }
            }
            if (new FileInfo(draft).Length == 0)
                throw new InvalidDataException();
            File.Move(draft, unpacked, overwrite: true);
            return unpacked;
        }
        catch (InvalidDataException)
        {
            throw LoadRefusedException.File(
                "The packed file is damaged or incomplete.",
                "Pack it again, or load the table itself."
            );
        }
        finally
        {
            File.Delete(draft);
        }
    }
}
