// Package access holds who belongs to a school, in which roles, and what each role may do:
// members and what is checked of them, passwords and PINs, the table of permissions, and
// whose records a person may read.
package access

import (
	"slices"
	"strings"

	"jetprimer/core/form"
)

// The roles a membership can have.
const (
	Student     = "student"
	Instructor  = "instructor"
	Chief       = "chief"
	Maintenance = "maintenance"
	Examiner    = "examiner"
	Admin       = "admin"
)

// EveryRole lists the roles there are.
var EveryRole = Roles{Student, Instructor, Chief, Maintenance, Examiner, Admin}

// Roles are those that a person has in a school, one or several at once; nobody
// who is not signed in has any.
type Roles []string

// Has reports whether a role is among them.
func (r Roles) Has(role string) bool { return slices.Contains(r, role) }

// Check says why they cannot be a person's.
func (r Roles) Check() error {
	if len(r) == 0 {
		return form.Bad("roles", "must name at least one role")
	}
	for i, role := range r {
		switch {
		case !slices.Contains(EveryRole, role):
			return form.Bad("roles", "cannot hold %q: a role is one of %s", role, strings.Join(EveryRole, ", "))
		case slices.Contains(r[:i], role):
			return form.Bad("roles", "name %s twice", role)
		}
	}
	return nil
}

// Who an operation can be open to. Whose records a student or an examiner sees is narrowed
// further by MayRead, what each may add to a lesson by MayAdd.
var (
	Anyone          = Roles{""} // signed in or not
	Everyone        = EveryRole
	Teaching        = Roles{Instructor, Chief}
	Governing       = Roles{Chief, Admin}
	Practising      = Roles{Student, Instructor, Chief}
	RecordReaders   = Roles{Student, Instructor, Chief, Examiner}
	LessonReaders   = Roles{Student, Instructor, Chief, Examiner, Maintenance}
	AircraftReaders = Roles{Instructor, Chief, Maintenance, Admin}
	FindingReaders  = Roles{Instructor, Chief, Maintenance}
	AircraftKeepers = Roles{Chief, Maintenance, Admin}
	Maintainers     = Roles{Maintenance, Chief}
)

// Any reports whether one of the roles is among those given; Anyone includes nobody's.
func (r Roles) Any(of Roles) bool { return of.Has("") || slices.ContainsFunc(of, r.Has) }

// MayRead reports whether a person with the roles may read a student's record. shared says
// whether it is shared with that person today.
func (r Roles) MayRead(person, student string, shared bool) bool {
	return r.Teach() || r.Has(Student) && person == student || r.Has(Examiner) && shared
}

// Teach reports whether somebody with the roles can be a lesson's instructor.
func (r Roles) Teach() bool { return r.Any(Teaching) }

// Part is a person's part in a lesson.
type Part struct {
	Roles      Roles
	Person     string
	Student    string
	Instructor string
	// Observers are the instructors who sit in.
	Observers []string
}

// MayAdd says why a person may not add an event of a kind to a lesson; empty
// when they may. A lesson is its instructor's, its observers' and the chief's; the
// student's own view of it is the student's alone.
func (p Part) MayAdd(students bool) string {
	switch {
	case students && p.Person != p.Student:
		return "is given by the student of the lesson and nobody else"
	case students:
		return ""
	case p.Person == p.Student:
		return "is not open to the lesson's own student: they grade themselves, and answer a signature"
	case !p.Roles.Has(Chief) && p.Person != p.Instructor &&
		!(p.Roles.Has(Instructor) && slices.Contains(p.Observers, p.Person)):
		return "belongs to another instructor; only they, who they let sit in, and the chief instructor may add to it"
	}
	return ""
}
