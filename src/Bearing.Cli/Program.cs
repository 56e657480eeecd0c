using System.CommandLine;
using System.Text;
using Bearing.Cli;

Console.OutputEncoding = Encoding.UTF8;
var root = new RootCommand(
    "Bearing: actual against plan, in plain language.\n\nThe service's address is taken from BEARING_URL (http://127.0.0.1:5180 when it is not set)."
);
root.Options.Add(Session.BookOption);
foreach (
    var command in BookCommands
        .All()
        .Concat(LoadCommands.All())
        .Concat(SourceCommands.All())
        .Concat(TableCommands.All())
        .Concat(PeriodCommands.All())
        .Concat(AskCommands.All())
        .Concat(WordCommands.All())
)
    root.Subcommands.Add(command);
var parsed = root.Parse(args);

// 2: the command was not used rightly; 1 and 0 come from the commands themselves.
if (parsed.Errors.Count > 0)
{
    foreach (var error in parsed.Errors)
        await Console.Error.WriteLineAsync(error.Message);
    await Console.Error.WriteLineAsync(
        $"See “bearing {string.Join(' ', parsed.CommandResult.Command == root ? [] : new[] { parsed.CommandResult.Command.Name })} --help”.".Replace(
            "  ",
            " ",
            StringComparison.Ordinal
        )
    );
    return 2;
}
return await parsed.InvokeAsync();
