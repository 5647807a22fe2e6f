// Package ops is what whoever runs the application sees of it: whether it is well, figures for
// Prometheus, and a number for each request.
package ops

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"net/http"
	"strconv"
	"time"

	"github.com/labstack/echo/v5"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"morvek/store"
)

// Figures are counted while the application runs.
type Figures struct {
	registry *prometheus.Registry
	requests *prometheus.CounterVec
	took     *prometheus.HistogramVec
	under    prometheus.Gauge
}

// NewFigures begins to count; works and the connections of the store are looked at when somebody asks.
func NewFigures(s *store.Store) *Figures {
	f := &Figures{
		registry: prometheus.NewRegistry(),
		requests: prometheus.NewCounterVec(prometheus.CounterOpts{Name: "morvek_requests_total", Help: "Requests that were answered."}, []string{"method", "route", "status"}),
		took: prometheus.NewHistogramVec(prometheus.HistogramOpts{Name: "morvek_request_seconds", Help: "How long answers took, but for streams.",
			Buckets: []float64{0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30}}, []string{"route"}),
		under: prometheus.NewGauge(prometheus.GaugeOpts{Name: "morvek_requests_under_way", Help: "Requests that are being answered, streams included."}),
	}
	f.registry.MustRegister(f.requests, f.took, f.under, collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}),
		collectors.NewDBStatsCollector(s.DB(), "morvek"), works{s})
	return f
}

// Handler answers a scraper under /metrics, and whoever asks whether a server is well.
func Handler(f *Figures, s *store.Store) http.Handler {
	e := echo.New()
	e.GET("/metrics", echo.WrapHandler(promhttp.HandlerFor(f.registry, promhttp.HandlerOpts{})))
	Routes(e, s)
	return e
}

// Count counts what goes through; stream tells what is answered for as long as somebody listens.
func (f *Figures) Count(stream func(*echo.Context) bool) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			f.under.Inc()
			defer f.under.Dec()
			from := time.Now()
			if err := next(c); err != nil {
				c.Echo().HTTPErrorHandler(c, err) // answered here, so that its status is known
			}
			route := c.Path()
			if route == "" {
				route = "none"
			}
			status := 0
			if res, err := echo.UnwrapResponse(c.Response()); err == nil {
				status = res.Status
			}
			f.requests.WithLabelValues(c.Request().Method, route, strconv.Itoa(status)).Inc()
			if !stream(c) {
				f.took.WithLabelValues(route).Observe(time.Since(from).Seconds())
			}
			return nil
		}
	}
}

// works tells how many long works there are, by their state.
type works struct{ store *store.Store }

var worksDesc = prometheus.NewDesc("morvek_works", "Long works that wait or are done just now.", []string{"state"}, nil)

func (works) Describe(to chan<- *prometheus.Desc) { to <- worksDesc }

func (w works) Collect(to chan<- prometheus.Metric) {
	ctx, cancel := context.WithTimeout(context.Background(), 2*time.Second)
	defer cancel()
	n, err := w.store.CountWorks(ctx)
	if err != nil {
		to <- prometheus.NewInvalidMetric(worksDesc, err)
		return
	}
	for _, state := range []string{"waiting", "running"} {
		to <- prometheus.MustNewConstMetric(worksDesc, prometheus.GaugeValue, float64(n[state]), state)
	}
}

// Routes adds whether it is well: alive, and ready to answer.
func Routes(e *echo.Echo, s *store.Store) {
	e.GET("/healthz", func(c *echo.Context) error { return c.String(http.StatusOK, "alive\n") })
	e.GET("/readyz", func(c *echo.Context) error {
		ctx, cancel := context.WithTimeout(c.Request().Context(), 2*time.Second)
		defer cancel()
		if err := s.DB().PingContext(ctx); err != nil {
			return c.String(http.StatusServiceUnavailable, "the database does not answer\n")
		}
		return c.String(http.StatusOK, "ready\n")
	})
}

// requestHeader holds the number of a request.
const requestHeader = "X-Request-Id"

// Number gives each request a number, which its answer and its lines in the log have; one that a proxy of
// ours gave stays.
func Number(proxied bool) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			id := c.Request().Header.Get(requestHeader)
			if !proxied || !plain(id) {
				b := make([]byte, 8)
				_, _ = rand.Read(b) // it does not fail
				id = hex.EncodeToString(b)
			}
			c.Response().Header().Set(requestHeader, id)
			return next(c)
		}
	}
}

// NumberOf is the number of a request.
func NumberOf(c *echo.Context) string { return c.Response().Header().Get(requestHeader) }

func plain(id string) bool {
	if len(id) < 8 || len(id) > 64 {
		return false
	}
	for _, r := range id {
		if (r < '0' || r > '9') && (r < 'a' || r > 'z') && (r < 'A' || r > 'Z') && r != '-' && r != '_' {
			return false
		}
	}
	return true
}
