// Package access holds who belongs to a school, in which roles, and what each role may do:
// members and what is checked of them, passwords and PINs, the table of permissions, and
// whose records a person may read.
package access

import (
	"maps"
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
var EveryRole = []string{Student, Instructor, Chief, Maintenance, Examiner, Admin}

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

var (
	anyone          = []string{""} // signed in or not
	everyone        = EveryRole
	teaching        = []string{Instructor, Chief}
	AircraftKeepers = []string{Chief, Maintenance, Admin} // who keep the aircraft
	records         = []string{Student, Instructor, Chief, Examiner}
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

	"change-school": everyone,
	"account":       everyone,
	"notices":       everyone,
	"read-notice":   everyone,
	"export-own":    everyone,
	"set-password":  everyone,
	"end-sessions":  everyone,
	"begin-second":  everyone,
	"keep-second":   everyone,
	"end-second":    everyone,
	"recover":       anyone,

	"people":              Governs,
	"place":               Governs,
	"set-place":           Governs,
	"set-base":            Governs,
	"set-letters":         Governs,
	"drop-letters":        Governs,
	"try-letters":         Governs,
	"audit-log":           Governs,
	"status":              Governs,
	"export-audit-log":    Governs,
	"recover-member":      Governs,
	"export-person":       Governs,
	"export-people":       Governs,
	"read-people":         Governs,
	"take-people":         Governs,
	"aircraft":            {Instructor, Chief, Maintenance, Admin},
	"aircraft-trends":     {Instructor, Chief, Maintenance, Admin},
	"export-readings":     {Instructor, Chief, Maintenance, Admin},
	"fleet-trends":        {Instructor, Chief, Maintenance, Admin},
	"read-recording":      {Instructor, Chief, Maintenance},
	"take-recorded":       {Instructor, Chief},
	"add-aircraft":        AircraftKeepers,
	"set-aircraft":        AircraftKeepers,
	"export-aircraft":     {Instructor, Chief, Maintenance, Admin},
	"read-aircraft":       AircraftKeepers,
	"take-aircraft":       AircraftKeepers,
	"set-member":          Governs,
	"erase-person":        Governs,
	"invite":              Governs,
	"renew-invitation":    Governs,
	"withdraw-invitation": Governs,
	"setup":               anyone,
	"begin":               anyone,
	"take-school":         anyone,
	"invited":             anyone,
	"join":                anyone,

	"feed":   everyone,
	"stream": everyone,

	"today":            everyone,
	"briefing":         teaching,
	"book":             teaching,
	"cancel-booking":   teaching,
	"try-booking":      teaching,
	"move-booking":     teaching,
	"try-move":         teaching,
	"schedule":         everyone,
	"export-schedule":  everyone,
	"proposals":        teaching,
	"note-away":        everyone,
	"end-away":         everyone,
	"set-shifts":       {Instructor, Chief, Admin},
	"set-standby":      {Student, Instructor, Chief},
	"drop-standby":     {Student, Instructor, Chief},
	"renew-calendar":   everyone,
	"calendar":         anyone,
	"lesson":           append([]string{Maintenance}, records...),
	"lesson-card":      records,
	"open-run":         {Maintenance, Chief},
	"retests":          {Maintenance, Chief},
	"add-events":       {Student, Instructor, Chief, Maintenance},
	"sign-lesson":      {Instructor, Chief, Maintenance},
	"answer-lesson":    {Student},
	"export-record":    append([]string{Maintenance}, records...),
	"picture":          {Student, Instructor, Chief, Examiner, Maintenance},
	"keep-picture":     {Instructor, Chief, Maintenance},
	"return-aircraft":  {Maintenance, Chief},
	"defer-finding":    {Maintenance, Chief},
	"share-record":     {Student, Instructor, Chief},
	"shares":           {Student, Instructor, Chief},
	"withdraw-share":   {Student, Instructor, Chief},
	"shared":           anyone,
	"shared-record":    anyone,
	"grade-sheet":      records,
	"student":          records,
	"export-standing":  records,
	"statements":       records,
	"decide-critical":  {Chief},
	"school":           teaching,
	"compare":          teaching,
	"taught":           teaching,
	"export-taught":    teaching,
	"compare-progress": teaching,
	"export-compare":   teaching,
	"export-school":    {Chief},
	"outlook":          {Chief},
	"export-outlook":   {Chief},
	"findings":         {Instructor, Chief, Maintenance},
	"standards":        everyone,

	"checks":      everyone,
	"check":       everyone,
	"calculators": everyone,
	"calc":        everyone,
	"day":         everyone,
	"station":     everyone,
	"reference":   everyone,

	"stands":          {Student, Instructor, Chief},
	"stand":           {Student, Instructor, Chief},
	"portions":        {Student, Instructor, Chief},
	"keep-practice":   {Student, Instructor, Chief},
	"practices":       {Student, Instructor, Chief},
	"practice":        {Student, Instructor, Chief},
	"save-scenario":   teaching,
	"drop-scenario":   teaching,
	"read-scenario":   teaching,
	"export-scenario": {Student, Instructor, Chief},
	"live-runs":       teaching,
	"live-step":       {Student, Instructor, Chief},
	"live-stream":     teaching,
	"live-wish":       teaching,

	"kinds":            teaching,
	"describe-type":    teaching,
	"start-list":       teaching,
	"policy":           Governs,
	"preview-policy":   Governs,
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

// May reports whether one of the roles may call an operation.
func (r Roles) May(operation string) bool {
	roles := permissions[operation]
	return slices.Contains(roles, "") || slices.ContainsFunc(roles, r.Has)
}

// Allowed lists the operations that the roles may call, sorted.
func (r Roles) Allowed() []string {
	out := []string{}
	for _, operation := range slices.Sorted(maps.Keys(permissions)) {
		if r.May(operation) {
			out = append(out, operation)
		}
	}
	return out
}

// MayRead reports whether a person with the roles may read a student's record. shared says
// whether it is shared with that person today.
func (r Roles) MayRead(person, student string, shared bool) bool {
	return r.Teach() || r.Has(Student) && person == student || r.Has(Examiner) && shared
}

// Teach reports whether somebody with the roles can be a lesson's instructor.
func (r Roles) Teach() bool { return slices.ContainsFunc(teaching, r.Has) }

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
	case !p.Roles.Has(Chief) && p.Person != p.Instructor && !(p.Roles.Has(Instructor) && slices.Contains(p.Observers, p.Person)):
		return "belongs to another instructor; only they, who they let sit in, and the chief instructor may add to it"
	}
	return ""
}
