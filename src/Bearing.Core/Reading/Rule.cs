using System.Collections.Immutable;
using Bearing.Core.Books;

namespace Bearing.Core.Reading;

/// <summary>
/// Makes one item of items that stand beside each other, small words between them aside. A rule sees the items and the book, never
/// text, and never what stands elsewhere; rivals compete by price alone, so the order of rules means nothing.
/// </summary>
/// <param name="Parts">Types of the items, in the order in which they stand.</param>
/// <param name="Make">The item; null where these do not make one.</param>
/// <param name="Price">Hundredths that it adds to the prices of its parts, 0 or more.</param>
/// <param name="Example">Words of the demo company that it makes one item of.</param>
/// <param name="Counter">Words that look alike, and that it does not.</param>
internal sealed record Rule(
    string Name,
    ImmutableArray<Type> Parts,
    Func<IReadOnlyList<Item>, Book, Item?> Make,
    int Price,
    string Example,
    string Counter
)
{
    public static Rule Of<A>(string name, Func<A, Book, Item?> make, string example, string counter, int price = 0)
        where A : Item => new(name, [typeof(A)], (i, b) => make((A)i[0], b), price, example, counter);

    public static Rule Of<A, B>(string name, Func<A, B, Book, Item?> make, string example, string counter, int price = 0)
        where A : Item
        where B : Item => new(name, [typeof(A), typeof(B)], (i, b) => make((A)i[0], (B)i[1], b), price, example, counter);

    public static Rule Of<A, B, C>(string name, Func<A, B, C, Book, Item?> make, string example, string counter, int price = 0)
        where A : Item
        where B : Item
        where C : Item =>
        new(name, [typeof(A), typeof(B), typeof(C)], (i, b) => make((A)i[0], (B)i[1], (C)i[2], b), price, example, counter);

    public static Rule Of<A, B, C, D>(
        string name,
        Func<A, B, C, D, Book, Item?> make,
        string example,
        string counter,
        int price = 0
    )
        where A : Item
        where B : Item
        where C : Item
        where D : Item =>
        new(
            name,
            [typeof(A), typeof(B), typeof(C), typeof(D)],
            (i, b) => make((A)i[0], (B)i[1], (C)i[2], (D)i[3], b),
            price,
            example,
            counter
        );
}
