package store

import (
	"context"
	"fmt"

	"gorm.io/gorm"
)

// DataTable is a table of the school's data as it goes out to a notebook: what its
// columns are, in which units, and the statement that reads it.
type DataTable struct {
	Name    string
	Words   string
	Columns []DataColumn
	query   string
}

// DataColumn is a column: its kind is text, integer or real. Days are written
// 2026-11-24, moments in UTC with a Z, what is true 1 and what is not 0.
type DataColumn struct{ Name, Kind, Unit, Words string }

func asText(name, words string) DataColumn    { return DataColumn{name, "text", "", words} }
func asInteger(name, words string) DataColumn { return DataColumn{name, "integer", "", words} }

const moment = `to_char(%s at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"')`

// dataTables are all that goes out, those that others refer to first.
var dataTables = []DataTable{
	{"people", "who is or was of the school; a name that was erased is a pseudonym", []DataColumn{
		asText("id", ""), asText("name", ""), asText("roles", "JSON list"), asInteger("active", "1 while they have not left")},
		"select account_id::text, name, roles::text, active::int from memberships where school_id = @school order by 1"},
	{"students", "what each student trains for", []DataColumn{
		asText("id", "of people"), asText("instructor_id", "of people: their own instructor"), asText("class", ""), asText("engine_kind", ""), asText("start_type", ""), asText("started_on", "day")},
		"select id::text, instructor_id::text, class, engine_kind, start_type, started_on::text from students where school_id = @school order by 1"},
	{"aircraft", "", []DataColumn{asText("registration", ""), asText("type", ""), asText("base", ""), asText("equipment", "JSON list"), asText("retired_on", "day; null while it flies")},
		"select registration, type, base, equipment::text, retired_on::text from aircraft where school_id = @school order by 1"},
	{"lessons", "", []DataColumn{
		asText("id", ""), asText("student_id", "of people; null of a maintenance run"), asText("instructor_id", "of people"), asText("registration", "of aircraft"), asText("opened_at", "moment"), asText("day", "the school's own"),
		asText("status", "open, ended or signed"), asText("purpose", "training, stage-check or maintenance"), asText("method", ""), asText("scale", ""), {"duration", "real", "s", "as the device counted it"},
		asInteger("marked", "items that were worked"), asInteger("total", "items on the list")},
		"select id::text, student_id::text, instructor_id::text, registration, " + fmt.Sprintf(moment, "opened_at") + `, to_char(opened_at at time zone @zone, 'YYYY-MM-DD'),
			status, opened->>'purpose', opened->>'method', opened->>'scale', duration_ms / 1000.0, marked, total from lessons where school_id = @school order by opened_at, id`},
	{"items", "how each item of a lesson went", []DataColumn{
		asText("lesson_id", "of lessons"), asText("item", "id on the list"), asInteger("position", "on the list, from 0"), asInteger("level", "0 to 4; null where it has none"), asInteger("proposed", "by the rules"),
		asInteger("implied", "1 when it was only passed"), asText("mark", "")},
		"select lesson_id::text, item, position, level, proposed, implied::int, mark from item_results where school_id = @school order by 1, 3, 2"},
	{"readings", "measured checks", []DataColumn{
		asText("id", ""), asText("lesson_id", "of lessons"), asText("at", "moment"), asText("registration", "of aircraft"), asText("check_name", ""), asInteger("engine", "from 1"), asInteger("attempt", "of the item, from 1"),
		asText("item", ""), asInteger("recorded", "1 when an engine recorder measured it"), asText("outcome", "normal, caution, abnormal or invalid"), asText("decision", "the rules' own"), asText("reading", "JSON: the fields of the check as they were entered"),
		asText("verdict", "JSON: values, limits and findings")},
		"select event_id::text, lesson_id::text, " + fmt.Sprintf(moment, "at") + `, registration, check_name, engine, attempt, item, recorded::int, verdict->>'outcome', verdict->>'decision', reading::text, verdict::text
			from readings where school_id = @school order by at, 1`},
	{"reading_values", "the numbers of each reading, one a line: what was entered, and what was computed from it", []DataColumn{
		asText("reading_id", "of readings"), asText("source", "entered or computed"), asText("name", "field of the check; its unit is the check's own"), {"value", "real", "", ""}},
		`select event_id::text, v.source, v.name, v.value::text::float from readings r, lateral (
				select 'entered' as source, key as name, value from json_each(r.reading) union all
				select 'computed', key, value from json_each(case json_typeof(r.verdict->'values') when 'object' then r.verdict->'values' else '{}' end)) v
			where r.school_id = @school and json_typeof(v.value) = 'number' order by r.at, 1, 2, 3`},
	{"findings", "what was found abnormal, and decided", []DataColumn{
		asText("id", ""), asText("lesson_id", "of lessons"), asText("at", "moment"), asText("registration", "of aircraft"), asText("item", ""), asText("words", ""), asText("decision", "empty while nobody decided"), asText("told", ""), asText("why", ""),
		asText("returned_at", "moment at which the aircraft came back; null while it did not"), asText("returned", "what was found and done"), asText("retest", "what was tested again"), asText("run_id", "of lessons: the maintenance run that answered it; null where none did")},
		"select f.event_id::text, f.lesson_id::text, " + fmt.Sprintf(moment, "f.at") + ", f.registration, f.item, f.words, f.decision, f.told, f.why, " + fmt.Sprintf(moment, "r.returned_at") + `, r.words, r.retest, r.run_id::text
			from findings f left join returns r on r.school_id = f.school_id and r.lesson_id = f.lesson_id and r.event_id = f.event_id where f.school_id = @school order by f.at, 1`},
	{"observations", "what signed lessons showed of the elements of the standards", []DataColumn{
		asText("lesson_id", "of lessons"), asText("student_id", "of people"), asText("day", ""), asText("element", ""), asText("item", ""), asInteger("level", "0 to 4"), asInteger("implied", ""), asInteger("oral", "1 for an oral question"), asText("mark", ""), asText("instructor_id", "of people")},
		"select lesson_id::text, student_id::text, on_day::text, element, item, level, implied::int, oral::int, mark, instructor_id::text from observations where school_id = @school order by opened_at, lesson_id, ordinal"},
	{"standings", "how each student stands in each element by the policy, right after the newest lesson", []DataColumn{
		asText("student_id", "of people"), asText("element", ""), asText("held", ""), asText("newest", "day of the newest lesson that showed it"), asText("lapses_on", "day; null where none is held"), asInteger("lessons", "that showed it")},
		"select student_id::text, element, held, newest::text, lapses_on::text, lessons from standings where school_id = @school order by 1, 2"},
	{"stage_checks", "", []DataColumn{
		asText("lesson_id", "of lessons"), asText("student_id", "of people"), asText("instructor_id", "of people"), asText("day", ""), asText("stage", ""), asText("class", ""), asInteger("passed", "")},
		"select lesson_id::text, student_id::text, instructor_id::text, on_day::text, stage, class, passed::int from stage_checks where school_id = @school order by on_day, 1"},
	{"bookings", "what is and was planned", []DataColumn{
		asText("id", ""), asText("student_id", "of people"), asText("instructor_id", "of people"), asText("registration", "of aircraft"), asText("starts_at", "moment"), asText("ends_at", "moment"), asText("exercises", "JSON list"),
		asText("plan", ""), asText("cancelled_at", "moment; null while it stands"), asText("why", "it was taken off")},
		"select id::text, student_id::text, instructor_id::text, registration, " + fmt.Sprintf(moment, "starts_at") + ", " + fmt.Sprintf(moment, "ends_at") + ", exercises::text, plan, " + fmt.Sprintf(moment, "cancelled_at") + ", why from bookings where school_id = @school order by starts_at, 1"},
}

// Data gives every table of a school's data as of one moment. keep is called with each
// table, and next with it gives its rows until there are no more.
func (s *Store) Data(ctx context.Context, schoolID string, keep func(t DataTable, next func() ([]any, bool, error)) error) error {
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
