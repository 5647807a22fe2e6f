-- +goose Up
-- A key that whoever makes an edit gives it: sent again after a lost answer, it is made once.
alter table edits add column key text;
create unique index edits_key on edits (document_id, key) where key is not null;

-- +goose Down
drop index edits_key;
alter table edits drop column key;
