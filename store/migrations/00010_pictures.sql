-- +goose Up
-- What was painted on a map, a picture for each tile; the newest only.
create table pictures (
    id bigint generated always as identity primary key,
    document_id bigint not null references documents on delete cascade,
    map integer not null,
    tile integer not null,
    name text not null,
    sha256 text not null,
    media text not null,
    width integer not null,
    height integer not null,
    data bytea not null,
    created_at timestamptz not null default now(),
    unique (document_id, map, tile)
);
alter table pictures alter column data set storage external;

-- +goose Down
drop table pictures;
