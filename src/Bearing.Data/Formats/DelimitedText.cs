using System.Text;
using Bearing.Core.Loading;
using CsvHelper;

namespace Bearing.Data.Formats;

/// <summary>Text with separators, in UTF-8 or Windows-1252. Streams: memory does not grow with the file.</summary>
internal sealed record DelimitedText : SourceSheet
{
    /// <summary>No honest row is longer; a quote that never closes ends here and not in memory.</summary>
    private const int LongestRow = 1 << 20;
    private const int MostColumns = 500;
    private const int Sniffed = 200;

    private static readonly char[] Separators = [';', '\t', ',', '|'];

    private readonly string _path;
    private readonly Encoding _encoding;
    private readonly char _separator;
    private readonly string _evidence;
    private readonly long _length;

    private DelimitedText(string path, Encoding encoding, char separator, string evidence)
        : base("")
    {
        (_path, _encoding, _separator, _evidence) = (path, encoding, separator, evidence);
        _length = Math.Max(1, new FileInfo(path).Length);
    }

    public string Form =>
        $"text, separator {(_separator == '\t' ? "tab" : $"“{_separator}”")} ({_evidence}), {_encoding.WebName}";

    /// <exception cref="LoadRefusedException">When the file is empty or no text in one encoding.</exception>
    public static DelimitedText Open(string path, TextForm? form)
    {
        var encoding = form?.Encoding is { } named ? TextEncoding.Named(named)! : TextEncoding.Of(path);
        if (form?.Separator is { } separator)
            return new DelimitedText(path, encoding, separator, "as said");
        var (found, usual, lines, of) = SeparatorOf(path, encoding);
        return new DelimitedText(
            path,
            encoding,
            found,
            usual == 0 ? "no line has one" : $"{usual:N0} in {(lines == of ? "each" : $"{lines:N0}")} of {of:N0} lines looked at"
        );
    }

    public override IEnumerable<(RawRow Row, double Part)> Rows()
    {
        using var reader = CsvReader.FromFile(
            _path,
            new CsvReaderOptions
            {
                HasHeader = false,
                Separator = _separator,
                Encoding = _encoding,
                TrackLineNumbers = true,
                MaxRecordSize = LongestRow,
                SkipEmptyLines = true,
                FieldCountMismatch = CsvFieldCountHandling.Allow,
                MalformedData = CsvMalformedDataHandling.Throw,
                TrimWhitespace = false,
            },
            FileOptions.SequentialScan
        );
        var repeats = new RepeatedText();
        while (Advance(reader))
        {
            if (reader.FieldCount > MostColumns && reader.LineNumber <= 1)
                throw LoadRefusedException.File(
                    $"The file has {reader.FieldCount:N0} columns; up to {MostColumns} are read.",
                    "Take out the columns that are not needed."
                );
            var fields = new string[reader.FieldCount];
            for (var i = 0; i < fields.Length; i++)
                fields[i] = repeats.Of(i, reader.GetSpan(i)) ?? repeats.Keep(i, reader.GetString(i));
            yield return (new RawRow((int)reader.LineNumber, fields), (double)reader.ByteOffset / _length);
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
            throw LoadRefusedException.File(
                $"The file cannot be read as CSV near line {reader.LineNumber + 1}: a quote is open or a row is longer than 1 MB.",
                "Correct the quotes there and load it again."
            );
        }
    }

    /// <summary>The separator with which most of the first lines have the same number of fields, more fields before
    /// fewer.</summary>
    private static (char Separator, int Usual, int Lines, int Of) SeparatorOf(string path, Encoding encoding)
    {
        var lines = new List<string>();
        using (var reader = new StreamReader(path, encoding, detectEncodingFromByteOrderMarks: true))
        {
            var buffer = new char[1 << 16];
            lines.AddRange(
                new string(buffer, 0, reader.ReadBlock(buffer))
                    .Split('\n')
                    .Take(Sniffed)
                    .Select(l => Unquoted(l.TrimEnd('\r')))
                    .Where(l => l.Length > 0)
            );
        }
        return Separators
            .Select(s => (s, Usual(lines, s), lines.Count))
            .Select(f => (f.s, f.Item2.Each, f.Item2.Lines, f.Count))
            .MaxBy(f => (f.Lines / Math.Max(1.0, f.Count)) + (f.Each * 0.001));
    }

    /// <summary>How often the separator stands in most lines that have it, and in how many it stands so often.</summary>
    private static (int Each, int Lines) Usual(List<string> lines, char separator) =>
        lines
            .Select(l => l.Count(c => c == separator))
            .Where(c => c > 0)
            .GroupBy(c => c)
            .Select(g => (Each: g.Key, Lines: g.Count()))
            .OrderByDescending(g => g.Lines)
            .ThenByDescending(g => g.Each)
            .FirstOrDefault();

    /// <summary>Separators inside quotes do not count.</summary>
    private static string Unquoted(string line)
    {
        if (!line.Contains('"', StringComparison.Ordinal))
            return line;
        var (text, inside) = (new StringBuilder(line.Length), false);
        foreach (var c in line)
        {
            if (c == '"')
                inside = !inside;
            else if (!inside)
                text.Append(c);
        }
        return text.ToString();
    }
}

/// <summary>
/// Most fields of a ledger say what one near above said: the same account, entity, day. Each such text is made once and shared,
/// which spares most of the memory that reading would ask for.
/// </summary>
internal sealed class RepeatedText
{
    private const int Slots = 256;
    private const int Longest = 40;
    private const int None = -1;
    private string[][] _kept = [];
    private int _slot;

    /// <summary>The text kept for the column that these bytes spell; null when it is not there. Only plain ASCII is
    /// kept.</summary>
    public string? Of(int column, ReadOnlySpan<byte> bytes)
    {
        _slot = None;
        if (bytes.Length == 0)
            return "";
        if (bytes.Length > Longest)
            return null;
        if (column >= _kept.Length)
            Grow(column);
        _slot =
            (
                (bytes[^1] * 31)
                + (bytes[bytes.Length / 2] * 7)
                + (bytes[0] * 3)
                + bytes.Length
                + (bytes.Length > 1 ? bytes[^2] * 61 : 0)
            ) & (Slots - 1);
        var kept = _kept[column][_slot];
        return kept is not null && Ascii.Equals(bytes, kept) ? kept : null;
    }

    /// <summary>Takes the place of what was kept for the bytes that were just looked for.</summary>
    public string Keep(int column, string text) => _slot == None ? text : _kept[column][_slot] = text;

    private void Grow(int column)
    {
        var before = _kept.Length;
        Array.Resize(ref _kept, column + 1);
        for (var i = before; i <= column; i++)
            _kept[i] = new string[Slots];
    }
}

/// <summary>Finds out in which encoding a text is written, over all of it.</summary>
internal static class TextEncoding
{
    /// <summary>Null for a name that is not registered. Bytes that it does not know are refused and not replaced.</summary>
    public static Encoding? Named(string name)
    {
        try
        {
            return Encoding.GetEncoding(name, EncoderFallback.ExceptionFallback, DecoderFallback.ExceptionFallback);
        }
        catch (Exception e) when (e is ArgumentException or NotSupportedException)
        {
            return null;
        }
    }

    /// <exception cref="LoadRefusedException">When the file is empty, binary, or partly in one encoding and partly in another,
    /// with the line.</exception>
    public static Encoding Of(string path)
    {
        using var stream = File.OpenRead(path);
        var head = new byte[3];
        var length = stream.ReadAtLeast(head, 3, throwOnEndOfStream: false);
        if (length == 0)
            throw LoadRefusedException.File("The file is empty.", "Export it again with its heading row and its rows.");
        if (length >= 2 && (head[0], head[1]) is (0xff, 0xfe) or (0xfe, 0xff))
            return head[0] == 0xff ? Encoding.Unicode : Encoding.BigEndianUnicode;
        stream.Position = 0;
        var (valid, firstInvalid) = Scan(stream);
        if (firstInvalid == 0)
            return new UTF8Encoding(false, throwOnInvalidBytes: true);
        if (valid == 0)
            return Encoding.GetEncoding(1252);
        throw new LoadRefusedException(
            new Refusal(
                firstInvalid,
                null,
                null,
                $"The file mixes encodings: line {firstInvalid} cannot be read in the encoding of the rest, UTF-8.",
                "Export the whole file in one encoding, or correct that line."
            )
        );
    }

    /// <summary>Counts characters of several bytes, and finds the first line with bytes that are none.</summary>
    private static (long Valid, int FirstInvalid) Scan(Stream stream)
    {
        var (valid, firstInvalid, line) = (0L, 0, 1);
        var (needed, buffer) = (0, new byte[1 << 16]);
        for (int read; (read = stream.Read(buffer)) > 0; )
        {
            // Most texts are plain ASCII: nothing in such a piece needs a second look.
            var piece = buffer.AsSpan(0, read);
            if (needed == 0 && System.Text.Ascii.IsValid(piece) && !piece.Contains((byte)0))
            {
                line += piece.Count((byte)'\n');
                continue;
            }
            for (var i = 0; i < read; i++)
            {
                var b = buffer[i];
                if (b == 0)
                    throw LoadRefusedException.File(
                        "The file is not text, so it is not a CSV.",
                        "Save the table as CSV (UTF-8) or XLSX and load that file."
                    );
                if (needed > 0)
                {
                    if ((b & 0xc0) == 0x80)
                    {
                        if (--needed == 0)
                            valid++;
                        continue;
                    }
                    needed = 0;
                    if (firstInvalid == 0)
                        firstInvalid = line;
                }
                if (b == '\n')
                    line++;
                else if (b >= 0x80)
                {
                    needed = b switch
                    {
                        >= 0xc2 and <= 0xdf => 1,
                        >= 0xe0 and <= 0xef => 2,
                        >= 0xf0 and <= 0xf4 => 3,
                        _ => 0,
                    };
                    if (needed == 0 && firstInvalid == 0)
                        firstInvalid = line;
                }
            }
        }
        if (needed > 0 && firstInvalid == 0)
            firstInvalid = line;
        return (valid, firstInvalid);
    }
}
