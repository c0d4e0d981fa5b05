using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tanksophos.Data.Migrations
{
    /// <inheritdoc />
    public partial class PersonCurrency : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Currency",
                table: "People",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "TourDone",
                table: "People",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);
            // Whoever is there already needs no tour.
            migrationBuilder.Sql("UPDATE People SET TourDone = 1;");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "Currency",
                table: "People");

            migrationBuilder.DropColumn(
                name: "TourDone",
                table: "People");
        }
    }
}
