package reports_test

import (
	"context"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/reports"
	"jetprimer/store"
)

func TestMain(m *testing.M) { schooltest.Main(m) }

// TestReportsAreKept: what takes long is made once, is served as it was made while
// something newer is not in it yet, and is made anew without anybody waiting; an erased
// name goes with it.
func TestReportsAreKept(t *testing.T) {
	ctx := context.Background()
	d := schooltest.Demo(t, "x")
	now := schooltest.Day.Add(11 * time.Hour)
	r := reports.New(d.Catalog, func() time.Time { return now })
	in := func(do func(tx *store.Tx) error) {
		t.Helper()
		require.NoError(t,
			d.Store.In(ctx, demo.SchoolID, func(_ context.Context, tx *store.Tx) error { return do(tx) }))
	}
	taught := func() (v reports.TaughtView) {
		in(func(tx *store.Tx) (err error) { v, err = r.Taught(tx); return })
		return v
	}
	compared := func() (c reports.Comparison) {
		in(func(tx *store.Tx) (err error) { c, err = r.Comparison(tx, ""); return })
		return c
	}
	assert.False(t, compared().Found())
	require.NoError(t, r.Refresh(ctx, d.Store, demo.SchoolID))
	first, line := taught(), compared()
	require.NotEmpty(t, first.Items)
	assert.True(t, first.Current && line.Current && line.Found())
	assert.Len(t, line.Lines, 3)
	assert.True(t, now.Equal(first.MadeAt))

	made := now
	now = now.Add(26 * time.Hour) // another day: a year ago is another one as well
	old := taught()
	assert.False(t, old.Current)
	assert.True(t, made.Equal(old.MadeAt))
	assert.Equal(t, first.Items, old.Items, "it is served as it was made")
	assert.True(t, compared().Found() && !compared().Current)
	require.NoError(t, r.Refresh(ctx, d.Store, demo.SchoolID))
	fresh := taught()
	assert.True(t, fresh.Current && compared().Current)
	assert.True(t, now.Equal(fresh.MadeAt))
	assert.NotEqual(t, first.From, fresh.From)

	owner, err := pgx.Connect(ctx, d.OwnerURL)
	require.NoError(t, err)
	defer owner.Close(ctx)
	_, err = owner.Exec(ctx, "update memberships set active = false, left_on = '2010-01-01' where account_id = $1",
		demo.Brandt.ID)
	require.NoError(t, err)
	in(func(tx *store.Tx) error { return tx.Erase(demo.Brandt.ID, demo.Brandt.Name, now) })
	var kept int
	require.NoError(t, owner.QueryRow(ctx, "select count(*) from kept_reports").Scan(&kept))
	assert.Zero(t, kept, "they named people")
}
