package demotest

import (
	"context"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
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
	_, err = conn.Exec(ctx, "create temp table asked as select $1::uuid as school, $2::int as students, $3::int as times", demo.SchoolID, students, times)
	require.NoError(t, err)
	for _, statement := range []string{
		`create temp table crowd as select s.id as model, md5('student ' || n)::uuid as id, n
			from generate_series(1, (select students from asked)) n join (select id, row_number() over (order by id) - 1 as at, count(*) over () as of from students where school_id = (select school from asked)) s on s.at = n % s.of`,
		`insert into accounts (id, email, name, password) select id, 'student-' || n || '@tarnhollow.example', 'Student ' || n, 'x' from crowd`,
		`insert into memberships (school_id, account_id, role) select (select school from asked), id, 'student' from crowd`,
		`insert into students (school_id, id, instructor_id, class, engine_kind, start_type, started_on)
			select s.school_id, c.id, s.instructor_id, s.class, s.engine_kind, s.start_type, s.started_on from crowd c join students s on s.id = c.model`,
		`create temp table flown as select l.id as model, md5('lesson ' || c.n || ' ' || k || ' ' || l.id)::uuid as id, c.id as student, k
			from crowd c join lessons l on l.student_id = c.model and l.status = 'signed' and l.school_id = (select school from asked) cross join generate_series(0, (select times from asked) - 1) k`,
		`insert into lessons (school_id, id, student_id, instructor_id, registration, opened_at, opened, status, marked, total, phases, opened_event, last_seq)
			select l.school_id, f.id, f.student, l.instructor_id, l.registration, l.opened_at - k * interval '182 days', l.opened, l.status, l.marked, l.total, l.phases, l.opened_event, l.last_seq
			from flown f join lessons l on l.id = f.model`,
		`insert into item_results (school_id, lesson_id, item, position, level, proposed, implied, mark)
			select r.school_id, f.id, r.item, r.position, r.level, r.proposed, r.implied, r.mark from flown f join item_results r on r.lesson_id = f.model`,
		`insert into observations (school_id, student_id, lesson_id, ordinal, element, item, level, implied, oral, mark, registration, class, engine_kind, start_type, instructor_id, on_day, opened_at)
			select o.school_id, f.student, f.id, o.ordinal, o.element, o.item, o.level, o.implied, o.oral, o.mark, o.registration, o.class, o.engine_kind, o.start_type, o.instructor_id,
				o.on_day - k * 182, o.opened_at - k * interval '182 days' from flown f join observations o on o.lesson_id = f.model`,
		`insert into stage_checks (school_id, student_id, lesson_id, instructor_id, on_day, passed)
			select c.school_id, f.student, f.id, c.instructor_id, c.on_day - k * 182, c.passed from flown f join stage_checks c on c.lesson_id = f.model`,
		`insert into standings (school_id, student_id, element, held, newest, lapses_on, lessons, history)
			select s.school_id, c.id, s.element, s.held, s.newest, s.lapses_on, s.lessons * (select times from asked), s.history from crowd c join standings s on s.student_id = c.model`,
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
	require.NoError(t, conn.QueryRow(ctx, "select (select count(*) from lessons), (select count(*) from item_results)").Scan(&lessons, &results))
	return lessons, results
}
