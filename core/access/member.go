package access

import (
	"net/mail"
	"strings"
	"time"
	"unicode"

	"jetprimer/core/form"
)

// Member is what a school writes down of a person: who they are there, and for
// somebody who learns, what.
type Member struct {
	Name  string `json:"name"`
	Email string `json:"email"`
	Roles Roles  `json:"roles"`
	// Number is the school's own for the person, if it gives any.
	Number string `json:"number,omitempty"`
	// Learns is there for students and nobody else.
	Learns *Learns `json:"learns,omitempty"`
}

// Learns is what a student begins with.
type Learns struct {
	// Type is the aircraft type: it gives class, engine kind and start type.
	Type       string `json:"type"`
	Instructor string `json:"instructor" doc:"id of the instructor"`
	StartedOn  string `json:"startedOn" doc:"a day, such as 2026-11-26"`
}

// Bounds of what is written down of a person, in letters.
const (
	NameMost   = 100
	emailMost  = 200
	numberMost = 40
)

// Check reports the first mistake in the member.
func (m Member) Check() error {
	if faults := m.Problems(); len(faults) > 0 {
		return faults[0]
	}
	return nil
}

// Problems lists every mistake in the member, each with its field.
func (m Member) Problems() (faults []error) {
	look := func(err error) {
		if err != nil {
			faults = append(faults, err)
		}
	}
	look(CheckText("name", m.Name, NameMost))
	address, err := mail.ParseAddress(m.Email)
	switch {
	case len(m.Email) > emailMost:
		look(form.Bad("email", "must have at most %d letters", emailMost))
	case err != nil || address.Address != m.Email:
		look(form.Bad("email", "must be an address such as name@school.example"))
	}
	if m.Number != "" {
		look(CheckText("number", m.Number, numberMost))
	}
	look(m.Roles.Check())
	switch {
	case m.Roles.Has(Student) && m.Learns == nil:
		look(form.Bad("learns", "must be given for a student: aircraft type, instructor and day"))
	case !m.Roles.Has(Student) && m.Learns != nil:
		look(form.Bad("learns", "is for students only"))
	case m.Learns != nil:
		if _, err := time.Parse(time.DateOnly, m.Learns.StartedOn); err != nil {
			look(form.Bad("learns.startedOn", "must be a day such as 2026-11-26"))
		}
	}
	return faults
}

// Tidy is the member without what is only around the words.
func (m Member) Tidy() Member {
	m.Name, m.Number = strings.Join(strings.Fields(m.Name), " "), strings.TrimSpace(m.Number)
	m.Email = strings.ToLower(strings.TrimSpace(m.Email))
	return m
}

// CheckText refuses a text that is empty, too long or holds what no pen writes.
func CheckText(field, text string, most int) error {
	switch {
	case strings.TrimSpace(text) == "":
		return form.Bad(field, "must not be empty")
	case len([]rune(text)) > most:
		return form.Bad(field, "must have at most %d letters", most)
	case strings.ContainsFunc(text, func(r rune) bool { return !unicode.IsPrint(r) }):
		return form.Bad(field, "must hold only letters that can be seen")
	}
	return nil
}

// Governs reports whether somebody with the roles looks after the school's
// people.
func (r Roles) Governs() bool { return r.Any(Governing) }

// Bounds of a password, in letters.
const (
	passwordLeast = 10
	passwordMost  = 200
)

// common are the words that passwords are made of which are tried first.
var common = strings.Fields(`password passw0rd p@ssw0rd qwerty qwertz azerty 1q2w3e4r 1qaz2wsx zaq12wsx letmein welcome iloveyou
	administrator changeme default princess sunshine football baseball basketball superman batman dragon monkey shadow master
	michael jordan abc123 trustno1 starwars whatever computer internet aircraft airplane aeroplane pilot123 aviation
	flying123 flightschool student123 instructor teacher123 asdfgh zxcvbn 0987654321 123456 1234567 112233 123123 111111 000000 666666 888888`)

// CheckPassword refuses a password that is too short, or that somebody would try
// first: a common one, or the person's own name or address.
func CheckPassword(password, name, email string) error {
	low := strings.ToLower(password)
	letters := []rune(low)
	switch {
	case len(letters) < passwordLeast:
		return form.Bad("password", "must have at least %d letters; a few words are easy to keep", passwordLeast)
	case len(letters) > passwordMost:
		return form.Bad("password", "must have at most %d letters", passwordMost)
	case strings.Count(low, string(letters[:1])) == len(letters):
		return form.Bad("password", "must not be one letter over and over")
	}
	rest := low
	for _, part := range append(strings.FieldsFunc(strings.ToLower(name+" "+email),
		func(r rune) bool { return !unicode.IsLetter(r) }), common...) {
		if len(part) > 3 {
			rest = strings.ReplaceAll(rest, part, "")
		}
	}
	if left := strings.Trim(rest, "0123456789!?.,-_@#$*+ "); len([]rune(left)) < 4 {
		return form.Bad("password", "is one of those that are tried first: take words that do not name you")
	}
	return nil
}
