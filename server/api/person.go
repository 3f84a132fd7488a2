package api

import (
	"context"
	"errors"
	"slices"
	"time"

	"jetprimer/core/access"
	"jetprimer/core/quantity"
	"jetprimer/core/school"
	"jetprimer/reports"
	"jetprimer/store"
)

// Person is the signed-in person, as of this request.
type Person struct {
	Account string
	Name    string // what the school calls them
	School  string
	Place   string // the school's name
	Roles   access.Roles
	Zone    *time.Location
	// settings are the school's, own the units that the person reads instead.
	Settings school.Settings
	Own      quantity.Units
	HasPin   bool
	// hasPasskey says that a device of theirs has one, hasSecond that one-time codes
	// are asked for.
	HasPasskey, HasSecond bool
	// hasLetters says that the school has a server for letters of its own.
	HasLetters bool
	Schools    []reports.Named
}

// Units are those that the person reads.
func (w Person) Units() quantity.Units { return w.Own.Over(w.Settings.Units) }

type whoKey struct{}

// forHeader says whose a request is: of two people who share a browser nobody
// acts in the other's name.
const forHeader = "Jetprimer-For"

// Who reads the session and looks the membership up, so that a role taken away
// is gone at the next request.
func (s *API) Who(ctx context.Context) (Person, error) {
	w := Person{Account: s.Sessions.GetString(ctx, "account"), School: s.Sessions.GetString(ctx, "school")}
	if w.Account == "" {
		return Person{}, nil
	}
	memberships, err := s.Store.Memberships(ctx, w.Account)
	if err != nil {
		return Person{}, err
	}
	w, _, err = WhoAt(w, memberships)
	return w, err
}

// WhoAt is a person at one of their schools, the first where none is named;
// nobody where it is none of theirs.
func WhoAt(w Person, memberships []store.Membership) (Person, store.Membership, error) {
	at := slices.IndexFunc(memberships,
		func(m store.Membership) bool { return w.School == "" || m.SchoolID == w.School })
	if at < 0 {
		return Person{}, store.Membership{}, nil
	}
	for _, m := range memberships {
		w.Schools = append(w.Schools, reports.Named{ID: m.SchoolID, Name: m.School})
	}
	m := memberships[at]
	w.Name, w.School, w.Place, w.Roles, w.Settings, w.Own = m.Name, m.SchoolID, m.School, m.Roles, m.Settings, m.Units
	w.HasPin, w.HasPasskey, w.HasSecond, w.HasLetters = m.HasPin, m.HasPasskey, m.HasSecond, m.HasLetters
	zone, err := time.LoadLocation(m.TimeZone)
	w.Zone = zone
	return w, m, err
}

// Readable tells which students' records the person may read.
func (s *API) Readable(tx *store.Tx, w Person) (func(student string) bool, error) {
	shared := map[string]bool{}
	if w.Roles.Has(access.Examiner) {
		ids, err := tx.SharedWith(w.Account, s.Today(w))
		if err != nil {
			return nil, err
		}
		for _, id := range ids {
			shared[id] = true
		}
	}
	return func(student string) bool { return w.Roles.MayRead(w.Account, student, shared[student]) }, nil
}

// MayRead reports whether the person may read a student's record.
func (s *API) MayRead(tx *store.Tx, w Person, student string) error {
	may, err := s.Readable(tx, w)
	if err != nil {
		return err
	}
	if !may(student) {
		return store.ErrNotFound
	}
	return nil
}

// MaySee is mayRead for what is about the aircraft: those who mend it see it
// without the record that it is in.
func (s *API) MaySee(tx *store.Tx, w Person, student string) error {
	if w.Roles.Has(access.Maintenance) {
		return nil
	}
	return s.MayRead(tx, w, student)
}

// MayOpen is mayRead for a lesson; a maintenance run is open to who sees the readings
// of aircraft.
func (s *API) MayOpen(tx *store.Tx, w Person, l store.Lesson) error {
	if l.Run() && s.May(w.Roles, "aircraft-trends") {
		return nil
	}
	return s.MayRead(tx, w, l.StudentID)
}

// Today is the day at the person's school.
func (s *API) Today(w Person) string { return school.Day(s.Now(), w.Zone) }

// In runs fn inside the person's school.
func (s *API) In(ctx context.Context, w Person, fn func(tx *store.Tx) error) error {
	return s.Store.In(ctx, w.School, func(_ context.Context, tx *store.Tx) error { return fn(tx) })
}

// TurnOf waits for a turn at something costly.
func (w Person) TurnOf(ctx context.Context, t *turns) (done func(), err error) {
	done, err = t.enter(ctx, w.School, w.Account)
	if errors.Is(err, errBusy) {
		return nil, Again(10,
			"Your school or account is waiting for the same already. Nothing was lost; try again in a moment.")
	}
	return done, err
}

// Reader is the person as reports know them.
func (s *API) Reader(tx *store.Tx, w Person) (reports.Reader, error) {
	reads, err := s.Readable(tx, w)
	return reports.Reader{
		Account: w.Account, Roles: w.Roles, Units: w.Units(), Reads: reads,
		May: func(operation string) bool { return s.May(w.Roles, operation) },
	}, err
}
