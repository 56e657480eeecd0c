namespace Bearing.EndToEnd.Tests;

/// <summary>Where the repository lies, seen from the test assembly.</summary>
internal static class Repository
{
    public static string Root { get; } = Find();

    public static string Demo(string file) => Path.Combine(Root, "demo", "data", file);

    private static string Find()
    {
        for (var at = new DirectoryInfo(AppContext.BaseDirectory); at is not null; at = at.Parent)
            if (File.Exists(Path.Combine(at.FullName, "Bearing.slnx")))
                return at.FullName;
        throw new InvalidOperationException("The tests do not lie in the repository.");
    }
}
