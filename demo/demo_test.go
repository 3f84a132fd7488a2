package demo_test

import (
	"context"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/lesson"
	"jetprimer/core/quantity"
	"jetprimer/core/record"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/exchange"
	"jetprimer/store"
)

func TestMain(m *testing.M) { schooltest.Main(m) }

// get reads something of the demo school.
func get[T any](t *testing.T, d *schooltest.Database, fn func(tx *store.Tx) (T, error)) T {
	t.Helper()
	var out T
	require.NoError(t,
		d.Store.In(context.Background(), demo.SchoolID, func(_ context.Context, tx *store.Tx) (err error) {
			out, err = fn(tx)
			return
		}))
	return out
}

// TestTheSchoolIsWhatItSays: who is in it, what they fly, what is open, who
// stands where.
func TestTheSchoolIsWhatItSays(t *testing.T) {
	d := schooltest.Demo(t, "x")
	require.NoError(t, d.Store.In(context.Background(), demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		for role, want := range map[string]int{
			"instructor": 3, "student": 14, "chief": 1, "maintenance": 1, "examiner": 1, "admin": 1,
		} {
			people, err := tx.People(role)
			require.NoError(t, err)
			assert.Len(t, people, want, role)
		}
		fleet, err := tx.Aircraft(schooltest.Day.Format(time.DateOnly))
		require.NoError(t, err)
		assert.Len(t, fleet, 9)

		findings, err := tx.Findings(schooltest.Day.Format(time.DateOnly))
		require.NoError(t, err)
		require.Len(t, findings, 1)
		assert.Equal(t, "QZ-AAB", findings[0].Registration)
		assert.True(t, findings[0].Condition.Open())
		assert.Equal(t, demo.Achterberg.Name, findings[0].Told)

		unsigned, err := tx.Unsigned()
		require.NoError(t, err)
		require.Len(t, unsigned, 1)
		assert.Equal(t, "open", unsigned[0].Status)
		state, _, _, err := tx.State(unsigned[0])
		require.NoError(t, err)
		assert.Equal(t, "magnetos", state.Live)
		assert.Equal(t, "abnormal", string(state.Readings[len(state.Readings)-1].Verdict.Outcome))
		return nil
	}))
}

func TestStudentsStandInDifferentPlaces(t *testing.T) {
	d := schooltest.Demo(t, "x")
	held := map[string]map[string]int{}
	require.NoError(t, d.Store.In(context.Background(), demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		all, err := tx.Standings("")
		for _, s := range all {
			if held[s.StudentID] == nil {
				held[s.StudentID] = map[string]int{}
			}
			standing := s.Held
			if s.LapsesOn != "" && string(s.LapsesOn) <= schooltest.Day.Format(time.DateOnly) {
				standing = "lapsed"
			}
			held[s.StudentID][standing]++
		}
		return err
	}))
	ready := held[demo.Brandt.ID]
	assert.Equal(t, 54, ready["consolidated"]+ready["to standard"], "one is ready: %v", ready)
	assert.Greater(t, ready["consolidated"], 45)
	assert.Greater(t, held[demo.Aune.ID]["lapsed"], 40, "one has stayed away")
	assert.Zero(t, held[demo.Moreau.ID]["to standard"], "one has just begun")
	assert.Greater(t, held[demo.Lindqvist.ID]["practising"]+held[demo.Lindqvist.ID]["lapsed"], 5, "one is stuck")
}

// TestOneMagnetoCreepsUp: the right drop of QZ-AAB rises over the weeks, and
// those of the others do not.
func TestOneMagnetoCreepsUp(t *testing.T) {
	d := schooltest.Demo(t, "x")
	owner, err := pgx.Connect(context.Background(), d.OwnerURL)
	require.NoError(t, err)
	defer owner.Close(context.Background())
	slope := func(registration string) (perWeek float64) {
		require.NoError(t, owner.QueryRow(context.Background(), `
			select regr_slope((verdict->'values'->>'rightDrop')::float, extract(epoch from at) / 604800)
			from readings where check_name = 'magneto' and attempt = 1 and registration = $1 and lesson_id <> all
			  (select id from lessons where status = 'open')`, registration).Scan(&perWeek))
		return perWeek
	}
	assert.Greater(t, slope("QZ-AAB"), 2.0, "rpm a week")
	assert.InDelta(t, 0, slope("QZ-AAA"), 1.5)
	assert.InDelta(t, 0, slope("QZ-AAC"), 1.5)
}

func TestEveryDemoLessonCanBeFoldedAgain(t *testing.T) {
	d := schooltest.Demo(t, "x")
	require.NoError(t, d.Store.In(context.Background(), demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		lessons, err := tx.Lessons("", time.Time{}, time.Time{})
		require.NoError(t, err)
		for _, l := range lessons {
			events, err := tx.Events(l.ID)
			require.NoError(t, err)
			sealed, book, _, err := tx.State(l)
			require.NoError(t, err)
			again := lesson.New(book)
			again.Add(events...)
			folded := again.State()
			assert.Equal(t, len(sealed.Items), len(folded.Items))
			for i := range folded.Items {
				assert.Equal(t, sealed.Items[i].Level, folded.Items[i].Level, "%s %s", l.ID, folded.Items[i].ID)
			}
			if folded.Ended {
				assert.Empty(t, folded.Problems)
			}
			assert.Empty(t, folded.Refused)
		}
		return nil
	}))
}

func TestDemoSchool(t *testing.T) {
	d := schooltest.Demo(t, "x")
	lessons := get(t, d, func(tx *store.Tx) ([]store.Lesson, error) { return tx.Lessons("", time.Time{}, time.Time{}) })
	signed := 0
	for _, l := range lessons {
		if l.Status == "signed" {
			signed++
		}
	}
	assert.Equal(t, 54, signed)
	assert.Len(t, lessons, 55)

	t.Run("seals form a chain, and a forged one breaks it", func(t *testing.T) {
		chain := get(t, d, func(tx *store.Tx) (store.Chain, error) { return tx.VerifyChain() })
		assert.Equal(t, int64(54+7), chain.Seals, "every signed lesson, every approved document")
		assert.Equal(t, 55, chain.Lessons)
		assert.Len(t, chain.Head, 64)
		assert.Zero(t, chain.Unsealed)
		owner, err := pgx.Connect(context.Background(), d.OwnerURL)
		require.NoError(t, err)
		defer owner.Close(context.Background())
		_, err = owner.Exec(context.Background(), "update seals set content = '{}' where number = 7")
		assert.ErrorContains(t, err, "only ever added to", "the trigger guards against the owner as well")
		_, err = owner.Exec(context.Background(),
			"alter table seals disable trigger only_added; update seals set content = '{}' where number = 7")
		require.NoError(t, err)
		assert.ErrorContains(t,
			d.Store.In(context.Background(), demo.SchoolID,
				func(_ context.Context, tx *store.Tx) error { _, err := tx.VerifyChain(); return err }),
			"seal 7 does not follow")
	})

	t.Run("rebuild gives the same bytes", func(t *testing.T) {
		d := schooltest.Demo(t, "x")
		before := readTables(t, d)
		require.NoError(t, d.Store.Rebuild(context.Background(), demo.SchoolID, func(int, int) {}))
		assert.Equal(t, before, readTables(t, d))
	})
}

// readTables is everything that derivation made, as text.
func readTables(t *testing.T, d *schooltest.Database) map[string]string {
	owner, err := pgx.Connect(context.Background(), d.OwnerURL)
	require.NoError(t, err)
	defer owner.Close(context.Background())
	out := map[string]string{}
	for _, table := range []string{
		"lessons", "item_results", "readings", "findings", "observations", "standings", "stage_checks",
		"open_criticals", "courses",
	} {
		var text string
		require.NoError(t,
			owner.QueryRow(context.Background(),
				"select coalesce(string_agg(r::text, E'\n' order by r::text), '') from "+table+" r").Scan(&text))
		if table != "open_criticals" { // a school may have none
			assert.NotEmpty(t, text, table)
		}
		out[table] = text
	}
	return out
}

func TestTheSameDayGivesTheSameSchool(t *testing.T) {
	a, b := readTables(t, schooltest.Demo(t, "one")), readTables(t, schooltest.Demo(t, "two"))
	assert.Equal(t, a, b)
}

// TestEveryDemoRecordProvesItself: of all seven types, with their grade sheets.
func TestEveryDemoRecordProvesItself(t *testing.T) {
	d := schooltest.Demo(t, "x")
	types := map[string]bool{}
	for _, l := range get(t, d, func(tx *store.Tx) ([]store.Lesson, error) {
		return tx.Lessons("", schooltest.Day.AddDate(-1, 0, 0), schooltest.Day)
	}) {
		if l.Status != "signed" || types[l.Type] {
			continue
		}
		types[l.Type] = true
		found := get(t, d,
			func(tx *store.Tx) (f record.Found, err error) { _, f, err = tx.Export(l.ID, schooltest.Day); return })
		sheet, err := exchange.WriteGradeSheet(found, quantity.Units{Temperature: "°F"})
		require.NoError(t, err, l.Type)
		assert.Greater(t, len(sheet), 10_000, l.Type)
	}
	assert.Len(t, types, 7)
}
