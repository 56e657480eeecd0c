using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Store;

/// <summary>What somebody may see of one dimension.</summary>
/// <param name="Members">Ids, complete: no tree is walked.</param>
/// <param name="Codes">Of the same members, as records name them.</param>
public sealed record SeenMembers(Dimension Dimension, ImmutableHashSet<int> Members, ImmutableHashSet<string> Codes);

/// <summary>The slice of a book that an asker may see. Lines, cells and records outside of it do not exist for them; a table of
/// records that does not tell a dimension of the slice apart is outside of it as a whole.</summary>
public sealed record Sight(ImmutableArray<SeenMembers> Dimensions)
{
    public static Sight All { get; } = new([]);

    /// <exception cref="CannotAnswerException">When a dimension or a member is not in the book.</exception>
    public static Sight Of(Book book, IEnumerable<Filter> filters) =>
        new([
            .. Scoping
                .Filters(book, filters)
                .Select(f =>
                {
                    var members = book.MembersOf(f.Dimension).Where(m => f.Members.Contains(m.Id) != f.Exclude).ToList();
                    return new SeenMembers(
                        book.Dimension(f.Dimension),
                        [.. members.Select(m => m.Id)],
                        [.. members.Select(m => m.Code)]
                    );
                }),
        ]);

    /// <summary>The same as filters of cells and lines.</summary>
    public IEnumerable<MemberFilter> Filters => Dimensions.Select(d => new MemberFilter(d.Dimension.Id, d.Members, false));

    /// <summary>The fields by which a table's records are seen or not; null where none of them can be.</summary>
    public IReadOnlyList<(Field Field, ImmutableHashSet<string> Codes)>? FieldsOf(Table table)
    {
        var fields = new List<(Field, ImmutableHashSet<string>)>();
        foreach (var (dimension, _, codes) in Dimensions)
        {
            if (table.Fields.FirstOrDefault(f => f.Dimension == dimension.Code) is not { } field)
                return null;
            fields.Add((field, codes));
        }
        return fields;
    }
}
