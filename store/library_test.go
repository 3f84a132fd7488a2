package store_test

import (
	"context"
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/library"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/store"
)

func on(days int) string    { return schooltest.Day.AddDate(0, 0, days).Format(time.DateOnly) }
func at(days int) time.Time { return schooltest.Day.AddDate(0, 0, days).Add(12 * time.Hour) }
func ptr[T any](v T) *T     { return &v }

// must is a value that there is no test without.
func must[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}

// version reads one version as it stands.
func version(t testing.TB, d *schooltest.Database, kind, id string, n int) library.Version {
	t.Helper()
	return get(t, d, func(tx *store.Tx) (library.Version, error) { return tx.VersionOf(kind, id, n) })
}

// TestTheLifeOfAVersion: draft, saved, reviewed, in force from a day, withdrawn
// from another; each step from its own state and revision only.
func TestTheLifeOfAVersion(t *testing.T) {
	d := schooltest.Demo(t, "x")
	const list = "alder-110-full"
	v := version(t, d, library.KindList, list, 6) // the chief's draft
	assert.Equal(t, library.Draft, v.Status)
	assert.ErrorContains(t, in(t, d, func(tx *store.Tx) error { return tx.Approve(v, on(1), demo.Ferreira.ID, at(0)) }),
		"version 6 is draft and cannot be approved")

	body := get(t, d, func(tx *store.Tx) ([]byte, error) { return tx.Body(v.Kind, v.ID, 6) })
	save := func(v library.Version) error {
		return in(t, d, func(tx *store.Tx) error {
			return tx.SaveDraft(v, "Alder, new", body, demo.Ferreira.ID, at(0))
		})
	}
	require.NoError(t, save(v))
	assert.ErrorIs(t, save(v), store.ErrConflict, "an older revision does not overwrite a newer one")
	v = version(t, d, v.Kind, v.ID, 6)
	assert.Equal(t, 2, v.Revision)

	step := func(fn func(tx *store.Tx, v library.Version) error) error {
		return in(t, d, func(tx *store.Tx) error { return fn(tx, must(tx.VersionOf(library.KindList, list, 6))) })
	}
	require.NoError(t, step(func(tx *store.Tx,
		v library.Version) error {
		return tx.Review(v, demo.Solheim.ID, at(0))
	}))
	assert.ErrorContains(t, save(version(t, d, v.Kind, v.ID, 6)), "version 6 is reviewed and cannot be saved")
	require.NoError(t, step(func(tx *store.Tx, v library.Version) error { return tx.Reopen(v, at(0)) }))
	require.NoError(t, step(func(tx *store.Tx,
		v library.Version) error {
		return tx.Review(v, demo.Solheim.ID, at(0))
	}))
	approve := func(from string) error {
		return step(func(tx *store.Tx, v library.Version) error { return tx.Approve(v, from, demo.Ferreira.ID, at(0)) })
	}
	assert.ErrorContains(t, approve(on(-1)), "today or later")
	require.NoError(t, approve(on(1)))
	assert.ErrorContains(t, step(func(tx *store.Tx, v library.Version) error { return tx.DropDraft(v, at(0)) }),
		"cannot be deleted")

	serves := func(day string) int {
		desk := get(t, d, func(tx *store.Tx) (store.Desk, error) { return tx.Desk("alder-110", day, "") })
		return desk.Lists[0].Version
	}
	assert.Equal(t, []int{5, 6, 6}, []int{serves(on(0)), serves(on(1)), serves(on(30))})
	require.NoError(t,
		step(func(tx *store.Tx, v library.Version) error { return tx.Withdraw(v, on(10), demo.Ferreira.ID, at(0)) }))
	assert.Equal(t, []int{6, 5}, []int{serves(on(9)), serves(on(10))}, "what it had replaced serves again")
	shipped := version(t, d, library.KindList, list, 5)
	assert.ErrorContains(t,
		in(t, d, func(tx *store.Tx) error { return tx.Withdraw(shipped, on(1), demo.Ferreira.ID, at(0)) }),
		"ships with the program")

	// Whoever owns the database cannot change what was approved.
	owner, err := pgx.Connect(context.Background(), d.OwnerURL)
	require.NoError(t, err)
	defer owner.Close(context.Background())
	for _, attempt := range []string{"update library set body = '{}' where version = 6",
		"delete from library where version = 6", "update library set status = 'draft' where version = 6",
		"update library set in_force_from = in_force_from - 30 where version = 6"} {
		_, err := owner.Exec(context.Background(), attempt)
		assert.ErrorContains(t, err, "is approved and stays as it is", attempt)
	}
}

// tailoredOpening is the opening event of a lesson on QZ-AAA with its list as
// flown.
func tailoredOpening(t testing.TB, d *schooltest.Database, day string, change func(*lesson.Opened)) lesson.Event {
	desk := get(t, d, func(tx *store.Tx) (store.Desk, error) { return tx.Desk("alder-110", day, demo.Okonjo.ID) })
	weather := checklist.Day{OATC: ptr(3.0), Rules: "VFR"}
	flown, err := checklist.Tailor(desk.Lists[0], desk.Layers, desk.Type,
		checklist.Aircraft{Equipment: []string{"second-altimeter"}}, weather)
	require.NoError(t, err)
	opened := lesson.Opened{Student: demo.Moreau.ID, Instructor: demo.Okonjo.ID, Aircraft: "QZ-AAA",
		AircraftType: "alder-110", TypeVersion: desk.Type.Version,
		List: desk.Lists[0].ID, ListVersion: desk.Lists[0].Version, Method: "read-and-do", Scale: "five",
		Purpose:   "training",
		Equipment: []string{"second-altimeter"}, Day: &weather, Flown: &flown}
	if change != nil {
		change(&opened)
	}
	payload, err := json.Marshal(opened)
	require.NoError(t, err)
	return event(1, lesson.KindOpened, string(payload))
}

// TestALessonKeepsItsList: a list as flown is held to what makes it, and what
// becomes of the list and its layers later does not touch the lesson.
func TestALessonKeepsItsList(t *testing.T) {
	d := schooltest.Demo(t, "x")
	refused := func(want string, change func(*lesson.Opened)) {
		t.Helper()
		_, err := accept(t, d, uuid.NewString(), okonjo, tailoredOpening(t, d, on(0), change))
		assert.ErrorContains(t, err, want)
	}
	refused("is not what the list, its layers, the equipment and the day make",
		func(o *lesson.Opened) { o.Flown.List.Phases[0].Items[0].Response = "as I like it" })
	refused("is not what the list, its layers, the equipment and the day make",
		func(o *lesson.Opened) { o.Day.OATC = ptr(30.0) })
	refused("is not what the list, its layers, the equipment and the day make",
		func(o *lesson.Opened) { o.Equipment = []string{"winter-kit"} })
	refused("names alder-sb-14 version 7, which was never in force",
		func(o *lesson.Opened) { o.Flown.Layers[0].Version = 7 })

	id := uuid.Must(uuid.NewV7()).String()
	answers, err := accept(t, d, id, okonjo, tailoredOpening(t, d, on(0), nil),
		event(2, lesson.KindItemResult, `{"item":"rabbit-line","result":"done"}`))
	require.NoError(t, err)
	require.Equal(t, []string{"held", "held"}, []string{answers[0].Status, answers[1].Status}, answers)
	state := func() (lesson.State, lesson.Book) {
		var s lesson.State
		var b lesson.Book
		require.NoError(t,
			in(t, d, func(tx *store.Tx) (err error) { s, b, _, err = tx.State(must(tx.Lesson(id))); return }))
		return s, b
	}
	before, book := state()
	assert.Equal(t, []string{"alder-sb-14", "tarn-hollow-alder", "okonjo-fingers"},
		[]string{book.Layers[0].ID, book.Layers[1].ID, book.Layers[2].ID}, "highest rank first")
	assert.NotEmpty(t, book.Reasons)
	require.NoError(t, in(t, d, func(tx *store.Tx) error {
		return tx.Withdraw(must(tx.VersionOf(library.KindLayer, "tarn-hollow-alder", 1)), on(0), demo.Ferreira.ID,
			at(0))
	}))
	after, again := state()
	assert.Equal(t, before.Items, after.Items)
	assert.Equal(t, book.List, again.List)
	refusedNow := get(t, d,
		func(tx *store.Tx) (store.Desk, error) { return tx.Desk("alder-110", on(0), demo.Okonjo.ID) })
	assert.Len(t, refusedNow.Layers, 2, "the next lesson goes without it")
}

// TestWhoMustBeTold: flown or told is known; the rest has to be told.
func TestWhoMustBeTold(t *testing.T) {
	d := schooltest.Demo(t, "x")
	alder, _ := d.Catalog.Type("alder-110")
	people := func(kind, id string) map[string]string {
		out := map[string]string{}
		for _, p := range get(t, d,
			func(tx *store.Tx) ([]store.Trained, error) { return tx.Trained(kind, id, alder) }) {
			out[p.Name] = fmt.Sprintf("flown %d, told %d by %s", p.Flown, p.Told, p.ToldBy)
		}
		return out
	}
	bulletin := people(library.KindLayer, "alder-sb-14")
	assert.Equal(t, "flown 1, told 1 by Ilse Ferreira", bulletin["Odile Brandt"])
	assert.Equal(t, "flown 0, told 0 by ", bulletin["Mireille Aune"], "she has not flown since")
	assert.NotContains(t, bulletin, "Sanna Voss", "she flies helicopters")
	lists := people(library.KindList, "alder-110-full")
	assert.Equal(t, "flown 5, told 0 by ", lists["Mireille Aune"])
	require.NoError(t, in(t, d, func(tx *store.Tx) error {
		return tx.Tell(must(tx.VersionOf(library.KindLayer, "alder-sb-14", 1)), demo.Aune.ID, demo.Quist.ID, at(0))
	}))
	assert.Equal(t, "flown 0, told 1 by Rafael Quist", people(library.KindLayer, "alder-sb-14")["Mireille Aune"])
	assert.ErrorContains(t, in(t, d, func(tx *store.Tx) error {
		return tx.Tell(must(tx.VersionOf(library.KindList, "alder-110-full", 6)), demo.Aune.ID, demo.Quist.ID, at(0))
	}), "told of a version that the school has approved")
}

// TestLibrariesAreApart: another school sees the shipped versions and nothing
// of this school's.
func TestLibrariesAreApart(t *testing.T) {
	ctx, d := context.Background(), schooltest.Demo(t, "x")
	other := uuid.NewString()
	require.NoError(t,
		d.Store.AddSchool(ctx, store.School{ID: other, Name: "Another school", TimeZone: "UTC", CreatedAt: time.Now()},
			nil))
	require.NoError(t, d.Store.In(ctx, other, func(_ context.Context, tx *store.Tx) error {
		all, err := tx.Versions("")
		for _, v := range all {
			assert.True(t, v.Shipped, v.ID)
		}
		_, err2 := tx.Body(library.KindLayer, "alder-sb-14", 1)
		assert.ErrorIs(t, err2, store.ErrNotFound)
		return err
	}))
}
