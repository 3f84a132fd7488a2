package server

import "slices"

// The roles a membership can have.
const (
	student     = "student"
	instructor  = "instructor"
	chief       = "chief"
	maintenance = "maintenance"
	examiner    = "examiner"
	admin       = "admin"
)

// Roles lists every role.
var Roles = []string{student, instructor, chief, maintenance, examiner, admin}

var (
	anyone   = []string{""} // signed in or not
	everyone = Roles
)

// permissions says who may call which operation. An operation that is not here
// cannot be registered. Whose records a student or an examiner sees is narrowed
// further by mayRead.
var permissions = map[string][]string{
	"sign-in":       anyone,
	"session":       everyone,
	"sign-out":      everyone,
	"feed":          everyone,
	"today":         everyone,
	"briefing":      {instructor, chief},
	"lesson":        {student, instructor, chief, examiner},
	"add-events":    {instructor, chief},
	"sign-lesson":   {instructor, chief},
	"student":       {student, instructor, chief, examiner},
	"school":        {instructor, chief},
	"standards":     everyone,
	"replace-pack":  {chief, admin},
	"checks":        everyone,
	"check":         everyone,
	"findings":      {instructor, chief, maintenance},
	"export-school": {chief},

	"calculators": everyone,
	"calc":        everyone,
	"station":     everyone,
	"reference":   everyone,

	"library":          everyone,
	"document":         everyone,
	"desk":             everyone,
	"export-document":  everyone,
	"lesson-card":      {student, instructor, chief, examiner},
	"add-draft":        {instructor, chief},
	"save-draft":       {instructor, chief},
	"drop-draft":       {instructor, chief},
	"review-version":   {instructor, chief},
	"reopen-version":   {instructor, chief},
	"approve-version":  {chief},
	"withdraw-version": {chief},
	"trained":          {instructor, chief},
	"tell":             {instructor, chief},
	"import-document":  {instructor, chief},
}

func allowed(operation, role string) bool {
	roles := permissions[operation]
	return slices.Contains(roles, "") || role != "" && slices.Contains(roles, role)
}
