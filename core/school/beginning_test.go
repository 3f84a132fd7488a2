package school_test

import (
	"math"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/school"
	"jetprimer/core/weather"
)

func fenRow() weather.Aerodrome {
	return weather.Aerodrome{ID: "XFRW", Name: "Fen Row", ElevationFt: 61, VariationDegEast: -2.5,
		Runways: []weather.Runway{{Name: "09", HeadingDegMagnetic: 92, LengthM: 700, Surface: "grass"}, {Name: "27", HeadingDegMagnetic: 272, LengthM: 700, Surface: "grass"}}}
}

func beginning() school.Beginning {
	return school.Beginning{Name: " Fen  Row Flying", TimeZone: "Europe/Dublin", Bases: []weather.Aerodrome{fenRow()},
		Chief:    school.Founder{Name: "Nell Abara", Email: "Nell@fenrow.example", Password: "seven slow herons"},
		Aircraft: []school.Airframe{{Registration: "qz-fra", Type: "sorrel-100", Base: "xfrw"}},
		Students: []school.Member{{Name: "Ode Finch", Email: "ode@fenrow.example", Learns: &school.Learns{Type: "sorrel-100", StartedOn: "2026-11-24"}}}}
}

// TestABeginningIsTidied: names in capitals where they are, students as such, a
// climate where none was said; what was handed in is as it was.
func TestABeginningIsTidied(t *testing.T) {
	raw := beginning()
	b := raw.Tidy()
	require.NoError(t, b.Check())
	assert.Equal(t, "Fen Row Flying", b.Name)
	assert.Equal(t, "nell@fenrow.example", b.Chief.Email)
	assert.Equal(t, school.Airframe{Registration: "QZ-FRA", Type: "sorrel-100", Base: "XFRW"}, b.Aircraft[0])
	assert.Equal(t, weather.Temperate, b.Bases[0].Climate)
	assert.Equal(t, school.Roles{school.Student}, b.Students[0].Roles)
	assert.Equal(t, "qz-fra", raw.Aircraft[0].Registration)
	assert.Zero(t, raw.Bases[0].Climate)
	assert.Equal(t, b, b.Tidy(), "once is enough")
}

// TestWhatASchoolCannotBeginWith: each refusal under the field that it stands in,
// so that a page of many rows can show where.
func TestWhatASchoolCannotBeginWith(t *testing.T) {
	for field, change := range map[string]func(*school.Beginning){
		"name":                                   func(b *school.Beginning) { b.Name = "" },
		"timeZone":                               func(b *school.Beginning) { b.TimeZone = "Local" },
		"units":                                  func(b *school.Beginning) { b.Units = quantity.Units{Temperature: "K"} },
		"bases":                                  func(b *school.Beginning) { b.Bases = nil },
		"bases[0].runways[1].headingDegMagnetic": func(b *school.Beginning) { b.Bases[0].Runways[1].HeadingDegMagnetic = 92 },
		"bases[1].id":                            func(b *school.Beginning) { b.Bases = append(b.Bases, fenRow()) },
		"chief.name":                             func(b *school.Beginning) { b.Chief.Name = "" },
		"chief.email":                            func(b *school.Beginning) { b.Chief.Email = "nell" },
		"chief.password":                         func(b *school.Beginning) { b.Chief.Password = "nell abara 1" },
		"aircraft":                               func(b *school.Beginning) { b.Aircraft = make([]school.Airframe, 61) },
		"aircraft[0].registration":               func(b *school.Beginning) { b.Aircraft[0].Registration = "Q Z" },
		"aircraft[0].hours":                      func(b *school.Beginning) { h := -1.0; b.Aircraft[0].Hours = &h },
		"aircraft[1].registration":               func(b *school.Beginning) { b.Aircraft = append(b.Aircraft, b.Aircraft[0]) },
		"aircraft[0].base":                       func(b *school.Beginning) { b.Aircraft[0].Base = "XSTB" },
		"students":                               func(b *school.Beginning) { b.Students = make([]school.Member, 61) },
		"students[0].name":                       func(b *school.Beginning) { b.Students[0].Name = " " },
		"students[0].learns":                     func(b *school.Beginning) { b.Students[0].Learns = nil },
		"students[0].email":                      func(b *school.Beginning) { b.Students[0].Email = b.Chief.Email },
		"students[1].email":                      func(b *school.Beginning) { b.Students = append(b.Students, b.Students[0]) },
	} {
		b := beginning().Tidy()
		change(&b)
		var bad *form.InputError
		require.ErrorAs(t, b.Check(), &bad, field)
		assert.Equal(t, field, bad.Field)
	}
	many := beginning().Tidy()
	for len(many.Bases) <= school.BasesMost {
		many.Bases = append(many.Bases, fenRow())
	}
	assert.ErrorContains(t, many.Check(), "bases must be at most 20")
	none := beginning()
	none.Aircraft, none.Students = nil, nil
	assert.NoError(t, none.Tidy().Check(), "aircraft and students can come later")
}

func hangar() school.Hangar {
	hours := 4120.5
	return school.Hangar{Bases: []string{"XTHW", "XSTB"}, Types: map[string]string{"alder-110": "alder-110", "alder 110": "alder-110", "larch-d2": "larch-d2"},
		Equipment: map[string][]string{"alder-110": {"second-altimeter", "carbon-monoxide-alarm"}},
		Aircraft: map[string]school.Kept{
			"QZ-AAA": {Airframe: school.Airframe{Registration: "QZ-AAA", Type: "alder-110", Base: "XTHW", Equipment: []string{"second-altimeter", "carbon-monoxide-alarm"}, Hours: &hours, Notes: "new tyres"}},
			"QZ-OLD": {Airframe: school.Airframe{Registration: "QZ-OLD", Type: "alder-110", Base: "XTHW"}, Retired: true}}}
}

// TestWhatARowOfAircraftComesTo: what it adds and changes, hours to a tenth, and
// each thing that cannot be by its column.
func TestWhatARowOfAircraftComesTo(t *testing.T) {
	row := func(registration, typ, base, equipment, hours, notes string) school.FleetEntry {
		return school.FleetEntry{Line: 3, Hours: hours, Airframe: school.Airframe{Registration: registration, Type: typ, Base: base, Equipment: strings.Fields(equipment), Notes: notes}}
	}
	for name, c := range map[string]struct {
		row     school.FleetEntry
		comes   string
		changes []string
		columns []string
	}{
		"a new one":            {row("qz-new", "Alder 110", "xthw", "second-altimeter", "12.5", ""), school.RowNew, nil, nil},
		"as it is":             {row("QZ-AAA", "alder-110", "XTHW", "carbon-monoxide-alarm second-altimeter", "4120.5", "new tyres"), school.RowSame, nil, nil},
		"no hours said":        {row("QZ-AAA", "alder-110", "XTHW", "carbon-monoxide-alarm second-altimeter", "", "new tyres"), school.RowSame, nil, nil},
		"changed all over":     {row("QZ-AAA", "alder-110", "XSTB", "", "4121", ""), school.RowChanges, []string{"base", "equipment", "hours", "notes"}, nil},
		"of another type":      {row("QZ-AAA", "larch-d2", "XTHW", "", "", ""), school.RowRefused, []string{"equipment", "notes"}, []string{"type"}},
		"retired":              {row("QZ-OLD", "alder-110", "XTHW", "", "", ""), school.RowRefused, nil, []string{"registration"}},
		"of no type":           {row("QZ-NEW", "oak", "XTHW", "anything", "", ""), school.RowRefused, nil, []string{"type"}},
		"of no base":           {row("QZ-NEW", "alder-110", "XXXX", "", "", ""), school.RowRefused, nil, []string{"base"}},
		"what it cannot have":  {row("QZ-NEW", "alder-110", "XTHW", "rescue-parachute second-altimeter", "", ""), school.RowRefused, nil, []string{"equipment"}},
		"the same thing twice": {row("QZ-NEW", "alder-110", "XTHW", "second-altimeter second-altimeter", "", ""), school.RowRefused, nil, []string{"equipment"}},
		"hours to a hundredth": {row("QZ-NEW", "alder-110", "XTHW", "", "12.34", ""), school.RowRefused, nil, []string{"hours"}},
		"hours with a comma":   {row("QZ-NEW", "alder-110", "XTHW", "", "12,5", ""), school.RowRefused, nil, []string{"hours"}},
		"hours below nothing":  {row("QZ-NEW", "alder-110", "XTHW", "", "-1", ""), school.RowRefused, nil, []string{"hours"}},
		"hours beyond any":     {row("QZ-NEW", "alder-110", "XTHW", "", "100000", ""), school.RowRefused, nil, []string{"hours"}},
		"a novel":              {row("QZ-NEW", "alder-110", "XTHW", "", "", strings.Repeat("n", 2001)), school.RowRefused, nil, []string{"notes"}},
		"no registration":      {row("", "alder-110", "XTHW", "", "", ""), school.RowRefused, nil, []string{"registration"}},
		"a dash at the end":    {row("QZ-", "alder-110", "XTHW", "", "", ""), school.RowRefused, nil, []string{"registration"}},
	} {
		j := hangar().Judge([]school.FleetEntry{c.row})[0]
		assert.Equal(t, c.comes, j.ComesTo, "%s: %+v", name, j.Faults)
		assert.Equal(t, append([]string{}, c.changes...), j.Changes, name)
		columns := []string{}
		for _, f := range j.Faults {
			columns = append(columns, f.Column)
			assert.NotEmpty(t, f.Reason, name)
		}
		assert.Equal(t, append([]string{}, c.columns...), columns, name)
	}
	twice := hangar().Judge([]school.FleetEntry{row("QZ-NEW", "alder-110", "XTHW", "", "", ""), row("qz-new", "alder-110", "XTHW", "", "", "")})
	assert.Equal(t, []school.Fault{{Column: "registration", Reason: "stands in line 3 already"}}, twice[1].Faults)
	assert.Equal(t, 12.5, *hangar().Judge([]school.FleetEntry{row("QZ-NEW", "alder-110", "XTHW", "", "12.5", "")})[0].Airframe.Hours)
	for _, h := range []float64{math.NaN(), math.Inf(1), 0.05} {
		assert.Error(t, school.Airframe{Registration: "QZ-AAA", Hours: &h}.Check(), h)
	}
}

// TestABookingIsWithinBounds: how long, how far ahead, and not over.
func TestABookingIsWithinBounds(t *testing.T) {
	now := time.Date(2026, 11, 24, 11, 0, 0, 0, time.UTC)
	at := func(begins time.Duration, long time.Duration) error {
		return school.Booking{StartsAt: now.Add(begins), EndsAt: now.Add(begins + long)}.Check(now)
	}
	for _, good := range [][2]time.Duration{{time.Hour, 15 * time.Minute}, {time.Hour, 8 * time.Hour}, {-time.Hour, 90 * time.Minute}, {366 * 24 * time.Hour, time.Hour}} {
		assert.NoError(t, at(good[0], good[1]), good)
	}
	for words, bad := range map[string][2]time.Duration{"minutes must be 15 to 480": {time.Hour, 14 * time.Minute}, "is over already": {-3 * time.Hour, time.Hour},
		"more than a year ahead": {367 * 24 * time.Hour, time.Hour}} {
		assert.ErrorContains(t, at(bad[0], bad[1]), words)
	}
	assert.ErrorContains(t, at(time.Hour, 481*time.Minute), "minutes must be 15 to 480")
	assert.ErrorContains(t, at(2*time.Hour, -time.Hour), "minutes must be 15 to 480", "an end before the beginning")
	assert.ErrorContains(t, school.Booking{StartsAt: now, EndsAt: now.Add(time.Hour), Exercises: make([]string, 17)}.Check(now), "exercises are at most 16")
}

// TestWhoIsBookedTwice: a person or an aircraft in two places at once is told by
// name and the school's time; one after the other is not.
func TestWhoIsBookedTwice(t *testing.T) {
	zone, err := time.LoadLocation("Pacific/Auckland")
	require.NoError(t, err)
	nine := time.Date(2026, 11, 23, 20, 0, 0, 0, time.UTC) // 09:00 there
	book := func(id, student, instructor, registration string, from, to time.Duration) school.Booking {
		return school.Booking{ID: id, StudentID: student, Student: strings.ToUpper(student), InstructorID: instructor, Instructor: strings.ToUpper(instructor), Registration: registration,
			StartsAt: nine.Add(from), EndsAt: nine.Add(to)}
	}
	held := []school.Booking{book("1", "lena", "tunde", "QZ-AAA", 0, time.Hour), book("2", "odile", "marit", "QZ-AAB", time.Hour, 2*time.Hour)}
	for want, b := range map[string]school.Booking{
		"LENA is booked from 09:00 to 10:00 already: LENA with TUNDE on QZ-AAA":               book("", "lena", "marit", "QZ-AAC", 30*time.Minute, time.Hour),
		"TUNDE is booked from 09:00 to 10:00 already: LENA with TUNDE on QZ-AAA":              book("", "kofi", "tunde", "QZ-AAC", -time.Hour, time.Minute),
		"QZ-AAB is booked from 10:00 to 11:00 already: ODILE with MARIT on QZ-AAB":            book("", "kofi", "rafael", "QZ-AAB", 90*time.Minute, 3*time.Hour),
		"ODILE and QZ-AAB are booked from 10:00 to 11:00 already: ODILE with MARIT on QZ-AAB": book("", "odile", "rafael", "QZ-AAB", 0, 3*time.Hour),
	} {
		assert.Equal(t, want, b.Clash(held, zone))
	}
	assert.Empty(t, book("", "lena", "tunde", "QZ-AAA", time.Hour, 2*time.Hour).Clash(held, zone), "one after the other")
	assert.Empty(t, book("", "kofi", "rafael", "QZ-AAC", 0, 2*time.Hour).Clash(held, zone), "others at the same time")
	assert.Empty(t, held[0].Clash(held, zone), "itself")
}

// TestWhatABookingBecame: the lesson of its student and aircraft around its time;
// what has become one is not next any more.
func TestWhatABookingBecame(t *testing.T) {
	nine := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	b := school.Booking{ID: "1", StudentID: "lena", InstructorID: "tunde", Registration: "QZ-AAA", StartsAt: nine, EndsAt: nine.Add(time.Hour)}
	for minutes, became := range map[int]bool{-91: false, -90: false, -89: true, 0: true, 59: true, 60: false} {
		assert.Equal(t, became, b.Became("lena", "QZ-AAA", nine.Add(time.Duration(minutes)*time.Minute)), minutes)
	}
	assert.False(t, b.Became("odile", "QZ-AAA", nine))
	assert.False(t, b.Became("lena", "QZ-AAB", nine))

	later := school.Booking{ID: "2", StudentID: "odile", InstructorID: "tunde", StartsAt: nine.Add(2 * time.Hour), EndsAt: nine.Add(3 * time.Hour)}
	all := []school.Booking{b, later}
	none := func(school.Booking) bool { return false }
	next := func(person string, at time.Duration, became func(school.Booking) bool) string {
		found, ok := school.NextOf(person, all, nine.Add(at), became)
		assert.Equal(t, ok, found.ID != "")
		return found.ID
	}
	assert.Equal(t, "1", next("tunde", -time.Hour, none))
	assert.Equal(t, "1", next("tunde", 30*time.Minute, none), "while it runs and was not opened")
	assert.Equal(t, "2", next("tunde", 30*time.Minute, func(b school.Booking) bool { return b.ID == "1" }), "once it was")
	assert.Equal(t, "2", next("tunde", time.Hour, none), "once it is over")
	assert.Equal(t, "2", next("odile", -time.Hour, none), "as a student")
	assert.Empty(t, next("lena", time.Hour, none))
	assert.Empty(t, next("marit", -time.Hour, none))
}

// TestWhatASchoolDecides: what is left open has its usual answer, and what is none
// is refused by its field.
func TestWhatASchoolDecides(t *testing.T) {
	var s school.Settings
	require.NoError(t, s.Check())
	assert.Equal(t, []string{"hour-meter", "prove-both"}, []string{s.FlightTime(), s.Tanks()})
	s = school.Settings{TimeRule: "block", FuelMethod: "fuller-first"}
	require.NoError(t, s.Check())
	assert.Equal(t, []string{"block", "fuller-first"}, []string{s.FlightTime(), s.Tanks()})
	for field, bad := range map[string]school.Settings{"units": {Units: quantity.Units{Pressure: "bar"}}, "fuelMethod": {FuelMethod: "any"}, "timeRule": {TimeRule: "sundial"}} {
		assert.ErrorContains(t, bad.Check(), field)
	}
}

// TestWhoOwesASecondFactor: who looks after the school, where it asks for one, and
// what stays open until it is set up.
func TestWhoOwesASecondFactor(t *testing.T) {
	asks := school.Settings{SecondFactor: true}
	for role, owes := range map[string]bool{school.Chief: true, school.Admin: true, school.Instructor: false, school.Student: false, school.Maintenance: false, school.Examiner: false} {
		assert.Equal(t, owes, school.Roles{role}.OwesSecond(asks, false), role)
		assert.False(t, school.Roles{role}.OwesSecond(asks, true), "has it: %s", role)
		assert.False(t, school.Roles{role}.OwesSecond(school.Settings{}, false), "nobody asks: %s", role)
	}
	assert.True(t, school.Roles{school.Student, school.Admin}.OwesSecond(asks, false))
	for _, open := range []string{"begin-second", "keep-second", "account", "sign-out", "session", "sign-in", "shared-record"} {
		assert.True(t, school.OpenWhileOwing(open), open)
	}
	for _, shut := range []string{"end-second", "people", "today", "sign-lesson", "recover-member", "export-own", "unheard-of"} {
		assert.False(t, school.OpenWhileOwing(shut), shut)
	}
}
