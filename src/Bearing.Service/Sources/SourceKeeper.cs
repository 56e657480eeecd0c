using System.Security.Cryptography;
using System.Text.Json;
using Bearing.Contracts;
using Bearing.Data.Books;
using Bearing.Data.Sources;
using Bearing.Service.Hosting;
using Microsoft.AspNetCore.DataProtection;

namespace Bearing.Service.Sources;

/// <summary>Keeps the sources of a book and opens them. Only addresses that the service's owner allows are ever
/// reached.</summary>
public sealed class SourceKeeper(ServiceSettings settings, IDataProtectionProvider protection) : IDisposable
{
    private sealed record Kept(string Kind, string Address, string? User, string? Secret);

    private readonly IDataProtector _protector = protection.CreateProtector("Bearing.Sources");

    // No redirections: an allowed address must not lead to one that is not.
    private readonly HttpClient _http = new(
        new SocketsHttpHandler
        {
            AllowAutoRedirect = false,
            ConnectTimeout = TimeSpan.FromSeconds(10),
            UseProxy = false,
        }
    )
    {
        Timeout = TimeSpan.FromMinutes(5),
    };

    public IReadOnlyList<SourceDto> List(OpenBook book) => [.. book.Sources.Names().Select(n => ToDto(n, Read(book, n)))];

    /// <exception cref="ProblemException">422 when the address is unusable, 403 when it is not allowed.</exception>
    public SourceDto Keep(OpenBook book, string name, NewSource source)
    {
        if (!BookShelf.IsId(name))
            throw new ProblemException(
                ProblemKinds.ValueUnusable,
                $"“{name}” cannot name a source.",
                "Use lower-case letters, digits and dashes."
            );
        var kind = source.Kind is "odata" or "postgres" or "sqlite"
            ? source.Kind
            : throw new ProblemException(
                ProblemKinds.SourceUnusable,
                $"“{source.Kind}” is no kind of source.",
                "Use odata, postgres or sqlite."
            );
        var address = Address(kind, source.Address);
        Demand(address);
        var old = book.Sources.Read(name) is null ? null : Read(book, name);
        // A secret goes to the address for which it was given, and to no other.
        var secret =
            source.Secret is { Length: > 0 } given ? _protector.Protect(given)
            : old?.Address == address.ToString() ? old.Secret
            : null;
        var kept = new Kept(kind, address.ToString(), source.User, secret);
        book.Sources.Write(name, JsonSerializer.Serialize(kept));
        return ToDto(name, kept);
    }

    /// <exception cref="ProblemException">404 when there is none, 403 when its address is not allowed (any more).</exception>
    public Source Open(OpenBook book, string name)
    {
        var kept = Read(book, name);
        var address = new Uri(kept.Address);
        Demand(address);
        var secret = kept.Secret is null ? null : Unprotect(kept.Secret, name);
        return kept.Kind switch
        {
            "odata" => new ODataFeed(address, _http, kept.User, secret),
            "postgres" => Database.Postgres(address, kept.User, secret),
            _ => Database.Sqlite(FilePath(address)),
        };
    }

    public void Dispose() => _http.Dispose();

    private static SourceDto ToDto(string name, Kept kept) =>
        new(name, kept.Kind, kept.Address, kept.User, kept.Secret is not null);

    private static Kept Read(OpenBook book, string name) =>
        book.Sources.Read(name) is { } json
            ? JsonSerializer.Deserialize<Kept>(json)!
            : throw new ProblemException(
                ProblemKinds.NoSuchSource,
                $"There is no source “{name}” in this book.",
                "List the sources for their names."
            );

    private string Unprotect(string secret, string name)
    {
        try
        {
            return _protector.Unprotect(secret);
        }
        catch (CryptographicException)
        {
            throw new ProblemException(
                ProblemKinds.SourceUnusable,
                $"The keys that protect the secret of {name} are gone.",
                "Give the secret again."
            );
        }
    }

    private static Uri Address(string kind, string address)
    {
        string[] schemes = kind switch
        {
            "odata" => ["http", "https"],
            "postgres" => ["postgres"],
            _ => ["sqlite"],
        };
        if (
            !Uri.TryCreate(kind == "odata" && !address.EndsWith('/') ? address + "/" : address, UriKind.Absolute, out var uri)
            || !schemes.Contains(uri.Scheme)
        )
            throw new ProblemException(
                ProblemKinds.SourceUnusable,
                $"“{address}” is no address of a source of the kind {kind}.",
                kind switch
                {
                    "odata" => "Write it as https://host/feed/.",
                    "postgres" => "Write it as postgres://host:5432/database.",
                    _ => "Write it as sqlite:///path/file.db.",
                }
            );
        if (kind == "postgres" && uri.Query is not ("" or "?tls=require" or "?tls=verify"))
            throw new ProblemException(
                ProblemKinds.SourceUnusable,
                $"“{uri.Query}” says nothing that is known.",
                "Leave it out, or write ?tls=require for an encrypted connection, ?tls=verify for one whose certificate is checked."
            );
        if (uri.UserInfo.Length > 0)
            throw new ProblemException(
                ProblemKinds.SourceUnusable,
                "The address holds a user or password.",
                "Give user and secret apart, so that the secret is kept protected."
            );
        return uri;
    }

    private void Demand(Uri address)
    {
        if (settings.Allowed.Any(a => Covers(a, address)))
            return;
        throw new ProblemException(
            ProblemKinds.AddressNotAllowed,
            $"The owner of this service does not allow {address.GetLeftPart(UriPartial.Path)}.",
            settings.Allowed.Count == 0
                ? "The service's owner allows addresses with --allow ADDRESS when starting it."
                : $"Allowed are {string.Join(", ", settings.Allowed)}."
        );
    }

    /// <summary>Same scheme, host and port, and a path at or below the allowed one, once all that is encoded in it is decoded and
    /// every step up is taken.</summary>
    private bool Covers(Uri allowed, Uri address)
    {
        if (
            allowed.Scheme != address.Scheme
            || !string.Equals(allowed.Host, address.Host, StringComparison.OrdinalIgnoreCase)
            || allowed.Port != address.Port
        )
            return false;
        if (address.Scheme == "sqlite")
            return IsAtOrBelow(FilePath(allowed), FilePath(address), Path.DirectorySeparatorChar)
                && !IsAtOrBelow(Path.GetFullPath(settings.DataFolder), FilePath(address), Path.DirectorySeparatorChar);
        var path = Uri.UnescapeDataString(address.AbsolutePath);
        return !path.Split('/', '\\').Contains("..") && IsAtOrBelow(Uri.UnescapeDataString(allowed.AbsolutePath), path, '/');
    }

    private static bool IsAtOrBelow(string allowed, string path, char separator) =>
        path == allowed || path.StartsWith(allowed.TrimEnd(separator) + separator, StringComparison.Ordinal);

    /// <summary>The file itself: decoded, without steps up, and where a link leads.</summary>
    private static string FilePath(Uri address)
    {
        var path = Path.GetFullPath(Uri.UnescapeDataString(address.AbsolutePath));
        return
            new FileInfo(path) is { LinkTarget: not null } link && link.ResolveLinkTarget(returnFinalTarget: true) is { } target
            ? target.FullName
            : path;
    }
}
