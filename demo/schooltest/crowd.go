package schooltest

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/core/lesson"
	"jetprimer/demo"
	"jetprimer/store"
)

// Crowd makes the demo school a large one, to measure by: students in all, each
// a copy of one of the demo's, whose signed lessons are theirs times over, each
// time half a year earlier. What the rules derived of those lessons is copied
// with them; their events and seals are not, since nothing that is measured
// reads them. It gives the numbers of lessons and item results.
func Crowd(t testing.TB, d *Database, students, times int) (lessons, results int) {
	t.Helper()
	ctx := context.Background()
	conn, err := pgx.Connect(ctx, d.OwnerURL)
	require.NoError(t, err)
	defer conn.Close(ctx)
	_, err = conn.Exec(ctx,
		"create temp table asked as select $1::uuid as school, $2::int as students, $3::int as times", demo.SchoolID,
		students, times)
	require.NoError(t, err)
	for _, statement := range []string{
		`create function pg_temp.again(json) returns json language sql as 'select json_agg(e) from asked, generate_series(1, times), json_array_elements($1) e'`,
		`create temp table crowd as select s.id as model, md5('student ' || n)::uuid as id, n
			from generate_series(1, (select students from asked)) n join (select id, row_number() over (order by id) - 1 as at, count(*) over () as of from students where school_id = (select school from asked)) s on s.at = n % s.of`,
		`insert into accounts (id, email, name, password) select id, 'student-' || n || '@tarnhollow.example', 'Student ' || n, 'x' from crowd`,
		`insert into memberships (school_id, account_id, roles) select (select school from asked), id, '["student"]' from crowd`,
		`insert into students (school_id, id, instructor_id, class, engine_kind, start_type, started_on)
			select s.school_id, c.id, s.instructor_id, s.class, s.engine_kind, s.start_type, s.started_on from crowd c join students s on s.id = c.model`,
		`create temp table flown as select l.id as model, md5('lesson ' || c.n || ' ' || k || ' ' || l.id)::uuid as id, c.id as student, k
			from crowd c join lessons l on l.student_id = c.model and l.status = 'signed' and l.school_id = (select school from asked) cross join generate_series(0, (select times from asked) - 1) k`,
		`insert into lessons (school_id, id, student_id, instructor_id, registration, opened_at, opened, status, marked, total, phases, opened_event, last_seq)
			select l.school_id, f.id, f.student, l.instructor_id, l.registration, l.opened_at - k * interval '182 days', l.opened, l.status, l.marked, l.total, l.phases, l.opened_event, l.last_seq
			from flown f join lessons l on l.id = f.model`,
		`insert into item_results (school_id, lesson_id, item, position, level, proposed, implied, mark)
			select r.school_id, f.id, r.item, r.position, r.level, r.proposed, r.implied, r.mark from flown f join item_results r on r.lesson_id = f.model`,
		`insert into readings (school_id, lesson_id, event_id, registration, check_name, engine, attempt, item, reading, verdict, at)
			select r.school_id, f.id, md5(f.id::text || r.event_id)::uuid, r.registration, r.check_name, r.engine, r.attempt, r.item, r.reading, r.verdict, r.at - k * interval '182 days' from flown f join readings r on r.lesson_id = f.model`,
		`insert into observations (school_id, student_id, lesson_id, ordinal, element, item, level, implied, oral, mark, registration, class, engine_kind, start_type, instructor_id, on_day, opened_at)
			select o.school_id, f.student, f.id, o.ordinal, o.element, o.item, o.level, o.implied, o.oral, o.mark, o.registration, o.class, o.engine_kind, o.start_type, o.instructor_id,
				o.on_day - k * 182, o.opened_at - k * interval '182 days' from flown f join observations o on o.lesson_id = f.model`,
		`insert into stage_checks (school_id, student_id, lesson_id, instructor_id, on_day, passed)
			select c.school_id, f.student, f.id, c.instructor_id, c.on_day - k * 182, c.passed from flown f join stage_checks c on c.lesson_id = f.model`,
		`insert into standings (school_id, student_id, element, held, newest, lapses_on, lessons, needs, history)
			select s.school_id, c.id, s.element, s.held, s.newest, s.lapses_on, s.lessons * (select times from asked), s.needs, s.history from crowd c join standings s on s.student_id = c.model`,
		`insert into courses (school_id, student_id, lessons, days, met, checks)
			select s.school_id, c.id, pg_temp.again(s.lessons), pg_temp.again(s.days), pg_temp.again(s.met), pg_temp.again(s.checks) from crowd c join courses s on s.student_id = c.model`,
	} {
		_, err := conn.Exec(ctx, statement)
		require.NoError(t, err, statement)
	}
	_, err = conn.Exec(ctx, "vacuum (analyze, freeze)")
	require.NoError(t, err)
	super, err := pgx.Connect(ctx, SuperURL())
	require.NoError(t, err)
	defer super.Close(ctx)
	_, err = super.Exec(ctx, "checkpoint") // nothing of the filling is written while it is measured
	require.NoError(t, err)
	require.NoError(t,
		conn.QueryRow(ctx, "select (select count(*) from lessons), (select count(*) from item_results)").Scan(&lessons,
			&results))
	return lessons, results
}

// Enrol makes the demo school larger by students who have each flown and signed
// one lesson for real: a copy of one of the demo's, with its events and a seal of
// their own.
func Enrol(t testing.TB, d *Database, students int) {
	t.Helper()
	ctx := context.Background()
	var model store.Lesson
	var events []lesson.Event
	require.NoError(t, d.Store.In(ctx, demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		flown, err := tx.Lessons("", Day.AddDate(-1, 0, 0), Day)
		if err != nil {
			return err
		}
		// One whose list no layer changes: it is the same on any day.
		model = flown[slices.IndexFunc(flown,
			func(l store.Lesson) bool { return l.Type == "rowan-180i" && l.Status == "signed" })]
		events, err = tx.Events(model.ID)
		return err
	}))
	events = slices.DeleteFunc(events, func(e lesson.Event) bool {
		return e.Kind == lesson.KindSealed || e.Kind == lesson.KindAcknowledged || e.Kind == lesson.KindSelfGrade
	})
	for n := range students {
		who := store.Account{
			ID: uuid.NewString(), Email: fmt.Sprintf("flown-%d@tarnhollow.example", n),
			Name: fmt.Sprintf("Flown %d", n), Password: "x",
		}
		require.NoError(t, d.Store.AddAccount(ctx, who))
		again := []string{model.ID, uuid.Must(uuid.NewV7()).String(), model.StudentID, who.ID}
		for _, e := range events {
			again = append(again, e.ID, uuid.Must(uuid.NewV7()).String())
		}
		id := again[1]
		anew := strings.NewReplacer(again...)
		own := make([]lesson.Event, len(events))
		for i, e := range events {
			own[i] = e
			own[i].ID, own[i].Device, own[i].Payload = anew.Replace(e.ID), "crowd-"+
				e.Device, json.RawMessage(anew.Replace(string(e.Payload)))
		}
		by := store.Sender{ID: model.InstructorID, Roles: access.Roles{access.Instructor}}
		require.NoError(t, d.Store.In(ctx, demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
			if err := tx.Join(who.ID, access.Student); err != nil {
				return err
			}
			like, err := tx.Student(model.StudentID)
			if err != nil {
				return err
			}
			like.ID = who.ID
			if err := tx.AddStudent(like); err != nil {
				return err
			}
			answers, err := tx.Accept(id, own, by, Day)
			if err != nil {
				return err
			}
			for _, a := range answers {
				if a.Status != "held" {
					return fmt.Errorf("%s: %s", a.Status, a.Reason)
				}
			}
			row, err := tx.Lesson(id)
			if err != nil {
				return err
			}
			state, _, _, err := tx.State(row)
			if err != nil {
				return err
			}
			return tx.Sign(id, state.EventHash, store.Signer{
				ID: model.InstructorID, Name: model.Instructor, How: "password",
			}, uuid.Must(uuid.NewV7()).String(), Day)
		}))
	}
}
