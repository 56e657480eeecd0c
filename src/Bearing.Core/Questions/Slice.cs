using System.Collections.Immutable;
using Bearing.Core.Books;

namespace Bearing.Core.Questions;

/// <summary>
/// A set of cells by canonical address. The text form is
/// <c>actual@2026-P09;figure=a:6110;entity=SKF,ORM;route!=R3</c>: the side, the periods, then the figure
/// (<c>a:</c> an account, <c>m:</c> a measure) and the filters, each code escaped as in a URL.
/// </summary>
public sealed record Slice(Side Side, PeriodSpan Span, FigureRef Figure, ImmutableArray<Filter> Filters)
{
    public override string ToString()
    {
        var kind = Figure.Kind == FigureKind.Account ? 'a' : 'm';
        var filters = Filters.Select(f =>
            $";{f.Dimension}{(f.Exclude ? "!=" : "=")}{string.Join(',', f.Members.Select(Uri.EscapeDataString))}"
        );
        return $"{Side}@{Span};figure={kind}:{Uri.EscapeDataString(Figure.Code)}{string.Concat(filters)}";
    }

    /// <exception cref="FormatException">Says which part of the address cannot be read.</exception>
    public static Slice Parse(string? text)
    {
        if (string.IsNullOrEmpty(text))
            throw new FormatException(
                "No slice was given; one is scenario@period;figure=..., such as actual@2026-P09;figure=a:6110."
            );
        var parts = text.Split(';');
        var head = parts[0].Split('@');
        if (head.Length != 2)
            throw new FormatException($"\"{parts[0]}\" is not of the form scenario@period.");
        if (!PeriodSpan.TryParse(head[1], out var span))
            throw new FormatException($"\"{head[1]}\" is not a period such as 2026-P09 or 2026-P01..2026-P09.");
        FigureRef? figure = null;
        var filters = ImmutableArray.CreateBuilder<Filter>();
        foreach (var part in parts.Skip(1))
        {
            var at = part.IndexOf('=', StringComparison.Ordinal);
            if (at <= 0)
                throw new FormatException($"\"{part}\" is not of the form dimension=code.");
            var exclude = part[at - 1] == '!';
            var name = part[..(exclude ? at - 1 : at)];
            var codes = part[(at + 1)..].Split(',').Select(Uri.UnescapeDataString).ToImmutableArray();
            if (name == "figure")
                figure = ParseFigure(codes[0]);
            else
                filters.Add(new Filter(name, codes, exclude));
        }
        return new Slice(
            Side.Parse(head[0]),
            span,
            figure ?? throw new FormatException("The address names no figure (figure=a:code or figure=m:code)."),
            filters.ToImmutable()
        );
    }

    private static FigureRef ParseFigure(string text) =>
        text.Length > 2 && text[1] == ':' && text[0] is 'a' or 'm'
            ? new(text[0] == 'a' ? FigureKind.Account : FigureKind.Measure, text[2..])
            : throw new FormatException($"\"{text}\" is not a figure such as a:6110 or m:gross-profit.");
}
