using Bearing.Data.Books;

namespace Bearing.Service.Books;

/// <summary>The book that a request names stays open until the request is through. Who only listens for news of it does not use
/// it.</summary>
internal sealed class BookInUse(RequestDelegate next, BookShelf shelf)
{
    public async Task InvokeAsync(HttpContext context)
    {
        using var use =
            context.GetRouteValue("book") is string book
            && !shelf.Damaged.ContainsKey(book)
            && context.Request.Path.Value?.EndsWith("/events", StringComparison.Ordinal) != true
                ? await shelf.Use(book, context.RequestAborted)
                : null;
        await next(context);
    }
}
