-- +goose Up
-- A file that somebody sent, until it is read.
create table uploads (
    id bigint generated always as identity primary key,
    project_id bigint not null references projects on delete cascade,
    file_name text not null,
    source bytea,                                            -- as it came, zstd; nobody needs it once it is read or given up
    document_id bigint references documents on delete set null, -- what was made of it
    created_at timestamptz not null default now()
);
-- Work is on a document, or on a file that is to become one.
alter table works
    alter column document_id drop not null,
    add column upload_id bigint references uploads on delete cascade,
    add check (num_nonnulls(document_id, upload_id) = 1);
create index on works (upload_id);

-- +goose Down
delete from works where upload_id is not null;
alter table works drop column upload_id, alter column document_id set not null;
drop table uploads;
