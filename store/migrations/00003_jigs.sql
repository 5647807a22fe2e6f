-- +goose Up
create table jigs (
    id bigint generated always as identity primary key,
    project_id bigint not null references projects on delete cascade,
    name text not null,
    projection jsonb not null,             -- kind, real size, turn and up; no place
    changed_at timestamptz not null default now(),
    unique (project_id, name)
);

-- +goose Down
drop table jigs;
