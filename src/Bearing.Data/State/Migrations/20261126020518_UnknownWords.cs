using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Bearing.Data.State.Migrations
{
    /// <inheritdoc />
    public partial class UnknownWords : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "UnknownWords",
                columns: table => new
                {
                    Book = table.Column<string>(type: "TEXT", nullable: false),
                    Word = table.Column<string>(type: "TEXT", nullable: false),
                    Times = table.Column<int>(type: "INTEGER", nullable: false),
                    Example = table.Column<string>(type: "TEXT", nullable: false),
                    LastTicks = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_UnknownWords", x => new { x.Book, x.Word });
                });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "UnknownWords");
        }
    }
}
