package store_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/library"
	"jetprimer/demo/schooltest"
	"jetprimer/store"
)

// TestALessonIsOpenedOnce: a later opening event takes nothing over, whatever
// its counter, and an open lesson, a signed one and its student's observations
// stay as they were.
func TestALessonIsOpenedOnce(t *testing.T) {
	s := smallSchool(t)
	seen := func() int {
		var n int
		require.NoError(t, s.in(func(tx *store.Tx) error {
			all, err := tx.Standings(s.student)
			n = len(all)
			return err
		}))
		return n
	}
	for _, id := range []string{s.open, s.signed[0]} {
		before, row := s.state(id)
		standings := seen()
		second := s.openingAs(func(o map[string]any) { o["instructor"], o["purpose"] = s.chief, "stage-check" })
		second.Counter = 1
		second.Device = "a" // sorts before every other
		answers, err := s.accept(id, s.chief, access.Chief, 0, second)
		require.NoError(t, err)
		assert.Equal(t, "refused", answers[0].Status)
		assert.Contains(t, answers[0].Reason, "is opened once")
		after, now := s.state(id)
		assert.Equal(t, before, after)
		assert.Equal(t, row, now)
		assert.Equal(t, standings, seen())
	}
}

// TestWhatALessonIsOpenedOn: versions that were never in force, people who are
// no instructors, things of nobody.
func TestWhatALessonIsOpenedOn(t *testing.T) {
	s := smallSchool(t)
	body := func(tx *store.Tx) ([]byte, error) { return tx.Body(library.KindList, "alder-110-full", 5) }
	require.NoError(t, s.in(func(tx *store.Tx) error {
		_, err := tx.AddDraft(library.KindList, "alder-110-full", "alder-110", "Draft", func(v int) ([]byte, error) {
			data, err := body(tx)
			return []byte(strings.Replace(string(data), `"version":5`, fmt.Sprintf(`"version":%d`, v), 1)), err
		}, s.chief, at(0))
		return err
	}))
	for name, c := range map[string]struct {
		change func(o map[string]any)
		want   string
	}{
		"a draft": {
			func(o map[string]any) { o["listVersion"] = 6 },
			"payload.listVersion names alder-110-full version 6, which was never in force",
		},
		"a type that is not there": {func(o map[string]any) { o["typeVersion"] = 9 }, "version 9 is not known"},
		"a student as instructor": {
			func(o map[string]any) { o["instructor"] = s.student },
			"payload.instructor is no instructor of this school",
		},
		"a stranger as instructor": {
			func(o map[string]any) { o["instructor"] = uuid.NewString() }, "payload.instructor is no instructor",
		},
		"no person at all": {
			func(o map[string]any) { o["instructor"] = "the chief" }, "payload.instructor is no instructor",
		},
		"an instructor as student": {
			func(o map[string]any) { o["student"] = s.instructor }, "payload.student is no student",
		},
		"another type's aircraft": {
			func(o map[string]any) { o["aircraftType"] = "rowan-180i" }, "payload.aircraftType is not that of QZ-SML",
		},
	} {
		_, err := s.accept(uuid.Must(uuid.NewV7()).String(), s.chief, access.Chief, 0, s.openingAs(c.change))
		var batch form.Problem
		require.ErrorAs(t, err, &batch, name)
		assert.Contains(t, err.Error(), c.want, name)
	}
}

// TestEachEventIsAnswered: what is wrong with one is said of that one.
func TestEachEventIsAnswered(t *testing.T) {
	s := smallSchool(t)
	answer := func(e lesson.Event) string {
		answers, err := s.accept(s.open, s.instructor, access.Instructor, 0, e)
		require.NoError(t, err)
		return answers[0].Status + " " + answers[0].Reason
	}
	note := func(words string) lesson.Event { return event(50, lesson.KindNote, `{"words":"`+words+`"}`) }
	far := note("w")
	far.Counter = 1 << 40
	old := note("w")
	old.Wall = "0000-01-01T00:00:00Z"
	for want, e := range map[string]lesson.Event{
		// alone in its batch
		"refused payload.result must be done or wrong": event(9,
			lesson.KindItemResult, `{"item":"papers","result":"fine"}`),
		"refused payload.words may not hold the character NUL":               note(`a\u0000b`),
		"refused payload.words holds half of a character (a lone surrogate)": note(`a\ud83db`),
		"refused payload.words is not UTF-8 text":                            note("a\xffb"),
		"refused counter must be 1 to 2147483648":                            far,
		"refused kind sealed is written by the server when a lesson is signed or answered": event(9,
			lesson.KindSealed, `{}`),
		"refused kind acknowledged is written by the server when a lesson is signed or answered": event(9,
			lesson.KindAcknowledged, `{}`),
		"refused kind self-grade is given by the student of the lesson and nobody else": event(9, lesson.KindSelfGrade,
			`{"levels":{"start":3}}`),
		"held ": old,
	} {
		assert.Equal(t, want, answer(e))
	}
	assert.Equal(t, "held ", answer(note(`\\u0000 is a way to write it, 😀 \ud83d\ude00`)),
		"a backslash that is escaped escapes nothing")
	deep := note("w")
	deep.Payload = json.RawMessage(`{"words":"w","x":` + strings.Repeat("[", 70) + strings.Repeat("]", 70) + `}`)
	assert.Equal(t, "refused payload nests deeper than 64 levels", answer(deep))

	_, row := s.state(s.open)
	assert.Equal(t, "held ", func() string {
		answers, err := s.accept(s.signed[0], s.student, access.Student, 0,
			event(30, lesson.KindSelfGrade, `{"levels":{"start":3}}`))
		require.NoError(t, err)
		return answers[0].Status + " " + answers[0].Reason
	}(), "the student says how they saw it, after the signature too")
	state, _ := s.state(s.signed[0])
	assert.Equal(t, 3, state.Self.Levels["start"])
	_, err := s.accept(row.ID, s.student, access.Student, 0, event(31, lesson.KindNote, `{"words":"mine"}`))
	assert.ErrorContains(t, err, "not open to the lesson's own student")
}

// TestDifferentContentNeverAnswers: a reading whose id comes again with another
// content is refused, and its verdict is of the content that is held.
func TestDifferentContentNeverAnswers(t *testing.T) {
	s := smallSchool(t)
	good := event(60, lesson.KindReading, `{"item":"magnetos","check":"suction","reading":{"inHg":5}}`)
	_, err := s.accept(s.open, s.instructor, access.Instructor, 0, good)
	require.NoError(t, err)
	bad := good
	bad.Payload = json.RawMessage(`{"item":"magnetos","check":"suction","reading":{"inHg":3}}`)
	answers, err := s.accept(s.open, s.instructor, access.Instructor, 0, bad,
		event(61, lesson.KindNote, `{"words":"after"}`))
	require.NoError(t, err)
	assert.Equal(t, "id is already held with another content", answers[0].Reason)
	state, _ := s.state(s.open)
	assert.Equal(t, "normal", string(state.Readings[0].Verdict.Outcome))
}

// TestSigningIsWholeOrNotAtAll: an id that is taken signs nothing and seals
// nothing; a high counter does not keep a lesson from being signed.
func TestSigningIsWholeOrNotAtAll(t *testing.T) {
	s := smallSchool(t)
	high := event(40, lesson.KindNote, `{"words":"from a tablet that counts far"}`)
	high.Counter = lesson.MaxCounter
	_, err := s.accept(s.open, s.instructor, access.Instructor, 0, high, event(41, lesson.KindEnded, `{}`))
	require.NoError(t, err)
	state, row := s.state(s.open)
	by := store.Signer{ID: s.instructor}
	err = s.in(func(tx *store.Tx) error { return tx.Sign(s.open, state.EventHash, by, row.OpenedEvent, at(0)) })
	assert.ErrorContains(t, err, "event is the id of another event")
	before, err := s.verify()
	require.NoError(t, err, "neither a seal without a signature nor the other way round")
	s.sign(s.open, 0)
	after, err := s.verify()
	require.NoError(t, err)
	assert.Equal(t, before.Seals+1, after.Seals)
	require.NoError(t, s.in(func(tx *store.Tx) error {
		return tx.Sign(s.open, state.EventHash, by, uuid.Must(uuid.NewV7()).String(), at(0))
	}),
		"signed again from a screen that has not heard of it")
	again, err := s.verify()
	require.NoError(t, err)
	assert.Equal(t, after, again)
}

// TestTheSchoolsDay: in Auckland it is tomorrow at noon of Greenwich.
func TestTheSchoolsDay(t *testing.T) {
	s := smallSchool(t)
	owner := must(pgx.Connect(context.Background(), s.OwnerURL))
	defer owner.Close(context.Background())
	var day string
	require.NoError(t, owner.QueryRow(context.Background(), "select min(on_day)::text from observations").Scan(&day))
	assert.Equal(t, on(-4), day, "lessons of five days ago at noon UTC")
	require.NoError(t, s.in(func(tx *store.Tx) error {
		assert.Equal(t, on(1), tx.Day(at(0)))
		v := must(tx.VersionOf(library.KindLayer, "first", 1))
		assert.ErrorContains(t, tx.Withdraw(v, on(0), s.chief, at(0)), "today or later", "today has ended there")
		return nil
	}))
	assert.ErrorContains(t,
		s.Store.AddSchool(context.Background(), store.School{
			ID: uuid.NewString(), Name: "x", TimeZone: "Atlantis/Deep", CreatedAt: at(0),
		}, nil), "is no time zone")
}

// TestAnAbsurdClockDatesNothing: a lesson whose tablet stands in the year 0 is
// dated by its arrival.
func TestAnAbsurdClockDatesNothing(t *testing.T) {
	s := smallSchool(t)
	for _, wall := range []string{"0000-01-01T00:00:00Z", "9999-01-01T00:00:00Z", "what", ""} {
		opening := s.openingAs(nil)
		opening.Wall = wall
		id := uuid.Must(uuid.NewV7()).String()
		_, err := s.accept(id, s.instructor, access.Instructor, 0, opening)
		require.NoError(t, err, wall)
		_, row := s.state(id)
		assert.WithinDuration(t, at(0), row.OpenedAt, time.Second, wall)
	}
}

// TestErrorsAreToldApart: what cannot be an id names nothing; what cannot be
// reached is unavailable; nothing that was typed stands in an error.
func TestErrorsAreToldApart(t *testing.T) {
	s := smallSchool(t)
	for _, id := range []string{"not-an-id", "' or true", "00000000-0000-0000-0000-00000000000g"} {
		err := s.in(func(tx *store.Tx) error { _, err := tx.Lesson(id); return err })
		assert.ErrorIs(t, err, store.ErrNotFound, id)
		assert.NotContains(t, fmt.Sprint(err), id, "the database's words repeat the value")
	}
	_, err := s.Store.AccountByEmail(context.Background(), "a\x00b@small.example")
	assert.ErrorIs(t, err, store.ErrText)
	gone, err := store.Open(context.Background(), s.AppURL, schooltest.Secret, s.Catalog)
	require.NoError(t, err)
	require.NoError(t, gone.Close())
	_, err = store.Open(context.Background(), "postgres://nobody@127.0.0.1:1/none?sslmode=disable", schooltest.Secret,
		s.Catalog)
	assert.ErrorIs(t, err, store.ErrUnavailable)
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	assert.True(t,
		errors.Is(s.Store.In(ctx, s.id, func(context.Context, *store.Tx) error { return nil }), context.Canceled))
}

// TestServingNeedsTheRightSecretAndSchema: each is refused at the start, in a
// sentence.
func TestServingNeedsTheRightSecretAndSchema(t *testing.T) {
	s, ctx := smallSchool(t), context.Background()
	_, err := store.Open(ctx, s.AppURL, "another secret of the same length", s.Catalog)
	assert.ErrorContains(t, err, "the secret is not the one it was kept under")
	owner := must(pgx.Connect(ctx, s.OwnerURL))
	defer owner.Close(ctx)
	must(owner.Exec(ctx, "delete from goose_db_version where version_id = $1", must(store.SchemaVersion())))
	_, err = store.Open(ctx, s.AppURL, schooltest.Secret, s.Catalog)
	assert.ErrorIs(t, err, store.ErrSchema)
	assert.ErrorContains(t, err, "Run jetprimer migrate")
}

// TestSessionsDoNotComeBackWithABackup: dumped and restored, a session opens
// nothing.
func TestSessionsDoNotComeBackWithABackup(t *testing.T) {
	s, ctx := smallSchool(t), context.Background()
	require.NoError(t, s.Store.Sessions().Commit("token", []byte("data"), time.Now().Add(time.Hour)))
	_, there, err := s.Store.Sessions().Find("token")
	require.NoError(t, err)
	assert.True(t, there)
	bin := "pg_dump"
	if _, err := exec.LookPath(bin); err != nil {
		found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/pg_dump")
		require.NotEmpty(t, found)
		bin = found[len(found)-1]
	}
	dump, err := exec.Command(bin, "--no-owner", "--no-privileges", "--table=sessions", s.OwnerURL).Output()
	require.NoError(t, err)
	assert.Contains(t, string(dump), "token", "the backup holds it")
	owner := must(pgx.Connect(ctx, s.OwnerURL))
	defer owner.Close(ctx)
	must(owner.Exec(ctx, "drop table sessions"))
	psql := exec.Command(strings.TrimSuffix(bin, "pg_dump")+"psql", "-q", "-v", "ON_ERROR_STOP=1", s.OwnerURL)
	psql.Stdin = strings.NewReader(string(dump))
	out, err := psql.CombinedOutput()
	require.NoError(t, err, string(out))
	must(owner.Exec(ctx, "grant select, insert, update, delete on sessions to "+store.AppRole))
	var n int
	require.NoError(t, owner.QueryRow(ctx, "select count(*) from sessions").Scan(&n))
	assert.Equal(t, 1, n, "it came back")
	_, there, err = s.Store.Sessions().Find("token")
	require.NoError(t, err)
	assert.False(t, there, "and opens nothing")
}

// TestASessionThatRestsEnds: by its school's hours.
func TestASessionThatRestsEnds(t *testing.T) {
	s, ctx := smallSchool(t), context.Background()
	require.NoError(t, s.Store.Sessions().Commit("token", []byte("data"), time.Now().Add(200*time.Hour)))
	require.NoError(t, s.Store.Begun(ctx, "token", uuid.NewString(), s.id, 3, "", "", time.Now()))
	owner := must(pgx.Connect(ctx, s.OwnerURL))
	defer owner.Close(ctx)
	rest := func(hours string) bool {
		must(owner.Exec(ctx, "update sessions set seen_at = now() - interval '"+hours+"'"))
		_, there, err := s.Store.Sessions().Find("token")
		require.NoError(t, err)
		return there
	}
	assert.True(t, rest("2 hours"))
	assert.True(t, rest("170 minutes"), "seen again, it rests anew")
	assert.True(t, rest("-24 hours"), "of a clock that was ahead")
	var ahead bool
	require.NoError(t, owner.QueryRow(ctx, "select seen_at > now() from sessions").Scan(&ahead))
	assert.False(t, ahead, "it rests from now")
	assert.False(t, rest("181 minutes"))
}

// TestTheFeedForgetsAndTells: old changes are cleared away, and who comes with
// an old cursor hears of the whole school; what is written is heard of.
func TestTheFeedForgetsAndTells(t *testing.T) {
	s := smallSchool(t)
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	hub := s.Store.Listen(ctx)
	<-hub.Ready()
	heard, done := hub.Watch(s.id)
	defer done()
	others, doneToo := hub.Watch(uuid.NewString())
	defer doneToo()
	time.Sleep(50 * time.Millisecond)
	for len(heard)+len(others) > 0 { // what the hub's own start told
		select {
		case <-heard:
		case <-others:
		}
	}
	_, err := s.accept(s.open, s.instructor, access.Instructor, 0, event(70, lesson.KindNote, `{"words":"w"}`))
	require.NoError(t, err)
	select {
	case <-heard:
	case <-time.After(5 * time.Second):
		t.Fatal("a write was not heard of")
	}
	assert.Empty(t, others, "another school hears nothing")

	owner := must(pgx.Connect(context.Background(), s.OwnerURL))
	defer owner.Close(context.Background())
	must(owner.Exec(context.Background(), "update school_feed set seq = 30499"))
	_, err = s.accept(s.open, s.instructor, access.Instructor, 0, event(71, lesson.KindNote, `{"words":"w"}`))
	require.NoError(t, err)
	require.NoError(t, s.in(func(tx *store.Tx) error {
		changes, cursor, err := tx.Feed(3)
		assert.Equal(t, []store.Change{{Seq: 30500, Subject: "school", Ref: s.id}}, changes)
		assert.Equal(t, int64(30500), cursor)
		return err
	}))
}

// TestBatchesCostWhatTheyBring: a batch of one event asks as little of the
// database after three hundred as after ten, and writes what differs.
func TestBatchesCostWhatTheyBring(t *testing.T) {
	s := smallSchool(t)
	n := int64(100)
	add := func(events int) int64 {
		var batch []lesson.Event
		for range events {
			n++
			batch = append(batch, event(n, lesson.KindNote, `{"words":"w"}`))
		}
		before := s.Store.Statements()
		_, err := s.accept(s.open, s.instructor, access.Instructor, 0, batch...)
		require.NoError(t, err)
		return s.Store.Statements() - before
	}
	add(1)
	early := add(1)
	add(300)
	assert.Equal(t, early, add(1))
	assert.LessOrEqual(t, early, int64(9))
}
