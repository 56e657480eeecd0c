using System.CommandLine;
using Bearing.Service.Hosting;

var data = new Option<DirectoryInfo>("--data") { Description = "Folder in which everything is kept", DefaultValueFactory = _ => new DirectoryInfo("bearing-data") };
var urls = new Option<string>("--urls") { Description = "Address to listen on", DefaultValueFactory = _ => "http://127.0.0.1:5180" };
var demo = new Option<bool>("--demo") { Description = "Load the demo company when its book is not there yet" };
var command = new RootCommand("The Bearing service. Stop it with Ctrl-C; what is running is finished or cleanly left for the next start.") { data, urls, demo };
command.SetAction((parsed, cancel) => ServiceHost.Run(new ServiceSettings(parsed.GetValue(data)!.FullName, parsed.GetValue(urls)!, parsed.GetValue(demo)), cancel));
return await command.Parse(args).InvokeAsync(new InvocationConfiguration { ProcessTerminationTimeout = null });
