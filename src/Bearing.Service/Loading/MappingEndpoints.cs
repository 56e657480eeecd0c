using System.Text.Json;
using Bearing.Contracts;
using Bearing.Data.Books;
using Bearing.Service.Books;
using Bearing.Service.Hosting;

namespace Bearing.Service.Loading;

/// <summary>Saved mappings: list, show, keep, remove. What is shown is what can be kept again, here or in another book.</summary>
public static class MappingEndpoints
{
    public static void MapMappings(this IEndpointRouteBuilder app)
    {
        var book = app.MapGroup("/api/books/{book}/mappings").WithTags("Loading");
        book.MapGet("", (string book, [AsParameters] PageOf page, BookShelf shelf) => page.Of(List(shelf.Get(book)), m => m.Name))
            .WithName("ListMappings");
        book.MapGet("/{name}", (string book, string name, BookShelf shelf) => MappingForm.Read(shelf.Get(book), name))
            .WithName("GetMapping")
            .Produces<MappingFile>();
        book.MapPut("/{name}", Keep).WithName("KeepMapping").Produces<MappingFile>();
        book.MapDelete("/{name}", Remove).WithName("RemoveMapping").Produces(204);
    }

    private static List<MappingFile> List(OpenBook book) => [.. book.Mappings.Names().Select(n => MappingForm.Read(book, n))];

    private static MappingFile Keep(string book, string name, MappingFile mapping, BookShelf shelf)
    {
        var open = shelf.Get(book);
        if (!BookShelf.IsId(name))
            throw new ProblemException(
                ProblemKinds.ValueUnusable,
                $"“{name}” cannot name a mapping.",
                "Use lower-case letters, digits and dashes, for example ledger-fy26."
            );
        mapping = mapping with { Name = name };
        _ = MappingForm.ToCore(mapping);
        open.Mappings.Write(name, JsonSerializer.Serialize(mapping, MappingForm.Json));
        return mapping;
    }

    private static IResult Remove(string book, string name, BookShelf shelf) =>
        shelf.Get(book).Mappings.Delete(name)
            ? Results.NoContent()
            : throw new ProblemException(
                ProblemKinds.NoSuchMapping,
                $"There is no mapping “{name}” in this book.",
                "List the mappings for their names."
            );
}

/// <summary>Selection lists: values under a name that mappings refer to, so that the choice changes and the mapping does
/// not.</summary>
public static class SelectionEndpoints
{
    private const int MostValues = 10_000;

    public static void MapSelections(this IEndpointRouteBuilder app)
    {
        var book = app.MapGroup("/api/books/{book}/selections").WithTags("Loading");
        book.MapGet("", (string book, [AsParameters] PageOf page, BookShelf shelf) =>
                page.Of([.. shelf.Get(book).Selections.Names().Select(n => MappingForm.Selection(shelf.Get(book), n))], s =>
                    s.Name
                )
            )
            .WithName("ListSelections");
        book.MapPut("/{name}", Keep).WithName("KeepSelection").Produces<SelectionList>();
        book.MapDelete("/{name}", (string book, string name, BookShelf shelf) =>
                shelf.Get(book).Selections.Delete(name)
                    ? Results.NoContent()
                    : throw new ProblemException(
                        ProblemKinds.NoSuchSelection,
                        $"There is no selection list “{name}” in this book.",
                        "List them for their names."
                    )
            )
            .WithName("RemoveSelection")
            .Produces(204);
    }

    private static SelectionList Keep(string book, string name, SelectionList list, BookShelf shelf)
    {
        var open = shelf.Get(book);
        if (!BookShelf.IsId(name))
            throw new ProblemException(
                ProblemKinds.ValueUnusable,
                $"“{name}” cannot name a selection list.",
                "Use lower-case letters, digits and dashes, for example closing-companies."
            );
        if (list.Values is not { Count: > 0 and <= MostValues })
            throw new ProblemException(
                ProblemKinds.ValueUnusable,
                "It has no values, or more than 10,000.",
                "Give the values that rows may have."
            );
        list = list with { Name = name };
        open.Selections.Write(name, JsonSerializer.Serialize(list, MappingForm.Json));
        return list;
    }
}
