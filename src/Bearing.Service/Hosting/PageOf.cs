using System.Globalization;
using Bearing.Contracts;
using Microsoft.AspNetCore.Mvc;

namespace Bearing.Service.Hosting;

/// <summary>Which page of a list is asked for.</summary>
/// <param name="Limit">How many at most, 1 to 1000; 100 when left out.</param>
/// <param name="Cursor">What the page before gave as next; the first page when left out.</param>
public readonly record struct PageOf([FromQuery(Name = "limit")] int? Limit, [FromQuery(Name = "cursor")] string? Cursor)
{
    /// <summary>How many to give.</summary>
    public int Take => Math.Clamp(Limit ?? 100, 1, 1_000);

    /// <summary>For lists that number their places: where the page begins.</summary>
    /// <exception cref="FormatException">When the cursor is none.</exception>
    public int Skip =>
        Cursor is null ? 0
        : int.TryParse(Cursor, NumberStyles.None, CultureInfo.InvariantCulture, out var skip) ? skip
        : throw new FormatException($"“{Cursor}” is not a cursor of this list.");

    /// <summary>The page behind the item that the cursor names, so that what comes or goes between two pages neither repeats an
    /// item nor passes over one.</summary>
    /// <param name="key">Tells the items of the list apart.</param>
    /// <exception cref="FormatException">When the list has no such item (any more).</exception>
    public Page<T> Of<T>(IReadOnlyList<T> all, Func<T, string> key)
    {
        var cursor = Cursor;
        var skip = cursor is null ? 0 : all.TakeWhile(item => key(item) != cursor).Count() + 1;
        if (skip > all.Count)
            throw new FormatException($"“{cursor}” is not a cursor of this list, or no longer. Begin again without one.");
        var page = all.Skip(skip).Take(Take).ToList();
        return new Page<T>(page, skip + page.Count < all.Count ? key(page[^1]) : null);
    }

    /// <summary>For lists that number their places: the cursor behind this page; null on the last.</summary>
    /// <param name="count">Of the whole list.</param>
    public string? NextOf(long count) => Skip + Take < count ? (Skip + Take).ToString(CultureInfo.InvariantCulture) : null;
}
