using Microsoft.EntityFrameworkCore;

namespace Bearing.Data.State;

public enum JobState
{
    Queued,
    Running,
    Committing,
    Done,
    Failed,
    Cancelled,
}

/// <summary>Long work as the service keeps it: this row is the truth, whatever happens to the process.</summary>
public sealed class JobRow
{
    public required string Id { get; init; }
    public required string Book { get; init; }

    /// <summary>What is to be done, as JSON; enough to start again after a restart.</summary>
    public required string Work { get; init; }

    /// <summary>Key by which a repeated request finds the same job; null when none was given.</summary>
    public string? IdempotencyKey { get; init; }

    /// <summary>Text form of the asker; null for jobs from before they were kept.</summary>
    public string? By { get; init; }
    public JobState State { get; set; }
    public long Rows { get; set; }

    /// <summary>0–1.</summary>
    public double Progress { get; set; }

    /// <summary>Receipt or failure, as JSON.</summary>
    public string? Result { get; set; }

    /// <summary>UTC ticks, since SQLite cannot order by offsets.</summary>
    public long CreatedTicks { get; init; }
    public long ChangedTicks { get; set; }

    /// <summary>How often it was begun, restarts included.</summary>
    public int Attempts { get; set; }
}

/// <summary>A file as it came in; its bytes lie in the book's folder under the hash.</summary>
public sealed class UploadRow
{
    public required string Id { get; init; }
    public required string Book { get; init; }
    public required string FileName { get; init; }
    public required string Sha256 { get; init; }
    public long Bytes { get; init; }
    public long CreatedTicks { get; init; }
}

/// <summary>A word that a question held and that nobody understood.</summary>
public sealed class UnknownWordRow
{
    public required string Book { get; init; }

    /// <summary>In lower case.</summary>
    public required string Word { get; init; }
    public int Times { get; set; }

    /// <summary>The latest question that held it.</summary>
    public required string Example { get; set; }
    public long LastTicks { get; set; }
}

/// <summary>Who did what: every change of a book.</summary>
public sealed class AuditRow
{
    public long Id { get; init; }
    public required string Book { get; set; }
    public required string What { get; init; }
    public long AtTicks { get; init; }

    /// <summary>Text form of the asker; null for rows from before they were kept.</summary>
    public string? By { get; init; }

    /// <summary>The edition that the change made, where it made one: copied from the book's own account, once.</summary>
    public int? Edition { get; init; }
}

/// <summary>One step of a trail; the steps before it are rows of their own, shared by every trail that began alike.</summary>
public sealed class TrailRow
{
    /// <summary>Made from the book, the steps before and the step: the same trail has the same id, however often it is
    /// kept.</summary>
    public required string Id { get; init; }
    public required string Book { get; init; }

    /// <summary>The step before; null for the first.</summary>
    public string? After { get; init; }

    /// <summary>As JSON.</summary>
    public required string Step { get; init; }

    /// <summary>When it was last kept or opened.</summary>
    public long UsedTicks { get; set; }
}

/// <summary>What the service keeps beside the books.</summary>
public sealed class StateDb(DbContextOptions<StateDb> options) : DbContext(options)
{
    public DbSet<JobRow> Jobs => Set<JobRow>();
    public DbSet<UploadRow> Uploads => Set<UploadRow>();
    public DbSet<AuditRow> Audit => Set<AuditRow>();
    public DbSet<UnknownWordRow> UnknownWords => Set<UnknownWordRow>();

    public DbSet<TrailRow> Trails => Set<TrailRow>();

    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        modelBuilder.Entity<JobRow>().HasIndex(j => new { j.Book, j.IdempotencyKey }).IsUnique();
        modelBuilder.Entity<JobRow>().Property(j => j.State).HasConversion<string>();
        modelBuilder.Entity<JobRow>().HasIndex(j => j.State);
        modelBuilder.Entity<UnknownWordRow>().HasKey(w => new { w.Book, w.Word });
        modelBuilder.Entity<TrailRow>().HasIndex(t => new { t.Book, t.UsedTicks });
        modelBuilder.Entity<AuditRow>().Property(a => a.Id).ValueGeneratedOnAdd();
        modelBuilder.Entity<AuditRow>().HasIndex(a => new { a.Book, a.Edition }).IsUnique();
    }
}

/// <summary>Lets the migration tool make a context without a service.</summary>
public sealed class StateDbDesign : Microsoft.EntityFrameworkCore.Design.IDesignTimeDbContextFactory<StateDb>
{
    public StateDb CreateDbContext(string[] args) =>
        new(new DbContextOptionsBuilder<StateDb>().UseSqlite("Data Source=design.db").Options);
}
