-- +goose Up
-- A model that was repaired on arrival is one of its own: its source is that of the model it was.
alter table models add column repairs text not null default '';      -- what was done, as JSON
alter table models add column repaired_from text references models;  -- whose source it has
alter table models alter column source drop not null;

-- +goose Down
delete from models where repaired_from is not null;
alter table models alter column source set not null;
alter table models drop column repaired_from;
alter table models drop column repairs;
