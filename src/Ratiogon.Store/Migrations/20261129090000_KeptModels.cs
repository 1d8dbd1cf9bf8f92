using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Ratiogon.Store.Migrations
{
    /// <summary>What parts were built into is kept, and pictures are drawn by the server, light and dark.</summary>
    [DbContext(typeof(RatiogonDb))]
    [Migration("20261129090000_KeptModels")]
    public partial class KeptModels : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<byte[]>(name: "PictureDark", table: "parts", type: "bytea", nullable: true);
            migrationBuilder.AddColumn<long>(name: "PictureOf", table: "parts", type: "bigint", nullable: false, defaultValue: 0L);
            migrationBuilder.CreateTable(
                name: "models",
                columns: table => new
                {
                    PartId = table.Column<Guid>(type: "uuid", nullable: false),
                    Key = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    Model = table.Column<byte[]>(type: "bytea", nullable: false),
                    Used = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_models", x => new { x.PartId, x.Key });
                    table.ForeignKey(name: "FK_models_parts_PartId", column: x => x.PartId, principalTable: "parts", principalColumn: "Id", onDelete: ReferentialAction.Cascade);
                });
            migrationBuilder.CreateIndex(name: "IX_models_Used", table: "models", column: "Used");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "models");
            migrationBuilder.DropColumn(name: "PictureOf", table: "parts");
            migrationBuilder.DropColumn(name: "PictureDark", table: "parts");
        }
    }
}
