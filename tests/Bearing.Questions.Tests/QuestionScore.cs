using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Bearing.Contracts;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Reading;

namespace Bearing.EndToEnd.Tests;

internal enum Verdict
{
    /// <summary>Answered, asked back or refused as an expert would.</summary>
    AsExpected,

    /// <summary>Asked back or refused where an answer was possible: the person knows.</summary>
    NotAnswered,

    /// <summary>Answered otherwise, naming words that were not used.</summary>
    Otherwise,

    /// <summary>Answered otherwise, and nothing told the person.</summary>
    SilentlyWrong,
}

internal sealed record Scored(string Id, string Category, string Question, Verdict Verdict, string Why);

/// <summary>Holds answers of the service against expected values worked out without it.</summary>
/// <param name="firstMonth">Month in which the fiscal year begins.</param>
internal sealed class QuestionScore(int firstMonth)
{
    /// <param name="ask">A question and the one before it in the same talk → what comes back.</param>
    public async Task<List<Scored>> Score(Func<string, QuestionDto?, Task<AnswerSet>> ask, string file, CancellationToken cancel)
    {
        var nodes = (await File.ReadAllLinesAsync(file, cancel))
            .Select(l => JsonNode.Parse(l)!)
            .ToDictionary(n => n["id"]!.GetValue<string>());
        var scored = new Dictionary<string, Scored>();
        var asked = new Dictionary<string, QuestionDto?>();
        foreach (var (id, i) in nodes.Keys.Select((id, i) => (id, i)))
            await Ask(id);
        return [.. nodes.Keys.Where(scored.ContainsKey).Select(id => scored[id])];

        // A question may follow one that stands further down.
        async Task Ask(string id)
        {
            if (scored.ContainsKey(id))
                return;
            var node = nodes[id];
            QuestionDto? previous = null;
            if (node["after"]?.GetValue<string>() is { } after)
            {
                await Ask(after);
                previous = asked[after];
            }
            var text = node["question"]!.GetValue<string>();
            var set = await ask(text, previous);
            asked[id] = set.Answers.Count > 0 ? set.Answers[0].Question : set.Question ?? previous;
            var (verdict, why) = Judge(node["expect"]!, text, set);
            scored[id] = new Scored(id, node["category"]!.GetValue<string>(), text, verdict, why);
        }
    }

    public static string Report(List<Scored> scored)
    {
        var lines = scored
            .GroupBy(s => s.Category)
            .OrderBy(g => g.Key, StringComparer.Ordinal)
            .Select(g => $"{g.Key, -22} {g.Count(s => s.Verdict == Verdict.AsExpected), 3} of {g.Count(), 3}")
            .ToList();
        lines.AddRange(
            scored.Where(s => s.Verdict != Verdict.AsExpected).Select(s => $"{s.Id} {s.Verdict}: {s.Question}\n      {s.Why}")
        );
        lines.Add(
            $"as expected {scored.Count(s => s.Verdict == Verdict.AsExpected)} of {scored.Count}, not answered {scored.Count(s => s.Verdict == Verdict.NotAnswered)}, "
                + $"otherwise and said so {scored.Count(s => s.Verdict == Verdict.Otherwise)}, silently wrong {scored.Count(s => s.Verdict == Verdict.SilentlyWrong)}"
        );
        return string.Join('\n', lines);
    }

    private (Verdict, string) Judge(JsonNode expect, string text, AnswerSet set)
    {
        var readings = (expect["alternatives"]?.AsArray().Select(a => a!) ?? []).Prepend(expect).ToList();
        var whys = new List<string>();
        foreach (var reading in readings)
        {
            var status = reading["status"]?.GetValue<string>() ?? expect["status"]!.GetValue<string>();
            var values = reading["values"] ?? expect["values"];
            var why = status switch
            {
                "clarify" => set.Outcome == "asks-back" ? null : "should have asked back",
                "refuse" => set.Outcome == "cannot-answer"
                    ? Mentions(expect, set.Because ?? "") ?? SaysWhy(text, set)
                    : "should have refused",
                // Without values any answer will do that leaves no word unused.
                _ when set.Outcome == "answered"
                        && values!.AsArray().Count == 0
                        && reading["count"] is null
                        && reading["order"] is null => set.Reading is { Unused.Count: 0 }
                    ? null
                    : "any answer would do that uses every word",
                _ => set.Outcome == "answered"
                    ? set
                        .Answers.Select(a => MatchAny(values!.AsArray(), reading, expect, text, a))
                        .Append(MatchEach(values!.AsArray(), text, set))
                        .Where(w => w is null || w.Length > 0)
                        .MinBy(w => w?.Length ?? 0)
                    : $"{set.Outcome}: {set.Because ?? string.Join(" / ", set.Choices.Select(c => c.Means))}",
            };
            if (why is null)
                return (Verdict.AsExpected, "");
            whys.Add(why);
        }
        var said =
            $"{whys[0]}; read as: {set.Reading?.Sentence}{(set.Reading?.Unused.Count > 0 ? $"; not used: {string.Join(", ", set.Reading.Unused)}" : "")}";
        // A further demand that was asked back or refused is told as such.
        if (set.Outcome != "answered" || set.Further?.Any(f => f.Outcome != "answered") == true)
            return (Verdict.NotAnswered, said);
        return (set.Reading!.Unused.Count > 0 ? Verdict.Otherwise : Verdict.SilentlyWrong, said);
    }

    /// <summary>A refusal that could stand under any question tells nothing: it names a word of this one, or offers what has an
    /// answer.</summary>
    private static string? SaysWhy(string question, AnswerSet set)
    {
        var words = Words.Tokens(question).Where(t => t.Stem.Length > 2).Select(t => t.Stem).ToHashSet();
        return Words.Tokens(set.Because ?? "").Any(t => words.Contains(t.Stem)) || set.Nearest.Count > 0
            ? null
            : $"does not say why: {set.Because}";
    }

    private static string? Mentions(JsonNode expect, string text)
    {
        var plain = text.Replace(",", "", StringComparison.Ordinal);
        var missing = expect["must_mention"]
            ?.AsArray()
            .Select(m => m!.ToString())
            .FirstOrDefault(m =>
                !plain.Contains(m.Replace(",", "", StringComparison.Ordinal), StringComparison.OrdinalIgnoreCase)
            );
        return missing is null ? null : $"does not mention “{missing}”: {text}";
    }

    /// <summary>
    /// Notes of the set allow less than all values: "a single row for the three months is fine too", "the actual column is
    /// enough". What they allow is tried after the values as they stand.
    /// </summary>
    private string? MatchAny(JsonArray values, JsonNode reading, JsonNode expect, string text, AnswerDto answer)
    {
        var why = Match(values, reading["count"], text, answer);
        if (why is null)
            return null;
        var note = (reading["note"] ?? expect["note"])?.GetValue<string>() ?? "";
        if (note.Contains("single row", StringComparison.Ordinal) && Match(Summed(values), null, text, answer) is null)
            return null;
        return
            note.Contains("actual column is enough", StringComparison.Ordinal)
            && Match(
                [.. values.Where(v => v!["column"]!.GetValue<string>() == "actual").Select(v => v!.DeepClone())],
                reading["count"],
                text,
                answer
            )
                is null
            ? null
            : why;
    }

    /// <summary>Of several figures each has an answer of its own: every value stands in one of them. Empty where there is only
    /// one.</summary>
    private string? MatchEach(JsonArray values, string text, AnswerSet set)
    {
        var answers = set.Answers.Concat(set.Further?.SelectMany(f => f.Answers) ?? []).ToList();
        return set.Further is null
            ? ""
            : values
                .Select(v => new JsonArray(v!.DeepClone()))
                .Select(v => answers.Select(a => Match(v, null, text, a)).MinBy(w => w?.Length ?? 0))
                .FirstOrDefault(w => w is not null);
    }

    /// <summary>Amounts of several months as one row; percentages do not add.</summary>
    private static JsonArray Summed(JsonArray values) =>
        [
            .. values
                .Where(v => !v!["column"]!.GetValue<string>().Contains('%', StringComparison.Ordinal))
                .GroupBy(v => v!["column"]!.GetValue<string>())
                .Select(g => new JsonObject
                {
                    ["members"] = new JsonObject(),
                    ["column"] = g.Key,
                    ["value"] = JsonNode.Parse(
                        g.Where(v => v!["members"]!.AsObject().Count > 0)
                            .Sum(v => Number(v!["value"]!))
                            .ToString(CultureInfo.InvariantCulture)
                    ),
                    ["tolerance"] = JsonNode.Parse("0.05"),
                }),
        ];

    private string? Match(JsonArray values, JsonNode? count, string text, AnswerDto answer)
    {
        foreach (var value in values)
        {
            var members = value!["members"]!.AsObject().ToDictionary(m => m.Key, m => m.Value!.ToString());
            var (column, expected, tolerance) = (
                value["column"]!.GetValue<string>(),
                Number(value["value"]!),
                Number(value["tolerance"]!)
            );
            var found =
                answer.Records is { } records ? Records(records, members, column)
                : answer.Entries is { } entries ? Entry(entries, members)
                : Cells(answer.Grid!, members, column, text);
            if (found.Count == 0)
                return $"no {column} for {Show(members)}";
            if (!found.Any(f => Math.Abs(f - expected) <= tolerance))
                return $"{column} for {Show(members)} is {found[0]}, expected {expected}";
        }
        if (count is not null && answer.Records is { } counted && counted.Rows.Count != count.GetValue<int>())
            return $"{counted.Rows.Count} rows, expected {count}";
        if (
            count is not null
            && answer.Grid is { } grid
            && grid.Rows.Count(r => r.Kind is "member") is var rows
            && !grid.Rows.Any(r => r.Kind == "subtotal")
            && rows != count.GetValue<int>()
        )
            return $"{rows} rows, expected {count}";
        return null;
    }

    private static List<decimal> Records(RecordTableDto table, Dictionary<string, string> members, string column)
    {
        string[] titles = column switch
        {
            "invoices" => ["Count"],
            "days" => ["Days on average"],
            "actual" => ["Amount"],
            _ => [column],
        };
        bool Named(string title) => titles.Contains(title, StringComparer.OrdinalIgnoreCase);
        if (members.Count == 0)
            return [.. table.Totals.Where(t => Named(t.Title)).Select(t => decimal.Parse(t.Value, CultureInfo.InvariantCulture))];
        var at = table.Columns.ToList().FindIndex(c => Named(c.Title));
        bool Has(RecordRowDto row) => members.Values.All(v => row.Values.Contains(v, StringComparer.OrdinalIgnoreCase));
        return at < 0
            ? []
            : [.. table.Rows.Where(Has).Select(r => decimal.Parse(r.Values[at] ?? "0", CultureInfo.InvariantCulture))];
    }

    private static string Show(Dictionary<string, string> members) =>
        members.Count == 0 ? "the total" : string.Join(", ", members.Values);

    private static List<decimal> Entry(LinePageDto entries, Dictionary<string, string> members) =>
        [
            .. entries
                .Lines.Where(l =>
                    members.All(m =>
                        m.Key switch
                        {
                            "document" => l.Document == m.Value,
                            "line no" => true,
                            "clinic" or "venue" => l.Members["entity"].Name == m.Value,
                            "account" => l.Members["account"].Code == m.Value,
                            "supplier" => l.Members["supplier"].Name == m.Value,
                            _ => false,
                        }
                    )
                )
                .Select(l => decimal.Parse(l.Amount, CultureInfo.InvariantCulture)),
        ];

    private List<decimal> Cells(GridDto grid, Dictionary<string, string> members, string column, string text)
    {
        // A month may be a row, or the columns of one.
        if (members.Remove("month", out var month))
        {
            var inRows = Cells(grid, members.Append(new("month", month)).ToDictionary(), column);
            if (inRows.Count > 0)
                return inRows;
            // Of months side by side each has all its columns.
            if (grid.Columns.Where(c => c.Periods == Fiscal(month)).ToList() is { Count: > 1 } own)
                return Cells(grid with { Columns = own }, members, column);
            return Cells(
                grid with
                {
                    Columns =
                    [
                        .. grid.Columns.Where(c =>
                            c.Kind is "subject" && c.Periods == Fiscal(month)
                            || c.Kind == "base"
                                && c.Title
                                    == DateOnly
                                        .Parse(month + "-01", CultureInfo.InvariantCulture)
                                        .ToString("MMMM yyyy", CultureInfo.InvariantCulture)
                        ),
                    ],
                },
                members,
                column == "actual" ? "amount of the column" : column
            );
        }
        // And a quarter.
        if (
            members.TryGetValue("quarter", out var quarter)
            && Cells(grid, members, column).Count == 0
            && grid.Columns.Where(c => IsOfQuarter(c.Periods, quarter)).ToList() is { Count: > 0 } of
        )
            return Cells(grid with { Columns = of }, members.Where(m => m.Key != "quarter").ToDictionary(), column);
        var cells = Cells(grid, members, column);
        // What the question itself fixes is not repeated: the share of one member is its row's.
        return members.Count > 0 || column != "share %"
            ? cells
            :
            [
                .. cells,
                .. grid
                    .Rows.Where(r => r.Kind == "member" && text.Contains(r.Label, StringComparison.OrdinalIgnoreCase))
                    .SelectMany(r => Cells(grid with { Rows = [r] }, [], column)),
            ];
    }

    private List<decimal> Cells(GridDto grid, Dictionary<string, string> members, string column)
    {
        var columns = grid.Columns.Where(c => column == "amount of the column" || Is(c, column, grid)).ToList();
        var rows =
            members.Count == 0
                ? grid.Rows.Where(r => r.Kind == "total").DefaultIfEmpty(grid.Rows[^1]).ToList()
                : grid.Rows.Where(r => members.All(m => Has(r, m.Key, m.Value))).ToList();
        var cells = new List<decimal>();
        foreach (var row in rows)
        foreach (var at in columns)
            if (
                row.Values.GetValueOrDefault(at.Id) is { } text
                && decimal.TryParse(text, CultureInfo.InvariantCulture, out var number)
            )
                cells.Add(number);
        return cells;
    }

    private static bool Is(ColumnDto column, string wanted, GridDto grid) =>
        wanted switch
        {
            "actual" or "amount" or "visits actual" or "booked" => column.Scenario is "actual",
            "budget" or "visits budget" => column.Scenario?.StartsWith("budget", StringComparison.Ordinal) == true,
            "revised budget" => column.Scenario?.StartsWith("revised", StringComparison.Ordinal) == true,
            "estimate" => column.Scenario?.Contains("estimate", StringComparison.Ordinal) == true,
            "forecast" => column.Scenario?.Contains("forecast", StringComparison.Ordinal) == true,
            "prior year" => column.Scenario == "prior-year",
            "previous month" => column.Scenario?.StartsWith("prior-period", StringComparison.Ordinal) == true,
            "variance" or "change" => column.Kind == "variance",
            "variance %" or "growth %" => column.Kind == "percent",
            "share %" => column.Kind == "share",
            _ => column.Title.Equals(wanted, StringComparison.OrdinalIgnoreCase)
                || column.Kind.Equals(wanted, StringComparison.OrdinalIgnoreCase),
        };

    private bool Has(RowDto row, string key, string value)
    {
        bool Member(string dimension) =>
            row.Members.TryGetValue(dimension, out var m)
            && (string.Equals(m.Name, value, StringComparison.OrdinalIgnoreCase) || m.Code == value);
        var span = row.Slice.Split('@')[^1].Split(';')[0];
        return key switch
        {
            "clinic"
            or "venue"
            or "region"
            or "plant"
            or "division"
            or "office"
            or "country"
            or "area"
            or "shelter"
            or "depot"
            or "school"
            or "site" => Member("entity"),
            "account" => Member("account"),
            "group" or "line" => Member("account") || Member(key) || row.Label.Equals(value, StringComparison.OrdinalIgnoreCase),
            // One company has centres, another has cost centres.
            "centre" => Member("entity") || Member("centre"),
            _ when key.EndsWith("-above", StringComparison.Ordinal) => Member(key[..^6]),
            "field" => Member("programme"),
            "service line" => Member("service"),
            "month" => span == Fiscal(value),
            "quarter" => IsOfQuarter(span, value),
            _ => Member(key) || row.Label.Equals(value, StringComparison.OrdinalIgnoreCase),
        };
    }

    /// <summary>2025-10 → 2026-P04, where the fiscal year begins in July.</summary>
    private string Fiscal(string month)
    {
        var (year, number) = (
            int.Parse(month[..4], CultureInfo.InvariantCulture),
            int.Parse(month[5..], CultureInfo.InvariantCulture)
        );
        if (firstMonth == 1)
            return $"{year}-P{number:D2}";
        return number >= firstMonth ? $"{year + 1}-P{number - firstMonth + 1:D2}" : $"{year}-P{number + 13 - firstMonth:D2}";
    }

    /// <summary>The quarter, or of one that is not over the months so far.</summary>
    private static bool IsOfQuarter(string? span, string quarter) =>
        span?.Split("..") is [var from, var to]
        && QuarterOf(quarter).Split("..") is [var first, var last]
        && from == first
        && string.CompareOrdinal(to, last) <= 0;

    /// <summary>FY26 Q2 → 2026-P04..2026-P06.</summary>
    private static string QuarterOf(string quarter)
    {
        var first = ((quarter[^1] - '1') * 3) + 1;
        return $"20{quarter[2..4]}-P{first:D2}..20{quarter[2..4]}-P{first + 2:D2}";
    }

    private static decimal Number(JsonNode node) =>
        decimal.Parse(node.ToJsonString(), NumberStyles.Float, CultureInfo.InvariantCulture);
}
