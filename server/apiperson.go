package server

import (
	"context"
	"errors"
	"jetprimer/core/access"
	"jetprimer/core/quantity"
	"jetprimer/core/school"
	"jetprimer/reports"
	"jetprimer/store"
	"slices"
	"time"
)

// who is the signed-in person, as of this request.
type who struct {
	account string
	name    string // what the school calls them
	school  string
	place   string // the school's name
	roles   access.Roles
	zone    *time.Location
	// settings are the school's, own the units that the person reads instead.
	settings school.Settings
	own      quantity.Units
	hasPin   bool
	// hasPasskey says that a device of theirs has one, hasSecond that one-time codes
	// are asked for.
	hasPasskey, hasSecond bool
	// hasLetters says that the school has a server for letters of its own.
	hasLetters bool
	schools    []reports.Named
}

// units are those that the person reads.
func (w who) units() quantity.Units { return w.own.Over(w.settings.Units) }

type whoKey struct{}

// forHeader says whose a request is: of two people who share a browser nobody
// acts in the other's name.
const forHeader = "Jetprimer-For"

// who reads the session and looks the membership up, so that a role taken away
// is gone at the next request.
func (s *API) who(ctx context.Context) (who, error) {
	w := who{account: s.sessions.GetString(ctx, "account"), school: s.sessions.GetString(ctx, "school")}
	if w.account == "" {
		return who{}, nil
	}
	memberships, err := s.store.Memberships(ctx, w.account)
	if err != nil {
		return who{}, err
	}
	w, _, err = whoAt(w, memberships)
	return w, err
}

// whoAt is a person at one of their schools, the first where none is named;
// nobody where it is none of theirs.
func whoAt(w who, memberships []store.Membership) (who, store.Membership, error) {
	at := slices.IndexFunc(memberships,
		func(m store.Membership) bool { return w.school == "" || m.SchoolID == w.school })
	if at < 0 {
		return who{}, store.Membership{}, nil
	}
	for _, m := range memberships {
		w.schools = append(w.schools, reports.Named{ID: m.SchoolID, Name: m.School})
	}
	m := memberships[at]
	w.name, w.school, w.place, w.roles, w.settings, w.own, w.hasPin, w.hasPasskey, w.hasSecond, w.hasLetters = m.Name, m.SchoolID, m.School, m.Roles, m.Settings, m.Units, m.HasPin, m.HasPasskey, m.HasSecond, m.HasLetters
	zone, err := time.LoadLocation(m.TimeZone)
	w.zone = zone
	return w, m, err
}

// readable tells which students' records the person may read.
func (s *API) readable(tx *store.Tx, w who) (func(student string) bool, error) {
	shared := map[string]bool{}
	if w.roles.Has(access.Examiner) {
		ids, err := tx.SharedWith(w.account, s.today(w))
		if err != nil {
			return nil, err
		}
		for _, id := range ids {
			shared[id] = true
		}
	}
	return func(student string) bool { return w.roles.MayRead(w.account, student, shared[student]) }, nil
}

// mayRead reports whether the person may read a student's record.
func (s *API) mayRead(tx *store.Tx, w who, student string) error {
	may, err := s.readable(tx, w)
	if err != nil {
		return err
	}
	if !may(student) {
		return store.ErrNotFound
	}
	return nil
}

// maySee is mayRead for what is about the aircraft: those who mend it see it
// without the record that it is in.
func (s *API) maySee(tx *store.Tx, w who, student string) error {
	if w.roles.Has(access.Maintenance) {
		return nil
	}
	return s.mayRead(tx, w, student)
}

// mayOpen is mayRead for a lesson; a maintenance run is open to who sees the readings
// of aircraft.
func (s *API) mayOpen(tx *store.Tx, w who, l store.Lesson) error {
	if l.Run() && s.may(w.roles, "aircraft-trends") {
		return nil
	}
	return s.mayRead(tx, w, l.StudentID)
}

// today is the day at the person's school.
func (s *API) today(w who) string { return school.Day(s.now(), w.zone) }

// in runs fn inside the person's school.
func (s *API) in(ctx context.Context, w who, fn func(tx *store.Tx) error) error {
	return s.store.In(ctx, w.school, func(_ context.Context, tx *store.Tx) error { return fn(tx) })
}

// turnOf waits for a turn at something costly.
func (w who) turnOf(ctx context.Context, t *turns) (done func(), err error) {
	done, err = t.enter(ctx, w.school, w.account)
	if errors.Is(err, errBusy) {
		return nil, again(10,
			"Your school or account is waiting for the same already. Nothing was lost; try again in a moment.")
	}
	return done, err
}
