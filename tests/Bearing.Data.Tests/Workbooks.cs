using System.IO.Compression;
using System.Text;

namespace Bearing.Data.Tests;

/// <summary>Makes the smallest XLSX files that hold given cells.</summary>
internal static class Workbooks
{
    /// <param name="sheets">Name, and the cells of each row as markup.</param>
    public static byte[] Make(params (string Name, string[] Rows)[] sheets)
    {
        using var packed = new MemoryStream();
        using (var zip = new ZipArchive(packed, ZipArchiveMode.Create, leaveOpen: true))
        {
            void Write(string path, string text)
            {
                using var entry = zip.CreateEntry(path).Open();
                entry.Write(Encoding.UTF8.GetBytes($"""<?xml version="1.0" encoding="UTF-8"?>{text}"""));
            }

            const string main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
            const string office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
            const string package = "http://schemas.openxmlformats.org/package/2006";
            Write(
                "[Content_Types].xml",
                $"""<Types xmlns="{package}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/></Types>"""
            );
            Write(
                "_rels/.rels",
                $"""<Relationships xmlns="{package}/relationships"><Relationship Id="r" Type="{office}/officeDocument" Target="xl/workbook.xml"/></Relationships>"""
            );
            Write(
                "xl/workbook.xml",
                $"""<workbook xmlns="{main}" xmlns:r="{office}"><sheets>{string.Concat(sheets.Select((s, i) => $"""<sheet name="{s.Name}" sheetId="{i + 1}" r:id="s{i + 1}"/>"""))}</sheets></workbook>"""
            );
            Write(
                "xl/_rels/workbook.xml.rels",
                $"""<Relationships xmlns="{package}/relationships">{string.Concat(sheets.Select((_, i) => $"""<Relationship Id="s{i + 1}" Type="{office}/worksheet" Target="worksheets/sheet{i + 1}.xml"/>"""))}</Relationships>"""
            );
            for (var i = 0; i < sheets.Length; i++)
                Write(
                    $"xl/worksheets/sheet{i + 1}.xml",
                    $"""<worksheet xmlns="{main}"><sheetData>{string.Concat(sheets[i].Rows.Select((r, n) => $"""<row r="{n + 1}">{r}</row>"""))}</sheetData></worksheet>"""
                );
        }
        return packed.ToArray();
    }
}
