namespace Bearing.Core.Store;

public enum AskerKind
{
    /// <summary>Somebody who works with the service.</summary>
    Person,

    /// <summary>A program that was given access.</summary>
    Token,

    /// <summary>The service itself: housekeeping, and what was under way when it ended.</summary>
    Service,
}

/// <summary>Who asks or changes something; every change keeps it.</summary>
public sealed record Asker(AskerKind Kind, string Name)
{
    public static Asker Service { get; } = new(AskerKind.Service, "bearing");

    /// <summary>Whoever works at this machine, as long as nobody signs in.</summary>
    public static Asker Local { get; } = new(AskerKind.Person, "local");

    /// <exception cref="FormatException">When it is no text form of an asker.</exception>
    public static Asker Parse(string text) =>
        text.Split(':', 2) is [var kind, { Length: > 0 } name] && Enum.TryParse<AskerKind>(kind, true, out var known)
            ? new Asker(known, name)
            : throw new FormatException($"“{text}” is no asker.");

    /// <summary>Text form, as books and the audit keep it: <c>person:local</c>.</summary>
    public override string ToString() => $"{Kind.ToString().ToLowerInvariant()}:{Name}";
}
