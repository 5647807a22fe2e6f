-- +goose Up
create table exposures (
    model_hash text not null references models on delete cascade,
    viewing text not null,                 -- from where the model is looked at
    data bytea not null,                   -- one float32 a face, little-endian, zstd
    primary key (model_hash, viewing)
);

-- +goose Down
drop table exposures;
