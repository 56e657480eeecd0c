using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Bearing.Data.State.Migrations
{
    /// <inheritdoc />
    public partial class Trails : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "Trails",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Book = table.Column<string>(type: "TEXT", nullable: false),
                    After = table.Column<string>(type: "TEXT", nullable: true),
                    Step = table.Column<string>(type: "TEXT", nullable: false),
                    UsedTicks = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Trails", x => x.Id);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Trails_Book_UsedTicks",
                table: "Trails",
                columns: new[] { "Book", "UsedTicks" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Trails");
        }
    }
}
