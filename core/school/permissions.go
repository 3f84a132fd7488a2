// Package school holds the rules of a school's own life: who may do what, whose
// records a person sees, how versions of lists and layers live, what a finding
// means for an aircraft, which standards a student is held to, and how a day is
// told. It knows no database and no clock.
package school

import (
	"maps"
	"slices"
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

// Roles lists every role.
var Roles = []string{Student, Instructor, Chief, Maintenance, Examiner, Admin}

var (
	anyone   = []string{""} // signed in or not
	everyone = Roles
	teaching = []string{Instructor, Chief}
	records  = []string{Student, Instructor, Chief, Examiner}
)

// permissions says who may call which operation. What is not here nobody may.
// Whose records a student or an examiner sees is narrowed further by MayRead,
// what each may add to a lesson by MayAdd.
var permissions = map[string][]string{
	"sign-in":  anyone,
	"session":  everyone,
	"sign-out": everyone,

	"set-units":     everyone,
	"set-pin":       everyone,
	"begin-passkey": everyone,
	"keep-passkey":  everyone,
	"ask-passkey":   everyone,
	"set-settings":  {Chief, Admin},

	"feed":   everyone,
	"stream": everyone,

	"today":           everyone,
	"briefing":        teaching,
	"book":            teaching,
	"cancel-booking":  teaching,
	"lesson":          records,
	"lesson-card":     records,
	"add-events":      {Student, Instructor, Chief},
	"sign-lesson":     teaching,
	"answer-lesson":   {Student},
	"export-record":   records,
	"picture":         {Student, Instructor, Chief, Examiner, Maintenance},
	"keep-picture":    teaching,
	"return-aircraft": {Maintenance, Chief},
	"share-record":    {Student, Instructor, Chief},
	"shares":          {Student, Instructor, Chief},
	"withdraw-share":  {Student, Instructor, Chief},
	"shared":          anyone,
	"shared-record":   anyone,
	"grade-sheet":     records,
	"student":         records,
	"decide-critical": {Chief},
	"school":          teaching,
	"export-school":   {Chief},
	"findings":        {Instructor, Chief, Maintenance},
	"standards":       everyone,
	"replace-pack":    {Chief, Admin},

	"checks":      everyone,
	"check":       everyone,
	"calculators": everyone,
	"calc":        everyone,
	"day":         everyone,
	"station":     everyone,
	"reference":   everyone,

	"library":          everyone,
	"document":         everyone,
	"desk":             everyone,
	"export-document":  everyone,
	"add-draft":        teaching,
	"save-draft":       teaching,
	"drop-draft":       teaching,
	"review-version":   teaching,
	"reopen-version":   teaching,
	"approve-version":  {Chief},
	"withdraw-version": {Chief},
	"trained":          teaching,
	"tell":             teaching,
	"import-document":  teaching,
}

// Known reports whether somebody may call the operation.
func Known(operation string) bool { return len(permissions[operation]) > 0 }

// May reports whether a role may call an operation; the empty role is that of
// nobody signed in.
func May(role, operation string) bool {
	roles := permissions[operation]
	return slices.Contains(roles, "") || role != "" && slices.Contains(roles, role)
}

// Allowed lists the operations that a role may call, sorted.
func Allowed(role string) []string {
	out := []string{}
	for _, operation := range slices.Sorted(maps.Keys(permissions)) {
		if May(role, operation) {
			out = append(out, operation)
		}
	}
	return out
}

// MayRead reports whether a person may read a student's record. shared says
// whether it is shared with that person today.
func MayRead(role, person, student string, shared bool) bool {
	switch role {
	case Instructor, Chief:
		return true
	case Student:
		return person == student
	case Examiner:
		return shared
	}
	return false
}

// MayTeach reports whether somebody with that role can be a lesson's instructor.
func MayTeach(role string) bool { return slices.Contains(teaching, role) }

// Part is a person's part in a lesson.
type Part struct {
	Role       string
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
	case p.Role == Student && p.Person == p.Student:
		return "is not open to students: they grade themselves, and answer a signature"
	case p.Role != Chief && p.Person != p.Instructor && !(p.Role == Instructor && slices.Contains(p.Observers, p.Person)):
		return "belongs to another instructor; only they, who they let sit in, and the chief instructor may add to it"
	}
	return ""
}
