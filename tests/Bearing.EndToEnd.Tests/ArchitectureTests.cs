using System.Reflection;
using NetArchTest.Rules;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>Arrows point one way: Cli → Contracts; Service → Contracts, Data, Core; Data → Core; Core → nothing. Within the core
/// each folder uses only those that are named for it.</summary>
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

    /// <summary>A folder of the core → the folders that it may use.</summary>
    public static TheoryData<string, string[]> Layers =>
        new()
        {
            { "Language", [] },
            { "Books", ["Language"] },
            { "Questions", ["Language", "Books"] },
            { "Loading", ["Language", "Books", "Questions"] },
            { "Store", ["Language", "Books", "Questions", "Loading"] },
            { "Variance", ["Language", "Books", "Questions", "Loading", "Store"] },
            { "Commentary", ["Language", "Books", "Questions", "Store", "Variance"] },
            { "Answering", ["Language", "Books", "Questions", "Store", "Variance", "Commentary"] },
            { "Reading", ["Language", "Books", "Questions", "Variance"] },
            { "FirstReading", ["Language", "Books", "Questions", "Variance", "Reading"] },
        };

    [Theory]
    [MemberData(nameof(Layers))]
    public void Folders_of_the_core_use_only_those_below(string folder, string[] allowed)
    {
        var others = Folders().Where(f => f != folder && !allowed.Contains(f)).Select(f => $"Bearing.Core.{f}").ToArray();
        var result = Types
            .InAssembly(Core)
            .That()
            .ResideInNamespace($"Bearing.Core.{folder}")
            .ShouldNot()
            .HaveDependencyOnAny(others)
            .GetResult();
        Assert.True(result.IsSuccessful, string.Join(", ", result.FailingTypeNames ?? []));
    }

    [Fact]
    public void Every_folder_of_the_core_has_its_layer() =>
        Assert.Equal(Layers.Select(l => l.Data.Item1).Order(StringComparer.Ordinal), Folders().Order(StringComparer.Ordinal));

    private static HashSet<string> Folders() =>
        [.. Core.GetTypes().Select(t => t.Namespace?.Split('.')).Where(n => n is ["Bearing", "Core", _, ..]).Select(n => n![2])];

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

    /// <summary>Whoever puts the service together names the engine that it runs on, and nobody else; a file format is read with
    /// the same library, in a database of its own.</summary>
    [Fact]
    public void Only_one_folder_knows_the_fact_engine()
    {
        var strangers = new[] { Data, Service }
            .SelectMany(a =>
                Types
                    .InAssembly(a)
                    .That()
                    .DoNotResideInNamespaceContaining("Facts.Duck")
                    .And()
                    .HaveDependencyOnAny("DuckDB", "Bearing.Data.Facts.Duck")
                    .GetTypes()
            )
            .Select(t => (t.DeclaringType ?? t).Name)
            .Distinct();
        Assert.Equal(["ParquetTable", "ServiceHost"], strangers.Order(StringComparer.Ordinal));
    }

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
