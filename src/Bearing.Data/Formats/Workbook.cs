using System.IO.Compression;
using Bearing.Core.Loading;
using ExcelDataReader;
using ExcelDataReader.Exceptions;

namespace Bearing.Data.Formats;

/// <summary>The sheets of an XLSX file. Cells keep their type: what a sheet holds as a number or a date is not read from its
/// text.</summary>
internal sealed record Workbook : SourceSheet
{
    /// <summary>Unpacked, no honest workbook is larger: a million rows of twenty columns are half of it.</summary>
    private const long MostUnpacked = 1L << 30;

    /// <summary>All different texts of a workbook are held in memory at once.</summary>
    private const long MostTexts = 200L << 20;

    /// <summary>Honest sheets pack to a tenth or so. Below the harmless size the ratio does not matter.</summary>
    private const int MostRatio = 60;
    private const long Harmless = 32L << 20;
    private const int MostColumns = 500;

    private readonly string _path;
    private readonly int _index;

    private Workbook(string path, string name, int index)
        : base(name) => (_path, _index) = (path, index);

    /// <exception cref="LoadRefusedException">When the file is damaged, or no workbook.</exception>
    public static IReadOnlyList<SourceSheet> Open(string path) =>
        Guarded(() =>
        {
            Weigh(path);
            using var reader = Reader(path);
            var sheets = new List<SourceSheet>();
            do sheets.Add(new Workbook(path, reader.Name, sheets.Count));
            while (reader.NextResult());
            return sheets;
        });

    /// <summary>Unpacks every part once and counts, since what a workbook says of its sizes may be untrue.</summary>
    private static void Weigh(string path)
    {
        using var zip = ZipFile.OpenRead(path);
        var (total, packed) = (0L, new FileInfo(path).Length);
        var buffer = new byte[1 << 16];
        foreach (var entry in zip.Entries)
        {
            using var part = entry.Open();
            var length = 0L;
            for (int read; (read = part.Read(buffer)) > 0; )
            {
                (length, total) = (length + read, total + read);
                if (total > MostUnpacked || (total > Harmless && total > packed * MostRatio))
                    throw LoadRefusedException.File(
                        $"The workbook is {packed >> 10:N0} KB and unpacks to more than {total >> 20:N0} MB, which is over the limit of {MostUnpacked >> 20:N0} MB or {MostRatio} times its size.",
                        "Take out empty formatted rows and columns, or save the sheet as CSV and load that."
                    );
                if (length > MostTexts && entry.FullName.EndsWith("sharedStrings.xml", StringComparison.OrdinalIgnoreCase))
                    throw LoadRefusedException.File(
                        $"The workbook holds more than {MostTexts >> 20:N0} MB of texts.",
                        "Save the sheet as CSV and load that."
                    );
            }
        }
    }

    public override IEnumerable<(RawRow Row, double Part)> Rows()
    {
        using var reader = Guarded(() => Reader(_path));
        for (var i = 0; i < _index; i++)
            reader.NextResult();
        var (row, all) = (0, Math.Max(1, reader.RowCount));
        while (Guarded(reader.Read))
        {
            row++;
            if (reader.FieldCount > MostColumns)
                throw LoadRefusedException.File(
                    $"Sheet {Name} has {reader.FieldCount:N0} columns; up to {MostColumns} are read.",
                    "Take out the columns that are not needed."
                );
            var (fields, typed) = (new string[reader.FieldCount], new object?[reader.FieldCount]);
            for (var i = 0; i < fields.Length; i++)
                (fields[i], typed[i]) = CellValue.Of(reader.GetValue(i));
            yield return (new RawRow(RowPlace.InSheet(_index, row), fields, typed), Math.Min(1, (double)row / all));
        }
    }

    private static IExcelDataReader Reader(string path) =>
        ExcelReaderFactory.CreateOpenXmlReader(File.OpenRead(path), new ExcelReaderConfiguration { LeaveOpen = false });

    private static T Guarded<T>(Func<T> read)
    {
        try
        {
            return read();
        }
        catch (Exception e)
            when (e
                    is InvalidDataException
                        or ExcelReaderException
                        or System.Xml.XmlException
                        or EndOfStreamException
                        or InvalidOperationException
                        or FormatException
                        or ArgumentException
                        or NullReferenceException
            )
        {
            throw LoadRefusedException.File(
                "The workbook is damaged or incomplete, or no XLSX file.",
                "Open it in a spreadsheet program, save it anew as XLSX or CSV, and load that."
            );
        }
    }
}
