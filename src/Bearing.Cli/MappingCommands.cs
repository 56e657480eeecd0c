using System.CommandLine;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using Bearing.Contracts;

namespace Bearing.Cli;

/// <summary>Saved mappings: list, show, keep, remove.</summary>
internal static class MappingCommands
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    public static Command All()
    {
        var mappings = new Command(
            "mappings",
            "List the saved ways to read files, or show, keep and remove one.\n\nExamples:\n  bearing mappings\n  bearing mappings show ledger-fy26 > ledger-fy26.json\n  bearing mappings keep ledger-fy26.json\n  bearing mappings remove ledger-fy26"
        )
        {
            Session.JsonOption,
            Show(),
            Keep(),
            Remove(),
        };
        mappings.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var list = await session.Client.Mappings(await session.Book(cancel), cancel);
                    if (session.AsJson)
                        Session.Print(list);
                    else if (list.Count == 0)
                        Console.WriteLine(
                            "There are no mappings yet. Keep one with “bearing load FILE --preview --save-mapping NAME”."
                        );
                    else
                        Tables.Print(
                            ["Mapping", "Kind", "Scenario", "Headings"],
                            list.Select(m =>
                                new[]
                                {
                                    m.Name,
                                    m.Kind,
                                    m.Scenario?.Code ?? "—",
                                    string.Join(", ", m.Columns.Where(c => c.Role is not null).Select(c => c.Heading)),
                                }
                            )
                        );
                    return 0;
                }));
        return mappings;
    }

    /// <exception cref="CannotException">When the file is not a mapping.</exception>
    public static async Task<MappingFile> Read(FileInfo file, CancellationToken cancel)
    {
        if (!file.Exists)
            throw new CannotException(
                $"There is no file {file.FullName}.",
                "Give the path of a mapping file, as “bearing mappings show” prints it."
            );
        try
        {
            return JsonSerializer.Deserialize<MappingFile>(await File.ReadAllTextAsync(file.FullName, cancel), Json)
                ?? throw new JsonException("It is empty.");
        }
        catch (JsonException e)
        {
            throw new CannotException(
                $"{file.Name} is not a mapping: {e.Message}",
                "docs/mapping.schema.json describes the form."
            );
        }
    }

    private static Command Show()
    {
        var name = new Argument<string>("NAME") { Description = "Name of the mapping" };
        var show = new Command("show", "Print a mapping in the form in which it can be kept again.") { name };
        show.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    Console.WriteLine(
                        JsonSerializer.Serialize(
                            await session.Client.Mapping(await session.Book(cancel), parsed.GetValue(name)!, cancel),
                            Json
                        )
                    );
                    return 0;
                }));
        return show;
    }

    private static Command Keep()
    {
        var file = new Argument<FileInfo>("FILE") { Description = "A mapping file" };
        var named = new Option<string?>("--name") { Description = "Name to keep it under; the one in the file when left out" };
        var keep = new Command("keep", "Keep a mapping file in the book; one of the same name is replaced.") { file, named };
        keep.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var mapping = await Read(parsed.GetValue(file)!, cancel);
                    var kept = await session.Client.KeepMapping(
                        await session.Book(cancel),
                        parsed.GetValue(named) ?? mapping.Name,
                        mapping,
                        cancel
                    );
                    Console.WriteLine($"Kept as {kept.Name}. Files with its headings are read by it from now on.");
                    return 0;
                }));
        return keep;
    }

    private static Command Remove()
    {
        var name = new Argument<string>("NAME") { Description = "Name of the mapping" };
        var remove = new Command("remove", "Remove a mapping; what was loaded by it stays.") { name };
        remove.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    await session.Client.RemoveMapping(await session.Book(cancel), parsed.GetValue(name)!, cancel);
                    Console.WriteLine($"The mapping {parsed.GetValue(name)} is removed.");
                    return 0;
                }));
        return remove;
    }
}
