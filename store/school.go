package store

import (
	"fmt"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"jetprimer/core/library"
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
	StartedOn    Date   `json:"startedOn"`
	// Active says that they have not left.
	Active bool `json:"-"`
}

func (tx *Tx) students() *gorm.DB {
	return tx.db.Table("students s").Select("s.id, m.name, s.instructor_id, i.name as instructor, s.class, "+
		"s.engine_kind, s.start_type, s.started_on, m.active").
		Joins("join memberships m on m.school_id = s.school_id and m.account_id = s.id").
		Joins("join memberships i on i.school_id = s.school_id and i.account_id = s.instructor_id").
		Where("s.school_id = ?", tx.School)
}

// Students lists the school's students by name.
func (tx *Tx) Students() ([]Student, error) {
	return find[Student](tx.students().Order("m.name, s.id"))
}

// Student finds one student.
func (tx *Tx) Student(id string) (Student, error) {
	return take[Student](tx.students().Where("s.id = ?", id))
}

// Begun is when the school was begun.
func (tx *Tx) Begun() (time.Time, error) {
	return row[time.Time](tx, "select created_at from schools where id = ?", tx.School)
}

// AddStudent enrols a member as a student.
func (tx *Tx) AddStudent(s Student) error {
	row := &student{tx.School, s.ID, s.InstructorID, s.Class, s.EngineKind, s.StartType, s.StartedOn}
	return tx.db.Create(row).Error
}

// Share lets an examiner read a student's record until a day.
func (tx *Tx) Share(studentID, examiner, until string) error {
	return tx.db.Clauses(clause.OnConflict{Columns: []clause.Column{
		{Name: "school_id"}, {Name: "student_id"}, {Name: "examiner_id"},
	},
		DoUpdates: clause.AssignmentColumns([]string{"until"})}).Create(&share{
		tx.School, studentID, examiner, Date(until),
	}).Error
}

// SharedWith lists the students whose record an examiner may read on a day.
func (tx *Tx) SharedWith(examiner, day string) ([]string, error) {
	out := []string{}
	return out, tx.own(&share{}).Where("examiner_id = ? and until >= ?", examiner, day).Pluck("student_id", &out).Error
}

// Packs are the standards packs that serve on a day: the school's own versions
// take the place of the shipped ones.
func (tx *Tx) Packs(day string) ([]standard.Pack, error) {
	own, err := find[versionRow](tx.library().Where("l.kind = ?", library.KindPack).Order("l.id, l.version"))
	if err != nil {
		return nil, fmt.Errorf("reading standards packs: %w", err)
	}
	var all []library.Version
	for _, p := range tx.store.shipped.Packs {
		all = append(all, library.Version{
			Kind: library.KindPack, ID: p.ID, Version: p.Version, Status: library.InForce, Shipped: true,
		})
	}
	for _, k := range own {
		all = append(all, k.version())
	}
	return Documents[standard.Pack](tx, library.Serving(all, day))
}
