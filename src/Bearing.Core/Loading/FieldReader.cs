using System.Buffers;
using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Loading;

/// <summary>A record as it is stored.</summary>
/// <param name="Row">Place in the file.</param>
/// <param name="Fields">JSON object: field code → text; dates as yyyy-MM-dd, numbers in plain decimal notation. Blank fields are
/// left out.</param>
public readonly record struct RecordRow(int Row, string Fields);

/// <summary>Reads the columns of a row that become fields: of records all of them, of ledger lines those that play no other
/// part.</summary>
public sealed class FieldReader
{
    private static readonly JsonWriterOptions Relaxed = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };
    private readonly Book _book;
    private readonly FileMapping _mapping;
    private readonly ImmutableArray<(Field Field, MemberFinder? Finder, string? DateFormat)> _columns;
    private readonly ArrayBufferWriter<byte> _buffer = new();
    private TableLayout _layout;

    public FieldReader(Book book, FileMapping mapping, TableLayout layout)
    {
        (_book, _mapping, _layout) = (book, mapping, layout);
        _columns = [.. layout.Fields.Select(f => Column(f.Column))];
    }

    public ImmutableArray<Field> Fields => [.. _columns.Select(c => c.Field)];

    public void Use(TableLayout layout) => _layout = layout;

    /// <summary>"Invoice_no" → "invoice-no".</summary>
    public static string CodeOf(string name)
    {
        var code = string.Join(
            '-',
            Words
                .Tokens(HeadingWords.Spaced(name))
                .Select(t => new string([.. t.Stem.Where(char.IsAsciiLetterOrDigit)]))
                .Where(t => t.Length > 0)
        );
        return code.Length == 0 ? "field"
            : code.Length > 40 ? code[..40]
            : code;
    }

    /// <summary>The fields of a row, or why they cannot be read; null for a row without any.</summary>
    public Refusal? Read(RawRow raw, out string? json)
    {
        json = null;
        if (_columns.Length == 0)
            return null;
        _buffer.Clear();
        using var writer = new Utf8JsonWriter(_buffer, Relaxed);
        writer.WriteStartObject();
        for (var i = 0; i < _columns.Length; i++)
        {
            var index = _layout.Fields[i].Index;
            var text = RowMapper.Clean(raw.Fields[index]);
            if (text.Length == 0 || _mapping.Blanks.Contains(text))
            {
                if (_columns[i].Field.Type == FieldType.Key)
                    return Refuse(
                        raw,
                        index,
                        "",
                        $"The row has no {_columns[i].Field.Name.ToLowerInvariant()}.",
                        "Give every record its key."
                    );
                continue;
            }
            if (!TryValue(i, raw, index, text, out var value, out var refusal))
                return refusal;
            writer.WriteString(_columns[i].Field.Code, value);
        }
        writer.WriteEndObject();
        writer.Flush();
        json = Encoding.UTF8.GetString(_buffer.WrittenSpan);
        return null;
    }

    private (Field, MemberFinder?, string?) Column(ColumnMapping column)
    {
        var name = column.Name ?? HeadingWords.Spaced(column.Heading);
        if (column.Field is { } type)
            return (new Field(CodeOf(name), name, type), null, column.DateFormat ?? _mapping.DateFormat);
        var dimension = column.Role switch
        {
            "account" => _book.Accounts,
            "entity" => _book.Entities,
            { } role
                when role.StartsWith("dimension:", StringComparison.Ordinal)
                    && _book.TryDimension(role["dimension:".Length..], out var own) => own,
            _ => throw LoadRefusedException.File(
                $"The column “{column.Heading}” is to be read as “{column.Role}”, which a table of records does not have.",
                "Use field:text, field:key, field:date, field:amount, field:quantity, field:rate, account, entity or dimension:CODE."
            ),
        };
        return (
            new Field(CodeOf(name), name, FieldType.Member, dimension.Code),
            new MemberFinder(_book, _mapping, dimension, column.Role!),
            null
        );
    }

    private bool TryValue(int column, RawRow raw, int index, string text, out string value, out Refusal? refusal)
    {
        (value, refusal) = (text, null);
        var (field, finder, format) = _columns[column];
        switch (field.Type)
        {
            case FieldType.Amount or FieldType.Quantity or FieldType.Rate:
                if (
                    raw.Typed?[index] is not decimal number
                    && !Numbers.TryRead(text, _mapping.DecimalComma, out number, out var because)
                )
                    refusal = Refuse(
                        raw,
                        index,
                        text,
                        $"“{text}” {because}.",
                        "Correct the number; write it without currency signs."
                    );
                else if (raw.Typed?[index] is decimal typed)
                    value = typed.ToString(CultureInfo.InvariantCulture);
                else
                    value = number.ToString(CultureInfo.InvariantCulture);
                break;
            case FieldType.Date:
                if (raw.Typed?[index] is DateOnly day)
                    value = day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
                else if (TryDate(text, format) is { } read)
                    value = read;
                else
                    refusal = Refuse(
                        raw,
                        index,
                        text,
                        $"“{text}” is not a date of the form {format ?? "yyyy-MM-dd"}.",
                        "Correct the date, or say its form in the mapping."
                    );
                break;
            case FieldType.Text when _mapping.LookUps.GetValueOrDefault(field.Code) is { } lookUp:
                value = lookUp.GetValueOrDefault(text, text);
                break;
            case FieldType.Member:
                // A member that the book does not have stays as text: a record may speak of more than the ledger does.
                if (finder!.TryFind(text, out var id))
                    value = _book.Member(id).Code;
                break;
        }
        return refusal is null;
    }

    /// <summary>A day, or a day with a time behind a blank or a T, in the form in which text order is time order.</summary>
    private static string? TryDate(string text, string? format)
    {
        var split = text.IndexOfAny([' ', 'T']);
        var (day, time) =
            split > 0 && format?.Contains(' ', StringComparison.Ordinal) != true
                ? (text[..split], text[(split + 1)..])
                : (text, "");
        if (
            !DateOnly.TryParseExact(day, format ?? "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date)
            && !DateOnly.TryParseExact(day, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out date)
        )
            return null;
        var plain = date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        if (time.Length == 0)
            return plain;
        return TimeOnly.TryParse(time, CultureInfo.InvariantCulture, out var at) ? $"{plain}T{at:HH:mm:ss}" : null;
    }

    private Refusal Refuse(RawRow raw, int index, string value, string because, string remedy) =>
        new(raw.Number, _layout.Heading.Fields[index].Trim(), value.Length > 60 ? value[..60] + "…" : value, because, remedy);
}
