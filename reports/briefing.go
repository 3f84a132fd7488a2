package reports

import (
	"slices"
	"time"

	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/weather"
	"jetprimer/store"
)

// Briefing is what the opening of a lesson chooses from.
type Briefing struct {
	Day       string               `json:"day" doc:"the school's day"`
	Students  []store.Student      `json:"students" doc:"those you flew with last first"`
	Flown     map[string]int       `json:"flown" doc:"how many lessons each student had, by id"`
	Aircraft  []AircraftDay        `json:"aircraft" doc:"those you flew last first"`
	Methods   []string             `json:"methods"`
	Purposes  []string             `json:"purposes"`
	Scales    []lesson.Scale       `json:"scales"`
	Exercises []checklist.Exercise `json:"exercises"`
	// Planned is what is planned and not over, for two days.
	Planned []Planned `json:"planned"`
	// Reports are the practice station's, by aerodrome.
	Reports    map[string]string   `json:"reports"`
	Aerodromes []weather.Aerodrome `json:"aerodromes"`
	Note       string              `json:"note" doc:"what the reports come from"`
}

// Briefing is for an instructor.
func (r *Reports) Briefing(tx *store.Tx, instructor string) (v Briefing, err error) {
	v = Briefing{
		Day: r.day(tx), Purposes: lesson.Purposes, Exercises: checklist.Exercises, Reports: map[string]string{},
		Flown: map[string]int{}, Note: StationNote,
	}
	if v.Aerodromes, err = tx.Bases(); err != nil {
		return v, err
	}
	for _, a := range v.Aerodromes {
		v.Reports[a.ID] = weather.Simulated(a, r.now())
	}
	decided, err := tx.Policy(v.Day)
	if err != nil {
		return v, err
	}
	v.Methods = decided.Methods
	v.Scales = slices.DeleteFunc(slices.Clone(r.catalog.Scales),
		func(one lesson.Scale) bool { return !slices.Contains(decided.Scales, one.ID) })
	if v.Students, err = tx.Students(); err != nil {
		return v, err
	}
	if v.Aircraft, err = aircraftOn(tx, v.Day); err != nil {
		return v, err
	}
	flown, err := tx.Flown()
	if err != nil {
		return v, err
	}
	for id, f := range flown {
		v.Flown[id] = f.N
	}
	own, err := tx.LessonsOf(instructor, recently)
	if err != nil {
		return v, err
	}
	lastFirst(v.Students, own, func(st store.Student, l store.Lesson) bool { return st.ID == l.StudentID })
	lastFirst(v.Aircraft, own, func(a AircraftDay, l store.Lesson) bool { return a.Registration == l.Registration })
	v.Planned, err = planned(tx, func(string) bool { return true }, r.now(), r.now().Add(48*time.Hour), own)
	return v, err
}

// recently is how many of an instructor's last lessons say what comes first.
const recently = 30

// lastFirst sorts what lessons were of: the latest first, then as they stood.
func lastFirst[T any](all []T, lessons []store.Lesson, of func(T, store.Lesson) bool) {
	place := func(one T) int {
		if i := slices.IndexFunc(lessons, func(l store.Lesson) bool { return of(one, l) }); i >= 0 {
			return i
		}
		return len(lessons)
	}
	slices.SortStableFunc(all, func(a, b T) int { return place(a) - place(b) })
}
