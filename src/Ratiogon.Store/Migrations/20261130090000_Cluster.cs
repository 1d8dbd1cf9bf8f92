using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Ratiogon.Store.Migrations
{
    /// <summary>Where servers on this database find each other: the tables and queries that the ADO.NET clustering of Microsoft Orleans
    /// asks for by these names. A change of membership is kept only on the version that it was made for.</summary>
    [DbContext(typeof(RatiogonDb))]
    [Migration("20261130090000_Cluster")]
    public partial class Cluster : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder) =>
            migrationBuilder.Sql(
                """
                create table orleansquery (querykey varchar(64) primary key, querytext varchar(8000) not null);

                create table orleansmembershipversiontable (
                  deploymentid varchar(150) primary key,
                  timestamp timestamptz(3) not null default now(),
                  version integer not null default 0
                );

                create table orleansmembershiptable (
                  deploymentid varchar(150) not null references orleansmembershipversiontable,
                  address varchar(45) not null,
                  port integer not null,
                  generation integer not null,
                  siloname varchar(150) not null,
                  hostname varchar(150) not null,
                  status integer not null,
                  proxyport integer,
                  suspecttimes varchar(8000),
                  starttime timestamptz(3) not null,
                  iamalivetime timestamptz(3) not null,
                  primary key (deploymentid, address, port, generation)
                );

                create function cluster_version_up(of varchar, on_version integer) returns boolean language plpgsql as $$
                begin
                  update orleansmembershipversiontable set timestamp = now(), version = version + 1
                    where deploymentid = of and version = on_version;
                  return found;
                end $$;

                create function cluster_join(of varchar, at_address varchar, at_port integer, at_generation integer, called varchar,
                  host varchar, has_status integer, has_proxyport integer, started timestamptz, alive timestamptz, on_version integer)
                  returns integer language plpgsql as $$
                begin
                  if exists (select 1 from orleansmembershiptable
                      where deploymentid = of and address = at_address and port = at_port and generation = at_generation)
                    or not cluster_version_up(of, on_version) then
                    return 0;
                  end if;
                  insert into orleansmembershiptable values
                    (of, at_address, at_port, at_generation, called, host, has_status, has_proxyport, null, started, alive);
                  return 1;
                end $$;

                create function cluster_change(of varchar, at_address varchar, at_port integer, at_generation integer, has_status integer,
                  suspected varchar, alive timestamptz, on_version integer) returns integer language plpgsql as $$
                begin
                  if not cluster_version_up(of, on_version) then
                    return 0;
                  end if;
                  update orleansmembershiptable set status = has_status, suspecttimes = suspected, iamalivetime = alive
                    where deploymentid = of and address = at_address and port = at_port and generation = at_generation;
                  return 1;
                end $$;

                insert into orleansquery values
                ('UpdateIAmAlivetimeKey',
                  'update orleansmembershiptable set iamalivetime = @IAmAliveTime
                    where deploymentid = @DeploymentId and address = @Address and port = @Port and generation = @Generation'),
                ('InsertMembershipVersionKey',
                  'with made as (insert into orleansmembershipversiontable (deploymentid) values (@DeploymentId) on conflict do nothing
                    returning 1) select count(*)::integer from made'),
                ('InsertMembershipKey',
                  'select cluster_join(@DeploymentId, @Address, @Port, @Generation, @SiloName, @HostName, @Status, @ProxyPort, @StartTime,
                    @IAmAliveTime, @Version)'),
                ('UpdateMembershipKey',
                  'select cluster_change(@DeploymentId, @Address, @Port, @Generation, @Status, @SuspectTimes, @IAmAliveTime, @Version)'),
                ('MembershipReadRowKey',
                  'select v.deploymentid, m.address, m.port, m.generation, m.siloname, m.hostname, m.status, m.proxyport, m.suspecttimes,
                    m.starttime, m.iamalivetime, v.version
                    from orleansmembershipversiontable v left join orleansmembershiptable m on m.deploymentid = v.deploymentid
                      and m.address = @Address and m.port = @Port and m.generation = @Generation
                    where v.deploymentid = @DeploymentId'),
                ('MembershipReadAllKey',
                  'select v.deploymentid, m.address, m.port, m.generation, m.siloname, m.hostname, m.status, m.proxyport, m.suspecttimes,
                    m.starttime, m.iamalivetime, v.version
                    from orleansmembershipversiontable v left join orleansmembershiptable m on m.deploymentid = v.deploymentid
                    where v.deploymentid = @DeploymentId'),
                ('DeleteMembershipTableEntriesKey',
                  'delete from orleansmembershiptable where deploymentid = @DeploymentId;
                   delete from orleansmembershipversiontable where deploymentid = @DeploymentId'),
                ('CleanupDefunctSiloEntriesKey',
                  'delete from orleansmembershiptable where deploymentid = @DeploymentId and iamalivetime < @IAmAliveTime and status <> 3'),
                ('GatewaysQueryKey',
                  'select address, proxyport, generation from orleansmembershiptable
                    where deploymentid = @DeploymentId and status = @Status and proxyport > 0');
                """
            );

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder) =>
            migrationBuilder.Sql(
                """
                drop table orleansmembershiptable, orleansmembershipversiontable, orleansquery;
                drop function cluster_join, cluster_change, cluster_version_up;
                """
            );
    }
}
