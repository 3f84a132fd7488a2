package server_test

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http/httptest"
	"os"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/server"
)

// crowded serves a school of 500 students whose history is as long as times says.
func crowded(b *testing.B, times int) (*schooltest.Database, string) {
	hash, err := everybodys()
	require.NoError(b, err)
	d := schooltest.Demo(b, hash)
	lessons, results := schooltest.Crowd(b, d, 500, times)
	b.Logf("%d lessons, %d item results", lessons, results)
	handler, err := server.New(server.Options{
		Store: d.Store, Catalog: d.Catalog, Now: func() time.Time { return schooltest.Day },
	})
	require.NoError(b, err)
	s := httptest.NewServer(handler)
	b.Cleanup(func() { s.Close(); handler.Close() })
	return d, s.URL
}

// BenchmarkSchoolSheet asks for the sheet of a school of 500 students over HTTP,
// and in the same run for the same rows by hand-written SQL. It reports their
// ratio, and that of the sheet with three and ten times the history.
func BenchmarkSchoolSheet(b *testing.B) {
	var first time.Duration
	for _, times := range []int{1, 3, 10} {
		b.Run(fmt.Sprintf("history=%d", times), func(b *testing.B) {
			d, url := crowded(b, times)
			c := as(b, url, demo.Ferreira)
			conn, err := pgx.Connect(context.Background(), d.OwnerURL)
			require.NoError(b, err)
			defer conn.Close(context.Background())
			var sheet, bare []time.Duration
			for b.Loop() {
				begun := time.Now()
				status, body := c.call("GET", "/api/v1/school", "")
				sheet = append(sheet, time.Since(begun))
				require.Equal(b, 200, status, body)
				begun = time.Now()
				require.NoError(b, byHand(conn, sheetByHand))
				bare = append(bare, time.Since(begun))
			}
			slices.Sort(sheet)
			slices.Sort(bare)
			http, hand := sheet[len(sheet)/2], bare[len(bare)/2]
			if times == 1 {
				first = http
			}
			b.ReportMetric(float64(http.Microseconds())/1000, "ms-http")
			b.ReportMetric(float64(hand.Microseconds())/1000, "ms-sql")
			b.ReportMetric(float64(http)/float64(hand), "ratio-sql")
			b.ReportMetric(float64(http)/float64(first), "ratio-history")
			b.ReportMetric(0, "ns/op")
		})
	}
}

// BenchmarkSchoolPages asks for the pages of a school of 500 students over HTTP: how
// long 95 of 100 take, the ratio of the middle one to the statements that a hand would
// write for the same rows, where there are such, and to the page with the shortest
// history. What is kept between two looks is kept here as well; first is what the first
// look took, which makes it.
func BenchmarkSchoolPages(b *testing.B) {
	day := schooltest.Day.Format(time.DateOnly)
	pages := []struct {
		name, path string
		by         demo.Person
		hand       []string
	}{
		{"student", "/students/" + demo.Brandt.ID, demo.Ferreira, []string{
			"select element, lesson_id::text, item, level, implied, mark, instructor_id::text, on_day::text from " +
				"observations where school_id = $1 and student_id = '" + demo.Brandt.ID +
				"' order by opened_at, lesson_id, ordinal",
			"select r.item, l.opened_at::text, r.level from item_results r join lessons l on l.id = r.lesson_id and " +
				"l.school_id = r.school_id where r.school_id = $1 and l.student_id = '" + demo.Brandt.ID +
				"' and l.status = 'signed' order by l.opened_at",
			"select student_id::text, lessons::text, days::text, met::text, checks::text from courses where " +
				"school_id = $1",
			"select id::text, registration, opened_at::text, status from lessons where school_id = $1 and " +
				"student_id = '" + demo.Brandt.ID + "' order by opened_at desc limit 50"}},
		{"schedule", "/schedule?days=7&from=" + day, demo.Ferreira, []string{
			"select b.id::text, s.name, i.name, b.registration, b.starts_at::text, b.ends_at::text, " +
				"b.exercises::text, b.plan from bookings b join accounts s on s.id = b.student_id join accounts i " +
				"on i.id = b.instructor_id where b.school_id = $1 and b.cancelled_at is null and b.starts_at between '" +
				day + "'::date - 1 and '" + day + "'::date + 8",
			"select student_id::text, count(*), max(opened_at)::text from lessons where school_id = $1 group by 1"}},
		{"aircraft", "/aircraft/QZ-AAB/trends", demo.Achterberg, []string{
			"select lesson_id::text, check_name, item, engine, reading::text, verdict::text, at::text from readings " +
				"where school_id = $1 and registration = 'QZ-AAB' and attempt = 1 order by at"}},
		{"fleet", "/trends", demo.Achterberg, nil},
		{"taught", "/taught", demo.Ferreira, nil},
		{"compare", "/compare", demo.Ferreira, nil},
		{"outlook", "/outlook", demo.Ferreira, nil},
		{"proposals", "/proposals?days=7&from=" + day, demo.Ferreira, nil},
	}
	first := map[string]time.Duration{}
	for _, times := range []int{1, 3, 10} {
		b.Run(fmt.Sprintf("history=%d", times), func(b *testing.B) {
			d, url := crowded(b, times)
			conn, err := pgx.Connect(context.Background(), d.OwnerURL)
			require.NoError(b, err)
			defer conn.Close(context.Background())
			for _, page := range pages {
				b.Run(page.name, func(b *testing.B) {
					c := as(b, url, page.by)
					var took, bare []time.Duration
					ask := func() time.Duration {
						begun := time.Now()
						status, body := c.call("GET", "/api/v1"+page.path, "")
						require.Equal(b, 200, status, body)
						return time.Since(begun)
					}
					making := ask()
					for b.Loop() {
						for range 20 {
							took = append(took, ask())
							begun := time.Now()
							require.NoError(b, byHand(conn, page.hand))
							bare = append(bare, time.Since(begun))
						}
					}
					slices.Sort(took)
					slices.Sort(bare)
					middle := took[len(took)/2]
					if _, known := first[page.name]; !known {
						first[page.name] = middle
					}
					b.ReportMetric(float64(making.Microseconds())/1000, "ms-first")
					b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "ms-p95")
					if page.hand != nil {
						b.ReportMetric(float64(middle)/float64(bare[len(bare)/2]), "ratio-sql")
					}
					b.ReportMetric(float64(middle)/float64(first[page.name]), "ratio-history")
					b.ReportMetric(0, "ns/op")
				})
			}
		})
	}
}

// byHand reads statements of the demo school and writes their rows as JSON.
func byHand(conn *pgx.Conn, statements []string) error {
	out := [][]any{}
	for _, statement := range statements {
		rows, err := conn.Query(context.Background(), statement, demo.SchoolID)
		if err != nil {
			return err
		}
		for rows.Next() {
			values, err := rows.Values()
			if err != nil {
				return err
			}
			out = append(out, values)
		}
		if err := rows.Err(); err != nil {
			return err
		}
	}
	_, err := json.Marshal(out)
	return err
}

// sheetByHand is what the sheet shows, with one statement each.
var sheetByHand = []string{
	`select s.id::text, a.name, i.name, s.class, s.started_on::text from students s join accounts a on a.id = s.id join accounts i on i.id = s.instructor_id
			where s.school_id = $1 order by a.name`,
	`select student_id::text, element, held, newest::text, lapses_on::text, lessons from standings where school_id = $1 order by 1, 2`,
	`select student_id::text, on_day::text, passed from stage_checks where school_id = $1 order by on_day`,
	`select student_id::text, lesson_id::text, item from open_criticals where school_id = $1`,
	`select student_id::text, count(*), max(opened_at)::text from lessons where school_id = $1 group by 1`,
	`select student_id::text, met::text from courses where school_id = $1`,
}

// BenchmarkTabletsSyncing lets 200 tablets send a mark each every five seconds,
// while the sheet of the school is asked for again and again; it reports how
// long the slowest of a hundred waits, and the memory of server and tablets.
func BenchmarkTabletsSyncing(b *testing.B) {
	const tablets, pause = 200, 5 * time.Second
	d, url := crowded(b, 1)
	c := as(b, url, demo.Okonjo)
	item := d.Catalog.Lists[0].Places()[0].Item.ID
	lessons := make([]string, tablets)
	for i := range lessons {
		lessons[i] = uuid.Must(uuid.NewV7()).String()
		status, body := c.call("POST", "/api/v1/lessons/"+lessons[i]+"/events", batch(opening(demo.Okonjo.ID)))
		require.Equal(b, 200, status, body)
	}
	var mu sync.Mutex
	var took []time.Duration
	failed := 0
	for b.Loop() {
		var all sync.WaitGroup
		begun := time.Now()
		for n, lesson := range lessons {
			all.Go(func() {
				for round := range 3 {
					time.Sleep(time.Until(begun.Add(time.Duration(round)*pause + pause*time.Duration(n)/tablets)))
					sent := time.Now()
					status, _ := c.call("POST", "/api/v1/lessons/"+lesson+"/events",
						batch(event(round+2, "prompt", map[string]any{"item": item})))
					mu.Lock()
					took = append(took, time.Since(sent))
					if status != 200 {
						failed++
					}
					mu.Unlock()
				}
			})
		}
		done := make(chan struct{})
		go func() { all.Wait(); close(done) }()
		for open := true; open; {
			status, body := c.call("GET", "/api/v1/school", "")
			require.Equal(b, 200, status, body)
			select {
			case <-done:
				open = false
			case <-time.After(time.Second):
			}
		}
	}
	require.Zero(b, failed)
	slices.Sort(took)
	b.ReportMetric(float64(took[len(took)/2].Microseconds())/1000, "ms-median")
	b.ReportMetric(float64(took[len(took)*99/100].Microseconds())/1000, "ms-p99")
	b.ReportMetric(resident(b), "MB-resident")
	b.ReportMetric(0, "ns/op")
}

// resident is the memory of this process, in megabytes.
func resident(b *testing.B) float64 {
	text, err := os.ReadFile("/proc/self/status")
	require.NoError(b, err)
	_, after, _ := strings.Cut(string(text), "VmRSS:")
	kB, err := strconv.ParseFloat(strings.Fields(after)[0], 64)
	require.NoError(b, err)
	return kB / 1024
}
