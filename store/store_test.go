package store_test

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/core/lesson"
	"jetprimer/core/library"
	"jetprimer/core/standard"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/store"
)

func TestMain(m *testing.M) { schooltest.Main(m) }

// in runs fn in the demo school.
func in(t testing.TB, d *schooltest.Database, fn func(tx *store.Tx) error) error {
	t.Helper()
	return d.Store.In(context.Background(), demo.SchoolID,
		func(_ context.Context, tx *store.Tx) error { return fn(tx) })
}

// get reads something in the demo school.
func get[T any](t testing.TB, d *schooltest.Database, fn func(tx *store.Tx) (T, error)) T {
	t.Helper()
	var out T
	require.NoError(t, in(t, d, func(tx *store.Tx) (err error) { out, err = fn(tx); return }))
	return out
}

func event(seq int64, kind, payload string) lesson.Event {
	id, _ := uuid.NewV7()
	return lesson.Event{
		ID: id.String(), Device: "d", Seq: seq, Counter: seq, AtMs: seq * 1000, Wall: "2026-11-24T10:00:00Z",
		Kind: kind, V: 1, Payload: json.RawMessage(payload),
	}
}

func opening() lesson.Event {
	return event(1, lesson.KindOpened, fmt.Sprintf(`{"student":%q,"instructor":%q,"aircraft":"QZ-AAA","aircraftType":"alder-110","typeVersion":3,
		"list":"alder-110-full","listVersion":4,"method":"read-and-do","scale":"five","purpose":"training","conditions":{"rules":"VFR","night":false}}`, demo.Brandt.ID, demo.Okonjo.ID))
}

var okonjo = store.Sender{ID: demo.Okonjo.ID, Roles: access.Roles{access.Instructor}}

func accept(t testing.TB, d *schooltest.Database, id string, by store.Sender,
	events ...lesson.Event) ([]lesson.Taken, error) {
	var answers []lesson.Taken
	err := in(t, d, func(tx *store.Tx) (err error) {
		answers, err = tx.Accept(id, events, by, schooltest.Day.Add(11*time.Hour))
		return
	})
	return answers, err
}

func TestSchoolsDoNotSeeEachOther(t *testing.T) {
	ctx, d := context.Background(), schooltest.Demo(t, "x")
	other := uuid.NewString()
	require.NoError(t,
		d.Store.AddSchool(ctx, store.School{ID: other, Name: "Another school", TimeZone: "UTC", CreatedAt: time.Now()},
			nil))
	lesson0 := get(t, d, func(tx *store.Tx) ([]store.Lesson,
		error) {
		return tx.Lessons("", time.Time{}, time.Time{})
	})[0]
	require.NoError(t, d.Store.In(ctx, other, func(ctx context.Context, tx *store.Tx) error {
		students, err := tx.Students()
		assert.NoError(t, err)
		assert.Empty(t, students)
		_, err = tx.Lesson(lesson0.ID)
		assert.ErrorIs(t, err, store.ErrNotFound)
		assert.ErrorContains(t, d.Store.In(ctx, demo.SchoolID, nil), "inside In")
		return nil
	}))

	app, err := pgx.Connect(ctx, d.AppURL)
	require.NoError(t, err)
	defer app.Close(ctx)
	tenants := 0
	tables, err := app.Query(ctx, `select c.relname, c.relrowsecurity from pg_class c join pg_attribute a on a.attrelid = c.oid and a.attname = 'school_id'
		where c.relkind in ('r', 'p') and not c.relispartition and c.relnamespace = 'public'::regnamespace`)
	require.NoError(t, err)
	var names []string
	for tables.Next() {
		var name string
		var guarded bool
		require.NoError(t, tables.Scan(&name, &guarded))
		assert.True(t, guarded, "%s has no row-level security", name)
		names = append(names, name)
		tenants++
	}
	require.NoError(t, tables.Err())
	assert.Greater(t, tenants, 15)
	for _, name := range names {
		var n int
		require.NoError(t, app.QueryRow(ctx, "select count(*) from "+name).Scan(&n))
		assert.Zero(t, n, "%s shows rows before a school was entered", name)
	}
	for _, statement := range []string{"update lesson_events set kind = 'x'", "delete from lesson_events",
		"truncate lesson_events",
		"select * from lesson_events_0", "delete from seals", "update accounts set id = id"} {
		_, err := app.Exec(ctx, statement)
		assert.ErrorContains(t, err, "permission denied", statement)
	}
	_, err = app.Exec(ctx, "update accounts set email = 'a'")
	assert.ErrorContains(t, err, "an address stays as it is")
}

func TestServingAsAStrongerRoleIsRefused(t *testing.T) {
	d := schooltest.New(t)
	rules := d.Catalog
	_, err := store.Open(context.Background(), d.OwnerURL, "a secret of some length", rules)
	assert.ErrorIs(t, err, store.ErrRole)
	super, err := pgx.ParseConfig(d.OwnerURL)
	require.NoError(t, err)
	superURL, err := pgx.ParseConfig(schooltest.SuperURL())
	require.NoError(t, err)
	_, err = store.Open(context.Background(),
		fmt.Sprintf("postgres://postgres:%s@127.0.0.1:%d/%s?sslmode=disable", superURL.Password, super.Port,
			super.Database), "a secret of some length", rules)
	assert.ErrorIs(t, err, store.ErrRole)
	_, err = store.Open(context.Background(), d.AppURL, "", rules)
	assert.ErrorContains(t, err, "has 0 characters; it needs at least 16")
	require.NoError(t, store.Migrate(context.Background(), d.OwnerURL), "migrating twice changes nothing")
}

func TestAcceptAnswersEachEvent(t *testing.T) {
	d := schooltest.Demo(t, "x")
	id := uuid.Must(uuid.NewV7()).String()
	open, mark := opening(), event(2, lesson.KindItemResult, `{"item":"papers","result":"done"}`)

	_, err := accept(t, d, id, okonjo, mark)
	assert.ErrorContains(t, err, "do not hold the event that opens the lesson")
	_, err = accept(t, d, id, store.Sender{ID: demo.Solheim.ID, Roles: access.Roles{access.Instructor}}, open)
	assert.ErrorContains(t, err, "payload.instructor must be you")

	forged, sealed := mark, event(3, lesson.KindSealed, `{}`)
	forged.Payload = json.RawMessage(`{"item":"papers","result":"wrong"}`)
	answers, err := accept(t, d, id, okonjo, mark, open, mark, forged, sealed)
	require.NoError(t, err)
	var got []string
	for _, a := range answers {
		got = append(got, a.Status)
	}
	assert.Equal(t, []string{"held", "held", "held", "refused", "refused"}, got)
	answers, err = accept(t, d, id, okonjo, mark, forged)
	require.NoError(t, err)
	assert.Equal(t, "known", answers[0].Status)
	assert.Equal(t, "id is already held with another content", answers[1].Reason)

	_, err = accept(t, d, id, store.Sender{ID: demo.Solheim.ID, Roles: access.Roles{access.Instructor}},
		event(4, lesson.KindEnded, `{}`))
	assert.ErrorContains(t, err, "belongs to another instructor")
	_, err = accept(t, d, id, store.Sender{ID: demo.Ferreira.ID, Roles: access.Roles{access.Chief}},
		event(4, lesson.KindEnded, `{}`))
	assert.NoError(t, err)

	row := get(t, d, func(tx *store.Tx) (store.Lesson, error) { return tx.Lesson(id) })
	assert.Equal(t, "ended", row.Status)
	assert.Equal(t, 1, row.Marked)

	for _, c := range []struct{ old, with, want string }{
		{demo.Brandt.ID, demo.Okonjo.ID, "payload.student is no student"},
		{demo.Brandt.ID, "somebody", "payload.student is no student"},
		{"QZ-AAA", "QZ-ZZZ", "payload.aircraft is no aircraft"},
		{`"typeVersion":3`, `"typeVersion":2`, "aircraft type alder-110 version 2 is not known"},
		{`"listVersion":4`, `"listVersion":3`, "checklist alder-110-full version 3"},
	} {
		wrong := opening()
		wrong.Payload = json.RawMessage(replaceOnce(string(wrong.Payload), c.old, c.with))
		_, err := accept(t, d, uuid.Must(uuid.NewV7()).String(), okonjo, wrong)
		assert.ErrorContains(t, err, c.want)
	}
}

func replaceOnce(s, old, with string) string {
	for i := 0; i+len(old) <= len(s); i++ {
		if s[i:i+len(old)] == old {
			return s[:i] + with + s[i+len(old):]
		}
	}
	panic("nothing to replace: " + old)
}

func TestSigning(t *testing.T) {
	d := schooltest.Demo(t, "x")
	id, now := uuid.Must(uuid.NewV7()).String(), schooltest.Day.Add(12*time.Hour)
	_, err := accept(t, d, id, okonjo, opening(), event(2, lesson.KindItemResult, `{"item":"papers","result":"done"}`))
	require.NoError(t, err)
	state := func() lesson.State {
		return get(t, d,
			func(tx *store.Tx) (lesson.State, error) { s, _, _, err := tx.State(must(tx.Lesson(id))); return s, err })
	}
	sign := func(by store.Sender, hash string) error {
		return in(t, d, func(tx *store.Tx) error {
			return tx.Sign(id, hash, store.Signer{ID: by.ID}, uuid.Must(uuid.NewV7()).String(), now)
		})
	}
	assert.ErrorIs(t, sign(okonjo, state().EventHash), store.ErrUnsettled)
	shown := state().EventHash
	_, err = accept(t, d, id, okonjo, event(3, lesson.KindEnded, `{}`))
	require.NoError(t, err)
	assert.ErrorIs(t, sign(okonjo, shown), store.ErrStale)
	assert.ErrorContains(t,
		sign(store.Sender{ID: demo.Ferreira.ID, Roles: access.Roles{access.Chief}}, state().EventHash),
		"signed by who gave or worked it")

	seen := func() int {
		return len(get(t, d, func(tx *store.Tx) ([]store.Standing, error) { return tx.Standings(demo.Moreau.ID) }))
	}
	before := seen()
	require.NoError(t, sign(okonjo, state().EventHash))
	assert.Equal(t, before, seen(), "another student's standing stays")
	require.NoError(t, sign(okonjo, state().EventHash), "signing twice is the same as once")
	assert.Len(t, state().Seals, 1)

	sealed := state()
	_, err = accept(t, d, id, okonjo, event(4, lesson.KindOmitted, `{"item":"papers"}`),
		event(5, lesson.KindAddendum, `{"words":"late"}`))
	require.NoError(t, err)
	after := state()
	assert.Equal(t, sealed.Items, after.Items)
	assert.Len(t, after.Addenda, 2)
	require.NoError(t, sign(okonjo, state().EventHash))
	assert.True(t, state().Addenda[1].Signed)
	assert.Equal(t, int64(63), get(t, d, func(tx *store.Tx) (store.Chain, error) { return tx.VerifyChain() }).Seals)
}

// TestFeedHasNoGaps: writers at once, and the cursor sees each write once and
// in order.
func TestFeedHasNoGaps(t *testing.T) {
	d := schooltest.Demo(t, "x")
	start := feedEnd(t, d)
	var group sync.WaitGroup
	for range 8 {
		group.Go(func() {
			for range 3 {
				_, err := accept(t, d, uuid.Must(uuid.NewV7()).String(), okonjo, opening())
				assert.NoError(t, err)
			}
		})
	}
	group.Wait()
	changes := get(t, d, func(tx *store.Tx) ([]store.Change, error) { c, _, err := tx.Feed(start); return c, err })
	require.Len(t, changes, 24)
	for i, c := range changes {
		assert.Equal(t, start+int64(i)+1, c.Seq)
	}
}

func feedEnd(t *testing.T, d *schooltest.Database) int64 {
	after := int64(0)
	for {
		end := get(t, d, func(tx *store.Tx) (int64, error) { _, end, err := tx.Feed(after); return end, err })
		if end == after {
			return end
		}
		after = end
	}
}

// TestAPackOfTheSchoolsOwn: serves from its day on in the place of the shipped
// one, and an element that became another carries its standing along, which the
// chain of signatures agrees with.
func TestAPackOfTheSchoolsOwn(t *testing.T) {
	d := schooltest.Demo(t, "x")
	ctx, today := context.Background(), schooltest.Day.Format(time.DateOnly)
	var own standard.Pack
	for _, p := range d.Catalog.Packs {
		if p.ID == "school-core" {
			own = p
		}
	}
	own.Title = "Our own wording"
	own.Tasks = slices.Clone(own.Tasks)
	own.Tasks[0].Elements = slices.Clone(own.Tasks[0].Elements)
	before := own.Tasks[0].Elements[0].ID
	own.Tasks[0].Elements[0].ID = "core-anew"
	own.Replaces = []standard.Replaced{{From: before, To: "core-anew", Why: "the same in other words"}}
	require.Empty(t, own.Problems())
	require.NoError(t, in(t, d, func(tx *store.Tx) error {
		version, err := tx.AddDraft(library.KindPack, own.ID, "", own.Title,
			func(n int) ([]byte, error) { own.Version = n; return json.Marshal(own) }, demo.Okonjo.ID, schooltest.Day)
		if err != nil {
			return err
		}
		v, err := tx.VersionOf(library.KindPack, own.ID, version)
		if err == nil {
			err = tx.Review(v, demo.Solheim.ID, schooltest.Day)
		}
		if err != nil {
			return err
		}
		if v, err = tx.VersionOf(library.KindPack, own.ID, version); err != nil {
			return err
		}
		return tx.Approve(v, today, demo.Ferreira.ID, schooltest.Day)
	}))
	titled := func(day string) string {
		packs := get(t, d, func(tx *store.Tx) ([]standard.Pack, error) { return tx.Packs(day) })
		assert.Len(t, packs, len(d.Catalog.Packs))
		return packs[slices.IndexFunc(packs, func(p standard.Pack) bool { return p.ID == "school-core" })].Title
	}
	assert.Equal(t, "Our own wording", titled(today))
	assert.Equal(t, "Tarn Hollow core", titled(schooltest.Day.AddDate(0, 0, -1).Format(time.DateOnly)))
	stood := func(element string) int {
		all := get(t, d, func(tx *store.Tx) ([]store.Standing, error) { return tx.Standings("") })
		return len(slices.DeleteFunc(all, func(s store.Standing) bool { return s.Element != element }))
	}
	was := stood(before)
	require.NotZero(t, was)
	done, err := d.Store.FollowPolicy(ctx, demo.SchoolID, schooltest.Day)
	require.NoError(t, err)
	assert.True(t, done)
	assert.Equal(t, []int{0, was}, []int{stood(before), stood("core-anew")})
	done, err = d.Store.FollowPolicy(ctx, demo.SchoolID, schooltest.Day)
	require.NoError(t, err)
	assert.False(t, done, "once is enough")
	require.NoError(t, in(t, d, func(tx *store.Tx) error { _, err := tx.VerifyChain(); return err }))
}

// TestAttemptsAreCountedBeforeTheyEnd: one that is not known yet is counted by others under
// its own key, one that was wrong under all of them, one that was dropped under none; stamps
// of a clock that was ahead are none.
func TestAttemptsAreCountedBeforeTheyEnd(t *testing.T) {
	d, ctx := schooltest.New(t), context.Background()
	now, keys := time.Now(), []string{"k", "of all"}
	begin := func(at time.Time) (int64, []int, time.Time) {
		own, others, err := d.Store.BeginAttempt(ctx, keys, at.Add(-time.Minute), at)
		require.NoError(t, err)
		return own, []int{others[0].N, others[1].N}, others[0].Last
	}
	_, n, _ := begin(now)
	assert.Equal(t, []int{0, 0}, n)
	own, n, last := begin(now.Add(time.Second))
	assert.Equal(t, []int{1, 0}, n)
	assert.WithinDuration(t, now, last, time.Millisecond, "that of the other")
	require.NoError(t, d.Store.CountWrong(ctx, keys[1:], now.Add(time.Second)))
	dropped, n, _ := begin(now.Add(2 * time.Second))
	assert.Equal(t, []int{2, 1}, n)
	require.NoError(t, d.Store.DropAttempt(ctx, dropped))
	_, n, _ = begin(now.Add(3 * time.Second))
	assert.Equal(t, []int{2, 1}, n)
	_, n, _ = begin(now.Add(-30 * time.Second))
	assert.Equal(t, []int{0, 0}, n, "what lies ahead of the clock is none")
	require.NoError(t, d.Store.ForgetAttempts(ctx, "k"))
	_, n, _ = begin(now.Add(4 * time.Second))
	assert.Equal(t, []int{0, 1}, n)
	assert.NotZero(t, own)
	_, err := d.Store.AccountByEmail(ctx, "nobody@tarnhollow.example")
	assert.ErrorIs(t, err, store.ErrNotFound)
}
