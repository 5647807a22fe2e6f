-- +goose Up
-- The same file under another name is the same model, and goes out under the name it came in with.
alter table documents add column file_name text;
update documents d set file_name = m.file_name from models m where m.hash = d.model_hash;
alter table documents alter column file_name set not null;

-- +goose Down
alter table documents drop column file_name;
