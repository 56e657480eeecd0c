using System.Text;
using Bearing.Core.Loading;
using CsvHelper;

namespace Bearing.Data.Formats;

/// <summary>A CSV file as headings and rows with their line numbers. Streams: memory does not grow with the file.</summary>
public sealed class CsvTable
{
    /// <summary>No honest row is longer; a quote that never closes ends here and not in memory.</summary>
    private const int LongestRow = 1 << 20;
    private const int MostColumns = 500;
    private const int SampleRows = 1_000;

    private readonly string _path;

    private CsvTable(string path, string[] headings, char separator, IReadOnlyList<RawRow> sample)
    {
        (_path, Headings, Separator, Sample) = (path, headings, separator, sample);
        Length = new FileInfo(path).Length;
    }

    public IReadOnlyList<string> Headings { get; }

    public char Separator { get; }

    /// <summary>The first rows, up to 1,000.</summary>
    public IReadOnlyList<RawRow> Sample { get; }

    /// <summary>Bytes.</summary>
    public long Length { get; }

    /// <exception cref="LoadRefusedException">When the file is empty or not a CSV.</exception>
    public static CsvTable Open(string path)
    {
        CheckText(path);
        var rows = new List<RawRow>();
        char separator;
        using (var reader = Reader(path))
        {
            separator = reader.Separator;
            foreach (var (row, _) in Read(reader))
            {
                rows.Add(row);
                if (rows.Count > SampleRows) break;
            }
        }
        if (rows.Count == 0) throw LoadRefusedException.File("The file is empty.", "Export it again with its heading row and its rows.");
        var headings = rows[0].Fields.Select(h => h.Trim()).ToArray();
        if (headings.Length > MostColumns) throw LoadRefusedException.File($"The file has {headings.Length:N0} columns; up to {MostColumns} are read.", "Take out the columns that are not needed.");
        if (rows.Count == 1) throw LoadRefusedException.File("The file has a heading row and no rows below it.", "Check the filter of the export; it may have matched nothing.");
        return new CsvTable(path, headings, separator, rows[1..]);
    }

    /// <summary>All rows below the heading with the bytes read so far.</summary>
    public IEnumerable<(RawRow Row, long Bytes)> Rows()
    {
        using var reader = Reader(_path);
        foreach (var row in Read(reader).Skip(1)) yield return row;
    }

    /// <summary>One row as the file has it, for the last step of a trail; null when there is none.</summary>
    public RawRow? Row(int number)
    {
        foreach (var (row, _) in Rows())
            if (row.Number >= number) return row.Number == number ? row : null;
        return null;
    }

    private static IEnumerable<(RawRow Row, long Bytes)> Read(CsvReader reader)
    {
        while (Advance(reader))
        {
            var fields = new string[reader.FieldCount];
            for (var i = 0; i < fields.Length; i++) fields[i] = reader.GetString(i);
            yield return (new RawRow((int)reader.LineNumber, fields), reader.ByteOffset);
        }
    }

    private static bool Advance(CsvReader reader)
    {
        try
        {
            return reader.Read();
        }
        catch (Exception e) when (e is CsvFormatException or DecoderFallbackException or InvalidDataException)
        {
            throw LoadRefusedException.File($"The file cannot be read as CSV near line {reader.LineNumber + 1}: a quote is open or a row is longer than 1 MB.",
                "Correct the quotes there and load it again.");
        }
    }

    private static CsvReader Reader(string path) => CsvReader.FromFile(path, new CsvReaderOptions
    {
        HasHeader = false,
        TrackLineNumbers = true,
        MaxRecordSize = LongestRow,
        SkipEmptyLines = true,
        FieldCountMismatch = CsvFieldCountHandling.Allow,
        MalformedData = CsvMalformedDataHandling.Throw,
        TrimWhitespace = false,
    }, FileOptions.SequentialScan);

    private static void CheckText(string path)
    {
        using var stream = File.OpenRead(path);
        var head = new byte[65_536];
        var length = stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        if (length == 0) throw LoadRefusedException.File("The file is empty.", "Export it again with its heading row and its rows.");
        if (head.AsSpan(0, length).Contains((byte)0))
            throw LoadRefusedException.File("The file is not text, so it is not a CSV.", "Save the table as CSV (UTF-8) and load that file.");
        var usable = Encoding.UTF8.GetDecoder();
        usable.Fallback = DecoderFallback.ExceptionFallback;
        try
        {
            usable.GetCharCount(head, 0, length, flush: false);
        }
        catch (DecoderFallbackException)
        {
            throw LoadRefusedException.File("The file is not in UTF-8.", "Save it as CSV in UTF-8 and load that file.");
        }
    }
}
