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
public sealed class ProblemException(int status, string title, string detail, string remedy) : Exception(detail)
{
    public int Status { get; } = status;
    public string Title { get; } = title;
    public string Remedy { get; } = remedy;

    public static ProblemException NoBook(string id) =>
        new(404, "No such book", $"There is no book “{id}”.", "List the books with GET /api/books or “bearing books”.");
}

/// <summary>Every failure becomes a problem document: title, detail, remedy, and refused rows where there are any.</summary>
public sealed class Problems(ILogger<Problems> log) : IExceptionHandler
{
    public async ValueTask<bool> TryHandleAsync(HttpContext httpContext, Exception exception, CancellationToken cancellationToken)
    {
        if (exception is OperationCanceledException)
            return true;
        var (status, problem) = Describe(exception);
        if (status == StatusCodes.Status500InternalServerError)
            log.LogError(exception, "Unexpected failure on {Path}", httpContext.Request.Path);
        await Write(httpContext, status, problem);
        return true;
    }

    public static (int Status, ProblemDto Problem) Describe(Exception exception) =>
        exception switch
        {
            ProblemException p => (p.Status, new ProblemDto(p.Title, p.Message, p.Remedy)),
            BookGoneException => (
                404,
                new ProblemDto("No such book", "The book was erased.", "List the books with GET /api/books or “bearing books”.")
            ),
            EditionPurgedException e => (
                410,
                new ProblemDto(
                    "This edition can no longer be read",
                    e.Message,
                    "Leave the edition out to ask the book as it is now."
                )
            ),
            BookDamagedException d => (
                503,
                new ProblemDto(
                    "This book cannot be opened",
                    $"The book {d.Id} is set apart. {d.Message}",
                    "Put its folder back from a backup and start the service again, or erase the book. The other books are not affected."
                )
            ),
            BooksBusyException b => (
                503,
                new ProblemDto(
                    "The service is busy",
                    b.Message,
                    "Try again in a moment. Whoever runs the service can let more books be open at once: --open N."
                )
            ),
            LoadRefusedException r => (422, new ProblemDto("The file cannot be loaded", r.Refusal.Because, r.Refusal.Remedy)),
            RowsRefusedException r => (
                422,
                new ProblemDto(
                    "Rows were refused",
                    r.Message,
                    "Correct the rows listed and load the file again.",
                    [.. r.Receipt.Refused.Select(LoadMapping.ToDto)]
                )
            ),
            WarningsException w => (
                422,
                new ProblemDto(
                    "There are warnings to agree with",
                    w.Message,
                    "Look at each; load again with “agreed” to take the file in as it is, or correct it.",
                    null,
                    [.. w.Receipt.Warnings.Select(LoadMapping.ToDto)]
                )
            ),
            SourceException s => (502, new ProblemDto("The source could not be read", s.Message, s.Remedy)),
            CannotAnswerException c => (
                422,
                new ProblemDto(
                    "The book cannot answer this",
                    c.Message,
                    c.Nearest.Length > 0 ? $"Try: {string.Join(" · ", c.Nearest)}" : null
                )
            ),
            FormatException f => (
                400,
                new ProblemDto(
                    "The request cannot be read",
                    f.Message,
                    "Correct the named part; the OpenAPI document at /openapi/v1.json shows the form."
                )
            ),
            BadHttpRequestException { InnerException: JsonException j } => (
                400,
                new ProblemDto("The request body cannot be read", j.Message, "Send the JSON form shown in /openapi/v1.json.")
            ),
            BadHttpRequestException b => (
                b.StatusCode,
                new ProblemDto("The request cannot be read", b.Message, "See /openapi/v1.json for the form.")
            ),
            ArgumentOutOfRangeException { ParamName: "edition" } => (
                404,
                new ProblemDto(
                    "No such edition",
                    "The book has no such edition.",
                    "Leave the edition out to ask the book as it is now."
                )
            ),
            _ when DiskFull.Is(exception) => (
                507,
                new ProblemDto(
                    "The disk is full",
                    "There is no room left in the data folder; nothing was changed.",
                    "Free some space and try again."
                )
            ),
            _ => (
                500,
                new ProblemDto(
                    "Something went wrong in Bearing",
                    "An unexpected failure was logged; nothing was changed.",
                    "Try again; if it happens again, send the service's log to whoever runs it."
                )
            ),
        };

    public static Task Write(HttpContext context, int status, string title, string detail, string remedy) =>
        Write(context, status, new ProblemDto(title, detail, remedy));

    private static Task Write(HttpContext context, int status, ProblemDto problem)
    {
        context.Response.StatusCode = status;
        if (status == StatusCodes.Status503ServiceUnavailable)
            context.Response.Headers.RetryAfter = "5";
        return context.Response.WriteAsJsonAsync(
            new
            {
                type = "about:blank",
                problem.Title,
                status,
                problem.Detail,
                problem.Remedy,
                problem.Refused,
                problem.Warnings,
            },
            JsonSerializerOptions.Web,
            "application/problem+json",
            context.RequestAborted
        );
    }
}
