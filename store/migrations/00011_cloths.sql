-- +goose Up
-- Pictures of their own that people lay on models of a project to look at them.
create table cloths (
    id bigint generated always as identity primary key,
    project_id bigint not null references projects on delete cascade,
    name text not null,
    media text not null,
    width integer not null,
    height integer not null,
    data bytea not null,
    unique (project_id, name)
);
alter table cloths alter column data set storage external;

-- +goose Down
drop table cloths;
