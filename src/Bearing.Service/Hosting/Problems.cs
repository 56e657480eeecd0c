using System.Text.Json;
using Bearing.Contracts;
using Bearing.Core.Loading;
using Bearing.Core.Questions;
using Bearing.Core.Store;
using Bearing.Data;
using Bearing.Data.Books;
using Bearing.Data.Sources;
using Bearing.Service.Loading;
using Microsoft.AspNetCore.Diagnostics;

namespace Bearing.Service.Hosting;

/// <summary>A request that cannot be served, with what was wrong and what to do (RFC 9457).</summary>
public sealed class ProblemException(ProblemKind kind, string detail, string remedy) : Exception(detail)
{
    public ProblemKind Kind { get; } = kind;
    public string Remedy { get; } = remedy;

    public static ProblemException NoBook(string id) =>
        new(ProblemKinds.NoSuchBook, $"There is no book “{id}”.", "List the books with GET /api/books or “bearing books”.");
}

/// <summary>Every failure becomes a problem document: title, detail, remedy, and refused rows where there are any.</summary>
public sealed class Problems(ILogger<Problems> log) : IExceptionHandler
{
    public async ValueTask<bool> TryHandleAsync(HttpContext httpContext, Exception exception, CancellationToken cancellationToken)
    {
        if (exception is OperationCanceledException)
            return true;
        var problem = Describe(exception);
        if (problem.Status == StatusCodes.Status500InternalServerError)
            log.LogError(exception, "Unexpected failure on {Path}", httpContext.Request.Path);
        await Write(httpContext, problem);
        return true;
    }

    public static ProblemDto Describe(Exception exception) =>
        exception switch
        {
            ProblemException p => Problem(p.Kind, p.Message, p.Remedy),
            BookGoneException => Problem(
                ProblemKinds.NoSuchBook,
                "The book was erased.",
                "List the books with GET /api/books or “bearing books”."
            ),
            EditionPurgedException e => Problem(
                ProblemKinds.EditionPurged,
                e.Message,
                "Leave the edition out to ask the book as it is now."
            ),
            BookDamagedException d => Problem(
                ProblemKinds.BookDamaged,
                $"The book {d.Id} is set apart. {d.Message}",
                "Put its folder back from a backup and start the service again, or erase the book. The other books are not affected."
            ),
            BooksBusyException b => Problem(
                ProblemKinds.Busy,
                b.Message,
                "Try again in a moment. Whoever runs the service can let more books be open at once: --open N."
            ),
            LoadRefusedException r => Problem(ProblemKinds.FileRefused, r.Refusal.Because, r.Refusal.Remedy),
            RowsRefusedException r => Problem(
                ProblemKinds.RowsRefused,
                r.Message,
                "Correct the rows listed and load the file again."
            ) with
            {
                Refused = [.. r.Receipt.Refused.Select(LoadMapping.ToDto)],
            },
            WarningsException w => Problem(
                ProblemKinds.WarningsOpen,
                w.Message,
                "Look at each; load again with “agreed” to take the file in as it is, or correct it."
            ) with
            {
                Warnings = [.. w.Receipt.Warnings.Select(LoadMapping.ToDto)],
            },
            SourceException s => Problem(ProblemKinds.SourceFailed, s.Message, s.Remedy),
            CannotAnswerException c => Problem(
                ProblemKinds.CannotAnswer,
                c.Message,
                c.Nearest.Length > 0 ? $"Try: {string.Join(" · ", c.Nearest)}" : null
            ),
            FormatException f => Problem(
                ProblemKinds.RequestUnreadable,
                f.Message,
                "Correct the named part; the OpenAPI document at /openapi/v1.json shows the form."
            ),
            BadHttpRequestException { InnerException: JsonException j } => Problem(
                ProblemKinds.RequestUnreadable,
                j.Message,
                "Send the JSON form shown in /openapi/v1.json."
            ),
            BadHttpRequestException b => Problem(
                ProblemKinds.RequestUnreadable,
                b.Message,
                "See /openapi/v1.json for the form."
            ) with
            {
                Status = b.StatusCode,
            },
            ArgumentOutOfRangeException { ParamName: "edition" } => Problem(
                ProblemKinds.NoSuchEdition,
                "The book has no such edition.",
                "Leave the edition out to ask the book as it is now."
            ),
            _ when DiskFull.Is(exception) => Problem(
                ProblemKinds.DiskFull,
                "There is no room left in the data folder; nothing was changed.",
                "Free some space and try again."
            ),
            _ => Problem(
                ProblemKinds.Unexpected,
                "An unexpected failure was logged; nothing was changed.",
                "Try again; if it happens again, send the service's log to whoever runs it."
            ),
        };

    /// <summary>Reads what a failed job left; those of older releases said neither type nor status.</summary>
    public static ProblemDto Kept(string json)
    {
        var problem = JsonSerializer.Deserialize<ProblemDto>(json)!;
        return problem.Status > 0
            ? problem with
            {
                Type = problem.Type ?? "about:blank",
            }
            : problem with
            {
                Type = "about:blank",
                Status = StatusCodes.Status422UnprocessableEntity,
            };
    }

    public static Task Write(HttpContext context, ProblemKind kind, string detail, string remedy) =>
        Write(context, Problem(kind, detail, remedy));

    private static ProblemDto Problem(ProblemKind kind, string detail, string? remedy) =>
        new(kind.Address, kind.Title, kind.Status, detail, remedy);

    private static Task Write(HttpContext context, ProblemDto problem)
    {
        context.Response.StatusCode = problem.Status;
        if (problem.Status == StatusCodes.Status503ServiceUnavailable)
            context.Response.Headers.RetryAfter = "5";
        return context.Response.WriteAsJsonAsync(
            problem,
            JsonSerializerOptions.Web,
            "application/problem+json",
            context.RequestAborted
        );
    }
}
