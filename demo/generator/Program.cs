using Bearing.Demo;

// Makes the demo company's files. The same seed makes the same bytes.
// Usage: dotnet run --project demo/generator -- OUT_FOLDER
var folder = args.Length > 0 ? args[0] : "demo/data";
Directory.CreateDirectory(folder);
var ledger = new LedgerMaker(20260925);
ledger.Make();
var files = new FileMaker(folder, ledger);
files.WriteReference();
files.WriteLedger();
files.WritePlans();
files.WriteRates();
files.WriteOpenItems();
files.WriteCauses();
Console.WriteLine($"{ledger.Lines.Count:N0} ledger lines in {folder}");
