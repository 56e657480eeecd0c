using Bearing.Data.Books;
using Bearing.Service.Books;

namespace Bearing.Service.Hosting;

/// <summary>What depends on nothing but the edition of a book is not sent twice: its ETag names the edition, when it was made, and
/// the version of the service that wrote it.</summary>
internal static class EditionTag
{
    private static readonly string Version = typeof(EditionTag).Assembly.GetName().Version!.ToString(3);

    public static RouteHandlerBuilder TaggedByEdition(this RouteHandlerBuilder endpoint) =>
        endpoint.AddEndpointFilter(
            async (context, next) =>
            {
                var http = context.HttpContext;
                var shelf = http.RequestServices.GetRequiredService<BookShelf>();
                var store = shelf.Get((string)http.GetRouteValue("book")!).Store;
                var edition = int.TryParse(http.Request.Query["edition"], out var asked) ? asked : store.LatestEdition();
                // A book that was erased and made again counts from one again, at another time.
                if (store.Editions(edition - 1, edition) is not [{ At: var at }])
                    return await next(context);
                var tag = $"W/\"{edition}-{at.Ticks:x}-{Version}\"";
                http.Response.Headers.CacheControl = "private, no-cache";
                http.Response.Headers.Vary = "Accept";
                http.Response.Headers.ETag = tag;
                return http.Request.Headers.IfNoneMatch.Contains(tag)
                    ? Results.StatusCode(StatusCodes.Status304NotModified)
                    : await next(context);
            }
        );
}
