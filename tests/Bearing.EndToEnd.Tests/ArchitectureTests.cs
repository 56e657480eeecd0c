using System.Reflection;
using NetArchTest.Rules;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>Arrows point one way: Cli → Contracts; Service → Contracts, Data, Core; Data → Core; Core → nothing.</summary>
public sealed class ArchitectureTests
{
    private static readonly Assembly Core = typeof(Core.Books.Book).Assembly;
    private static readonly Assembly Data = typeof(Data.Books.BookShelf).Assembly;
    private static readonly Assembly Contracts = typeof(Contracts.AnswerSet).Assembly;
    private static readonly Assembly Service = typeof(Service.Hosting.ServiceHost).Assembly;
    private static readonly Assembly Cli = Assembly.Load("bearing");

    public static TheoryData<string, string[]> Arrows =>
        new()
        {
            { nameof(Core), [] },
            { nameof(Contracts), [] },
            { nameof(Data), ["Bearing.Core"] },
            { nameof(Cli), ["Bearing.Contracts"] },
            { nameof(Service), ["Bearing.Core", "Bearing.Data", "Bearing.Contracts"] },
        };

    [Theory]
    [MemberData(nameof(Arrows))]
    public void Projects_reference_only_what_they_may(string project, string[] allowed) =>
        Assert.Subset(
            allowed.ToHashSet(),
            Named(project)
                .GetReferencedAssemblies()
                .Select(a => a.Name!)
                .Where(n => n.StartsWith("Bearing.", StringComparison.Ordinal) || n is "bearing" or "bearing-service")
                .ToHashSet()
        );

    [Fact]
    public void The_core_does_no_input_or_output() =>
        Assert.True(
            Types
                .InAssembly(Core)
                .ShouldNot()
                .HaveDependencyOnAny(
                    "System.Net",
                    "System.Console",
                    "Microsoft.AspNetCore",
                    "Microsoft.EntityFrameworkCore",
                    "DuckDB",
                    "CsvHelper",
                    "System.IO.File",
                    "System.IO.Directory",
                    "System.TimeProvider"
                )
                .GetResult()
                .IsSuccessful
        );

    [Fact]
    public void Only_one_folder_knows_the_fact_engine() =>
        Assert.True(
            Types
                .InAssembly(Data)
                .That()
                .DoNotResideInNamespaceContaining("Facts.Duck")
                .ShouldNot()
                .HaveDependencyOnAny("DuckDB.NET.Data.DuckDBCommand", "DuckDB.NET.Data.DuckDBAppender")
                .GetResult()
                .IsSuccessful
        );

    private static Assembly Named(string project) =>
        project switch
        {
            nameof(Core) => Core,
            nameof(Contracts) => Contracts,
            nameof(Data) => Data,
            nameof(Cli) => Cli,
            _ => Service,
        };
}
