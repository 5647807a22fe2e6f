-- +goose Up
-- What is put away is out of sight; what is deleted can be brought back for a while.
alter table projects add column archived_at timestamptz, add column deleted_at timestamptz;
alter table documents add column archived_at timestamptz, add column deleted_at timestamptz;
-- What a document looks like on the page of the projects, as of a revision.
create table covers (
    document_id bigint primary key references documents on delete cascade,
    revision bigint not null,
    model bytea not null,                  -- PNG
    sheet bytea not null,                  -- PNG
    parts integer not null,
    shells integer not null,
    findings integer not null,
    open integer not null,                 -- cells of the route card with something to do
    coverage double precision not null     -- of the sheet, 0 to 1
);
alter table covers alter column model set storage external, alter column sheet set storage external;

-- +goose Down
drop table covers;
delete from documents where deleted_at is not null;
alter table documents drop column archived_at, drop column deleted_at;
delete from projects where deleted_at is not null;
alter table projects drop column archived_at, drop column deleted_at;
