using System.Globalization;
using Bearing.Contracts;
using Spectre.Console;

namespace Bearing.Cli;

/// <summary>Amounts as a reader wants them: grouped, negatives in parentheses, never rounded twice.</summary>
internal static class Figures
{
    private static readonly CultureInfo Plain = CultureInfo.InvariantCulture;

    public static string Cents(string amount) => Format(decimal.Parse(amount, Plain), 2);

    /// <param name="divisor">1 or 1,000: the scale stands in the heading.</param>
    public static string Scaled(string amount, decimal divisor, int decimals) =>
        Format(decimal.Parse(amount, Plain) / divisor, decimals);

    public static string Percent(string percent) => Format(decimal.Parse(percent, Plain), 1);

    private static string Format(decimal value, int decimals)
    {
        var rounded = decimal.Round(value, decimals, MidpointRounding.AwayFromZero);
        var text = Math.Abs(rounded).ToString("N" + decimals, Plain);
        return rounded < 0 ? $"({text})" : text + " ";
    }
}

/// <summary>Tables that fit the terminal, plain in a pipe.</summary>
internal static class Tables
{
    private const int PlainWidth = 160;

    /// <summary>The terminal's own width; in a pipe what COLUMNS says, and room for wide tables otherwise.</summary>
    private static int Width =>
        Math.Clamp(
            Session.IsTerminal ? AnsiConsole.Profile.Width
                : int.TryParse(
                    Environment.GetEnvironmentVariable("COLUMNS"),
                    NumberStyles.None,
                    CultureInfo.InvariantCulture,
                    out var columns
                )
                    ? columns
                : PlainWidth,
            60,
            200
        );

    public static void Print(IReadOnlyList<string> headings, IEnumerable<string[]> rows, params int[] right)
    {
        var table = NewTable();
        for (var i = 0; i < headings.Count; i++)
            table.AddColumn(
                new TableColumn(new Text(headings[i], new Style(decoration: Decoration.Bold)))
                {
                    Alignment = right.Contains(i) ? Justify.Right : Justify.Left,
                }
            );
        foreach (var row in rows)
            table.AddRow(row.Select(c => new Text(c)).ToArray<Spectre.Console.Rendering.IRenderable>());
        Write(table);
    }

    /// <summary>An answer's grid: scale and unit in the heading, F and U by letter as well as by colour.</summary>
    /// <param name="shown">Scale and decimals that were asked for; null for the usual ones.</param>
    public static void Print(GridDto grid, DisplayDto? shown = null)
    {
        var scale = ScaleOf(grid, shown, null);
        var scales = grid.Columns.ToDictionary(c => c.Id, c => c.Kind == "beside" ? ScaleOf(grid, shown, c) : scale);
        // Of several units each column says its own.
        var mixed = scales.Values.Any(s => s.Heading != scale.Heading);
        var several = grid.Columns.Select(c => c.Periods).Distinct().Count() > 1;
        string Heading(ColumnDto column) =>
            column.Title
            + (several ? "\n" + column.PeriodsName : "")
            + (mixed && column.Kind is "subject" or "beside" ? "\n" + scales[column.Id].Heading : "");
        var table = NewTable();
        table.AddColumn(new TableColumn(new Text(mixed ? "" : scale.Heading, new Style(decoration: Decoration.Bold))).NoWrap());
        foreach (var column in grid.Columns)
            table.AddColumn(
                new TableColumn(new Text(Heading(column), new Style(decoration: Decoration.Bold)).RightJustified())
                {
                    Alignment = Justify.Right,
                    Padding = Width < 100 ? new Padding(0, 0, 1, 0) : new Padding(1, 0, 1, 0),
                }.NoWrap()
            );
        foreach (var row in grid.Rows)
        {
            var style = new Style(
                decoration: row.Kind is "total" or "calculated" or "subtotal" ? Decoration.Bold : Decoration.None
            );
            if (row.Kind == "total" && grid.Rows.Count > 1)
                table.AddEmptyRow();
            table.AddRow(
                grid.Columns.Select(c => Cell(row, c, scales[c.Id], style))
                    .Prepend(new Text(new string(' ', row.Level * 2) + row.Label, style))
            );
        }
        Write(table);
    }

    /// <summary>How amounts are shown: what they are divided by, digits behind the point, unit and scale in words.</summary>
    private readonly record struct Scale(decimal Divisor, int Decimals, string Heading);

    /// <summary>Money from 100,000 on in thousands. Figures beside the first that are of its unit share its scale.</summary>
    private static Scale ScaleOf(GridDto grid, DisplayDto? shown, ColumnDto? beside)
    {
        var unit = beside?.Unit ?? grid.Unit;
        var largest = grid
            .Rows.SelectMany(r =>
                grid.Columns.Where(c => c.Kind == "beside" ? c.Unit == unit : c.Kind is "subject" or "base" && unit == grid.Unit)
                    .Select(c => r.Values[c.Id])
            )
            .OfType<string>()
            .Select(v => Math.Abs(decimal.Parse(v, CultureInfo.InvariantCulture)))
            .DefaultIfEmpty()
            .Max();
        var isMoney = unit.Length == 3 && unit.All(char.IsAsciiLetterUpper);
        var divisor =
            isMoney && shown?.Scale is { } asked ? asked
            : isMoney && largest >= 100_000m ? 1_000m
            : 1m;
        var own = unit == grid.Unit ? grid.Decimals : beside?.Decimals ?? grid.Decimals;
        return new Scale(
            divisor,
            shown?.Decimals is { } digits && (isMoney || beside is null) ? digits
                : divisor == 1m ? own
                : divisor == 1_000m ? 1
                : 2,
            divisor == 1m ? unit : $"{unit} {(divisor == 1_000m ? "thousand" : "million")}"
        );
    }

    public static void Bridge(ChartDto bridge, string unit)
    {
        var largest = bridge.Points.Max(p => Math.Abs(decimal.Parse(p.Subject!, CultureInfo.InvariantCulture)));
        var divisor = largest >= 100_000m ? 1_000m : 1m;
        var steps = bridge
            .Points.Where(p => p.Step is "step" or "other")
            .Select(p => Math.Abs(decimal.Parse(p.Subject!, CultureInfo.InvariantCulture)))
            .DefaultIfEmpty(1m)
            .Max();
        Console.WriteLine(bridge.Title);
        Print(
            [divisor == 1m ? unit : $"{unit} thousand", "Amount", "F/U", "Size of step"],
            bridge.Points.Select(p =>
                new[]
                {
                    (p.Step is "step" or "other" ? "  " : "") + p.Label,
                    Figures.Scaled(p.Subject!, divisor, divisor == 1m ? 2 : 1),
                    p.Mark,
                    p.Step is "step" or "other" && steps > 0
                        ? new string(
                            p.Subject![0] == '-' ? '░' : '█',
                            (int)Math.Round(Math.Abs(decimal.Parse(p.Subject, CultureInfo.InvariantCulture)) / steps * 24m)
                        )
                        : "",
                }
            ),
            1
        );
    }

    /// <summary>A label and a text, wrapped to the terminal with a hanging indent.</summary>
    public static void Wrapped(string? label, string text)
    {
        var indent = label is null ? 0 : 10;
        var width = Math.Min(Width, 110) - indent;
        var line = "";
        var lead = label is null ? "" : label.PadRight(indent);
        foreach (var word in text.Split(' '))
        {
            if (line.Length + word.Length + 1 > width && line.Length > 0)
            {
                Console.WriteLine(lead + line);
                (lead, line) = (new string(' ', indent), "");
            }
            line = line.Length == 0 ? word : $"{line} {word}";
        }
        Console.WriteLine(lead + line);
    }

    public static void Faint(string text)
    {
        if (Session.IsTerminal)
            AnsiConsole.MarkupLineInterpolated($"[grey]{text}[/]");
        else
            Console.WriteLine(text);
    }

    private static Text Cell(RowDto row, ColumnDto column, Scale scale, Style style)
    {
        if (row.Values[column.Id] is not { } value)
            return new Text(row.States.GetValueOrDefault(column.Id, ""), new Style(Color.Grey));
        return column.Kind switch
        {
            "mark" => new Text(value, new Style(value == "F" ? Color.Teal : Color.Orange3, decoration: Decoration.Bold)),
            "percent" or "share" => new Text(Figures.Percent(value), style),
            _ => new Text(Figures.Scaled(value, scale.Divisor, scale.Decimals), style),
        };
    }

    private static Table NewTable() =>
        new() { Border = Session.IsTerminal ? TableBorder.Horizontal : TableBorder.Simple, UseSafeBorder = true };

    private static void Write(Table table)
    {
        var console = AnsiConsole.Create(new AnsiConsoleSettings { Out = new AnsiConsoleOutput(Console.Out) });
        console.Profile.Width = Width;
        console.Write(table);
    }
}
