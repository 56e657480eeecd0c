using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;

namespace Bearing.Core.Loading;

/// <summary>Turns the rows of an accounts, entities or members file into members with parents, ids kept for codes already known.</summary>
public sealed class MemberMapper(Book book, FileMapping mapping, int nextMember)
{
    private sealed record Entry(RawRow Raw, Member Member, string Parent);

    /// <summary>The members as they are to be after the load; those not in the file stay as they were.</summary>
    /// <param name="refusals">Filled with every row that cannot be placed.</param>
    public IReadOnlyList<Member> Map(IEnumerable<RawRow> rows, RefusalLog refusals)
    {
        var dimension = mapping.Kind switch
        {
            TableKind.Accounts => book.Accounts,
            TableKind.Entities => book.Entities,
            _ => book.Definition.Dimensions.Single(d => d.Code == mapping.Dimension),
        };
        var entries = new Dictionary<string, Entry>(StringComparer.OrdinalIgnoreCase);
        foreach (var raw in rows)
        {
            if (raw.Fields.Length != mapping.Columns.Length)
            {
                refusals.Add(new Refusal(raw.Number, null, null, $"The row has {raw.Fields.Length} fields where the heading has {mapping.Columns.Length}.", "Look for a missing quote or an extra separator."));
                continue;
            }
            if (ToEntry(raw, dimension, entries.Count, refusals) is not { } entry) continue;
            if (!entries.TryAdd(entry.Member.Code, entry))
                refusals.Add(new Refusal(raw.Number, "code", entry.Member.Code, $"“{entry.Member.Code}” stands in the file twice.", "Keep one of the rows."));
        }
        var members = entries.Values.Select(e => WithParent(e, dimension, entries, refusals)).ToList();
        CheckCircles(members, entries, refusals);
        return members;
    }

    private Entry? ToEntry(RawRow raw, Dimension dimension, int order, RefusalLog refusals)
    {
        var (code, name) = (Field(raw, "code"), Field(raw, "name"));
        if (code.Length == 0 || code.StartsWith('~'))
        {
            refusals.Add(new Refusal(raw.Number, "code", code, "The row has no usable code.", "Give every row a code that does not begin with “~”."));
            return null;
        }
        AccountTraits? traits = null;
        if (mapping.Kind == TableKind.Accounts && (traits = Traits(raw, refusals)) is null) return null;
        if (!book.TryMember(dimension.Id, code, out var known)) known = null;
        var others = Field(raw, "other names").Split([';', '|'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).ToImmutableArray();
        return new Entry(raw, new Member(known?.Id ?? nextMember++, dimension.Id, code, name.Length == 0 ? code : name, null, order, others, traits), Field(raw, "parent"));
    }

    private AccountTraits? Traits(RawRow raw, RefusalLog refusals)
    {
        var text = Field(raw, "type");
        if (!Enum.TryParse<AccountType>(text, true, out var type) || int.TryParse(text, out _))
        {
            refusals.Add(new Refusal(raw.Number, "type", text, $"“{text}” is not an account type.", "Use one of income, cost, asset, liability, equity, statistic."));
            return null;
        }
        var traits = AccountTraits.Default(type);
        var (over, good, unit) = (Field(raw, "over time"), Field(raw, "good"), Field(raw, "unit"));
        if (over.Length > 0 && !Enum.TryParse<OverTime>(over, true, out _))
            refusals.Add(new Refusal(raw.Number, "over time", over, $"“{over}” is not a rule over time.", "Use sum, closing or average."));
        else if (over.Length > 0) traits = traits with { OverTime = Enum.Parse<OverTime>(over, true) };
        if (good.Length > 0 && !Enum.TryParse<GoodDirection>(good, true, out _))
            refusals.Add(new Refusal(raw.Number, "good", good, $"“{good}” is not a direction.", "Use up, down or none."));
        else if (good.Length > 0) traits = traits with { Good = Enum.Parse<GoodDirection>(good, true) };
        return traits with { Unit = type == AccountType.Statistic ? (unit.Length > 0 ? unit : "units") : null };
    }

    private Member WithParent(Entry entry, Dimension dimension, Dictionary<string, Entry> entries, RefusalLog refusals)
    {
        if (entry.Parent.Length == 0) return entry.Member;
        if (entries.TryGetValue(entry.Parent, out var parent)) return entry.Member with { ParentId = parent.Member.Id };
        if (book.TryMember(dimension.Id, entry.Parent, out var known)) return entry.Member with { ParentId = known.Id };
        refusals.Add(new Refusal(entry.Raw.Number, "parent", entry.Parent, $"The parent “{entry.Parent}” is neither in the file nor in the book.", "Add a row for it or correct the code."));
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
                    refusals.Add(new Refusal(entries[member.Code].Raw.Number, "parent", member.Code, $"“{member.Code}” stands above itself.", "Correct the parent codes."));
                    break;
                }
        }
    }

    private string Field(RawRow raw, string role)
    {
        var index = mapping.IndexOf(role);
        return index < 0 ? "" : raw.Fields[index].Trim().Normalize();
    }
}
