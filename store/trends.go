package store

import (
	"encoding/json"
	"fmt"
	"time"

	"jetprimer/core/compare"
)

// mostLogged bounds what the trends of one aircraft are told from: the newest tries.
const mostLogged = 20_000

// logRow is a first try, or maintenance where it has words.
type logRow struct {
	LessonID         string
	CheckName, Item  string
	Engine           int
	Reading, Verdict []byte
	At               time.Time
	Words            string
	Start, Stop      *float64 // of the aircraft's meter, in the lesson
	OpenedAt         time.Time
	DurationMs       int64
}

// firstTry are the readings r that are a first try: a recorder's where nothing was
// typed.
const firstTry = `r.attempt = 1 and r.verdict is not null and (not r.recorded or not exists (select from readings t
	where t.school_id = r.school_id and t.lesson_id = r.lesson_id and t.check_name = r.check_name and t.item = r.item and t.engine = r.engine and not t.recorded))`

// AircraftLog are the first tries of measured checks on an aircraft, and what was done
// to it, in their time, at the hours of its meter. Where a lesson read no meter
// the hours go on from the lesson before by how long it took.
func (tx *Tx) AircraftLog(registration string) ([]compare.LogEntry, error) {
	kept, err := rows[logRow](tx, `with meters as (
			select e.lesson_id, min((e.payload->>'value')::float) filter (where e.payload->>'when' = 'start') as start, max((e.payload->>'value')::float) filter (where e.payload->>'when' = 'end') as stop
			from lesson_events e join lessons l on l.school_id = e.school_id and l.id = e.lesson_id
			where e.school_id = @school and l.registration = @registration and e.kind = 'hour-meter' and coalesce(e.payload->>'meter', 'hour') <> 'tacho'
			group by 1)
		select * from (
			select r.lesson_id, r.check_name, r.item, r.engine, r.reading, r.verdict, r.at, '' as words, m.start, m.stop, l.opened_at, l.duration_ms
			from readings r join lessons l on l.school_id = r.school_id and l.id = r.lesson_id left join meters m on m.lesson_id = r.lesson_id
			where r.school_id = @school and r.registration = @registration and `+firstTry+` and l.status <> 'open'
			union all
			select f.lesson_id, '', f.item, 0, null, null, b.returned_at, b.words, m.start, m.stop, l.opened_at, l.duration_ms
			from returns b join findings f on f.school_id = b.school_id and f.lesson_id = b.lesson_id and f.event_id = b.event_id
			join lessons l on l.school_id = b.school_id and l.id = b.lesson_id left join meters m on m.lesson_id = b.lesson_id
			where b.school_id = @school and f.registration = @registration
			order by at desc limit @most) t order by at, lesson_id, check_name`,
		map[string]any{"school": tx.School, "registration": registration, "most": mostLogged})
	if err != nil {
		return nil, fmt.Errorf("reading what was measured: %w", err)
	}
	out := make([]compare.LogEntry, len(kept))
	hours, lesson := 0.0, ""
	stop := 0.0
	for i, k := range kept {
		if k.LessonID != lesson && k.Words == "" {
			hours, lesson = max(hours, stop), k.LessonID
			if k.Start != nil {
				hours = *k.Start
			}
			stop = hours + float64(k.DurationMs)/3_600_000
			if k.Stop != nil {
				stop = *k.Stop
			}
		}
		out[i] = compare.LogEntry{
			Hours: hours, Day: tx.Day(k.At), Lesson: k.LessonID, Check: k.CheckName, Engine: k.Engine, Item: k.Item,
			Words: k.Words,
		}
		if k.Words == "" {
			out[i].Reading, out[i].Verdict = json.RawMessage(k.Reading), json.RawMessage(k.Verdict)
		}
	}
	return out, nil
}

// LogStamps tell, by registration, when what AircraftLog gives may have become
// another: they change with every lesson and every return to service.
func (tx *Tx) LogStamps() (map[string]string, error) {
	type stamp struct{ Registration, Stamp string }
	all, err := rows[stamp](tx, `select l.registration, concat_ws(' ', count(*), max(l.last_seq), (select count(*) from returns b join findings f
			on f.school_id = b.school_id and f.lesson_id = b.lesson_id and f.event_id = b.event_id where b.school_id = @school and f.registration = l.registration)) as stamp
		from lessons l where l.school_id = @school group by 1`, map[string]any{"school": tx.School})
	out := map[string]string{}
	for _, one := range all {
		out[one.Registration] = one.Stamp
	}
	return out, err
}
