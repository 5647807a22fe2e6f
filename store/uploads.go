package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"
)

// Upload is a file that somebody sent, and the work that reads it.
type Upload struct {
	ID         int64     `db:"id"`
	ProjectID  int64     `db:"project_id"`
	FileName   string    `db:"file_name"`
	DocumentID *int64    `db:"document_id"` // what was made of it
	CreatedAt  time.Time `db:"created_at"`
	Work       int64     `db:"work"`
	State      string    `db:"state"`
	Message    string    `db:"message"`
}

// NewUpload is a file as it came.
type NewUpload struct {
	Project  int64
	FileName string
	Source   []byte
}

// keepUploads is how long it is remembered what became of a file.
const keepUploads = 7 * 24 * time.Hour

// CreateUpload stores a file and queues the work that reads it.
func (s *Store) CreateUpload(ctx context.Context, n NewUpload, kind string, args json.RawMessage, put Enqueue) (id int64, w Work, err error) {
	packed := s.pack(n.Source)
	err = s.inTx(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `delete from uploads u where created_at < now() - make_interval(secs => $1)
			and not exists (select from works where upload_id = u.id and `+active+`)`, keepUploads.Seconds()); err != nil {
			return err
		}
		if err := tx.GetContext(ctx, &id, `insert into uploads (project_id, file_name, source) values ($1, $2, $3) returning id`, n.Project, n.FileName, packed); err != nil {
			return err
		}
		if err := tx.GetContext(ctx, &w, `insert into works (upload_id, kind, args) values ($1, $2, $3) returning *`, id, kind, string(args)); err != nil {
			return err
		}
		return enqueue(ctx, tx, &w, put)
	})
	return id, w, err
}

const selectUpload = `select u.id, u.project_id, u.file_name, u.document_id, u.created_at, w.id as work, w.state, w.message
	from uploads u join works w on w.upload_id = u.id `

// Upload returns one file that was sent.
func (s *Store) Upload(ctx context.Context, id int64) (Upload, error) {
	var u Upload
	err := s.db.GetContext(ctx, &u, selectUpload+`where u.id = $1`, id)
	return u, found(err)
}

// OpenUploads lists the files of a project that are being read or could not be read.
func (s *Store) OpenUploads(ctx context.Context, project int64) ([]Upload, error) {
	var out []Upload
	err := s.db.SelectContext(ctx, &out, selectUpload+`where u.project_id = $1 and w.state in ('waiting', 'running', 'failed') order by u.id`, project)
	return out, err
}

// UploadSource returns a file as it came; ErrNotFound if it was read or given up.
func (s *Store) UploadSource(ctx context.Context, id int64) ([]byte, error) {
	var packed []byte
	if err := s.db.GetContext(ctx, &packed, `select source from uploads where id = $1 and source is not null`, id); err != nil {
		return nil, found(err)
	}
	return s.unpack(packed)
}

// Land makes a document of a file that was read, once: done again it returns the same one.
// ErrNotFound if nobody waits for it any more.
func (s *Store) Land(ctx context.Context, upload int64, n NewDocument) (id int64, err error) {
	err = s.inTx(ctx, func(tx *sqlx.Tx) error {
		var waits bool // locked, so that nobody gives it up meanwhile
		if err := tx.GetContext(ctx, &waits, `select `+active+` from works where upload_id = $1 for update`, upload); err != nil {
			return err
		}
		var made *int64
		if err := tx.GetContext(ctx, &made, `select document_id from uploads where id = $1 for update`, upload); err != nil {
			return err
		}
		if made != nil {
			id = *made
			return nil
		}
		if !waits {
			return ErrNotFound
		}
		if id, err = s.insertDocument(ctx, tx, n); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `update uploads set document_id = $2, source = null where id = $1`, upload, id)
		return err
	})
	return id, found(err)
}

// ForgetUpload drops a file that was read or given up; one that is being read stays.
func (s *Store) ForgetUpload(ctx context.Context, id int64) error {
	_, err := s.db.ExecContext(ctx, `delete from uploads u where id = $1 and not exists (select from works where upload_id = u.id and `+active+`)`, id)
	return err
}
