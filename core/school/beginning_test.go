package school_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/school"
	"jetprimer/core/weather"
)

func fenRow() weather.Aerodrome {
	return weather.Aerodrome{ID: "XFRW", Name: "Fen Row", ElevationFt: 61, VariationDegEast: -2.5,
		Runways: []weather.Runway{
			{Name: "09", HeadingDegMagnetic: 92, LengthM: 700, Surface: "grass"},
			{Name: "27", HeadingDegMagnetic: 272, LengthM: 700, Surface: "grass"},
		}}
}

func beginning() school.Beginning {
	return school.Beginning{Name: " Fen  Row Flying", TimeZone: "Europe/Dublin", Bases: []weather.Aerodrome{fenRow()},
		Chief:    school.Founder{Name: "Nell Abara", Email: "Nell@fenrow.example", Password: "seven slow herons"},
		Aircraft: []school.Airframe{{Registration: "qz-fra", Type: "sorrel-100", Base: "xfrw"}},
		Students: []access.Member{
			{
				Name: "Ode Finch", Email: "ode@fenrow.example",
				Learns: &access.Learns{Type: "sorrel-100", StartedOn: "2026-11-24"},
			},
		}}
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
	assert.Equal(t, access.Roles{access.Student}, b.Students[0].Roles)
	assert.Equal(t, "qz-fra", raw.Aircraft[0].Registration)
	assert.Zero(t, raw.Bases[0].Climate)
	assert.Equal(t, b, b.Tidy(), "once is enough")
}

// TestWhatASchoolCannotBeginWith: each refusal under the field that it stands in,
// so that a page of many rows can show where.
func TestWhatASchoolCannotBeginWith(t *testing.T) {
	for field, change := range map[string]func(*school.Beginning){
		"name":     func(b *school.Beginning) { b.Name = "" },
		"timeZone": func(b *school.Beginning) { b.TimeZone = "Local" },
		"units": func(b *school.Beginning) {
			b.Units = quantity.Units{Temperature: "K"}
		},
		"bases": func(b *school.Beginning) { b.Bases = nil },
		"bases[0].runways[1].headingDegMagnetic": func(b *school.Beginning) {
			b.Bases[0].Runways[1].HeadingDegMagnetic = 92
		},
		"bases[1].id":              func(b *school.Beginning) { b.Bases = append(b.Bases, fenRow()) },
		"chief.name":               func(b *school.Beginning) { b.Chief.Name = "" },
		"chief.email":              func(b *school.Beginning) { b.Chief.Email = "nell" },
		"chief.password":           func(b *school.Beginning) { b.Chief.Password = "nell abara 1" },
		"aircraft":                 func(b *school.Beginning) { b.Aircraft = make([]school.Airframe, 61) },
		"aircraft[0].registration": func(b *school.Beginning) { b.Aircraft[0].Registration = "Q Z" },
		"aircraft[0].hours":        func(b *school.Beginning) { h := -1.0; b.Aircraft[0].Hours = &h },
		"aircraft[1].registration": func(b *school.Beginning) { b.Aircraft = append(b.Aircraft, b.Aircraft[0]) },
		"aircraft[0].base":         func(b *school.Beginning) { b.Aircraft[0].Base = "XSTB" },
		"students":                 func(b *school.Beginning) { b.Students = make([]access.Member, 61) },
		"students[0].name":         func(b *school.Beginning) { b.Students[0].Name = " " },
		"students[0].learns":       func(b *school.Beginning) { b.Students[0].Learns = nil },
		"students[0].email":        func(b *school.Beginning) { b.Students[0].Email = b.Chief.Email },
		"students[1].email":        func(b *school.Beginning) { b.Students = append(b.Students, b.Students[0]) },
	} {
		b := beginning().Tidy()
		change(&b)
		var bad form.Problem
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

// TestWhatASchoolDecides: what is left open has its usual answer, and what is none
// is refused by its field.
func TestWhatASchoolDecides(t *testing.T) {
	var s school.Settings
	require.NoError(t, s.Check())
	assert.Equal(t, []string{"hour-meter", "prove-both"}, []string{s.FlightTime(), s.Tanks()})
	s = school.Settings{TimeRule: "block", FuelMethod: "fuller-first"}
	require.NoError(t, s.Check())
	assert.Equal(t, []string{"block", "fuller-first"}, []string{s.FlightTime(), s.Tanks()})
	for field, bad := range map[string]school.Settings{
		"units": {Units: quantity.Units{Pressure: "bar"}}, "fuelMethod": {FuelMethod: "any"},
		"timeRule": {TimeRule: "sundial"},
	} {
		assert.ErrorContains(t, bad.Check(), field)
	}
}
