// Package exchange is the folder through which sheets go to whatever paints them, and pictures come
// back: any program that reads and writes files can be on its other side. A sheet has a folder of its
// own with a note of what it is; a picture that is written there as painted.png, or painted.1002.png for
// another tile, is taken as soon as nobody writes to it any more.
package exchange

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"morvek/core/document"
	"morvek/core/picture"
	"morvek/workspace"
)

// Note is the file that says which sheet a folder is of.
const Note = "sheet.json"

// Sheet is what the note says.
type Sheet struct {
	Document int64  `json:"document"`
	Map      int32  `json:"map"`
	Title    string `json:"title"`
	Tiles    int    `json:"tiles"`
	Wide     bool   `json:"wide"`
	Revision int64  `json:"revision"`
}

// Painted names the picture of a tile, from 0, of so many.
func (s Sheet) Painted(tile int) string {
	if s.Tiles > 1 {
		return fmt.Sprintf("painted.%d.png", 1001+tile)
	}
	return "painted.png"
}

// Folder is the place of all sheets.
type Folder struct {
	dir  string
	docs *workspace.Documents
	log  *slog.Logger

	seen   map[string]stamp // of whoever looks
	looked bool

	mu      sync.Mutex
	trouble map[workspace.Ref]string
}

// stamp tells whether a file is another one than before.
type stamp struct {
	at    time.Time
	bytes int64
	taken bool
	early bool // it was there before we looked first
}

// Open makes the folder if there is none.
func Open(dir string, docs *workspace.Documents, log *slog.Logger) (*Folder, error) {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return nil, fmt.Errorf("the exchange folder: %w", err)
	}
	return &Folder{dir: dir, docs: docs, log: log, seen: map[string]stamp{}, trouble: map[workspace.Ref]string{}}, nil
}

// Dir is where it is.
func (f *Folder) Dir() string { return f.dir }

// Trouble says what is wrong with the picture that was last written for a map, "" for nothing.
func (f *Folder) Trouble(of workspace.Ref) string {
	f.mu.Lock()
	defer f.mu.Unlock()
	return f.trouble[of]
}

// name is the folder of a sheet.
func name(s Sheet) string { return fmt.Sprintf("%d-%d", s.Document, s.Map) }

// Put unpacks a delivery into the folder of a sheet, in place of what was sent before; what was
// painted stays. It returns the name of the folder.
func (f *Folder) Put(s Sheet, delivery []byte) (string, error) {
	z, err := zip.NewReader(bytes.NewReader(delivery), int64(len(delivery)))
	if err != nil {
		return "", err
	}
	to := filepath.Join(f.dir, name(s))
	fresh, err := os.MkdirTemp(f.dir, ".sending-*")
	if err != nil {
		return "", err
	}
	defer os.RemoveAll(fresh) //nolint:errcheck // what is left of it is hidden
	for _, file := range z.File {
		if !filepath.IsLocal(file.Name) {
			return "", fmt.Errorf("%q leads out of the folder", file.Name)
		}
		if err := unpack(file, filepath.Join(fresh, filepath.FromSlash(file.Name))); err != nil {
			return "", err
		}
	}
	note, err := json.MarshalIndent(s, "", " ")
	if err != nil {
		return "", err
	}
	if err := os.WriteFile(filepath.Join(fresh, Note), note, 0o644); err != nil {
		return "", err
	}
	pictures, err := filepath.Glob(filepath.Join(to, "painted*"))
	if err != nil {
		return "", err
	}
	for _, p := range pictures {
		if err := os.Rename(p, filepath.Join(fresh, filepath.Base(p))); err != nil {
			return "", err
		}
	}
	if err := os.RemoveAll(to); err != nil {
		return "", err
	}
	if err := os.Chmod(fresh, 0o755); err != nil {
		return "", err
	}
	return filepath.Base(to), os.Rename(fresh, to)
}

func unpack(from *zip.File, to string) error {
	if err := os.MkdirAll(filepath.Dir(to), 0o755); err != nil {
		return err
	}
	r, err := from.Open()
	if err != nil {
		return err
	}
	defer r.Close()
	w, err := os.OpenFile(to, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o644)
	if err != nil {
		return err
	}
	_, err = io.Copy(w, r)
	return errors.Join(err, w.Close())
}

// Sheets lists the sheets that were sent.
func (f *Folder) Sheets() (map[string]Sheet, error) {
	all, err := os.ReadDir(f.dir)
	if err != nil {
		return nil, err
	}
	out := map[string]Sheet{}
	for _, e := range all {
		if !e.IsDir() || strings.HasPrefix(e.Name(), ".") {
			continue
		}
		b, err := os.ReadFile(filepath.Join(f.dir, e.Name(), Note))
		var s Sheet
		if err == nil && json.Unmarshal(b, &s) == nil && name(s) == e.Name() {
			out[e.Name()] = s
		}
	}
	return out, nil
}

// Sent returns the folder of the sheet of a map, "" if it was not sent.
func (f *Folder) Sent(of workspace.Ref) string {
	dir := name(Sheet{Document: of.Document, Map: int32(of.Map)})
	if _, err := os.Stat(filepath.Join(f.dir, dir, Note)); err != nil {
		return ""
	}
	return dir
}

// look is how often the folder is looked at.
const look = 700 * time.Millisecond

// Watch takes pictures as they are written, until the context ends.
func (f *Folder) Watch(ctx context.Context) {
	for {
		if err := f.Look(ctx); err != nil && ctx.Err() == nil {
			f.log.Warn("looking for painted pictures", "err", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(look):
		}
	}
}

// Look looks once: a picture is taken at the second look at which it is the same.
func (f *Folder) Look(ctx context.Context) error {
	sheets, err := f.Sheets()
	if err != nil {
		return err
	}
	for dir, s := range sheets {
		for t := range max(1, s.Tiles) {
			path := filepath.Join(f.dir, dir, s.Painted(t))
			info, err := os.Stat(path)
			if errors.Is(err, fs.ErrNotExist) {
				continue
			}
			if err != nil {
				return err
			}
			was, now := f.seen[path], stamp{at: info.ModTime(), bytes: info.Size(), early: !f.looked}
			switch {
			case was.at != now.at || was.bytes != now.bytes:
				f.seen[path] = now
			case !was.taken:
				now.taken, now.early = true, was.early
				f.seen[path] = now
				f.take(ctx, s, t, path, now)
			}
		}
	}
	f.looked = true
	return nil
}

// take keeps a picture; what is wrong with it is said where people look for it, and beside it.
func (f *Folder) take(ctx context.Context, s Sheet, tile int, path string, is stamp) {
	of := workspace.Ref{Document: s.Document, Map: document.MapID(s.Map)}
	err := func() error {
		if is.bytes > picture.MostBytes {
			return picture.TooLarge()
		}
		data, err := os.ReadFile(path)
		if err != nil {
			return err
		}
		o, err := f.docs.Through(ctx, of)
		if err != nil {
			return err
		}
		if is.early { // it may have been taken by an earlier process, and another one brought since
			if had, err := f.docs.PaintedAt(ctx, of, tile); err != nil || !had.Before(is.at) {
				return err
			}
		}
		_, err = f.docs.Paint(ctx, o, tile, filepath.Base(path), data)
		return err
	}()
	says, problem := "", path+".problem.txt"
	if err != nil {
		says = filepath.Base(path) + ": " + workspace.Words(err)
		f.log.Info("a painted picture was not taken", "path", path, "err", err)
		_ = os.WriteFile(problem, []byte(says+"\n"), 0o644) // beside it, for whoever painted it
	} else {
		_ = os.Remove(problem)
	}
	f.mu.Lock()
	f.trouble[of] = says
	f.mu.Unlock()
}
