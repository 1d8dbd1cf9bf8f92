using Microsoft.AspNetCore.DataProtection.EntityFrameworkCore;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

namespace Ratiogon.Store;

/// <summary>Accounts, parts, their steps and the edit log, on PostgreSQL.</summary>
public sealed class RatiogonDb(DbContextOptions<RatiogonDb> options)
    : IdentityDbContext<Account, IdentityRole<Guid>, Guid>(options),
        IDataProtectionKeyContext
{
    public DbSet<PartRow> Parts => Set<PartRow>();

    public DbSet<StepRow> Steps => Set<StepRow>();

    public DbSet<EditRow> Edits => Set<EditRow>();

    public DbSet<ModelRow> Models => Set<ModelRow>();

    /// <summary>Keys that cookies are sealed with: every server of the database, and every one after it, reads them.</summary>
    public DbSet<DataProtectionKey> DataProtectionKeys => Set<DataProtectionKey>();

    protected override void OnModelCreating(ModelBuilder builder)
    {
        ArgumentNullException.ThrowIfNull(builder);
        base.OnModelCreating(builder);
        builder.Entity<PartRow>(part =>
        {
            part.ToTable("parts").HasKey(p => p.Id);
            part.HasIndex(p => new { p.OwnerId, p.Changed });
            part.Property(p => p.Name).HasMaxLength(120);
            part.Property(p => p.Header).HasColumnType("jsonb");
            part.HasQueryFilter(p => p.Deleted == null);
            part.Property(p => p.Revision).IsConcurrencyToken();
            part.HasOne<Account>().WithMany().HasForeignKey(p => p.OwnerId);
        });
        builder.Entity<DataProtectionKey>().ToTable("keys");
        builder.Entity<StepRow>(step =>
        {
            step.ToTable("steps").HasKey(s => new { s.PartId, s.StepId });
            step.Property(s => s.Body).HasColumnType("jsonb");
            step.HasOne<PartRow>().WithMany().HasForeignKey(s => s.PartId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<ModelRow>(model =>
        {
            model.ToTable("models").HasKey(m => new { m.PartId, m.Key });
            model.Property(m => m.Key).HasMaxLength(64);
            model.HasIndex(m => m.Used);
            model.HasOne<PartRow>().WithMany().HasForeignKey(m => m.PartId).OnDelete(DeleteBehavior.Cascade);
        });
        builder.Entity<EditRow>(edit =>
        {
            edit.ToTable("edits").HasKey(e => new { e.PartId, e.Revision });
            edit.Property(e => e.Change).HasColumnType("jsonb");
            edit.Property(e => e.Words).HasMaxLength(300);
            edit.Property(e => e.Name).HasMaxLength(120);
            edit.HasOne<PartRow>().WithMany().HasForeignKey(e => e.PartId).OnDelete(DeleteBehavior.Cascade);
        });
    }
}

/// <summary>Opens databases where no container does: for programs beside the server, and for tests.</summary>
public sealed class Databases(string connection) : IDbContextFactory<RatiogonDb>
{
    private readonly DbContextOptions<RatiogonDb> options = new DbContextOptionsBuilder<RatiogonDb>().UseNpgsql(connection).Options;

    public RatiogonDb CreateDbContext() => new(options);
}

/// <summary>For the migration tool only; it never connects.</summary>
internal sealed class DesignTime : IDesignTimeDbContextFactory<RatiogonDb>
{
    public RatiogonDb CreateDbContext(string[] args) => new(new DbContextOptionsBuilder<RatiogonDb>().UseNpgsql("Host=127.0.0.1").Options);
}
