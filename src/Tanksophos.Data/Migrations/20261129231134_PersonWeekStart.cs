using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tanksophos.Data.Migrations
{
    /// <inheritdoc />
    public partial class PersonWeekStart : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "WeekStart",
                table: "People",
                type: "INTEGER",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "WeekStart",
                table: "People");
        }
    }
}
