-- +goose Up
-- Nobody works on these any more: the processes ended before works had a heartbeat.
update works set state = 'failed', message = 'interrupted; start it again', finished_at = now() where state in ('waiting', 'running');
alter table works
    add column args jsonb not null default '{}',     -- what is to be done
    add column attempt integer not null default 0,   -- how often somebody began
    add column beat_at timestamptz;                  -- when whoever does it was last alive
-- One change of a document at a time, one look at its model.
create unique index works_one_change on works (document_id) where state in ('waiting', 'running') and kind <> 'look';
create unique index works_one_look on works (document_id) where state in ('waiting', 'running') and kind = 'look';

-- +goose Down
drop index works_one_change, works_one_look;
alter table works drop column args, drop column attempt, drop column beat_at;
