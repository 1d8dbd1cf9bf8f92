using System;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Ratiogon.Store.Migrations
{
    /// <summary>Deleted parts can be had back for a while; parts have tags, and know how many of their steps fail; states have
    /// names.</summary>
    [DbContext(typeof(RatiogonDb))]
    [Migration("20261129130000_PartList")]
    public partial class PartList : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<DateTimeOffset>(name: "Deleted", table: "parts", type: "timestamp with time zone", nullable: true);
            migrationBuilder.AddColumn<string[]>(name: "Tags", table: "parts", type: "text[]", nullable: false, defaultValueSql: "'{}'");
            migrationBuilder.AddColumn<int>(name: "Failing", table: "parts", type: "integer", nullable: false, defaultValue: 0);
            migrationBuilder.AddColumn<string>(name: "Name", table: "edits", type: "character varying(120)", maxLength: 120, nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(name: "Deleted", table: "parts");
            migrationBuilder.DropColumn(name: "Tags", table: "parts");
            migrationBuilder.DropColumn(name: "Failing", table: "parts");
            migrationBuilder.DropColumn(name: "Name", table: "edits");
        }
    }
}
