package store_test

import (
	"context"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/compare"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/store"
)

// TestSequelsAreCountedAsTheyStand: what the database counts is what counting the
// rows one by one gives, in a school where findings were planted behind an error.
func TestSequelsAreCountedAsTheyStand(t *testing.T) {
	ctx := context.Background()
	d := schooltest.Demo(t, "x")
	conn, err := pgx.Connect(ctx, d.OwnerURL)
	require.NoError(t, err)
	defer func() { _ = conn.Close(ctx) }()
	// On every third signed lesson of the Alder 110 the belts are left out, and the
	// magnetos have a finding.
	_, err = conn.Exec(ctx, `with third as (select l.id, l.registration, row_number() over (order by l.opened_at, l.id) as n from lessons l join aircraft a using (school_id, registration) where a.type = 'alder-110' and l.status = 'signed'),
		gone as (update item_results r set mark = 'left-out', level = 1 from third where r.lesson_id = third.id and third.n % 3 = 0 and r.item = 'belts' returning r.lesson_id)
		insert into findings (school_id, lesson_id, event_id, registration, item, words, decision, told, why, at)
		select $1, third.id, gen_random_uuid(), third.registration, 'magnetos', 'planted', 'deferred', '', '', now() from third where n % 3 = 0 and exists (select from item_results r where r.lesson_id = third.id and r.item = 'magnetos')`, demo.SchoolID)
	require.NoError(t, err)

	type row struct {
		lesson, typ, item string
		position          int
		wrong             bool
	}
	var worked []row
	rows, err := conn.Query(ctx, `select l.id::text, a.type, r.item, r.position, r.mark in ('wrong', 'left-out', 'unsafe') from item_results r join lessons l on l.id = r.lesson_id join aircraft a on a.registration = l.registration and a.school_id = l.school_id
		where l.status = 'signed' and r.level is not null`)
	require.NoError(t, err)
	for rows.Next() {
		var one row
		require.NoError(t, rows.Scan(&one.lesson, &one.typ, &one.item, &one.position, &one.wrong))
		worked = append(worked, one)
	}
	require.NoError(t, rows.Err())
	places := map[[2]string]int{} // of findings, by lesson and item
	rows, err = conn.Query(ctx,
		"select f.lesson_id::text, f.item, r.position from findings f join item_results r on r.lesson_id = "+
			"f.lesson_id and r.item = f.item join lessons l on l.id = f.lesson_id where l.status = 'signed'")
	require.NoError(t, err)
	for rows.Next() {
		var lesson, item string
		var position int
		require.NoError(t, rows.Scan(&lesson, &item, &position))
		places[[2]string{lesson, item}] = position
	}
	require.NoError(t, rows.Err())

	require.NoError(t, d.Store.In(ctx, demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		found, err := tx.Sequels("2000-01-01")
		require.NoError(t, err)
		require.NotEmpty(t, found)
		planted := false
		for _, got := range found {
			want := compare.Sequel{Type: got.Type, Item: got.Item, Finding: got.Finding}
			for _, w := range worked {
				if w.typ != got.Type || w.item != got.Item {
					continue
				}
				position, has := places[[2]string{w.lesson, got.Finding}]
				want.Lessons++
				if w.wrong {
					want.Wrong++
				}
				if has {
					want.Found++
				}
				if has && w.wrong && position > w.position {
					want.Both++
				}
			}
			assert.Equal(t, want, got)
			planted = planted || got.Item == "belts" && got.Finding == "magnetos"
		}
		assert.True(t, planted)

		tallies, err := tx.ReadingTallies("2000-01-01")
		require.NoError(t, err)
		out, err := tx.OutReadings("2000-01-01")
		require.NoError(t, err)
		seen, sum := map[[2]string]int{}, 0
		for _, o := range out {
			seen[[2]string{o.Type, o.Check}]++
			assert.NotEmpty(t, o.Words)
		}
		for _, one := range tallies {
			assert.Equal(t, seen[[2]string{one.Type, one.Check}], one.Out, one)
			assert.GreaterOrEqual(t, one.Tries, one.Out)
			sum += one.Out
		}
		assert.Positive(t, sum)
		return nil
	}))
}
