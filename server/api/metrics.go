package api

import (
	"net/http"
	"strconv"
	"time"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"jetprimer/store"
)

// metrics is what the program counts of itself, for Prometheus. Nothing of it
// names a school or a person.
type metrics struct {
	registry *prometheus.Registry
	requests *prometheus.CounterVec
	seconds  *prometheus.HistogramVec
	Events   *prometheus.CounterVec
	Seals    prometheus.Counter
	streams  prometheus.Gauge
	FeedLag  prometheus.Histogram
}

func newMetrics(s *store.Store) *metrics {
	m := &metrics{
		registry: prometheus.NewRegistry(),
		requests: prometheus.NewCounterVec(prometheus.CounterOpts{
			Name: "jetprimer_requests_total", Help: "Requests by method, route and code.",
		}, []string{"method", "route", "code"}),
		seconds: prometheus.NewHistogramVec(prometheus.HistogramOpts{Name: "jetprimer_request_seconds",
			Help:    "How long requests took, by route; streams are not among them.",
			Buckets: []float64{0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10}}, []string{"route"}),
		Events: prometheus.NewCounterVec(prometheus.CounterOpts{
			Name: "jetprimer_events_total",
			Help: "Events of lessons that were sent, by what became of them: held, known or refused.",
		}, []string{"status"}),
		Seals: prometheus.NewCounter(prometheus.CounterOpts{
			Name: "jetprimer_seals_total", Help: "Seals that were set: lessons, answers and versions.",
		}),
		streams: prometheus.NewGauge(
			prometheus.GaugeOpts{Name: "jetprimer_streams", Help: "Pages that follow the feed."}),
		FeedLag: prometheus.NewHistogram(prometheus.HistogramOpts{Name: "jetprimer_feed_lag_seconds",
			Help:    "From the notice of a write until a page that follows was told.",
			Buckets: []float64{0.05, 0.1, 0.2, 0.4, 0.8, 1.6, 3.2}}),
	}
	m.registry.MustRegister(m.requests, m.seconds, m.Events, m.Seals, m.streams, m.FeedLag,
		collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}))
	if s != nil {
		m.registry.MustRegister(collectors.NewDBStatsCollector(s.Pool(), "jetprimer"))
	}
	return m
}

// streamRoute is the one route that stays open.
const streamRoute = "/api/v1/feed/stream"

// answered counts a request. A path that is no route counts as the screens'.
func (m *metrics) answered(method, route string, code int, took time.Duration) {
	if route == "" {
		route = "screens"
	}
	switch method {
	case http.MethodGet, http.MethodHead, http.MethodPost, http.MethodPut, http.MethodDelete:
	default:
		method = "other" // whoever asks does not choose how many there are
	}
	m.requests.WithLabelValues(method, route, strconv.Itoa(code)).Inc()
	if route != streamRoute {
		m.seconds.WithLabelValues(route).Observe(took.Seconds())
	}
}

// Metrics answers Prometheus. It stands at an address of its own, since nobody
// signs in to it.
func (s *API) Metrics() http.Handler {
	return promhttp.HandlerFor(s.Counters.registry, promhttp.HandlerOpts{})
}
