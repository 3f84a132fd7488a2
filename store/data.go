package store

import (
	"context"
	"fmt"

	"gorm.io/gorm"
)

// DataTable is a table of the data export: what its columns are, which of them make its
// key, and the statement that reads it.
type DataTable struct {
	Name    string
	Words   string
	Key     []string
	Columns []DataColumn
	query   string
}

// DataColumn is a column of a [DataTable]. Its type is one of Table Schema's: string,
// integer, number, boolean, date, datetime (UTC, with a Z), list or object (both JSON).
// A column that refers to another table names it, and the column Of there.
type DataColumn struct{ Name, Type, Unit, Words, Table, Of string }

func column(name, kind, words string) DataColumn {
	return DataColumn{Name: name, Type: kind, Words: words}
}

// refers is a column whose values are keys of another table.
func refers(name, table, words string) DataColumn {
	of := "id"
	if table == "aircraft" {
		of = "registration"
	}
	return DataColumn{Name: name, Type: "string", Words: words, Table: table, Of: of}
}

const moment = `to_char(%s at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"')`

// dataTables are all that goes out; a table stands behind those that it refers to.
var dataTables = []DataTable{
	{"people", "Who is or was of the school. A name that was erased is a pseudonym.", []string{"id"}, []DataColumn{
		column("id", "string", ""),
		column("name", "string", ""),
		column("roles", "list", ""),
		column("active", "boolean", "whether they have not left"),
	}, "select account_id::text, name, roles::text, active from memberships where school_id = @school order by 1"},

	{"students", "What each student trains for.", []string{"id"}, []DataColumn{
		refers("id", "people", ""),
		refers("instructor_id", "people", "their own instructor"),
		column("class", "string", ""),
		column("engine_kind", "string", ""),
		column("start_type", "string", ""),
		column("started_on", "date", ""),
	}, `select id::text, instructor_id::text, class, engine_kind, start_type, started_on::text
		from students where school_id = @school order by 1`},

	{"aircraft", "The school's aircraft.", []string{"registration"}, []DataColumn{
		column("registration", "string", ""),
		column("type", "string", ""),
		column("base", "string", ""),
		column("equipment", "list", ""),
		column("retired_on", "date", "missing while it flies"),
	},
		"select registration, type, base, equipment::text, retired_on::text from aircraft where school_id = @school " +
			"order by 1"},

	{"lessons", "Lessons and maintenance runs.", []string{"id"}, []DataColumn{
		column("id", "string", ""),
		refers("student_id", "people", "missing for a maintenance run"),
		refers("instructor_id", "people", ""),
		refers("registration", "aircraft", ""),
		column("opened_at", "datetime", ""),
		column("day", "date", "in the school's time zone"),
		column("status", "string", "open, ended or signed"),
		column("purpose", "string", "training, stage-check or maintenance"),
		column("method", "string", ""),
		column("scale", "string", ""),
		{Name: "duration", Type: "number", Unit: "s", Words: "as the device counted it"},
		column("marked", "integer", "items that were worked"),
		column("total", "integer", "items on the list"),
	}, "select id::text, student_id::text, instructor_id::text, registration, " + fmt.Sprintf(moment, "opened_at") + `,
			to_char(opened_at at time zone @zone, 'YYYY-MM-DD'), status, opened->>'purpose', opened->>'method',
			opened->>'scale', (duration_ms / 1000.0)::float8, marked, total
		from lessons where school_id = @school order by opened_at, id`},

	{"items", "How each item of a lesson went.", []string{"lesson_id", "item"}, []DataColumn{
		refers("lesson_id", "lessons", ""),
		column("item", "string", "id on the list"),
		column("position", "integer", "on the list, from 0"),
		column("level", "integer", "0 to 4; missing where it has none"),
		column("proposed", "integer", "level that the rules proposed"),
		column("implied", "boolean", "whether it was only passed"),
		column("mark", "string", ""),
	}, `select lesson_id::text, item, position, level, proposed, implied, mark
		from item_results where school_id = @school order by 1, 3, 2`},

	{"readings", "Measured checks.", []string{"id"}, []DataColumn{
		column("id", "string", ""),
		refers("lesson_id", "lessons", ""),
		column("at", "datetime", ""),
		refers("registration", "aircraft", ""),
		column("check_name", "string", ""),
		column("engine", "integer", "from 1"),
		column("attempt", "integer", "of the item, from 1"),
		column("item", "string", ""),
		column("recorded", "boolean", "whether an engine recorder measured it"),
		column("outcome", "string", "normal, caution, abnormal or invalid"),
		column("decision", "string", "what the rules ask for: continue, recheck or stop"),
		column("reading", "object", "the fields of the check as they were entered"),
		column("verdict", "object", "values, limits and findings"),
	}, "select event_id::text, lesson_id::text, " + fmt.Sprintf(moment, "at") + `, registration, check_name, engine, attempt, item,
			recorded, verdict->>'outcome', verdict->>'decision', reading::text, verdict::text
		from readings where school_id = @school order by at, 1`},

	{"reading_values", "The numbers of each reading, one a row.", []string{"reading_id", "source", "name"},
		[]DataColumn{
			refers("reading_id", "readings", ""),
			column("source", "string", "entered or computed"),
			column("name", "string", "field of the check, whose unit it has"),
			column("value", "number", ""),
		}, `select event_id::text, v.source, v.name, v.value::text::float
		from readings r, lateral (
			select 'entered' as source, key as name, value from json_each(r.reading)
			union all
			select 'computed', key, value
			from json_each(case json_typeof(r.verdict->'values') when 'object' then r.verdict->'values' else '{}' end)) v
		where r.school_id = @school and json_typeof(v.value) = 'number' order by r.at, 1, 2, 3`},

	{"findings", "What was found abnormal, and what was decided.", []string{"id", "lesson_id"}, []DataColumn{
		column("id", "string", ""),
		refers("lesson_id", "lessons", ""),
		column("at", "datetime", ""),
		refers("registration", "aircraft", ""),
		column("item", "string", ""),
		column("words", "string", ""),
		column("decision", "string", "missing while nobody decided"),
		column("told", "string", "who was told"),
		column("why", "string", ""),
		column("returned_at", "datetime", "return to service; missing until then"),
		column("returned", "string", "what was found and done"),
		column("retest", "string", "what was tested again"),
		refers("run_id", "lessons", "the maintenance run that answered it"),
	}, "select f.event_id::text, f.lesson_id::text, " + fmt.Sprintf(moment, "f.at") + `, f.registration, f.item, f.words,
			f.decision, f.told, f.why, ` + fmt.Sprintf(moment, "r.returned_at") + `, r.words, r.retest, r.run_id::text
		from findings f
		left join returns r on r.school_id = f.school_id and r.lesson_id = f.lesson_id and r.event_id = f.event_id
		where f.school_id = @school order by f.at, 1`},

	{"observations", "What signed lessons showed of the elements of the standards.", nil, []DataColumn{
		refers("lesson_id", "lessons", ""),
		refers("student_id", "people", ""),
		column("day", "date", ""),
		column("element", "string", ""),
		column("item", "string", ""),
		column("level", "integer", "0 to 4"),
		column("implied", "boolean", "whether the item was only passed"),
		column("oral", "boolean", "whether it is an oral question"),
		column("mark", "string", ""),
		refers("instructor_id", "people", ""),
	}, `select lesson_id::text, student_id::text, on_day::text, element, item, level, implied, oral, mark, instructor_id::text
		from observations where school_id = @school order by opened_at, lesson_id, ordinal`},

	{"standings", "Each student's standing in each element right after the newest lesson.",
		[]string{"student_id", "element"}, []DataColumn{
			refers("student_id", "people", ""),
			column("element", "string", ""),
			column("held", "string", ""),
			column("newest", "date", "of the newest lesson that showed it"),
			column("lapses_on", "date", "missing where none is held"),
			column("lessons", "integer", "that showed it"),
		}, `select student_id::text, element, held, newest::text, lapses_on::text, lessons
		from standings where school_id = @school order by 1, 2`},

	{"stage_checks", "Stage checks and their results.", []string{"lesson_id"}, []DataColumn{
		refers("lesson_id", "lessons", ""),
		refers("student_id", "people", ""),
		refers("instructor_id", "people", ""),
		column("day", "date", ""),
		column("stage", "string", ""),
		column("class", "string", ""),
		column("passed", "boolean", ""),
	}, `select lesson_id::text, student_id::text, instructor_id::text, on_day::text, stage, class, passed
		from stage_checks where school_id = @school order by on_day, 1`},

	{"bookings", "What is and was planned.", []string{"id"}, []DataColumn{
		column("id", "string", ""),
		refers("student_id", "people", ""),
		refers("instructor_id", "people", ""),
		refers("registration", "aircraft", ""),
		column("starts_at", "datetime", ""),
		column("ends_at", "datetime", ""),
		column("exercises", "list", ""),
		column("plan", "string", ""),
		column("cancelled_at", "datetime", "missing while it is planned"),
		column("why", "string", "why it was cancelled"),
	}, "select id::text, student_id::text, instructor_id::text, registration, " + fmt.Sprintf(moment, "starts_at") +
		", " +
		fmt.Sprintf(moment, "ends_at") + ", exercises::text, plan, " + fmt.Sprintf(moment, "cancelled_at") + `, why
		from bookings where school_id = @school order by starts_at, 1`},
}

// Data gives every table of a school's data as of one moment. keep is called with each
// table, and next with it gives its rows until there are no more.
func (s *Store) Data(ctx context.Context, schoolID string,
	keep func(t DataTable, next func() ([]any, bool, error)) error) error {
	asOne := func(db *gorm.DB) error {
		return db.Exec("set transaction isolation level repeatable read read only").Error
	}
	return s.in(ctx, schoolID, asOne, func(_ context.Context, tx *Tx) error {
		for _, t := range dataTables {
			if err := tx.data(t, keep); err != nil {
				return fmt.Errorf("table %s: %w", t.Name, err)
			}
		}
		return nil
	})
}

func (tx *Tx) data(t DataTable, keep func(t DataTable, next func() ([]any, bool, error)) error) error {
	if err := tx.db.Exec("set local statement_timeout = 0").Error; err != nil {
		return err
	}
	kept, err := tx.db.Raw(t.query, map[string]any{"school": tx.School, "zone": tx.Zone.String()}).Rows()
	if err != nil {
		return err
	}
	defer kept.Close()
	return keep(t, func() ([]any, bool, error) {
		if !kept.Next() {
			return nil, false, kept.Err()
		}
		values := make([]any, len(t.Columns))
		into := make([]any, len(values))
		for i := range values {
			into[i] = &values[i]
		}
		return values, true, kept.Scan(into...)
	})
}
