package server_test

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/server"
)

// BenchmarkBatchOverHTTP sends batches of 200 events, and in the same run
// inserts the same rows with bare pgx in one transaction; it reports both and
// their ratio.
func BenchmarkBatchOverHTTP(b *testing.B) {
	hash, err := everybodys()
	require.NoError(b, err)
	d := schooltest.Demo(b, hash)
	handler, err := server.New(server.Options{Store: d.Store, Catalog: d.Catalog})
	require.NoError(b, err)
	s := httptest.NewServer(handler)
	defer s.Close()
	c := as(b, s.URL, demo.Okonjo)
	items := d.Catalog.Lists[0].Places()
	events := func() []map[string]any {
		out := []map[string]any{opening(demo.Okonjo.ID)}
		for i := 2; i <= 200; i++ {
			out = append(out,
				event(i, "item-result", map[string]any{"item": items[i%len(items)].Item.ID, "result": "done"}))
		}
		return out
	}
	conn, err := pgx.Connect(context.Background(), d.AppURL)
	require.NoError(b, err)
	defer conn.Close(context.Background())

	var overHTTP, bare time.Duration
	for b.Loop() {
		sent := events()
		begun := time.Now()
		status, body := c.call("POST", "/api/v1/lessons/"+uuid.Must(uuid.NewV7()).String()+"/events", batch(sent...))
		overHTTP += time.Since(begun)
		require.Equal(b, 200, status, body)
		begun = time.Now()
		require.NoError(b, insertBare(conn, events()))
		bare += time.Since(begun)
	}
	b.ReportMetric(float64(overHTTP.Milliseconds())/float64(b.N), "ms/batch-http")
	b.ReportMetric(float64(bare.Milliseconds())/float64(b.N), "ms/batch-pgx")
	b.ReportMetric(float64(overHTTP)/float64(bare), "ratio")
}

// insertBare writes the rows and nothing else, one statement a row in one
// pipelined transaction.
func insertBare(conn *pgx.Conn, events []map[string]any) error {
	ctx, lesson := context.Background(), uuid.NewString()
	tx, err := conn.Begin(ctx)
	if err != nil {
		return err
	}
	defer tx.Rollback(ctx)
	if _, err := tx.Exec(ctx, "select set_config('app.school', $1, true)", demo.SchoolID); err != nil {
		return err
	}
	rows := &pgx.Batch{}
	for _, e := range events {
		payload, err := json.Marshal(e["payload"])
		if err != nil {
			return err
		}
		rows.Queue(`insert into lesson_events (school_id, lesson_id, id, device, seq, counter, at_ms, wall, kind, v, payload, sent_by, received_at)
			values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, now())`,
			demo.SchoolID, lesson, e["id"], e["device"], e["seq"], e["counter"], e["atMs"], e["wall"], e["kind"],
			e["v"], string(payload), demo.Okonjo.ID)
	}
	if err := tx.SendBatch(ctx, rows).Close(); err != nil {
		return fmt.Errorf("inserting: %w", err)
	}
	return tx.Commit(ctx)
}
