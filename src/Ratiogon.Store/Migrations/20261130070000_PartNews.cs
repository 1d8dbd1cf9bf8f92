using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Ratiogon.Store.Migrations
{
    /// <summary>Whoever listens hears of every part that was changed, deleted, brought back or thrown away, by whichever server, with
    /// the transaction that did it.</summary>
    [DbContext(typeof(RatiogonDb))]
    [Migration("20261130070000_PartNews")]
    public partial class PartNews : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder) =>
            migrationBuilder.Sql(
                """
                create function tell_of_part() returns trigger language plpgsql as $$
                begin
                  if tg_op = 'DELETE' then
                    perform pg_notify('ratiogon_parts', old."Id" || ' ' || old."OwnerId" || ' 0');
                  else
                    perform pg_notify('ratiogon_parts',
                      new."Id" || ' ' || new."OwnerId" || ' ' || case when new."Deleted" is null then new."Revision" else 0 end);
                  end if;
                  return null;
                end $$;
                create trigger tell_of_part after update of "Revision", "Deleted" or delete on parts
                  for each row execute function tell_of_part();
                """
            );

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder) =>
            migrationBuilder.Sql("drop trigger tell_of_part on parts; drop function tell_of_part();");
    }
}
