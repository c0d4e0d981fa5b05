using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tanksophos.Data.Migrations
{
    /// <inheritdoc />
    public partial class EstimatePoints : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "EstimatePoints",
                columns: table => new
                {
                    RigId = table.Column<int>(type: "INTEGER", nullable: false),
                    RigRevision = table.Column<int>(type: "INTEGER", nullable: false),
                    Version = table.Column<long>(type: "INTEGER", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Bytes = table.Column<byte[]>(type: "BLOB", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_EstimatePoints", x => x.RigId);
                    table.ForeignKey(
                        name: "FK_EstimatePoints_Rigs_RigId",
                        column: x => x.RigId,
                        principalTable: "Rigs",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "EstimatePoints");
        }
    }
}
