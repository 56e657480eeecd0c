using Bearing.Core.Store;

namespace Bearing.Data;

/// <summary>Tells a full disk from other failures.</summary>
public static class DiskFull
{
    private const int NoSpace = 28,
        NoSpaceOnWindows = 0x70,
        SqliteFull = 13;

    /// <summary>Whether a failure, or one within it, is the system's or the state file's own word for it.</summary>
    public static bool Is(Exception failure)
    {
        for (Exception? at = failure; at is not null; at = at.InnerException)
            if (
                at is DiskFullException
                || (at is IOException io && (io.HResult & 0xFFFF) is NoSpace or NoSpaceOnWindows)
                || at is Microsoft.Data.Sqlite.SqliteException { SqliteErrorCode: SqliteFull }
            )
                return true;
        return false;
    }
}
