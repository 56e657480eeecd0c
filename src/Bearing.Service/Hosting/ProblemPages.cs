using System.Text;
using System.Text.Encodings.Web;

namespace Bearing.Service.Hosting;

/// <summary>The pages to which the type of a problem document leads: one for each kind of failure, and a list of them.</summary>
internal static class ProblemPages
{
    public static void MapProblemPages(this IEndpointRouteBuilder app)
    {
        app.MapGet("/problems", () => Page("Problems", List())).ExcludeFromDescription();
        app.MapGet("/problems/{code}", (string code) =>
                ProblemKinds.Find(code) is { } kind
                    ? Page(kind.Title, One(kind))
                    : Page("No such kind of problem", "<p>The list has all of them.</p>", StatusCodes.Status404NotFound)
            )
            .ExcludeFromDescription();
    }

    private static string One(ProblemKind kind) =>
        $"<p>{Text(kind.Meaning)}</p><p class=\"code\">Code <code>{kind.Code}</code>, HTTP status {kind.Status}</p>";

    private static string List()
    {
        var rows = new StringBuilder("<table><thead><tr><th>Status</th><th>Code</th><th>What it says</th></tr></thead><tbody>");
        foreach (var kind in ProblemKinds.All)
            rows.Append(
                $"<tr><td>{kind.Status}</td><td><a href=\"{kind.Address}\">{kind.Code}</a></td><td>{Text(kind.Title)}</td></tr>"
            );
        return rows.Append("</tbody></table>").ToString();
    }

    private static IResult Page(string title, string body, int status = StatusCodes.Status200OK) =>
        Results.Content(
            $$"""
            <!doctype html>
            <html lang="en">
            <head>
            <meta charset="utf-8">
            <meta name="viewport" content="width=device-width">
            <title>{{Text(title)}} · Bearing</title>
            <style>
            :root { color-scheme: light dark; --page: #f1eee6; --ink: #1c2733; --faint: #5b6670; --rule: #d9d3c5; --accent: #274b63; }
            @media (prefers-color-scheme: dark) { :root { --page: #12171c; --ink: #e8e4da; --faint: #a3adb5; --rule: #36414b; --accent: #9cc3da; } }
            body { background: var(--page); color: var(--ink); font: 1.05rem/1.55 system-ui, sans-serif; max-width: 46rem; margin: 3rem auto; padding: 0 1.2rem; }
            h1 { font-family: Georgia, serif; font-weight: 600; line-height: 1.3; }
            a { color: var(--accent); }
            .code, nav { color: var(--faint); }
            table { border-collapse: collapse; width: 100%; }
            th, td { text-align: start; border-bottom: 1px solid var(--rule); padding: .3rem .8rem .3rem 0; }
            </style>
            </head>
            <body><main><h1>{{Text(
                title
            )}}</h1>{{body}}</main><nav><a href="/problems">All problems</a> · <a href="/openapi/v1.json">The interface</a> · <a href="/">Bearing</a></nav></body>
            </html>
            """,
            "text/html",
            Encoding.UTF8,
            status
        );

    private static string Text(string text) => HtmlEncoder.Default.Encode(text);
}
