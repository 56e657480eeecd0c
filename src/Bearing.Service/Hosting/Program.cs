using System.CommandLine;
using Bearing.Service.Hosting;

var data = new Option<DirectoryInfo>("--data")
{
    Description = "Folder in which everything is kept",
    DefaultValueFactory = _ => new DirectoryInfo("bearing-data"),
};
var urls = new Option<string>("--urls")
{
    Description = "Address to listen on",
    DefaultValueFactory = _ => "http://127.0.0.1:5180",
};
var demo = new Option<bool>("--demo") { Description = "Load the demo company when its book is not there yet" };
var allow = new Option<string[]>("--allow")
{
    Description =
        "Address of a source that may be read, with everything below it: https://host/feed/, postgres://host:5432/database or sqlite:///path/file.db; may be repeated",
    AllowMultipleArgumentsPerToken = false,
};
var open = new Option<int>("--open")
{
    Description = "How many books may be open at once; others wait until one is idle",
    DefaultValueFactory = _ => 8,
};
open.Validators.Add(result =>
{
    if (result.GetValueOrDefault<int>() is < 1 or > 1000)
        result.AddError("--open: give a number from 1 to 1000.");
});
allow.Validators.Add(result =>
{
    foreach (var token in result.Tokens)
        if (
            !Uri.TryCreate(token.Value, UriKind.Absolute, out var uri)
            || uri.Scheme is not ("http" or "https" or "postgres" or "sqlite")
        )
            result.AddError($"--allow: “{token.Value}” is no address of a source.");
});
var command = new RootCommand(
    "The Bearing service. Stop it with Ctrl-C; what is running is finished or cleanly left for the next start."
)
{
    data,
    urls,
    demo,
    allow,
    open,
};
command.SetAction(
    (parsed, cancel) =>
        ServiceHost.Run(
            new ServiceSettings(
                parsed.GetValue(data)!.FullName,
                parsed.GetValue(urls)!,
                parsed.GetValue(demo),
                [.. (parsed.GetValue(allow) ?? []).Select(a => new Uri(a))],
                parsed.GetValue(open)
            ),
            cancel
        )
);
return await command.Parse(args).InvokeAsync(new InvocationConfiguration { ProcessTerminationTimeout = null });
