namespace Bearing.Core.Loading;

/// <summary>One table-shaped part of a file: all its rows, titles and headings included, in order. Streams.</summary>
/// <param name="Name">Of the sheet; empty for a text file.</param>
public abstract record SourceSheet(string Name)
{
    /// <summary>The rows with the part of the file read so far (0–1). Blank lines of text files are skipped; their numbers are
    /// not.</summary>
    /// <exception cref="LoadRefusedException">Where the file cannot be read on, with the line.</exception>
    public abstract IEnumerable<(RawRow Row, double Part)> Rows();
}
