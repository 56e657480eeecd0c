using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Loading;

/// <summary>
/// Turns the rows of a reference file into members with parents, ids kept for codes already known. Parents come from a column of
/// parent codes, or from level columns, whose texts become members of their own.
/// </summary>
public sealed class MemberMapper(Book book, FileMapping mapping, TableLayout layout, int nextMember)
{
    private sealed record Entry(int Row, Member Member, string Parent);

    /// <summary>The book's definition with the other names that a names file gives to statement lines and ratios.</summary>
    public BookDefinition Definition { get; private set; } = book.Definition;

    private readonly int[] _levels =
    [
        .. layout
            .Roles.Where(r => r.StartsWith("level:", StringComparison.Ordinal))
            .Order(StringComparer.Ordinal)
            .Select(layout.IndexOf),
    ];

    /// <summary>The members as they are to be after the load; those not in the file stay as they were.</summary>
    /// <param name="refusals">Filled with every row that cannot be placed.</param>
    public IReadOnlyList<Member> Map(IEnumerable<RawRow> rows, RefusalLog refusals)
    {
        var dimension = DimensionOf();
        if (mapping.Kind == TableKind.Names)
            return Names(rows, refusals);
        var entries = new Dictionary<string, Entry>(StringComparer.OrdinalIgnoreCase);
        var paths = new List<(Entry Entry, string[] Path)>();
        var above = new Stack<(int Indent, string Code)>();
        foreach (var raw in rows)
        {
            if (raw.Fields.Length != layout.Width)
            {
                refusals.Add(
                    new Refusal(
                        raw.Number,
                        null,
                        null,
                        $"The row has {raw.Fields.Length} fields where the heading has {layout.Width}.",
                        "Look for a missing quote or an extra separator."
                    )
                );
                continue;
            }
            if (ToEntry(raw, dimension, entries.Count, refusals) is not { } entry)
                continue;
            if (_indented)
                entry = entry with { Parent = ParentByIndent(above, raw, entry.Member.Code) };
            if (!entries.TryAdd(entry.Member.Code, entry))
                refusals.Add(
                    new Refusal(
                        raw.Number,
                        "code",
                        entry.Member.Code,
                        $"“{entry.Member.Code}” stands in the file twice.",
                        "Keep one of the rows."
                    )
                );
            else if (_levels.Length > 0)
                paths.Add((entry, PathOf(raw)));
        }
        if (_levels.Length > 0)
            AddLevels(dimension, entries, paths);
        var members = entries.Values.Select(e => WithParent(e, dimension, entries, refusals)).ToList();
        CheckCircles(members, entries, refusals);
        return members;
    }

    /// <summary>Where neither parents nor levels are given, names that are set in stand below the last one that is set in
    /// less.</summary>
    private readonly bool _indented =
        layout.IndexOf("parent") < 0
        && layout.Roles.All(r => !r.StartsWith("level:", StringComparison.Ordinal))
        && layout.IndexOf("name") >= 0;

    private string ParentByIndent(Stack<(int Indent, string Code)> above, RawRow raw, string code)
    {
        var name = raw.Fields[layout.IndexOf("name")];
        var indent = name.Length - name.TrimStart().Length;
        while (above.TryPeek(out var last) && last.Indent >= indent)
            above.Pop();
        var parent = above.TryPeek(out var nearest) ? nearest.Code : "";
        above.Push((indent, code));
        return parent;
    }

    private Dimension DimensionOf() =>
        mapping.Kind switch
        {
            TableKind.Accounts => book.Accounts,
            TableKind.Entities => book.Entities,
            TableKind.Names => mapping.Dimension is not null && book.TryDimension(mapping.Dimension, out var named) ? named
            : layout.IndexOf("entity") >= 0 ? book.Entities
            : book.Accounts,
            _ => book.Definition.Dimensions.Single(d => d.Code == mapping.Dimension),
        };

    /// <summary>Other names for members that are there: added to those that they have.</summary>
    private List<Member> Names(IEnumerable<RawRow> rows, RefusalLog refusals)
    {
        var dimension = DimensionOf();
        var changed = new Dictionary<int, Member>();
        var role = new[] { "code", "account", "entity" }.First(r => layout.IndexOf(r) >= 0);
        foreach (var raw in rows)
        {
            var (text, other) = (Field(raw, role), Field(raw, "other names"));
            var phrase = Words.Phrase(text);
            if (dimension == book.Accounts && TryNameFigure(text, other))
                continue;
            var found = book.TryMember(dimension.Id, text, out var coded)
                ? [coded]
                : book.MembersOf(dimension.Id).Where(m => Words.Phrase(m.Name) == phrase).Take(2).ToList();
            if (found.Count != 1)
            {
                refusals.Add(
                    new Refusal(
                        raw.Number,
                        role,
                        text,
                        $"{dimension.Name} “{text}” {(found.Count == 0 ? "is not in the book" : "fits more than one member")}.",
                        $"Correct it, or load the {dimension.Name.ToLowerInvariant()} list first."
                    )
                );
                continue;
            }
            var member = changed.GetValueOrDefault(found[0].Id, found[0]);
            if (other.Length > 0 && !member.OtherNames.Contains(other, StringComparer.OrdinalIgnoreCase))
                changed[member.Id] = member with { OtherNames = member.OtherNames.Add(other) };
        }
        return [.. changed.Values];
    }

    private bool TryNameFigure(string text, string other)
    {
        var phrase = Words.Phrase(text);
        var (line, measure) = (
            Definition.Statement.FirstOrDefault(l => l.Code == text || Words.Phrase(l.Name) == phrase),
            Definition.Measures.FirstOrDefault(m => m.Code == text || Words.Phrase(m.Name) == phrase)
        );
        if (line is not null)
            Definition = Definition with
            {
                Statement = Definition.Statement.Replace(line, line with { OtherNames = With(line.OtherNames) }),
            };
        else if (measure is not null)
            Definition = Definition with
            {
                Measures = Definition.Measures.Replace(measure, measure with { OtherNames = With(measure.OtherNames) }),
            };
        return line is not null || measure is not null;

        ImmutableArray<string> With(ImmutableArray<string> names) =>
            other.Length == 0 || names.Contains(other, StringComparer.OrdinalIgnoreCase) ? names : names.Add(other);
    }

    private Entry? ToEntry(RawRow raw, Dimension dimension, int order, RefusalLog refusals)
    {
        var (code, name) = (Field(raw, "code"), Field(raw, "name"));
        if (code.Length == 0 || code.StartsWith('~'))
        {
            refusals.Add(
                new Refusal(
                    raw.Number,
                    "code",
                    code,
                    "The row has no usable code.",
                    "Give every row a code that does not begin with “~”."
                )
            );
            return null;
        }
        AccountTraits? traits = null;
        if (mapping.Kind == TableKind.Accounts && (traits = Traits(raw, refusals)) is null)
            return null;
        EntityTraits? owned = null;
        if (dimension.Role == DimensionRole.Entity && (owned = Owned(raw, refusals)) is null)
            return null;
        if (!book.TryMember(dimension.Id, code, out var known))
            known = null;
        var others = Field(raw, "other names")
            .Split([';', '|'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
            .ToImmutableArray();
        return new Entry(
            raw.Number,
            new Member(
                known?.Id ?? nextMember++,
                dimension.Id,
                code,
                name.Length == 0 ? code : name,
                null,
                order,
                others,
                traits,
                owned
            ),
            _levels.Length > 0 ? "" : Field(raw, "parent")
        );
    }

    private string[] PathOf(RawRow raw) =>
        [.. _levels.Select(i => raw.Fields[i].Trim()).TakeWhile(t => t.Length > 0 && !mapping.Blanks.Contains(t))];

    /// <summary>
    /// Each text of the level columns becomes a member above. An account group that would mix income, costs or balances is left
    /// out: results of mixed kinds are the statement's business and no sum.
    /// </summary>
    private void AddLevels(Dimension dimension, Dictionary<string, Entry> entries, List<(Entry Entry, string[] Path)> paths)
    {
        var groups = new Dictionary<string, string>();
        foreach (var (entry, path) in paths)
        {
            var above = "";
            for (var depth = 1; depth <= path.Length; depth++)
            {
                var key = string.Join("\n", path.Take(depth));
                if (groups.TryGetValue(key, out var code))
                {
                    above = code.Length > 0 ? code : above;
                    continue;
                }
                var inside = paths
                    .Where(p => p.Path.Length >= depth && p.Path.Take(depth).SequenceEqual(path.Take(depth)))
                    .Select(p => p.Entry)
                    .ToList();
                if (inside.Select(e => e.Member.Account?.Type).Distinct().Count() > 1)
                {
                    groups[key] = "";
                    continue;
                }
                code = entries.ContainsKey(path[depth - 1]) ? $"{path[depth - 1]} ({above})" : path[depth - 1];
                groups[key] = code;
                if (!book.TryMember(dimension.Id, code, out var known))
                    known = null;
                entries[code] = new Entry(
                    entry.Row,
                    new Member(
                        known?.Id ?? nextMember++,
                        dimension.Id,
                        code,
                        path[depth - 1],
                        null,
                        entry.Member.Order,
                        known?.OtherNames ?? [],
                        inside[0].Member.Account
                    ),
                    above
                );
                above = code;
            }
            entries[entry.Member.Code] = entry with { Parent = above };
        }
    }

    private AccountTraits? Traits(RawRow raw, RefusalLog refusals)
    {
        var text = Field(raw, "type");
        if (HeadingWords.TypeOf(text) is not { } type)
        {
            refusals.Add(
                new Refusal(
                    raw.Number,
                    "type",
                    text,
                    $"“{text}” is not an account type.",
                    "Use one of income, cost, asset, liability, equity, statistic."
                )
            );
            return null;
        }
        var traits = AccountTraits.Default(type);
        var (over, good, unit) = (Field(raw, "over time"), Field(raw, "good"), Field(raw, "unit"));
        if (over.Length > 0 && !Enum.TryParse<OverTime>(over, true, out _))
            refusals.Add(
                new Refusal(
                    raw.Number,
                    "over time",
                    over,
                    $"“{over}” is not a rule over time.",
                    "Use sum, closing (a balance: all movements up to then), stock (what a month end counts by itself, such as heads) or average."
                )
            );
        else if (over.Length > 0)
            traits = traits with { OverTime = Enum.Parse<OverTime>(over, true) };
        if (good.Length > 0 && !Enum.TryParse<GoodDirection>(good, true, out _))
            refusals.Add(new Refusal(raw.Number, "good", good, $"“{good}” is not a direction.", "Use up, down or none."));
        else if (good.Length > 0)
            traits = traits with { Good = Enum.Parse<GoodDirection>(good, true) };
        return traits with { Unit = type == AccountType.Statistic ? (unit.Length > 0 ? unit : "units") : null };
    }

    private EntityTraits? Owned(RawRow raw, RefusalLog refusals)
    {
        var (currency, owned) = (Field(raw, "currency").ToUpperInvariant(), Field(raw, "owned"));
        if (currency.Length > 0 && (currency.Length != 3 || !currency.All(char.IsAsciiLetterUpper)))
        {
            refusals.Add(
                new Refusal(
                    raw.Number,
                    "currency",
                    currency,
                    $"“{currency}” is not a currency code.",
                    "Use the three letters of ISO 4217."
                ),
                raw
            );
            return null;
        }
        var percent = 100m;
        if (
            owned.Length > 0
            && (!Numbers.TryRead(owned.TrimEnd('%', ' '), mapping.DecimalComma, out percent, out _) || percent is <= 0 or > 100)
        )
        {
            refusals.Add(
                new Refusal(
                    raw.Number,
                    "owned",
                    owned,
                    $"“{owned}” is no part of ownership.",
                    "Give a percentage above 0 and up to 100."
                ),
                raw
            );
            return null;
        }
        return new EntityTraits(currency.Length == 0 || currency == book.Definition.Currency ? null : currency, percent);
    }

    private Member WithParent(Entry entry, Dimension dimension, Dictionary<string, Entry> entries, RefusalLog refusals)
    {
        if (entry.Parent.Length == 0)
            return entry.Member;
        if (entries.TryGetValue(entry.Parent, out var parent))
            return entry.Member with { ParentId = parent.Member.Id };
        if (book.TryMember(dimension.Id, entry.Parent, out var known))
            return entry.Member with { ParentId = known.Id };
        refusals.Add(
            new Refusal(
                entry.Row,
                "parent",
                entry.Parent,
                $"The parent “{entry.Parent}” is neither in the file nor in the book.",
                "Add a row for it or correct the code."
            )
        );
        return entry.Member;
    }

    private void CheckCircles(List<Member> members, Dictionary<string, Entry> entries, RefusalLog refusals)
    {
        var parents = members.ToDictionary(m => m.Id, m => m.ParentId);
        int? ParentOf(int id) => parents.TryGetValue(id, out var p) ? p : book.Members.FirstOrDefault(m => m.Id == id)?.ParentId;
        foreach (var member in members)
        {
            var seen = new HashSet<int>();
            for (int? at = member.Id; at is { } id; at = ParentOf(id))
                if (!seen.Add(id))
                {
                    refusals.Add(
                        new Refusal(
                            entries[member.Code].Row,
                            "parent",
                            member.Code,
                            $"“{member.Code}” stands above itself.",
                            "Correct the parent codes."
                        )
                    );
                    break;
                }
        }
    }

    /// <summary>The cell of a role, or what a rule of the mapping says where the file has no such column.</summary>
    private string Field(RawRow raw, string role)
    {
        var index = layout.IndexOf(role);
        var text = index < 0 ? "" : UnicodeForm.Compose(raw.Fields[index].Trim());
        if (mapping.Blanks.Contains(text))
            text = "";
        if (text.Length > 0 || mapping.Rules.IsEmpty)
            return text;
        return mapping.Rules.FirstOrDefault(r => r.Role == role && r.When != role && Field(raw, r.When) == r.Is)?.Value ?? "";
    }
}
