namespace Bearing.Service.Hosting;

/// <summary>
/// Until there is sign-in, whoever reaches the address may do everything; so pages of other origins, and names that were
/// pointed at this address from outside, are turned away. Also sets the headers that keep the console to its own files.
/// </summary>
public sealed class OwnOriginOnly(RequestDelegate next, ServiceSettings settings)
{
    private readonly HashSet<string> _hosts = new(Hosts(settings.Urls), StringComparer.OrdinalIgnoreCase);

    public async Task InvokeAsync(HttpContext context)
    {
        var request = context.Request;
        var origin = request.Headers.Origin.ToString();
        if (!_hosts.Contains(request.Host.Host) || (origin.Length > 0 && !IsOwn(origin, request)))
        {
            await Problems.Write(
                context,
                ProblemKinds.OtherOrigin,
                "The request names another host or comes from a page of another origin.",
                "Use the address that the service printed at its start."
            );
            return;
        }
        var headers = context.Response.Headers;
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "no-referrer";
        headers.ContentSecurityPolicy =
            "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'";
        await next(context);
    }

    private static bool IsOwn(string origin, HttpRequest request) =>
        Uri.TryCreate(origin, UriKind.Absolute, out var uri)
        && string.Equals(uri.Authority, request.Host.Value, StringComparison.OrdinalIgnoreCase);

    private static IEnumerable<string> Hosts(string urls) =>
        urls.Split(';', StringSplitOptions.RemoveEmptyEntries)
            .Select(u =>
                Uri.TryCreate(
                    u.Replace("*", "localhost", StringComparison.Ordinal).Replace("+", "localhost", StringComparison.Ordinal),
                    UriKind.Absolute,
                    out var uri
                )
                    ? uri.Host
                    : "localhost"
            )
            .Concat(["localhost", "127.0.0.1", "[::1]"]);
}
