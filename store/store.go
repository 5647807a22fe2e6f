// Package store keeps projects, models, documents and their edits in
// PostgreSQL, the only state of the application.
package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"database/sql/driver"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"net"
	"path/filepath"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"
	"github.com/klauspost/compress/zstd"
)

// Errors a caller decides on.
var (
	ErrNotFound = errors.New("not found")
	ErrStale    = errors.New("the document has changed meanwhile")
	ErrNothing  = errors.New("nothing to undo or redo")
	ErrBusy     = errors.New("long work on the document is under way")

	ErrLastOwner = errors.New("a project has an owner at least; make somebody else one first")
)

// Store is a connection to the database.
type Store struct {
	db  *sqlx.DB
	enc *zstd.Encoder
	dec *zstd.Decoder
}

// lockTimeout is how long a change waits for others of the same document; what takes longer is refused calmly.
const lockTimeout = "15s"

// connections to the database are open at most.
const connections = 16

// Open connects to a database.
func Open(ctx context.Context, url string) (*Store, error) {
	cfg, err := pgx.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("the address of the database: %w", err)
	}
	cfg.RuntimeParams["lock_timeout"] = lockTimeout
	db := sqlx.NewDb(stdlib.OpenDB(*cfg), "pgx")
	if err := db.PingContext(ctx); err != nil {
		return nil, errors.Join(fmt.Errorf("cannot reach the database: %w", err), db.Close())
	}
	db.SetMaxOpenConns(connections)
	db.SetMaxIdleConns(connections) // a new one costs more than most of what is asked over it
	db.SetConnMaxIdleTime(5 * time.Minute)
	enc, err := zstd.NewWriter(nil, zstd.WithEncoderLevel(zstd.SpeedFastest))
	if err != nil {
		return nil, err
	}
	dec, err := zstd.NewReader(nil)
	if err != nil {
		return nil, err
	}
	return &Store{db: db, enc: enc, dec: dec}, nil
}

// Close ends all connections.
func (s *Store) Close() error {
	s.dec.Close()
	return s.db.Close()
}

func (s *Store) pack(b []byte) []byte            { return s.enc.EncodeAll(b, nil) }
func (s *Store) unpack(b []byte) ([]byte, error) { return s.dec.DecodeAll(b, nil) }

// Project is a set of documents.
type Project struct {
	ID        int64     `db:"id"`
	Title     string    `db:"title"`
	CreatedAt time.Time `db:"created_at"`
	Stand     Stand     `db:"stand"`
}

const selectProject = `select id, title, created_at, ` + stand + ` as stand from projects `

// Projects lists all projects that are in use, the newest first.
func (s *Store) Projects(ctx context.Context) ([]Project, error) {
	var out []Project
	err := s.db.SelectContext(ctx, &out, selectProject+`where archived_at is null and deleted_at is null order by id desc`)
	return out, err
}

// Project returns one project.
func (s *Store) Project(ctx context.Context, id int64) (Project, error) {
	var p Project
	err := s.db.GetContext(ctx, &p, selectProject+`where id = $1`, id)
	return p, found(err)
}

// AllProjects lists all projects, those put away and deleted too, the newest first.
func (s *Store) AllProjects(ctx context.Context) ([]Project, error) {
	var out []Project
	err := s.db.SelectContext(ctx, &out, selectProject+`order by id desc`)
	return out, err
}

// CreateProject adds a project, with documents if some are given: all or nothing.
func (s *Store) CreateProject(ctx context.Context, title string, with ...NewDocument) (id int64, err error) {
	err = s.inTx(ctx, func(tx *sqlx.Tx) error {
		if err := tx.GetContext(ctx, &id, `insert into projects (title) values ($1) returning id`, title); err != nil {
			return err
		}
		for _, n := range with {
			n.Project = id
			if _, err := s.insertDocument(ctx, tx, n); err != nil {
				return fmt.Errorf("%s: %w", n.Title, err)
			}
		}
		return nil
	})
	return id, err
}

// Away tells whether an error means that the database does not answer at the moment:
// what was asked may be tried again.
func Away(err error) bool {
	var connect *pgconn.ConnectError
	if errors.As(err, &connect) { // whatever a server said that was going down
		return true
	}
	var pe *pgconn.PgError
	if errors.As(err, &pe) {
		// Shutting down, starting up; no connection left; somebody held what was needed for too long.
		return strings.HasPrefix(pe.Code, "57P") || pe.Code == "53300" || pe.Code == "55P03"
	}
	var network *net.OpError
	return errors.As(err, &network) || errors.Is(err, pgconn.ErrConnClosed) || pgconn.SafeToRetry(err) || errors.Is(err, driver.ErrBadConn) ||
		errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, sql.ErrConnDone)
}

// Full tells whether an error means that the database has no room for more: it takes nothing until somebody
// makes some.
func Full(err error) bool {
	var pe *pgconn.PgError
	return errors.As(err, &pe) && (pe.Code == "53100" || pe.Code == "53200") // disk, memory
}

// one changes one row; ErrNotFound if there is none.
func (s *Store) one(ctx context.Context, query string, args ...any) error {
	res, err := s.db.ExecContext(ctx, query, args...)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n > 0 {
		return err
	}
	return ErrNotFound
}

// taken tells whether an error means that there is one like it already.
func taken(err error) bool {
	var pe *pgconn.PgError
	return errors.As(err, &pe) && pe.Code == "23505" // unique_violation
}

func found(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNotFound
	}
	return err
}

// NewDocument is what a document starts from.
type NewDocument struct {
	Project       int64
	Title, About  string
	FileName      string
	Source        []byte // the file as it came
	Faces, Points int
	State         []byte
	Edits         []Edit // made on it already
}

// CreateDocument stores a model, once for each content, and a document on it.
func (s *Store) CreateDocument(ctx context.Context, n NewDocument) (id int64, err error) {
	err = s.inTx(ctx, func(tx *sqlx.Tx) error {
		id, err = s.insertDocument(ctx, tx, n)
		return err
	})
	return id, err
}

func (s *Store) insertDocument(ctx context.Context, tx *sqlx.Tx, n NewDocument) (id int64, err error) {
	sum := sha256.Sum256(n.Source)
	hash := hex.EncodeToString(sum[:])
	if _, err := tx.ExecContext(ctx, `insert into models (hash, file_name, faces, points, source) values ($1, $2, $3, $4, $5)
		on conflict (hash) do update set hash = excluded.hash`, hash, n.FileName, n.Faces, n.Points, s.pack(n.Source)); err != nil {
		return 0, err
	}
	if err := tx.GetContext(ctx, &id, `insert into documents (project_id, model_hash, file_name, title, about, snapshot, head) values ($1, $2, $3, $4, $5, $6, $7) returning id`,
		n.Project, hash, n.FileName, n.Title, n.About, s.pack(n.State), len(n.Edits)); err != nil {
		return 0, err
	}
	return id, s.insertEdits(ctx, tx, id, 0, n.Edits)
}

func (s *Store) inTx(ctx context.Context, do func(*sqlx.Tx) error) error {
	tx, err := s.db.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback() //nolint:errcheck // after Commit it does nothing
	if err := do(tx); err != nil {
		return err
	}
	return tx.Commit()
}

// Document is a document without its state.
type Document struct {
	ID        int64     `db:"id"`
	ProjectID int64     `db:"project_id"`
	ModelHash string    `db:"model_hash"`
	FileName  string    `db:"file_name"`
	Title     string    `db:"title"`
	About     string    `db:"about"`
	Faces     int       `db:"faces"`
	Points    int       `db:"points"`
	Revision  int64     `db:"revision"`
	Head      int       `db:"head"`
	ChangedAt time.Time `db:"changed_at"`
	LastEdit  string    `db:"last_edit"`    // label of the edit undo would take back
	LastWho   string    `db:"last_who"`     // who made that
	NextEdit  string    `db:"next_edit"`    // label of the edit redo would bring back
	Snapshot  int       `db:"snapshot_seq"` // the edit after which the state was stored whole
}

// Stem is the name of its file without the ending.
func (d Document) Stem() string { return strings.TrimSuffix(d.FileName, filepath.Ext(d.FileName)) }

const documentColumns = `select d.id, d.project_id, d.model_hash, d.file_name, d.title, d.about, m.faces, m.points, d.revision, d.head, d.changed_at, d.snapshot_seq,
	coalesce((select label from edits e where e.document_id = d.id and e.seq = d.head), '') as last_edit,
	coalesce((select who from edits e where e.document_id = d.id and e.seq = d.head), '') as last_who,
	coalesce((select label from edits e where e.document_id = d.id and e.seq = d.head + 1), '') as next_edit`

// selectDocument reads documents that were not deleted, nor their project.
const selectDocument = documentColumns + `
	from documents d join models m on m.hash = d.model_hash join projects p on p.id = d.project_id and p.deleted_at is null and d.deleted_at is null `

// Documents lists the documents of a project in order of their making, without those put away.
func (s *Store) Documents(ctx context.Context, project int64) ([]Document, error) {
	var out []Document
	err := s.db.SelectContext(ctx, &out, selectDocument+`where d.project_id = $1 and d.archived_at is null order by d.id`, project)
	return out, err
}

// Document returns one document.
func (s *Store) Document(ctx context.Context, id int64) (Document, error) {
	var d Document
	err := s.db.GetContext(ctx, &d, selectDocument+`where d.id = $1`, id)
	return d, found(err)
}

// Faces is how many faces the model of a document has.
func (s *Store) Faces(ctx context.Context, id int64) (n int, err error) {
	err = s.db.GetContext(ctx, &n, `select m.faces from documents d join models m on m.hash = d.model_hash where d.id = $1`, id)
	return n, found(err)
}

// Source returns the file of a model as it came, and what was done to it on arrival, "" for nothing.
func (s *Store) Source(ctx context.Context, hash string) (source []byte, repairs string, err error) {
	var row struct {
		Source  []byte `db:"source"`
		Repairs string `db:"repairs"`
	}
	if err := s.db.GetContext(ctx, &row, `select coalesce(m.source, o.source) as source, m.repairs from models m left join models o on o.hash = m.repaired_from where m.hash = $1`, hash); err != nil {
		return nil, "", found(err)
	}
	source, err = s.unpack(row.Source)
	return source, row.Repairs, err
}

// Beginning is how a document is to begin.
type Beginning struct {
	Repairs       string // what was done to its model, "" for nothing
	Faces, Points int    // of it then
	State         []byte
}

// Begin lets a document on which nothing was done begin in another way. base is the revision that
// was seen; ErrStale if it has passed or if there are edits.
func (s *Store) Begin(ctx context.Context, id, base int64, a Beginning) (Document, error) {
	return s.changing(ctx, id, base, func(tx *sqlx.Tx, at position) (now change, err error) {
		var edits int
		if err := tx.GetContext(ctx, &edits, `select count(*) from edits where document_id = $1`, id); err != nil {
			return now, err
		}
		if edits > 0 {
			return now, ErrStale
		}
		var was struct {
			Hash string `db:"hash"`
			File string `db:"file_name"`
		}
		if err := tx.GetContext(ctx, &was, `select coalesce(m.repaired_from, m.hash) as hash, m.file_name from documents d join models m on m.hash = d.model_hash where d.id = $1`, id); err != nil {
			return now, err
		}
		hash := was.Hash
		if a.Repairs != "" {
			sum := sha256.Sum256([]byte(was.Hash + " " + a.Repairs))
			hash = hex.EncodeToString(sum[:])
			if _, err := tx.ExecContext(ctx, `insert into models (hash, file_name, faces, points, repairs, repaired_from) values ($1, $2, $3, $4, $5, $6)
				on conflict (hash) do nothing`, hash, was.File, a.Faces, a.Points, a.Repairs, was.Hash); err != nil {
				return now, err
			}
		}
		_, err = tx.ExecContext(ctx, `update documents set model_hash = $2, snapshot = $3, snapshot_seq = 0 where id = $1`, id, hash, s.pack(a.State))
		return change{says: "begins otherwise"}, err
	})
}
