using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Ratiogon.Store.Migrations
{
    /// <summary>Accounts know since when they are there, whether they are a visitor's, and a code for the owner, and how much room they
    /// have.</summary>
    [DbContext(typeof(RatiogonDb))]
    [Migration("20261129100000_Accounts")]
    public partial class Accounts : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<DateTimeOffset>(name: "Created", table: "AspNetUsers", type: "timestamp with time zone", nullable: false, defaultValueSql: "now()");
            migrationBuilder.AddColumn<bool>(name: "Visitor", table: "AspNetUsers", type: "boolean", nullable: false, defaultValue: false);
            migrationBuilder.AddColumn<int>(name: "Quota", table: "AspNetUsers", type: "integer", nullable: true);
            migrationBuilder.AddColumn<byte[]>(name: "Recovery", table: "AspNetUsers", type: "bytea", nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(name: "Created", table: "AspNetUsers");
            migrationBuilder.DropColumn(name: "Visitor", table: "AspNetUsers");
            migrationBuilder.DropColumn(name: "Quota", table: "AspNetUsers");
            migrationBuilder.DropColumn(name: "Recovery", table: "AspNetUsers");
        }
    }
}
