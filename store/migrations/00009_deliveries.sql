-- +goose Up
-- What was handed over.
create table deliveries (
    id bigint generated always as identity primary key,
    document_id bigint not null references documents on delete cascade,
    work_id bigint unique references works on delete set null, -- that made it; made twice it is one
    revision bigint not null,              -- of the document
    file_name text not null,
    asked jsonb not null,
    files jsonb not null,                  -- names, sizes and hashes
    bytes integer not null,
    data bytea not null,                   -- a ZIP, packed already
    created_at timestamptz not null default now()
);
create index on deliveries (document_id, id);
alter table deliveries alter column data set storage external;
-- A delivery changes nothing: it goes on beside other work.
drop index works_one_change;
create unique index works_one_change on works (document_id) where state in ('waiting', 'running') and kind not in ('look', 'deliver');
create unique index works_one_delivery on works (document_id) where state in ('waiting', 'running') and kind = 'deliver';

-- +goose Down
drop index works_one_change, works_one_delivery;
delete from works where kind = 'deliver';
create unique index works_one_change on works (document_id) where state in ('waiting', 'running') and kind <> 'look';
drop table deliveries;
