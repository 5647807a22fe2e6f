-- +goose Up
-- Those who sign in. A steward runs the installation: invites people to it and helps who forgot a password.
create table people (
    id bigint generated always as identity primary key,
    name text not null check (name <> ''),
    password text not null,                -- argon2id, as a PHC string
    steward boolean not null default false,
    created_at timestamptz not null default now(),
    left_at timestamptz                    -- may not sign in any more
);
create unique index people_name on people (lower(name));
-- What a person may do in a project.
create table members (
    project_id bigint not null references projects on delete cascade,
    person_id bigint not null references people on delete cascade,
    role text not null check (role in ('viewer', 'editor', 'owner')),
    primary key (project_id, person_id)
);
create index members_person on members (person_id);
-- A link that lets somebody in once: into a project, into the installation, or with a new password.
create table invitations (
    id bigint generated always as identity primary key,
    hash bytea not null unique,            -- SHA-256 of what the link holds
    project_id bigint references projects on delete cascade,
    role text check (role in ('viewer', 'editor', 'owner')),
    steward boolean not null default false,
    person_id bigint references people on delete cascade, -- whose password is made anew
    made_by text not null default '',
    expires_at timestamptz not null,
    check ((project_id is null) = (role is null))
);
-- What programs sign in with.
create table tokens (
    id bigint generated always as identity primary key,
    person_id bigint not null references people on delete cascade,
    name text not null check (name <> ''),
    hash bytea not null unique,            -- SHA-256
    created_at timestamptz not null default now(),
    used_at timestamptz
);
-- Who is signed in (github.com/alexedwards/scs).
create table sessions (
    token text primary key,
    data bytea not null,
    expiry timestamptz not null
);
create index sessions_expiry on sessions (expiry);

-- +goose Down
drop table sessions, tokens, invitations, members, people;
