package gate_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/labstack/echo/v5"

	"morvek/web/gate"
)

// However many ask, never more is under way than there is room for; all of them are answered, and what is
// larger than the room has it to itself.
func TestNeverMoreThanThereIsRoomFor(t *testing.T) {
	room := gate.NewRoom(1000, 1000, time.Minute)
	var taken, most, done atomic.Int64
	var g sync.WaitGroup
	for i := range 200 {
		g.Go(func() {
			bytes := int64(100 + 10*i)
			release, err := room.Take(context.Background(), bytes)
			if err != nil {
				t.Error(err)
				return
			}
			defer release()
			now := taken.Add(min(bytes, 1000))
			for was := most.Load(); now > was && !most.CompareAndSwap(was, now); was = most.Load() {
			}
			time.Sleep(time.Millisecond)
			taken.Add(-min(bytes, 1000))
			done.Add(1)
		})
	}
	g.Wait()
	if most.Load() > 1000 || done.Load() != 200 {
		t.Errorf("%d were under way at a time, %d of 200 done", most.Load(), done.Load())
	}
}

// Who finds no room waits for a while, then is refused calmly; who goes away waits no longer.
func TestWhoFindsNoRoom(t *testing.T) {
	room := gate.NewRoom(10, 1, 20*time.Millisecond)
	release, err := room.Take(context.Background(), 10)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := room.Take(context.Background(), 1); err == nil || !strings.Contains(err.Error(), "try again") {
		t.Errorf("after a while: %v", err)
	}
	gone, leave := context.WithCancel(context.Background())
	leave()
	if _, err := room.Take(gone, 1); err != gone.Err() { //nolint:errorlint // it is that very one
		t.Errorf("who went away: %v", err)
	}
	release()
	if release, err = room.Take(context.Background(), 10); err != nil {
		t.Fatal(err)
	}
	release()
}

// What a request takes is told by its route, the model and what comes along; refusals say when to come again.
func TestRequestsTakeTheirRoom(t *testing.T) {
	room := gate.NewRoom(100<<20, 0, time.Millisecond)
	e := echo.New()
	e.Use(gate.Spare(room, func(_ context.Context, id int64) (int, error) { return int(id), nil }))
	var held int
	answer := func(c *echo.Context) error { // what is left while it is answered
		held = 0
		for step := int64(64 << 20); step >= 1<<10; step /= 2 {
			if release, err := room.Take(context.Background(), step); err == nil {
				defer release()
				held += int(step)
			}
		}
		return c.NoContent(200)
	}
	for _, path := range []string{"/documents/:id/mesh.bin", "/documents/:id/events", "/documents/:id/deliver/:file", "/projects"} {
		e.GET(path, answer)
	}
	e.POST("/documents/:id/edits", answer)
	ask := func(method, path string, body int) (code, took int) {
		w := httptest.NewRecorder()
		e.ServeHTTP(w, httptest.NewRequest(method, path, strings.NewReader(strings.Repeat("x", body))))
		return w.Code, 100<<20 - held
	}
	for _, c := range []struct {
		method, path string
		body         int
		least, most  int // MiB that it holds
	}{
		{"GET", "/projects", 0, 0, 0}, {"GET", "/documents/100000/mesh.bin", 0, 10, 60}, {"GET", "/documents/100000/events", 0, 0, 0}, {"GET", "/documents/100/mesh.bin", 0, 0, 0},
		{"GET", "/documents/100/deliver/a.png?size=2048", 0, 30, 60}, {"POST", "/documents/100/edits", 10 << 20, 30, 60},
	} {
		code, took := ask(c.method, c.path, c.body)
		if code != 200 || took>>20 < c.least || took>>20 > c.most+1 {
			t.Errorf("%s %s: %d, holds %d MiB", c.method, c.path, code, took>>20)
		}
	}
	release, err := room.Take(context.Background(), 100<<20)
	if err != nil {
		t.Fatal(err)
	}
	defer release()
	w := httptest.NewRecorder()
	e.ServeHTTP(w, httptest.NewRequest(http.MethodGet, "/documents/100000/mesh.bin", nil))
	if w.Code != http.StatusServiceUnavailable || w.Header().Get("Retry-After") == "" {
		t.Errorf("without room: %d", w.Code)
	}
}
