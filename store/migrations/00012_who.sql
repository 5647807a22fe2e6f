-- +goose Up
-- Who made an edit, as they call themselves; '' where nobody said.
alter table edits add column who text not null default '';
-- States of a document that somebody gave a name: they stay when the edits that led to them are gone.
create table moments (
    id bigint generated always as identity primary key,
    document_id bigint not null references documents on delete cascade,
    name text not null check (name <> ''),
    seq integer,                           -- of the edit after which it was, while that is in the worklog
    map integer not null,                  -- through which it was seen
    who text not null default '',          -- gave it the name
    state bytea not null,                  -- zstd
    at timestamptz not null default now(),
    unique (document_id, name)
);

-- +goose Down
drop table moments;
alter table edits drop column who;
