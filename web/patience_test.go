package web_test

import (
	"bufio"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/labstack/echo/v5"

	"morvek/web"
)

// A body that stops half way is given up, one that goes on coming is not, and what is done with one that is
// here may take its time.
func TestBodiesThatDoNotCome(t *testing.T) {
	e := echo.New()
	e.Use(web.Patient(time.Second, 200))
	took := 500 * time.Millisecond
	e.POST("/", func(c *echo.Context) error {
		b, err := io.ReadAll(c.Request().Body)
		if err != nil {
			return err
		}
		select {
		case <-time.After(took):
		case <-c.Request().Context().Done():
			return c.Request().Context().Err()
		}
		return c.String(http.StatusOK, fmt.Sprint(len(b)))
	})
	site := httptest.NewServer(e)
	defer site.Close()
	begin := func(length int, said string) net.Conn {
		c, err := net.Dial("tcp", strings.TrimPrefix(site.URL, "http://"))
		if err != nil {
			t.Fatal(err)
		}
		fmt.Fprintf(c, "POST / HTTP/1.1\r\nHost: localhost\r\nContent-Length: %d\r\n\r\n%s", length, said)
		return c
	}
	var half []net.Conn
	for range 50 {
		half = append(half, begin(1000, "half"))
	}
	slow := begin(4000, "")
	defer slow.Close()
	for range 20 { // ten times as fast as it must, and for longer than it may take to begin
		if _, err := slow.Write([]byte(strings.Repeat("x", 200))); err != nil {
			t.Fatal(err)
		}
		time.Sleep(100 * time.Millisecond)
	}
	res, err := http.ReadResponse(bufio.NewReader(slow), nil)
	if err != nil {
		t.Fatal(err)
	}
	if b, _ := io.ReadAll(res.Body); res.StatusCode != http.StatusOK || string(b) != "4000" {
		t.Errorf("a body that came slowly: %d %s", res.StatusCode, b)
	}
	for _, c := range half {
		_ = c.SetReadDeadline(time.Now().Add(time.Minute))
		res, err := http.ReadResponse(bufio.NewReader(c), nil)
		if err != nil {
			t.Fatal(err)
		}
		if res.StatusCode != http.StatusRequestTimeout {
			t.Errorf("half a body: %d", res.StatusCode)
		}
		if _, err := io.ReadAll(c); err != nil {
			t.Errorf("its connection stays open: %v", err)
		}
		c.Close()
	}
}
