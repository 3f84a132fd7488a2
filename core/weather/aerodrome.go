package weather

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"jetprimer/core/form"
)

// Surfaces are what a runway can be of.
var Surfaces = []string{"asphalt", "concrete", "grass", "gravel", "earth", "snow", "water"}

// Temperate is the climate that the stand-in of a weather station works with
// where a school has said nothing of its own.
var Temperate = Climate{MeanC: 10, YearSwingC: 8, DaySwingC: 7, WindFromDeg: 240, WindKt: 8, SpreadC: 5}

// isPlace reports whether a text is 2 to 8 capital letters and digits.
func isPlace(id string) bool {
	return len(id) >= 2 && len(id) <= 8 && !strings.ContainsFunc(id, func(r rune) bool {
		return !(r >= 'A' && r <= 'Z' || r >= '0' && r <= '9')
	})
}

// Bounds of an aerodrome: the lowest is below the sea, the highest above any
// field, in feet; runways in metres; the heading of a runway and the tens of
// degrees of its name, in degrees.
const (
	elevationLeast, elevationMost = -1500, 20_000
	runwaysMost                   = 24
	lengthLeast, lengthMost       = 20, 9000
	nameOff                       = 20
)

// Tidy is the aerodrome without what is only around the words; one of which no
// climate was said has the temperate one.
func (a Aerodrome) Tidy() Aerodrome {
	a.ID, a.Name = strings.ToUpper(strings.TrimSpace(a.ID)), strings.TrimSpace(a.Name)
	if a.Climate == (Climate{}) {
		a.Climate = Temperate
	}
	return a
}

// Check reports the first mistake in the aerodrome, under the field
// that it stands in.
func (a Aerodrome) Check(field string) error {
	bad := func(name, reason string, args ...any) error { return form.Bad(field+"."+name, reason, args...) }
	switch {
	case !isPlace(a.ID):
		return bad("id", "must be 2 to 8 capital letters or digits, such as XTHW")
	case strings.TrimSpace(a.Name) == "" || len([]rune(a.Name)) > 60 ||
		strings.ContainsFunc(a.Name, func(r rune) bool { return !unicode.IsPrint(r) }):
		return bad("name", "must be a name of at most 60 letters")
	case a.ElevationFt < elevationLeast || a.ElevationFt > elevationMost:
		return bad("elevationFt", "must be from %d to %d ft", elevationLeast, elevationMost)
	case math.IsNaN(a.VariationDegEast) || math.Abs(a.VariationDegEast) > 60:
		return bad("variationDegEast", "must be from -60 to 60 degrees, west negative")
	case len(a.Runways) == 0:
		return bad("runways", "must hold at least one")
	case len(a.Runways) > runwaysMost:
		return bad("runways", "must be at most %d", runwaysMost)
	}
	for i, r := range a.Runways {
		at := fmt.Sprintf("runways[%d].", i)
		named, _ := strconv.Atoi(strings.TrimRight(r.Name, "LRC"))
		switch {
		case !isRunway(r.Name):
			return bad(at+"name", "must be 01 to 36, with L, R or C where there are several")
		case slices.ContainsFunc(a.Runways[:i], func(o Runway) bool { return o.Name == r.Name }):
			return bad(at+"name", "is there twice")
		case r.HeadingDegMagnetic < 1 || r.HeadingDegMagnetic > 360:
			return bad(at+"headingDegMagnetic", "must be from 1 to 360 degrees magnetic")
		case math.Abs(math.Remainder(float64(r.HeadingDegMagnetic-10*named), 360)) > nameOff:
			return bad(at+"headingDegMagnetic", "is %d degrees, and the runway is called %s", r.HeadingDegMagnetic,
				r.Name)
		case r.LengthM < lengthLeast || r.LengthM > lengthMost:
			return bad(at+"lengthM", "must be from %d to %d m", lengthLeast, lengthMost)
		case !slices.Contains(Surfaces, r.Surface):
			return bad(at+"surface", "must be one of %s", strings.Join(Surfaces, ", "))
		}
	}
	return nil
}
