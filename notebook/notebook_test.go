package notebook_test

import (
	"context"
	"database/sql"
	"os"
	"path/filepath"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/demotest"
	"jetprimer/notebook"
	"jetprimer/store"
)

func TestMain(m *testing.M) { demotest.Main(m) }

// TestTheFileHoldsTheSchool: every table as many rows as the database, every column
// documented, none of another school; and nothing is left of what failed.
func TestTheFileHoldsTheSchool(t *testing.T) {
	ctx := context.Background()
	d := demotest.Demo(t, "x")
	file := filepath.Join(t.TempDir(), "a school? 100 %.sqlite")
	rows := map[string]int{}
	require.NoError(t, notebook.Write(ctx, d.Store, demo.SchoolID, file, "test", func(table string, n int) { rows[table] = n }))
	owner, err := pgx.Connect(ctx, d.OwnerURL)
	require.NoError(t, err)
	defer owner.Close(ctx)
	for table, of := range map[string]string{"people": "memberships", "students": "students", "aircraft": "aircraft", "lessons": "lessons", "items": "item_results", "readings": "readings",
		"findings": "findings", "observations": "observations", "standings": "standings", "stage_checks": "stage_checks", "bookings": "bookings"} {
		var n int
		require.NoError(t, owner.QueryRow(ctx, "select count(*) from "+of).Scan(&n))
		assert.Equal(t, n, rows[table], table)
		assert.NotZero(t, n, table)
	}
	assert.Greater(t, rows["reading_values"], rows["readings"])

	db, err := sql.Open("sqlite3", "file:"+filepath.ToSlash(filepath.Dir(file))+"/a%20school%3f%20100%20%25.sqlite?mode=ro")
	require.NoError(t, err)
	defer db.Close()
	var undocumented, right int
	require.NoError(t, db.QueryRow(`select count(*) from sqlite_master m, pragma_table_info(m.name) c
		where m.type = 'table' and m.name not in ('about', 'columns_of') and not exists (select 1 from columns_of d where d.table_name = m.name and d.column_name = c.name)`).Scan(&undocumented))
	assert.Zero(t, undocumented)
	// What a notebook asks for: the right drops of one aircraft, with the day.
	require.NoError(t, db.QueryRow(`select count(*) from reading_values v join readings r on r.id = v.reading_id join lessons l on l.id = r.lesson_id
		where v.name = 'rightDrop' and v.source = 'computed' and r.registration = 'QZ-AAB' and v.value between 60 and 160 and l.day between '2026-08-01' and '2026-11-24'`).Scan(&right))
	assert.Greater(t, right, 5)
	var school string
	require.NoError(t, db.QueryRow("select value from about where name = 'school'").Scan(&school))
	assert.Equal(t, demo.SchoolName, school)

	assert.ErrorIs(t, notebook.Write(ctx, d.Store, demo.SchoolID, file, "test", func(string, int) {}), os.ErrExist, "nothing is written over")
	gone := filepath.Join(t.TempDir(), "gone.sqlite")
	stopped, stop := context.WithCancel(ctx)
	assert.Error(t, notebook.Write(stopped, d.Store, demo.SchoolID, gone, "test", func(string, int) { stop() }))
	assert.NoFileExists(t, gone)
	assert.ErrorIs(t, notebook.Write(ctx, d.Store, "018f0000-0000-7000-8000-00000000ffff", gone, "test", func(string, int) {}), store.ErrNotFound)
	assert.NoFileExists(t, gone)
}
