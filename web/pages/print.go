package pages

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"sync"
	"time"

	"github.com/labstack/echo/v5"

	"morvek/core/delivery"
	"morvek/web/desk"
)

// chromium is the browser that prints, "" where there is none.
var chromium = sync.OnceValue(func() string {
	path, err := exec.LookPath("chromium")
	if err != nil {
		return ""
	}
	return path
})

// printing bounds how long printing may take.
const printing = time.Minute

// reportPDF is the report as it prints.
func (p *Pages) reportPDF(c *echo.Context) error {
	if chromium() == "" {
		return echo.NewHTTPError(http.StatusNotImplemented, "this machine has no Chromium to print with; open the report and print it from your browser")
	}
	o, err := p.Open(c)
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(c.Request().Context(), printing)
	defer cancel()
	v, err := p.reportOf(ctx, o)
	if err != nil {
		return err
	}
	page, err := p.Text("report.html", v)
	if err != nil {
		return err
	}
	pdf, err := printed(ctx, page)
	if err != nil {
		p.Log.Error("printing a report", "err", err)
		return echo.NewHTTPError(http.StatusInternalServerError, "the report could not be printed here; open it and print it from your browser")
	}
	name := o.Row.Stem() + delivery.Suffix(o.Doc.State) + "-report.pdf"
	desk.Attach(c, name)
	return c.Blob(http.StatusOK, "application/pdf", pdf)
}

// printed prints a page that needs nothing beside itself.
func printed(ctx context.Context, page string) ([]byte, error) {
	dir, err := os.MkdirTemp("", "morvek-report-*")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir) //nolint:errcheck // of the system's temporary files
	from, to := filepath.Join(dir, "report.html"), filepath.Join(dir, "report.pdf")
	if err := os.WriteFile(from, []byte(page), 0o600); err != nil {
		return nil, err
	}
	args := []string{"--headless", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync",
		"--disable-javascript", "--no-pdf-header-footer", "--user-data-dir=" + filepath.Join(dir, "profile"), "--print-to-pdf=" + to, "file://" + from}
	if os.Geteuid() == 0 {
		args = slices.Insert(args, 0, "--no-sandbox") // which it refuses to make as root
	}
	cmd := exec.CommandContext(ctx, chromium(), args...)
	cmd.WaitDelay = time.Second
	if out, err := cmd.CombinedOutput(); err != nil {
		return nil, errors.Join(err, fmt.Errorf("%.500s", out))
	}
	return os.ReadFile(to)
}
