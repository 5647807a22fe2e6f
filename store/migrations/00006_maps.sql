-- +goose Up
-- A document has several maps; an edit was made of one of them. The first is 1.
alter table edits add column map integer not null default 1;

-- +goose Down
alter table edits drop column map;
