package main

// This file counts what a server does, for whoever watches it: requests, slow statements and
// what waits, in the format that Prometheus reads, on a port of its own.

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"strconv"
	"time"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"lagoon/internal/act"
	"lagoon/internal/store"
)

type metrics struct {
	registry *prometheus.Registry
	requests *prometheus.CounterVec
	seconds  *prometheus.HistogramVec
	slow     prometheus.Counter
}

func newMetrics() *metrics {
	m := &metrics{
		registry: prometheus.NewRegistry(),
		requests: prometheus.NewCounterVec(
			prometheus.CounterOpts{Name: "lagoon_requests_total", Help: "Requests answered, by method and status."},
			[]string{"method", "status"},
		),
		seconds: prometheus.NewHistogramVec(
			prometheus.HistogramOpts{
				Name:    "lagoon_request_seconds",
				Help:    "How long answers took.",
				Buckets: prometheus.DefBuckets,
			},
			[]string{"method"},
		),
		slow: prometheus.NewCounter(
			prometheus.CounterOpts{
				Name: "lagoon_slow_statements_total",
				Help: "Statements that took longer than 200 ms.",
			},
		),
	}
	about := prometheus.NewGauge(
		prometheus.GaugeOpts{
			Name:        "lagoon_info",
			Help:        "Which Lagoon this is.",
			ConstLabels: prometheus.Labels{"version": version, "schema": store.SchemaID(), "commit": release},
		},
	)
	about.Set(1)
	m.registry.MustRegister(
		m.requests,
		m.seconds,
		m.slow,
		about,
		collectors.NewGoCollector(),
		collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}),
	)
	return m
}

// watch counts what waits in the data.
func (m *metrics) watch(app *act.App) {
	waiting := func(name, help string, pick func(invoices, mails int64) int64) prometheus.Collector {
		return prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: name, Help: help}, func() float64 {
			ctx, cancel := context.WithTimeout(context.Background(), time.Second)
			defer cancel()
			invoices, mails, err := app.Waiting(ctx)
			if err != nil {
				return -1
			}
			return float64(pick(invoices, mails))
		})
	}
	m.registry.MustRegister(
		waiting(
			"lagoon_invoices_to_match",
			"Invoices that are to be matched again now.",
			func(invoices, _ int64) int64 { return invoices },
		),
		waiting(
			"lagoon_mails_waiting",
			"Mails that are to be handed over.",
			func(_, mails int64) int64 { return mails },
		),
	)
}

// answered counts one request.
func (m *metrics) answered(method string, status int, took time.Duration) {
	switch method {
	case http.MethodGet, http.MethodPost, http.MethodHead:
	default:
		method = "other" // whatever is sent makes no new series
	}
	m.requests.WithLabelValues(method, strconv.Itoa(status)).Inc()
	m.seconds.WithLabelValues(method).Observe(took.Seconds())
}

// listen answers /metrics on a port of its own until the context ends, and says where.
func (m *metrics) listen(ctx context.Context, address string, out io.Writer) error {
	if address == "" {
		return nil
	}
	listener, err := net.Listen("tcp", address)
	if err != nil {
		return fmt.Errorf("cannot listen on %s: %w", address, err)
	}
	_, _ = fmt.Fprintf(out, "What it does is counted on http://%s/metrics\n", listener.Addr())
	doors := http.NewServeMux()
	doors.Handle("GET /metrics", promhttp.HandlerFor(m.registry, promhttp.HandlerOpts{}))
	server := newServer(doors)
	context.AfterFunc(ctx, func() { _ = server.Close() })
	go func() {
		if err := server.Serve(listener); err != nil && !errors.Is(err, http.ErrServerClosed) {
			_ = listener.Close()
		}
	}()
	return nil
}
