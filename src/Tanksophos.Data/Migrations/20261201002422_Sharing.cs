using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tanksophos.Data.Migrations
{
    /// <inheritdoc />
    public partial class Sharing : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.RenameColumn(
                name: "Role",
                table: "ApiTokens",
                newName: "Scopes");

            // What read reads; what read and logged may send measurements too, as it could.
            migrationBuilder.Sql("UPDATE ApiTokens SET Scopes = CASE WHEN Scopes >= 1 THEN 7 ELSE 1 END;");

            migrationBuilder.AddColumn<string>(
                name: "Device",
                table: "SignIns",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<long>(
                name: "SeenAt",
                table: "SignIns",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "ShareLinks",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    RigId = table.Column<int>(type: "INTEGER", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Hash = table.Column<string>(type: "TEXT", nullable: false),
                    CreatedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    ExpiresAt = table.Column<long>(type: "INTEGER", nullable: false),
                    OpenedAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ShareLinks", x => x.Id);
                    table.ForeignKey(
                        name: "FK_ShareLinks_Rigs_RigId",
                        column: x => x.RigId,
                        principalTable: "Rigs",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_ShareLinks_Hash",
                table: "ShareLinks",
                column: "Hash",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_ShareLinks_RigId",
                table: "ShareLinks",
                column: "RigId");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "ShareLinks");

            migrationBuilder.DropColumn(
                name: "Device",
                table: "SignIns");

            migrationBuilder.DropColumn(
                name: "SeenAt",
                table: "SignIns");

            migrationBuilder.RenameColumn(
                name: "Scopes",
                table: "ApiTokens",
                newName: "Role");

            migrationBuilder.Sql("UPDATE ApiTokens SET Role = CASE WHEN Role >= 2 THEN 1 ELSE 0 END;");
        }
    }
}
