-- +goose Up
create table projects (
    id bigint generated always as identity primary key,
    title text not null check (title <> ''),
    created_at timestamptz not null default now()
);

create table models (
    hash text primary key,                 -- sha256 of the source
    file_name text not null,
    faces integer not null,
    points integer not null,
    source bytea not null,                 -- as uploaded, zstd
    created_at timestamptz not null default now()
);

create table documents (
    id bigint generated always as identity primary key,
    project_id bigint not null references projects on delete cascade,
    model_hash text not null references models,
    title text not null check (title <> ''),
    about text not null default '',
    revision bigint not null default 1,    -- grows with every change, undo included
    head integer not null default 0,       -- edits 1..head are in force, later ones can be redone
    snapshot bytea not null,               -- state after edit snapshot_seq, zstd
    snapshot_seq integer not null default 0,
    created_at timestamptz not null default now(),
    changed_at timestamptz not null default now()
);
create index on documents (project_id);

create table edits (
    document_id bigint not null references documents on delete cascade,
    seq integer not null,
    kind text not null,
    params jsonb not null,
    label text not null,
    delta bytea not null,                  -- what changed, both ways, zstd
    at timestamptz not null default now(),
    primary key (document_id, seq)
);

create table works (
    id bigint generated always as identity primary key,
    document_id bigint not null references documents on delete cascade,
    job_id bigint,
    kind text not null,
    state text not null default 'waiting' check (state in ('waiting', 'running', 'done', 'failed', 'cancelled')),
    station text not null default '',
    progress double precision not null default 0,
    message text not null default '',
    created_at timestamptz not null default now(),
    finished_at timestamptz
);
create index on works (document_id, id);

-- +goose Down
drop table works, edits, documents, models, projects;
