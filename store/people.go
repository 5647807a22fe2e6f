package store

import (
	"context"
	"database/sql"
	"time"

	"github.com/jmoiron/sqlx"
)

// Person is somebody who signs in.
type Person struct {
	ID        int64      `db:"id"`
	Name      string     `db:"name"`
	Password  string     `db:"password"` // its hash
	Steward   bool       `db:"steward"`  // runs the installation
	CreatedAt time.Time  `db:"created_at"`
	LeftAt    *time.Time `db:"left_at"` // may not sign in any more
}

// Role is what a person may do in a project.
type Role string

// The roles, each may do what those before it may.
const (
	Nobody Role = ""
	Viewer Role = "viewer"
	Editor Role = "editor"
	Owner  Role = "owner"
)

// Member is a person with a role in a project.
type Member struct {
	Person
	Role Role `db:"role"`
}

// DB is the connection, for libraries that keep tables of their own in it.
func (s *Store) DB() *sql.DB { return s.db.DB }

const personColumns = `p.id, p.name, p.password, p.steward, p.created_at, p.left_at`

const selectPerson = `select ` + personColumns + ` from people p `

// People lists all who ever signed in, by name.
func (s *Store) People(ctx context.Context) (out []Person, err error) {
	err = s.db.SelectContext(ctx, &out, selectPerson+`order by lower(name)`)
	return out, err
}

// Person returns one person; ErrNotFound if there is none.
func (s *Store) Person(ctx context.Context, id int64) (p Person, err error) {
	err = s.db.GetContext(ctx, &p, selectPerson+`where id = $1`, id)
	return p, found(err)
}

// PersonCalled returns the person of a name, however it is capitalised; ErrNotFound if there is none.
func (s *Store) PersonCalled(ctx context.Context, name string) (p Person, err error) {
	err = s.db.GetContext(ctx, &p, selectPerson+`where lower(name) = lower($1)`, name)
	return p, found(err)
}

const setPassword = `update people set password = $2, left_at = null where id = $1`

// SetPassword gives a person another password, ends what he is signed in with, and lets him in again.
func (s *Store) SetPassword(ctx context.Context, id int64, hash string) error {
	return s.one(ctx, setPassword, id, hash)
}

// Leave ends that a person may sign in, or takes that back.
func (s *Store) Leave(ctx context.Context, id int64, left bool) error {
	return s.one(ctx, `update people set left_at = case when $2 then now() end where id = $1`, id, left)
}

// Members lists who has a role in a project, by name.
func (s *Store) Members(ctx context.Context, project int64) (out []Member, err error) {
	err = s.db.SelectContext(ctx, &out, `select `+personColumns+`, m.role from members m join people p on p.id = m.person_id where m.project_id = $1 order by lower(p.name)`, project)
	return out, err
}

// unowned are the projects that have no owner: stewards are, so that nothing gets lost.
const unowned = `not exists (select from members o where o.project_id = p.id and o.role = 'owner') and exists (select from people where id = $1 and steward)`

// RoleOf is the role of a person in a project.
func (s *Store) RoleOf(ctx context.Context, person, project int64) (r Role, err error) {
	err = s.db.GetContext(ctx, &r, `select case when `+unowned+` then 'owner' else coalesce((select role from members where person_id = $1 and project_id = p.id), '') end from projects p where p.id = $2`, person, project)
	return r, found(err)
}

// Roles are those of a person in all projects.
func (s *Store) Roles(ctx context.Context, person int64) (map[int64]Role, error) {
	var rows []struct {
		Project int64 `db:"project_id"`
		Role    Role  `db:"role"`
	}
	err := s.db.SelectContext(ctx, &rows, `select p.id as project_id, case when `+unowned+` then 'owner' else m.role end as role from projects p left join members m on m.project_id = p.id and m.person_id = $1 where m.role is not null or `+unowned, person)
	out := make(map[int64]Role, len(rows))
	for _, r := range rows {
		out[r.Project] = r.Role
	}
	return out, err
}

// SetRole gives a person a role in a project, Nobody for none any more. ErrLastOwner if nobody would own it then.
func (s *Store) SetRole(ctx context.Context, project, person int64, r Role) error {
	return s.inTx(ctx, func(tx *sqlx.Tx) error {
		const ask = `select exists (select from members where project_id = $1 and role = 'owner')`
		var was, is bool
		if _, err := tx.ExecContext(ctx, `select from projects where id = $1 for update`, project); err != nil {
			return err
		}
		if err := tx.GetContext(ctx, &was, ask, project); err != nil {
			return err
		}
		q, args := `insert into members (project_id, person_id, role) values ($1, $2, $3) on conflict (project_id, person_id) do update set role = excluded.role`, []any{project, person, r}
		if r == Nobody {
			q, args = `delete from members where project_id = $1 and person_id = $2`, args[:2]
		}
		if _, err := tx.ExecContext(ctx, q, args...); err != nil {
			return err
		}
		if err := tx.GetContext(ctx, &is, ask, project); err != nil || is || !was {
			return err
		}
		return ErrLastOwner
	})
}

// Invitation is a link that lets somebody in once.
type Invitation struct {
	ID        int64     `db:"id"`
	Hash      []byte    `db:"hash"`
	Project   *int64    `db:"project_id"` // into this one; nil: into the installation
	Role      *Role     `db:"role"`       // there
	Steward   bool      `db:"steward"`
	Person    *int64    `db:"person_id"` // whose password is made anew
	MadeBy    string    `db:"made_by"`
	ExpiresAt time.Time `db:"expires_at"`
}

// Invite keeps an invitation, and forgets those that are over.
func (s *Store) Invite(ctx context.Context, i Invitation) error {
	if _, err := s.db.ExecContext(ctx, `delete from invitations where expires_at < now()`); err != nil {
		return err
	}
	_, err := s.db.ExecContext(ctx, `insert into invitations (hash, project_id, role, steward, person_id, made_by, expires_at) values ($1, $2, $3, $4, $5, $6, $7)`,
		i.Hash, i.Project, i.Role, i.Steward, i.Person, i.MadeBy, i.ExpiresAt)
	return err
}

const invitationColumns = `id, hash, project_id, role, steward, person_id, made_by, expires_at`

const selectInvitation = `select ` + invitationColumns + ` from invitations where `

// Invitation returns an invitation that still holds; ErrNotFound if there is none.
func (s *Store) Invitation(ctx context.Context, hash []byte) (i Invitation, err error) {
	err = s.db.GetContext(ctx, &i, selectInvitation+`hash = $1 and expires_at > now()`, hash)
	return i, found(err)
}

// Invitations lists those into a project that still hold, the newest first.
func (s *Store) Invitations(ctx context.Context, project int64) (out []Invitation, err error) {
	err = s.db.SelectContext(ctx, &out, selectInvitation+`project_id = $1 and expires_at > now() order by id desc`, project)
	return out, err
}

// Uninvite takes an invitation into a project back; ErrNotFound if there is none.
func (s *Store) Uninvite(ctx context.Context, project, id int64) error {
	return s.one(ctx, `delete from invitations where project_id = $1 and id = $2`, project, id)
}

// Accept uses an invitation up: it makes a person (hash is that of the password) or gives the one it is for
// another password, or, for somebody who is signed in, only the role. It returns who that is. ErrNotFound if the invitation does not hold any
// more, ErrTaken if somebody has the name.
func (s *Store) Accept(ctx context.Context, invitation []byte, signedIn int64, name, password string) (person int64, err error) {
	err = s.inTx(ctx, func(tx *sqlx.Tx) error {
		var i Invitation
		if err := tx.GetContext(ctx, &i, `delete from invitations where hash = $1 and expires_at > now() returning `+invitationColumns, invitation); err != nil {
			return found(err)
		}
		var err error
		switch person = signedIn; {
		case i.Person != nil:
			person = *i.Person
			_, err = tx.ExecContext(ctx, setPassword, person, password)
		case signedIn == 0:
			err = tx.GetContext(ctx, &person, `insert into people (name, password, steward) values ($1, $2, $3) returning id`, name, password, i.Steward)
		case i.Steward:
			_, err = tx.ExecContext(ctx, `update people set steward = true where id = $1`, person)
		}
		if taken(err) {
			return ErrTaken
		}
		if err != nil || i.Project == nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `insert into members (project_id, person_id, role) values ($1, $2, $3)
			on conflict (project_id, person_id) do update set role = case when members.role = 'owner' or excluded.role = 'viewer' then members.role else excluded.role end`, *i.Project, person, *i.Role)
		return err
	})
	return person, err
}

// Token is what a program signs in with.
type Token struct {
	ID        int64      `db:"id"`
	Person    int64      `db:"person_id"`
	Name      string     `db:"name"`
	CreatedAt time.Time  `db:"created_at"`
	UsedAt    *time.Time `db:"used_at"`
}

// KeepToken keeps a token by its hash.
func (s *Store) KeepToken(ctx context.Context, person int64, name string, hash []byte) error {
	_, err := s.db.ExecContext(ctx, `insert into tokens (person_id, name, hash) values ($1, $2, $3)`, person, name, hash)
	return err
}

// Tokens lists those of a person, the newest first.
func (s *Store) Tokens(ctx context.Context, person int64) (out []Token, err error) {
	err = s.db.SelectContext(ctx, &out, `select id, person_id, name, created_at, used_at from tokens where person_id = $1 order by id desc`, person)
	return out, err
}

// DropToken ends a token of a person; ErrNotFound if there is none.
func (s *Store) DropToken(ctx context.Context, person, id int64) error {
	return s.one(ctx, `delete from tokens where person_id = $1 and id = $2`, person, id)
}

// PersonWith returns the person that a token stands for, and notes that it is used; ErrNotFound if there is none.
func (s *Store) PersonWith(ctx context.Context, hash []byte) (p Person, err error) {
	err = s.db.GetContext(ctx, &p, `with t as (update tokens set used_at = now() where hash = $1 and (used_at is null or used_at < now() - interval '1 minute') returning person_id)
		`+selectPerson+`where id = coalesce((select person_id from t), (select person_id from tokens where hash = $1))`, hash)
	return p, found(err)
}

// Thing is something that belongs to a project.
type Thing string

// The things.
const (
	AProject  Thing = "project"
	ADocument Thing = "document"
	AnUpload  Thing = "upload"
	AWork     Thing = "work"
	ADelivery Thing = "delivery"
	APicture  Thing = "picture"
	ACloth    Thing = "cloth"
)

// projectOf asks for the project of a thing, deleted or not.
var projectOf = map[Thing]string{
	AProject:  `select id from projects where id = $1`,
	ADocument: `select project_id from documents where id = $1`,
	AnUpload:  `select project_id from uploads where id = $1`,
	AWork:     `select coalesce(d.project_id, u.project_id) from works w left join documents d on d.id = w.document_id left join uploads u on u.id = w.upload_id where w.id = $1`,
	ADelivery: `select d.project_id from deliveries x join documents d on d.id = x.document_id where x.id = $1`,
	APicture:  `select d.project_id from pictures x join documents d on d.id = x.document_id where x.id = $1`,
	ACloth:    `select project_id from cloths where id = $1`,
}

// ProjectOf is the project that a thing belongs to; ErrNotFound if there is no such thing.
func (s *Store) ProjectOf(ctx context.Context, t Thing, id int64) (project int64, err error) {
	err = s.db.GetContext(ctx, &project, projectOf[t], id)
	return project, found(err)
}
