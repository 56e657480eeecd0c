namespace Bearing.Data.Books;

/// <summary>Small readable files of a book by name: mappings, selection lists, sources. Names are kept to the safe alphabet of
/// book ids.</summary>
public sealed class NamedFiles(string folder)
{
    public IReadOnlyList<string> Names() =>
        !Directory.Exists(folder)
            ? []
            :
            [
                .. Directory
                    .EnumerateFiles(folder, "*.json")
                    .Select(f => Path.GetFileNameWithoutExtension(f)!)
                    .Where(BookShelf.IsId)
                    .Order(StringComparer.Ordinal),
            ];

    /// <summary>Null when there is none of this name.</summary>
    public string? Read(string name) => BookShelf.IsId(name) && File.Exists(PathOf(name)) ? File.ReadAllText(PathOf(name)) : null;

    /// <summary>In one step: a reader sees the old text or the new one.</summary>
    public void Write(string name, string json)
    {
        if (!BookShelf.IsId(name))
            throw new ArgumentException("Not a usable name.", nameof(name));
        Directory.CreateDirectory(folder);
        var draft = $"{PathOf(name)}.{Guid.NewGuid():n}";
        File.WriteAllText(draft, json);
        File.Move(draft, PathOf(name), overwrite: true);
    }

    /// <summary>False when there is none of this name.</summary>
    public bool Delete(string name)
    {
        if (!BookShelf.IsId(name) || !File.Exists(PathOf(name)))
            return false;
        File.Delete(PathOf(name));
        return true;
    }

    private string PathOf(string name) => Path.Combine(folder, $"{name}.json");
}
