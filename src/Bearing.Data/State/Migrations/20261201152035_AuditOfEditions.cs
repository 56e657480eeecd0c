using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Bearing.Data.State.Migrations
{
    /// <inheritdoc />
    public partial class AuditOfEditions : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Audit_Book",
                table: "Audit");

            migrationBuilder.AddColumn<int>(
                name: "Attempts",
                table: "Jobs",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "Edition",
                table: "Audit",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.CreateIndex(
                name: "IX_Audit_Book_Edition",
                table: "Audit",
                columns: new[] { "Book", "Edition" },
                unique: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Audit_Book_Edition",
                table: "Audit");

            migrationBuilder.DropColumn(
                name: "Attempts",
                table: "Jobs");

            migrationBuilder.DropColumn(
                name: "Edition",
                table: "Audit");

            migrationBuilder.CreateIndex(
                name: "IX_Audit_Book",
                table: "Audit",
                column: "Book");
        }
    }
}
