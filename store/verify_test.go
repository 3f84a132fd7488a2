package store_test

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/library"
	"jetprimer/core/record"
	"jetprimer/demo/schooltest"
	"jetprimer/store"
)

// small is a school with two signed lessons, an open one and two approved
// layers, one of them withdrawn.
type small struct {
	*schooltest.Database
	testing.TB
	id, chief, instructor, student string
	signed                         []string
	open                           string
}

func (s *small) in(fn func(tx *store.Tx) error) error {
	return s.Store.In(context.Background(), s.id, func(_ context.Context, tx *store.Tx) error { return fn(tx) })
}

// smallSchool makes it as of the tests' day.
func smallSchool(t testing.TB) *small {
	ctx := context.Background()
	s := &small{
		Database: schooltest.New(t), TB: t, id: uuid.NewString(), chief: uuid.NewString(), instructor: uuid.NewString(),
		student: uuid.NewString(),
	}
	require.NoError(t,
		s.Store.AddSchool(ctx, store.School{
			ID: s.id, Name: "Small school", TimeZone: "Pacific/Auckland", CreatedAt: at(-30),
		}, nil))
	for id, role := range map[string]string{
		s.chief: access.Chief, s.instructor: access.Instructor, s.student: access.Student,
	} {
		require.NoError(t,
			s.Store.AddAccount(ctx, store.Account{
				ID: id, Email: role + "@small.example", Name: "Some " + role, Password: "x",
			}))
		require.NoError(t, s.in(func(tx *store.Tx) error { return tx.Join(id, role) }))
	}
	alder, _ := s.Catalog.Type("alder-110")
	require.NoError(t, s.in(func(tx *store.Tx) error {
		if err := tx.AddAircraft(store.Aircraft{Registration: "QZ-SML", Type: alder.ID, Base: "XTHW",
			ElevationFt: 412}); err != nil {
			return err
		}
		return tx.AddStudent(store.Student{
			ID: s.student, InstructorID: s.instructor, Class: alder.Class, EngineKind: alder.EngineKind,
			StartType: alder.StartType, StartedOn: "2026-10-01",
		})
	}))
	for _, id := range []string{"first", "second"} {
		s.approve(id)
	}
	require.NoError(t, s.in(func(tx *store.Tx) error {
		return tx.Withdraw(must(tx.VersionOf(library.KindLayer, "second", 1)), on(5), s.chief, at(0))
	}))
	for day := range 2 {
		id := s.fly(day-5, event(2, lesson.KindItemResult, `{"item":"papers","result":"done"}`),
			event(3, lesson.KindOmitted, `{"item":"walk-round"}`),
			event(4, lesson.KindReading, `{"item":"magnetos","check":"suction","reading":{"inHg":5}}`),
			event(5, lesson.KindFinding, `{"item":"papers","words":"seat rail worn"}`),
			event(6, lesson.KindOral, `{"item":"papers","question":"Why?","level":4}`),
			event(7, lesson.KindEnded, `{}`))
		s.decide(id)
		s.sign(id, day-5)
		s.signed = append(s.signed, id)
	}
	s.open = s.fly(0, event(2, lesson.KindItemResult, `{"item":"papers","result":"done"}`))
	return s
}

// super connects to the school's database as somebody who may do anything.
func (s *small) super() *pgx.Conn {
	config, err := pgx.ParseConfig(schooltest.SuperURL())
	require.NoError(s, err)
	config.Database = must(pgx.ParseConfig(s.OwnerURL)).Database
	conn, err := pgx.ConnectConfig(context.Background(), config)
	require.NoError(s, err)
	s.Cleanup(func() { _ = conn.Close(context.Background()) })
	return conn
}

func (s *small) approve(id string) {
	layer := checklist.Layer{
		ID: id, Title: id, Version: 1, Rank: "school", AircraftType: "alder-110", Source: "us", Date: on(-20),
		Author: "us", Approval: "us", Changes: []checklist.Change{},
	}
	body, err := json.Marshal(layer)
	require.NoError(s, err)
	require.NoError(s, s.in(func(tx *store.Tx) error {
		_, err := tx.AddDraft(library.KindLayer, id, "alder-110", id, func(int) ([]byte, error) { return body, nil },
			s.chief, at(-20))
		return err
	}))
	version := func(tx *store.Tx) library.Version { return must(tx.VersionOf(library.KindLayer, id, 1)) }
	require.NoError(s, s.in(func(tx *store.Tx) error { return tx.Review(version(tx), s.instructor, at(-20)) }))
	require.NoError(s, s.in(func(tx *store.Tx) error { return tx.Approve(version(tx), on(-19), s.chief, at(-20)) }))
}

// openingAs is the event that opens a lesson of the small school.
func (s *small) openingAs(change func(o map[string]any)) lesson.Event {
	o := map[string]any{"student": s.student, "instructor": s.instructor, "aircraft": "QZ-SML",
		"aircraftType": "alder-110", "typeVersion": 3,
		"list": "alder-110-full", "listVersion": 4, "method": "read-and-do", "scale": "five", "purpose": "training"}
	if change != nil {
		change(o)
	}
	payload, err := json.Marshal(o)
	require.NoError(s, err)
	return event(1, lesson.KindOpened, string(payload))
}

func (s *small) accept(id, by, role string, day int, events ...lesson.Event) ([]lesson.Taken, error) {
	var answers []lesson.Taken
	err := s.in(func(tx *store.Tx) (err error) {
		answers, err = tx.Accept(id, events, store.Sender{ID: by, Roles: access.Roles{role}}, at(day))
		return err
	})
	return answers, err
}

// fly opens a lesson on a day and adds events to it.
func (s *small) fly(day int, events ...lesson.Event) string {
	id := uuid.Must(uuid.NewV7()).String()
	opening := s.openingAs(nil)
	opening.Wall = at(day).Format(time.RFC3339)
	answers, err := s.accept(id, s.instructor, access.Instructor, day, append([]lesson.Event{opening}, events...)...)
	require.NoError(s, err)
	for i, a := range answers {
		require.Equal(s, "held", a.Status, "event %d: %s", i, a.Reason)
	}
	return id
}

// decide settles the lesson's finding.
func (s *small) decide(id string) {
	state, _ := s.state(id)
	for i, f := range state.Findings {
		_, err := s.accept(id, s.instructor, access.Instructor, -4,
			event(int64(20+i), lesson.KindDecision,
				fmt.Sprintf(`{"about":%q,"decision":"deferred","told":"Bo","why":"under the operator's rules"}`,
					f.Event)))
		require.NoError(s, err)
	}
}

func (s *small) state(id string) (state lesson.State, row store.Lesson) {
	require.NoError(s, s.in(func(tx *store.Tx) (err error) {
		row = must(tx.Lesson(id))
		state, _, _, err = tx.State(row)
		return err
	}))
	return state, row
}

func (s *small) sign(id string, day int) {
	state, _ := s.state(id)
	require.NoError(s, s.in(func(tx *store.Tx) error {
		return tx.Sign(id, state.EventHash, store.Signer{ID: s.instructor}, uuid.Must(uuid.NewV7()).String(), at(day))
	}))
}

func (s *small) verify() (chain store.Chain, err error) {
	err = s.in(func(tx *store.Tx) (err error) { chain, err = tx.VerifyChain(); return err })
	return chain, err
}

// tampered are changes that somebody who owns the database can make. $seal and
// $last stand for the first and last seal of a lesson, $lesson for the first
// signed lesson, $open for the open one.
var tampered = map[string]string{
	"the content of a seal":                    `update seals set content = content || ' '::bytea where number = $seal`,
	"a seal gone":                              `delete from seals where number = $seal`,
	"the last seal gone":                       `delete from seals where number = $last`,
	"the last seal gone, the feed set back":    `with p as (select previous from seals where number = $last) update school_feed set seals = seals - 1, chain = (select previous from p); delete from seals where number = $last`,
	"all seals gone":                           `delete from seals`,
	"all seals gone, the feed set back":        `delete from seals; update school_feed set seals = 0, chain = ''`,
	"two seals in each other's place":          `update seals set number = -1 where number = $seal; update seals set number = $seal where number = $seal + 1; update seals set number = $seal + 1 where number = -1`,
	"a seal's previous hash":                   `update seals set previous = hash where number = $seal`,
	"a seal's hash":                            `update seals set hash = previous where number = $seal`,
	"a seal's signature":                       `update seals set signature = hash || hash where number = $seal`,
	"a seal's key":                             `update signing_keys set public = '\x0102'`,
	"another key under the same name":          `update signing_keys set public = sha256(public)`,
	"a seal's lesson":                          `update seals set lesson_id = '$open' where number = $seal`,
	"a seal's event":                           `update seals set event_id = gen_random_uuid() where number = $seal`,
	"a seal's signer":                          `update seals set signed_by = '$chief' where number = $seal`,
	"a seal's time":                            `update seals set signed_at = signed_at - interval '1 day' where number = $seal`,
	"a seal's format":                          `update seals set format = 1 where number = $seal`,
	"a seal's subject":                         `update seals set subject = 'version' where number = $seal`,
	"the feed's head":                          `update school_feed set chain = sha256(chain)`,
	"the feed's count of seals":                `update school_feed set seals = seals + 1`,
	"the feed's count of writes":               `update school_feed set seq = 1`,
	"a sealed event's payload":                 `update lesson_events set payload = '{"item":"papers","result":"wrong"}' where lesson_id = '$lesson' and kind = 'item-result'`,
	"a sealed event's kind":                    `update lesson_events set kind = 'assist', payload = '{"item":"papers"}' where lesson_id = '$lesson' and kind = 'item-result'`,
	"a sealed event's time":                    `update lesson_events set at_ms = at_ms + 1 where lesson_id = '$lesson' and kind = 'omitted'`,
	"a sealed event's device":                  `update lesson_events set device = 'other' where lesson_id = '$lesson' and kind = 'omitted'`,
	"a sealed event gone":                      `delete from lesson_events where lesson_id = '$lesson' and kind = 'omitted'`,
	"all events of a signed lesson gone":       `delete from lesson_events where lesson_id = '$lesson'`,
	"a signature's event gone":                 `delete from lesson_events where lesson_id = '$lesson' and kind = 'sealed'`,
	"a signature's event names another signer": `update lesson_events set payload = replace(payload::text, '$instructor', '$chief')::json where lesson_id = '$lesson' and kind = 'sealed'`,
	"a signature without a seal":               `insert into lesson_events select school_id, '$open', gen_random_uuid(), device, seq, counter, at_ms, wall, kind, v, payload, sent_by, received_at from lesson_events where lesson_id = '$lesson' and kind = 'sealed'`,
	"a signed lesson gone":                     `delete from lesson_events where lesson_id = '$lesson'; delete from lessons where id = '$lesson'`,
	"a lesson's student":                       `update lessons set student_id = '$chief' where id = '$lesson'`,
	"a lesson's instructor":                    `update lessons set instructor_id = '$chief' where id = '$lesson'`,
	"a lesson's day":                           `update lessons set opened_at = opened_at - interval '40 days' where id = '$lesson'`,
	"a lesson's opening":                       `update lessons set opened = jsonb_set(opened, '{purpose}', '"stage-check"') where id = '$lesson'`,
	"a lesson's opening event":                 `update lessons set opened_event = gen_random_uuid() where id = '$lesson'`,
	"a lesson's state":                         `update lessons set status = 'open' where id = '$lesson'`,
	"a lesson's marks":                         `update lessons set marked = marked + 1 where id = '$open'`,
	"an item's level":                          `update item_results set level = 4 where lesson_id = '$lesson' and item = 'walk-round'`,
	"an item's result gone":                    `delete from item_results where lesson_id = '$lesson' and item = 'walk-round'`,
	"an item's result made up":                 `insert into item_results select school_id, lesson_id, 'made-up', 1, 4, 4, false, 'done' from item_results limit 1`,
	"a reading":                                `update readings set reading = '{"inHg":4}' where lesson_id = '$lesson'`,
	"a verdict":                                `update readings set verdict = null where lesson_id = '$lesson'`,
	"a finding's decision":                     `update findings set decision = 'cleared' where lesson_id = '$lesson'`,
	"a finding gone":                           `delete from findings where lesson_id = '$lesson'`,
	"an observation":                           `update observations set level = 4 where lesson_id = '$lesson' and level < 4`,
	"observations gone":                        `delete from observations where lesson_id = '$lesson'`,
	"a stage check made up":                    `insert into stage_checks select id, '$student', '$lesson', '$chief', current_date, true from schools limit 1`,
	"a standing":                               `update standings set held = 'consolidated'`,
	"a standing's day":                         `update standings set newest = newest + 30`,
	"a critical error answered":                `delete from open_criticals`,
	"an approved layer's text":                 `update library set body = replace(body::text, '"us"', '"them"')::json where id = 'first'`,
	"an approved layer's title":                `update library set title = 'another' where id = 'first'`,
	"an approved layer's approver":             `update library set approved_by = '$instructor' where id = 'first'`,
	"an approved layer's day":                  `update library set in_force_from = in_force_from - 30 where id = 'first'`,
	"an approved layer withdrawn":              `update library set status = 'withdrawn', withdrawn_from = current_date, withdrawn_by = '$chief' where id = 'first'`,
	"a withdrawal's day":                       `update library set withdrawn_from = withdrawn_from + 30 where id = 'second'`,
	"a withdrawn layer back in force":          `update library set status = 'in-force', withdrawn_from = null, withdrawn_by = null where id = 'second'`,
	"who sent a sealed event":                  `update lesson_events set sent_by = '$chief' where lesson_id = '$lesson' and kind = 'omitted'`,
	"when a sealed event arrived":              `update lesson_events set received_at = received_at + interval '1 hour' where lesson_id = '$lesson' and kind = 'omitted'`,
	"a lesson's flag":                          `update lessons set flag = 'opened in the air' where id = '$lesson'`,
	"how long a lesson ran":                    `update lessons set duration_ms = duration_ms + 60000 where id = '$lesson'`,
	"who observed a lesson":                    `update lessons set observers = '["$chief"]' where id = '$lesson'`,
	"events of no lesson":                      `insert into lesson_events select school_id, gen_random_uuid(), gen_random_uuid(), device, seq, counter, at_ms, wall, kind, v, payload, sent_by, received_at from lesson_events where lesson_id = '$lesson' and kind = 'omitted'`,
	"a picture's bytes":                        `insert into pictures select id, '$lesson', repeat('0', 64), 'x', '$instructor', now() from schools limit 1`,
	"an approved layer gone":                   `delete from library where id = 'first'`,
}

// TestWhateverIsChangedIsFound: everything that somebody who owns the database
// can do to what was signed, or derived from it, breaks the chain.
func TestWhateverIsChangedIsFound(t *testing.T) {
	s, ctx := smallSchool(t), context.Background()
	sound, err := s.verify()
	require.NoError(t, err)
	assert.Equal(t, store.Chain{Seals: 3 + 2, Head: sound.Head, Lessons: 3, Keys: sound.Keys}, sound)
	assert.Len(t, sound.Keys, 1)

	super := s.super()
	tables := []string{"seals", "signing_keys", "school_feed", "lesson_events", "lessons", "item_results", "readings",
		"findings", "observations", "stage_checks",
		"standings", "open_criticals", "library", "pictures", "memberships", "aircraft", "returns"}
	must(super.Exec(ctx, "set session_replication_role = replica")) // neither triggers nor references stand in the way
	for _, table := range tables {
		must(super.Exec(ctx, "create temp table kept_"+table+" as select * from "+table))
	}
	for what, statements := range tampered {
		statements = strings.NewReplacer("$seal", "4", "$last", "5", "$lesson", s.signed[0], "$open", s.open, "$chief",
			s.chief, "$instructor", s.instructor, "$student", s.student).Replace(statements)
		changed := false
		for _, statement := range strings.Split(statements, "; ") {
			done, err := super.Exec(ctx, statement)
			require.NoError(t, err, what)
			changed = changed || done.RowsAffected() > 0
		}
		require.True(t, changed, "%s changes nothing", what)
		_, err := s.verify()
		assert.Error(t, err, "%s is not found", what)
		for _, table := range tables {
			must(super.Exec(ctx, "delete from "+table))
			must(super.Exec(ctx, "insert into "+table+" select * from kept_"+table))
		}
		again, err := s.verify()
		require.NoError(t, err, "%s was taken back", what)
		require.Equal(t, sound.Head, again.Head)
	}
	t.Logf("%d changes found", len(tampered))
	for what, statement := range map[string]string{
		"names of people":      `update memberships set name = 'Somebody else' where account_id = '$student'`,
		"roles":                `update memberships set roles = '["admin"]' where account_id = '$student'`,
		"aircraft: their type": `update aircraft set base = 'XSTB'`,
		"returns to service":   `insert into returns select id, '$lesson', gen_random_uuid(), 'w', 'r', '$chief', now() from schools limit 1`,
		"the feed of changes":  `delete from school_changes where seq = 3`,
	} {
		must(super.Exec(ctx,
			strings.NewReplacer("$lesson", s.signed[0], "$chief", s.chief, "$student", s.student).Replace(statement)))
		_, err := s.verify()
		assert.NoError(t, err, what)
		assert.Contains(t, strings.Join(store.Unproved, "; "), what, "what is not found is named")
	}
	assert.ErrorIs(t,
		s.Store.In(ctx, uuid.NewString(),
			func(_ context.Context, tx *store.Tx) error { _, err := tx.VerifyChain(); return err }), store.ErrNotFound,
		"a school that is not there is an error")
}

// TestTheProgramsRoleCannotRewrite: what the application's role itself is kept
// from doing.
func TestTheProgramsRoleCannotRewrite(t *testing.T) {
	s, ctx := smallSchool(t), context.Background()
	app, err := pgx.Connect(ctx, s.AppURL)
	require.NoError(t, err)
	defer app.Close(ctx)
	must(app.Exec(ctx,
		"insert into schools (id, name, time_zone, created_at) values (gen_random_uuid(), 'Elsewhere', 'UTC', now())"))
	must(app.Exec(ctx, "select set_config('app.school', $1, false)", s.id))
	for statement, want := range map[string]string{
		"delete from lessons where id = '" + s.open + "'":     "permission denied",
		"update lessons set student_id = '" + s.chief + "'":   "permission denied",
		"update lessons set opened_event = gen_random_uuid()": "permission denied",
		"update library set title = 'x' where id = 'first'":   "is approved and stays as it is",
		"update library set approved_by = '" + s.instructor +
			"' where id = 'first'": "is approved and stays as it is",
		"update library set withdrawn_from = '2030-01-01' where id = 'second'":                   "is approved and stays as it is",
		"update library set status = 'in-force', withdrawn_from = null where id = 'second'":      "is approved and stays as it is",
		"delete from library where id = 'first'":                                                 "is approved and stays as it is",
		"update school_feed set chain = ''":                                                      "the head of the chain",
		"update school_feed set seals = seals - 1":                                               "only moves on",
		"update school_feed set seals = seals + 1, chain = '\\x00'":                              "moves to a seal that is there",
		"update school_feed set seq = 0":                                                         "only moves on",
		"delete from school_feed":                                                                "permission denied",
		"update seals set signed_by = '" + s.chief + "'":                                         "permission denied",
		"delete from lesson_events":                                                              "permission denied",
		"update audit set what = 'nothing'":                                                      "permission denied",
		"update schools set name = 'ours'":                                                       "changes itself and no other",
		"update memberships set role = 'admin' where account_id in (select account_id from nil)": "does not exist",
	} {
		_, err := app.Exec(ctx, statement)
		assert.ErrorContains(t, err, want, statement)
	}
}

// TestOldSealsAreReadForGood: one seal of each format, as it was written.
func TestOldSealsAreReadForGood(t *testing.T) {
	s, ctx := smallSchool(t), context.Background()
	// A seal of format 1 kept school, lesson, number, key, events and result.
	state, row := s.state(s.open)
	super := s.super()
	state.Notes = []lesson.Note{{Event: "x", Words: "as the first rules had it"}}
	content, err := json.Marshal(map[string]any{
		"school": s.id, "lesson": s.open, "number": 6, "keyId": "k", "events": []any{}, "result": state,
	})
	require.NoError(t, err)
	must(super.Exec(ctx, "set session_replication_role = replica"))
	must(super.Exec(ctx, `insert into seals (school_id, number, subject, format, lesson_id, event_id, content, previous, hash, key_id, signature, signed_by, signed_at)
		values ($1, 6, 'lesson', 1, $2, gen_random_uuid(), $3, '', '', 'k', '', $4, now())`, s.id, s.open, content,
		s.instructor))
	sealed, err := json.Marshal(lesson.Sealed{
		Events: []string{row.OpenedEvent}, Hash: lesson.SetHash([]string{row.OpenedEvent}), Result: "r",
		RulesVersion: "2026.12", SignedBy: s.instructor,
	})
	require.NoError(t, err)
	must(super.Exec(ctx, `insert into lesson_events (school_id, lesson_id, id, device, seq, counter, at_ms, wall, kind, v, payload, sent_by, received_at)
		values ($1, $2, $3, 'school', 6, 9, 9, '', 'sealed', 1, $4, $5, now())`, s.id, s.open,
		uuid.Must(uuid.NewV7()).String(), string(sealed), s.instructor))
	old, _ := s.state(s.open)
	require.Len(t, old.Seals, 1)
	assert.Equal(t, "as the first rules had it", old.Notes[0].Words)

	now, _ := s.state(s.signed[0])
	assert.Len(t, now.Seals, 1, "and one of the format that is written now")
	assert.Equal(t, 4, record.SealFormat,
		"a new format keeps the reader of the old ones, and gets a seal of its own here")
}
