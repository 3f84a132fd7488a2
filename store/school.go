package store

import (
	"database/sql/driver"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"jetprimer/core/standard"
)

// Student is a member in training, and the class of aircraft they train for.
type Student struct {
	ID           string `json:"id"`
	Name         string `json:"name"`
	InstructorID string `json:"instructorId"`
	Instructor   string `json:"instructor"`
	Class        string `json:"class"`
	EngineKind   string `json:"engineKind"`
	StartType    string `json:"startType"`
	StartedOn    string `json:"startedOn"`
}

const studentColumns = `select s.id, a.name, s.instructor_id, i.name as instructor, s.class, s.engine_kind, s.start_type,
	to_char(s.started_on, 'YYYY-MM-DD') as started_on
	from students s join accounts a on a.id = s.id join accounts i on i.id = s.instructor_id where s.school_id = ?`

// Students lists the school's students by name.
func (tx *Tx) Students() ([]Student, error) {
	return rows[Student](tx, studentColumns+" order by a.name", tx.School)
}

// Student finds one student.
func (tx *Tx) Student(id string) (Student, error) {
	return row[Student](tx, studentColumns+" and s.id = ?", tx.School, id)
}

// AddStudent enrols a member as a student.
func (tx *Tx) AddStudent(s Student) error {
	return tx.db.Exec(`insert into students (school_id, id, instructor_id, class, engine_kind, start_type, started_on)
		values (?, ?, ?, ?, ?, ?, ?)`, tx.School, s.ID, s.InstructorID, s.Class, s.EngineKind, s.StartType, s.StartedOn).Error
}

// Share lets an examiner read a student's record until a day.
func (tx *Tx) Share(student, examiner, until string) error {
	return tx.db.Exec(`insert into shares (school_id, student_id, examiner_id, until) values (?, ?, ?, ?)
		on conflict (school_id, student_id, examiner_id) do update set until = excluded.until`, tx.School, student, examiner, until).Error
}

// SharedWith lists the students whose record an examiner may read on a day.
func (tx *Tx) SharedWith(examiner, day string) ([]string, error) {
	return rows[string](tx, "select student_id from shares where school_id = ? and examiner_id = ? and until >= ?", tx.School, examiner, day)
}

// Aircraft is one aircraft of the school.
type Aircraft struct {
	Registration string `json:"registration"`
	Type         string `json:"type"`
	Base         string `json:"base"`
	ElevationFt  int    `json:"elevationFt"`
	// Equipment is what it has of its type's optional equipment.
	Equipment Names `json:"equipment"`
}

// Names is a list of ids, kept as JSON.
type Names []string

// Scan reads the list from its column.
func (n *Names) Scan(from any) error {
	switch v := from.(type) {
	case []byte:
		return json.Unmarshal(v, n)
	case string:
		return json.Unmarshal([]byte(v), n)
	}
	return fmt.Errorf("a list of names cannot be read from %T", from)
}

// Value writes the list for its column.
func (n Names) Value() (driver.Value, error) {
	if n == nil {
		n = Names{}
	}
	data, err := json.Marshal([]string(n))
	return string(data), err
}

// Aircraft lists the school's aircraft.
func (tx *Tx) Aircraft() ([]Aircraft, error) {
	return rows[Aircraft](tx, "select registration, type, base, elevation_ft, equipment from aircraft where school_id = ? order by registration", tx.School)
}

// AddAircraft adds one aircraft.
func (tx *Tx) AddAircraft(a Aircraft) error {
	return tx.db.Exec("insert into aircraft (school_id, registration, type, base, elevation_ft, equipment) values (?, ?, ?, ?, ?, ?)",
		tx.School, a.Registration, a.Type, a.Base, a.ElevationFt, a.Equipment).Error
}

// Finding is something abnormal about an aircraft, from a lesson.
type Finding struct {
	Event        string `json:"event" gorm:"column:event_id"`
	Lesson       string `json:"lesson" gorm:"column:lesson_id"`
	Registration string `json:"registration"`
	Item         string `json:"item"`
	Words        string `json:"words"`
	Decision     string `json:"decision"`
	Told         string `json:"told"`
	Why          string `json:"why"`
	On           string `json:"on" gorm:"column:on_day"`
	Open         bool   `json:"open"`
}

// Findings lists findings, newest first. One is open while nobody has decided
// on it, or while it was deferred, grounded or carried on with.
func (tx *Tx) Findings() ([]Finding, error) {
	all, err := rows[Finding](tx, `select event_id, lesson_id, registration, item, words, decision, told, why,
		to_char(at, 'YYYY-MM-DD') as on_day, decision not in ('cleared', 'normal-for-type') as open
		from findings where school_id = ? order by at desc, event_id`, tx.School)
	if err != nil {
		return nil, fmt.Errorf("reading findings: %w", err)
	}
	return all, nil
}

// Packs are the standards packs in force for the school: its own newest
// version of a pack takes the place of the shipped one of the same id.
func (tx *Tx) Packs() ([]standard.Pack, error) {
	bodies, err := rows[[]byte](tx, "select distinct on (id) body::text from packs where school_id = ? order by id, version desc", tx.School)
	if err != nil {
		return nil, fmt.Errorf("reading standards packs: %w", err)
	}
	packs := slices.Clone(tx.shipped.Packs)
	for _, body := range bodies {
		var own standard.Pack
		if err := json.Unmarshal(body, &own); err != nil {
			return nil, fmt.Errorf("reading a standards pack: %w", err)
		}
		if i := slices.IndexFunc(packs, func(p standard.Pack) bool { return p.ID == own.ID }); i >= 0 {
			packs[i] = own
		} else {
			packs = append(packs, own)
		}
	}
	return packs, nil
}

// ErrVersion says that a version is not above the one in force.
var ErrVersion = fmt.Errorf("the version must be above the one in force")

// ReplacePack brings a new version of a pack into force. Versions only rise.
func (tx *Tx) ReplacePack(pack standard.Pack, by string, now time.Time) error {
	seq, err := tx.bump()
	if err != nil {
		return err
	}
	inForce, err := tx.Packs()
	if err != nil {
		return err
	}
	for _, p := range inForce {
		if p.ID == pack.ID && p.Version >= pack.Version {
			return fmt.Errorf("%w: %s is in force as version %d", ErrVersion, p.ID, p.Version)
		}
	}
	body, err := json.Marshal(pack)
	if err != nil {
		return err
	}
	if err := tx.db.Exec("insert into packs (school_id, id, version, body, brought_by, brought_at) values (?, ?, ?, ?, ?, ?)",
		tx.School, pack.ID, pack.Version, string(body), by, now).Error; err != nil {
		return fmt.Errorf("keeping the pack: %w", err)
	}
	return tx.changed(seq, "pack", pack.ID)
}
