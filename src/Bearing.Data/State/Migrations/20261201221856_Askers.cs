using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Bearing.Data.State.Migrations
{
    /// <inheritdoc />
    public partial class Askers : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "By",
                table: "Jobs",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "By",
                table: "Audit",
                type: "TEXT",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "By",
                table: "Jobs");

            migrationBuilder.DropColumn(
                name: "By",
                table: "Audit");
        }
    }
}
